"""Editions from a list of customers: a row makes one, and changes it when the list has changed."""

import re
from collections.abc import Callable

from ..document import Edition, Filling, Job
from ..document.base import Frozen
from ..errors import EditRefused
from ..fitting import first_placement
from ..lists import Meaning
from ..lists.column_meanings import find_photos, plain_key
from . import lookups
from .kinds import TakeList
from .naming import count
from .table import EditRule, Table
from .variants import choose_best_variant

MOST_EDITIONS, MOST_FIELD, MOST_COPIES = 1000, 500, 100_000


class RowDone(Frozen):
    """What becomes of a row: ``new`` edition, ``changed``, the ``same`` as before, or ``failed`` with why in words. ``key``: by
    what it is known again the next time, its key or its name; of several rows of one name the later ones say which they are."""

    row: int
    name: str
    key: str = ""
    state: str
    edition: str = ""
    wrong: tuple[str, ...] = ()


def apply_list(job: Job, edit: TakeList) -> tuple[Job, list[RowDone]]:
    """The job with its list's rows as editions, and what became of each row. A row with something wrong changes nothing; the
    others go on. Raises EditRefused when the list and its columns do not fit together."""
    if len(edit.meanings) != len(edit.table.columns):
        raise EditRefused("Say of each column what it means.")
    column_keys = [meaning.key for meaning in edit.meanings if meaning.kind != "nothing"]
    if len(set(column_keys)) < len(column_keys):
        raise EditRefused("Two columns say the same.", "Leave one of them out.")
    if all(meaning.kind != "name" for meaning in edit.meanings):
        raise EditRefused("No column says who each row is for.", "Say which one is the name.")
    for meaning in edit.meanings:
        if meaning.kind == "words":
            lookups.find_on_sheet(job, meaning.sheet, "").text(meaning.layer)
        elif meaning.kind == "photo":
            lookups.find_on_sheet(job, meaning.sheet, "").opening(meaning.layer)
    like = lookups.edition(job, edit.like)
    by_key = {edition.listed["key"]: edition for edition in job.editions if "key" in edition.listed}
    by_name = {edition.listed["name"]: edition for edition in job.editions if "name" in edition.listed}
    has_keys = any(meaning.kind == "key" for meaning in edit.meanings)
    ids = {edition.id for edition in job.editions}
    editions_made: dict[str, Edition] = {}
    done: list[RowDone] = []
    keys: set[str] = set()
    names: set[str] = set()
    for number, row in enumerate(edit.table.rows, 1):
        cells = {m.key: cell for m, cell in zip(edit.meanings, row, strict=True) if m.kind != "nothing"}
        # Told apart by where it stands among rows of its name, whether those work or not: a row that is put right takes
        # nobody else's place.
        name = _free_name(cells["name"].strip()[:120], names)
        names.add(name)
        key = cells.get("key", "").strip() if has_keys else name
        wrong = _wrong_identity(cells, name, key, keys, has_keys)
        keys.add(key)
        old = None if wrong else by_key.get(key) if has_keys and key in by_key else by_name.get(name)
        if old and has_keys and old.listed.get("key", key) != key:
            old = None  # of that name, but another customer's
        if not wrong and old is None and len(ids) >= MOST_EDITIONS:
            wrong = f"A job has at most {MOST_EDITIONS:,} editions."
        if wrong:
            done.append(RowDone(row=number, name=name, key=key, state="failed", wrong=(wrong,)))
            continue
        listed = {**cells, "name": name}
        if has_keys:
            listed = {**cells, "key": key}
        identity = old.id if old else _identity(name, ids)
        base = old or like.copy_with(id=identity, name=name, copies=1, listed={})
        fresh, wrong_of_row = _apply_row(job, base, edit.meanings, listed)
        if wrong_of_row:
            done.append(RowDone(row=number, name=name, key=key, state="failed", wrong=tuple(wrong_of_row)))
            continue
        ids.add(identity)
        fresh = fresh.copy_with(listed=listed)
        editions_made[identity] = fresh if old and old.listed == listed else choose_best_variant(job, fresh)
        state = "new" if old is None else "same" if old.listed == listed else "changed"
        done.append(RowDone(row=number, name=name, key=key, state=state, edition=identity))
    changed = dict(editions_made)
    editions = [changed.pop(edition.id, edition) for edition in job.editions]
    return job.copy_with(editions=(*editions, *changed.values())), done


def take_list(job: Job, edit: TakeList) -> Job:
    after, done = apply_list(job, edit)
    if all(row.state == "failed" for row in done):
        raise EditRefused(f"No row of this list works: {done[0].wrong[0]}", "Look at what its columns mean.")
    return after


