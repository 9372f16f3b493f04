"""Laying layers in line, at equal distances, in one size. Everything goes by the boxes about the layers on the page, mm."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from ..document import Background, Echo, Ellipse, Flat, Group, Layer, Layout, Rectangle, Shaped
from ..errors import EditRefused
from ..geometry import outlines
from ..geometry.matrices import apply
from .moving import Motion, carry_layer, round_exactly

Edge = Literal["left", "centre", "right", "top", "middle", "bottom"]
To = Literal["each_other", "page", "left_page", "right_page", "safe"]
Side = Literal["width", "height", "both"]


@dataclass(frozen=True)
class Box:
    """An upright rectangle on the page."""

    left: float
    top: float
    right: float
    bottom: float

    def span(self, axis: str) -> tuple[float, float]:
        """Its two ends along ``x`` or ``y``."""
        return (self.left, self.right) if axis == "x" else (self.top, self.bottom)


def box_around(boxes: Sequence[Box]) -> Box:
    """The box about boxes."""
    return Box(
        min(b.left for b in boxes), min(b.top for b in boxes), max(b.right for b in boxes), max(b.bottom for b in boxes)
    )


def page_box(layer: Layer) -> Box:
    """The box about a layer on the page; for a group about all in it. Raises EditRefused where there is none of its own."""
    if isinstance(layer, Group):
        if not layer.layers:
            raise EditRefused("This group is empty.", "Put something into it, or take it away.")
        return box_around([page_box(inner) for inner in layer.layers])
    if isinstance(layer, Shaped):
        onto = layer.surface.page_from_opening(layer.outline)
        lies, outline = layer.surface, layer.outline
        straight = isinstance(lies, Flat) and lies.turn_deg % 90.0 == 0 and not lies.is_distorted
        if straight and isinstance(outline, Rectangle | Ellipse):
            x0, y0, x1, y1 = layer.outline.frame
            return Box(*map(round_exactly, outlines.bounds([onto.apply([(x0, y0), (x1, y1)])])))
        return Box(*map(round_exactly, outlines.bounds([onto.apply(polygon) for polygon in layer.outline.polygons()])))
    if isinstance(layer, Background | Echo):
        raise EditRefused(f"{layer.name or layer.kind.capitalize()} has no place of its own.", "Leave it out.")
    x, y = layer.width_mm / 2, layer.height_mm / 2
    corners = apply(layer.page_from_box, np.array([(-x, -y), (x, -y), (x, y), (-x, y)]))
    return Box(*map(round_exactly, outlines.bounds([corners])))


def layers_box(layers: Sequence[Layer]) -> Box:
    """The box about several layers."""
    return box_around([page_box(layer) for layer in layers])


def _shift_layer(layer: Layer, by: tuple[float, float]) -> Layer:
    return carry_layer(layer, Motion((0.0, 0.0), by)) if by != (0.0, 0.0) else layer


def bounds_of(layout: Layout, to: To) -> Box:
    """The part of a sheet that layers are aligned to. Raises EditRefused for single pages where nothing parts the sheet."""
    whole = Box(0.0, 0.0, layout.width_mm, layout.height_mm)
    if to in ("left_page", "right_page"):
        gutters = sorted(line.at_mm for line in layout.lines if line.axis == "x" and line.kind in ("gutter", "fold"))
        if not gutters:
            raise EditRefused("This sheet has no gutter or fold that parts it into pages.", "Align to the page.")
        half = gutters[len(gutters) // 2]
        return Box(0.0, 0.0, half, whole.bottom) if to == "left_page" else Box(half, 0.0, whole.right, whole.bottom)
    inset = layout.safe_mm if to == "safe" else 0.0
    return Box(inset, inset, whole.right - inset, whole.bottom - inset)


def align_layers(
    layout: Layout, layers: Sequence[Layer], edge: Edge, to: To, line_mm: float | None = None
) -> list[Layer]:
    """Layers laid to an edge or middle of each other, of the page, or to a line of the sheet at ``line_mm``."""
    boxes = [page_box(layer) for layer in layers]
    axis = "x" if edge in ("left", "centre", "right") else "y"
    share = {"left": 0.0, "top": 0.0, "centre": 0.5, "middle": 0.5, "right": 1.0, "bottom": 1.0}[edge]

    def mark(box: Box) -> float:
        low, high = box.span(axis)
        return low + share * (high - low)

    lies = box_around(boxes) if to == "each_other" else bounds_of(layout, to)
    goal = mark(lies) if line_mm is None else line_mm
    moved = []
    for layer, box in zip(layers, boxes, strict=True):
        by = round_exactly(goal - mark(box))
        moved.append(_shift_layer(layer, (by, 0.0) if axis == "x" else (0.0, by)))
    return moved


def distribute_layers(
    layers: Sequence[Layer], axis: Literal["x", "y"], by: Literal["gap", "centre"], gap_mm: float | None = None
) -> list[Layer]:
    """Layers along an axis with equal gaps between them, or equal ways from middle to middle: between the outermost two,
    or, with ``gap_mm``, so far from each other that the first stays."""
    if len(layers) < (2 if gap_mm is not None else 3):
        raise EditRefused("There is nothing to distribute.", "Select at least three, or say the gap.")
    spans = [page_box(layer).span(axis) for layer in layers]
    middle = [(low + high) / 2 for low, high in spans]
    order = sorted(range(len(layers)), key=lambda n: (middle[n], n))
    first, last = order[0], order[-1]
    sizes = [spans[n][1] - spans[n][0] for n in order]
    if by == "centre":
        step = gap_mm if gap_mm is not None else (middle[last] - middle[first]) / (len(layers) - 1)
        goals = [middle[first] + n * step for n in range(len(layers))]
    else:
        free = spans[last][1] - spans[first][0] - sum(sizes)
        gap = gap_mm if gap_mm is not None else free / (len(layers) - 1)
        starts = [spans[first][0] + sum(sizes[:n]) + n * gap for n in range(len(layers))]
        goals = [start + size / 2 for start, size in zip(starts, sizes, strict=True)]
    spaced = list(layers)
    for goal, n in zip(goals, order, strict=True):
        way = round_exactly(goal - middle[n])
        spaced[n] = _shift_layer(layers[n], (way, 0.0) if axis == "x" else (0.0, way))
    return spaced


def same_size(layers: Sequence[Layer], side: Side) -> list[Layer]:
    """Layers as wide, as high, or both, as the first of them, each about its own middle, in its own plane."""
    width, height = _unturned_size(layers[0])
    sized: list[Layer] = [layers[0]]
    for layer in layers[1:]:
        unturned = _unturned_size(layer)
        size = {
            "width_mm": width if side != "height" else unturned[0],
            "height_mm": height if side != "width" else unturned[1],
        }
        sized.append(_size_layer(layer, size, unturned))
    return sized


def _size_layer(layer: Any, size: dict[str, float], unturned: tuple[float, float]) -> Layer:
    if isinstance(layer, Shaped):
        outline = layer.outline
        if outline.kind == "path":
            by = np.diag((size["width_mm"] / unturned[0], size["height_mm"] / unturned[1], 1.0))
            outline = outline.copy_with(d=outlines.map_path(outline.d, by))
        else:
            outline = outline.copy_with(**size)
        return type(layer).model_validate({**_fields(layer), "outline": outline})
    return type(layer).model_validate({**_fields(layer), **size})


def _fields(layer: Any) -> dict[str, Any]:
    return {name: getattr(layer, name) for name in type(layer).model_fields}


def _unturned_size(layer: Layer) -> tuple[float, float]:
    if isinstance(layer, Shaped):
        if not hasattr(layer.surface, "centre"):
            raise EditRefused("What lies on corners or on a net has no size of its own.", "Lay it flat first.")
        return layer.outline.width_mm, layer.outline.height_mm
    if isinstance(layer, Group | Background | Echo):
        raise EditRefused(f"{layer.name or layer.kind.capitalize()} has no size of its own.", "Leave it out.")
    return layer.width_mm, layer.height_mm
