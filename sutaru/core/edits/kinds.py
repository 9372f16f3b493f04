"""The edits there are, each a Pydantic model told apart by ``op``: the program's whole command list.

Layout edits change a layout, on a job's sheet as in a template. Filling edits change what lies on one sheet in one
edition. Job edits change sheets, pile, editions, lab sheet and names. An edit may say what it expects to find (a photo, a
value); when that is there no more it is refused.
"""

from typing import Annotated, Any, Literal

from pydantic import Field

from ..arranging import Fitting, Mirror, Turning
from ..arranging.aligning import Edge, Side, To
from ..document import MAX_ZOOM, Fraction, LabSheet, Layer, Photo, Placement, Recipe, Sheet
from ..document.base import Degrees, Frozen, Identity, Length, Point
from ..document.filling import Words
from ..document.layout import Role
from ..document.photo import Marked
from ..document.template import Product, Tags

Ids = Annotated[tuple[Identity, ...], Field(min_length=1, max_length=2000)]
PhotoIds = Annotated[tuple[str, ...], Field(min_length=1, max_length=100_000)]
EditionId = Annotated[str, Field(max_length=64, description='"" is the first edition')]
Expected = Annotated[
    str | None, Field(description='id of the photo that must lie there, "" for none; null: whatever it is')
]
FieldPath = Annotated[str, Field(pattern=r"^[a-z_]+(\.[a-z_]+)?$", max_length=80)]


class _OnLayout(Frozen):
    sheet: Identity


class AddLayers(_OnLayout):
    """Lays layers on a sheet: into a group or onto the sheet itself, just below another one, or on top of all."""

    op: Literal["add_layers"] = "add_layers"
    layers: Annotated[tuple[Layer, ...], Field(min_length=1, max_length=500)]
    group: Identity | None = None
    below: Identity | None = None


class RemoveLayers(_OnLayout):
    """Takes layers or groups off a sheet; echoes of openings that go, go with them."""

    op: Literal["remove_layers"] = "remove_layers"
    layers: Ids


class Restack(_OnLayout):
    """Moves a layer or group in the stack: into a group or onto the sheet itself, just below another one, or on top."""

    op: Literal["restack"] = "restack"
    layer: Identity
    group: Identity | None = None
    below: Identity | None = None


class SetFields(_OnLayout):
    """Sets fields of layers, each by its name or by a name within it (``border.width_mm``), and leaves all others alone.

    ``expect`` says what some fields must be before.
    """

    op: Literal["set_fields"] = "set_fields"
    layers: Ids
    fields: Annotated[dict[FieldPath, Any], Field(min_length=1, max_length=50)]
    expect: Annotated[dict[FieldPath, Any], Field(max_length=50)] = {}


Millimetres = Annotated[float, Field(ge=-5000, le=5000, allow_inf_nan=False)]
Factor = Annotated[float, Field(ge=0.01, le=100, allow_inf_nan=False)]
Times = Annotated[int, Field(ge=1, le=500)]


class Carry(_OnLayout):
    """Mirrors, scales, skews and turns layers about a page point (the middle of the box about them all, unless one is
    given), and then shifts them. Photos are never mirrored by it, and frames keep their width."""

    op: Literal["carry"] = "carry"
    layers: Ids
    about: Point | None = None
    by: tuple[Millimetres, Millimetres] = (0.0, 0.0)
    turn_deg: Degrees = 0.0
    mirror: Mirror | None = None
    scale: tuple[Factor, Factor] = (1.0, 1.0)
    skew_deg: Annotated[float, Field(ge=-60, le=60)] = 0.0


class Align(_OnLayout):
    """Lays layers to an edge or middle of each other, of the page, of a single page, of the safe area, or to a line."""

    op: Literal["align"] = "align"
    layers: Ids
    edge: Edge
    to: To = "each_other"
    line_mm: Millimetres | None = None


class Distribute(_OnLayout):
    """Lays layers at equal gaps, or with their middles at equal ways, between the outermost two; or so far as is said."""

    op: Literal["distribute"] = "distribute"
    layers: Ids
    axis: Literal["x", "y"]
    by: Literal["gap", "centre"] = "gap"
    gap_mm: Millimetres | None = None


class SameSize(_OnLayout):
    """Makes layers as wide or high as the first of them."""

    op: Literal["same_size"] = "same_size"
    layers: Ids
    side: Side = "both"


class Repeat(_OnLayout):
    """Copies layers in columns and rows, so far apart across and down; they themselves are the first of them."""

    op: Literal["repeat"] = "repeat"
    layers: Ids
    columns: Times = 1
    rows: Times = 1
    step_mm: tuple[Millimetres, Millimetres] = (0.0, 0.0)


