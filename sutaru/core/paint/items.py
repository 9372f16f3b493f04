"""What a sheet is painted from: its layers as items, each with all that decides its pixels; and the patches they give.

Coordinates are page px of a PixelGrid. A patch covers one cell at most. Nothing here knows what lies below.
"""

import math
from collections.abc import Callable, Hashable
from dataclasses import dataclass, field, replace
from typing import Any

import cv2
import numpy as np
import shapely

from ..depths import Bytes, Values
from ..document import (
    Background,
    Echo,
    FillBox,
    Free,
    GuideNote,
    Layout,
    Leaf,
    Mask,
    Opening,
    Ornament,
    Overlay,
    PagePicture,
    Photo,
    Placement,
    Recipe,
    Shaped,
)
from ..document.lab import Space
from ..document.lettering import Run
from ..document.photo import UNSAID
from ..errors import FileRefused
from ..fitting import Drawn, Resolved
from ..geometry import outlines
from ..geometry.maps import Map
from ..geometry.matrices import Points
from ..mending import Retoucher
from ..photos import Pixels
from ..remembering import Kept, remember
from ..words import Brought
from .grid import Box, PixelGrid
from .sharpening import Sharpened, sharpening_for
from .vectors import coverage, rectangle_coverage


@dataclass(frozen=True)
class Patch:
    """Pixels in ``box``: one colour (3,) or RGB (h, w, 3), of 8 bits or as deep as the grid; ``alpha`` (h, w), of either depth,
    or None when wholly opaque."""

    box: Box
    colour: Values
    alpha: Values | None
    blend: str = "normal"

    @property
    def nbytes(self) -> int:
        """Bytes it holds."""
        return self.colour.nbytes + (0 if self.alpha is None else self.alpha.nbytes)


def _refuse_page(items: tuple["Item", ...], grid: PixelGrid) -> Values:
    raise TypeError("nothing here paints a page in a page")


@dataclass(frozen=True)
class Means:
    """What painting takes besides the items: where photos' pixels come from, how a page in a page is painted, and room to
    keep frames as they were last."""

    photos: Retoucher
    page: Callable[[tuple["Item", ...], PixelGrid], Values] = _refuse_page
    frames: Kept[Hashable, Any] = field(default_factory=lambda: Kept(48_000_000, lambda frame: frame.nbytes))

    def pixels(self, item: "Item") -> Pixels:
        """Where the pixels of what an item shows come from, retouched as its recipe says."""
        retouching = item.recipe.retouching if item.recipe else None

        def read_retouched(photo: Photo, least_scale: float, space: Space = "srgb", depth: int = 8) -> Values:
            return self.photos(photo, least_scale, space, retouching, depth)

        return read_retouched


Assets = Callable[[str], bytes]  # a file held beside the document, by its sha256


def refuse_asset(name: str) -> bytes:
    """Where there are none. Raises FileRefused."""
    raise FileRefused("A drawing or mask of this sheet is missing.", "Bring it in again.")


@dataclass(frozen=True)
class Item:
    """A layer with all that decides its pixels. Hashable: two equal items paint the same."""

    layer: Leaf
    light_deg: float
    space: Space = "srgb"  # the working space that its pixels are in
    photo: Photo | None = None
    placement: Placement | None = None
    recipe: Recipe | None = None
    source: Opening | None = None  # what an echo shows again
    words: str = ""
    runs: tuple[Run, ...] = ()
    brought: Brought = ()  # fonts that the document brings along
    number: int = 0
    notes: bool = False  # numbers, notes and empty openings are to be seen
    asset: bytes = b""  # an ornament's drawing, an overlay's or a mask's picture
    over: tuple[Opening | FillBox, ...] = ()  # opaque layers above that begin where it ends
    page: tuple["Item", ...] = ()  # what the sheet that is shown as a picture is painted from
    page_mm: tuple[float, float] = (0.0, 0.0)
    sharpen: Sharpened | None = None  # for the print alone
    shadow_only: bool = False  # of words: they themselves lie above it, drawn otherwise

    @property
    def free_subjects(self) -> tuple[Free, ...]:
        """Subjects of what it shows that stand free of it."""
        retouching = self.recipe.retouching if self.recipe and self.photo and self.placement else None
        return retouching.free_subjects if retouching else ()

    @property
    def is_photo_behind(self) -> bool:
        """Whether a photo shows all over its opening; else the page does behind those subjects."""
        return all(free.backdrop for free in self.free_subjects)


