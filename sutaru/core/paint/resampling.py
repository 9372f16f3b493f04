"""An upright picture brought to the print's resolution: each pixel the mean of the picture over it, down and then across.

The picture between its pixels is taken as the cubic through them (R. Keys, "Cubic convolution interpolation for digital image
processing", 1981, with a = -0.75). Its mean over a print pixel is a sum of the picture's pixels about it, whose weights are known
exactly: differences of the cubic's integral. Compiled when it is first needed on a machine, and kept beside this file.
"""

from dataclasses import dataclass

import numpy as np
from numba import types
from numpy.typing import NDArray

from ..compiling import compiled
from ..depths import Values

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


def resampled(image: Values, across: Taps, down: Taps) -> Values:
    """A picture (h, w, c) or (h, w) of either depth at the places of taps; beyond its edges its last pixels go on."""
    shape = len(down.first), len(across.first), *image.shape[2:]
    flat = np.ascontiguousarray(image).reshape(image.shape[0], image.shape[1], -1)
    made = np.empty((shape[0], shape[1], flat.shape[2]), image.dtype)
    work = _colours if (flat.shape[2], across.weights.shape[1]) == (3, 6) else _any
    # Wholly beyond an edge there is its last pixel, however far: a row of working room is little longer than the picture's.
    count = across.weights.shape[1]
    work(flat, np.clip(across.first, -count, flat.shape[1]), across.weights, down.first, down.weights, made)
    return made.reshape(shape)


def _signatures() -> list[object]:
    whole, weights = types.Array(types.int64, 1, "C", readonly=True), types.Array(types.float32, 2, "C", readonly=True)
    return [
        types.void(types.Array(kind, 3, "C", readonly=True), whole, weights, whole, weights, types.Array(kind, 3, "C"))
        for kind in (types.uint8, types.uint16)
    ]


@compiled()
def _window(first: Places, count: int, width: int) -> tuple[int, int]:
    """The columns that taps reach, and at least one that the picture has."""
    return min(first.min(), width - 1), max(first.max() + count, 1)


@compiled()
def _line(image: Values, first: Places, weights: Weights, y: int, left: int, right: int, line: Weights) -> None:
    """One row of the picture's columns left to right, brought to a print row: what lies beyond the picture repeats its edge."""
    height, width, channels = image.shape
    inner_left, inner_right = max(left, 0), min(right, width)
    inner = line[(inner_left - left) * channels : (inner_right - left) * channels]
    inner[:] = np.float32(0)
    for k in range(weights.shape[1]):
        row = min(max(first[y] + k, 0), height - 1)
        source = image[row].reshape(-1)[inner_left * channels : inner_right * channels]
        weight = weights[y, k]
        for i in range(len(inner)):
            inner[i] += weight * np.float32(source[i])
    for x in range(left, inner_left):
        for c in range(channels):
            line[(x - left) * channels + c] = inner[c]
    for x in range(inner_right, right):
        for c in range(channels):
            line[(x - left) * channels + c] = inner[len(inner) - channels + c]


@compiled()
def _rounded(row: Weights, made: Values, top: np.float32) -> None:
    for i in range(len(row)):
        made[i] = np.int32(min(max(row[i] + np.float32(0.5), np.float32(0)), top))


@compiled(*_signatures())
def _colours(image: Values, across: Places, wide: Weights, down: Places, high: Weights, made: Values) -> None:
    """Three channels by six taps across, which is what a picture shrunk to more than half its size has."""
    left, right = _window(across, 6, image.shape[1])
    line = np.empty((right - left) * 3, np.float32)
    top = np.float32(255 if made.itemsize == 1 else 65535)
    row = np.empty(made.shape[1] * 3, np.float32)
    for y in range(made.shape[0]):
        _line(image, down, high, y, left, right, line)
        for x in range(made.shape[1]):
            at = (across[x] - left) * 3
            a, b, c, d, e, f = wide[x, 0], wide[x, 1], wide[x, 2], wide[x, 3], wide[x, 4], wide[x, 5]
            for n in range(3):
                row[3 * x + n] = (
                    a * line[at + n]
                    + b * line[at + 3 + n]
                    + c * line[at + 6 + n]
                    + d * line[at + 9 + n]
                    + e * line[at + 12 + n]
                    + f * line[at + 15 + n]
                )
        _rounded(row, made[y].reshape(-1), top)


@compiled(*_signatures())
def _any(image: Values, across: Places, wide: Weights, down: Places, high: Weights, made: Values) -> None:
    """Any number of channels and taps."""
    channels, count = image.shape[2], wide.shape[1]
    left, right = _window(across, count, image.shape[1])
    line = np.empty((right - left) * channels, np.float32)
    top = np.float32(255 if made.itemsize == 1 else 65535)
    row = np.empty(made.shape[1] * channels, np.float32)
    for y in range(made.shape[0]):
        _line(image, down, high, y, left, right, line)
        for x in range(made.shape[1]):
            at = (across[x] - left) * channels
            for n in range(channels):
                total = np.float32(0)
                for k in range(count):
                    total += wide[x, k] * line[at + k * channels + n]
                row[channels * x + n] = total
        _rounded(row, made[y].reshape(-1), top)
