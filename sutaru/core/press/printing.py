"""A job's pages on print sheets, from the wish to the PDF: every edition as often as it is wanted, fronts and backs."""

import hashlib
import json
import tempfile
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from pathlib import Path
from typing import Any

import pypdfium2

from ..colour.profiles import profile_bytes
from ..document import Job, Sheet
from ..errors import ExportFailed
from ..paint import Assets, Painter
from .booklet_pages import BookletPage, list_blank_pages, list_booklet_pages
from .exporting import EVERY, export
from .files import write_whole
from .imposing import Paper, Side, booklet, impose_pieces
from .print_sheets import OFF_MM, TICK_MM, Marks, Source, write
from .print_wishes import PrintWish

MOST_PIECES = 20_000
_MOST_PX = 16_000  # of a side of a picture


@dataclass(frozen=True)
class PrintFile:
    """Print sheets in one file, as planned: what lies on each side of them; which page each number on them means.

    ``blank``: numbers of a booklet's pages that stay blank. ``edition``: whose booklet it is, where there are several.
    """

    target: Path
    paper: Paper
    size_mm: tuple[float, float]
    sides: list[Side]
    pages: list[BookletPage | None]
    blank: tuple[int, ...] = ()
    edition: str = ""


def print_sheets(
    job: Job, target: Path, wish: PrintWish, painter: Painter, made_at: datetime, assets: Assets,
    progress: Callable[[str, int, int], None] = lambda stage, done, total: None, edition: str = EVERY,
) -> tuple[list[PrintFile], dict[str, Any]]:  # fmt: skip
    """Write a job's print sheets into one PDF, or as pictures, a side each, numbered. Of a book a booklet takes the pages of the
    inside, and its cover is a file of its own; each edition is a booklet of its own. Returns the files and the manifest of the
    job's pages.

    Raises ExportFailed when there is no room or the job's sheets are of several sizes, and what exporting raises.
    """
    rules = job.lab.pdf.copy_with(one_file=True, cut="", fold="")
    lab = job.lab.copy_with(pdf=rules)
    if wish.picture:  # as a screen would see it: in sRGB
        lab = job.lab.copy_with(pdf=rules.copy_with(x4=False), press=None, profile="srgb")
    job = job.copy_with(lab=lab)
    if edition != EVERY:
        job = job.copy_with(editions=(job.edition(edition),))
    planned = _plan_booklets(job, target, wish) if wish.booklet else [_plan_pieces(job, target, wish)]
    with tempfile.TemporaryDirectory(dir=target.parent) as folder:
        *files, manifest = export(
            job,
            Path(folder),
            painter.pixels,
            made_at,
            "pdf",
            painter=painter,
            progress=progress,
            assets=assets,
            edition=EVERY,
        )
        counts = [len(job.sheets_of(edition)) for edition in job.editions]
        written = [(path, number) for path, count in zip(files, counts, strict=True) for number in range(count)]
        lines = () if wish.booklet else job.sheets_of(job.editions[0])[0].layout.lines
        folds = tuple((line.axis, line.at_mm) for line in lines if line.kind == "fold")
        for plan in planned:
            sources = [Source(*written[page.sheet], page.left_mm) if page else None for page in plan.pages]
            named = f"{job.name}, {plan.edition}" if plan.edition else job.name
            marks = Marks(folds=folds, slug=f"{named} · {made_at:%Y-%m-%d}")
            if wish.picture:
                laid = Path(folder) / "sheets.pdf"
                write(laid, sources, plan.sides, plan.paper, plan.size_mm, marks, made_at)
                pictures(laid, plan.target, lab.ppi_target, lab.jpeg_quality)
            else:
                write(plan.target, sources, plan.sides, plan.paper, plan.size_mm, marks, made_at)
        manifest_data: dict[str, Any] = json.loads(manifest.read_text("utf-8"))
    return planned, manifest_data


def _plan_pieces(job: Job, target: Path, wish: PrintWish) -> PrintFile:
    """Plan pieces, each as often as it is wanted."""
    sheets = [sheet for edition in job.editions for sheet in job.sheets_of(edition)]
    size = _common_size([(sheet.layout.width_mm, sheet.layout.height_mm) for sheet in sheets])
    paper = Paper(wish.width_mm, wish.height_mm, wish.margin_mm, wish.grain or None)
    gap = 2 * sheets[0].layout.bleed_mm if wish.gap_mm is None else wish.gap_mm
    sides = impose_pieces(paper, size, _pieces(job, wish), gap, wish.duplex or None, wish.piece_grain)
    return PrintFile(target, paper, size, sides, [BookletPage(page, 0.0, *size) for page in range(len(sheets))])


def _plan_booklets(job: Job, target: Path, wish: PrintWish) -> list[PrintFile]:
    """Plan the booklet of each edition, the pages of its inside two by two; and each cover on a print sheet of its own, as large
    as it needs."""
    files: list[PrintFile] = []
    before = 0
    for n, edition in enumerate(job.editions, 1):
        sheets = job.sheets_of(edition)
        several = len(job.editions) > 1
        named = target.with_name(f"{target.stem}-{n:02d}{target.suffix}") if several else target
        for plan in _plan_booklet(sheets, named, wish):
            pages = [page and replace(page, sheet=before + page.sheet) for page in plan.pages]
            files.append(replace(plan, pages=pages, edition=edition.name if several else ""))
        before += len(sheets)
    return files


