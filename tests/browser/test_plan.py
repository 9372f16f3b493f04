"""The flat plan in the real browser: sheets moved by pulling and by keys, swapped, copied, taken away and brought back."""

from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect

from tests.browser.acting import centre, violations


@pytest.fixture
def plan(page: Page, given: Callable) -> Page:
    given("calendar-desk", 6)
    page.get_by_role("link", name="Flat plan").click()
    expect(page.get_by_role("list", name="Sheets in order").get_by_role("button")).to_have_count(12)
    page.wait_for_function("() => [...document.images].every((one) => one.complete && one.naturalWidth)")
    return page


def order(page: Page) -> list[str]:
    expect(page.locator("[data-kept=true]")).to_be_attached()
    names = page.get_by_role("list", name="Sheets in order").get_by_role("button")
    return names.evaluate_all("all => all.map((one) => one.dataset.name)")


def sheet(page: Page, name: str):
    return page.locator(f"[data-name='{name}']")


def test_sheets_are_pulled_and_moved_by_keys(plan: Page) -> None:
    began = order(plan)
    sheet(plan, began[7]).drag_to(sheet(plan, began[1]))
    second = plan.get_by_role("list", name="Sheets in order").get_by_role("button").nth(1)
    expect(second).to_have_attribute("data-name", began[7])
    assert order(plan) == [began[0], began[7], *began[1:7], *began[8:]]
    plan.keyboard.press("Control+z")
    expect(second).to_have_attribute("data-name", began[1])
    assert order(plan) == began
    # Two by keys: one place on, and back again.
    sheet(plan, began[2]).focus()
    plan.keyboard.press(" ")
    plan.keyboard.press("Shift+ArrowRight")
    expect(plan.get_by_text("2 sheets selected")).to_be_visible()
    plan.keyboard.press("Alt+ArrowRight")
    third = plan.get_by_role("list", name="Sheets in order").get_by_role("button").nth(2)
    expect(third).to_have_attribute("data-name", began[4])
    assert order(plan) == [*began[:2], began[4], began[2], began[3], *began[5:]]
    # Down to the sheet that lies below.
    first = sheet(plan, began[0])
    first.focus()
    plan.keyboard.press("ArrowDown")
    expect(first).not_to_be_focused()
    (x, y), (below_x, below_y) = centre(first), centre(plan.locator("[data-sheet]:focus"))
    assert below_x == pytest.approx(x, abs=2)
    assert below_y > y
    plan.get_by_role("button", name="Keys").click()
    expect(plan.get_by_text("another sheet (with Shift all up to it)")).to_be_visible()
    assert violations(plan) == []


def test_sheets_are_swapped_copied_and_taken_away(plan: Page) -> None:
    began = order(plan)
    sheet(plan, began[0]).click()
    sheet(plan, began[3]).click(modifiers=["Control"])
    plan.get_by_role("button", name="Swap", exact=True).click()
    assert order(plan) == [began[3], *began[1:3], began[0], *began[4:]]
    plan.keyboard.press("Escape")
    sheet(plan, began[0]).click()
    plan.get_by_role("button", name="Duplicate with photos").click()
    expect(plan.get_by_role("list", name="Sheets in order").get_by_role("button")).to_have_count(13)
    plan.keyboard.press("Delete")
    asked = plan.get_by_role("dialog")  # for photos lie there
    asked.get_by_role("button", name="Delete").click()
    expect(asked).to_have_count(0)
    expect(plan.get_by_role("list", name="Sheets in order").get_by_role("button")).to_have_count(12)
    assert began[0] not in order(plan)
    plan.keyboard.press("Control+z")
    expect(sheet(plan, began[0])).to_be_visible()
    sheet(plan, began[0]).dblclick()
    expect(plan.get_by_test_id("sheet")).to_be_visible()


def test_the_strip_on_the_bench_puts_sheets_in_order_too(page: Page, given: Callable) -> None:
    given("calendar-desk", 2)
    strip = page.get_by_role("navigation", name="Pages").get_by_role("button")

    def names() -> list[str]:
        expect(page.locator("[data-kept=true]")).to_be_attached()
        return strip.evaluate_all("all => all.map((one) => one.ariaLabel.split(', ')[1])")[:4]

    expect(strip.nth(3)).to_be_visible()
    page.wait_for_function("() => [...document.images].every((one) => one.complete)")
    began = names()
    strip.nth(0).drag_to(strip.nth(2))
    expect(strip.nth(2)).to_have_attribute("aria-label", f"Page 3, {began[0]}")
    assert names() == [began[1], began[2], began[0], began[3]]
    strip.nth(2).focus()
    page.keyboard.press("Alt+ArrowUp")
    expect(strip.nth(1)).to_have_attribute("aria-label", f"Page 2, {began[0]}")
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    expect(strip.nth(0)).to_have_attribute("aria-label", f"Page 1, {began[0]}")
    assert names() == began