def items(
    sheet: Resolved, assets: Assets, bench: bool, notes: bool, transparent: bool = False, mending: bool = True,
    printing: bool = False,
) -> list[Item]:  # fmt: skip
    """What a sheet is painted from, bottom to top. Raises what ``assets`` raises.

    ``bench``: empty openings show. ``notes``: numbers and guide notes show; they never do in output.
    ``transparent``: no background. ``mending``: photos as their recipes mend them. ``printing``: photos are sharpened as the
    lab sheet wants it.
    """
    items_made: list[Item] = []
    over: list[Item] = []
    light, space = sheet.layout.light.from_deg, sheet.lab.profile
    sharp = sharpening_for(sheet.lab.sharpen, sheet.lab.surface) if printing else None
    for drawn in sheet.drawn:
        layer = drawn.layer
        if not layer.visible or (transparent and isinstance(layer, Background)):
            continue
        item = _make_photo_item(drawn, light, space, mending)
        if isinstance(layer, Opening):
            if item.placement or bench:
                items_made.append(replace(item, notes=bench, asset=_mask_of(layer, assets), sharpen=sharp))
            if notes and not drawn.part_of:
                over.append(Item(layer, light, space, number=drawn.number, notes=True))
        elif isinstance(layer, Echo):
            if item.placement and item.source and item.source.visible:
                items_made.append(replace(item, asset=_mask_of(item.source, assets)))
        elif isinstance(layer, GuideNote):
            if notes:
                over.append(item)
        elif isinstance(layer, Overlay) and layer.guide and not notes:
            continue
        elif isinstance(layer, PagePicture):
            if drawn.page is not None:
                inner = tuple(items(drawn.page, assets, bench=False, notes=False, mending=mending))
                size = drawn.page.layout.width_mm, drawn.page.layout.height_mm
                items_made.append(replace(item, page=inner, page_mm=size))
        elif isinstance(layer, Ornament | Overlay):
            items_made.append(replace(item, asset=assets(layer.asset)))
        elif isinstance(layer, Background):
            items_made.append(replace(item, asset=assets(layer.asset)) if layer.asset else item)
        else:
            items_made.append(item)
    return _close_items(items_made, sheet.layout) + over


def _close_items(items_so_far: list[Item], layout: Layout) -> list[Item]:
    """Items that know which opaque ones above them begin on the line where they end."""
    near = find_touching(layout)
    opaque = {item.layer.id: item.layer for item in items_so_far if _hides(item)}
    closed = []
    for item in items_so_far:
        above = near.get(item.layer.id, ())
        over = tuple(layer for other in above if isinstance(layer := opaque.get(other), Opening | FillBox))
        closed.append(replace(item, over=over) if over else item)
    return closed


def _hides(item: Item) -> bool:
    """Whether an item hides all that lies within its outline."""
    layer = item.layer
    if not isinstance(layer, Opening | FillBox) or isinstance(layer.outline, Mask):
        return False
    cut = item.placement is not None and (item.placement.fit == "whole" or item.placement.ratio is not None)
    cut = cut or (item.photo is not None and item.photo.is_translucent)
    return layer.opacity == 1.0 and layer.blend == "normal" and not cut and item.is_photo_behind


_ONE_LINE_MM = 0.01  # edges nearer than that are meant to touch


@remember
def find_touching(layout: Layout) -> dict[str, tuple[str, ...]]:
    """For each opening and fill, those further up in the stack that begin where it ends: none that lies over it as well."""
    layers = [layer for layer in layout.leaves if isinstance(layer, Opening | FillBox)]
    if len(layers) < 2:
        return {}
    shapes = [
        outlines.region(lay_polygons(layer.outline.polygons(), layer.surface.page_from_opening(layer.outline)))
        for layer in layers
    ]
    first, second = shapely.STRtree(shapes).query(shapes, predicate="dwithin", distance=_ONE_LINE_MM)
    by_item: dict[str, list[int]] = {}
    for lower, upper in zip(first.tolist(), second.tolist(), strict=True):
        if lower >= upper:
            continue
        over = shapes[lower].intersection(shapes[upper]).area
        if over <= _ONE_LINE_MM * min(shapes[lower].length, shapes[upper].length):
            by_item.setdefault(layers[lower].id, []).append(upper)
    return {identity: tuple(layers[n].id for n in sorted(above)) for identity, above in by_item.items()}


