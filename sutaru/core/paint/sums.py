"""The sums of ``resampling``, over every pixel: compiled when they are first needed on a machine, and kept beside this file.

Each takes a picture (h, w c), the number c of its channels, for each column and row of what is made its first tap and the taps'
weights, what is made (h, w c), the first column that taps reach, and room for a row of the picture and for one of what is made,
which ``rooms`` gives.
"""

import numpy as np
from numpy.typing import NDArray

from ..compiling import compile_for, helper
from ..depths import Values

Places = NDArray[np.int64]
Weights = NDArray[np.float32]


_SIGNATURES = [
    f"{kind} 2, int64, int64 1, float32 2, int64 1, float32 2, {kind} 2, int64, float32 1, float32 1"
    for kind in ("uint8", "uint16")
]


def rooms(width: int, channels: int, across: Places, count: int) -> tuple[int, Weights, Weights]:
    """The first column that taps reach, at least one that a picture so wide has; room for a row from there on and one column
    more; room for a row of what is made and one column more."""
    left, right = min(int(across.min()), width - 1), max(int(across.max()) + count, 1)
    line = np.zeros((right - left + 1) * channels, np.float32)
    return left, line, np.empty((len(across) + 1) * channels, np.float32)


@helper
def _row(image: Values, y: int, left: int, right: int) -> Values:
    """Values of a row; beyond the picture those of its first or last row."""
    return image[min(max(y, 0), image.shape[0] - 1), left:right]


@helper
def _repeat_edges(line: Weights, before: int, inner: int, channels: int) -> None:
    """The edges of a row repeated: of so many columns from ``before`` on, into what of the line lies before and after them."""
    for n in range(before * channels):
        line[n] = line[before * channels + n % channels]
    end = (before + inner) * channels
    for n in range(end, len(line)):
        line[n] = line[end - channels + (n - end) % channels]


@helper
def _round_row(row: Weights, out: Values, top: np.float32) -> None:
    for i in range(len(out)):
        out[i] = np.int32(min(max(row[i] + np.float32(0.5), np.float32(0)), top))


@helper
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


@helper
def _six_across(line: Weights, first: Places, left: int, w: Weights, row: Weights) -> None:
    """Six taps of a line of three channels at each place. Four numbers are worked out at a time, as processors have it: the
    fourth is the next place's first, or lies beyond the end."""
    for x in range(len(first)):
        start = (first[x] - left) * 3
        p, out = line[start : start + 19], row[x * 3 : x * 3 + 4]
        a, b, c, d, e, f = w[x, 0], w[x, 1], w[x, 2], w[x, 3], w[x, 4], w[x, 5]
        m0 = a * p[0] + b * p[3] + c * p[6] + d * p[9] + e * p[12] + f * p[15]
        m1 = a * p[1] + b * p[4] + c * p[7] + d * p[10] + e * p[13] + f * p[16]
        m2 = a * p[2] + b * p[5] + c * p[8] + d * p[11] + e * p[14] + f * p[17]
        m3 = a * p[3] + b * p[6] + c * p[9] + d * p[12] + e * p[15] + f * p[18]
        out[0], out[1], out[2], out[3] = m0, m1, m2, m3


@compile_for(*_SIGNATURES)
def colours(
    image: Values, channels: int, across: Places, wide: Weights, down: Places, high: Weights, out: Values, left: int,
    line: Weights, row: Weights,
) -> None:  # fmt: skip
    """Three channels by six taps each way, which is what a picture shrunk to more than half its size has."""
    right = left + len(line) // 3 - 1
    inner_left, inner_right = max(left, 0), min(right, image.shape[1] // 3)
    inner = line[(inner_left - left) * 3 : (inner_right - left) * 3]
    top = np.float32(255 if out.itemsize == 1 else 65535)
    for y in range(out.shape[0]):
        _six_down(image, down[y], high[y], inner_left * 3, inner_right * 3, inner)
        _repeat_edges(line[: (right - left) * 3], inner_left - left, inner_right - inner_left, 3)
        _six_across(line, across, left, wide, row)
        _round_row(row, out[y], top)


@compile_for(*_SIGNATURES)
def any_taps(
    image: Values, channels: int, across: Places, wide: Weights, down: Places, high: Weights, out: Values, left: int,
    line: Weights, row: Weights,
) -> None:  # fmt: skip
    """Any number of channels and taps."""
    count = wide.shape[1]
    right = left + len(line) // channels - 1
    inner_left, inner_right = max(left, 0), min(right, image.shape[1] // channels)
    inner = line[(inner_left - left) * channels : (inner_right - left) * channels]
    top = np.float32(255 if out.itemsize == 1 else 65535)
    for y in range(out.shape[0]):
        inner[:] = np.float32(0)
        for k in range(high.shape[1]):
            source = _row(image, down[y] + k, inner_left * channels, inner_right * channels)
            for i in range(len(inner)):
                inner[i] += high[y, k] * np.float32(source[i])
        _repeat_edges(line[: (right - left) * channels], inner_left - left, inner_right - inner_left, channels)
        for x in range(len(across)):
            start = (across[x] - left) * channels
            for n in range(channels):
                total = np.float32(0)
                for k in range(count):
                    total += wide[x, k] * line[start + k * channels + n]
                row[channels * x + n] = total
        _round_row(row, out[y], top)
