"""Outlines: SVG path data in, polygons out. One path serves the mask, the picture, the PDF and hit testing.

Path data is the grammar of SVG 1.1, 8.3. Polygons are float64 arrays (n, 2), closed implicitly.
"""

import math
import re
from collections.abc import Callable
from typing import Any, Literal

import numpy as np
import shapely
from fontTools.pens.svgPathPen import SVGPathPen
from fontTools.pens.transformPen import TransformPen
from fontTools.svgLib.path import parse_path
from fontTools.svgLib.path.arc import EllipticalArc
from numpy.typing import NDArray

from .. import limits
from ..errors import GeometryError
from ..remembering import remember
from .matrices import Matrix, Points

FillRule = Literal["nonzero", "evenodd"]
PATH_DATA = re.compile(r"\s*[Mm][MmZzLlHhVvCcSsQqTtAa0-9eE+\-.,\s]*")


def rectangle(width: float, height: float, radius: float = 0.0) -> str:
    """Path of a rectangle centred on the origin, its corners rounded by ``radius``."""
    x, y = width / 2, height / 2
    if radius <= 0:
        return f"M{-x} {-y}H{x}V{y}H{-x}Z"
    r = min(radius, x, y)
    arc = f"A{r} {r} 0 0 1"
    return (
        f"M{r - x} {-y}H{x - r}{arc} {x} {r - y}V{y - r}{arc} {x - r} {y}"
        f"H{r - x}{arc} {-x} {y - r}V{r - y}{arc} {r - x} {-y}Z"
    )


def ellipse(width: float, height: float) -> str:
    """Path of an ellipse centred on the origin."""
    x, y = width / 2, height / 2
    return f"M{-x} 0A{x} {y} 0 0 1 {x} 0A{x} {y} 0 0 1 {-x} 0Z"


def polygon(points: Any) -> str:
    """Path of a closed polygon."""
    return "M" + "L".join(f"{x} {y}" for x, y in points) + "Z"


def move_path(path_data: str, x: float, y: float) -> str:
    """Path data moved by a distance, its curves kept as curves; arcs become cubics. Raises GeometryError as ``flatten``."""
    return _rewritten(path_data, (1, 0, 0, 1, x, y), lambda number: f"{number:.6g}")


def map_path(path_data: str, matrix: Matrix) -> str:
    """Path data under an affine map, to a millionth. What it wrote once is mapped back to itself, letter by letter."""
    (a, b, x), (c, d, y), _ = matrix.tolist()
    return _rewritten(path_data, (a, c, b, d, x, y), lambda number: f"{round(number, 6) + 0.0:.12g}")


def _rewritten(path_data: str, by: tuple[float, ...], written: Callable[[float], str]) -> str:
    flatten(path_data, 1.0)
    pen = SVGPathPen(None, ntos=written)
    parse_path(path_data, TransformPen(pen, by))
    return str(pen.getCommands())


_CROSSINGS, _SOME = 2000, 500


class _Flattener:
    """A fontTools pen that collects polygons; curves become chords nearer than ``tolerance`` to them."""

    def __init__(self, tolerance: float) -> None:
        self.tolerance = tolerance
        self.polygons: list[list[tuple[float, float]]] = []
        self.points = 0

    def _count(self, more: int) -> None:
        self.points += more
        if self.points > limits.FLATTENED_POINTS:
            raise GeometryError("it is too large, or has too many curves")

    def moveTo(self, p: tuple[float, float]) -> None:  # noqa: N802 (fontTools' pen protocol)
        self._count(1)
        self.polygons.append([p])

    def lineTo(self, p: tuple[float, float]) -> None:  # noqa: N802
        self._count(1)
        self.polygons[-1].append(p)

    def curveTo(self, *points: tuple[float, float]) -> None:  # noqa: N802
        p0, p1, p2, p3 = (complex(*q) for q in (self.polygons[-1][-1], *points))
        # Chord error of a cubic cut in n equal parts is at most sqrt(3)/18 * max second difference * (1/n)^2 * ...;
        # 3/4 * d / n^2 bounds it (Wang's formula for degree 3).
        d = max(abs(p0 - 2 * p1 + p2), abs(p1 - 2 * p2 + p3))
        n = 1 + math.floor(math.sqrt(0.75 * d / self.tolerance))
        self._count(n)
        t = np.arange(1, n + 1) / n
        u = 1 - t
        z = u**3 * p0 + 3 * u * u * t * p1 + 3 * u * t * t * p2 + t**3 * p3
        self.polygons[-1] += zip(z.real.tolist(), z.imag.tolist(), strict=True)

    def qCurveTo(self, control: tuple[float, float], end: tuple[float, float]) -> None:  # noqa: N802
        def control_point(p: tuple[float, float]) -> tuple[float, float]:
            return (p[0] + 2 * control[0]) / 3, (p[1] + 2 * control[1]) / 3

        self.curveTo(control_point(self.polygons[-1][-1]), control_point(end), end)

    def arcTo(self, rx: float, ry: float, turn: float, large: bool, sweep: bool, end: tuple[float, float]) -> None:  # noqa: N802
        arc = EllipticalArc(complex(*self.polygons[-1][-1]), rx, ry, turn, large, sweep, complex(*end))
        if arc._parametrize():
            # Sagitta of a chord over angle a on radius r is r a^2 / 8.
            steps = 2 + int(abs(arc.theta_arc) * math.sqrt(max(arc.rx, arc.ry) / (8 * self.tolerance)))
            self._count(steps)
            z = np.exp(1j * (arc.theta1 + np.arange(1, steps) / steps * arc.theta_arc)) + arc.center_point
            z = (z.real * arc.rx + 1j * z.imag * arc.ry) * np.exp(1j * math.radians(turn))
            self.polygons[-1] += zip(z.real.tolist(), z.imag.tolist(), strict=True)
        self.lineTo(end)

    def closePath(self) -> None:  # noqa: N802
        pass

    def endPath(self) -> None:  # noqa: N802
        pass


