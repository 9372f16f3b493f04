"""A template's variant for each edition: a job holds the sheets of several, an edition those of one; photos and words come
along."""

import math

from ..document import Edition, Filling, Job, Photo, Sheet
from ..errors import EditRefused
from ..fitting import first_placement, reading_order
from . import asked
from .kinds import ChooseVariant

MOST_SHEETS = 500


def choose_variant(job: Job, edit: ChooseVariant) -> Job:
    own = asked.edition(job, edit.edition)
    if job.book or any(sheet.role == "month" for sheet in job.sheets):
        raise EditRefused("A book or a calendar has no variants.", "Begin another job for the other one.")
    if edit.template in {sheet.variant for sheet in job.sheets} or edit.template == job.template:
        return asked.with_edition(job, turned_to(_named(job), _named(job).edition(own.id), edit.template))
    if not edit.sheets:
        raise EditRefused("There is no such variant here.", "Choose another.")
    if len(job.sheets) + len(edit.sheets) > MOST_SHEETS:
        raise EditRefused(f"A job has at most {MOST_SHEETS} sheets.", "Begin another job.")
    job = _named(job)
    taken = {sheet.id for sheet in job.sheets}
    fresh = []
    for sheet in edit.sheets:
        identity = next(
            name for n in range(1, 1000) if (name := sheet.id if n == 1 else f"{sheet.id}-{n}") not in taken
        )
        taken.add(identity)
        fresh.append(sheet.having(id=identity, variant=edit.template))
    job = job.having(sheets=(*job.sheets, *fresh))
    return asked.with_edition(job, turned_to(job, job.edition(own.id), edit.template))


def _named(job: Job) -> Job:
    """The job with its own template's name on the sheets that it began with, and on the editions that have those."""
    if all(sheet.variant for sheet in job.sheets):
        return job
    sheets = tuple(sheet if sheet.variant else sheet.having(variant=job.template) for sheet in job.sheets)
    editions = tuple(own if own.variant else own.having(variant=job.template) for own in job.editions)
    return job.having(sheets=sheets, editions=editions)


def turned_to(job: Job, edition: Edition, variant: str) -> Edition:
    """An edition on the sheets of another variant. What lay on its sheets lies on those at the same place, where nothing did yet:
    photos in reading order, words by the names of their layers."""
    before, after = job.sheets_of(edition), job.sheets_of(edition.having(variant=variant))
    fillings = dict(edition.fillings)
    for old, new in zip(before, after, strict=False):
        if edition.variant != variant and new.id not in fillings:
            fillings[new.id] = _carried(job, edition.filling(old.id), old, new)
    return edition.having(variant=variant, fillings=fillings)


def _carried(job: Job, filling: Filling, old: Sheet, new: Sheet) -> Filling:
    held = [photo for opening in reading_order(old.layout) if (photo := filling.held(opening.id))]
    openings = [opening for opening in reading_order(new.layout) if opening.visible and not opening.content_locked]
    known = job.pile.by_id
    lies = {
        opening.id: first_placement(new.layout, opening, known[photo])
        for opening, photo in zip(openings, held, strict=False) if photo in known
    }  # fmt: skip
    texts = {layer: words for layer, words in filling.texts.items() if layer in new.layout.texts_by_id}
    runs = {layer: found for layer, found in filling.runs.items() if layer in new.layout.texts_by_id}
    return Filling(placements=lies, texts=texts, runs=runs, by_hand=tuple(lies))


def suited(job: Job, edition: Edition) -> Edition:
    """An edition on the variant, of those that the job holds, whose largest opening is shaped most like its first photo."""
    variants = tuple(dict.fromkeys(sheet.variant for sheet in job.sheets))
    first = _first_photo(job, edition)
    if len(variants) < 2 or first is None:
        return edition
    best = min(variants, key=lambda variant: _unlike(job.sheets_of(edition.having(variant=variant)), first))
    return turned_to(job, edition, best)


def _first_photo(job: Job, edition: Edition) -> Photo | None:
    for sheet in job.sheets_of(edition):
        for opening in reading_order(sheet.layout):
            if (photo := job.pile.by_id.get(edition.filling(sheet.id).held(opening.id))) is not None:
                return photo
    return None


def _unlike(sheets: tuple[Sheet, ...], photo: Photo) -> float:
    openings = [opening for sheet in sheets for opening in sheet.layout.openings()]
    largest = max(openings, key=lambda opening: opening.outline.area_mm2, default=None)
    shape = largest.outline.width_mm / largest.outline.height_mm if largest else 1.0
    return abs(math.log(shape * photo.height / photo.width))
