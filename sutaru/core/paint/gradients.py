"""Gradients as pixels: linear or radial across a box, without bands."""

import numpy as np

from ..colour.profiles import colour_in
from ..depths import Values
from ..document import Gradient
from ..document.lab import Space
from ..geometry.matrices import rotation
from .grid import Box

_STEPS = 4096


def paint_gradient(gradient: Gradient, whole: Box, box: Box, space: Space, depth: int = 8) -> Values:
    """A gradient that runs across ``whole`` as seen in ``box``, both page px: RGB of a working space, (h, w, 3)."""
    x0, y0, x1, y1 = whole
    w, h = x1 - x0, y1 - y0
    x, y = np.arange(box[0], box[2]) + 0.5 - x0, np.arange(box[1], box[3]) + 0.5 - y0
    if gradient.shape == "linear":
        along = rotation(gradient.turn_deg) @ np.array([1.0, 0.0, 1.0])
        reach = (w * abs(along[0]) + h * abs(along[1])) / 2
        t = (((x - w / 2) * along[0])[None, :] + ((y - h / 2) * along[1])[:, None]) / reach / 2 + 0.5
    else:
        cx, cy = gradient.centre[0] * w, gradient.centre[1] * h
        farthest = np.hypot(max(cx, w - cx), max(cy, h - cy))
        t = np.hypot((x - cx)[None, :], (y - cy)[:, None]) / farthest
    stops = sorted(gradient.stops, key=lambda stop: stop.at)
    colours = np.array([colour_in(stop.colour, space) for stop in stops], np.float32)
    positions = [stop.at for stop in stops]
    table = np.stack([np.interp(np.linspace(0, 1, _STEPS), positions, colours[:, c]) for c in range(3)], axis=-1)
    exact = table.astype(np.float32)[np.clip(t * (_STEPS - 1), 0, _STEPS - 1).astype(np.uint16)]
    if depth == 16:
        return np.rint(exact * np.float32(257)).astype(np.uint16)
    # Eight bits band where a gradient is long: round up or down by a pattern that depends on the place alone
    # (interleaved gradient noise, J. Jimenez, SIGGRAPH 2014 course on real-time rendering; constants from memory).
    column, row = np.arange(box[0], box[2], dtype=np.float64), np.arange(box[1], box[3], dtype=np.float64)
    grain = (52.9829189 * ((0.06711056 * column[None, :] + 0.00583715 * row[:, None]) % 1.0)) % 1.0
    return np.floor(exact + grain.astype(np.float32)[..., None] * np.float32(0.999)).astype(np.uint8)
