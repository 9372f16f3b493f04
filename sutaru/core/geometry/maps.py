"""Maps of the plane, whatever their kind: where points go, how much is stretched there, and whence they come.

A map is named by where it leads and whence, as matrices are: ``page_from_opening``. Points are (..., 2), x right, y down.
"""

from abc import ABC, abstractmethod
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from .matrices import Matrix, Points, apply, inverse, jacobians


class Map(ABC):
    """A map of the plane. ``matrix`` is its 3x3 matrix when it is projective, else None. Maps made of arrays are compared
    by identity."""

    matrix: Matrix | None = None

    @abstractmethod
    def apply(self, points: ArrayLike) -> Points:
        """Where points go."""

    @abstractmethod
    def jacobians(self, points: ArrayLike) -> NDArray[np.float64]:
        """Derivative at each point, shape (..., 2, 2): rows are output x, y; columns input x, y."""

    @abstractmethod
    def inverse(self, points: ArrayLike) -> Points:
        """Whence points come. Beyond what is mapped it goes on smoothly, so that edges can be sampled."""

    def after(self, matrix: Matrix) -> "Map":
        """This map after a projective one: ``p -> self(matrix p)``."""
        return Between(matrix, self, np.eye(3))

    def then(self, matrix: Matrix) -> "Map":
        """This map, then a projective one: ``p -> matrix self(p)``."""
        return Between(np.eye(3), self, matrix)

    def stretch(self, points: ArrayLike) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        """Largest and smallest local scale at each point: the singular values of the Jacobian."""
        values = np.asarray(np.linalg.svd(self.jacobians(points), compute_uv=False), dtype=np.float64)
        return values[..., 0], values[..., 1]


@dataclass(frozen=True, eq=False)
class Projective(Map):
    """A similarity, an affine map or a homography."""

    matrix: Matrix

    def apply(self, points: ArrayLike) -> Points:
        return apply(self.matrix, points)

    def jacobians(self, points: ArrayLike) -> NDArray[np.float64]:
        return jacobians(self.matrix, points)

    def inverse(self, points: ArrayLike) -> Points:
        return apply(inverse(self.matrix), points)

    def after(self, matrix: Matrix) -> Map:
        return Projective(self.matrix @ matrix)

    def then(self, matrix: Matrix) -> Map:
        return Projective(matrix @ self.matrix)


@dataclass(frozen=True, eq=False)
class Between(Map):
    """A map between two projective ones: ``after_(inner(before p))``."""

    before: Matrix
    inner: Map
    last: Matrix

    def apply(self, points: ArrayLike) -> Points:
        return apply(self.last, self.inner.apply(apply(self.before, points)))

    def jacobians(self, points: ArrayLike) -> NDArray[np.float64]:
        first = apply(self.before, points)
        second = self.inner.apply(first)
        return jacobians(self.last, second) @ self.inner.jacobians(first) @ jacobians(self.before, points)

    def inverse(self, points: ArrayLike) -> Points:
        return apply(inverse(self.before), self.inner.inverse(apply(inverse(self.last), points)))

    def after(self, matrix: Matrix) -> Map:
        return Between(self.before @ matrix, self.inner, self.last)

    def then(self, matrix: Matrix) -> Map:
        return Between(self.before, self.inner, matrix @ self.last)


@dataclass(frozen=True, eq=False)
class Chain(Map):
    """One map after another: ``second(first p)``."""

    first: Map
    second: Map

    def apply(self, points: ArrayLike) -> Points:
        return self.second.apply(self.first.apply(points))

    def jacobians(self, points: ArrayLike) -> NDArray[np.float64]:
        return self.second.jacobians(self.first.apply(points)) @ self.first.jacobians(points)

    def inverse(self, points: ArrayLike) -> Points:
        return self.first.inverse(self.second.inverse(points))


def chain_maps(first: Map, second: Map) -> Map:
    """One map after another, as a plain matrix where both are."""
    if first.matrix is not None:
        return second.after(first.matrix)
    return first.then(second.matrix) if second.matrix is not None else Chain(first, second)


def nearest_projective(of: Map, about: ArrayLike) -> Matrix:
    """The matrix that does best what a map does near one point: its value and its derivative there."""
    point = np.asarray(about, dtype=np.float64)
    if of.matrix is not None:
        return of.matrix
    derivative, value = of.jacobians(point), of.apply(point)
    matrix = np.eye(3)
    matrix[:2, :2], matrix[:2, 2] = derivative, value - derivative @ point
    return matrix


def reflection(through: ArrayLike, along_deg: float, line_deg: float, length: float = 1.0) -> Matrix:
    """Mirrors across the line through a point that runs at ``line_deg``, each point moving along ``along_deg``.

    With ``along_deg = line_deg + 90`` and length 1 this is the plain mirror ``I - 2 n n^T``; otherwise it slants. What lies
    at distance d on one side comes to lie at ``length`` times d on the other. Angles are counter-clockwise as seen.
    Raises GeometryError when the two directions are the same.
    """
    line = np.array([np.cos(np.radians(line_deg)), -np.sin(np.radians(line_deg))])
    along = np.array([np.cos(np.radians(along_deg)), -np.sin(np.radians(along_deg))])
    basis = np.stack([line, along], axis=1)
    linear = basis @ np.diag([1.0, -length]) @ inverse_2x2(basis)
    matrix = np.eye(3)
    point = np.asarray(through, dtype=np.float64)
    matrix[:2, :2], matrix[:2, 2] = linear, point - linear @ point
    return matrix


def inverse_2x2(basis: NDArray[np.float64]) -> NDArray[np.float64]:
    """Inverse of a 2x2 matrix. Raises GeometryError when its columns are parallel."""
    whole = np.eye(3)
    whole[:2, :2] = basis
    if abs(np.linalg.det(basis)) < 1e-9:
        whole[:2, :2] = 0.0
    return inverse(whole)[:2, :2]
