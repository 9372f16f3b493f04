"""What an opening is cut out of, and how it lies on the page: outlines (opening space) and surfaces (opening -> page).

Opening space is the opening's own flat plane in mm with its origin at the centre, x right, y down.
"""

import math
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field, model_validator

from .. import limits
from ..geometry import cylinders, outlines, patches, quadrilaterals
from ..geometry.maps import Map, Projective
from ..geometry.matrices import Points, rotation, scaling, translation
from ..remembering import remember
from .base import AssetName, Degrees, Frozen, Length, Point, unsaid


class _Outline(Frozen):
    def path_data(self) -> str:
        """The outline as SVG path data in opening space, mm."""
        raise NotImplementedError

    def polygons(self, tolerance_mm: float = 0.01) -> tuple[Points, ...]:
        """The outline as polygons, chords at most ``tolerance_mm`` off."""
        return outlines.flatten(self.path_data(), tolerance_mm)

    @property
    def frame(self) -> tuple[float, float, float, float]:
        """The box that it is sized by: left, top, right, bottom. A mask's is the whole picture's."""
        return outlines.bounds(self.polygons())

    @property
    def area_mm2(self) -> float:
        """Enclosed area."""
        return abs(sum(outlines.area(p) for p in self.polygons()))


class _Sized(_Outline):
    width_mm: Length
    height_mm: Length

    @property
    def frame(self) -> tuple[float, float, float, float]:
        """As it is stored."""
        return -self.width_mm / 2, -self.height_mm / 2, self.width_mm / 2, self.height_mm / 2


class Rectangle(_Sized):
    """A rectangle, its corners rounded by ``radius_mm``."""

    kind: Literal["rectangle"] = "rectangle"
    radius_mm: Annotated[float, Field(ge=0, le=2500)] = 0.0

    def path_data(self) -> str:
        return outlines.rectangle(self.width_mm, self.height_mm, self.radius_mm)


class Ellipse(_Sized):
    """An ellipse or a circle."""

    kind: Literal["ellipse"] = "ellipse"

    def path_data(self) -> str:
        return outlines.ellipse(self.width_mm, self.height_mm)


class Path(_Outline):
    """Any closed shape, as SVG path data in opening space, with its fill rule. A polygon is a path of straight lines.

    The middle of the box about it lies at the origin of opening space: a layer that is read otherwise is put right, and
    its surface with it (``centred``).
    """

    kind: Literal["path"] = "path"
    d: Annotated[str, Field(max_length=limits.OUTLINE_LETTERS)]
    rule: outlines.FillRule = "nonzero"

    @model_validator(mode="after")
    def _check_encloses(self) -> "Path":
        if sum(map(len, self.polygons())) > limits.OUTLINE_POINTS:
            raise ValueError("This outline has too many curves: make it simpler.")
        if self.area_mm2 <= 0 or min(self.width_mm, self.height_mm) < 0.01:
            raise ValueError("This outline encloses nothing: draw a closed shape.")
        if max(map(abs, self.box)) > limits.OUTLINE_MM:
            raise ValueError("This outline reaches further than 5 m: make it smaller.")
        return self

    def path_data(self) -> str:
        return self.d

    def polygons(self, tolerance_mm: float = 0.01) -> tuple[Points, ...]:
        """The outline as polygons that do not cross, holes running the other way."""
        return _simplify_path(self.d, self.rule, tolerance_mm)

    @property
    def box(self) -> tuple[float, float, float, float]:
        """The box about it: left, top, right, bottom."""
        return outlines.bounds(self.polygons())

    @property
    def width_mm(self) -> float:
        """Width of the box about it."""
        x0, _, x1, _ = self.box
        return x1 - x0

    @property
    def height_mm(self) -> float:
        """Height of the box about it."""
        _, y0, _, y1 = self.box
        return y1 - y0

    @property
    def middle(self) -> Point:
        """The middle of the box about it; (0, 0) but for hundredths of a millimetre once it is part of a layer."""
        x0, y0, x1, y1 = self.box
        return (x0 + x1) / 2, (y0 + y1) / 2


@remember
def _simplify_path(d: str, rule: outlines.FillRule, tolerance_mm: float) -> tuple[Points, ...]:
    return outlines.simplify_polygons(outlines.flatten(d, tolerance_mm), rule)


class Mask(_Sized):
    """A mask picture laid over the opening's box, read by its alpha or by its luminance. Soft edges stay soft.

    ``traced`` is the outline about all that shows at all, so that a photo that covers it leaves no gap: SVG path data in
    fractions of the box. It is worked out when the picture is read (``formats/masks.py``). In the opening the picture is
    mirrored left to right, if so said, and then turned counter-clockwise by ``quarters`` of a full turn.
    """

    kind: Literal["mask"] = "mask"
    asset: AssetName
    by: Literal["alpha", "luminance"] = "alpha"
    traced: Annotated[str, Field(max_length=60_000)]
    mirrored: Annotated[bool, Field(exclude_if=unsaid)] = False
    quarters: Annotated[int, Field(ge=0, le=3, exclude_if=unsaid)] = 0

    @model_validator(mode="after")
    def _check_encloses(self) -> "Mask":
        if self.area_mm2 <= 0:
            raise ValueError("This mask hides everything: choose to read it by alpha or by luminance.")
        return self

    def path_data(self) -> str:
        return _stretch_path(self.traced, self.width_mm, self.height_mm, self.mirrored, self.quarters)


