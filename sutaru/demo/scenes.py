"""Made-up photographs of a coastal kite festival: seeded, so always the same. Drawn small, then given size, light and grain.

``picture(scene, seed, width, height)`` gives RGB uint8, shape (height, width, 3).
"""

from collections.abc import Callable

import cv2
import numpy as np
from numpy.typing import NDArray

Canvas = NDArray[np.float32]  # 0 to 1, (h, w, 3)
Rng = np.random.Generator

DRAWN = 1100  # px along the longer side while drawing
SAILS = [
    (0.86, 0.27, 0.16),
    (0.95, 0.71, 0.13),
    (0.10, 0.44, 0.62),
    (0.17, 0.55, 0.42),
    (0.60, 0.18, 0.42),
    (0.93, 0.90, 0.84),
]
SKIN = [(0.93, 0.76, 0.65), (0.80, 0.60, 0.47), (0.62, 0.43, 0.32), (0.42, 0.28, 0.21), (0.88, 0.68, 0.55)]


def clouds(rng: Rng, height: int, width: int, coarse: int = 3, octaves: int = 6) -> NDArray[np.float32]:
    """Fractal noise, 0 to 1."""
    total = np.zeros((height, width), np.float32)
    for octave in range(octaves):
        cells = coarse * 2**octave
        grid = rng.random((cells + 1, max(2, round(cells * width / height)) + 1), np.float32)
        total += cv2.resize(grid, (width, height), interpolation=cv2.INTER_CUBIC) / 2**octave
    low, high = np.percentile(total, (1, 99))
    return np.asarray(np.clip((total - low) / (high - low), 0, 1), np.float32)


def ramp(height: int, width: int, top: tuple[float, ...], bottom: tuple[float, ...]) -> Canvas:
    """A vertical gradient."""
    t = np.linspace(0, 1, height, dtype=np.float32)[:, None, None]
    return np.broadcast_to(
        np.array(top, np.float32) * (1 - t) + np.array(bottom, np.float32) * t, (height, width, 3)
    ).copy()


def _blend(
    canvas: Canvas,
    points: NDArray[np.float64],
    grow: float,
    colour: tuple[float, ...],
    alpha: float,
    draw: Callable[[NDArray[np.uint8], NDArray[np.int32]], object],
    soft: float = 0.0,
) -> None:
    """Draws into a mask no larger than need be, softens it, and mixes the colour in."""
    h, w = canvas.shape[:2]
    margin = int(grow + 3 * soft + 2)
    x0, y0 = (max(0, int(v) - margin) for v in points.min(axis=0))
    x1, y1 = min(w, int(points[:, 0].max()) + margin + 1), min(h, int(points[:, 1].max()) + margin + 1)
    if x0 >= x1 or y0 >= y1:
        return
    mask = np.zeros((y1 - y0, x1 - x0), np.uint8)
    draw(mask, np.round((points - (x0, y0)) * 16).astype(np.int32))
    cover = mask.astype(np.float32) / 255
    if soft > 0:
        cover = np.asarray(cv2.GaussianBlur(cover, (0, 0), soft), np.float32)
    part = canvas[y0:y1, x0:x1]
    part += (np.array(colour, np.float32) - part) * (cover * alpha)[..., None]


def lay(
    canvas: Canvas, points: NDArray[np.float64], colour: tuple[float, ...], alpha: float = 1.0, soft: float = 0.0
) -> None:
    """Fills a polygon, anti-aliased, its edge softened by ``soft`` px."""
    _blend(
        canvas,
        np.asarray(points, np.float64),
        0,
        colour,
        alpha,
        lambda mask, at: cv2.fillPoly(mask, [at], 255, cv2.LINE_AA, shift=4),
        soft,
    )


def ellipse(cx: float, cy: float, rx: float, ry: float, turn: float = 0.0, n: int = 72) -> NDArray[np.float64]:
    """Points of an ellipse."""
    t = np.linspace(0, 2 * np.pi, n, endpoint=False)
    x, y = rx * np.cos(t), ry * np.sin(t)
    c, s = np.cos(turn), np.sin(turn)
    return np.stack([cx + x * c - y * s, cy + x * s + y * c], axis=-1)