def _wrong_identity(cells: dict[str, str], name: str, key: str, keys: set[str], has_keys: bool) -> str:
    """What is wrong with how a row says whose it is, "" for nothing."""
    if not name:
        return "It says no name."
    if has_keys and not key:
        return "It says no key."
    if has_keys and key in keys:
        return f"An earlier row has the key {key} too."
    return ""


def _free_name(name: str, taken: set[str]) -> str:
    if not name or name not in taken:
        return name
    return next(free for n in range(2, MOST_EDITIONS + 2) if (free := f"{name[:110]} {n}") not in taken)


def _identity(name: str, taken: set[str]) -> str:
    stem = re.sub(r"[^a-z0-9]+", "-", plain_key(name)).strip("-")[:40] or "row"
    return next(i for n in range(1, MOST_EDITIONS + 2) if (i := stem if n == 1 else f"{stem}-{n}") not in taken)


def _apply_row(
    job: Job, edition: Edition, meanings: tuple[Meaning, ...], listed: dict[str, str]
) -> tuple[Edition, list[str]]:  # fmt: skip
    """An edition as its row says; only what the list says otherwise than before is touched. What is wrong with the row."""
    wrong: list[str] = []
    for meaning in meanings:
        if meaning.kind == "nothing" or edition.listed.get(meaning.key) == listed[meaning.key]:
            continue
        try:
            edition = _SAID[meaning.kind](job, edition, meaning, listed[meaning.key])
        except EditRefused as error:
            wrong.append(error.sentence)
    return edition, wrong


def _name(job: Job, edition: Edition, meaning: Meaning, cell: str) -> Edition:
    return edition.copy_with(name=cell)


def _copies(job: Job, edition: Edition, meaning: Meaning, cell: str) -> Edition:
    if not cell:
        return edition.copy_with(copies=1)
    if not cell.isdecimal() or len(cell) > 9 or not 1 <= int(cell) <= MOST_COPIES:
        raise EditRefused(f"{cell[:40]} is not a number of copies from 1 to {MOST_COPIES:,}.")
    return edition.copy_with(copies=int(cell))


def _key(job: Job, edition: Edition, meaning: Meaning, cell: str) -> Edition:
    return edition


def _field(job: Job, edition: Edition, meaning: Meaning, cell: str) -> Edition:
    if len(cell) > MOST_FIELD:
        raise EditRefused(f"What it says for {{{meaning.field}}} is longer than {MOST_FIELD} letters.")
    left = {name: value for name, value in edition.fields.items() if name != meaning.field}
    return edition.copy_with(fields={**left, meaning.field: cell} if cell else left)


def _replace_filling(edition: Edition, sheet: str, filling: Filling) -> Edition:
    return edition.copy_with(fillings={**edition.fillings, sheet: filling})


def _words(job: Job, edition: Edition, meaning: Meaning, cell: str) -> Edition:
    filling = edition.filling(meaning.sheet)
    runs = {layer: run for layer, run in filling.runs.items() if layer != meaning.layer}
    texts = {**filling.texts, meaning.layer: cell}
    return _replace_filling(edition, meaning.sheet, filling.copy_with(texts=texts, runs=runs))


def _photo(job: Job, edition: Edition, meaning: Meaning, cell: str) -> Edition:
    sheet = job.sheets_by_id[meaning.sheet]
    on = lookups.OnSheet(sheet, edition.filling(sheet.id), job.pile)
    opening = on.opening(meaning.layer)
    if on.filling.span_of(opening.id):
        raise EditRefused(f"Opening {on.number(opening.id)} is part of a span.")
    if not cell:
        return _replace_filling(edition, sheet.id, on.replace_placements({opening.id: None}))
    photos = find_photos(job.pile, cell)
    if not photos:
        raise EditRefused(f"There is no photo {cell} in the pile.")
    if len(photos) > 1:
        raise EditRefused(f"{len(photos)} photos are called {cell}.")
    lies = first_placement(sheet.layout, opening, photos[0])
    return _replace_filling(edition, sheet.id, on.replace_placements({opening.id: lies}, by_hand=True))


_SAID: dict[str, Callable[[Job, Edition, Meaning, str], Edition]] = {
    "name": _name, "key": _key, "copies": _copies, "field": _field, "words": _words, "photo": _photo,
}  # fmt: skip


EDITS: Table = {
    TakeList: EditRule(take_list, lambda _, edit: f"read in {count(len(edit.table.rows), 'row')} of a list"),
}
