"""``sutaru doctor``: a data folder looked over, and repaired when asked to."""

import argparse

from ..core.checks.trial_paint import refuse_failures, try_painting
from ..core.document import Frozen, Job
from ..core.document.job import SheetList
from ..core.errors import NotFound
from ..core.fitting import resolve_sheet
from ..core.formats.shelf import read_shelf
from ..core.paint import Assets
from ..settings import find_data
from ..shelf import FOLDER
from ..store.doctor import Doctor
from ..work.tasks import take_in
from .screen import MARK


def doctor(args: argparse.Namespace) -> int:
    """Looks a data folder over, and mends it when asked to."""
    folder = find_data(args.data)
    if not folder.is_dir():
        raise NotFound(f"There is no folder {folder}.", "Give the data folder with --data.")

    def works(job: Job, asset: Assets) -> None:
        with refuse_failures("This"):
            for edition in job.editions:
                for sheet in job.sheets:
                    try_painting(resolve_sheet(job, sheet.id, edition.id, fonts=asset), asset)

    wrong = mended = 0
    shelf = read_shelf(FOLDER)
    shipped: list[Frozen] = list(shelf.labs.values())
    for template in shelf.templates.values():
        shipped += [*(sheet.layout for sheet in template.sheets), SheetList(sheets=template.sheets)]
    doctor = Doctor(folder, works, lambda path: take_in(str(path), path.name), shipped)
    for complaint in doctor.look(args.repair):
        wrong, mended = wrong + (not complaint.mended), mended + complaint.mended
        print(f"{'✓' if complaint.mended else MARK['stop']} {complaint.sentence} {complaint.remedy}")
    if doctor.aside.exists():
        print(f"What was replaced or moved lies in {doctor.aside}. Delete it when nothing of it is missed.")
    print(f"{wrong} to look after." if wrong else f"{mended} mended." if mended else "Nothing is wrong.")
    return 1 if wrong else 0
