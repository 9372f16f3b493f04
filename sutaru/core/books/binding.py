"""How books are bound: which numbers of pages, how wide a spine is, how its cover is laid out, and that it follows.

A spine is as wide as the leaves are thick, and what the cover adds: ``pages / 2 x leaf + boards`` (common practice, no
source). Words on it run down, so that they read when the book lies with its front up (ISO 6357:1985, 4.2, from memory);
up in languages whose trade has it so (common practice, no source).
"""

from typing import Any

import numpy as np

from ..arranging.aligning import page_box
from ..arranging.moving import Motion, carry_layer, round_exactly
from ..document import Binding, Book, Flat, Group, Job, Layer, Layout, Line, Sheet, Text
from ..document.shapes import Rectangle
from ..errors import EditRefused

_UP = ("de", "fr", "it", "es", "pt", "pl", "cs", "ca")  # languages whose spines are read from below


def spine_mm(book: Book, pages: int) -> float:
    """How wide the spine of so many pages is, to a tenth.

    >>> from ..document import BookSize, Paper
    >>> book = Book(size=BookSize(id="s", name="S", width_mm=200, height_mm=200), paper=Paper(id="p", name="P", leaf_mm=0.2),
    ...             binding=Binding(id="b", name="B", kind="hard", boards_mm=5))
    >>> spine_mm(book, 40)
    9.0
    """
    return round(pages / 2 * book.paper.leaf_mm + book.binding.boards_mm, 1)


def pages_of(job: Job) -> int:
    """How many pages a job's sheets have, without its cover."""
    return sum(count for _, count in job.page_numbers.values())


