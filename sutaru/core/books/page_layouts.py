"""A plan made into sheets: layouts whose openings have their photos' own ratios, dressed in a theme, and what lies in them."""

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from ..arranging.aligning import Box, page_box
from ..arranging.moving import round_exactly
from ..document import (
    Book,
    BookSize,
    FillBox,
    Filling,
    Flat,
    Job,
    Layer,
    Layout,
    Opening,
    Photo,
    Placement,
    Sheet,
    Text,
    Theme,
)
from ..document.shapes import Rectangle
from ..fitting import first_placement
from ..measure import MM_PER_INCH
from .binding import cover_layout, inner_layout, roles_of, spine_of, spine_turn_deg
from .bleeds import Bleeds
from .composing import Rooms
from .dressing import dress_layout
from .plan import ACROSS, RUN_OFF, Block, PagePlan
from .planning import Slot
from .trees import Rect, boxes_closed, boxes_within, limit_width, parse_tree

FOOT_MM = 7.0  # under the photos, within the safe line: where page numbers and dates stand
_BESIDE = 0.5  # of a margin: between a picture that comes over the gutter and the column beside it
_INNER_MM = 5.0  # from the gutter, beside what the binding swallows
_ABOVE = 0.45  # of the room left by a lower block that is above it: the optical middle (common practice, no source)
_TITLE = 0.24  # of a first page's height: where its title stands
TITLE_ID = "title"  # the words on a first page
TITLE, CAPTION, NUMBER = "Title", "Caption", "Page number"  # styles that all themes have
COVER_TITLE, SPINE, IMPRINT = "Cover title", "Spine", "Imprint"


def page_room(book: Book, side: str, margin_mm: float, title: bool = False) -> Rect:
    """Where photos lie on a page, mm from its own top left: within its margins, clear of what the binding swallows."""
    size = book.size
    inner = max(margin_mm, book.binding.swallows_mm + _INNER_MM)
    foot = max(margin_mm, size.safe_mm + FOOT_MM + 1.0)
    left = margin_mm if side == "left" else inner
    high = size.height_mm * (1 - _TITLE) if title else size.height_mm - foot
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
        for rect, photo in zip(
            page_rects(book, plan, half, margin_mm, gap_mm, title, photos, ppi_least), plan.photos, strict=True
        ):
            opening = _opening(
                f"opening-{len(filling) + 1}", rect, book.size.width_mm if half == "right" and n else 0.0
            )
            layers.append(opening)
            filling[opening.id] = Placement(photo=photo)
            if (plan.block is not None or plan.shape in RUN_OFF) and photos[photo].keep_areas:
                cropped.append(opening.id)
        if plan.dated:
            first = f"opening-{len(filling) - len(plan.photos) + 1}"
            layers.append(_caption(book, half, n, first))
    boxes = [page_box(layer) for layer in layers]
    layers += [number for number in page_numbers(book, sheet.role, side) if not is_covered(number, boxes)]
    if title:
        layers.append(_title(book, side, margin_mm))
    layout = layout.copy_with(layers=tuple(layers), guides=sheet.layout.guides)
    layout = dress_layout(layout, theme, turn, sheet.role) if theme else _keep_ground(layout, sheet.layout)
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


def _foot_line(book: Book) -> float:
    return round_exactly(book.size.height_mm - book.size.safe_mm - FOOT_MM / 2)


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


def page_words(book: Book, role: str, side: str) -> tuple[Text, ...]:
    """All words that a book may have on a page or spread: page numbers, dates, on a page alone the title too."""
    captions = tuple(_caption(book, side, n, "") for n in range(2 if role == "spread" else 1))
    titles = (_title(book, side, book.margin_mm),) if role == "page" else ()
    return *page_numbers(book, role, side), *captions, *titles


def is_covered(number: Text, boxes: Iterable[Box]) -> bool:
    """Whether one of the boxes covers a page number: on a picture that runs off the paper there is none."""
    x, y = number.centre
    return any(box.left < x < box.right and box.top < y < box.bottom for box in boxes)


def _caption(book: Book, side: str, number: int, opening: str) -> Text:
    """The date of a page's photos, at its foot."""
    size = book.size
    return Text(
        id=f"date-{number + 1}", name="Date", text="{photo.date:long}", sample=False, style=CAPTION, size_pt=9.0,
        photo_of=opening, centre=(round_exactly(size.width_mm / 2 + (size.width_mm if number else 0.0)), _foot_line(book)),
        width_mm=round_exactly(size.width_mm - 2 * size.safe_mm - 40.0), height_mm=6.0,
    )  # fmt: skip


