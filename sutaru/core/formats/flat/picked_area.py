"""One area of a picture that somebody points at, as an opening; and the picture with the area cut out of it."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from ...document import Corners, Opening, Overlay
from ...errors import FileRefused
from .areas import is_ground, match_colour, regions, unmix_colour
from .shapes import recognise_shape

_ROOM = 12  # px about an area that are looked at
_LEAST = 60  # px


@dataclass(frozen=True)
class Picked:
    """The opening, on the page of the overlay; the files it names; the picture without the area, RGBA."""

    opening: Opening
    files: dict[str, bytes]
    over: NDArray[np.uint8]


def pick_area_at(rgba: NDArray[np.uint8], overlay: Overlay, at_mm: tuple[float, float], tolerance: int = 10) -> Picked:
    """The area of a hole or of one colour that lies at a page point of a picture that lies upright. Raises FileRefused."""
    if overlay.turn_deg % 360 or overlay.mirrored:
        raise FileRefused("This picture is turned or mirrored.", "Turn it back first, then point at its areas.")
    high, wide = rgba.shape[:2]
    mm = overlay.width_mm / wide, overlay.height_mm / high
    left, top = overlay.centre[0] - overlay.width_mm / 2, overlay.centre[1] - overlay.height_mm / 2
    x, y = int((at_mm[0] - left) // mm[0]), int((at_mm[1] - top) // mm[1])
    if not (0 <= x < wide and 0 <= y < high):
        raise FileRefused("There is no picture at this place.", "Point at one.")
    hole = rgba[y, x, 3] < 128
    about = rgba[max(0, y - 2) : y + 3, max(0, x - 2) : x + 3].reshape(-1, 4)
    r, g, b = (int(v) for v in np.median(about[:, :3], axis=0))
    like = rgba[..., 3] < 128 if hole else match_colour(rgba, (r, g, b), tolerance) & (rgba[..., 3] > 127)
    _, labels, boxes, _ = cv2.connectedComponentsWithStats(like.astype(np.uint8), connectivity=4)
    meant = labels == labels[y, x]
    box = boxes[labels[y, x]]
    if not like[y, x] or box[4] < _LEAST:
        raise FileRefused(
            "There is no area of one colour at this place.", "Point at one that is larger, or draw an opening."
        )
    if is_ground(box, (high, wide)):
        raise FileRefused("This is the ground of the whole picture.", "Point at an area that lies within it.")
    x0, y0 = max(0, int(box[0]) - _ROOM), max(0, int(box[1]) - _ROOM)
    part = np.s_[y0 : int(box[1] + box[3]) + _ROOM, x0 : int(box[0] + box[2]) + _ROOM]
    close = cv2.dilate(meant[part].astype(np.uint8), np.ones((3, 3), np.uint8), iterations=4) > 0
    if hole:
        cover, over = np.float32(1) - rgba[part][..., 3].astype(np.float32) / np.float32(255), rgba[part]
    else:
        cover, over = unmix_colour(np.ascontiguousarray(rgba[part]), (r, g, b), tolerance)
    areas = [
        (area, origin)
        for area, origin in regions(np.where(close, cover, np.float32(0)), False)
        if 0 <= y - y0 - origin[1] < area.shape[0] and 0 <= x - x0 - origin[0] < area.shape[1]
    ]
    if not areas:
        raise FileRefused("This area has no shape that could be an opening.", "Draw an opening over it.")
    area, origin = max(areas, key=lambda entry: float(entry[0].sum()))
    shape = recognise_shape(area, (origin[0] + x0, origin[1] + y0), mm)
    whole = rgba.copy()
    whole[part] = np.where(close[..., None], over, rgba[part])
    return Picked(_move_opening(shape.opening, left, top), shape.files, whole)


def _move_opening(opening: Opening, x: float, y: float) -> Opening:
    surface = opening.surface
    if isinstance(surface, Corners):
        points = tuple((round(px + x, 6), round(py + y, 6)) for px, py in surface.points)
        return opening.copy_with(surface=surface.copy_with(points=points))
    centre = surface.centre  # type: ignore[union-attr]
    return opening.copy_with(surface=surface.copy_with(centre=(round(centre[0] + x, 6), round(centre[1] + y, 6))))
