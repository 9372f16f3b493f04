"""A job's pages on print sheets, from the wish to the PDF: every edition as often as it is wanted, fronts and backs."""

import hashlib
import json
import tempfile
from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from typing import Annotated, Any, Literal

import pypdfium2
from pydantic import Field

from ..colour.profiles import profile_bytes
from ..document import Job
from ..document.base import Frozen, Length
from ..errors import ExportFailed
from ..paint import Assets, Painter
from .exporting import EVERY, export
from .files import whole
from .imposing import Edge, Grain, Paper, Side, booklet, imposed
from .print_sheets import Marks, write


class PrintWish(Frozen):
    """How pages are to be laid on print sheets. ``copies``: of each piece, else as many as each edition says. ``gap_mm``: between
    pieces, else twice the bleed. ``duplex``: backs are printed, the sheet turned over about that edge. ``grain``: along which
    side of the sheet its fibres run; ``piece_grain``: how they are to run in a piece. A ``booklet`` has its pages two by two.
    ``picture``: each side is a JPEG, for printers that take no PDF."""

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
    picture: bool = False


MOST_PIECES = 20_000
_MOST_PX = 16_000  # of a side of a picture


def print_sheets(
    job: Job, target: Path, wish: PrintWish, painter: Painter, made: datetime, assets: Assets,
    progress: Callable[[str, int, int], None] = lambda stage, done, total: None, edition: str = EVERY,
) -> tuple[list[Side], dict[str, Any]]:  # fmt: skip
    """Writes a job's print sheets into one PDF, or as pictures, a side each, numbered; what lies on each side of them, and the
    manifest of its pages.

    Raises ExportFailed when there is no room or the job's sheets are of several sizes, and what exporting raises.
    """
    rules = job.lab.pdf.having(one_file=True, cut="", fold="")
    lab = job.lab.having(pdf=rules)
    if wish.picture:  # as a screen would see it: in sRGB
        lab = job.lab.having(pdf=rules.having(x4=False), press=None, profile="srgb")
    job = job.having(lab=lab)
    if edition != EVERY or wish.booklet:
        job = job.having(editions=(job.edition("" if edition == EVERY else edition),))
    every = [sheet for own in job.editions for sheet in job.sheets_of(own)]
    layout = every[0].layout
    size = layout.width_mm, layout.height_mm
    if any((sheet.layout.width_mm, sheet.layout.height_mm) != size for sheet in every):
        raise ExportFailed("The sheets of this job are of several sizes.", "Print editions of one size at a time.")
    paper = Paper(wish.width_mm, wish.height_mm, wish.margin_mm, wish.grain or None)
    count = len(every)
    edge: Edge | None = wish.duplex or None
    if wish.booklet:
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
        counts = [len(job.sheets_of(own)) for own in job.editions]
        sources = [(path, number) for path, pages in zip(files, counts, strict=True) for number in range(pages)]
        folds = tuple((line.axis, line.at_mm) for line in layout.lines if line.kind == "fold")
        marks = Marks(folds=folds, slug=f"{job.name} · {made:%Y-%m-%d}")
        if wish.picture:
            laid = Path(folder) / "sheets.pdf"
            write(laid, sources, sides, paper, size, marks, made)
            pictures(laid, target, lab.ppi_target, lab.jpeg_quality)
        else:
            write(target, sources, sides, paper, size, marks, made)
        told: dict[str, Any] = json.loads(manifest.read_text("utf-8"))
    return sides, told


def _pieces(job: Job, wish: PrintWish) -> list[tuple[int, int | None]]:
    """Pages by number, front and back, as often as each is to be printed."""
    before, found = 0, list[tuple[int, int | None]]()
    for edition in job.editions:
        count = len(job.sheets_of(edition))
        for at in range(before, before + count, 2 if wish.duplex else 1):
            back = at + 1 if wish.duplex and at + 1 < before + count else None
            found += [(at, back)] * (wish.copies or edition.copies)
            if len(found) > MOST_PIECES:
                raise ExportFailed(f"These are more than {MOST_PIECES:,} pieces.", "Print fewer copies at a time.")
        before += count
    return found


def pictures(laid: Path, target: Path, ppi: int, quality: int) -> None:
    """Each page of a PDF of print sheets as a JPEG with sRGB's profile, by PDFium; in the name of the target and numbered."""
    document = pypdfium2.PdfDocument(laid)
    try:
        for n, path in enumerate(picture_names(target, len(document))):
            if max(document[n].get_size()) * ppi / 72 > _MOST_PX:
                raise ExportFailed("This sheet is too large for a picture.", "Choose PDF.")
            drawn = document[n].render(scale=ppi / 72).to_pil().convert("RGB")
            with whole(path) as file:
                drawn.save(
                    file, "JPEG", quality=quality, subsampling=0, dpi=(ppi, ppi), icc_profile=profile_bytes("srgb")
                )
    finally:
        document.close()


def picture_names(target: Path, count: int) -> list[Path]:
    """What the pictures of so many sides are called."""
    return [target.with_name(f"{target.stem}-{n + 1:02d}.jpg") for n in range(count)]


def told_of(target: Path, wish: PrintWish, sides: list[Side], pages: dict[str, Any]) -> dict[str, Any]:
    """What was written, as the manifest of an export says it. ``pages``: the manifest of the pages on the sheets."""
    written = picture_names(target, len(sides)) if wish.picture else [target]
    sheets = max((side.sheet for side in sides), default=0)
    return {
        **pages,
        "files": [
            {
                "file": path.name, "page": "Print sheets", "sha256": _sha256(path), "bytes": path.stat().st_size,
                "sheets": sheets, "sides": len(sides), "sheet_mm": [wish.width_mm, wish.height_mm],
                "on_a_side": max((len(side.placed) for side in sides), default=0),
            }
            for path in written
        ],
    }  # fmt: skip


def _sha256(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()
