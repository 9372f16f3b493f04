"""What a job is begun with."""

from typing import Literal

from pydantic import Field

from ...core.cards import Folding
from ...core.cards.folding import Kind as Fold
from ...core.document import Dated
from ...core.document.base import Length
from ..messages import Message


class NewBook(Message):
    """A book from nothing: a size, paper and binding of its lab sheet's, by id; pages; a theme; its title."""

    size: str
    paper: str
    binding: str
    theme: str
    pages: int = Field(40, ge=1, le=2000)
    title: str = Field("", max_length=200)


class NewCard(Message):
    """A card from nothing: how it folds, how large it is closed, a theme. ``by_photo``: the first photo turns it."""

    fold: Literal["half", "tent", "gate", "tri", "accordion"]
    width_mm: Length
    height_mm: Length
    theme: str
    by_photo: bool = False


class Contact(Message):
    """A contact sheet: of these photos, or of all that are not put aside; on sheets of a size, so many in a row."""

    photos: list[str] = Field([], max_length=2000)
    width_mm: Length = 210.0
    height_mm: Length = 297.0
    columns: int = Field(5, ge=1, le=20)


class FoldKind(Message):
    """A way to fold, in words."""

    kind: Fold
    what: str


class FoldedJob(Message):
    """A card's folding, and which sheets are its sides; "" for a side that has none."""

    folding: Folding
    outside: str
    inside: str


class NewJob(Message):
    """What a job is started from: a template, or a ``book`` or ``card`` from nothing. ``by_photo``: the first photo chooses
    between the template and its variants. A calendar has so many ``months`` from the first on, in a locale's names, with the
    holidays of a country and region, and those that many keep there as well."""

    template: str = ""
    name: str = Field(min_length=1, max_length=120)
    customer: str = Field("", max_length=120)
    order_number: str = Field("", max_length=60)
    lab: str
    samples: bool = False
    by_photo: bool = False
    months: int = Field(0, ge=0, le=18)
    first_month: str = Field("", pattern=r"^([12]\d{3}-(0[1-9]|1[0-2]))?$")
    locale: str = Field("en_GB", max_length=20)
    country: str = Field("", pattern=r"^([A-Z]{2})?$")
    region: str = Field("", max_length=10)
    more_holidays: bool = False
    book: NewBook | None = None
    card: NewCard | None = None


class Duplicate(Message):
    """A job begun from another one: with all that lies in it; for new photos (``words``: all but its photos and how they were
    fitted); or with its sheets alone."""

    name: str = Field(min_length=1, max_length=120)
    customer: str | None = Field(None, max_length=120, description="else as before")
    order_number: str = Field("", max_length=60)
    keep: Literal["all", "words", "sheets"] = "all"


class Started(Message):
    """The id of a new job."""

    id: str


class DatesRead(Message):
    """Dates read from a file, which of its rows could not be told, and how many of the dates fall in no month of the job.
    ``order``: whether day or month came first in dates like 06/07/1999, "" without any; ``is_sure``: whether the file tells."""

    dates: list[Dated]
    untold: list[str]
    away: int
    order: Literal["day", "month", ""] = ""
    is_sure: bool = True


class Region(Message):
    """A region of a country, by its code and its name."""

    id: str
    name: str


class Country(Message):
    """A country whose holidays are known, with its regions; and whether there are days that many keep although the law does not
    have all keep them."""

    id: str
    name: str
    regions: list[Region]
    has_more_holidays: bool


class LocaleName(Message):
    """A locale, and what it is called by those who use it."""

    id: str
    name: str
