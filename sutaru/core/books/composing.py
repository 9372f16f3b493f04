"""Spreads composed as one: both pages' photos hang from common lines, by cropping each a little.

A block is the part of a page's room that its photos fill to the edges (``trees.closing``). Both pages of a spread have blocks
of one height. Which photos come on which spread, and how high their blocks are, is found by dynamic programming over all ways
to share them out: a spread costs what its pages' best trees cost, how far the number of its photos is from the usual one,
pauses between events within it, and photos that are nearly alike; that dense and quiet spreads alternate is worth something,
and so is one photo on each that is clearly the largest.
"""

import math
import random
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from statistics import median

import numpy as np
from numpy.typing import NDArray

from ..document import Photo
from ..measure import MM_PER_INCH
from ..photos.likeness import hash_distance
from .bleeds import Bleeds
from .photo_choice import LIKE, breaks, photo_worth
from .plan import ACROSS, BLEED, EDGE, OF_ONE, RUN_OFF, SPREAD, WIDE, Block, PagePlan, Wishes
from .trees import Judged, Trees, text

HEIGHTS, WIDTHS = (1.0, 0.72, 0.5), (1.0, 0.7, 0.52)
HERO = 2.6  # times as large as the others the photo that says most is to be
_MANY, _LARGE, _EACH = 6, 400, 12  # photos of a page, and of a book, from which on not every run is worked out
_FEW = 6  # photos of a page whose block may be lower than its room
_ROUND = 0.02  # of a photo's sides that stay about what must be kept
_UNLIKE = 8  # pages back in which a design is not to be found again
# Costs: of two photos of one scene on a spread, a design found again, an empty page,
_ALIKE, _SAME_AGAIN, _EMPTY = 1.5, 0.3, 4.0
# white room, photos that cannot be cropped to common lines, a photo that counts little on a page of its own,
_AIR, _UNCLOSED, _ALONE = 0.35, 0.6, 0.5
# an event that ends within a spread, what of it is forgiven where it ends between the pages, and a photo that says most
# and is not the largest, or not twice as large as most.
_TORN, _EASED, _LESSER = 2.4, 1.6, 0.35
SPLIT = 40.0  # a chapter that begins within a spread: only where there are too few pages
# What a picture that runs off costs by how it lies, before its photo and the wish count; and a spread of the kind again.
_WHOLE = {BLEED: 0.1, EDGE: 0.2, WIDE: 0.0, SPREAD: -0.1, ACROSS: 0.0}
_BOLD, _AGAIN_BOLD = 0.35, 0.7
_MOST_IN_COLUMN = 4
Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Rooms:
    """What there is for photos: the room of a page, of a first page with its title, mm; and pictures that run off."""

    page: tuple[float, float]
    title: tuple[float, float]
    bleeds: Bleeds


@dataclass(frozen=True)
class _Way:
    """How a spread takes its photos: how many on its left page, how high its blocks are; and whether its first photo (on the
    left) or its last one (on the right) has a shape of its own."""

    left: int
    height: int
    shape: str = ""
    side: str = ""


