"""Where the keys go: everything that opens over a screen passes axe, and gives the focus back to what opened it."""

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.browser.acting import hole, let_pass, violations
from tests.browser.given import Given

# What opens a dialog without an ellipsis, and without saying that it does.
NAMED = ("New book", "New card", "Studio card", "New template", "New job", "History", "Save as template")
# What asks at its own place, or in a window of the browser's.
INLINE = ("Refill…", "Place picture…", "Cancel order…")
OPENERS = """() => [...document.querySelectorAll("button:not(:disabled)")].filter((one) => one.checkVisibility())
  .map((one) => [one.getAttribute("aria-label") || one.innerText.trim(), one.getAttribute("aria-haspopup") || ""])"""
SCREENS = {
    "shelf": ("collage-shore", "", ""),
    "bench": ("collage-shore", "/jobs/{}", "opening"),
    "words": ("card-portrait", "/jobs/{}", "words"),
    "calendar": ("calendar-desk", "/jobs/{}", ""),
    "plan": ("calendar-desk", "/jobs/{}/plan", ""),
    "workshop": ("collage-shore", "/jobs/{}/workshop", ""),
    "dispatch": ("collage-shore", "/jobs/{}/dispatch", ""),
    "orders": ("collage-shore", "/orders", ""),
    "watched": ("collage-shore", "/watched", ""),
}


def openers(page: Page) -> list[tuple[str, str]]:
    """Names of the screen's buttons, and what they say they open, once no more come."""
    before: list[tuple[str, str]] = []
    while not before or before != (now := page.evaluate(OPENERS)):
        before = page.evaluate(OPENERS)
        page.wait_for_timeout(700)
    return now


def leave(page: Page, opener: Locator, what: str) -> None:
    assert violations(page) == [], what
    page.keyboard.press("Escape")
    expect(page.locator("[role=dialog]:visible, [role=menu]:visible")).to_have_count(0)
    expect(opener, what).to_be_focused()


@pytest.mark.parametrize("screen", SCREENS)
def test_all_that_opens_gives_the_focus_back_and_passes_axe(
    page: Page, given: Callable[..., Given], base_url: str, screen: str
) -> None:
    template, path, pick = SCREENS[screen]
    job = given(template, 3)
    page.goto(base_url + path.format(job.id))
    expect(page.locator("h1")).to_have_count(1)
    if screen == "dispatch":
        let_pass(page)
    if pick == "opening":
        hole(page, 2).click()
    if pick == "words":
        page.get_by_role("button", name=re.compile("^Words: ")).first.click()
    done, opened = set(), 0
    for name, popup in openers(page):
        alike = re.sub("(New job|More for).*", r"\1", name)
        if alike in done or name in INLINE or not (popup or name.endswith("…") or name.startswith(NAMED)):
            continue
        done.add(alike)
        opener = page.get_by_role("button", name=name, exact=True).first
        opener.focus()
        page.keyboard.press("Enter")
        expect(page.locator("[role=dialog]:visible, [role=menu]:visible")).not_to_have_count(0)
        entries = [text.split("\n")[0] for text in page.locator("[role=menuitem]:visible").all_inner_texts()]
        leave(page, opener, name)
        opened += 1
        for entry in entries:
            if not entry.endswith("…"):
                continue
            opener.focus()
            page.keyboard.press("Enter")
            page.get_by_role("menuitem", name=entry).focus()
            page.keyboard.press("Enter")
            expect(page.locator("[role=dialog]:visible")).to_have_count(1)
            leave(page, opener, entry)
    assert opened


def test_words_typed_on_the_sheet_and_the_photo_room_give_the_focus_back(
    page: Page, given: Callable[..., Given]
) -> None:
    given("card-portrait", 1)
    words = page.get_by_role("button", name=re.compile("^Words: ")).first
    words.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("textbox", name=re.compile("on the sheet$"))).to_be_focused()
    page.keyboard.press("Escape")
    expect(words).to_be_focused()
    opening = page.get_by_role("button", name=re.compile("^Opening 1,"))
    opening.focus()
    page.keyboard.press("c")
    expect(page.get_by_role("dialog")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)
    expect(opening).to_be_focused()
