"""The words on a book's pages: page numbers, dates, the title on the first, titles of chapters; and where each stands."""

from collections.abc import Iterable, Sequence
from typing import Any

from ..arranging.aligning import Box, page_box
from ..arranging.moving import round_exactly
from ..document import Book, Layer, Layout, Text
from .dressing import DRAWN
from .page_rooms import FOOT_MM, TITLE_SHARE, page_room
from .trees import Rect

NEAR_MM = 0.6  # by which the same place may differ
CHAPTER_MM = 11.0  # from the safe line to the photos, where chapters have titles
_UNDER_CHAPTER_MM = 3.0  # from a chapter's title to the photos
TITLE_ID, CHAPTER_ID = "title", "chapter-"  # the words on a first page, and over a chapter
TITLE, CAPTION, NUMBER = "Title", "Caption", "Page number"  # styles that all themes have


def page_numbers(book: Book, role: str, side: str) -> tuple[Text, ...]:
    """Page numbers at the outer foot of a sheet's pages."""
    size = book.size
    sides = ("left", "right") if role == "spread" else (side,)
    numbers = []
    for n, side_here in enumerate(sides):
        x = size.safe_mm + 8.0 if side_here == "left" else size.width_mm - size.safe_mm - 8.0
        numbers.append(
            Text(
                id=f"number-{n + 1}",
                name="Page number",
                text="{page}",
                sample=False,
                style=NUMBER,
                size_pt=9.0,
                centre=(round_exactly(x + (size.width_mm if n else 0.0)), _foot_line(book)),
                width_mm=16.0,
                height_mm=6.0,
                align="left" if side_here == "left" else "right",
                own=("align",),
            )
        )
    return tuple(numbers)


def page_words(book: Book, role: str, side: str, layout: Layout | None = None) -> tuple[Text, ...]:
    """All words that a book may have on a page or spread: page numbers, dates, titles of chapters, on a page alone its own.
    ``layout``: whose photos the titles of chapters stand over."""
    captions = tuple(caption(book, side, n, "") for n in range(2 if role == "spread" else 1))
    titles = (book_title(book, side, book.margin_mm),) if role == "page" else ()
    sides = ("left", "right") if role == "spread" else (side,)
    chapters = tuple(
        chapter_title(book, half, n, book.margin_mm, "", _rects_on(book, layout, n) if layout else ())
        for n, half in enumerate(sides)
    )
    return *page_numbers(book, role, side), *captions, *chapters, *titles


def is_covered(number: Text, boxes: Iterable[Box]) -> bool:
    """Whether one of the boxes covers a page number: on a picture that runs off the paper there is none."""
    x, y = number.centre
    return any(box.left < x < box.right and box.top < y < box.bottom for box in boxes)


def caption(book: Book, side: str, number: int, opening: str) -> Text:
    """The date of a page's photos, at its foot."""
    size = book.size
    return Text(
        id=f"date-{number + 1}", name="Date", text="{photo.date:long}", sample=False, style=CAPTION, size_pt=9.0,
        photo_of=opening, centre=(round_exactly(size.width_mm / 2 + (size.width_mm if number else 0.0)), _foot_line(book)),
        width_mm=round_exactly(size.width_mm - 2 * size.safe_mm - 40.0), height_mm=6.0,
    )  # fmt: skip


def chapter_title(book: Book, side: str, number: int, margin_mm: float, title: str, rects: Sequence[Rect] = ()) -> Text:
    """The title of a chapter, over the photos of the page on which it begins, as wide as they are. ``rects``:
    where they lie, mm from the page's top left."""
    size = book.size
    left, _, width, _ = page_room(book, side, margin_mm)
    right = left + width
    if rects:
        left, right = min(rect[0] for rect in rects), max(rect[0] + rect[2] for rect in rects)
    high = margin_mm - size.safe_mm - _UNDER_CHAPTER_MM
    foot = max(margin_mm, min((rect[1] for rect in rects), default=margin_mm)) - _UNDER_CHAPTER_MM
    middle = (left + right) / 2 + (size.width_mm if number else 0.0)
    return Text(
        id=f"{CHAPTER_ID}{number + 1}", name="Chapter", text=title, sample=False, style=TITLE, size_pt=20.0, fit_pt=(9.0, 20.0),
        centre=(round_exactly(middle), round_exactly(foot - high / 2)),
        width_mm=round_exactly(right - left), height_mm=round_exactly(high), align="left" if side == "left" else "right",
        own=("align", "size_pt"),
    )  # fmt: skip


