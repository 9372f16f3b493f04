"""What workers do: taking a photo in, exporting a job. Plain picklable input and output; no database.

Progress goes to a small file that the parent reads, a stop comes as a file that the worker looks for: that holds for
processes of this machine and for a cluster that shares its disk alike.
"""

import json
import os
import threading
import time
from concurrent.futures import ThreadPoolExecutor
from datetime import datetime
from pathlib import Path

import cv2
import numpy as np

from ..core.document import Format, Job, Photo
from ..core.errors import Stopped
from ..core.paint import Painter
from ..core.photos import PhotoPixels, decode, examine
from ..core.press import export
from ..core.press.raster import jpeg_bytes

PROXY_SIDE, THUMB_SIDE = 1400, 320  # px along the longer side, at least; at most
PROGRESS, STOP = ".progress.json", ".stop"


def prepare_worker() -> None:
    """Runs once in each worker process: one thread a worker, and the bench comes first."""
    cv2.setNumThreads(1)
    os.nice(5)
    threading.Thread(target=_end_with, args=(os.getppid(),), daemon=True).start()


def _end_with(parent: int) -> None:
    """Ends this process when its parent is gone: a killed server must leave no workers behind."""
    while os.getppid() == parent:
        time.sleep(0.5)
    os._exit(1)


def take_in(upload: str, name: str) -> tuple[Photo, bytes, bytes, int]:
    """Examines an uploaded file and decodes it once, shrunk: the photo, its proxy and thumbnail (JPEG), the proxy's width.

    Raises PhotoRefused.
    """
    path = Path(upload)
    photo = examine(path, name)
    longer = max(photo.width, photo.height)
    pixels = decode(path, name, min(1.0, PROXY_SIDE / longer))
    proxy = pixels
    if max(pixels.shape[:2]) >= 2 * PROXY_SIDE:  # formats that cannot be decoded shrunk
        scale = PROXY_SIDE / max(pixels.shape[:2])
        proxy = _resized(pixels, scale)
    thumb = _resized(proxy, min(1.0, THUMB_SIDE / max(proxy.shape[:2])))
    return photo, jpeg_bytes(proxy, 88, "420"), jpeg_bytes(thumb, 80, "420"), proxy.shape[1]


def _resized(pixels: np.ndarray, scale: float) -> np.ndarray:
    size = max(1, round(pixels.shape[1] * scale)), max(1, round(pixels.shape[0] * scale))
    return cv2.resize(pixels, size, interpolation=cv2.INTER_AREA) if scale < 1 else pixels


def run_export(
    job_json: str,
    originals: dict[str, str],
    folder: str,
    format: Format | None,
    transparent: bool,
    made: str,
    threads: int = 2,
) -> str:
    """Exports a job into a folder; the manifest's JSON. Raises Stopped when the stop file appears, and what export raises."""
    job = Job.model_validate_json(job_json)
    out = Path(folder)
    out.mkdir(parents=True, exist_ok=True)

    def progress(stage: str, done: int, total: int) -> None:
        if (out / STOP).exists():
            raise Stopped("The export was stopped.")
        unfinished = out / (PROGRESS + ".new")  # readers see the old or the new, never half; no flush: it is news only
        unfinished.write_text(json.dumps({"stage": stage, "done": done, "total": total}))
        unfinished.replace(out / PROGRESS)

    with ThreadPoolExecutor(threads) as pool:
        pixels = PhotoPixels(lambda photo: Path(originals[photo.sha256]))
        painter = Painter(pixels, pool)
        *_, manifest = export(job, out, pixels, datetime.fromisoformat(made), format, transparent, painter, progress)
    (out / PROGRESS).unlink(missing_ok=True)
    return manifest.read_text("utf-8")
