"""What Pillow does not say of a TIFF: which channels are transparency, and why one cannot be read (TIFF 6.0, Adobe 1992).

Channels beside the colours are transparency only where the tag ExtraSamples says so (1: the colours are multiplied by it
already, 2: they are not). Where it says 0, or says nothing, they are something else, such as a saved selection or a spot colour.
"""

import io
from typing import IO, Any

from PIL import TiffImagePlugin

from .checksums import Source

_BITS, _COMPRESSION, _PHOTOMETRIC, _SAMPLES, _EXTRA, _FORMAT = 258, 259, 262, 277, 338, 339
_COLOURS = {0: 1, 1: 1, 2: 3, 3: 1, 5: 4, 6: 3, 8: 3, 9: 3}  # channels, by PhotometricInterpretation
_RGB, _CMYK, _LAB, _ICC_LAB = 2, 5, 8, 9
# Compressions of sixteen bits that libvips reads: none, CCITT, LZW, JPEG, Deflate in both forms, PackBits.
_READABLE = {1, 2, 3, 4, 5, 7, 8, 32773, 32946}
_COMPRESSIONS = {50000: "Zstandard", 50001: "WebP", 50002: "JPEG XL", 34887: "LERC", 34925: "LZMA", 34712: "JPEG 2000"}


def _add_kinds() -> None:
    """Lets Pillow tell the size of TIFFs of sixteen bits that it has no way to decode; libvips decodes them."""
    for order in (b"II", b"MM"):
        for extras in ((0,), (0, 0), (0, 0, 0)):
            more = len(extras)
            kinds = ((_RGB, 3, "RGB"), (_CMYK, 4, "CMYK"), (1, 1, "I;16"))
            for photometric, colours, mode in kinds:
                key = (order, photometric, (1,), 1, (16,) * (colours + more), extras)
                TiffImagePlugin.OPEN_INFO.setdefault(key, (mode, mode))
        TiffImagePlugin.OPEN_INFO.setdefault((order, _LAB, (1,), 1, (16, 16, 16), ()), ("LAB", "LAB"))


_add_kinds()


def count_colours(tags: Any) -> int:
    """How many of a TIFF's channels are its colours."""
    return _COLOURS.get(int(tags.get(_PHOTOMETRIC, 1)), int(tags.get(_SAMPLES, 1)))


def count_spots(tags: Any) -> int:
    """How many channels a picture in inks has beside the four and its transparency: spot colours, or selections."""
    if int(tags.get(_PHOTOMETRIC, 1)) != _CMYK:
        return 0
    return max(0, int(tags.get(_SAMPLES, 4)) - count_colours(tags) - has_alpha_tag(tags))


def has_alpha_tag(tags: Any) -> bool:
    """Whether the first channel after the colours is transparency."""
    extras = tags.get(_EXTRA, ())
    return (extras if isinstance(extras, tuple) else (extras,))[:1] in ((1,), (2,))


def explain_unread(source: Source) -> str:
    """Why a TIFF cannot be read, as what it is ("is a TIFF of ..."); "" when nothing known is in the way."""
    tags = _tags(source)
    if tags is None:
        return ""
    bits = max(_tuple(tags.get(_BITS, (1,))))
    compression = int(tags.get(_COMPRESSION, 1))
    if max(_tuple(tags.get(_FORMAT, (1,)))) == 3:
        return "is a TIFF of floating-point values"
    if bits > 16:
        return f"is a TIFF of {bits} bits a channel"
    if (bits == 16 and compression not in _READABLE) or compression in (50001, 50002, 34887, 34712):
        return f"is a TIFF compressed by {_COMPRESSIONS.get(compression, f'method {compression}')}"
    if int(tags.get(_PHOTOMETRIC, 1)) == _ICC_LAB:
        return "is a TIFF of Lab colours in ICC's own form"
    return ""


def _tags(source: Source) -> Any:
    try:
        if isinstance(source, bytes):
            return _read(io.BytesIO(source))
        with source.open("rb") as file:
            return _read(file)
    except (OSError, SyntaxError, ValueError, TypeError, EOFError):
        return None


def _read(file: IO[bytes]) -> Any:
    head = file.read(8)
    if head[:4] not in (b"II*\0", b"MM\0*"):
        return None
    directory = TiffImagePlugin.ImageFileDirectory_v2(head)
    file.seek(directory.next)
    directory.load(file)
    return directory


def _tuple(value: Any) -> tuple[int, ...]:
    return tuple(int(value) for value in value) if isinstance(value, tuple) else (int(value),)
