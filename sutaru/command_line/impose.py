"""``sutaru impose``: a job's pages on print sheets, as a PDF."""

import argparse
import json
from concurrent.futures import ThreadPoolExecutor
from datetime import datetime
from pathlib import Path

from pydantic import ValidationError

from ..core.errors import NotFound, describe_complaint
from ..core.formats.bundle import Bundle
from ..core.press.imposing import trims
from ..core.press.print_wishes import PrintWish
from ..core.press.printing import print_sheets
from ..scripting.labs import find_lab
from ..scripting.photos import look_at_photos, painter_of


def impose(args: argparse.Namespace) -> int:
    """Lays a job's pages on print sheets."""
    bundle = Bundle(Path(args.job))
    job = look_at_photos(bundle.job, bundle.original)
    job = job.copy_with(lab=find_lab(args.lab)) if args.lab else job
    width, height = args.sheet
    try:
        wish = PrintWish(
            width_mm=width, height_mm=height, margin_mm=args.margin, gap_mm=args.gap, copies=args.copies,
            duplex=args.duplex or "", grain=args.grain or "", piece_grain=args.piece_grain, booklet=args.booklet,
            signature=args.signature, creep_mm=args.creep, picture=args.out.lower().endswith((".jpg", ".jpeg")),
        )  # fmt: skip
    except ValidationError as error:
        raise NotFound(describe_complaint(error.errors()[0])) from None
    with ThreadPoolExecutor(2) as threads:
        painter = painter_of(bundle.original, threads)
        files, _ = print_sheets(job, Path(args.out), wish, painter, datetime.now().astimezone(), bundle.asset)
    if args.json:
        rows = [
            {"sheet": side.sheet, "side": "back" if side.back else "front", "pages": [p.page for p in side.placed],
             "trims_mm": trims(side, print_file.size_mm), **({"file": print_file.target.name} if len(files) > 1 else {})}
            for print_file in files for side in print_file.sides
        ]  # fmt: skip
        print(json.dumps(rows, indent=1))
        return 0
    for print_file in files:
        most = max(len(side.placed) for side in print_file.sides)
        count = max(side.sheet for side in print_file.sides)
        print(
            f"{print_file.target}: {count} {'sheet' if count == 1 else 'sheets'}, {most} on a side"
            f"{_describe_blank_pages(print_file.blank)}"
        )
    return 0


def _describe_blank_pages(pages: tuple[int, ...]) -> str:
    if not pages:
        return ""
    which = ", ".join(map(str, pages))
    return f"; {'page' if len(pages) == 1 else 'pages'} {which} {'stays' if len(pages) == 1 else 'stay'} blank"
