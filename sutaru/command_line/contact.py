"""``sutaru contact``: a contact sheet's bundle, all photos small, with their names."""

import argparse
from pathlib import Path

from ..core.books.contact import contact_job
from ..core.formats.bundle import write_bundle
from ..core.paint import refuse_asset
from ..scripting.labs import find_lab
from ..scripting.photos import read_photos
from .job_names import name_job
from .screen import show_refused


def contact(args: argparse.Namespace) -> int:
    """Makes a contact sheet's bundle; 1 when some photos cannot be read, which are named and left out."""
    photos, originals, refused = read_photos(args.photos)
    lab = find_lab(args.lab)
    width, height = args.sheet
    job = contact_job(name_job(args.out, "Contact sheet"), photos, lab, width, height, args.columns)
    write_bundle(Path(args.out), job, lambda photo: originals[photo.id], refuse_asset)
    print(f"{args.out}: {len(photos)} photos on {len(job.sheets)} sheet{'s' if len(job.sheets) != 1 else ''}")
    return show_refused(refused)
