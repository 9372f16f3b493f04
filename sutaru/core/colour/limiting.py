"""No more ink in one place than a press can dry: what a profile asks for beyond that is printed with more black and less of the
three colours, all three by one share, so that hue stays.

How much of what is too much goes over into black is chosen for each profile and limit so that colours move least, seen through
the profile itself; it is one share for all of them, so that neighbours stay neighbours.
"""

import io

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageCms

from ..depths import Bytes
from ..remembering import remembered

Floats = NDArray[np.float64]
_SHARES = np.linspace(0.0, 1.0, 21)
_MOST = 20_000  # colours that the share is chosen by


def limit_inks(inks: Floats, most: float, icc: bytes) -> Floats:
    """Cyan, magenta, yellow and black (..., 4), percent, no more than ``most`` percent together."""
    flat = inks.reshape(-1, 4)
    over = flat.sum(axis=1) > most
    if not over.any():
        return inks
    made = flat.copy()
    made[over] = _replaced(flat[over], most, choose_share(icc, most, flat[over]))
    return made.reshape(inks.shape)


def _replaced(inks: Floats, most: float, share: float) -> Floats:
    """Inks that are too many, ``share`` of what is too much made up for by black."""
    colours = inks[:, :3].sum(axis=1)
    excess = inks.sum(axis=1) - most
    black = np.minimum(np.minimum(100.0, most), inks[:, 3] + share * excess)
    left = np.clip((most - black) / np.maximum(colours, 1e-9), 0.0, 1.0)
    return np.column_stack([inks[:, :3] * left[:, None], black])


_CHOSEN: dict[tuple[bytes, float], float] = {}


def choose_share(icc: bytes, most: float, over: Floats) -> float:
    """Which share of what is too much goes over into black, so that ``over``, the inks that are too many, move least."""
    key = (icc, most)
    if key not in _CHOSEN:
        some = over[:: max(1, len(over) // _MOST)]
        meant = _lab(some, icc)
        moved = [
            float(np.linalg.norm(_lab(_replaced(some, most, share), icc) - meant, axis=1).mean()) for share in _SHARES
        ]
        _CHOSEN[key] = float(_SHARES[int(np.argmin(moved))])
    return _CHOSEN[key]


def _lab(inks: Floats, icc: bytes) -> Floats:
    """What inks look like on the press's paper, L*a*b*."""
    row: Bytes = np.rint(np.clip(inks, 0, 100) * 2.55).astype(np.uint8)[None]
    seen = ImageCms.applyTransform(Image.fromarray(row, "CMYK"), _to_lab(icc))
    lab = np.asarray(seen, np.uint8)[0]  # L* in 255 steps, a* and b* in whole ones, as two's complement
    return np.column_stack([lab[:, 0] / 2.55, np.ascontiguousarray(lab[:, 1:]).view(np.int8).astype(np.float64)])


@remembered(8 << 20)
def _to_lab(icc: bytes) -> ImageCms.ImageCmsTransform:
    source, onto = ImageCms.ImageCmsProfile(io.BytesIO(icc)), ImageCms.createProfile("LAB")
    return ImageCms.buildTransform(
        source, onto, "CMYK", "LAB", ImageCms.Intent.RELATIVE_COLORIMETRIC, ImageCms.Flags.NONE
    )