def thread(canvas: Canvas, points: NDArray[np.float64], colour: tuple[float, ...], width: float) -> None:
    """A thin line."""
    thick = max(1, round(width))
    _blend(
        canvas,
        points,
        thick,
        colour,
        min(1.0, width),
        lambda mask, at: cv2.polylines(mask, [at], False, 255, thick, cv2.LINE_AA, shift=4),
    )


def kite(canvas: Canvas, rng: Rng, cx: float, cy: float, size: float, soft: float = 0.0) -> None:
    """A diamond kite of four sails, lit from the upper left, with a tail and a line."""
    turn = rng.uniform(-0.5, 0.5)
    first, second = rng.choice(len(SAILS), 2, replace=False)

    def at(x: float, y: float) -> list[float]:
        return [cx + size * (x * np.cos(turn) - y * np.sin(turn)), cy + size * (x * np.sin(turn) + y * np.cos(turn))]

    middle, top, right, foot, left = at(0, -0.15), at(0, -0.7), at(0.5, -0.15), at(0, 0.75), at(-0.5, -0.15)
    end = np.array([cx + rng.uniform(0.1, 0.9) * size * 4, canvas.shape[0] * 1.05])
    bend = np.linspace(0, 1, 24)[:, None]
    sag = np.array(middle) * (1 - bend) + end * bend + np.concatenate([bend * 0, bend * (1 - bend) * size], axis=1)
    thread(canvas, sag, (0.25, 0.25, 0.27), 0.6)
    for points, colour, light in (
        ((top, middle, left), SAILS[first], 1.12), ((top, right, middle), SAILS[second], 0.96),
        ((left, middle, foot), SAILS[second], 1.02), ((middle, right, foot), SAILS[first], 0.82),
    ):  # fmt: skip
        lay(canvas, np.array(points), tuple(min(1.0, c * light) for c in colour), soft=soft)
    thread(canvas, np.array([top, middle, foot]), (0.2, 0.15, 0.1), max(1.0, size / 90))
    thread(canvas, np.array([left, middle, right]), (0.2, 0.15, 0.1), max(1.0, size / 90))
    t = np.linspace(0, 1, 40)
    tail = np.stack(
        [foot[0] + size * 0.25 * np.sin(t * 9 + turn) * t - turn * size * t, foot[1] + size * 1.3 * t], axis=-1
    )
    thread(canvas, tail, SAILS[first], max(1.0, size / 60))
    for k in range(6, 40, 7):
        lay(
            canvas,
            ellipse(tail[k, 0], tail[k, 1], size * 0.06, size * 0.028, k),
            SAILS[(first + k) % len(SAILS)],
            soft=soft,
        )


def sky(rng: Rng, h: int, w: int, horizon: int) -> Canvas:
    """A day sky with clouds, thicker towards the top."""
    hour = rng.uniform(0, 1)
    top = (0.20 + 0.1 * hour, 0.42 + 0.06 * hour, 0.72 - 0.1 * hour)
    low = (0.72 + 0.22 * hour, 0.82 - 0.02 * hour, 0.90 - 0.18 * hour)
    canvas = ramp(h, w, top, low)
    cover = clouds(rng, h, w)
    fade = np.linspace(1, 0.35, h, dtype=np.float32)[:, None]
    veil = (np.clip((cover - 0.52) * 2.4, 0, 1) * fade * 0.85)[..., None]
    above = np.pad(cover, ((9, 0), (0, 0)), mode="edge")[:h]
    shade = (0.82 + 0.18 * above)[..., None]
    return np.asarray(canvas + (np.array((0.97, 0.96, 0.95), np.float32) * shade - canvas) * veil, np.float32)


def shore(rng: Rng, h: int, w: int, horizon: int) -> Canvas:
    """Sky, sea and sand."""
    canvas = sky(rng, h, w, horizon)
    sea_end = min(h - 2, horizon + round((h - horizon) * rng.uniform(0.3, 0.5)))
    sea = ramp(sea_end - horizon, w, (0.30, 0.48, 0.58), (0.42, 0.60, 0.62))
    rows = np.linspace(0.2, 1, sea_end - horizon, dtype=np.float32)[:, None]
    swell = clouds(rng, sea_end - horizon, w, 14, 4)
    sea += ((np.clip(swell - 0.72, 0, 1) * 2.2 * rows)[..., None] * np.array((1, 1, 1), np.float32)) * 0.5
    canvas[horizon:sea_end] = sea
    sand = ramp(h - sea_end, w, (0.62, 0.55, 0.45), (0.84, 0.75, 0.60))
    sand *= (0.92 + 0.12 * clouds(rng, h - sea_end, w, 8, 6))[..., None]
    canvas[sea_end:] = sand
    x = np.arange(0, w + 8, 8)
    edge = sea_end + np.cumsum(rng.normal(0, 1.1, len(x)))
    foam = np.concatenate([np.stack([x, edge - 4], -1), np.stack([x, edge + 5 + rng.random(len(x)) * 5], -1)[::-1]])
    lay(canvas, foam, (0.96, 0.97, 0.97), 0.85, 1.5)
    return canvas


