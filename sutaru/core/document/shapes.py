"""What an opening is cut out of, and how it lies on the page: outlines (opening space) and surfaces (opening -> page).

Opening space is the opening's own flat plane in mm with its origin at the centre, x right, y down.
"""

import base64
import io
import math
from functools import lru_cache
from typing import Annotated, Any, Literal, Self

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image
from pydantic import BaseModel, ConfigDict, Field, model_validator

from ..geometry import cylinders, outlines, patches, quadrilaterals
from ..geometry.maps import Map, Projective
from ..geometry.matrices import Points, rotation, scaling, translation

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


class Mask(_Sized):
    """A mask picture laid over the opening's box: a PNG, read by its alpha or by its luminance. Soft edges stay soft.

    Its outline is drawn about all that shows at all, so that a photo that covers it leaves no gap.
    """

    kind: Literal["mask"] = "mask"
    png: Annotated[str, Field(max_length=1_500_000, description="base64")]
    by: Literal["alpha", "luminance"] = "alpha"

    @model_validator(mode="after")
    def _shows(self) -> "Mask":
        if not (mask_pixels(self.png, self.by) >= _LEAST_SEEN).any():
            raise ValueError("This mask hides everything: choose to read it by alpha or by luminance.")
        return self

    def pixels(self) -> NDArray[np.uint8]:
        """What shows, 0 to 255, shape (h, w)."""
        return mask_pixels(self.png, self.by)

    def path_data(self) -> str:
        mask = self.pixels()
        kx, ky = self.width_mm / mask.shape[1], self.height_mm / mask.shape[0]
        return "".join(
            outlines.polygon([(x * kx - self.width_mm / 2, y * ky - self.height_mm / 2) for x, y in around])
            for around in _traced(self.png, self.by)
        )


_LEAST_SEEN = 6  # of 255: less cannot be told from nothing in print
_MASK_PIXELS = 4_000_000


@lru_cache(maxsize=32)
def mask_pixels(png: str, by: str) -> NDArray[np.uint8]:
    """A mask picture as an array (h, w). Raises ValueError with a plain sentence when it is not a PNG that can serve."""
    try:
        with Image.open(io.BytesIO(base64.b64decode(png, validate=True)), formats=("PNG",)) as picture:
            if picture.width * picture.height > _MASK_PIXELS:
                raise ValueError("This mask has more than 4 million pixels: make it smaller.")
            if by == "alpha" and "A" not in picture.getbands() and "transparency" not in picture.info:
                raise ValueError("This mask has no transparency: read it by luminance.")
            rgba = picture.convert("RGBA")
    except (OSError, SyntaxError, Image.DecompressionBombError) as error:
        raise ValueError(f"This mask is not a PNG that can be read ({error}).") from None
    alpha = np.asarray(rgba.getchannel("A"))
    found = alpha
    if by == "luminance":
        luminance = np.asarray(rgba.convert("RGB").convert("L"), np.float32)
        found = np.rint(luminance * (alpha / np.float32(255))).astype(np.uint8)
    found = np.ascontiguousarray(found)
    found.flags.writeable = False
    return found


@lru_cache(maxsize=32)
def _traced(png: str, by: str) -> tuple[tuple[tuple[float, float], ...], ...]:
    """Polygons about all that shows, in mask px, following whole pixels."""
    seen = (mask_pixels(png, by) >= _LEAST_SEEN).astype(np.uint8)
    # Twice as large, so that a polygon through pixel centres runs along pixel edges; half a pixel of slack stays.
    grown = cv2.copyMakeBorder(cv2.resize(seen, None, fx=2, fy=2, interpolation=cv2.INTER_NEAREST), 1, 1, 1, 1, 0)
    found, _ = cv2.findContours(grown, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    height, width = seen.shape
    polygons = []
    for contour in found:
        around = cv2.approxPolyDP(contour, 0.7, True).reshape(-1, 2) / 2.0 - 0.25
        if len(around) >= 3:
            polygons.append(tuple((float(np.clip(x, 0, width)), float(np.clip(y, 0, height))) for x, y in around))
    return tuple(polygons)


Outline = Annotated[Rectangle | Ellipse | Path | Mask, Field(discriminator="kind")]


def _box(outline: Any) -> tuple[float, float, float, float]:
    """The box about an outline in opening space. A mask's is the whole picture's."""
    if isinstance(outline, _Sized):
        return -outline.width_mm / 2, -outline.height_mm / 2, outline.width_mm / 2, outline.height_mm / 2
    return outlines.bounds(outline.polygons())


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
        if self.distorts:
            skew = np.eye(3)
            skew[0, 1] = -math.tan(math.radians(self.skew_deg))
            matrix = matrix @ skew @ scaling(self.stretch_x, self.stretch_y)
        return Projective(matrix)

    @property
    def distorts(self) -> bool:
        """Whether it was stretched or skewed on purpose."""
        return (self.stretch_x, self.stretch_y, self.skew_deg) != (1.0, 1.0, 0.0)


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

    def page_from_opening(self, outline: Any) -> Map:
        """The homography, mm to mm."""
        x0, y0, x1, y1 = _box(outline)
        onto = quadrilaterals.quad_from_rectangle(x1 - x0, y1 - y0, np.array(self.points))
        return Projective(onto @ translation(-(x0 + x1) / 2, -(y0 + y1) / 2))


class Grid(Frozen):
    """Lies on a net of 2 to 5 rows of 2 to 5 page points, as cloth or a curled page does: a Bezier patch."""

    kind: Literal["grid"] = "grid"
    net: Annotated[tuple[tuple[Point, ...], ...], Field(min_length=2, max_length=5)]

    @model_validator(mode="after")
    def _lies_open(self) -> "Grid":
        if len({len(row) for row in self.net}) != 1:
            raise ValueError("Every row of a grid surface needs the same number of points.")
        try:
            patches.checked(self.net)
        except Exception as error:
            raise ValueError(str(error)) from None
        return self

    def page_from_opening(self, outline: Any) -> Map:
        """The patch, mm to mm."""
        return _patch(self.net, _box(outline))


@lru_cache(maxsize=64)
def _patch(net: tuple[tuple[Point, ...], ...], box: tuple[float, float, float, float]) -> Map:
    x0, y0, x1, y1 = box
    return patches.Patch(np.array(net)).after(scaling(1 / (x1 - x0), 1 / (y1 - y0)) @ translation(-x0, -y0))


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

    def checked(self, outline: Any) -> None:
        """Raises GeometryError when the opening would reach round to the back."""
        x0, _, x1, _ = _box(outline)
        cylinders.checked(2 * max(-x0, x1), self.radius_mm)


Surface = Annotated[Flat | Corners | Grid | Roll, Field(discriminator="kind")]
