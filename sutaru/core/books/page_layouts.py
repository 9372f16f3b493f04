"""A plan made into sheets: layouts whose openings have their photos' own ratios, dressed in a theme, and what lies in them."""

from collections.abc import Mapping, Sequence
from typing import Any

from ..arranging.aligning import page_box
from ..arranging.moving import round_exactly
from ..document import Book, Filling, Flat, Job, Layer, Layout, Opening, Photo, Placement, Sheet, Text, Theme
from ..document.shapes import Rectangle
from ..fitting import first_placement
from ..measure import MM_PER_INCH
from .binding import inner_layout, roles_of
from .bleeds import Bleeds
from .covers import lay_out_cover
from .dressing import dress_layout
from .page_rooms import bleeds_of, page_room
from .page_words import book_title, caption, chapter_title, clear_titles, is_covered, page_numbers
from .plan import ACROSS, RUN_OFF, Block, PagePlan
from .planning import Slot
from .trees import Rect, boxes_closed, boxes_within, limit_width, parse_tree

_ABOVE = 0.45  # of the room left by a lower block that is above it: the optical middle (common practice, no source)


def slots_of(sheets: Sequence[Sheet]) -> list[Slot]:
    """The pages of sheets, in order."""
    slots: list[Slot] = []
    page = 0
    for sheet in sheets:
        if sheet.role == "spread":
            slots += [Slot("left", True), Slot("right", True)]
        elif sheet.role != "cover":
            slots.append(Slot("right" if page % 2 == 0 else "left"))
        page = len(slots)
    return slots


def new_sheets(job: Job, pages: int, theme: Theme | None) -> tuple[Sheet, ...]:
    """A book from nothing: its cover, and so many empty pages. Raises EditRefused for an odd number."""
    book = _book(job)
    cover = Sheet(id="cover", name="Cover", role="cover", layout=lay_out_cover(job, pages, theme))
    sheets, page = [cover], 1
    for n, role in enumerate(roles_of(book.binding, pages)):
        sheets.append(empty_sheet(job, role, f"pages-{n + 1}", page, n + 1, theme))
        page += 2 if role == "spread" else 1
    return tuple(sheets)


def empty_sheet(job: Job, role: Any, identity: str, first_page: int, turn: int, theme: Theme | None) -> Sheet:
    """An empty page or spread, with its page numbers."""
    book = _book(job)
    layout = inner_layout(book, role)
    side = "right" if first_page % 2 else "left"
    layout = layout.copy_with(layers=page_numbers(book, role, side))
    name = f"Pages {first_page} and {first_page + 1}" if role == "spread" else f"Page {first_page}"
    like = next((sheet.layout for sheet in job.sheets if sheet.role == role), job.sheets[-1].layout)
    layout = dress_layout(layout, theme, turn, role) if theme else _keep_ground(layout, like)
    return Sheet(id=identity, name=name, role=role, layout=layout)


def _book(job: Job) -> Book:
    assert job.book is not None, "only a job with a book has pages that are bound"
    return job.book


def lay_out_sheet(
    book: Book, sheet: Sheet, pages: Sequence[PagePlan], photos: dict[str, Photo], gap_mm: float, margin_mm: float,
    theme: Theme | None, turn: int, title: bool, side: str, ppi_least: float,
) -> tuple[Sheet, Filling]:  # fmt: skip
    """A sheet laid out as one page's plan or two say, and what lies on it. ``title``: it opens the book. ``side``: of a page
    alone. ``ppi_least``: no photo prints with fewer pixels."""
    layout, filling = inner_layout(book, sheet.role), dict[str, Placement]()
    layers: list[Layer] = []
    cropped: list[str] = []
    for n, plan in enumerate(pages):
        half = "left" if sheet.role == "spread" and n == 0 else "right" if sheet.role == "spread" else side
        rects = page_rects(book, plan, half, margin_mm, gap_mm, title, photos, ppi_least)
        for rect, photo in zip(rects, plan.photos, strict=True):
            opening = _opening(
                f"opening-{len(filling) + 1}", rect, book.size.width_mm if half == "right" and n else 0.0
            )
            layers.append(opening)
            filling[opening.id] = Placement(photo=photo)
            if (plan.block is not None or plan.shape in RUN_OFF) and photos[photo].keep_areas:
                cropped.append(opening.id)
        if plan.chapter:
            layers.append(chapter_title(book, half, n, margin_mm, plan.chapter, rects))
        if plan.dated:
            first = f"opening-{len(filling) - len(plan.photos) + 1}"
            layers.append(caption(book, half, n, first))
    boxes = [page_box(layer) for layer in layers]
    layers += [number for number in page_numbers(book, sheet.role, side) if not is_covered(number, boxes)]
    if title:
        layers.append(book_title(book, side, margin_mm))
    layout = layout.copy_with(layers=tuple(layers), guides=sheet.layout.guides)
    layout = dress_layout(layout, theme, turn, sheet.role) if theme else _keep_ground(layout, sheet.layout)
    layout = clear_titles(layout)
    for identity in cropped:
        opening_here = layout.openings_by_id[identity]
        filling[identity] = first_placement(layout, opening_here, photos[filling[identity].photo])
    return sheet.copy_with(layout=layout), Filling(placements=filling)


