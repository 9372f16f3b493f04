"""People of the festival, as a photographer meets them: from behind, in profile, running, against the light.

A figure is a handful of rounded limbs in space. Where each pixel meets the nearest of them gives its depth; from the depth
come normals, and from those the light, so that bodies and cloth turn round like bodies and cloth. Lengths are heads: a
standing figure is about seven and a half high. Pixels come last.
"""

from dataclasses import dataclass, field
from itertools import pairwise

import cv2
import numpy as np
from numpy.typing import NDArray

Canvas = NDArray[np.float32]  # 0 to 1, (h, w, 3)
Rng = np.random.Generator
Colour = tuple[float, float, float]
Spot = tuple[
    float, float, float
]  # x to the right, y down from the feet's level (negative upwards), z towards the viewer

COATS: list[Colour] = [
    (0.20, 0.26, 0.36), (0.47, 0.20, 0.17), (0.72, 0.55, 0.20), (0.25, 0.36, 0.31), (0.55, 0.53, 0.49), (0.30, 0.30, 0.32),
    (0.62, 0.38, 0.30), (0.36, 0.45, 0.54),
]  # fmt: skip
TROUSERS: list[Colour] = [(0.13, 0.15, 0.21), (0.22, 0.25, 0.33), (0.36, 0.31, 0.25), (0.16, 0.16, 0.16)]
HAIR: list[Colour] = [
    (0.11, 0.08, 0.06),
    (0.27, 0.17, 0.10),
    (0.50, 0.38, 0.24),
    (0.48, 0.47, 0.46),
    (0.36, 0.19, 0.10),
]
SKIN: list[Colour] = [
    (0.80, 0.61, 0.51),
    (0.68, 0.49, 0.38),
    (0.50, 0.34, 0.25),
    (0.32, 0.21, 0.16),
    (0.76, 0.57, 0.46),
]


@dataclass
class Limb:
    """A rounded limb from one spot to another, its thickness from ``thick`` to ``thin``; ``rough``: how much its cloth folds;
    ``of``: what else is seen close by, strands of hair or ribs of wool."""

    start: Spot
    end: Spot
    thick: float
    thin: float
    colour: Colour
    rough: float = 0.0
    of: str = ""


@dataclass
class Figure:
    """Limbs, and where a hand holds a line, if one does."""

    limbs: list[Limb] = field(default_factory=list)
    hand: Spot | None = None


