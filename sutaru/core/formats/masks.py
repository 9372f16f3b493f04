"""Reading a mask picture: the outline about all of it that shows, as path data in fractions of its box."""

import hashlib

import cv2
import numpy as np

from ..document import Mask
from ..errors import FileRefused
from ..geometry import outlines
from ..geometry.matrices import scaling, translation
from ..paint.masks import mask_pixels
from ..paint.svg import drawing
from ..remembering import remember

LEAST_SEEN = 6  # of 255: less cannot be told from nothing in print
_MOST_POINTS = 2000


def read_mask(png: bytes, by: str, width_mm: float, height_mm: float) -> Mask:
    """A mask outline of a size, from a PNG read by ``alpha`` or ``luminance``. Raises FileRefused."""
    name = hashlib.sha256(png).hexdigest()
    traced = trace_outline(png, by)
    if not traced:
        raise FileRefused("This mask hides everything.", "Choose to read it by alpha or by luminance.")
    return Mask.model_validate(
        {"width_mm": width_mm, "height_mm": height_mm, "asset": name, "by": by, "traced": traced}
    )


@remember
def trace_drawing(svg: bytes) -> str:
    """Path data, in fractions of its box, about all that a drawing covers, holes and all: a frame covers its edge only."""
    side = 128
    alpha = drawing(svg, "#000000", scaling(1, 1) @ translation(side / 2, side / 2), side, side, (0, 0, side, side))[
        ..., 3
    ]
    seen = np.pad((alpha >= 96).astype(np.uint8), 1)
    twice = cv2.resize(seen, None, fx=2, fy=2, interpolation=cv2.INTER_NEAREST)
    contours, _ = cv2.findContours(twice, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_SIMPLE)
    around = [cv2.approxPolyDP(contour, 1.2, True).reshape(-1, 2) / 2.0 - 0.75 for contour in contours]
    fractions = [np.clip(polygon / side, 0, 1).round(4) for polygon in around if len(polygon) >= 3]
    return "".join(outlines.polygon(polygon.tolist()) for polygon in fractions[:500])


def trace_outline(png: bytes, by: str) -> str:
    """Path data about all that shows, following whole pixels; "" when nothing does. Raises FileRefused."""
    seen = (mask_pixels(png, by) >= LEAST_SEEN).astype(np.uint8)
    height, width = seen.shape
    # Twice as large, so that a polygon through pixel centres runs along pixel edges; half a pixel of slack stays.
    grown = cv2.copyMakeBorder(cv2.resize(seen, None, fx=2, fy=2, interpolation=cv2.INTER_NEAREST), 1, 1, 1, 1, 0)
    contours, _ = cv2.findContours(grown, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    slack = 0.7
    while True:
        around = [cv2.approxPolyDP(contour, slack, True).reshape(-1, 2) / 2.0 - 0.25 for contour in contours]
        around = [polygon for polygon in around if len(polygon) >= 3]
        if sum(map(len, around)) <= _MOST_POINTS or slack > max(seen.shape):
            break
        slack *= 1.6  # a ragged mask is followed less closely: what shows is decided by its pixels
    size = (width, height)
    return "".join(outlines.polygon(np.clip(polygon / size, 0, 1).round(6).tolist()) for polygon in around)