def place_chapters(layout: Layout, before: Layout, book: Book, role: str, side: str) -> Layout:
    """A layout whose chapter titles stand over its photos, if they did so in ``before``, the layout that the sheet had."""
    sides = ("left", "right") if role == "spread" else (side,)
    places: dict[str, dict[str, Any]] = {}
    for n, half in enumerate(sides):
        title = before.texts_by_id.get(f"{CHAPTER_ID}{n + 1}")
        rules = [
            chapter_title(book, half, n, book.margin_mm, "", rects)
            for rects in (_rects_on(book, before, n), (), _rects_on(book, layout, n))
        ]
        if title and any(lies_alike(title, rule) for rule in rules[:2]):
            places[title.id] = {name: getattr(rules[2], name) for name in ("centre", "width_mm", "height_mm")}
    return layout.copy_with(
        layers=tuple(layer.copy_with(**places[layer.id]) if layer.id in places else layer for layer in layout.layers)
    )


def _rects_on(book: Book, layout: Layout, page: int) -> list[Rect]:
    """Where photos lie on a page, mm from its top left; of those that run off the paper none."""
    size, rects = book.size, []
    for opening in layout.openings():
        box = page_box(opening)
        left = box.left - size.width_mm * page
        whole = box.left >= 0 and box.top >= 0 and box.right <= layout.width_mm and box.bottom <= size.height_mm
        if whole and 0 <= (left + box.right - size.width_mm * page) / 2 <= size.width_mm:
            rects.append((left, box.top, box.right - box.left, box.bottom - box.top))
    return rects


def lies_alike(layer: Layer, other: Layer) -> bool:
    """Whether two layers take the same place."""
    box, rule = page_box(layer), page_box(other)
    return all(
        abs(a - b) < NEAR_MM for axis in ("x", "y") for a, b in zip(box.span(axis), rule.span(axis), strict=True)
    )


def clear_titles(layout: Layout) -> Layout:
    """A layout without the drawings of its theme that a chapter's title would lie on."""
    titles = [page_box(layer) for layer in layout.layers if layer.id.startswith(CHAPTER_ID)]
    if not titles:
        return layout

    def is_free(layer: Layer) -> bool:
        box = page_box(layer)
        return not any(
            box.left < title.right and title.left < box.right and box.top < title.bottom and title.top < box.bottom
            for title in titles
        )

    layers = tuple(layer for layer in layout.layers if not layer.id.startswith(DRAWN) or is_free(layer))
    return layout.copy_with(layers=layers)


def book_title(book: Book, side: str, margin_mm: float) -> Text:
    """The title on a book's first page, under its photo."""
    left, _, width, _ = page_room(book, side, margin_mm)
    high = book.size.height_mm * TITLE_SHARE - book.size.safe_mm - FOOT_MM - 4.0
    return Text(
        id=TITLE_ID, name="Title", text="{title}", sample=False, style=TITLE, size_pt=30.0, fit_pt=(10.0, 34.0),
        centre=(round_exactly(left + width / 2), round_exactly(book.size.height_mm * (1 - TITLE_SHARE) + 4.0 + high / 2)),
        width_mm=round_exactly(width), height_mm=round_exactly(high),
    )  # fmt: skip


def _foot_line(book: Book) -> float:
    return round_exactly(book.size.height_mm - book.size.safe_mm - FOOT_MM / 2)
