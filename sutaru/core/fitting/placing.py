"""Placement: the similarity that lays a photo in an opening, and the rule that it must never leave a gap.

Photo space here is px after EXIF orientation; opening space is mm about the opening's centre. With k mm per px:
``opening = rotation(turn) . k . mirror . (photo - centre)``.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..document import MAX_ZOOM, Opening, Photo, Placement
from ..geometry import outlines
from ..geometry.matrices import Matrix, apply, inverse, rotation, scaling, stretch, translation
from ..measure import MM_PER_INCH


@dataclass(frozen=True)
class Extents:
    """Where the outline reaches along the photo's own axes, mm from the opening's centre."""

    left: float
    top: float
    right: float
    bottom: float


def extents(opening: Opening, turn_deg: float, mirror: bool) -> Extents:
    """Extents of an outline along the axes of a photo turned by ``turn_deg``.

    For a rectangle w x h these are plus and minus ``(w |cos t| + h |sin t|) / 2`` and ``(w |sin t| + h |cos t|) / 2``.
    """
    photo_axes_from_opening = scaling(-1 if mirror else 1, 1) @ rotation(-turn_deg)
    points = np.concatenate(opening.outline.polygons())
    return Extents(*outlines.bounds([apply(photo_axes_from_opening, points)]))


def cover_scale(opening: Opening, photo: Photo, turn_deg: float, mirror: bool) -> float:
    """The smallest mm per photo px at which the photo covers the outline."""
    reach = extents(opening, turn_deg, mirror)
    return max((reach.right - reach.left) / photo.width, (reach.bottom - reach.top) / photo.height)


def whole_scale(opening: Opening, photo: Photo, turn_deg: float) -> float:
    """The largest mm per photo px at which all of the turned photo lies in the box about the outline."""
    box = extents(opening, 0.0, False)
    c, s = abs(rotation(turn_deg)[0, 0]), abs(rotation(turn_deg)[0, 1])
    wide, high = photo.width * c + photo.height * s, photo.width * s + photo.height * c
    return 2 * min(min(-box.left, box.right) / wide, min(-box.top, box.bottom) / high)


def scale(opening: Opening, photo: Photo, placement: Placement) -> float:
    """mm in opening space per photo px."""
    if placement.fit == "whole":
        return whole_scale(opening, photo, placement.turn_deg)
    return cover_scale(opening, photo, placement.turn_deg, placement.mirror) * placement.zoom


def clamped(opening: Opening, photo: Photo, placement: Placement) -> Placement:
    """The nearest placement that leaves no gap: the centre moved so that the outline lies inside the photo.

    A ``whole`` placement is centred at zoom 1.
    """
    if placement.fit == "whole":
        return placement.having(centre=(0.5, 0.5), zoom=1.0)
    zoom = min(max(placement.zoom, 1.0), MAX_ZOOM)
    reach = extents(opening, placement.turn_deg, placement.mirror)
    k = cover_scale(opening, photo, placement.turn_deg, placement.mirror) * zoom
    centre = []
    for at, low, high, size in (
        (placement.centre[0], reach.left, reach.right, photo.width),
        (placement.centre[1], reach.top, reach.bottom, photo.height),
    ):
        least, most = -low / k / size, 1 - high / k / size
        if least > most:  # the tight axis at zoom 1: equal but for rounding
            least = most = (least + most) / 2
        centre.append(min(max(at, least), most))
    return placement.having(centre=(centre[0], centre[1]), zoom=zoom)


def opening_from_photo(opening: Opening, photo: Photo, placement: Placement) -> Matrix:
    """Photo px to opening mm, 3x3."""
    k = scale(opening, photo, placement)
    x, y = placement.centre[0] * photo.width, placement.centre[1] * photo.height
    flip = -k if placement.mirror else k
    return rotation(placement.turn_deg) @ scaling(flip, k) @ translation(-x, -y)


def page_from_photo(opening: Opening, photo: Photo, placement: Placement) -> Matrix:
    """Photo px to page mm, 3x3: the placement, then the surface."""
    return opening.page_from_opening @ opening_from_photo(opening, photo, placement)


def _visible(opening: Opening, photo: Photo, placement: Placement) -> list[NDArray[np.float64]]:
    """The outline in photo px, cut to the photo."""
    photo_from_opening = inverse(opening_from_photo(opening, photo, placement))
    found = [
        outlines.clip_to_box(apply(photo_from_opening, polygon), 0, 0, photo.width, photo.height)
        for polygon in opening.outline.polygons()
    ]
    return [polygon for polygon in found if len(polygon)]


def effective_ppi(opening: Opening, photo: Photo, placement: Placement) -> float:
    """Photo px per printed inch where it is worst: 25.4 over the largest local stretch, least over the visible outline."""
    # Along each side of a polygon the stretch of a homography is greatest at an end or near it: sample sides densely.
    points = [
        p + (np.roll(p, -1, axis=0) - p) * t
        for p in _visible(opening, photo, placement)
        for t in (np.linspace(0, 1, 8, endpoint=False) if opening.surface.kind != "flat" else (0.0,))
    ]
    most, _ = stretch(page_from_photo(opening, photo, placement), np.concatenate(points))
    return float(MM_PER_INCH / most.max())


def crop_share(opening: Opening, photo: Photo, placement: Placement) -> float:
    """1 - visible photo area / photo area, between 0 and 1."""
    seen = abs(sum(outlines.area(p) for p in _visible(opening, photo, placement)))
    return float(min(1.0, max(0.0, 1.0 - seen / (photo.width * photo.height))))
