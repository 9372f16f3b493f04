"""Placement: the similarity that lays a photo in an opening, and the rule that it must never leave a gap.

Photo space here is px after EXIF orientation; opening space is mm about the opening's centre. With k mm per px:
``opening = rotation(turn) . k . mirror . (photo - centre)``.
"""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from ..document import MAX_ZOOM, Opening, Outline, Photo, Placement
from ..geometry import outlines
from ..geometry.maps import Map
from ..geometry.matrices import Matrix, Points, apply, inverse, rotation, scaling, translation

_NEAREST = 0.2  # of how far the middle of a slanted surface is: what is nearer is enlarged too much


@dataclass(frozen=True)
class Extents:
    """Where the outline reaches along the photo's own axes, mm from the opening's centre."""

    left: float
    top: float
    right: float
    bottom: float


def window(opening: Opening, ratio: float) -> Points:
    """The largest rectangle of a ratio (width / height) in the middle of the box about the outline: its four corners, mm."""
    return _window(opening.outline, ratio)


def _window(outline: Outline, ratio: float) -> Points:
    x0, y0, x1, y1 = outlines.bounds(outline.polygons())
    wide = min(x1 - x0, (y1 - y0) * ratio) / 2
    high = wide / ratio
    cx, cy = (x0 + x1) / 2, (y0 + y1) / 2
    return np.array([(cx - wide, cy - high), (cx + wide, cy - high), (cx + wide, cy + high), (cx - wide, cy + high)])


def extents(opening: Opening, turn_deg: float, mirror: bool, ratio: float | None = None) -> Extents:
    """Extents of an outline, or of its window, along the axes of a photo turned by ``turn_deg``.

    For a rectangle w x h these are plus and minus ``(w |cos t| + h |sin t|) / 2`` and ``(w |sin t| + h |cos t|) / 2``.
    """
    return _extents(opening.outline, turn_deg, mirror, ratio)


@lru_cache(maxsize=1024)
def _extents(outline: Outline, turn_deg: float, mirror: bool, ratio: float | None) -> Extents:
    photo_axes_from_opening = scaling(-1 if mirror else 1, 1) @ rotation(-turn_deg)
    points = np.concatenate(outline.polygons()) if ratio is None else _window(outline, ratio)
    return Extents(*outlines.bounds([apply(photo_axes_from_opening, points)]))


def cover_scale(opening: Opening, photo: Photo, turn_deg: float, mirror: bool, ratio: float | None = None) -> float:
    """The smallest mm per photo px at which the photo covers the outline, or its window."""
    reach = extents(opening, turn_deg, mirror, ratio)
    return max((reach.right - reach.left) / photo.width, (reach.bottom - reach.top) / photo.height)


def scale_to_show_whole(opening: Opening, photo: Photo, turn_deg: float) -> float:
    """The largest mm per photo px at which all of the turned photo lies in the box about the outline."""
    box = extents(opening, 0.0, False)
    c, s = abs(rotation(turn_deg)[0, 0]), abs(rotation(turn_deg)[0, 1])
    wide, high = photo.width * c + photo.height * s, photo.width * s + photo.height * c
    return 2 * min(min(-box.left, box.right) / wide, min(-box.top, box.bottom) / high)


def scale(opening: Opening, photo: Photo, placement: Placement) -> float:
    """mm in opening space per photo px."""
    if placement.fit != "cover":
        return scale_to_show_whole(opening, photo, placement.turn_deg)
    return cover_scale(opening, photo, placement.turn_deg, placement.mirror, placement.ratio) * placement.zoom


def clamp_placement(opening: Opening, photo: Photo, placement: Placement, most: float = MAX_ZOOM) -> Placement:
    """The nearest placement that leaves no gap: zoom from 1 to ``most``, the centre moved so that the outline lies inside
    the photo.

    One that shows all of the photo is centred at zoom 1.
    """
    if placement.fit != "cover":
        return placement.copy_with(centre=(0.5, 0.5), zoom=1.0, ratio=None)
    zoom = min(max(placement.zoom, 1.0), most)
    reach = extents(opening, placement.turn_deg, placement.mirror, placement.ratio)
    k = cover_scale(opening, photo, placement.turn_deg, placement.mirror, placement.ratio) * zoom
    centre = []
    for position, low, high, size in (
        (placement.centre[0], reach.left, reach.right, photo.width),
        (placement.centre[1], reach.top, reach.bottom, photo.height),
    ):
        least, most = -low / k / size, 1 - high / k / size
        if least > most:  # the tight axis at zoom 1: equal but for rounding
            least = most = (least + most) / 2
        centre.append(min(max(position, least), most))
    return placement.copy_with(centre=(centre[0], centre[1]), zoom=zoom)


