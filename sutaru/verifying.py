"""The command that reads print files back."""

import argparse
from pathlib import Path

from .commands import MARK
from .core.errors import NotFound
from .core.formats import read_shelf
from .core.verifying import verify as verified
from .shelf import FOLDER


def verify(args: argparse.Namespace) -> int:
    """Reads a print file back; 1 when something is against its standard or the lab sheet."""
    shelf = read_shelf(FOLDER)
    if args.lab and args.lab not in shelf.labs:
        raise NotFound(f"There is no lab sheet {args.lab}.", f"Choose one of: {', '.join(shelf.labs)}.")
    report = verified(Path(args.file), shelf.labs.get(args.lab or ""), shelf.asset)
    if args.json:
        print(report.model_dump_json(indent=1))
        return 1 if report.stopped else 0
    said = f"{report.standard or report.kind.upper()}, {report.pages} page{'s' if report.pages != 1 else ''}"
    if report.pages:
        print(f"{report.file}: {said}, structurally checked against {' and '.join(report.checked) or 'itself'}.")
    else:
        print(f"{report.file} could not be looked into.")
    for defect in report.defects:
        where = f"page {defect.page}: " if defect.page else ""
        print(f"{MARK[defect.severity]} {defect.severity:<4}  {where}{defect.sentence}")
    if not report.defects:
        print("In order.")
    return 1 if report.stopped else 0
