"""Whence the pixels of a box come: the inverse of a map, at a few points or between nodes at every pixel.

Inverting a bent map costs most of what sampling through it does. What it says of its own plane is kept, whatever photo
comes to lie there and however: a placement only adds a matrix.
"""

import math
from dataclasses import dataclass
from functools import cached_property

import cv2
import numpy as np
from numpy.typing import NDArray

from ..geometry import maps
from ..geometry.maps import Map
from ..geometry.matrices import Matrix, Points, apply, inverse, jacobians
from ..remembering import remember
from .grid import Box

NODE_ERROR = 0.02  # target px that interpolating an inverse map between its nodes may be off


def lattice(box: Box, side: int = 9) -> Points:
    """``side`` x ``side`` points evenly over a box, its corners among them."""
    x0, y0, x1, y1 = box
    xs, ys = np.meshgrid(np.linspace(x0, x1, side), np.linspace(y0, y1, side))
    return np.stack([xs.ravel(), ys.ravel()], axis=-1)


@dataclass(frozen=True)
class _Plane:
    """What of a map's own plane is seen in a box: the points of the lattice, and the map's derivatives there."""

    onto: Map
    box: Box
    points: Points
    derivatives: NDArray[np.float64]

    @cached_property
    def nodes(self) -> tuple[Points, int]:
        """The inverse at the middles of squares of the box, and of one more row of them all round; the squares' side, px.

        The squares are made small enough that interpolating between their middles is as good as the map itself.
        """
        x0, y0, x1, y1 = self.box
        most = float(np.linalg.svd(self.derivatives, compute_uv=False)[..., 0].max())
        # About forty squares a side are nearly always enough.
        spacing = 2 ** min(5, max(1, math.floor(math.log2(max(x1 - x0, y1 - y0) / 40 + 1e-9))))
        while True:
            nx, ny = -(-(x1 - x0) // spacing), -(-(y1 - y0) // spacing)
            xs = x0 + (np.arange(-1, nx + 1) + 0.5) * spacing
            ys = y0 + (np.arange(-1, ny + 1) + 0.5) * spacing
            points = self.onto.inverse(np.stack(np.meshgrid(xs, ys), axis=-1))
            if spacing == 2:
                return points, spacing
            # Between four nodes, where linear interpolation is furthest off: every few squares are enough to know.
            every = max(1, round(math.sqrt(nx * ny / 400)))
            mx, my = np.meshgrid((xs[:-1] + spacing / 2)[::every], (ys[:-1] + spacing / 2)[::every])
            between = (points[:-1, :-1] + points[1:, :-1] + points[:-1, 1:] + points[1:, 1:])[::every, ::every] / 4
            error = np.hypot(*np.moveaxis(self.onto.inverse(np.stack([mx, my], axis=-1)) - between, -1, 0)) * most
            if np.quantile(error, 0.98) <= NODE_ERROR:
                return points, spacing
            spacing //= 2


@dataclass(frozen=True)
class SourcePoints:
    """Whence the pixels of a box come, in the plane that a matrix leads from to what is kept of a map."""

    plane: _Plane
    before: Matrix

    @cached_property
    def points(self) -> Points:
        """Those of the lattice."""
        return apply(inverse(self.before), self.plane.points)

    @cached_property
    def stretch(self) -> tuple[float, float]:
        """Largest and smallest local scale in the box."""
        whole = self.plane.derivatives @ jacobians(self.before, self.points)
        values = np.linalg.svd(whole, compute_uv=False)
        return float(values[..., 0].max()), float(values[..., 1].min())

    def restrict_to(self, part: Box) -> "Between":
        """What the nodes of the whole box say of a part of it."""
        points, spacing = self.plane.nodes
        x0, y0 = self.plane.box[:2]
        left, top = (part[0] - x0) // spacing, (part[1] - y0) // spacing
        right, bottom = -(-(part[2] - x0) // spacing), -(-(part[3] - y0) // spacing)
        some = apply(inverse(self.before), points[top : bottom + 2, left : right + 2])
        return Between(some, spacing, (part[0] - x0 - left * spacing, part[1] - y0 - top * spacing))


@dataclass(frozen=True)
class Between:
    """Points at the middles of squares of ``spacing`` px and of one more row of squares all round, ``first`` px of the
    first inner square being left out."""

    points: Points
    spacing: int
    first: tuple[int, int]

    def spread(self, onto: Matrix, width: int, height: int, finer: int = 1) -> NDArray[np.float32]:
        """What they say, after ``onto``, at every pixel, ``finer`` times as dense: (height * finer, width * finer, 2)."""
        nodes, step = apply(onto, self.points).astype(np.float32), self.spacing * finer
        size = nodes.shape[1] * step, nodes.shape[0] * step
        whole = cv2.resize(nodes, size, interpolation=cv2.INTER_LINEAR)
        left, top = step + self.first[0] * finer, step + self.first[1] * finer
        return np.asarray(whole[top : top + height * finer, left : left + width * finer], np.float32)


def find_source_points(onto: Map, box: Box) -> SourcePoints:
    """Of a map to px, in a box."""
    if onto.matrix is not None:
        points = lattice(box)
        nothing = np.broadcast_to(np.eye(2), (len(points), 2, 2))
        return SourcePoints(_Plane(onto, box, points, nothing), onto.matrix)
    if isinstance(onto, maps.Between):
        return SourcePoints(_plane(onto.inner, onto.last.tobytes(), box), onto.before)
    return SourcePoints(_plane(onto, np.eye(3).tobytes(), box), np.eye(3))


@remember
def _plane(inner: Map, last: bytes, box: Box) -> _Plane:
    onto = inner.then(np.frombuffer(last).reshape(3, 3))
    points = onto.inverse(lattice(box))
    return _Plane(onto, box, points, onto.jacobians(points))


def plane_of(onto: Map, box: Box) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
    """Whence each pixel of a box comes: x and y in the plane that ``onto`` maps to px, each (h, w)."""
    if onto.matrix is None:
        between = find_source_points(onto, box).restrict_to(box).spread(np.eye(3), box[2] - box[0], box[3] - box[1])
        return between[..., 0], between[..., 1]
    columns, rows = np.arange(box[0], box[2]) + 0.5, np.arange(box[1], box[3]) + 0.5
    exact = onto.inverse(np.stack(np.meshgrid(columns, rows), axis=-1)).astype(np.float32)
    return exact[..., 0], exact[..., 1]
