"""The bench's picture after an edit, and bringing photos in, over HTTP as the browser does it."""

import statistics
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from dataclasses import dataclass
from http.client import HTTPConnection
from io import BytesIO
from itertools import pairwise
from pathlib import Path
from statistics import fmean

import httpx
from PIL import Image

from bench.export import dressing, spread
from bench.photos import photos

PORT = 8791


@contextmanager
def server(data: Path):
    command = [sys.executable, "-m", "sutaru", "serve", "--port", str(PORT), "--data", str(data)]
    process = subprocess.Popen(command, stderr=subprocess.DEVNULL)
    with httpx.Client(base_url=f"http://127.0.0.1:{PORT}", timeout=120) as client:
        for _ in range(600):
            try:
                client.get("/api/labs")
                break
            except httpx.TransportError:
                time.sleep(0.1)
        assert process.poll() is None, f"the server did not start: is port {PORT} in use?"
        try:
            yield client
        finally:
            process.terminate()
            process.wait()


def start(client: httpx.Client) -> str:
    body = {"template": "album-spread-18", "name": "bench", "customer": "", "lab": "gullwing-300"}
    return client.post("/api/jobs", json=body).json()["id"]


def fill(client: httpx.Client, job: str) -> None:
    """Fills a job and waits until that is done."""
    task = client.post(f"/api/jobs/{job}/edits", json={"edit": {"op": "fill"}}).json()["task"]
    while task and task["state"] in ("queued", "running"):
        time.sleep(0.1)
        task = client.get(f"/api/tasks/{task['id']}").json()
    assert not task or task["state"] == "done", task


def post(job: str, data: bytes, name: str, last: bytes = b"") -> None:
    """Sends one photo, ``last`` after it. The standard library's client and plain sends of what lies ready, so that the sender
    costs the machine little."""
    connection = HTTPConnection("127.0.0.1", PORT, timeout=120)
    connection.putrequest("POST", f"/api/jobs/{job}/photos?name={name}&gesture=bench")
    connection.putheader("Content-Length", str(len(data) + len(last)))
    connection.endheaders()
    connection.send(data)
    connection.send(last)
    answer = connection.getresponse()
    assert answer.status == 201, answer.read()
    connection.close()


def news_of_looking() -> Iterator[None]:
    """Comes back each time that the server tells of photos it looked at, as a page hears of them."""
    connection = HTTPConnection("127.0.0.1", PORT, timeout=120)
    connection.request("GET", "/api/events")
    for line in connection.getresponse():
        if b'"kind": "found"' in line or b'"kind": "hello"' in line:
            yield


def pictures(client: httpx.Client, job: str, count: int) -> list[float]:
    """ms from an edit acknowledged to the new picture of 1600 px delivered, for a run of placement edits."""
    found = []
    for n in range(count):
        edit = {"op": "place", "sheet": "spread", "opening": f"opening-{n % 18 + 1}", "centre": [0.4 + 0.01 * (n % 20), 0.5],
                "zoom": 1.2 + 0.03 * (n % 7), "turn_deg": 0, "mirror": False}  # fmt: skip
        state = client.post(f"/api/jobs/{job}/edits", json={"edit": edit, "gesture": None}).json()
        acknowledged = time.perf_counter()
        url = f"/api/drawn/{state['marks'][0]['key']}/picture?width=1600&notes=true"
        picture = client.get(url).content
        found.append(1000 * (time.perf_counter() - acknowledged))
        assert picture[:2] == b"\xff\xd8"
    return found


def bench_picture(client: httpx.Client, count: int = 120, dressed: bool = False) -> tuple[float, float]:
    """Median and 95th percentile, ms. ``dressed``: with borders, shadows, two slanted openings and a bent one."""
    job = start(client)
    for path in photos():
        post(job, path.read_bytes(), path.name)
    fill(client, job)
    if dressed:
        for edit in dressing(spread()):
            answer = client.post(f"/api/jobs/{job}/edits", json={"edit": edit.model_dump(), "gesture": None})
            assert answer.status_code == 200, answer.text
    pictures(client, job, 18)
    found = pictures(client, job, count)
    return statistics.median(found), sorted(found)[int(0.95 * len(found))]


