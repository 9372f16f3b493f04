"""Colour difference: CIEDE2000.

After G. Sharma, W. Wu and E. N. Dalal, "The CIEDE2000 color-difference formula: implementation notes, supplementary test
data, and mathematical observations", Color Research and Application 30 (2005); CIE 142-2001.
"""

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


def ciede2000(first: Floats, second: Floats) -> Floats:
    """The difference of colours in CIE L*a*b*, (..., 3) each, with all parametric factors 1.

    >>> round(float(ciede2000(np.array([50.0, 2.6772, -79.7751]), np.array([50.0, 0.0, -82.7485]))), 4)
    2.0425
    """
    l1, a1, b1 = np.moveaxis(np.asarray(first, np.float64), -1, 0)
    l2, a2, b2 = np.moveaxis(np.asarray(second, np.float64), -1, 0)
    chroma = (np.hypot(a1, b1) + np.hypot(a2, b2)) / 2
    g = 0.5 * (1 - np.sqrt(chroma**7 / (chroma**7 + 25.0**7)))
    a1, a2 = (1 + g) * a1, (1 + g) * a2
    c1, c2 = np.hypot(a1, b1), np.hypot(a2, b2)
    h1, h2 = (np.degrees(np.arctan2(b, a)) % 360 for a, b in ((a1, b1), (a2, b2)))
    grey = c1 * c2 == 0
    turn = np.where(grey, 0.0, (h2 - h1 + 180) % 360 - 180)
    turn = np.where((turn == -180) & (h2 > h1), 180.0, turn)
    dl, dc, dh = l2 - l1, c2 - c1, 2 * np.sqrt(c1 * c2) * np.sin(np.radians(turn / 2))
    light, chroma = (l1 + l2) / 2, (c1 + c2) / 2
    far = np.abs(h1 - h2) > 180
    hue = np.where(grey, h1 + h2, np.where(far, (h1 + h2 + np.where(h1 + h2 < 360, 360, -360)) / 2, (h1 + h2) / 2))
    t = (
        1 - 0.17 * np.cos(np.radians(hue - 30)) + 0.24 * np.cos(np.radians(2 * hue))
        + 0.32 * np.cos(np.radians(3 * hue + 6)) - 0.20 * np.cos(np.radians(4 * hue - 63))
    )  # fmt: skip
    rotation = 30 * np.exp(-(((hue - 275) / 25) ** 2))
    weight = 2 * np.sqrt(chroma**7 / (chroma**7 + 25.0**7))
    sl = 1 + 0.015 * (light - 50) ** 2 / np.sqrt(20 + (light - 50) ** 2)
    sc, sh = 1 + 0.045 * chroma, 1 + 0.015 * chroma * t
    rt = -np.sin(np.radians(2 * rotation)) * weight
    difference: Floats = np.sqrt(
        np.maximum(0.0, (dl / sl) ** 2 + (dc / sc) ** 2 + (dh / sh) ** 2 + rt * dc / sc * dh / sh)
    )
    return difference