def paint_standing(
    rng: Rng, tall: float = 7.5, away: float = 1.0, pull: float | None = None, stride: float = 0.0
) -> Figure:
    """Somebody from behind (``away`` 1), in profile (0) or between. ``pull``: how high an arm holds a line, in heads."""
    coat, legs = COATS[rng.integers(len(COATS))], TROUSERS[rng.integers(len(TROUSERS))]
    hair, skin = HAIR[rng.integers(len(HAIR))], SKIN[rng.integers(len(SKIN))]
    k = tall / 7.5
    wide, deep = k * (0.35 + 0.65 * away), k * (1.0 - 0.65 * away)
    lean = rng.uniform(-0.12, 0.12) + 0.35 * stride
    hip, neck = -3.75 * k, -6.25 * k
    figure = Figure()
    add = figure.limbs.append
    for side in (-1, 1):
        step = side * (0.32 + stride) * k
        knee = (side * 0.34 * wide + 0.5 * step * (1 - away), hip / 2, -0.2 * side * stride)
        foot = (side * 0.40 * wide + step * (1 - 0.6 * away), -0.12 - max(0.0, side * stride) * 0.8, 0.0)
        add(Limb((side * 0.30 * wide, hip, 0), knee, 0.48 * k, 0.34 * k, legs, 0.6))
        add(Limb(knee, foot, 0.34 * k, 0.22 * k, legs, 0.5))
        add(Limb(foot, (foot[0] + 0.25 * (1 - away), foot[1] + 0.03, 0.3), 0.2 * k, 0.16 * k, (0.12, 0.11, 0.11)))
    for side in (-1, 1):  # the coat, its hem level
        hem = (side * 0.30 * (wide + 0.3 * deep), hip + rng.uniform(0.1, 0.3) * k, 0.05)
        add(Limb(hem, (lean * 0.5 + side * 0.16 * wide, hip - 1.1 * k, 0.05), 0.47 * k, 0.5 * k, coat, 1.3))
    add(Limb((lean * 0.5, hip - 1.0 * k, 0), (lean, neck + 0.35 * k, 0.0), 0.66 * k, 0.52 * k, coat, 1.0))
    for side in (-1, 1):
        shoulder = (lean + side * 0.62 * wide, neck + 0.38 * k, -0.15 * side * (1 - away))
        add(Limb((lean, neck + 0.4 * k, 0), shoulder, 0.40 * k, 0.36 * k, coat, 0.8))
        if pull is not None and side == 1:
            elbow = (shoulder[0] + 0.62 * k, neck + 0.9 * k - pull * 0.4, 0.3)
            hand = (elbow[0] + 0.28 * k, elbow[1] - 0.95 * k - pull * 0.3, 0.35)
            figure.hand = hand
        else:
            swing = side * stride * 0.9
            elbow = (shoulder[0] + side * 0.16 * wide + swing * 0.6, shoulder[1] + 1.25 * k, 0.1)
            hand = (elbow[0] + swing, elbow[1] + 1.05 * k - abs(stride) * 0.5, 0.2)
        add(Limb(shoulder, elbow, 0.31 * k, 0.24 * k, coat, 0.8))
        add(Limb(elbow, hand, 0.24 * k, 0.17 * k, coat, 0.6))
        add(Limb(hand, (hand[0] + 0.04, hand[1] - 0.14 if pull is not None and side == 1 else hand[1] + 0.2, hand[2]),
                 0.15 * k, 0.11 * k, skin))  # fmt: skip
    _head(figure, rng, lean + 0.12 * stride, neck, k, away, hair, skin, coat)
    return figure


def head_and_shoulders(rng: Rng, skin: Colour, hair: Colour, coat: Colour) -> Figure:
    """A portrait's figure in halves of a face's width, the face's middle at the origin, dressed for a windy shore; eyes and
    mouth are drawn on it."""
    shaded: Colour = (skin[0] * 0.86, skin[1] * 0.82, skin[2] * 0.80)
    wool, scarf = (COATS[n] for n in rng.choice(len(COATS), 2, replace=False))
    figure = Figure()
    add = figure.limbs.append
    for side in (-1, 1):
        add(Limb((side * 0.70, 3.0, -1.0), (side * 0.85, 11.0, -0.9), 1.40, 1.6, coat, 0.7))
        add(Limb((side * 0.3, 2.2, -0.9), (side * 1.75, 2.75, -1.1), 0.62, 0.62, coat, 0.5))
        add(Limb((side * 1.95, 2.95, -1.1), (side * 2.30, 9.0, -1.2), 0.66, 0.6, coat, 0.7))
        add(Limb((side * 0.94, -0.02, -0.30), (side * 0.90, 0.24, -0.25), 0.13, 0.10, shaded))
        add(Limb((side * 0.44, 0.24, 0.42), (side * 0.36, 0.42, 0.40), 0.40, 0.36, skin))
        add(Limb((side * 0.12, 0.42, 0.86), (side * 0.09, 0.44, 0.86), 0.11, 0.10, skin))
        add(Limb((side * 0.48, -0.26, 0.56), (side * 0.20, -0.28, 0.66), 0.17, 0.16, skin))
    add(Limb((0, 0.8, -0.5), (0, 2.2, -0.6), 0.52, 0.60, shaded))
    add(Limb((0, -0.42, -0.05), (0, 0.52, 0.0), 0.96, 0.78, skin))
    add(Limb((0, 0.80, 0.22), (0, 0.94, 0.26), 0.44, 0.32, skin))
    add(Limb((0, -0.12, 0.80), (0, 0.40, 0.98), 0.11, 0.16, skin))
    _headgear(figure, rng, hair, wool)
    if rng.random() < 0.65:  # a scarf, wound twice
        for low, r in ((1.30, 0.30), (1.62, 0.36)):
            add(Limb((-0.80, low - 0.14, -0.45), (-0.15, low + 0.16, 0.25), r, r, scarf, 0.5, "wool"))
            add(Limb((-0.15, low + 0.16, 0.25), (0.80, low - 0.14, -0.45), r, r * 0.9, scarf, 0.5, "wool"))
        for x in (0.20, 0.50):
            add(Limb((x + 0.05, 1.85, 0.22), (x + 0.2, 3.7, 0.42), 0.25, 0.27, scarf, 0.6, "wool"))
    else:  # a collar, open at the throat
        for side in (-1, 1):
            add(Limb((side * 0.72, 1.45, -0.55), (side * 0.24, 2.35, 0.30), 0.26, 0.20, coat, 0.3))
    return figure


