"""A layout: what a sheet looks like before any customer. And the sheet: a layout with a name and a part to play.

Page space: mm, origin at the top left of the trim box, y down; the bleed lies at negative coordinates and beyond.
"""

from collections.abc import Iterator, Mapping
from functools import cached_property
from itertools import pairwise
from typing import Annotated, Literal

from pydantic import Field, model_validator

from .base import (
    AssetName,
    Coordinate,
    Degrees,
    FieldName,
    FieldValue,
    Frozen,
    Hex,
    Identity,
    Length,
    Point,
    SwatchName,
    unsaid,
)
from .layers import DateGrid, Echo, Group, Layer, Leaf, Opening, PagePicture, Text, check_lies_on
from .lettering import FIELD, FontName, StyleName, TextStyle
from .studio import colours_of

DEEPEST = 8  # groups within groups
Role = Literal["page", "spread", "cover", "front", "back", "inside", "month"]


class Light(Frozen):
    """Where the sheet's one light comes from. 120 degrees, from the upper left: common practice, no source."""

    from_deg: Degrees = 120.0


class Line(Frozen):
    """A line across the whole sheet: a gutter, a fold, the edge of a spine, or the hinge of a hard cover."""

    kind: Literal["gutter", "fold", "spine", "hinge"]
    axis: Literal["x", "y"]
    at_mm: Coordinate


class Guide(Frozen):
    """A line to lay things on, across the whole sheet. It never prints."""

    axis: Literal["x", "y"]
    at_mm: Coordinate


class Hole(Frozen):
    """A hole that the lab punches, to hang or to bind by: its middle and diameter."""

    at: Point
    diameter_mm: Annotated[float, Field(gt=0, le=100)] = 6.0


class Columns(Frozen):
    """Columns and rows to lay things on: so many within margins from the trim, a gutter between two of them."""

    columns: Annotated[int, Field(ge=1, le=48)] = 12
    rows: Annotated[int, Field(ge=1, le=48)] = 8
    gutter_mm: Annotated[float, Field(ge=0, le=500)] = 4.0
    margin_mm: Annotated[float, Field(ge=0, le=1000)] = 12.0


class Layout(Frozen, defer_build=False):  # is stored by itself as well: what holds it takes over what is built here
    """The trim size of a page or spread, its margins, its light, its layers bottom to top. Ids are unique within it.

    ``swatches`` are colours that are named once and used in many places: as "swatch sea", say.
    ``styles`` are looks of words, named once. ``fonts`` are families that do not ship: their files, by their names.
    ``order`` numbers openings otherwise than they lie in the stack: those it names come first, as it names them.
    """

    width_mm: Length
    height_mm: Length
    bleed_mm: Annotated[float, Field(ge=0, le=50)] = 3.0
    safe_mm: Annotated[float, Field(ge=0, le=50)] = 5.0
    lines: Annotated[tuple[Line, ...], Field(max_length=50)] = ()
    guides: Annotated[tuple[Guide, ...], Field(max_length=200, exclude_if=unsaid)] = ()
    columns: Annotated[Columns | None, Field(exclude_if=unsaid)] = None
    holes: Annotated[tuple[Hole, ...], Field(max_length=100, exclude_if=unsaid)] = ()
    light: Light = Light()
    swatches: Annotated[dict[SwatchName, Hex], Field(max_length=60, exclude_if=unsaid)] = {}
    order: Annotated[tuple[Identity, ...], Field(max_length=2000, exclude_if=unsaid)] = ()
    styles: Annotated[dict[StyleName, TextStyle], Field(max_length=60, exclude_if=unsaid)] = {}
    fonts: Annotated[dict[FontName, AssetName], Field(max_length=20, exclude_if=unsaid)] = {}
    layers: Annotated[tuple[Layer, ...], Field(max_length=2000)]

    @model_validator(mode="after")
    def _consistent(self) -> "Layout":
        seen: set[str] = set()
        for layer, depth in walk_layers(self.layers):
            if layer.id in seen:
                raise ValueError(f"Two layers are called {layer.id}: give each its own id.")
            if depth > DEEPEST:
                raise ValueError(f"Groups lie more than {DEEPEST} deep in each other: take some apart.")
            seen.add(layer.id)
        unknown = sorted(c for c in self.colour_names if c.startswith("swatch ") and c[7:] not in self.swatches)
        if unknown:
            raise ValueError(f"There is no swatch {unknown[0][7:]} on this sheet: add it, or choose another colour.")
        for text in self.texts_by_id.values():
            for style in (text.style, *(run.style for run in text.runs)):
                if style and style not in self.styles:
                    raise ValueError(f"There is no style {style} on this sheet: add it, or choose another.")
        for leaf in self.leaves:
            if isinstance(leaf, Echo) and leaf.of not in self.openings_by_id:
                raise ValueError(f"The echo {leaf.id} shows the opening {leaf.of}, which is not on its sheet.")
            if isinstance(leaf, Echo) and leaf.surface is not None:
                check_lies_on(self.openings_by_id[leaf.of].outline, leaf.surface)
        return self

    def __hash__(self) -> int:
        return hash(self.digest)  # asked for often, and a layout is large

    @cached_property
    def leaves(self) -> tuple[Leaf, ...]:
        """All layers that are drawn, bottom to top, groups taken apart: each hidden or locked as its groups are."""
        return tuple(_walk_leaves(self.layers, True, False, False))

    @cached_property
    def colour_names(self) -> frozenset[str]:
        """Colours that its layers name instead of saying them."""
        return frozenset(colours_of((*self.layers, *self.styles.values())))

    @cached_property
    def named_colours(self) -> dict[str, str]:
        """Its swatches as layers name them."""
        return {f"swatch {name}": colour for name, colour in self.swatches.items()}

    @cached_property
    def field_names(self) -> frozenset[str]:
        """What its words name in braces."""
        return frozenset(name for text in self.texts_by_id.values() for name in self.ids_in_words(text.text))

    @staticmethod
    def ids_in_words(words: str) -> set[str]:
        """What words name in braces, about."""
        return {match[1] for match in FIELD.finditer(words)} if "{" in words else set()

    @cached_property
    def pages(self) -> frozenset[str]:
        """Ids of the sheets that it shows as pictures."""
        return frozenset(leaf.of for leaf in self.leaves if isinstance(leaf, PagePicture))

    @cached_property
    def openings_by_id(self) -> dict[str, Opening]:
        """Openings in the order they are numbered: as ``order`` names them, the others as they lie, bottom first."""
        stacked = {layer.id: layer for layer in self.leaves if isinstance(layer, Opening)}
        return {identity: stacked[identity] for identity in self.order if identity in stacked} | stacked

    @cached_property
    def openings_to_fill(self) -> dict[str, Opening]:
        """Openings that are seen: a hidden one is nobody's to fill."""
        return {identity: opening for identity, opening in self.openings_by_id.items() if opening.visible}

    @cached_property
    def numbers(self) -> dict[str, int]:
        """Openings' numbers from 1, by id: the one numbering of ledger, findings, labels and notes."""
        return {identity: number for number, identity in enumerate(self.openings_by_id, 1)}

    @cached_property
    def texts_by_id(self) -> dict[str, Text]:
        """Text layers, bottom first."""
        return {layer.id: layer for layer in self.leaves if isinstance(layer, Text)}

    @cached_property
    def grids(self) -> tuple[DateGrid, ...]:
        """Its date grids, bottom first."""
        return tuple(layer for layer in self.leaves if isinstance(layer, DateGrid))

    @cached_property
    def shows_year(self) -> bool:
        """Whether its date grids show a whole year: one of twelve months, or twelve that follow each other."""
        months = {grid.offset for grid in self.grids if grid.shows != "year" and not grid.month}
        return any(grid.shows == "year" for grid in self.grids) or len(months) >= 12

    @property
    def folded_mm(self) -> tuple[float, float] | None:
        """Width and height of the sheet once folded at its folds, which is its largest panel's; None without a fold."""
        if not any(line.kind == "fold" for line in self.lines):
            return None
        return self._panel_mm("x", self.width_mm), self._panel_mm("y", self.height_mm)

    def _panel_mm(self, axis: str, side_mm: float) -> float:
        """The longest way along an axis between two folds, or a fold and the trim."""
        folds = {line.at_mm for line in self.lines if line.kind == "fold" and line.axis == axis}
        edges = sorted({0.0, side_mm} | {fold for fold in folds if 0 < fold < side_mm})
        return max(far - near for near, far in pairwise(edges))

    def openings(self) -> list[Opening]:
        """Openings by number."""
        return list(self.openings_by_id.values())

    def find(self, layer: str) -> Layer | None:
        """A layer or group as it is stored, by its id."""
        return next((entry for entry, _ in walk_layers(self.layers) if entry.id == layer), None)

    def replace_texts(self, texts: Mapping[str, Text]) -> "Layout":
        """The layout with some of its text layers as they are given: their words and how these look."""
        return self.copy_with(layers=_replace_texts(self.layers, texts))

    def ids(self) -> set[str]:
        """Ids of all layers and groups."""
        return {layer.id for layer, _ in walk_layers(self.layers)}


