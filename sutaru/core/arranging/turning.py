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
from .moving import Motion, carried, exact, mapped_points, mirrored_paint, once_round, read_again, turned_paint

Turning = Literal["left", "right", "half", "left_right", "top_bottom"]


def turned(layout: Layout, how: Turning) -> Layout:
    """The layout turned by a quarter or a half, or mirrored. Raises EditRefused when a layer cannot follow."""
    steps: dict[str, tuple[Callable[[Layout], Layout], ...]] = {
        "left": (_left,), "half": (_left, _left), "right": (_left, _left, _left),
        "left_right": (_mirrored,), "top_bottom": (_mirrored, _left, _left),
    }  # fmt: skip
    for step in steps[how]:
        layout = step(layout)
    return layout


def _mirrored(layout: Layout) -> Layout:
    width = layout.width_mm
    motion = Motion((width / 2, 0.0), mirror="left_right")

    def mirrored(layer: Layer) -> Layer:
        if isinstance(layer, Group):
            return layer.having(layers=tuple(map(mirrored, layer.layers)))
        if isinstance(layer, Background):
            return mirrored_paint(layer)
        return carried(layer, motion)

    def lines(of: Any) -> Any:
        return tuple(e.having(at_mm=exact(width - e.at_mm)) if e.axis == "x" else e for e in of)

    holes = tuple(hole.having(at=(exact(width - hole.at[0]), hole.at[1])) for hole in layout.holes)
    return layout.having(
        lines=lines(layout.lines), guides=lines(layout.guides), layers=tuple(map(mirrored, layout.layers)), holes=holes
    )


def _left(layout: Layout) -> Layout:
    width = layout.width_mm
    page = np.array([[0.0, 1.0, 0.0], [-1.0, 0.0, width], [0.0, 0.0, 1.0]])

    def lines(of: Any) -> Any:
        other = {"x": "y", "y": "x"}
        return tuple(
            e.having(axis=other[e.axis], at_mm=exact(width - e.at_mm) if e.axis == "x" else e.at_mm) for e in of
        )

    columns = layout.columns
    return layout.having(
        width_mm=layout.height_mm, height_mm=width, lines=lines(layout.lines), guides=lines(layout.guides),
        columns=columns and columns.having(columns=columns.rows, rows=columns.columns),
        holes=tuple(hole.having(at=mapped_points(page, hole.at)) for hole in layout.holes),
        layers=tuple(_left_layer(layer, page) for layer in layout.layers),
    )  # fmt: skip


def _left_layer(layer: Layer, page: Matrix) -> Layer:
    if isinstance(layer, Group):
        return layer.having(layers=tuple(_left_layer(inner, page) for inner in layer.layers))
    if isinstance(layer, Background):
        return turned_paint(layer)
    if isinstance(layer, PagePicture):
        return layer.having(surface=_carried_surface(layer.surface, page))
    if isinstance(layer, Opening | FillBox):
        turns_itself = isinstance(layer.surface, Roll) or (isinstance(layer.surface, Flat) and layer.surface.skew_deg)
        outline = layer.outline if turns_itself else _left_outline(layer.outline)
        laid = layer.having(outline=outline, surface=_left_surface(layer.surface, page))
        return turned_paint(laid) if isinstance(laid, FillBox) else laid
    if isinstance(layer, Echo):
        if layer.floor.line is not None and layer.surface is None:
            raise EditRefused(
                "A reflection lies at a floor line that was drawn, and a floor cannot stand upright.",
                "Put its floor line back below its opening first.",
            )
        return layer.having(surface=layer.surface and _left_surface(layer.surface, page))
    assert isinstance(layer, Text | DateGrid | GuideNote | Ornament | Overlay)
    centre, turn = mapped_points(page, layer.centre), layer.turn_deg + 90.0
    if isinstance(layer, Text | DateGrid | GuideNote):
        return layer.having(centre=centre, **read_again(layer, turn))
    return layer.having(centre=centre, turn_deg=once_round(turn))


def _left_outline(outline: Any) -> Any:
    """An outline turned to the left in its own plane, so that the photo in it stays upright."""
    if isinstance(outline, Path):
        return outline.having(d=outlines.mapped(outline.d, rotation(90.0)))
    fields = {"width_mm": outline.height_mm, "height_mm": outline.width_mm}
    if isinstance(outline, Mask):
        fields["quarters"] = (outline.quarters + 1) % 4
    return outline.having(**fields)


def _carried_surface(surface: Any, page: Matrix) -> Any:
    """A surface turned to the left with all that lies on it."""
    if isinstance(surface, Corners):
        return surface.having(points=mapped_points(page, surface.points))
    if isinstance(surface, Grid):
        return surface.having(net=mapped_points(page, surface.net))
    return surface.having(centre=mapped_points(page, surface.centre), turn_deg=once_round(surface.turn_deg + 90.0))


def _left_surface(surface: Any, page: Matrix) -> Any:
    if isinstance(surface, Corners):
        tl, tr, br, bl = mapped_points(page, surface.points)
        return surface.having(points=(tr, br, bl, tl))
    if isinstance(surface, Grid):
        net = mapped_points(page, surface.net)
        return surface.having(net=tuple(tuple(row[-1 - at] for row in net) for at in range(len(net[0]))))
    fields: dict[str, Any] = {"centre": mapped_points(page, surface.centre)}
    if isinstance(surface, Roll) or surface.skew_deg:
        fields["turn_deg"] = once_round(surface.turn_deg + 90.0)
    else:
        fields |= {"stretch_x": surface.stretch_y, "stretch_y": surface.stretch_x}
    return surface.having(**fields)
