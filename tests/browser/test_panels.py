"""Screens are calm: few controls at once, and panels as large as the person wants them."""

from collections.abc import Callable

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.browser.acting import hole, until
from tests.browser.given import Given

# What is seen and can be pressed or filled in, but for the content: rows of the ledger, photos, names of layers, tabs of sheets.
CONTROLS = """() => [...document.querySelectorAll("button, a[href], input, select, textarea")].filter((one) => {
  const box = one.getBoundingClientRect();
  return one.checkVisibility({ opacityProperty: true, visibilityProperty: true }) && box.width && box.height
    && box.bottom > 0 && box.top < innerHeight && box.right > 0 && box.left < innerWidth
    && !one.closest("table, [data-row] > button:first-of-type, [draggable], nav[aria-label=Pages]") && !one.closest("[inert]");
}).length"""
MOST = 44  # at once, of everything that is no content; 40 is the goal


def size(part: Locator, side: str) -> float:
    box = part.bounding_box()
    assert box
    return box[side]


def pull(page: Page, line: Locator, x: float, y: float) -> None:
    box = line.bounding_box()
    assert box
    at = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(*at)
    page.mouse.down()
    page.mouse.move(at[0] + x, at[1] + y, steps=4)
    page.mouse.up()


def test_panels_are_sized_by_a_line_and_stay_so(page: Page, given: Callable[..., Given]) -> None:
    given("collage-shore", 3)
    hole(page, 1).click()
    panel, details = page.locator("aside"), page.get_by_role("region", name="Opening 1")
    expect(details).to_be_visible()
    wide, high = size(panel, "width"), size(details, "height")
    pull(page, page.get_by_role("separator", name="Width of the panels"), -80, 0)
    pull(page, page.get_by_role("separator", name="Height of the details"), 0, 60)
    until(page, lambda: size(panel, "width") == pytest.approx(wide + 80, abs=2))
    until(page, lambda: size(details, "height") == pytest.approx(high - 60, abs=6))
    page.reload()
    hole(page, 1).click()
    until(page, lambda: size(panel, "width") == pytest.approx(wide + 80, abs=2))
    until(page, lambda: size(details, "height") == pytest.approx(high - 60, abs=6))
    line = page.get_by_role("separator", name="Width of the panels")
    line.focus()
    page.keyboard.press("ArrowRight")
    until(page, lambda: size(panel, "width") == pytest.approx(wide + 40, abs=2))
    page.keyboard.press("Home")  # as it is by itself
    until(page, lambda: size(panel, "width") == pytest.approx(wide, abs=1))


def test_few_controls_are_in_view_at_once(page: Page, given: Callable[..., Given], base_url: str) -> None:
    job = given("collage-shore", 3)
    assert page.evaluate(CONTROLS) <= MOST
    hole(page, 1).click()
    expect(page.get_by_role("region", name="Opening 1")).to_be_visible()
    assert page.evaluate(CONTROLS) <= MOST
    page.keyboard.press("c")
    expect(page.get_by_role("dialog")).to_be_visible()
    assert page.evaluate(CONTROLS) <= MOST  # what lies behind is out of reach of everybody
    page.keyboard.press("Escape")
    page.goto(f"{base_url}/jobs/{job.id}/workshop")
    rows = page.get_by_role("list", name="Layers").get_by_role("listitem")
    expect(rows.first).to_be_visible()
    assert page.evaluate(CONTROLS) <= MOST
    rows.first.click()
    expect(rows.first).to_have_attribute("data-selected", "true")
    locks = rows.nth(1).get_by_role("button", name="locked")
    assert locks.evaluate("one => getComputedStyle(one).opacity") == "0"
    locks.focus()
    expect(locks).to_have_css("opacity", "1")
