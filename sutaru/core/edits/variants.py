"""A template's variant for each edition: a job holds the sheets of several, an edition those of one; photos and words come
along."""

import itertools
import math

from ..cards import CARD
from ..cards.orientation import is_suited, rotate_card
from ..document import Edition, Filling, Job, Opening, Photo, Sheet
from ..errors import EditRefused
from ..fitting import first_placement, reading_order
from . import lookups
from .kinds import ChooseVariant, MakeSet, Variant
from .naming import count
from .table import EditRule, Table

MOST_SHEETS, MOST_EDITIONS = 500, 1000
TURNED = "card-turned"  # the variant of a card that lies the other way


def choose_variant(job: Job, edit: ChooseVariant) -> Job:
    edition_then = lookups.edition(job, edit.edition)
    if job.book or any(sheet.role == "month" for sheet in job.sheets):
        raise EditRefused("A book or a calendar has no variants.", "Begin another job for the other one.")
    job = _add_variant(job, edit.template, edit.sheets)
    return lookups.replace_edition(job, change_variant(job, job.edition(edition_then.id), edit.template))


def _add_variant(job: Job, template: str, sheets: tuple[Sheet, ...]) -> Job:
    """The job with the sheets of a variant too, under ids that are free."""
    if template in {sheet.variant for sheet in job.sheets} or template == job.template:
        return _name_variants(job)
    if not sheets:
        raise EditRefused("This variant was not found here.", "Choose another.")
    if len(job.sheets) + len(sheets) > MOST_SHEETS:
        raise EditRefused(f"A job has at most {MOST_SHEETS} sheets.", "Begin another job.")
    job = _name_variants(job)
    taken = {sheet.id for sheet in job.sheets}
    fresh = []
    for sheet in sheets:
        identity = next(
            name for n in range(1, 1000) if (name := sheet.id if n == 1 else f"{sheet.id}-{n}") not in taken
        )
        taken.add(identity)
        fresh.append(sheet.copy_with(id=identity, variant=template))
    return job.copy_with(sheets=(*job.sheets, *fresh))


def make_set(job: Job, edit: MakeSet) -> Job:
    lookups.edition(job, edit.edition)
    photos = [lookups.photo(job.pile, photo) for photo in dict.fromkeys(edit.photos)]
    job = _add_variants_for(job.copy_with(variants=()), photos, edit.variants)
    like = job.edition(edit.edition)
    sheet, opening = _first_opening(job, like)
    if opening.content_locked:
        raise EditRefused(f"The opening {opening.name or opening.id} is locked by its template.")
    held = like.filling(sheet.id).photo_in(opening.id)
    # The card that was there is the set's card of its photo: it would be printed twice else.
    first = next((photo for photo in photos if photo.id == held), None if held else photos[0])
    if len(job.editions) + len(photos) - (first is not None) > MOST_EDITIONS:
        raise EditRefused(f"A job has at most {MOST_EDITIONS:,} editions.", "Begin another job.")
    taken = {edition.id for edition in job.editions}
    cards: list[Edition] = []
    for photo in photos:
        identity = like.id if photo is first else next(i for n in itertools.count(1) if (i := f"set-{n}") not in taken)
        taken.add(identity)
        card = like.copy_with(id=identity, name=photo.name.rsplit(".", 1)[0][:110] or identity, copies=edit.copies)
        if photo.id != held:
            on = lookups.OnSheet(sheet, like.filling(sheet.id), job.pile)
            filling = on.replace_placements({opening.id: first_placement(sheet.layout, opening, photo)}, by_hand=True)
            card = card.copy_with(fillings={**card.fillings, sheet.id: filling})
        cards.append(choose_best_variant(job, card))
    index = next(n for n, edition in enumerate(job.editions) if edition.id == like.id)
    if first is None:
        return job.copy_with(editions=(*job.editions, *cards))
    return job.copy_with(editions=(*job.editions[:index], *cards, *job.editions[index + 1 :]))


def _first_opening(job: Job, edition: Edition) -> tuple[Sheet, Opening]:
    for sheet in job.sheets_of(edition):
        for opening in sheet.layout.openings_to_fill.values():
            return sheet, opening
    raise EditRefused("There is no opening on these sheets.", "Draw one in the workshop first.")


