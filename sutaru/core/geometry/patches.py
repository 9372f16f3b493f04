"""Tensor-product Bezier patches: a rectangle laid on a net of control points, as cloth or a curled page lies.

``S(u, v) = sum_i sum_j B_i(v) B_j(u) P_ij`` with Bernstein polynomials B, as ISO 32000-1, 8.7.4.5.8 (shading type 7)
defines it for a net of 4 x 4; here the net may have 2 to 5 rows and columns. Rows run down (v), columns across (u).
"""

from dataclasses import dataclass
from functools import cached_property
from math import comb

import numpy as np
import scipy
import shapely
from numpy.typing import ArrayLike, NDArray

from ..errors import GeometryError
from .maps import Map
from .matrices import Points

Floats = NDArray[np.float64]
REMEDY = "Pull its points apart so that no part of the net lies over another."
_START = 24  # points a side from which the inverse is sought


def bernstein(t: Floats, degree: int) -> Floats:
    """Bernstein polynomials of a degree at t: shape (..., degree + 1)."""
    t = np.asarray(t, dtype=np.float64)
    up, down = [np.ones_like(t)], [np.ones_like(t)]
    for _ in range(degree):
        up.append(up[-1] * t)
        down.append(down[-1] * (1 - t))
    return np.stack([comb(degree, k) * up[k] * down[degree - k] for k in range(degree + 1)], axis=-1)


def _slopes(t: Floats, degree: int) -> Floats:
    """Their derivatives: ``n (B(n-1, k-1) - B(n-1, k))``."""
    lower = bernstein(t, degree - 1)
    padded = np.concatenate([np.zeros_like(lower[..., :1]), lower, np.zeros_like(lower[..., :1])], axis=-1)
    return degree * (padded[..., :-1] - padded[..., 1:])


def check_net(net: ArrayLike) -> Floats:
    """The net as (rows, columns, 2) float64. Raises GeometryError unless it is finite, 2 to 5 a side, and does not fold."""
    points = np.asarray(net, dtype=np.float64)
    if points.ndim != 3 or points.shape[2] != 2 or not all(2 <= n <= 5 for n in points.shape[:2]):
        raise GeometryError("A grid surface needs 2 to 5 rows and columns of points.", "Choose a grid of that size.")
    if not np.all(np.isfinite(points)):
        raise GeometryError("A point of the grid is not a number.", "Give finite coordinates.")
    if folds(points):
        raise GeometryError("This grid folds over itself, so a photo cannot lie on it.", REMEDY)
    return points


def folds(net: Floats) -> bool:
    """Whether the patch folds: its Jacobian's sign changes somewhere, or its edge crosses itself.

    The determinant is itself a Bezier polynomial; where all its coefficients have one sign, so has it. Where they differ
    the patch is halved until they agree, or a place of the wrong sign is found. A patch without a fold whose edge
    does not cross itself covers every place at most once.
    """
    rows, columns = net.shape[:2]
    nu, nv = 2 * (columns - 1), 2 * (rows - 1)
    u, v = np.linspace(0, 1, nu), np.linspace(0, 1, nv)
    values = np.linalg.det(BezierPatch(net).jacobians(np.stack(np.meshgrid(u, v), axis=-1)))
    coefficients = np.linalg.solve(bernstein(v, nv - 1), values)
    coefficients = np.linalg.solve(bernstein(u, nu - 1), coefficients.T).T
    size = float(np.abs(coefficients).max())
    middle = float(np.linalg.det(BezierPatch(net).jacobians(np.array([0.5, 0.5]))))
    if size == 0.0 or abs(middle) < 1e-9 * size or not _keeps_sign(np.sign(middle) * coefficients / size, 0):
        return True
    edge = BezierPatch(net).edge(24)
    return not shapely.LinearRing(edge).is_simple


