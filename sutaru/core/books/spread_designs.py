"""The ways in which the photos of one sheet can be composed: blocks that hang from common lines, pictures that run off the
paper, nothing cropped. The same search serves the designs that are offered, and what a hand asks for (``recomposing.py``)."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import product
from statistics import median

from ..document import Photo
from .bleeds import Bleeds
from .composing import HEIGHTS, Composer, Rooms
from .page_layouts import rects_in_room
from .photo_choice import photo_worth
from .plan import ACROSS, BLEED, EDGE, OF_ONE, RUN_OFF, SPREAD, WIDE, Block, PagePlan, Wishes
from .trees import Judged, Rect, Trees, text

MOST = 24  # photos of one sheet that are composed
_HERO = 0.3  # by how much more a photo counts that is to be the largest
_LITTLE = 0.2  # what a photo counts that is not to be large
_LIVELY = 0.6
_MANY = 6  # photos of a page from which on its block takes all the height there is
_FEW = 8  # photos up to which others are tried at the ends, where a picture may run off
_OFF_MIDDLE = 2  # photos by which one page may have more than its half
_EACH, _COLUMN = 3, 4  # ways of each page that are combined; photos of a column
# Costs: a photo that changes its page, a page without photos, photos of which nothing is cropped, one that is to be the
# largest and is not; a photo that is much the largest, where others say clearly more.
_MOVED, _EMPTY, _UNCROPPED, _LESSER, _UNEARNED = 0.12, 0.8, 0.25, 0.8, 0.35
_REORDERED = 0.1  # photos of a page in another order
_MUCH, _CLEARLY = 1.6, 0.3
_WHOLE = {BLEED: 0.35, EDGE: 0.45, WIDE: 0.2, SPREAD: 0.0, ACROSS: 0.2}
_SAME_MM = 1.0  # designs whose photos lie no farther apart are one
NAMES = {
    BLEED: "A photo over the whole page", EDGE: "To the edge", WIDE: "Over the gutter, with a column",
    SPREAD: "Over both pages", ACROSS: "Across both pages",
}  # fmt: skip


@dataclass(frozen=True)
class SheetRooms:
    """Where photos may lie on a sheet, mm from its top left: the room of each page, the left one first, and each page's left
    edge (``lefts``). ``bleeds``: None where nothing runs off the paper. ``side``: of a page alone. ``lined``: its block reaches
    from the top of the room to its foot, in line with what lies beside it."""

    pages: tuple[Rect, ...]
    lefts: tuple[float, ...]
    gap_mm: float
    ppi_least: float
    cropping: float = 0.1
    bleeds: Bleeds | None = None
    side: str = "left"
    lined: bool = False


@dataclass(frozen=True)
class Design:
    """A way to compose the photos of a sheet: each page's plan, and where its photos lie, mm from the sheet's top left."""

    name: str
    pages: tuple[PagePlan, ...]
    cost: float
    rects: tuple[Rect, ...]

    @property
    def photos(self) -> tuple[str, ...]:
        """Its photos in the order of ``rects``."""
        return tuple(photo for page in self.pages for photo in page.photos)

    @property
    def areas(self) -> dict[str, float]:
        """How large each photo is, mm2."""
        return {photo: wide * high for photo, (_, _, wide, high) in zip(self.photos, self.rects, strict=True)}

    @property
    def run_off(self) -> frozenset[str]:
        """Photos that run off the paper."""
        return frozenset(photo for page in self.pages if page.shape in RUN_OFF for photo in page.photos)


def design_of(rooms: SheetRooms, pages: Sequence[PagePlan], known: Mapping[str, Photo], cost: float = 0.0) -> Design:
    """The design that plans of a sheet's pages are. Raises ValueError where they leave no room for the photos."""
    rects: list[Rect] = []
    for n, (plan, room) in enumerate(zip(pages, rooms.pages, strict=True)):
        side = ("left", "right")[n] if len(rooms.pages) == 2 else rooms.side
        shift = rooms.lefts[n]
        x, y, wide, high = room
        if plan.shape == ACROSS and len(rooms.pages) == 2:
            other = rooms.pages[1 - n]
            end = max(x + wide, other[0] + other[2])
            room, shift = (min(x, other[0]), y, end - min(x, other[0]), high), 0.0
        else:
            room = x - shift, y, wide, high
        rects += [
            (left + shift, top, w, h)
            for left, top, w, h in rects_in_room(plan, room, side, rooms.gap_mm, rooms.bleeds, known, rooms.ppi_least)
        ]
    return Design(name_of(pages), tuple(pages), cost, tuple(rects))


def name_of(pages: Sequence[PagePlan]) -> str:
    """What a design is called."""
    for page in pages:
        if page.shape in NAMES:
            return NAMES[page.shape]
    blocks = [page.block for page in pages if page.photos]
    if any(block is None for block in blocks):
        return "Nothing cropped"
    if len(blocks) < len(pages):
        return "All on one page"
    if len(pages) == 1:
        return "In one block"
    return "Aligned across the fold" if blocks[0] and blocks[0].height == 1 else "Aligned, with white space"


