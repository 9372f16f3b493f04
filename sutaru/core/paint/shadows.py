"""Shadows under the page's one light: dropped, in contact, or of lifted corners. Blur is two standard deviations wide."""

import math

import cv2
import numpy as np

from ..colour.profiles import colour_in
from ..depths import Values, convert_to_16_bits
from ..document import Shadow
from ..document.lab import Space
from ..geometry.matrices import Points, rotation
from .grid import Box, PixelGrid, meet, slices_within
from .items import Patch, box_about, fade_coverage
from .vectors import coverage


def shadow_reach(shadow: Shadow, grid: PixelGrid) -> float:
    """How far a shadow reaches beyond what casts it, px."""
    return (shadow.distance_mm + 2 * shadow.blur_mm) * grid.px_per_mm


def shadow_patches(
    shadow: Shadow, light_deg: float, space: Space, polygons: list[Points], corners: Points, grid: PixelGrid, cell: Box
) -> list[Patch]:
    """The shadow of polygons (px) whose box has its ``corners`` (4, 2) there; at most one patch."""
    away = (rotation(light_deg) @ np.array([-1.0, 0.0, 1.0]))[:2]
    distance = shadow.distance_mm * grid.px_per_mm
    sigma = shadow.blur_mm * grid.px_per_mm / 2
    if shadow.kind == "lifted":
        cast = [_lift_corners(corners, away, distance, 2 * sigma)]
    elif shadow.kind == "contact":
        cast = polygons
    else:
        cast = [polygon + away * distance for polygon in polygons]
    reach = math.ceil(3 * sigma) + 1
    box = meet(box_about(cast, reach), cell)
    if box is None:
        return []
    mask = _blur_polygons(cast, sigma, reach, box, grid.depth)
    return [Patch(box, colour_in(shadow.colour, space), fade_coverage(mask, shadow.opacity, box))]


def cast_by(patch: Patch, shadow: Shadow, light_deg: float, space: Space, grid: PixelGrid, cell: Box) -> list[Patch]:
    """The shadow of what a patch shows, at most one patch. The corners of a shape of its own are not lifted: it hovers."""
    away = (rotation(light_deg) @ np.array([-1.0, 0.0, 1.0]))[:2] * (shadow.distance_mm * grid.px_per_mm)
    dx, dy = (0, 0) if shadow.kind == "contact" else (round(float(away[0])), round(float(away[1])))
    sigma = shadow.blur_mm * grid.px_per_mm / 2
    reach = math.ceil(3 * sigma) + 1
    x0, y0, x1, y1 = patch.box
    box = meet((x0 + dx - reach, y0 + dy - reach, x1 + dx + reach, y1 + dy + reach), cell)
    if box is None or patch.alpha is None:
        return []
    wide = (box[0] - reach, box[1] - reach, box[2] + reach, box[3] + reach)
    mask = np.zeros((wide[3] - wide[1], wide[2] - wide[0]), np.uint8)
    moved = (x0 + dx, y0 + dy, x1 + dx, y1 + dy)
    if shared := meet(moved, wide):
        mask[slices_within(shared, wide)] = patch.alpha[slices_within(shared, moved)]
    if sigma > 0.1:
        side = 2 * reach + 1
        mask = cv2.GaussianBlur(mask, (side, side), sigma, borderType=cv2.BORDER_CONSTANT).astype(np.uint8, copy=False)
    seen = np.ascontiguousarray(mask[slices_within(box, wide)])
    return [Patch(box, colour_in(shadow.colour, space), fade_coverage(seen, shadow.opacity, box))]


def _blur_polygons(cast: list[Points], sigma: float, reach: int, box: Box, depth: int) -> Values:
    """Coverage of polygons, blurred, of ``depth`` bits. A soft blur leaves nothing that needs every pixel: it is made on coarser
    ones.

    The coarse grid is the page's own, so that every cell of a page agrees.
    """
    coarse = max(1, int(sigma / 4))
    x0, y0 = (math.floor((v - reach) / coarse) for v in box[:2])
    x1, y1 = (math.ceil((v + reach) / coarse) for v in box[2:])
    mask: Values = coverage([polygon / coarse for polygon in cast], (x0, y0, x1, y1))
    if depth == 16:
        mask = convert_to_16_bits(mask)
    if sigma > 0.1:
        mask = cv2.GaussianBlur(mask, (0, 0), sigma / coarse, borderType=cv2.BORDER_CONSTANT)
    if coarse > 1:
        size = mask.shape[1] * coarse, mask.shape[0] * coarse
        mask = cv2.resize(mask, size, interpolation=cv2.INTER_LINEAR)
    left, top = box[0] - x0 * coarse, box[1] - y0 * coarse
    return np.ascontiguousarray(mask[top : top + box[3] - box[1], left : left + box[2] - box[0]])


def _lift_corners(corners: Points, away: Points, distance: float, soft: float) -> Points:
    """The edge of a sheet whose corners away from the light have come off the page, as their shadow lies.

    Along each side the lift falls off from its corners to a third in its middle; what is not lifted hides beneath, by as
    much as the shadow is soft.
    """
    middle = corners.mean(axis=0)
    towards = (corners - middle) @ away
    lift = np.clip(towards / max(1e-9, float(np.abs(towards).max())), 0.0, 1.0)
    t = np.linspace(0, 1, 24, endpoint=False)[:, None]
    sides = []
    for i in range(4):
        a, b = corners[i], corners[(i + 1) % 4]
        height = (lift[i] + (lift[(i + 1) % 4] - lift[i]) * t) * (0.3 + 0.7 * (2 * t - 1) ** 2)
        side = a + (b - a) * t
        inwards = middle - side
        inwards = inwards / np.maximum(1.0, np.hypot(*inwards.T))[:, None]
        sides.append(side + inwards * soft * (1 - height) + away * distance * height)
    return np.concatenate(sides)
