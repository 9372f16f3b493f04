"""One layout in another size: openings grow or shrink; margins, gaps, frames and type keep their real sizes.

What lies on a sheet is cut apart along its gaps, across and down in turn, as far as that goes (the recursive X-Y cut of
G. Nagy and S. Seth, "Hierarchical representation of optically scanned documents", ICPR 1984). In the tree of rows and
columns that this gives, gaps are kept and what lies between them shares the rest by its old sizes.
"""

from collections.abc import Sequence
from itertools import pairwise
from typing import Any, Literal

import numpy as np

from ..document import (
    Background,
    Corners,
    Echo,
    Flat,
    Grid,
    Group,
    GuideNote,
    Layer,
    Layout,
    Path,
    Roll,
    Shaped,
)
from ..document.shapes import Rectangle
from ..errors import EditRefused
from ..geometry import outlines
from ..geometry.matrices import scaling
from .aligning import Box, box_around, page_box
from .moving import round_exactly

Fitting = Literal["fill", "ratios", "auto"]
_NEARLY = 0.12  # of their mean: factors across and down nearer than that change no ratio that anybody sees
_TOUCH = 0.05  # mm
_THIN = 2.0  # mm
_SPANS = 0.97  # of a sheet's part: what is as wide and as high lies under or over the rest and divides nothing
_MARGIN = 0.12  # of a part's side: what is wider is room left free on purpose and grows with the sheet
Interval = tuple[float, float]


def resize_layout(layout: Layout, width_mm: float, height_mm: float, how: Fitting = "auto") -> Layout:
    """The layout on a sheet of another size.

    ``fill``: it takes all the room, so that openings may change their ratio. ``ratios``: openings keep theirs as nearly as
    the kept gaps allow, and margins grow. ``auto``: ``fill``, but where that would bend a heart or a circle out of shape. What
    runs off the sheet goes on doing so, and so takes all the room. Guides and notes go along with the edges beside them.
    Raises EditRefused when there is no room for the gaps and margins.
    """
    leaves = [leaf for leaf in layout.leaves if not isinstance(leaf, Echo | Background | GuideNote)]
    bends = {leaf.id for leaf in leaves if isinstance(leaf, Shaped) and not _is_box(leaf)}
    boxes = {leaf.id: page_box(leaf) for leaf in leaves}
    factor = width_mm / layout.width_mm, height_mm / layout.height_mm
    # A photo that runs over a gutter or fold holds both sides together; words over it go along with the line.
    held = [boxes[leaf.id] for leaf in leaves if isinstance(leaf, Shaped)]
    across, down = (_cuts(layout, axis, held) for axis in ("x", "y"))
    placed = {
        k: _carry_box(box, factor)
        for k, box in boxes.items()
        if any(_is_crossed(box.span("x"), line) for line in across)
        or any(_is_crossed(box.span("y"), at) for at in down)
    }
    for left, right in pairwise((0.0, *across, layout.width_mm)):
        for top, bottom in pairwise((0.0, *down, layout.height_mm)):
            inside = {
                k: b
                for k, b in boxes.items()
                if k not in placed
                and left <= _middle(b.span("x"), layout.width_mm) < right
                and top <= _middle(b.span("y"), layout.height_mm) < bottom
            }
            new = Box(left * factor[0], top * factor[1], right * factor[0], bottom * factor[1])
            fitting: Fitting = "ratios" if how == "auto" and bends & inside.keys() else how
            placed |= _part(inside, Box(left, top, right, bottom), new, fitting, how == "auto")
    changes = {leaf.id: _carry_layer(leaf, boxes[leaf.id], placed[leaf.id]) for leaf in leaves if leaf.id in placed}
    ways = [
        _Way([(0.0, 0.0), (was, now), *((line, line * factor[n]) for line in cuts)], [
            pair for k, new in placed.items() for pair in zip(boxes[k].span(axis), new.span(axis), strict=True)
        ])
        for n, (axis, was, now, cuts) in enumerate(
            [("x", layout.width_mm, width_mm, across), ("y", layout.height_mm, height_mm, down)]
        )
    ]  # fmt: skip
    for leaf in layout.leaves:
        if isinstance(leaf, GuideNote):
            (x, y) = leaf.centre
            changes[leaf.id] = leaf.copy_with(
                centre=(round_exactly(ways[0].new_place(x)), round_exactly(ways[1].new_place(y)))
            )

    def line(entry: Any) -> Any:
        return entry.copy_with(at_mm=round_exactly(entry.at_mm * factor[0 if entry.axis == "x" else 1]))

    def guide(entry: Any) -> Any:
        return entry.copy_with(at_mm=round_exactly(ways[0 if entry.axis == "x" else 1].new_place(entry.at_mm)))

    def hole(entry: Any) -> Any:
        return entry.copy_with(at=(round_exactly(entry.at[0] * factor[0]), round_exactly(entry.at[1] * factor[1])))

    def tree(layers: Sequence[Layer]) -> tuple[Layer, ...]:
        return tuple(
            layer.copy_with(layers=tree(layer.layers)) if isinstance(layer, Group) else changes.get(layer.id, layer)
            for layer in layers
        )

    return layout.copy_with(
        width_mm=width_mm, height_mm=height_mm, lines=tuple(map(line, layout.lines)),
        guides=tuple(map(guide, layout.guides)), holes=tuple(map(hole, layout.holes)), layers=tree(layout.layers),
    )  # fmt: skip


