"""What the machine proposes for mending: whence a place is best covered, where dust lies, where a skin has blemishes.

Places are fractions of the photo's size; nothing here changes anything.
"""

import math
from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from ..document import Cover, KeepArea, Stroke
from .areas import Box, Size, coverage, extent, grow_box

Bytes = NDArray[np.uint8]
Place = tuple[float, float]
_COMPARED_PX = 64  # a side of what is compared, at most: larger places are compared smaller
_AROUND = 5.0  # times its own size: how far around a place its source is looked for
_FAR = 0.15  # how much worse a source a whole search away may be than one close by, share of what is usual
_MOST = 300  # proposals at once


@dataclass(frozen=True)
class _Kind:
    """When a spot stands out: how far off it is from what lies around it, of 255, and how many times the usual there; what
    the usual may be at most, and the slope of what lies around."""

    least: float
    times: float
    loud: float
    slope: float
    darker: bool = False


_DUST = _Kind(9.0, 4.5, 3.0, 2.0)
_SKIN = _Kind(9.0, 3.5, 8.0, 5.0, darker=True)
_SKIN_REACH = 45.0  # of 255, in each of L*, a* and b*: what is further off a face's usual colour is no skin of it
_NEAR, _FEW = 0.07, 3  # of the longer side: no more others than this lie so near


@dataclass(frozen=True)
class Speck:
    """A round place to be covered."""

    centre: Place
    radius: float  # of the photo's longer side


@dataclass(frozen=True)
class _Sought:
    """A place and what lies around it, small enough to be compared."""

    seen: NDArray[np.float32]  # where its source may lie
    place: NDArray[np.float32]
    corner: tuple[int, int]  # of the place there, x and y
    inside: NDArray[np.bool_]  # what is to be covered of it
    near: NDArray[np.bool_]  # what is compared: the box about a long stroke holds much else
    fewer: int  # photo px to each of these
    reach: int  # how far its source is looked for
    size: tuple[float, float]  # of what is to be covered


