"""A job as the parts it is stored in: each small, each once, named by the hash of its content.

The root names the lab sheet, the list of sheets (which names layouts), the pile (which names chunks of photos) and the editions
(which name fillings, and what photos are retouched by).
Two states of a job share all parts that are the same in both, and so do two jobs begun from one template.
"""

import json
from collections.abc import Callable, Iterator, Mapping, MutableMapping
from typing import Any, TypeVar

from pydantic import ValidationError

from ..errors import EditRefused, FileRefused, describe_complaint
from .base import Frozen, name_of
from .filling import EMPTY, Edition, Filling
from .job import Job, SheetList
from .lab import LabSheet
from .layout import Layout, Sheet
from .photo import UNSAID, EarlierPile, Photo, Pile, PileChunk
from .retouching import Retouching

P = TypeVar("P", bound=Frozen)
Fetch = Callable[[str], bytes]  # a part by its name
Facts = Callable[[list[str]], Mapping[str, Photo]]  # what is known of photos, by their ids


def parts(job: Job) -> Iterator[Frozen]:
    """All parts of a job, the root last."""
    yield job.lab
    yield from {sheet.layout.digest: sheet.layout for sheet in job.sheets}.values()
    yield job.sheet_list
    yield from job.pile.chunks
    yield job.pile
    for edition in job.editions:
        yield from (filling for filling in edition.fillings.values() if filling is not EMPTY)
        yield from (recipe.retouching for recipe in edition.photo_tones.values() if recipe.retouching)
        yield edition
    yield job


def new_parts(job: Job, before: Job | None) -> Iterator[Frozen]:
    """Parts of a job that another state of it does not have, the root last. Costs what differs, not what there is."""
    if before is None:
        yield from parts(job)
        return
    if job.lab is not before.lab:
        yield job.lab
    if job.sheets is not before.sheets:
        known = {sheet.layout.digest for sheet in before.sheets}
        layouts_new = {s.layout.digest: s.layout for s in job.sheets if s.layout.digest not in known}
        yield from layouts_new.values()
        yield job.sheet_list
    if job.pile is not before.pile:
        had = {chunk.digest for chunk in before.pile.chunks}
        yield from (chunk for chunk in job.pile.chunks if chunk.digest not in had)
        yield job.pile
    old = {edition.id: edition for edition in before.editions}
    for edition in job.editions:
        was = old.get(edition.id)
        if edition is was:
            continue
        for sheet, filling in edition.fillings.items():
            if filling is not EMPTY and (was is None or was.fillings.get(sheet) is not filling):
                yield filling
        for photo, recipe in edition.photo_tones.items():
            before_it = was.photo_tones.get(photo) if was else None
            if recipe.retouching and (before_it is None or before_it.retouching is not recipe.retouching):
                yield recipe.retouching
        yield edition
    yield job


def unpack_job(root: str, fetch: Fetch, facts: Facts, parts_read: MutableMapping[str, Frozen]) -> Job:
    """The job of a root. Parts found in ``parts_read`` are not read again, and those read are put there.

    Raises FileRefused when a part is missing or damaged.
    """

    def load(name: str) -> dict[str, Any]:
        data = fetch(name)
        if name_of(data) != name:
            raise FileRefused("A part of this job is damaged on the disk.", "Go back to an earlier state of it.")
        fields: dict[str, Any] = json.loads(data)
        return fields

    def part(name: str, make: Callable[[dict[str, Any]], P]) -> P:
        known = parts_read.get(name)
        if known is None:
            known = parts_read[name] = make(load(name))
        return known  # type: ignore[return-value]

    def unpack_filling(name: str) -> Filling:
        return part(name, Filling.model_validate)

    def edition(data: dict[str, Any]) -> Edition:
        held = {sheet: unpack_filling(name) for sheet, name in data.pop("fillings").items()}
        for recipe in data.get("photo_tones", {}).values():
            if name := recipe.get("retouching"):
                recipe["retouching"] = part(name, Retouching.model_validate)
        return Edition.model_validate(data).copy_with(fillings=held)

    def pile(data: dict[str, Any]) -> Pile:
        if "photos" in data:
            known = facts([entry["id"] for entry in data["photos"]])
            return EarlierPile(photos=tuple(_join_photo(known, entry) for entry in data["photos"]))
        entries = {name: load(name)["photos"] for name in data["chunks"] if name not in parts_read}
        known = facts([entry["id"] for chunk in entries.values() for entry in chunk])
        for name, chunk in entries.items():
            parts_read[name] = PileChunk(photos=tuple(_join_photo(known, entry) for entry in chunk))
        held = [part(name, PileChunk.model_validate) for name in data["chunks"]]
        return Pile(photos=tuple(photo for chunk in held for photo in chunk.photos))

    def sheets(data: dict[str, Any]) -> SheetList:
        rows = [{**row, "layout": part(row["layout"], Layout.model_validate)} for row in data["sheets"]]
        return SheetList(sheets=tuple(Sheet(**row) for row in rows))

    try:
        data = load(root)
        listed = part(data.pop("sheets"), sheets)
        lab = part(data.pop("lab"), LabSheet.model_validate)
        held = part(data.pop("pile"), pile)
        editions = tuple(part(name, edition) for name in data.pop("editions"))
        return Job(**data, lab=lab, sheets=listed.sheets, pile=held, editions=editions)
    except (ValidationError, KeyError, ValueError) as error:
        raise FileRefused("A part of this job cannot be read.", "Go back to an earlier state of it.") from error


