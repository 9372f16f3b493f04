"""Blending and compositing by the formulas of W3C Compositing and Blending Level 1 (sections 9.1.4 and 10).

Colours here are arrays (..., 3) of a working space, not premultiplied, of 8 or 16 bits as what they are laid on is; coverage is
of 8 bits, or of 16 where it is soft and the page deep. Results are rounded to nearest.
"""

from collections.abc import Callable

import cv2
import numpy as np
from numpy.typing import NDArray

from ..depths import Values, white

Floats = NDArray[np.float32]


def _lum(c: Floats) -> Floats:
    return (c * np.array([0.3, 0.59, 0.11], np.float32)).sum(-1, keepdims=True, dtype=np.float32)


def _sat(c: Floats) -> Floats:
    return c.max(-1, keepdims=True) - c.min(-1, keepdims=True)


def _set_lum(c: Floats, lum: Floats) -> Floats:
    """SetLum with ClipColor, section 10.2."""
    c = c + (lum - _lum(c))
    mean, low, high = _lum(c), c.min(-1, keepdims=True), c.max(-1, keepdims=True)
    with np.errstate(divide="ignore", invalid="ignore"):
        c = np.where(low < 0, mean + (c - mean) * mean / (mean - low), c)
        return np.where(high > 1, mean + (c - mean) * (1 - mean) / (high - mean), c).astype(np.float32)


def _set_sat(c: Floats, sat: Floats) -> Floats:
    """SetSat, section 10.2: the least part to 0, the largest to ``sat``, the middle one in proportion."""
    low, span = c.min(-1, keepdims=True), _sat(c)
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(span > 0, (c - low) * sat / span, 0).astype(np.float32)


def _dodge(b: Floats, s: Floats) -> Floats:
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(b == 0, 0, np.where(s == 1, 1, np.minimum(1, b / (1 - s)))).astype(np.float32)


def _burn(b: Floats, s: Floats) -> Floats:
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(b == 1, 1, np.where(s == 0, 0, 1 - np.minimum(1, (1 - b) / s))).astype(np.float32)


def _hard_light(b: Floats, s: Floats) -> Floats:
    return np.where(s <= 0.5, b * 2 * s, b + (2 * s - 1) - b * (2 * s - 1)).astype(np.float32)


def _soft_light(b: Floats, s: Floats) -> Floats:
    d = np.where(b <= 0.25, ((16 * b - 12) * b + 4) * b, np.sqrt(b))
    return np.where(s <= 0.5, b - (1 - 2 * s) * b * (1 - b), b + (2 * s - 1) * (d - b)).astype(np.float32)


# B(Cb, Cs): backdrop, source, each 0 to 1.
MODES: dict[str, Callable[[Floats, Floats], Floats]] = {
    "normal": lambda b, s: s,
    "multiply": lambda b, s: b * s,
    "screen": lambda b, s: b + s - b * s,
    "overlay": lambda b, s: _hard_light(s, b),
    "darken": np.minimum,
    "lighten": np.maximum,
    "color-dodge": _dodge,
    "color-burn": _burn,
    "hard-light": _hard_light,
    "soft-light": _soft_light,
    "difference": lambda b, s: np.abs(b - s),
    "exclusion": lambda b, s: b + s - 2 * b * s,
    "hue": lambda b, s: _set_lum(_set_sat(s, _sat(b)), _lum(b)),
    "saturation": lambda b, s: _set_lum(_set_sat(b, _sat(s)), _lum(b)),
    "color": lambda b, s: _set_lum(s, _lum(b)),
    "luminosity": lambda b, s: _set_lum(b, _lum(s)),
}


def fill(area: Values, colour: Values) -> None:
    """Fills an area (h, w, 3) with one colour, in place. Along a row first: NumPy copies rows fast and triples slowly."""
    if len(area):
        area[0] = colour
        area[1:] = area[0]


def spread(colour: Values, size: tuple[int, int]) -> Values:
    """One colour over an area of (width, height)."""
    area = np.empty((size[1], size[0], 3), colour.dtype)
    fill(area, colour)
    return area


def composite(under: Values, under_alpha: Values | None, colour: Values, alpha: Values, mode: str = "normal") -> None:
    """Lays ``colour`` with coverage ``alpha`` over ``under``, in place.

    ``under`` (h, w, 3) and ``under_alpha`` (h, w) or None for an opaque backdrop are written; ``colour`` is (h, w, 3)
    or one colour (3,), as deep as ``under``; ``alpha`` (h, w). Where a normal layer is fully opaque its pixels are copied,
    exactly.
    """
    if mode == "normal" and under_alpha is None and under.dtype == alpha.dtype == np.uint8:
        weight = alpha.astype(np.float32)
        source = colour if colour.ndim == 3 else spread(colour, (under.shape[1], under.shape[0]))
        # In float32 exact to the last bit for every colour and coverage: no sum comes near a half.
        under[:] = cv2.blendLinear(source, np.ascontiguousarray(under), weight, 255 - weight)
        return
    if mode == "normal" and under_alpha is not None:
        full = np.where(alpha == white(alpha), np.uint8(255), np.uint8(0))
        if colour.ndim == 1:
            under[full.view(np.bool_)] = colour
        else:
            cv2.copyTo(colour, full, under)
        np.maximum(under_alpha, full, out=under_alpha)
        rows, columns = np.nonzero((alpha != 0) & (full == 0))
    else:
        rows, columns = np.nonzero(alpha)
    top, most = np.float32(white(under)), np.float32(white(alpha))
    # A million pixels at a time: the sums are done in float32 and must not outgrow the page.
    for start in range(0, len(rows), 1 << 20):
        places = rows[start : start + (1 << 20)], columns[start : start + (1 << 20)]
        part = (colour if colour.ndim == 1 else colour[places]).astype(np.float32) / top
        below = None if under_alpha is None else under_alpha[places].astype(np.float32)[:, None] / np.float32(255)
        share = alpha[places].astype(np.float32)[:, None] / most
        mixed, above = _mix(under[places].astype(np.float32) / top, below, part, share, MODES[mode])
        under[places] = np.rint(mixed * top).astype(under.dtype)
        if under_alpha is not None and above is not None:
            under_alpha[places] = np.rint(above[:, 0] * 255).astype(np.uint8)


def _mix(
    backdrop: Floats, a_b: Floats | None, source: Floats, a_s: Floats, blend: Callable[[Floats, Floats], Floats]
) -> tuple[Floats, Floats | None]:
    """Blend, then source-over, for a list of pixels: ``Cs' = (1 - ab) Cs + ab B(Cb, Cs)``; ``co = as Cs' + ab Cb (1 - as)``."""
    source = np.broadcast_to(source, backdrop.shape)
    if a_b is None:
        return a_s * blend(backdrop, source) + (1 - a_s) * backdrop, None
    mixed = a_s * ((1 - a_b) * source + a_b * blend(backdrop, source)) + a_b * backdrop * (1 - a_s)
    a_o = a_s + a_b * (1 - a_s)
    with np.errstate(divide="ignore", invalid="ignore"):
        straight = np.where(a_o > 0, mixed / a_o, 0)
    return np.clip(straight, 0, 1), a_o
