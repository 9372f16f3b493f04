"""Reading a flat picture of a template: its holes, or areas of one colour, become openings; the rest lies over the photos.

Coordinates are px of the picture, origin at its upper left corner, pixel centres at halves. An area's edge is where it
covers half a pixel: found between neighbouring pixels by straight interpolation (the crossings of marching squares), and
sides and ellipses are fitted through all of it. At the edge of an area of flat colour the picture is a mixture of that colour and
the frame's beside it; it is unmixed, so that no rim of the old colour stays.
"""

import hashlib
import io
from dataclasses import dataclass, field
from typing import Any, Literal

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageCms, ImageOps

from .. import limits
from ..document import Background, Corners, Ellipse, Flat, Layout, Opening, Overlay, Rectangle
from ..document.shapes import Mask
from ..errors import FileRefused, GeometryError
from ..fitting.reading import reading_order
from ..geometry import outlines, quadrilaterals
from .masks import read_mask

Areas = Literal["holes", "flat"] | str  # or one colour, #rrggbb
Floats = NDArray[np.float64]
Coverage = NDArray[np.float32]
_LEAST = 0.0004  # of the picture: smaller areas are counters of letters, dots of an ornament
_LEAST_PX = 60
_CLOSE = 0.7  # px at the 95th percentile: how near an outline must follow an edge to be taken for it
_UNDER = 1.0  # px that an opening reaches under the picture's edge, so that nothing shows between the two


@dataclass(frozen=True)
class Understood:
    """An area of a picture as an opening: what it is, and its corners or outline as it was found, px."""

    kind: Literal["rectangle", "rounded", "corners", "ellipse", "mask"]
    outline: Floats
    area: float


@dataclass(frozen=True)
class FlatRead:
    """What was understood of a picture: the layout, the files it names, the openings as found, what could not be told."""

    layout: Layout
    files: dict[str, bytes]
    openings: tuple[Understood, ...]
    notes: tuple[str, ...] = ()
    areas: str = "holes"


@dataclass(frozen=True)
class _Found:
    understood: Understood
    opening: Opening
    files: dict[str, bytes] = field(default_factory=dict)


def read_picture(data: bytes, name: str) -> tuple[NDArray[np.uint8], tuple[float, float]]:
    """A picture's pixels as RGBA in sRGB, upright, and its size in mm: by its density, or else at 300 ppi.

    Raises FileRefused when it is no picture that can be read, or has too many pixels.
    """
    try:
        with Image.open(io.BytesIO(data), formats=("PNG", "JPEG", "TIFF", "WEBP")) as picture:
            if picture.width * picture.height > limits.OVERLAY_PIXELS:
                most = limits.OVERLAY_PIXELS // 1_000_000
                raise FileRefused(f"{name} has more than {most} megapixels.", "Make it smaller.")
            density = picture.info.get("dpi") or (300, 300)
            profile = picture.info.get("icc_profile")
            upright = ImageOps.exif_transpose(picture)
            has_alpha = upright.mode in ("RGBA", "LA", "PA") or "transparency" in upright.info
            alpha = np.asarray(upright.convert("RGBA").getchannel("A")) if has_alpha else None
            rgb = np.asarray(_in_srgb(upright, profile))
    except (OSError, SyntaxError, ValueError, ImageCms.PyCMSError, Image.DecompressionBombError) as error:
        raise FileRefused(
            f"{name} is not a picture that can be read ({error}).", "Save it anew as PNG or JPEG."
        ) from None
    height, width = rgb.shape[:2]
    opaque = np.full((height, width), 255, np.uint8) if alpha is None else alpha
    ppi = [float(d) if 30 <= float(d) <= 2400 else 300.0 for d in density[:2]]
    return np.dstack([rgb, opaque]), (round(width / ppi[0] * 25.4, 3), round(height / ppi[1] * 25.4, 3))


def _in_srgb(picture: Image.Image, profile: bytes | None) -> Image.Image:
    if picture.mode not in ("RGB", "CMYK", "L"):
        picture, profile = picture.convert("RGB"), profile if picture.mode in ("RGBA", "RGB") else None
    if profile:
        source = ImageCms.ImageCmsProfile(io.BytesIO(profile))
        changed = ImageCms.profileToProfile(picture, source, ImageCms.createProfile("sRGB"), outputMode="RGB")
        if changed is not None:
            return changed
    return picture.convert("RGB")


