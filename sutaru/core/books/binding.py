"""How books are bound: which numbers of pages, how wide a spine is, how its cover is laid out, and that it follows.

A spine is as wide as the leaves are thick, and what the cover adds: ``pages / 2 x leaf + boards`` (common practice, no
source). Words on it run down, so that they read when the book lies with its front up (ISO 6357:1985, 4.2, from memory);
up in languages whose trade has it so (common practice, no source).
"""

from typing import Any

from ..arranging import Motion, carried, page_box
from ..arranging.moving import exact
from ..document import Binding, Book, Flat, Group, Job, Layer, Layout, Line, Sheet, Text
from ..document.shapes import Rectangle
from ..errors import EditRefused

_UP = ("de", "fr", "it", "es", "pt", "pl", "cs", "ca")  # languages whose spines are read from below
SPINE_AIR_MM = 1.0  # that words on a spine keep from either edge of it


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


def wanted_pages(binding: Binding, pages: int) -> int:
    """The next number of pages that can be bound: least, most and multiple kept.

    >>> wanted_pages(Binding(id="b", name="B", kind="soft", least=20, most=80, multiple=4), 25)
    28
    """
    up = -(-max(pages, binding.least) // binding.multiple) * binding.multiple
    return up if up <= binding.most else binding.most // binding.multiple * binding.multiple


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
    lines = [Line(kind="spine", axis="x", at_mm=exact(at)) for at in (left, right)]
    if binding.hinge_mm:
        lines += [
            Line(kind="hinge", axis="x", at_mm=exact(at)) for at in (left - binding.hinge_mm, right + binding.hinge_mm)
        ]
    return Layout(
        width_mm=exact(2 * left + spine), height_mm=size.height_mm, bleed_mm=max(binding.turn_in_mm, size.bleed_mm),
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


def bound(job: Job) -> Job:
    """The job with its covers' spines as wide as its pages are thick now."""
    if job.book is None:
        return job
    spine = spine_mm(job.book, pages_of(job))

    def fitted(sheet: Sheet) -> Sheet:
        now = spine_of(sheet.layout) if sheet.role == "cover" else None
        if now is None or abs((now[1] - now[0]) - spine) < 1e-6:
            return sheet
        return sheet.having(layout=with_spine(sheet.layout, spine))

    sheets = tuple(map(fitted, job.sheets))
    return job if all(a is b for a, b in zip(sheets, job.sheets, strict=True)) else job.having(sheets=sheets)


def with_spine(layout: Layout, spine: float) -> Layout:
    """A cover with a spine of another width: what lies on the back stays, what lies on the front goes along with it, words on
    the spine get its width, and what reaches over both is widened."""
    found = spine_of(layout)
    if found is None:
        return layout
    left, right = found
    more = spine - (right - left)

    def moved(x: float) -> float:
        if x <= left + 1e-6:
            return x
        return x + more if x >= right - 1e-6 else left + (x - left) * (spine / (right - left))

    def laid(layer: Layer) -> Layer:
        if isinstance(layer, Group):
            return layer.having(layers=tuple(map(laid, layer.layers)))
        return _along(layer, (left, right), more, moved)

    return layout.having(
        width_mm=exact(layout.width_mm + more),
        lines=tuple(line.having(at_mm=exact(moved(line.at_mm))) if line.axis == "x" else line for line in layout.lines),
        guides=tuple(
            guide.having(at_mm=exact(moved(guide.at_mm))) if guide.axis == "x" else guide for guide in layout.guides
        ),
        layers=tuple(map(laid, layout.layers)),
    )


def _along(layer: Any, spine: tuple[float, float], more: float, moved: Any) -> Any:
    """One layer of a cover whose spine grows by so much."""
    if layer.kind in ("background", "echo"):
        return layer
    box = page_box(layer)
    x = (box.left + box.right) / 2
    wider = box.left < spine[0] - 1.0 and box.right > spine[1] + 1.0
    by = more / 2 if wider else moved(x) - x
    if isinstance(layer, Text) and spine[0] - 1 <= x <= spine[1] + 1 and abs(abs(layer.turn_deg) - 90) < 1e-6:
        layer = layer.having(height_mm=max(1.0, exact(layer.height_mm + more)))
        by = (spine[0] + spine[1] + more) / 2 - x
    elif wider and hasattr(layer, "width_mm") and layer.turn_deg % 180 == 0:
        layer = layer.having(width_mm=exact(layer.width_mm + more))
    elif (
        wider
        and isinstance(getattr(layer, "surface", None), Flat)
        and isinstance(layer.outline, Rectangle)
        and layer.surface.turn_deg % 180 == 0
    ):
        layer = layer.having(outline=layer.outline.having(width_mm=exact(layer.outline.width_mm + more)))
    return carried(layer, Motion((0.0, 0.0), (by, 0.0))) if abs(by) > 1e-9 else layer
