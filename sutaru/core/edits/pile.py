"""Edits of the pile and of what is said of its photos."""

import re
from bisect import insort
from datetime import datetime
from functools import lru_cache

from ..document import Edition, Filling, Job, Photo, Pile, Placement
from ..errors import EditRefused
from ..fitting import clamp_placement
from . import lookups
from .kinds import BringIn, Mark, PutAside, ReplacePhotos, Star, TakeOut, Worked
from .naming import Namer, count
from .table import EditRule, Table

FEW = 8  # photos that are put in one by one, each where it belongs: a large pile need not be sorted for them


def capture_order(photo: Photo) -> tuple[bool, datetime, list[tuple[int, str]]]:
    """By capture time; photos without one come last, by name, in which numbers count as numbers."""
    return photo.taken is None, photo.taken or datetime.min, _parts(photo.name)


@lru_cache(maxsize=16384)
def _parts(name: str) -> list[tuple[int, str]]:
    return [(int(part or 0), "") if part.isdecimal() else (-1, part) for part in re.split(r"(\d+)", name.lower())]


def bring_in(job: Job, edit: BringIn) -> Job:
    fresh = {photo.id: photo for photo in edit.photos if photo.id not in job.pile.by_id}
    if not fresh:
        return job
    if len(fresh) > FEW:
        return _replace_pile(job, tuple(sorted((*job.photos, *fresh.values()), key=capture_order)))
    photos = list(job.photos)
    for photo in fresh.values():
        insort(photos, photo, key=capture_order)
    return _replace_pile(job, tuple(photos))


def _replace_pile(job: Job, photos: tuple[Photo, ...]) -> Job:
    return job.copy_with(pile=Pile.model_construct(photos=photos))


def take_out(job: Job, edit: TakeOut) -> Job:
    gone = {lookups.photo(job.pile, photo).id for photo in edit.photos}
    editions = tuple(_remove_from_edition(edition, gone) for edition in job.editions)
    return _replace_pile(job, tuple(p for p in job.photos if p.id not in gone)).copy_with(editions=editions)


def _remove_from_edition(edition: Edition, gone: set[str]) -> Edition:
    fillings = {sheet: _empty_openings(f, gone) if f.photos() & gone else f for sheet, f in edition.fillings.items()}
    tones = {k: v for k, v in edition.photo_tones.items() if k not in gone}
    if tones == edition.photo_tones and all(fillings[k] is f for k, f in edition.fillings.items()):
        return edition
    return edition.copy_with(fillings=fillings, photo_tones=tones)


def _empty_openings(filling: Filling, gone: set[str]) -> Filling:
    left: dict[str, Placement] = {k: p for k, p in filling.placements.items() if p.photo not in gone}
    return filling.copy_with(
        placements=left,
        spans={k: span for k, span in filling.spans.items() if span.placement.photo not in gone},
        by_hand=tuple(opening for opening in filling.by_hand if opening in left),
        tones={k: v for k, v in filling.tones.items() if filling.photo_in(k) not in gone},
    )


def _change_photos(job: Job, changes: dict[str, Photo]) -> Job:
    return _replace_pile(job, tuple(changes.get(photo.id, photo) for photo in job.photos))


def mark(job: Job, edit: Mark) -> Job:
    photo = lookups.photo(job.pile, edit.photo)
    return _change_photos(job, {photo.id: photo.copy_with(marked=edit.areas)})


def apply_worked(job: Job, edit: Worked) -> Job:
    return _change_photos(
        job, {p: lookups.photo(job.pile, p).copy_with(already_worked=edit.worked) for p in edit.photos}
    )


def star(job: Job, edit: Star) -> Job:
    return _change_photos(job, {p: lookups.photo(job.pile, p).copy_with(stars=edit.stars) for p in edit.photos})


def put_aside(job: Job, edit: PutAside) -> Job:
    return _change_photos(job, {p: lookups.photo(job.pile, p).copy_with(aside=edit.aside) for p in edit.photos})


