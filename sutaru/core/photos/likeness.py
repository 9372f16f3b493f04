"""How like two photos are, and how sharp each is: numbers worked out once when a photo is looked at.

The likeness is a difference hash: for each of 8 x 8 places, whether it is darker than its right neighbour (after
N. Krawetz, "Kind of Like That", 2013). It is the same for a photo at another size or a little lighter.
"""

import cv2
import numpy as np
from numpy.typing import NDArray

BITS = 64


def likeness(grey: NDArray[np.uint8]) -> str:
    """64 bits as hexadecimal digits. ``grey``: (h, w) at any size."""
    small = cv2.resize(grey, (9, 8), interpolation=cv2.INTER_AREA).astype(np.int16)
    bits = np.packbits((small[:, :-1] < small[:, 1:]).ravel())
    return bits.tobytes().hex()


def hash_distance(first: str, other: str) -> int:
    """In how many of the 64 bits two photos differ; all where nobody looked.

    >>> hash_distance("00000000000000ff", "00000000000000f0"), hash_distance("", "00000000000000f0")
    (4, 64)
    """
    if not first or not other:
        return BITS
    return (int(first, 16) ^ int(other, 16)).bit_count()


def detail(grey: NDArray[np.uint8]) -> float:
    """How sharply the finest detail is seen: the mean square of the Laplacian, over that of all contrast (after
    J. L. Pech-Pacheco et al., "Diatom autofocusing in brightfield microscopy", ICPR 2000)."""
    fine = cv2.norm(cv2.Laplacian(grey, cv2.CV_16S), cv2.NORM_L2SQR) / grey.size
    contrast = cv2.meanStdDev(grey)[1].item()
    return float(fine / max(1.0, contrast**2))
