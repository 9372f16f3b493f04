"""The whole order in the real browser: from the shelf to a print file that is opened and measured."""

import hashlib
import json
import re
from collections.abc import Callable
from pathlib import Path

import numpy as np
from PIL import Image
from playwright.sync_api import Page, expect

from sutaru.core.document import Job
from sutaru.core.formats.bundle import write_bundle
from tests.browser.acting import bring, drag, ledger, let_pass, middle, opening, tick
from tests.browser.given import Pile
from tests.conftest import SHELF


def test_spread_from_photos_to_print_file(page: Page, start: Callable, pile: Pile, tmp_path: Path) -> None:
    start("Eighteen on a spread", "Browser spread")
    bad = {"torn.jpg": pile[0][0].read_bytes()[:9000], "empty.jpg": b"", "letter.jpg": b"Dear customer"}
    for name, data in bad.items():
        (tmp_path / name).write_bytes(data)
    bring(page, [tmp_path / name for name in bad] + [path for path, _ in pile])

    # Each bad file gets its sentence; the others go on.
    expect(page.get_by_text("24 photos brought in")).to_be_visible()
    expect(page.get_by_text("torn.jpg is damaged: its pixels end early or do not decode.")).to_be_visible()
    expect(page.get_by_text("empty.jpg is empty (0 bytes).")).to_be_visible()
    expect(page.get_by_text("letter.jpg is not a picture that can be read.")).to_be_visible()
    page.get_by_role("region", name="Pile").get_by_role("button", name="Close").click()

    page.get_by_role("button", name="Fill all 18 openings").click()
    expect(page.get_by_text("24 photos, 6 unused")).to_be_visible()
    assert all(ledger(page, n)[1].startswith("festival-") for n in range(1, 19))

    # Swap by dragging one onto the other.
    first, second = ledger(page, 4)[1], ledger(page, 10)[1]
    drag(page, middle(page, 4), middle(page, 10))
    expect(page.get_by_role("table", name="Ledger").locator("tbody tr").nth(9)).to_contain_text(first)
    assert ledger(page, 4)[1] == second

    # The selected one is fitted: shifted by hand, zoomed by key, turned by key, mirrored.
    opening(page, 10).locator("[data-opening]").click()
    for _ in range(10):
        page.keyboard.press("+")
    page.keyboard.press("}")
    expect(page.get_by_label("Turn °")).to_have_value("-1")
    expect(page.get_by_role("table", name="Ledger").locator("tbody tr").nth(9)).to_contain_text("1.22")
    x, y = middle(page, 10)
    before = page.get_by_label("Right in").input_value()
    drag(page, (x, y), (x + 60, y))
    expect(page.get_by_label("Right in")).not_to_have_value(before)
    page.keyboard.press("m")
    expect(page.get_by_role("button", name="Mirror")).to_have_attribute("aria-pressed", "true")
    expect(page.get_by_test_id("draft")).to_have_count(0)

    # Undo goes step by step, redo comes back.
    for _ in range(3):
        page.keyboard.press("Control+z")
    expect(page.get_by_role("table", name="Ledger").locator("tbody tr").nth(9)).to_contain_text("1.00")
    for _ in range(3):
        page.keyboard.press("Control+Shift+z")
    expect(page.get_by_role("table", name="Ledger").locator("tbody tr").nth(9)).to_contain_text("1.22")

    # Clear one; its finding is one click from its place.
    page.keyboard.press("Delete")
    page.get_by_text("Findings", exact=False).first.click()
    page.get_by_role("button", name="stop Opening 10 is empty.", exact=True).click()
    expect(opening(page, 10)).to_have_attribute("aria-pressed", "true")
    # Put one down from the pile by keyboard alone.
    page.get_by_role("combobox", name="Show").click()
    page.get_by_role("option", name="only unused").click()
    page.get_by_role("button", name=re.compile(r"^festival-\d+\.jpg, 960 by 640")).first.press("Enter")
    opening(page, 10).press("Enter")
    expect(page.get_by_role("button", name="stop Opening 10 is empty.", exact=True)).to_have_count(0)

    # A zoom far beyond the file's pixels is a stop, and so keeps the export back until it is accepted.
    page.get_by_role("link", name="Dispatch").click()
    let_pass(page)
    page.get_by_role("button", name="Export 1 page").click()
    with page.expect_download() as download:
        page.get_by_role("link", name="Browser-spread_01.jpg").click()
    target = tmp_path / "spread.jpg"
    download.value.save_as(target)
    with Image.open(target) as written:
        # 24 x 12 in with 3 mm bleed at 300 ppi: round(mm / 25.4 * ppi) of the bleed box.
        assert written.size == (7271, 3671)
        assert written.info["dpi"] == (300, 300)
        assert "icc_profile" in written.info
        corner = np.asarray(written.crop((0, 0, 100, 100)))
        assert np.abs(corner.astype(int) - (0xFD, 0xFC, 0xF8)).max() <= 1
    with page.expect_download() as download:
        page.get_by_role("link", name="manifest.json").click()
    download.value.save_as(tmp_path / "manifest.json")
    manifest = json.loads((tmp_path / "manifest.json").read_text())
    listed = manifest["files"][0]
    assert {(entry["by"], entry["severity"]) for entry in manifest["accepted"]} == {("Tove Lind", "stop")}
    # What was let pass is never shown as in order.
    export = page.get_by_role("article", name=re.compile("^Export of"))
    expect(export.get_by_role("img").first).to_have_attribute("aria-label", "look")
    expect(export).to_contain_text("Accepted by Tove Lind: A proof for the studio only")
    assert listed["sha256"] == hashlib.sha256(target.read_bytes()).hexdigest()


