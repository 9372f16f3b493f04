"""Tone and colour steps on sRGB of 8 or 16 bits. Steps that treat each channel by itself are joined into one table; from one step
to the next values are finer than 16 bits, and are rounded once, when all are done.

Exposure and white balance work on light (the sRGB transfer function of IEC 61966-2-1); levels, contrast and HSL on the
values themselves, as people know them.
"""

import cv2
import numpy as np
import scipy
from numpy.typing import NDArray

from ..depths import Values, white
from ..document import (
    BlackAndWhite,
    ColourStep,
    Contrast,
    Curves,
    Enhance,
    Exposure,
    Found,
    Levels,
    Recipe,
    Step,
    WhiteBalance,
)
from ..remembering import remember

Floats = NDArray[np.float64]

_STRIP = 1_000_000  # px in floats at a time
_FINE = 1 << 16  # steps between which values are told apart that one step hands to the next
_AS_IT_IS = np.tile(np.arange(256) / 255, (3, 1))
# A photo is never stretched further than this by itself: fog and night are not errors.
_DARKEST, _LIGHTEST = 60.0, 185.0


def light(value: Floats) -> Floats:
    """sRGB values 0 to 1 as linear light."""
    return np.where(value <= 0.04045, value / 12.92, ((value + 0.055) / 1.055) ** 2.4)


def value(light_: Floats) -> Floats:
    """Linear light as sRGB values 0 to 1."""
    return np.where(light_ <= 0.0031308, light_ * 12.92, 1.055 * np.maximum(light_, 1e-12) ** (1 / 2.4) - 0.055)


def _levels(x: Floats, black: float, white: float, gamma: float) -> Floats:
    return np.clip((x - black / 255) / ((white - black) / 255), 0.0, 1.0) ** (1 / gamma)


def _interpolate_curve(points: tuple[tuple[float, float], ...], x: Floats) -> Floats:
    """Values carried along a monotone cubic through points (F. N. Fritsch and J. Butland, SIAM J. Sci. Stat. Comput. 5, 1984)."""
    inputs, to = (np.array(side) / 255 for side in zip(*points, strict=True))
    return np.clip(scipy.interpolate.PchipInterpolator(inputs, to)(np.clip(x, inputs[0], inputs[-1])), 0.0, 1.0)


def _contrast(x: Floats, amount: float) -> Floats:
    k = amount / 100 * (1.5 if amount > 0 else 0.6)
    t = 2 * x - 1
    return (t * (1 + k) / (1 + k * np.abs(t)) + 1) / 2


def gains(step: WhiteBalance) -> Floats:
    """Factors of light for red, green, blue; grey keeps its luminance (Rec. 709 weights)."""
    warm, tint = step.warmth / 100 * 0.5, step.tint / 100 * 0.5
    gains = np.exp2([warm + tint / 2, -tint / 2, -warm + tint / 2])
    return gains / float(gains @ (0.2126, 0.7152, 0.0722))


def _curve(step: Step, x: Floats, facts: Found) -> Floats | None:
    """A step on values 0 to 1, shape (3, 256), when it treats each channel by itself; None when it does not."""
    match step:
        case Levels():
            ends = (step.red, step.green, step.blue)
            each = [_levels(x[n], e.black, e.white, e.gamma) if e else x[n] for n, e in enumerate(ends)]
            return _levels(np.stack(each), step.black, step.white, step.gamma)
        case Curves():
            curves_made = np.stack(
                [_interpolate_curve(points, x[n]) for n, points in enumerate((step.red, step.green, step.blue))]
            )
            return np.stack([_interpolate_curve(step.all, channel) for channel in curves_made])
        case Exposure():
            return value(np.minimum(light(x) * 2**step.stops, 1.0))
        case Contrast():
            return _contrast(x, step.amount)
        case WhiteBalance():
            return value(np.minimum(light(x) * gains(step)[:, None], 1.0))
        case Enhance():
            black, white = min(facts.black, _DARKEST), max(facts.white, _LIGHTEST)
            share = step.amount / 100
            return (1 - share) * x + share * _levels(x, black, white, 1.0)
    return None


