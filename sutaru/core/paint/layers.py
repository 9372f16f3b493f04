"""Each kind of layer as patches: pixels with coverage, ready to be laid on the page.

Coordinates are page px of a Grid. A patch covers one cell at most. Nothing here knows what lies below.
"""

import math
from dataclasses import dataclass, replace
from functools import singledispatch

import cv2
import numpy as np

from ..document import (
    Background,
    Border,
    FillBox,
    GuideNote,
    Job,
    Layer,
    Opening,
    Ornament,
    Page,
    Photo,
    Placement,
    Text,
)
from ..fitting import page_from_photo
from ..geometry import outlines
from ..geometry.matrices import Points, apply, rotation
from ..measure import mm_from_points
from ..photos import Pixels
from ..words import set_note, set_text, set_words
from .blending import Bytes, composite
from .grid import Box, Grid, meet
from .sampling import sample
from .vectors import coverage, drawing, rectangle_coverage, stroke_coverage, transformed

EMPTY = (226, 226, 226)  # an opening without a photo, on the bench only


@dataclass(frozen=True)
class Patch:
    """Pixels in ``box``: one colour (3,) or RGB (h, w, 3); ``alpha`` (h, w), or None when wholly opaque."""

    box: Box
    colour: Bytes
    alpha: Bytes | None
    blend: str = "normal"

    @property
    def nbytes(self) -> int:
        """Bytes it holds."""
        return self.colour.nbytes + (0 if self.alpha is None else self.alpha.nbytes)


@dataclass(frozen=True)
class Item:
    """A layer with all that decides its pixels. Hashable: two equal items paint the same."""

    layer: Layer
    light_deg: float
    photo: Photo | None = None
    placement: Placement | None = None
    words: str = ""
    number: int = 0
    notes: bool = False  # numbers, notes and empty openings are to be seen


def items(job: Job, page: Page, bench: bool, notes: bool, transparent: bool = False) -> list[Item]:
    """What a page is painted from, bottom to top.

    ``bench``: empty openings show. ``notes``: numbers and guide notes show; they never do in output.
    ``transparent``: no background.
    """
    found: list[Item] = []
    over: list[Item] = []
    numbers = {opening: n for n, opening in enumerate(job.openings_by_id, 1)}
    for layer in page.layers:
        item = Item(layer, page.light.from_deg)
        if not layer.visible or (transparent and isinstance(layer, Background)):
            continue
        if isinstance(layer, Opening):
            placement = job.edition.placements.get(layer.id)
            photo = job.photos_by_id[placement.photo] if placement else None
            # A photo's name or time changes no pixel.
            item = replace(item, photo=photo, placement=placement, notes=bench)
            if placement or bench:
                found.append(item)
            if notes:
                over.append(Item(layer, page.light.from_deg, number=numbers[layer.id], notes=True))
        elif isinstance(layer, GuideNote):
            if notes:
                over.append(item)
        elif isinstance(layer, Text):
            found.append(replace(item, words=job.words(layer)))
        else:
            found.append(item)
    return found + over


def _colour(hex_colour: str) -> Bytes:
    return np.array([int(hex_colour[i : i + 2], 16) for i in (1, 3, 5)], np.uint8)


def _box(polygons: list[Points], grow: float = 0.0) -> Box:
    x0, y0, x1, y1 = outlines.bounds(polygons)
    return math.floor(x0 - grow), math.floor(y0 - grow), math.ceil(x1 + grow), math.ceil(y1 + grow)


def _faded(alpha: Bytes | None, opacity: float, box: Box) -> Bytes | None:
    if opacity == 1.0:
        return alpha
    if alpha is None:
        return np.full((box[3] - box[1], box[2] - box[0]), round(255 * opacity), np.uint8)
    return np.rint(alpha * np.float32(opacity)).astype(np.uint8)


def _outline(layer: Opening | FillBox, grid: Grid) -> list[Points]:
    page_from = layer.surface.page_from_opening(layer.outline)
    return transformed(layer.outline.path_data(), grid.px_from_page @ page_from, grid.px_per_mm)


