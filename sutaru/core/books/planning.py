"""Laying out a whole book: which photos come on which page, found by dynamic programming over all ways to turn pages.

Photos keep their order. A page costs what its best layout costs (``trees.py``), how far the number of its photos is from the
usual one, and every pause between events that falls inside it; that a page or a spread begins with an event is worth
something. Among all ways to share the photos out to the pages the cheapest is taken: nothing is left over.
"""

import math
import random
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..document import Binding, Book, Photo
from ..errors import EditRefused
from ..measure import MM_PER_INCH
from ..words.fields import LOCALE
from .chapters import chapter_starts, name_chapters
from .composing import SPLIT, Composer, Rooms
from .photo_choice import LaidAside, breaks, most_telling, photo_worth, set_likes_aside, set_spoilt_aside, sort_by_time
from .plan import ACROSS, BLEED, OF_ONE, RUN_OFF, BookPlan, PagePlan, Wishes
from .trees import Judged, Ratios, Trees, text

MOST_ON_A_PAGE = 16
_SOME = 12  # from so many photos on, pages at the two ends are kept for one photo
Progress = Callable[[str, int, int], None]


@dataclass(frozen=True)
class Slot:
    """A page to be laid out: which side of its sheet it is. ``spread``: it and the next one lie on one sheet."""

    side: str
    spread: bool = False


def pages_for(binding: Binding, wishes: Wishes, photos: int) -> int:
    """How many pages a book has: as many as were asked for, or as its photos ask for; in numbers that can be bound."""
    return binding.bindable(wishes.pages or math.ceil(photos / wishes.per_page))


def gap_and_margin(book: Book, white: float) -> tuple[float, float]:
    """How much stays white between photos, and from them to the trim, mm."""
    side = min(book.size.width_mm, book.size.height_mm)
    return round(1.0 + 6.0 * white, 2), round(book.size.safe_mm + 0.13 * side * white, 2)


def plan_pages(
    photos: Sequence[Photo],
    slots: Sequence[Slot],
    rooms: Rooms,
    wishes: Wishes,
    gap_mm: float,
    margin_mm: float,
    ppi_least: float = 200.0,
    whole: bool = True,
    locale: str = LOCALE,
    progress: Progress = lambda stage, done, total: None,
) -> BookPlan:
    """A plan for pages, of photos of a pile. ``ppi_least``: what the lab takes at least. ``whole``: the pages are those of a
    whole book, which one photo opens and one closes. ``locale``: in which chapters are named. ``progress`` may raise to stop.

    Raises EditRefused when there are no photos, or too many for the pages.
    """
    ordered = sort_by_time(photos) if wishes.order == "time" else list(photos)
    chosen, aside = _chosen(ordered, wishes)
    if not chosen:
        raise EditRefused("There is no photo to lay out.", "Bring photos in first.")
    cover = _best_photo([photo for photo in chosen if has_pixels(photo, rooms.title, ppi_least)] or chosen, rooms.title)
    first, last, middle = _choose_ends(chosen, slots) if whole else (None, None, chosen)
    if len(middle) > MOST_ON_A_PAGE * max(1, len(slots) - 2):
        least = math.ceil(len(middle) / MOST_ON_A_PAGE) + 2
        raise EditRefused(
            f"{len(chosen)} photos are too many for {len(slots)} pages.",
            f"Ask for {least} pages at least, or put some aside.",
        )
    starts = _chapter_starts(middle, slots) if wishes.chapters and wishes.order == "time" else []
    inner = slots[bool(first) : len(slots) - bool(last)]
    if wishes.cropping:
        usual = len(middle) / max(1, len(inner))
        most = min(MOST_ON_A_PAGE, max(3, math.ceil(1.7 * usual) + 1))
        composer = Composer(
            middle, _units(inner), rooms, wishes, Trees(gap_mm), ppi_least, most,
            progress,
        )  # fmt: skip
        composed = composer.pages(starts)
    else:
        composed = _Search(middle, inner, rooms, wishes, Trees(gap_mm), ppi_least, progress).pages(starts)
    composed = _title_chapters(composed, [middle[n] for n in starts], locale)
    pages = [
        *([_plan_single_photo(first)] if first else []),
        *composed,
        *([_plan_single_photo(last)] if last else []),
    ]
    return BookPlan(
        pages=tuple(_mark_days(pages, chosen) if wishes.dates else pages), cover=cover.id, aside=tuple(aside), gap_mm=gap_mm,
        margin_mm=margin_mm, cropping=wishes.cropping,
    )  # fmt: skip


def _chosen(ordered: list[Photo], wishes: Wishes) -> tuple[list[Photo], list[LaidAside]]:
    """Which photos are laid, in their order, and which are not."""
    chosen, aside = ordered, list[LaidAside]()
    if not wishes.spoilt:
        chosen, aside = set_spoilt_aside(chosen)
    if not wishes.likes:
        chosen, alike = set_likes_aside(chosen)
        aside += alike
    if wishes.photos:
        chosen, others = most_telling(chosen, wishes.photos)
        aside += others
    also = set(wishes.also)
    aside = [entry for entry in aside if entry.photo not in also]
    away = {entry.photo for entry in aside}
    return [photo for photo in ordered if photo.id not in away], aside


