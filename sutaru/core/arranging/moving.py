"""Moving layers on their page: a motion mirrors, scales, skews and turns them about a point and then shifts them.

Photos are never mirrored and words never set backwards: what is mirrored is where and how a layer lies, and its outline.
Borders, mats, shadows and corners' radii keep their real sizes. Page mm; angles counter-clockwise as seen.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
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
from ..geometry.matrices import Matrix, apply, rotation, scaling, translation

DECIMALS = 9  # of a millimetre: what is turned back lies where it lay, to the last digit written
Point = tuple[float, float]
Mirror = Literal["left_right", "top_bottom"]
_MIRRORS: dict[str | None, Matrix] = {None: np.eye(3), "left_right": scaling(-1, 1), "top_bottom": scaling(1, -1)}


def round_exactly(number: float) -> float:
    """A length or angle as it is written."""
    return round(number, DECIMALS) + 0.0


def readable_turn(turn_deg: float) -> float:
    """The turn that lies along the same line, above -90 and up to 90 degrees: words there are not upside down.

    >>> readable_turn(180), readable_turn(-90), readable_turn(100)
    (0.0, 90.0, -80.0)
    """
    turn = round_exactly(turn_deg) % 180.0
    return round_exactly(turn - 180.0 if turn > 90.0 else turn)


def normal_turn(turn_deg: float) -> float:
    """The same turn, above -180 and up to 180 degrees."""
    turn = round_exactly(turn_deg) % 360.0
    return round_exactly(turn - 360.0 if turn > 180.0 else turn)


_ACROSS = {"left": "right", "right": "left"}
_DOWN = {"top": "bottom", "bottom": "top"}


def read_again(
    layer: Text | DateGrid | GuideNote, turn_deg: float, across: bool = False, down: bool = False
) -> dict[str, Any]:
    """How words stand in a box that was turned or mirrored ``across`` or ``down``: never upside down, at the same edges of the
    page as before."""
    fields: dict[str, Any] = {"turn_deg": readable_turn(turn_deg)}
    if isinstance(layer, Text):
        flipped = round((turn_deg - fields["turn_deg"]) / 180.0) % 2 == 1
        if across != flipped:
            fields["align"] = _ACROSS.get(layer.align, layer.align)
        if down != flipped:
            fields["stand"] = _DOWN.get(layer.stand, layer.stand)
    return fields


@dataclass(frozen=True)
class Motion:
    """Mirrored, scaled across and down, skewed, turned, all ``about`` a page point; then shifted ``by``."""

    about: Point
    by: Point = (0.0, 0.0)
    turn_deg: float = 0.0
    mirror: Mirror | None = None
    scale: Point = (1.0, 1.0)
    skew_deg: float = 0.0

    @property
    def matrix(self) -> Matrix:
        """Page to page, mm."""
        x, y = self.about
        skew = np.eye(3)
        skew[0, 1] = -np.tan(np.radians(self.skew_deg))
        inner = rotation(self.turn_deg) @ skew @ scaling(*self.scale) @ _MIRRORS[self.mirror]
        return translation(x + self.by[0], y + self.by[1]) @ inner @ translation(-x, -y)

    @property
    def mirror_part(self) -> "Motion":
        """Its first part: the mirroring alone."""
        return Motion(self.about, mirror=self.mirror)

    @property
    def motion_part(self) -> "Motion":
        """All of it but the mirroring."""
        return replace(self, mirror=None)


def map_points(matrix: Matrix, points: Any) -> Any:
    """Points, however nested, as nested tuples."""

    def nest_points(entry: Any) -> Any:
        return tuple(nest_points(inner) for inner in entry) if isinstance(entry, list) else round_exactly(entry)

    return nest_points(apply(matrix, points).tolist())


def _mirror_outline(outline: Any, mirror: Mirror) -> Any:
    """An outline mirrored in its own plane."""
    if isinstance(outline, Path):
        return outline.copy_with(d=outlines.map_path(outline.d, _MIRRORS[mirror]))
    if isinstance(outline, Mask):
        half = 0 if mirror == "left_right" else 2
        return outline.copy_with(mirrored=not outline.mirrored, quarters=(half - outline.quarters) % 4)
    return outline


def _mirror_surface(surface: Any, motion: Motion) -> Any:
    """Where a mirrored outline lies once the page was mirrored: the photo in it is not mirrored."""
    matrix, sides = motion.matrix, motion.mirror == "left_right"
    if isinstance(surface, Corners):
        tl, tr, br, bl = map_points(matrix, surface.points)
        return surface.copy_with(points=(tr, tl, bl, br) if sides else (bl, br, tr, tl))
    if isinstance(surface, Grid):
        net = map_points(matrix, surface.net)
        return surface.copy_with(net=tuple(row[::-1] for row in net) if sides else net[::-1])
    fields = {"centre": map_points(matrix, surface.centre), "turn_deg": round_exactly(-surface.turn_deg)}
    if isinstance(surface, Flat):
        fields["skew_deg"] = round_exactly(-surface.skew_deg)
    elif not sides:
        fields["tilt_deg"] = round_exactly(-surface.tilt_deg)
    return surface.copy_with(**fields)


def mirror_paint(layer: Any, mirror: Mirror = "left_right") -> Any:
    """A background or a shape with its gradient and its texture mirrored."""
    gradient, texture = layer.gradient, layer.texture
    if gradient and mirror == "left_right":
        x, y = gradient.centre
        gradient = gradient.copy_with(
            turn_deg=normal_turn(180.0 - gradient.turn_deg), centre=(round_exactly(1.0 - x), y)
        )
    elif gradient:
        x, y = gradient.centre
        gradient = gradient.copy_with(turn_deg=normal_turn(-gradient.turn_deg), centre=(x, round_exactly(1.0 - y)))
    if texture:
        texture = texture.copy_with(turn_deg=normal_turn(-texture.turn_deg))
    return layer.copy_with(gradient=gradient, texture=texture)


def turn_paint(layer: Any) -> Any:
    """A background or a shape with its gradient and its texture turned to the left by a quarter."""
    gradient, texture = layer.gradient, layer.texture
    if gradient:
        x, y = gradient.centre
        gradient = gradient.copy_with(
            turn_deg=normal_turn(gradient.turn_deg + 90.0), centre=(y, round_exactly(1.0 - x))
        )
    if texture:
        texture = texture.copy_with(turn_deg=normal_turn(texture.turn_deg + 90.0))
    return layer.copy_with(gradient=gradient, texture=texture)


def carry_layer(layer: Layer, motion: Motion) -> Layer:
    """A layer after a motion. Raises EditRefused when it cannot lie like that."""
    if isinstance(layer, Group):
        return layer.copy_with(layers=tuple(carry_layer(inner, motion) for inner in layer.layers))
    return _CARRIED[type(layer)](layer, motion)


def _shape(layer: Any, motion: Motion) -> Any:
    """An opening or a fill."""
    outline, surface = layer.outline, layer.surface
    if motion.mirror:
        outline, surface = _mirror_outline(outline, motion.mirror), _mirror_surface(surface, motion.mirror_part)
    laid = layer.copy_with(
        outline=_scale_outline(outline, surface, motion.motion_part), surface=_move_surface(surface, motion.motion_part)
    )
    return mirror_paint(laid, motion.mirror) if isinstance(layer, FillBox) and motion.mirror else laid


def _scale_outline(outline: Any, surface: Any, motion: Motion) -> Any:
    """An outline made larger in its own plane; on corners and nets the points carry all of it."""
    if motion.scale == (1.0, 1.0) or isinstance(surface, Corners | Grid):
        return outline
    x, y = motion.scale
    if not _is_even_enough(surface, motion):
        raise EditRefused("What is turned can only be made larger or smaller evenly.", "Turn it back first.")
    if round(surface.turn_deg / 90.0) % 2:
        x, y = y, x
    if isinstance(outline, Path):
        return outline.copy_with(d=outlines.map_path(outline.d, scaling(x, y)))
    return outline.copy_with(
        width_mm=round_exactly(outline.width_mm * x), height_mm=round_exactly(outline.height_mm * y)
    )


def _is_even_enough(surface: Any, motion: Motion) -> bool:
    if motion.scale[0] == motion.scale[1]:
        return True
    return isinstance(surface, Flat) and not surface.is_distorted and surface.turn_deg % 90.0 == 0


def _move_surface(surface: Any, motion: Motion) -> Any:
    matrix = motion.matrix
    if isinstance(surface, Corners):
        return Corners(points=map_points(matrix, surface.points))
    if isinstance(surface, Grid):
        return Grid(net=map_points(matrix, surface.net))
    fields: dict[str, Any] = {"centre": map_points(matrix, surface.centre)}
    if motion.turn_deg:
        fields["turn_deg"] = normal_turn(surface.turn_deg + motion.turn_deg)
    if isinstance(surface, Roll):
        if motion.skew_deg:
            raise EditRefused("What lies round a cylinder cannot be skewed.", "Lay it flat first.")
        if motion.scale != (1.0, 1.0):
            fields["radius_mm"] = round_exactly(surface.radius_mm * motion.scale[0])
    elif motion.skew_deg:
        if surface.turn_deg % 180.0:
            raise EditRefused("What is turned cannot be skewed.", "Turn it back first.")
        slope = math.tan(math.radians(surface.skew_deg)) + math.tan(math.radians(motion.skew_deg))
        fields["skew_deg"] = round_exactly(math.degrees(math.atan(slope)))
    return type(surface).model_validate(surface.model_dump() | fields)


def _echo(layer: Echo, motion: Motion) -> Echo:
    if layer.surface is not None:
        surface = _mirror_surface(layer.surface, motion.mirror_part) if motion.mirror else layer.surface
        return layer.copy_with(surface=_move_surface(surface, motion.motion_part))
    floor = layer.floor
    if floor.line is not None:
        ends = map_points(motion.matrix, floor.line)
        floor = floor.copy_with(line=ends[::-1] if motion.mirror == "left_right" else ends)
    if motion.mirror == "left_right":
        floor = floor.copy_with(slant_deg=round_exactly(-floor.slant_deg))
    return layer.copy_with(floor=floor)


def _box(layer: Any, motion: Motion) -> Any:
    """Words, notes and ornaments. Type grows with its box when that grows evenly."""
    if motion.skew_deg:
        raise EditRefused("Words and ornaments cannot be skewed.", "Leave them out of the selection.")
    x, y = motion.scale
    if x != y and layer.turn_deg % 90.0:
        raise EditRefused("What is turned can only be made larger or smaller evenly.", "Turn it back first.")
    if round(layer.turn_deg / 90.0) % 2:
        x, y = y, x
    fields: dict[str, Any] = {"centre": map_points(motion.matrix, layer.centre)}
    if motion.scale != (1.0, 1.0):
        fields |= {"width_mm": round_exactly(layer.width_mm * x), "height_mm": round_exactly(layer.height_mm * y)}
        if x == y and isinstance(layer, Text | DateGrid | GuideNote):
            fields["size_pt"] = round_exactly(layer.size_pt * x)
            if isinstance(layer, DateGrid):
                fields["dates_pt"] = round_exactly(layer.dates_pt * x)
    if motion.mirror or motion.turn_deg:
        turn = (-layer.turn_deg if motion.mirror else layer.turn_deg) + motion.turn_deg
        if isinstance(layer, Ornament | Overlay):
            turn += 180.0 if motion.mirror == "top_bottom" else 0.0
            fields |= {"turn_deg": normal_turn(turn), "mirrored": layer.mirrored != bool(motion.mirror)}
        elif motion.mirror:
            fields |= read_again(layer, turn, across=motion.mirror == "left_right", down=motion.mirror == "top_bottom")
        else:
            fields["turn_deg"] = normal_turn(turn)
    return type(layer).model_validate(layer.model_dump() | fields)


def _background(layer: Background, motion: Motion) -> Background:
    raise EditRefused("The background lies under the whole sheet.", "Leave it out of the selection.")


_CARRIED: dict[type[Any], Callable[[Any, Motion], Any]] = {
    Opening: _shape, FillBox: _shape, PagePicture: _shape, Echo: _echo, Text: _box, DateGrid: _box, GuideNote: _box,
    Ornament: _box, Overlay: _box, Background: _background,
}  # fmt: skip
