"""Echoes as patches: an opening that shows another one's photo again, as a reflection or a repeat."""

import math
from functools import lru_cache

import cv2
import numpy as np
from numpy.typing import NDArray

from ..depths import white
from ..document import Echo, Opening
from ..geometry import outlines
from ..geometry.maps import Map
from .framing import edges_px, paint_frame
from .grid import ROWS, Box, PixelGrid, meet
from .items import Item, Means, Patch, box_about
from .openings import paint_opening
from .source_points import plane_of
from .stacking import cut_patch, merge_patches


def _source_map(layer: Echo, item: Item, grid: PixelGrid) -> tuple[Opening, Map]:
    assert item.source is not None
    return item.source, layer.page_from_source(item.source).then(grid.px_from_page)


def _blur(layer: Echo, grid: PixelGrid) -> tuple[float, int]:
    """Standard deviation and reach of an echo's softness, px."""
    sigma = layer.soften_mm * grid.px_per_mm / 2
    return sigma, math.ceil(4 * sigma) + 1 if sigma > 0.1 else 0  # as far as OpenCV's kernel for floats goes


@lru_cache(maxsize=128)
def echo_extent(layer: Echo, item: Item, grid: PixelGrid) -> Box:
    """The box that an echo can change."""
    source, onto = _source_map(layer, item, grid)
    return box_about(edges_px(source, None, grid, onto)[0], 1.0 + _blur(layer, grid)[1])


def _grow(box: Box, reach: int) -> Box:
    """A box and what is softened into it, in whole tiles of rows."""
    return box[0] - reach, (box[1] - reach) // ROWS * ROWS, box[2] + reach, -(-(box[3] + reach) // ROWS) * ROWS


def echo_patches(layer: Echo, item: Item, grid: PixelGrid, cell: Box, means: Means) -> list[Patch]:
    """The source with its frame once more, as translucent as that: softened, darkened, and fading with the distance from
    the floor."""
    source, onto = _source_map(layer, item, grid)
    sigma, reach = _blur(layer, grid)
    wide = meet(box_about(edges_px(source, None, grid, onto)[0], reach), cell)
    if wide is None:
        return []
    # Beyond the cell lies what is softened into it; whole tiles of it, so that it is sampled as it would be there.
    room, page = _grow(cell, reach), _grow(grid.box, reach)
    frame = paint_frame(source, item, onto, grid, room, at_source=False, shadow=False, page=page)
    parts = paint_opening(frame, source, item, onto, grid, means, page=page)
    if not parts:
        return []
    patch = merge_patches(parts)
    about = (wide[0] - reach, wide[1] - reach, wide[2] + reach, wide[3] + reach)
    seen = meet(patch.box, about)
    if seen is None:
        return []
    patch = cut_patch(patch, seen)
    height, width = wide[3] - wide[1], wide[2] - wide[0]
    around = (patch.box[1] - wide[1] + reach, patch.box[0] - wide[0] + reach)
    colour = np.zeros((height + 2 * reach, width + 2 * reach, 3), np.float32)
    alpha = np.zeros(colour.shape[:2], np.float32)
    onto_rows = np.s_[
        around[0] : around[0] + patch.box[3] - patch.box[1], around[1] : around[1] + patch.box[2] - patch.box[0]
    ]
    cover = np.full(alpha[onto_rows].shape, 255, np.uint8) if patch.alpha is None else patch.alpha
    alpha[onto_rows] = cover
    colour[onto_rows] = patch.colour.astype(np.float32) * (cover[..., None] / np.float32(255))
    if reach:
        colour = cv2.GaussianBlur(colour, (0, 0), sigma, borderType=cv2.BORDER_CONSTANT).astype(np.float32, copy=False)
        alpha = cv2.GaussianBlur(alpha, (0, 0), sigma, borderType=cv2.BORDER_CONSTANT).astype(np.float32, copy=False)
    inner = np.s_[reach : reach + height, reach : reach + width]
    colour, alpha = colour[inner], alpha[inner]
    straight = colour * (np.float32(255) / np.maximum(alpha, np.float32(0.5)))[..., None] * np.float32(1 - layer.darken)
    faint = alpha * _fade_reflection(layer, source, onto, wide) * np.float32(source.opacity)
    darkened = np.clip(np.rint(straight), 0, white(patch.colour)).astype(patch.colour.dtype)
    return [Patch(wide, darkened, np.rint(faint).astype(np.uint8))]


def _fade_reflection(layer: Echo, source: Opening, onto: Map, box: Box) -> NDArray[np.float32] | np.float32:
    """How much of a reflection is left at each px: all at the floor, nothing ``reach`` times the source's height away."""
    if layer.how == "repeat":
        return np.float32(1)
    _, top, _, bottom = outlines.bounds(source.outline.polygons())
    y = plane_of(onto, box)[1]
    away = (np.float32(bottom) - y) / np.float32(bottom - top)
    return np.clip(1 - away / np.float32(layer.reach), 0, 1).astype(np.float32)
