"""Applying edits. Every function takes a job and gives a new one, or raises EditRefused and changes nothing."""

import re
from collections.abc import Callable
from datetime import datetime
from typing import Any

from ..document import Job, Opening, Photo, Placement, Text
from ..errors import EditRefused
from ..fitting import assigned, clamped, first_placement
from .kinds import BringIn, ChooseLab, Clear, Edit, Fill, Place, Put, Rename, Swap, TakeOut, Write


def _opening(job: Job, identity: str) -> Opening:
    if identity not in job.openings_by_id:
        raise EditRefused(f"There is no opening {identity} in this job.", "Choose one of the ledger's.")
    opening = job.openings_by_id[identity]
    if opening.locked:
        raise EditRefused(f"The opening {opening.name or identity} is locked by its template.")
    return opening


def _photo(job: Job, identity: str) -> Photo:
    if identity not in job.photos_by_id:
        raise EditRefused("This photo is not in the pile.", "Bring it in first.")
    return job.photos_by_id[identity]


def _text(job: Job, identity: str) -> Text:
    if identity not in job.texts_by_id:
        raise EditRefused(f"There is no text {identity} in this job.")
    return job.texts_by_id[identity]


def _placed(job: Job, changes: dict[str, Placement | None]) -> Job:
    """The job with some placements changed; None empties."""
    placements = {**job.edition.placements, **{k: v for k, v in changes.items() if v}}
    for opening, placement in changes.items():
        if placement is None:
            placements.pop(opening, None)
    return job.having(edition=job.edition.having(placements=placements))


def _capture_order(photo: Photo) -> tuple[bool, datetime, list[tuple[int, str]]]:
    """By capture time; photos without one come last, by name, in which numbers count as numbers."""
    parts = [(int(part or 0), "") if part.isdigit() else (-1, part) for part in re.split(r"(\d+)", photo.name.lower())]
    return photo.taken is None, photo.taken or datetime.min, parts


def _bring_in(job: Job, edit: BringIn) -> Job:
    fresh = {photo.id: photo for photo in edit.photos if photo.id not in job.photos_by_id}
    return job.having(photos=tuple(sorted((*job.photos, *fresh.values()), key=_capture_order)))


def _take_out(job: Job, edit: TakeOut) -> Job:
    for photo in edit.photos:
        _photo(job, photo)
    gone = set(edit.photos)
    emptied: dict[str, Placement | None] = {o: None for o, p in job.edition.placements.items() if p.photo in gone}
    return _placed(job, emptied).having(photos=tuple(p for p in job.photos if p.id not in gone))


def _put(job: Job, edit: Put) -> Job:
    opening = _opening(job, edit.opening)
    return _placed(job, {opening.id: first_placement(opening, _photo(job, edit.photo))})


def _place(job: Job, edit: Place) -> Job:
    opening = _opening(job, edit.opening)
    held = job.edition.placements.get(opening.id)
    if held is None:
        raise EditRefused("This opening is empty.", "Put a photo into it first.")
    asked = held.having(
        fit=edit.fit, centre=edit.centre, zoom=edit.zoom, turn_deg=(edit.turn_deg + 180) % 360 - 180, mirror=edit.mirror
    )
    return _placed(job, {opening.id: clamped(opening, _photo(job, held.photo), asked)})


def _swap(job: Job, edit: Swap) -> Job:
    first, second = _opening(job, edit.first), _opening(job, edit.second)
    if first.id == second.id:
        raise EditRefused("A photo cannot be swapped with itself.", "Choose two openings.")
    held = job.edition.placements
    if first.id not in held and second.id not in held:
        raise EditRefused("Both openings are empty.", "Put a photo into one of them first.")

    def moved(onto: Opening, placement: Placement | None) -> Placement | None:
        return first_placement(onto, _photo(job, placement.photo)) if placement else None

    return _placed(job, {first.id: moved(first, held.get(second.id)), second.id: moved(second, held.get(first.id))})


def _clear(job: Job, edit: Clear) -> Job:
    openings = [_opening(job, opening).id for opening in edit.openings]
    if not job.edition.placements.keys() & set(openings):
        raise EditRefused("There is nothing to clear: the opening is empty.")
    return _placed(job, dict.fromkeys(openings, None))


def _fill(job: Job, edit: Fill) -> Job:
    held = job.edition.placements
    openings = [o for o in job.openings_by_id.values() if not o.locked]
    photos = list(job.photos)
    if edit.only_empty:
        openings = [o for o in openings if o.id not in held]
        used = {p.photo for p in held.values()}
        photos = [p for p in photos if p.id not in used]
        if not openings:
            raise EditRefused("No opening is empty.")
    # Sample photos are for looking at a template; they are used only where there is nothing else.
    own = [photo for photo in photos if not photo.sample] or photos
    if not own:
        raise EditRefused("There is no unused photo in the pile.", "Bring photos in first.")
    pairs = assigned(openings, own, job.lab)
    changes: dict[str, Placement | None] = dict.fromkeys((o.id for o in openings), None)
    changes |= {opening.id: first_placement(opening, photo) for opening, photo in pairs}
    return _placed(job, changes)


def _write(job: Job, edit: Write) -> Job:
    layer = _text(job, edit.layer)
    texts = {k: v for k, v in job.edition.texts.items() if k != layer.id}
    if edit.text is not None:
        texts[layer.id] = edit.text
    return job.having(edition=job.edition.having(texts=texts))


def _choose_lab(job: Job, edit: ChooseLab) -> Job:
    return job.having(lab=edit.lab)


def _rename(job: Job, edit: Rename) -> Job:
    return job.having(name=edit.name, customer=edit.customer)


_APPLY: dict[type[Any], Callable[[Job, Any], Job]] = {
    BringIn: _bring_in, TakeOut: _take_out, Put: _put, Place: _place, Swap: _swap, Clear: _clear, Fill: _fill,
    Write: _write, ChooseLab: _choose_lab, Rename: _rename,
}  # fmt: skip


def apply(job: Job, edit: Edit) -> Job:
    """The job after an edit. Raises EditRefused with a plain sentence, and then nothing has changed."""
    return _APPLY[type(edit)](job, edit)


def label(job: Job, edit: Edit) -> str:
    """What the edit does, in a few words, for undo and redo."""

    def number(identity: str) -> str:
        return str(list(job.openings_by_id).index(identity) + 1)

    match edit:
        case BringIn():
            return f"bring in {len(edit.photos)} photo{'s' if len(edit.photos) > 1 else ''}"
        case TakeOut():
            return f"take out {len(edit.photos)} photo{'s' if len(edit.photos) > 1 else ''}"
        case Put():
            return f"put a photo into {number(edit.opening)}"
        case Place():
            return f"fit {number(edit.opening)}"
        case Swap():
            return f"swap {number(edit.first)} and {number(edit.second)}"
        case Clear():
            return "clear " + ", ".join(number(o) for o in edit.openings)
        case Fill():
            return "fill the empty openings" if edit.only_empty else "fill all openings"
        case Write():
            return f"write {_text(job, edit.layer).name or edit.layer}"
        case ChooseLab():
            return f"choose {edit.lab.name}"
        case _:
            return f"rename to {edit.name}"
