"""Sheets turned and mirrored, layers moved: what is turned back lies where it lay; photos, words and light stay right."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial import cKDTree

from sutaru.core.arranging.aligning import page_box
from sutaru.core.arranging.moving import Motion, carry_layer
from sutaru.core.arranging.sheet_rotation import rotate_sheet
from sutaru.core.document import (
    Corners,
    Echo,
    Ellipse,
    FillBox,
    Flat,
    Grid,
    Layer,
    Layout,
    Mask,
    Opening,
    Placement,
    Roll,
    Text,
)
from sutaru.core.edits.apply import apply, label
from sutaru.core.edits.kinds import BringIn, Put
from sutaru.core.errors import EditRefused
from sutaru.core.fitting import resolve_sheet
from tests.conftest import fake_photo
from tests.core.arranged import EDIT, L_SHAPE, NET, SHELF, dense, edited, everything, opening

TURNS = ("left", "right", "half", "left_right", "top_bottom")


@pytest.fixture
def sheet() -> Layout:
    return everything()


# --- turning whole sheets -------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("how", TURNS)
def test_turned_back_a_sheet_is_what_it_was_byte_for_byte(sheet: Layout, how: str) -> None:
    canonical = edited(sheet, op="turn_sheet", how="half")  # a drawn path is rewritten once
    now = canonical
    times = {"left": 4, "right": 4, "half": 2, "left_right": 2, "top_bottom": 2}[how]
    for _ in range(times):
        now = edited(now, op="turn_sheet", how=how)
    assert now.pack() == canonical.pack()


@pytest.mark.parametrize("template", sorted(SHELF.templates))
def test_every_template_of_the_shelf_turns_and_comes_back(template: str) -> None:
    for sheet in SHELF.templates[template].sheets:
        if any(isinstance(leaf, Echo) and leaf.floor.line for leaf in sheet.layout.leaves):
            continue
        first = rotate_sheet(sheet.layout, "half")
        again = rotate_sheet(rotate_sheet(rotate_sheet(rotate_sheet(first, "left"), "left"), "left"), "left")
        assert again.pack() == first.pack()
        assert rotate_sheet(rotate_sheet(first, "left_right"), "left_right").pack() == first.pack()


@pytest.mark.parametrize(("how", "matrix"), [
    ("left", [[0, 1, 0], [-1, 0, 304.8], [0, 0, 1]]), ("right", [[0, -1, 203.2], [1, 0, 0], [0, 0, 1]]),
    ("half", [[-1, 0, 304.8], [0, -1, 203.2], [0, 0, 1]]), ("left_right", [[-1, 0, 304.8], [0, 1, 0], [0, 0, 1]]),
    ("top_bottom", [[1, 0, 0], [0, -1, 203.2], [0, 0, 1]]),
])  # fmt: skip
def test_every_shape_lies_where_the_turn_takes_it(sheet: Layout, how: str, matrix: list) -> None:
    now = rotate_sheet(sheet, how)  # type: ignore[arg-type]
    assert (now.width_mm, now.height_mm) == ((203.2, 304.8) if how in ("left", "right") else (304.8, 203.2))
    for before in sheet.leaves:
        if not isinstance(before, Opening | FillBox):
            continue
        after = now.find(before.id)
        assert isinstance(after, Opening | FillBox)
        was, there = dense(before), dense(after)
        goal = was @ np.array(matrix)[:2, :2].T + np.array(matrix)[:2, 2]
        # The same set of edge points: each lies on the other's, whatever its order.
        away = cKDTree(there).query(goal)[0]
        assert away.max() < 0.6, before.id


@pytest.mark.parametrize("how", TURNS)
def test_photos_stay_upright_words_can_be_read_and_the_light_stays(sheet: Layout, how: str) -> None:
    now = rotate_sheet(sheet, how)  # type: ignore[arg-type]
    assert now.light == sheet.light
    for leaf in now.leaves:
        if isinstance(leaf, Text):
            assert -90 < leaf.turn_deg <= 90
        if isinstance(leaf, Opening) and not isinstance(leaf.surface, Roll) and leaf.id != "skewed":
            # Up in the opening is up on the page, and right of it is right: nobody stands on his head or is mirrored.
            ((x0, y0), (_, y1), (x2, _)) = leaf.page_from_opening.apply([(0, 0), (0, -1), (1, 0)]).tolist()
            assert y1 < y0, leaf.id
            assert x2 > x0, leaf.id


def test_a_fit_follows_its_opening_when_the_sheet_is_turned(job_of) -> None:
    job = apply(job_of("collage-shore"), BringIn(photos=(photo := fake_photo(1, 6000, 4000),)))
    sheet = job.sheets[0]
    first = sheet.layout.openings()[0]
    job = apply(job, Put(sheet=sheet.id, opening=first.id, photo=photo.id))
    now = apply(job, EDIT.validate_python({"op": "turn_sheet", "sheet": sheet.id, "how": "left"}))
    drawn = resolve_sheet(now, sheet.id).by_id[first.id]
    assert isinstance(drawn.placement, Placement)
    assert drawn.placement.photo == photo.id
    assert label(job, EDIT.validate_python({"op": "turn_sheet", "sheet": sheet.id, "how": "left"})) == "turn the sheet"


@pytest.mark.parametrize(("how", "turn", "align", "stand", "now"), [
    ("left_right", 0, "left", "top", (0, "right", "top")), ("top_bottom", 0, "left", "top", (0, "left", "bottom")),
    ("half", 0, "left", "top", (0, "right", "bottom")), ("left", 0, "left", "top", (90, "left", "top")),
    ("right", 0, "left", "top", (90, "right", "bottom")), ("left_right", 20, "right", "middle", (-20, "left", "middle")),
    ("left_right", 90, "left", "top", (90, "left", "bottom")), ("half", 0, "centre", "middle", (0, "centre", "middle")),
])  # fmt: skip
def test_words_stay_at_the_edge_they_stood_at(how: str, turn: float, align: str, stand: str, now: tuple) -> None:
    box = {"centre": (50, 40), "width_mm": 60, "height_mm": 20, "turn_deg": turn, "align": align, "stand": stand}
    layout = Layout(width_mm=200, height_mm=100, layers=(Text(id="words", text="Kites", **box),))
    words = rotate_sheet(layout, how).texts_by_id["words"]  # type: ignore[arg-type]
    assert (words.turn_deg, words.align, words.stand) == now


def test_a_floor_that_was_drawn_does_not_stand_upright(sheet: Layout) -> None:
    drawn = edited(sheet, op="set_fields", layers=["floor"], fields={"floor.line": [[30, 80], [90, 82]]})
    drawn = edited(drawn, op="turn_sheet", how="left_right")
    assert edited(edited(drawn, op="turn_sheet", how="left_right"), op="turn_sheet", how="left_right") == drawn
    with pytest.raises(EditRefused, match="a floor cannot stand upright"):
        edited(drawn, op="turn_sheet", how="left")


def test_a_mask_is_turned_as_its_picture_is() -> None:
    spot = "M0.1,0.1L0.5,0.1L0.5,0.3L0.1,0.3Z"  # near the upper left corner
    mask = Mask(width_mm=40, height_mm=20, asset="0" * 64, traced=spot)
    layout = Layout(width_mm=100, height_mm=80, layers=(opening("one", 50, 40, outline=mask),))

    def corner(after: Layout) -> tuple[float, float]:
        box = page_box(after.layers[0])
        return round((box.left + box.right) / 2, 3), round((box.top + box.bottom) / 2, 3)

    assert corner(layout) == (42.0, 34.0)
    assert corner(rotate_sheet(layout, "left")) == (34.0, 58.0)
    assert corner(rotate_sheet(layout, "left_right")) == (58.0, 34.0)
    assert corner(rotate_sheet(rotate_sheet(layout, "left_right"), "left")) == (34.0, 42.0)
    assert corner(rotate_sheet(rotate_sheet(layout, "left"), "left_right")) == (46.0, 58.0)
    assert corner(rotate_sheet(layout, "top_bottom")) == (42.0, 46.0)


# --- moving a selection ---------------------------------------------------------------------------------------------------

MOTIONS = st.builds(
    Motion,
    about=st.tuples(st.floats(0, 300), st.floats(0, 200)),
    by=st.tuples(st.floats(-50, 50), st.floats(-50, 50)),
    turn_deg=st.floats(-180, 180),
    mirror=st.sampled_from((None, "left_right", "top_bottom")),
    scale=st.floats(0.5, 2).map(lambda k: (k, k)),
)


@settings(max_examples=60, deadline=None)
@given(motion=MOTIONS, which=st.integers(1, 7))
def test_a_motion_takes_every_edge_where_its_matrix_does(motion: Motion, which: int) -> None:
    layers: list[Layer] = [
        opening("plain", 60, 50),
        opening("turned", 60, 120, surface=Flat(centre=(60.1, 120.7), turn_deg=12.5)),
        opening("shape", 110, 60, outline=L_SHAPE),
        opening("slanted", 0, 0, surface=Corners(points=((200, 80), (260, 90), (250, 140), (205, 130)))),
        opening("bent", 0, 0, surface=Grid(net=NET)),
        opening("round", 110, 120, outline=Ellipse(width_mm=30, height_mm=50)),
        FillBox(id="fill", outline=L_SHAPE, surface=Flat(centre=(30, 170), turn_deg=-20), colour="#aa3344"),
    ]
    before = layers[which - 1]
    assert isinstance(before, Opening | FillBox)
    after = carry_layer(before, motion)
    assert isinstance(after, Opening | FillBox)
    goal = dense(before) @ motion.matrix[:2, :2].T + motion.matrix[:2, 2]
    away = cKDTree(dense(after)).query(goal)[0]
    assert away.max() < 1.2


def test_what_is_scaled_across_keeps_its_frame_and_stays_true(sheet: Layout) -> None:
    now = edited(sheet, op="carry", layers=["plain"], scale=[1.5, 1], about=[60, 50])
    plain = now.openings_by_id["plain"]
    assert (plain.outline.width_mm, plain.outline.height_mm) == (60, 30)
    words = edited(sheet, op="carry", layers=["together"], scale=[2, 2]).texts_by_id["words"]
    assert (words.size_pt, words.width_mm) == (24, 160)
    with pytest.raises(EditRefused, match="evenly"):
        edited(sheet, op="carry", layers=["turned"], scale=[1.5, 1])
    with pytest.raises(EditRefused, match="cannot be skewed"):
        edited(sheet, op="carry", layers=["together"], skew_deg=10)
    with pytest.raises(EditRefused, match="no place of its own"):
        edited(sheet, op="carry", layers=["ground"], by=[1, 1])
    locked = edited(sheet, op="set_fields", layers=["together"], fields={"place_locked": True})
    with pytest.raises(EditRefused, match="locked in its place"):
        edited(locked, op="carry", layers=["words"], by=[1, 1])
