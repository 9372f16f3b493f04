"""A photo that goes on beyond its edges with texture of its own: strips of it that meet the edge well are laid on, cut along the
line where they differ least (A. Efros and W. Freeman, "Image Quilting for Texture Synthesis and Transfer", SIGGRAPH 2001), their
colours led over into the edge's. Strips keep their rows, or columns, so that a horizon stays level.

What is taken from where is decided on one small picture of the photo, so that it is the same at every size.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import cv2
import numpy as np
from numpy.typing import NDArray

Bytes = NDArray[np.uint8]
Floats = NDArray[np.float32]
Edges = tuple[float, float, float, float]  # how far it goes on: left, top, right, bottom, of its width or height
SMALL_PX = 256  # of the longer side of the picture on which it is decided
_TEXTURE_PX = 7  # of the small picture: what is smaller is texture
_OVERLAP = 0.1  # of a side: how far a strip lies over the edge
_SHARES = (0.34, 0.2, 0.12, 0.07)  # of a side: what one adds at most
# What counts beside how well a strip meets the edge: how like it is to what lies along it; what all cost, short ones and those
# taken before more. Squared levels, and factors (found by trying on photographs).
_ALIKE, _ALL, _SHORT, _AGAIN = 1.0, 20.0, 0.1, 1.2
_SOFT = 0.25  # of the overlap: along which one runs over into the other
_TURNS = {
    "right": (0, 0),
    "left": (0, 1),
    "bottom": (1, 0),
    "top": (1, 1),
}  # laid on its side, mirrored: then it grows right


@dataclass(frozen=True)
class Strip:
    """A strip laid on at one side: whence it comes (mirrored or not; of that side's length, as the lengths are), where it is cut
    along the overlap for each row, 0 to 1, and what its colours are led over by."""

    side: str
    mirrored: bool
    begins: float
    overlap: float
    adds: float
    cut: Floats
    led: Floats


def plan_bytes(strips: Sequence[Strip]) -> int:
    """Bytes that a plan takes, about."""
    return sum(200 + strip.cut.nbytes + strip.led.nbytes for strip in strips)


def shrink_for_planning(image: Bytes) -> Bytes:
    """All of a photo, (h, w, 3), at the size at which it is planned."""
    k = SMALL_PX / max(image.shape[:2])
    size = max(1, round(image.shape[1] * k)), max(1, round(image.shape[0] * k))
    how = cv2.INTER_AREA if k < 1 else cv2.INTER_LINEAR
    return np.asarray(cv2.resize(image, size, interpolation=how), np.uint8)


def plan_strips(
    seen: Bytes, edges: Edges, spare: Sequence[tuple[float, float, float, float]] = ()
) -> tuple[Strip, ...]:
    """How a photo is made to go on. ``seen``: all of it, (h, w, 3), ``SMALL_PX`` along its longer side. ``spare``: boxes (left,
    top, right, bottom, fractions) that must not show twice. A side for which nothing can be taken goes on mirrored."""
    strips: list[Strip] = []
    whole = seen
    # Sideways first, then all of that up and down.
    for tall, pair in ((False, ("left", "right")), (True, ("top", "bottom"))):
        length = seen.shape[0 if tall else 1]
        taken = np.zeros(length, np.bool_)
        for box in spare:
            low, high = (box[1], box[3]) if tall else (box[0], box[2])
            taken[max(0, int(low * length)) : max(0, int(np.ceil(high * length)))] = True
        source = whole
        for side in pair:
            left = edges[("left", "top", "right", "bottom").index(side)]
            while left > 1e-6:
                strips_there = [s for s in strips if s.side == side]
                strip = _strip(side, source, whole, taken, left, length, strips_there)
                strips.append(strip)
                whole = lay_strip(whole, source, strip)
                left -= strip.adds
    return tuple(strips)


def extend_edges(image: Bytes, strips: Sequence[Strip]) -> Bytes:
    """An image (h, w, 3), all of the photo, that goes on as planned."""
    whole, source = image, image
    for n, strip in enumerate(strips):
        if n and strip.side in ("top", "bottom") and strips[n - 1].side in ("left", "right"):
            source = whole
        whole = lay_strip(whole, source, strip)
    return whole


def added_px(strips: Sequence[Strip], width: int, height: int) -> tuple[int, int]:
    """How many px are laid on at the left and at the top of an image of this size."""
    return sum(_px(s, width)[2] for s in strips if s.side == "left"), sum(
        _px(s, height)[2] for s in strips if s.side == "top"
    )


def _px(strip: Strip, length: int) -> tuple[int, int, int]:
    """Where it begins, its overlap, and what it adds, in px of a side so long."""
    adds = max(1, round(strip.adds * length))
    overlap = max(1, round(strip.overlap * length))
    return max(0, min(round(strip.begins * length), length - overlap - adds)), overlap, adds


def _turn_to_right(image: NDArray[np.uint8], side: str) -> Bytes:
    """An image so that the side it grows at is its right one; and back."""
    aside, mirrored = _TURNS[side]
    if aside:
        image = image.transpose(1, 0, 2)
    return image[:, ::-1] if mirrored else image


def _turn_back(image: Bytes, side: str) -> Bytes:
    aside, mirrored = _TURNS[side]
    image = image[:, ::-1] if mirrored else image
    return image.transpose(1, 0, 2) if aside else image


def _strip(
    side: str, source: Bytes, whole: Bytes, taken: NDArray[np.bool_], adds: float, length: int, before: Sequence[Strip]
) -> Strip:  # fmt: skip
    """The strip that meets an edge best and is most like what lies along it."""
    pixels, edge = _turn_to_right(source, side).astype(np.float32), _turn_to_right(whole, side)
    source_edge = taken[::-1] if _TURNS[side][1] else taken
    plain = Strip(side, False, 0.0, _OVERLAP, adds, np.zeros(1, np.float32), np.zeros((1, 3), np.float32))
    _, overlap, _ = _px(plain, length)
    seen = np.ascontiguousarray(edge[:, -overlap:]).astype(np.float32)
    soft = cv2.blur(pixels, (_TEXTURE_PX, _TEXTURE_PX))  # grain and blades of grass are no other thing
    along = soft[:, -overlap:].mean(axis=1, keepdims=True)
    # How far each column of the source is from that, where it is furthest: what stands there must not stand there again.
    unlike = np.sort(((soft - along) ** 2).mean(axis=2), axis=0)[-max(1, len(pixels) // 12) :].mean(axis=0)
    unlike[source_edge] = np.inf
    best: tuple[float, Strip] | None = None
    for mirrored in (False, True):
        flipped = np.ascontiguousarray(pixels[:, ::-1] if mirrored else pixels)
        strange = unlike[::-1] if mirrored else unlike
        off = cv2.matchTemplate(flipped, seen, cv2.TM_SQDIFF)[0] / seen.size
        for share in _SHARES:
            strip = replace(plain, mirrored=mirrored, adds=min(adds, share))
            _, _, new = _px(strip, length)
            # Its own edge, mirrored, is what a plain mirror shows.
            begins = np.arange(
                overlap if mirrored else 0, flipped.shape[1] - overlap - new + (1 if mirrored else -overlap)
            )
            if not len(begins):
                continue
            along_it = np.lib.stride_tricks.sliding_window_view(strange, overlap + new)[begins].mean(axis=1)
            again = np.zeros(len(begins), np.bool_)
            for other in before:
                again |= (np.abs(other.begins - begins / length) < share / 2) & (other.mirrored == mirrored)
            cost = off[begins] + _ALIKE * along_it + _ALL
            cost = cost * (1 + _SHORT * math.log2(_SHARES[0] / share)) * np.where(again, _AGAIN, 1)
            least = int(np.argmin(cost))
            if best is None or cost[least] < best[0]:
                best = float(cost[least]), replace(strip, begins=begins[least] / length)
    strip = best[1] if best and math.isfinite(best[0]) else replace(plain, mirrored=True)
    fresh = _cut_strip(_turn_to_right(source, side), strip, length).astype(np.float32)[:, :overlap]
    cost = ((fresh - seen) ** 2).sum(axis=2)
    rows_kept = np.flatnonzero(source_edge[-overlap:]) if not before else np.empty(0, np.int64)
    if len(rows_kept):  # what must stay visible at the photo's own edge is not cut away
        cost[:, : rows_kept[-1]] += np.float32(1e9)
    cut = _cheapest_cut(cost)
    off_by = np.stack([_cut_difference(seen - fresh, cut, row) for row in range(len(cut))])
    led = cv2.GaussianBlur(off_by[:, None], (0, 0), max(1.0, len(cut) / 40))[:, 0].astype(np.float32)
    return replace(strip, cut=((cut + 0.5) / overlap).astype(np.float32), led=led)


def _cut_difference(off: Floats, cut: NDArray[np.int64], row: int) -> Floats:
    """The mean difference of a row about where it is cut."""
    return np.asarray(off[row, max(0, cut[row] - 2) : cut[row] + 3].mean(axis=0), np.float32)


def _cheapest_cut(cost: Floats) -> NDArray[np.int64]:
    """The way from the first row to the last that costs least, a column for each row, by dynamic programming."""
    best = cost.astype(np.float64)
    for row in range(1, len(best)):
        above = np.pad(best[row - 1], 1, constant_values=np.inf)
        best[row] += np.minimum(np.minimum(above[:-2], above[1:-1]), above[2:])
    way = np.empty(len(best), np.int64)
    way[-1] = int(np.argmin(best[-1]))
    for row in range(len(best) - 2, -1, -1):
        low = max(0, way[row + 1] - 1)
        way[row] = low + int(np.argmin(best[row, low : way[row + 1] + 2]))
    return way


def _cut_strip(pixels: Bytes, strip: Strip, length: int) -> Bytes:
    begins, overlap, adds = _px(strip, length)
    flipped = pixels[:, ::-1] if strip.mirrored else pixels
    part = flipped[:, begins : begins + overlap + adds]
    short = overlap + adds - part.shape[1]
    return cv2.copyMakeBorder(part, 0, 0, 0, short, cv2.BORDER_REFLECT).astype(np.uint8) if short > 0 else part


def lay_strip(whole: Bytes, source: Bytes, strip: Strip) -> Bytes:
    """An image with a strip of its source laid on."""
    pixels, edge = _turn_to_right(source, strip.side), _turn_to_right(whole, strip.side)
    length = source.shape[0 if _TURNS[strip.side][0] else 1]
    _, overlap, adds = _px(strip, length)
    rows = edge.shape[0]
    cut = cv2.resize(strip.cut[:, None], (1, rows), interpolation=cv2.INTER_LINEAR)[:, 0]
    led = cv2.resize(strip.led[:, None], (1, rows), interpolation=cv2.INTER_LINEAR).reshape(rows, 1, 3)
    x = (np.arange(overlap + adds, dtype=np.float32) + 0.5)[None] / np.float32(overlap)
    # The colours of the edge where it is cut, less and less on the way to the strip's other end.
    still = np.clip(1 - (x - cut[:, None]) / (np.float32((overlap + adds) / overlap) - cut[:, None]), 0, 1)
    fresh = _cut_strip(pixels, strip, length).astype(np.float32) + led * still[..., None]
    t = np.clip((x[:, :overlap] - cut[:, None]) / np.float32(_SOFT) + np.float32(0.5), 0, 1)
    # Wholly the photo where the overlap begins, wholly the strip where the photo ends.
    t = np.clip(t * np.minimum(1, x[:, :overlap] * 8), 1 - np.minimum(1, (1 - x[:, :overlap]) * 8), 1)
    share = (t * t * (3 - 2 * t))[..., None]
    out = np.empty((rows, edge.shape[1] + adds, 3), np.uint8)
    out[:, : edge.shape[1]] = edge
    before = edge[:, -overlap:].astype(np.float32)
    out[:, edge.shape[1] - overlap : edge.shape[1]] = np.rint(
        np.clip(before + (fresh[:, :overlap] - before) * share, 0, 255)
    )
    out[:, edge.shape[1] :] = np.rint(np.clip(fresh[:, overlap:], 0, 255))
    return np.ascontiguousarray(_turn_back(out, strip.side))