def _headgear(figure: Figure, rng: Rng, hair: Colour, wool: Colour) -> None:
    """A woollen hat, short hair, or long hair that falls behind the shoulders."""
    add = figure.limbs.append
    style = rng.integers(3)
    if style == 0:
        add(Limb((0, -0.78, 0.02), (0, -1.06, -0.12), 1.02, 0.90, wool, 0.3, "wool"))
        brim = [
            (0.96 * np.sin(a), -0.74 - 0.06 * np.cos(a), 0.92 * np.cos(a) - 0.14) for a in np.linspace(-1.8, 1.8, 13)
        ]
        for start, end in pairwise(brim):
            add(Limb(start, end, 0.22, 0.22, wool, 0.3, "wool"))
        return
    add(Limb((0, -0.62, -0.35), (0, -0.78, -0.32), 1.02, 1.0, hair, 0.5, "hair"))
    parting = rng.choice((-1, 1)) * 0.4
    for n in range(9):  # locks over the forehead, from the parting
        x = -0.80 + 1.6 * n / 8
        front = 0.86 * (max(0.1, 1 - x * x)) ** 0.5 - 0.10
        low = -0.66 - 0.14 * (1 - x * x) + 0.12 * rng.random()
        over = (0.25 * parting + 0.8 * x, -1.02, 0.85 * front)
        add(Limb((0.6 * parting + 0.4 * x, -1.24, 0.2), over, 0.24, 0.28, hair, 0.3, "hair"))
        add(Limb(over, (x, low, front), 0.28, 0.09, hair, 0.3, "hair"))
    if style == 2:
        for side in (-1, 1):
            curl = rng.uniform(0.9, 1.05)
            add(Limb((side * 0.74, -0.60, -0.40), (side * 0.88, 0.55, -0.55), 0.38, 0.38, hair, 0.7, "hair"))
            add(Limb((side * 0.88, 0.55, -0.55), (side * 0.84 * curl, 1.75, -0.45), 0.38, 0.36, hair, 0.9, "hair"))
            add(Limb((side * 0.84 * curl, 1.75, -0.45), (side * 0.66, 2.7, -0.15), 0.36, 0.10, hair, 0.9, "hair"))


