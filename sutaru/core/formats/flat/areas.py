"""Which pixels of a flat picture are openings: areas of one colour, told from the page's own ground, their edges unmixed.

``Coverage`` is how much of each pixel an area covers, 0 to 1, (h, w).
"""

import cv2
import numpy as np
from numpy.typing import NDArray

from ...errors import FileRefused

Coverage = NDArray[np.float32]
_LEAST = 0.0004  # of the picture: smaller areas are counters of letters, dots of an ornament
_LEAST_PX = 60
_GRAINY = 40  # of 255: pixels of an area are no further off its colour, whatever it went through
_CALM = 0.9  # px: by so much the edge of a grainy area is smoothed, which leaves straight sides where they are


def colour_of(areas: str, rgba: NDArray[np.uint8], tolerance: int) -> tuple[tuple[int, int, int], list[str]]:
    """The colour of the areas, and others that might be meant."""
    if areas.startswith("#") and len(areas) == 7:
        r, g, b = (int(areas[n : n + 2], 16) for n in (1, 3, 5))
        return (r, g, b), []
    step = max(1, round(max(rgba.shape[:2]) / 1200))
    small = np.ascontiguousarray(rgba[::step, ::step, :3])
    codes = (small >> 3).astype(np.int32) @ np.array([1024, 32, 1])
    values, counts = np.unique(codes, return_counts=True)
    colours: list[tuple[float, tuple[int, int, int]]] = []
    for code in values[np.argsort(-counts)][:12]:
        near = small[codes == code]
        if len(near) < 0.004 * codes.size:
            break
        r, g, b = (int(v) for v in np.median(near, axis=0))
        if any(max(abs(r - o[0]), abs(g - o[1]), abs(b - o[2])) <= tolerance for _, o in colours):
            continue
        score = _shapely_score(small, (r, g, b), tolerance)
        if score > 0:
            colours.append((score, (r, g, b)))
    if not colours:
        raise FileRefused("This picture has no areas of one colour that could be openings.", "Name their colour.")
    colours.sort(reverse=True)
    best = colours[0]
    return best[1], [hex_of(other) for score, other in colours[1:] if score > 0.2 * best[0]]


