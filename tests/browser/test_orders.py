"""Orders in the real browser: what is missing is said, a lab that is away waited for, states followed, a refusal read."""

import re
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.api.test_orders import Running
from tests.browser.acting import bring, choose, let_pass, settled, violations
from tests.browser.given import Pile


def fill_and_dispatch(page: Page, pile: Pile) -> None:
    """Two photos come in and are laid; what is found then is accepted on the dispatch screen."""
    bring(page, [path for path, _ in pile[:2]])
    expect(page.get_by_text("2 photos brought in")).to_be_visible()
    settled(page)
    page.keyboard.press("f")
    settled(page)
    page.get_by_role("link", name="Dispatch").click()
    let_pass(page)


def test_an_order_from_export_to_the_lab(
    page: Page, base_url: str, start: Callable, pile: Pile, tmp_path: Path, lab_port: int
) -> None:  # fmt: skip
    start("Folded card, portrait", "Ordered")
    bring(page, [path for path, _ in pile[:2]])
    expect(page.get_by_text("2 photos brought in")).to_be_visible()
    settled(page)
    page.keyboard.press("f")
    expect(page.get_by_role("button", name=re.compile("^Opening 1, festival"))).to_be_visible()
    settled(page)
    page.get_by_role("link", name="Dispatch").click()
    let_pass(page)
    page.get_by_role("button", name="Export 2 pages").click()
    page.get_by_role("button", name="Order from the lab…").click(timeout=120_000)
    # No lab is there yet: that is said, and what is missing.
    expect(page.get_by_text("does not answer. Try again when it is there.")).to_be_visible()
    page.get_by_role("textbox", name="Name", exact=True).fill("Ola Brandvik")
    choose(page, "Country", "Germany")
    expect(page.get_by_text("Still missing: street, postcode, town.")).to_be_visible()
    expect(page.get_by_role("button", name="Check order")).to_be_disabled()
    page.get_by_label("Street").fill("4 Pier Lane")
    page.get_by_label("Postcode").fill("25938")
    page.get_by_label("Town").fill("Skerry Sands")
    assert violations(page) == []
    page.get_by_role("button", name="Check order").click()
    # All of it once more before it is sent: files, copies, address, price.
    summary = page.get_by_role("dialog", name="Check the order")
    expect(summary.get_by_role("listitem")).to_have_text(["Ordered_01.jpg", "Ordered_02.jpg"])
    expect(summary).to_contain_text("2 files, 1 copy")
    expect(summary).to_contain_text("Ola Brandvik, 4 Pier Lane, 25938 Skerry Sands, Germany")
    expect(summary).to_contain_text("not known until the lab answers")
    assert violations(page) == []
    expect(summary).not_to_contain_text("Approval")
    summary.get_by_role("button", name="Back").click()
    expect(page.get_by_label("Postcode")).to_have_value("25938")
    # A proof that was sent by a link says whether the customer approved it.
    job = re.search(r"/jobs/([0-9a-f]+)", page.url)[1]
    link = page.request.post(f"{base_url}/api/jobs/{job}/proof-links", data={}).json()
    page.get_by_role("button", name="Check order").click()
    expect(summary).to_contain_text("The customer has not approved the proof yet.")
    shown = int(re.search(r'"state": (\d+)', page.request.get(f"{base_url}{link['url']}").text())[1])
    page.request.post(f"{base_url}{link['url']}/approval", data={"name": "Ola Brandvik", "state": shown})
    expect(summary).to_contain_text("Approved by Ola Brandvik")
    page.get_by_role("button", name="Send order").click()
    order = page.get_by_role("article", name="Order Ordered")
    expect(order).to_contain_text("not sent", timeout=60_000)
    lab = Running(tmp_path / "lab", clock=20_000, port=lab_port)
    try:
        order.get_by_role("button", name="Send again").click()
        expect(order).to_contain_text("sent to the customer", timeout=60_000)
        page.goto(f"{base_url}/orders")
        expect(page.get_by_text("The lab answers at")).to_be_visible()
        expect(page.get_by_role("link", name="Ordered")).to_be_visible()
        assert violations(page) == []
        page.get_by_role("button", name="Reorder").click()
        expect(page.get_by_text("a reorder")).to_be_visible()
        expect(page.get_by_role("article").filter(has_text="sent to the customer")).to_have_count(2, timeout=60_000)
        # What a lab does not take is refused, and where is said.
        page.get_by_role("link", name="Ordered").first.click()
        page.get_by_text("PNG", exact=True).click()
        let_pass(page)
        page.get_by_role("button", name="Export 2 pages").click()
        expect(page.get_by_role("link", name="Ordered_01.png")).to_be_visible(timeout=120_000)
        page.get_by_role("button", name="Order from the lab…").first.click()
        choose(page, "Paper", "pearl 285")
        expect(page.get_by_label("Street")).to_have_value("4 Pier Lane")  # as it was ordered last
        assert page.evaluate("Object.keys(localStorage).filter((key) => key.includes('where to'))") == []
        page.get_by_role("button", name="Check order").click()
        expect(page.get_by_role("dialog", name="Check the order")).to_contain_text("about £6.30 at the lab's prices")
        page.get_by_role("button", name="Send order").click()
        expect(page.get_by_text("Gullwing 300 wants JPEG, not PNG.").first).to_be_visible(timeout=60_000)
        page.goto(f"{base_url}/orders")
        choose(page, "Which orders", "needs action")
        articles = page.get_by_role("article")
        expect(articles).to_have_count(1)
        expect(articles).to_contain_text("refused by the lab")
        page.get_by_label("Find an order").fill("nobody")
        expect(page.get_by_text("No orders here.")).to_be_visible()
        page.get_by_label("Find an order").fill("skerry ordered")
        expect(articles).to_have_count(1)
        # The refusal leads to its sheet, and stands there.
        articles.get_by_role("link", name="Ordered, Inside").click()
        findings = page.get_by_role("list", name="Findings")
        expect(findings).to_contain_text("The lab refused this sheet")
        expect(findings).to_contain_text("Gullwing 300 wants JPEG, not PNG.")
        assert "sheet=inside" in page.url
        # A sheet that the lab publishes is taken, and its formats are kept to.
        page.get_by_role("link", name="Dispatch").click()
        page.get_by_role("button", name="Get lab sheets…", exact=True).click()
        published = page.get_by_role("list", name="Lab sheets").get_by_role("listitem")
        expect(published.filter(has_text="Gullwing 300").get_by_role("button")).to_be_disabled()
        assert violations(page) == []
        published.filter(has_text="Samphire prints").get_by_role("button", name="Add").click()
        expect(page.get_by_role("combobox", name="Lab sheet")).to_have_value("Samphire prints, Samphire Press")
        expect(page.get_by_text(re.compile("Outside.*bleed: 3047 × 2147 px"))).to_be_visible()
    finally:
        lab.end()


