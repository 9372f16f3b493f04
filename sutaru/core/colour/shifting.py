"""A shift of colours in HSL, after CSS Color Module Level 4, section 7: of one colour, or of all pixels of a picture."""

import cv2
import numpy as np

from ..document import Shift
from .profiles import Bytes


def shift_pixels(rgb: Bytes, shift: Shift) -> Bytes:
    """Pixels (h, w, 3), sRGB, with their colours shifted."""
    hls = cv2.cvtColor(rgb.astype(np.float32) / np.float32(255), cv2.COLOR_RGB2HLS)
    hls[..., 0] = (hls[..., 0] + np.float32(shift.hue_deg)) % 360
    light = hls[..., 1]
    hls[..., 1] = light + shift.lightness * ((1 - light) if shift.lightness > 0 else light)
    hls[..., 2] = np.minimum(hls[..., 2] * np.float32(shift.saturation), 1)
    return np.rint(np.clip(cv2.cvtColor(hls, cv2.COLOR_HLS2RGB), 0, 1) * 255).astype(np.uint8)


def shift_colour(colour: str, shift: Shift | None) -> str:
    """A colour #rrggbb shifted.

    >>> shift_colour("#ff0000", Shift(hue_deg=120))
    '#00ff00'
    """
    if shift is None:
        return colour
    rgb = np.frombuffer(bytes.fromhex(colour[1:]), np.uint8).reshape(1, 1, 3)
    return "#" + shift_pixels(rgb, shift).tobytes().hex()