def _is_upright(layer: Opening | FillBox) -> bool:
    """Whether the outline is a plain rectangle parallel to the page's edges."""
    square = layer.outline.kind == "rectangle" and not layer.outline.radius_mm
    return square and layer.surface.kind == "flat" and layer.surface.turn_deg % 90 == 0


def _covers(layer: Opening | FillBox, polygons: list[Points], box: Box) -> Bytes | None:
    """Coverage of the outline; None when it covers the box wholly."""
    if _is_upright(layer):
        left, top, right, bottom = outlines.bounds(polygons)
        if left <= box[0] and top <= box[1] and right >= box[2] and bottom >= box[3]:
            return None
        return rectangle_coverage(left, top, right, bottom, box)
    return coverage(polygons, box)


def extent(item: Item, grid: Grid) -> Box | None:
    """The box that an item can change, cut to the page; None when it lies off it."""
    layer = item.layer
    if isinstance(layer, Background):
        return grid.box
    if isinstance(layer, Opening):
        grow = 1.0
        if layer.border:
            grow += layer.border.width_mm * grid.px_per_mm * 8  # mitres
        if layer.shadow:
            grow += (layer.shadow.distance_mm + 2 * layer.shadow.blur_mm) * grid.px_per_mm
        return meet(_box(_outline(layer, grid), grow), grid.box)
    if isinstance(layer, FillBox):
        return meet(_box(_outline(layer, grid)), grid.box)
    corners = outlines.rectangle(layer.width_mm, layer.height_mm)
    polygons = transformed(corners, grid.px_from_page @ layer.page_from_box, grid.px_per_mm)
    if isinstance(layer, Ornament):
        return meet(_box(polygons), grid.box)
    words = _words(item, grid)
    return meet(_box([*polygons, *words]), grid.box)


def _words(item: Item, grid: Grid) -> list[Points]:
    layer = item.layer
    if not isinstance(layer, Text | GuideNote):
        return []
    setting = set_text(layer, item.words) if isinstance(layer, Text) else set_note(layer)
    if not setting.path:
        return []
    return transformed(setting.path, grid.px_from_page @ layer.page_from_box, grid.px_per_mm)


@singledispatch
def _patches(layer: object, item: Item, grid: Grid, cell: Box, pixels: Pixels) -> list[Patch]:
    raise TypeError(f"no painter for {type(layer).__name__}")


def patches(item: Item, grid: Grid, cell: Box, pixels: Pixels) -> list[Patch]:
    """An item's patches within a cell, bottom to top. Raises PhotoRefused when a photo's file is damaged."""
    layer = item.layer
    found = _patches(layer, item, grid, cell, pixels)
    return [
        replace(p, alpha=_faded(p.alpha, layer.opacity, p.box), blend=layer.blend if p.blend == "normal" else p.blend)
        for p in found
    ]


@_patches.register
def _background(layer: Background, item: Item, grid: Grid, cell: Box, pixels: Pixels) -> list[Patch]:
    if layer.gradient is None:
        return [Patch(cell, _colour(layer.colour), None)]
    along = rotation(layer.gradient.turn_deg) @ np.array([1.0, 0.0, 1.0])
    w, h = grid.size
    x = (np.arange(cell[0], cell[2]) + 0.5 - w / 2) * along[0]
    y = (np.arange(cell[1], cell[3]) + 0.5 - h / 2) * along[1]
    reach = (w * abs(along[0]) + h * abs(along[1])) / 2
    t = ((x[None, :] + y[:, None]) / reach + 1) / 2
    at = [stop.at for stop in layer.gradient.stops]
    colours = np.array([_colour(stop.colour) for stop in layer.gradient.stops], np.float32)
    table = np.stack([np.interp(np.linspace(0, 1, 4096), at, colours[:, c]) for c in range(3)], axis=-1).astype(
        np.float32
    )
    # Eight bits band where a gradient is long: round up or down by a pattern that depends on the place alone
    # (interleaved gradient noise, J. Jimenez, SIGGRAPH 2014 course on real-time rendering; constants from memory).
    column, row = np.arange(cell[0], cell[2], dtype=np.float64), np.arange(cell[1], cell[3], dtype=np.float64)
    grain = (52.9829189 * ((0.06711056 * column[None, :] + 0.00583715 * row[:, None]) % 1.0)) % 1.0
    exact = table[np.clip(t * 4095, 0, 4095).astype(np.uint16)]
    return [
        Patch(cell, np.floor(exact + grain.astype(np.float32)[..., None] * np.float32(0.999)).astype(np.uint8), None)
    ]


