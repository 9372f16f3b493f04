"""Print sheets: pieces laid as many as can be on a sheet of paper, cut by whole cuts; backs in register; booklets in signatures.

Sheet millimetres: origin at the sheet's top left, x right, y down, each side of the sheet as it is printed, by itself. A piece's
own millimetres: origin at the top left of its trim. Rules of the trade without a source: bleeds do not overlap, so that between
two pieces lies at least twice the bleed; pieces lie in one block, or in two of which the second is turned.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..errors import ExportFailed
from ..geometry.matrices import Matrix, rotation, scaling, translation

Edge = Literal["long", "short"]
Grain = Literal["any", "along", "across"]  # how the grain may run: along the piece's height, across it
PAGES_A_SHEET = 4  # of a booklet: two on each side
_BESIDE_MM = 0.1  # as much of two edges must lie side by side for their pieces to be neighbours


@dataclass(frozen=True)
class Paper:
    """A sheet to print on, mm. ``margin_mm``: where nothing prints. ``grain``: along which of its sides the fibres run."""

    width_mm: float
    height_mm: float
    margin_mm: float = 5.0
    grain: Literal["width", "height"] | None = None


@dataclass(frozen=True)
class Slot:
    """A place for a piece: its trim on the sheet, mm, and whether the piece lies a quarter turn to the left in it."""

    left: float
    top: float
    width: float
    height: float
    turned: bool

    def sheet_from_piece(self) -> Matrix:
        """Piece mm to sheet mm."""
        if not self.turned:
            return translation(self.left, self.top)
        # A quarter turn counter-clockwise, as seen: the piece's top comes to the left.
        return translation(self.left, self.top + self.height) @ rotation(90)


@dataclass(frozen=True)
class Placed:
    """A page on a side of a print sheet: its number among the pages given, and piece mm to sheet mm."""

    page: int
    sheet_from_piece: Matrix
    slot: Slot


@dataclass(frozen=True)
class Side:
    """One side of a print sheet: what is printed on it; which sheet, counted from 1; whether it is the back. ``fold_mm``: where
    it is folded from top to bottom, from its left; no page prints beyond that."""

    sheet: int
    back: bool
    placed: tuple[Placed, ...]
    fold_mm: float | None = None


def slots(paper: Paper, width_mm: float, height_mm: float, gap_mm: float, grain: Grain = "any") -> list[Slot]:
    """As many places for a piece as a sheet has, in its middle. Raises ExportFailed when there is room for none.

    >>> [(slot.left, slot.top) for slot in slots(Paper(320, 230), 148, 105, 6)]
    [(9.0, 7.0), (163.0, 7.0), (9.0, 118.0), (163.0, 118.0)]
    """
    wide, high = paper.width_mm - 2 * paper.margin_mm, paper.height_mm - 2 * paper.margin_mm
    ways = [way for way in (False, True) if _is_allowed(paper, grain, way)]
    best: list[Slot] = []
    for first in ways:
        for blocks in _blocks(wide, high, width_mm, height_mm, gap_mm, first, [w for w in ways if w != first]):
            if len(blocks) > len(best):
                best = blocks
    if not best:
        raise ExportFailed(
            f"A sheet of {paper.width_mm:g} x {paper.height_mm:g} mm has no room for a piece of {width_mm:g} x {height_mm:g} mm.",
            "Choose a larger sheet, or smaller margins.",
        )
    right, bottom = max(s.left + s.width for s in best), max(s.top + s.height for s in best)
    dx, dy = (paper.width_mm - right) / 2, (paper.height_mm - bottom) / 2
    return [Slot(round(s.left + dx, 6), round(s.top + dy, 6), s.width, s.height, s.turned) for s in best]


def _is_allowed(paper: Paper, grain: Grain, turned: bool) -> bool:
    if grain == "any" or paper.grain is None:
        return True
    along_height = (paper.grain == "height") != turned
    return along_height == (grain == "along")


def _blocks(
    wide: float, high: float, width: float, height: float, gap: float, turned: bool, others: list[bool]
) -> list[list[Slot]]:  # fmt: skip
    """Ways to fill a room, from its top left: one block; or one block of some columns or rows, and beside or below it another in
    which pieces lie the other way."""
    w, h = (height, width) if turned else (width, height)
    columns, rows = _fit(wide, w, gap), _fit(high, h, gap)
    blocks = [_block(0, 0, columns, rows, w, h, gap, turned)]
    for other in others:
        ow, oh = h, w  # the piece the other way
        for n in range(columns + 1):  # some columns here, the rest of the width the other way
            x = n * (w + gap)
            rest = _block(x, 0, _fit(wide - x, ow, gap), _fit(high, oh, gap), ow, oh, gap, other)
            blocks.append(_block(0, 0, n, rows, w, h, gap, turned) + rest)
        for n in range(rows + 1):
            y = n * (h + gap)
            rest = _block(0, y, _fit(wide, ow, gap), _fit(high - y, oh, gap), ow, oh, gap, other)
            blocks.append(_block(0, 0, columns, n, w, h, gap, turned) + rest)
    return blocks


def _fit(room: float, size: float, gap: float) -> int:
    return max(0, math.floor((room + gap + 1e-9) / (size + gap)))


def _block(x: float, y: float, columns: int, rows: int, w: float, h: float, gap: float, turned: bool) -> list[Slot]:
    return [Slot(x + c * (w + gap), y + r * (h + gap), w, h, turned) for r in range(rows) for c in range(columns)]


def turn_over(matrix: Matrix, paper: Paper, width_mm: float, edge: Edge) -> Matrix:
    """Where the back of a piece lies on the back of its sheet, which is turned over about its ``edge``: piece mm to sheet mm.

    The piece is read like a leaf of a book: turned over about its height, its back stands as upright as its front.
    """
    level = (edge == "long") == (paper.width_mm >= paper.height_mm)  # the sheet is turned about a level line
    over = (
        translation(0, paper.height_mm) @ scaling(1, -1) if level else translation(paper.width_mm, 0) @ scaling(-1, 1)
    )
    return over @ matrix @ translation(width_mm, 0) @ scaling(-1, 1)


def impose_pieces(
    paper: Paper, size_mm: tuple[float, float], pieces: Sequence[tuple[int, int | None]], gap_mm: float,
    duplex: Edge | None = None, grain: Grain = "any",
) -> list[Side]:  # fmt: skip
    """Pieces, each a page for its front and, with ``duplex``, one for its back, on as few sheets as they need. A sheet's back
    follows its front. Raises ExportFailed when there is no room."""
    places = slots(paper, *size_mm, gap_mm, grain)
    sides: list[Side] = []
    for start in range(0, len(pieces), len(places)):
        number = start // len(places) + 1
        laid = list(zip(pieces[start : start + len(places)], places, strict=False))
        sides.append(Side(number, False, tuple(Placed(front, s.sheet_from_piece(), s) for (front, _), s in laid)))
        if duplex:
            backs = [
                Placed(back, turn_over(s.sheet_from_piece(), paper, size_mm[0], duplex), s)
                for (_, back), s in laid if back is not None
            ]  # fmt: skip
            sides.append(Side(number, True, tuple(backs)))
    return sides


def booklet(
    paper: Paper, size_mm: tuple[float, float], pages: int, edge: Edge, signature: int = 0, creep_mm: float = 0.0
) -> list[Side]:
    """A booklet stapled through its fold: pages two by two, so that folded and laid in one another they read on.

    ``signature``: sheets that are folded together, 0 for all. ``creep_mm``: by how much each sheet that lies further in is moved
    towards the fold, so that after the cut its outer margin is as wide. Empty pages fill up to a multiple of four.
    Raises ExportFailed when there is no room.

    >>> [[placed.page for placed in side.placed] for side in booklet(Paper(320, 225), (148, 210), 8, "short")]
    [[7, 0], [1, 6], [5, 2], [3, 4]]
    """
    width, height = size_mm
    left, top = (paper.width_mm - 2 * width) / 2, (paper.height_mm - height) / 2
    if left < paper.margin_mm - 1e-9 or top < paper.margin_mm - 1e-9:
        raise ExportFailed(
            f"A sheet of {paper.width_mm:g} x {paper.height_mm:g} mm has no room for two pages of {width:g} x {height:g} mm.",
            "Choose a larger sheet.",
        )
    total = -(-pages // PAGES_A_SHEET) * PAGES_A_SHEET
    each = (signature or total // PAGES_A_SHEET) * PAGES_A_SHEET
    sides: list[Side] = []
    for start in range(0, total, each):
        count = min(each, total - start)
        for k in range(count // PAGES_A_SHEET):
            shift = k * creep_mm
            spots = Slot(left + shift, top, width, height, False), Slot(left + width - shift, top, width, height, False)
            number = len(sides) // 2 + 1
            outer = start + count - 1 - 2 * k, start + 2 * k
            inner = start + 2 * k + 1, start + count - 2 - 2 * k
            fold = paper.width_mm / 2
            sides.append(Side(number, False, _pair(outer, spots, pages), fold))
            sides.append(Side(number, True, _place_behind(_pair(inner, spots, pages), paper, edge), fold))
    return sides


def _pair(numbers: tuple[int, int], spots: tuple[Slot, Slot], pages: int) -> tuple[Placed, ...]:
    return tuple(
        Placed(page, slot.sheet_from_piece(), slot) for page, slot in zip(numbers, spots, strict=True) if page < pages
    )


def _place_behind(placed: tuple[Placed, ...], paper: Paper, edge: Edge) -> tuple[Placed, ...]:
    """What is printed behind: as it stands where the sheet is turned over about an upright line; else upside down."""
    if (edge == "long") != (paper.width_mm >= paper.height_mm):
        return placed
    half = translation(paper.width_mm, paper.height_mm) @ scaling(-1, -1)
    return tuple(Placed(p.page, half @ p.sheet_from_piece, p.slot) for p in placed)


def trims(side: Side, size_mm: tuple[float, float]) -> list[tuple[float, float, float, float]]:
    """The trims of all that lies on a side: left, top, right, bottom, sheet mm."""
    corners = np.array([[0, 0, 1], [size_mm[0], size_mm[1], 1]]).T
    boxes = []
    for placed in side.placed:
        (x0, x1), (y0, y1) = (placed.sheet_from_piece @ corners)[:2]
        boxes.append((round(min(x0, x1), 6), round(min(y0, y1), 6), round(max(x0, x1), 6), round(max(y0, y1), 6)))
    return boxes


def rooms(side: Side, size_mm: tuple[float, float], bleed_mm: float) -> list[tuple[float, float, float, float]]:
    """Where each piece of a side may print: left, top, right, bottom, sheet mm. As far as it bleeds, but no further than half way
    to a neighbour, nor over a fold."""
    boxes = trims(side, size_mm)
    boxes_free = []
    for n, (left, top, right, bottom) in enumerate(boxes):
        room = [left - bleed_mm, top - bleed_mm, right + bleed_mm, bottom + bleed_mm]
        if side.fold_mm is not None:  # beside it lies one page at most, across the fold
            room[2 if left + right < 2 * side.fold_mm else 0] = side.fold_mm
            boxes_free.append((room[0], room[1], room[2], room[3]))
            continue
        for other in (*boxes[:n], *boxes[n + 1 :]):
            if min(bottom, other[3]) - max(top, other[1]) > _BESIDE_MM:
                if other[0] > left:
                    room[2] = min(room[2], (right + other[0]) / 2)
                else:
                    room[0] = max(room[0], (left + other[2]) / 2)
            elif min(right, other[2]) - max(left, other[0]) > _BESIDE_MM:
                if other[1] > top:
                    room[3] = min(room[3], (bottom + other[1]) / 2)
                else:
                    room[1] = max(room[1], (top + other[3]) / 2)
        boxes_free.append((room[0], room[1], room[2], room[3]))
    return boxes_free
