"""Reading photo files safely, giving their pixels at the size that is needed, and looking at what they show."""

from .looking import LOOK_SIDE, look
from .reading import EXTENSIONS, MAX_BYTES, MAX_PIXELS, Source, decode, examine
from .sources import PhotoPixels, Pixels

__all__ = [
    "EXTENSIONS", "LOOK_SIDE", "MAX_BYTES", "MAX_PIXELS", "PhotoPixels", "Pixels", "Source", "decode", "examine",
    "look",
]  # fmt: skip