def _head(
    figure: Figure, rng: Rng, x: float, neck: float, k: float, away: float, hair: Colour, skin: Colour, coat: Colour
) -> None:
    add = figure.limbs.append
    facing = 0.2 * (1 - away)
    add(Limb((x, neck + 0.25 * k, 0), (x + facing * 0.4, neck - 0.2 * k, 0.05), 0.24 * k, 0.22 * k, skin))
    middle = neck - 0.62 * k
    head = max(0.82, k)
    add(
        Limb(
            (x + facing, middle + 0.14 * head, 0.0),
            (x + facing * 0.7, middle - 0.14 * head, 0.02),
            0.33 * head,
            0.36 * head,
            skin,
        )
    )
    if away < 0.8:  # a nose and a chin in profile
        add(Limb((x + facing + 0.22, middle - 0.02, 0.0), (x + facing + 0.32, middle + 0.08, 0.0), 0.09, 0.06, skin))
        add(Limb((x + facing, middle + 0.3, 0.0), (x + facing + 0.2, middle + 0.36, 0.0), 0.2, 0.13, skin))
    style = rng.integers(4)
    back = x + facing * 0.4 - 0.1 * (1 - away)
    if style == 0:  # a hood or a scarf
        add(
            Limb(
                (back, middle + 0.2 * head, 0.2),
                (back, middle - 0.16 * head, 0.12),
                0.40 * head,
                0.42 * head,
                coat,
                0.8,
            )
        )
    elif style == 1:  # a woollen hat
        wool = COATS[rng.integers(len(COATS))]
        add(Limb((back, middle + 0.1, 0.1), (back, middle - 0.05, 0.1), 0.36 * head, 0.38 * head, hair, 0.5))
        add(
            Limb(
                (back + 0.03, middle - 0.14 * head, 0.16),
                (back + 0.03, middle - 0.3 * head, 0.1),
                0.40 * head,
                0.3 * head,
                wool,
                0.5,
            )
        )
    else:
        add(Limb((back, middle + 0.06, 0.16), (back, middle - 0.16 * head, 0.14), 0.37 * head, 0.39 * head, hair, 0.7))
        if style == 3:  # long hair, blown aside
            add(
                Limb(
                    (back, middle + 0.1, 0.25),
                    (back - 0.25, middle + 0.95 * k, 0.3),
                    0.34 * head,
                    0.16 * head,
                    hair,
                    1.2,
                )
            )


