"""Which shape an area of a flat picture has: four sides, an ellipse, round corners, or a soft mask; as an opening in mm.

Px of the picture, pixel centres at halves. An area's edge is where it covers half a pixel: the crossings between neighbours, as
marching squares find them; sides and ellipses are fitted through all of it.
"""

import io
from dataclasses import dataclass, field
from typing import Any, Literal

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image

from ...document import Corners, Ellipse, Flat, Opening, Rectangle
from ...document.shapes import Mask
from ...errors import GeometryError
from ...geometry import outlines, quadrilaterals
from ..masks import read_mask
from .areas import Coverage

Floats = NDArray[np.float64]
_CLOSE = 0.7  # px at the 97th percentile: how near an outline must follow an edge to be taken for it
_UNDER = 1.0  # px that an opening reaches under the picture's edge, so that nothing shows between the two


@dataclass(frozen=True)
class Understood:
    """An area of a picture as an opening: what it is, and its corners or outline as it was found, px."""

    kind: Literal["rectangle", "rounded", "corners", "ellipse", "mask"]
    outline: Floats
    area: float


@dataclass(frozen=True)
class Found:
    """An area as it was understood, and the opening it becomes, with the files that this names."""

    understood: Understood
    opening: Opening
    files: dict[str, bytes] = field(default_factory=dict)


def _edge(part: Coverage) -> Floats:
    """Where an area covers half of a pixel: the crossings between neighbours, (n, 2)."""
    framed = cv2.copyMakeBorder(part, 1, 1, 1, 1, cv2.BORDER_CONSTANT, value=0.0)
    inside = framed > 0.5
    points = []
    for axis in (0, 1):
        near, far = (np.s_[:, :-1], np.s_[:, 1:]) if axis == 0 else (np.s_[:-1], np.s_[1:])
        crossed = (inside[near] != inside[far]).view(np.uint8)
        crossings = cv2.findNonZero(crossed)
        if crossings is None:
            continue
        xs, ys = np.asarray(crossings, np.int64).reshape(-1, 2).T
        a, b = framed[near][ys, xs].astype(np.float64) - 0.5, framed[far][ys, xs].astype(np.float64) - 0.5
        t = a / (a - b)
        points.append(np.stack([xs - 0.5 + t, ys - 0.5], 1) if axis == 0 else np.stack([xs - 0.5, ys - 0.5 + t], 1))
    return np.vstack(points)


def recognise_shape(part: Coverage, origin: tuple[int, int], mm: tuple[float, float]) -> Found:
    edge = _edge(part)
    area = float(part.sum())
    for fitted in (_four_sided, _elliptic, _fit_rounded):
        shape = fitted(part, edge)
        if shape is not None:
            kind, outline, make = shape
            outline = outline + np.array(origin, np.float64)
            return Found(Understood(kind, outline, area), make(np.array(origin, np.float64), mm))
    return _make_mask(part, origin, mm, area)


def _four_sided(part: Coverage, edge: Floats) -> Any:
    start = _quad_start(part)
    if start is None:
        return None
    corners = _refine_corners(start, edge, 0.06)
    if corners is None or _distance_off(corners, edge) > _CLOSE:
        return None
    try:
        quadrilaterals.check_corners(corners)
    except GeometryError:
        return None
    return (
        ("rectangle" if _rectangular(corners) else "corners"),
        corners,
        lambda origin, mm: _quad_opening(corners + origin, mm),
    )


