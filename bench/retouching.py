"""Retouching: a spread that is retouched against the same one that is not, hairs and dust beside libraries, and how soon a
stroke follows the pointer on a photo of 24 megapixels.

Every photo of the spread has two specks healed, a hair filled in and an area made lighter.
"""

import math
import statistics
import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path

import cv2
import httpx
import numpy as np
from playwright.sync_api import sync_playwright
from skimage.metrics import peak_signal_noise_ratio, structural_similarity
from skimage.restoration import inpaint_biharmonic

from bench.dragging import FLAGS
from bench.export import spread
from bench.photos import photos
from bench.served import post, start
from sutaru.core.document import Adjust, Cover, Cut, Free, Job, Round, Stroke, Touch
from sutaru.core.edits.apply import apply
from sutaru.core.edits.kinds import RetouchPhoto
from sutaru.core.mending import Size, select_subject
from sutaru.core.mending.areas import coverage
from sutaru.core.mending.cutout import cut_out_subject
from sutaru.core.mending.healing import continue_values
from tests.core.test_cutout import put_together
from tests.core.test_healing import scratched
from tests.core.test_retouching import ASTRONAUT, CAT, COFFEE

TOUCHES = (
    Cover(id="a", area=Stroke(points=((0.3, 0.4),), radius=0.003), shift=(0.01, 0.0)),
    Cover(id="b", area=Stroke(points=((0.6, 0.5),), radius=0.003), shift=(0.0, 0.015)),
    Cover(id="c", how="fill", area=Stroke(points=((0.4, 0.3), (0.45, 0.36), (0.47, 0.45)), radius=0.0007)),
    Adjust(id="d", area=Round(centre=(0.5, 0.5), across=(0.15, 0.1)), light=0.3),
)


_MIDDLE = tuple((0.5 + 0.2 * math.sin(n / 20), 0.5 + 0.35 * math.cos(n / 20)) for n in range(125))
STANDING = (Free(id="e", area=Cut(rings=(_MIDDLE,))),)


def retouched(job: Job, touches: tuple[Touch, ...] = TOUCHES) -> Job:
    """The job with every photo retouched."""
    for photo in job.photos:
        job = apply(job, RetouchPhoto(photo=photo.id, put=touches))
    return job


def exported(folder: Path, rounds: int) -> tuple[float, float, float]:
    """Best seconds of the spread, plain, retouched, and with the middle of every photo standing free; the rounds interleaved."""
    plain = spread()
    jobs = {"plain": plain, "retouched": retouched(plain), "standing": retouched(plain, STANDING)}
    found: dict[str, list[float]] = {name: [] for name in jobs}
    for name, job in jobs.items():
        (folder / f"{name}.json").write_text(job.model_dump_json())
    for _ in range(rounds):
        for name, times in found.items():
            command = [
                sys.executable,
                "-m",
                "bench.scripts",
                "sutaru",
                str(folder / f"{name}.json"),
                str(folder / name),
            ]
            times.append(float(subprocess.run(command, capture_output=True, text=True, check=True).stdout.split()[0]))
    return min(found["plain"]), min(found["retouched"]), min(found["standing"])


def edge() -> tuple[float, float]:
    """How far off, in levels, a subject is along its edge when it is laid on another ground; and how far when it is cut along
    the line alone, its colours as they are."""
    image, share, own = put_together()
    cut = select_subject(image, Stroke(points=((0.5, 0.3), (0.5, 0.9)), radius=0.03))
    assert cut
    ground = np.array((245.0, 245.0, 235.0))
    rgba, size = cut_out_subject(image, Free(id="f", area=cut)).astype(float), Size(image.shape[1], image.shape[0])
    mixed = (share > 0.02) & (share < 0.98)

    def off(colours: np.ndarray, cover: np.ndarray) -> float:
        laid, truth = (c * a[..., None] + ground * (1 - a[..., None]) for c, a in ((colours, cover), (own, share)))
        return float(np.abs(laid - truth)[mixed].mean())

    return off(rgba[..., :3], rgba[..., 3] / 255), off(image.astype(float), coverage(cut, size, size.box))


def hairs() -> list[tuple[str, str, float, float, float]]:
    """Photograph, by whom, PSNR in dB, SSIM, ms: drawn hairs and dust removed."""
    ways: dict[str, Callable[[np.ndarray, np.ndarray], np.ndarray]] = {
        "Sutaru": lambda image, mask: continue_values(image.astype(np.float32), mask),
        "scikit-image, biharmonic": lambda image, mask: inpaint_biharmonic(image, mask, channel_axis=2) * 255,
        "OpenCV, Telea": lambda image, mask: cv2.inpaint(image, mask.astype(np.uint8), 3, cv2.INPAINT_TELEA),
        "OpenCV, Navier-Stokes": lambda image, mask: cv2.inpaint(image, mask.astype(np.uint8), 3, cv2.INPAINT_NS),
    }
    found = []
    for seed, (name, photo) in enumerate((("astronaut", ASTRONAUT), ("coffee", COFFEE), ("chelsea", CAT)), 1):
        broken, mask = scratched(photo, seed)
        for who, way in ways.items():
            begun = time.perf_counter()
            done = np.clip(np.rint(way(broken, mask)), 0, 255).astype(np.uint8)
            ms = 1000 * (time.perf_counter() - begun)
            quality = peak_signal_noise_ratio(photo, done), structural_similarity(photo, done, channel_axis=2)
            found.append((name, who, *quality, ms))
    return found


