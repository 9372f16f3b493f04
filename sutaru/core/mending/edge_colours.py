"""Telling a subject from its backdrop along its edge: how both are coloured there is said by what lies well within and well
without, and a pixel is so far of the subject as its colour lies on the way from the one to the other (the compositing equation
solved for its share: T. Porter and T. Duff, "Compositing Digital Images", SIGGRAPH 1984)."""

import cv2
import numpy as np
from numpy.typing import NDArray

from .areas import Floats

# Colours so far apart, 0 to 255, tell subject and backdrop apart well enough; so far off the way between them tells nothing.
_APART, _OFF = 24.0, 40.0
_COARSEST = 2  # px a side of the smallest picture that colours go on in


def mix_share(seen: Floats, inner: Floats, outer: Floats) -> tuple[Floats, Floats]:
    """How far colours (n, 3) lie on the way from what is behind to what is before, 0 to 1; and how sure that is."""
    way = inner - outer
    long = (way * way).sum(axis=1)
    share = ((seen - outer) * way).sum(axis=1) / np.maximum(long, np.float32(1))
    off = seen - outer - way * np.clip(share, 0, 1)[:, None]
    sure = long / (long + np.float32(_APART**2)) * np.exp(-(off * off).sum(axis=1) / np.float32(_OFF**2))
    return np.clip(share, 0, 1), sure


def extend_colours(seen: Floats, known: NDArray[np.bool_]) -> Floats:
    """Colours (h, w, 3) that go on from where they are known: what lies near counts, what lies further where nothing does."""
    if not known.any():
        return seen
    levels = [(seen * known[..., None].astype(np.float32), known.astype(np.float32))]
    while max(levels[-1][1].shape) > _COARSEST:
        height, width = levels[-1][1].shape
        half = max(1, (width + 1) // 2), max(1, (height + 1) // 2)
        levels.append(tuple(cv2.resize(of, half, interpolation=cv2.INTER_AREA) for of in levels[-1]))  # type: ignore[arg-type]
    colours = np.zeros_like(levels[-1][0])
    for sums, weight in reversed(levels):
        size = weight.shape[1], weight.shape[0]
        further = cv2.resize(colours, size, interpolation=cv2.INTER_LINEAR).reshape(*weight.shape, 3)
        mean_colours = sums.reshape(*weight.shape, 3) / np.maximum(weight, np.float32(1e-4))[..., None]
        sure = (
            np.clip(weight * 4, 0, 1)[..., None]
            if weight is not levels[-1][1]
            else np.ones((*weight.shape, 1), np.float32)
        )
        colours = (further + (mean_colours - further) * sure).astype(np.float32)
    return colours
