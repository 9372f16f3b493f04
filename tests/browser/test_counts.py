"""What the interface costs, counted: components drawn for a pull, requests to open a job, nodes that stay behind."""

from collections.abc import Callable

from playwright.sync_api import Page, expect

from tests.api.asking import part
from tests.browser.acting import centre, hole
from tests.browser.counting import LISTEN, drawn_per_move, held, open_and_close
from tests.browser.given import Asked, Given

MOST_DRAWN = 40


def test_a_pull_draws_only_what_it_moves(page: Page, given: Callable[..., Given], base_url: str) -> None:
    job = given("collage-shore", 6)
    page.add_init_script(LISTEN)
    page.goto(f"{base_url}/jobs/{job.id}")
    hole(page, 2).click()
    at_bench = drawn_per_move(page, centre(hole(page, 2)))
    assert 0 < at_bench <= MOST_DRAWN
    page.goto(f"{base_url}/jobs/{job.id}/workshop")
    layer = page.locator("path[data-kind=opening]").first
    layer.click()
    at_workshop = drawn_per_move(page, centre(layer))
    assert 0 < at_workshop <= MOST_DRAWN


def test_opening_a_job_asks_for_it_once(page: Page, given: Callable[..., Given], base_url: str) -> None:
    job = given("collage-shore", 6)
    page.goto(base_url)
    asked: list[str] = []
    # Asked again with what is had already is news: a stream that has just begun, a sheet that is measured by now.
    whole = f"/api/jobs/{job.id}?have=&"
    page.on("request", lambda request: asked.append(request.url) if whole in request.url else None)
    page.locator(f"a[href='/jobs/{job.id}']").first.click()
    expect(page.get_by_test_id("sheet").locator("img").first).to_be_visible()
    page.wait_for_timeout(1000)  # so long would a second one be on its way
    assert len(asked) == 1
    asked.clear()
    page.get_by_role("link", name="Shelf").click()
    page.locator(f"a[href='/jobs/{job.id}']").first.click()
    expect(page.get_by_test_id("sheet").locator("img").first).to_be_visible()
    page.wait_for_timeout(1000)
    assert asked == []  # what is known is not sent anew


def test_jobs_that_are_closed_leave_nothing_behind(page: Page, given: Callable[..., Given], base_url: str) -> None:
    job = given("collage-shore", 6)
    page.goto(base_url)

    open_and_close(page, f"/jobs/{job.id}", 3)  # what is loaded when it is first used stays
    with held(page) as more:
        open_and_close(page, f"/jobs/{job.id}", 3)
    # A picture of the shelf more or less may be in view.
    assert more["Nodes"] < 300
    assert more["JSEventListeners"] < 40


def test_a_key_among_many_layers_draws_as_much_as_among_few(
    page: Page, given: Callable[..., Given], base_url: str
) -> None:
    job = given("collage-shore", 1)
    page.add_init_script(LISTEN)

    def most_drawn() -> int:
        page.goto(f"{base_url}/jobs/{job.id}/workshop")
        page.locator("path[data-kind=opening]").first.click()
        page.wait_for_timeout(800)
        page.evaluate("window.drawn.length = 0")
        page.keyboard.press("ArrowRight")
        page.wait_for_timeout(800)
        most: int = page.evaluate("Math.max(...window.drawn)")
        return most

    few = most_drawn()
    sheets = part(Asked(page), "sheets", job.state()["job"]["sheets"])["sheets"]
    box = {"kind": "rectangle", "width_mm": 5, "height_mm": 5}
    job.edit(op="add_layers", sheet=sheets[0]["id"], layers=[
        {"id": f"box-{n}", "kind": "fill", "colour": "#884422", "outline": box,
         "surface": {"kind": "flat", "centre": [10 + 6 * (n % 20), 10 + 6 * (n // 20)]}} for n in range(100)
    ])  # fmt: skip
    assert 0 < most_drawn() < few + 60
