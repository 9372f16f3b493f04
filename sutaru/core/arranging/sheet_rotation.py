"""Turning and mirroring a whole sheet, with its trim, lines, guides and all layers.

Photos stay upright, words are never upside down, the light stays where it is: every shadow goes on falling its way.
Four quarter turns, or two mirrorings, give the same sheet again to the last digit.
"""

from collections.abc import Callable
from typing import Any, Literal

import numpy as np

from ..document import (
    Background,
    Corners,
    DateGrid,
    Echo,
    FillBox,
    Flat,
    Grid,
    Group,
    GuideNote,
    Layer,
    Layout,
    Mask,
    Opening,
    Ornament,
    Overlay,
    PagePicture,
    Path,
    Roll,
    Text,
)
from ..errors import EditRefused
from ..geometry import outlines
from ..geometry.matrices import Matrix, rotation
from .moving import Motion, carry_layer, map_points, mirror_paint, normal_turn, read_again, round_exactly, turn_paint

Turning = Literal["left", "right", "half", "left_right", "top_bottom"]


def rotate_sheet(layout: Layout, how: Turning) -> Layout:
    """The layout turned by a quarter or a half, or mirrored. Raises EditRefused when a layer cannot follow."""
    steps: dict[str, tuple[Callable[[Layout], Layout], ...]] = {
        "left": (_turn_left,), "half": (_turn_left, _turn_left), "right": (_turn_left, _turn_left, _turn_left),
        "left_right": (_mirror_sheet,), "top_bottom": (_mirror_sheet, _turn_left, _turn_left),
    }  # fmt: skip
    for step in steps[how]:
        layout = step(layout)
    return layout


def _mirror_sheet(layout: Layout) -> Layout:
    width = layout.width_mm
    motion = Motion((width / 2, 0.0), mirror="left_right")

    def mirror_layer(layer: Layer) -> Layer:
        if isinstance(layer, Group):
            return layer.copy_with(layers=tuple(map(mirror_layer, layer.layers)))
        if isinstance(layer, Background):
            return mirror_paint(layer)
        return carry_layer(layer, motion)

    def lines(of: Any) -> Any:
        return tuple(e.copy_with(at_mm=round_exactly(width - e.at_mm)) if e.axis == "x" else e for e in of)

    holes = tuple(hole.copy_with(at=(round_exactly(width - hole.at[0]), hole.at[1])) for hole in layout.holes)
    return layout.copy_with(
        lines=lines(layout.lines),
        guides=lines(layout.guides),
        layers=tuple(map(mirror_layer, layout.layers)),
        holes=holes,
    )


def _turn_left(layout: Layout) -> Layout:
    width = layout.width_mm
    page = np.array([[0.0, 1.0, 0.0], [-1.0, 0.0, width], [0.0, 0.0, 1.0]])

    def lines(of: Any) -> Any:
        other = {"x": "y", "y": "x"}
        return tuple(
            e.copy_with(axis=other[e.axis], at_mm=round_exactly(width - e.at_mm) if e.axis == "x" else e.at_mm)
            for e in of
        )

    columns = layout.columns
    return layout.copy_with(
        width_mm=layout.height_mm, height_mm=width, lines=lines(layout.lines), guides=lines(layout.guides),
        columns=columns and columns.copy_with(columns=columns.rows, rows=columns.columns),
        holes=tuple(hole.copy_with(at=map_points(page, hole.at)) for hole in layout.holes),
        layers=tuple(_turn_layer_left(layer, page) for layer in layout.layers),
    )  # fmt: skip


def _turn_layer_left(layer: Layer, page: Matrix) -> Layer:
    if isinstance(layer, Group):
        return layer.copy_with(layers=tuple(_turn_layer_left(inner, page) for inner in layer.layers))
    if isinstance(layer, Background):
        return turn_paint(layer)
    if isinstance(layer, PagePicture):
        return layer.copy_with(surface=_carry_surface_left(layer.surface, page))
    if isinstance(layer, Opening | FillBox):
        turns_itself = isinstance(layer.surface, Roll) or (isinstance(layer.surface, Flat) and layer.surface.skew_deg)
        outline = layer.outline if turns_itself else _turn_outline_left(layer.outline)
        laid = layer.copy_with(outline=outline, surface=_turn_surface_left(layer.surface, page))
        return turn_paint(laid) if isinstance(laid, FillBox) else laid
    if isinstance(layer, Echo):
        if layer.floor.line is not None and layer.surface is None:
            raise EditRefused(
                "A reflection lies at a floor line that was drawn, and a floor cannot stand upright.",
                "Put its floor line back below its opening first.",
            )
        return layer.copy_with(surface=layer.surface and _turn_surface_left(layer.surface, page))
    assert isinstance(layer, Text | DateGrid | GuideNote | Ornament | Overlay)
    centre, turn = map_points(page, layer.centre), layer.turn_deg + 90.0
    if isinstance(layer, Text | DateGrid | GuideNote):
        return layer.copy_with(centre=centre, **read_again(layer, turn))
    return layer.copy_with(centre=centre, turn_deg=normal_turn(turn))


def _turn_outline_left(outline: Any) -> Any:
    """An outline turned to the left in its own plane, so that the photo in it stays upright."""
    if isinstance(outline, Path):
        return outline.copy_with(d=outlines.map_path(outline.d, rotation(90.0)))
    fields = {"width_mm": outline.height_mm, "height_mm": outline.width_mm}
    if isinstance(outline, Mask):
        fields["quarters"] = (outline.quarters + 1) % 4
    return outline.copy_with(**fields)


def _carry_surface_left(surface: Any, page: Matrix) -> Any:
    """A surface turned to the left with all that lies on it."""
    if isinstance(surface, Corners):
        return surface.copy_with(points=map_points(page, surface.points))
    if isinstance(surface, Grid):
        return surface.copy_with(net=map_points(page, surface.net))
    return surface.copy_with(centre=map_points(page, surface.centre), turn_deg=normal_turn(surface.turn_deg + 90.0))


def _turn_surface_left(surface: Any, page: Matrix) -> Any:
    if isinstance(surface, Corners):
        tl, tr, br, bl = map_points(page, surface.points)
        return surface.copy_with(points=(tr, br, bl, tl))
    if isinstance(surface, Grid):
        net = map_points(page, surface.net)
        return surface.copy_with(net=tuple(tuple(row[-1 - column] for row in net) for column in range(len(net[0]))))
    fields: dict[str, Any] = {"centre": map_points(page, surface.centre)}
    if isinstance(surface, Roll) or surface.skew_deg:
        fields["turn_deg"] = normal_turn(surface.turn_deg + 90.0)
    else:
        fields |= {"stretch_x": surface.stretch_y, "stretch_y": surface.stretch_x}
    return surface.copy_with(**fields)
