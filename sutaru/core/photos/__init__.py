"""Reading photo files safely and giving their pixels at the size that is needed."""

from .reading import EXTENSIONS, MAX_BYTES, MAX_PIXELS, Source, decode, examine
from .sources import Kept, PhotoPixels, Pixels

__all__ = ["EXTENSIONS", "MAX_BYTES", "MAX_PIXELS", "Kept", "PhotoPixels", "Pixels", "Source", "decode", "examine"]
