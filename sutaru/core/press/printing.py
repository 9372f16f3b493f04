"""A job's pages on print sheets, from the wish to the PDF: every edition as often as it is wanted, fronts and backs."""

import hashlib
import json
import tempfile
from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from typing import Annotated, Any, Literal

from pydantic import Field

from ..document import Job
from ..document.base import Frozen, Length
from ..errors import ExportFailed
from ..paint import Assets, Painter
from .exporting import EVERY, export
from .imposing import Edge, Grain, Paper, Side, booklet, imposed
from .print_sheets import Marks, write


class PrintWish(Frozen):
    """How pages are to be laid on print sheets. ``copies``: of each piece, else as many as each edition says. ``gap_mm``: between
    pieces, else twice the bleed. ``duplex``: backs are printed, the sheet turned over about that edge. ``grain``: along which
    side of the sheet its fibres run; ``piece_grain``: how they are to run in a piece. A ``booklet`` has its pages two by two."""

    width_mm: Length
    height_mm: Length
    margin_mm: Annotated[float, Field(ge=0, le=100)] = 5.0
    gap_mm: Annotated[float | None, Field(ge=0, le=100)] = None
    copies: Annotated[int | None, Field(ge=1, le=10_000)] = None
    duplex: Literal["", "long", "short"] = ""
    grain: Literal["", "width", "height"] = ""
    piece_grain: Grain = "any"
    booklet: bool = False
    signature: Annotated[int, Field(ge=0, le=50)] = 0
    creep_mm: Annotated[float, Field(ge=0, le=5)] = 0.0


MOST_PIECES = 20_000


def print_sheets(
    job: Job, target: Path, wish: PrintWish, painter: Painter, made: datetime, assets: Assets,
    progress: Callable[[str, int, int], None] = lambda stage, done, total: None, edition: str = EVERY,
) -> tuple[list[Side], dict[str, Any]]:  # fmt: skip
    """Writes a job's print sheets into one PDF; what lies on each side of them, and the manifest of its pages.

    Raises ExportFailed when there is no room or the job's sheets are of several sizes, and what exporting raises.
    """
    job = job.having(lab=job.lab.having(pdf=job.lab.pdf.having(one_file=True, cut="", fold="")))
    layout = job.sheets[0].layout
    size = layout.width_mm, layout.height_mm
    if any((sheet.layout.width_mm, sheet.layout.height_mm) != size for sheet in job.sheets):
        raise ExportFailed("The sheets of this job are of several sizes.", "Make a job of those of one size.")
    if edition != EVERY or wish.booklet:
        job = job.having(editions=(job.edition("" if edition == EVERY else edition),))
    paper = Paper(wish.width_mm, wish.height_mm, wish.margin_mm, wish.grain or None)
    count = len(job.sheets)
    edge: Edge | None = wish.duplex or None
    if wish.booklet:
        gap = 0.0  # two pages meet in the fold
        sides = booklet(paper, size, count, edge or "short", wish.signature, wish.creep_mm)
    else:
        gap = 2 * layout.bleed_mm if wish.gap_mm is None else wish.gap_mm
        sides = imposed(paper, size, _pieces(job, wish), gap, edge, wish.piece_grain)
    with tempfile.TemporaryDirectory(dir=target.parent) as folder:
        *files, manifest = export(
            job,
            Path(folder),
            painter.pixels,
            made,
            "pdf",
            painter=painter,
            progress=progress,
            assets=assets,
            edition=EVERY,
        )
        sources = [(path, number) for path in files for number in range(count)]
        folds = tuple((line.axis, line.at_mm) for line in layout.lines if line.kind == "fold")
        marks = Marks(folds=folds, slug=f"{job.name} · {made:%Y-%m-%d}")
        write(target, sources, sides, paper, size, marks, made, gap)
        told: dict[str, Any] = json.loads(manifest.read_text("utf-8"))
    return sides, told


def _pieces(job: Job, wish: PrintWish) -> list[tuple[int, int | None]]:
    """Pages by number, front and back, as often as each is to be printed."""
    count, found = len(job.sheets), list[tuple[int, int | None]]()
    for n, edition in enumerate(job.editions):
        for at in range(0, count, 2 if wish.duplex else 1):
            back = n * count + at + 1 if wish.duplex and at + 1 < count else None
            found += [(n * count + at, back)] * (wish.copies or edition.copies)
            if len(found) > MOST_PIECES:
                raise ExportFailed(f"These are more than {MOST_PIECES:,} pieces.", "Print fewer copies at a time.")
    return found


def told_of(target: Path, wish: PrintWish, sides: list[Side], pages: dict[str, Any]) -> dict[str, Any]:
    """What was written, as the manifest of an export says it. ``pages``: the manifest of the pages on the sheets."""
    with target.open("rb") as file:
        digest = hashlib.file_digest(file, "sha256").hexdigest()
    sheets = max((side.sheet for side in sides), default=0)
    return {
        **pages,
        "files": [
            {
                "file": target.name, "page": "Print sheets", "sha256": digest, "bytes": target.stat().st_size,
                "sheets": sheets, "sides": len(sides), "sheet_mm": [wish.width_mm, wish.height_mm],
                "on_a_side": max((len(side.placed) for side in sides), default=0),
            }
        ],
    }  # fmt: skip
