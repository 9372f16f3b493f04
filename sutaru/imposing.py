"""``sutaru impose``: a job's pages on print sheets, as a PDF."""

import argparse
import json
from concurrent.futures import ThreadPoolExecutor
from datetime import datetime
from pathlib import Path

from pydantic import ValidationError

from .commands import looked_at
from .core.errors import NotFound, in_words
from .core.formats import Bundle, read_shelf
from .core.paint import Painter
from .core.photos import PhotoPixels
from .core.press.imposing import trims
from .core.press.printing import PrintWish, print_sheets
from .shelf import FOLDER


def impose(args: argparse.Namespace) -> int:
    """Lays a job's pages on print sheets."""
    bundle = Bundle(Path(args.job))
    labs = read_shelf(FOLDER).labs
    if args.lab and args.lab not in labs:
        raise NotFound(f"There is no lab sheet {args.lab}.", f"Choose one of: {', '.join(labs)}.")
    job = looked_at(bundle.job, bundle.original)
    job = job.having(lab=labs[args.lab]) if args.lab else job
    width, height = args.sheet
    try:
        wish = PrintWish(
            width_mm=width, height_mm=height, margin_mm=args.margin, gap_mm=args.gap, copies=args.copies,
            duplex=args.duplex or "", grain=args.grain or "", piece_grain=args.piece_grain, booklet=args.booklet,
            signature=args.signature, creep_mm=args.creep, picture=args.out.lower().endswith((".jpg", ".jpeg")),
        )  # fmt: skip
    except ValidationError as error:
        raise NotFound(in_words(error.errors()[0])) from None
    with ThreadPoolExecutor(2) as threads:
        painter = Painter(PhotoPixels(bundle.original), threads)
        files, _ = print_sheets(job, Path(args.out), wish, painter, datetime.now().astimezone(), bundle.asset)
    if args.json:
        told = [
            {"sheet": side.sheet, "side": "back" if side.back else "front", "pages": [p.page for p in side.placed],
             "trims_mm": trims(side, one.size_mm), **({"file": one.target.name} if len(files) > 1 else {})}
            for one in files for side in one.sides
        ]  # fmt: skip
        print(json.dumps(told, indent=1))
        return 0
    for one in files:
        most = max(len(side.placed) for side in one.sides)
        count = max(side.sheet for side in one.sides)
        print(
            f"{one.target}: {count} {'sheet' if count == 1 else 'sheets'}, {most} on a side{_describe_blank_pages(one.blank)}"
        )
    return 0


def _describe_blank_pages(pages: tuple[int, ...]) -> str:
    if not pages:
        return ""
    which = ", ".join(map(str, pages))
    return f"; {'page' if len(pages) == 1 else 'pages'} {which} {'stays' if len(pages) == 1 else 'stay'} blank"