def filling(client: httpx.Client) -> float:
    """Seconds to fill the spread from 60 photos that have been looked at."""
    job, sources = start(client), [path.read_bytes() for path in photos()]
    for n in range(60):
        post(job, sources[n % 18] + b"f" + n.to_bytes(4, "big"), f"fill-{n}.jpg")
    while client.get(f"/api/jobs/{job}").json()["unseen"]:
        time.sleep(0.5)
    since = time.perf_counter()
    client.post(f"/api/jobs/{job}/edits", json={"edit": {"op": "fill"}, "gesture": None})
    return time.perf_counter() - since


@dataclass(frozen=True)
class Imported:
    """Photos a second of the floor, taken in, and taken in and looked at; how the floor's are to both; p95 ms of the picture
    meanwhile."""

    floor: float
    taken_in: float
    looked_at: float
    against: tuple[float, float]
    picture_ms: float


def importing(client: httpx.Client, count: int = 200) -> Imported:
    """Imports ``count`` photos, forty at a time, the floor before and after each: a ratio is of those two and what lies between
    them, and the median of the ratios counts. A noisy machine changes its pace within minutes, seldom within seconds."""
    sources = [path.read_bytes() for path in photos()]

    def floor_one(n: int) -> None:
        with Image.open(BytesIO(sources[n % 18])) as image:
            image.draft(None, (1400, 933))
            image.load()

    watched = start(client)
    for n in range(6):
        post(watched, sources[n], f"w{n}.jpg")
    fill(client, watched)
    job = start(client)
    post(job, sources[0] + b"warm", "warm.jpg")

    def rate(threads: int, work: Callable[[int], None], numbers: range) -> float:
        started = time.perf_counter()
        with ThreadPoolExecutor(threads) as pool:
            list(pool.map(work, numbers))
        return len(numbers) / (time.perf_counter() - started)

    def come_in(kind: bytes, n: int) -> None:
        # Bytes after a JPEG's end make each upload a photo of its own.
        post(job, sources[n % 18], f"{n}.jpg", kind + n.to_bytes(4, "big"))

    def all_seen(since: float, photos: int) -> float:
        while client.get(f"/api/jobs/{job}").json()["unseen"]:
            next(news)
        return photos / (time.perf_counter() - since)

    news = news_of_looking()
    next(news)  # listens from here on

    floors, taken, looked = [rate(2, floor_one, range(40))], [], []
    for first in range(0, count, 40):
        block = range(first, min(count, first + 40))
        since = time.perf_counter()
        taken.append(rate(3, lambda n: come_in(b"", n), block))
        looked.append(all_seen(since, len(block)))
        floors.append(rate(2, floor_one, block))

    def against(rates: list[float]) -> float:
        return statistics.median(fmean(beside) / own for beside, own in zip(pairwise(floors), rates, strict=True))

    meanwhile: list[float] = []
    stop = threading.Event()

    def look() -> None:
        with httpx.Client(base_url=client.base_url, timeout=120) as own:
            number = 0
            while not stop.is_set():
                number += 1
                edit = {"op": "place", "sheet": "spread", "opening": "opening-1", "centre": [0.5, 0.5],
                        "zoom": 1 + (number % 9) / 10, "turn_deg": 0, "mirror": False}  # fmt: skip
                held = own.post(f"/api/jobs/{watched}/edits", json={"edit": edit, "gesture": None})
                if held.status_code != 200:
                    edit = {"op": "fill", "only_empty": False}
                    held = own.post(f"/api/jobs/{watched}/edits", json={"edit": edit, "gesture": None})
                since = time.perf_counter()
                own.get(f"/api/drawn/{held.json()['marks'][0]['key']}/picture?width=1600")
                meanwhile.append(1000 * (time.perf_counter() - since))
                time.sleep(0.2)

    looker = threading.Thread(target=look)
    looker.start()
    with ThreadPoolExecutor(3) as threads:
        list(threads.map(lambda n: come_in(b"x", n), range(40)))
    stop.set()
    looker.join()
    return Imported(
        *(statistics.median(rates) for rates in (floors, taken, looked)),
        (against(taken), against(looked)), sorted(meanwhile)[int(0.95 * len(meanwhile))],
    )  # fmt: skip