def _keep_ground(layout: Layout, before: Layout) -> Layout:
    """A layout on the ground and in the colours of the one that was there."""
    grounds = tuple(layer for layer in before.layers if layer.kind == "background")
    worded = tuple(
        layer.copy_with(style="", own=()) if isinstance(layer, Text) and layer.style not in before.styles else layer
        for layer in layout.layers
    )
    return layout.copy_with(
        layers=(*grounds, *worded), swatches=before.swatches, styles=before.styles, fonts=before.fonts
    )


def page_rects(
    book: Book, plan: PagePlan, side: str, margin_mm: float, gap_mm: float, title: bool, photos: dict[str, Photo],
    ppi_least: float,
) -> list[Rect]:  # fmt: skip
    """Where a page's photos lie, mm from its own top left: as large as there is room, and as the lab's ``ppi_least`` lets the
    smallest of them be."""
    bleeds = bleeds_of(book, margin_mm, gap_mm, ppi_least)
    room = page_room(book, side, margin_mm, title)
    if plan.shape == ACROSS:
        _, top, _, height = page_room(book, side, margin_mm)
        room = margin_mm, top, 2 * (book.size.width_mm - margin_mm), height
    return rects_in_room(plan, room, side, gap_mm, bleeds, photos, ppi_least)


def rects_in_room(
    plan: PagePlan, room: Rect, side: str, gap_mm: float, bleeds: Bleeds | None, photos: Mapping[str, Photo],
    ppi_least: float,
) -> list[Rect]:  # fmt: skip
    """Where photos lie in a room as a page's plan says, mm from where the room is measured from. ``bleeds``: where pictures run
    off. Raises ValueError when the gaps leave no room."""
    if not plan.photos:
        return []
    most = [photos[photo].width / ppi_least * MM_PER_INCH for photo in plan.photos]
    ratios = [photos[photo].width / photos[photo].height for photo in plan.photos]
    if plan.shape in RUN_OFF:
        if bleeds is None:
            raise ValueError("Nothing runs off the paper here.")
        return [bleeds.rect(plan.shape, side, ratios[0])]
    if plan.shape == ACROSS:
        return boxes_within(0, ratios, gap_mm, room, most)
    if plan.block is not None:
        filled = block_room(room, plan.block, side)
        rects = boxes_closed(parse_tree(plan.shape), ratios, gap_mm, filled)
        # What is cut at the sides prints nothing.
        seen = [wide * min(1.0, w / h / ratio) for wide, (_, _, w, h), ratio in zip(most, rects, ratios, strict=True)]
        return limit_width(rects, filled, seen)
    return boxes_within(parse_tree(plan.shape), ratios, gap_mm, room, most)


def block_room(room: Rect, block: Block, side: str = "left") -> Rect:
    """The part of a page's room that a block is: in the middle across or at the outer margin, a little above the middle down."""
    left, top, width, height = room
    wide, high = width * block.width, height * block.height
    free = width - wide
    across = free / 2 if block.side == "middle" else 0.0 if side == "left" else free
    return left + across, top + (height - high) * _ABOVE, wide, high


def _opening(identity: str, rect: Rect, shift: float) -> Opening:
    x, y, w, h = rect
    return Opening(
        id=identity, outline=Rectangle(width_mm=round_exactly(w), height_mm=round_exactly(h)),
        surface=Flat(centre=(round_exactly(x + shift + w / 2), round_exactly(y + h / 2))),
    )  # fmt: skip
