"""What an opening is cut out of, and how it lies on the page: outlines (opening space) and surfaces (opening -> page).

Opening space is the opening's own flat plane in mm with its origin at the centre, x right, y down.
"""

from typing import Annotated, Any, Literal, Self

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, model_validator

from ..geometry import outlines, quadrilaterals
from ..geometry.matrices import Matrix, Points, rotation, translation

Length = Annotated[float, Field(gt=0, le=5000, allow_inf_nan=False, description="mm")]
Coordinate = Annotated[float, Field(ge=-10000, le=10000, allow_inf_nan=False, description="mm")]
Degrees = Annotated[float, Field(ge=-3600, le=3600, allow_inf_nan=False, description="degrees, counter-clockwise")]
Point = tuple[Coordinate, Coordinate]


class Frozen(BaseModel):
    """Base of every part of a document: immutable, nothing unknown let in."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    def having(self, **update: Any) -> Self:
        """A copy with some fields replaced by values already known to be valid."""
        copied = self.model_copy(update=update)
        for cached in copied.__dict__.keys() - type(self).model_fields.keys():
            del copied.__dict__[cached]  # what was computed from the old fields
        return copied


class _Outline(Frozen):
    def path_data(self) -> str:
        """The outline as SVG path data in opening space, mm."""
        raise NotImplementedError

    def polygons(self, tolerance_mm: float = 0.01) -> tuple[Points, ...]:
        """The outline as polygons, chords at most ``tolerance_mm`` off."""
        return outlines.flatten(self.path_data(), tolerance_mm)

    @property
    def area_mm2(self) -> float:
        """Enclosed area."""
        return abs(sum(outlines.area(p) for p in self.polygons()))


class _Sized(_Outline):
    width_mm: Length
    height_mm: Length


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
    """Any closed shape, as SVG path data in opening space. A polygon is a path of straight lines."""

    kind: Literal["path"] = "path"
    d: Annotated[str, Field(max_length=20000)]

    @model_validator(mode="after")
    def _encloses(self) -> "Path":
        if self.area_mm2 <= 0:
            raise ValueError("This outline encloses nothing: draw a closed shape.")
        return self

    def path_data(self) -> str:
        return self.d

    @property
    def width_mm(self) -> float:
        """Width of the box about it."""
        x0, _, x1, _ = outlines.bounds(self.polygons())
        return x1 - x0

    @property
    def height_mm(self) -> float:
        """Height of the box about it."""
        _, y0, _, y1 = outlines.bounds(self.polygons())
        return y1 - y0


Outline = Annotated[Rectangle | Ellipse | Path, Field(discriminator="kind")]


class Flat(Frozen):
    """Lies flat on the page: its centre, and how far it is turned."""

    kind: Literal["flat"] = "flat"
    centre: Point
    turn_deg: Degrees = 0.0

    def page_from_opening(self, outline: Any) -> Matrix:
        """The map as a 3x3 matrix, mm to mm."""
        return translation(*self.centre) @ rotation(self.turn_deg)


class Corners(Frozen):
    """Lies slanted: the rectangle about the outline goes to four page points (top left, then clockwise as seen)."""

    kind: Literal["corners"] = "corners"
    points: tuple[Point, Point, Point, Point]

    @model_validator(mode="after")
    def _convex(self) -> "Corners":
        try:
            quadrilaterals.checked(self.points)
        except Exception as error:
            raise ValueError(str(error)) from None
        return self

    def page_from_opening(self, outline: Any) -> Matrix:
        """The homography as a 3x3 matrix, mm to mm."""
        x0, y0, x1, y1 = outlines.bounds(outline.polygons())
        onto = quadrilaterals.quad_from_rectangle(x1 - x0, y1 - y0, np.array(self.points))
        return onto @ translation(-(x0 + x1) / 2, -(y0 + y1) / 2)


Surface = Annotated[Flat | Corners, Field(discriminator="kind")]
