"""From a working space to a press: LittleCMS works out a table of colours, and pixels are looked up between its entries.

The table has an entry for every fifth level of red, green and blue, so that pure colours lie on entries; between them the four
about a colour are weighed (tetrahedral interpolation; P. Hung, "Colorimetric calibration in electronic imaging devices using a
look-up-table model and interpolations", 1993). LittleCMS does the same for 8 bits between 33 entries a side, which no level but
the outermost lies on: it takes three times as long and is two and a half times as far off (``tests/core/test_inks.py``).
"""

import numpy as np
import pyvips
from numpy.typing import NDArray

from ..depths import Bytes, Deep
from ..document.lab import Space
from ..document.press import Intent
from ..errors import FileRefused
from ..remembering import remember
from .limiting import choose_share, limit_inks
from .lookup import look_up
from .profiles import profile_bytes

NO_LIMIT = 400.0  # percent: all four inks in full


def convert_to_inks(
    rgb: Bytes, space: Space, icc: bytes, intent: Intent, black_point: bool, most: float = NO_LIMIT
) -> Bytes:
    """Pixels (h, w, 3) of a working space as cyan, magenta, yellow and black, (h, w, 4), 255 a full ink; no more than ``most``
    percent of one ink in one place.

    Raises FileRefused when the profile cannot be used so.
    """
    ink = np.empty(rgb.shape[:2], np.dtype("<u4"))
    pixels = np.ascontiguousarray(rgb).reshape(-1, 3)
    look_up(pixels, _table(space, icc, intent, black_point, most), ink.reshape(-1))
    return ink[..., None].view(np.uint8)


def convert_deep(
    rgb: Deep, space: Space, icc: bytes, intent: Intent, black_point: bool, most: float = NO_LIMIT
) -> Deep:
    """Pixels (h, w, 3) of 16 bits in the colour of a profile for RGB, CMYK or grey, (h, w, 3, 4 or 1), 65,535 a full ink: each
    worked out by LittleCMS itself, and no more than ``most`` percent of one ink in one place. Raises FileRefused when the
    profile cannot be used so."""
    height, width = rgb.shape[:2]
    page = pyvips.Image.new_from_memory(np.ascontiguousarray(rgb).data, width, height, 3, "ushort")
    page = page.copy(interpretation="rgb16")
    way = {"intent": intent, "black_point_compensation": black_point}
    try:
        page.set_type(pyvips.GValue.blob_type, "icc-profile-data", profile_bytes(space))
        lab = page.icc_import(embedded=True, **way).copy()
        lab.set_type(pyvips.GValue.blob_type, "icc-profile-data", icc)
        converted: Deep = np.asarray(lab.icc_export(depth=16, **way).numpy()).reshape(height, width, -1)
    except pyvips.Error:
        raise FileRefused(
            "This profile cannot turn colours into inks.", "Ask the lab for the output profile of its press."
        ) from None
    if converted.shape[2] == 4 and most < NO_LIMIT:
        over = converted.sum(axis=2, dtype=np.uint32) > most * 655.35
        if over.any():
            share = _share(space, icc, intent, black_point, most)
            converted[over] = np.floor(limit_inks(converted[over] / 655.35, most, share) * 655.35)
    return converted


@remember
def _share(space: Space, icc: bytes, intent: Intent, black_point: bool, most: float) -> float:
    """How much of what is too much goes over into black. By colours from all over the space, whatever is converted first: every
    band and every worker limits alike."""
    levels = (np.arange(0, 256, 15) * 257).astype(np.uint16)
    colours = np.stack(np.meshgrid(levels, levels, levels, indexing="ij"), axis=-1).reshape(1, -1, 3)
    return choose_share(convert_deep(colours, space, icc, intent, black_point)[0] / 655.35, most, icc)


@remember
def _table(space: Space, icc: bytes, intent: Intent, black_point: bool, most: float) -> NDArray[np.uint64]:
    """Inks for every fifth level of red, green and blue, in this order, as ``look_up`` takes them."""
    from .lookup import SIDE, STEP

    levels = (np.arange(SIDE) * (STEP * 257)).astype(np.uint16)
    colours = np.stack(np.meshgrid(levels, levels, levels, indexing="ij"), axis=-1).reshape(SIDE, -1, 3)
    inks = convert_deep(colours, space, icc, intent, black_point, most).reshape(-1, 4)
    fine = np.rint(inks * (256 / (STEP * 257))).astype(np.uint64)
    return np.bitwise_or.reduce(fine << np.array([0, 16, 32, 48], np.uint64), axis=1)
