"""Layouts that crop nothing: trees of rows and columns whose leaves keep their photos' own ratios.

After C. B. Atkins, "Blocked Recursive Image Composition", ACM Multimedia 2008: that all gaps are kept and no photo is
cropped makes the sizes of a tree's photos a linear system. It is solved here from the leaves up: the width of every part
of a tree is ``a h + b`` for its height h, with a and b known. Photos keep their order: left to right, then down.

>>> [text(one.tree) for one in Trees(gap=3.0).rank_trees((1.5, 1.5), (200.0, 280.0))]
['c(0,1)']

A tree is a leaf (the number of a photo) or ("r" or "c", first, second): side by side, or one under another.
"""

import math
import re
from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

Tree = int | tuple[str, "Tree", "Tree"]
Rect = tuple[float, float, float, float]  # left, top, width, height, mm
Size = tuple[float, float]  # width and height of a page's room, mm
Ratios = tuple[float, ...]
_KEPT, _KEPT_OF_MANY = 28, 14  # trees that are kept of each run of photos, of as many shapes as can be; of long runs
_MANY = 7  # photos of a long run
_JUDGED, _JUDGED_OF_MANY = 12, 8  # of a page, whose photos' sizes are worked out
_CLOSED, _TRIED, _FAR = (
    12,
    4,
    0.35,
)  # trees that are tried to close a room, when it is chosen and when costs are told, of those
# whose width is so near (its logarithm)
_LEAST_SIDE = 38.0  # mm: a smaller photo is hard to look at (common practice, no source)


def text(tree: Tree) -> str:
    """A tree as it is stored.

    >>> text(("r", 0, ("c", 1, 2)))
    'r(0,c(1,2))'
    """
    return str(tree) if isinstance(tree, int) else f"{tree[0]}({text(tree[1])},{text(tree[2])})"


_TOKEN = re.compile(r"\d+|[rc(),]")


@lru_cache(4096)
def parse_tree(written: str) -> Tree:
    """The tree of its text. Raises ValueError when it is none, or its leaves are not numbered 0, 1, 2 ...

    >>> parse_tree("c(r(0,1),2)")
    ('c', ('r', 0, 1), 2)
    """
    tokens = _TOKEN.findall(written)
    at = 0

    def take(wanted: str = "") -> str:
        nonlocal at
        if at >= len(tokens) or (wanted and tokens[at] != wanted):
            raise ValueError(f"This is no tree of rows and columns: {written[:60]}.")
        at += 1
        return str(tokens[at - 1])

    def tree(depth: int = 0) -> Tree:
        if depth > 60:
            raise ValueError("A tree of rows and columns is at most 60 deep.")
        token = take()
        if token.isdecimal():
            return int(token)
        if token not in "rc":
            raise ValueError(f"This is no tree of rows and columns: {written[:60]}.")
        take("(")
        before = tree(depth + 1)
        take(",")
        after = tree(depth + 1)
        take(")")
        return token, before, after

    whole = tree()
    if at != len(tokens) or "".join(tokens) != written or list_leaves(whole) != list(range(len(list_leaves(whole)))):
        raise ValueError(f"This is no tree of rows and columns: {written[:60]}.")
    return whole


def list_leaves(tree: Tree) -> list[int]:
    """Its photos in order."""
    return [tree] if isinstance(tree, int) else list_leaves(tree[1]) + list_leaves(tree[2])


def _lines(tree: Tree, ratios: Sequence[float], gap: float) -> tuple[float, float, Any, Any]:
    """A part's width as a line over its height (a, b), and the same of what it is made of."""
    if isinstance(tree, int):
        return ratios[tree], 0.0, tree, None
    first, other = _lines(tree[1], ratios, gap), _lines(tree[2], ratios, gap)
    if tree[0] == "r":
        return first[0] + other[0], first[1] + other[1] + gap, first, other
    s = 1 / first[0] + 1 / other[0]
    return 1 / s, (first[1] / first[0] + other[1] / other[0] - gap) / s, first, other


