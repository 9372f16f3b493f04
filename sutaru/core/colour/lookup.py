"""Pixels looked up in a table of inks: compiled when it is first needed on a machine, and kept beside this file."""

import numpy as np
from numpy.typing import NDArray

from ..compiling import compile_for
from ..depths import Bytes

STEP, SIDE = 5, 52  # levels between entries of the table, and entries a side
_NEXT = (SIDE * SIDE, SIDE, 1)  # how far on in the table the next entry of red, green and blue is
_WAY = 7  # bits for the number of a way


def _places() -> NDArray[np.uint32]:
    """For each channel and level, (3, 256): where the entry below is in the table, and, in the lowest ``_WAY`` bits, what the
    level adds to the number of the way from there."""
    below, on = np.divmod(np.arange(256), STEP)
    parts = [below * value << _WAY | on * STEP ** (2 - channel) for channel, value in enumerate(_NEXT)]
    return np.array(parts, np.uint32)


def _ways() -> NDArray[np.uint32]:
    """For each way from an entry to a colour before the next, so many fifths on by red, green and blue, (125, 7): how much each
    of the four entries about the colour weighs, in fifths, and how far on in the table the later three are.

    An entry is left by the channel that goes furthest, then by the middle one. There may be none after it for a channel
    that goes nowhere; that one is not weighed either.
    """
    rows = []
    for fifths in np.ndindex(STEP, STEP, STEP):
        furthest_first = sorted(zip(fifths, _NEXT, strict=True), key=lambda entry: -entry[0])
        weights = -np.diff((STEP, *(fifth for fifth, _ in furthest_first), 0))
        rows.append([*weights, *np.cumsum([value if fifth else 0 for fifth, value in furthest_first])])
    return np.array(rows, np.uint32)


_PLACES, _WAYS = _places(), _ways()


@compile_for("uint8 2, uint64 1, uint32 1")
def look_up(rgb: Bytes, table: NDArray[np.uint64], inks: NDArray[np.uint32]) -> None:
    """Inks of pixels (n, 3) into (n,), a byte each, cyan lowest. ``table``: of each entry the four, cyan lowest, in 16 bits each,
    so that one multiplication serves them all, 256 / ``STEP`` a level.

    Whole numbers throughout, so that every machine finds the same.
    """
    half, whole = np.uint64(0x0080008000800080), np.uint64(0x00FF00FF00FF00FF)
    for i in range(rgb.shape[0]):
        place = _PLACES[0, rgb[i, 0]] + _PLACES[1, rgb[i, 1]] + _PLACES[2, rgb[i, 2]]
        corner, way = place >> np.uint32(_WAY), place & np.uint32((1 << _WAY) - 1)
        values = (
            np.uint64(_WAYS[way, 0]) * table[corner]
            + np.uint64(_WAYS[way, 1]) * table[corner + _WAYS[way, 4]]
            + np.uint64(_WAYS[way, 2]) * table[corner + _WAYS[way, 5]]
            + np.uint64(_WAYS[way, 3]) * table[corner + _WAYS[way, 6]]
        )
        values = (values + half) >> np.uint64(8) & whole
        values |= values >> np.uint64(8)
        inks[i] = values & np.uint64(0xFFFF) | (values >> np.uint64(16)) & np.uint64(0xFFFF0000)
