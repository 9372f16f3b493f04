"""What of a sheet can be composed: its openings and their photos, and the rooms in which they may lie. Pages of a book have the
rooms of the book's layout; any other sheet has what its openings take now."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from statistics import median

from ..arranging.aligning import Box, box_around, page_box
from ..arranging.moving import round_exactly
from ..document import Echo, Filling, Flat, Job, Layout, Opening, Photo, Sheet, Text
from ..document.shapes import Rectangle
from ..errors import EditRefused
from ..fitting import reading_order
from .page_rooms import bleeds_of, page_room
from .page_words import CHAPTER_ID, NEAR_MM, NUMBER, TITLE_ID
from .spread_designs import SheetRooms
from .trees import Rect

_HERO = 1.6  # times the median in size: from there on the largest photo was meant to be it
_OVER_MM = 1.0
_GAP_MM, _MARGIN = 4.0, 0.06  # where a sheet says none: between photos, and of its shorter side
_WORDS, _ABOVE = ("text", "dates", "page", "group"), ("ornament", "fill")  # what photos are not laid over or under


@dataclass(frozen=True)
class SheetPhotos:
    """What of a sheet is composed: its openings and their photos, and which of the rooms' pages each lies on. ``pages``: which
    pages of the sheet the rooms are, 0 the left one; ``areas``: how large each photo is, mm2. ``runs_off``: whether one
    runs off the paper."""

    rooms: SheetRooms
    pages: tuple[int, ...]
    openings: tuple[Opening, ...]
    photos: tuple[Photo, ...]
    photo_of: Mapping[str, str]
    page_of: Mapping[str, int]
    areas: Mapping[str, float]
    rects: tuple[Rect, ...]
    runs_off: bool

    @property
    def hero(self) -> str:
        """The photo that is much larger than the others now; "" for none."""
        if len(self.areas) < 2:
            return ""
        largest = max(self.areas, key=self.areas.__getitem__)
        return largest if self.areas[largest] >= _HERO * median(self.areas.values()) else ""


def read_sheet(job: Job, sheet: Sheet, filling: Filling) -> SheetPhotos:
    """What of a sheet can be composed: all editions share its openings, so that what one has pinned stays for all. Raises
    EditRefused, with the reason, when nothing can."""
    fillings = [edition.filling(sheet.id) for edition in job.editions]
    if any(entry.spans for entry in fillings):
        where = "" if filling.spans else f", in {next(e.name for e in job.editions if e.filling(sheet.id).spans)}"
        raise EditRefused(f"A photo runs on through several openings here{where}.", "End the span first.")
    if sheet.role in ("cover", "month"):
        raise EditRefused("Covers and months of a calendar keep their layout.", "Exchange photos on them instead.")
    layout = sheet.layout
    openings = [opening for opening in reading_order(layout) if opening.visible]
    pinned = {name for entry in fillings for name in entry.pins}
    fixed = [opening for opening in openings if opening.id in pinned or opening.place_locked or opening.content_locked]
    free = [opening for opening in openings if opening not in fixed]
    top = {layer.id for layer in layout.layers}
    if any(not _is_plain(opening) or opening.id not in top for opening in free):
        raise EditRefused(
            "Only rectangles that lie straight, and in no group, are composed.", "Arrange these in the workshop."
        )
    echoed = {layer.of for layer in layout.leaves if isinstance(layer, Echo)}
    if any(opening.id in echoed for opening in free):
        raise EditRefused("An echo shows one of these openings again.", "Take the echo away first.")
    rooms = _rooms_of(job, sheet, openings)
    pages = tuple(range(len(rooms.pages)))
    if fixed:
        pages = (_page_beside(rooms, layout, fixed),)
        free = [opening for opening in free if _page_of(rooms, opening) == pages[0]]
        rooms = _room_beside(rooms, pages[0], [opening for opening in openings if _page_of(rooms, opening) != pages[0]])
    _check_free_of_words(layout, rooms, openings)
    numbers = {opening.id: _page_of(rooms, opening) for opening in free}
    known = job.pile.by_id
    held = {opening.id: known[photo] for opening in free if (photo := filling.photo_in(opening.id)) in known}
    photos = {photo.id: photo for photo in held.values()}
    if len(photos) < len(held):
        raise EditRefused("A photo lies twice on this sheet.", "Put another one in one of its openings.")
    boxes = {opening.id: _rect(page_box(opening)) for opening in free}
    return SheetPhotos(
        rooms=rooms, pages=pages, openings=tuple(free), photos=tuple(photos.values()),
        photo_of={identity: photo.id for identity, photo in held.items()},
        page_of={photo.id: numbers[identity] for identity, photo in held.items()},
        areas={photo.id: boxes[identity][2] * boxes[identity][3] for identity, photo in held.items()},
        rects=tuple(boxes.values()),
        runs_off=any(min(x, y) < 0 or x + w > layout.width_mm or y + h > layout.height_mm for x, y, w, h in boxes.values()),
    )  # fmt: skip


def _is_plain(opening: Opening) -> bool:
    surface = opening.surface
    straight = isinstance(surface, Flat) and not surface.is_distorted and surface.turn_deg == 0
    return straight and isinstance(opening.outline, Rectangle)


def _box(rect: Rect) -> Box:
    left, top, wide, high = rect
    return Box(left, top, left + wide, top + high)


def _rect(box: Box) -> Rect:
    return box.left, box.top, box.right - box.left, box.bottom - box.top


def _rooms_of(job: Job, sheet: Sheet, openings: Sequence[Opening]) -> SheetRooms:
    """The rooms of a sheet's pages: as the book's layout has them, or all that its openings take now."""
    layout, least = sheet.layout, job.lab.ppi_least
    spread = sheet.role == "spread"
    if book := job.book if sheet.role in ("page", "spread") else None:
        sides = ("left", "right") if spread else ("right" if job.page_numbers[sheet.id][0] % 2 else "left",)
        lefts = (0.0, book.size.width_mm)[: len(sides)]
        titled = sheet.role == "page" and TITLE_ID in layout.texts_by_id
        pages = [page_room(book, side, book.margin_mm, titled) for side in sides]
        chapter = any(name.startswith(CHAPTER_ID) for name in layout.texts_by_id)
        return SheetRooms(
            tuple((x + left, y, w, h) for (x, y, w, h), left in zip(pages, lefts, strict=True)), lefts, book.gap_mm, least,
            book.cropping, bleeds=None if chapter else bleeds_of(book, book.margin_mm, book.gap_mm, least), side=sides[0],
        )  # fmt: skip
    boxes = [page_box(opening) for opening in openings]
    gap, middle = _usual_gap(boxes), layout.width_mm / 2
    if spread and not any(box.left < middle - 1 and box.right > middle + 1 for box in boxes):
        return SheetRooms(_halves(layout, boxes), (0.0, middle), gap, least)
    return SheetRooms((_rect(box_around(boxes)) if boxes else _safe(layout, 0.0, layout.width_mm),), (0.0,), gap, least)


def _halves(layout: Layout, boxes: Sequence[Box]) -> tuple[Rect, Rect]:
    """What the openings of both halves take, each as the other mirrored where it has none, of one height."""
    middle = layout.width_mm / 2
    sides = [[box for box in boxes if (box.right <= middle + 1) == left] for left in (True, False)]
    if not any(sides):
        return _safe(layout, 0.0, middle), _safe(layout, middle, layout.width_mm)
    first, other = (
        box_around(side) if side else _mirror_box(box_around(sides[1 - n]), layout) for n, side in enumerate(sides)
    )
    top, foot = min(first.top, other.top), max(first.bottom, other.bottom)
    return _rect(Box(first.left, top, first.right, foot)), _rect(Box(other.left, top, other.right, foot))


def _mirror_box(box: Box, layout: Layout) -> Box:
    return Box(layout.width_mm - box.right, box.top, layout.width_mm - box.left, box.bottom)


def _safe(layout: Layout, left: float, right: float) -> Rect:
    margin = layout.safe_mm + _MARGIN * min(right - left, layout.height_mm)
    return left + margin, margin, right - left - 2 * margin, layout.height_mm - 2 * margin


def _usual_gap(boxes: Sequence[Box]) -> float:
    """The gap between neighbours, mm."""
    gaps = []
    for box in boxes:
        for other in boxes:
            if min(box.bottom, other.bottom) - max(box.top, other.top) > 1 and other.left >= box.right:
                gaps.append(other.left - box.right)
            if min(box.right, other.right) - max(box.left, other.left) > 1 and other.top >= box.bottom:
                gaps.append(other.top - box.bottom)
    return round_exactly(min(gaps)) if gaps else _GAP_MM


def _page_beside(rooms: SheetRooms, layout: Layout, fixed: Sequence[Opening]) -> int:
    """The page on which nothing is pinned or locked. Raises EditRefused where there is none."""
    on = {_page_of(rooms, opening) for opening in fixed}
    if len(rooms.pages) == 1 or len(on) == 2:
        number = layout.numbers[fixed[0].id]
        raise EditRefused(
            f"Opening {number} is pinned or locked.",
            "Unpin it, in whichever edition it is pinned, or unlock it, first.",
        )
    return 1 - on.pop()


def _room_beside(rooms: SheetRooms, page: int, others: Sequence[Opening]) -> SheetRooms:
    """The room of a page, from line to line of what stays on the other one."""
    around = box_around([page_box(opening) for opening in others])
    x, y, wide, high = rooms.pages[page]
    within = around.top >= y - NEAR_MM and around.bottom <= y + high + NEAR_MM
    room = (x, around.top, wide, around.bottom - around.top) if within else rooms.pages[page]
    side = ("left", "right")[page]
    return SheetRooms(
        (room,), (rooms.lefts[page],), rooms.gap_mm, rooms.ppi_least, rooms.cropping, side=side, lined=within
    )


def _check_free_of_words(layout: Layout, rooms: SheetRooms, openings: Sequence[Opening]) -> None:
    """Raises EditRefused where words, or what lies above photos, would be covered or cover them; not what lies on one now."""
    boxes = [page_box(opening) for opening in openings]
    above = False
    for layer in layout.layers:
        above |= layer.kind == "opening"
        carries = layer.kind in _WORDS or (above and layer.kind in _ABOVE)
        if not carries or not layer.visible or layer.id.startswith(CHAPTER_ID):
            continue
        if isinstance(layer, Text) and layer.style == NUMBER:
            continue
        try:
            box = page_box(layer)
        except EditRefused:
            continue
        among = any(_overlap(box, _box(room)) for room in rooms.pages)
        if among and not any(_overlap(box, other) for other in boxes):
            raise EditRefused(
                f"{layer.name or layer.kind.capitalize()} lies among the photos.", "Move it out of their way first."
            )


def _overlap(box: Box, other: Box) -> bool:
    across = min(box.right, other.right) - max(box.left, other.left)
    down = min(box.bottom, other.bottom) - max(box.top, other.top)
    return across > _OVER_MM and down > _OVER_MM


def _page_of(rooms: SheetRooms, opening: Opening) -> int:
    box = page_box(opening)
    return int(len(rooms.pages) == 2 and (box.left + box.right) / 2 > rooms.lefts[1])