def compose(
    rooms: SheetRooms, photos: Sequence[Photo], page_now: Mapping[str, int], hero: str = "", little: str = ""
) -> list[Design]:
    """All ways that suit the photos of a sheet, the best first. ``page_now``: the page that each lies on, 0 or 1, if on any.
    ``hero``: the photo that is to be the largest; ``little``: one that is not to be large. Empty without photos."""
    if not 0 < len(photos) <= MOST:
        return []
    known = {photo.id: photo for photo in photos}
    designs: dict[tuple[tuple[int, ...], ...], Design] = {}
    trees = Trees(rooms.gap_mm)
    for order, only_bold, dear in _orders(photos, page_now, hero):
        for cost, pages in _Search(rooms, order, trees, hero, little).ways(only_bold):
            moved = sum(
                page_now.get(photo, n) != n for n, page in enumerate(pages) if page.shape not in (ACROSS, SPREAD)
                for photo in page.photos
            )  # fmt: skip
            try:
                design = design_of(rooms, pages, known, cost + dear + _MOVED * moved)
            except ValueError:
                continue
            design = replace(design, cost=design.cost + _largest_cost(design, known, hero))
            key = tuple(sorted(tuple(round(side / _SAME_MM) for side in rect) for rect in design.rects))
            if key not in designs or design.cost < designs[key].cost:
                designs[key] = design
    return sorted(designs.values(), key=lambda design: design.cost)


def _largest_cost(design: Design, known: Mapping[str, Photo], hero: str) -> float:
    """What a design costs whose largest photo is not the one that is to be it."""
    areas = design.areas
    largest = max(areas, key=areas.__getitem__)
    if hero:
        return _LESSER if areas[largest] > areas[hero] + 1 else 0.0
    worth = {photo: photo_worth(known[photo]) for photo in areas}
    much = len(areas) > 1 and areas[largest] >= _MUCH * median(areas.values())
    return _UNEARNED if much and max(worth.values()) > worth[largest] + _CLEARLY else 0.0


def pick_unlike(designs: Sequence[Design], count: int) -> list[Design]:
    """So many designs, the best first, as unlike one another as there are: the best of each name is among them."""
    seldom: dict[tuple[object, ...], int] = {}
    turns: list[tuple[int, int]] = []
    names: set[str] = set()
    for n, design in enumerate(designs):
        kind = tuple((len(page.photos), page.shape if page.shape in OF_ONE else page.block) for page in design.pages)
        seldom[kind] = seldom.get(kind, -1) + 1
        turns.append((seldom[kind] if design.name in names else -1, n))
        names.add(design.name)
    chosen = sorted(n for _, n in sorted(turns)[:count])
    return [designs[n] for n in chosen]


def _orders(
    photos: Sequence[Photo], page_now: Mapping[str, int], hero: str
) -> Iterator[tuple[list[Photo], bool, float]]:  # fmt: skip
    """Photos in the orders that are tried; whether only for pictures that run off; and what the order costs."""
    yield list(photos), False, 0.0
    if len(photos) <= _FEW:  # on each page upright ones first, or last
        for sign in (1, -1):
            by_shape = sorted(photos, key=lambda photo: (page_now.get(photo.id, 2), sign * photo.width / photo.height))
            if by_shape != list(photos):
                yield by_shape, False, _REORDERED
    tried = sorted(photos, key=photo_worth)[-2:] if len(photos) <= _FEW else []
    chosen = [photo for photo in photos if photo.id == hero] or tried
    for photo in chosen:
        rest = [other for other in photos if other is not photo]
        for order in ([photo, *rest], [*rest, photo]):
            if order != list(photos):
                yield order, photo.id != hero, 0.0