def replace_photos(job: Job, edit: ReplacePhotos) -> Job:
    onto: dict[str, Photo] = {}
    changes: dict[str, Photo] = {}
    for pair in edit.photos:
        old, new = lookups.photo(job.pile, pair.old), lookups.photo(job.pile, pair.new)
        if old.id == new.id:
            raise EditRefused("A photo cannot take its own place.", "Choose another one.")
        onto[old.id] = new
        # What a person said of the one holds for the other, unless that was said of already.
        fields = {"marked": new.marked if new.marked is not None else old.marked, "stars": new.stars or old.stars}
        changes[new.id] = new.copy_with(**fields, already_worked=new.already_worked or old.already_worked, aside=False)
        changes[old.id] = old.copy_with(aside=True)
    if onto.keys() & {new.id for new in onto.values()}:
        raise EditRefused("A photo cannot come and go at once.", "Exchange one after the other.")
    job = _change_photos(job, changes)
    editions = tuple(_exchange_photos(job, edition, onto) for edition in job.editions)
    calendar = job.calendar
    if calendar and any(dated.photo in onto for dated in calendar.dates):
        dates = (d.copy_with(photo=onto[d.photo].id) if d.photo in onto else d for d in calendar.dates)
        calendar = calendar.copy_with(dates=tuple(dates))
    return job.copy_with(editions=editions, calendar=calendar)


def _exchange_photos(job: Job, edition: Edition, onto: dict[str, Photo]) -> Edition:
    fillings = {}
    for sheet, filling in edition.fillings.items():
        fillings[sheet] = _refit_photos(job, sheet, filling, onto) if filling.photos() & onto.keys() else filling
    tones = {onto[photo].id if photo in onto else photo: recipe for photo, recipe in edition.photo_tones.items()}
    return edition.copy_with(fillings=fillings, photo_tones=tones)


def _refit_photos(job: Job, sheet: str, filling: Filling, onto: dict[str, Photo]) -> Filling:
    """What lay there lies there in its new form: the same place of the photo, as large, without a gap."""
    entry = job.sheets_by_id.get(sheet)
    openings = entry.layout.openings_by_id if entry else {}
    placements = {}
    for identity, lies in filling.placements.items():
        new = onto.get(lies.photo)
        if new is not None:
            lies = lies.copy_with(photo=new.id)
            if identity in openings:
                lies = clamp_placement(openings[identity], new, lies)
        placements[identity] = lies
    spans = {
        k: span.copy_with(placement=span.placement.copy_with(photo=onto[span.placement.photo].id))
        if span.placement.photo in onto else span
        for k, span in filling.spans.items()
    }  # fmt: skip
    return filling.copy_with(placements=placements, spans=spans)


def _label_worked(_: Namer, edit: Worked) -> str:
    return f"mark {count(len(edit.photos), 'photo')} as {'' if edit.worked else 'not '}already edited"


def _label_replace(_: Namer, edit: ReplacePhotos) -> str:
    return f"replace {count(len(edit.photos), 'photo')}"


EDITS: Table = {
    BringIn: EditRule(bring_in, lambda _, edit: f"bring in {count(len(edit.photos), 'photo')}"),
    TakeOut: EditRule(take_out, lambda _, edit: f"remove {count(len(edit.photos), 'photo')}"),
    Mark: EditRule(mark, lambda name, edit: f"mark what to keep of {name.photo(edit.photo)}"),
    Worked: EditRule(apply_worked, _label_worked),
    ReplacePhotos: EditRule(replace_photos, _label_replace),
    Star: EditRule(star, lambda _, edit: f"give {count(edit.stars, 'star')} to {count(len(edit.photos), 'photo')}"),
    PutAside: EditRule(
        put_aside,
        lambda _, edit: f"put {count(len(edit.photos), 'photo')} {'aside' if edit.aside else 'back into the pile'}",
    ),
}