def scale_layout(layout: Layout, width_mm: float, height_mm: float) -> Layout:
    """The layout on a sheet of another size, all that lies on it wider and higher by as much as the sheet; frames and type keep
    their real sizes. Where ``resize_layout`` finds no room, this does."""
    across, down = width_mm / layout.width_mm, height_mm / layout.height_mm

    def scale(layer: Layer) -> Layer:
        if isinstance(layer, Group):
            return layer.copy_with(layers=tuple(map(scale, layer.layers)))
        if isinstance(layer, Echo | Background | GuideNote):
            return layer
        box = page_box(layer)
        return _carry_layer(layer, box, Box(box.left * across, box.top * down, box.right * across, box.bottom * down))

    def move(entry: Any) -> Any:
        return entry.copy_with(at_mm=round_exactly(entry.at_mm * (across if entry.axis == "x" else down)))

    return layout.copy_with(
        width_mm=width_mm, height_mm=height_mm, lines=tuple(map(move, layout.lines)),
        guides=tuple(map(move, layout.guides)), layers=tuple(map(scale, layout.layers)),
        holes=tuple(
            hole.copy_with(at=(round_exactly(hole.at[0] * across), round_exactly(hole.at[1] * down)))
            for hole in layout.holes
        ),
    )  # fmt: skip


class _Way:
    """Where places along an axis go: edges where theirs went, what lies between two edges as far between them as it was."""

    def __init__(self, ends: list[Interval], edges: list[Interval]) -> None:
        steps: dict[float, float] = {}
        for was, now in sorted([*edges, *ends], key=lambda pair: pair not in ends):
            if steps.setdefault(round(was, 2), now) != now and all(abs(was - end) > _TOUCH for end, _ in ends):
                steps[round(was, 2)] = min(steps[round(was, 2)], now)
        self._was = sorted(steps)
        self._now = np.maximum.accumulate([steps[was] for was in self._was])

    def new_place(self, place: float) -> float:
        beyond = min(place - self._was[0], 0.0) + max(place - self._was[-1], 0.0)
        return float(np.interp(place, self._was, self._now)) + beyond


def _is_box(layer: Shaped) -> bool:
    """Whether a layer is an upright rectangle: one that may become wider or narrower."""
    surface = layer.surface
    upright = isinstance(surface, Flat) and surface.turn_deg % 90.0 == 0 and not surface.is_distorted
    return upright and isinstance(layer.outline, Rectangle)


def _cuts(layout: Layout, axis: str, held: list[Box]) -> list[float]:
    """Gutters and folds along an axis over which no photo runs, in order."""
    side = layout.width_mm if axis == "x" else layout.height_mm
    edges = sorted({line.at_mm for line in layout.lines if line.axis == axis and 0.0 < line.at_mm < side})
    return [line for line in edges if not any(_is_crossed(box.span(axis), line) for box in held)]


def _is_crossed(span: Interval, line: float) -> bool:
    return span[0] < line - _TOUCH and span[1] > line + _TOUCH


def _middle(span: Interval, side: float) -> float:
    """On the sheet: what lies off it belongs to the part beside."""
    return min(max((span[0] + span[1]) / 2, 0.0), side - _TOUCH)


