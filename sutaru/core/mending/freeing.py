"""A subject on its own: how far each pixel of a photo is of it, and its own colours on beyond its edge, so that nothing of the
backdrop that it stood before clings to its hair."""

from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from ..document import Free
from .areas import Box, Floats, Size, enclosed, extent, fading, grown
from .parting import between, going_on

Bytes = NDArray[np.uint8]
_STRIP = 400_000  # px at a time
# Of the longer side: how far outside its line an edge is looked for; and inside, where more would take what lies along its rim.
_BAND, _INNER = 0.012, 0.005
_COLOURS_PX = 500  # longer side of the picture in which colours go on beyond the line
_OWN, _MIXED = 0.97, 0.6  # so far of the subject a pixel keeps its own colour, and so far none of it


def freed(image: Bytes, touch: Free) -> Bytes:
    """RGBA (h, w, 4) of a subject. ``image``: all of the photo, (h, w, 3)."""
    size = Size(image.shape[1], image.shape[0])
    made = np.dstack([image, np.zeros(image.shape[:2], np.uint8)])
    box = extent(touch.area, size)
    if box is None:
        return made
    band, inner_band = _BAND * size.longer, _INNER * size.longer
    box = grown(box, round(band) + 1, size)
    own, behind = _colours(image, touch, size)
    rows = max(16, _STRIP // (box[2] - box[0]))
    for top in range(box[1], box[3], rows):
        strip = box[0], top, box[2], min(box[3], top + rows)
        depth = _depth(touch, size, strip)
        share = fading(depth, touch.area.soft * size.longer)
        part = made[strip[1] : strip[3], strip[0] : strip[2]]
        edge = (depth > -band) & (depth < inner_band)
        if edge.any():
            seen = part[edge, :3].astype(np.float32)
            inner, outer = (_at(colours, size, strip)[edge] for colours in (own, behind))
            follows, sure = between(seen, inner, outer)
            least = fading(depth[edge] - inner_band / 2, inner_band / 2)
            follows = np.clip(follows, least, fading(depth[edge] + band, band))
            share[edge] += (follows - share[edge]) * sure * np.float32(touch.edges)
            keeps = np.clip((share[edge] - _MIXED) / (_OWN - _MIXED), 0, 1)[:, None]
            part[edge, :3] = np.rint(seen * keeps + inner * (1 - keeps))
        part[..., 3] = np.rint(share * np.float32(2.55 * touch.strength))
    return made


def _depth(touch: Free, size: Size, box: Box) -> Floats:
    depth = enclosed(touch.area.rings, size, box)[0]
    return -depth if touch.area.outside else depth


def _colours(image: Bytes, touch: Free, size: Size) -> tuple[Floats, Floats]:
    """The subject's colours, small, going on beyond it; and those of what is behind it, going on below it."""
    scale = min(1.0, _COLOURS_PX / size.longer)
    small = Size(max(1, round(size.width * scale)), max(1, round(size.height * scale)))
    seen = cv2.resize(image, (small.width, small.height), interpolation=cv2.INTER_AREA).astype(np.float32)
    depth, away = _depth(touch, small, small.box), _BAND * small.longer
    return going_on(seen, depth > away), going_on(seen, depth < -away)


def _at(colours: Floats, size: Size, box: Box) -> NDArray[Any]:
    """Small colours, where the pixels of a box are."""
    scale = colours.shape[1] / size.width, colours.shape[0] / size.height
    move = [(at + 0.5) * k - 0.5 for at, k in zip(box[:2], scale, strict=True)]
    onto = np.array([[scale[0], 0, move[0]], [0, scale[1], move[1]]])
    flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    return cv2.warpAffine(
        colours, onto, (box[2] - box[0], box[3] - box[1]), flags=flags, borderMode=cv2.BORDER_REPLICATE
    )
