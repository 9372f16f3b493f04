"""The most memory that a poster of 18000 x 12000 px takes in each format, exported as a worker of the server does it."""

import subprocess
import sys
import tempfile

from bench.photos import photos
from bench.press import peak_mb
from sutaru.core.document import (
    Background,
    Edition,
    FileKind,
    Filling,
    Flat,
    Job,
    LabSheet,
    Layout,
    Opening,
    Pile,
    Placement,
    Rectangle,
    Sheet,
)
from sutaru.core.photos import examine
from sutaru.core.press.exporting import pieces
from sutaru.work.tasks import Exported, run_pieces

KINDS: tuple[FileKind, ...] = ("jpeg", "tiff", "png", "pdf")


def export(kind: FileKind) -> float:
    """Exports it; the most memory this process has taken, MB."""
    path = photos()[0]
    photo = examine(path, path.name)
    opening = Opening(id="o", outline=Rectangle(width_mm=1400, height_mm=900), surface=Flat(centre=(762, 508)))
    layout = Layout(width_mm=1524, height_mm=1016, bleed_mm=0, layers=(Background(id="b", colour="#203040"), opening))
    filling = Filling(placements={"o": Placement(photo=photo.id)})
    job = Job(name="Poster", template="t", product="collage", pile=Pile(photos=(photo,)),
              sheets=(Sheet(id="p", name="P", layout=layout),), editions=(Edition(fillings={"p": filling}),),
              lab=LabSheet(id="lab", name="Lab", ppi_target=300, ppi_least=72))  # fmt: skip
    with tempfile.TemporaryDirectory() as folder:
        asked = Exported(
            job.model_dump_json(), {photo.checksum: str(path)}, {}, folder, kind, "2026-06-20T00:00:00+00:00"
        )
        run_pieces(asked, pieces(job, kind), 2, "news")
    return peak_mb()


def rows() -> list[tuple[str, str, str, str]]:
    """Rows about posters."""
    peaks = []
    for kind in KINDS:
        work = f"from bench import posters; print(posters.export({kind!r}))"
        told = subprocess.run([sys.executable, "-c", work], capture_output=True, text=True, check=True).stdout
        peaks.append(f"{float(told):.0f}")
    said = f"A poster of 18000 x 12000 px as {', '.join(kind.upper() for kind in KINDS)}: peak memory"
    return [(said, f"{', '.join(peaks)} MB", "", "under 500 MB")]
