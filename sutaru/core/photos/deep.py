"""Pictures that are read through libvips, strip by strip, so that they never stand whole in memory: those of sixteen bits a
channel, whose profile is applied to all sixteen and only what comes out becomes eight; and large ones of eight bits, shrunk.
"""

from collections import deque
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import imagecodecs
import numpy as np
import pyvips
from numpy.typing import NDArray
from PIL import Image

from ..colour.profiles import grey_table, is_same, profile_bytes, profile_path, usable
from ..depths import Values, white
from ..document.lab import Space

LOADERS = {"PNG": "pngload", "TIFF": "tiffload", "WEBP": "webpload"}
_MODES = {1: "L", 3: "RGB", 4: "CMYK"}
_ROWS, _THREADS = 256, 2  # rows converted at a time, by so many
_RELATIVE, _BLACK_POINT = 1, 0x2000  # LittleCMS: the relative colorimetric intent, black point compensation


@dataclass(frozen=True)
class Bands:
    """Which channels of a picture are its colours, the first ones; None for all but a last one that is transparency.
    ``has_alpha``: whether the one after them is that. libvips takes colours that are multiplied by it apart by itself."""

    colours: int | None
    has_alpha: bool


def deep(
    source: bytes | Path, format: str, icc: bytes | None, least_scale: float, space: Space, depth: int, bands: Bands,
    keeps_alpha: bool = False,
) -> Values | None:  # fmt: skip
    """RGB (h, w, 3) of a working space, of ``depth`` bits, as stored, at ``least_scale`` of its size or somewhat larger;
    translucent parts on white, or RGBA (h, w, 4) where it ``keeps_alpha``.

    None when it is not of sixteen bits. Raises OSError when the file is damaged.
    """
    try:
        image = _load_image(source, format)
        if image.format != "ushort" and image.interpretation != "labs":
            return None
        blocks = max(1, int(1 / least_scale + 1e-9))
        colour, cover = _split_alpha(image, bands, blocks)
        if colour.bands == 3 and colour.interpretation != "labs":
            profile = icc if icc and usable(icc, "RGB") else profile_bytes("srgb")
            if not is_same(profile, space):
                joined = colour if cover is None else colour.bandjoin(cover.rint().cast("ushort"))
                return _lay_on_white(_convert_in_floats(joined, profile, space, depth), keeps_alpha)
        colour = _convert_colours(colour, icc, space, depth)
        if cover is not None:
            top, kind = (65535, "ushort") if depth == 16 else (255, "uchar")
            colour = colour.bandjoin((cover * (top / 65535)).rint().cast(kind))
        return _lay_on_white(np.ascontiguousarray(colour.numpy()), keeps_alpha)
    except pyvips.Error as error:
        raise OSError(str(error)) from None


def read_shrunk(source: bytes | Path, format: str, least_scale: float, bands: Bands) -> Image.Image | None:
    """A picture of eight bits as stored, mode L, LA, RGB, RGBA or CMYK, shrunk by whole pixels to ``least_scale`` or larger.

    None when it is not of eight bits, or is not to be shrunk by half at least. Raises OSError when the file is damaged.
    """
    blocks = int(1 / least_scale + 1e-9)
    if blocks < 2:
        return None
    try:
        image = _load_image(source, format)
        if image.format != "uchar":
            return None
        colour, cover = _split_alpha(image, bands, blocks)
        small = colour if cover is None else colour.bandjoin(cover)
        small = small.rint().cast("uchar")
        mode = _MODES[colour.bands] + ("A" if cover is not None else "")
        return Image.frombytes(mode, (small.width, small.height), small.write_to_memory())
    except (pyvips.Error, KeyError, ValueError) as error:
        raise OSError(str(error)) from None


def _load_image(source: bytes | Path, format: str) -> Any:
    if isinstance(source, bytes):
        return getattr(pyvips.Image, f"{LOADERS[format]}_buffer")(source, access="sequential", fail_on="error")
    return getattr(pyvips.Image, LOADERS[format])(str(source), access="sequential", fail_on="error")