def people(canvas: Canvas, rng: Rng, line: float, size: float, count: int) -> None:
    """Far figures on the sand, each with a shadow."""
    w = canvas.shape[1]
    for _ in range(count):
        x, s = rng.uniform(0.04, 0.96) * w, size * rng.uniform(0.8, 1.2)
        y = line + s * rng.uniform(0, 1.6)
        coat = SAILS[rng.integers(len(SAILS))]
        dim = tuple(c * 0.75 for c in coat)
        lay(canvas, ellipse(x + s * 0.5, y + s * 0.03, s * 0.6, s * 0.06), (0.3, 0.27, 0.24), 0.4, s / 20)
        lay(
            canvas,
            np.array([[x - s * 0.1, y], [x - s * 0.04, y - s * 0.5], [x + s * 0.08, y - s * 0.5], [x + s * 0.1, y]]),
            (0.17, 0.19, 0.25),
        )
        lay(
            canvas,
            np.array(
                [
                    [x - s * 0.14, y - s * 0.42],
                    [x - s * 0.1, y - s * 0.8],
                    [x + s * 0.1, y - s * 0.8],
                    [x + s * 0.14, y - s * 0.42],
                ]
            ),
            dim,
        )
        lay(canvas, ellipse(x, y - s * 0.9, s * 0.085, s * 0.105), SKIN[rng.integers(len(SKIN))])


def beach(rng: Rng, h: int, w: int) -> Canvas:
    """The festival field: many kites above the shore."""
    horizon = round(h * rng.uniform(0.58, 0.7))
    canvas = shore(rng, h, w, horizon)
    canvas = cv2.GaussianBlur(canvas, (0, 0), 0.8).astype(np.float32)
    for _ in range(rng.integers(5, 10)):
        kite(canvas, rng, rng.uniform(0.08, 0.92) * w, rng.uniform(0.08, 0.5) * h, min(h, w) * rng.uniform(0.04, 0.12))
    people(canvas, rng, horizon + (h - horizon) * 0.5, h * 0.07, int(rng.integers(6, 14)))
    return canvas


def close_kite(rng: Rng, h: int, w: int) -> Canvas:
    """One kite, large, against the sky."""
    canvas = sky(rng, h, w, h)
    canvas = cv2.GaussianBlur(canvas, (0, 0), 3).astype(np.float32)
    for _ in range(2):
        kite(canvas, rng, rng.uniform(0.1, 0.9) * w, rng.uniform(0.6, 0.9) * h, min(h, w) * 0.07, soft=2.0)
    kite(canvas, rng, w * rng.uniform(0.4, 0.6), h * rng.uniform(0.36, 0.46), min(h, w) * rng.uniform(0.42, 0.56))
    return canvas


def dunes(rng: Rng, h: int, w: int) -> Canvas:
    """Dunes with marram grass, a kite far off."""
    canvas = sky(rng, h, w, h)
    kite(canvas, rng, w * rng.uniform(0.2, 0.8), h * 0.2, min(h, w) * 0.08)
    x = np.linspace(0, w, 120)
    for depth in range(4):
        level = h * (0.5 + 0.13 * depth)
        line = (
            level
            + h * 0.06 * np.sin(x / w * rng.uniform(3, 7) + rng.uniform(0, 6))
            + h * 0.02 * np.sin(x / w * 17 + depth)
        )
        light = 0.62 + 0.1 * depth
        ridge = np.concatenate([np.stack([x, line], -1), [[w, h], [0, h]]])
        lay(canvas, ridge, (light * 1.05, light * 0.93, light * 0.72), soft=0.8)
        lay(canvas, ridge + np.array((w * 0.03, h * 0.045)), (light * 0.9, light * 0.78, light * 0.6), 0.5, 6)
        for _ in range(50 * depth):
            k = int(rng.integers(len(x)))
            foot = np.array([x[k] + rng.normal(0, 4), line[k] + rng.uniform(0, h * 0.1)])
            blade = h * 0.03 * (depth + 1) * rng.uniform(0.5, 1)
            lean = rng.uniform(0.2, 0.7)
            t = np.linspace(0, 1, 6)[:, None]
            green = (0.38 + rng.uniform(-0.05, 0.1), 0.43, 0.22)
            thread(canvas, foot + np.concatenate([lean * blade * t**2, -blade * t], axis=1), green, 1 + depth * 0.4)
    return canvas