def _keeps_sign(coefficients: Floats, depth: int) -> bool:
    least = 1e-7  # of the largest value: what double precision cannot tell from a crease
    if coefficients.min() > least:
        return True
    corners = coefficients[[0, 0, -1, -1], [0, -1, 0, -1]]
    if corners.min() <= least or depth > 16:
        return False
    axis = depth % 2
    first, second = _halves(coefficients, axis)
    return _keeps_sign(first, depth + 1) and _keeps_sign(second, depth + 1)


def _halves(coefficients: Floats, axis: int) -> tuple[Floats, Floats]:
    """De Casteljau's algorithm at one half."""
    level = np.moveaxis(coefficients, axis, 0)
    left, right = [level[0]], [level[-1]]
    while len(level) > 1:
        level = (level[:-1] + level[1:]) / 2
        left.append(level[0])
        right.insert(0, level[-1])
    return np.moveaxis(np.stack(left), 0, axis), np.moveaxis(np.stack(right), 0, axis)


@dataclass(frozen=True, eq=False)
class BezierPatch(Map):
    """The unit square (u, v) laid on a net, shape (rows, columns, 2). Equal to none but itself."""

    net: Floats

    @property
    def _degrees(self) -> tuple[int, int]:
        return self.net.shape[1] - 1, self.net.shape[0] - 1

    def _sum(self, down: Floats, across: Floats) -> Points:
        """``sum_i sum_j down_i across_j P_ij``."""
        return (down[..., None] * np.tensordot(across, self.net, axes=(-1, 1))).sum(axis=-2)

    def apply(self, points: ArrayLike) -> Points:
        p = np.asarray(points, dtype=np.float64)
        nu, nv = self._degrees
        return self._sum(bernstein(p[..., 1], nv), bernstein(p[..., 0], nu))

    def jacobians(self, points: ArrayLike) -> Floats:
        p = np.asarray(points, dtype=np.float64)
        nu, nv = self._degrees
        along_u = self._sum(bernstein(p[..., 1], nv), _slopes(p[..., 0], nu))
        along_v = self._sum(_slopes(p[..., 1], nv), bernstein(p[..., 0], nu))
        return np.stack([along_u, along_v], axis=-1)

    def edge(self, each: int) -> Points:
        """The patch's edge as a polygon, ``each`` points a side."""
        t = np.linspace(0, 1, each, endpoint=False)
        o = np.zeros_like(t)
        around = [np.stack(side, axis=-1) for side in ((t, o), (o + 1, t), (1 - t, o + 1), (o, 1 - t))]
        return self.apply(np.concatenate(around))

    @cached_property
    def _starts(self) -> "tuple[scipy.spatial.cKDTree, Points]":
        t = np.linspace(0, 1, _START)
        starts = np.stack(np.meshgrid(t, t), axis=-1).reshape(-1, 2)
        return scipy.spatial.cKDTree(self.apply(starts)), starts

    def inverse(self, points: ArrayLike) -> Points:
        """By Newton's method from the nearest of a lattice of known places.

        Beyond the patch's edge the polynomials soon turn back; there the edge's own tangent plane goes on instead.
        """
        p = np.asarray(points, dtype=np.float64)
        target = p.reshape(-1, 2)
        tree, known = self._starts
        parameters = known[tree.query(target)[1]].copy()
        for _ in range(12):
            # Steps stay near the square, where the patch is known not to fold.
            step = self._step(parameters, target)
            fresh = np.clip(parameters + np.clip(step, -0.25, 0.25), 0.0, 1.0)
            moved = np.abs(fresh - parameters).max()
            parameters = fresh
            if moved < 1e-9:
                break
        return (parameters + self._step(parameters, target)).reshape(p.shape)

    def _step(self, points: Points, target: Points) -> Points:
        """Newton's step towards the targets, the 2x2 systems solved by Cramer's rule."""
        jacobian, error = self.jacobians(points), target - self.apply(points)
        (a, b), (c, d) = np.moveaxis(jacobian, (-2, -1), (0, 1))
        x, y = error[..., 0], error[..., 1]
        return np.stack([d * x - b * y, a * y - c * x], axis=-1) / (a * d - b * c)[..., None]