def _split_alpha(image: Any, bands: Bands, blocks: int) -> tuple[Any, Any]:
    """Colours and transparency (None without), both shrunk by whole blocks; colours as if nothing were transparent."""
    kind, way = image.format, image.interpretation
    colours = bands.colours or image.bands - image.hasalpha()
    if not bands.has_alpha or colours >= image.bands:
        colour = image if colours >= image.bands else image.extract_band(0, n=colours)
        small = colour.shrink(blocks, blocks, ceil=True) if blocks > 1 else colour
        return small.copy(interpretation=way), None
    image = image.extract_band(0, n=colours + 1)
    if blocks == 1:
        return image.extract_band(0, n=colours).copy(interpretation=way), image[colours]
    top = 65535 if kind == "ushort" else 255
    plain = image.premultiply(max_alpha=top).shrink(blocks, blocks, ceil=True).unpremultiply(max_alpha=top)
    return plain.extract_band(0, n=colours).rint().cast(kind).copy(interpretation=way), plain[colours]


def _convert_colours(image: Any, icc: bytes | None, space: Space, depth: int) -> Any:
    """The colours of a picture in a working space, three channels of ``depth`` bits."""
    step, kind = (1, "ushort") if depth == 16 else (257, "uchar")
    if image.interpretation == "labs":
        return image.icc_export(output_profile=str(profile_path(space)), depth=depth, intent="relative", pcs="lab")
    mode = _MODES[image.bands]
    fits = bool(icc) and usable(icc or b"", mode)
    if mode == "L" and depth == 8:
        table = pyvips.Image.new_from_array(grey_table(icc if fits else None, space), interpretation="srgb")
        return image.maplut(table)
    if mode == "L" and not fits:
        mode, image = "RGB", image.bandjoin([image, image])
    profile = icc if icc and fits else profile_bytes("fogra39" if mode == "CMYK" else "srgb")
    if mode == "RGB":  # the space's own
        return (image / step).rint().cast(kind)
    image = image.copy(interpretation={"CMYK": "cmyk", "L": "grey16"}[mode])
    image.set_type(pyvips.GValue.blob_type, "icc-profile-data", profile)
    way: dict[str, Any] = {"intent": "relative", "black_point_compensation": True, "pcs": "xyz"}
    image = image.icc_import(embedded=True, **way)
    return image.icc_export(output_profile=str(profile_path(space)), depth=depth, **way).cast(kind)


def _convert_in_floats(image: Any, icc: bytes, space: Space, depth: int) -> Values:
    """RGB of sixteen bits in a working space, worked out in floats: between integers LittleCMS goes through tables of few
    places, and loses the shadows. A fourth channel is transparency. Read once, some rows at a time."""
    top, kind = (65535, np.uint16) if depth == 16 else (255, np.uint8)
    onto = profile_bytes(space)
    out = np.empty((image.height, image.width, image.bands), kind)

    def convert(first: int, rows: NDArray[np.uint16]) -> None:
        values = imagecodecs.cms_transform(
            rows[..., :3].astype(np.float32) * np.float32(1 / 65535), icc, onto, colorspace="rgb", outcolorspace="rgb",
            outdtype="float32", intent=_RELATIVE, flags=_BLACK_POINT,
        )  # fmt: skip
        here = out[first : first + len(rows)]
        here[..., :3] = np.rint(np.clip(values, 0.0, 1.0) * top)
        if image.bands == 4:
            here[..., 3] = np.rint(rows[..., 3] * (top / 65535))

    with ThreadPoolExecutor(_THREADS) as threads:
        waiting: deque[Future[None]] = deque()
        for first in range(0, image.height, _ROWS):
            rows = image.crop(0, first, image.width, min(_ROWS, image.height - first)).numpy()
            waiting.append(threads.submit(convert, first, rows))
            if len(waiting) > 2 * _THREADS:  # no more rows are read than are being converted
                waiting.popleft().result()
        for tile in waiting:
            tile.result()
    return out


def _lay_on_white(image: Values, keeps_alpha: bool) -> Values:
    """RGB of what has no fourth channel, or is not to keep it."""
    if image.shape[2] == 3 or keeps_alpha:
        return image
    cover = image[..., 3:].astype(np.float32) / white(image)
    laid: Values = np.rint(image[..., :3] * cover + white(image) * (1 - cover)).astype(image.dtype)
    return laid