def workshop(rng: Rng, h: int, w: int) -> Canvas:
    """A maker's table: cloth, spars, reels, seen from above in window light."""
    canvas = ramp(h, w, (0.55, 0.42, 0.30), (0.42, 0.31, 0.22))
    grain = clouds(rng, h, w, 2, 5)
    canvas *= (0.86 + 0.22 * np.sin(grain * 40 + np.linspace(0, 30, h, dtype=np.float32)[:, None]) ** 2)[..., None]
    for _ in range(5):
        cx, cy, size = rng.uniform(0.1, 0.9) * w, rng.uniform(0.1, 0.9) * h, min(h, w) * rng.uniform(0.2, 0.36)
        corner = rng.uniform(0, 6.3)
        sheet = np.array(
            [[cx + size * np.cos(corner + a), cy + size * 0.75 * np.sin(corner + a)] for a in (0, 1.4, 3.2, 4.6)]
        )
        lay(canvas, sheet + size * 0.06, (0.1, 0.08, 0.06), 0.5, size * 0.05)
        colour = SAILS[rng.integers(len(SAILS))]
        lay(canvas, sheet, colour)
        lay(canvas, (sheet + sheet.mean(0)) / 2 + size * 0.1, tuple(c * 0.85 for c in colour), 0.6, size * 0.12)
    for _ in range(6):
        start, angle = rng.uniform(0, 1, 2) * (w, h), rng.uniform(0, 3.1)
        end = start + min(h, w) * 0.7 * np.array([np.cos(angle), np.sin(angle)])
        thread(canvas, np.array([start, end]) + 4, (0.15, 0.1, 0.07), 4)
        thread(canvas, np.array([start, end]), (0.80, 0.64, 0.42), 5)
    for _ in range(3):
        cx, cy, r = rng.uniform(0.1, 0.9) * w, rng.uniform(0.1, 0.9) * h, min(h, w) * 0.07
        lay(canvas, ellipse(cx + r * 0.3, cy + r * 0.3, r, r), (0.08, 0.06, 0.05), 0.5, r * 0.2)
        lay(canvas, ellipse(cx, cy, r, r), (0.85, 0.84, 0.80))
        for k in range(8):
            thread(canvas, ellipse(cx, cy, r * (0.9 - 0.07 * k), r * (0.9 - 0.07 * k)), SAILS[k % 5], 1.5)
        lay(canvas, ellipse(cx, cy, r * 0.3, r * 0.3), (0.3, 0.22, 0.16))
    light = np.linspace(1.25, 0.7, w, dtype=np.float32)[None, :, None]
    return canvas * light