def boxes(tree: Tree, ratios: Sequence[float], gap: float, room: Rect) -> list[Rect]:
    """Where its photos lie, as large as the room allows, in the middle of it. ``ratios``: width / height of each photo.

    Raises ValueError when the gaps leave no room.
    """
    left, top, width, height = room
    lines = _lines(tree, ratios, gap)
    high = min(height, (width - lines[1]) / lines[0])
    wide = lines[0] * high + lines[1]
    rects: list[Rect] = []
    _lay(tree, lines, gap, (left + (width - wide) / 2, top + (height - high) / 2, wide, high), rects)
    return rects


def closing_factor(tree: Tree, ratios: Sequence[float], gap: float, width: float, height: float) -> float:
    """What all ratios are multiplied by so that a tree fills a rectangle exactly, its gaps kept; 0 where the gaps leave no room.

    Each photo then loses the same share of itself: 1 - min(k, 1 / k) for the factor k.

    >>> round(closing_factor(("r", 0, 1), (1.5, 1.5), 0.0, 300.0, 90.0), 4)
    1.1111
    """
    k = 1.0
    for _ in range(40):
        a, b, _one, _other = _lines(tree, [k * ratio for ratio in ratios], gap)
        wide = a * height + b
        if wide <= 0:
            return 0.0
        if abs(wide - width) < 1e-6 * width:
            return k
        k *= width / wide
    return 0.0


def boxes_closed(
    tree: Tree, ratios: Sequence[float], gap: float, room: Rect, factor: float | None = None
) -> list[Rect]:
    """Where its photos lie when they fill a room exactly, each cropped by the same share; ``factor``: of ``closing``, where it is
    known. Raises ValueError when the gaps leave no room."""
    k = closing_factor(tree, ratios, gap, room[2], room[3]) if factor is None else factor
    if k <= 0:
        raise ValueError("The gaps leave no room for the photos: make them narrower.")
    rects: list[Rect] = []
    _lay(tree, _lines(tree, [k * ratio for ratio in ratios], gap), gap, room, rects)
    return rects


def limit_width(rects: Sequence[Rect], room: Rect, most: Sequence[float]) -> list[Rect]:
    """Boxes in a room, none wider than ``most`` of it: all become smaller together, their gaps too, about its middle."""
    share = min(1.0, *(wide / box[2] for wide, box in zip(most, rects, strict=True)))
    x, y = room[0] + room[2] / 2, room[1] + room[3] / 2
    return [(x + (a - x) * share, y + (b - y) * share, w * share, h * share) for a, b, w, h in rects]


def boxes_within(tree: Tree, ratios: Sequence[float], gap: float, room: Rect, most: Sequence[float]) -> list[Rect]:
    """The same, none wider than ``most`` of it: all become smaller together, their gaps too, in the middle of the room."""
    return limit_width(boxes(tree, ratios, gap, room), room, most)


def _lay(part: Tree, lines: tuple[float, float, Any, Any], gap: float, room: Rect, rects: list[Rect]) -> None:
    x, y, w, h = room
    if w <= 0 or h <= 0:
        raise ValueError("The gaps leave no room for the photos: make them narrower.")
    if isinstance(part, int):
        rects.append(room)
        return
    _, _, first, other = lines
    if part[0] == "r":
        w1 = first[0] * h + first[1]
        _lay(part[1], first, gap, (x, y, w1, h), rects)
        _lay(part[2], other, gap, (x + w1 + gap, y, w - w1 - gap, h), rects)
    else:
        h1 = (w - first[1]) / first[0]
        _lay(part[1], first, gap, (x, y, w, h1), rects)
        _lay(part[2], other, gap, (x, y + h1 + gap, w, h - h1 - gap), rects)


@dataclass(frozen=True)
class Judged:
    """A tree for a page, and what it costs: little room wasted, photos as large as they are worth, none too small. ``widths``:
    how wide each photo is on the page, mm. ``crop``: the share that each photo loses."""

    tree: Tree
    cost: float
    widths: tuple[float, ...] = ()
    crop: float = 0.0


