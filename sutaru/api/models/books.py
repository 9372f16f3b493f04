"""Plans of books and layouts of their sheets."""

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ...core.books.plan import LayoutStyle, PagePlan, Wishes
from ...core.document import Layout
from ...core.document.base import Identity
from ..messages import Message


class PlanRequest(Message):
    """What a layout of a book, or of some of its sheets, should be."""

    edition: str = ""
    wishes: Wishes = Wishes()
    sheets: list[Identity] | None = None


class KeptStyle(Message):
    """A style in which books are laid out, under the studio's own name for it."""

    name: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=60)] = Field(
        description="the studio's name for it", examples=["Airy, with chapters"]
    )
    style: LayoutStyle


class AnotherSize(Message):
    """A book wished for in another size of its lab, as a job of its own."""

    name: str = Field(min_length=1, max_length=120)
    customer: str | None = Field(None, max_length=120, description="else as before")
    order_number: str = Field("", max_length=60)
    size: Identity = Field(description="id of a size that the job's lab binds", examples=["square-8"])
    edition: str = Field("", description="whose photos the spreads are composed for; the first, when empty")


class ResizedBook(Message):
    """The job that a book in another size is. ``fitted``: names of sheets that were fitted to the size as they were, since a hand
    had arranged them or words lie among their photos."""

    id: str
    fitted: list[str]


class LayoutChoice(Message):
    """A layout that a sheet may have. ``source``: computed, of the book's own, or of the shelf's. ``now``: it is as the sheet
    is."""

    source: Literal["computed", "book", "shelf"]
    name: str
    openings: int
    now: bool
    boxes: list[tuple[float, float, float, float]] = Field(description="left, top, width, height, shares of the sheet")
    photos: list[str] = Field(description="id of the photo that lies in each box then, empty for none")
    pages: list[PagePlan] | None = Field(
        description="of a composed layout, its pages as the edit compose_sheet takes them"
    )
    layout: Layout