def face(canvas: Canvas, rng: Rng, cx: float, cy: float, r: float) -> None:
    """A head and shoulders; ``r`` is half the face's width. Lit from the upper left."""
    skin = np.array(SKIN[rng.integers(len(SKIN))])
    dark, coat = tuple(skin * 0.72), SAILS[rng.integers(len(SAILS))]
    hair = [(0.16, 0.11, 0.08), (0.36, 0.22, 0.12), (0.62, 0.50, 0.34), (0.55, 0.54, 0.53)][rng.integers(4)]

    def at(x: float, y: float, rx: float, ry: float) -> NDArray[np.float64]:
        return ellipse(cx + x * r, cy + y * r, rx * r, ry * r)

    long_hair = rng.random() < 0.5
    if long_hair:
        lay(canvas, at(0, 0.3, 1.28, 1.9), hair, soft=r * 0.05)
    body = np.array(
        [[-2.9, 14], [-2.4, 2.7], [-1.2, 2.05], [-0.5, 1.85], [0.5, 1.85], [1.2, 2.05], [2.4, 2.7], [2.9, 14]]
    )
    lay(canvas, body * r + (cx, cy), tuple(c * 0.8 for c in coat), soft=r * 0.03)
    lay(canvas, (body * (0.5, 1) + (0.9, 0)) * r + (cx, cy), tuple(c * 0.6 for c in coat), 0.6, r * 0.3)
    lay(
        canvas,
        np.array([[-0.48, 0.7], [0.48, 0.7], [0.62, 2.15], [0, 2.4], [-0.62, 2.15]]) * r + (cx, cy),
        dark,
        soft=r * 0.04,
    )
    lay(canvas, at(0, -0.2, 1.1, 1.35), hair, soft=r * 0.03)
    for side in (-1, 1):
        lay(canvas, at(side * 1.0, 0.12, 0.16, 0.28), dark, soft=r * 0.02)
    lay(canvas, at(0, 0.1, 1.0, 1.32), tuple(skin), soft=r * 0.025)
    lay(canvas, at(0.5, 0.35, 0.5, 1.0), dark, 0.45, r * 0.28)
    lay(canvas, at(-0.35, -0.45, 0.5, 0.3), tuple(np.minimum(1, skin * 1.12)), 0.6, r * 0.2)
    lay(canvas, at(0, -1.02, 0.98, 0.5), hair, soft=r * 0.06)
    for side in (-1, 1):
        x = side * 0.4
        lay(canvas, at(x, -0.02, 0.3, 0.2), dark, 0.6, r * 0.08)
        lay(canvas, at(x, 0.0, 0.2, 0.1), (0.95, 0.94, 0.92), soft=r * 0.012)
        lay(canvas, at(x, 0.0, 0.095, 0.1), (0.20, 0.14, 0.10), soft=r * 0.01)
        lay(canvas, at(x, 0.0, 0.045, 0.05), (0.02, 0.02, 0.02))
        lay(canvas, at(x - 0.03, -0.035, 0.025, 0.025), (1, 1, 1))
        lay(canvas, at(x, -0.1, 0.22, 0.035), tuple(skin * 0.45), 0.9, r * 0.012)
        lay(canvas, at(x, -0.26, 0.27, 0.06), tuple(np.minimum(hair, skin * 0.5)), 0.95, r * 0.025)
        lay(canvas, at(side * 0.55, 0.5, 0.25, 0.2), (0.85, 0.45, 0.40), 0.16, r * 0.12)
    lay(canvas, at(0.07, 0.28, 0.13, 0.34), dark, 0.5, r * 0.07)
    lay(canvas, at(-0.03, 0.46, 0.12, 0.09), tuple(np.minimum(1, skin * 1.08)), 0.8, r * 0.04)
    for side in (-1, 1):
        lay(canvas, at(side * 0.1, 0.54, 0.05, 0.03), tuple(skin * 0.4), 0.9, r * 0.015)
    lay(canvas, at(0, 0.82, 0.36, 0.10), (0.66, 0.30, 0.28), soft=r * 0.02)
    lay(canvas, at(0, 0.80, 0.3, 0.035), (0.93, 0.90, 0.87), 0.9, r * 0.01)
    lay(canvas, at(0, 1.0, 0.25, 0.05), dark, 0.5, r * 0.05)


def bokeh(rng: Rng, h: int, w: int) -> Canvas:
    """A far background out of focus."""
    canvas = shore(rng, h, w, round(h * 0.5))
    for _ in range(5):
        kite(canvas, rng, rng.uniform(0, 1) * w, rng.uniform(0, 0.5) * h, min(h, w) * 0.1)
    return cv2.GaussianBlur(canvas, (0, 0), max(h, w) / 60).astype(np.float32)


def maker(rng: Rng, h: int, w: int) -> Canvas:
    """A portrait of a kite maker."""
    canvas = bokeh(rng, h, w)
    r = min(h, w) * rng.uniform(0.13, 0.19)
    face(canvas, rng, w * rng.uniform(0.36, 0.64), h * (0.36 if h > w else 0.42), r)
    return canvas


