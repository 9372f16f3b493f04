"""One photo's tone matched to another's: curves that bring how often each value is in the one to how often it is in the other."""

import numpy as np
from numpy.typing import NDArray

from ..document import Curves

Bytes = NDArray[np.uint8]
# Where along all its pixels a photo is compared: the ends hold few, and may be dust or lamps.
_SHARES = (0.01, 0.05, 0.15, 0.3, 0.5, 0.7, 0.85, 0.95, 0.99)
_APART = 6.0  # of 255, between two points of a curve: what lies closer is no shape but noise


def match_tones(pixels: Bytes, like: Bytes) -> Curves:
    """Curves that give pixels (h, w, 3) the tones of others, colour by colour (R. C. Gonzalez and R. E. Woods, Digital Image
    Processing, histogram specification), at a few places along both so that the curve stays smooth."""
    red, green, blue = (_curve(pixels[..., n], like[..., n]) for n in range(3))
    return Curves(red=red, green=green, blue=blue)


def _curve(values: Bytes, like: Bytes) -> tuple[tuple[float, float], ...]:
    held = np.quantile(values, _SHARES), np.quantile(like, _SHARES)
    points: list[tuple[float, float]] = []
    for x, y in zip(*(side.tolist() for side in held), strict=True):
        if not points or x - points[-1][0] >= _APART:
            points.append((round(x, 1), round(y, 1)))
    (first_x, first_y), (last_x, last_y) = points[0], points[-1]
    # Beyond what is compared the curve runs to black and to white, never steeper than it begins.
    if first_x >= _APART:
        points.insert(0, (0.0, max(0.0, round(first_y - first_x, 1))))
    if last_x <= 255 - _APART:
        points.append((255.0, min(255.0, round(last_y + (255 - last_x), 1))))
    if len(points) < 2:  # one value alone: all of it goes where the other's middle is
        points = [(0.0, points[0][1]), (255.0, points[0][1])]
    return tuple(points)
