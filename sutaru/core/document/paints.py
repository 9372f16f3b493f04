"""What a background or a shape is painted with besides one colour: gradients and textures, and a shift of all its colours."""

from typing import Annotated, Literal

from pydantic import Field

from .base import Colour, Degrees, Frozen, Share


class Stop(Frozen):
    """One colour of a gradient, at a share of its length."""

    at: Share
    colour: Colour


class Gradient(Frozen):
    """A gradient across the page, or across the box about a shape.

    ``linear``: at 0 degrees from left to right, at 90 from bottom to top. ``radial``: from ``centre`` (fractions of the box)
    outwards to its farthest corner.
    """

    turn_deg: Degrees = 0.0
    stops: Annotated[tuple[Stop, ...], Field(min_length=2, max_length=16)]
    shape: Annotated[Literal["linear", "radial"], Field(exclude_if=lambda shape: shape == "linear")] = "linear"
    centre: Annotated[tuple[Share, Share], Field(exclude_if=lambda centre: centre == (0.5, 0.5))] = (0.5, 0.5)


class Texture(Frozen):
    """A second colour worked into the ground in a pattern that is computed: endless, without a seam, the same at any ppi.

    ``scale_mm``: the width of a thread, a grain, a ring of wood; from one dot or stripe to the next. ``strength``: how much
    of the second colour there is where the pattern is strongest. ``seed``: another piece of the same cloth.
    """

    kind: Literal["paper", "linen", "wood", "sand", "dots", "stripes"] = "paper"
    colour: Colour = "#8a7c63"
    scale_mm: Annotated[float, Field(ge=0.2, le=200)] = 1.0
    strength: Share = 0.4
    turn_deg: Degrees = 0.0
    seed: Annotated[int, Field(ge=0, le=9999)] = 0


class Shift(Frozen):
    """Turns hues round the colour circle, strengthens or weakens colours, makes them lighter or darker, all together.

    In HSL (CSS Color Module Level 4, section 7): ``saturation`` is a factor; ``lightness`` goes that share of the way to
    white, or to black below 0.
    """

    hue_deg: Annotated[float, Field(ge=-180, le=180)] = 0.0
    saturation: Annotated[float, Field(ge=0, le=2)] = 1.0
    lightness: Annotated[float, Field(ge=-1, le=1)] = 0.0
