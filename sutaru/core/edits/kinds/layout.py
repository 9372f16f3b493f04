"""Layout edits: they change what a sheet looks like, on a job's sheet as in a template."""

from typing import Annotated, Any, Literal

from pydantic import Field

from ...arranging.aligning import Edge, Side, To
from ...arranging.moving import Mirror
from ...arranging.sheet_rotation import Turning
from ...arranging.sizing import Fitting
from ...document import Layer
from ...document.base import Degrees, Frozen, Identity, Length, Point
from .shared import FieldPath, Ids


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
    """Copies layers in columns and rows, so far apart across and down; they themselves are the first of them.

    ``names``: ids of the copies, copy after copy, in each as the layers lie in the stack, a group before what lies in it;
    left out, the ids are found. Copies lie just above what they are copied from, or ``on_top`` of all beside it.
    """

    op: Literal["repeat"] = "repeat"
    layers: Ids
    columns: Times = 1
    rows: Times = 1
    step_mm: tuple[Millimetres, Millimetres] = (0.0, 0.0)
    names: Annotated[tuple[Identity, ...], Field(max_length=500)] = ()
    on_top: bool = False


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


class Become(_OnLayout):
    """Makes openings of shapes, or shapes of openings, where they lie. A photo goes back to the pile."""

    op: Literal["become"] = "become"
    layers: Ids
    kind: Literal["opening", "fill"] = "opening"


class RunAlong(_OnLayout):
    """Lets words run along the edge of an opening or a shape, from its upper left corner or where its path begins."""

    op: Literal["run_along"] = "run_along"
    text: Identity
    of: Identity


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