def _quad_start(part: Coverage) -> Floats | None:
    """Four corners to begin with, clockwise as seen from the upper left one."""
    contours, _ = cv2.findContours((part > 0.5).astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    hull = cv2.convexHull(max(contours, key=cv2.contourArea))
    length = cv2.arcLength(hull, True)
    for share in (0.01, 0.015, 0.02, 0.03, 0.045):
        four = cv2.approxPolyDP(hull, share * length, True).reshape(-1, 2).astype(np.float64)
        if len(four) == 4:
            return _order_corners(four + 0.5)
        if len(four) < 4:
            return None
    return None


def _order_corners(four: Floats) -> Floats:
    """Clockwise as seen, from the corner that is most to the upper left."""
    middle = four.mean(axis=0)
    around = four[np.argsort(np.arctan2(four[:, 1] - middle[1], four[:, 0] - middle[0]))]
    return np.roll(around, -int(np.argmin(around.sum(axis=1))), axis=0)


def _refine_corners(corners: Floats, edge: Floats, ends: float) -> Floats | None:
    """Corners where lines through the edge's points meet; ``ends`` of each side are left out."""
    for _ in range(3):
        lines = []
        for n in range(4):
            a, b = corners[n], corners[(n + 1) % 4]
            along = b - a
            long = float(np.hypot(*along))
            if long < 3:
                return None
            unit = along / long
            rel = edge - a
            t, off = rel @ unit / long, rel @ np.array([-unit[1], unit[0]])
            near = edge[(t > ends) & (t < 1 - ends) & (np.abs(off) < 2.5)]
            if len(near) < 4:
                return None
            middle = near.mean(axis=0)
            for _again in range(2):  # once more without what lies off
                _, _, axes = np.linalg.svd(near - middle, full_matrices=False)
                away = np.abs((near - middle) @ axes[1])
                near = near[away <= max(0.35, 2.0 * float(np.median(away)))]
                if len(near) < 4:
                    return None
                middle = near.mean(axis=0)
            _, _, axes = np.linalg.svd(near - middle, full_matrices=False)
            lines.append((middle, axes[0]))
        met = [_meeting_point(lines[n - 1], lines[n]) for n in range(4)]
        if any(point is None for point in met):
            return None
        corners = np.array(met)
    return corners


def _meeting_point(first: tuple[Floats, Floats], other: tuple[Floats, Floats]) -> Floats | None:
    (p, u), (q, v) = first, other
    cross = float(u[0] * v[1] - u[1] * v[0])
    if abs(cross) < 0.05:
        return None
    w = q - p
    return np.asarray(p + u * (w[0] * v[1] - w[1] * v[0]) / cross)


def _distance_off(corners: Floats, edge: Floats) -> float:
    """How far the edge's points lie off four sides, px, at the 97th percentile."""
    away = np.full(len(edge), np.inf)
    for n in range(4):
        a, b = corners[n], corners[(n + 1) % 4]
        t = np.clip((edge - a) @ (b - a) / float((b - a) @ (b - a)), 0, 1)
        away = np.minimum(away, np.hypot(*(edge - (a + t[:, None] * (b - a))).T))
    # A rounded corner is cut off by a few points only, but all of it: the farthest count too.
    return max(float(np.percentile(away, 97)), 0.35 * float(away.max()))


def _rectangular(corners: Floats) -> bool:
    sides = np.roll(corners, -1, axis=0) - corners
    longs = np.hypot(*sides.T)
    square = all(abs(float(sides[n] @ sides[n - 1])) <= 0.006 * longs[n] * longs[n - 1] for n in range(4))
    return square and abs(longs[0] - longs[2]) < 1.2 and abs(longs[1] - longs[3]) < 1.2


def _quad_opening(corners: Floats, mm: tuple[float, float]) -> Opening:
    """The opening on four corners, px, made larger by what lies under the picture's edge."""
    middle = corners.mean(axis=0)
    if _rectangular(corners):
        a, b, c, d = corners
        width = (np.hypot(*(b - a)) + np.hypot(*(c - d))) / 2 + 2 * _UNDER
        height = (np.hypot(*(d - a)) + np.hypot(*(c - b))) / 2 + 2 * _UNDER
        across = (b - a) + (c - d)
        turn = float(np.degrees(np.arctan2(-across[1], across[0])))
        turn = 0.0 if abs(turn) * max(width, height) < 25 else turn  # less than half a pixel from end to end
        return _flat_opening(Rectangle(width_mm=_r(width * mm[0]), height_mm=_r(height * mm[1])), middle, turn, mm)
    grown = np.array(outlines.grow_polygons([corners], _UNDER)[0])
    four = _nearest_corners(corners, grown) * mm
    size = [
        (np.hypot(*(four[n + 1] - four[n])) + np.hypot(*(four[(n + 3) % 4] - four[(n + 2) % 4]))) / 2 for n in (0, 1)
    ]
    points = tuple((_r(x), _r(y)) for x, y in four.tolist())
    return Opening(
        id="found", outline=Rectangle(width_mm=_r(size[0]), height_mm=_r(size[1])), surface=Corners(points=points)
    )


def _nearest_corners(corners: Floats, grown: Floats) -> Floats:
    return np.array([grown[np.argmin(np.hypot(*(grown - corner).T))] for corner in corners])


def _r(mm: float) -> float:
    return round(float(mm), 6)


def _flat_opening(outline: Any, middle: Floats, turn: float, mm: tuple[float, float]) -> Opening:
    centre = (_r(middle[0] * mm[0]), _r(middle[1] * mm[1]))
    return Opening(id="found", outline=outline, surface=Flat(centre=centre, turn_deg=round(turn, 4)))


def _elliptic(part: Coverage, edge: Floats) -> Any:
    if len(edge) < 12:
        return None
    (cx, cy), (first, second), angle = cv2.fitEllipseDirect(edge.astype(np.float32).reshape(-1, 1, 2))
    a, b, turn = first / 2, second / 2, np.radians(angle)
    if min(a, b) < 3:
        return None
    rel = edge - (cx, cy)
    u = rel @ np.array([np.cos(turn), np.sin(turn)])
    v = rel @ np.array([-np.sin(turn), np.cos(turn)])
    grade = np.hypot(u / a, v / b)
    slope = np.hypot(u / a**2, v / b**2) / np.maximum(grade, 1e-9)
    if float(np.percentile(np.abs(grade - 1) / np.maximum(slope, 1e-9), 97)) > _CLOSE:
        return None
    t = np.linspace(0, 2 * np.pi, 72, endpoint=False)
    ring = np.stack([cx + a * np.cos(t) * np.cos(turn) - b * np.sin(t) * np.sin(turn),
                     cy + a * np.cos(t) * np.sin(turn) + b * np.sin(t) * np.cos(turn)], 1)  # fmt: skip

    def make(origin: Floats, mm: tuple[float, float]) -> Opening:
        wide, high, lean = a, b, -float(angle)
        lean = (lean + 90.0) % 180.0 - 90.0
        if abs(lean) > 45.0:
            wide, high, lean = b, a, lean - 90.0 if lean > 0 else lean + 90.0
        lean = 0.0 if abs(lean) < 0.2 or abs(a - b) < 1.0 else lean
        size = {"width_mm": _r(2 * (wide + _UNDER) * mm[0]), "height_mm": _r(2 * (high + _UNDER) * mm[1])}
        return _flat_opening(Ellipse(**size), np.array([cx, cy]) + origin, lean, mm)

    return "ellipse", ring, make


def _fit_rounded(part: Coverage, edge: Floats) -> Any:
    contours, _ = cv2.findContours((part > 0.5).astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    box = cv2.boxPoints(cv2.minAreaRect(max(contours, key=cv2.contourArea))).astype(np.float64) + 0.5
    corners = _refine_corners(_order_corners(box), edge, 0.34)
    if corners is None or not _rectangular(corners):
        return None
    a, b, c, d = corners
    width, height = (np.hypot(*(b - a)) + np.hypot(*(c - d))) / 2, (np.hypot(*(d - a)) + np.hypot(*(c - b))) / 2
    middle, across = corners.mean(axis=0), ((b - a) + (c - d)) / 2
    unit = across / np.hypot(*across)
    turned = np.abs((edge - middle) @ np.stack([unit, [-unit[1], unit[0]]], 1))

    def radius_error(radius: float) -> float:
        rel = turned - (width / 2 - radius, height / 2 - radius)
        away = np.hypot(*np.maximum(rel, 0).T) + np.minimum(rel.max(axis=1), 0) - radius
        return float(np.percentile(np.abs(away), 97))

    # The radius that follows the edge best: a coarse search, and a fine one about what that finds.
    most = min(width, height) / 2
    coarse = np.linspace(1.0, most, 60)
    best = float(coarse[np.argmin([radius_error(r) for r in coarse])])
    fine = np.linspace(max(1.0, best - most / 59), min(most, best + most / 59), 41)
    radius = float(fine[np.argmin([radius_error(r) for r in fine])])
    if radius < 1.5 or radius_error(radius) > _CLOSE:
        return None
    turn = float(np.degrees(np.arctan2(-across[1], across[0])))
    turn = 0.0 if abs(turn) * max(width, height) < 25 else turn

    def make(origin: Floats, mm: tuple[float, float]) -> Opening:
        outline = Rectangle(
            width_mm=_r((width + 2 * _UNDER) * mm[0]), height_mm=_r((height + 2 * _UNDER) * mm[1]),
            radius_mm=_r((radius + _UNDER) * mm[0]),
        )  # fmt: skip
        return _flat_opening(outline, middle + origin, turn, mm)

    return "rounded", corners, make


def _make_mask(part: Coverage, origin: tuple[int, int], mm: tuple[float, float], area: float) -> Found:
    """Anything else: the area's own picture as a soft mask, a pixel larger all round."""
    grown = cv2.dilate((part * 255).astype(np.uint8), np.ones((3, 3), np.uint8))
    seen = cv2.copyMakeBorder(grown, 1, 1, 1, 1, cv2.BORDER_CONSTANT, value=0)
    shrink = max(1.0, float(np.sqrt(seen.size / 3_500_000)))
    if shrink > 1:
        seen = np.asarray(cv2.resize(seen, None, fx=1 / shrink, fy=1 / shrink, interpolation=cv2.INTER_AREA), np.uint8)
    buffer = io.BytesIO()
    Image.fromarray(np.dstack([np.zeros((*seen.shape, 3), np.uint8), seen])).save(buffer, "PNG")
    png = buffer.getvalue()
    high, wide = part.shape[0] + 2, part.shape[1] + 2
    mask: Mask = read_mask(png, "alpha", _r(wide * mm[0]), _r(high * mm[1]))
    middle = np.array([origin[0] - 1 + wide / 2, origin[1] - 1 + high / 2])
    contours, _ = cv2.findContours((part > 0.5).astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    ring = max(contours, key=cv2.contourArea).reshape(-1, 2).astype(np.float64) + 0.5 + np.array(origin, np.float64)
    return Found(Understood("mask", ring, area), _flat_opening(mask, middle, 0.0, mm), {mask.asset: png})
