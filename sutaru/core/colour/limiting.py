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
from ..remembering import remember

Floats = NDArray[np.float64]
_SHARES = np.linspace(0.0, 1.0, 21)


def limit_inks(inks: Floats, most: float, share: float) -> Floats:
    """Cyan, magenta, yellow and black (..., 4), percent, no more than ``most`` percent together; ``share`` of what is too much is
    made up for by black."""
    total = inks.sum(axis=-1, keepdims=True)
    colours, black = inks[..., :3], inks[..., 3:]
    excess = np.maximum(0.0, total - most)
    black = np.where(excess > 0, np.minimum(min(100.0, most), black + share * excess), black)
    left = np.where(excess > 0, (most - black) / np.maximum(total - inks[..., 3:], 1e-9), 1.0)
    return np.concatenate([colours * np.clip(left, 0.0, 1.0), black], axis=-1)


def choose_share(inks: Floats, most: float, icc: bytes) -> float:
    """Which share of what is too much goes over into black, so that colours move least as the profile shows them: of ``inks``
    (n, 4), percent, those that are too many. 0 when none are."""
    over = inks[inks.sum(axis=-1) > most]
    if not len(over):
        return 0.0
    meant = _lab(over, icc)
    moved = [
        float(np.linalg.norm(_lab(limit_inks(over, most, share), icc) - meant, axis=1).mean()) for share in _SHARES
    ]
    return float(_SHARES[int(np.argmin(moved))])


def _lab(inks: Floats, icc: bytes) -> Floats:
    """What inks look like on the press's paper, L*a*b*."""
    row: Bytes = np.rint(np.clip(inks, 0, 100) * 2.55).astype(np.uint8)[None]
    seen = ImageCms.applyTransform(Image.fromarray(row, "CMYK"), _lab_transform(icc))
    lab = np.asarray(seen, np.uint8)[0]  # L* in 255 steps, a* and b* in whole ones, as two's complement
    return np.column_stack([lab[:, 0] / 2.55, np.ascontiguousarray(lab[:, 1:]).view(np.int8).astype(np.float64)])


@remember
def _lab_transform(icc: bytes) -> ImageCms.ImageCmsTransform:
    source, onto = ImageCms.ImageCmsProfile(io.BytesIO(icc)), ImageCms.createProfile("LAB")
    return ImageCms.buildTransform(
        source, onto, "CMYK", "LAB", ImageCms.Intent.RELATIVE_COLORIMETRIC, ImageCms.Flags.NONE
    )
