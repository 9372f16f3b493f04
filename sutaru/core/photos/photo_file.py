"""Reading a photo file safely: what it is, and its pixels upright in a working space at the size that is needed.

Pixels come as RGB arrays of 8 bits, or RGBA where transparency is asked for. A JPEG is decoded shrunk by 2, 4 or 8 when that
is still large enough.
"""

import contextlib
import io
import re
import warnings
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import simplejpeg
from numpy.typing import NDArray
from PIL import ExifTags, Image

from .. import limits
from ..colour.profiles import convert_to_working, describe_profile, is_srgb, usable
from ..depths import Values
from ..document import Photo
from ..document.lab import Space
from ..errors import PhotoRefused
from .captions import caption_of
from .checksums import Source, checksum
from .colour_tags import read_stated_profile
from .deep import LOADERS, Bands, deep, read_shrunk
from .tiff_tags import count_colours, count_spots, explain_unread, has_alpha_tag

_PLAINER = "Save it as a TIFF of 8 or 16 bits with LZW or no compression, or as JPEG, and bring that in."
LARGE_PIXELS = 40_000_000  # from here on a picture that cannot be decoded shrunk is read in strips

FORMATS = ("JPEG", "PNG", "TIFF", "WEBP", "HEIF")
Image.MAX_IMAGE_PIXELS = None  # the budget is ours, measured as soon as the header is read
EXTENSIONS = {"JPEG": "jpg", "PNG": "png", "TIFF": "tif", "WEBP": "webp", "HEIF": "heic"}

# Pillow's modes whose colour is not RGB, by what a profile speaks of.
_COLOURS = {
    "1": "L",
    "L": "L",
    "LA": "L",
    "I;16": "L",
    "I;16B": "L",
    "I;16L": "L",
    "I": "L",
    "F": "L",
    "CMYK": "CMYK",
    "LAB": "LAB",
}
_SIXTEEN = {"I;16", "I;16B", "I;16L", "I", "F"}


@dataclass(frozen=True)
class _Header:
    format: str
    width: int
    height: int
    orientation: int
    mode: str
    bits: int
    icc: bytes | None
    unusable: str
    has_alpha: bool
    spots: int
    taken: datetime | None
    caption: str


def _formats_of(source: Source) -> tuple[str, ...]:
    """What a file may be. HEIC is read through Pillow, already upright, by a library that is loaded for the first of them."""
    start = source[:12] if isinstance(source, bytes) else _first(source)
    if start[4:8] != b"ftyp":
        return tuple(kind for kind in FORMATS if kind != "HEIF")
    import pillow_heif

    pillow_heif.register_heif_opener(thumbnails=False)
    return FORMATS


def _open(source: Source, name: str) -> Image.Image:
    file: Any = io.BytesIO(source) if isinstance(source, bytes) else source
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            picture = Image.open(file, formats=_formats_of(source))
    except FileNotFoundError:
        raise PhotoRefused(f"The file of {name} is missing.", "Bring that photo in again.") from None
    except (OSError, SyntaxError, ValueError, EOFError, TypeError, MemoryError):
        start = source[:12] if isinstance(source, bytes) else _first(source)
        if start[:4] == b"RIFF" and start[8:] == b"WEBP":  # is decoded as it is opened
            raise PhotoRefused(
                f"{name} is a WebP that is damaged, or too large to be read.", "Save it anew as a plain JPEG."
            ) from None
        if why := explain_unread(source):
            raise PhotoRefused(f"{name} {why}, which is not read.", _PLAINER) from None
        raise PhotoRefused(
            f"{name} is not a picture that can be read.", "Bring it in as JPEG, PNG, TIFF, WebP or HEIC."
        ) from None
    if picture.format == "TIFF" and (why := explain_unread(source)):
        picture.close()
        raise PhotoRefused(f"{name} {why}, which is not read.", _PLAINER)
    if picture.width * picture.height > limits.PHOTO_PIXELS:
        picture.close()
        raise PhotoRefused(
            f"{name} has {picture.width * picture.height / 1e6:,.0f} million pixels, more than {limits.PHOTO_PIXELS / 1e6:,.0f}.",
            "Make it smaller and bring it in again.",
        )
    return picture


def _first(path: Path) -> bytes:
    with path.open("rb") as file:
        return file.read(12)


def _read_time_taken(exif: Image.Exif) -> datetime | None:
    fields = exif.get_ifd(ExifTags.IFD.Exif)
    stamp = fields.get(ExifTags.Base.DateTimeOriginal) or exif.get(ExifTags.Base.DateTime)
    with contextlib.suppress(ValueError, TypeError):
        return datetime.strptime(str(stamp).strip("\0 "), "%Y:%m:%d %H:%M:%S")
    return None


def _exif(picture: Image.Image) -> tuple[int, datetime | None]:
    """Orientation, 1 to 8, and capture time. A broken EXIF block is no reason to refuse the picture."""
    try:
        exif = picture.getexif()
        orientation = int(exif.get(ExifTags.Base.Orientation, 1) or 1)
        return orientation if 1 <= orientation <= 8 else 1, _read_time_taken(exif)
    except Exception:
        return 1, None