def paint(
    canvas: Canvas, rng: Rng, figure: Figure, feet: tuple[float, float], head_px: float, light: tuple[float, float, float],
    sun: float = 1.0, haze: float = 0.0, soft: float = 0.0, shadow: float = 0.35, smooth_by: float = 0.045,
) -> tuple[float, float] | None:  # fmt: skip
    """Paints a figure standing at ``feet`` (px), a head ``head_px`` high; where its hand with a line is, px.

    ``light``: where the sun stands (x, y, z). ``sun`` its strength; ``haze``: how much the air veils; ``soft``: blur, px.
    ``smooth_by``: how far limbs run into one another, in heads.
    """
    fx, fy = feet
    spots = np.array([s for limb in figure.limbs for s in (limb.start, limb.end)])
    reach = 0.1 + max(max(limb.thick, limb.thin) for limb in figure.limbs)
    x0, y0 = int(fx + (spots[:, 0].min() - reach) * head_px), int(fy + (spots[:, 1].min() - reach) * head_px)
    x1, y1 = int(fx + (spots[:, 0].max() + reach) * head_px), int(fy + (spots[:, 1].max() + reach) * head_px)
    margin = int(head_px)  # what lies far off the picture is not worked out
    x0, y0 = max(-margin, x0), max(-margin, y0)
    x1, y1 = min(canvas.shape[1] + margin, x1), min(canvas.shape[0] + margin, y1)
    if x1 - x0 < 2 or y1 - y0 < 2:
        return None
    if shadow:
        _shadow(canvas, figure, feet, head_px, light, shadow)
    more = 2  # drawn twice as dense, averaged afterwards
    wide, high = max(4, (x1 - x0) * more), max(4, (y1 - y0) * more)
    px = (np.arange(wide, dtype=np.float32) / more + x0 - fx) / head_px
    py = (np.arange(high, dtype=np.float32) / more + y0 - fy) / head_px
    gx, gy = (np.asarray(g, np.float32) for g in np.meshgrid(px, py))
    depth = np.full((high, wide), -9.0, np.float32)
    colour = np.zeros((high, wide, 3), np.float32)
    noise, across, down = rng.normal(0, 1, (high, wide)), 0.20 * head_px * more, 0.11 * head_px * more
    softened = _blur_canvas(noise.astype(np.float32), max(1.0, across), max(1.0, down))
    folds = np.asarray(softened / max(1e-6, float(softened.std())), np.float32)
    strands = _blur_canvas(
        rng.normal(0, 1, (high, wide)).astype(np.float32), max(0.5, 0.012 * head_px * more), max(0.5, across)
    )
    strands = np.asarray(strands / max(1e-6, float(strands.std())), np.float32)
    per = head_px * more
    for limb in figure.limbs:
        # Only where it can be: a rope has a hundred limbs.
        r = max(limb.thick, limb.thin)
        ends = np.array([limb.start[:2], limb.end[:2]]) - (px[0], py[0])
        (left, top), (right, bottom) = (ends.min(0) - r) * per - 2, (ends.max(0) + r) * per + 3
        part = np.s_[max(0, int(top)) : max(0, int(bottom)), max(0, int(left)) : max(0, int(right))]
        if depth[part].size == 0:
            continue
        z, inside = _surface(limb, gx[part], gy[part])
        z = z + np.float32(0.035 * limb.rough) * folds[part]
        front = inside & (z > depth[part])
        depth[part][front] = z[front]
        grained = np.float32(1 + 0.05 * limb.rough) + _grain(limb, gx[part], gy[part], strands[part])
        colour[part][front] = grained[front][:, None] * np.array(limb.colour, np.float32)
    cover = (depth > -8).astype(np.float32)
    if not cover.any():
        return None
    # Softened within the figure alone, or its edge would turn away from the light like a drawn line.
    blur = smooth_by * head_px * more + 0.4
    near = _blur_canvas(np.where(depth > -8, depth, 0).astype(np.float32), blur)
    smooth = near / np.maximum(1e-3, _blur_canvas(cover, blur))
    step = 2 * more / (2 * head_px * more)
    nx, ny = (
        -cv2.Sobel(smooth, cv2.CV_32F, 1, 0) / 8 / (step / more),
        -cv2.Sobel(smooth, cv2.CV_32F, 0, 1) / 8 / (step / more),
    )
    length = np.sqrt(nx * nx + ny * ny + 1)
    lx, ly, lz = np.array(light) / np.linalg.norm(light)
    facing = (nx * lx + ny * ly + lz) / length
    wide_blur = _blur_canvas(np.asarray(smooth, np.float32), 0.28 * head_px * more + 0.4)
    hollow = np.clip(0.5 + (smooth - wide_blur) * 1.6, 0.35, 1.0)  # creases and what lies behind are darker
    # The sky lights what looks up, the sand what looks down, the sun what looks its way.
    below = (0.5 + 0.5 * np.clip(ny / length, -1, 1))[..., None]
    around = np.array((0.90, 1.0, 1.10), np.float32) * (1 - below) + np.array((1.12, 1.0, 0.86), np.float32) * below
    direct = np.float32(0.92 * sun) * np.clip(facing, 0, 1) * (0.6 + 0.4 * hollow)
    lit = 0.46 * hollow[..., None] * around + direct[..., None] * np.array((1.04, 1.0, 0.93), np.float32)
    rim = np.clip(1 - 1.3 / length, 0, 1) * max(0.0, -lz) * 0.9 * sun  # the sun behind edges everything with light
    lit_colour = colour * lit + rim[..., None] * np.array((1.0, 0.9, 0.7), np.float32)
    weave = cv2.GaussianBlur(rng.normal(0, 1, (high, wide)).astype(np.float32), (0, 0), 0.9)
    lit_colour = lit_colour * (1 + 0.05 * folds + 0.10 * weave)[..., None]
    if haze:
        lit_colour += (np.array((0.70, 0.77, 0.84), np.float32) - lit_colour) * np.float32(haze)
    size = (x1 - x0, y1 - y0)
    shown = np.where(cover[..., None] > 0, lit_colour, 0).astype(np.float32)
    lit_colour = np.asarray(cv2.resize(shown, size, interpolation=cv2.INTER_AREA), np.float32)
    cover = np.asarray(cv2.resize(cover, size, interpolation=cv2.INTER_AREA), np.float32)
    if soft > 0.2:
        lit_colour, cover = (np.asarray(cv2.GaussianBlur(p, (0, 0), soft), np.float32) for p in (lit_colour, cover))
    _lay(canvas, lit_colour, cover, x0, y0)
    if figure.hand is None:
        return None
    return fx + figure.hand[0] * head_px, fy + (figure.hand[1] - 0.15) * head_px


