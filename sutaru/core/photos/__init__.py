"""Reading photo files safely, giving their pixels at the size that is needed, and looking at what they show."""

from .checksums import Source
from .looking import LOOK_SIDE, look
from .photo_file import EXTENSIONS, decode, examine, plain_name
from .sources import Forgiving, Held, PhotoPixels, Pixels

__all__ = [
    "EXTENSIONS",
    "LOOK_SIDE",
    "Forgiving",
    "Held",
    "PhotoPixels",
    "Pixels",
    "Source",
    "decode",
    "examine",
    "look",
    "plain_name",
]  # fmt: skip
