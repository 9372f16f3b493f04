"""Access: every screen against axe's WCAG 2.2 AA rules, and a whole job without the mouse."""

import re
from collections.abc import Callable
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from sutaru.core.document import Photo
from tests.browser.acting import bring, is_ticked, ledger, opening, violations
from tests.browser.given import Pile


def test_every_screen_passes_axe(page: Page, start: Callable, pile: Pile, base_url: str) -> None:
    page.goto(base_url)
    expect(page.get_by_role("article", name="Three days of wind")).to_be_visible()
    assert violations(page) == []
    page.get_by_role("article", name="Three days of wind").get_by_role("button", name="New job from").click()
    expect(page.get_by_label("Job name")).to_be_visible()
    assert violations(page) == []
    page.keyboard.press("Escape")
    start("Three days of wind", "Access")
    assert violations(page) == []
    bring(page, [path for path, _ in pile[:7]])
    expect(page.get_by_text("7 photos brought in")).to_be_visible()
    page.get_by_role("button", name="Fill all 7 openings").click()
    opening(page, 1).locator("[data-opening]").click()
    expect(page.get_by_label("Zoom ×")).to_be_visible()
    assert violations(page) == []
    page.get_by_text("Findings").first.click()
    page.get_by_role("button", name="Words: title").click()
    expect(page.get_by_role("button", name="Use template text")).to_be_visible()
    assert violations(page) == []
    page.get_by_role("link", name="Dispatch").click()
    expect(page.get_by_role("button", name="Export 1 page")).to_be_visible()
    assert violations(page) == []


def test_a_whole_job_by_keyboard_alone(page: Page, start: Callable, pile: list[tuple[Path, Photo]]) -> None:
    start("Two frames on a wall", "Keyboard")
    bring(page, [path for path, _ in pile[:4]])
    expect(page.get_by_text("4 photos brought in")).to_be_visible()
    page.keyboard.press("f")
    expect(opening(page, 2)).to_have_accessible_name(re.compile("festival"))
    # Tab reaches the openings in order, and focus selects.
    opening(page, 1).focus()
    page.keyboard.press("Tab")
    expect(opening(page, 2)).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("Shift+Tab")
    expect(opening(page, 1)).to_have_attribute("aria-pressed", "true")
    for key in ("+", "+", "+", "+", "ArrowRight", "ArrowRight", "Shift+ArrowDown", "[", "[", "m"):
        page.keyboard.press(key)
    row = page.get_by_role("table", name="Ledger").locator("tbody tr").first
    expect(row).to_contain_text("1.08")
    expect(row).to_contain_text("-0.2°")  # two tenths to the left, then mirrored
    # One run of keys is one step.
    page.keyboard.press("Control+z")
    expect(row).to_contain_text("1.00")
    page.keyboard.press("Control+y")
    expect(row).to_contain_text("1.08")
    # Swap without the mouse: in hand with S, to the other, Enter.
    first, second = ledger(page, 1)[1], ledger(page, 2)[1]
    page.keyboard.press("s")
    page.keyboard.press("Tab")
    page.keyboard.press("Enter")
    expect(row).to_contain_text(second)
    assert ledger(page, 2)[1] == first
    page.keyboard.press("Delete")
    expect(page.get_by_role("table", name="Ledger")).to_contain_text("empty")
    # Notes and lines by key, and Escape lets go.
    assert is_ticked(page, "Cut lines")
    page.keyboard.press("g")
    assert not is_ticked(page, "Cut lines")
    page.keyboard.press("Escape")
    expect(page.get_by_role("region", name=re.compile("^Fit opening"))).to_have_count(0)


@pytest.mark.parametrize("size", [(1280, 800), (1920, 1080)])
def test_nothing_is_cut_off_at_either_size(page: Page, start: Callable, size: tuple[int, int]) -> None:
    page.set_viewport_size({"width": size[0], "height": size[1]})
    start("Eighteen on a spread", "Sizes")
    for element in (
        page.get_by_test_id("sheet"),
        page.get_by_role("link", name="Dispatch"),
        page.get_by_role("region", name="Pile"),
    ):
        box = element.bounding_box()
        assert box
        assert box["x"] >= 0
        assert box["y"] >= 0
        assert box["x"] + box["width"] <= size[0] + 1
        assert box["y"] + box["height"] <= size[1] + 1
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