def _mask_of(opening: Opening, assets: Assets) -> bytes:
    return assets(opening.outline.asset) if isinstance(opening.outline, Mask) else b""


def _make_photo_item(drawn: Drawn, light: float, space: Space, mending: bool) -> Item:
    item = Item(
        drawn.layer, light, space, source=drawn.source, words=drawn.words, runs=drawn.runs, brought=drawn.brought
    )
    if drawn.photo is None:
        return item
    recipe = drawn.recipe if mending else None
    # Of what is known of a photo, only what a recipe needs can change a pixel; and what must not show twice.
    facts = drawn.photo.found.copy_with(keep=()) if recipe and drawn.photo.found else None
    seen = drawn.photo.copy_with(found=facts, name="", caption="", **UNSAID)
    if drawn.placement and drawn.placement.fit == "woven":
        seen = seen.copy_with(marked=drawn.photo.keep_areas)
    return replace(item, photo=seen, placement=drawn.placement, recipe=recipe)


def box_about(polygons: list[Points], grow: float = 0.0) -> Box:
    """The whole px about polygons."""
    x0, y0, x1, y1 = outlines.bounds(polygons)
    return math.floor(x0 - grow), math.floor(y0 - grow), math.ceil(x1 + grow), math.ceil(y1 + grow)


def fade_coverage(alpha: Values | None, opacity: float, box: Box) -> Values | None:
    """Coverage times opacity."""
    if opacity == 1.0:
        return alpha
    if alpha is None:
        return np.full((box[3] - box[1], box[2] - box[0]), round(255 * opacity), np.uint8)
    if alpha.dtype == np.uint16:
        return np.rint(alpha * np.float32(opacity)).astype(np.uint16)
    return cv2.convertScaleAbs(alpha, alpha=opacity).astype(np.uint8, copy=False)


def lay_polygons(polygons: tuple[Points, ...] | list[Points], onto: Map) -> list[Points]:
    """Polygons of a plane where a map lays them. Straight sides bend with a bent map: they are cut into short ones first."""
    if onto.matrix is not None:
        return [onto.apply(polygon) for polygon in polygons]
    x0, y0, x1, y1 = outlines.bounds(list(polygons))
    return [onto.apply(outlines.split_long_sides(polygon, max(x1 - x0, y1 - y0) / 128)) for polygon in polygons]


def px_from_layer(layer: Shaped, grid: PixelGrid) -> Map:
    """From a layer's own plane (mm) to page px."""
    return layer.surface.page_from_opening(layer.outline).then(grid.px_from_page)


def outline_px(layer: Shaped, grid: PixelGrid, onto: Map | None = None) -> list[Points]:
    """A layer's outline in page px, chords at most 0.02 px off on a flat page."""
    return lay_polygons(layer.outline.polygons(0.02 / grid.px_per_mm), onto or px_from_layer(layer, grid))


def is_upright(layer: Shaped) -> bool:
    """Whether the outline is a plain rectangle parallel to the page's edges."""
    square = layer.outline.kind == "rectangle" and not layer.outline.radius_mm
    surface = layer.surface
    return square and surface.kind == "flat" and surface.turn_deg % 90 == 0 and surface.skew_deg == 0


def paint_coverage(layer: Shaped, polygons: list[Points], box: Box) -> Bytes | None:
    """Coverage of the outline; None when it covers the box wholly."""
    return upright_coverage(polygons, box) if is_upright(layer) else coverage(polygons, box)


def upright_coverage(polygons: list[Points], box: Box) -> Bytes | None:
    """Exact coverage of one upright rectangle; None when it covers the box wholly."""
    left, top, right, bottom = outlines.bounds(polygons)
    if left <= box[0] and top <= box[1] and right >= box[2] and bottom >= box[3]:
        return None
    return rectangle_coverage(left, top, right, bottom, box)
