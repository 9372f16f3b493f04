"""The layers of a sheet, bottom to top, each with a ``kind``. A group holds layers of its own."""

import math
from functools import cached_property
from typing import Annotated, Any, Literal

from pydantic import ConfigDict, Field, TypeAdapter, model_validator

from ..errors import GeometryError
from ..geometry import outlines
from ..geometry.maps import Map, reflection
from ..geometry.matrices import Matrix, rotation, scaling, translation
from .base import AssetName, Colour, Degrees, Frozen, Identity, Length, Point, Share, unsaid
from .calendar import MonthName
from .edges import Border, Mat, Shadow
from .lettering import Align, Caps, FontName, Runs, Size, Tracking, Weight, WordLine, WordShadow
from .paints import Gradient, Shift, Texture
from .recipe import Step
from .shapes import Outline, Rectangle, Roll, Surface, centre_outline

Blend = Literal[
    "normal",
    "multiply",
    "screen",
    "overlay",
    "darken",
    "lighten",
    "color-dodge",
    "color-burn",
    "hard-light",
    "soft-light",
    "difference",
    "exclusion",
    "hue",
    "saturation",
    "color",
    "luminosity",
]  # fmt: skip  (W3C Compositing and Blending Level 1, section 10)


class _Named(Frozen):
    """``place_locked``: it stays where it is. ``content_locked``: what it shows or says stays."""

    id: Identity
    name: Annotated[str, Field(max_length=120)] = ""
    visible: bool = True
    place_locked: bool = False
    content_locked: bool = False


class _Layer(_Named):
    opacity: Share = 1.0
    blend: Blend = "normal"


def check_lies_on(outline: Outline, surface: Surface) -> None:
    """Raises ValueError when an outline cannot lie on a surface."""
    if isinstance(surface, Roll):
        try:
            surface.check_outline(outline)
        except GeometryError as error:
            raise ValueError(str(error)) from None


_OUTLINE: TypeAdapter[Outline] = TypeAdapter(Outline, config=ConfigDict(defer_build=True))
_SURFACE: TypeAdapter[Surface] = TypeAdapter(Surface, config=ConfigDict(defer_build=True))


def centre_path(fields: Any) -> Any:
    """What a layer is read from, a path in it laid about its middle. Raises ValidationError as the layer would."""
    if not isinstance(fields, dict) or not {"outline", "surface"} <= fields.keys():
        return fields
    kind = (
        fields["outline"].get("kind") if isinstance(fields["outline"], dict) else getattr(fields["outline"], "kind", "")
    )
    if kind != "path":
        return fields
    outline, surface = centre_outline(
        _OUTLINE.validate_python(fields["outline"]), _SURFACE.validate_python(fields["surface"])
    )
    return {**fields, "outline": outline, "surface": surface}


class Opening(_Layer):
    """A hole for one photo. ``tone``: steps that every photo in it is seen through, after its own: a slot in the shade, say."""

    kind: Literal["opening"] = "opening"
    outline: Outline
    surface: Surface
    accepts: Literal["any", "landscape", "portrait"] = "any"
    border: Border | None = None
    mat: Mat | None = None
    shadow: Shadow | None = None
    tone: Annotated[tuple[Step, ...], Field(max_length=16, exclude_if=unsaid)] = ()

    @model_validator(mode="before")
    @classmethod
    def _centre_fields(cls, fields: Any) -> Any:
        return centre_path(fields)

    @model_validator(mode="after")
    def _check_surface(self) -> "Opening":
        check_lies_on(self.outline, self.surface)
        return self

    @cached_property
    def page_from_opening(self) -> Map:
        """The surface's map, mm to mm."""
        return self.surface.page_from_opening(self.outline)


