"""Orders in the real browser: what is missing is said, a lab that is away waited for, states followed, a refusal read."""

import re
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.api.test_orders import Running
from tests.browser.acting import bring, choose, let_pass, settled, violations
from tests.browser.given import Pile


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
    page.get_by_role("link", name="To dispatch").click()
    let_pass(page)
    page.get_by_role("button", name="Export 2 pages").click()
    page.get_by_role("button", name="Order from the lab…").click(timeout=120_000)
    # No lab is there yet: that is said, and what is missing.
    expect(page.get_by_text("does not answer")).to_be_visible()
    expect(page.get_by_text("Still missing: the street, the place.")).to_be_visible()
    expect(page.get_by_role("button", name="Order", exact=True)).to_be_disabled()
    page.get_by_label("Street").fill("4 Pier Lane")
    page.get_by_label("Place").fill("Skerry Sands")
    assert violations(page) == []
    page.get_by_role("button", name="Order", exact=True).click()
    order = page.get_by_role("article", name="Order Ordered")
    expect(order).to_contain_text("not sent", timeout=60_000)
    lab = Running(tmp_path / "lab", clock=20_000, port=lab_port)
    try:
        order.get_by_role("button", name="Send it again").click()
        expect(order).to_contain_text("sent to the customer", timeout=60_000)
        page.goto(f"{base_url}/orders")
        expect(page.get_by_text("The lab answers at")).to_be_visible()
        expect(page.get_by_role("link", name="Ordered")).to_be_visible()
        assert violations(page) == []
        page.get_by_role("button", name="The same once more").click()
        expect(page.get_by_text("the same once more")).to_be_visible()
        expect(page.get_by_role("article").filter(has_text="sent to the customer")).to_have_count(2, timeout=60_000)
        # What a lab does not take is refused, and where is said.
        page.get_by_role("link", name="Ordered").first.click()
        page.get_by_text("PNG", exact=True).click()
        let_pass(page)
        page.get_by_role("button", name="Export 2 pages").click()
        expect(page.get_by_role("link", name="Ordered_01.png")).to_be_visible(timeout=120_000)
        page.get_by_role("button", name="Order from the lab…").first.click()
        choose(page, "Paper", "pearl 285")
        page.get_by_role("button", name="Order", exact=True).click()
        expect(page.get_by_text("Gullwing 300 wants JPEG, not PNG.").first).to_be_visible(timeout=60_000)
        page.goto(f"{base_url}/orders")
        choose(page, "Which orders", "those that want something")
        articles = page.get_by_role("article")
        expect(articles).to_have_count(1)
        expect(articles).to_contain_text("refused by the lab")
    finally:
        lab.end()
