"""How a photo would have to be turned to stand upright, found from the lines in it that ought to."""

import cv2
import numpy as np
from numpy.typing import NDArray

from ..document import Upright
from ..fitting.straightening import FOCAL
from ..geometry.lenses import camera_turn
from ..geometry.matrices import apply

_LOOKED_PX = 1000
_LEANS = 28.0  # degrees: lines further off upright are none
_SHORT = 0.05  # of the photo's height: shorter ones tell nothing
_NEAR = 1.5  # degrees within which a line counts as upright
_ENOUGH = 0.8  # of the photo's height: how much line must agree


def detect_upright(image: NDArray[np.uint8]) -> Upright | None:
    """How a photo (h, w, 3) is put upright by the lines in it that ought to be; None where too few agree."""
    share = min(1.0, _LOOKED_PX / max(image.shape[:2]))
    size = max(1, round(image.shape[1] * share)), max(1, round(image.shape[0] * share))
    grey = cv2.cvtColor(cv2.resize(image, size, interpolation=cv2.INTER_AREA), cv2.COLOR_RGB2GRAY)
    lines = cv2.createLineSegmentDetector().detect(grey)[0]
    if lines is None:
        return None
    ends = lines.reshape(-1, 2, 2).astype(np.float64) - np.array(size) / 2
    along = ends[:, 1] - ends[:, 0]
    long = np.hypot(along[:, 0], along[:, 1])
    off = np.degrees(np.arctan2(np.abs(along[:, 0]), np.abs(along[:, 1])))
    some = (off < _LEANS) & (long > _SHORT * size[1])
    ends, long = ends[some], long[some]
    if not len(ends):
        return None
    ends, long = ends[np.argsort(-long)[:200]], np.sort(long)[::-1][:200]

    def agree(pitch: float, roll: float) -> float:
        seen = apply(camera_turn(FOCAL * max(size), pitch, 0.0, roll), ends)
        step = seen[:, 1] - seen[:, 0]
        lean = np.degrees(np.arctan2(step[:, 0], np.abs(step[:, 1]))) / _NEAR
        return float((long * np.maximum(1 - lean**2, 0)).sum())

    best, reach, step = (0.0, 0.0), (30.0, 12.0), (2.0, 1.0)
    for _ in range(4):
        tried = [
            (best[0] + p, best[1] + r)
            for p in np.arange(-reach[0], reach[0] + 1e-9, step[0])
            for r in np.arange(-reach[1], reach[1] + 1e-9, step[1])
        ]
        best = max(tried, key=lambda both: (agree(*both), -abs(both[0]) - abs(both[1])))
        reach, step = step, (step[0] / 5, step[1] / 5)
    if agree(*best) < _ENOUGH * size[1] or not (abs(best[0]) <= 25 and abs(best[1]) <= 15):
        return None
    return Upright(pitch_deg=round(best[0], 2), roll_deg=round(best[1], 2))
