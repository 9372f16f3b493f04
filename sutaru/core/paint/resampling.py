"""An upright picture brought to the print's resolution: each pixel the mean of the picture over it, down and then across.

The picture between its pixels is taken as the cubic through them (R. Keys, "Cubic convolution interpolation for digital image
processing", 1981, with a = -0.75). Its mean over a print pixel is a sum of the picture's pixels about it, whose weights are known
exactly: differences of the cubic's integral.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..depths import Values
from . import sums

Floats = NDArray[np.float64]
Places = NDArray[np.int64]
Weights = NDArray[np.float32]


@dataclass(frozen=True)
class Taps:
    """Along one side: for each print pixel the first of the picture's that it is made of, and the weights of that and of those
    that follow."""

    first: Places
    weights: Weights


def taps(first: int, last: int, scale: float, shift: float) -> Taps:
    """For print pixels first to last. A place x of the picture lies at ``scale`` x + ``shift`` of the print; a negative scale
    mirrors."""
    middle = (np.arange(first, last) + 0.5 - shift) / scale - 0.5
    half = 0.5 / abs(scale)
    reach = 2.0 + half
    start = np.ceil(middle - reach).astype(np.int64)
    away = start[:, None] + np.arange(int(np.floor(2 * reach)) + 1) - middle[:, None]
    weights = _integral(np.clip(away + half, -2.0, 2.0)) - _integral(np.clip(away - half, -2.0, 2.0))
    weights /= weights.sum(axis=1, keepdims=True)
    return Taps(start, weights.astype(np.float32))


def _integral(x: Floats) -> Floats:
    """Of Keys's cubic from 0 to x, within -2 and 2."""
    near, far = np.minimum(np.abs(x), 1.0), np.maximum(np.abs(x), 1.0)
    inner = near * (1.0 + near * near * (1.25 / 4 * near - 2.25 / 3))
    outer = far * (4.0 + far * (-4.0 + far * (5 / 3 - far / 4)))
    return np.sign(x) * (inner + 0.75 * (outer - (5 / 3 - 1 / 4)))


def resample(image: Values, across: Taps, down: Taps) -> Values:
    """A picture (h, w, c) or (h, w) of either depth at the places of taps; beyond its edges its last pixels go on."""
    height, width, channels = image.shape if image.ndim == 3 else (*image.shape, 1)
    flat = np.ascontiguousarray(image).reshape(height, width * channels)
    out = np.empty((len(down.first), len(across.first) * channels), image.dtype)
    count = across.weights.shape[1]
    work = sums.colours if (channels, count, down.weights.shape[1]) == (3, 6, 6) else sums.any_taps
    # Wholly beyond an edge there is its last pixel, however far: a row of working room is little longer than the picture's.
    first = np.clip(across.first, -count, width)
    room = sums.rooms(width, channels, first, count)
    work(flat, channels, first, across.weights, down.first, down.weights, out, *room)
    return out.reshape(len(down.first), len(across.first), *image.shape[2:])
