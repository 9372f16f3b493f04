"""Looking at a photo once: where its faces are, or else what draws the eye, and how far its values reach.

Where there is no face, the spectral residual (X. Hou and L. Zhang, "Saliency Detection: A Spectral Residual Approach",
CVPR 2007) gives an estimate.
"""

import cv2
import numpy as np
from numpy.typing import NDArray

from ..document import Found, KeepArea
from ..document.photo import Flaw
from .faces import SIDE, Face, faces
from .likeness import detail, likeness

Bytes = NDArray[np.uint8]
LOOK_SIDE = SIDE  # px along the longer side
# Measured on the demo's photos, as they are and spoilt by known amounts (tests/core/test_flaws.py).
_DARK, _NIGHT, _SHADES, _WHITE, _BURNT = 64, 30, 89, 243, 0.5  # of 255; share that is white
_SOFT, _SOFT_DETAIL = 3.0, 0.0036
_LEAST = 0.03  # of the longer side: smaller faces are bystanders,
_BESIDE = 0.3  # and so are those much smaller than the largest


def look(pixels: Bytes) -> Found:
    """What is found in a photo. ``pixels``: RGB (h, w, 3), upright, at any size; 640 px along the longer side suffice."""
    small = _shrink_to(pixels, LOOK_SIDE)
    size = small.shape[1], small.shape[0]
    grey = cv2.cvtColor(small, cv2.COLOR_RGB2GRAY)
    darker = np.cumsum(cv2.calcHist([grey], [0], None, [256], [0, 256]))  # pixels at or below each value
    black, white = np.searchsorted(darker, (0.004 * darker[-1], 0.996 * darker[-1]))
    upright = np.asarray(grey, np.uint8)
    areas = tuple(_head(face, size) for face in _choose_meant_faces(faces(small), max(size)))[:50]
    return Found(
        keep=areas or subject(upright), black=float(black), white=float(white),
        likeness=likeness(upright), detail=round(detail(upright), 4), flaw=flaw(upright),
    )  # fmt: skip


def flaw(grey: Bytes) -> Flaw:
    """What spoils all of a photo, (h, w) at 640 px or less along the longer side: nearly nothing of it is lighter than a quarter,
    most of it is white, or nothing in it is sharp. What is dark on purpose has lights; of a night no sharpness is asked."""
    darker = np.cumsum(cv2.calcHist([grey], [0], None, [256], [0, 256])) / grey.size
    if darker[_DARK] > 0.99:
        return "too dark"
    if (
        1 - darker[_WHITE] > _BURNT and darker[_SHADES] < 0.05
    ):  # on a white ground on purpose there are shades beside it
        return "burnt out"
    if darker[_NIGHT] > 0.5:
        return ""
    finest = cv2.meanStdDev(cv2.Laplacian(grey, cv2.CV_64F))[1].item() ** 2
    return "blurred" if finest < _SOFT and detail(grey) < _SOFT_DETAIL else ""


def _shrink_to(pixels: Bytes, side: int) -> Bytes:
    """The pixels at ``side`` px along the longer side, or as they are where that is less.

    Down to half, neighbours are weighed by nearness: that leaves none of them out and takes a sixth of the time of areas.
    """
    height, width = pixels.shape[:2]
    share = side / max(height, width)
    if share >= 1:
        return pixels
    size = max(1, round(width * share)), max(1, round(height * share))
    return np.asarray(
        cv2.resize(pixels, size, interpolation=cv2.INTER_LINEAR if share >= 0.5 else cv2.INTER_AREA), np.uint8
    )


def _choose_meant_faces(faces_seen: list[Face], longer: int) -> list[Face]:
    """Faces that a picture is about, given the largest first: not those of bystanders."""
    sides = [max(face.width, face.height) for face in faces_seen]
    return [
        face for face, side in zip(faces_seen, sides, strict=True) if side >= max(_LEAST * longer, _BESIDE * sides[0])
    ]


def _head(face: Face, size: tuple[int, int]) -> KeepArea:
    """The head about a face: hair above, chin below, ears beside, however it leans (proportions: common practice, no
    source)."""
    (x, y), (ux, uy) = face.centre, face.up
    along = face.width * abs(ux) + face.height * abs(uy)
    x, y = x + 0.12 * along * ux, y + 0.12 * along * uy
    across, down = face.width * (0.75 - 0.07 * abs(ux)), face.height * (0.75 - 0.07 * abs(uy))
    return area("face", x - across, y - down, x + across, y + down, size)


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
