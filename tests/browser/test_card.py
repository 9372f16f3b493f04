"""Cards in the real browser: begun in a fold, a panel that lies upside down worked on upright, folded in space, made a set."""

import re
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.api.asking import Pile
from tests.browser.acting import bring, choose, drag, held, let_pass, middle, settled, violations
from tests.browser.given import Given


def test_a_card_from_nothing_is_worked_on_upright_folded_and_goes_out(
    page: Page, base_url: str, pile: Pile, tmp_path: Path
) -> None:
    page.goto(base_url)
    page.get_by_role("button", name="New card").click()
    page.get_by_label("Job name").fill("Thanks")
    choose(page, "Fold", "Folded once at its top, stands or lifts up")
    choose(page, "Card orientation", "across")
    expect(page.get_by_text("The sheet is 7 × 10 in; closed it is 7 × 5 in.")).to_be_visible()
    # Left to its first photo, which lies across, it becomes the same card.
    choose(page, "Card orientation", "as the first photo")
    assert violations(page) == []
    page.get_by_role("button", name="Create card").click()
    expect(page.get_by_text("Drop photos or a folder here")).to_be_visible()
    bring(page, [pile[n][0] for n in (1, 2, 4)])  # all three lie across
    expect(page.get_by_text("3 photos brought in")).to_be_visible()
    settled(page)
    page.keyboard.press("f")
    expect(page.get_by_role("button", name=re.compile("^Opening 1, festival"))).to_be_visible()
    settled(page)
    job = Given(page, page.url.split("/")[-1].split("?")[0])
    # The back lies upside down on the sheet; seen as a panel it is upright, and what is pulled goes where the pointer goes.
    page.get_by_role("button", name="Panels").click()
    page.get_by_role("menuitem", name="back, upside down on the sheet").click()
    expect(page.locator("[data-turned]")).to_be_attached()
    expect(page.get_by_role("menu")).to_have_count(0)
    assert violations(page) == []
    before = job.placements()["opening-1"]["centre"]
    page.get_by_role("button", name="Panel: back").click()
    page.get_by_role("menuitem", name="front").click()
    expect(page.locator("[data-turned]")).to_have_count(0)
    page.get_by_role("button", name="Panel: front").click()
    page.get_by_role("menuitem", name="Turn to portrait").click()
    settled(page)
    assert page.request.get(f"{base_url}/api/jobs/{job.id}/folding").json()["folding"]["closed_mm"] == [127.0, 177.8]
    page.get_by_role("button", name="Panels").click()
    page.get_by_role("menuitem", name="Turn to landscape").click()
    settled(page)
    expect(page.get_by_role("menu")).to_have_count(0)
    assert job.placements()["opening-1"]["centre"] == before
    page.get_by_role("button", name="Preview fold").click()
    space = page.get_by_role("group", name="The card in space: arrows turn it")
    expect(space.get_by_alt_text("front")).to_be_attached()
    space.focus()
    first = space.locator("> div").get_attribute("style")
    page.keyboard.press("ArrowLeft")
    assert space.locator("> div").get_attribute("style") != first
    assert violations(page) == []
    page.keyboard.press("Escape")
    expect(space).to_have_count(0)
    assert job.placements()["opening-1"]["centre"] == before
    page.get_by_role("button", name="Add edition").click()
    page.get_by_role("menuitem", name="One card per photo…").click()
    page.get_by_label("Copies of each").fill("25")
    page.get_by_label("Copies of each").press("Enter")
    expect(page.get_by_role("menu")).to_have_count(0)
    assert violations(page) == []
    page.get_by_role("button", name="Make 3 editions").click()
    settled(page)
    # The card that was there is one of the set, called as its photo.
    page.get_by_title("Editions of these pages").click()
    expect(page.get_by_role("menuitem", name="festival-0")).to_have_count(3)
    expect(page.get_by_role("menuitem", name="First")).to_have_count(0)
    page.get_by_role("menuitem", name="festival-01").click()
    expect(page.get_by_title("Editions of these pages")).to_have_text("festival-01")
    page.get_by_role("link", name="Dispatch").click()
    expect(page.get_by_text("festival-01 · 25 copies")).to_be_visible()
    let_pass(page)
    page.get_by_role("button", name="Export 2 pages").click()
    expect(page.get_by_role("link", name="Thanks_01.jpg")).to_be_visible(timeout=120_000)