def _turns(picture: Image.Image, orientation: int) -> int:
    """The orientation that is still to be applied: Pillow turns TIFF by itself, and tells its size as turned."""
    return 1 if picture.format == "TIFF" else orientation


def _format(picture: Image.Image) -> str:
    """Pillow's name of the format. A JPEG that carries more pictures (CIPA DC-007, "MPO") is a JPEG: its first one counts."""
    return "JPEG" if picture.format == "MPO" else str(picture.format)


def _header(source: Source, name: str) -> _Header:
    with _open(source, name) as picture:
        _affordable(picture, name)
        # Before anything else: reading a PNG's EXIF block forgets how its pixels are stored.
        bits, stated = _bits(picture), read_stated_profile(picture)
        orientation, taken = _exif(picture)
        size = picture.size[::-1] if _turns(picture, orientation) in (5, 6, 7, 8) else picture.size
        return _Header(
            _format(picture), *size, orientation, picture.mode, bits,
            *stated, _has_alpha(picture), _spots(picture), taken, caption_of(picture),
        )  # fmt: skip


def _has_alpha(picture: Image.Image) -> bool:
    """Whether parts of it may be transparent: by the tag that says so in a TIFF, else by what its pixels are."""
    tags: Any = getattr(picture, "tag_v2", None)
    if tags is not None:
        return has_alpha_tag(tags)
    return picture.mode in ("RGBA", "LA", "PA") or "transparency" in picture.info


def _spots(picture: Image.Image) -> int:
    tags: Any = getattr(picture, "tag_v2", None)
    return count_spots(tags) if tags is not None else 0


def _bands(picture: Image.Image) -> Bands:
    """Which of a picture's channels are its colours, and how it is transparent."""
    tags: Any = getattr(picture, "tag_v2", None)
    if tags is not None:
        return Bands(count_colours(tags), has_alpha_tag(tags))
    return Bands(None, True)


def _bits(picture: Image.Image) -> int:
    return 1 if picture.mode == "1" else 16 if picture.mode in _SIXTEEN or _bits_per_sample(picture) == 16 else 8


def _bits_per_sample(picture: Image.Image) -> int:
    tags: Any = getattr(picture, "tag_v2", None)
    if tags is not None:
        return int(max(tags.get(258, (8,))))
    if picture.format == "PNG":
        tile: Any = getattr(picture, "tile", None)
        return 16 if tile and str(tile[0][3]).endswith("16B") else 8
    return 8


def examine(source: Source, name: str, sample: bool = False) -> Photo:
    """What the file is. Raises PhotoRefused with a plain sentence; decodes no pixels.

    ``source`` is the file's bytes or its path; ``name`` is what the user calls it.
    """
    size = len(source) if isinstance(source, bytes) else source.stat().st_size
    if size == 0:
        raise PhotoRefused(f"{name} is empty (0 bytes).", "Copy it from the camera or card again.")
    if size > limits.PHOTO_BYTES:
        most = limits.PHOTO_BYTES // limits.MB
        raise PhotoRefused(f"{name} is larger than {most} MB.", "Save it as JPEG and bring it in again.")
    head = _header(source, name)
    digest = checksum(source)
    return Photo.model_validate(
        {
            "id": digest[:16], "checksum": digest, "name": plain_name(name), "format": head.format, "size_bytes": size,
            "width": head.width, "height": head.height, "exif_orientation": head.orientation, "mode": head.mode,
            "bits": head.bits, "profile": head.unusable or (describe_profile(head.icc)[0] if head.icc else ""),
            "profile_unusable": bool(head.unusable)
            or (bool(head.icc) and not usable(head.icc or b"", _COLOURS.get(head.mode, "RGB"))),
            "has_alpha": head.has_alpha, "spots": head.spots, "taken": head.taken, "sample": sample, "caption": head.caption,
        }
    )  # fmt: skip


def plain_name(name: str) -> str:
    """What a user calls a file as it is kept: no folders, nothing that cannot be shown, 200 letters at most, its end kept."""
    last = re.split(r"[/\\]", name)[-1]
    seen = "".join(letter for letter in last if letter.isprintable()).strip()
    return seen[-200:].strip() or "photo"


