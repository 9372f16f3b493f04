"""How densely a placed photo prints, and how far its surface stretches it."""

import numpy as np

from ..document import Corners, Flat, Opening, Outline, Photo, Placement
from ..geometry import outlines
from ..geometry.maps import Map
from ..geometry.matrices import Points
from ..measure import MM_PER_INCH
from .placing import _FARTHEST, _visible, opening_from_photo, page_from_photo, scale, shown_polygons


def ppi_through(onto: Map, opening: Opening, photo: Photo, placement: Placement) -> float:
    """Photo px per printed inch where an opening's plane is laid elsewhere by ``onto`` (mm to mm), where it is worst."""
    visible = [
        outlines.split_long_sides(polygon, max(photo.width, photo.height) / 64)
        for polygon in _visible(opening, photo, placement)
    ]
    points = np.concatenate([*visible, _lattice_within(visible, 12)])
    most, _ = onto.after(opening_from_photo(opening, photo, placement)).stretch(points)
    return float(MM_PER_INCH / most.max())


def effective_ppi(opening: Opening, photo: Photo, placement: Placement) -> float:
    """Photo px per printed inch where it is worst: 25.4 over the largest local stretch, least over the visible outline."""
    # Along each side of a polygon the stretch of a homography is greatest at an end or near it: sample sides densely.
    # A bent surface may stretch most anywhere: sample it within as well.
    kind = opening.surface.kind
    if isinstance(opening.surface, Flat) and not opening.surface.is_distorted:
        return MM_PER_INCH / scale(opening, photo, placement)
    visible = _visible(opening, photo, placement)
    points = [
        p + (np.roll(p, -1, axis=0) - p) * t
        for p in visible
        for t in (np.linspace(0, 1, 8, endpoint=False) if kind != "flat" else (0.0,))
    ]
    if kind in ("grid", "roll"):
        points.append(_lattice_within(visible, 24))
    most, _ = page_from_photo(opening, photo, placement).stretch(np.concatenate(points))
    return float(MM_PER_INCH / most.max())


def _lattice_within(polygons: list[Points], side: int) -> Points:
    """A lattice over the box about polygons, those of its points that lie in them."""
    x0, y0, x1, y1 = outlines.bounds(polygons)
    xs, ys = np.meshgrid(np.linspace(x0, x1, side), np.linspace(y0, y1, side))
    inside = outlines.contain(polygons, np.stack([xs, ys], axis=-1))
    return np.stack([xs[inside], ys[inside]], axis=-1)


def ppi_picture(opening: Opening, photo: Photo, placement: Placement, across: int = 24) -> list[tuple[Points, float]]:
    """ppi over the opening: cells of about equal size, each as four page points with the ppi in its middle."""
    x0, y0, x1, y1 = outlines.bounds(list(opening.outline.polygons()))
    cell = max(x1 - x0, y1 - y0) / across
    nx, ny = max(1, round((x1 - x0) / cell)), max(1, round((y1 - y0) / cell))
    xs, ys = np.linspace(x0, x1, nx + 1), np.linspace(y0, y1, ny + 1)
    mx, my = np.meshgrid((xs[1:] + xs[:-1]) / 2, (ys[1:] + ys[:-1]) / 2)
    middles = np.stack([mx, my], axis=-1)
    k = scale(opening, photo, placement)
    ppi = MM_PER_INCH / (opening.page_from_opening.stretch(middles)[0] * k)
    nodes = opening.page_from_opening.apply(np.stack(np.meshgrid(xs, ys), axis=-1))
    inside = outlines.contain(shown_polygons(opening, placement), middles)
    return [
        (np.stack([nodes[j, i], nodes[j, i + 1], nodes[j + 1, i + 1], nodes[j + 1, i]]), float(ppi[j, i]))
        for j in range(ny)
        for i in range(nx)
        if inside[j, i]
    ]


def distortion(opening: Opening) -> float:
    """How far an opening stretches its photo: largest over smallest stretch, 1 for not at all.

    Perspective and bending are not distortion: there it is what the eye expects. One that lies on four corners has another
    proportion than its outline by the means of opposite sides; of that, as much is perspective as a camera sees that looks at
    the outline from the side, its sides being as unlike as they are.
    """
    if isinstance(opening.surface, Corners):
        return _stretch_beyond_perspective(opening.surface, opening.outline)
    if opening.surface.kind != "flat":
        return 1.0
    most, least = opening.page_from_opening.stretch(np.zeros((1, 2)))
    return float(most[0] / least[0])


def _stretch_beyond_perspective(surface: Corners, outline: Outline) -> float:
    """How much further four corners stretch an outline than looking at it from the side would.

    The ends of a side of length 1 that leans back by t, seen from d away, are seen as large as 1 / (d - sin(t) / 2) and
    1 / (d + sin(t) / 2); the side itself is foreshortened to cos(t).
    """
    corners = np.array(surface.points)
    top, right, bottom, left = np.linalg.norm(np.roll(corners, -1, axis=0) - corners, axis=1)
    x0, y0, x1, y1 = outline.frame
    wider = float((top + bottom) / (left + right) * (y1 - y0) / (x1 - x0))
    # What is too narrow may lean back to its left or right: one of these is shorter then. And so with what is too low.
    near, far = (left, right) if wider < 1 else (top, bottom)
    leaning = min(1.0, 2 * _FARTHEST * abs(near - far) / (near + far))
    return float(max(1.0, max(wider, 1 / wider) * np.sqrt(1 - leaning**2)))
