"""Templates: sheets to begin a job from. A template never holds a customer's data; once kept, it does not change."""

from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import Field, model_validator

from .base import Frozen, Identity, unsaid
from .layers import Opening
from .layout import Sheet, orientation

Product = Literal["album", "card", "collage", "calendar", "mockup"]
Tags = Annotated[tuple[Annotated[str, Field(min_length=1, max_length=40)], ...], Field(max_length=20)]
Sheets = Annotated[tuple[Sheet, ...], Field(min_length=1, max_length=1000)]


def check_sheets(sheets: tuple[Sheet, ...]) -> None:
    """Raises ValueError when two sheets share an id, or one shows another that is not there, or itself by way of others."""
    shows = {sheet.id: sheet.layout.pages for sheet in sheets}
    if len(shows) < len(sheets):
        twice = next(s.id for n, s in enumerate(sheets) if s.id in {other.id for other in sheets[:n]})
        raise ValueError(f"Two sheets are called {twice}: give each its own id.")
    if not any(shows.values()):
        return
    for sheet, pages in shows.items():
        if gone := sorted(pages - shows.keys()):
            raise ValueError(
                f"The sheet {sheet} shows the sheet {gone[0]}, which is not there: take the picture away first."
            )
    clear: set[str] = set()
    while more := {sheet for sheet in shows.keys() - clear if shows[sheet] <= clear}:
        clear |= more
    if len(clear) < len(shows):
        raise ValueError(f"The sheet {min(shows.keys() - clear)} would show itself: choose another sheet.")


class Template(Frozen):
    """Sheets on the shelf, with what they are for. ``revision`` counts the states it was kept in; what ships has one.

    Templates that are one in several orientations name the same one as ``variant_of``, which names none.
    """

    schema_version: Literal[2] = 2
    id: Identity
    name: Annotated[str, Field(min_length=1, max_length=120)]
    product: Product
    occasion: Annotated[str, Field(max_length=60)] = ""
    tags: Annotated[Tags, Field(exclude_if=unsaid)] = ()
    note: Annotated[str, Field(max_length=1000)] = ""
    variant_of: Annotated[str, Field(max_length=64, exclude_if=unsaid)] = ""
    revision: Annotated[int, Field(ge=1, exclude_if=lambda n: n == 1)] = 1
    sheets: Sheets

    @model_validator(mode="after")
    def _unique(self) -> "Template":
        check_sheets(self.sheets)
        return self

    @property
    def group(self) -> str:
        """What it has in common with its variants."""
        return self.variant_of or self.id

    @property
    def proportions(self) -> tuple[float, ...]:
        """Width / height of its openings' boxes, each to a hundredth, once."""
        return tuple(sorted({round(o.outline.width_mm / o.outline.height_mm, 2) for o in self.walk_openings()}))

    @property
    def orientation(self) -> Literal["landscape", "portrait", "square"]:
        """By the trim size of its first sheet."""
        first = self.sheets[0].layout
        return orientation(first.width_mm, first.height_mm)

    def walk_openings(self) -> Iterator[Opening]:
        """Openings of all sheets, in order."""
        for sheet in self.sheets:
            yield from sheet.layout.openings()
