"""What the interface costs, counted: components drawn for a pull, requests to open a job, nodes that stay behind."""

from collections.abc import Callable

from playwright.sync_api import Page, expect

from tests.browser.acting import centre, hole
from tests.browser.counting import LISTEN, drawn_per_move, held, open_and_close
from tests.browser.given import Given

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
    page.on("request", lambda request: asked.append(request.url) if f"/api/jobs/{job.id}?" in request.url else None)
    page.locator(f"a[href='/jobs/{job.id}']").first.click()
    expect(page.get_by_test_id("sheet").locator("img").first).to_be_visible()
    page.wait_for_timeout(1000)  # so long would a second one be on its way
    assert len(asked) == 1
    asked.clear()
    page.get_by_role("link", name="Shelf").click()
    page.locator(f"a[href='/jobs/{job.id}']").first.click()
    expect(page.get_by_test_id("sheet").locator("img").first).to_be_visible()
    page.wait_for_timeout(1000)
    assert len(asked) == 1


def test_jobs_that_are_closed_leave_nothing_behind(page: Page, given: Callable[..., Given], base_url: str) -> None:
    job = given("collage-shore", 6)
    page.goto(base_url)

    open_and_close(page, f"/jobs/{job.id}", 3)  # what is loaded when it is first used stays
    with held(page) as more:
        open_and_close(page, f"/jobs/{job.id}", 3)
    # A picture of the shelf more or less may be in view.
    assert more["Nodes"] < 300
    assert more["JSEventListeners"] < 40
