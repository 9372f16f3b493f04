"""Edits of the pile and of what is known of its photos."""

import re
from datetime import datetime
from functools import lru_cache

from ..document import Job, Photo, Placement
from ..errors import EditRefused
from . import asked
from .kinds import BringIn, EnhanceAll, Mark, Mend, TakeOut, Worked


def capture_order(photo: Photo) -> tuple[bool, datetime, list[tuple[int, str]]]:
    """By capture time; photos without one come last, by name, in which numbers count as numbers."""
    return photo.taken is None, photo.taken or datetime.min, _parts(photo.name)


@lru_cache(maxsize=16384)
def _parts(name: str) -> list[tuple[int, str]]:
    return [(int(part or 0), "") if part.isdigit() else (-1, part) for part in re.split(r"(\d+)", name.lower())]


def bring_in(job: Job, edit: BringIn) -> Job:
    fresh = {photo.id: photo for photo in edit.photos if photo.id not in job.photos_by_id}
    return job.having(photos=tuple(sorted((*job.photos, *fresh.values()), key=capture_order)))


def take_out(job: Job, edit: TakeOut) -> Job:
    for photo in edit.photos:
        asked.photo(job, photo)
    gone = set(edit.photos)
    emptied: dict[str, Placement | None] = {o: None for o, p in job.edition.placements.items() if p.photo in gone}
    left = asked.edition(
        asked.placed(job, emptied),
        spans={k: span for k, span in job.edition.spans.items() if span.placement.photo not in gone},
        photo_tones={k: v for k, v in job.edition.photo_tones.items() if k not in gone},
    )
    return left.having(photos=tuple(p for p in job.photos if p.id not in gone))


def _changed(job: Job, changes: dict[str, Photo]) -> Job:
    return job.having(photos=tuple(changes.get(photo.id, photo) for photo in job.photos))


def mark(job: Job, edit: Mark) -> Job:
    photo = asked.photo(job, edit.photo)
    return _changed(job, {photo.id: photo.having(marked=edit.areas)})


def worked(job: Job, edit: Worked) -> Job:
    return _changed(job, {p: asked.photo(job, p).having(already_worked=edit.worked) for p in edit.photos})


def mend(job: Job, edit: Mend) -> Job:
    if (edit.opening is None) == (edit.photo is None):
        raise EditRefused("Say what to mend: an opening, or a photo wherever it lies.")
    if edit.opening is not None:
        opening = asked.opening(job, edit.opening)
        if opening.id not in job.edition.placements:
            raise EditRefused("This opening is empty.", "Put a photo into it first.")
        tones = {k: v for k, v in job.edition.tones.items() if k != opening.id}
        return asked.edition(job, tones=tones | ({opening.id: edit.recipe} if edit.recipe is not None else {}))
    photo = asked.photo(job, edit.photo or "")
    tones = {k: v for k, v in job.edition.photo_tones.items() if k != photo.id}
    return asked.edition(job, photo_tones=tones | ({photo.id: edit.recipe} if edit.recipe is not None else {}))


def enhance_all(job: Job, edit: EnhanceAll) -> Job:
    return job.having(enhance=edit.on)
