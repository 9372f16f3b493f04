"""``python -m tools.photographs [--draft] [NAME ...]``: renders what is named, or all."""

import sys
import tempfile
from pathlib import Path

from PIL import Image

from .scenes import SCENES

SAMPLES = Path(__file__).parent.parent.parent / "sutaru" / "shelf" / "samples"


def main(args: list[str]) -> None:
    draft = "--draft" in args
    names = [name for name in args if not name.startswith("--")] or list(SCENES)
    for n, name in enumerate(SCENES):
        if name in names:
            scene = SCENES[name]()
            if draft:
                scene.samples = 12
            picture = Image.fromarray(scene.photograph(n + 1, 0.28 if draft else 1.0))
            folder = Path(tempfile.gettempdir()) / "photographs" if draft else SAMPLES
            folder.mkdir(parents=True, exist_ok=True)
            picture.save(folder / f"sample-{name}.jpg", quality=86, subsampling=0)
            print(name, picture.size, flush=True)


main(sys.argv[1:])
