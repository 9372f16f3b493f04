"""Keeping what must stay visible: where in an opening it may lie, what a placement cuts, and the placement that cuts least.

A keep area is an ellipse on the photo; it is followed as points on and within that ellipse. An opening's room is its real
outline, less what its border and mat cover, what lies beyond the trim, near a gutter or fold, and under layers above. It is
known as a raster of the opening's own plane, so that many placements can be tried at once, however the photo is turned or
the surface bent.
"""

import hashlib
import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import cv2
import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.affinity import translate

from ..document import (
    Background,
    DateGrid,
    Echo,
    Free,
    GuideNote,
    KeepArea,
    Layout,
    Opening,
    Ornament,
    Overlay,
    Photo,
    Placement,
    Shaped,
    Text,
)
from ..geometry import outlines
from ..geometry.matrices import Points, apply
from ..remembering import remember
from ..words import set_text
from .placing import clamp_placement, free_subject_room, opening_from_photo, shown_polygons

_ACROSS = 160  # cells of the raster along the opening's longer side
_NEAR_LINE_MM = 3.0  # clear of a gutter or a fold by this much (common practice, no source)
_NEAR_HOLE_MM = 1.0  # and of a hole by this much (common practice, no source)
HEADROOM = 0.15  # of a keep area's height: how far its edge should stay off what cuts it
# The same above a face, hair being known and what is worn on it not (common practice, no source).
_HATROOM = 0.55
_TRIES = 49
NOTHING_CUT = 0.02  # share of a keep area that counts as nothing: one of its points on the very edge


def _ellipse() -> NDArray[np.float64]:
    rings = [(0.97, 24), (0.8, 16), (0.5, 10), (0.2, 4)]
    return np.array(
        [(r * math.cos(2 * math.pi * i / n), r * math.sin(2 * math.pi * i / n)) for r, n in rings for i in range(n)]
    )


_POINTS = _ellipse()  # in the unit circle; the first 24 lie near its edge, off it by less than can be seen
_AREA_OF = np.repeat(
    [0.36 / 24, 0.33 / 16, 0.21 / 10, 0.10 / 4], [24, 16, 10, 4]
)  # the share of the ellipse each stands for
_ABOVE = _POINTS[:24, 1] < -0.7  # those of the edge that lie at the top


def _spread_evenly(count: int) -> NDArray[np.float64]:
    """Points evenly over the unit circle (H. Vogel, "A better way to construct the sunflower head", 1979)."""
    n = np.arange(count) + 0.5
    turns = n * math.pi * (3 - math.sqrt(5))
    return np.stack([np.cos(turns), np.sin(turns)], axis=-1) * np.sqrt(n / count)[:, None]


_EVEN = _spread_evenly(500)  # to measure by; a search does with the few above


def keep_points(photo: Photo, area: KeepArea, of: NDArray[np.float64] = _POINTS) -> Points:
    """Points on and in the ellipse of a keep area, photo px."""
    cx, cy = area.left + area.width / 2, area.top + area.height / 2
    return (of * (area.width / 2, area.height / 2) + (cx, cy)) * (photo.width, photo.height)


@dataclass(frozen=True)
class Room:
    """Where in an opening's plane things are seen: distance in mm to the nearest place that is not, 0 there."""

    clear_mm: NDArray[np.float32]
    left: float
    top: float
    cell_mm: tuple[float, float]

    @cached_property
    def key(self) -> bytes:
        """Equal for rooms that are the same: openings of one shape, with nothing near that cuts, share one."""
        return hashlib.sha1(self.clear_mm.tobytes(), usedforsecurity=False).digest()

    def clearance(self, points: Points) -> NDArray[np.float32]:
        """Distance at each point (..., 2), mm."""
        x = np.floor((points[..., 0] - self.left) / self.cell_mm[0]).astype(np.intp) + 1
        y = np.floor((points[..., 1] - self.top) / self.cell_mm[1]).astype(np.intp) + 1
        height, width = self.clear_mm.shape
        return self.clear_mm[np.clip(y, 0, height - 1), np.clip(x, 0, width - 1)]


