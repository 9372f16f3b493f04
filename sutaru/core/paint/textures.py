"""Textures as pixels: how strong the second colour is at each pixel of a box, by a pattern that is a function of the place.

Paper, linen, wood and sand are read from a periodic tile that is made once of seeded noise filtered by its own period (so
that it has no seam); dots and stripes are worked out exactly. Lengths are px; the origin is given by the caller.
"""

import math

import cv2
import numpy as np
from numpy.typing import NDArray

from ..document import Texture
from ..remembering import remember
from .grid import Box

Floats = NDArray[np.float32]
_SIDE = 1024  # px of a tile
_ACROSS = {"paper": 160, "linen": 64, "wood": 20, "sand": 320}  # grains, threads, rings that a tile is wide
_ROWS = 256


def strength(texture: Texture, origin: tuple[float, float], px_per_mm: float, box: Box) -> Floats:
    """The share of the second colour, 0 to 1, at each pixel of ``box``, shape (h, w)."""
    strengths = np.empty((box[3] - box[1], box[2] - box[0]), np.float32)
    turn = math.radians(texture.turn_deg)
    cos, sin = math.cos(turn), math.sin(turn)
    x = np.arange(box[0], box[2]) + 0.5 - origin[0]
    for top in range(box[1], box[3], _ROWS):
        rows = np.s_[top - box[1] : min(top + _ROWS, box[3]) - box[1]]
        y = np.arange(top, min(top + _ROWS, box[3])) + 0.5 - origin[1]
        # Counter-clockwise as seen, y down: the pattern's own axes, in the pattern's own unit.
        unit = texture.scale_mm * px_per_mm
        u = (x[None, :] * cos - y[:, None] * sin) / unit
        v = (x[None, :] * sin + y[:, None] * cos) / unit
        if texture.kind == "stripes":
            strengths[rows] = _stripes(u, (abs(cos) + abs(sin)) / unit)
        elif texture.kind == "dots":
            strengths[rows] = _dots(u, v, unit)
        else:
            strengths[rows] = _weave(texture, u, v, unit)
    return strengths * np.float32(texture.strength)


def _stripes(u: NDArray[np.float64], wide: float) -> Floats:
    """Exact mean over a pixel ``wide`` periods across of stripes that are half a period wide."""

    def integral_at(place: NDArray[np.float64]) -> NDArray[np.float64]:
        whole = np.floor(place)
        return 0.5 * whole + np.minimum(place - whole, 0.5)

    return np.asarray((integral_at(u + wide / 2) - integral_at(u - wide / 2)) / wide, np.float32)


_RADIUS = 0.28  # of a dot, in periods


def _dots(u: NDArray[np.float64], v: NDArray[np.float64], unit: float) -> Floats:
    """Dots in rows, each row shifted by half a period; once they are too fine to be seen, their mean."""
    if unit < 3:
        return np.full(u.shape, math.pi * _RADIUS**2, np.float32)
    row = np.floor(v)
    u = u + 0.5 * (row % 2)
    away = np.hypot(u - np.floor(u) - 0.5, v - row - 0.5)
    return np.asarray(np.clip((_RADIUS - away) * unit + 0.5, 0.0, 1.0), np.float32)


def _weave(texture: Texture, u: NDArray[np.float64], v: NDArray[np.float64], unit: float) -> Floats:
    across = _ACROSS[texture.kind]
    level = max(0, math.ceil(math.log2(max(_SIDE / across / unit, 1e-9)) - 0.25))
    tile = _levels(texture.kind, texture.seed)[min(level, 9)]
    side = tile.shape[0] - 2  # a border repeats the other side, so that every place lies between four values
    indices = [np.asarray((w / across % 1.0) * side + 0.5, np.float32) for w in (u, v)]
    return np.asarray(cv2.remap(tile, indices[0], indices[1], cv2.INTER_LINEAR), np.float32)


@remember
def _levels(kind: str, seed: int) -> tuple[Floats, ...]:
    """A tile, and the same ever half as large, each with a border of one pixel from its other side."""
    tile, tiles = _tile(kind, np.random.default_rng([seed, sorted(_ACROSS).index(kind)])), []
    for _ in range(10):
        tiles.append(np.pad(tile, 1, mode="wrap").astype(np.float32))
        tile = tile.reshape(tile.shape[0] // 2, 2, -1, 2).mean(axis=(1, 3))
    return tuple(tiles)


def _noise(rng: np.random.Generator, coarse_x: float, coarse_y: float) -> NDArray[np.float64]:
    """Periodic noise with features so many px wide and high: mean 0, deviation 1."""
    fx, fy = np.fft.fftfreq(_SIDE)[None, :], np.fft.fftfreq(_SIDE)[:, None]
    soft = np.exp(-0.5 * ((fx * coarse_x * 2.5) ** 2 + (fy * coarse_y * 2.5) ** 2))
    noise = np.fft.ifft2(np.fft.fft2(rng.standard_normal((_SIDE, _SIDE))) * soft).real
    noise -= noise.mean()
    return np.asarray(noise / noise.std())


def _equalise(values: NDArray[np.float64]) -> NDArray[np.float64]:
    """Values of mean 0 and deviation 1 as shares."""
    return np.clip(0.5 + values / 5, 0, 1)


def _tile(kind: str, rng: np.random.Generator) -> NDArray[np.float64]:
    rows, columns = np.mgrid[0:_SIDE, 0:_SIDE] / _SIDE
    if kind == "paper":  # felt: lumps of several sizes
        return _equalise(0.8 * _noise(rng, 6, 6) + 0.5 * _noise(rng, 22, 22) + 0.35 * _noise(rng, 1.5, 1.5))
    if kind == "sand":  # grains, light and dark ones standing out
        grains = _noise(rng, 2.2, 2.2)
        return _equalise(1.1 * grains + 0.5 * _noise(rng, 40, 40) + 1.2 * np.sign(grains) * (abs(grains) > 1.9))
    if kind == "linen":  # threads over and under each other, none as thick as the next
        threads = _ACROSS["linen"]
        along, down = columns * threads, rows * threads
        thick = [0.35 * np.repeat(rng.standard_normal(threads), _SIDE // threads) for _ in range(2)]
        over = (np.floor(along) + np.floor(down)) % 2 == 0
        warp = np.abs(np.sin(np.pi * along)) ** 0.7 + thick[0][None, :] * 0.5
        weft = np.abs(np.sin(np.pi * down)) ** 0.7 + thick[1][:, None] * 0.5
        seen = np.where(
            over, warp * (0.75 + 0.25 * np.sin(np.pi * (down % 1))), weft * (0.75 + 0.25 * np.sin(np.pi * (along % 1)))
        )
        return np.clip(0.85 - 0.75 * seen + 0.06 * _noise(rng, 24, 3) + 0.06 * _noise(rng, 3, 24), 0, 1)
    # Wood: rings that run along and waver, dark fibres between them. Whole rings to a tile, so that it closes.
    rings = _ACROSS["wood"] // 2
    bent = 0.55 * _noise(rng, 260, 60) + 0.10 * _noise(rng, 120, 8)
    ring = (rows * rings + bent) % 1.0
    late = np.clip(ring, 0, 1) ** 2.2 * np.clip((1 - ring) * 14, 0, 1)
    fibres = np.clip(_noise(rng, 60, 1.2) - 0.9, 0, None)
    return np.clip(0.75 * late + 0.22 * fibres + 0.05 * _noise(rng, 90, 3) + 0.08, 0, 1)
