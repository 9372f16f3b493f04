"""The sums of ``resampling``, over every pixel: compiled when they are first needed on a machine, and kept beside this file.

Loading them takes a moment: what does not paint does without.
"""

import numpy as np
from numba import types
from numpy.typing import NDArray

from ..compiling import compiled
from ..depths import Values

Places = NDArray[np.int64]
Weights = NDArray[np.float32]


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
def _row(image: Values, y: int, left: int, right: int) -> Values:
    """Columns of a row, its channels side by side; beyond the picture its first or last row."""
    channels = image.shape[2]
    return image[min(max(y, 0), image.shape[0] - 1)].reshape(-1)[left * channels : right * channels]


@compiled()
def _beyond(line: Weights, before: int, inner: int, channels: int) -> None:
    """The edges of a row repeated: of so many columns from ``before`` on, into what of the line lies before and after them."""
    for n in range(before * channels):
        line[n] = line[before * channels + n % channels]
    end = (before + inner) * channels
    for n in range(end, len(line)):
        line[n] = line[end - channels + (n - end) % channels]


@compiled()
def _rounded(row: Weights, made: Values, top: np.float32) -> None:
    for i in range(len(made)):
        made[i] = np.int32(min(max(row[i] + np.float32(0.5), np.float32(0)), top))


@compiled()
def _six_down(image: Values, first: int, w: Weights, left: int, right: int, line: Weights) -> None:
    """Six taps down, at one go."""
    r0, r1, r2 = (
        _row(image, first, left, right),
        _row(image, first + 1, left, right),
        _row(image, first + 2, left, right),
    )
    r3, r4, r5 = (
        _row(image, first + 3, left, right),
        _row(image, first + 4, left, right),
        _row(image, first + 5, left, right),
    )
    w0, w1, w2, w3, w4, w5 = w[0], w[1], w[2], w[3], w[4], w[5]
    for i in range(len(line)):
        line[i] = (
            w0 * np.float32(r0[i])
            + w1 * np.float32(r1[i])
            + w2 * np.float32(r2[i])
            + w3 * np.float32(r3[i])
            + w4 * np.float32(r4[i])
            + w5 * np.float32(r5[i])
        )


@compiled()
def _six_across(line: Weights, first: Places, w: Weights, row: Weights) -> None:
    """Six taps of a line of three channels at each place. Four numbers are worked out at a time, as processors have it: the
    fourth is the next place's first, or lies beyond the end."""
    for x in range(len(first)):
        p, made = line[first[x] * 3 : first[x] * 3 + 19], row[x * 3 : x * 3 + 4]
        a, b, c, d, e, f = w[x, 0], w[x, 1], w[x, 2], w[x, 3], w[x, 4], w[x, 5]
        m0 = a * p[0] + b * p[3] + c * p[6] + d * p[9] + e * p[12] + f * p[15]
        m1 = a * p[1] + b * p[4] + c * p[7] + d * p[10] + e * p[13] + f * p[16]
        m2 = a * p[2] + b * p[5] + c * p[8] + d * p[11] + e * p[14] + f * p[17]
        m3 = a * p[3] + b * p[6] + c * p[9] + d * p[12] + e * p[15] + f * p[18]
        made[0], made[1], made[2], made[3] = m0, m1, m2, m3


@compiled(*_signatures())
def colours(image: Values, across: Places, wide: Weights, down: Places, high: Weights, made: Values) -> None:
    """Three channels by six taps each way, which is what a picture shrunk to more than half its size has."""
    left, right = _window(across, 6, image.shape[1])
    inner_left, inner_right = max(left, 0), min(right, image.shape[1])
    line, row = np.zeros((right - left + 1) * 3, np.float32), np.empty((made.shape[1] + 1) * 3, np.float32)
    inner, places = line[(inner_left - left) * 3 : (inner_right - left) * 3], across - left
    top = np.float32(255 if made.itemsize == 1 else 65535)
    for y in range(made.shape[0]):
        _six_down(image, down[y], high[y], inner_left, inner_right, inner)
        _beyond(line[: (right - left) * 3], inner_left - left, inner_right - inner_left, 3)
        _six_across(line, places, wide, row)
        _rounded(row, made[y].reshape(-1), top)


@compiled(*_signatures())
def any_taps(image: Values, across: Places, wide: Weights, down: Places, high: Weights, made: Values) -> None:
    """Any number of channels and taps."""
    channels, count = image.shape[2], wide.shape[1]
    left, right = _window(across, count, image.shape[1])
    inner_left, inner_right = max(left, 0), min(right, image.shape[1])
    line, row = np.empty((right - left) * channels, np.float32), np.empty(made.shape[1] * channels, np.float32)
    inner = line[(inner_left - left) * channels : (inner_right - left) * channels]
    top = np.float32(255 if made.itemsize == 1 else 65535)
    for y in range(made.shape[0]):
        inner[:] = np.float32(0)
        for k in range(high.shape[1]):
            source = _row(image, down[y] + k, inner_left, inner_right)
            for i in range(len(inner)):
                inner[i] += high[y, k] * np.float32(source[i])
        _beyond(line, inner_left - left, inner_right - inner_left, channels)
        for x in range(made.shape[1]):
            at = (across[x] - left) * channels
            for n in range(channels):
                total = np.float32(0)
                for k in range(count):
                    total += wide[x, k] * line[at + k * channels + n]
                row[channels * x + n] = total
        _rounded(row, made[y].reshape(-1), top)
