"""Eighteen photographs of 24 megapixels, made once: the demo's scenes with a camera's fine grain, 7 to 10 MB each."""

from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import numpy as np
from PIL import Image

from sutaru.demo.scenes import SCENES, picture

FOLDER = Path(__file__).parent.parent / ".data" / "bench-photos"


def _make(n: int) -> Path:
    path = FOLDER / f"photo-{n:02d}.jpg"
    if not path.exists():
        size = (4000, 6000) if n % 3 == 2 else (6000, 4000)
        FOLDER.mkdir(parents=True, exist_ok=True)
        image = picture(list(SCENES)[n % len(SCENES)], n, *size).astype(np.int16)
        grain = np.random.default_rng(n).normal(0, 5, (*image.shape[:2], 1))
        Image.fromarray(np.clip(image + grain, 0, 255).astype(np.uint8)).save(path, quality=92)
    return path


def photos() -> list[Path]:
    """Paths of the eighteen."""
    with ProcessPoolExecutor(2) as pool:
        return list(pool.map(_make, range(18)))
