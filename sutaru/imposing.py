"""``sutaru impose``: a job's pages on print sheets, as a PDF."""

import argparse
import json
import tempfile
from concurrent.futures import ThreadPoolExecutor
from datetime import datetime
from pathlib import Path

from .core.errors import ExportFailed, NotFound
from .core.formats import Bundle, read_shelf
from .core.paint import Painter
from .core.photos import PhotoPixels
from .core.press import EVERY, export
from .core.press.imposing import Paper, booklet, imposed, trims
from .core.press.print_sheets import Marks, write
from .shelf import FOLDER


def impose(args: argparse.Namespace) -> int:
    """Lays a job's pages on print sheets."""
    bundle = Bundle(Path(args.job))
    labs = read_shelf(FOLDER).labs
    if args.lab and args.lab not in labs:
        raise NotFound(f"There is no lab sheet {args.lab}.", f"Choose one of: {', '.join(labs)}.")
    lab = labs[args.lab] if args.lab else bundle.job.lab
    job = bundle.job.having(lab=lab.having(pdf=lab.pdf.having(one_file=True, cut="", fold="")))
    layout = job.sheets[0].layout
    size = layout.width_mm, layout.height_mm
    if any((sheet.layout.width_mm, sheet.layout.height_mm) != size for sheet in job.sheets):
        raise ExportFailed(
            "The sheets of this job are of several sizes.", "Impose those of one size: keep them as a job."
        )
    width, height = args.sheet
    paper = Paper(width, height, args.margin, args.grain)
    gap = 2 * layout.bleed_mm if args.gap is None else args.gap
    count = len(job.sheets)
    if args.booklet:
        sides = booklet(paper, size, count, args.duplex or "short", args.signature, args.creep)
        job = job.having(editions=job.editions[:1])
        gap = 0.0  # two pages meet in the fold
    else:
        sides = imposed(paper, size, _pieces(job, args), gap, args.duplex, args.piece_grain)
    made = datetime.now().astimezone()
    with tempfile.TemporaryDirectory() as folder, ThreadPoolExecutor(2) as threads:
        painter = Painter(PhotoPixels(bundle.original), threads)
        *files, _ = export(
            job, Path(folder), painter.pixels, made, "pdf", painter=painter, assets=bundle.asset, edition=EVERY
        )
        sources = [(path, number) for path in files for number in range(count)]
        folds = tuple((line.axis, line.at_mm) for line in layout.lines if line.kind == "fold")
        slug = f"{job.name} · {made:%Y-%m-%d}"
        write(Path(args.out), sources, sides, paper, size, Marks(folds=folds, slug=slug), made, gap)
    if args.json:
        told = [
            {"sheet": side.sheet, "side": "back" if side.back else "front", "pages": [p.page for p in side.placed],
             "trims_mm": trims(side, size)}
            for side in sides
        ]  # fmt: skip
        print(json.dumps(told, indent=1))
    else:
        most = max(len(side.placed) for side in sides)
        print(f"{args.out}: {max(side.sheet for side in sides)} sheets, {most} on a side")
    return 0


def _pieces(job, args: argparse.Namespace) -> list[tuple[int, int | None]]:  # type: ignore[no-untyped-def]
    """Pages by number, front and back, as often as each is to be printed."""
    count = len(job.sheets)
    found: list[tuple[int, int | None]] = []
    for n, edition in enumerate(job.editions):
        first = n * count
        step = 2 if args.duplex else 1
        pairs = [
            (first + at, first + at + 1 if args.duplex and at + 1 < count else None) for at in range(0, count, step)
        ]
        for pair in pairs:
            found += [pair] * (args.copies or edition.copies)
    return found
