"""Export of the 18-opening spread to JPEG, against the floor and plain scripts."""

import subprocess
import sys
from pathlib import Path

from bench.photos import photos
from sutaru.core.document import Job
from sutaru.core.edits import BringIn, Fill, apply
from sutaru.core.formats import read_labs, read_templates
from sutaru.core.photos import examine
from sutaru.shelf import FOLDER

NAMES = ("sutaru", "floor", "hard_floor", "pillow", "pyvips")


def spread() -> Job:
    """The spread, filled."""
    template = read_templates(FOLDER)["album-spread-18"]
    job = Job(
        name="spread",
        template=template.id,
        product="album",
        pages=template.pages,
        lab=read_labs(FOLDER)["gullwing-300"],
    )
    job = apply(job, BringIn(photos=tuple(examine(path, path.name) for path in photos())))
    return apply(job, Fill())


def measure(folder: Path, rounds: int) -> dict[str, tuple[float, float]]:
    """Best seconds and largest peak MB of each, the rounds interleaved so that a noisy moment hits all alike."""
    job = folder / "job.json"
    job.write_text(spread().model_dump_json())
    seen: dict[str, list[tuple[float, float]]] = {name: [] for name in NAMES}
    for _ in range(rounds):
        for name in NAMES:
            target = folder / ("sutaru" if name == "sutaru" else f"{name}.jpg")
            command = [sys.executable, "-m", "bench.scripts", name, str(job), str(target)]
            seconds, peak = subprocess.run(command, capture_output=True, text=True, check=True).stdout.split()
            seen[name].append((float(seconds), float(peak)))
    return {name: (min(s for s, _ in runs), max(p for _, p in runs)) for name, runs in seen.items()}