def _search_area(image: Bytes, touch: Cover, size: Size, box: Box) -> _Sought:
    wide, high = box[2] - box[0], box[3] - box[1]
    across = 2 * touch.area.radius * size.longer_side if isinstance(touch.area, Stroke) else min(wide, high)
    ring, longest = max(2, round(0.35 * across)), max(wide, high)
    reach = round(longest * (_AROUND if longest < 2 * _COMPARED_PX else 2.0))
    fewer = max(1, math.ceil(longest / _COMPARED_PX))
    search, about = grow_box(box, reach + ring, size), grow_box(box, ring, size)
    part: NDArray[Any] = image[search[1] : search[3], search[0] : search[2]]
    if fewer > 1:
        part = cv2.resize(part, (-(-part.shape[1] // fewer), -(-part.shape[0] // fewer)), interpolation=cv2.INTER_AREA)
    left, top = (about[0] - search[0]) // fewer, (about[1] - search[1]) // fewer
    right, bottom = max((about[2] - search[0]) // fewer, left + 1), max((about[3] - search[1]) // fewer, top + 1)
    seen = part.astype(np.float32)
    place = seen[top:bottom, left:right]
    share = coverage(touch.area, size, about)
    inside = cv2.resize(share, (place.shape[1], place.shape[0]), interpolation=cv2.INTER_AREA) > 0.02
    side = 2 * max(1, math.ceil(ring / fewer)) + 1
    near = (cv2.dilate(inside.astype(np.uint8), np.ones((side, side), np.uint8)) > 0) & ~inside
    return _Sought(seen, place, (left, top), inside, near, fewer, max(1, reach // fewer), (wide / fewer, high / fewer))


def find_best_shift(image: Bytes, touch: Cover) -> Place | None:
    """How far away the place is that a touch's area is best covered from: what lies around both is alike. ``image`` is all of
    the photo, at any size. None where there is nowhere to take it from."""
    size = Size(image.shape[1], image.shape[0])
    box = extent(touch.area, size)
    if box is None:
        return None
    it = _search_area(image, touch, size, box)
    height, width = it.inside.shape
    if not it.near.any() or it.seen.shape[0] <= height or it.seen.shape[1] <= width:
        return None
    around = np.repeat(it.near.astype(np.float32)[..., None], 3, axis=2)
    off = cv2.matchTemplate(it.seen, it.place, cv2.TM_SQDIFF, mask=around) / np.float32(around.sum())
    dx = np.arange(off.shape[1], dtype=np.float32)[None, :] - it.corner[0]
    dy = np.arange(off.shape[0], dtype=np.float32)[:, None] - it.corner[1]
    off += np.hypot(dx, dy) * np.float32(_FAR * float(np.median(off)) / it.reach)
    off += _roughness(it.seen, it.inside, it.place[it.near].mean(axis=1))
    # It must not cover itself with what it is to hide.
    off[(np.abs(dx) < max(2.0, it.size[0])) & (np.abs(dy) < max(2.0, it.size[1]))] = np.inf
    if not np.isfinite(off).any():
        return None
    y, x = np.unravel_index(int(np.argmin(off)), off.shape)
    return float((x - it.corner[0]) * it.fewer / size.width), float((y - it.corner[1]) * it.fewer / size.height)


def _roughness(
    seen: NDArray[np.float32], inside: NDArray[np.bool_], around: NDArray[np.float32]
) -> NDArray[np.float32]:
    """By how much what would be taken from each place is rougher than what lies around the target: something lies there."""
    grey, mask = seen.mean(axis=2), inside.astype(np.float32)
    count = max(1.0, float(mask.sum()))
    mean = cv2.matchTemplate(grey, mask, cv2.TM_CCORR) / np.float32(count)
    square = cv2.matchTemplate(grey * grey, mask, cv2.TM_CCORR) / np.float32(count)
    return np.maximum(square - mean * mean - np.float32(around.var()), 0).astype(np.float32)


def specks(image: Bytes) -> list[Speck]:
    """Small round spots that stand out where the photo is quiet: dust on the sensor or on a scan, the clearest first.
    ``image``: the photo, some 1,500 px of its longer side or more."""
    size = Size(image.shape[1], image.shape[0])
    return _exclude_textures(_spots(cv2.cvtColor(image, cv2.COLOR_RGB2GRAY), None, size, _DUST), size)[:_MOST]


def blemishes(image: Bytes, faces: tuple[KeepArea, ...], features: list[tuple[Place, float]]) -> list[Speck]:
    """Small spots inside faces that are darker or redder than the skin around them. ``features``: eyes, nose and mouth, each
    with how far about it (of the longer side) nothing is proposed."""
    size = Size(image.shape[1], image.shape[0])
    skin = np.zeros(image.shape[:2], np.uint8)
    lab = cv2.cvtColor(image, cv2.COLOR_RGB2LAB)
    smooth = cv2.medianBlur(lab, 2 * max(2, round(size.longer_side / 200)) + 1).astype(np.int16)
    for face in faces:
        centre = (face.left + face.width / 2) * size.width, (face.top + face.height / 2) * size.height
        axes = face.width * size.width * 0.4, face.height * size.height * 0.42
        inner = np.zeros(skin.shape, np.uint8)
        cv2.ellipse(inner, tuple(round(v) for v in centre), tuple(round(v) for v in axes), 0, 0, 360, 1, -1)
        usual = np.median(smooth[inner > 0], axis=0) if inner.any() else np.zeros(3)
        alike = np.abs(smooth - usual).max(axis=2) < _SKIN_REACH
        skin |= inner & alike.astype(np.uint8)
    for (x, y), away in features:
        cv2.circle(skin, (round(x * size.width), round(y * size.height)), round(away * size.longer_side), 0, -1)
    # Darker and redder both count: lightness less the red-green axis.
    seen = np.clip(lab[..., 0].astype(np.int16) - 2 * (lab[..., 1].astype(np.int16) - 128) + 40, 0, 255)
    return _spots(seen.astype(np.uint8), skin, size, _SKIN)[:_MOST]


def _spots(grey: NDArray[Any], where: Bytes | None, size: Size, kind: _Kind) -> list[Speck]:
    unit = size.longer_side / 1500
    spots: list[tuple[float, Speck]] = []
    taken = np.zeros(grey.shape, np.uint8)
    for across in (13, 7, 3):  # px of 1,500: the larger first, of which a smaller look sees parts
        side = 2 * max(2, round(across * unit)) + 1
        base = cv2.medianBlur(grey, min(side, 101))
        off = grey.astype(np.float32) - base
        usual = cv2.blur(np.abs(off), (4 * side + 1, 4 * side + 1)) + np.float32(0.5)
        # Where the base itself changes there is an edge, or texture: no quiet place.
        slope = cv2.morphologyEx(cv2.blur(base, (side, side)), cv2.MORPH_GRADIENT, np.ones((3, 3), np.uint8))
        stands = (-off if kind.darker else np.abs(off)) > np.maximum(
            np.float32(kind.least), np.float32(kind.times) * usual
        )
        stands &= (usual < kind.loud) & (slope <= kind.slope) & (taken == 0)
        if where is not None:
            stands &= where > 0
        count, _, stats, centres = cv2.connectedComponentsWithStats(stands.astype(np.uint8))
        for n in range(1, count):
            wide, high, area = (int(v) for v in stats[n, 2:5])
            if area < 2 or max(wide, high) > 1.2 * side or max(wide, high) > 3 * min(wide, high) + 1:
                continue
            x, y = float(centres[n, 0]), float(centres[n, 1])
            radius = max(wide, high) / 2 + max(1.5, 0.35 * max(wide, high))
            cv2.circle(taken, (round(x), round(y)), math.ceil(radius), 1, -1)
            strength = abs(float(off[round(y), round(x)])) / float(usual[round(y), round(x)])
            place = (x + 0.5) / size.width, (y + 0.5) / size.height
            spots.append((strength, Speck(place, radius / size.longer_side)))
    spots.sort(key=lambda entry: -entry[0])
    return [speck for _, speck in spots]


def _exclude_textures(spots: list[Speck], size: Size) -> list[Speck]:
    """Those with few others near: a texture is nothing but spots."""
    if not spots:
        return []
    centres = np.array([(s.centre[0] * size.width, s.centre[1] * size.height) for s in spots])
    near = (np.hypot(*(centres[:, None] - centres[None]).transpose(2, 0, 1)) < _NEAR * size.longer_side).sum(axis=1) - 1
    return [spot for spot, count in zip(spots, near.tolist(), strict=True) if count <= _FEW]