def _chapter_starts(photos: Sequence[Photo], slots: Sequence[Slot]) -> list[int]:
    """Where chapters begin: each has photos for two spreads or so."""
    return chapter_starts(photos, max(3, math.ceil(3 * len(photos) / max(1, len(slots)))))


def _title_chapters(pages: Sequence[PagePlan], firsts: Sequence[Photo], locale: str) -> list[PagePlan]:
    """Pages, those titled with whose first photo a chapter begins; over a picture that runs off the paper stands no title."""
    timed = [photo for photo in firsts if photo.taken]
    names = name_chapters([photo.taken for photo in timed if photo.taken], locale)
    title_of = {photo.id: name for photo, name in zip(timed, names, strict=True)}
    return [
        page.copy_with(chapter=title_of[page.photos[0]])
        if page.photos and page.photos[0] in title_of and page.shape not in RUN_OFF else page
        for page in pages
    ]  # fmt: skip


def _units(slots: Sequence[Slot]) -> list[int]:
    """How many pages each sheet has, in order. A right page whose left one is laid otherwise is a page alone."""
    units: list[int] = []
    index = 0
    while index < len(slots):
        pair = (
            slots[index].spread and slots[index].side == "left" and index + 1 < len(slots) and slots[index + 1].spread
        )
        units.append(2 if pair else 1)
        index += units[-1]
    return units


def _ratio(photo: Photo) -> float:
    return photo.width / photo.height


def _best_photo(photos: Sequence[Photo], room: tuple[float, float]) -> Photo:
    """The photo that says most, of a shape that suits a room."""
    shape = math.log(room[0] / room[1])
    return max(photos, key=lambda photo: photo_worth(photo) - abs(math.log(_ratio(photo)) - shape))


