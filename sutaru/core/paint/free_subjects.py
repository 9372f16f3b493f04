"""Subjects that stand free of their openings: over border and edge, or alone before the page with a shadow of their own."""

import math

import numpy as np

from ..depths import convert_to_8_bits
from ..document import Free, Opening
from ..fitting import free_subject_room
from ..geometry.maps import Map
from .framing import Frame, multiply_coverage, paint_frame
from .grid import ROWS, Box, PixelGrid, join, meet, slices_within
from .items import Item, Means, Patch, lay_polygons
from .photo_pixels import free_box, photo_onto_page, photo_seen
from .shadows import cast_by, shadow_reach
from .stacking import merge_patches
from .vectors import coverage


def paint_free_subject(
    free: Free, frame: Frame, layer: Opening, item: Item, onto: Map, photo_onto: Map, grid: PixelGrid, means: Means,
    cell: Box | None,
) -> list[Patch]:  # fmt: skip
    """A subject, over the edge of its opening where it may be; within it as well where the page is to show behind it."""
    assert item.photo
    over = free_subject_room(layer, free.down) if cell and onto.matrix is not None else None
    box = meet(free_box(layer, item, onto, photo_onto, grid), cell) if over is not None and cell else None
    if not item.is_photo_behind:
        box = join(frame.box, box)
    if box is None:
        return []
    seen = photo_seen(box, layer, item, onto, photo_onto, grid, means, free)
    shown = np.zeros(seen.shape[:2], np.uint8)
    if frame.box and (inner := meet(frame.box, box)):
        shown[slices_within(inner, box)] = 255 if frame.alpha is None else frame.alpha[slices_within(inner, frame.box)]
    room = np.zeros_like(shown) if over is None else coverage(lay_polygons([over], onto), box)
    # Where the photo shows wholly, the subject is there already; on the very edge it is laid down wholly, so that none shows.
    room = np.where(shown == 255, 0, room).astype(np.uint8) if item.is_photo_behind else np.maximum(shown, room)
    # Nothing goes on beyond the photo's own edge.
    sides = np.array([(0, 0), (item.photo.width, 0), (item.photo.width, item.photo.height), (0, item.photo.height)])
    edge = coverage(lay_polygons([sides.astype(np.float64)], photo_onto), box)
    alpha = multiply_coverage(multiply_coverage(convert_to_8_bits(np.ascontiguousarray(seen[..., 3])), room), edge)
    return [Patch(box, np.ascontiguousarray(seen[..., :3]), alpha)] if alpha.any() else []


def cast_before_page(layer: Opening, item: Item, onto: Map, grid: PixelGrid, cell: Box, means: Means) -> list[Patch]:
    """The shadow of subjects that stand free before the page."""
    if layer.shadow is None:
        return []
    # What lies beyond the cell casts into it; whole tiles of it, so that it is sampled as it would be there.
    reach = math.ceil(1.5 * shadow_reach(layer.shadow, grid)) + 2
    rows = (cell[1] - reach) // ROWS * ROWS, -(-(cell[3] + reach) // ROWS) * ROWS
    room = (cell[0] - reach, rows[0], cell[2] + reach, rows[1])
    frame = paint_frame(layer, item, onto, grid, room, shadow=False)
    photo_onto = photo_onto_page(layer, item, onto)
    parts = [
        patch
        for free in item.free_subjects
        for patch in paint_free_subject(free, frame, layer, item, onto, photo_onto, grid, means, room)
    ]
    return cast_by(merge_patches(parts), layer.shadow, item.light_deg, item.space, grid, cell) if parts else []
