"""What a layout of a whole book is asked to be, and what was chosen: which photos on which page, and how they lie there."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from ..document.base import Frozen, Share
from ..document.photo import PhotoId
from .photo_choice import LaidAside
from .trees import list_leaves, parse_tree

# Of a single photo: over its whole page; over both within their margins; off the edge of its page, in its own proportions;
# over the gutter, with a column beside; over both pages to their trim.
BLEED, ACROSS, EDGE, WIDE, SPREAD = "bleed", "across", "edge", "wide", "spread"
OF_ONE = (BLEED, ACROSS, EDGE, WIDE, SPREAD)
RUN_OFF = (BLEED, EDGE, WIDE, SPREAD)

# What a hand asks of a sheet's composition.
How = Literal["anew", "larger", "smaller", "more_white_space", "less_white_space", "mirror"]


class LayoutStyle(Frozen):
    """How books are laid out, whichever photos they have: a studio keeps some by name.

    ``per_page``: about how many photos a page has. ``cropping``: how much of a photo may be cut so that pages share their lines;
    0 for nothing. ``white``: how much paper stays white. ``lively``: how unlike pages may be, and photos in size. ``bleeds``: how
    many spreads have a picture that runs off the paper. ``likes``: photos that are nearly others are laid too; ``spoilt``: those
    that are too dark, burnt out or blurred. ``order``: by the time they were taken, or as they lie in the pile. ``dates``: each
    day's first page says the date. ``chapters``: each event begins on a spread, under a title.
    """

    per_page: Annotated[float, Field(ge=1, le=12)] = 3.0
    cropping: Annotated[float, Field(ge=0, le=0.3)] = 0.1
    white: Share = 0.4
    lively: Share = 0.4
    bleeds: Share = 0.5
    likes: bool = False
    spoilt: bool = False
    order: Literal["time", "pile"] = "time"
    dates: bool = True
    chapters: bool = False


class Wishes(LayoutStyle):
    """How a book should be laid out. ``pages``: how many, without the cover; None for as many as ``per_page`` photos ask for.

    ``photos``: how many are laid, those that tell most; None for all. ``also``: photos that are laid whatever speaks against it.
    ``seed``: another layout as good.
    """

    pages: Annotated[int | None, Field(ge=1, le=2000)] = None
    photos: Annotated[int | None, Field(ge=1, le=100_000)] = None
    also: Annotated[tuple[PhotoId, ...], Field(max_length=100_000)] = ()
    seed: Annotated[int, Field(ge=0, le=9999)] = 0


class Block(Frozen):
    """The part of a page's room that its photos fill to the edges, in shares of it. Both pages of a spread have one height.
    ``side``: in the middle across, or at the page's outer margin beside a picture that comes over the gutter."""

    width: Annotated[float, Field(gt=0, le=1)] = 1.0
    height: Annotated[float, Field(gt=0, le=1)] = 1.0
    side: Annotated[Literal["middle", "outer"], Field(exclude_if=lambda side: side == "middle")] = "middle"


class PagePlan(Frozen):
    """One page's photos in order, and how they lie: a tree (``trees.py``); or of a single photo, one of ``OF_ONE``; of what goes
    over both pages the other one has no photo. ``block``: what they fill, cropped for it by one share;
    None where nothing is cropped. ``dated``: a line says the date. ``chapter``: the title of what begins on it, "" for
    nothing."""

    photos: Annotated[tuple[PhotoId, ...], Field(max_length=60)] = ()
    shape: Annotated[str, Field(max_length=1000)] = ""
    block: Annotated[Block | None, Field(exclude_if=lambda block: block is None)] = None
    dated: bool = False
    chapter: Annotated[str, Field(max_length=120, exclude_if=lambda chapter: not chapter)] = ""

    @model_validator(mode="after")
    def _check_tree(self) -> "PagePlan":
        count = 1 if self.shape in OF_ONE else len(list_leaves(parse_tree(self.shape))) if self.shape else 0
        if count != len(self.photos):
            raise ValueError("A page of a plan has as many photos as its shape has places.")
        return self


class BookPlan(Frozen):
    """A layout of a whole book: pages in order, the photo on the cover, and photos laid aside, each for one like it.

    ``gap_mm`` between photos, ``margin_mm`` to the trim; ``cropping``: how much of a photo may be cut, as was wished.
    """

    pages: Annotated[tuple[PagePlan, ...], Field(min_length=1, max_length=2000)]
    cover: Annotated[str, Field(max_length=64)] = ""
    aside: Annotated[tuple[LaidAside, ...], Field(max_length=100_000)] = ()
    gap_mm: Annotated[float, Field(ge=0, le=50)] = 3.0
    margin_mm: Annotated[float, Field(ge=0, le=500)] = 12.0
    cropping: Annotated[float, Field(ge=0, le=0.3)] = 0.1