@remember
def room(layout: Layout, opening: Opening, ratio: float | None = None, down: float | None = None) -> Room:
    """The room of an opening on its sheet, with a placement's window cut out of it; with ``down`` that of a subject that stands
    free of it so far down."""
    polygons = shown_polygons(opening, Placement(photo="", ratio=ratio))
    polygons = outlines.grow_polygons(polygons, -_frame_inset_mm(opening)) or polygons
    if down is not None and opening.page_from_opening.matrix is not None:
        polygons = outlines.join_polygons(polygons, [free_subject_room(opening, down)])
    x0, y0, x1, y1 = outlines.bounds(polygons)
    cell = max(x1 - x0, y1 - y0) / _ACROSS
    nx, ny = math.ceil((x1 - x0) / cell), math.ceil((y1 - y0) / cell)
    wide, high = (x1 - x0) / nx, (y1 - y0) / ny  # whole cells, so that an edge of the opening is an edge of cells
    xs, ys = np.meshgrid(x0 + (np.arange(nx) + 0.5) * wide, y0 + (np.arange(ny) + 0.5) * high)
    plane = np.stack([xs, ys], axis=-1)
    on_page = opening.page_from_opening.apply(plane)
    seen = outlines.contain(polygons, plane)
    px, py = on_page[..., 0], on_page[..., 1]
    seen &= (px > 0) & (py > 0) & (px < layout.width_mm) & (py < layout.height_mm)
    for line in layout.lines:
        seen &= np.abs((px if line.axis == "x" else py) - line.at_mm) > _NEAR_LINE_MM
    for hole in layout.holes:
        seen &= np.hypot(px - hole.at[0], py - hole.at[1]) > hole.diameter_mm / 2 + _NEAR_HOLE_MM
    above = False
    for layer in layout.leaves:
        if layer is opening or layer.id == opening.id:
            above = True
        elif (
            above
            and layer.visible
            and layer.opacity > 0.3
            and layer.blend == "normal"
            and (covered := _covered_polygons(layer))
        ):
            left, top, right, bottom = outlines.bounds(covered)
            near = seen & (px > left) & (px < right) & (py > top) & (py < bottom)
            if near.any():
                seen[near] &= ~outlines.contain(covered, on_page[near])
    framed = np.pad(seen.astype(np.uint8), 1)
    clear = cv2.distanceTransform(framed, cv2.DIST_L2, cv2.DIST_MASK_5).astype(np.float32) * np.float32(cell)
    clear.flags.writeable = False
    return Room(clear, x0, y0, (wide, high))


def _frame_inset_mm(opening: Opening) -> float:
    """How far in from the outline the border and the mat cover the photo, mm."""
    border = opening.border.within_mm if opening.border else 0.0
    return border + (opening.mat.width_mm + opening.mat.bevel_mm if opening.mat else 0.0)


def _covered_polygons(layer: object) -> list[Points]:
    """What a layer hides of those below it, page mm; nothing for what is not printed or lies on purpose over all.

    A shade that is multiplied in, or a faint veil, hides nothing.
    """
    if isinstance(layer, Shaped):
        onto = layer.surface.page_from_opening(layer.outline)
        polygons: Sequence[Points] = layer.outline.polygons()
        if isinstance(layer, Opening) and layer.border:
            polygons = outlines.grow_polygons(list(polygons), layer.border.beyond_mm)
        return [onto.apply(polygon) for polygon in polygons]
    if isinstance(layer, Ornament):
        if not layer.traced:
            return [apply(layer.page_from_box, p) for p in _rectangle(layer.width_mm, layer.height_mm)]
        size = (layer.width_mm, layer.height_mm)
        return [apply(layer.page_from_box, (p - 0.5) * size) for p in outlines.flatten(layer.traced, 0.002)]
    if isinstance(layer, Text):
        # All about the letters themselves: a face between two of them is covered as well.
        path = set_text(layer, layer.text).path
        if not path:
            return []
        x0, y0, x1, y1 = outlines.bounds(list(outlines.flatten(path, 0.1)))
        return [apply(layer.page_from_box, np.array([(x0, y0), (x1, y0), (x1, y1), (x0, y1)]))]
    if isinstance(layer, DateGrid):
        return [apply(layer.page_from_box, p) for p in _rectangle(layer.width_mm, layer.height_mm)]
    assert isinstance(layer, Background | Echo | GuideNote | Overlay)
    return []


def _rectangle(width: float, height: float) -> tuple[Points, ...]:
    return outlines.flatten(outlines.rectangle(width, height), 1)


@dataclass(frozen=True)
class Cut:
    """A keep area of which not all is seen: the share that is not, and that share of the face itself where it is a head."""

    area: KeepArea
    share: float
    of_face: float