def opening_from_photo(opening: Opening, photo: Photo, placement: Placement) -> Matrix:
    """Photo px to opening mm, 3x3."""
    k = scale(opening, photo, placement)
    x, y = placement.centre[0] * photo.width, placement.centre[1] * photo.height
    flip = -k if placement.mirror else k
    return rotation(placement.turn_deg) @ scaling(flip, k) @ translation(-x, -y)


def page_from_photo(opening: Opening, photo: Photo, placement: Placement) -> Map:
    """Photo px to page mm: the placement, then the surface."""
    return opening.page_from_opening.after(opening_from_photo(opening, photo, placement))


def shown_polygons(opening: Opening, placement: Placement) -> list[Points]:
    """The outline's polygons in opening mm, cut to the placement's window."""
    if placement.ratio is None:
        return list(opening.outline.polygons())
    (x0, y0), _, (x1, y1), _ = window(opening, placement.ratio)
    cut = [outlines.clip_to_box(polygon, x0, y0, x1, y1) for polygon in opening.outline.polygons()]
    return [polygon for polygon in cut if len(polygon)]


def free_subject_room(opening: Opening, down: float) -> Points:
    """Where a subject that stands free of an opening may be, the corners in opening mm: about it as far as it is large, less
    where a slanted surface would come too near the eye; and ``down`` a share of its height. Within the outline it is seen as
    the rest of the photo is."""
    x0, y0, x1, y1 = outlines.bounds(opening.outline.polygons())
    foot, matrix = y0 + down * (y1 - y0), opening.page_from_opening.matrix
    reach = 1.0
    while True:
        wide, high = reach * (x1 - x0), reach * (y1 - y0)
        corners = np.array([(x0 - wide, y0 - high), (x1 + wide, y0 - high), (x1 + wide, foot), (x0 - wide, foot)])
        if matrix is None or reach < 0.01:
            return corners
        away = (np.column_stack([corners, np.ones(4)]) @ matrix[2]) / matrix[2, 2]
        if away.min() > _NEAREST:
            return corners
        reach /= 2


def _visible(opening: Opening, photo: Photo, placement: Placement) -> list[NDArray[np.float64]]:
    """The outline in photo px, cut to the window and to the photo."""
    photo_from_opening = inverse(opening_from_photo(opening, photo, placement))
    seen_parts = [
        outlines.clip_to_box(apply(photo_from_opening, polygon), 0, 0, photo.width, photo.height)
        for polygon in shown_polygons(opening, placement)
    ]
    return [polygon for polygon in seen_parts if len(polygon)]


def shown_area_mm2(opening: Opening, photo: Photo, placement: Placement) -> float:
    """How much of an opening's plane the photo covers, mm2: all of the outline unless it is shown whole or cropped."""
    k = scale(opening, photo, placement)
    return abs(sum(outlines.area(p) for p in _visible(opening, photo, placement))) * k * k


_FARTHEST = 6.0  # sizes of it away from where a thing is still seen in perspective, for what may be foreshortened


@lru_cache(maxsize=1024)
def _area(outline: Outline) -> float:
    return outline.area_mm2


def crop_share(opening: Opening, photo: Photo, placement: Placement) -> float:
    """1 - visible photo area / photo area, between 0 and 1."""
    if placement.fit == "cover" and placement.ratio is None:
        # All of the outline lies on the photo.
        seen = _area(opening.outline) / scale(opening, photo, placement) ** 2
        return min(1.0, max(0.0, 1.0 - seen / (photo.width * photo.height)))
    seen = abs(sum(outlines.area(p) for p in _visible(opening, photo, placement)))
    return float(min(1.0, max(0.0, 1.0 - seen / (photo.width * photo.height))))
