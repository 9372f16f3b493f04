"""Export of the 18-opening spread to JPEG, against the floor and plain scripts."""

import subprocess
import sys
from pathlib import Path

import numpy as np

from bench.photos import photos
from sutaru.core.document import Border, Corners, Job, Shadow
from sutaru.core.document import Grid as Surfaced
from sutaru.core.edits.apply import apply
from sutaru.core.edits.kinds import BringIn, Fill, LayoutEdit, SetFields
from sutaru.core.formats.shelf import read_shelf
from sutaru.core.geometry import outlines
from sutaru.core.photos import examine
from sutaru.shelf import FOLDER

NAMES = ("sutaru", "floor", "hard_floor", "dressed", "pillow", "pyvips")


def dressing(job: Job) -> list[LayoutEdit]:
    """What gives the spread's openings borders and shadows, slants two of them and bends one."""
    found: list[LayoutEdit] = []
    for n, opening in enumerate(job.sheets[0].layout.openings(), 1):
        more: dict[str, object] = {"border": Border(width_mm=2), "shadow": Shadow(distance_mm=1.5, blur_mm=3)}
        x0, y0, x1, y1 = outlines.bounds([opening.page_from_opening.apply(p) for p in opening.outline.polygons()])
        if n in (4, 12):
            more["surface"] = Corners(points=((x0, y0), (x1, y0 + 9), (x1, y1 - 9), (x0, y1)))
        if n == 10:
            net = np.stack(np.meshgrid(np.linspace(x0, x1, 4), np.linspace(y0, y1, 4)), axis=-1)
            net[1:3, :, 0] += 6
            net[:, 1:3, 1] += 5
            more["surface"] = Surfaced(net=net.tolist())
        fields = {name: part.model_dump() for name, part in more.items()}  # type: ignore[attr-defined]
        found.append(SetFields(sheet="spread", layers=(opening.id,), fields=fields))
    return found


def dressed(job: Job) -> Job:
    """The spread with all that on it."""
    for edit in dressing(job):
        job = apply(job, edit)
    return job


def spread() -> Job:
    """The spread, filled."""
    shelf = read_shelf(FOLDER)
    template = shelf.templates["album-spread-18"]
    job = Job(
        name="spread",
        template=template.id,
        product="album",
        sheets=template.sheets,
        lab=shelf.labs["gullwing-300"],
    )
    job = apply(job, BringIn(photos=tuple(examine(path, path.name) for path in photos())))
    return apply(job, Fill())


def measure(folder: Path, rounds: int) -> dict[str, tuple[float, float]]:
    """Best seconds and largest peak MB of each, the rounds interleaved so that a noisy moment hits all alike."""
    job = folder / "job.json"
    plain = spread()
    job.write_text(plain.model_dump_json())
    effects = folder / "dressed.json"
    effects.write_text(dressed(plain).model_dump_json())
    seen: dict[str, list[tuple[float, float]]] = {name: [] for name in NAMES}
    for _ in range(rounds):
        for name in NAMES:
            target = folder / (name if name in ("sutaru", "dressed") else f"{name}.jpg")
            script, file = ("sutaru", effects) if name == "dressed" else (name, job)
            command = [sys.executable, "-m", "bench.scripts", script, str(file), str(target)]
            seconds, peak = subprocess.run(command, capture_output=True, text=True, check=True).stdout.split()
            seen[name].append((float(seconds), float(peak)))
    return {name: (min(s for s, _ in runs), max(p for _, p in runs)) for name, runs in seen.items()}
