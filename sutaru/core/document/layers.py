"""The layers of a page, bottom to top, each with a ``kind``."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from ..geometry.matrices import Matrix
from .shapes import Degrees, Flat, Frozen, Length, Outline, Point, Surface

Colour = Annotated[str, Field(pattern=r"^#[0-9a-f]{6}$", description="sRGB, #rrggbb")]
Identity = Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9-]{0,63}$")]
Share = Annotated[float, Field(ge=0, le=1)]
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
FontName = Literal[
    "EB Garamond", "EB Garamond Italic", "Vollkorn", "Lato", "Lato Bold", "Manrope", "Bebas Neue", "Kaushan Script"
]


class _Layer(Frozen):
    id: Identity
    name: str = ""
    visible: bool = True
    locked: bool = False
    opacity: Share = 1.0
    blend: Blend = "normal"


class Border(Frozen):
    """A line along the outline of a flat opening."""

    width_mm: Annotated[float, Field(gt=0, le=100)]
    colour: Colour = "#ffffff"
    side: Literal["inside", "centred", "outside"] = "inside"


class Shadow(Frozen):
    """The drop shadow of an opening, cast away from the page's light: turning the opening never turns it."""

    distance_mm: Annotated[float, Field(ge=0, le=100)] = 1.5
    blur_mm: Annotated[float, Field(ge=0, le=100)] = 2.0
    opacity: Share = 0.4
    colour: Colour = "#000000"


class Opening(_Layer):
    """A hole for one photo."""

    kind: Literal["opening"] = "opening"
    outline: Outline
    surface: Surface
    accepts: Literal["any", "landscape", "portrait"] = "any"
    border: Border | None = None
    shadow: Shadow | None = None

    @model_validator(mode="after")
    def _border_lies_flat(self) -> "Opening":
        if self.border and self.surface.kind != "flat":
            raise ValueError("A border needs a flat opening: take the border off or lay the opening flat.")
        return self

    @property
    def page_from_opening(self) -> Matrix:
        """The surface's map, mm to mm."""
        return self.surface.page_from_opening(self.outline)


class Stop(Frozen):
    """One colour of a gradient, at a share of its length."""

    at: Share
    colour: Colour


class Gradient(Frozen):
    """A linear gradient across the page: at 0 degrees from left to right, at 90 from bottom to top."""

    turn_deg: Degrees = 0.0
    stops: Annotated[tuple[Stop, ...], Field(min_length=2, max_length=16)]


class Background(_Layer):
    """Covers the page out to its bleed with one colour or a gradient. Left out when a transparent picture is asked for."""

    kind: Literal["background"] = "background"
    colour: Colour = "#ffffff"
    gradient: Gradient | None = None


class FillBox(_Layer):
    """A shape of one colour."""

    kind: Literal["fill"] = "fill"
    outline: Outline
    surface: Surface
    colour: Colour


class _Box(_Layer):
    centre: Point
    width_mm: Length
    height_mm: Length
    turn_deg: Degrees = 0.0

    @property
    def page_from_box(self) -> Matrix:
        """Map from the box's own plane (origin at its centre) to the page, mm to mm."""
        return Flat(centre=self.centre, turn_deg=self.turn_deg).page_from_opening(None)


class Text(_Box):
    """Words in a box. ``sample`` words are the template's own and must be replaced or kept on purpose."""

    kind: Literal["text"] = "text"
    text: Annotated[str, Field(max_length=5000)]
    sample: bool = True
    font: FontName = "Lato"
    size_pt: Annotated[float, Field(gt=0, le=1000)] = 12.0
    leading: Annotated[float, Field(ge=0.5, le=5)] = 1.25
    colour: Colour = "#222222"
    align: Literal["left", "centre", "right"] = "centre"
    stand: Literal["top", "middle", "bottom"] = "middle"


class Ornament(_Box):
    """An SVG drawing, scaled without loss into its box; ``colour`` stands in for ``currentColor``."""

    kind: Literal["ornament"] = "ornament"
    svg: Annotated[str, Field(max_length=200_000)]
    colour: Colour = "#222222"


class GuideNote(_Box):
    """An instruction to whoever fits the page. Seen on the bench, never in output."""

    kind: Literal["note"] = "note"
    text: Annotated[str, Field(max_length=500)]
    size_pt: Annotated[float, Field(gt=0, le=200)] = 10.0


Layer = Annotated[Opening | Background | FillBox | Text | Ornament | GuideNote, Field(discriminator="kind")]
