"""Sharpening for the print: an unsharp mask on the luminance of each photo at the size it prints, never on words or ornaments.

Ink spreads on paper by a length, not by a number of pixels: so the halo is a length, and a print at more ppi is sharpened over
more pixels. Matt paper takes more than glossy. Lengths and amounts: common practice, no source.
"""

import math
from dataclasses import dataclass

import cv2
import numpy as np

from ..depths import Values, white
from ..document.press import PaperSurface, Sharpening
from .grid import ROWS, TILE_WIDTH, Box, meet

_HALO_MM: dict[PaperSurface, float] = {"glossy": 0.08, "matt": 0.11}  # standard deviation of the mask's blur
_AMOUNT: dict[Sharpening, float] = {"none": 0.0, "low": 0.35, "standard": 0.7, "high": 1.1}
_MATT = 1.25
_LUMINANCE = np.array([[0.2126, 0.7152, 0.0722]], np.float32)  # ITU-R BT.709-6, item 3.2


@dataclass(frozen=True)
class Sharpened:
    """How much: the halo's standard deviation on paper, and what share of what differs from it is added."""

    halo_mm: float
    amount: float

    def sigma_px(self, px_per_mm: float) -> float:
        """The halo in pixels of the print."""
        return self.halo_mm * px_per_mm

    def reach_px(self, px_per_mm: float) -> int:
        """How far around a pixel others count."""
        return max(1, math.ceil(4 * self.sigma_px(px_per_mm)))


def sharpening_for(how: Sharpening, surface: PaperSurface) -> Sharpened | None:
    """What a lab sheet's wish means; None for none."""
    if how == "none":
        return None
    return Sharpened(_HALO_MM[surface], _AMOUNT[how] * (_MATT if surface == "matt" else 1.0))


def unsharp(rgb: Values, sigma_px: float, amount: float) -> Values:
    """Pixels (h, w, 3) with ``amount`` of what their luminance differs from its blur added to all three channels, so that no hue
    shifts."""
    light = cv2.transform(rgb.astype(np.float32), _LUMINANCE)
    side = 2 * max(1, math.ceil(4 * sigma_px)) + 1
    blurred = cv2.GaussianBlur(light, (side, side), sigma_px, borderType=cv2.BORDER_REPLICATE)
    more = (light - blurred) * np.float32(amount)
    return np.asarray(np.clip(np.rint(rgb + more.reshape(*rgb.shape[:2], 1)), 0, white(rgb)), rgb.dtype)


def sampling_box(box: Box, whole: Box, reach: int) -> tuple[Box, Box]:
    """What has to be sampled so that a box can be sharpened the same whatever the box is: whole tiles of the page about it; and
    all of the page in which the layer is seen, with what lies just beyond."""
    around = whole[0] - reach, whole[1] - reach, whole[2] + reach, whole[3] + reach
    x0, y0 = (box[0] - reach) // TILE_WIDTH * TILE_WIDTH, (box[1] - reach) // ROWS * ROWS
    x1, y1 = -(-(box[2] + reach) // TILE_WIDTH) * TILE_WIDTH, -(-(box[3] + reach) // ROWS) * ROWS
    return meet((x0, y0, x1, y1), around) or around, around
