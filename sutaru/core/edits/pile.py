"""Edits of the pile and of what is said of its photos."""

import re
from datetime import datetime
from functools import lru_cache

from ..document import Edition, Filling, Job, Photo, Pile, Placement
from ..errors import EditRefused
from ..fitting import clamped
from . import asked
from .kinds import BringIn, Mark, PutAside, ReplacePhotos, Star, TakeOut, Worked


def capture_order(photo: Photo) -> tuple[bool, datetime, list[tuple[int, str]]]:
    """By capture time; photos without one come last, by name, in which numbers count as numbers."""
    return photo.taken is None, photo.taken or datetime.min, _parts(photo.name)


@lru_cache(maxsize=16384)
def _parts(name: str) -> list[tuple[int, str]]:
    return [(int(part or 0), "") if part.isdecimal() else (-1, part) for part in re.split(r"(\d+)", name.lower())]


def bring_in(job: Job, edit: BringIn) -> Job:
    fresh = {photo.id: photo for photo in edit.photos if photo.id not in job.pile.by_id}
    return _with_photos(job, tuple(sorted((*job.photos, *fresh.values()), key=capture_order))) if fresh else job


def _with_photos(job: Job, photos: tuple[Photo, ...]) -> Job:
    return job.having(pile=Pile.model_construct(photos=photos))


def take_out(job: Job, edit: TakeOut) -> Job:
    gone = {asked.photo(job.pile, photo).id for photo in edit.photos}
    editions = tuple(_without(edition, gone) for edition in job.editions)
    return _with_photos(job, tuple(p for p in job.photos if p.id not in gone)).having(editions=editions)


def _without(edition: Edition, gone: set[str]) -> Edition:
    fillings = {sheet: _emptied(f, gone) if f.photos() & gone else f for sheet, f in edition.fillings.items()}
    tones = {k: v for k, v in edition.photo_tones.items() if k not in gone}
    if tones == edition.photo_tones and all(fillings[k] is f for k, f in edition.fillings.items()):
        return edition
    return edition.having(fillings=fillings, photo_tones=tones)


def _emptied(filling: Filling, gone: set[str]) -> Filling:
    left: dict[str, Placement] = {k: p for k, p in filling.placements.items() if p.photo not in gone}
    return filling.having(
        placements=left,
        spans={k: span for k, span in filling.spans.items() if span.placement.photo not in gone},
        by_hand=tuple(opening for opening in filling.by_hand if opening in left),
        tones={k: v for k, v in filling.tones.items() if filling.held(k) not in gone},
    )


def _changed(job: Job, changes: dict[str, Photo]) -> Job:
    return _with_photos(job, tuple(changes.get(photo.id, photo) for photo in job.photos))


def mark(job: Job, edit: Mark) -> Job:
    photo = asked.photo(job.pile, edit.photo)
    return _changed(job, {photo.id: photo.having(marked=edit.areas)})


def worked(job: Job, edit: Worked) -> Job:
    return _changed(job, {p: asked.photo(job.pile, p).having(already_worked=edit.worked) for p in edit.photos})


def star(job: Job, edit: Star) -> Job:
    return _changed(job, {p: asked.photo(job.pile, p).having(stars=edit.stars) for p in edit.photos})


def put_aside(job: Job, edit: PutAside) -> Job:
    return _changed(job, {p: asked.photo(job.pile, p).having(aside=edit.aside) for p in edit.photos})


def replace_photos(job: Job, edit: ReplacePhotos) -> Job:
    onto: dict[str, Photo] = {}
    changes: dict[str, Photo] = {}
    for pair in edit.photos:
        old, new = asked.photo(job.pile, pair.old), asked.photo(job.pile, pair.new)
        if old.id == new.id:
            raise EditRefused("A photo cannot take its own place.", "Choose another one.")
        onto[old.id] = new
        # What a person said of the one holds for the other, unless that was said of already.
        said = {"marked": new.marked if new.marked is not None else old.marked, "stars": new.stars or old.stars}
        changes[new.id] = new.having(**said, already_worked=new.already_worked or old.already_worked, aside=False)
        changes[old.id] = old.having(aside=True)
    if onto.keys() & {new.id for new in onto.values()}:
        raise EditRefused("A photo cannot come and go at once.", "Exchange one after the other.")
    job = _changed(job, changes)
    editions = tuple(_exchanged(job, edition, onto) for edition in job.editions)
    calendar = job.calendar
    if calendar and any(dated.photo in onto for dated in calendar.dates):
        dates = (d.having(photo=onto[d.photo].id) if d.photo in onto else d for d in calendar.dates)
        calendar = calendar.having(dates=tuple(dates))
    return job.having(editions=editions, calendar=calendar)


def _exchanged(job: Job, edition: Edition, onto: dict[str, Photo]) -> Edition:
    fillings = {}
    for sheet, filling in edition.fillings.items():
        fillings[sheet] = _refitted(job, sheet, filling, onto) if filling.photos() & onto.keys() else filling
    tones = {onto[photo].id if photo in onto else photo: recipe for photo, recipe in edition.photo_tones.items()}
    return edition.having(fillings=fillings, photo_tones=tones)


def _refitted(job: Job, sheet: str, filling: Filling, onto: dict[str, Photo]) -> Filling:
    """What lay there lies there in its new form: the same place of the photo, as large, without a gap."""
    found = job.sheets_by_id.get(sheet)
    openings = found.layout.openings_by_id if found else {}
    placements = {}
    for identity, lies in filling.placements.items():
        new = onto.get(lies.photo)
        if new is not None:
            lies = lies.having(photo=new.id)
            if identity in openings:
                lies = clamped(openings[identity], new, lies)
        placements[identity] = lies
    spans = {
        k: span.having(placement=span.placement.having(photo=onto[span.placement.photo].id))
        if span.placement.photo in onto else span
        for k, span in filling.spans.items()
    }  # fmt: skip
    return filling.having(placements=placements, spans=spans)
