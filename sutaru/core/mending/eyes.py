"""Eyes that a flash made red, or an animal's green: the colour is taken out of the pupil, its glint and its depth stay."""

import math

import cv2
import numpy as np
from numpy.typing import NDArray

from ..document import Eye, Stroke
from .areas import Box, Size, coverage

Bytes = NDArray[np.uint8]
# By what share of itself red, or green, outdoes the two others: below the first it is skin, lips, grass; above the second a
# flash (common practice, no source).
_RED, _GREEN = (0.4, 0.62), (0.3, 0.5)
_DARK = 40.0  # of 255: in what is darker nothing glares
_DARKER = 0.8
_SOFT = 0.35  # of the radius: a pupil's edge


def glare(part: NDArray[np.float32]) -> NDArray[np.float32]:
    """How far pixels (h, w, 3) of 0 to 255 have a flash's colour, 0 to 1."""
    red, green, blue = part[..., 0], part[..., 1], part[..., 2]

    def brightness_over(
        inner: NDArray[np.float32], others: NDArray[np.float32], ends: tuple[float, float]
    ) -> NDArray[np.float32]:
        t = np.clip(((inner - others) / np.maximum(inner, _DARK) - ends[0]) / (ends[1] - ends[0]), 0.0, 1.0)
        return (t * t * (3 - 2 * t)).astype(np.float32)

    glares: NDArray[np.float32] = np.maximum(
        brightness_over(red, np.maximum(green, blue), _RED), brightness_over(green, np.maximum(red, blue), _GREEN)
    )
    return glares


def pupil_stroke(touch: Eye) -> Stroke:
    """The area of a pupil: a dot of the brush."""
    return Stroke(points=(touch.centre,), radius=touch.radius, soft=_SOFT)


def remove_flash(image: Bytes, touch: Eye, size: Size, box: Box) -> None:
    """Takes a flash out of a pupil, in place."""
    x0, y0, x1, y1 = box
    radius = touch.radius * size.longer_side
    within = coverage(pupil_stroke(touch), size, box)
    part = image[y0:y1, x0:x1].astype(np.float32)
    # The edge of what glares is soft, as the pupil's is.
    share = cv2.GaussianBlur(glare(part), (0, 0), max(0.4, radius / 10)) * within * (touch.strength / 100)
    dark = np.min(part, axis=2) * 0.5 + np.median(part, axis=2) * 0.5
    part += (dark[..., None] * np.float32(_DARKER) - part) * share[..., None]
    image[y0:y1, x0:x1] = np.rint(np.clip(part, 0, 255)).astype(np.uint8)


def pupil(image: Bytes, point: tuple[float, float], reach: float) -> tuple[tuple[float, float], float] | None:
    """The glaring pupil nearest to a point, px, looked for within ``reach`` px: its centre and radius; None
    where there is none."""
    height, width = image.shape[:2]
    x0, y0 = max(0, math.floor(point[0] - reach)), max(0, math.floor(point[1] - reach))
    x1, y1 = min(width, math.ceil(point[0] + reach)), min(height, math.ceil(point[1] + reach))
    if x1 - x0 < 2 or y1 - y0 < 2:
        return None
    glares = (glare(image[y0:y1, x0:x1].astype(np.float32)) > 0.4).astype(np.uint8)
    count, _, stats, centres = cv2.connectedComponentsWithStats(glares)
    best: tuple[float, tuple[float, float], float] | None = None
    for n in range(1, count):
        wide, high, area = int(stats[n, 2]), int(stats[n, 3]), int(stats[n, 4])
        roundish = area >= 0.45 * wide * high and max(wide, high) <= 2.2 * min(wide, high)
        if area < 3 or not roundish or max(wide, high) > 1.2 * reach:
            continue
        centre = float(centres[n, 0]) + x0 + 0.5, float(centres[n, 1]) + y0 + 0.5
        off = math.hypot(centre[0] - point[0], centre[1] - point[1]) - math.sqrt(area)
        if best is None or off < best[0]:
            best = off, centre, max(wide, high) / 2
    return None if best is None else (best[1], best[2] * 1.35 + 0.5)
