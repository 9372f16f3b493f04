"""Applying edits. Every function gives a new document, or raises EditRefused and changes nothing."""

from ..books.binding import fit_covers
from ..books.book import rename_by_page
from ..document import Filling, Flat, Job, Layout, Template
from ..document.template import check_sheets
from ..errors import EditRefused
from . import (
    book,
    calendars,
    editions,
    filling,
    job_edits,
    kinds,
    layout,
    lettering,
    lists,
    lookups,
    pile,
    sheets,
    touch_edits,
    variants,
)
from .kinds import Edit, LayoutEdit
from .naming import Namer
from .table import Table

_SUBJECTS = (
    book,
    calendars,
    editions,
    filling,
    job_edits,
    layout,
    lettering,
    lists,
    pile,
    sheets,
    touch_edits,
    variants,
)
RULES: Table = {kind: rule for subject in _SUBJECTS for kind, rule in subject.EDITS.items()}


def apply(job: Job, edit: Edit) -> Job:
    """The job after an edit. Raises EditRefused with a plain sentence, and then nothing has changed."""
    after = _apply_to_job(job, edit)
    if after.book and (after.sheets is not job.sheets or after.book is not job.book):
        after = rename_by_page(fit_covers(after))
    if after.sheets is not job.sheets:
        try:
            check_sheets(after.sheets)
        except ValueError as error:
            raise EditRefused(str(error)) from None
    return after


def _apply_to_job(job: Job, edit: Edit) -> Job:
    if isinstance(edit, kinds.LAYOUT_EDITS):
        sheet = lookups.sheet(job, edit.sheet)
        # What a filling says of a layer that is gone waits for it: no new layer may take its id.
        waiting = {identity for edition in job.editions for identity in edition.filling(sheet.id).layer_ids()}
        changed_layout = layout.edit_layout(sheet.layout, edit, waiting)
        _check_spans(job, edit.sheet, changed_layout)
        return job.copy_with(
            sheets=tuple(s.copy_with(layout=changed_layout) if s.id == sheet.id else s for s in job.sheets)
        )
    if isinstance(edit, kinds.FILLING_EDITS):
        on = lookups.find_on_sheet(job, edit.sheet, edit.edition)
        changed: Filling = RULES[type(edit)].apply(on, edit)
        return job if changed == on.filling else lookups.replace_fillings(job, edit.edition, {edit.sheet: changed})
    job_after: Job = RULES[type(edit)].apply(job, edit)
    return job_after


def apply_to_template(template: Template, edit: LayoutEdit) -> Template:
    """The template after a layout edit. Raises EditRefused."""
    entry = next((sheet for sheet in template.sheets if sheet.id == edit.sheet), None)
    if entry is None:
        raise EditRefused(f"There is no sheet {edit.sheet} in this template.")
    sheet_after = entry.copy_with(layout=layout.edit_layout(entry.layout, edit))
    return template.copy_with(sheets=tuple(sheet_after if sheet is entry else sheet for sheet in template.sheets))


def _check_spans(job: Job, sheet: str, changed: Layout) -> None:
    """Raises EditRefused when an opening of a span would be slanted, bent or stretched."""
    for edition in job.editions:
        for span in edition.filling(sheet).spans.values():
            for opening in (changed.openings_by_id[o] for o in span.openings if o in changed.openings_by_id):
                if not isinstance(opening.surface, Flat) or opening.surface.is_distorted:
                    raise EditRefused(
                        f"A photo runs on through {opening.name or opening.id}, so it must lie flat.",
                        "End the span first.",
                    )


def label(job: Job, edit: Edit) -> str:
    """What the edit does, in a few words, for undo, redo and the history. ``job``: as it was before."""
    return RULES[type(edit)].label(Namer(job), edit)
