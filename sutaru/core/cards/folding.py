"""How a sheet folds into a card: its panels on both sides, which of them are upside down on the flat sheet, and the folds.

The sheet is a strip of panels, seen from its inside. One panel lies still; the others fold over it, each fold half a turn
towards the inside (a valley) or away from it (a mountain). A half turn about an upright fold leaves up as it is, one about
a level fold turns it over: so which way up each face lies when the card is closed follows from counting the folds between
it and the panel that lies still. The outside is the sheet turned over about its folds' direction, so that the front is
upright on it. Faces that are seen only when the card is open are read with it open.

Fold kinds and the narrower panel that is folded in: common practice, no source.
"""

from collections.abc import Sequence
from itertools import pairwise
from typing import Literal

from ..document import Layout
from ..document.base import Frozen
from ..errors import EditRefused

Kind = Literal["half", "tent", "gate", "tri", "accordion"]
Side = Literal["outside", "inside"]
FOLDED_IN_MM = 1.5  # by so much a panel that is folded in between two others is narrower


class Hinge(Frozen):
    """A fold between a panel and the one that it hangs on, as the card is opened and closed. ``at_mm``: along the inside.
    ``valley``: it closes towards the inside. ``order``: of several, which closes first."""

    panel: int
    onto: int
    at_mm: float
    valley: bool
    order: int


class Panel(Frozen):
    """One face of a panel, on its own side's flat sheet, mm from the trim's top left. ``turned``: it lies upside down there.
    ``number``: which panel of the strip it is, counted on the inside from the left, or from the top."""

    name: str
    side: Side
    number: int
    left: float
    top: float
    width: float
    height: float
    turned: bool


class Folding(Frozen):
    """A sheet's folding: its size flat and closed, its panels' faces, its hinges. ``still``: the panel that lies still."""

    kind: Kind
    axis: Literal["x", "y"]
    width_mm: float
    height_mm: float
    closed_mm: tuple[float, float]
    still: int
    panels: tuple[Panel, ...]
    hinges: tuple[Hinge, ...]

    def side(self, side: Side) -> list[Panel]:
        """Panels of one side."""
        return [panel for panel in self.panels if panel.side == side]

    def folds_mm(self, side: Side) -> list[float]:
        """Where the folds lie on a side's flat sheet."""
        length = self.width_mm if self.axis == "x" else self.height_mm
        folds = sorted(hinge.at_mm for hinge in self.hinges)
        return folds if side == "inside" else sorted(round(length - place, 9) for place in folds)


# Panels' widths as shares of the closed card's; which lies still; hinges as (panel, onto, valley, order).
_STRIPS: dict[str, tuple[tuple[float, ...], int, tuple[tuple[int, int, bool, int], ...]]] = {
    "half": ((1, 1), 1, ((0, 1, True, 0),)),
    "tent": ((1, 1), 1, ((0, 1, True, 0),)),
    "gate": ((0.5, 1, 0.5), 1, ((0, 1, True, 0), (2, 1, True, 0))),
    "tri": ((1, 1, 1), 1, ((2, 1, True, 0), (0, 1, True, 1))),
    "accordion": ((1, 1, 1), 1, ((0, 1, True, 0), (2, 1, False, 1))),
}
KINDS: dict[str, str] = {
    "half": "Folded once, opens like a book", "tent": "Folded once at its top, stands or lifts up",
    "gate": "Two halves of the front open like a gate", "tri": "Folded twice, one panel inside the others",
    "accordion": "Folded to and fro",
}  # fmt: skip
_OUTSIDE = {
    "half": ("front", "back"), "tent": ("front", "back"), "gate": ("front, left half", "back", "front, right half"),
    "tri": ("front", "back", "flap"), "accordion": ("front", "outside, middle", "outside, end"),
}  # fmt: skip
_INSIDE = {
    "half": ("inside, left", "inside, right"), "tent": ("inside, top", "inside, bottom"),
    "gate": ("inside, left flap", "inside", "inside, right flap"), "tri": ("inside, left", "inside, middle", "inside, right"),
    "accordion": ("inside, left", "inside, middle", "back"),
}  # fmt: skip


