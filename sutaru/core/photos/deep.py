"""Pictures that are read through libvips, strip by strip, so that they never stand whole in memory: those of sixteen bits a
channel, whose profile is applied to all sixteen and only what comes out becomes eight; and large ones of eight bits, shrunk.
"""

from pathlib import Path
from typing import Any

import numpy as np
import pyvips
from PIL import Image

from ..colour.profiles import grey_table, profile_bytes, profile_path, usable
from ..depths import Values
from ..document.lab import Space

LOADERS = {"PNG": "pngload", "TIFF": "tiffload", "WEBP": "webpload"}
_MODES = {1: "L", 3: "RGB", 4: "CMYK"}


def deep(
    source: bytes | Path, format: str, icc: bytes | None, least_scale: float, space: Space, depth: int = 8
) -> Values | None:
    """RGB (h, w, 3) of a working space, of ``depth`` bits, as stored, at ``least_scale`` of its size or somewhat larger;
    translucent parts on white.

    None when it is not of sixteen bits without a sign. Raises OSError when the file is damaged.
    """
    try:
        image = _loaded(source, format)
        if image.format != "ushort":
            return None
        blocks = max(1, int(1 / least_scale + 1e-9))
        if blocks > 1:
            image = image.shrink(blocks, blocks, ceil=True)
        return np.ascontiguousarray(_converted(image, icc, space, depth).numpy())
    except pyvips.Error as error:
        raise OSError(str(error)) from None


def shrunk(source: bytes | Path, format: str, least_scale: float) -> Image.Image | None:
    """A picture of eight bits as stored, mode L, LA, RGB, RGBA or CMYK, shrunk by whole pixels to ``least_scale`` or larger.

    None when it is not of eight bits, or is not to be shrunk by half at least. Raises OSError when the file is damaged.
    """
    blocks = int(1 / least_scale + 1e-9)
    if blocks < 2:
        return None
    try:
        image = _loaded(source, format)
        if image.format != "uchar":
            return None
        alpha = image.hasalpha()
        small = (image.premultiply() if alpha else image).shrink(blocks, blocks, ceil=True)
        small = (small.unpremultiply() if alpha else small).rint().cast("uchar")
        mode = _MODES[image.bands - alpha] + ("A" if alpha else "")
        return Image.frombytes(mode, (small.width, small.height), small.write_to_memory())
    except (pyvips.Error, KeyError, ValueError) as error:
        raise OSError(str(error)) from None


def _loaded(source: bytes | Path, format: str) -> Any:
    if isinstance(source, bytes):
        return getattr(pyvips.Image, f"{LOADERS[format]}_buffer")(source, access="sequential", fail_on="error")
    return getattr(pyvips.Image, LOADERS[format])(str(source), access="sequential", fail_on="error")


def _converted(image: Any, icc: bytes | None, space: Space, depth: int) -> Any:
    alpha = image.hasalpha()
    mode = _MODES[image.bands - alpha]
    fits = bool(icc) and usable(icc or b"", mode)
    step, kind = (1, "ushort") if depth == 16 else (257, "uchar")
    if mode == "L" and not fits and depth == 16:
        mode, image = "RGB", image[0].bandjoin([image[0], *(image[n] for n in range(image.bands))])
    if mode == "L" and depth == 8:
        table = pyvips.Image.new_from_array(grey_table(icc if fits else None, space), interpretation="srgb")
        image = _joined(image[0].maplut(table), image[1] if alpha else None)
    elif mode == "RGB" and not fits and space == "srgb":
        image = (image / step).rint()
    else:
        own = icc if icc and fits else profile_bytes("fogra39" if mode == "CMYK" else "srgb")
        image = image.copy(interpretation={"CMYK": "cmyk", "L": "grey16"}.get(mode, "rgb16"))
        image.set_type(pyvips.GValue.blob_type, "icc-profile-data", own)
        # By way of XYZ in floats: in one step LittleCMS goes through a table of few places, and is off by ten in the shadows.
        way: dict[str, Any] = {"intent": "relative", "black_point_compensation": True, "pcs": "xyz"}
        image = image.icc_import(embedded=True, **way)
        image = image.icc_export(output_profile=str(profile_path(space)), depth=depth, **way)
    image = image.cast(kind).copy(interpretation="rgb16" if depth == 16 else "srgb")
    return image.flatten(background=3 * [65535 // step]) if image.bands == 4 else image


def _joined(colour: Any, alpha: Any) -> Any:
    return colour if alpha is None else colour.bandjoin((alpha / 257).rint().cast("uchar"))