class Composer:
    """Shares photos out to spreads and pages, and composes each."""

    def __init__(
        self, photos: Sequence[Photo], units: Sequence[int], rooms: Rooms, wishes: Wishes, trees: Trees, ppi_least: float,
        most: int, progress: Callable[[str, int, int], None],
    ) -> None:  # fmt: skip
        """``units``: pages of each sheet in order, 2 for a spread."""
        self.photos, self.units, self.rooms, self.wishes, self.trees = photos, units, rooms, wishes, trees
        self.most, self.progress = most, progress
        self.ratios = tuple(round(photo.width / photo.height, 3) for photo in photos)
        self.widest = [photo.width / ppi_least * MM_PER_INCH for photo in photos]
        self.worth = [photo_worth(photo) for photo in photos]
        self.factors = [_factors(photo, wishes.cropping) for photo in photos]
        self.usual = len(photos) / max(1, sum(units))
        self.air = _AIR * (1.2 - wishes.white)

    def pages(self, chapters: Sequence[int] = ()) -> list[PagePlan]:
        """A plan for each page. ``chapters``: photos with which a spread begins, under a title: no picture runs off there."""
        n, timed = len(self.photos), self.photos if self.wishes.order == "time" else ()
        starts = np.array(breaks(timed)) if timed else np.zeros(n)
        self.starts: NDArray[np.float64] = np.concatenate([starts, [0.0]])
        self.inside = np.concatenate([[0.0], np.cumsum(starts)])
        self.begun = np.cumsum([n in set(chapters) for n in range(n + 1)])
        self.alike = _alike_before(self.photos, 2 * self.most)
        self._pages = self._page_costs()
        self._may = {
            (shape, side): [self.rooms.bleeds.may(shape, photo, side) for photo in self.photos]
            for shape in OF_ONE for side in ("left", "right")
        }  # fmt: skip
        for chapter in chapters:
            for shape in RUN_OFF:
                self._may[shape, "left"][chapter] = False
        singles, spreads = self._single_costs(), self._spread_costs()
        return self._compose_pages(self._share_out(singles, spreads))

    def _limits(self, i: int, k: int) -> tuple[float, float]:
        low, high = zip(*self.factors[i : i + k], strict=True)
        return max(low), min(high)

    def block_options(
        self, i: int, k: int, height: int, hero: bool, count: int
    ) -> list[tuple[float, Judged, Block | None]]:
        """The best ways to fill a block of a height with photos from the i-th on, the best first. Where what must stay visible
        lets none be filled, as faces from edge to edge do, the photos lie uncropped in all of the room."""
        options: list[tuple[float, Judged, Block | None]] = []
        ratios, run = self.ratios[i : i + k], self.worth[i : i + k]
        best = max(range(k), key=run.__getitem__)
        wished = tuple(HERO if hero and n == best and k > 2 else 1.0 for n in range(k))
        limits = self._limits(i, k)
        for share in WIDTHS if k < 4 else WIDTHS[:1]:
            block = Block(width=share, height=HEIGHTS[height])
            size = round(self.rooms.page[0] * share, 3), round(self.rooms.page[1] * block.height, 3)
            for judged in self.trees.rank_closed(ratios, size, limits, wished, count):
                few = 0.7 if k == 1 else 1.0
                cost = judged.cost + few * self.air * (1 - share * block.height) + self.coarse_cost(i, judged)
                if k == 1:  # a page of its own is for what says most
                    cost += _ALONE * self.wishes.lively * (1.2 - min(2.2, self.worth[i])) * block.width * block.height
                areas = [width * width / ratio for width, ratio in zip(judged.widths, ratios, strict=True)]
                if hero and k > 2:
                    cost += _LESSER * ((max(areas) > areas[best]) + (areas[best] < 2 * median(areas)))
                options.append((cost, judged, block))
        if not options and height == 0:
            for judged in self.trees.rank_trees(ratios, self.rooms.page, (), count):
                options.append((judged.cost + _UNCLOSED + self.coarse_cost(i, judged), judged, None))
        return sorted(options, key=lambda entry: entry[0])[:count]

    def coarse_cost(self, i: int, judged: Judged) -> float:
        """What photos from the i-th on cost that would print with too few pixels."""
        widest = (wide * (1 - judged.crop) for wide in self.widest[i : i + len(judged.widths)])
        return sum(
            4.0 * min(1.0, width / most - 1.0)
            for width, most in zip(judged.widths, widest, strict=True)
            if width > most
        )

    def _page_costs(self) -> Floats:
        """What pages cost by their blocks' height, whether one photo is the largest, their first photo and how many they have:
        (heights, 2, n + 1, most + 1).

        So many photos can be composed in so many ways that one run of them costs as much as its neighbour: of a large book only
        every so-many-th is worked out. The pages that are chosen all are."""
        n, few = len(self.photos), _FEW if self.usual <= _FEW else 3
        table = np.full((len(HEIGHTS), 2, n + 1, self.most + 1), np.inf)
        for i in range(n):
            if i % 16 == 0:
                self.progress("laying out", i, n)
            for k in range(1, min(self.most, n - i) + 1):
                if k >= _MANY and n > _LARGE and i % _EACH and np.isfinite(table[0, 0, i - 1, k]):
                    table[0, :, i, k] = table[0, :, i - 1, k]
                    continue
                for height in range(len(HEIGHTS) if k <= few else 1):  # many photos take all the height there is
                    for hero in (False, True) if k > 2 else (False,):
                        options = self.block_options(i, k, height, hero, 1)
                        if options:
                            table[height, int(hero), i, k] = options[0][0]
                    if k <= 2:
                        table[height, 1, i, k] = table[height, 0, i, k]
        table[:, :, :, 0] = _EMPTY
        return table

    def _wanted_cost(self, i: int, total: int, usual: float) -> float:
        """What so many photos from the i-th on cost together, wherever they lie."""
        strict = 2.4 * (1 - self.wishes.lively) ** 3 + 0.05
        off = (total - usual) / max(1.0, usual)
        torn = _TORN * (self.inside[i + total] - self.inside[i + 1]) if total else 0.0
        alike = _ALIKE * sum(float(self.alike[i + m, 1 : m + 1].sum()) for m in range(1, total))
        split = SPLIT * float(self.begun[i + total - 1] - self.begun[i]) if total else 0.0
        return float(strict * off * off + torn + alike + split)

    def _single_costs(self) -> tuple[Floats, NDArray[np.object_]]:
        """What a page alone costs by its first photo and how many it has, and how."""
        n = len(self.photos)
        costs, ways = np.full((n + 1, self.most + 1), np.inf), np.empty((n + 1, self.most + 1), object)
        for i in range(n + 1):
            for k in range(min(self.most, n - i) + 1):
                best = int(np.argmin(self._pages[:, 1, i, k]))
                costs[i, k] = self._pages[best, 1, i, k] + self._wanted_cost(i, k, self.usual)
                ways[i, k] = _Way(k, best)
        return costs, ways

    def _spread_costs(self) -> tuple[Floats, NDArray[np.object_]]:
        """What a spread costs by whether a picture runs off it, its first photo and how many it has, and how it takes them best:
        (2, n + 1, most + 1)."""
        n, most = len(self.photos), 2 * self.most
        costs, ways = np.full((2, n + 1, most + 1), np.inf), np.empty((2, n + 1, most + 1), object)
        for i in range(n + 1):
            for total in range(min(most, n - i) + 1):
                wanted = self._wanted_cost(i, total, 2 * self.usual)
                for bold, options in enumerate(([self._within_margins(i, total)], self._list_bleeds(i, total))):
                    if options:
                        cost, way = min(options, key=lambda entry: entry[0])
                        costs[bold, i, total], ways[bold, i, total] = cost + wanted, way
        return costs, ways

    def _within_margins(self, i: int, total: int) -> tuple[float, _Way]:
        """The best way for two pages that hang from common lines."""
        best: tuple[float, _Way] = (math.inf, _Way(0, 0))
        run = self.worth[i : i + total]
        for left in range(max(0, total - self.most), min(self.most, total) + 1):
            middle = i + left
            in_left = bool(run) and run.index(max(run)) < left
            both = self._pages[:, int(in_left), i, left] + self._pages[:, int(not in_left), middle, total - left]
            height = int(np.argmin(both))
            # An event may begin on the right page; less well than on the next spread.
            eased = _EASED * self.starts[middle] if 0 < left < total else 0.0
            best = min(best, (float(both[height]) - eased, _Way(left, height)), key=lambda entry: entry[0])
        return best

    def _list_bleeds(self, i: int, total: int) -> list[tuple[float, _Way]]:
        """Ways in which one photo runs off its page, or over both."""
        ways: list[tuple[float, _Way]] = []
        bleeds = self.rooms.bleeds
        if total == 1:
            for shape in (SPREAD, ACROSS) if self.wishes.bleeds else (ACROSS,):
                if self._may[shape, "left"][i]:
                    ways.append((_WHOLE[shape] + self.bold_cost(i), _Way(1, 0, shape, "left")))
        if not 2 <= total <= self.most + 1 or not self.wishes.bleeds:
            return ways
        last = i + total - 1
        for photo_index, rest, side in ((i, i + 1, "left"), (last, i, "right")):
            left = 1 if side == "left" else total - 1
            for shape in (BLEED, EDGE):
                if self._may[shape, side][photo_index]:
                    beside = self._pages[:, 0, rest, total - 1]
                    height = int(np.argmin(beside))
                    cost = float(beside[height]) + _WHOLE[shape] + self.bold_cost(photo_index)
                    ways.append((cost, _Way(left, height, shape, side)))
            if self._may[WIDE, side][photo_index] and total - 1 <= _MOST_IN_COLUMN:
                column = bleeds.column(self.ratios[photo_index], (0.0, 0.0, *self.rooms.page))
                for height in range(len(HEIGHTS)):
                    options = self.column_options(rest, total - 1, column.copy_with(height=HEIGHTS[height]), 1)
                    if options:
                        cost = options[0][0] + _WHOLE[WIDE] + self.bold_cost(photo_index)
                        ways.append((cost, _Way(left, height, WIDE, side)))
        return ways

    def bold_cost(self, i: int) -> float:
        """What it costs that a photo is much larger than any other: less the more it says."""
        return float(_BOLD - 1.1 * self.wishes.bleeds - 0.5 * min(1.5, self.worth[i] - 1.0))

    def column_options(self, i: int, k: int, block: Block, count: int) -> list[tuple[float, Judged, Block]]:
        """The best ways to fill a column beside a wide picture with photos from the i-th on."""
        size = round(self.rooms.page[0] * block.width, 3), round(self.rooms.page[1] * block.height, 3)
        judged = self.trees.rank_closed(self.ratios[i : i + k], size, self._limits(i, k), (), count)
        return [
            (judged.cost + 0.5 * self.air * (1 - block.height) + self.coarse_cost(i, judged), judged, block)
            for judged in judged
        ]

    def _share_out(
        self, singles: tuple[Floats, NDArray[np.object_]], spreads: tuple[Floats, NDArray[np.object_]]
    ) -> list[tuple[int, int, _Way]]:  # fmt: skip
        """The cheapest way to take all photos: for each unit its first photo, how many, and how.

        What the unit before was counts: whether it was dense, and whether a picture ran off it."""
        n, quiet = len(self.photos), max(2, math.floor(1.4 * self.usual))
        rng = np.random.default_rng(self.wishes.seed)
        lively = self.wishes.lively
        cost = np.full((len(self.units) + 1, 4, n + 1), np.inf)  # by dense + 2 * bold of the unit before
        taken = np.zeros((len(self.units) + 1, 4, n + 1, 2), np.intp)
        cost[0, 0, 0] = 0.0
        for u, pages in enumerate(self.units):
            tables = spreads[0] if pages == 2 else singles[0][None]
            noise = (0.15 * lively + 0.2 * bool(self.wishes.seed)) * rng.random((tables.shape[2],))
            for bold, costs in enumerate(tables):
                for total in range(min(costs.shape[1] - 1, n) + 1):
                    gain = 0.45 * self.starts[: n + 1 - total]
                    now = int(total > quiet) + 2 * bold
                    for before in range(4):
                        step = cost[u, before, : n + 1 - total] + costs[: n + 1 - total, total] + noise[total] - gain
                        if pages == 2:
                            step = step + (0.3 * lively if before % 2 == now % 2 else 0.0)
                            step = step + (_AGAIN_BOLD if bold and before >= 2 else 0.0)
                        better = step < cost[u + 1, now, total:]
                        cost[u + 1, now, total:][better] = step[better]
                        taken[u + 1, now, total:][better] = total, before
        bleeds: list[tuple[int, int, _Way]] = []
        i, now = n, int(np.argmin(cost[len(self.units), :, n]))
        for u in range(len(self.units), 0, -1):
            total, before = (int(v) for v in taken[u, now, i])
            way = spreads[1][now // 2, i - total, total] if self.units[u - 1] == 2 else singles[1][i - total, total]
            bleeds.append((i - total, total, way))
            i, now = i - total, before
        return bleeds[::-1]

    def _compose_pages(self, taken: Sequence[tuple[int, int, _Way]]) -> list[PagePlan]:
        rng, before, page_plans = random.Random(self.wishes.seed), list[str](), list[PagePlan]()
        for pages, (i, total, way) in zip(self.units, taken, strict=True):
            if way.shape in (ACROSS, SPREAD):
                page_plans += [PagePlan(photos=(self.photos[i].id,), shape=way.shape), PagePlan()]
                continue
            run = self.worth[i : i + total]
            in_left = bool(run) and run.index(max(run)) < way.left
            parts = [("left", i, way.left, in_left)]
            if pages == 2:
                parts.append(("right", i + way.left, total - way.left, not in_left))
            for side, first, k, hero in parts:
                if way.side == side:
                    page_plans.append(PagePlan(photos=(self.photos[first].id,), shape=way.shape))
                elif k == 0:
                    page_plans.append(PagePlan())
                elif way.shape == WIDE:
                    wide = self.ratios[i if way.side == "left" else i + total - 1]
                    column = self.rooms.bleeds.column(wide, (0.0, 0.0, *self.rooms.page))
                    beside = self.column_options(first, k, column.copy_with(height=HEIGHTS[way.height]), 6)
                    page_plans.append(self._pick(beside, first, k, before, rng))
                else:
                    options = self.block_options(first, k, way.height, hero and way.shape not in OF_ONE, 6)
                    page_plans.append(self._pick(options, first, k, before, rng))
        return page_plans

    def _pick(
        self, options: Sequence[tuple[float, Judged, Block | None]], i: int, k: int, before: list[str], rng: random.Random
    ) -> PagePlan:  # fmt: skip
        """One page: the best way, or one nearly as good that the pages before do not have."""
        near = [option for option in options if option[0] <= options[0][0] + 0.25 + 0.2 * self.wishes.lively]

        def repeat_cost(option: tuple[float, Judged, Block | None]) -> float:
            cost, judged, block = option
            same = _design(judged, block) in before[-_UNLIKE:]
            return cost + (_SAME_AGAIN if same else 0.0) + 0.1 * self.wishes.lively * rng.random()

        _, judged, block = min(near, key=repeat_cost)
        before.append(_design(judged, block))
        return PagePlan(
            photos=tuple(photo.id for photo in self.photos[i : i + k]), shape=text(judged.tree), block=block
        )


def _design(judged: Judged, block: Block | None) -> str:
    return f"{text(judged.tree)} {block}"


def _factors(photo: Photo, cropping: float) -> tuple[float, float]:
    """By how much a photo's ratio may be multiplied: no more of it is cut than wished, and nothing that must stay visible."""
    low = high = 1 - cropping
    for area in photo.keep_areas:
        # In the middle, so that it stays wherever the cut is made on both sides alike.
        low = max(low, min(1.0, area.width + 2 * _ROUND))
        high = max(high, min(1.0, area.height + 2 * _ROUND))
    if len(photo.keep_areas) > 1:
        left, top = min(a.left for a in photo.keep_areas), min(a.top for a in photo.keep_areas)
        right, bottom = max(a.left + a.width for a in photo.keep_areas), max(a.top + a.height for a in photo.keep_areas)
        low, high = max(low, min(1.0, right - left + 2 * _ROUND)), max(high, min(1.0, bottom - top + 2 * _ROUND))
    return low, 1 / high


def _alike_before(photos: Sequence[Photo], most: int) -> NDArray[np.bool_]:
    """Whether each photo is nearly one of those before it, by how many places before: (n + 1, most)."""
    alike = np.zeros((len(photos) + 1, most + 1), bool)
    likes = [photo.found.likeness if photo.found else "" for photo in photos]
    for n, like in enumerate(likes):
        for back in range(1, min(n, most) + 1):
            alike[n, back] = bool(like) and hash_distance(like, likes[n - back]) <= LIKE
    return alike