@remember
def _stretch_path(traced: str, width: float, height: float, mirrored: bool, quarters: int) -> str:
    """Path data in fractions of a box, mirrored and turned, as path data about the box's centre, mm."""
    turned = rotation(90.0 * quarters)[:2, :2].round() @ np.diag((-1.0 if mirrored else 1.0, 1.0))
    polygons = [(p - 0.5) @ turned.T * (width, height) for p in outlines.flatten(traced, 0.001)]
    return "".join(outlines.polygon((p[::-1] if mirrored else p).round(6).tolist()) for p in polygons)


Outline = Annotated[Rectangle | Ellipse | Path | Mask, Field(discriminator="kind")]


class Flat(Frozen):
    """Lies flat on the page: its centre, and how far it is turned.

    Only on purpose it is stretched across or down, or skewed (its upper edge pushed to the right).
    """

    kind: Literal["flat"] = "flat"
    centre: Point
    turn_deg: Degrees = 0.0
    stretch_x: Annotated[float, Field(ge=0.2, le=5)] = 1.0
    stretch_y: Annotated[float, Field(ge=0.2, le=5)] = 1.0
    skew_deg: Annotated[float, Field(ge=-60, le=60)] = 0.0

    def page_from_opening(self, outline: Any) -> Map:
        """The map, mm to mm."""
        matrix = translation(*self.centre) @ rotation(self.turn_deg)
        if self.is_distorted:
            skew = np.eye(3)
            skew[0, 1] = -math.tan(math.radians(self.skew_deg))
            matrix = matrix @ skew @ scaling(self.stretch_x, self.stretch_y)
        return Projective(matrix)

    @property
    def is_distorted(self) -> bool:
        """Whether it was stretched or skewed on purpose."""
        return (self.stretch_x, self.stretch_y, self.skew_deg) != (1.0, 1.0, 0.0)


class Corners(Frozen):
    """Lies slanted: the rectangle about the outline goes to four page points (top left, then clockwise as seen)."""

    kind: Literal["corners"] = "corners"
    points: tuple[Point, Point, Point, Point]

    @model_validator(mode="after")
    def _convex(self) -> "Corners":
        try:
            quadrilaterals.check_corners(self.points)
        except Exception as error:
            raise ValueError(str(error)) from None
        return self

    def page_from_opening(self, outline: Any) -> Map:
        """The homography, mm to mm."""
        x0, y0, x1, y1 = outline.frame
        onto = quadrilaterals.quad_from_rectangle(x1 - x0, y1 - y0, np.array(self.points))
        return Projective(onto @ translation(-(x0 + x1) / 2, -(y0 + y1) / 2))


class Grid(Frozen):
    """Lies on a net of 2 to 5 rows of 2 to 5 page points, as cloth or a curled page does: a Bezier patch."""

    kind: Literal["grid"] = "grid"
    net: Annotated[tuple[tuple[Point, ...], ...], Field(min_length=2, max_length=5)]

    @model_validator(mode="after")
    def _check_open(self) -> "Grid":
        if len({len(row) for row in self.net}) != 1:
            raise ValueError("Every row of a grid surface needs the same number of points.")
        try:
            patches.check_net(self.net)
        except Exception as error:
            raise ValueError(str(error)) from None
        return self

    def page_from_opening(self, outline: Any) -> Map:
        """The patch, mm to mm."""
        return _patch(self.net, outline.frame)


@remember
def _patch(net: tuple[tuple[Point, ...], ...], box: tuple[float, float, float, float]) -> Map:
    x0, y0, x1, y1 = box
    return patches.BezierPatch(np.array(net)).after(scaling(1 / (x1 - x0), 1 / (y1 - y0)) @ translation(-x0, -y0))


class Roll(Frozen):
    """Lies round a cylinder, as on a mug or a bottle: its radius, its tilt towards the viewer, its turn on the page."""

    kind: Literal["roll"] = "roll"
    centre: Point
    radius_mm: Length
    tilt_deg: Annotated[float, Field(ge=-80, le=80)] = 0.0
    turn_deg: Degrees = 0.0

    def page_from_opening(self, outline: Any) -> Map:
        """The cylinder, mm to mm."""
        return cylinders.Cylinder(self.radius_mm, self.tilt_deg).then(
            translation(*self.centre) @ rotation(self.turn_deg)
        )

    def check_outline(self, outline: Any) -> None:
        """Raises GeometryError when the opening would reach round to the back."""
        x0, _, x1, _ = outline.frame
        cylinders.check_width(2 * max(-x0, x1), self.radius_mm)


Surface = Annotated[Flat | Corners | Grid | Roll, Field(discriminator="kind")]


def centre_outline(outline: Any, surface: Any) -> tuple[Any, Any]:
    """A path with the middle of its box at the origin, and its surface so that it lies where it lay.

    Only a roll cannot hold it wholly: there its middle stays where it was.
    """
    if not isinstance(outline, Path):
        return outline, surface
    x, y = outline.middle
    if math.hypot(x, y) < 0.02:
        return outline, surface
    if isinstance(surface, Flat | Roll):
        (moved,) = surface.page_from_opening(outline).apply([(x, y)]).tolist()
        surface = surface.copy_with(centre=tuple(moved))
    # Corners and grids hold the box about the outline, wherever that lies.
    return outline.copy_with(d=outlines.move_path(outline.d, -x, -y)), surface