def test_an_order_is_cancelled_before_the_lab_has_begun_it(
    page: Page, base_url: str, start: Callable, pile: Pile, tmp_path: Path, lab_port: int
) -> None:
    lab = Running(tmp_path / "lab", clock=0.001, port=lab_port)
    try:
        start("Folded card, portrait", "Called off")
        fill_and_dispatch(page, pile)
        page.get_by_role("button", name="Export 2 pages").click()
        page.get_by_role("button", name="Order from the lab…").click(timeout=120_000)
        for label, said in {
            "Name": "Ola",
            "Street": "4 Pier Lane",
            "Postcode": "25938",
            "Town": "Skerry Sands",
        }.items():
            page.get_by_role("textbox", name=label, exact=True).fill(said)
        choose(page, "Country", "Germany")
        page.get_by_role("button", name="Check order").click()
        page.get_by_role("button", name="Send order").dblclick()  # a press too many is one order
        order = page.get_by_role("article", name="Order Called off")
        expect(order).to_contain_text("received by the lab", timeout=60_000)
        expect(order).to_have_count(1)
        order.get_by_role("button", name="Cancel order…").click()
        order.get_by_role("button", name="Cancel this order").click()
        expect(order).to_contain_text("cancelled")
        expect(order.get_by_role("button", name="Cancel order…")).to_have_count(0)
        assert len(list((tmp_path / "lab" / "orders").iterdir())) == 1
        assert '"cancelled"' in next((tmp_path / "lab" / "orders").iterdir()).read_text()
    finally:
        lab.end()


def test_print_sheets_on_the_studios_printer(
    page: Page, start: Callable, pile: Pile, tmp_path: Path, printer_port: int
) -> None:
    start("Postcard with two", "Printed")
    fill_and_dispatch(page, pile)
    page.get_by_role("button", name="On print sheets…").click()
    page.get_by_role("button", name="Make print sheets").click()
    page.get_by_role("button", name="Print here…").click(timeout=120_000)
    expect(page.get_by_text("The printer at http://127.0.0.1")).to_be_visible()  # it is off
    command = [
        sys.executable,
        "-m",
        "sutaru",
        "printer",
        "--port",
        str(printer_port),
        "--data",
        str(tmp_path / "p"),
    ]
    printer = subprocess.Popen([*command, "--faults", "jam:1"], stdout=subprocess.DEVNULL)
    try:
        tray = page.get_by_role("combobox", name="Tray")
        expect(tray).to_have_value(re.compile("^1: coated 170, 450 × 320 mm"), timeout=60_000)
        expect(page.get_by_text("4 mm at the paper's edges stay white.")).to_be_visible()
        # Another paper is not taken silently.
        choose(page, "Tray", "2: coated 170, 420 × 297 mm, FOGRA39, 250 sheets in it")
        expect(page.get_by_text("another size than this paper")).to_be_visible()
        page.get_by_role("button", name="Print", exact=True).click()
        expect(page.get_by_text("is not of the size of tray 2")).to_be_visible()
        choose(page, "Tray", "1: coated 170, 450 × 320 mm, FOGRA39, 500 sheets in it")
        page.get_by_role("button", name="Print", exact=True).click()
        at = page.get_by_role("region", name="At the printer")
        expect(at).to_contain_text("is jammed")
        at.get_by_role("button", name="Resume").click()
        expect(at).to_contain_text(re.compile(r"Printed: (\d+) of \1 sheet"))
        picture = at.get_by_role("img").last
        expect(picture).to_be_visible()
        assert picture.evaluate("image => image.decode().then(() => image.naturalWidth)") == 1772
        expect(page.get_by_role("listbox")).to_have_count(0)
        assert violations(page) == []
    finally:
        printer.kill()
        printer.wait()
