"""Drawing on a canvas in light: noise, ramps, shapes laid softly, threads."""

from collections.abc import Callable

import cv2
import numpy as np
from numpy.typing import NDArray

Canvas = NDArray[np.float32]  # 0 to 1, (h, w, 3)
Rng = np.random.Generator

SAILS = [
    (0.86, 0.27, 0.16),
    (0.95, 0.71, 0.13),
    (0.10, 0.44, 0.62),
    (0.17, 0.55, 0.42),
    (0.60, 0.18, 0.42),
    (0.93, 0.90, 0.84),
]


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
        lambda mask, points: cv2.fillPoly(mask, [points], 255, cv2.LINE_AA, shift=4),
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
        lambda mask, points: cv2.polylines(mask, [points], False, 255, thick, cv2.LINE_AA, shift=4),
    )
