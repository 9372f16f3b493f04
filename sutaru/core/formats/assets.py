"""Files held beside a document, read once when they come in: mask pictures (PNG), drawings (SVG), pictures
(PNG, JPEG), fonts (TTF, OTF), press profiles (ICC)."""

import hashlib
import io
from dataclasses import dataclass, field, replace
from typing import Literal

from PIL import Image

from .. import limits
from ..colour.output import ProfileFacts, read_profile
from ..errors import FileRefused
from ..paint.masks import overlay_pixels
from ..paint.svg import clean_svg, drawing_ratio, is_svg, seconds_per_pixel
from ..press.raster import jpeg_bytes
from ..words.faces import font_family
from .flat.flat_picture import read_picture
from .masks import trace_drawing, trace_outline

Way = Literal["alpha", "luminance"]


@dataclass(frozen=True)
class Asset:
    """A file that may be kept. ``ratio``: a drawing's width for its height. ``traced``: for a mask, the outline that each way
    of reading it gives, "" for none; for a drawing, what it covers, by its alpha. ``family``: a font's. ``profile``: what a
    press profile says of itself."""

    name: str
    kind: Literal["mask", "drawing", "overlay", "font", "profile"]
    data: bytes
    width: int = 0
    height: int = 0
    ratio: float = 1.0
    traced: dict[Way, str] = field(default_factory=dict)
    family: str = ""
    profile: ProfileFacts | None = None


def read_asset(data: bytes) -> Asset:
    """What a file is. A drawing comes back cleaned. Raises FileRefused with a plain sentence."""
    if data.startswith(b"\x89PNG"):
        return _mask(data) if _is_small(data) and len(data) <= limits.ASSET_BYTES else _overlay(data)
    if data.startswith(b"\xff\xd8"):
        return _overlay(_read_plain_jpeg(data))
    if data[:4] in (b"\0\1\0\0", b"OTTO", b"true"):
        return Asset(hashlib.sha256(data).hexdigest(), "font", data, family=font_family(data))
    if data[36:40] == b"acsp":
        return Asset(hashlib.sha256(data).hexdigest(), "profile", data, profile=read_profile(data, "This profile"))
    if is_svg(data):
        if len(data) > limits.DRAWING_BYTES:
            raise FileRefused(f"This drawing is larger than {limits.DRAWING_BYTES // 1000} kB.", "Make it simpler.")
        clean = clean_svg(data)
        if seconds_per_pixel(clean) * limits.DRAWING_PRINT_PIXELS > limits.DRAWING_SECONDS:
            raise FileRefused(
                f"This drawing would take longer than {limits.DRAWING_SECONDS:g} s to draw at 12 x 12 in.",
                "Make it simpler: fewer shapes that lie on one another, fewer gradients.",
            )
        traced: dict[Way, str] = {"alpha": trace_drawing(clean)}
        return Asset(hashlib.sha256(clean).hexdigest(), "drawing", clean, ratio=drawing_ratio(clean), traced=traced)
    raise FileRefused(
        "This is no PNG, JPEG, SVG, TTF, OTF or ICC file.",
        "Save a mask as PNG, a drawing as SVG, a picture as JPEG or PNG.",
    )


def _read_plain_jpeg(data: bytes) -> bytes:
    """A JPEG that needs nothing beside it to be understood: upright, in sRGB."""
    with Image.open(io.BytesIO(data)) as picture:
        plain = picture.mode == "RGB" and not picture.info.get("icc_profile") and picture.getexif().get(0x0112, 1) == 1
    if plain:
        return data
    pixels, _ = read_picture(data, "This picture")
    return jpeg_bytes(pixels[..., :3], 93)


def _is_small(data: bytes) -> bool:
    """Whether a PNG's header says that it is small enough for a mask."""
    wide, high = int.from_bytes(data[16:20], "big"), int.from_bytes(data[20:24], "big")
    return wide * high <= limits.MASK_PIXELS


def _overlay(data: bytes) -> Asset:
    height, width = overlay_pixels(data).shape[:2]
    return Asset(hashlib.sha256(data).hexdigest(), "overlay", data, width, height)


def _mask(data: bytes) -> Asset:
    """A picture that can be a mask; as a picture alone where it shows nothing as one, or its outline is too fine."""
    traced: dict[Way, str] = {}
    ways: tuple[Way, ...] = ("alpha", "luminance")
    for by in ways:
        try:
            traced[by] = trace_outline(data, by)
        except FileRefused:
            traced[by] = ""
    picture = _overlay(data)
    return replace(picture, kind="mask", traced=traced) if any(traced.values()) else picture
