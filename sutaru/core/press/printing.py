"""A job's pages on print sheets, from the wish to the PDF: every edition as often as it is wanted, fronts and backs."""

import hashlib
import json
import tempfile
from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import datetime
from pathlib import Path
from typing import Annotated, Any, Literal

import pypdfium2
from pydantic import Field

from ..colour.profiles import profile_bytes
from ..document import Job, Sheet
from ..document.base import Frozen, Length
from ..errors import ExportFailed
from ..paint import Assets, Painter
from .exporting import EVERY, export
from .files import whole
from .imposing import Grain, Paper, Side, booklet, imposed
from .leaves import Leaf, blank_pages, leaves
from .print_sheets import OFF_MM, TICK_MM, Marks, Source, write


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


@dataclass(frozen=True)
class Laid:
    """Print sheets of one file: what lies on each side of them. ``blank``: numbers of a booklet's pages that stay blank."""

    target: Path
    paper: Paper
    size_mm: tuple[float, float]
    sides: list[Side]
    blank: tuple[int, ...] = ()


def print_sheets(
    job: Job, target: Path, wish: PrintWish, painter: Painter, made: datetime, assets: Assets,
    progress: Callable[[str, int, int], None] = lambda stage, done, total: None, edition: str = EVERY,
) -> tuple[list[Laid], dict[str, Any]]:  # fmt: skip
    """Writes a job's print sheets into one PDF, or as pictures, a side each, numbered. Of a book a booklet takes the pages of the
    inside, and its cover is a file of its own. What was laid, and the manifest of its pages.

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
    with tempfile.TemporaryDirectory(dir=target.parent) as folder:
        planned = _booklets(job, target, wish, every) if wish.booklet else [_pieced(job, target, wish, every)]
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
        pages = [(path, number) for path, count in zip(files, counts, strict=True) for number in range(count)]
        for plan, leaf_of in planned:
            sources = [Source(*pages[leaf.sheet], leaf.left_mm) if leaf else None for leaf in leaf_of]
            folds = tuple(
                (line.axis, line.at_mm) for line in every[0].layout.lines if line.kind == "fold" and not wish.booklet
            )
            marks = Marks(folds=folds, slug=f"{job.name} · {made:%Y-%m-%d}")
            if wish.picture:
                laid = Path(folder) / "sheets.pdf"
                write(laid, sources, plan.sides, plan.paper, plan.size_mm, marks, made)
                pictures(laid, plan.target, lab.ppi_target, lab.jpeg_quality)
            else:
                write(plan.target, sources, plan.sides, plan.paper, plan.size_mm, marks, made)
        told: dict[str, Any] = json.loads(manifest.read_text("utf-8"))
    return [plan for plan, _ in planned], told


Plan = tuple[Laid, list[Leaf | None]]  # what lies where, and which page each number on it means


def _pieced(job: Job, target: Path, wish: PrintWish, every: list[Sheet]) -> Plan:
    """Pieces, each as often as it is wanted."""
    size = _one_size([(sheet.layout.width_mm, sheet.layout.height_mm) for sheet in every])
    paper = Paper(wish.width_mm, wish.height_mm, wish.margin_mm, wish.grain or None)
    gap = 2 * every[0].layout.bleed_mm if wish.gap_mm is None else wish.gap_mm
    sides = imposed(paper, size, _pieces(job, wish), gap, wish.duplex or None, wish.piece_grain)
    return Laid(target, paper, size, sides), [Leaf(at, 0.0, *size) for at in range(len(every))]


def _booklets(job: Job, target: Path, wish: PrintWish, every: list[Sheet]) -> list[Plan]:
    """The pages of the inside two by two; and each cover on a print sheet of its own, as large as it needs."""
    pages = leaves(every)
    size = _one_size([(page.width_mm, page.height_mm) for page in pages if page])
    paper = Paper(wish.width_mm, wish.height_mm, wish.margin_mm, wish.grain or None)
    sides = booklet(paper, size, len(pages), wish.duplex or "short", wish.signature, wish.creep_mm)
    sides = [replace(side, placed=tuple(one for one in side.placed if pages[one.page])) for side in sides]
    found: list[Plan] = [(Laid(target, paper, size, sides, tuple(blank_pages(pages))), pages)]
    for at, sheet in enumerate(every):
        if sheet.role != "cover":
            continue
        wide, high = sheet.layout.width_mm, sheet.layout.height_mm
        beside = 2 * (wish.margin_mm + sheet.layout.bleed_mm + TICK_MM + OFF_MM)
        fits = wide + 2 * wish.margin_mm <= paper.width_mm and high + 2 * wish.margin_mm <= paper.height_mm
        own = paper if fits else Paper(round(wide + beside, 3), round(high + beside, 3), wish.margin_mm)
        name = target.with_name(f"{target.stem}-cover{len(found) if len(found) > 1 else ''}{target.suffix}")
        laid = imposed(own, (wide, high), [(0, None)], 0.0)
        found.append((Laid(name, own, (wide, high), laid), [Leaf(at, 0.0, wide, high)]))
    return found


def _one_size(sizes: list[tuple[float, float]]) -> tuple[float, float]:
    if not sizes:
        raise ExportFailed("This job has no pages for a booklet.", "Add pages to its inside.")
    if any(size != sizes[0] for size in sizes):
        raise ExportFailed("The sheets of this job are of several sizes.", "Print editions of one size at a time.")
    return sizes[0]


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


def told_of(laid: list[Laid], wish: PrintWish, pages: dict[str, Any]) -> dict[str, Any]:
    """What was written, as the manifest of an export says it. ``pages``: the manifest of the pages on the sheets."""
    return {**pages, "files": [told for one in laid for told in _told_of(one, wish)]}


def _told_of(laid: Laid, wish: PrintWish) -> list[dict[str, Any]]:
    written = picture_names(laid.target, len(laid.sides)) if wish.picture else [laid.target]
    return [
        {
            "file": path.name, "page": "Print sheets", "sha256": _sha256(path), "bytes": path.stat().st_size,
            "sheets": max((side.sheet for side in laid.sides), default=0), "sides": len(laid.sides),
            "sheet_mm": [laid.paper.width_mm, laid.paper.height_mm],
            "on_a_side": max((len(side.placed) for side in laid.sides), default=0),
            **({"blank_pages": list(laid.blank)} if laid.blank else {}),
        }
        for path in written
    ]  # fmt: skip


def _sha256(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()
