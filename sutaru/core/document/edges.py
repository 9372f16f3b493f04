"""What lies about a layer: border, mat, shadow."""

from typing import Annotated, Literal

from pydantic import Field

from .base import Colour, Frozen, Share


class Border(Frozen):
    """A line along the outline of an opening."""

    width_mm: Annotated[float, Field(gt=0, le=100)]
    colour: Colour = "#ffffff"
    side: Literal["inside", "centred", "outside"] = "inside"

    @property
    def beyond_mm(self) -> float:
        """How far it reaches beyond the outline; the rest of its width lies within."""
        return {"inside": 0.0, "centred": 0.5, "outside": 1.0}[self.side] * self.width_mm

    @property
    def within_mm(self) -> float:
        """How far it reaches within the outline."""
        return self.width_mm - self.beyond_mm


class Mat(Frozen):
    """A board between the outline and the photo, with a bevelled inner edge that the page's light falls on."""

    width_mm: Annotated[float, Field(gt=0, le=200)]
    colour: Colour = "#f6f4ee"
    bevel_mm: Annotated[float, Field(ge=0, le=10)] = 0.8


class Shadow(Frozen):
    """The shadow of an opening, under the page's light: turning the opening never turns it.

    ``drop``: it hovers over the page. ``contact``: it lies on the page, dark all round its edge. ``lifted``: the corners
    that are turned away from the light have come off the page.
    """

    kind: Literal["drop", "contact", "lifted"] = "drop"
    distance_mm: Annotated[float, Field(ge=0, le=100)] = 1.5
    blur_mm: Annotated[float, Field(ge=0, le=100)] = 2.0
    opacity: Share = 0.4
    colour: Colour = "#000000"