class SplitOpening(_OnLayout):
    """Parts an opening into columns and rows with a gap between. The first part keeps the photo."""

    op: Literal["split"] = "split"
    opening: Identity
    columns: Times = 1
    rows: Times = 1
    gap_mm: tuple[Millimetres, Millimetres] = (0.0, 0.0)


class MakeOne(_OnLayout):
    """Puts one opening over the box about several in their place; their photos go back to the pile."""

    op: Literal["make_one"] = "make_one"
    openings: Annotated[tuple[Identity, ...], Field(min_length=2, max_length=500)]


class Gather(_OnLayout):
    """Puts layers into a group, where the uppermost of them lies."""

    op: Literal["gather"] = "gather"
    layers: Ids
    name: Annotated[str, Field(max_length=120)] = ""


class Dissolve(_OnLayout):
    """Takes groups apart; what lay in them stays where it is."""

    op: Literal["dissolve"] = "dissolve"
    groups: Ids


class TurnSheet(_OnLayout):
    """Turns a whole sheet by a quarter or a half, or mirrors it, with trim, lines, guides and all layers."""

    op: Literal["turn_sheet"] = "turn_sheet"
    how: Turning


class ResizeSheet(_OnLayout):
    """Lays a sheet out anew in another size: margins, gaps, frames and type keep their real sizes."""

    op: Literal["resize_sheet"] = "resize_sheet"
    width_mm: Length
    height_mm: Length
    how: Fitting = "auto"


class SetSheet(_OnLayout):
    """Sets what a sheet is beside its layers: size, bleed, safe, lines, guides, columns, light."""

    op: Literal["set_sheet"] = "set_sheet"
    fields: Annotated[dict[FieldPath, Any], Field(min_length=1, max_length=20)]


class Renumber(_OnLayout):
    """Numbers the openings in the order given, those not named after them; with ``None`` in reading order."""

    op: Literal["renumber"] = "renumber"
    order: Annotated[tuple[Identity, ...], Field(max_length=2000)] | None = None


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
    fit: Literal["cover", "whole"] = "cover"
    centre: tuple[Fraction, Fraction]
    zoom: Annotated[float, Field(gt=0, le=MAX_ZOOM, allow_inf_nan=False)]
    turn_deg: Degrees
    mirror: bool
    ratio: Annotated[float, Field(ge=0.05, le=20)] | None = None
    expect: Expected = None


class Clear(_OnFilling):
    """Empties openings; their photos stay in the pile. A span is emptied as a whole and is none any more."""

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
    """Changes the words of a text layer; ``None`` brings back the template's."""

    op: Literal["write"] = "write"
    layer: Identity
    text: Words | None


class MendOpening(_OnFilling):
    """Mends what one opening shows; ``None`` takes that mending away."""

    op: Literal["mend_opening"] = "mend_opening"
    opening: Identity
    recipe: Recipe | None
    expect: Expected = None


class Spot(Frozen):
    """An opening of a job: its sheet and its id there."""

    sheet: Identity
    opening: Identity


class Swap(Frozen):
    """Exchanges what two openings hold; one of them may be empty. ``keep_fit``: zoom, turn and what is in the middle stay."""

    op: Literal["swap"] = "swap"
    edition: EditionId = ""
    first: Spot
    second: Spot
    keep_fit: bool = False


class Fill(Frozen):
    """Fills openings from the pile: those given of one sheet, or all of a sheet, or all there are; or of these only the
    empty ones. Pinned ones and spans stay, and what was fitted by hand unless that is asked for (``also_by_hand``).

    ``best``: the best assignment. ``order``: photos stay in order of capture.
    """

    op: Literal["fill"] = "fill"
    edition: EditionId = ""
    how: Literal["best", "order"] = "best"
    only_empty: bool = False
    also_by_hand: bool = False
    sheet: Identity | None = None
    openings: Ids | None = None


class Laid(Frozen):
    """What a filling chose for one opening, and the photo that lay there when it chose ("" for none)."""

    sheet: Identity
    opening: Identity
    was: str
    placement: Placement | None


class Lay(Frozen):
    """Keeps what a long filling chose. Openings that a hand has touched meanwhile, and photos that went, are passed over."""

    op: Literal["lay"] = "lay"
    edition: EditionId = ""
    laid: Annotated[tuple[Laid, ...], Field(min_length=1, max_length=100_000)]


class MendPhoto(Frozen):
    """Mends a photo wherever it lies in an edition; ``None`` takes that mending away."""

    op: Literal["mend_photo"] = "mend_photo"
    edition: EditionId = ""
    photo: str
    recipe: Recipe | None


class BringIn(Frozen):
    """Adds photos to the pile, which lies in order of capture; those already there are passed over."""

    op: Literal["bring_in"] = "bring_in"
    photos: Annotated[tuple[Photo, ...], Field(min_length=1, max_length=100_000)]


