"""``sutaru verify``: a print file read back."""

import argparse
from pathlib import Path

from ..core.formats.shelf import read_shelf
from ..core.verifying.print_files import verify as verify_file
from ..scripting.labs import find_lab
from ..shelf import FOLDER
from .screen import MARK


def verify(args: argparse.Namespace) -> int:
    """Reads a print file back; 1 when something is against its standard or the lab sheet."""
    lab = find_lab(args.lab) if args.lab else None
    report = verify_file(Path(args.file), lab, read_shelf(FOLDER).asset)
    if args.json:
        print(report.model_dump_json(indent=1))
        return 1 if report.has_stops else 0
    sentence = f"{report.standard or report.kind.upper()}, {report.pages} page{'s' if report.pages != 1 else ''}"
    if report.pages:
        print(f"{report.file}: {sentence}, structurally checked against {' and '.join(report.checked) or 'itself'}.")
    else:
        print(f"{report.file} could not be looked into.")
    for defect in report.defects:
        where = f"page {defect.page}: " if defect.page else ""
        print(f"{MARK[defect.severity]} {defect.severity:<4}  {where}{defect.sentence}")
    if not report.defects:
        print("Ready: nothing to correct.")
    return 1 if report.has_stops else 0
