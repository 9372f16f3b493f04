"""A running application, a browser (Debian's headless Chromium), and jobs begun in it.

As on a bad day, when asked for: ``SUTARU_LATE=0.6`` has each answer of the application come late, by up to so many seconds;
``SUTARU_SLOW=4`` has the page's own work take so many times as long.
"""

import asyncio
import os
import random
import socket
import threading
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
import uvicorn
from playwright.sync_api import Page, expect
from starlette.types import ASGIApp, Receive, Scope, Send

from sutaru.api.app import create_app, find_interface
from sutaru.api.studio import Studio
from tests.browser.given import Given, Pile
from tests.serving import free_port

LATE, SLOW = (float(os.environ.get(f"SUTARU_{what}", 0)) for what in ("LATE", "SLOW"))


def over_a_slow_line(app: ASGIApp) -> ASGIApp:
    async def late(scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] == "http" and scope["path"].startswith("/api/"):
            await asyncio.sleep(random.uniform(0, LATE))
        await app(scope, receive, send)

    return late if LATE else app


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args: dict) -> dict:
    flags = (
        "--no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking "
        "--disable-component-update --disable-sync"
    )
    return {**browser_type_launch_args, "executable_path": "/usr/bin/chromium", "args": flags.split()}


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args: dict) -> dict:
    """As of a studio in Britain, on a common screen."""
    size = {"width": 1280, "height": 800}
    return {**browser_context_args, "viewport": size, "accept_downloads": True, "locale": "en-GB"}


@pytest.fixture(scope="session")
def lab_port() -> int:
    """Where the application looks for its lab. None is there until a test starts one."""
    return free_port()


@pytest.fixture(scope="session")
def printer_port() -> int:
    """Where it looks for its printer, which is not there either."""
    return free_port()


@pytest.fixture(scope="session")
def base_url(tmp_path_factory: pytest.TempPathFactory, lab_port: int, printer_port: int) -> Iterator[str]:
    assert find_interface(), "build the front end first: make setup"
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    data: Path = tmp_path_factory.mktemp("data")
    beside = {"lab": f"http://127.0.0.1:{lab_port}", "printer": f"http://127.0.0.1:{printer_port}"}
    app = create_app(data, opened=Studio(data, **beside))
    server = uvicorn.Server(
        uvicorn.Config(over_a_slow_line(app), port=port, log_level="warning", timeout_graceful_shutdown=2)
    )
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.05)
    yield f"http://127.0.0.1:{port}"
    server.should_exit = True
    thread.join(20)


@pytest.fixture(autouse=True)
def patience(page: Page) -> None:
    page.set_default_timeout(30_000)
    expect.set_options(timeout=30_000)
    if SLOW:
        page.context.new_cdp_session(page).send("Emulation.setCPUThrottlingRate", {"rate": SLOW})


@pytest.fixture
def start(page: Page, base_url: str) -> Callable[[str, str], None]:
    def begin(template: str, name: str) -> None:
        page.goto(base_url)
        page.get_by_role("article", name=template).get_by_role("button", name="New job from").click()
        page.get_by_label("Job name").fill(name)
        page.get_by_label("Customer").fill("Ola Brandvik")
        page.get_by_role("button", name="Create job").click()
        expect(page.get_by_text("Drop photos or a folder here")).to_be_visible()

    return begin


@pytest.fixture
def given(page: Page, base_url: str, pile: Pile) -> Callable[..., Given]:
    def make(template: str, photos: int, fill: bool = True) -> Given:
        asked = {"template": template, "name": "Fitting", "lab": "gullwing-300"}
        job = Given(page, page.request.post(f"{base_url}/api/jobs", data=asked).json()["id"])
        for path, _ in pile[:photos]:
            page.request.post(f"{base_url}/api/jobs/{job.id}/photos?name={path.name}", data=path.read_bytes())
        if fill:
            job.edit(op="fill")
        page.goto(f"{base_url}/jobs/{job.id}")
        expect(page.get_by_test_id("sheet")).to_be_visible()
        unit = page.get_by_role("button", name="Lengths in in", exact=True)
        if unit.count():
            unit.click()  # millimetres, as the document has them
        return job

    return make