@_patches.register
def _fill(layer: FillBox, item: Item, grid: Grid, cell: Box, pixels: Pixels) -> list[Patch]:
    polygons = _outline(layer, grid)
    box = meet(_box(polygons), cell)
    return [Patch(box, _colour(layer.colour), _covers(layer, polygons, box))] if box else []


@_patches.register
def _opening(layer: Opening, item: Item, grid: Grid, cell: Box, pixels: Pixels) -> list[Patch]:
    polygons = _outline(layer, grid)
    if item.number:
        return _number(layer, item.number, grid, cell)
    found = []
    if layer.shadow and item.placement:
        found += _shadow(layer, item.light_deg, polygons, grid, cell)
    border_px = layer.border.width_mm * grid.px_per_mm if layer.border else 0.0
    box = meet(_box(polygons, border_px if layer.border and layer.border.side != "inside" else 0.0), cell)
    if box is None:
        return found
    alpha = _covers(layer, polygons, box)
    if item.photo and item.placement:
        px_from_photo = grid.px_from_page @ page_from_photo(layer, item.photo, item.placement)
        colour = sample(pixels, item.photo, px_from_photo, box)
        if item.placement.fit == "whole":
            w, h = item.photo.width, item.photo.height
            edge = apply(px_from_photo, [(0, 0), (w, 0), (w, h), (0, h)])
            inside = coverage([edge], box)
            alpha = inside if alpha is None else cv2.multiply(inside, alpha, scale=1 / 255).astype(np.uint8)
    else:
        colour = np.array(EMPTY, np.uint8)
    if layer.border and item.placement:
        colour, alpha = _bordered(layer.border, border_px, polygons, colour, alpha, box)
    return [*found, *_with_opaque_core(Patch(box, colour, alpha), layer, polygons)]


def _with_opaque_core(patch: Patch, layer: Opening, polygons: list[Points]) -> list[Patch]:
    """The patch of an upright rectangle as an opaque middle, which is laid by copying, and its four thin edges."""
    if patch.alpha is None or layer.border or not _is_upright(layer):
        return [patch]
    x0, y0, x1, y1 = patch.box
    left, top, right, bottom = outlines.bounds(polygons)
    core = meet((math.ceil(left), math.ceil(top), math.floor(right), math.floor(bottom)), patch.box)
    if core is None:
        return [patch]
    edges = [
        (x0, y0, x1, core[1]),
        (x0, core[3], x1, y1),
        (x0, core[1], core[0], core[3]),
        (core[2], core[1], x1, core[3]),
    ]
    found = []
    for box in (core, *edges):
        if meet(box, patch.box):
            part = np.s_[box[1] - y0 : box[3] - y0, box[0] - x0 : box[2] - x0]
            colour = patch.colour if patch.colour.ndim == 1 else patch.colour[part]
            alpha = patch.alpha[part]
            found.append(
                Patch(box, colour, None if alpha.all() and alpha.min() == 255 else np.ascontiguousarray(alpha))
            )
    return found


def _bordered(
    border: Border, width_px: float, polygons: list[Points], colour: Bytes, alpha: Bytes | None, box: Box
) -> tuple[Bytes, Bytes]:
    """The photo with a line along its outline: both fade together."""
    height, width = box[3] - box[1], box[2] - box[0]
    inside = coverage(polygons, box)
    line = stroke_coverage(polygons, width_px if border.side == "centred" else 2 * width_px, box)
    if border.side != "centred":
        within = inside if border.side == "inside" else 255 - inside
        line = cv2.multiply(line, within, scale=1 / 255).astype(np.uint8)
    both = np.array(np.broadcast_to(colour, (height, width, 3)))
    under = np.full((height, width), 255, np.uint8) if alpha is None else alpha.copy()
    if border.side == "inside":
        # The line's outer edge is the outline's own: colour it fully there and leave the coverage to the outline.
        composite(
            both,
            None,
            _colour(border.colour),
            np.where(inside < 255, np.where(line > 0, 255, 0), line).astype(np.uint8),
        )
        return both, under
    composite(both, under, _colour(border.colour), line)
    return both, under