@remember
def flatten(path_data: str, tolerance: float) -> tuple[Points, ...]:
    """Path data as polygons whose chords stray at most ``tolerance`` (same unit as the path). Raises GeometryError."""
    if not PATH_DATA.fullmatch(path_data):
        raise GeometryError("This outline is not SVG path data.", "Begin with M and use the commands MLHVCSQTAZ only.")
    pen = _Flattener(tolerance)
    try:
        parse_path(path_data, pen, arc_class=EllipticalArc)
    except Exception as error:
        raise GeometryError(f"This outline cannot be read as SVG path data ({error}).") from None
    polygons = tuple(np.array(p, dtype=np.float64) for p in pen.polygons if len(p) > 1)
    if not polygons or not all(np.all(np.isfinite(p)) for p in polygons):
        raise GeometryError("This outline encloses nothing.", "Draw a closed shape.")
    for p in polygons:
        p.flags.writeable = False
    return polygons


def area(polygon_points: Points) -> float:
    """Signed area by the shoelace formula; positive when it runs clockwise as seen (y down)."""
    x, y = polygon_points.T
    return float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) / 2


def bounds(polygons: tuple[Points, ...] | list[Points]) -> tuple[float, float, float, float]:
    """Left, top, right, bottom of all points."""
    p = np.concatenate(polygons)
    (x0, y0), (x1, y1) = p.min(axis=0), p.max(axis=0)
    return float(x0), float(y0), float(x1), float(y1)


def clip_to_box(polygon_points: Points, x0: float, y0: float, x1: float, y1: float) -> NDArray[np.float64]:
    """Polygon cut to an axis-parallel box (Sutherland and Hodgman, 1974). May be empty, shape (0, 2)."""
    points = [tuple(p) for p in polygon_points.tolist()]
    for axis, limit, sign in ((0, x0, 1.0), (0, x1, -1.0), (1, y0, 1.0), (1, y1, -1.0)):
        rings: list[Any] = []
        for i, p in enumerate(points):
            q = points[i - 1]
            dp, dq = sign * (p[axis] - limit), sign * (q[axis] - limit)
            if (dp >= 0) != (dq >= 0):
                t = dq / (dq - dp)
                rings.append((q[0] + t * (p[0] - q[0]), q[1] + t * (p[1] - q[1])))
            if dp >= 0:
                rings.append(p)
        points = rings
    return np.array(points, dtype=np.float64).reshape(-1, 2)


def region(polygons: tuple[Points, ...] | list[Points], rule: FillRule = "nonzero") -> Any:
    """What polygons enclose by a fill rule (SVG 1.1, 11.3), as one shapely geometry, holes and all."""
    rings = [p for p in polygons if len(p) >= 3]
    if len(rings) == 1 and (polygon := shapely.Polygon(rings[0])).is_valid:
        return polygon
    if not rings:
        return shapely.Polygon()
    _check_complexity(rings)
    lines = [shapely.LinearRing(p) for p in rings]
    faces = shapely.get_parts(shapely.polygonize(shapely.get_parts(shapely.union_all(lines)).tolist()))
    inside = [
        face
        for face in faces
        if _winding_number(face.representative_point(), rings) % (2 if rule == "evenodd" else 1e9)
    ]
    return shapely.union_all(inside)


