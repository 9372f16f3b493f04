"""What the interface costs, counted in headless Chromium: ``python -m bench.interface`` prints it as rows of a table."""

import tempfile
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from bench import served
from bench.dragging import FLAGS
from tests.browser.counting import LISTEN, drawn_per_move, held, open_and_close

# When the shelf stands: its first job can be opened. What came later has held nothing up.
STANDS = """new MutationObserver((_, watcher) => {
  if (!document.querySelector("a[href^='/jobs/']")) return;
  window.stands = performance.now();
  watcher.disconnect();
}).observe(document, { childList: true, subtree: true });"""
BEFORE_IT_STOOD = """() => performance.getEntriesByType("resource")
  .filter(({ name, responseEnd }) => /[.]js/.test(name) && responseEnd <= window.stands)
  .reduce((sum, { encodedBodySize }) => sum + encodedBodySize, 0)"""
OPENINGS = 30
OUTAGE_S = 60


def measure(base_url: str) -> list[tuple[str, str, str, str]]:
    """Rows of what is counted and its goal, on the job that was changed last."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS.split())
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.add_init_script(LISTEN)
        page.add_init_script(STANDS)
        page.goto(base_url)
        page.locator("a[href^='/jobs/']").first.wait_for()
        first_load = page.evaluate(BEFORE_IT_STOOD)
        address = page.locator("a[href^='/jobs/']").first.get_attribute("href") or ""
        page.goto(base_url + address)
        at_bench = _pull(page, "[data-opening='opening-10']")
        page.goto(f"{base_url}{address}/workshop")
        at_workshop = _pull(page, "path[data-kind=opening]")
        page.goto(base_url)
        open_and_close(page, address, 4)
        with held(page) as more:
            open_and_close(page, address, OPENINGS)
        asked = _requests_without_server(page, base_url + address)
        browser.close()
    return [
        ("Components drawn for a move of a pull, on the bench", f"{at_bench:.0f}", "", "at most 40"),
        ("  in the workshop", f"{at_workshop:.0f}", "", "at most 40"),
        (f"Nodes more after {OPENINGS} openings of a job", f"{more['Nodes']}", "", "0"),
        ("  listeners", f"{more['JSEventListeners']}", "", "0"),
        ("Script that the shelf stands on, Brotli", f"{first_load / 1000:.0f} kB", "", "at most 130 kB"),
        (f"Requests of the bench in {OUTAGE_S} s without a server", f"{asked}", "", "at most 60"),
    ]


def _pull(page: Page, what: str) -> float:
    opening = page.locator(what).first
    opening.click()
    page.wait_for_timeout(800)
    box = opening.bounding_box()
    assert box
    return drawn_per_move(page, (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2))


def _requests_without_server(page: Page, address: str) -> int:
    page.goto(address)
    page.wait_for_timeout(1500)
    asked: list[str] = []
    page.on("request", lambda request: asked.append(request.url))
    page.route("**/api/**", lambda route: route.abort("connectionrefused"))
    page.locator("[data-opening]").first.click()
    page.keyboard.press("+")
    page.wait_for_timeout(OUTAGE_S * 1000)
    return len(asked)


if __name__ == "__main__":
    with tempfile.TemporaryDirectory() as name, served.server(Path(name)) as client:
        served.bench_picture(client)
        for row in measure(str(client.base_url)):
            print("| " + " | ".join(row) + " |")
