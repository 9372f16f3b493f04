"""The pages of a book one by one, as a booklet prints them: the inside alone, spreads parted, blank pages where they must be."""

from collections.abc import Sequence
from dataclasses import dataclass

from ..document import Sheet
from .imposing import PAGES_A_SHEET


@dataclass(frozen=True)
class BookletPage:
    """A page: which sheet it is of, by its place among those given; where it begins on that sheet, and how wide it is, mm."""

    sheet: int
    left_mm: float
    width_mm: float
    height_mm: float


def list_booklet_pages(sheets: Sequence[Sheet]) -> list[BookletPage | None]:
    """List the pages of sheets in the order they are read, covers left out; None for one that stays blank.

    The two pages of a spread lie opposite each other, a left and a right one, so that a blank page may have to stand before
    them.
    """
    pages: list[BookletPage | None] = []
    for index, sheet in enumerate(sheets):
        wide, high = sheet.layout.width_mm, sheet.layout.height_mm
        if sheet.role == "cover":
            continue
        if sheet.role != "spread":
            pages.append(BookletPage(index, 0.0, wide, high))
            continue
        if len(pages) % 2 == 0:  # the next page would be a right one
            pages.append(None)
        pages += [BookletPage(index, 0.0, wide / 2, high), BookletPage(index, wide / 2, wide / 2, high)]
    return pages


def list_blank_pages(pages: Sequence[BookletPage | None]) -> list[int]:
    """List the numbers of the pages of a booklet that stay blank, counted from 1: those between, and those that fill it up.

    >>> list_blank_pages([None, BookletPage(0, 0, 100, 100), BookletPage(0, 100, 100, 100)])
    [1, 4]
    """
    total = -(-len(pages) // PAGES_A_SHEET) * PAGES_A_SHEET
    between = [n for n, page in enumerate(pages, 1) if page is None]
    return [*between, *range(len(pages) + 1, total + 1)]