def _carry_box(box: Box, factor: tuple[float, float]) -> Box:
    """A box of the same size whose middle goes along with the sheet."""
    x, y = (box.left + box.right) / 2, (box.top + box.bottom) / 2
    right, down = x * (factor[0] - 1), y * (factor[1] - 1)
    return Box(box.left + right, box.top + down, box.right + right, box.bottom + down)


def _part(boxes: dict[str, Box], old: Box, new: Box, how: Fitting, nearly: bool) -> dict[str, Box]:
    """Boxes of one part of a sheet, as they lie in the new one. ``nearly``: ratios that hardly change may."""
    divides = {k: box for k, box in boxes.items() if not _spans(box, old)} or boxes
    if not boxes:
        return {}
    block = box_around(list(divides.values()))
    left, right = _margins(block.left - old.left, old.right - block.right, old.span("x"), new.span("x"))
    top, bottom = _margins(block.top - old.top, old.bottom - block.bottom, old.span("y"), new.span("y"))
    room = Box(new.left + left, new.top + top, new.right - right, new.bottom - bottom)
    fixed = _sum_fixed_gaps(divides, block, "x"), _sum_fixed_gaps(divides, block, "y")
    free = [(block.right - block.left) - fixed[0], (block.bottom - block.top) - fixed[1]]
    rest = [(room.right - room.left) - fixed[0], (room.bottom - room.top) - fixed[1]]
    if min(rest) <= 0 or min(free) <= 0:
        raise EditRefused("This size is too small for the margins and gaps.", "Choose a larger one.")
    kx, ky = rest[0] / free[0], rest[1] / free[1]
    bleeds = min(block.left - old.left, block.top - old.top, old.right - block.right, old.bottom - block.bottom) <= 0
    alike = nearly and abs(kx - ky) <= _NEARLY * (kx + ky) / 2
    if not bleeds and how == "ratios" and not alike:
        k = min(kx, ky)
        wide, high = fixed[0] + k * free[0], fixed[1] + k * free[1]
        x, y = (room.left + room.right - wide) / 2, (room.top + room.bottom - high) / 2
        room = Box(x, y, x + wide, y + high)
    boxes_made: dict[str, Box] = {}
    _share(divides, block, room, boxes_made)
    for key, box in boxes.items():
        if key not in boxes_made:
            boxes_made[key] = _keep_margins(box, old, new)
    return boxes_made


def _margins(near: float, far: float, old: Interval, new: Interval) -> Interval:
    """Margins on both sides of what lies there: kept, unless they are wide."""
    side, factor = old[1] - old[0], (new[1] - new[0]) / (old[1] - old[0])
    low, high = (m if m <= _MARGIN * side else m * factor for m in (near, far))
    return low, high


def _spans(box: Box, part: Box) -> bool:
    wide, high = part.right - part.left, part.bottom - part.top
    return box.right - box.left >= _SPANS * wide and box.bottom - box.top >= _SPANS * high


def _keep_margins(box: Box, old: Box, new: Box) -> Box:
    """What spans a part spans the new one as well, as far from its edges, or beyond them, as it was."""
    return Box(
        new.left + box.left - old.left, new.top + box.top - old.top,
        new.right + box.right - old.right, new.bottom + box.bottom - old.bottom,
    )  # fmt: skip


def _separate_runs(boxes: dict[str, Box], axis: str) -> list[tuple[Interval, dict[str, Box]]]:
    """Boxes in runs that leave gaps between them along an axis, in order."""
    runs: list[tuple[Interval, dict[str, Box]]] = []
    for key, box in sorted(boxes.items(), key=lambda entry: entry[1].span(axis)):
        low, high = box.span(axis)
        if runs and low < runs[-1][0][1] - _TOUCH:
            (start, end), run = runs[-1]
            runs[-1] = (start, max(end, high)), run | {key: box}
        else:
            runs.append(((low, high), {key: box}))
    return runs


def _sum_fixed_gaps(boxes: dict[str, Box], block: Box, axis: str) -> float:
    """The gaps along an axis that are kept, in the way through the tree that has most of them."""
    runs, across = _separate_runs(boxes, axis), _separate_runs(boxes, "y" if axis == "x" else "x")
    if len(runs) > 1:
        gaps = sum(b[0][0] - a[0][1] for a, b in pairwise(runs))
        return gaps + sum(_sum_fixed_gaps(run, block, axis) for _, run in runs if len(run) > 1)
    if len(across) > 1:
        return max(_sum_fixed_gaps(run, block, axis) for _, run in across)
    return 0.0