def _shapely_score(small: NDArray[np.uint8], colour: tuple[int, int, int], tolerance: int) -> float:
    """How much of a picture lies in areas of a colour that are shaped as openings are: mostly full, not all round the edge."""
    like = match_colour(small, colour, tolerance)
    count, labels, boxes, _ = cv2.connectedComponentsWithStats(like.astype(np.uint8), connectivity=4)
    total = 0.0
    for n in range(1, count):
        _x, _y, w, h, area = boxes[n].tolist()
        if area < max(_LEAST * like.size, 30) or is_ground(boxes[n], like.shape):
            continue
        contours, _ = cv2.findContours((labels == n).astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
        hull = cv2.contourArea(cv2.convexHull(max(contours, key=len)))
        if hull and area > 0.75 * hull and min(w, h) > 4:
            total += area
    return total / like.size


def is_ground(box: NDArray[np.int32], shape: tuple[int, ...]) -> bool:
    """Whether an area is what the page itself is made of: it reaches opposite edges of the picture."""
    x, y, w, h = (int(v) for v in box[:4])
    high, wide = shape[:2]
    sides = (x <= 1) + (y <= 1) + (x + w >= wide - 1) + (y + h >= high - 1)
    return sides >= 3 or (x <= 1 and x + w >= wide - 1 and h > 0.9 * high)


def match_colour(rgb: NDArray[np.uint8], colour: tuple[int, int, int], tolerance: int) -> NDArray[np.bool_]:
    """Which pixels have a colour, within a tolerance."""
    low, high = (np.clip(np.array(colour) + by, 0, 255).astype(np.float64) for by in (-tolerance, tolerance))
    if rgb.shape[2] == 4:  # whatever their alpha: no copy without it
        low, high = np.append(low, 0.0), np.append(high, 255.0)
    return cv2.inRange(rgb, low, high) > 0


def grain_of(rgba: NDArray[np.uint8], colour: tuple[int, int, int]) -> tuple[float, float]:
    """How unlike their neighbours pixels within areas of a colour are, and how far off it, of 255, at the 95th percentile: none
    as they are drawn. In what was once a JPEG, whose blocks (8 px) carry an edge's noise inwards, both are; in a soft shadow the
    second."""
    like = match_colour(rgba, colour, _GRAINY).astype(np.uint8)
    like = np.asarray(cv2.morphologyEx(like, cv2.MORPH_CLOSE, np.ones((5, 5), np.uint8)), np.uint8)
    square = np.ones((3, 3), np.uint8)
    within = (cv2.erode(like, square, iterations=3) > 0) & (cv2.erode(like, square, iterations=8) == 0)
    if not within.any():
        return 0.0, 0.0
    xs, ys = _places(within)
    step = max(1, len(xs) // 50_000)
    xs, ys = xs[::step], ys[::step]
    seen = rgba[ys, xs, :3].astype(np.int16)
    rough = np.abs(seen - cv2.medianBlur(rgba, 5)[ys, xs, :3]).max(axis=1)
    away = np.abs(seen - np.array(colour, np.int16)).max(axis=1)
    return float(np.percentile(rough, 95)), float(np.percentile(away, 95))


def unmix_colour(
    rgba: NDArray[np.uint8], colour: tuple[int, int, int], tolerance: int, grainy: bool = False
) -> tuple[Coverage, NDArray[np.uint8]]:
    """How much of each pixel is the areas' colour, and the rest of the picture without it. ``grainy``: it was a JPEG once, whose
    colours run two pixels over their edges, so that more is looked at, and smoothed."""
    reach = 4 if grainy else 2
    core = match_colour(rgba, colour, tolerance).astype(np.uint8)
    count, labels, boxes, _ = cv2.connectedComponentsWithStats(core, connectivity=4)
    keep = np.zeros(count, np.uint8)
    for n in range(1, count):
        keep[n] = boxes[n][4] >= max(_LEAST * core.size, _LEAST_PX) and not is_ground(boxes[n], core.shape)
    area = keep[labels]
    cover = area.astype(np.float32)
    over = rgba.copy()
    over[..., 3] = (area ^ 1) * np.uint8(255)
    square = np.ones((3, 3), np.uint8)
    if grainy:
        area = cv2.morphologyEx(area, cv2.MORPH_CLOSE, square)
    # The mixture is at most so wide on either side; the frame's own colour is that of the nearest pixel beyond.
    band = (cv2.dilate(area, square, iterations=reach) > 0) & (cv2.erode(area, square, iterations=reach) == 0)
    beyond = (cv2.dilate(area, square, iterations=reach + 4) > 0) & (
        cv2.dilate(area, square, iterations=reach + 1) == 0
    )
    if not beyond.any() or not band.any():
        return cover, over
    _, nearest = cv2.distanceTransformWithLabels(
        (~beyond).astype(np.uint8), cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL
    )
    columns, rows = _places(beyond)
    where = np.zeros(int(nearest.max()) + 1, np.int64)
    where[nearest[rows, columns]] = rows * rgba.shape[1] + columns
    xs, ys = _places(band)
    flat = (cv2.medianBlur(rgba, 5) if grainy else rgba).reshape(-1, 4)
    frame = flat[where[nearest[ys, xs]], :3].astype(np.float32)
    mixed = rgba[ys, xs, :3].astype(np.float32)
    way = np.array(colour, np.float32) - frame
    long = (way * way).sum(axis=1)
    share = np.where(long > 150, ((mixed - frame) * way).sum(axis=1) / np.maximum(long, 1), area[ys, xs])
    share = np.clip(share, 0, 1).astype(np.float32)
    share[share < 0.02] = 0
    share[share > 0.98] = 1
    cover[ys, xs] = share
    if grainy:
        cover[ys, xs] = share = cv2.GaussianBlur(cover, (0, 0), _CALM)[ys, xs]
    over[ys, xs, :3] = np.where(share[:, None] > 0, frame, mixed).astype(np.uint8)
    over[ys, xs, 3] = np.rint(255 * (1 - share)).astype(np.uint8)
    return cover, over


def _places(which: NDArray[np.bool_]) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Columns and rows of the pixels that are meant; there is at least one."""
    points = np.asarray(cv2.findNonZero(which.view(np.uint8)), np.int64).reshape(-1, 2)
    return points[:, 0], points[:, 1]


def regions(cover: Coverage, soft: bool) -> list[tuple[Coverage, tuple[int, int]]]:
    """Each area with some room about it, what it encloses filled in, and where it begins (x, y)."""
    solid = (cover > 0.5).astype(np.uint8)
    count, labels, boxes, _ = cv2.connectedComponentsWithStats(solid, connectivity=4)
    high, wide = cover.shape
    parts = []
    for n in range(1, count):
        x, y, w, h, area = boxes[n].tolist()
        if area < max(_LEAST * cover.size, _LEAST_PX) or min(w, h) < 4:
            continue
        if soft and is_ground(boxes[n], cover.shape) and area < 0.6 * w * h:
            continue  # the transparent surround of what is drawn
        room = 4
        x0, y0, x1, y1 = max(0, x - room), max(0, y - room), min(wide, x + w + room), min(high, y + h + room)
        inside = labels[y0:y1, x0:x1] == n
        contours, _ = cv2.findContours(inside.astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
        filled = np.zeros(inside.shape, np.uint8)
        cv2.drawContours(filled, contours, -1, 1, cv2.FILLED)
        about = cv2.dilate(filled, np.ones((3, 3), np.uint8), iterations=2) > 0
        inner = cv2.erode(filled, np.ones((3, 3), np.uint8), iterations=2) > 0
        part = np.where(about, cover[y0:y1, x0:x1], 0).astype(np.float32)
        part[inner] = 1.0
        other = (solid[y0:y1, x0:x1] > 0) & ~inside & (filled == 0)
        part[other] = 0.0  # a neighbour beyond a thin line
        parts.append((part, (x0, y0)))
    return parts


def is_flat(
    rgba: NDArray[np.uint8], part: Coverage, origin: tuple[int, int], colour: tuple[int, int, int], tolerance: int
) -> bool:
    """Whether an area has its colour all over, as an opening has, or only passes through it, as a soft shadow does."""
    high, wide = part.shape
    inner = cv2.erode((part > 0.98).astype(np.uint8), np.ones((3, 3), np.uint8), iterations=2) > 0
    if not inner.any():
        inner = part > 0.9
    step = max(1, round((inner.size / 40_000) ** 0.5))
    seen = rgba[origin[1] : origin[1] + high : step, origin[0] : origin[0] + wide : step, :3][
        inner[::step, ::step]
    ].astype(np.int16)
    if not len(seen):
        return True
    away = np.abs(seen - np.array(colour, np.int16)).max(axis=1)
    return bool((away <= max(2, tolerance // 3)).mean() > 0.6)


def hex_of(colour: tuple[int, int, int]) -> str:
    """A colour as #rrggbb."""
    return "#" + bytes(colour).hex()