def test_card_words_notes_and_slanted_frame(page: Page, start: Callable, pile: Pile) -> None:
    start("Folded card, portrait", "Browser card")
    bring(page, [path for path, _ in pile[:4]])
    expect(page.get_by_text("4 photos brought in")).to_be_visible()
    page.get_by_role("button", name="Fill the opening").click()
    expect(page.get_by_role("table", name="Ledger")).to_contain_text("festival-")
    page.get_by_role("button", name="Page 2, Inside").click()
    page.get_by_role("button", name="Words: greeting").click()
    words = page.locator("#words-greeting")
    words.fill("Wind " * 60)
    expect(page.get_by_text("The words of greeting do not fit their box: shorten them.")).to_be_visible()
    words.fill("With love from the dunes")
    expect(page.get_by_text("do not fit their box")).to_have_count(0)

    # Numbers and guide notes hide without changing the job.
    sheet = page.get_by_test_id("sheet").locator("img").first
    assert "notes=true" in (sheet.get_attribute("src") or "")
    tick(page, "Numbers and notes")
    expect(sheet).not_to_have_attribute("src", re.compile("notes=true"))

    # It is all still there after a reload.
    page.reload()
    expect(page.get_by_role("list", name="Words")).to_contain_text("With love from the dunes")


def test_fitting_behind_a_slanted_frame(page: Page, start: Callable, pile: Pile) -> None:
    start("Two frames on a wall", "Browser frames")
    bring(page, [path for path, _ in pile[:3]])
    expect(page.get_by_text("3 photos brought in")).to_be_visible()
    # Put down one by one: take in hand from the pile, click the opening.
    page.get_by_role("button", name=re.compile(r"^festival-01")).click()
    page.mouse.click(*middle(page, 1))
    expect(opening(page, 1)).to_have_accessible_name(re.compile("festival-01"))
    page.get_by_role("button", name=re.compile(r"^festival-02")).drag_to(opening(page, 2).locator("[data-opening]"))
    expect(opening(page, 2)).to_have_accessible_name(re.compile("festival-02"))

    # Zoomed by its handle, then shifted along the slanted plane: the draft shows at once, the clamp leaves no gap.
    opening(page, 1).locator("[data-opening]").click()
    handle = page.get_by_test_id("zoom-handle").bounding_box()
    assert handle
    x, y = middle(page, 1)
    page.mouse.move(handle["x"] + 6, handle["y"] + 6)
    page.mouse.down()
    page.mouse.move(handle["x"] + 66, handle["y"] + 46, steps=6)
    expect(page.get_by_test_id("draft")).to_be_visible()
    page.mouse.up()
    expect(page.get_by_label("Zoom ×")).not_to_have_value("1")
    drag(page, (x, y), (x + 900, y))
    row = page.get_by_role("table", name="Ledger").locator("tbody tr").first
    expect(page.get_by_test_id("draft")).to_have_count(0)
    expect(row).to_contain_text("festival-01")

    # Shows the whole photo when asked to, and covers again.
    page.keyboard.press("w")
    expect(page.get_by_role("radio", name="Whole", exact=True)).to_be_checked()
    expect(row).to_contain_text("0 %")
    page.keyboard.press("w")
    expect(page.get_by_role("radio", name="Cover")).to_be_checked()


