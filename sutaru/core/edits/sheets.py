"""Edits of which sheets there are, and of what a template in the workshop is for."""

from ..document import Job, Sheet
from ..errors import EditRefused
from . import asked
from .kinds import AddSheet, Describe, RemoveSheet, RenameSheet

MOST = 1000


def add(job: Job, edit: AddSheet) -> Job:
    if edit.fresh.id in job.sheets_by_id:
        raise EditRefused(f"There is a sheet {edit.fresh.id} already.", "Give this one its own id.")
    if len(job.sheets) >= MOST:
        raise EditRefused(f"There are {MOST} sheets already.", "Begin another job.")
    at = job.sheets.index(asked.sheet(job, edit.after)) + 1 if edit.after else len(job.sheets)
    return job.having(sheets=(*job.sheets[:at], edit.fresh, *job.sheets[at:]))


def remove(job: Job, edit: RemoveSheet) -> Job:
    gone = asked.sheet(job, edit.gone)
    if len(job.sheets) == 1:
        raise EditRefused("This is the only sheet.", "Add another one first.")
    return job.having(sheets=tuple(sheet for sheet in job.sheets if sheet is not gone))


def rename(job: Job, edit: RenameSheet) -> Job:
    before = asked.sheet(job, edit.which)
    after: Sheet = before.having(name=edit.name, role=edit.role or before.role)
    return job.having(sheets=tuple(after if sheet is before else sheet for sheet in job.sheets))


def describe(job: Job, edit: Describe) -> Job:
    if job.making is None:
        raise EditRefused("This is an order, not a template in the workshop.", "Keep its sheets as a template first.")
    said = {k: getattr(edit, k) for k in ("occasion", "tags", "note") if getattr(edit, k) is not None}
    return job.having(product=edit.product or job.product, making=job.making.having(**said))
