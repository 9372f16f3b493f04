"""The rooms of a book's pages: where photos lie within the margins, and where pictures run off the paper."""

from ..document import Book
from .bleeds import Bleeds
from .composing import Rooms
from .trees import Rect

FOOT_MM = 7.0  # under the photos, within the safe line: where page numbers and dates stand
_BESIDE = 0.5  # of a margin: between a picture that comes over the gutter and the column beside it
_INNER_MM = 5.0  # from the gutter, beside what the binding swallows
TITLE_SHARE = 0.24  # of a first page's height: where its title stands


def page_room(book: Book, side: str, margin_mm: float, title: bool = False) -> Rect:
    """Where photos lie on a page, mm from its own top left: within its margins, clear of what the binding swallows."""
    size = book.size
    inner = max(margin_mm, book.binding.swallows_mm + _INNER_MM)
    foot = max(margin_mm, size.safe_mm + FOOT_MM + 1.0)
    left = margin_mm if side == "left" else inner
    high = size.height_mm * (1 - TITLE_SHARE) if title else size.height_mm - foot
    return left, margin_mm, size.width_mm - margin_mm - inner, high - margin_mm


def rooms(book: Book, margin_mm: float, gap_mm: float = 4.0, ppi_least: float = 200.0) -> Rooms:
    """The rooms that a book's pages have."""
    _, _, width, height = page_room(book, "left", margin_mm)
    title = page_room(book, "right", margin_mm, title=True)
    return Rooms(
        page=(width, height), title=(title[2], title[3]), bleeds=bleeds_of(book, margin_mm, gap_mm, ppi_least)
    )  # fmt: skip


def bleeds_of(book: Book, margin_mm: float, gap_mm: float, ppi_least: float) -> Bleeds:
    """Where pictures run off a book's pages."""
    size = book.size
    return Bleeds(
        page=(size.width_mm, size.height_mm), bleed=size.bleed_mm, gutter=book.binding.swallows_mm, margin=margin_mm,
        column_gap=max(_BESIDE * margin_mm, gap_mm), ppi_least=ppi_least,
    )  # fmt: skip