def read_back(job: Job, before: Job | None) -> tuple[Job, list[Frozen]]:
    """A job as a fresh process will read it, and those of its parts that ``before`` does not have, the root last.

    Called before anybody is told that a state is stored, so that every stored state can be read. What ``before`` has was
    read when it came. Raises EditRefused when a part cannot be read.
    """
    parts_new = list(new_parts(job, before))
    names = {part.digest for part in parts_new}
    known = {part.digest: part for part in _parts_named_by(job, names) if part.digest not in names}
    if job.pile.digest in names:
        known[job.pile.digest] = _check_pile(job.pile, before.pile if before else Pile())
    packed = {part.digest: part.pack() for part in parts_new}
    try:
        again = unpack_job(job.digest, packed.__getitem__, lambda ids: job.pile.by_id, known)
    except FileRefused as error:
        raise EditRefused(f"This cannot be stored: {_reason(error)}", "Do it another way.") from error
    if again.digest == job.digest:
        return job, parts_new
    # Equal in value, written otherwise (1 for 1.0): what is stored is what will be read.
    return again, list(new_parts(again, before))


def _parts_named_by(job: Job, names: set[str]) -> Iterator[Frozen]:
    """The parts that the root of a job names, and those that its new parts name."""
    yield from (job.lab, job.sheet_list, job.pile, *job.editions)
    if job.sheet_list.digest in names:
        yield from (sheet.layout for sheet in job.sheets)
    for edition in job.editions:
        if edition.digest in names:
            yield from edition.fillings.values()
            yield from (recipe.retouching for recipe in edition.photo_tones.values() if recipe.retouching)


def _check_pile(pile: Pile, before: Pile) -> Pile:
    """A pile whose new photos are read back one by one: the facts of each lie in the store."""
    old = before.by_id
    try:
        read = {
            photo.id: Photo.model_validate(photo.model_dump())
            for photo in pile.photos
            if old.get(photo.id) is not photo
        }
        if len(pile.by_id) == len(pile.photos) and all(pile.by_id[name] == photo for name, photo in read.items()):
            return pile
        return Pile(photos=tuple(read.get(photo.id, photo) for photo in pile.photos))
    except ValidationError as error:
        raise EditRefused(
            f"This cannot be stored: {describe_complaint(error.errors()[0])}", "Do it another way."
        ) from error


def _reason(error: FileRefused) -> str:
    cause = error.__cause__
    return describe_complaint(cause.errors()[0]) if isinstance(cause, ValidationError) else error.sentence


def _join_photo(known: Mapping[str, Photo], entry: dict[str, Any]) -> Photo:
    fields = {k: v for k, v in entry.items() if k != "id"}
    fact = known[entry["id"]]
    if set(fields) == {"name"}:
        return fact.copy_with(name=fields["name"], **UNSAID)
    return Photo.model_validate({**fact.model_dump(exclude=set(UNSAID)), **fields})
