"""Telling a subject from its backdrop along its edge: how both are coloured there is said by what lies well within and well
without, and a pixel is so far of the subject as its colour lies on the way from the one to the other (the compositing equation
solved for its share: T. Porter and T. Duff, "Compositing Digital Images", SIGGRAPH 1984)."""

import cv2
import numpy as np
from numpy.typing import NDArray

from .areas import Floats

# Colours so far apart, 0 to 255, tell subject and backdrop apart well enough; so far off the way between them tells nothing.
_APART, _OFF = 24.0, 40.0


def between(seen: Floats, inner: Floats, outer: Floats) -> tuple[Floats, Floats]:
    """How far colours (n, 3) lie on the way from what is behind to what is before, 0 to 1; and how sure that is."""
    way = inner - outer
    long = (way * way).sum(axis=1)
    share = ((seen - outer) * way).sum(axis=1) / np.maximum(long, np.float32(1))
    off = seen - outer - way * np.clip(share, 0, 1)[:, None]
    sure = long / (long + np.float32(_APART**2)) * np.exp(-(off * off).sum(axis=1) / np.float32(_OFF**2))
    return np.clip(share, 0, 1), sure


def going_on(seen: Floats, known: NDArray[np.bool_]) -> Floats:
    """Colours (h, w, 3) that go on from where they are known: those near by count, further ones where there are none."""
    own = known.astype(np.float32)
    colours, sure = np.zeros_like(seen), np.zeros(own.shape, np.float32)
    for sigma in (2.0, 4.0, 8.0, 20.0, 60.0):
        weight = cv2.GaussianBlur(own, (0, 0), sigma)
        mean = cv2.GaussianBlur(seen * own[..., None], (0, 0), sigma) / np.maximum(weight, np.float32(1e-4))[..., None]
        more = np.clip(weight * 20, 0, 1) * (1 - sure)
        colours += mean * more[..., None]
        sure += more
    return np.asarray(np.where(sure[..., None] > 0.05, colours / np.maximum(sure, 0.05)[..., None], seen), np.float32)
