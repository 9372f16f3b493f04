"""Words in the real browser: typed on the sheet, set in a font seen before it is chosen, styled, marked, filled from fields."""

from collections.abc import Callable
from pathlib import Path

import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from sutaru.core.words import FOLDER
from tests.browser.acting import bring, centre, choose, let_pass, violations
from tests.browser.given import Counted, Given
from tests.browser.test_workshop import Draft


@pytest.fixture
def draft(page: Page, base_url: str) -> Callable[..., Draft]:
    return lambda **asked: Draft(page, base_url, **asked)


def choose_font(page: Page, font: str) -> None:
    page.get_by_role("button", name="Font: ").click()
    page.get_by_label("Find a font").fill(font[:4])
    page.get_by_role("button", name=font, exact=True).click()


def test_words_are_typed_on_the_sheet_and_a_style_dresses_two_boxes(page: Page, draft: Callable[..., Draft]) -> None:
    here = draft(width_mm=200, height_mm=150)
    first = here.draw("t", (20, 20), (120, 50))
    on_sheet = page.get_by_label("on the sheet")
    for said in ("Kites", "Kites at dusk"):  # typed as the box is drawn, and again: what was marked gives way
        expect(on_sheet).to_be_focused()
        page.keyboard.type(said)
        page.keyboard.press("Escape")
        expect(on_sheet).to_have_count(0)
        assert here.layer(first)["text"] == said
        if said == "Kites":
            page.mouse.dblclick(*centre(here.shape(first)))
    choose_font(page, "Dancing Script")
    page.get_by_role("checkbox", name="Fit text to box").check()
    page.get_by_role("button", name="Save as style…").click()
    page.get_by_label("Name of the style").fill("Headline")
    page.keyboard.press("Enter")
    expect(page.get_by_role("combobox", name="Style")).to_have_value("Headline")
    styled = here.layer(first)
    assert (styled["style"], styled["font"]) == ("Headline", "Dancing Script")
    assert styled["fit_pt"][0] < styled["fit_pt"][1]

    second = here.draw("t", (20, 80), (120, 110))
    page.get_by_role("combobox", name="Style").click()
    page.get_by_role("option", name="Headline").click()
    choose_font(page, "Vollkorn")
    expect(page.get_by_role("combobox", name="Style")).to_have_value("Headline, changed")
    page.get_by_role("button", name="Make Headline look so everywhere").click()
    expect(page.get_by_role("combobox", name="Style")).to_have_value("Headline")
    layout = here.layout()
    assert layout["styles"]["Headline"]["font"] == "Vollkorn"
    assert {layer["style"] for layer in layout["layers"]} == {"Headline"}
    page.mouse.click(*centre(here.shape(first)))
    expect(page.get_by_role("button", name="Font: Vollkorn")).to_be_visible()
    assert here.layer(second).get("own", []) == []
    page.mouse.move(5, 5)
    expect(page.get_by_role("tooltip")).to_have_count(0)  # what is fading away has no colours to be judged by
    assert violations(page) == []


def test_words_run_along_a_shape_and_a_font_of_ones_own(page: Page, draft: Callable[..., Draft]) -> None:
    here = draft(width_mm=200, height_mm=150)
    words = here.draw("t", (20, 20), (120, 50))
    page.get_by_role("button", name="Font: ").click()
    with page.expect_file_chooser() as chooser:
        page.get_by_role("button", name="Import font (TTF, OTF)…").click()
    chooser.value.set_files(FOLDER / "Quicksand-Bold.ttf")
    expect(page.get_by_role("button", name="Font: Quicksand Bold")).to_be_visible()
    assert here.layer(words)["font"] in here.layout()["fonts"]
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name="Import font (TTF, OTF)…")).to_have_count(0)
    shape = here.draw("e", (60, 70), (160, 140))
    page.keyboard.down("Shift")
    page.mouse.click(*centre(here.shape(words)))
    page.keyboard.up("Shift")
    page.get_by_role("button", name="Set text along its edge").click()
    assert here.layer(words)["along"].startswith("M")
    assert here.layer(shape)["kind"] == "opening"


def test_in_an_order_samples_stay_away_marked_words_are_bold_and_fields_are_said(
    page: Page, start: Callable, base_url: str
) -> None:
    start("Folded card, portrait", "Card with words")
    page.get_by_role("button", name="Page 2, Inside").click()
    greeting = page.get_by_role("button", name="Words: greeting")
    greeting.click()
    expect(page.get_by_text("Nothing is written in greeting yet.").first).to_be_visible()
    expect(page.get_by_role("list", name="Words")).to_contain_text("greetingnot written yet")
    words = page.locator("#words-greeting")
    expect(words).to_have_value("")
    greeting.dblclick()
    page.keyboard.type("Warm wishes from ")
    page.keyboard.press("Control+Enter")
    expect(words).to_have_value("Warm wishes from ")
    words.click()
    page.keyboard.press("Control+End")
    page.get_by_role("button", name="Insert field…").click()
    page.get_by_role("menuitem", name="{title}").click()
    expect(words).to_have_value("Warm wishes from {title}")
    expect(page.get_by_text("Nothing is said of {title}, which greeting would show.")).to_be_visible()
    words.click()
    page.keyboard.press("Control+Home")
    for _ in range(4):
        page.keyboard.press("Shift+ArrowRight")
    page.get_by_role("button", name="Bold").click()
    page.get_by_role("button", name="Field values…").click()
    page.get_by_label("{title}", exact=True).fill("Ida and Per")
    page.get_by_role("button", name="Done").click()
    expect(page.get_by_text("Nothing is said of {title}")).to_have_count(0)
    page.reload()
    expect(page.get_by_role("list", name="Words")).to_contain_text("Warm wishes from Ida and Per")
    page.get_by_role("button", name="Words: greeting").click()
    page.get_by_role("button", name="Leave empty").click()
    expect(words).to_have_value("")
    page.get_by_role("button", name="Use template text").click()
    expect(words).not_to_have_value("")