def cuts(
    layout: Layout, opening: Opening, photo: Photo, placement: Placement, free: tuple[Free, ...] = (),
    above: Sequence[Points] = (),
) -> list[Cut]:  # fmt: skip
    """What is not wholly seen of a photo's keep areas. ``free``: subjects of it that stand free; ``above``: what those of others
    hide that lie further up, page mm."""
    if not photo.keep_areas:
        return []
    onto = opening_from_photo(opening, photo, placement)
    cut = []
    for area in photo.keep_areas:
        over = next((outline for outline in free if _is_of(area, outline)), None)
        within = room(layout, opening, placement.ratio, over.down if over else None)
        places = [apply(onto, keep_points(photo, part, _EVEN)) for part, _ in _parts(area)]
        shares = [float(_hidden(within, points, opening, above).mean()) for points in places]
        if shares[-1] > NOTHING_CUT:
            cut.append(Cut(area, shares[-1], shares[0]))
    return cut


def _is_of(area: KeepArea, free: Free) -> bool:
    """Whether an area's middle is of a subject."""
    middle = np.array([(area.left + area.width / 2, area.top + area.height / 2)])
    inside = outlines.contain([np.array(ring) for ring in free.area.rings], middle)
    return bool(inside[0]) != free.area.outside


def free_outlines_on_page(opening: Opening, photo: Photo, placement: Placement, free: tuple[Free, ...]) -> list[Points]:
    """What subjects that stand free of an opening hide beyond it, page mm."""
    if opening.page_from_opening.matrix is None:
        return []
    onto, size = opening_from_photo(opening, photo, placement), (photo.width, photo.height)
    outlines_free = []
    for outline in free:
        rings = [apply(onto, np.array(ring) * size) for ring in outline.area.rings]
        outlines_free += outlines.common(rings, [free_subject_room(opening, outline.down)])
    return [opening.page_from_opening.apply(polygon) for polygon in outlines_free]


def _hidden(within: Room, points: Points, opening: Opening, above: Sequence[Points]) -> NDArray[np.bool_]:
    hidden: NDArray[np.bool_] = within.clearance(points) <= 0
    return hidden | outlines.contain(list(above), opening.page_from_opening.apply(points)) if above else hidden


def rank_areas(photo: Photo) -> list[KeepArea]:
    """Keep areas by importance: those of one kind by size. What the machine merely supposes comes last."""
    order = {"hand": 0, "face": 0, "subject": 1}
    return sorted(photo.keep_areas, key=lambda a: (order[a.kind], -a.width * a.height))


def _parts(area: KeepArea) -> list[tuple[KeepArea, float]]:
    """A head as its face first, then all of it: where not all can be seen, hair goes before chin and eyes."""
    if area.kind != "face":
        return [(area, 1.0)]
    face = area.copy_with(
        left=area.left + 0.12 * area.width, top=area.top + 0.17 * area.height, width=0.76 * area.width,
        height=0.79 * area.height,
    )  # fmt: skip
    return [(face, 1.0), (area, 0.03)]


def keep_areas_visible(layout: Layout, opening: Opening, photo: Photo, placement: Placement) -> Placement:
    """``asked`` with the centre moved to where most that must be kept is seen, the most important first, with headroom.

    Where several centres do as well, the nearest to ``asked`` that lays a face's eyes near the upper third (common
    practice, no source). Zoom, turn and mirror stay. Centres are tried in steps; where that leaves something cut, those
    that keep it within the outline are worked out, and the best ones refined.
    """
    start = clamp_placement(opening, photo, placement)
    # The largest is kept first: all others together weigh less than it.
    areas = [(part, 0.2**n * share) for n, area in enumerate(rank_areas(photo)[:8]) for part, share in _parts(area)]
    if not areas or placement.fit != "cover":
        return start
    search = _Search(layout, opening, photo, start, placement.ratio, areas)
    # The centres that leave no gap lie in a box; at zoom 1 it is a line.
    low = np.array(clamp_placement(opening, photo, placement.copy_with(centre=(-9.0, -9.0))).centre)
    high = np.array(clamp_placement(opening, photo, placement.copy_with(centre=(9.0, 9.0))).centre)
    steps = 21 if min(high - low) > 0.02 else _TRIES
    counts = [steps if side > 1e-9 else 1 for side in high - low]
    centres = np.concatenate([[start.centre], _lattice(low, high, counts)])
    best, cut = search.best_centre(centres)
    if cut > 0:
        exact = search.keep_most(low, high)
        best, cut = search.best_centre(np.concatenate([[best], exact]))
        reach = (high - low) / np.maximum(1, np.array(counts) - 1)
        while cut > 0 and max(reach * (photo.width, photo.height)) > 1:
            near = _lattice(np.clip(best - reach, low, high), np.clip(best + reach, low, high), [7, 7])
            best, cut = search.best_centre(np.concatenate([[best], near]))
            reach = reach / 3
    return clamp_placement(opening, photo, start.copy_with(centre=(float(best[0]), float(best[1]))))


