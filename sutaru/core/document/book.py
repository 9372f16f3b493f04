"""Books: what a lab binds, how a job's sheets are bound, and themes that dress them.

A book's sheets: a cover (back, spine and front in one), then single pages and spreads. Page 1 of a bound book is a right
page alone and its last page a left one; a lay-flat book has spreads only.
"""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from .base import AssetName, Colour, Frozen, Hex, Identity, Length, Share, SwatchName, unsaid
from .edges import Border, Mat, Shadow
from .layers import Background
from .lettering import StyleName, TextStyle

Pages = Annotated[int, Field(ge=1, le=2000)]


class Paper(Frozen):
    """A paper that books are made of. ``leaf_mm``: how thick one leaf is, which is two pages."""

    id: Identity
    name: Annotated[str, Field(min_length=1, max_length=80)]
    leaf_mm: Annotated[float, Field(gt=0, le=5)]


class Binding(Frozen):
    """A way to bind. ``boards_mm``: how much the cover adds to the thickness of the leaves. A hard cover is turned in by
    ``turn_in_mm`` about its boards and has a hinge on both sides of its spine. ``swallows_mm``: how much of each page is
    lost in the binding. ``words_from_mm``: the narrowest spine that words are printed on.
    """

    id: Identity
    name: Annotated[str, Field(min_length=1, max_length=80)]
    kind: Literal["soft", "hard", "lay_flat"]
    boards_mm: Annotated[float, Field(ge=0, le=30)] = 0.0
    hinge_mm: Annotated[float, Field(ge=0, le=30)] = 0.0
    turn_in_mm: Annotated[float, Field(ge=0, le=50)] = 3.0
    swallows_mm: Annotated[float, Field(ge=0, le=30)] = 0.0
    words_from_mm: Annotated[float, Field(ge=0, le=50)] = 6.0
    inside_printed: bool = False
    least: Pages = 20
    most: Pages = 200
    multiple: Pages = 2

    @model_validator(mode="after")
    def _can_be_met(self) -> "Binding":
        if self.least > self.most or -(-self.least // self.multiple) * self.multiple > self.most:
            raise ValueError("No number of pages meets this binding's least, most and multiple: widen them.")
        return self

    def bindable(self, pages: int) -> int:
        """The next number of pages that can be bound: least, most and multiple kept.

        >>> Binding(id="b", name="B", kind="soft", least=20, most=80, multiple=4).bindable(25)
        28
        """
        up = -(-max(pages, self.least) // self.multiple) * self.multiple
        return up if up <= self.most else self.most // self.multiple * self.multiple


class BookSize(Frozen):
    """A size of page that a lab binds."""

    id: Identity
    name: Annotated[str, Field(min_length=1, max_length=80)]
    width_mm: Length
    height_mm: Length
    bleed_mm: Annotated[float, Field(ge=0, le=50)] = 3.0
    safe_mm: Annotated[float, Field(ge=0, le=50)] = 6.0


class Bindery(Frozen):
    """The books that a lab binds: sizes, papers and bindings, each with each."""

    sizes: Annotated[tuple[BookSize, ...], Field(min_length=1, max_length=60)]
    papers: Annotated[tuple[Paper, ...], Field(min_length=1, max_length=60)]
    bindings: Annotated[tuple[Binding, ...], Field(min_length=1, max_length=60)]


class Book(Frozen):
    """How a job's sheets are bound, as the lab said it when it was chosen. ``theme``: what it is dressed in, "" for none.
    ``gap_mm`` between photos, ``margin_mm`` to the trim and ``cropping``, how much of a photo may be cut so that pages share
    their lines, are those of its last layout; ``chapters``: whether that had any."""

    size: BookSize
    paper: Paper
    binding: Binding
    theme: Annotated[str, Field(max_length=64)] = ""
    gap_mm: Annotated[float, Field(ge=0, le=50)] = 3.0
    margin_mm: Annotated[float, Field(ge=0, le=500)] = 16.0
    cropping: Annotated[float, Field(ge=0, le=0.3, exclude_if=lambda share: share == 0.1)] = 0.1
    chapters: Annotated[bool, Field(exclude_if=lambda has_any: not has_any)] = False


class Frame(Frozen):
    """How a theme frames photos; those that run out to the bleed have no frame."""

    border: Border | None = None
    mat: Mat | None = None
    shadow: Shadow | None = None
    corner_mm: Annotated[float, Field(ge=0, le=200)] = 0.0


class Decoration(Frozen):
    """A drawing that a theme lays into the margins of its pages, under the photos, on every ``every``-th sheet from ``first``.

    ``where`` of a page's trim it lies; ``share``: its width, as a share of the page's. ``ratio``: its width over its height.
    """

    asset: AssetName
    traced: Annotated[str, Field(max_length=60_000, exclude_if=unsaid)] = ""
    ratio: Annotated[float, Field(ge=0.02, le=50)] = 1.0
    colour: Colour = "#222222"
    opacity: Share = 1.0
    where: Literal["head", "foot", "outer_foot", "outer_head", "inner_foot"] = "foot"
    share: Annotated[float, Field(gt=0, le=2)] = 0.2
    every: Annotated[int, Field(ge=1, le=50)] = 1
    first: Annotated[int, Field(ge=0, le=50)] = 0
    cover: bool = False


CoverDesign = Literal["window", "small", "half", "whole"]


class Theme(Frozen):
    """What dresses a book: grounds taken in turn, frames, drawings, and swatches and styles, which all themes name alike, so
    that another theme gives what is there already another look.

    ``cover_design``: a photo's window over the title, a small one amid air, a photo over the upper half, or over all.
    """

    id: Identity
    name: Annotated[str, Field(min_length=1, max_length=80)]
    note: Annotated[str, Field(max_length=400)] = ""
    swatches: Annotated[dict[SwatchName, Hex], Field(max_length=20)]
    styles: Annotated[dict[StyleName, TextStyle], Field(max_length=20)]
    grounds: Annotated[tuple[Background, ...], Field(min_length=1, max_length=12)]
    cover: Background
    cover_design: CoverDesign = "window"
    frame: Frame = Frame()
    decorations: Annotated[tuple[Decoration, ...], Field(max_length=20)] = ()
