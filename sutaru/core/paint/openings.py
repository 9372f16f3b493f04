"""Openings as patches: the photo behind its outline or mask, in its border and mat; a subject of it that stands free of those."""

import math
from dataclasses import replace
from functools import lru_cache

import cv2
import numpy as np

from ..depths import Values, deepened, flattened
from ..document import GOES_ON, Free, Mask, Opening, Photo
from ..document.lab import Space
from ..fitting import opening_from_photo, standing_free, upright_from_photo
from ..geometry import outlines
from ..geometry.maps import Map, chained
from ..geometry.matrices import apply, inverse
from ..mending import mended
from ..photos import Pixels
from .framing import Frame, edges_px, framed, picture_corners, times
from .grid import ROWS, Box, PixelGrid, join, meet, within
from .items import Item, Means, Patch, box_about, laid, outline_px, px_from_layer
from .sampling import Beyond, sample
from .shadows import cast_by, shadow_reach
from .sharpening import about, unsharp
from .stacking import in_view, together
from .vectors import coverage

EMPTY = (226, 226, 226)  # an opening without a photo, on the bench only


def opening_extent(layer: Opening, item: Item, grid: PixelGrid) -> Box:
    """The box that an opening can change."""
    box = _framed_extent(layer, grid)
    if not item.free:
        return box
    onto = px_from_layer(layer, grid)
    x0, y0, x1, y1 = _free_box(layer, item, onto, _photo_onto(layer, item, onto), grid)
    grow = math.ceil(1.5 * shadow_reach(layer.shadow, grid)) + 2 if layer.shadow and not item.behind else 0
    return join(box, (x0 - grow, y0 - grow, x1 + grow, y1 + grow)) or box


@lru_cache(maxsize=4096)
def _framed_extent(layer: Opening, grid: PixelGrid) -> Box:
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
    shadows = frame.shadows if item.behind else _cast(layer, item, onto, grid, cell, means)
    found = [*shadows, *filled(frame, layer, item, onto, grid, means, cell)]
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


def filled(
    frame: Frame, layer: Opening, item: Item, onto: Map, grid: PixelGrid, means: Means, cell: Box | None = None
) -> list[Patch]:  # fmt: skip
    """Border, mat and photo, bottom to top. Within ``cell``, subjects that stand free reach beyond them."""
    if not (item.photo and item.placement):
        return list(frame.under)
    photo_onto = _photo_onto(layer, item, onto)
    found = list(frame.under) if item.behind else [_with_hole(patch, frame) for patch in frame.under]
    if frame.box and item.behind:
        found.append(Patch(frame.box, _seen(frame.box, layer, item, onto, photo_onto, grid, means), frame.alpha))
    for free in item.free:
        found += _standing(free, frame, layer, item, onto, photo_onto, grid, means, cell)
    return found


def _with_hole(patch: Patch, frame: Frame) -> Patch:
    """What frames a photo, open where that would show."""
    hole = meet(frame.box, patch.box) if frame.box else None
    if frame.box is None or hole is None:
        return patch
    shape = patch.box[3] - patch.box[1], patch.box[2] - patch.box[0]
    alpha = np.full(shape, 255, np.uint8) if patch.alpha is None else patch.alpha.copy()
    shown = None if frame.alpha is None else frame.alpha[within(hole, frame.box)]
    alpha[within(hole, patch.box)] = 0 if shown is None else times(alpha[within(hole, patch.box)], 255 - shown)
    return replace(patch, alpha=alpha)


def _photo_onto(layer: Opening, item: Item, onto: Map) -> Map:
    """From photo px to wherever ``onto`` leads from the opening's plane."""
    assert item.photo
    assert item.placement
    photo_onto = onto.after(opening_from_photo(layer, item.photo, item.placement))
    if item.recipe and item.recipe.upright and item.recipe.upright.changes:
        photo_onto = chained(upright_from_photo(item.recipe.upright, item.photo.width, item.photo.height), photo_onto)
    return photo_onto


def _seen(
    box: Box, layer: Opening, item: Item, onto: Map, photo_onto: Map, grid: PixelGrid, means: Means,
    free: Free | None = None,
) -> Values:  # fmt: skip
    """The photo in a box, as deep as the grid, mended, and sharpened where the print wants it; RGBA of a subject that stands
    ``free``."""
    assert item.photo
    whole = meet(box_about(outline_px(layer, grid, onto)), grid.box)
    if item.sharpen and whole and isinstance(layer.outline, Mask):  # it reaches beyond what is traced of it
        whole = join(whole, meet(box_about(laid([picture_corners(layer.outline)], onto)), grid.box)) or whole
    if free:
        whole = join(whole, meet(_free_box(layer, item, onto, photo_onto, grid), grid.box))
    sharpen = item.sharpen if whole else None
    sampled, around = about(box, whole, sharpen.reach_px(grid.px_per_mm)) if sharpen and whole else (box, whole)
    pixels, beyond = means.pixels(item), _beyond(layer, item, means)
    if free:
        pixels, beyond = _subject(free, item, means), None
    seen = sample(pixels, item.photo, photo_onto, sampled, around, item.space, beyond, grid.depth)
    colour = mended(np.ascontiguousarray(seen[..., :3]) if free else seen, item.recipe, item.photo.found)
    if sharpen:
        colour = unsharp(colour, sharpen.sigma_px(grid.px_per_mm), sharpen.amount)
    if free:
        colour = np.dstack([colour, seen[..., 3]])
    return np.ascontiguousarray(colour[within(box, sampled)]) if sharpen else colour


