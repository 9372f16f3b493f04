"""The map from a rectangle to any convex quadrilateral, and back.

Corners run top left, top right, bottom right, bottom left of the thing that is mapped; they may lie anywhere.
Source: P. S. Heckbert, "Fundamentals of Texture Mapping and Image Warping" (1989), section 2.2.3, the closed form of
the square-to-quadrilateral case.
"""

import numpy as np
from numpy.typing import ArrayLike

from ..errors import GeometryError
from .matrices import Matrix, Points, scaling, translation

REMEDY = "Pull its corners so that all four stick out and no two sides cross."


def check_corners(corners: ArrayLike) -> Points:
    """The four corners as (4, 2) float64. Raises GeometryError unless they are finite and strictly convex."""
    quad = np.asarray(corners, dtype=np.float64)
    if quad.shape != (4, 2):
        raise GeometryError("A slanted opening needs exactly four corners.", "Give four points.")
    if not np.all(np.isfinite(quad)):
        raise GeometryError("A corner is not a number.", "Give four points with finite coordinates.")
    side = np.roll(quad, -1, axis=0) - quad
    after = np.roll(side, -1, axis=0)
    turning = side[:, 0] * after[:, 1] - side[:, 1] * after[:, 0]
    # A corner is straight when its sine is below what double precision can tell from zero.
    straight = 1e-9 * np.hypot(*side.T) * np.hypot(*after.T)
    if not (np.all(turning > straight) or np.all(turning < -straight)):
        raise GeometryError("These four corners fold or cave in, so a photo cannot lie on them.", REMEDY)
    return quad


def quad_from_square(corners: ArrayLike) -> Matrix:
    """Homography that takes the unit square (0,0) (1,0) (1,1) (0,1) to the corners. Raises GeometryError."""
    (x0, y0), (x1, y1), (x2, y2), (x3, y3) = check_corners(corners)
    sx, sy = x0 - x1 + x2 - x3, y0 - y1 + y2 - y3
    if sx == 0.0 and sy == 0.0:
        return np.array([[x1 - x0, x2 - x1, x0], [y1 - y0, y2 - y1, y0], [0.0, 0.0, 1.0]])
    dx1, dx2, dy1, dy2 = x1 - x2, x3 - x2, y1 - y2, y3 - y2
    det = dx1 * dy2 - dx2 * dy1
    g, h = (sx * dy2 - dx2 * sy) / det, (dx1 * sy - sx * dy1) / det
    return np.array([[x1 - x0 + g * x1, x3 - x0 + h * x3, x0], [y1 - y0 + g * y1, y3 - y0 + h * y3, y0], [g, h, 1.0]])


def quad_from_rectangle(width: float, height: float, corners: ArrayLike) -> Matrix:
    """Homography that takes a ``width`` x ``height`` rectangle centred on the origin to the corners."""
    return quad_from_square(corners) @ translation(0.5, 0.5) @ scaling(1.0 / width, 1.0 / height)
