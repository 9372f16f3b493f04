"""What a person does at a screen: openings, figures, choices, pulls, findings let pass; and what a screen must not lack."""

import re
import time
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Locator, Page, Route, expect

AXE = Path(__file__).parent.parent.parent / "web" / "node_modules" / "axe-core" / "axe.min.js"
RULES = "{ runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'] }"

# What fades in has come up: half-seen words have too little contrast.
COME_UP = """async () => {
  for (let n = 0; n < 3; n++) await new Promise(requestAnimationFrame);
  const ending = document.getAnimations().filter((one) => Number.isFinite(one.effect.getComputedTiming().endTime));
  await Promise.allSettled(ending.map((one) => one.finished));
}"""


def violations(page: Page) -> list[str]:
    page.evaluate(COME_UP)
    page.evaluate(AXE.read_text("utf-8"))  # not as a script of the page: its policy lets none in but our own
    found = page.evaluate(f"() => axe.run(document, {RULES}).then((result) => result.violations)")
    return [f"{v['id']}: {v['help']} ({v['nodes'][0]['html'][:160]})" for v in found]


def bring(page: Page, files: list[Path]) -> None:
    page.get_by_test_id("choose-photos").set_input_files([str(path) for path in files])


def tick(page: Page, label: str) -> None:
    """Shows something over the sheet, or hides it, by the menu."""
    page.get_by_role("button", name="View", exact=True).click()
    page.get_by_role("menuitemcheckbox", name=label).click()
    page.keyboard.press("Escape")
    expect(page.get_by_role("menu")).to_have_count(0)


def is_ticked(page: Page, label: str) -> bool:
    page.get_by_role("button", name="View", exact=True).click()
    ticked = page.get_by_role("menuitemcheckbox", name=label).get_attribute("aria-checked") == "true"
    page.keyboard.press("Escape")
    expect(page.get_by_role("menu")).to_have_count(0)
    return ticked


def ledger(page: Page, number: int) -> list[str]:
    """Cells of an opening's row: number, photo, zoom, turn, ppi, cut."""
    return (
        page.get_by_role("table", name="Ledger").locator("tbody tr").nth(number - 1).locator("td").all_inner_texts()[1:]
    )


def opening(page: Page, number: int):
    return page.get_by_role("button", name=re.compile(rf"^Opening {number},"))


def middle(page: Page, number: int) -> tuple[float, float]:
    box = opening(page, number).locator("[data-opening]").bounding_box()
    assert box
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def drag(page: Page, start: tuple[float, float], end: tuple[float, float]) -> None:
    page.mouse.move(*start)
    page.mouse.down()
    page.mouse.move(*end, steps=8)
    page.mouse.up()


def hole(page: Page, number: int) -> Locator:
    return opening(page, number).locator("[data-opening]")


def centre(locator: Locator) -> tuple[float, float]:
    expect(locator).to_be_visible()  # its screen may still be coming
    box = locator.bounding_box()
    assert box
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def part(page: Page, name: str) -> None:
    page.get_by_label("What to change").get_by_text(name, exact=True).click()


def figure(page: Page, name: str, text: str) -> None:
    """Types a figure as a person does, and keeps it with Enter."""
    field = page.get_by_label(f"{name}, in figures")
    field.click()
    field.press("Control+a")
    page.keyboard.type(text)
    page.keyboard.press("Enter")


def choose(page: Page, name: str, what: str) -> None:
    """Chooses one of a list."""
    page.get_by_role("combobox", name=name).click()
    page.get_by_role("option", name=what, exact=True).click()


def settled(page: Page) -> None:
    """Everything done is stored, and the picture shows it."""
    expect(page.locator("[data-kept=true]")).to_be_attached()
    expect(page.get_by_test_id("draft")).to_have_count(0)


def until(page: Page, holds: Callable[[], bool]) -> None:
    """Waits for what is on its way."""
    end = time.monotonic() + 15
    while not holds():
        assert time.monotonic() < end
        page.wait_for_timeout(100)


def slowed(page: Page, pattern: str, ms: int) -> None:
    """Answers to such requests come late; what they say is what the server knew at once."""

    def late(route: Route) -> None:
        answer = route.fetch()
        page.wait_for_timeout(ms)
        route.fulfill(response=answer)

    page.route(re.compile(pattern), late)


def held(page: Page, pattern: str) -> Callable[[], None]:
    """Such requests wait until they are let go, by what this gives."""
    waiting: list[Route] | None = []

    def came(route: Route) -> None:
        if waiting is None:
            route.continue_()
        else:
            waiting.append(route)

    page.route(re.compile(pattern), came)

    def let_go() -> None:
        nonlocal waiting
        held, waiting = waiting or [], None
        for route in held:
            route.continue_()

    return let_go


def let_pass(page: Page) -> None:
    """Accepts all stops, each kind of them at once, with a name and a reason."""
    stops = page.get_by_text(re.compile(r"^\d+ stops? in the way"))
    expect(page.get_by_role("button", name=re.compile("^Export "))).to_be_visible()
    being_checked = page.get_by_text("Being checked")
    expect(being_checked).to_have_count(0)
    while stops.count():
        said = stops.inner_text()
        page.get_by_role("button", name=re.compile("^Accept: ")).first.click(timeout=90_000)
        page.get_by_label("Your name").fill("Tove Lind")
        page.get_by_label("Reason").fill("A proof for the studio only")
        others = page.get_by_label(re.compile(r"^And the \d+ other"))
        if others.count():
            others.check()
        page.get_by_role("button", name="Accept", exact=True).click()
        expect(page.get_by_text(said)).to_have_count(0)
        # One edit a sheet: the count falls in steps, and what is counted meanwhile goes away.
        expect(being_checked).to_have_count(0, timeout=90_000)
