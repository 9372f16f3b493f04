"""How far an area of a photo covers its pixels: 0 to 1, at any size of the photo, so that a tenth of the size agrees with all
of it. Pixels of a photo of (width, height); its longer side measures lengths."""

import math
from dataclasses import dataclass
from typing import TypeAlias

import cv2
import numpy as np
from numpy.typing import NDArray

from ..document import Cut, Graded, Outlined, Round, Stroke
from ..remembering import remember

Area: TypeAlias = Stroke | Outlined | Round | Graded | Cut
Box = tuple[int, int, int, int]
Floats = NDArray[np.float32]
# A brush of more pixels than this is drawn smaller and enlarged: how far its edge is off changes slowly.
_BRUSH_PX = 48.0
_FADING_PX = 48.0  # along which something fades
_OUTLINE_PX, _FINE_PX = (
    1500,
    3000,
)  # of the longer side of a drawn area; and of the picture that its edge is measured on
_ABOUT = 0.015  # of the photo's longer side: so far outside drawn lines it is known how far


@dataclass(frozen=True)
class Size:
    """Of a photo, in pixels."""

    width: int
    height: int

    @property
    def longer_side(self) -> int:
        """The side that measures lengths."""
        return max(self.width, self.height)

    @property
    def box(self) -> Box:
        """All of it."""
        return 0, 0, self.width, self.height

    def px(self, points: tuple[tuple[float, float], ...]) -> NDArray[np.float64]:
        """Places (fractions) in pixels, (n, 2)."""
        return np.array(points, np.float64) * (self.width, self.height)


def grow_box(box: Box, by: int, size: Size) -> Box:
    """A box so much larger all round, as far as the photo goes."""
    return max(0, box[0] - by), max(0, box[1] - by), min(size.width, box[2] + by), min(size.height, box[3] + by)


def extent(area: Area, size: Size) -> Box | None:
    """The box of whole pixels that an area can change; None when it lies off the photo."""
    if isinstance(area, Graded) or (isinstance(area, Round | Cut) and area.outside):
        return size.box
    if isinstance(area, Cut):
        points = np.concatenate([size.px(ring) for ring in area.rings])
    else:
        points = size.px((area.centre,) if isinstance(area, Round) else area.points)
    reach = 1.0
    if isinstance(area, Stroke):
        reach += area.radius * size.longer_side
    elif isinstance(area, Round):
        reach += max(area.across) * size.longer_side
    low, high = np.floor(points.min(axis=0) - reach), np.ceil(points.max(axis=0) + reach)
    x0, y0 = (max(0, int(v)) for v in low)
    x1, y1 = min(size.width, int(high[0])), min(size.height, int(high[1]))
    return (x0, y0, x1, y1) if x0 < x1 and y0 < y1 else None


def coverage(area: Area, size: Size, box: Box) -> Floats:
    """How far an area covers the pixels of a box, (h, w)."""
    if isinstance(area, Stroke):
        return _stroke(area, size, box)
    if isinstance(area, Outlined):
        depth, deepest = enclosed_depth((area.points,), size, box)
        return fade_in(depth, area.soft * max(deepest, 0.0))
    if isinstance(area, Cut):
        inside = fade_in(enclosed_depth(area.rings, size, box)[0], area.soft * size.longer_side)
        return 1 - inside if area.outside else inside
    return _round(area, size, box) if isinstance(area, Round) else _graded_coverage(area, size, box)


def fade_in(depth: Floats, over: float) -> Floats:
    """From 0 at the edge, where depth is none, to 1 as deep as ``over`` px: smoothly, and never in less than a pixel."""
    t = np.clip((depth + np.float32(0.5)) / np.float32(over + 1.0), 0.0, 1.0)
    return (t * t * (3 - 2 * t)).astype(np.float32, copy=False)


def _first(place: int, scale: float) -> int:
    """Which pixel of a smaller photo comes first for one that begins at a pixel of the photo itself."""
    return place if scale == 1.0 else math.floor(place * scale) - 1


def _middles(box: Box, scale: float = 1.0) -> tuple[Floats, Floats]:
    """Where the middles of pixels lie: a row of x, a column of y. At a smaller scale they are those of the whole photo at that
    scale, wherever the box begins, and one more all round."""
    more = 0 if scale == 1.0 else 2
    x = np.arange(_first(box[0], scale), math.ceil(box[2] * scale) + more, dtype=np.float32)
    y = np.arange(_first(box[1], scale), math.ceil(box[3] * scale) + more, dtype=np.float32)
    x, y = ((along + np.float32(0.5)) / np.float32(scale) for along in (x, y))
    return x[None, :], y[:, None]


def _enlarge_field(small: Floats, box: Box, scale: float) -> Floats:
    """A field that was worked out at a smaller scale, at every pixel of a box."""
    if scale == 1.0:
        return small
    move = [(box[n] + 0.5) * scale - 0.5 - _first(box[n], scale) for n in (0, 1)]
    onto = np.array([[scale, 0, move[0]], [0, scale, move[1]]])
    size = box[2] - box[0], box[3] - box[1]
    flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    return cv2.warpAffine(small, onto, size, flags=flags, borderMode=cv2.BORDER_REPLICATE).astype(
        np.float32, copy=False
    )


