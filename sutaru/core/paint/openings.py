"""Openings as patches: the photo behind its outline or mask, in its border and mat."""

import math
from functools import lru_cache

import numpy as np

from ..document import Mask, Opening
from ..fitting import opening_from_photo, upright_from_photo
from ..geometry import outlines
from ..geometry.maps import Map, chained
from ..geometry.matrices import apply, inverse
from ..mending import mended
from .blending import Bytes
from .framing import Frame, edges_px, framed, picture_corners
from .grid import Box, PixelGrid, join, meet, within
from .items import Item, Means, Patch, box_about, laid, outline_px, px_from_layer
from .sampling import sample
from .shadows import shadow_reach
from .sharpening import about, unsharp
from .stacking import in_view, together
from .vectors import coverage

EMPTY = (226, 226, 226)  # an opening without a photo, on the bench only


@lru_cache(maxsize=4096)
def opening_extent(layer: Opening, grid: PixelGrid) -> Box:
    """The box that an opening can change."""
    grow = 1.0 + (shadow_reach(layer.shadow, grid) if layer.shadow else 0.0)
    return box_about(edges_px(layer, None, grid, px_from_layer(layer, grid))[0], grow)


def opening_patches(layer: Opening, item: Item, grid: PixelGrid, cell: Box, means: Means) -> list[Patch]:
    """Shadow first, then what frames the photo, then the photo."""
    onto = px_from_layer(layer, grid)
    if not (item.photo and item.placement):
        polygons = outline_px(layer, grid, onto)
        empty = meet(box_about(polygons), cell)
        return [Patch(empty, np.array(EMPTY, np.uint8), coverage(polygons, empty))] if empty else []
    frame = _frame(layer, item, onto, grid, cell, means)
    found = [*frame.shadows, *filled(frame, layer, item, onto, grid, means)]
    if layer.opacity == 1.0 and layer.blend == "normal":
        return in_view(found)
    # What fades, or blends, does so as one: a shadow never darkens the translucent photo that casts it.
    return [together(found)] if found else []


def _frame(layer: Opening, item: Item, onto: Map, grid: PixelGrid, cell: Box, means: Means) -> Frame:
    """The frame as it was last: while a photo is fitted nothing of its frame changes."""
    placement, photo = item.placement, item.photo
    assert placement
    assert photo
    cut = (placement, photo.width, photo.height) if placement.fit == "whole" else placement.ratio
    key = (layer, item.light_deg, item.space, item.over, cut, grid, cell)
    found = means.frames.get(key)
    if found is None:
        found = framed(layer, item, onto, grid, cell)
        means.frames.put(key, found)
    return found


def filled(frame: Frame, layer: Opening, item: Item, onto: Map, grid: PixelGrid, means: Means) -> list[Patch]:
    """Border, mat and photo, bottom to top."""
    if frame.box is None or not (item.photo and item.placement):
        return list(frame.under)
    photo_onto = onto.after(opening_from_photo(layer, item.photo, item.placement))
    if item.recipe and item.recipe.upright and item.recipe.upright.changes:
        photo_onto = chained(upright_from_photo(item.recipe.upright, item.photo.width, item.photo.height), photo_onto)
    whole = meet(box_about(outline_px(layer, grid, onto)), grid.box)
    if item.sharpen and whole:
        if isinstance(layer.outline, Mask):  # a mask picture reaches beyond what is traced of it
            whole = join(whole, meet(box_about(laid([picture_corners(layer.outline)], onto)), grid.box)) or whole
        colour = _sharp(layer, frame.box, whole, item, photo_onto, grid, means)
    else:
        seen = sample(means.pixels(item), item.photo, photo_onto, frame.box, whole, item.space, _beyond(layer, item))
        colour = mended(seen, item.recipe, item.photo.found)
    return [*frame.under, Patch(frame.box, colour, frame.alpha)]


def _beyond(layer: Opening, item: Item) -> tuple[int, int, int, int] | None:
    """How many px the photo goes on beyond each of its edges: left, top, right, bottom; None where it does not."""
    if item.placement is None or item.photo is None or item.placement.fit != "continued":
        return None
    back = inverse(opening_from_photo(layer, item.photo, item.placement))
    x0, y0, x1, y1 = outlines.bounds([apply(back, polygon) for polygon in layer.outline.polygons()])
    spare = 0.02 * max(item.photo.width, item.photo.height)  # more than any interpolation reaches, at whatever size
    edges = spare - x0, spare - y0, x1 - item.photo.width + spare, y1 - item.photo.height + spare
    left, top, right, bottom = (max(0, math.ceil(edge)) for edge in edges)
    return left, top, right, bottom


def _sharp(layer: Opening, box: Box, whole: Box, item: Item, photo_onto: Map, grid: PixelGrid, means: Means) -> Bytes:
    """The photo in a box, mended and sharpened as the print wants it."""
    assert item.photo
    assert item.sharpen
    sampled, around = about(box, whole, item.sharpen.reach_px(grid.px_per_mm))
    seen = sample(means.pixels(item), item.photo, photo_onto, sampled, around, item.space, _beyond(layer, item))
    colour = mended(seen, item.recipe, item.photo.found)
    sharp = unsharp(colour, item.sharpen.sigma_px(grid.px_per_mm), item.sharpen.amount)
    return np.ascontiguousarray(sharp[within(box, sampled)])
