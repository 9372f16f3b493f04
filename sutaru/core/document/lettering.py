"""How words look: named styles, and runs of words in another look than their box has."""

import re
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from .base import Colour, Frozen, Share, unsaid

FontName = Annotated[str, Field(min_length=1, max_length=80, description="a family that ships, or one brought in")]
Weight = Annotated[int, Field(ge=100, le=900, description="100 thin, 400 regular, 700 bold, 900 black")]
Size = Annotated[float, Field(gt=0, le=1000)]
Tracking = Annotated[float, Field(ge=-200, le=1000, description="added between letters, thousandths of the size")]
Caps = Literal["typed", "capitals", "small"]
Align = Literal["left", "centre", "right", "justified"]
StyleName = Annotated[str, Field(pattern=r"^[^\s.]([^.\n]{0,38}[^\s.])?$")]


class TextStyle(Frozen):
    """A look that is named once and used in many boxes: changing it changes them all."""

    font: FontName = "Lato"
    size_pt: Size = 12.0
    leading: Annotated[float, Field(ge=0.5, le=5)] = 1.25
    colour: Colour = "#222222"
    align: Align = "centre"
    weight: Weight | None = None
    slant: bool = False
    tracking: Tracking = 0.0
    caps: Caps = "typed"
    paragraph_pt: Annotated[float, Field(ge=0, le=500)] = 0.0


# What words name in braces, and how it is to be written: {customer}, {date:d MMMM y}, {studio.web}.
FIELD = re.compile(r"\{([a-z][a-z0-9_]*(?:\.[a-z]+)?)(?::([^{}\n]{1,60}))?\}")
STYLED = tuple(TextStyle.model_fields)  # what a style says of a box, unless the box departs from it


class Run(Frozen):
    """Words from letter ``start`` up to ``end`` (of the words as they are typed, fields not put in) in another look; what it
    does not say is the box's. ``style``: the font, size, colour, weight, slant, letter spacing and caps of a named style."""

    start: Annotated[int, Field(ge=0, le=5000)]
    end: Annotated[int, Field(ge=1, le=5000)]
    style: Annotated[str, Field(max_length=40, exclude_if=unsaid)] = ""
    font: Annotated[FontName | None, Field(exclude_if=unsaid)] = None
    size_pt: Annotated[Size | None, Field(exclude_if=unsaid)] = None
    colour: Annotated[Colour | None, Field(exclude_if=unsaid)] = None
    weight: Annotated[Weight | None, Field(exclude_if=unsaid)] = None
    slant: Annotated[bool | None, Field(exclude_if=lambda slant: slant is None)] = None
    tracking: Annotated[Tracking | None, Field(exclude_if=lambda tracking: tracking is None)] = None
    caps: Annotated[Caps | None, Field(exclude_if=unsaid)] = None

    @model_validator(mode="after")
    def _check_range(self) -> "Run":
        if self.end <= self.start:
            raise ValueError("A run of words ends after it begins.")
        return self

    @property
    def look_fields(self) -> dict[str, Any]:
        """What it says of its words' look."""
        fields = {name: getattr(self, name) for name in RUN_FIELDS}
        return {name: value for name, value in fields.items() if value is not None}


RUN_FIELDS = ("font", "size_pt", "colour", "weight", "slant", "tracking", "caps")
Runs = Annotated[tuple[Run, ...], Field(max_length=200)]


class WordShadow(Frozen):
    """The shadow that words cast, under the page's light."""

    distance_mm: Annotated[float, Field(ge=0, le=50)] = 0.6
    blur_mm: Annotated[float, Field(ge=0, le=50)] = 0.8
    opacity: Share = 0.5
    colour: Colour = "#000000"


class WordLine(Frozen):
    """A line round letters, outside of them."""

    width_mm: Annotated[float, Field(gt=0, le=20)] = 0.3
    colour: Colour = "#ffffff"