def _replace_texts(layers: tuple[Layer, ...], texts: Mapping[str, Text]) -> tuple[Layer, ...]:
    return tuple(
        layer.copy_with(layers=_replace_texts(layer.layers, texts)) if isinstance(layer, Group)
        else texts[layer.id].copy_with(visible=layer.visible) if isinstance(layer, Text) and layer.id in texts
        else layer
        for layer in layers
    )  # fmt: skip


def walk_layers(layers: tuple[Layer, ...], depth: int = 0) -> Iterator[tuple[Layer, int]]:
    """All layers and groups of a tree, a group before its own, each with how deep it lies."""
    for layer in layers:
        yield layer, depth
        if isinstance(layer, Group):
            yield from walk_layers(layer.layers, depth + 1)


def _walk_leaves(layers: tuple[Layer, ...], visible: bool, place: bool, content: bool) -> Iterator[Leaf]:
    for layer in layers:
        shown = visible and layer.visible
        fixed, sealed = place or layer.place_locked, content or layer.content_locked
        if isinstance(layer, Group):
            yield from _walk_leaves(layer.layers, shown, fixed, sealed)
        elif (shown, fixed, sealed) == (layer.visible, layer.place_locked, layer.content_locked):
            yield layer
        else:
            yield layer.copy_with(visible=shown, place_locked=fixed, content_locked=sealed)


class Sheet(Frozen):
    """One sheet of a job or template: which layout it has, and what part it plays. ``fields``: what its words name that holds
    of this sheet alone: title, month (2027-01). ``variant``: the template it is of, where editions choose among variants."""

    id: Identity
    name: Annotated[str, Field(min_length=1, max_length=120)]
    role: Role = "page"
    layout: Layout
    fields: Annotated[dict[FieldName, FieldValue], Field(max_length=60, exclude_if=unsaid)] = {}
    variant: Annotated[str, Field(max_length=64, exclude_if=unsaid)] = ""


def orientation(width: float, height: float) -> Literal["landscape", "portrait", "square"]:
    """Orientation of a shape; within 2 % of square counts as square.

    >>> orientation(3, 2), orientation(100, 101)
    ('landscape', 'square')
    """
    if abs(width - height) <= 0.02 * max(width, height):
        return "square"
    return "landscape" if width > height else "portrait"
