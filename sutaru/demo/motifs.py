"""What the scenes are made of: skies, shores, kites, people far off, faces, lights out of focus."""

import cv2
import numpy as np
from numpy.typing import NDArray

from .drawing import SAILS, Canvas, Rng, clouds, ellipse, lay, ramp, thread
from .people import COATS, HAIR, SKIN, head_and_shoulders, paint, paint_standing


def kite(canvas: Canvas, rng: Rng, cx: float, cy: float, size: float, soft: float = 0.0) -> None:
    """A diamond kite of four sails, lit from the upper left, with a tail and a line."""
    turn = rng.uniform(-0.5, 0.5)
    first, second = rng.choice(len(SAILS), 2, replace=False)

    def point_at(x: float, y: float) -> list[float]:
        return [cx + size * (x * np.cos(turn) - y * np.sin(turn)), cy + size * (x * np.sin(turn) + y * np.cos(turn))]

    middle, top, right, foot, left = (
        point_at(0, -0.15),
        point_at(0, -0.7),
        point_at(0.5, -0.15),
        point_at(0, 0.75),
        point_at(-0.5, -0.15),
    )
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
    """Figures on the sand at some distance, the farther ones first, most of them looking up and away."""
    w = canvas.shape[1]
    places = sorted((line + size * rng.uniform(0.1, 1.5), rng.uniform(0.03, 0.97) * w) for _ in range(count))
    for y, x in places:
        near = 1 + 0.5 * (y - line) / max(1.0, size * 1.6)
        child = rng.random() < 0.25
        running = rng.random() < (0.6 if child else 0.1)
        pull = rng.uniform(0.2, 1.2) if rng.random() < 0.4 else None
        away = float(rng.choice([1.0, 1.0, 0.7, 0.2]))
        stride = rng.uniform(0.4, 0.8) if running else 0.0
        figure = paint_standing(rng, 5.4 if child else 7.5, 0.15 if running else away, pull, stride)
        paint(canvas, rng, figure, (x, y), size * near / 7.5, SUN, haze=0.16, soft=0.6)


SUN = (-0.6, -0.65, 0.45)
BEHIND = (0.5, -0.45, -0.75)  # low, and in the picture


def face(canvas: Canvas, rng: Rng, cx: float, cy: float, r: float) -> None:
    """A head and shoulders; ``r`` is half the face's width. Lit from the upper left."""
    skin = SKIN[rng.integers(len(SKIN))]
    hair = HAIR[rng.integers(len(HAIR)) if skin[0] > 0.6 else rng.integers(2)]
    coat = COATS[rng.integers(len(COATS))]
    paint(
        canvas,
        rng,
        head_and_shoulders(rng, skin, hair, coat),
        (cx, cy),
        r,
        (-0.55, -0.45, 0.75),
        soft=r * 0.012,
        shadow=0,
        smooth_by=0.075,
    )

    def ellipse_at(x: float, y: float, rx: float, ry: float) -> NDArray[np.float64]:
        return ellipse(cx + x * r, cy + y * r, rx * r, ry * r)

    tone = np.array(skin)
    smile = rng.uniform(0.02, 0.09)
    for side in (-1, 1):
        x = side * 0.38
        lay(canvas, ellipse_at(x, -0.05, 0.25, 0.14), tuple(tone * 0.55), 0.40, r * 0.07)
        lay(canvas, ellipse_at(x, 0.0, 0.150, 0.056), tuple(0.35 * tone + 0.38), soft=r * 0.02)
        lay(canvas, ellipse_at(x, -0.008, 0.074, 0.070), (0.17, 0.12, 0.09), soft=r * 0.014)
        lay(canvas, ellipse_at(x, -0.008, 0.036, 0.036), (0.03, 0.03, 0.03), soft=r * 0.008)
        lay(canvas, ellipse_at(x - 0.026, -0.03, 0.015, 0.013), (0.9, 0.9, 0.9), soft=r * 0.004)
        lay(
            canvas, ellipse_at(x, -0.084, 0.19, 0.036), tuple(tone * 0.86), 0.9, r * 0.016
        )  # the upper lid, and its lashes
        lay(canvas, ellipse_at(x, -0.050, 0.165, 0.016), tuple(tone * 0.22), 0.85, r * 0.012)
        lay(canvas, ellipse_at(x, 0.066, 0.15, 0.014), tuple(tone * 0.55), 0.5, r * 0.018)
        lay(canvas, ellipse_at(x, 0.12, 0.17, 0.03), tuple(tone * 0.7), 0.35, r * 0.04)
        brow = ellipse(cx + x * r, cy - 0.235 * r, 0.21 * r, 0.034 * r, side * 0.10)
        lay(canvas, brow, tuple(np.minimum(hair, tone * 0.45)), 0.7, r * 0.025)
        lay(canvas, ellipse_at(side * 0.48, 0.36, 0.22, 0.17), (0.80, 0.36, 0.30), 0.12, r * 0.12)
        lay(canvas, ellipse_at(side * 0.080, 0.485, 0.040, 0.020), tuple(tone * 0.3), 0.7, r * 0.016)
        fold = ellipse(cx + side * 0.30 * r, cy + 0.60 * r, 0.03 * r, 0.16 * r, -side * 0.45)
        lay(canvas, fold, tuple(tone * 0.5), 0.20 + 1.5 * smile, r * 0.035)  # where a smile folds the cheek
    lips = tuple(np.minimum(1, tone * 0.62 + np.array((0.17, 0.05, 0.05))))
    across = np.linspace(-1, 1, 25)

    def mouth(top: float, low: float, wide: float) -> NDArray[np.float64]:
        """Between two bows whose corners are drawn up by the smile."""
        middle, half = (top + low) / 2 - smile * across**2, (low - top) / 2 * np.sqrt(1 - across**2)
        upper, lower = (np.stack([across * wide, middle + sign * half], axis=-1) for sign in (-1, 1))
        return np.concatenate([upper, lower[::-1]]) * r + (cx, cy)

    lay(canvas, mouth(0.70, 0.87, 0.27), lips, 0.75, r * 0.028)
    lay(canvas, mouth(0.80, 0.87, 0.19), tuple(np.minimum(1, np.array(lips) * 1.22)), 0.5, r * 0.03)
    lay(canvas, mouth(0.765, 0.785, 0.27), tuple(tone * 0.25), 0.8, r * 0.012)
    lay(canvas, ellipse_at(0, 0.94, 0.18, 0.04), tuple(tone * 0.5), 0.3, r * 0.05)
    if rng.random() < 0.2:  # glasses
        for side in (-1, 1):
            rim = ellipse_at(side * 0.38, 0.02, 0.27, 0.20)
            thread(canvas, np.concatenate([rim, rim[:1]]), (0.16, 0.12, 0.10), max(1.0, r * 0.022))
        thread(canvas, np.array([(cx - 0.11 * r, cy), (cx + 0.11 * r, cy)]), (0.16, 0.12, 0.10), max(1.0, r * 0.022))


def bokeh(rng: Rng, h: int, w: int) -> Canvas:
    """A far background out of focus."""
    canvas = shore(rng, h, w, round(h * 0.5))
    for _ in range(5):
        kite(canvas, rng, rng.uniform(0, 1) * w, rng.uniform(0, 0.5) * h, min(h, w) * 0.1)
    return cv2.GaussianBlur(canvas, (0, 0), max(h, w) / 60).astype(np.float32)
