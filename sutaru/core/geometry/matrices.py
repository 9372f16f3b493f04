"""3x3 float64 matrices: similarities, affine maps and homographies acting on column vectors (x, y, 1).

Points are (x, y) with y down. Angles are degrees, counter-clockwise positive **as seen**, which with y down makes the
rotation matrix ``[[cos, sin], [-sin, cos]]``. A matrix is named by where it leads and whence: ``page_from_opening``.
"""

import math

import numpy as np
from numpy.typing import ArrayLike, NDArray

from ..errors import GeometryError

Matrix = NDArray[np.float64]
Points = NDArray[np.float64]


def translation(x: float, y: float) -> Matrix:
    """Moves by (x, y)."""
    return np.array([[1.0, 0.0, x], [0.0, 1.0, y], [0.0, 0.0, 1.0]])


def scaling(x: float, y: float) -> Matrix:
    """Scales by x and y about the origin; a negative factor mirrors."""
    return np.diag([x, y, 1.0])


def rotation(turn_deg: float) -> Matrix:
    """Turns about the origin, counter-clockwise as seen. Quarter turns are exact.

    >>> rotation(90) @ np.array([1.0, 0.0, 1.0])  # what lay to the right now lies above
    array([ 0., -1.,  1.])
    """
    quarter, rest = divmod(turn_deg, 90.0)
    if rest == 0.0:
        c, s = ((1.0, 0.0), (0.0, 1.0), (-1.0, 0.0), (0.0, -1.0))[int(quarter) % 4]
    else:
        c, s = math.cos(math.radians(turn_deg)), math.sin(math.radians(turn_deg))
    return np.array([[c, s, 0.0], [0.0 - s, c, 0.0], [0.0, 0.0, 1.0]])


def inverse(matrix: Matrix) -> Matrix:
    """The inverse map. Raises GeometryError when there is none."""
    try:
        return np.asarray(np.linalg.inv(matrix), dtype=np.float64)
    except np.linalg.LinAlgError:
        raise GeometryError("This map flattens everything onto a line and has no inverse.") from None


def apply(matrix: Matrix, points: ArrayLike) -> Points:
    """Maps points, shape (..., 2). Raises GeometryError when one lies on the horizon of a homography."""
    p = np.asarray(points, dtype=np.float64)
    x, y = p[..., 0], p[..., 1]
    (a, b, c), (d, e, f), (g, h, i) = matrix
    w = g * x + h * y + i
    if np.any(w == 0.0):
        raise GeometryError("A point lies on the horizon of this perspective.")
    return np.stack([(a * x + b * y + c) / w, (d * x + e * y + f) / w], axis=-1)


def jacobians(matrix: Matrix, points: ArrayLike) -> NDArray[np.float64]:
    """Derivative of the map at each point, shape (..., 2, 2): rows are output x, y; columns input x, y."""
    p = np.asarray(points, dtype=np.float64)
    x, y = p[..., 0], p[..., 1]
    (a, b, c), (d, e, f), (g, h, i) = matrix
    w = g * x + h * y + i
    u, v = (a * x + b * y + c) / w, (d * x + e * y + f) / w
    rows = [[(a - g * u) / w, (b - h * u) / w], [(d - g * v) / w, (e - h * v) / w]]
    return np.stack([np.stack(row, axis=-1) for row in rows], axis=-2)


def stretch(matrix: Matrix, points: ArrayLike) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Largest and smallest local scale at each point: the singular values of the Jacobian."""
    values = np.asarray(np.linalg.svd(jacobians(matrix, points), compute_uv=False), dtype=np.float64)
    return values[..., 0], values[..., 1]
