"""The press in the real browser: its views by one key, figures under the pointer, files as a press wants them."""

import re
from collections.abc import Callable
from pathlib import Path

import pikepdf
from playwright.sync_api import Locator, Page, expect

from sutaru.core.colour.profiles import profile_bytes
from sutaru.core.verifying.print_files import verify
from tests.browser.acting import bring, centre, choose, held, let_pass, middle, settled, violations
from tests.browser.given import Pile


def height(locator: Locator) -> float:
    box = locator.bounding_box()
    assert box
    return box["height"]


def test_the_press_is_seen_and_its_files_leave(page: Page, start: Callable, pile: Pile, tmp_path: Path) -> None:
    start("Folded card, portrait", "For the press")
    bring(page, [path for path, _ in pile[:3]])
    expect(page.get_by_text("3 photos brought in")).to_be_visible()
    settled(page)
    page.keyboard.press("f")
    expect(page.get_by_role("button", name=re.compile("^Opening 1, festival"))).to_be_visible()
    settled(page)
    sheet = page.get_by_test_id("sheet").locator("img").first
    page.keyboard.press("o")
    strip = page.get_by_role("region", name="As the press prints it")
    expect(strip).to_contain_text("Coated paper, FOGRA39. This lab sheet names no press.")
    expect(sheet).to_have_attribute("src", re.compile("proof=paper"))
    page.mouse.move(*middle(page, 1))
    expect(strip).to_contain_text(re.compile(r"RGB \d+ \d+ \d+.*C \d+ {2}M \d+ {2}Y \d+ {2}K \d+ %.*ink \d+ %"))
    # What is clicked stays where it is, also in a small window, where the figures need another line.
    page.set_viewport_size({"width": 960, "height": 800})
    reach = strip.get_by_text("Out of gamut")
    page.mouse.move(*centre(reach))
    expect(strip).to_contain_text("This lab sheet names no press.")
    one_line, there = height(strip), centre(reach)
    page.mouse.move(*middle(page, 1))
    expect(strip).to_contain_text(re.compile(r"ink \d+ %"))
    assert height(strip) > one_line
    assert centre(reach) == there
    page.set_viewport_size({"width": 1280, "height": 800})
    reach.click()
    expect(sheet).to_have_attribute("src", re.compile("proof=reach"))
    assert violations(page) == []
    page.keyboard.press("Escape")
    page.keyboard.press("o")
    expect(strip).to_have_count(0)
    expect(sheet).not_to_have_attribute("src", re.compile("proof"))

    page.get_by_role("link", name="Dispatch").click()
    page.get_by_text("Output: RGB").click()
    expect(page.get_by_label("PDF/X-4 (ISO 15930-7)")).to_be_disabled()
    choose(page, "Press", "Coated paper, TR 006")
    settled(page)
    expect(page.get_by_text("Output: Coated paper, TR 006")).to_be_visible()
    page.get_by_label("PDF/X-4 (ISO 15930-7)").check()
    settled(page)
    page.get_by_label("All pages in one PDF").check()
    settled(page)
    page.get_by_label("Cut line spot colour").fill("Die Cut")
    page.get_by_label("Cut line spot colour").press("Enter")
    settled(page)
    names = page.get_by_label("File names, from {job}, {customer}, {page}, {name}")
    names.fill("{customer}_{name}")
    expect(page.get_by_text("Ola-Brandvik_Outside, Ola-Brandvik_Inside…")).to_be_visible()
    names.fill("{place}")
    expect(page.get_by_text(re.compile("knows {job}, {customer}, {page} and {name} only"))).to_be_visible()
    names.press("Enter")
    expect(names).to_have_value("{job}_{page}")  # what cannot be is not kept
    choose(page, "Photos", "sharpened")
    settled(page)
    expect(page.get_by_text("Output: Coated paper, TR 006, PDF/X-4, sharpened")).to_be_visible()
    assert violations(page) == []
    page.get_by_label("On the press's paper").check()
    expect(page.get_by_alt_text("Outside as it will print")).to_have_attribute("src", re.compile("proof=paper"))
    page.get_by_text("PDF", exact=True).click()
    let_pass(page)
    page.get_by_role("button", name="Export 2 pages").click()
    link = page.get_by_role("link", name=re.compile(r"For-the-press.*\.pdf"))
    expect(link).to_be_visible(timeout=120_000)
    expect(page.get_by_text(re.compile(r"Coated CGATS TR 006.*2 pages"))).to_be_visible()
    with page.expect_download() as download:
        link.click()
    download.value.save_as(tmp_path / "order.pdf")
    report = verify(tmp_path / "order.pdf")
    assert (report.standard, report.pages) == ("PDF/X-4", 2)
    assert {defect.rule for defect in report.defects} <= {"spot"}
    # The pile as a contact sheet is a job of its own.
    page.get_by_role("button", name="Contact sheet of the pile").click()
    expect(page.get_by_text("For the press, contact sheet")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("^Opening 3, festival"))).to_be_visible()


