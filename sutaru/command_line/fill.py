"""``sutaru fill``: a bundle of a template and photos."""

import argparse

from ..scripting.shelf import open_shelf
from .job_names import name_job
from .screen import show_refused


def fill(args: argparse.Namespace) -> int:
    """Make a bundle from a template and photos; 1 when some of them cannot be read, which are named and left out."""
    job = open_shelf().start(args.template, lab=args.lab)
    job.rename(name_job(args.out, job.job.name))
    refused = job.add_photos(args.photos)
    openings = sum(len(sheet.layout.openings_to_fill) for sheet in job.job.sheets)
    filled = job.fill() if openings else 0
    job.save(args.out)
    print(f"{args.out}: {filled} of {openings} openings filled")
    return show_refused(refused)
