"""Eighteen photographs of 24 megapixels, made once by the demo's scene generator."""

from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

from PIL import Image

from sutaru.demo.scenes import SCENES, picture

FOLDER = Path(__file__).parent.parent / ".data" / "bench-photos"


def _make(n: int) -> Path:
    path = FOLDER / f"photo-{n:02d}.jpg"
    if not path.exists():
        size = (4000, 6000) if n % 3 == 2 else (6000, 4000)
        FOLDER.mkdir(parents=True, exist_ok=True)
        Image.fromarray(picture(list(SCENES)[n % len(SCENES)], n, *size)).save(path, quality=92)
    return path


def photos() -> list[Path]:
    """Paths of the eighteen."""
    with ProcessPoolExecutor(2) as pool:
        return list(pool.map(_make, range(18)))
