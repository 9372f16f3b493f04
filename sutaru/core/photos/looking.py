"""Looking at a photo once: where its faces are, or else what draws the eye, and how far its values reach.

Faces: OpenCV's cascades (P. Viola and M. Jones, 2001) in several passes: upright, leaning both ways, from both sides,
and with shadows lifted. A find counts when enough neighbouring windows and passes agree. Where there is no face, the
spectral residual (X. Hou and L. Zhang, "Saliency Detection: A Spectral Residual Approach", CVPR 2007) gives an estimate.
"""

import math
import threading
from functools import lru_cache
from pathlib import Path
from typing import Any

import cv2
import cv2.data
import numpy as np
from numpy.typing import NDArray

from ..document import Found, KeepArea
from ..geometry.matrices import Matrix, apply, inverse, rotation, translation

Bytes = NDArray[np.uint8]
LOOK_SIDE = 560  # px along the longer side: a face of 5 % of the picture is still 28 px
_LEAST = 0.045  # of the longer side: smaller faces are bystanders
# Votes: how many neighbouring windows of a pass agreed. Found by trial on pictures with and without faces.
_ENOUGH = 6.5
_PASSES: tuple[tuple[str, float, bool, bool, float], ...] = (
    # cascade, lean in degrees, mirrored, shadows lifted (for dark skin and backlight), weight of its votes
    ("frontalface_alt2", 0, False, False, 1.0),
    ("frontalface_alt2", 28, False, False, 0.8),
    ("frontalface_alt2", -28, False, False, 0.8),
    ("frontalface_alt2", 0, False, True, 0.8),
    ("frontalface_alt", 0, False, True, 0.6),
    ("profileface", 0, False, False, 0.5),
    ("profileface", 0, True, False, 0.5),
)
_LIFT = (255 * (np.arange(256) / 255) ** 0.55).astype(np.uint8)
_OWN = threading.local()  # a cascade is not to be shared between threads


def _cascade(name: str) -> Any:
    known = _OWN.__dict__.setdefault("cascades", {})
    if name not in known:
        known[name] = cv2.CascadeClassifier(str(Path(cv2.data.haarcascades) / f"haarcascade_{name}.xml"))
    return known[name]


def look(pixels: Bytes) -> Found:
    """What is found in a photo. ``pixels``: RGB (h, w, 3), upright, at any size; 560 px along the longer side suffice."""
    height, width = pixels.shape[:2]
    share = min(1.0, LOOK_SIDE / max(height, width))
    size = max(1, round(width * share)), max(1, round(height * share))
    small = cv2.resize(pixels, size, interpolation=cv2.INTER_AREA) if share < 1 else pixels
    grey = cv2.cvtColor(small, cv2.COLOR_RGB2GRAY)
    black, white = np.percentile(grey, (0.4, 99.6))
    areas = tuple(_head(face, size) for face in faces(np.asarray(grey, np.uint8)))
    return Found(
        keep=areas or subject(np.asarray(grey, np.uint8)), black=round(float(black), 1), white=round(float(white), 1)
    )


def faces(grey: Bytes) -> list[tuple[float, float, float]]:
    """Faces as (x, y, side) of the square from brows to chin, px, the largest first."""
    height, width = grey.shape
    least = max(20, round(_LEAST * max(height, width)))
    spread = cv2.createCLAHE(2.0, (8, 8))
    even, bright = spread.apply(grey), spread.apply(cv2.LUT(grey, _LIFT))
    votes: list[tuple[float, float, float, float]] = []
    for name, lean, mirrored, lifted, weight in _PASSES:
        onto = _leaning(lean, mirrored, width, height)
        seen = cv2.warpAffine(bright if lifted else even, onto[:2], _room(lean, width, height), flags=cv2.INTER_LINEAR)
        boxes, counts = _cascade(name).detectMultiScale2(seen, scaleFactor=1.15, minNeighbors=2, minSize=(least, least))
        for (x, y, w, _), count in zip(boxes, counts, strict=True):
            ((cx, cy),) = apply(inverse(onto), [(x + w / 2, y + w / 2)])
            votes.append((float(cx), float(cy), float(w), weight * min(float(count), 12.0)))
    return _agreed(votes)