@remember
def curves(recipe: Recipe, facts: Found, values: int = 256) -> tuple[Floats | Step, ...]:
    """The recipe's steps that are on, those that treat channels by themselves joined into tables of 0 to 1: the first, that is
    asked by a photo's own ``values``, (3, 256) or (3, 65536), others (3, 65536)."""
    joined: list[Floats | Step] = []
    for step in recipe.steps or ():
        if not step.on:
            continue
        last = joined[-1] if joined else None
        entries = _FINE if joined else values
        before = last if isinstance(last, np.ndarray) else np.tile(np.linspace(0, 1, entries), (3, 1))
        after = _curve(step, before, facts)
        if after is None:
            joined.append(step)
        elif isinstance(last, np.ndarray):
            joined[-1] = after
        else:
            joined.append(after)
    return tuple(joined)


def apply_recipe(pixels: Values, recipe: Recipe | None, facts: Found | None) -> Values:
    """Pixels (h, w, 3) after a recipe. ``found``: what the machine knows of the photo, for enhancing."""
    steps = curves(recipe, facts or Found(), white(pixels) + 1) if recipe else ()
    if not steps:
        return pixels
    if len(steps) == 1 and isinstance(steps[0], np.ndarray) and pixels.dtype == np.uint8:
        return cv2.LUT(pixels, np.rint(steps[0].T[None] * 255).astype(np.uint8)).astype(np.uint8, copy=False)
    out = np.empty_like(pixels)
    rows = max(1, _STRIP // max(1, pixels.shape[1]))
    for top in range(0, len(pixels), rows):
        out[top : top + rows] = _apply_steps(pixels[top : top + rows], steps)
    return out


def _apply_steps(part: Values, steps: tuple[Floats | Step, ...]) -> Values:
    """Pixels after one step and another, rounded once, at the end."""
    top = np.float32(white(part))
    if part.dtype == np.uint8:
        first, steps = (steps[0], steps[1:]) if isinstance(steps[0], np.ndarray) else (_AS_IT_IS, steps)
        values = cv2.LUT(part, first.T[None].astype(np.float32)).astype(np.float32, copy=False)
    else:
        values = part.astype(np.float32) / top
    for step in steps:
        if isinstance(step, np.ndarray):
            indices = np.rint(values * np.float32(_FINE - 1)).astype(np.uint16)
            values = np.stack([channel[indices[..., n]] for n, channel in enumerate(step.astype(np.float32))], axis=-1)
        else:
            values = np.clip(_grey(values, step) if isinstance(step, BlackAndWhite) else _hsl(values, step), 0, 1)
    return np.rint(values * top).astype(part.dtype)


def _grey(part: NDArray[np.float32], step: BlackAndWhite) -> NDArray[np.float32]:
    shares = np.array([step.red, step.green, step.blue], np.float32)
    grey = part @ (shares / shares.sum())
    return np.repeat(grey[..., None], 3, axis=-1)


def _hsl(part: NDArray[np.float32], step: Step) -> NDArray[np.float32]:
    """Through HSL (CSS Color 4, section 7; the same formulas as OpenCV's HLS)."""
    assert isinstance(step, ColourStep)
    hls = cv2.cvtColor(part, cv2.COLOR_RGB2HLS)
    hls[..., 0] = (hls[..., 0] + step.hue_deg) % 360
    up = step.lightness / 100
    hls[..., 1] = hls[..., 1] + (1 - hls[..., 1]) * up if up >= 0 else hls[..., 1] * (1 + up)
    hls[..., 2] = np.minimum(hls[..., 2] * (1 + step.saturation / 100), 1.0)
    return cv2.cvtColor(hls, cv2.COLOR_HLS2RGB).astype(np.float32, copy=False)