def decode(
    source: Source, name: str, least_scale: float = 1.0, space: Space = "srgb", depth: int = 8, alpha: bool = False
) -> Values:
    """The photo upright, RGB (h, w, 3) of a working space, at ``least_scale`` of its size or somewhat larger. A file of 16 bits
    gives as many where ``depth`` is 16; else, and whatever else it is, 8. What is transparent lies on white; with ``alpha``
    it is RGBA (h, w, 4), its colours as they are stored, where parts of it may be transparent.

    Raises PhotoRefused when the file turns out to be damaged.
    """
    try:
        with _open(source, name) as picture:
            bits, bands, icc = _bits(picture), _bands(picture), read_stated_profile(picture)[0]
            alpha = alpha and _has_alpha(picture)
            stored = _exif(picture)[0]
            orientation, kind = _turns(picture, stored), _format(picture)
            if kind in LOADERS and bits == 16:
                fine = deep(source, kind, icc, least_scale, space, depth, bands, alpha)
                if fine is not None:
                    return _turn_upright(fine, stored)
            size = tuple(-(-side * eighths(least_scale) // 8) for side in picture.size)
            pixels = _jpeg(source, size) if (kind, picture.mode) == ("JPEG", "RGB") else None
            if pixels is not None:
                if space != "srgb" or (icc and not is_srgb(icc)):
                    pixels = np.asarray(convert_to_working(Image.fromarray(pixels), icc, space))
                return _turn_upright(pixels, orientation)
            if kind in LOADERS and picture.width * picture.height > LARGE_PIXELS:
                small = read_shrunk(source, kind, least_scale, bands)
                if small is not None:
                    return _turn_upright(np.asarray(_convert_to_space(small, icc, space, alpha)), stored)
            if kind == "JPEG":
                picture.draft(None, (size[0], size[1]))
            picture.load()
            if kind == "TIFF" and not _has_alpha(picture) and picture.mode in ("RGBA", "LA"):
                picture = _drop_extra_channels(picture)
            return _turn_upright(np.asarray(_convert_to_space(picture, icc, space, alpha)), orientation)
    except (OSError, SyntaxError, ValueError, EOFError) as error:
        raise PhotoRefused(
            f"{name} is damaged: its pixels end early or do not decode.", "Copy it from the camera or card again."
        ) from error


def _affordable(picture: Image.Image, name: str) -> None:
    """Raises PhotoRefused when a progressive JPEG's coefficients, all kept until its last scan, would take too much."""
    needs = 6 * picture.width * picture.height  # 16 bits for each of three components, none of them thinned
    if picture.info.get("progressive") and needs > limits.READING_BYTES:
        raise PhotoRefused(
            f"{name} is a progressive JPEG of {picture.width * picture.height / 1e6:,.0f} million pixels: reading it would "
            f"need {needs / 1e9:.1f} GB.",
            "Save it anew as a plain (baseline) JPEG.",
        )


def eighths(least_scale: float) -> int:
    """In how many eighths of its size a JPEG is decoded, the DCT being cut to that many terms, to reach a scale. From five on
    that takes longer than to decode it whole, for which libjpeg-turbo has instructions of the processor."""
    return next(n for n in (1, 2, 3, 4, 8) if n == 8 or n / 8 >= least_scale - 1e-9)


def _jpeg(source: Source, size: tuple[int, ...]) -> NDArray[np.uint8] | None:
    """A JPEG's pixels, decoded at ``size``, straight into an array; None when the decoder has any complaint at all.

    The same pixels as Pillow's where Pillow knows that scale, and a third faster; Pillow judges whether a complaint matters.
    """
    data = source if isinstance(source, bytes) else source.read_bytes()
    try:
        return simplejpeg.decode_jpeg(data, "RGB", min_width=size[0], min_height=size[1], min_factor=1)
    except ValueError:
        return None


def _turn_upright(pixels: Values, orientation: int) -> Values:
    """Brings the stored picture upright by its EXIF orientation (Exif 2.32, tag 0x0112)."""
    if orientation in (5, 6, 7, 8):
        pixels = cv2.transpose(pixels)
    flip = {2: 1, 3: -1, 4: 0, 6: 1, 7: -1, 8: 0}.get(orientation)
    return pixels if flip is None else cv2.flip(pixels, flip)


def _drop_extra_channels(picture: Image.Image) -> Image.Image:
    """The colours alone, where the fourth channel is said to be something else than transparency."""
    bands = picture.split()
    return bands[0] if picture.mode == "LA" else Image.merge("RGB", bands[:3])


def _convert_to_space(picture: Image.Image, icc: bytes | None, space: Space, alpha: bool = False) -> Image.Image:
    """RGB of a working space; what is translucent lies on white, its colour converted before. RGBA with ``alpha``."""
    if picture.mode not in ("RGBA", "LA", "PA") and "transparency" not in picture.info:
        return convert_to_working(_eight_bit(picture), icc, space)
    cover = picture.convert("RGBA").getchannel("A")
    colour = picture.convert("L") if picture.mode in ("L", "LA") else picture.convert("RGBA").convert("RGB")
    converted = convert_to_working(colour, icc, space)
    if alpha:
        converted.putalpha(cover)
        return converted
    sheet = Image.new("RGB", picture.size, "white")
    sheet.paste(converted, mask=cover)
    return sheet


def _eight_bit(picture: Image.Image) -> Image.Image:
    """Mode L, RGB, CMYK or LAB, 8 bits."""
    if picture.mode in _SIXTEEN:
        values = np.asarray(picture, dtype=np.float64)
        top = 65535.0 if picture.mode.startswith("I") else max(1.0, float(values.max(initial=0.0)))
        return Image.fromarray(np.clip(values / top * 255 + 0.5, 0, 255).astype(np.uint8))
    if picture.mode in ("L", "RGB", "CMYK", "LAB"):
        return picture
    return picture.convert("L" if picture.mode == "1" else "RGB")