class Floor(Frozen):
    """The line that a reflection is mirrored at.

    It runs along the lower edge of the source, ``gap_mm`` below it, or through ``line``'s two page points. Each point of
    the source moves straight down, or ``slant_deg`` counter-clockwise off that; ``length`` 1 keeps the source's height.
    """

    gap_mm: Annotated[float, Field(ge=-500, le=500)] = 0.0
    slant_deg: Annotated[float, Field(ge=-80, le=80)] = 0.0
    length: Annotated[float, Field(ge=0.05, le=3)] = 1.0
    line: tuple[Point, Point] | None = None


class Echo(_Layer):
    """Shows another opening's photo again: mirrored at a floor, or repeated. It follows whatever its source shows.

    Without a ``surface`` of its own a reflection's place is worked out from its source and the floor, so that it follows
    the source's corners too. ``reach`` is the share of the source's height after which the reflection has faded away.
    """

    kind: Literal["echo"] = "echo"
    of: Identity
    how: Literal["reflection", "repeat"] = "reflection"
    floor: Floor = Floor()
    surface: Surface | None = None
    reach: Annotated[float, Field(gt=0, le=10)] = 0.7
    darken: Share = 0.0
    soften_mm: Annotated[float, Field(ge=0, le=50)] = 0.0

    @model_validator(mode="after")
    def _check_place(self) -> "Echo":
        if self.how == "repeat" and self.surface is None:
            raise ValueError("A repeat needs a place of its own: give it a surface.")
        return self

    def page_from_source(self, source: Opening) -> Map:
        """Where each point of the source's own plane is seen again, mm to mm."""
        if self.surface is not None:
            onto = self.surface.page_from_opening(source.outline)
            return onto if self.how == "repeat" else onto.after(scaling(1, -1))
        left, right = self.floor.line or self._lower_edge(source)
        slope = math.degrees(math.atan2(-(right[1] - left[1]), right[0] - left[0]))
        down = -90.0 + self.floor.slant_deg
        mirror = reflection(left, down, slope, self.floor.length)
        return source.page_from_opening.then(mirror)

    def _lower_edge(self, source: Opening) -> tuple[Point, Point]:
        x0, _, x1, y1 = outlines.bounds(source.outline.polygons())
        down = math.radians(-90.0 + self.floor.slant_deg)
        gap = (self.floor.gap_mm * math.cos(down), -self.floor.gap_mm * math.sin(down))
        (ax, ay), (bx, by) = (source.page_from_opening.apply([(x0, y1), (x1, y1)]) + gap).tolist()
        return (ax, ay), (bx, by)


class Background(_Layer):
    """Covers the sheet out to its bleed: a colour or a gradient, a texture worked into it; or a picture. Left out when a
    transparent picture is asked for.

    A picture covers the sheet, its middle in the middle; what lies beyond the bleed is cut off. ``shift`` moves all of its
    colours together.
    """

    kind: Literal["background"] = "background"
    colour: Colour = "#ffffff"
    gradient: Gradient | None = None
    texture: Annotated[Texture | None, Field(exclude_if=unsaid)] = None
    shift: Annotated[Shift | None, Field(exclude_if=unsaid)] = None
    asset: Annotated[AssetName | None, Field(exclude_if=unsaid)] = None


class FillBox(_Layer):
    """A shape of one colour or a gradient, a texture worked into it."""

    kind: Literal["fill"] = "fill"
    outline: Outline
    surface: Surface
    colour: Colour
    gradient: Annotated[Gradient | None, Field(exclude_if=unsaid)] = None
    texture: Annotated[Texture | None, Field(exclude_if=unsaid)] = None
    shift: Annotated[Shift | None, Field(exclude_if=unsaid)] = None

    @model_validator(mode="before")
    @classmethod
    def _centre_fields(cls, fields: Any) -> Any:
        return centre_path(fields)

    @model_validator(mode="after")
    def _check_surface(self) -> "FillBox":
        check_lies_on(self.outline, self.surface)
        return self


class _Box(_Layer):
    centre: Point
    width_mm: Length
    height_mm: Length
    turn_deg: Degrees = 0.0

    @property
    def page_from_box(self) -> Matrix:
        """Map from the box's own plane (origin at its centre) to the page, mm to mm."""
        return translation(*self.centre) @ rotation(self.turn_deg)


