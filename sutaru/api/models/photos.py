"""Photos of a pile, brought in, compared and measured."""

from pydantic import Field

from ...core.document import Photo, Sheet
from ...core.edits.editions import Difference
from ..messages import Message


class VariantSheets(Message):
    """A variant of a job's template."""

    template: str
    name: str
    sheets: tuple[Sheet, ...]


class Compared(Message):
    """Two editions beside each other: where they differ, and the keys of each sheet's picture in both."""

    differences: list[Difference]
    keys: dict[str, tuple[str, str]]


class Ranked(Message):
    """A photo of the pile as a candidate for an opening: the lower its cost, the better it fits."""

    photo: str
    cost: float
    used: bool


class PpiCell(Message):
    """A small part of an opening on the page (mm) and what it prints at."""

    points: list[tuple[float, float]]
    ppi: float


class PhotoIds(Message):
    """Which photos to tell of."""

    ids: list[str] = Field(max_length=5000)


class BroughtIn(Message):
    """A photo that was brought in, whether it was in the pile already, and the job's sequence number since."""

    photo: Photo
    known: bool
    seq: int