def _add_variants_for(job: Job, photos: list[Photo], variants: tuple[Variant, ...]) -> Job:
    """The job with the sheets of the variants that some of these photos are best shown by; a folded card with itself turned."""
    if job.book or any(sheet.role == "month" for sheet in job.sheets):
        return job
    choices = {variant.template: variant.sheets for variant in variants if variant.template != job.template}
    if not choices and job.template == CARD and any(not is_suited(job, photo) for photo in photos):
        choices = {TURNED: rotate_card(job).sheets}
    sheets = tuple(sheet for sheet in job.sheets if sheet.variant in ("", job.template)) or job.sheets
    every = {job.template: sheets, **choices}
    best = {min(every, key=lambda name: _shape_distance(every[name], photo)) for photo in photos}
    for name in choices:
        if name in best:
            job = _add_variant(job, name, choices[name])
    return job


def _name_variants(job: Job) -> Job:
    """The job with its own template's name on the sheets that it began with, and on the editions that have those."""
    if all(sheet.variant for sheet in job.sheets):
        return job
    sheets = tuple(sheet if sheet.variant else sheet.copy_with(variant=job.template) for sheet in job.sheets)
    editions = tuple(
        edition if edition.variant else edition.copy_with(variant=job.template) for edition in job.editions
    )
    return job.copy_with(sheets=sheets, editions=editions)


def change_variant(job: Job, edition: Edition, variant: str) -> Edition:
    """An edition on the sheets of another variant. What lay on its sheets lies on those at the same place, where nothing did yet:
    photos in reading order, words by the names of their layers."""
    before, after = job.sheets_of(edition), job.sheets_of(edition.copy_with(variant=variant))
    fillings = dict(edition.fillings)
    for old, new in zip(before, after, strict=False):
        if edition.variant != variant and new.id not in fillings:
            fillings[new.id] = _carry_filling(job, edition.filling(old.id), old, new)
    return edition.copy_with(variant=variant, fillings=fillings)


def _carry_filling(job: Job, filling: Filling, old: Sheet, new: Sheet) -> Filling:
    held = [photo for opening in reading_order(old.layout) if (photo := filling.photo_in(opening.id))]
    openings = [opening for opening in reading_order(new.layout) if opening.visible and not opening.content_locked]
    known = job.pile.by_id
    lies = {
        opening.id: first_placement(new.layout, opening, known[photo])
        for opening, photo in zip(openings, held, strict=False) if photo in known
    }  # fmt: skip
    texts = {layer: words for layer, words in filling.texts.items() if layer in new.layout.texts_by_id}
    runs = {layer: run for layer, run in filling.runs.items() if layer in new.layout.texts_by_id}
    return Filling(placements=lies, texts=texts, runs=runs, by_hand=tuple(lies))


def choose_best_variant(job: Job, edition: Edition) -> Edition:
    """An edition on the variant, of those that the job holds, whose largest opening is shaped most like its first photo."""
    variants = tuple(dict.fromkeys(sheet.variant for sheet in job.sheets))
    first = _first_photo(job, edition)
    if len(variants) < 2 or first is None:
        return edition
    best = min(variants, key=lambda variant: _shape_distance(job.sheets_of(edition.copy_with(variant=variant)), first))
    return change_variant(job, edition, best)


def _first_photo(job: Job, edition: Edition) -> Photo | None:
    for sheet in job.sheets_of(edition):
        for opening in reading_order(sheet.layout):
            if (photo := job.pile.by_id.get(edition.filling(sheet.id).photo_in(opening.id))) is not None:
                return photo
    return None


def _shape_distance(sheets: tuple[Sheet, ...], photo: Photo) -> float:
    openings = [opening for sheet in sheets for opening in sheet.layout.openings()]
    largest = max(openings, key=lambda opening: opening.outline.area_mm2, default=None)
    shape = largest.outline.width_mm / largest.outline.height_mm if largest else 1.0
    return abs(math.log(shape * photo.height / photo.width))


EDITS: Table = {
    ChooseVariant: EditRule(
        choose_variant, lambda name, edit: f"choose another variant for {name.edition(edit.edition)}"
    ),
    MakeSet: EditRule(make_set, lambda _, edit: f"make a set of {count(len(edit.photos), 'photo')}"),
}