@dataclass(frozen=True)
class _Run:
    """Trees of a run of photos: their lines, and what each is made of, as arrays."""

    a: NDArray[np.float64]
    b: NDArray[np.float64]
    way: NDArray[np.intp]  # 0 side by side, 1 one under another, -1 a single photo
    cut: NDArray[np.intp]  # photos in the first part
    first: NDArray[np.intp]  # which tree of those kept of the first part
    second: NDArray[np.intp]

    @cached_property
    def free_trees(self) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
        """Trees that may come first in a row, and in a column: a row in a row would be the same one cut elsewhere."""
        return np.flatnonzero(self.way != 0), np.flatnonzero(self.way != 1)


class _All:
    """All trees of a run that can be made of those kept of its parts: their lines; what each is made of is told when asked."""

    def __init__(self, parts: Sequence[tuple[_Run, _Run]], gap: float) -> None:
        lines, sizes = [], []
        for first, other in parts:
            for way in (0, 1):
                free = first.free_trees[way]
                a1, b1 = first.a[free][:, None], first.b[free][:, None]
                if way == 0:
                    a, b = a1 + other.a, b1 + other.b + gap
                else:
                    a = a1 * other.a / (a1 + other.a)
                    b = (b1 / a1 + other.b / other.a - gap) * a
                lines.append((a.ravel(), b.ravel()))
                sizes.append(a.size)
        self.a, self.b = (np.concatenate(column) for column in zip(*lines, strict=True))
        self._parts, self._starts = parts, np.concatenate([[0], np.cumsum(sizes)])

    def select_trees(self, which: NDArray[np.intp]) -> _Run:
        """A few of them, with what they are made of."""
        block = np.searchsorted(self._starts, which, "right") - 1
        within = which - self._starts[block]
        first, second = np.empty_like(within), np.empty_like(within)
        for n in np.unique(block).tolist():
            here, (left, other) = block == n, self._parts[n // 2]
            first[here], second[here] = (
                left.free_trees[n % 2][within[here] // len(other.a)],
                within[here] % len(other.a),
            )
        return _Run(self.a[which], self.b[which], block % 2, block // 2 + 1, first, second)


class Trees:
    """Finds trees for runs of photos, with one gap. What was worked out of a run serves all that it is part of."""

    def __init__(self, gap: float) -> None:
        self.gap = gap
        self._kept: dict[Ratios, _Run] = {}
        self._best: dict[tuple[object, ...], list[Judged]] = {}
        self._filling: dict[tuple[Ratios, Size, int], list[tuple[Tree, float, list[Rect]]]] = {}

    def _trees_of(self, ratios: Ratios) -> _All:
        return _All([(self._run(ratios[:cut]), self._run(ratios[cut:])) for cut in range(1, len(ratios))], self.gap)

    def _run(self, ratios: Ratios) -> _Run:
        """As many trees of a run as are kept, of shapes as different as can be."""
        kept_run = self._kept.get(ratios)
        if kept_run is None:
            if len(ratios) == 1:
                none = np.zeros(1, np.intp)
                kept_run = _Run(np.array(ratios), np.zeros(1), none - 1, none, none, none)
            else:
                every = self._trees_of(ratios)
                order = np.argsort(every.a, kind="stable")
                most = _KEPT if len(ratios) < _MANY else _KEPT_OF_MANY
                if len(order) > most:
                    order = order[np.linspace(0, len(order) - 1, most).round().astype(np.intp)]
                kept_run = every.select_trees(order)
            self._kept[ratios] = kept_run
        return kept_run

    def _tree(self, ratios: Ratios, run: _Run, n: int, start: int = 0) -> Tree:
        if run.way[n] < 0:
            return start
        cut = int(run.cut[n])
        first, other = ratios[:cut], ratios[cut:]
        return (
            "rc"[run.way[n]],
            self._tree(first, self._run(first), int(run.first[n]), start),
            self._tree(other, self._run(other), int(run.second[n]), start + cut),
        )

    def rank_trees(self, ratios: Ratios, size: Size, worth: Ratios = (), count: int = 1) -> list[Judged]:
        """The best trees for the photos of a page's room, the best first.

        ``ratios``: width / height of each photo. ``worth``: how large each should be beside the others, as a share of area.
        """
        key = (ratios, size, worth, count)
        if key not in self._best:
            self._best[key] = self._judge_trees(ratios, size, worth or (1.0,) * len(ratios), count)
        return self._best[key]

    def rank_closed(
        self, ratios: Ratios, size: Size, factors: tuple[float, float], worth: Ratios = (), count: int = 1
    ) -> list[Judged]:  # fmt: skip
        """The best trees that fill a room exactly, the best first. ``factors``: how far their ratios may be multiplied for it."""
        key = (ratios, size, factors, worth, count)
        if key not in self._best:
            self._best[key] = self._judge_closed(ratios, size, factors, worth or (1.0,) * len(ratios), count)
        return self._best[key]

    def _judge_closed(
        self, ratios: Ratios, size: Size, factors: tuple[float, float], worth: Ratios, count: int
    ) -> list[Judged]:  # fmt: skip
        wished = [math.log(value) for value in worth]
        judged = []
        for tree, k, laid in self._closings(ratios, size, _CLOSED if count > 1 else _TRIED):
            if factors[0] <= k <= factors[1]:
                crop = 1 - min(k, 1 / k)
                judged.append(Judged(tree, cost_of(laid, wished, size) + crop, tuple(w for _, _, w, _ in laid), crop))
        return sorted(judged, key=lambda value: value.cost)[:count]

    def _closings(self, ratios: Ratios, size: Size, tried: int) -> list[tuple[Tree, float, list[Rect]]]:
        """Trees that can fill a room exactly, of so many whose width is nearest; the factor that each takes for it, and where its
        photos lie then."""
        closings = self._filling.get((ratios, size, tried))
        if closings is None:
            closings = self._filling[ratios, size, tried] = []
            width, height = size
            every = self._trees_of(ratios) if len(ratios) > 1 else self._run(ratios)
            wide = every.a * height + every.b
            near = np.where(wide > 0, np.abs(np.log(np.maximum(wide, 1e-9) / width)), np.inf)
            best = np.argsort(near, kind="stable")[:tried]
            best = best[near[best] < _FAR]
            run = every.select_trees(best) if isinstance(every, _All) else every
            for n in range(len(best)):
                tree = self._tree(ratios, run, n)
                k = closing_factor(tree, ratios, self.gap, width, height)
                if k > 0:
                    with suppress(ValueError):
                        closings.append((tree, k, boxes_closed(tree, ratios, self.gap, (0.0, 0.0, width, height), k)))
        return closings

    def _judge_trees(self, ratios: Ratios, size: Size, worth: Ratios, count: int) -> list[Judged]:
        width, height = size
        every = self._trees_of(ratios) if len(ratios) > 1 else self._run(ratios)
        high = np.minimum(height, (width - every.b) / every.a)
        wide = every.a * high + every.b
        used = np.where((high > 0) & (wide > 0), wide * high, -1.0)
        wished = [math.log(value) for value in worth]
        judged = []
        most = max(_JUDGED if len(ratios) < _MANY else _JUDGED_OF_MANY, 2 * count)
        best = np.argsort(-used, kind="stable")[:most]
        run = every.select_trees(best) if isinstance(every, _All) else every
        for n in range(len(best)):
            tree = self._tree(ratios, run, n)
            try:
                laid = boxes(tree, ratios, self.gap, (0.0, 0.0, width, height))
            except ValueError:
                continue
            judged.append(Judged(tree, cost_of(laid, wished, size), tuple(w for _, _, w, _ in laid)))
        return sorted(judged, key=lambda value: value.cost)[:count]


def cost_of(laid: Sequence[Rect], wished: Sequence[float], size: Size) -> float:
    """What photos laid on a page of a size cost. ``wished``: logarithms of what each is worth."""
    areas = [w * h for _, _, w, h in laid]
    off = [math.log(area) - wish for area, wish in zip(areas, wished, strict=True)]
    mean = sum(off) / len(off)
    uneven = math.sqrt(sum((value - mean) ** 2 for value in off) / len(off))
    small = max(0.0, 1 - min(min(w, h) for _, _, w, h in laid) / _LEAST_SIDE)
    return (1 - sum(areas) / (size[0] * size[1])) + 0.35 * uneven + 2.0 * small