def _check_complexity(rings: list[Points]) -> None:
    """Raises GeometryError when rings cross so often that what they enclose could not be worked out in a second."""
    ends = np.concatenate([np.stack([p, np.roll(p, -1, axis=0)], axis=1) for p in rings])
    segments = shapely.linestrings(ends)
    tree = shapely.STRtree(segments)
    some = segments[:: max(1, len(segments) // _SOME)]
    near = len(tree.query(some)[0]) * len(segments) / len(some)  # pairs whose boxes meet, about
    if (
        near > 300 * _CROSSINGS + 10 * len(segments)
        or len(tree.query(segments, predicate="crosses")[0]) > 2 * _CROSSINGS
    ):
        raise GeometryError("This outline crosses itself too often.", "Draw it simpler.")


def _winding_number(point: Any, rings: list[Points]) -> int:
    """How often rings wind round a point: crossings of the ray to its right, those upwards less those downwards."""
    count = 0
    for ring in rings:
        x, y = ring[:, 0] - point.x, ring[:, 1] - point.y
        nx, ny = np.roll(x, -1), np.roll(y, -1)
        crosses = (y <= 0) != (ny <= 0)
        cx, cy, ex, ey = x[crosses], y[crosses], nx[crosses], ny[crosses]
        right = cx + (ex - cx) * (-cy / (ey - cy)) > 0
        count += int(np.sign(ey - cy)[right].sum())
    return count


def simplify_polygons(polygons: tuple[Points, ...], rule: FillRule) -> tuple[Points, ...]:
    """Polygons that enclose the same by a fill rule, none crossing itself or another: outer ones run clockwise as seen,
    holes the other way. What follows need not know of any rule then."""
    if len(polygons) == 1 and shapely.Polygon(polygons[0]).is_valid:
        return polygons
    return tuple(_rings(region(polygons, rule)))


def _rings(geometry: Any) -> list[Points]:
    """A geometry's outer rings, and its holes running the other way."""
    rings = []
    for part in shapely.get_parts(geometry):
        if part.geom_type == "Polygon" and not part.is_empty:
            turned = shapely.geometry.polygon.orient(part, -1.0)  # clockwise as seen with y down is positive
            rings += [np.asarray(ring.coords)[:-1] for ring in (turned.exterior, *turned.interiors)]
    return rings


def grow_polygons(polygons: tuple[Points, ...] | list[Points], by: float) -> list[Points]:
    """Polygons with their edge moved outwards by a distance (inwards when negative), corners mitred. May be empty."""
    return _rings(region(polygons).buffer(by, join_style="mitre", mitre_limit=4.0, quad_segs=32))


@remember
def thicken_path(path_data: str, by: float) -> str:
    """Path data of an outline that lies everywhere ``by`` outside of what a path encloses, its corners round."""
    around = region(flatten(path_data, 0.005)).buffer(by, quad_segs=8)
    return "".join(polygon(ring.round(4).tolist()) for ring in _rings(around))


def common(first: tuple[Points, ...] | list[Points], second: tuple[Points, ...] | list[Points]) -> list[Points]:
    """What two sets of polygons share. May be empty."""
    return _rings(region(first).intersection(region(second)))


def join_polygons(first: tuple[Points, ...] | list[Points], second: tuple[Points, ...] | list[Points]) -> list[Points]:
    """What either of two sets of polygons encloses."""
    return _rings(region(first).union(region(second)))


def contain(polygons: tuple[Points, ...] | list[Points], points: Points) -> NDArray[np.bool_]:
    """Which points (..., 2) lie within polygons."""
    whole = region(polygons)
    shapely.prepare(whole)
    return np.asarray(shapely.contains_xy(whole, points[..., 0], points[..., 1]), dtype=np.bool_)


def split_long_sides(polygon_points: Points, longest: float) -> Points:
    """A polygon with more points on its sides, so that none is longer than ``longest``."""
    after = np.roll(polygon_points, -1, axis=0)
    parts = np.maximum(1, np.ceil(np.hypot(*(after - polygon_points).T) / longest)).astype(int)
    return np.concatenate(
        [
            a + (b - a) * (np.arange(n) / n)[:, None]
            for a, b, n in zip(polygon_points, after, parts.tolist(), strict=True)
        ]
    )


def line_along(path_data: str, tolerance: float = 0.02) -> Points:
    """The first line of path data as points (n, 2) that run along it, its end joined where it is closed.

    Raises GeometryError when it is no path, or has no length.
    """
    line = flatten(path_data, tolerance)[0]
    if path_data.strip()[-1] in "Zz" and not np.allclose(line[0], line[-1]):
        line = np.concatenate([line, line[:1]])
    if float(np.hypot(*np.diff(line, axis=0).T).sum()) < 0.01:
        raise GeometryError("This line has no length.", "Draw a longer one.")
    return line