def makers(rng: Rng, h: int, w: int) -> Canvas:
    """Two or three makers side by side."""
    canvas = bokeh(rng, h, w)
    count = int(rng.integers(2, 4))
    for k in range(count):
        r = min(h, w) * 0.105
        face(canvas, rng, w * (k + 1) / (count + 1) + rng.normal(0, 6), h * rng.uniform(0.4, 0.5), r)
    return canvas


def lanterns(rng: Rng, h: int, w: int) -> Canvas:
    """Night flying: lit kites over a dark shore, their light on the wet sand."""
    canvas = ramp(h, w, (0.015, 0.02, 0.06), (0.07, 0.06, 0.11))
    horizon = round(h * 0.72)
    canvas[horizon:] *= 0.55
    glow = np.zeros_like(canvas)
    for _ in range(int(rng.integers(7, 16))):
        cx, cy = rng.uniform(0.05, 0.95) * w, rng.uniform(0.08, 0.62) * h
        size = min(h, w) * rng.uniform(0.02, 0.07)
        warm = np.array((1.0, rng.uniform(0.5, 0.8), rng.uniform(0.2, 0.4)))
        for radius, strength in ((5, 0.06), (2.2, 0.16), (1.0, 0.9)):
            spot = np.zeros_like(canvas)
            lay(
                spot,
                ellipse(cx, cy, size * radius * 0.8, size * radius),
                tuple(warm * strength),
                1.0,
                size * radius * 0.35,
            )
            glow += spot
        lay(glow, ellipse(cx, cy, size * 0.45, size * 0.6), (1.0, 0.95, 0.8), 1.0, size * 0.1)
        streak = np.zeros_like(canvas)
        mirrored = ellipse(cx, 2 * horizon - cy * 0.9, size * 0.7, size * 2.2)
        lay(streak, mirrored, tuple(warm * 0.35), 1.0, size * 0.8)
        streak[:horizon] = 0
        glow += streak
    canvas = canvas + glow
    for x in rng.uniform(0.05, 0.95, 7) * w:
        s = h * 0.09
        lay(
            canvas,
            np.array(
                [
                    [x - s * 0.1, horizon + s],
                    [x - s * 0.12, horizon],
                    [x + s * 0.12, horizon],
                    [x + s * 0.1, horizon + s],
                ]
            ),
            (0.01, 0.01, 0.02),
            soft=1,
        )
        lay(canvas, ellipse(x, horizon - s * 0.1, s * 0.1, s * 0.12), (0.01, 0.01, 0.02), soft=1)
    return canvas


SCENES: dict[str, Callable[[Rng, int, int], Canvas]] = {
    "beach": beach, "kite": close_kite, "dunes": dunes, "workshop": workshop, "maker": maker, "makers": makers,
    "lanterns": lanterns,
}  # fmt: skip


def picture(scene: str, seed: int, width: int, height: int, worked: bool = False) -> NDArray[np.uint8]:
    """A photograph of a scene, RGB. ``worked``: as if already worked on: more contrast and colour, no grain."""
    rng = np.random.default_rng([seed, *scene.encode()])
    k = DRAWN / max(width, height)
    w, h = max(64, round(width * k)), max(64, round(height * k))
    canvas = SCENES[scene](rng, h, w)
    y, x = np.mgrid[-1 : 1 : h * 1j, -1 : 1 : w * 1j].astype(np.float32)
    canvas = canvas * (1 - 0.14 * (x * x + y * y))[..., None]
    if worked:
        grey = canvas.mean(-1, keepdims=True)
        canvas = np.clip((grey + (canvas - grey) * 1.35 - 0.5) * 1.2 + 0.5, 0, 1)
    small = np.clip(canvas * 255, 0, 255).astype(np.uint8)
    large = cv2.resize(small, (width, height), interpolation=cv2.INTER_CUBIC)
    if not worked:
        tile = rng.normal(0, 3.2 if scene != "lanterns" else 5.0, (512, 512, 1)).astype(np.float32)
        tile = np.repeat(cv2.GaussianBlur(tile, (0, 0), 0.7)[..., None] * 1.6, 3, axis=2)
        noise = np.rint(tile).astype(np.int8)
        for top in range(0, height, 512):
            for left in range(0, width, 512):
                part = large[top : top + 512, left : left + 512]
                grain = noise[: part.shape[0], : part.shape[1]]
                part[:] = np.clip(part.astype(np.int16) + grain, 0, 255)
    return np.asarray(large, np.uint8)