def read_flat(
    rgba: NDArray[np.uint8], size_mm: tuple[float, float], areas: Areas = "", tolerance: int = 10
) -> FlatRead:
    """The template in a flat picture, (h, w, 4), as a sheet of ``size_mm``.

    ``areas``: "holes" (transparent ones), "flat" (areas of one colour, found by themselves), a colour "#rrggbb", or "" for
    holes where there are any. ``tolerance``: how far a value may be off the colour, of 255.
    Raises FileRefused when no opening is found.
    """
    height, width = rgba.shape[:2]
    notes: list[str] = []
    holes = bool((rgba[..., 3] < 128).any())
    if areas == "holes" or (not areas and holes):
        cover: Coverage = np.float32(1.0) - rgba[..., 3].astype(np.float32) / np.float32(255)
        over, told = rgba, "holes"
        if not holes:
            raise FileRefused("This picture has no transparent holes.", "Read it by areas of flat colour.")
    else:
        colour, others = _colour(areas, rgba, tolerance)
        cover, over = _unmixed(rgba, colour, tolerance)
        told = _hex(colour)
        notes += [
            f"Areas of {other} were left as they are: read it by that colour if they are meant." for other in others
        ]
    mm = size_mm[0] / width, size_mm[1] / height
    found = [_understood(part, at, mm) for part, at in _regions(cover, told == "holes")]
    if not found:
        raise FileRefused(
            "No opening was found in this picture.", "Name the colour of its areas, or draw them in the workshop."
        )
    return _laid_out(found, over, size_mm, notes, told)


def _laid_out(
    found: list[_Found], over: NDArray[np.uint8], size_mm: tuple[float, float], notes: list[str], told: str
) -> FlatRead:
    buffer = io.BytesIO()
    Image.fromarray(over).save(buffer, "PNG", compress_level=1)
    png = buffer.getvalue()
    name = hashlib.sha256(png).hexdigest()
    overlay = Overlay(
        id="overlay", name="What was drawn", asset=name, centre=(size_mm[0] / 2, size_mm[1] / 2), width_mm=size_mm[0],
        height_mm=size_mm[1], content_locked=True, place_locked=True,
    )  # fmt: skip
    bare = Layout(
        width_mm=size_mm[0], height_mm=size_mm[1], bleed_mm=0.0,
        layers=tuple(f.opening.having(id=f"found-{n}") for n, f in enumerate(found)),
    )  # fmt: skip
    order = [int(opening.id.split("-")[1]) for opening in reading_order(bare)]
    openings = tuple(found[n].opening.having(id=f"opening-{at}") for at, n in enumerate(order, 1))
    files = {name: png}
    for one in found:
        files |= one.files
    layout = bare.having(layers=(Background(id="background", name="Background"), *openings, overlay))
    masks = sum(found[n].understood.kind == "mask" for n in order)
    if masks:
        notes.append(f"{masks} of {len(found)} openings are of no plain shape and became masks.")
    notes.append("A flat picture has no bleed: what lies at its edge ends there.")
    return FlatRead(layout, files, tuple(found[n].understood for n in order), tuple(notes), told)


def _hex(colour: tuple[int, int, int]) -> str:
    return "#" + bytes(colour).hex()


# --- which pixels are areas ----------------------------------------------------------------------------------------------


def _colour(areas: Areas, rgba: NDArray[np.uint8], tolerance: int) -> tuple[tuple[int, int, int], list[str]]:
    """The colour of the areas, and others that might be meant."""
    if areas.startswith("#") and len(areas) == 7:
        r, g, b = (int(areas[n : n + 2], 16) for n in (1, 3, 5))
        return (r, g, b), []
    step = max(1, round(max(rgba.shape[:2]) / 1200))
    small = np.ascontiguousarray(rgba[::step, ::step, :3])
    codes = (small >> 3).astype(np.int32) @ np.array([1024, 32, 1])
    values, counts = np.unique(codes, return_counts=True)
    found: list[tuple[float, tuple[int, int, int]]] = []
    for code in values[np.argsort(-counts)][:12]:
        near = small[codes == code]
        if len(near) < 0.004 * codes.size:
            break
        r, g, b = (int(v) for v in np.median(near, axis=0))
        if any(max(abs(r - o[0]), abs(g - o[1]), abs(b - o[2])) <= tolerance for _, o in found):
            continue
        score = _shapely_score(small, (r, g, b), tolerance)
        if score > 0:
            found.append((score, (r, g, b)))
    if not found:
        raise FileRefused("This picture has no areas of one colour that could be openings.", "Name their colour.")
    found.sort(reverse=True)
    best = found[0]
    return best[1], [_hex(other) for score, other in found[1:] if score > 0.2 * best[0]]