DROP = """([target, name, bytes]) => {
  const transfer = new DataTransfer();
  transfer.items.add(new File([new Uint8Array(bytes)], name, { type: "image/jpeg" }));
  for (const kind of ["dragover", "drop"])
    target.dispatchEvent(new DragEvent(kind, { dataTransfer: transfer, bubbles: true, cancelable: true }));
}"""


def test_files_dropped_on_an_opening_and_on_the_pile(page: Page, start: Callable, pile: Pile) -> None:
    start("Two frames on a wall", "Browser drops")
    for number, target in ((1, opening(page, 1)), (2, page.get_by_role("region", name="Pile"))):
        path = pile[number][0]
        page.evaluate(DROP, [target.element_handle(), path.name, list(path.read_bytes())])
        expect(page.get_by_role("button", name=re.compile(f"^{path.name}"))).to_be_visible()
    expect(opening(page, 1)).to_have_accessible_name(re.compile("festival-01"))
    expect(opening(page, 2)).to_have_accessible_name("Opening 2, empty")
    expect(page.get_by_text("2 photos, 1 unused")).to_be_visible()
    # The name is changed where it stands.
    page.get_by_role("button", name="Browser drops").click()
    page.get_by_label("Job name").fill("Hall")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("button", name="Hall", exact=True)).to_be_visible()


def test_an_export_is_stopped_and_a_missing_job_says_so(
    page: Page, job_of: Callable[[str], Job], base_url: str, tmp_path: Path
) -> None:
    """Of so many sheets that it still runs once a slow machine has come to say so."""
    one = job_of("album-spread-18")
    spread = one.sheets[0]
    plain = spread.layout.copy_with(layers=())
    sheets = tuple(spread.copy_with(id=f"s{n}", name=f"Spread {n + 1}", layout=plain) for n in range(120))
    write_bundle(tmp_path / "long.sutaru", one.copy_with(sheets=sheets), lambda photo: b"", SHELF.asset)
    job = page.request.post(f"{base_url}/api/jobs/from-bundle", data=(tmp_path / "long.sutaru").read_bytes()).json()
    page.goto(f"{base_url}/jobs/{job['id']}/dispatch")
    page.get_by_text("TIFF", exact=True).click()
    page.get_by_role("button", name="Export 120 pages").click()
    page.get_by_role("button", name="Stop").click()
    expect(page.get_by_text("It was stopped.")).to_be_visible()
    expect(page.get_by_role("article")).to_contain_text("TIFF for Gullwing 300")  # the lab's name, not its mark
    page.goto(f"{base_url}/jobs/nowhere")
    expect(page.get_by_text("This job was not found.")).to_be_visible()


def test_a_hand_of_many_photos(page: Page, start: Callable, pile: Pile) -> None:
    start("Eighteen on a spread", "Browser hand")
    bring(page, [path for path, _ in pile])
    expect(page.get_by_text("24 photos brought in")).to_be_visible()

    # A run from the first to the seventh, one more added; one photo down per click, none left over in hand.
    names = page.locator("[data-pile] button[aria-pressed]")
    first, seventh = names.nth(0), names.nth(6)
    first.click()
    seventh.click(modifiers=["Shift"])
    names.nth(8).click(modifiers=["Control"])
    expect(
        page.get_by_text("Placing 8 photos. X skips, a click beside openings adds them to the sheet, Esc cancels.")
    ).to_be_attached()
    order = [(names.nth(n).get_attribute("aria-label") or "").split(",")[0] for n in (0, 1, 2, 3, 4, 5, 6, 8)]
    page.keyboard.press("x")  # the first one comes last
    for number in range(1, 9):
        page.mouse.click(*middle(page, number))
    expect(page.get_by_text("Esc cancels.")).to_have_count(0)
    expect(page.get_by_text("24 photos, 16 unused")).to_be_visible()
    put = [ledger(page, n)[1] + ".jpg" for n in range(1, 9)]
    assert put == [*order[1:], order[0]]

    # A click on a filled opening replaces; Escape lets the rest go, and it stays in the pile.
    replaced = (names.nth(10).get_attribute("aria-label") or "").split(".jpg")[0]
    names.nth(10).click()
    names.nth(12).click(modifiers=["Shift"])
    page.mouse.click(*middle(page, 1))
    page.keyboard.press("Escape")
    expect(page.get_by_text("Esc cancels.")).to_have_count(0)
    expect(page.get_by_text("24 photos, 16 unused")).to_be_visible()
    expect(page.get_by_role("table", name="Ledger").locator("tbody tr").first).to_contain_text(replaced)
