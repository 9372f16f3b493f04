"""One layout in another size: margins, gaps, frames and type keep their real sizes."""

import itertools

import pytest

from sutaru.core.arranging.aligning import page_box
from sutaru.core.document import GuideNote, Layout, Path, Text
from sutaru.core.document.layout import Guide
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


def _margins(layout: Layout) -> list[float]:
    """From the sheet's edges to its outermost openings: left, top, right, bottom, mm."""
    boxes = [page_box(o) for o in layout.openings()]
    near = [min(getattr(box, side) for box in boxes) for side in ("left", "top")]
    far = [max(getattr(box, side) for box in boxes) for side in ("right", "bottom")]
    return [*near, layout.width_mm - far[0], layout.height_mm - far[1]]


@pytest.mark.parametrize(("width", "height"), [(508.0, 254.0), (406.4, 203.2), (609.6, 228.6)])
def test_an_album_spread_fills_another_size_and_keeps_margins_and_gaps(width: float, height: float) -> None:
    layout = SHELF.templates["album-spread-18"].sheets[0].layout
    now = edited(layout, op="resize_sheet", width_mm=width, height_mm=height)
    assert (now.width_mm, now.height_mm) == (width, height)
    assert [line.at_mm for line in now.lines] == [width / 2]
    assert _gaps(now) == _gaps(layout) == {4.0}
    for after in now.openings():
        box = page_box(after)
        assert box.right < width / 2 or box.left > width / 2  # nothing crosses the gutter that did not
    assert _margins(now) == pytest.approx(_margins(layout))


def test_hearts_and_circles_keep_their_shape_in_another_size() -> None:
    heart = Path(d="M0 8C-9 0-9-8-4-8C-1-8 0-6 0-4C0-6 1-8 4-8C9-8 9 0 0 8Z")
    shaped = [opening("one", 60, 100).copy_with(outline=heart), opening("two", 140, 100, 40, 40)]
    now = edited(
        Layout(width_mm=200, height_mm=200, layers=tuple(shaped)), op="resize_sheet", width_mm=300, height_mm=150
    )
    was, there = (page_box(o) for o in (shaped[0], now.openings_by_id["one"]))
    assert (there.right - there.left) / (there.bottom - there.top) == pytest.approx(
        (was.right - was.left) / (was.bottom - was.top), rel=1e-3
    )


def test_guides_and_notes_go_along_with_the_edges_beside_them() -> None:
    layers = (
        opening("left", 50, 100, 60, 160), opening("right", 150, 100, 60, 160),
        GuideNote(id="note", text="Bride on the left", centre=(100, 20), width_mm=30, height_mm=8),
    )  # fmt: skip
    guides = tuple(
        Guide(axis=axis, at_mm=at) for axis, at in (("x", 20), ("x", 100), ("x", 180), ("y", 20), ("y", 200))
    )
    now = edited(
        Layout(width_mm=200, height_mm=200, guides=guides, layers=layers),
        op="resize_sheet",
        width_mm=320,
        height_mm=240,
    )
    assert [guide.at_mm for guide in now.guides] == [20, 160, 300, 20, 240]
    note = next(layer for layer in now.layers if layer.id == "note")
    assert isinstance(note, GuideNote)
    assert note.centre == (160, 20)
    assert (note.width_mm, note.height_mm) == (30, 8)


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