def _title(book: Book, side: str, margin_mm: float) -> Text:
    """The title on a book's first page, under its photo."""
    left, _, width, _ = page_room(book, side, margin_mm)
    high = book.size.height_mm * _TITLE - book.size.safe_mm - FOOT_MM - 4.0
    return Text(
        id=TITLE_ID, name="Title", text="{title}", sample=False, style=TITLE, size_pt=30.0, fit_pt=(10.0, 34.0),
        centre=(round_exactly(left + width / 2), round_exactly(book.size.height_mm * (1 - _TITLE) + 4.0 + high / 2)),
        width_mm=round_exactly(width), height_mm=round_exactly(high),
    )  # fmt: skip


def _front(layout: Layout, theme: Theme | None, middle: float, spine_mm: float, size: BookSize) -> list[Layer]:
    """A cover's front about ``middle``, right of ``spine_mm``: a photo and the title, as the theme has it."""
    design = theme.cover_design if theme else "window"
    short, foot = min(size.width_mm, size.height_mm), size.height_mm
    air = max(size.safe_mm + 4.0, 0.12 * short)
    band: list[Layer] = []
    photo = middle, air + 0.28 * foot, size.width_mm - 2 * air, 0.56 * foot
    title_mm = (size.height_mm - 2 * air - photo[3]) * 0.6
    title_y = air + photo[3] + (size.height_mm - 2 * air - photo[3]) / 2 + 3.0
    edge = spine_mm, layout.width_mm + layout.bleed_mm
    if design == "small":
        photo = middle, 0.40 * foot, 0.46 * short, 0.46 * short
        title_mm, title_y = 0.14 * foot, 0.40 * foot + 0.23 * short + 0.12 * foot
    elif design in ("half", "whole"):
        bottom = 0.62 * foot if design == "half" else foot + layout.bleed_mm
        top = -layout.bleed_mm
        photo = (edge[0] + edge[1]) / 2, (top + bottom) / 2, edge[1] - edge[0], bottom - top
        title_mm, title_y = 0.16 * foot, 0.80 * foot if design == "half" else 0.76 * foot
    if design == "whole":
        band = [
            FillBox(
                id="band", name="Band", colour=theme.cover.colour if theme else "#ffffff",
                outline=Rectangle(width_mm=round_exactly(edge[1] - edge[0]), height_mm=round_exactly(0.22 * foot)),
                surface=Flat(centre=(round_exactly((edge[0] + edge[1]) / 2), round_exactly(0.76 * foot))),
            )
        ]  # fmt: skip
    x, y, wide, high = (round_exactly(v) for v in photo)
    return [
        Opening(id="opening-1", name="Front", outline=Rectangle(width_mm=wide, height_mm=high), surface=Flat(centre=(x, y))),
        *band,
        Text(
            id="title", name="Title", text="{title}", sample=False, style=COVER_TITLE, size_pt=36.0, fit_pt=(12.0, 42.0),
            centre=(round_exactly(middle), round_exactly(title_y)),
            width_mm=round_exactly(size.width_mm - 2 * air), height_mm=round_exactly(title_mm),
        ),
    ]  # fmt: skip


def lay_out_cover(job: Job, pages: int, theme: Theme | None) -> Layout:
    """A cover: a photo and the title on its front, the title on its spine where there is room, the studio on its back."""
    book = _book(job)
    layout = cover_layout(book, pages)
    size = book.size
    spine_at = spine_of(layout)
    assert spine_at is not None, "a cover has a spine"
    left, right = spine_at
    spine, front = right - left, right + book.binding.hinge_mm + size.width_mm / 2
    layers: list[Layer] = [
        *_front(layout, theme, front, right, size),
        Text(
            id="imprint", name="Studio", text="{studio.name}\n{studio.web}", sample=False, style=IMPRINT, size_pt=9.0,
            centre=(round_exactly((left - book.binding.hinge_mm) / 2), round_exactly(size.height_mm - size.safe_mm - 12.0)),
            width_mm=round_exactly(0.7 * size.width_mm), height_mm=14.0,
        ),
    ]  # fmt: skip
    if spine >= book.binding.words_from_mm:
        layers.append(
            Text(
                id="spine",
                name="Spine",
                text="{title}",
                sample=False,
                style=SPINE,
                size_pt=12.0,
                fit_pt=(6.0, 24.0),
                centre=(round_exactly((left + right) / 2), round_exactly(size.height_mm / 2)),
                width_mm=round_exactly(0.8 * size.height_mm),
                height_mm=round_exactly(spine - 2.0),
                turn_deg=spine_turn_deg(job.locale),
            )
        )
    layout = layout.copy_with(layers=tuple(layers))
    return dress_layout(layout, theme, 0, "cover") if theme else layout
