"""The edits a job knows, each a Pydantic model told apart by ``op``."""

from typing import Annotated, Literal

from pydantic import Field

from ..document import MAX_ZOOM, Echo, KeepArea, LabSheet, Opening, Photo, Recipe
from ..document.job import Fraction
from ..document.shapes import Degrees, Frozen, Point

Ids = Annotated[tuple[str, ...], Field(min_length=1)]


class BringIn(Frozen):
    """Adds photos to the pile, which lies in order of capture; those already there are passed over."""

    op: Literal["bring_in"] = "bring_in"
    photos: Annotated[tuple[Photo, ...], Field(min_length=1)]


class TakeOut(Frozen):
    """Takes photos off the pile and out of every opening they lie in."""

    op: Literal["take_out"] = "take_out"
    photos: Ids


class Mark(Frozen):
    """Says by hand what of a photo must stay visible; ``None`` goes back to what the machine found."""

    op: Literal["mark"] = "mark"
    photo: str
    areas: Annotated[tuple[KeepArea, ...], Field(max_length=50)] | None


class Worked(Frozen):
    """Says that photos were already worked on, so that they are never enhanced by themselves; or that they were not."""

    op: Literal["worked"] = "worked"
    photos: Ids
    worked: bool = True


class Mend(Frozen):
    """Mends what an opening shows, or with ``photo`` that photo wherever it lies; ``None`` takes the mending away."""

    op: Literal["mend"] = "mend"
    opening: str | None = None
    photo: str | None = None
    recipe: Recipe | None


class EnhanceAll(Frozen):
    """Enhances every photo that was not already worked on and is not mended otherwise; or none."""

    op: Literal["enhance_all"] = "enhance_all"
    on: bool


class Put(Frozen):
    """Puts a photo into an opening, just covering it, with what must stay visible in view; what lay there goes back to the
    pile. In an opening of a span the photo runs on through all of it."""

    op: Literal["put"] = "put"
    opening: str
    photo: str


class Place(Frozen):
    """Lays the photo of an opening anew. What would leave a gap is moved to the nearest placement that does not.
    In a span the photo moves in all its openings."""

    op: Literal["place"] = "place"
    opening: str
    fit: Literal["cover", "whole"] = "cover"
    centre: tuple[Fraction, Fraction]
    zoom: Annotated[float, Field(gt=0, le=MAX_ZOOM, allow_inf_nan=False)]
    turn_deg: Degrees
    mirror: bool
    ratio: Annotated[float, Field(ge=0.05, le=20)] | None = None


class Swap(Frozen):
    """Exchanges what two openings hold; one of them may be empty. ``keep_fit``: zoom, turn and what is in the middle stay."""

    op: Literal["swap"] = "swap"
    first: str
    second: str
    keep_fit: bool = False


class Clear(Frozen):
    """Empties openings; their photos stay in the pile. A span is emptied as a whole and is none any more."""

    op: Literal["clear"] = "clear"
    openings: Ids


class Fill(Frozen):
    """Fills openings from the pile: those given, or all; or of these only the empty ones. Pinned ones and spans stay.

    ``best``: the best assignment. ``order``: photos stay in order of capture.
    """

    op: Literal["fill"] = "fill"
    how: Literal["best", "order"] = "best"
    only_empty: bool = False
    openings: Ids | None = None


class Pin(Frozen):
    """Pins openings, so that no filling touches them, or lets them go."""

    op: Literal["pin"] = "pin"
    openings: Ids
    pinned: bool = True


class KeepInView(Frozen):
    """Moves the photos of openings so that what must stay visible is seen; zoom, turn and mirror stay."""

    op: Literal["keep_in_view"] = "keep_in_view"
    openings: Ids


class SpanOver(Frozen):
    """Lets one photo run on through several openings: the one given, or else the first that lies in one of them."""

    op: Literal["span"] = "span"
    openings: Annotated[tuple[str, ...], Field(min_length=2)]
    photo: str | None = None


class Unspan(Frozen):
    """Ends the span an opening belongs to. Each of its openings goes on showing what it shows."""

    op: Literal["unspan"] = "unspan"
    opening: str


class Nudge(Frozen):
    """Shifts what one opening of a span shows off the others, mm to the right and down; (0, 0) puts it back."""

    op: Literal["nudge"] = "nudge"
    opening: str
    by: Point


class Alter(Frozen):
    """Changes an opening itself: its outline, surface, border, mat, shadow, opacity or blend. What lies in it stays fitted."""

    op: Literal["alter"] = "alter"
    layer: Opening


class EchoTo(Frozen):
    """Adds an echo, just below its source; or changes the one of that id."""

    op: Literal["echo"] = "echo"
    layer: Echo


class RemoveEcho(Frozen):
    """Takes an echo off its page."""

    op: Literal["remove_echo"] = "remove_echo"
    echo: str


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
    BringIn | TakeOut | Mark | Worked | Mend | EnhanceAll | Put | Place | Swap | Clear | Fill | Pin | KeepInView | SpanOver
    | Unspan | Nudge | Alter | EchoTo | RemoveEcho | Write | ChooseLab | Rename,
    Field(discriminator="op"),
]  # fmt: skip