def _lattice(low: Points, high: Points, counts: list[int]) -> Points:
    """Evenly spaced points (n, 2) of a box."""
    axes = [np.linspace(low[i], high[i], counts[i]) for i in (0, 1)]
    return np.stack(np.meshgrid(*axes), axis=-1).reshape(-1, 2)


class _Search:
    """What centres of a placement cost: how much that must be kept they cut, and how far they are from a good place."""

    def __init__(
        self, layout: Layout, opening: Opening, photo: Photo, start: Placement, ratio: float | None,
        areas: list[tuple[KeepArea, float]],
    ) -> None:  # fmt: skip
        self._photo, self._start, self._areas = photo, start, areas
        self._onto = opening_from_photo(opening, photo, start)
        self._room = room(layout, opening, ratio)
        self._outline = shown_polygons(opening, Placement(photo="", ratio=ratio))
        self._frame = _frame_inset_mm(opening)
        self._points = [apply(self._onto, keep_points(photo, area)) for area, _ in areas]

    def _move_lengths(self, centres: Points) -> Points:
        """How far each centre moves the photo, mm in the opening's plane."""
        sides = (self._photo.width, self._photo.height)
        return -(centres - self._start.centre) * sides @ self._onto[:2, :2].T

    def best_centre(self, centres: Points) -> tuple[Points, float]:
        """The cheapest of centres (n, 2), and the share that it cuts of all areas."""
        moves, box = self._move_lengths(centres), outlines.bounds(self._outline)
        cost, cuts = np.zeros(len(centres)), np.zeros(len(centres))
        for n, ((area, weight), points) in enumerate(zip(self._areas, self._points, strict=True)):
            clear = self._room.clearance(points + moves[:, None, :])
            cut = ((clear <= 0) * _AREA_OF).sum(axis=1)
            high = area.height * self._photo.height * float(np.hypot(*self._onto[:2, 1]))
            wants = np.maximum(1e-6, high * np.where(_ABOVE & (area.kind == "face"), _HATROOM, HEADROOM))
            tight = np.clip(1 - clear[:, :24] / wants, 0, 1).max(axis=1)
            cost += weight * (100 * cut + 0.5 * tight)
            cuts += cut
            if n == 0:
                # Eyes lie above the middle between hairline and chin.
                eyes = (area.left + area.width / 2, area.top + 0.38 * area.height)
                ((x, y),) = apply(self._onto, [(eyes[0] * self._photo.width, eyes[1] * self._photo.height)])
                wish = 1 / 3 if area.kind == "face" else 1 / 2
                cost += 0.3 * np.abs((y + moves[:, 1] - box[1]) / (box[3] - box[1]) - wish)
                cost += 0.3 * np.abs((x + moves[:, 0] - box[0]) / (box[2] - box[0]) - 0.5)
        cost += 0.1 * np.hypot(*moves.T) / min(box[2] - box[0], box[3] - box[1])
        best = int(np.argmin(cost))
        return centres[best], float(cuts[best])

    def keep_most(self, low: Points, high: Points) -> Points:
        """Centres (n, 2) that keep as many areas as can be, the most important first, within the outline.

        An area stays within a polygon by just those moves that are common to the polygon moved back by each of its points.
        """
        corners = np.array([low, (high[0], low[1]), high, (low[0], high[1])])
        free = shapely.convex_hull(shapely.multipoints(self._move_lengths(corners)))
        within = shapely.union_all([shapely.polygons(p) for p in outlines.grow_polygons(self._outline, -self._frame)])
        for points in self._points:
            rim = shapely.get_coordinates(shapely.convex_hull(shapely.multipoints(points)))
            left = shapely.intersection_all([free, *(translate(within, -x, -y) for x, y in rim)])
            free = free if shapely.is_empty(left) else left
        middle, nearest = shapely.centroid(free), shapely.shortest_line(free, shapely.points(0, 0))
        inner = shapely.buffer(free, -0.5 * max(self._room.cell_mm))
        moves = shapely.get_coordinates([middle, nearest, free, inner, shapely.centroid(inner)])
        back = np.linalg.inv(self._onto[:2, :2])
        centres = self._start.centre - moves @ back.T / (self._photo.width, self._photo.height)
        return np.clip(centres, low, high)


def first_placement(layout: Layout, opening: Opening, photo: Photo) -> Placement:
    """How a photo lies when it is put down by itself: just covering, with all in view that must be."""
    return keep_areas_visible(layout, opening, photo, Placement(photo=photo.id))
