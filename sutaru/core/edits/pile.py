"""Edits of the pile and of what is said of its photos."""

import re
from datetime import datetime
from functools import lru_cache

from ..document import Edition, Filling, Job, Photo, Pile, Placement
from . import asked
from .kinds import BringIn, Mark, PutAside, Star, TakeOut, Worked


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