class _Search:
    """The ways for photos in one order."""

    def __init__(self, rooms: SheetRooms, photos: list[Photo], trees: Trees, hero: str, little: str) -> None:
        self.rooms, self.photos = rooms, photos
        _, _, wide, high = rooms.pages[0]
        bleeds = rooms.bleeds or Bleeds((wide, high), 0.0, 0.0, 0.0, rooms.gap_mm, rooms.ppi_least)
        wishes = Wishes(cropping=rooms.cropping, lively=_LIVELY)
        self.composer = Composer(
            photos, [len(rooms.pages)], Rooms((wide, high), (wide, high), bleeds), wishes, trees, rooms.ppi_least,
            len(photos), lambda stage, done, total: None,
        )  # fmt: skip
        named = {hero: max(map(photo_worth, photos)) + _HERO, little: _LITTLE}
        self.composer.worth = [named.get(photo.id, photo_worth(photo)) for photo in photos]
        self.with_hero = (True,) if hero else (False, True) if little else (True, False)

    def ways(self, only_bold: bool) -> Iterator[tuple[float, tuple[PagePlan, ...]]]:
        """What each costs, and its pages."""
        n = len(self.photos)
        if len(self.rooms.pages) == 1:
            yield from self._of_one_page(n)
            return
        if not only_bold:
            middle, free = n // 2, _OFF_MIDDLE if n > 3 else n
            for left in range(max(0, middle - free), min(n, n - middle + free) + 1):
                for hero in self.with_hero:
                    yield from self._within_margins(left, hero)
        if self.rooms.bleeds:
            yield from self._list_bleeds(n)

    def _page(self, first: int, count: int, height: int, hero: bool) -> list[tuple[float, PagePlan]]:
        """The best blocks of a page, and what each costs."""
        if not count:
            return [(_EMPTY, PagePlan())]
        if self.rooms.cropping <= 0:
            return []
        options = self.composer.block_options(first, count, height, hero, _EACH)
        return [(cost, self._plan(first, judged, block)) for cost, judged, block in options if block]

    def _plan(self, first: int, judged: Judged, block: Block | None) -> PagePlan:
        photos = self.photos[first : first + len(judged.widths)]
        return PagePlan(photos=tuple(photo.id for photo in photos), shape=text(judged.tree), block=block)

    def _uncropped(self, first: int, count: int) -> list[tuple[float, PagePlan]]:
        if not count:
            return [(_EMPTY, PagePlan())]
        ratios = self.composer.ratios[first : first + count]
        run = self.composer.worth[first : first + count]
        ranked = self.composer.trees.rank_trees(
            ratios, self.composer.rooms.page, tuple(round(worth, 1) for worth in run), _EACH
        )
        dear = _UNCROPPED if self.rooms.cropping else 0.0
        return [
            (judged.cost + dear + self.composer.coarse_cost(first, judged), self._plan(first, judged, None))
            for judged in ranked
        ]

    def _single(self, index: int, shape: str) -> tuple[float, PagePlan]:
        return _WHOLE[shape] + self.composer.bold_cost(index), PagePlan(photos=(self.photos[index].id,), shape=shape)

    def _heights(self, *counts: int) -> range:
        return range(len(HEIGHTS) if max(counts) <= _MANY and not self.rooms.lined else 1)

    def _of_one_page(self, n: int) -> Iterator[tuple[float, tuple[PagePlan, ...]]]:
        for height in self._heights(n):
            for hero in self.with_hero:
                yield from ((cost, (plan,)) for cost, plan in self._page(0, n, height, hero))
        yield from ((cost, (plan,)) for cost, plan in self._uncropped(0, n))
        if n == 1 and self.rooms.bleeds:
            for shape in (BLEED, EDGE):
                if self.rooms.bleeds.may(shape, self.photos[0], self.rooms.side):
                    cost, plan = self._single(0, shape)
                    yield cost, (plan,)

    def _within_margins(self, left: int, hero: bool) -> Iterator[tuple[float, tuple[PagePlan, ...]]]:
        n, worth = len(self.photos), self.composer.worth
        best_left = worth.index(max(worth)) < left
        for height in self._heights(left, n - left):
            lefts = self._page(0, left, height, hero and best_left)
            rights = self._page(left, n - left, height, hero and not best_left)
            for (cost, plan), (other, plan_right) in product(lefts, rights):
                yield cost + other, (plan, plan_right)
        for (cost, plan), (other, plan_right) in product(
            self._uncropped(0, left)[:2], self._uncropped(left, n - left)[:2]
        ):
            yield cost + other, (plan, plan_right)

    def _list_bleeds(self, n: int) -> Iterator[tuple[float, tuple[PagePlan, ...]]]:
        bleeds = self.rooms.bleeds
        assert bleeds is not None, "nothing runs off here"
        if n == 1:
            for shape in (SPREAD, ACROSS):
                if bleeds.may(shape, self.photos[0], "left"):
                    cost, plan = self._single(0, shape)
                    yield cost, (plan, PagePlan())
        for index, rest, side in ((0, 1, "left"), (n - 1, 0, "right")):
            for shape in (BLEED, EDGE, WIDE) if n > 1 else (BLEED, EDGE):
                if not bleeds.may(shape, self.photos[index], side):
                    continue
                cost, plan = self._single(index, shape)
                for other, beside in self._beside(shape, index, rest, n - 1):
                    yield cost + other, (plan, beside) if side == "left" else (beside, plan)

    def _beside(self, shape: str, index: int, rest: int, count: int) -> Iterator[tuple[float, PagePlan]]:
        """What stands on the page beside a picture that runs off."""
        if shape != WIDE:
            for height in self._heights(count):
                yield from self._page(rest, count, height, False)
            yield from self._uncropped(rest, count)[:1] if count else ()
            return
        if count > _COLUMN or self.rooms.cropping <= 0:
            return
        bleeds = self.composer.rooms.bleeds
        column = bleeds.column(self.composer.ratios[index], (0.0, 0.0, *self.composer.rooms.page))
        for high in HEIGHTS:
            for cost, judged, block in self.composer.column_options(rest, count, column.copy_with(height=high), 2):
                yield cost, self._plan(rest, judged, block)
