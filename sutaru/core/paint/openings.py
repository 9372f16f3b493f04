"""Openings as patches: the photo behind its outline or mask, in its border and mat; a subject of it that stands free of those."""

import math
from dataclasses import replace
from functools import lru_cache

import numpy as np

from ..depths import convert_to_8_bits
from ..document import Opening
from ..geometry.maps import Map
from .framing import Frame, edges_px, multiply_coverage, paint_frame
from .free_subjects import cast_before_page, paint_free_subject
from .grid import Box, PixelGrid, join, meet, slices_within
from .items import Item, Means, Patch, box_about, outline_px, px_from_layer
from .photo_pixels import free_box, photo_onto_page, photo_seen
from .shadows import shadow_reach
from .stacking import cut_to_visible, merge_patches
from .vectors import coverage

EMPTY = (226, 226, 226)  # an opening without a photo, on the bench only


def opening_extent(layer: Opening, item: Item, grid: PixelGrid) -> Box:
    """The box that an opening can change."""
    box = _frame_extent(layer, grid)
    if not item.free_subjects:
        return box
    onto = px_from_layer(layer, grid)
    x0, y0, x1, y1 = free_box(layer, item, onto, photo_onto_page(layer, item, onto), grid)
    grow = math.ceil(1.5 * shadow_reach(layer.shadow, grid)) + 2 if layer.shadow and not item.is_photo_behind else 0
    return join(box, (x0 - grow, y0 - grow, x1 + grow, y1 + grow)) or box


@lru_cache(maxsize=1024)
def _frame_extent(layer: Opening, grid: PixelGrid) -> Box:
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
    # Where the page shows behind a subject, that casts the shadow instead of the opening.
    shadows = frame.shadows if item.is_photo_behind else cast_before_page(layer, item, onto, grid, cell, means)
    stacked = [*shadows, *paint_opening(frame, layer, item, onto, grid, means, cell)]
    if layer.opacity == 1.0 and layer.blend == "normal":
        return cut_to_visible(stacked)
    # What fades, or blends, does so as one: a shadow never darkens the translucent photo that casts it.
    return [merge_patches(stacked)] if stacked else []


def _frame(layer: Opening, item: Item, onto: Map, grid: PixelGrid, cell: Box, means: Means) -> Frame:
    """The frame as it was last: while a photo is fitted nothing of its frame changes."""
    placement, photo = item.placement, item.photo
    assert placement
    assert photo
    cut = (placement, photo.width, photo.height) if placement.fit == "whole" else placement.ratio
    key = (layer, item.light_deg, item.space, item.over, cut, grid, cell)
    frame = means.frames.get(key)
    if frame is None:
        frame = paint_frame(layer, item, onto, grid, cell)
        means.frames.put(key, frame)
    return frame


def paint_opening(
    frame: Frame, layer: Opening, item: Item, onto: Map, grid: PixelGrid, means: Means, cell: Box | None = None,
    page: Box | None = None,
) -> list[Patch]:  # fmt: skip
    """Border, mat and photo, bottom to top. Within ``cell``, subjects that stand free reach beyond them. ``page``: as
    ``photo_seen`` takes it."""
    if not (item.photo and item.placement):
        return list(frame.under)
    photo_onto = photo_onto_page(layer, item, onto)
    whole = item.is_photo_behind and not item.photo.is_translucent
    stacked = list(frame.under) if whole else [_cut_hole(patch, frame) for patch in frame.under]
    if frame.box and item.is_photo_behind:
        seen = photo_seen(frame.box, layer, item, onto, photo_onto, grid, means, page=page)
        alpha = frame.alpha
        if seen.shape[2] == 4:
            seen, cover = np.ascontiguousarray(seen[..., :3]), convert_to_8_bits(np.ascontiguousarray(seen[..., 3]))
            alpha = multiply_coverage(cover, alpha)
        stacked.append(Patch(frame.box, seen, alpha))
    for free in item.free_subjects:
        stacked += paint_free_subject(free, frame, layer, item, onto, photo_onto, grid, means, cell)
    return stacked


def _cut_hole(patch: Patch, frame: Frame) -> Patch:
    """What frames a photo, open where that would show."""
    hole = meet(frame.box, patch.box) if frame.box else None
    if frame.box is None or hole is None:
        return patch
    shape = patch.box[3] - patch.box[1], patch.box[2] - patch.box[0]
    alpha = np.full(shape, 255, np.uint8) if patch.alpha is None else patch.alpha.copy()
    shown = None if frame.alpha is None else frame.alpha[slices_within(hole, frame.box)]
    alpha[slices_within(hole, patch.box)] = (
        0 if shown is None else multiply_coverage(alpha[slices_within(hole, patch.box)], 255 - shown)
    )
    return replace(patch, alpha=alpha)