def roles_of(binding: Binding, pages: int) -> list[str]:
    """The sheets of so many pages: a bound book begins and ends with a page alone, a lay-flat one has spreads only.

    Raises EditRefused for an odd number.
    """
    if pages % 2:
        raise EditRefused("A book has an even number of pages: a leaf has two.", "Take one page more, or one less.")
    if binding.kind == "lay_flat":
        return ["spread"] * (pages // 2)
    return ["page", *["spread"] * (pages // 2 - 1), "page"]


def inner_layout(book: Book, role: str) -> Layout:
    """An empty page or spread of a book."""
    size = book.size
    spread = role == "spread"
    return Layout(
        width_mm=size.width_mm * (2 if spread else 1), height_mm=size.height_mm, bleed_mm=size.bleed_mm,
        safe_mm=size.safe_mm, lines=(Line(kind="gutter", axis="x", at_mm=size.width_mm),) if spread else (), layers=(),
    )  # fmt: skip


def cover_layout(book: Book, pages: int) -> Layout:
    """An empty cover: back, spine and front in one, seen from outside; the turn-in is its bleed."""
    spine, binding, size = spine_mm(book, pages), book.binding, book.size
    left = size.width_mm + binding.hinge_mm
    right = left + spine
    lines = [Line(kind="spine", axis="x", at_mm=round_exactly(place)) for place in (left, right)]
    if binding.hinge_mm:
        lines += [
            Line(kind="hinge", axis="x", at_mm=round_exactly(place))
            for place in (left - binding.hinge_mm, right + binding.hinge_mm)
        ]
    return Layout(
        width_mm=round_exactly(2 * left + spine), height_mm=size.height_mm, bleed_mm=max(binding.turn_in_mm, size.bleed_mm),
        safe_mm=size.safe_mm, lines=tuple(lines), layers=(),
    )  # fmt: skip


def spine_of(layout: Layout) -> tuple[float, float] | None:
    """Where a cover's spine begins and ends, mm from the left; None where there is none."""
    edges = sorted(line.at_mm for line in layout.lines if line.kind == "spine" and line.axis == "x")
    return (edges[0], edges[-1]) if len(edges) >= 2 else None


def spine_turn_deg(locale: str) -> float:
    """How words on a spine are turned: down at -90, up at 90.

    >>> spine_turn_deg("en_GB"), spine_turn_deg("de_DE")
    (-90.0, 90.0)
    """
    return 90.0 if locale.split("_")[0] in _UP else -90.0


def fit_covers(job: Job) -> Job:
    """The job with its covers as its binding and the thickness of its pages ask for now."""
    if job.book is None:
        return job
    wanted = cover_layout(job.book, pages_of(job))

    def fit_cover(sheet: Sheet) -> Sheet:
        if sheet.role != "cover" or spine_of(sheet.layout) is None:
            return sheet
        layout = fit_cover_to(sheet.layout, wanted)
        return sheet if layout is sheet.layout else sheet.copy_with(layout=layout)

    sheets = tuple(map(fit_cover, job.sheets))
    return job if all(a is b for a, b in zip(sheets, job.sheets, strict=True)) else job.copy_with(sheets=sheets)


def _hinge(layout: Layout, spine: tuple[float, float]) -> float:
    lines = [line.at_mm for line in layout.lines if line.kind == "hinge" and line.axis == "x"]
    return max(0.0, spine[0] - min(lines)) if lines else 0.0


def fit_cover_to(layout: Layout, wanted: Layout) -> Layout:
    """A cover with spine, hinges and turn-in as another, empty one has them: what lies on the back stays, what lies on the front
    goes along with it, words on the spine get its width, and what reaches over both is widened."""
    old, new = spine_of(layout), spine_of(wanted)
    if old is None or new is None:
        return layout
    was, now = _hinge(layout, old), _hinge(wanted, new)
    more = (new[1] - new[0] + 2 * now) - (old[1] - old[0] + 2 * was)
    others = tuple(line for line in layout.lines if line.axis != "x" or line.kind not in ("spine", "hinge"))
    lines = (*wanted.lines, *others)
    if abs(more) < 1e-6 and lines == layout.lines and layout.bleed_mm == wanted.bleed_mm:
        return layout
    stops = [old[0] - was, old[0], old[1], old[1] + was], [new[0] - now, new[0], new[1], new[1] + now]

    def move_across(x: float) -> float:
        """Between its stops a place keeps its share of the way; outside of them it goes along."""
        if x <= stops[0][0]:
            return x
        if x >= stops[0][3]:
            return x + more
        return float(np.interp(x, *stops))

    def move_layer(layer: Layer) -> Layer:
        if isinstance(layer, Group):
            return layer.copy_with(layers=tuple(map(move_layer, layer.layers)))
        return _widen_layer(layer, old, more, (new[1] - new[0]) - (old[1] - old[0]), move_across)

    return layout.copy_with(
        width_mm=round_exactly(layout.width_mm + more),
        bleed_mm=wanted.bleed_mm,
        lines=lines,
        guides=tuple(
            guide.copy_with(at_mm=round_exactly(move_across(guide.at_mm))) if guide.axis == "x" else guide
            for guide in layout.guides
        ),
        layers=tuple(map(move_layer, layout.layers)),
    )


def _widen_layer(layer: Any, spine: tuple[float, float], more: float, wider_spine: float, moved: Any) -> Any:
    """One layer of a cover that grows by ``more`` between its sides, its spine by ``wider_spine`` of that."""
    if layer.kind in ("background", "echo"):
        return layer
    box = page_box(layer)
    x = (box.left + box.right) / 2
    across = box.left < spine[0] - 1.0 and box.right > spine[1] + 1.0
    by = more / 2 if across else moved(x) - x
    if isinstance(layer, Text) and spine[0] - 1 <= x <= spine[1] + 1 and abs(abs(layer.turn_deg) - 90) < 1e-6:
        layer = layer.copy_with(height_mm=max(1.0, round_exactly(layer.height_mm + wider_spine)))
        by = more / 2
    elif across and hasattr(layer, "width_mm") and layer.turn_deg % 180 == 0:
        layer = layer.copy_with(width_mm=round_exactly(layer.width_mm + more))
    elif (
        across
        and isinstance(getattr(layer, "surface", None), Flat)
        and isinstance(layer.outline, Rectangle)
        and layer.surface.turn_deg % 180 == 0
    ):
        layer = layer.copy_with(outline=layer.outline.copy_with(width_mm=round_exactly(layer.outline.width_mm + more)))
    return carry_layer(layer, Motion((0.0, 0.0), (by, 0.0))) if abs(by) > 1e-9 else layer
