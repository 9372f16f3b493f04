"""Templates and their pages. A template never holds a customer's data; once kept, it does not change.

Page space: mm, origin at the top left of the trim box, y down; the bleed lies at negative coordinates and beyond.
"""

from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import Field, model_validator

from .layers import Echo, Identity, Layer, Opening, Text
from .shapes import Coordinate, Degrees, Frozen, Length

Product = Literal["album", "card", "collage", "calendar", "mockup"]


class Light(Frozen):
    """Where the page's one light comes from. 120 degrees, from the upper left: common practice, no source."""

    from_deg: Degrees = 120.0


class Line(Frozen):
    """A line across the whole page: a gutter or a fold."""

    kind: Literal["gutter", "fold"]
    axis: Literal["x", "y"]
    at_mm: Coordinate


class Page(Frozen):
    """One page or spread: its trim size, its margins, its layers bottom to top."""

    id: Identity
    name: str
    width_mm: Length
    height_mm: Length
    bleed_mm: Annotated[float, Field(ge=0, le=50)] = 3.0
    safe_mm: Annotated[float, Field(ge=0, le=50)] = 5.0
    lines: tuple[Line, ...] = ()
    light: Light = Light()
    layers: tuple[Layer, ...]

    @model_validator(mode="after")
    def _echoes_have_sources(self) -> "Page":
        known = {layer.id for layer in self.layers if isinstance(layer, Opening)}
        for layer in self.layers:
            if isinstance(layer, Echo) and layer.of not in known:
                raise ValueError(f"The echo {layer.id} shows the opening {layer.of}, which is not on its page.")
        return self

    def openings(self) -> list[Opening]:
        """Openings in the order they are numbered, which is the order in which they lie, bottom first."""
        return [layer for layer in self.layers if isinstance(layer, Opening)]

    def texts(self) -> list[Text]:
        """Text layers, bottom first."""
        return [layer for layer in self.layers if isinstance(layer, Text)]


def unique_ids(pages: tuple[Page, ...]) -> None:
    """Raises ValueError when two pages or two layers of a document share an id."""
    for what, ids in (
        ("pages", [page.id for page in pages]),
        ("layers", [layer.id for page in pages for layer in page.layers]),
    ):
        seen: set[str] = set()
        for one in ids:
            if one in seen:
                raise ValueError(f"Two {what} are called {one}: give each its own id.")
            seen.add(one)


class Template(Frozen):
    """A layout on the shelf."""

    id: Identity
    name: str
    product: Product
    occasion: str = ""
    note: str = ""
    pages: Annotated[tuple[Page, ...], Field(min_length=1, max_length=400)]

    @model_validator(mode="after")
    def _unique(self) -> "Template":
        unique_ids(self.pages)
        return self

    @property
    def orientation(self) -> Literal["landscape", "portrait", "square"]:
        """By the trim size of its first page."""
        return orientation(self.pages[0].width_mm, self.pages[0].height_mm)

    def all_openings(self) -> Iterator[Opening]:
        """Openings of all pages, in order."""
        for page in self.pages:
            yield from page.openings()


def orientation(width: float, height: float) -> Literal["landscape", "portrait", "square"]:
    """Orientation of a shape; within 2 % of square counts as square."""
    if abs(width - height) <= 0.02 * max(width, height):
        return "square"
    return "landscape" if width > height else "portrait"