class TakeOut(Frozen):
    """Takes photos off the pile and out of every opening they lie in, in all editions."""

    op: Literal["take_out"] = "take_out"
    photos: PhotoIds


class Mark(Frozen):
    """Says by hand what of a photo must stay visible; ``None`` goes back to what the machine found."""

    op: Literal["mark"] = "mark"
    photo: str
    areas: Marked | None


class Worked(Frozen):
    """Says that photos were already worked on, so that they are never enhanced by themselves; or that they were not."""

    op: Literal["worked"] = "worked"
    photos: PhotoIds
    worked: bool = True


class Star(Frozen):
    """Gives photos stars, from none to five."""

    op: Literal["star"] = "star"
    photos: PhotoIds
    stars: Annotated[int, Field(ge=0, le=5)]


class PutAside(Frozen):
    """Puts photos of the pile aside, so that no filling takes them; or back. Where they lie already they stay."""

    op: Literal["put_aside"] = "put_aside"
    photos: PhotoIds
    aside: bool = True


class EnhanceAll(Frozen):
    """Enhances every photo that was not already worked on and is not mended otherwise; or none."""

    op: Literal["enhance_all"] = "enhance_all"
    on: bool


class ChooseLab(Frozen):
    """Changes the lab sheet the job is made for."""

    op: Literal["choose_lab"] = "choose_lab"
    lab: LabSheet


class Rename(Frozen):
    """Changes the job's name, customer and order number; a number that is not given stays."""

    op: Literal["rename"] = "rename"
    name: Annotated[str, Field(min_length=1, max_length=120)]
    customer: Annotated[str, Field(max_length=120)] = ""
    order_number: Annotated[str, Field(max_length=60)] | None = None


class AddEdition(Frozen):
    """Adds an edition, with all that lies in another one (``like``), or empty."""

    op: Literal["add_edition"] = "add_edition"
    id: Identity
    name: Annotated[str, Field(min_length=1, max_length=120)]
    like: Identity | None = None


class RenameEdition(Frozen):
    """Gives an edition another name."""

    op: Literal["rename_edition"] = "rename_edition"
    edition: EditionId
    name: Annotated[str, Field(min_length=1, max_length=120)]


class RemoveEdition(Frozen):
    """Takes an edition away. The last one stays."""

    op: Literal["remove_edition"] = "remove_edition"
    edition: Identity


class AddSheet(Frozen):
    """Adds a sheet, after another one or, with "", at the end."""

    op: Literal["add_sheet"] = "add_sheet"
    fresh: Sheet
    after: Annotated[str, Field(max_length=64)] = ""


class RemoveSheet(Frozen):
    """Takes a sheet away, with all that lies on it. The last one stays."""

    op: Literal["remove_sheet"] = "remove_sheet"
    gone: Identity


class RenameSheet(Frozen):
    """Gives a sheet another name and part to play."""

    op: Literal["rename_sheet"] = "rename_sheet"
    which: Identity
    name: Annotated[str, Field(min_length=1, max_length=120)]
    role: Role | None = None


class Describe(Frozen):
    """Says of a template in the workshop what it is for."""

    op: Literal["describe"] = "describe"
    product: Product | None = None
    occasion: Annotated[str, Field(max_length=60)] | None = None
    tags: Tags | None = None
    note: Annotated[str, Field(max_length=1000)] | None = None


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


LAYOUT_EDITS = (AddLayers, RemoveLayers, Restack, SetFields, Carry, Align, Distribute, SameSize, Repeat, SplitOpening,
                MakeOne, Gather, Dissolve, TurnSheet, ResizeSheet, SetSheet, Renumber)  # fmt: skip
FILLING_EDITS = (Put, Place, Clear, Pin, KeepInView, SpanOver, Unspan, Nudge, Write, MendOpening, Accept, Reopen)
LayoutEdit = Annotated[
    AddLayers | RemoveLayers | Restack | SetFields | Carry | Align | Distribute | SameSize | Repeat | SplitOpening
    | MakeOne | Gather | Dissolve | TurnSheet | ResizeSheet | SetSheet | Renumber,
    Field(discriminator="op"),
]  # fmt: skip
FillingEdit = Annotated[
    Put | Place | Clear | Pin | KeepInView | SpanOver | Unspan | Nudge | Write | MendOpening | Accept | Reopen,
    Field(discriminator="op"),
]
JobEdit = Annotated[
    Swap | Fill | Lay | MendPhoto | BringIn | TakeOut | Mark | Worked | Star | PutAside | EnhanceAll | ChooseLab | Rename
    | AddEdition | RenameEdition | RemoveEdition | AddSheet | RemoveSheet | RenameSheet | Describe,
    Field(discriminator="op"),
]  # fmt: skip
Edit = Annotated[LayoutEdit | FillingEdit | JobEdit, Field(discriminator="op")]
