"""Watched folders on their screen: one is made, photos are laid in, what became of them is told and is one click away."""

import re
import shutil
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.browser.acting import choose, violations
from tests.browser.given import Pile


def test_what_is_laid_into_a_watched_folder_is_followed(page: Page, base_url: str, pile: Pile) -> None:
    page.goto(base_url)
    page.get_by_role("link", name="Watched folders").click()
    page.get_by_text("Where the folders are").click()
    lies_in = page.locator("main code").first
    expect(lies_in).to_have_text(re.compile("watched$"))
    parent = Path(lies_in.inner_text())

    page.get_by_role("button", name="Watch a folder…").click()
    watch = page.get_by_role("button", name="Watch folder", exact=True)
    expect(watch).to_be_disabled()
    page.get_by_label("Name of the folder").fill("Harbour post")
    expect(watch).to_be_disabled()
    choose(page, "Template", "Postcard with two")
    choose(page, "Photos go into the openings", "in order, as they are called")
    choose(page, "Exported as", "PDF")
    assert violations(page) == []
    page.get_by_label("Name of the folder").press("Enter")
    folder = page.get_by_role("article", name="Harbour-post")
    expect(folder).to_contain_text("Postcard with two · Gullwing 300 · photos in order · exported as PDF when in order")
    expect(folder).to_contain_text("Nothing was laid in yet.")

    (parent / "Harbour-post" / "Ines Vael").mkdir()
    shutil.copy(pile[0][0], parent / "Harbour-post" / "Ines Vael")
    (parent / "Harbour-post" / "Ines Vael" / "letter.jpg").write_text("Dear studio")
    ines = folder.get_by_role("listitem").filter(has_text="Ines Vael")
    expect(ines).to_contain_text("2 photos, taken once it no longer changes")
    link = folder.get_by_role("link", name="Mend Ines Vael")
    expect(link).to_be_visible(timeout=60_000)
    # One opening stays empty: that is a stop.
    expect(ines).to_contain_text(re.compile(r"Waits: \d stops? (is|are) in the way of printing"))
    expect(ines.locator("img")).to_be_visible()
    expect(folder).to_contain_text("letter.jpg is not a picture that can be read.")
    assert violations(page) == []

    folder.get_by_role("button", name="Change rule…").click()
    expect(page.get_by_role("combobox", name="Exported as")).to_have_value("PDF")
    page.get_by_label("Export at once if nothing blocks it").uncheck()
    page.get_by_role("button", name="Save rule").click()
    expect(folder).to_contain_text("photos in order · waits for a person")
    (parent / "Harbour-post" / "rule.json").write_text("{}")
    expect(folder.get_by_role("alert")).to_contain_text("The template is missing. Nothing is taken from here")

    (parent / "Harbour-post" / "Fen Tarrow").mkdir()
    shutil.copy(pile[0][0], parent / "Harbour-post" / "Fen Tarrow")
    fen = folder.get_by_role("listitem").filter(has_text="Fen Tarrow")
    expect(fen).to_contain_text("1 photo, taken once")

    link.click()
    expect(page.get_by_role("button", name=re.compile("^Opening 2,"))).to_be_visible()
    expect(page.get_by_text("Opening 2 is empty")).to_be_visible()
    page.go_back()
    folder.get_by_role("button", name="Stop watching").click()
    expect(folder).to_have_count(0)
    assert (parent / "Harbour-post" / "taken" / "Ines Vael").is_dir()