def _blur_canvas(values: Canvas, across: float, down: float | None = None) -> Canvas:
    """Blurred; widely so on a coarser picture, where nobody can tell."""
    down = across if down is None else down
    k = max(1, int(min(across, down) / 4))
    size = max(1, values.shape[1] // k), max(1, values.shape[0] // k)
    small = cv2.resize(values, size, interpolation=cv2.INTER_AREA) if k > 1 else values
    small = cv2.GaussianBlur(small, (0, 0), across / k, sigmaY=down / k)
    whole = (values.shape[1], values.shape[0])
    return np.asarray(cv2.resize(small, whole, interpolation=cv2.INTER_CUBIC) if k > 1 else small, np.float32)


def _surface(limb: Limb, gx: Canvas, gy: Canvas) -> tuple[Canvas, NDArray[np.bool_]]:
    """Depth of a limb's near side at each place, and where it has one."""
    (ax, ay, az), (bx, by, bz) = limb.start, limb.end
    dx, dy = bx - ax, by - ay
    long = max(1e-6, dx * dx + dy * dy)
    t = np.clip(((gx - ax) * dx + (gy - ay) * dy) / long, 0, 1)
    r = limb.thick + (limb.thin - limb.thick) * t
    away = (gx - ax - t * dx) ** 2 + (gy - ay - t * dy) ** 2
    inside = away < r * r
    z = az + (bz - az) * t + np.sqrt(np.maximum(0, r * r - away))
    return z.astype(np.float32), inside


def _grain(limb: Limb, gx: Canvas, gy: Canvas, strands: Canvas) -> Canvas:
    """How much lighter each place of a limb is by what it is of: strands of hair, ribs of wool along it."""
    if limb.of == "hair":
        return np.float32(0.20) * strands
    if limb.of == "wool":
        (ax, ay, _), (bx, by, _) = limb.start, limb.end
        long = max(1e-6, float(np.hypot(bx - ax, by - ay)))
        beside = ((gx - ax) * (by - ay) - (gy - ay) * (bx - ax)) / (long * max(limb.thick, limb.thin))
        along = ((gx - ax) * (bx - ax) + (gy - ay) * (by - ay)) / long
        ribs = np.sin((11 + 16 * limb.thick) * np.arcsin(np.clip(beside, -1, 1)))
        return np.asarray(0.11 * ribs + 0.06 * np.sin(36 * along + 2 * ribs) + 0.05 * strands, np.float32)
    return np.zeros_like(gx)


def _shadow(
    canvas: Canvas, figure: Figure, feet: tuple[float, float], head_px: float, light: Spot, strength: float
) -> None:
    """On the ground, away from the sun."""
    h, w = canvas.shape[:2]
    mask = np.zeros((h, w), np.uint8)
    slant = -light[0] / max(0.25, abs(light[1])) * 0.9
    flat = 0.16 if light[2] > 0 else -0.22  # behind them, or towards the viewer
    for limb in figure.limbs:
        ends = [
            (feet[0] + (s[0] - s[1] * slant) * head_px, feet[1] + s[1] * flat * head_px) for s in (limb.start, limb.end)
        ]
        points = np.round(np.array(ends) * 16).astype(np.int32)
        thick = max(1, round((limb.thick + limb.thin) * head_px * 0.7))
        cv2.line(mask, points[0].tolist(), points[1].tolist(), 255, thick, cv2.LINE_AA, 4)
    soft = cv2.GaussianBlur(mask, (0, 0), max(0.8, head_px * 0.12)).astype(np.float32) / 255
    canvas *= 1 - np.float32(strength) * soft[..., None]


def _lay(canvas: Canvas, layer: Canvas, cover: Canvas, x0: int, y0: int) -> None:
    """Lays premultiplied pixels with their coverage on the canvas."""
    h, w = canvas.shape[:2]
    left, top, right, bottom = max(0, x0), max(0, y0), min(w, x0 + cover.shape[1]), min(h, y0 + cover.shape[0])
    if left >= right or top >= bottom:
        return
    at = np.s_[top - y0 : bottom - y0, left - x0 : right - x0]
    part = canvas[top:bottom, left:right]
    part *= 1 - cover[at][..., None]
    part += layer[at]
