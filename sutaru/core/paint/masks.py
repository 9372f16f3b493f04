"""Mask pictures: what of an opening shows, read from a PNG by its alpha or by its luminance. And pictures laid over all."""

import io

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from .. import limits
from ..errors import FileRefused
from ..remembering import remember


@remember
def mask_pixels(png: bytes, by: str) -> NDArray[np.uint8]:
    """A mask picture as an array (h, w), 0 to 255. Raises FileRefused when it is not a PNG that can serve."""
    try:
        with Image.open(io.BytesIO(png), formats=("PNG",)) as picture:
            if picture.width * picture.height > limits.MASK_PIXELS:
                raise FileRefused("This mask has more than 4 million pixels.", "Make it smaller.")
            if by == "alpha" and "A" not in picture.getbands() and "transparency" not in picture.info:
                raise FileRefused("This mask has no transparency.", "Read it by luminance.")
            rgba = picture.convert("RGBA")
    except (OSError, SyntaxError, ValueError, Image.DecompressionBombError) as error:
        raise FileRefused(f"This mask is not a PNG that can be read ({error}).", "Save it as PNG.") from None
    alpha = np.asarray(rgba.getchannel("A"))
    cover = alpha
    if by == "luminance":
        luminance = np.asarray(rgba.convert("RGB").convert("L"), np.float32)
        cover = np.rint(luminance * (alpha / np.float32(255))).astype(np.uint8)
    cover = np.ascontiguousarray(cover)
    cover.flags.writeable = False
    return cover


@remember
def overlay_pixels(png: bytes) -> NDArray[np.uint8]:
    """An overlay's picture, RGBA with colours times alpha, (h, w, 4). Raises FileRefused when it is none."""
    try:
        with Image.open(io.BytesIO(png), formats=("PNG", "JPEG")) as picture:
            if picture.width * picture.height > limits.OVERLAY_PIXELS:
                raise FileRefused("This picture has more pixels than an overlay may have.", "Make it smaller.")
            pixels = np.array(picture.convert("RGBA"))
    except (OSError, SyntaxError, ValueError, Image.DecompressionBombError) as error:
        raise FileRefused(f"This overlay is not a PNG that can be read ({error}).", "Save it as PNG.") from None
    for row in range(0, len(pixels), 256):  # in bands: no copy of all of it
        part = pixels[row : row + 256]
        part[..., :3] = (part[..., :3].astype(np.uint16) * part[..., 3:] + 127) // 255
    pixels.flags.writeable = False
    return pixels
