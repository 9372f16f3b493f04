"""Lengths. Everything inside is millimetres (float); inches, points and pixels appear only at the edges.

Sources: the international inch is 25.4 mm exactly (ISO 80000-3); the desktop point is 1/72 in (ISO 32000-1, 8.3.2.3).
"""

import math

MM_PER_INCH = 25.4
POINTS_PER_INCH = 72.0


def inch(value: float) -> float:
    """Inches to millimetres.

    >>> inch(12)
    304.8
    """
    # 304.79999999999995 would be noise: the product of a decimal and 25.4 is rounded to a picometre.
    return round(value * MM_PER_INCH, 9)


def points_from_mm(mm: float) -> float:
    """Millimetres to points of 1/72 in."""
    return mm / MM_PER_INCH * POINTS_PER_INCH


def mm_from_points(points: float) -> float:
    """Points of 1/72 in to millimetres."""
    return points / POINTS_PER_INCH * MM_PER_INCH


def pixels(mm: float, ppi: float) -> int:
    """Whole pixels that a length takes at ``ppi``: ``round(mm / 25.4 * ppi)``, halves away from zero.

    >>> pixels(inch(24) + 6, 300), pixels(inch(12) + 6, 300)
    (7271, 3671)
    """
    return math.floor(mm / MM_PER_INCH * ppi + 0.5)