def _shadow(layer: Opening, light_deg: float, polygons: list[Points], grid: Grid, cell: Box) -> list[Patch]:
    """A drop shadow: the outline, moved away from the light and blurred. Blur is two standard deviations wide."""
    shadow = layer.shadow
    assert shadow is not None
    away = rotation(light_deg) @ np.array([-shadow.distance_mm * grid.px_per_mm, 0.0, 1.0])
    sigma = shadow.blur_mm * grid.px_per_mm / 2
    reach = math.ceil(3 * sigma) + 1
    moved = [p + away[:2] for p in polygons]
    box = meet(_box(moved, reach), cell)
    if box is None:
        return []
    grown = (box[0] - reach, box[1] - reach, box[2] + reach, box[3] + reach)
    mask = coverage(moved, grown)
    if sigma > 0.1:
        mask = cv2.GaussianBlur(mask, (0, 0), sigma, borderType=cv2.BORDER_CONSTANT).astype(np.uint8)
    mask = mask[reach : mask.shape[0] - reach, reach : mask.shape[1] - reach]
    return [Patch(box, _colour(shadow.colour), _faded(np.ascontiguousarray(mask), shadow.opacity, box))]


@_patches.register
def _text(layer: Text, item: Item, grid: Grid, cell: Box, pixels: Pixels) -> list[Patch]:
    return _filled(_words(item, grid), _colour(layer.colour), cell)


def _filled(polygons: list[Points], colour: Bytes, cell: Box) -> list[Patch]:
    box = meet(_box(polygons), cell) if polygons else None
    return [Patch(box, colour, coverage(polygons, box))] if box else []


@_patches.register
def _note(layer: GuideNote, item: Item, grid: Grid, cell: Box, pixels: Pixels) -> list[Patch]:
    panel = transformed(
        outlines.rectangle(layer.width_mm, layer.height_mm, 1.5),
        grid.px_from_page @ layer.page_from_box,
        grid.px_per_mm,
    )
    box = meet(_box(panel), cell)
    if box is None:
        return []
    words = _filled(_words(item, grid), np.array((40, 40, 40), np.uint8), cell)
    return [Patch(box, np.array((240, 240, 240), np.uint8), _faded(coverage(panel, box), 0.85, box)), *words]


@_patches.register
def _ornament(layer: Ornament, item: Item, grid: Grid, cell: Box, pixels: Pixels) -> list[Patch]:
    box = meet(extent(item, grid) or (0, 0, 0, 0), cell)
    if box is None:
        return []
    px_from_box = grid.px_from_page @ layer.page_from_box
    rgba = drawing(layer.svg, layer.colour, px_from_box, layer.width_mm, layer.height_mm, box)
    return [Patch(box, np.ascontiguousarray(rgba[..., :3]), np.ascontiguousarray(rgba[..., 3]))]


def _number(layer: Opening, number: int, grid: Grid, cell: Box) -> list[Patch]:
    """The opening's number on a disc near its top."""
    box_mm = outlines.bounds(list(layer.outline.polygons()))
    radius = min(5.0, max(2.2, 0.09 * min(box_mm[2] - box_mm[0], box_mm[3] - box_mm[1])))
    at = apply(grid.px_from_page @ layer.page_from_opening, [(0.0, box_mm[1] + 1.6 * radius)])[0]
    k = grid.px_per_mm
    disc = [p * k + at for p in outlines.flatten(outlines.ellipse(2 * radius, 2 * radius), 0.02 / k)]
    setting = set_words(str(number), "Lato Bold", radius / mm_from_points(1) * 1.15, 1.0, "centre", "middle", 99, 99)
    words = [p * k + at for p in outlines.flatten(setting.path, 0.02 / k)]
    box = meet(_box(disc), cell)
    if box is None:
        return []
    dark, light = np.array((32, 32, 32), np.uint8), np.array((250, 250, 250), np.uint8)
    return [Patch(box, dark, _faded(coverage(disc, box), 0.78, box)), *_filled(words, light, cell)]
