"""Pixels looked up in a table of inks: compiled when it is first needed on a machine, and kept beside this file."""

import numpy as np
from numba import types
from numpy.typing import NDArray

from ..compiling import compiled
from ..depths import Bytes

STEP, SIDE = 5, 52  # levels between entries of the table, and entries a side
_PIXELS, _TABLE = types.Array(types.uint8, 2, "C", readonly=True), types.Array(types.uint64, 1, "C", readonly=True)


@compiled(types.void(_PIXELS, _TABLE, types.uint8[:, ::1]))
def look_up(rgb: Bytes, table: NDArray[np.uint64], inks: Bytes) -> None:
    """Inks of pixels (n, 3) into (n, 4). Whole numbers throughout, so that every machine finds the same."""
    red, green, blue = np.uint32(SIDE * SIDE * 2), np.uint32(SIDE * 2), np.uint32(2)
    step = np.uint32(STEP)
    half = np.uint64((1 << 15) | (1 << 47))
    for i in range(rgb.shape[0]):
        # Each channel's entry below, and how many fifths it is on the way to the next.
        r, g, b = np.uint32(rgb[i, 0]), np.uint32(rgb[i, 1]), np.uint32(rgb[i, 2])
        kr, kg, kb = r // step, g // step, b // step
        r, g, b = r - kr * step, g - kg * step, b - kb * step
        at = kr * red + kg * green + kb * blue
        # Where a channel lies on an entry there may be no next one, nor is it weighed.
        to_r = red if r else np.uint32(0)
        to_g = green if g else np.uint32(0)
        to_b = blue if b else np.uint32(0)
        most, least = max(r, max(g, b)), min(r, min(g, b))
        middle = r + g + b - most - least
        every = to_r + to_g + to_b
        first = to_r if r == most else (to_g if g == most else to_b)
        last = to_b if b == least else (to_g if g == least else to_r)
        second = every - last
        w1, w2, w3 = np.uint64(most - middle), np.uint64(middle - least), np.uint64(least)
        w0 = np.uint64(STEP) - w1 - w2 - w3
        for k in range(2):
            start = at + np.uint32(k)
            found = (
                w0 * table[start] + w1 * table[start + first] + w2 * table[start + second] + w3 * table[start + every]
            )
            found += half
            inks[i, 2 * k] = found >> np.uint64(16)
            inks[i, 2 * k + 1] = found >> np.uint64(48)