# After a pointer event has been handled, the second frame callback runs once the first frame has been put on the screen.
_WATCH = """() => {
  window.lags = [];
  addEventListener("pointermove", (event) => {
    requestAnimationFrame(() => requestAnimationFrame((now) => window.lags.push(now - event.timeStamp)));
  }, true);
}"""


def strokes(client: httpx.Client) -> tuple[float, float]:
    """On a photo of 24 megapixels, in headless Chromium: pointer to frame while a stroke is drawn, 95th percentile; and from the
    end of a healing stroke until it is stored and seen, median. Milliseconds."""
    job = start(client)
    path = photos()[0]
    post(job, path.read_bytes(), path.name)
    photo = client.get(f"/api/jobs/{job}").json()
    (pile,) = client.get(f"/api/parts/piles/{photo['job']['pile']}").json()["piles"].values()
    put = {"op": "put", "sheet": "spread", "opening": "opening-10", "photo": pile["photos"][0]["id"]}
    client.post(f"/api/jobs/{job}/edits", json={"edit": put})
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS.split())
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(f"{client.base_url}/jobs/{job}")
        page.locator("[data-opening='opening-10']").click()
        page.keyboard.press("c")
        page.get_by_label("What is done with the photo").get_by_text("Retouch").click()
        settled = page.locator("[data-testid=retouch-view][data-settled]")
        settled.wait_for()
        box = settled.bounding_box()
        assert box
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.get_by_role("button", name="100 %").click()
        settled.wait_for()
        page.get_by_role("button", name="Clone").click()
        settled.focus()
        page.keyboard.press("s")
        page.mouse.click(x - 200, y - 100)
        page.evaluate(_WATCH)
        page.mouse.move(x, y)
        page.mouse.down()
        for n in range(150):
            page.mouse.move(x + 60 * ((n % 20) / 10 - 1), y + 20 * ((n % 14) / 7 - 1))
            page.wait_for_timeout(16)
        page.mouse.up()
        settled.wait_for()
        lags = sorted(page.evaluate("() => window.lags"))
        page.get_by_role("button", name="Heal").click()
        seen = []
        for n in range(12):
            page.mouse.move(x - 250 + 40 * n, y + 120)
            page.mouse.down()
            page.mouse.move(x - 240 + 40 * n, y + 130)
            begun = time.perf_counter()
            page.mouse.up()
            page.locator("[data-testid=touch]").nth(n + 1).wait_for()
            settled.wait_for()
            seen.append(1000 * (time.perf_counter() - begun))
        browser.close()
    return lags[int(0.95 * len(lags))], statistics.median(seen)


def rows(folder: Path, rounds: int, client: httpx.Client) -> list[tuple[str, str, str, str]]:
    """Rows of the table of measurements."""
    plain, done, standing = exported(folder, rounds)
    ours, line = edge()
    lag, seen = strokes(client)
    return [
        ("Export of the 18-opening spread, every photo retouched in four places", f"{done:.2f} s", "", ""),
        ("  against the same spread as it came", f"{plain:.2f} s", f"{done / plain:.2f}", "at most 1.15"),
        ("  the middle of every photo standing free", f"{standing:.2f} s", f"{standing / plain:.2f}", ""),
        (
            "A subject on another ground, off along its edge; cut by its line alone",
            f"{ours:.1f}; {line:.1f} levels",
            "",
            "",
        ),
        ("Stroke on a photo of 24 megapixels, pointer to frame, 95th percentile", f"{lag:.0f} ms", "", "under 50 ms"),
        ("  healed, its source found, stored and seen pixel for pixel, median", f"{seen:.0f} ms", "", ""),
    ]


def table() -> list[str]:
    """The lines about hairs and dust."""
    lines = [
        "## Hairs and dust",
        "",
        "Drawn on photographs of scikit-image and taken away again (`bench/retouching.py`): PSNR in dB, SSIM, time.",
        "",
        "| photograph | by | dB | SSIM | ms |",
        "| --- | --- | --- | --- | --- |",
    ]
    return lines + [f"| {name} | {who} | {db:.2f} | {like:.5f} | {ms:.0f} |" for name, who, db, like, ms in hairs()]
