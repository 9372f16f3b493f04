"""A subject on its own: how far each pixel of a photo is of it, and its own colours on beyond its edge, so that nothing of the
backdrop that it stood before clings to its hair."""

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from ..document import Free
from .areas import Box, Floats, Size, enclosed_depth, extent, fade_in, grow_box
from .edge_colours import extend_colours, mix_share

Bytes = NDArray[np.uint8]
_BLOCK = 128  # px a side, worked out at a time
# Of the longer side: how far outside its line an edge is looked for; and inside, where more would take what lies along its rim.
_BAND, _INNER = 0.012, 0.005
_COLOURS_PX = 500  # longer side of the picture in which colours go on beyond the line
_OWN, _MIXED = 0.97, 0.6  # so far of the subject a pixel keeps its own colour, and so far none of it


def cut_out_subject(image: Bytes, touch: Free) -> Bytes:
    """RGBA (h, w, 4) of a subject. ``image``: all of the photo, (h, w, 3). Only along its line is anything worked out: what lies
    deep within is the photo's own, what lies far outside is nothing."""
    size = Size(image.shape[1], image.shape[0])
    pixels: Bytes = np.asarray(cv2.cvtColor(image, cv2.COLOR_RGB2RGBA), np.uint8)
    pixels[..., 3] = 0
    box = extent(touch.area, size)
    if box is None:
        return pixels
    band = _BAND * size.longer_side
    box = grow_box(box, round(band) + 1, size)
    small = _shrink_line(touch, size)
    colours, behind = _colours(image, small)
    for cell, is_within in _blocks(touch, size, box, small):
        if is_within:
            pixels[cell[1] : cell[3], cell[0] : cell[2], 3] = round(2.55 * touch.strength)
        else:
            _work_out(pixels, touch, size, cell, colours, behind)
    return pixels


def _work_out(pixels: Bytes, touch: Free, size: Size, cell: Box, colours_here: Floats, behind: Floats) -> None:
    """A block of the photo that the line passes, in place."""
    band, inner_band = _BAND * size.longer_side, _INNER * size.longer_side
    depth = _depth(touch, size, cell)
    share = fade_in(depth, touch.area.soft * size.longer_side)
    part = pixels[cell[1] : cell[3], cell[0] : cell[2]]
    edge = (depth > -band) & (depth < inner_band)
    if edge.any():
        seen = part[edge, :3].astype(np.float32)
        inner, outer = (_small_colours_at(colours, size, cell)[edge] for colours in (colours_here, behind))
        follows, sure = mix_share(seen, inner, outer)
        least = fade_in(depth[edge] - inner_band / 2, inner_band / 2)
        follows = np.clip(follows, least, fade_in(depth[edge] + band, band))
        share[edge] += (follows - share[edge]) * sure * np.float32(touch.edges)
        keeps = np.clip((share[edge] - _MIXED) / (_OWN - _MIXED), 0, 1)[:, None]
        part[edge, :3] = np.rint(seen * keeps + inner * (1 - keeps))
    part[..., 3] = np.rint(share * np.float32(2.55 * touch.strength))


def _blocks(touch: Free, size: Size, box: Box, small: "_Small") -> Iterator[tuple[Box, bool]]:
    """The blocks of a box that are not wholly outside the subject, and whether each lies deep within it: nothing fades there."""
    spare = 2 / small.scale  # px by which the small picture's depths may be off
    least_within = max(_INNER, touch.area.soft) * size.longer_side + 1 + spare
    most_outside = -_BAND * size.longer_side - 1 - spare
    for top in range(box[1], box[3], _BLOCK):
        for left in range(box[0], box[2], _BLOCK):
            cell = left, top, min(box[2], left + _BLOCK), min(box[3], top + _BLOCK)
            rows = slice(math.floor(cell[1] * small.scale), math.ceil(cell[3] * small.scale) + 1)
            columns = slice(math.floor(cell[0] * small.scale), math.ceil(cell[2] * small.scale) + 1)
            depth = small.depth[rows, columns] / small.scale
            if depth.max() > most_outside:
                yield cell, bool(depth.min() > least_within)


def _depth(touch: Free, size: Size, box: Box) -> Floats:
    depth = enclosed_depth(touch.area.rings, size, box)[0]
    return -depth if touch.area.outside else depth


@dataclass(frozen=True)
class _Small:
    """A photo's size at a small ``scale``, and how deep its pixels lie in the subject there, px of that size."""

    size: Size
    scale: float
    depth: Floats


def _shrink_line(touch: Free, size: Size) -> _Small:
    scale = min(1.0, _COLOURS_PX / size.longer_side)
    small = Size(max(1, round(size.width * scale)), max(1, round(size.height * scale)))
    return _Small(small, scale, _depth(touch, small, small.box))


def _colours(image: Bytes, small: _Small) -> tuple[Floats, Floats]:
    """The subject's colours, small, going on beyond it; and those of what is behind it, going on below it."""
    seen = cv2.resize(image, (small.size.width, small.size.height), interpolation=cv2.INTER_AREA).astype(np.float32)
    away = _BAND * small.size.longer_side
    return extend_colours(seen, small.depth > away), extend_colours(seen, small.depth < -away)


def _small_colours_at(colours: Floats, size: Size, box: Box) -> NDArray[Any]:
    """Small colours, where the pixels of a box are."""
    scale = colours.shape[1] / size.width, colours.shape[0] / size.height
    move = [(place + 0.5) * k - 0.5 for place, k in zip(box[:2], scale, strict=True)]
    onto = np.array([[scale[0], 0, move[0]], [0, scale[1], move[1]]])
    flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    return cv2.warpAffine(
        colours, onto, (box[2] - box[0], box[3] - box[1]), flags=flags, borderMode=cv2.BORDER_REPLICATE
    )