def _share(boxes: dict[str, Box], old: Box, new: Box, placed: dict[str, Box]) -> None:
    """Lays boxes of one place out in another: along their gaps, or all alike where there are none."""
    for axis in ("x", "y"):
        runs = _separate_runs(boxes, axis)
        if len(runs) < 2:
            continue
        low, high = new.span(axis)
        gaps = [b[0][0] - a[0][1] for a, b in pairwise(runs)]
        edges = runs[0][0][0] - old.span(axis)[0], old.span(axis)[1] - runs[-1][0][1]
        sizes = [end - start for (start, end), _ in runs]
        if max(sizes) < _THIN and sum(sizes) < sum(gaps) / 2:
            break  # rules to write on: what lies between them is no gap but their place
        room = (high - low) - sum(gaps) - sum(edges)
        if room <= 0 and sum(sizes) < sum(edges):
            break  # a few words amid air: the air is their place too, and no margin
        if room <= 0:
            raise EditRefused("This size is too small for the gaps between the openings.", "Choose a larger one.")
        place = low + edges[0]
        for n, ((start, end), run) in enumerate(runs):
            size = room * sizes[n] / sum(sizes)
            inner_old = Box(start, old.top, end, old.bottom) if axis == "x" else Box(old.left, start, old.right, end)
            inner_new = (
                Box(place, new.top, place + size, new.bottom)
                if axis == "x"
                else Box(new.left, place, new.right, place + size)
            )
            _share(run, inner_old, inner_new, placed)
            place += size + (gaps[n] if n < len(gaps) else 0.0)
        return
    kx = (new.right - new.left) / (old.right - old.left)
    ky = (new.bottom - new.top) / (old.bottom - old.top)
    for key, box in boxes.items():
        placed[key] = Box(
            new.left + (box.left - old.left) * kx, new.top + (box.top - old.top) * ky,
            new.left + (box.right - old.left) * kx, new.top + (box.bottom - old.top) * ky,
        )  # fmt: skip


def _carry_layer(layer: Any, old: Box, new: Box) -> Layer:
    """A layer from one box on the page into another; what is turned or bent keeps its proportions in the middle of it."""
    kx = (new.right - new.left) / max(1e-6, old.right - old.left)
    ky = (new.bottom - new.top) / max(1e-6, old.bottom - old.top)

    def move_point(point: tuple[float, float]) -> tuple[float, float]:
        x, y = point
        return round_exactly(new.left + (x - old.left) * kx), round_exactly(new.top + (y - old.top) * ky)

    if isinstance(layer, Shaped):
        surface: Any = layer.surface
        if isinstance(surface, Corners):
            return layer.copy_with(surface=surface.copy_with(points=tuple(map(move_point, surface.points))))
        if isinstance(surface, Grid):
            return layer.copy_with(
                surface=surface.copy_with(net=tuple(tuple(map(move_point, row)) for row in surface.net))
            )
        k = min(kx, ky)
        upright = isinstance(surface, Flat) and surface.turn_deg % 180.0 == 0 and not surface.is_distorted
        across, down = (kx, ky) if upright else (k, k)
        fields: dict[str, Any] = {"centre": move_point(surface.centre)}
        if isinstance(surface, Roll):
            fields["radius_mm"] = round_exactly(surface.radius_mm * k)
        return layer.copy_with(outline=_scale_outline(layer.outline, across, down), surface=surface.copy_with(**fields))
    across, down = (kx, ky) if layer.turn_deg % 180.0 == 0 else (min(kx, ky),) * 2
    size = {"width_mm": round_exactly(layer.width_mm * across), "height_mm": round_exactly(layer.height_mm * down)}
    if layer.kind == "ornament":
        k = min(kx, ky)
        size = {"width_mm": round_exactly(layer.width_mm * k), "height_mm": round_exactly(layer.height_mm * k)}
    return layer.copy_with(centre=move_point(layer.centre), **size)


def _scale_outline(outline: Any, across: float, down: float) -> Any:
    if isinstance(outline, Path):
        return outline.copy_with(d=outlines.map_path(outline.d, scaling(across, down)))
    return outline.copy_with(
        width_mm=round_exactly(outline.width_mm * across), height_mm=round_exactly(outline.height_mm * down)
    )