def _subject(free: Free, item: Item, means: Means) -> Pixels:
    retouching = item.recipe.retouching if item.recipe else None
    assert retouching

    def pixels(photo: Photo, least_scale: float, space: Space = "srgb", depth: int = 8) -> Values:
        found = means.photos.free(photo, least_scale, space, retouching, free)
        return deepened(found) if depth == 16 else found

    return pixels


def _standing(
    free: Free, frame: Frame, layer: Opening, item: Item, onto: Map, photo_onto: Map, grid: PixelGrid, means: Means,
    cell: Box | None,
) -> list[Patch]:  # fmt: skip
    """A subject, over the edge of its opening where it may be; within it as well where the page is to show behind it."""
    assert item.photo
    over = standing_free(layer, free.down) if cell and onto.matrix is not None else None
    box = meet(_free_box(layer, item, onto, photo_onto, grid), cell) if over is not None and cell else None
    if not item.behind:
        box = join(frame.box, box)
    if box is None:
        return []
    seen = _seen(box, layer, item, onto, photo_onto, grid, means, free)
    shown = np.zeros(seen.shape[:2], np.uint8)
    if frame.box and (inner := meet(frame.box, box)):
        shown[within(inner, box)] = 255 if frame.alpha is None else frame.alpha[within(inner, frame.box)]
    room = np.zeros_like(shown) if over is None else coverage(laid([over], onto), box)
    # Where the photo shows wholly, the subject is there already; on the very edge it is laid down wholly, so that none shows.
    room = np.where(shown == 255, 0, room).astype(np.uint8) if item.behind else np.maximum(shown, room)
    # Nothing goes on beyond the photo's own edge.
    sides = np.array([(0, 0), (item.photo.width, 0), (item.photo.width, item.photo.height), (0, item.photo.height)])
    edge = coverage(laid([sides.astype(np.float64)], photo_onto), box)
    alpha = times(times(flattened(np.ascontiguousarray(seen[..., 3])), room), edge)
    return [Patch(box, np.ascontiguousarray(seen[..., :3]), alpha)] if alpha.any() else []


def _cast(layer: Opening, item: Item, onto: Map, grid: PixelGrid, cell: Box, means: Means) -> list[Patch]:
    """The shadow of subjects that stand free before the page."""
    if layer.shadow is None:
        return []
    # What lies beyond the cell casts into it; whole tiles of it, so that it is sampled as it would be there.
    reach = math.ceil(1.5 * shadow_reach(layer.shadow, grid)) + 2
    rows = (cell[1] - reach) // ROWS * ROWS, -(-(cell[3] + reach) // ROWS) * ROWS
    room = (cell[0] - reach, rows[0], cell[2] + reach, rows[1])
    frame = framed(layer, item, onto, grid, room, shadow=False)
    photo_onto = _photo_onto(layer, item, onto)
    parts = [
        patch
        for free in item.free
        for patch in _standing(free, frame, layer, item, onto, photo_onto, grid, means, room)
    ]
    return cast_by(together(parts), layer.shadow, item.light_deg, item.space, grid, cell) if parts else []


def _free_box(layer: Opening, item: Item, onto: Map, photo_onto: Map, grid: PixelGrid) -> Box:
    """The box of page px that what stands free of an opening can change: as far as both the subjects and their room go."""
    assert item.photo
    sides = np.array((item.photo.width, item.photo.height))
    boxes = []
    for free in item.free:
        lines = [np.array(ring) * sides for ring in free.area.rings]
        if free.area.outside:
            lines = [np.array([(0, 0), (1, 0), (1, 1), (0, 1)]) * sides]
        soft = (free.area.soft + 0.03) * float(sides.max())
        x0, y0, x1, y1 = outlines.bounds(lines)
        about = np.array(
            [(x0 - soft, y0 - soft), (x1 + soft, y0 - soft), (x1 + soft, y1 + soft), (x0 - soft, y1 + soft)]
        )
        room = box_about(laid([standing_free(layer, free.down)], onto), 1.0)
        if shared := meet(box_about(laid([about], photo_onto), 2.0), room):
            boxes.append(shared)
    found = boxes[0] if boxes else box_about(outline_px(layer, grid, onto))
    for box in boxes[1:]:
        found = join(found, box) or found
    return found


def _beyond(layer: Opening, item: Item, means: Means) -> Beyond | None:
    """How the photo goes on beyond its edges; None where it does not."""
    photo, lies = item.photo, item.placement
    if lies is None or photo is None or lies.fit not in GOES_ON:
        return None
    back = inverse(opening_from_photo(layer, photo, lies))
    x0, y0, x1, y1 = outlines.bounds([apply(back, polygon) for polygon in layer.outline.polygons()])
    # Where it goes on at all, a little more than is seen, as any interpolation reaches; in fractions of the photo.
    edges = -x0 / photo.width, -y0 / photo.height, x1 / photo.width - 1, y1 / photo.height - 1
    sides = (photo.width, photo.height) * 2
    more = [0.02 * max(sides) / side for side in sides]
    spare = [edge + by if edge > 1e-4 else 0.0 for edge, by in zip(edges, more, strict=True)]

    def mirrored(image: Values) -> tuple[Values, int, int]:
        height, width = image.shape[:2]
        left, top, right, bottom = (round(e * side) for e, side in zip(spare, (width, height) * 2, strict=True))
        grown = cv2.copyMakeBorder(image, top, bottom, left, right, cv2.BORDER_REFLECT)
        return grown, left, top

    def woven(image: Values) -> tuple[Values, int, int]:
        retouching = item.recipe.retouching if item.recipe else None
        return means.photos.woven(image, photo, item.space, retouching, (spare[0], spare[1], spare[2], spare[3]))

    return woven if lies.fit == "woven" else mirrored
