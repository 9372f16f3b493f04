"""Filling edits: they change what lies on one sheet in one edition."""

from typing import Annotated, Literal

from pydantic import Field

from ...document import MAX_ZOOM, Fraction, Recipe
from ...document.base import Degrees, Frozen, Identity, Point
from ...document.filling import Fit, Words
from ...document.lettering import Runs
from .shared import EditionId, Expected, Ids, Retouches


class _OnFilling(Frozen):
    sheet: Identity
    edition: EditionId = ""


class Put(_OnFilling):
    """Puts a photo into an opening, just covering it, with what must stay visible in view; what lay there goes back to the
    pile. In an opening of a span the photo runs on through all of it."""

    op: Literal["put"] = "put"
    opening: Identity
    photo: str
    expect: Expected = None


class Place(_OnFilling):
    """Lays the photo of an opening anew. What would leave a gap is moved to the nearest placement that does not.
    In a span the photo moves in all its openings."""

    op: Literal["place"] = "place"
    opening: Identity
    fit: Fit = "cover"
    centre: tuple[Fraction, Fraction]
    zoom: Annotated[float, Field(gt=0, le=MAX_ZOOM, allow_inf_nan=False)]
    turn_deg: Degrees
    mirror: bool
    ratio: Annotated[float, Field(ge=0.05, le=20)] | None = None
    expect: Expected = None


class Clear(_OnFilling):
    """Empties openings; their photos stay in the pile. In the others of a span the photo stays as it lies there."""

    op: Literal["clear"] = "clear"
    openings: Ids


class Pin(_OnFilling):
    """Pins openings, so that no filling up touches them, or lets them go."""

    op: Literal["pin"] = "pin"
    openings: Ids
    pinned: bool = True


class KeepInView(_OnFilling):
    """Moves the photos of openings so that what must stay visible is seen; zoom, turn and mirror stay."""

    op: Literal["keep_in_view"] = "keep_in_view"
    openings: Ids


class SpanOver(_OnFilling):
    """Lets one photo run on through several openings: the one given, or else the first that lies in one of them."""

    op: Literal["span"] = "span"
    openings: Annotated[tuple[Identity, ...], Field(min_length=2, max_length=500)]
    photo: str | None = None


class Unspan(_OnFilling):
    """Ends the span an opening belongs to. Each of its openings goes on showing what it shows."""

    op: Literal["unspan"] = "unspan"
    opening: Identity


class Nudge(_OnFilling):
    """Shifts what one opening of a span shows off the others, mm to the right and down; (0, 0) puts it back."""

    op: Literal["nudge"] = "nudge"
    opening: Identity
    by: Point


class Write(_OnFilling):
    """Changes the words of a text layer, and where they look otherwise than their box; ``None`` brings back the template's."""

    op: Literal["write"] = "write"
    layer: Identity
    text: Words | None
    runs: Runs | None = None


class MendOpening(_OnFilling):
    """Mends what one opening shows; ``None`` takes that mending away. Its retouching, and how it is put
    upright, stay unless the recipe says them anew."""

    op: Literal["mend_opening"] = "mend_opening"
    opening: Identity
    recipe: Recipe | None
    expect: Expected = None


class RetouchOpening(_OnFilling, Retouches):
    """Retouches what one opening shows, over what is retouched of its photo everywhere."""

    op: Literal["retouch_opening"] = "retouch_opening"
    opening: Identity
    expect: Expected = None


class FindingName(Frozen):
    """What names a finding on its sheet."""

    rule: Annotated[str, Field(max_length=60)]
    layer: Annotated[str, Field(max_length=64)] = ""
    sentence: Annotated[str, Field(max_length=1000)]


class Accept(Frozen):
    """Lets findings of a sheet pass, each as it stands now, with a name and a reason."""

    op: Literal["accept"] = "accept"
    sheet: str
    edition: EditionId = ""
    findings: Annotated[tuple[FindingName, ...], Field(min_length=1, max_length=500)]
    name: Annotated[str, Field(min_length=1, max_length=120)]
    reason: Annotated[str, Field(min_length=1, max_length=500)]


class Reopen(Frozen):
    """Lets findings of a sheet count again that were let pass."""

    op: Literal["reopen"] = "reopen"
    sheet: str
    edition: EditionId = ""
    findings: Annotated[tuple[FindingName, ...], Field(min_length=1, max_length=500)]
