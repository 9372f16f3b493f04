"""From a key or a press to the frame that shows it, where there is much: ``python -m bench.crowded`` prints it as rows of a
table. Each is held against the same gestures where there is little, in one run.
"""

import tempfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

import httpx
from playwright.sync_api import Page, sync_playwright

from bench import large, served
from bench.dragging import FLAGS
from sutaru.core.document import FillBox, Flat, Job, Opening, Rectangle, Sheet
from sutaru.core.document.layout import Layout
from sutaru.core.formats.shelf import read_shelf
from sutaru.shelf import FOLDER
from sutaru.store import Database, Jobs, Parts, Photos

LAYERS, JOBS, PAGES, ROUNDS = 200, 500, 200, 30
# From the event to the frame after the one that its handlers, and what they set off at once, have drawn.
WATCH = """
window.lags = [];
for (const kind of ["keydown", "pointerdown", "wheel", "input"])
  addEventListener(kind, (event) => requestAnimationFrame(() => requestAnimationFrame(
    () => window.lags.push(performance.now() - event.timeStamp))), { capture: true, passive: true });
"""


def many_layers(data: Path, count: int, of: type[FillBox] | type[Opening] = FillBox) -> str:
    """A job of one sheet with so many shapes or openings; its id."""
    layers = tuple(
        of(
            id=f"f{n}",
            outline=Rectangle(width_mm=12, height_mm=9),
            surface=Flat(centre=(20 + 28 * (n % 20), 20 + 26 * (n // 20))),
            **({"colour": f"#{(37 * n) % 256:02x}66{(91 * n) % 256:02x}"} if of is FillBox else {}),
        )
        for n in range(count)
    )
    layout = Layout(width_mm=609.6, height_mm=304.8, layers=layers)
    lab = read_shelf(FOLDER).labs["gullwing-300"]
    sheets = (Sheet(id="s1", name="1", layout=layout),)
    return _stored(data, Job(name=f"{count} {of.__name__}", template="large", product="album", lab=lab, sheets=sheets))


def many_pages(data: Path, count: int) -> str:
    """A job of so many empty spreads; its id."""
    lab = read_shelf(FOLDER).labs["gullwing-300"]
    sheets = tuple(
        Sheet(id=f"s{n}", name=f"Spread {n}", role="spread", layout=large.layout(n % 20)) for n in range(count)
    )
    return _stored(data, Job(name=f"{count} pages", template="large", product="album", lab=lab, sheets=sheets))


def _stored(data: Path, job: Job) -> str:
    database = Database(data / "sutaru.sqlite3")
    identity = Jobs(database, Parts(database), Photos(database, data / "photos")).create(job)
    database.close()
    return identity


def lag(page: Page, act: Callable[[int], None]) -> float:
    """95th percentile, ms, over rounds of a gesture."""
    for n in range(3):
        act(n)
        page.wait_for_timeout(150)
    page.evaluate("window.lags.length = 0")
    for n in range(ROUNDS):
        act(n)
        page.wait_for_timeout(60)
    page.wait_for_timeout(300)
    return large.percentile(page.evaluate("window.lags"))


def _bench(page: Page, address: str) -> tuple[float, float]:
    """Openings chosen by a press, and fitted by keys."""
    page.goto(address)
    page.locator("[data-opening]").first.wait_for()
    page.wait_for_timeout(3000)
    holes = page.locator("[data-opening]")
    count = min(6, holes.count())
    boxes = [holes.nth(n).bounding_box() for n in range(count)]

    def press(n: int) -> None:
        box = boxes[n % count]
        assert box
        page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)

    pressed = lag(page, press)
    return pressed, lag(page, lambda n: page.keyboard.press(("ArrowRight", "ArrowLeft", "+", "-")[n % 4]))


def _pile(page: Page) -> float:
    box = page.get_by_role("region", name="Pile").bounding_box()
    assert box
    page.mouse.move(box["x"] + 300, box["y"] + box["height"] - 40)
    return lag(page, lambda n: page.mouse.wheel(0, 400 if n % 8 < 6 else -1200))


def _workshop(page: Page, address: str) -> tuple[float, float]:
    page.goto(f"{address}/workshop")
    page.locator("path[data-kind]").first.wait_for()
    page.wait_for_timeout(2000)
    shapes = page.locator("path[data-kind]")
    boxes = [shapes.nth(n).bounding_box() for n in range(4)]

    def press(n: int) -> None:
        box = boxes[n % 4]
        assert box
        page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)

    pressed = lag(page, press)
    return pressed, lag(page, lambda n: page.keyboard.press(("ArrowRight", "ArrowLeft")[n % 2]))


def _plan(page: Page, address: str) -> float:
    page.goto(f"{address}/plan")
    sheets = page.locator("[data-sheet]")
    sheets.first.wait_for()
    page.wait_for_timeout(2500)
    sheets.first.click()
    return lag(page, lambda n: page.keyboard.press(("ArrowRight", "ArrowLeft")[n % 2]))


def _shelf(page: Page, base: str) -> float:
    page.goto(base)
    page.locator("a[href^='/jobs/']").first.wait_for()
    page.wait_for_timeout(2500)
    field = page.get_by_label("Find a job")
    field.click()
    return lag(page, lambda n: page.keyboard.press("bench"[n % 5] if n % 10 < 5 else "Backspace"))


def measure(folder: Path) -> list[tuple[str, str, str, str]]:
    """Rows of what was measured where there is much, its ratio to where there is little, and the goal."""
    little, much = folder / "little", folder / "much"
    (few, bare, flat), (many, dense, long) = [
        (many_layers(data, layers), many_layers(data, layers, Opening), many_pages(data, pages))
        for data, layers, pages in ((little, 8, 8), (much, LAYERS, PAGES))
    ]
    identity = large.made(much)
    with served.server(little) as client, _page() as page:
        base = str(client.base_url)
        served.bench_picture(client)
        (job, *_) = client.get("/api/jobs").json()["jobs"]
        few_bench = _bench(page, f"{base}/jobs/{job['id']}")
        few_pile = _pile(page)
        few_shelf = _shelf(page, base)
        few_layers = _workshop(page, f"{base}/jobs/{few}")
        few_openings = _bench(page, f"{base}/jobs/{bare}")
        few_pages = _plan(page, f"{base}/jobs/{flat}")
    with served.server(much) as client, _page() as page:
        base = str(client.base_url)
        bench = _bench(page, f"{base}/jobs/{identity}")
        pile = _pile(page)
        layers = _workshop(page, f"{base}/jobs/{many}")
        openings = _bench(page, f"{base}/jobs/{dense}")
        pages = _plan(page, f"{base}/jobs/{long}")
        _start_jobs(client)
        shelf = _shelf(page, base)
    pairs = [
        ("An opening chosen, 2,000 photos in 100 spreads", bench[0], few_bench[0]),
        ("  an opening fitted by key", bench[1], few_bench[1]),
        ("  the pile turned by a wheel", pile, few_pile),
        (f"A layer chosen, {LAYERS} layers", layers[0], few_layers[0]),
        ("  a layer moved by key", layers[1], few_layers[1]),
        (f"An opening chosen, of {LAYERS}", openings[0], few_openings[0]),
        (f"A sheet of the plan chosen by key, {PAGES} spreads", pages, few_pages),
        (f"A key in the shelf's search, {JOBS} jobs", shelf, few_shelf),
    ]
    return [(name, f"{a:.0f} ms; {b:.0f} ms", f"{a / b:.2f}", "at most 2") for name, a, b in pairs]


def _start_jobs(client: httpx.Client) -> None:
    for n in range(JOBS):
        body = {
            "template": "collage-shore",
            "name": f"Order {n}",
            "customer": f"Customer {n % 70}",
            "lab": "gullwing-300",
        }
        client.post("/api/jobs", json=body)


@contextmanager
def _page() -> Iterator[Page]:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS.split())
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.add_init_script(WATCH)
        yield page
        browser.close()


if __name__ == "__main__":
    with tempfile.TemporaryDirectory() as name:
        for row in measure(Path(name)):
            print("| " + " | ".join(row) + " |")