class Text(_Box):
    """Words in a box. ``sample`` words are the template's own: shown while designing, and in no job that did not ask.

    With a named ``style`` it looks as that says, but for what ``own`` lists. ``weight`` None is the family's own. ``fit_pt``:
    the size is the largest between these two at which all words fit the box. ``bend_deg``: the box is bent so that its
    width becomes an arc of that many degrees, its ends down, or up below 0. ``along``: lines run along a path (SVG path data
    in the box's own plane, mm). ``photo_of``: the opening whose photo the words speak of, "" for the first that has one.
    """

    kind: Literal["text"] = "text"
    text: Annotated[str, Field(max_length=5000)]
    sample: bool = True
    font: FontName = "Lato"
    size_pt: Annotated[float, Field(gt=0, le=1000)] = 12.0
    leading: Annotated[float, Field(ge=0.5, le=5)] = 1.25
    colour: Colour = "#222222"
    align: Align = "centre"
    stand: Literal["top", "middle", "bottom"] = "middle"
    weight: Annotated[Weight | None, Field(exclude_if=unsaid)] = None
    slant: Annotated[bool, Field(exclude_if=unsaid)] = False
    tracking: Annotated[Tracking, Field(exclude_if=unsaid)] = 0.0
    caps: Annotated[Caps, Field(exclude_if=lambda caps: caps == "typed")] = "typed"
    paragraph_pt: Annotated[float, Field(ge=0, le=500, exclude_if=unsaid)] = 0.0
    inset_mm: Annotated[float, Field(ge=0, le=500, exclude_if=unsaid)] = 0.0
    fit_pt: Annotated[tuple[Size, Size] | None, Field(exclude_if=unsaid)] = None
    bend_deg: Annotated[float, Field(ge=-360, le=360, exclude_if=unsaid)] = 0.0
    along: Annotated[str, Field(max_length=20_000, exclude_if=unsaid)] = ""
    shadow: Annotated[WordShadow | None, Field(exclude_if=unsaid)] = None
    line: Annotated[WordLine | None, Field(exclude_if=unsaid)] = None
    runs: Annotated[Runs, Field(exclude_if=unsaid)] = ()
    style: Annotated[str, Field(max_length=40, exclude_if=unsaid)] = ""
    own: Annotated[tuple[str, ...], Field(max_length=20, exclude_if=unsaid)] = ()
    photo_of: Annotated[str, Field(max_length=64, exclude_if=unsaid)] = ""

    @model_validator(mode="after")
    def _can_be_set(self) -> "Text":
        if self.fit_pt and self.fit_pt[0] > self.fit_pt[1]:
            raise ValueError("The least size of fitted words is above the most: exchange them.")
        if self.along:
            outlines.line_along(self.along)
        return self


class DayLook(Frozen):
    """How days of one kind look; ``weight`` None is the grid's."""

    colour: Colour = "#222222"
    weight: Annotated[Weight | None, Field(exclude_if=unsaid)] = None


