"""The edits a job knows, each a Pydantic model told apart by ``op``."""

from typing import Annotated, Literal

from pydantic import Field

from ..document import MAX_ZOOM, LabSheet, Photo
from ..document.job import Fraction
from ..document.shapes import Degrees, Frozen

Ids = Annotated[tuple[str, ...], Field(min_length=1)]


class BringIn(Frozen):
    """Adds photos to the pile, which lies in order of capture; those already there are passed over."""

    op: Literal["bring_in"] = "bring_in"
    photos: Annotated[tuple[Photo, ...], Field(min_length=1)]


class TakeOut(Frozen):
    """Takes photos off the pile and out of every opening they lie in."""

    op: Literal["take_out"] = "take_out"
    photos: Ids


class Put(Frozen):
    """Puts a photo into an opening, just covering it; what lay there goes back to the pile."""

    op: Literal["put"] = "put"
    opening: str
    photo: str


class Place(Frozen):
    """Lays the photo of an opening anew. What would leave a gap is moved to the nearest placement that does not."""

    op: Literal["place"] = "place"
    opening: str
    fit: Literal["cover", "whole"] = "cover"
    centre: tuple[Fraction, Fraction]
    zoom: Annotated[float, Field(gt=0, le=MAX_ZOOM, allow_inf_nan=False)]
    turn_deg: Degrees
    mirror: bool


class Swap(Frozen):
    """Exchanges what two openings hold; one of them may be empty."""

    op: Literal["swap"] = "swap"
    first: str
    second: str


class Clear(Frozen):
    """Empties openings; their photos stay in the pile."""

    op: Literal["clear"] = "clear"
    openings: Ids


class Fill(Frozen):
    """Fills openings from the pile with the best assignment: all of them anew, or only the empty ones."""

    op: Literal["fill"] = "fill"
    only_empty: bool = False


class Write(Frozen):
    """Changes the words of a text layer; ``None`` brings back the template's."""

    op: Literal["write"] = "write"
    layer: str
    text: Annotated[str, Field(max_length=5000)] | None


class ChooseLab(Frozen):
    """Changes the lab sheet the job is made for."""

    op: Literal["choose_lab"] = "choose_lab"
    lab: LabSheet


class Rename(Frozen):
    """Changes the job's name and customer."""

    op: Literal["rename"] = "rename"
    name: Annotated[str, Field(min_length=1, max_length=120)]
    customer: Annotated[str, Field(max_length=120)] = ""


Edit = Annotated[
    BringIn | TakeOut | Put | Place | Swap | Clear | Fill | Write | ChooseLab | Rename, Field(discriminator="op")
]
