"""What each column of a list says in a job: an edition's name, copies, a field, words, a photo; by its name and by example."""

import re
import unicodedata
from collections.abc import Iterable
from pathlib import PurePath
from typing import Annotated, Literal

from pydantic import Field

from ..document import Job, Photo, Pile
from ..document.base import Frozen
from ..words.fields import names
from .list_file import Table

Kind = Literal["nothing", "name", "key", "copies", "field", "words", "photo"]
_NAMES = {"name", "customer", "family", "edition", "client", "kunde", "nom", "naam", "names"}
_COPIES = {"copies", "copy", "quantity", "qty", "number", "count", "pieces", "amount"}
_KEYS = {
    "id", "key", "customer number", "customer id", "customer no", "order number", "order id", "order no", "reference",
}  # fmt: skip
_PHOTO = re.compile(r"^(photo|picture|image|file|opening|portrait)s? ?(\d*)$")
_MOSTLY = 0.6  # of a column's cells that say something


class Meaning(Frozen):
    """What a column says; the ``key`` tells rows apart, also when names or their order change. ``sheet`` and ``layer`` of words
    and photos, ``field`` of a field."""

    kind: Kind = "nothing"
    sheet: Annotated[str, Field(max_length=64)] = ""
    layer: Annotated[str, Field(max_length=64)] = ""
    field: Annotated[str, Field(max_length=40)] = ""

    @property
    def key(self) -> str:
        """The same as one word, by which an edition keeps what a list said."""
        return " ".join(filter(None, (self.kind, self.sheet, self.layer, self.field)))


def plain_key(text: str) -> str:
    """A name to compare: lower case, without accents, marks as spaces."""
    bare = unicodedata.normalize("NFKD", text).encode("ascii", "ignore").decode().casefold()
    return " ".join(re.findall(r"[a-z0-9]+", bare))


def list_meanings(job: Job) -> list[Meaning]:
    """All that a column can say in a job, in order: names, copies, fields, words, photos."""
    fields = [name for sheet in job.sheets for text in sheet.layout.texts_by_id.values() for name in names(text.text)]
    field_names = [name for name in dict.fromkeys((*fields, *job.fields)) if "." not in name and name not in _COMPUTED]
    words = [
        Meaning(kind="words", sheet=sheet.id, layer=text.id)
        for sheet in job.sheets for text in sheet.layout.texts_by_id.values() if not text.content_locked
    ]  # fmt: skip
    photos = [
        Meaning(kind="photo", sheet=sheet.id, layer=opening.id)
        for sheet in job.sheets for opening in sheet.layout.openings() if not opening.content_locked
    ]  # fmt: skip
    return [
        Meaning(kind="name"), Meaning(kind="key"), Meaning(kind="copies"),
        *(Meaning(kind="field", field=name) for name in field_names), *words, *photos,
    ]  # fmt: skip


_COMPUTED = {"page", "pages", "year", "month"}


def find_photos(pile: Pile, cell: str) -> list[Photo]:
    """The photos that a cell means: by their file's name, with or without its ending and folders."""
    name = PurePath(cell.replace("\\", "/")).name.casefold()
    stem = name.rsplit(".", 1)[0]
    exact = [photo for photo in pile.by_name.get(name, ()) if photo.name.casefold() == name]
    return exact or [photo for photo in pile.by_name.get(stem, ()) if photo.name.casefold().rsplit(".", 1)[0] == stem]


def match_columns(job: Job, table: Table) -> tuple[Meaning, ...]:
    """What each column of a list most likely says; "nothing" where that is not clear. No two say the same."""
    free = {meaning.key: meaning for meaning in list_meanings(job)}
    meanings: list[Meaning] = [Meaning()] * len(table.columns)
    order = sorted(range(len(table.columns)), key=lambda n: not _match_by_name(job, table.columns[n], free))
    for n in order:
        meaning = _match_by_name(job, table.columns[n], free) or _match_by_example(
            job, [row[n] for row in table.rows], free
        )
        if meaning is not None:
            meanings[n] = free.pop(meaning.key)
    if "name" in free:
        # Whoever a row is for stands in its first column of words that says nothing else.
        for n, column in enumerate(zip(*table.rows, strict=True)):
            unlike = len(set(column)) > len(column) / 2 and not all(map(_number, column))
            if meanings[n].kind == "nothing" and unlike and not _photos(job, column):
                meanings[n] = free["name"]
                break
    return tuple(meanings)


def _number(cell: str) -> bool:
    return not cell or cell.replace(".", "", 1).replace(",", "", 1).isdigit()


def _match_by_name(job: Job, column: str, free: dict[str, Meaning]) -> Meaning | None:
    key = plain_key(column)
    if not key:
        return None
    for meaning in free.values():
        if meaning.kind == "field" and key in (plain_key(meaning.field), plain_key(meaning.field.replace("_", " "))):
            return meaning
        if meaning.kind in ("words", "photo"):
            layer = job.sheets_by_id[meaning.sheet].layout.find(meaning.layer)
            if layer is not None and key in (plain_key(layer.name), plain_key(layer.id)):
                return meaning
    if key in _NAMES and "name" in free:
        return free["name"]
    if key in _KEYS and "key" in free:
        return free["key"]
    if key in _COPIES and "copies" in free:
        return free["copies"]
    if like := _PHOTO.match(key):
        photos = [meaning for meaning in free.values() if meaning.kind == "photo"]
        number = int(like[2] or 1) - 1
        every = [meaning for meaning in list_meanings(job) if meaning.kind == "photo"]
        return every[number] if number < len(every) and every[number] in photos else None
    return None


def _match_by_example(job: Job, cells: list[str], free: dict[str, Meaning]) -> Meaning | None:
    return (
        next((meaning for meaning in free.values() if meaning.kind == "photo"), None) if _photos(job, cells) else None
    )


def _photos(job: Job, cells: Iterable[str]) -> bool:
    """Whether most cells that say something are names of photos."""
    cells_filled = [cell for cell in cells if cell]
    return bool(cells_filled) and sum(bool(find_photos(job.pile, cell)) for cell in cells_filled) >= _MOSTLY * len(
        cells_filled
    )