class DateGrid(_Box):
    """Days, worked out: a ``month`` in weeks, its days in a ``strip`` or a ``list`` with room to write, or a whole ``year``.

    ``month`` is its own (2027-01), or "" for its sheet's; it shows the month ``offset`` later. Of six ``weeks`` in five rows the
    last two share theirs. ``dates``: dates of the customer's own, in ``dates_pt``. ``perpetual``: for any year, without weekdays,
    and with nothing that falls on other days in other years. A list flows through ``columns``. ``sunday``: where it looks
    otherwise than the rest of the weekend.
    """

    kind: Literal["dates"] = "dates"
    shows: Literal["month", "strip", "list", "year"] = "month"
    month: MonthName = ""
    offset: Annotated[int, Field(ge=-24, le=24)] = 0
    first_day: Literal["locale", "monday", "sunday", "saturday"] = "locale"
    weeks: Literal["fit", "six", "five"] = "fit"
    neighbours: Literal["none", "faint", "shown"] = "faint"
    heading: Literal["none", "month", "month_year"] = "month_year"
    weekdays: Literal["none", "narrow", "short", "long"] = "short"
    week_numbers: bool = False
    holidays: bool = True
    holiday_names: bool = False
    moon: bool = False
    dates: bool = True
    perpetual: bool = False
    columns: Annotated[int, Field(ge=1, le=4)] = 1
    figure: Literal["centre", "corner"] = "centre"
    font: FontName = "Lato"
    weight: Annotated[Weight | None, Field(exclude_if=unsaid)] = None
    size_pt: Size = 14.0
    dates_pt: Size = 6.0
    gap_mm: Annotated[float, Field(ge=0, le=50)] = 0.0
    line: WordLine | None = None
    title: DayLook = DayLook()
    day: DayLook = DayLook()
    weekend: DayLook = DayLook(colour="#5a5a5a")
    sunday: DayLook | None = DayLook(colour="#a3200d")
    holiday: DayLook = DayLook(colour="#a3200d")


class Ornament(_Box):
    """An SVG drawing, scaled without loss into its box; ``colour`` stands in for ``currentColor``.

    ``traced`` is about all that it covers: SVG path data in fractions of the box, worked out when the drawing is read
    (``formats/assets.py``); "" where nobody did, and then the whole box counts as covered. As a ``logo`` it shows the studio
    card's logo where that has one.
    """

    kind: Literal["ornament"] = "ornament"
    asset: AssetName
    colour: Colour = "#222222"
    traced: Annotated[str, Field(max_length=60_000)] = ""
    mirrored: Annotated[bool, Field(exclude_if=unsaid)] = False
    logo: Annotated[bool, Field(exclude_if=unsaid)] = False

    @property
    def page_from_box(self) -> Matrix:
        """As a box's; a mirrored drawing is mirrored left to right in its own plane."""
        return super().page_from_box @ scaling(-1, 1) if self.mirrored else super().page_from_box


class Overlay(_Box):
    """A picture with transparency that lies over what is below it: a frame, a torn edge, light. ``mirrored`` as an
    ornament's.

    As a ``guide``, a lab's own blank for one, it is seen while working and never in output.
    """

    kind: Literal["overlay"] = "overlay"
    asset: AssetName
    guide: Annotated[bool, Field(exclude_if=unsaid)] = False
    mirrored: Annotated[bool, Field(exclude_if=unsaid)] = False

    @property
    def page_from_box(self) -> Matrix:
        """As a box's; a mirrored picture is mirrored left to right in its own plane."""
        return super().page_from_box @ scaling(-1, 1) if self.mirrored else super().page_from_box


class GuideNote(_Box):
    """An instruction to whoever fits the page. Seen on the bench, never in output."""

    kind: Literal["note"] = "note"
    text: Annotated[str, Field(max_length=500)]
    size_pt: Annotated[float, Field(gt=0, le=200)] = 10.0


class PagePicture(_Layer):
    """Another sheet of the same job, placed as a picture: it shows what lies on that one, as it is now."""

    kind: Literal["page"] = "page"
    of: Identity
    outline: Rectangle
    surface: Surface

    @model_validator(mode="after")
    def _check_surface(self) -> "PagePicture":
        check_lies_on(self.outline, self.surface)
        return self


class Group(_Named):
    """Layers that belong together: hidden or locked with it, and moved with it in the stack."""

    kind: Literal["group"] = "group"
    layers: Annotated[tuple["Layer", ...], Field(max_length=1000)] = ()


Leaf = Opening | Echo | Background | FillBox | Text | DateGrid | Ornament | Overlay | GuideNote | PagePicture
Shaped = Opening | FillBox | PagePicture  # what has an outline and lies on a surface
Layer = Annotated[
    Opening | Echo | Background | FillBox | Text | DateGrid | Ornament | Overlay | GuideNote | PagePicture | Group,
    Field(discriminator="kind"),
]
Group.model_rebuild()