@lru_cache(maxsize=64)
def _leaning(lean_deg: float, mirrored: bool, width: int, height: int) -> Matrix:
    """Turned about the middle, into a picture that holds all of it."""
    wide, high = _room(lean_deg, width, height)
    flip = np.diag([-1.0 if mirrored else 1.0, 1.0, 1.0])
    return translation(wide / 2, high / 2) @ rotation(lean_deg) @ flip @ translation(-width / 2, -height / 2)


def _room(lean_deg: float, width: int, height: int) -> tuple[int, int]:
    c, s = abs(math.cos(math.radians(lean_deg))), abs(math.sin(math.radians(lean_deg)))
    return math.ceil(width * c + height * s), math.ceil(width * s + height * c)


def _agreed(votes: list[tuple[float, float, float, float]]) -> list[tuple[float, float, float]]:
    """Votes for one place added up; places with enough of them, the strongest of overlapping ones only."""
    groups: list[list[tuple[float, float, float, float]]] = []
    for vote in sorted(votes, key=lambda v: -v[3]):
        for group in groups:
            x, y, side, _ = group[0]
            if math.hypot(vote[0] - x, vote[1] - y) < 0.4 * side and 0.55 < vote[2] / side < 1.8:
                group.append(vote)
                break
        else:
            groups.append([vote])
    found = []
    for group in groups:
        weight = sum(v[3] for v in group)
        if weight >= _ENOUGH:
            found.append((*(sum(v[i] * v[3] for v in group) / weight for i in range(3)), weight))
    kept: list[tuple[float, float, float]] = []
    for x, y, side, _ in sorted(found, key=lambda f: -f[3]):
        # A window within a face, or one that holds a face in a corner, is a false find.
        if all(math.hypot(x - a, y - b) > 0.6 * max(side, s) for a, b, s in kept):
            kept.append((x, y, side))
    return sorted(kept, key=lambda f: -f[2])


def _head(face: tuple[float, float, float], size: tuple[int, int]) -> KeepArea:
    """The head about a face: hair above, chin below, ears beside (proportions by common practice, no source)."""
    x, y, side = face
    return area("face", x - 0.62 * side, y - 0.85 * side, x + 0.62 * side, y + 0.68 * side, size)


def area(kind: str, x0: float, y0: float, x1: float, y1: float, size: tuple[int, int]) -> KeepArea:
    """A keep area from a box in px, cut to the picture."""
    (x0, x1), (y0, y1) = (
        sorted((min(max(a, 0.0), s), min(max(b, 0.0), s))) for a, b, s in ((x0, x1, size[0]), (y0, y1, size[1]))
    )
    return KeepArea.model_validate(
        {
            "kind": kind, "left": x0 / size[0], "top": y0 / size[1],
            "width": max(1e-6, (x1 - x0) / size[0] - 1e-12), "height": max(1e-6, (y1 - y0) / size[1] - 1e-12),
        }
    )  # fmt: skip


def subject(grey: Bytes) -> tuple[KeepArea, ...]:
    """The box about what draws the eye, when that is one clear place of the picture; nothing otherwise."""
    height, width = grey.shape
    share = 64 / max(height, width)
    size = max(8, round(width * share)), max(8, round(height * share))
    small = cv2.resize(grey, size, interpolation=cv2.INTER_AREA).astype(np.float32)
    spectrum = np.fft.fft2(small)
    logs = np.log(np.abs(spectrum) + 1e-9).astype(np.float32)
    residual = logs - cv2.blur(logs, (3, 3))
    salient = np.abs(np.fft.ifft2(np.exp(residual + 1j * np.angle(spectrum)))) ** 2
    smooth = cv2.GaussianBlur(salient.astype(np.float32), (0, 0), 2.5)
    # The frame of a picture repeats in its transform and draws the estimate there.
    smooth[:2], smooth[-2:], smooth[:, :2], smooth[:, -2:] = 0, 0, 0, 0
    seen = (smooth > 3 * smooth.mean()).astype(np.uint8)
    count, _, boxes, _ = cv2.connectedComponentsWithStats(seen)
    if count < 2:
        return ()
    x, y, w, h, _ = max(boxes[1:], key=lambda b: int(b[4])).tolist()
    if not 0.005 < w * h / (size[0] * size[1]) < 0.4:
        return ()
    return (area("subject", x, y, x + w, y + h, size),)