def _stroke(area: Stroke, size: Size, box: Box) -> Floats:
    radius = area.radius * size.longer_side
    scale = min(1.0, _BRUSH_PX / radius)
    x, y = _middles(box, scale)
    points = size.px(area.points)
    wide = np.array(area.pressed or (1.0,) * len(points)) * radius
    depth = np.full((y.shape[0], x.shape[1]), -np.inf, np.float32)
    ends = [(0, 0)] if len(points) == 1 else [(n, n + 1) for n in range(len(points) - 1)]
    for a, b in ends:
        (ax, ay), (bx, by) = points[a], points[b]
        reach = max(wide[a], wide[b]) + 1 / scale
        left, right = np.searchsorted(x[0], [min(ax, bx) - reach, max(ax, bx) + reach])
        top, bottom = np.searchsorted(y[:, 0], [min(ay, by) - reach, max(ay, by) + reach])
        if left >= right or top >= bottom:
            continue
        dx, dy = x[:, left:right] - np.float32(ax), y[top:bottom] - np.float32(ay)
        along, across = np.float32(bx - ax), np.float32(by - ay)
        long = float(along * along + across * across)
        t = np.clip((dx * along + dy * across) / np.float32(long), 0, 1) if long > 1e-9 else np.zeros_like(dx + dy)
        off = np.sqrt((dx - t * along) ** 2 + (dy - t * across) ** 2)
        part = depth[top:bottom, left:right]
        np.maximum(part, np.float32(wide[a]) + t * np.float32(wide[b] - wide[a]) - off, out=part)
    np.maximum(depth, -2.0, out=depth)
    return fade_in(_enlarge_field(depth, box, scale), area.soft * radius)


@dataclass(frozen=True)
class _Depth:
    """How deep places lie within rings, px, on a picture of the box about them at a scale; and how deep at most."""

    field: Floats
    corner: tuple[int, int]
    scale: float
    deepest: float


@remember
def _depth(rings: tuple[tuple[tuple[float, float], ...], ...], size: Size) -> _Depth:
    lines = [size.px(ring) for ring in rings]
    points = np.concatenate(lines)
    about = 2 + _ABOUT * size.longer_side
    low, high = points.min(axis=0) - about, points.max(axis=0) + about
    whole = (int(low[0]), int(low[1]), int(high[0]) + 1, int(high[1]) + 1)
    scale = min(1.0, _OUTLINE_PX / max(whole[2] - whole[0], whole[3] - whole[1]))
    shape = math.ceil((whole[3] - whole[1]) * scale), math.ceil((whole[2] - whole[0]) * scale)
    # Finer, so that the edge is known to a fraction of a pixel however small it is.
    finer = 4 if max(shape) <= _FINE_PX // 4 else 2
    fine = np.zeros((shape[0] * finer, shape[1] * finer), np.uint8)
    corners_px = [np.rint((line - whole[:2]) * (scale * finer * 16) - 8).astype(np.int32) for line in lines]
    cv2.fillPoly(fine, corners_px, 1, shift=4)
    inside = cv2.distanceTransform(fine, cv2.DIST_L2, cv2.DIST_MASK_5)
    outside = cv2.distanceTransform(1 - fine, cv2.DIST_L2, cv2.DIST_MASK_5)
    away = (inside - outside) / np.float32(finer * scale)
    depth = cv2.resize(away, (shape[1], shape[0]), interpolation=cv2.INTER_AREA).astype(np.float32, copy=False)
    return _Depth(depth, whole[:2], scale, float(away.max()))


def enclosed_depth(rings: tuple[tuple[tuple[float, float], ...], ...], size: Size, box: Box) -> tuple[Floats, float]:
    """How deep pixels lie within rings (every second one within another is a hole), px; and how deep at most. What lies
    further outside than ``_ABOUT`` of the longer side lies far outside."""
    known = _depth(rings, size)
    (left, top), scale = known.corner, known.scale
    onto = np.array([[scale, 0, (box[0] - left + 0.5) * scale - 0.5], [0, scale, (box[1] - top + 0.5) * scale - 0.5]])
    seen = cv2.warpAffine(
        known.field, onto, (box[2] - box[0], box[3] - box[1]), flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP,
        borderMode=cv2.BORDER_CONSTANT, borderValue=-1e5,
    )  # fmt: skip
    return seen.astype(np.float32, copy=False), known.deepest


def _round(area: Round, size: Size, box: Box) -> Floats:
    shorter = min(area.across) * size.longer_side
    scale = _working_scale(area.soft * shorter)
    x, y = _middles(box, scale)
    (cx, cy), turn = size.px((area.centre,))[0], math.radians(area.turn_deg)
    dx, dy = x - np.float32(cx), y - np.float32(cy)
    # Counter-clockwise as seen, y down.
    cos, sin = np.float32(math.cos(turn)), np.float32(math.sin(turn))
    u = (dx * cos - dy * sin) / np.float32(area.across[0] * size.longer_side)
    v = (dx * sin + dy * cos) / np.float32(area.across[1] * size.longer_side)
    within = fade_in((1 - np.sqrt(u * u + v * v)) * np.float32(shorter), area.soft * shorter)
    return _enlarge_field(1 - within if area.outside else within, box, scale)


def _graded_coverage(area: Graded, size: Size, box: Box) -> Floats:
    start, end = size.px((area.start, area.end))
    along = end - start
    scale = _working_scale(float(np.hypot(*along)))
    x, y = _middles(box, scale)
    t = ((x - start[0]) * along[0] + (y - start[1]) * along[1]) / float(along @ along)
    t = 1 - np.clip(t, 0, 1)
    return _enlarge_field((t * t * (3 - 2 * t)).astype(np.float32), box, scale)


def _working_scale(over: float) -> float:
    """At which scale what fades along so many px is well enough worked out."""
    return min(1.0, _FADING_PX / max(over, 1.0))
