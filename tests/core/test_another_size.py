"""One layout in another size: margins, gaps, frames and type keep their real sizes."""

import itertools

import pytest

from sutaru.core.arranging import page_box
from sutaru.core.document import (
    Layout,
    Text,
)
from sutaru.core.errors import EditRefused
from tests.core.arranged import SHELF, edited, opening

# --- another size ---------------------------------------------------------------------------------------------------------


def _gaps(layout: Layout) -> set[float]:
    """All gaps between openings that lie side by side or one above the other, to a tenth of a millimetre."""
    boxes = [page_box(o) for o in layout.openings()]
    found = set()
    for axis, other in (("x", "y"), ("y", "x")):
        for a, b in itertools.permutations(boxes, 2):
            shared = min(a.span(other)[1], b.span(other)[1]) - max(a.span(other)[0], b.span(other)[0])
            way = b.span(axis)[0] - a.span(axis)[1]
            if shared > 1 and 0 < way < 8:
                found.add(round(way, 1))
    return found


@pytest.mark.parametrize(("width", "height"), [(508.0, 254.0), (406.4, 203.2), (609.6, 228.6)])
def test_an_album_spread_in_another_size_keeps_margins_gaps_and_ratios(width: float, height: float) -> None:
    layout = SHELF.templates["album-spread-18"].sheets[0].layout
    now = edited(layout, op="resize_sheet", width_mm=width, height_mm=height)
    assert (now.width_mm, now.height_mm) == (width, height)
    assert [line.at_mm for line in now.lines] == [width / 2]
    assert _gaps(now) == _gaps(layout) == {4.0}
    for before, after in zip(layout.openings(), now.openings(), strict=True):
        was, there = before.outline, after.outline
        assert there.width_mm / there.height_mm == pytest.approx(was.width_mm / was.height_mm, rel=0.1)
        box = page_box(after)
        assert box.right < width / 2 or box.left > width / 2  # nothing crosses the gutter that did not
    inner = min(page_box(o).left for o in layout.openings())
    assert min(page_box(o).left for o in now.openings()) >= inner - 1e-6


def test_a_full_page_opening_stays_one_and_type_keeps_its_size() -> None:
    layout = Layout(
        width_mm=200, height_mm=200,
        layers=(
            opening("ground", 100, 100, 206, 206), opening("inset", 60, 60),
            Text(id="words", text="Kites", centre=(100, 180), width_mm=120, height_mm=12, size_pt=14),
        ),
    )  # fmt: skip
    now = edited(layout, op="resize_sheet", width_mm=300, height_mm=150, how="fill")
    box = page_box(now.openings_by_id["ground"])
    assert (box.left, box.top, box.right, box.bottom) == (-3, -3, 303, 153)
    assert now.texts_by_id["words"].size_pt == 14
    kept = edited(layout, op="resize_sheet", width_mm=300, height_mm=150, how="ratios").openings_by_id["inset"].outline
    assert kept.width_mm / kept.height_mm == pytest.approx(40 / 30, rel=0.02)


@pytest.mark.parametrize("template", sorted(SHELF.templates))
@pytest.mark.parametrize("factors", [(0.8, 0.8), (1.3, 1.0), (1.0, 1.0)])
def test_every_template_of_the_shelf_has_other_sizes(template: str, factors: tuple[float, float]) -> None:
    for sheet in SHELF.templates[template].sheets:
        layout = sheet.layout
        width, height = layout.width_mm * factors[0], layout.height_mm * factors[1]
        now = edited(layout, op="resize_sheet", width_mm=width, height_mm=height)
        assert now.ids() == layout.ids()
        for before, after in zip(layout.openings(), now.openings(), strict=True):
            box = page_box(after)
            assert box.right > 0
            assert box.left < width
            if factors == (1.0, 1.0):
                assert box.left == pytest.approx(page_box(before).left, abs=1e-6)
                assert box.bottom == pytest.approx(page_box(before).bottom, abs=1e-6)


def test_a_size_without_room_for_its_gaps_is_refused() -> None:
    layout = SHELF.templates["album-spread-18"].sheets[0].layout
    with pytest.raises(EditRefused, match="too small"):
        edited(layout, op="resize_sheet", width_mm=60, height_mm=30)