def _shapely_score(small: NDArray[np.uint8], colour: tuple[int, int, int], tolerance: int) -> float:
    """How much of a picture lies in areas of a colour that are shaped as openings are: mostly full, not all round the edge."""
    near = _near(small, colour, tolerance)
    count, labels, boxes, _ = cv2.connectedComponentsWithStats(near.astype(np.uint8), connectivity=4)
    total = 0.0
    for n in range(1, count):
        _x, _y, w, h, area = boxes[n].tolist()
        if area < max(_LEAST * near.size, 30) or _is_ground(boxes[n], near.shape):
            continue
        contours, _ = cv2.findContours((labels == n).astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
        hull = cv2.contourArea(cv2.convexHull(max(contours, key=len)))
        if hull and area > 0.75 * hull and min(w, h) > 4:
            total += area
    return total / near.size


def _is_ground(box: NDArray[np.int32], shape: tuple[int, ...]) -> bool:
    """Whether an area is what the page itself is made of: it reaches opposite edges of the picture."""
    x, y, w, h = (int(v) for v in box[:4])
    high, wide = shape[:2]
    sides = (x <= 1) + (y <= 1) + (x + w >= wide - 1) + (y + h >= high - 1)
    return sides >= 3 or (x <= 1 and x + w >= wide - 1 and h > 0.9 * high)


def _near(rgb: NDArray[np.uint8], colour: tuple[int, int, int], tolerance: int) -> NDArray[np.bool_]:
    low = np.clip(np.array(colour) - tolerance, 0, 255)
    high = np.clip(np.array(colour) + tolerance, 0, 255)
    return cv2.inRange(np.ascontiguousarray(rgb[..., :3]), low.astype(np.float64), high.astype(np.float64)) > 0


def _unmixed(
    rgba: NDArray[np.uint8], colour: tuple[int, int, int], tolerance: int
) -> tuple[Coverage, NDArray[np.uint8]]:
    """How much of each pixel is the areas' colour, and the rest of the picture without it."""
    core = _near(rgba, colour, tolerance).astype(np.uint8)
    count, labels, boxes, _ = cv2.connectedComponentsWithStats(core, connectivity=4)
    keep = np.zeros(count, np.uint8)
    for n in range(1, count):
        keep[n] = boxes[n][4] >= max(_LEAST * core.size, _LEAST_PX) and not _is_ground(boxes[n], core.shape)
    area = keep[labels]
    cover = area.astype(np.float32)
    over = rgba.copy()
    over[..., 3] = 255
    over[area > 0, 3] = 0
    square = np.ones((3, 3), np.uint8)
    # The mixture is at most two pixels wide on either side; the frame's own colour is that of the nearest pixel beyond.
    band = (cv2.dilate(area, square, iterations=2) > 0) & (cv2.erode(area, square, iterations=2) == 0)
    beyond = cv2.dilate(area, square, iterations=3) == 0
    if not beyond.any() or not band.any():
        return cover, over
    _, nearest = cv2.distanceTransformWithLabels(
        (~beyond).astype(np.uint8), cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL
    )
    rows, columns = np.nonzero(beyond)
    where = np.zeros(int(nearest.max()) + 1, np.int64)
    where[nearest[rows, columns]] = rows * rgba.shape[1] + columns
    ys, xs = np.nonzero(band)
    flat = rgba.reshape(-1, 4)
    frame = flat[where[nearest[ys, xs]], :3].astype(np.float32)
    mixed = rgba[ys, xs, :3].astype(np.float32)
    way = np.array(colour, np.float32) - frame
    long = (way * way).sum(axis=1)
    share = np.where(long > 150, ((mixed - frame) * way).sum(axis=1) / np.maximum(long, 1), area[ys, xs])
    share = np.clip(share, 0, 1).astype(np.float32)
    share[share < 0.02] = 0
    share[share > 0.98] = 1
    cover[ys, xs] = share
    over[ys, xs, :3] = np.where(share[:, None] > 0, frame, mixed).astype(np.uint8)
    over[ys, xs, 3] = np.rint(255 * (1 - share)).astype(np.uint8)
    return cover, over


# --- which shape an area has ---------------------------------------------------------------------------------------------


def _regions(cover: Coverage, soft: bool) -> list[tuple[Coverage, tuple[int, int]]]:
    """Each area with some room about it, what it encloses filled in, and where it begins (x, y)."""
    solid = (cover > 0.5).astype(np.uint8)
    count, labels, boxes, _ = cv2.connectedComponentsWithStats(solid, connectivity=4)
    high, wide = cover.shape
    found = []
    for n in range(1, count):
        x, y, w, h, area = boxes[n].tolist()
        if area < max(_LEAST * cover.size, _LEAST_PX) or min(w, h) < 4:
            continue
        if soft and _is_ground(boxes[n], cover.shape) and area < 0.6 * w * h:
            continue  # the transparent surround of what is drawn
        room = 4
        x0, y0, x1, y1 = max(0, x - room), max(0, y - room), min(wide, x + w + room), min(high, y + h + room)
        own = labels[y0:y1, x0:x1] == n
        contours, _ = cv2.findContours(own.astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
        filled = np.zeros(own.shape, np.uint8)
        cv2.drawContours(filled, contours, -1, 1, cv2.FILLED)
        about = cv2.dilate(filled, np.ones((3, 3), np.uint8), iterations=2) > 0
        inner = cv2.erode(filled, np.ones((3, 3), np.uint8), iterations=2) > 0
        part = np.where(about, cover[y0:y1, x0:x1], 0).astype(np.float32)
        part[inner] = 1.0
        other = (solid[y0:y1, x0:x1] > 0) & ~own & (filled == 0)
        part[other] = 0.0  # a neighbour beyond a thin line
        found.append((part, (x0, y0)))
    return found


def _edge(part: Coverage) -> Floats:
    """Where an area covers half of a pixel: the crossings between neighbours, (n, 2)."""
    framed = np.pad(part, 1).astype(np.float64) - 0.5
    points = []
    for axis in (0, 1):
        a, b = (framed[:, :-1], framed[:, 1:]) if axis == 0 else (framed[:-1], framed[1:])
        ys, xs = np.nonzero((a > 0) != (b > 0))
        t = a[ys, xs] / (a[ys, xs] - b[ys, xs])
        points.append(np.stack([xs - 0.5 + t, ys - 0.5], 1) if axis == 0 else np.stack([xs - 0.5, ys - 0.5 + t], 1))
    return np.vstack(points)


def _understood(part: Coverage, at: tuple[int, int], mm: tuple[float, float]) -> _Found:
    edge = _edge(part)
    area = float(part.sum())
    for fitted in (_four_sided, _elliptic, _rounded):
        shape = fitted(part, edge)
        if shape is not None:
            kind, outline, make = shape
            outline = outline + np.array(at, np.float64)
            return _Found(Understood(kind, outline, area), make(np.array(at, np.float64), mm))
    return _masked(part, at, mm, area)


def _four_sided(part: Coverage, edge: Floats) -> Any:
    start = _quad_start(part)
    if start is None:
        return None
    corners = _refined(start, edge, 0.06)
    if corners is None or _off(corners, edge) > _CLOSE:
        return None
    try:
        quadrilaterals.checked(corners)
    except GeometryError:
        return None
    return (
        ("rectangle" if _rectangular(corners) else "corners"),
        corners,
        lambda at, mm: _quad_opening(corners + at, mm),
    )


def _quad_start(part: Coverage) -> Floats | None:
    """Four corners to begin with, clockwise as seen from the upper left one."""
    contours, _ = cv2.findContours((part > 0.5).astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    hull = cv2.convexHull(max(contours, key=cv2.contourArea))
    length = cv2.arcLength(hull, True)
    for share in (0.01, 0.015, 0.02, 0.03, 0.045):
        four = cv2.approxPolyDP(hull, share * length, True).reshape(-1, 2).astype(np.float64)
        if len(four) == 4:
            return _ordered(four + 0.5)
        if len(four) < 4:
            return None
    return None


def _ordered(four: Floats) -> Floats:
    """Clockwise as seen, from the corner that is most to the upper left."""
    middle = four.mean(axis=0)
    around = four[np.argsort(np.arctan2(four[:, 1] - middle[1], four[:, 0] - middle[0]))]
    return np.roll(around, -int(np.argmin(around.sum(axis=1))), axis=0)


def _refined(corners: Floats, edge: Floats, ends: float) -> Floats | None:
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
        met = [_meeting(lines[n - 1], lines[n]) for n in range(4)]
        if any(point is None for point in met):
            return None
        corners = np.array(met)
    return corners


def _meeting(one: tuple[Floats, Floats], other: tuple[Floats, Floats]) -> Floats | None:
    (p, u), (q, v) = one, other
    cross = float(u[0] * v[1] - u[1] * v[0])
    if abs(cross) < 0.05:
        return None
    w = q - p
    return np.asarray(p + u * (w[0] * v[1] - w[1] * v[0]) / cross)


def _off(corners: Floats, edge: Floats) -> float:
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
    grown = np.array(outlines.grown([corners], _UNDER)[0])
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

    def make(at: Floats, mm: tuple[float, float]) -> Opening:
        wide, high, lean = a, b, -float(angle)
        lean = (lean + 90.0) % 180.0 - 90.0
        if abs(lean) > 45.0:
            wide, high, lean = b, a, lean - 90.0 if lean > 0 else lean + 90.0
        lean = 0.0 if abs(lean) < 0.2 or abs(a - b) < 1.0 else lean
        size = {"width_mm": _r(2 * (wide + _UNDER) * mm[0]), "height_mm": _r(2 * (high + _UNDER) * mm[1])}
        return _flat_opening(Ellipse(**size), np.array([cx, cy]) + at, lean, mm)

    return "ellipse", ring, make


def _rounded(part: Coverage, edge: Floats) -> Any:
    contours, _ = cv2.findContours((part > 0.5).astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    box = cv2.boxPoints(cv2.minAreaRect(max(contours, key=cv2.contourArea))).astype(np.float64) + 0.5
    corners = _refined(_ordered(box), edge, 0.34)
    if corners is None or not _rectangular(corners):
        return None
    a, b, c, d = corners
    width, height = (np.hypot(*(b - a)) + np.hypot(*(c - d))) / 2, (np.hypot(*(d - a)) + np.hypot(*(c - b))) / 2
    middle, across = corners.mean(axis=0), ((b - a) + (c - d)) / 2
    unit = across / np.hypot(*across)
    own = np.abs((edge - middle) @ np.stack([unit, [-unit[1], unit[0]]], 1))

    def off(radius: float) -> float:
        rel = own - (width / 2 - radius, height / 2 - radius)
        away = np.hypot(*np.maximum(rel, 0).T) + np.minimum(rel.max(axis=1), 0) - radius
        return float(np.percentile(np.abs(away), 97))

    # The radius that follows the edge best: a coarse search, and a fine one about what that finds.
    most = min(width, height) / 2
    coarse = np.linspace(1.0, most, 60)
    best = float(coarse[np.argmin([off(r) for r in coarse])])
    fine = np.linspace(max(1.0, best - most / 59), min(most, best + most / 59), 41)
    radius = float(fine[np.argmin([off(r) for r in fine])])
    if radius < 1.5 or off(radius) > _CLOSE:
        return None
    turn = float(np.degrees(np.arctan2(-across[1], across[0])))
    turn = 0.0 if abs(turn) * max(width, height) < 25 else turn

    def make(at: Floats, mm: tuple[float, float]) -> Opening:
        outline = Rectangle(
            width_mm=_r((width + 2 * _UNDER) * mm[0]), height_mm=_r((height + 2 * _UNDER) * mm[1]),
            radius_mm=_r((radius + _UNDER) * mm[0]),
        )  # fmt: skip
        return _flat_opening(outline, middle + at, turn, mm)

    return "rounded", corners, make


def _masked(part: Coverage, at: tuple[int, int], mm: tuple[float, float], area: float) -> _Found:
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
    middle = np.array([at[0] - 1 + wide / 2, at[1] - 1 + high / 2])
    contours, _ = cv2.findContours((part > 0.5).astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    ring = max(contours, key=cv2.contourArea).reshape(-1, 2).astype(np.float64) + 0.5 + np.array(at, np.float64)
    return _Found(Understood("mask", ring, area), _flat_opening(mask, middle, 0.0, mm), {mask.asset: png})