def _choose_ends(photos: list[Photo], slots: Sequence[Slot]) -> tuple[Photo | None, Photo | None, list[Photo]]:
    """The photo that opens a book, the one that closes it, and the others."""
    if len(slots) < 4 or len(photos) < _SOME:
        return None, None, photos
    few = max(2, min(12, len(photos) // 12))
    opening = max(photos[:few], key=photo_worth)
    closing = max(photos[-few:], key=photo_worth)
    return opening, closing, [photo for photo in photos if photo not in (opening, closing)]


def _plan_single_photo(photo: Photo) -> PagePlan:
    return PagePlan(photos=(photo.id,), shape="0")


def _mark_days(pages: Sequence[PagePlan], photos: Sequence[Photo]) -> list[PagePlan]:
    """Pages, those marked on which a day begins."""
    taken = {photo.id: photo.taken.date() for photo in photos if photo.taken}
    last_day, marks = None, []
    for page in pages:
        day = next((taken[photo] for photo in page.photos if photo in taken), None)
        new = day is not None and day != last_day and page.shape not in OF_ONE and not page.chapter
        marks.append(page.copy_with(dated=True) if new else page)
        last_day = day if new or page.chapter else last_day
    return marks


def has_pixels(photo: Photo, size: tuple[float, float], ppi_least: float) -> bool:
    """Whether a photo covers so many mm with so many ppi at least."""
    return min(photo.width / size[0], photo.height / size[1]) * MM_PER_INCH >= ppi_least


class _Search:
    """The cheapest way to share photos out to pages."""

    def __init__(
        self,
        photos: list[Photo],
        slots: Sequence[Slot],
        rooms: Rooms,
        wishes: Wishes,
        trees: Trees,
        ppi_least: float,
        progress: Progress,
    ) -> None:
        self.photos, self.slots, self.rooms, self.wishes, self.trees = photos, slots, rooms, wishes, trees
        self.progress = progress
        self.ratios: Ratios = tuple(round(_ratio(photo), 3) for photo in photos)
        self.worth = [photo_worth(photo) for photo in photos]
        self.ppi_least = ppi_least
        self.most_mm = [photo.width / ppi_least * MM_PER_INCH for photo in photos]  # as wide as each may print
        self.usual = len(photos) / max(1, len(slots))
        self.most = min(MOST_ON_A_PAGE, max(3, math.ceil(1.7 * self.usual) + 1))
        timed = photos if wishes.order == "time" else []
        self.breaks = np.array(breaks(timed)) if timed else np.zeros(len(photos))

    def pages(self, chapters: Sequence[int] = ()) -> list[PagePlan]:
        """A plan for each slot. ``chapters``: photos with which a spread begins, under a title: no picture runs off there."""
        n, count = len(self.photos), len(self.slots)
        begins = np.array([index in set(chapters) for index in range(n + 1)])
        self.titled = set(chapters)
        costs = self._costs()
        begun = np.cumsum(begins)
        for k in range(1, self.most + 1):
            costs[: n + 1 - k, k] += SPLIT * (begun[k - 1 : n] - begun[: n + 1 - k])
        across = np.array(
            [0.15 if self.rooms.bleeds.may(ACROSS, photo) else math.inf for photo in self.photos] or [math.inf]
        )
        starts = np.append(self.breaks, 0.0)
        cost = np.full((count + 1, n + 1), np.inf)
        cost[0, 0] = 0.0
        taken = np.zeros((count + 1, n + 1), np.intp)
        rng = np.random.default_rng(self.wishes.seed)
        for p, slot in enumerate(self.slots):
            noise = (
                0.25 * self.wishes.lively * rng.random(self.most + 1) if self.wishes.lively else np.zeros(self.most + 1)
            )
            if self.wishes.seed:
                noise = noise + 0.2 * rng.random(self.most + 1)
            # An event that begins here, at the left of what is open before the eye most of all.
            gain = (0.45 if slot.side == "left" or not slot.spread else 0.2) * starts
            for k in range(self.most + 1):
                if k > n:
                    break
                step = cost[p, : n + 1 - k] + noise[k] - gain[: n + 1 - k]
                step = step + (4.0 if k == 0 else costs[: n + 1 - k, k])
                if k and slot.spread and slot.side == "right":
                    step = step + SPLIT * begins[: n + 1 - k]
                better = step < cost[p + 1, k:]
                cost[p + 1, k:][better] = step[better]
                taken[p + 1, k:][better] = k
            if slot.spread and slot.side == "left" and p + 2 <= count and n:
                step = cost[p, :n] + across - gain[:n]
                better = step < cost[p + 2, 1:]
                cost[p + 2, 1:][better] = step[better]
                taken[p + 2, 1:][better] = -1
        pages: list[tuple[int, int, int]] = []
        p, i = count, n
        while p > 0:
            k = int(taken[p, i])
            if k < 0:
                pages += [(p - 1, i, 0), (p - 2, i - 1, -1)]
                p, i = p - 2, i - 1
            else:
                pages.append((p - 1, i - k, k))
                p, i = p - 1, i - k
        return self._choose_layouts(pages[::-1])

    def _costs(self) -> NDArray[np.float64]:
        """What pages cost by their first photo and the number of photos, shape (n + 1, most + 1)."""
        n, wishes = len(self.photos), self.wishes
        table = np.full((n + 1, self.most + 1), np.inf)
        strict = 0.9 * (1 - wishes.lively) + 0.1
        inside = np.concatenate([[0.0], np.cumsum(self.breaks)]) if n else np.zeros(1)
        for i in range(n):
            if i % 16 == 0:
                self.progress("laying out", i, n)
            for k in range(1, min(self.most, n - i) + 1):
                judged = self.trees.rank_trees(self.ratios[i : i + k], self.rooms.page, (), 2)
                if not judged:
                    continue
                best = min(option.cost + self._coarse_cost(i, option) for option in judged)
                off = (k - self.usual) / max(1.0, self.usual)
                cost = best + strict * off * off + 1.3 * (inside[i + k] - inside[i + 1])
                if k == 1:
                    cost += 0.5 * (1.3 - min(2.5, self.worth[i])) * (0.5 + wishes.lively)
                table[i, k] = cost
        return table

    def _coarse_cost(self, i: int, judged: Judged) -> float:
        """What photos from the i-th on cost that would print with too few pixels."""
        return sum(
            4.0 * min(1.0, width / most - 1.0)
            for width, most in zip(judged.widths, self.most_mm[i : i + len(judged.widths)], strict=True)
            if width > most
        )

    def _choose_layouts(self, pages: list[tuple[int, int, int]]) -> list[PagePlan]:
        """Each page's photos with their layout: the best one, or one nearly as good that the pages before do not have."""
        rng, page_plans, before = random.Random(self.wishes.seed), list[PagePlan](), list[str]()
        for _, i, k in pages:
            if k == -1:
                page_plans.append(PagePlan(photos=(self.photos[i].id,), shape=ACROSS))
            elif k == 0:
                page_plans.append(PagePlan())
            else:
                shape = self._shape(i, k, before, rng)
                before = [*before[-2:], shape]
                page_plans.append(PagePlan(photos=tuple(photo.id for photo in self.photos[i : i + k]), shape=shape))
        return page_plans

    def _shape(self, i: int, k: int, before: list[str], rng: random.Random) -> str:
        lively = self.wishes.lively
        if k == 1:
            full = (
                self.wishes.bleeds > 0
                and lively >= 0.3
                and self.worth[i] >= 1.3
                and self.rooms.bleeds.may(BLEED, self.photos[i])
                and i not in self.titled
            )
            return BLEED if full else "0"
        strength = 0.3 + 1.4 * lively
        worths = tuple(round(value**strength, 1) for value in self.worth[i : i + k])
        judged = self.trees.rank_trees(self.ratios[i : i + k], self.rooms.page, worths, 6)
        costs = {id(option): option.cost + self._coarse_cost(i, option) for option in judged}
        near = [option for option in judged if costs[id(option)] <= min(costs.values()) + 0.06 + 0.2 * lively]

        def repeat_cost(option: Judged) -> float:
            return costs[id(option)] + (0.15 if text(option.tree) in before else 0.0) + 0.15 * lively * rng.random()

        return text(min(near, key=repeat_cost).tree)