def test_a_labs_own_profile_is_brought_in(page: Page, start: Callable, tmp_path: Path) -> None:
    start("Folded card, portrait", "Own profile")
    page.get_by_role("link", name="Dispatch").click()
    page.get_by_text("Output: RGB").click()
    (tmp_path / "house.icc").write_bytes(profile_bytes("tr006"))
    (tmp_path / "notes.icc").write_bytes(b"not a profile" * 30)
    chooser = page.locator("input[type=file][accept='.icc,.icm']")
    chooser.set_input_files(tmp_path / "notes.icc")
    expect(page.get_by_text(re.compile("This is no PNG, JPEG, SVG, TTF, OTF or ICC file"))).to_be_visible()
    chooser.set_input_files(tmp_path / "house.icc")
    expect(page.get_by_text(re.compile(r"Output: Coated CGATS TR 006 \(built"))).to_be_visible()
    settled(page)
    page.reload()
    expect(page.get_by_text(re.compile(r"Output: Coated CGATS TR 006 \(built"))).to_be_visible()
    # Closed again, so that what exports is in view; in inks no layer stays live.
    expect(page.get_by_label("Convert to press inks")).not_to_be_visible()
    page.get_by_text("Output").click()
    live = page.get_by_label("Keep layers and transparency (PDF)")
    expect(live).to_be_disabled()
    page.get_by_label("Convert to press inks").uncheck()
    live.check()
    page.get_by_label("16 bits per channel (TIFF)").check()
    settled(page)
    expect(page.get_by_text(re.compile(r"RGB, meant for Coated.*, layers live, TIFF of 16 bits"))).to_be_visible()
    page.get_by_text("Output").click()
    page.get_by_text("TIFF", exact=True).click()
    let_pass(page)
    page.get_by_role("button", name="Export 2 pages").click()
    expect(page.get_by_text(re.compile(r"300 ppi, sRGB, 16 bits, ")).first).to_be_visible(timeout=60_000)


def test_a_print_file_of_anybodys_is_looked_over(page: Page, base_url: str, tmp_path: Path) -> None:
    with pikepdf.new() as pdf:
        pdf.add_blank_page(page_size=(400, 300))
        pdf.save(tmp_path / "customer.pdf")
    (tmp_path / "letter.pdf").write_bytes(b"Dear Ola")
    (tmp_path / "torn.pdf").write_bytes(b"%PDF-1.6\n")
    page.goto(f"{base_url}/orders")
    page.get_by_role("button", name="Check a print file…").click()
    dialog = page.get_by_role("dialog", name="Check a print file")
    chooser = dialog.locator("input[type=file]")
    chooser.set_input_files(tmp_path / "letter.pdf")
    expect(dialog).to_contain_text("letter.pdf could not be checked.")
    expect(dialog).to_contain_text("It cannot be read as a PDF, JPEG, TIFF or PNG. Ask for it anew.")
    chooser.set_input_files(tmp_path / "torn.pdf")
    expect(dialog).to_contain_text(re.compile(r"It cannot be read as a PDF: [^/]+\. Ask for it anew\."))
    # What was asked before is given up once something else is asked for: it is not shown over that, however late.
    held(page, r"/api/verify\?.*lab=$")
    chooser.set_input_files(tmp_path / "customer.pdf")
    expect(dialog.get_by_label("Findings")).to_have_count(0)
    with page.expect_event("requestfailed", lambda request: request.url.endswith("lab=")):
        choose(page, "Lab sheet", "Samphire offset, Samphire Press")
    said = "customer.pdf: PDF, 1 page; structurally checked against ISO 15930-7 and Samphire offset."
    expect(dialog).to_contain_text(said)
    page.unroute_all(behavior="ignoreErrors")
    assert violations(page) == []
    expect(dialog).to_contain_text(said)
    expect(dialog).to_contain_text("It does not say where it is trimmed.")
    choose(page, "Lab sheet", "the standard that it names, alone")
    expect(dialog).to_contain_text("structurally checked against ISO 15930-7.")