def test_on_a_turned_panel_the_pointer_and_the_arrows_go_as_they_are_seen(
    page: Page, base_url: str, pile: Pile
) -> None:
    card = {"fold": "tent", "width_mm": 177.8, "height_mm": 127.0, "theme": "shoreline"}
    body = {"name": "Tent", "lab": "gullwing-300", "card": card}
    job = Given(page, page.request.post(f"{base_url}/api/jobs", data=body).json()["id"])
    for path, _ in pile[:2]:
        page.request.post(f"{base_url}/api/jobs/{job.id}/photos?name={path.name}", data=path.read_bytes())
    back = {
        "kind": "opening", "id": "opening-2", "outline": {"kind": "rectangle", "width_mm": 80, "height_mm": 60},
        "surface": {"kind": "flat", "centre": [88.9, 60], "turn_deg": 180},
    }  # fmt: skip
    page.goto(f"{base_url}/jobs/{job.id}")
    expect(page.get_by_test_id("sheet")).to_be_visible()
    job.edit(op="add_layers", sheet="outside", layers=[back])
    job.edit(op="fill")
    for opening in ("opening-1", "opening-2"):
        job.edit(op="place", sheet="outside", opening=opening, centre=[0.5, 0.5], zoom=2.0, turn_deg=0, mirror=False)

    def pulled(opening: str, panel: str) -> tuple[float, float]:
        page.get_by_role("button", name=re.compile("^Panel")).click()
        page.get_by_role("menuitem", name=panel).click()
        number = int(opening[-1])
        expect(page.get_by_role("button", name=re.compile(f"^Opening {number}, festival"))).to_be_visible()
        x, y = middle(page, number)
        page.mouse.click(x, y)
        drag(page, (x, y), (x + 24, y + 40))
        settled(page)
        by_pointer = job.placements()[opening]["centre"]
        page.keyboard.press("ArrowDown")
        page.keyboard.press("ArrowDown")
        settled(page)
        by_key = job.placements()[opening]["centre"]
        # Down and to the right: what lies in the middle then lay further up and to the left.
        assert by_pointer[0] < 0.5 - 0.01
        assert by_pointer[1] < 0.5 - 0.01
        assert by_key[1] < by_pointer[1]
        return by_pointer

    pulled("opening-1", "front")
    pulled("opening-2", "back, upside down on the sheet")
    expect(page.locator("[data-turned]")).to_be_attached()


def test_a_menu_that_is_open_stays_while_the_card_changes(page: Page, base_url: str) -> None:
    card = {"fold": "tent", "width_mm": 177.8, "height_mm": 127.0, "theme": "shoreline"}
    body = {"name": "Tent", "lab": "gullwing-300", "card": card}
    job = Given(page, page.request.post(f"{base_url}/api/jobs", data=body).json()["id"])
    page.goto(f"{base_url}/jobs/{job.id}")
    page.get_by_role("button", name="Panels").click()
    let_go = held(page, "/folding")
    front = page.get_by_role("menuitem", name="front")
    expect(front).to_be_visible()
    with page.expect_request(re.compile("/folding")):
        job.edit(op="rename_sheet", which="outside", name="Out of doors", role="front")
    expect(page.get_by_text("Out of doors").first).to_be_visible()
    front.click()  # how it folds now is still on its way
    let_go()
    expect(page.get_by_role("button", name="Panel: front")).to_be_visible()