def _plan_booklet(sheets: Sequence[Sheet], target: Path, wish: PrintWish) -> list[PrintFile]:
    pages = list_booklet_pages(sheets)
    size = _common_size([(page.width_mm, page.height_mm) for page in pages if page])
    paper = Paper(wish.width_mm, wish.height_mm, wish.margin_mm, wish.grain or None)
    sides = booklet(paper, size, len(pages), wish.duplex or "short", wish.signature, wish.creep_mm)
    sides = [replace(side, placed=tuple(piece for piece in side.placed if pages[piece.page])) for side in sides]
    files = [PrintFile(target, paper, size, sides, pages, tuple(list_blank_pages(pages)))]
    for index, sheet in enumerate(sheets):
        if sheet.role != "cover":
            continue
        wide, high = sheet.layout.width_mm, sheet.layout.height_mm
        beside = 2 * (wish.margin_mm + sheet.layout.bleed_mm + TICK_MM + OFF_MM)
        fits = wide + 2 * wish.margin_mm <= paper.width_mm and high + 2 * wish.margin_mm <= paper.height_mm
        paper_here = paper if fits else Paper(round(wide + beside, 3), round(high + beside, 3), wish.margin_mm)
        name = target.with_name(f"{target.stem}-cover{len(files) if len(files) > 1 else ''}{target.suffix}")
        laid = impose_pieces(paper_here, (wide, high), [(0, None)], 0.0)
        files.append(PrintFile(name, paper_here, (wide, high), laid, [BookletPage(index, 0.0, wide, high)]))
    return files


def _common_size(sizes: list[tuple[float, float]]) -> tuple[float, float]:
    if not sizes:
        raise ExportFailed("This job has no pages for a booklet.", "Add pages to its inside.")
    if any(size != sizes[0] for size in sizes):
        raise ExportFailed("The sheets of this job are of several sizes.", "Print editions of one size at a time.")
    return sizes[0]


def _pieces(job: Job, wish: PrintWish) -> list[tuple[int, int | None]]:
    """Pages by number, front and back, as often as each is to be printed."""
    before, pairs = 0, list[tuple[int, int | None]]()
    for edition in job.editions:
        count = len(job.sheets_of(edition))
        for page in range(before, before + count, 2 if wish.duplex else 1):
            back = page + 1 if wish.duplex and page + 1 < before + count else None
            pairs += [(page, back)] * (wish.copies or edition.copies)
            if len(pairs) > MOST_PIECES:
                raise ExportFailed(f"These are more than {MOST_PIECES:,} pieces.", "Print fewer copies at a time.")
        before += count
    return pairs


def pictures(laid: Path, target: Path, ppi: int, quality: int) -> None:
    """Each page of a PDF of print sheets as a JPEG with sRGB's profile, by PDFium; in the name of the target and numbered."""
    document = pypdfium2.PdfDocument(laid)
    try:
        for n, path in enumerate(picture_names(target, len(document))):
            if max(document[n].get_size()) * ppi / 72 > _MOST_PX:
                raise ExportFailed("This sheet is too large for a picture.", "Choose PDF.")
            drawn = document[n].render(scale=ppi / 72).to_pil().convert("RGB")
            with write_whole(path) as file:
                drawn.save(
                    file, "JPEG", quality=quality, subsampling=0, dpi=(ppi, ppi), icc_profile=profile_bytes("srgb")
                )
    finally:
        document.close()


def picture_names(target: Path, count: int) -> list[Path]:
    """What the pictures of so many sides are called."""
    return [target.with_name(f"{target.stem}-{n + 1:02d}.jpg") for n in range(count)]


def describe_print_files(files: list[PrintFile], wish: PrintWish, pages: dict[str, Any]) -> dict[str, Any]:
    """Describe what was written as the manifest of an export does. ``pages``: the manifest of the pages on the sheets."""
    return {**pages, "files": [entry for file in files for entry in _describe_print_file(file, wish)]}


def _describe_print_file(file: PrintFile, wish: PrintWish) -> list[dict[str, Any]]:
    written = picture_names(file.target, len(file.sides)) if wish.picture else [file.target]
    return [
        {
            "file": path.name, "page": "Print sheets", "sha256": _sha256(path), "bytes": path.stat().st_size,
            "sheets": max((side.sheet for side in file.sides), default=0), "sides": len(file.sides),
            "sheet_mm": [file.paper.width_mm, file.paper.height_mm],
            "on_a_side": max((len(side.placed) for side in file.sides), default=0),
            **({"blank_pages": list(file.blank)} if file.blank else {}),
            **({"edition": file.edition} if file.edition else {}),
        }
        for path in written
    ]  # fmt: skip


def _sha256(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()
