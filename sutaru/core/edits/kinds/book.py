"""Edits of a book: its binding and theme, its pages, the layout of some or all of them."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from ...books.plan import BookPlan, How, PagePlan
from ...document import Background, Binding, Layout, Paper, Theme
from ...document.base import Frozen, Identity
from ...document.photo import PhotoId
from .shared import EditionId, Ids


class SetBook(Frozen):
    """Binds a book otherwise, or on other paper: its spine and cover follow."""

    op: Literal["set_book"] = "set_book"
    paper: Paper | None = None
    binding: Binding | None = None


class AddPages(Frozen):
    """Adds empty pages to a book, at least so many, up to the next number that its lab binds: after a sheet, in the middle,
    or at the end, before a last page alone."""

    op: Literal["add_pages"] = "add_pages"
    count: Annotated[int, Field(ge=1, le=400)] = 4
    after: Annotated[str, Field(max_length=64)] = ""
    where: Literal["end", "middle"] = "end"
    theme: Theme | None = None


class LayBook(Frozen):
    """Lays a book out as a plan says: all its pages, or those of ``sheets``; what a hand has placed or pinned stays."""

    op: Literal["lay_book"] = "lay_book"
    edition: EditionId = ""
    plan: BookPlan
    sheets: Ids | None = None
    theme: Theme | None = None


class Dress(Frozen):
    """Dresses all sheets in a theme; photos stay where they are."""

    op: Literal["dress"] = "dress"
    theme: Theme


class LayGround(Frozen):
    """Lays a ground under all that lies on some sheets, or on all."""

    op: Literal["lay_ground"] = "lay_ground"
    ground: Background
    sheets: Ids | None = None


class ChangeLayout(Frozen):
    """Gives a sheet another layout of the same size. Its photos go along into the openings that suit them best, in all editions;
    those for which there is no opening go back to the pile."""

    op: Literal["change_layout"] = "change_layout"
    which: Identity
    layout: Layout


class MovePhoto(Frozen):
    """Moves a photo of a book from one page to another, of the same or another sheet (``page``: 0 the left one of a spread,
    1 the right one): both sheets are composed anew; all else on them stays."""

    op: Literal["move_photo"] = "move_photo"
    edition: EditionId = ""
    photo: str
    whence: Identity
    onto: Identity
    page: Annotated[int, Field(ge=0, le=1)] = 0


class ComposeSheet(Frozen):
    """Composes a sheet anew: with photos added or taken out, a photo larger or smaller, more or less white space, the other way
    round, or in a design that was offered (``pages``, as a plan writes them). ``page``: where photos are added, 0 the left page,
    1 the right one. What is pinned stays; all else on the sheet stays."""

    op: Literal["compose_sheet"] = "compose_sheet"
    edition: EditionId = ""
    sheet: Identity
    how: How = "anew"
    photo: Annotated[str, Field(max_length=64, description="The photo that becomes larger or smaller.")] = ""
    add: Annotated[tuple[PhotoId, ...], Field(max_length=60)] = ()
    remove: Annotated[tuple[PhotoId, ...], Field(max_length=60)] = ()
    page: Annotated[int | None, Field(ge=0, le=1)] = None
    pages: Annotated[tuple[PagePlan, ...] | None, Field(min_length=1, max_length=2)] = None

    @model_validator(mode="after")
    def _check_one_change(self) -> "ComposeSheet":
        if (self.how != "anew") + bool(self.add or self.remove) + (self.pages is not None) > 1:
            raise ValueError("Ask for one change of a sheet at a time.")
        return self