def make_folding(kind: Kind, width_mm: float, height_mm: float) -> Folding:
    """The folding of a card that is so large when closed.

    >>> sheet = make_folding("half", 127, 177.8)
    >>> sheet.width_mm, sheet.folds_mm("outside"), [panel.name for panel in sheet.panels if panel.turned]
    (254.0, [127.0], [])
    >>> [panel.name for panel in make_folding("tent", 177.8, 127).panels if panel.turned]
    ['back']
    """
    shares, still, hinges = _STRIPS[kind]
    along = height_mm if kind == "tent" else width_mm
    sizes = [share * along for share in shares]
    if kind == "tri":
        sizes[2] -= FOLDED_IN_MM
    axis: Literal["x", "y"] = "y" if kind == "tent" else "x"
    starts = [round(sum(sizes[:n]), 9) for n in range(len(sizes) + 1)]
    total = starts[-1]
    wide, high = (total, height_mm) if axis == "x" else (width_mm, total)
    turns = _half_turns(len(sizes), still, hinges)
    panels = []
    for n in range(len(sizes)):
        for side, names in (("outside", _OUTSIDE[kind]), ("inside", _INSIDE[kind])):
            start = starts[n] if side == "inside" else round(total - starts[n + 1], 9)
            # Of a level fold each half turn turns up over; the outside, turned over about it, begins upside down.
            over = axis == "y" and side == "outside" and turns[n] % 2 == 0
            size = round(sizes[n], 9)
            left, top, w, h = (start, 0.0, size, high) if axis == "x" else (0.0, start, wide, size)
            panels.append(
                Panel.model_validate(
                    {"name": names[n], "side": side, "number": n, "left": left, "top": top, "width": w, "height": h,
                     "turned": over}
                )
            )  # fmt: skip
    hinges_made = tuple(
        Hinge(panel=p, onto=o, at_mm=starts[max(p, o)], valley=valley, order=order) for p, o, valley, order in hinges
    )
    return Folding(
        kind=kind, axis=axis, width_mm=round(wide, 9), height_mm=round(high, 9), closed_mm=(width_mm, height_mm), still=still,
        panels=tuple(panels), hinges=hinges_made,
    )  # fmt: skip


def _half_turns(count: int, still: int, hinges: Sequence[tuple[int, int, bool, int]]) -> list[int]:
    """How many folds lie between each panel and the one that lies still."""
    onto = {panel: other for panel, other, _, _ in hinges}
    turned = []
    for n in range(count):
        turns, panel_index = 0, n
        while panel_index != still:
            panel_index, turns = onto[panel_index], turns + 1
        turned.append(turns)
    return turned


def read_folding(layout: Layout, kind: Kind | None = None) -> Folding | None:
    """The folding of a sheet by its fold lines; None without any. ``kind`` says it where lines alone do not.

    Raises EditRefused for folds of another kind than these.
    """
    across = sorted({line.at_mm for line in layout.lines if line.kind == "fold" and line.axis == "x"})
    down = sorted({line.at_mm for line in layout.lines if line.kind == "fold" and line.axis == "y"})
    if not across and not down:
        return None
    if (across and down) or len(across) > 2 or len(down) > 1:
        raise EditRefused("This sheet folds in a way that is not known here.", "Fold it once, or twice one way.")
    if down:
        return make_folding("tent", layout.width_mm, max(down[0], layout.height_mm - down[0]))
    sizes = [b - a for a, b in pairwise([0.0, *across, layout.width_mm])]
    if len(sizes) == 2:
        return make_folding("half", max(sizes), layout.height_mm)
    if sizes[1] > 1.5 * max(sizes[0], sizes[2]):
        return make_folding("gate", sizes[1], layout.height_mm)
    return make_folding(kind if kind in ("tri", "accordion") else "tri", max(sizes), layout.height_mm)