def test_a_list_that_does_not_tell_day_from_month_is_asked_about(
    page: Page, given: Callable[..., Given], tmp_path: Path
) -> None:
    job = given("calendar-wall", 2)
    unsure = tmp_path / "birthdays.csv"
    unsure.write_text("06/07/1999;Ida\n01/02/1970;Per\n", "utf-8")
    page.get_by_role("button", name="Calendar…").click()
    with page.expect_file_chooser() as chooser:
        page.get_by_role("button", name="Bring a list in").click()
    chooser.value.set_files(unsure)
    asked = page.get_by_role("alert").filter(has_text="birthdays.csv")
    expect(asked).to_be_visible()
    assert not job.state()["job"].get("calendar")  # nothing is taken before it is answered
    asked.get_by_role("button", name="7 June").click()
    expect(page.get_by_role("list", name="The customer's dates")).to_contain_text("1999-06-07")
    expect(asked).to_have_count(0)
    # A list that tells it is taken at once.
    unsure.write_text("25/12/1999;Runa\n01/02/1970;Kim\n", "utf-8")
    with page.expect_file_chooser() as chooser:
        page.get_by_role("button", name="Bring a list in").click()
    chooser.value.set_files(unsure)
    expect(page.get_by_role("list", name="The customer's dates")).to_contain_text("1970-02-01")
    assert violations(page) == []


def test_a_twelve_month_calendar_with_a_list_of_birthdays_goes_out(
    page: Page, start: Callable, pile: list, tmp_path: Path
) -> None:
    does = Counted(page)
    start("Desk calendar", "Family year")
    bring(page, [path for path, _ in pile[:12]])
    expect(page.get_by_text("12 photos brought in")).to_be_visible()
    does.click(page.get_by_role("button", name="Fill all 12 openings"))
    listed = tmp_path / "birthdays.csv"
    listed.write_text("Name,Born\nIda Brandt,1987-06-14\nPer,02-29\nnobody,x\n", "utf-8")
    does.click(page.get_by_role("button", name="Calendar…"))
    with page.expect_file_chooser() as chooser:
        does.click(page.get_by_role("button", name="Bring a list in (CSV, iCalendar)…"))
    chooser.value.set_files(listed)
    expect(page.get_by_role("status").filter(has_text="2 dates brought in. Not told: Row 4")).to_be_visible()
    expect(page.get_by_role("list", name="The customer's dates")).to_contain_text("1987-06-14Ida Brandt")
    page.get_by_label("Day", exact=True).fill("1990-01-05")
    page.get_by_label("Text").fill("Ola")
    page.get_by_role("button", name="Add", exact=True).click()
    expect(page.get_by_role("list", name="The customer's dates").locator("li")).to_have_count(3)
    choose(page, "Photo on the day of Ola", "festival-03.jpg")
    page.get_by_role("combobox", name="Language").click()
    page.get_by_role("option", name="Deutsch (Deutschland)").click()
    assert violations(page) == []
    does.click(page.get_by_role("button", name="Done"))
    expect(page.get_by_role("button", name="Page 6, Juni")).to_be_visible()
    does.check("A twelve-month calendar with a list of birthdays, its photos being in")
    page.get_by_role("link", name="Dispatch").click()
    let_pass(page)
    page.get_by_role("button", name="Export 12 pages").click()
    with page.expect_download(timeout=120_000) as download:
        page.get_by_role("link", name="Family-year_06.jpg").click(timeout=120_000)
    download.value.save_as(tmp_path / "june.jpg")
    with Image.open(tmp_path / "june.jpg") as written:
        assert written.size == (round((203.2 + 6) / 25.4 * 300), round((152.4 + 6) / 25.4 * 300))


def test_a_date_grid_is_drawn_and_altered_in_the_workshop(page: Page, draft: Callable[..., Draft]) -> None:
    here = draft(width_mm=200, height_mm=150)
    dates = here.draw("m", (20, 20), (180, 130))
    expect(page.get_by_role("combobox", name="Shows")).to_be_visible()
    page.get_by_role("combobox", name="Shows").click()
    page.get_by_role("option", name="a list").click()
    page.get_by_role("checkbox", name="Ruled lines").check()
    grid = here.layer(dates)
    assert (grid["shows"], grid["line"]["width_mm"]) == ("list", 0.1)
