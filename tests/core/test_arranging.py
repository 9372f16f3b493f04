"""Layout edits of the workshop: what is turned back lies where it lay; what is aligned lies in line; photos keep their fit."""

import itertools
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import TypeAdapter
from scipy.spatial import cKDTree

from sutaru.core.arranging import Motion, carried, layers_box, page_box, turned
from sutaru.core.document import (
    Background,
    Corners,
    Echo,
    Ellipse,
    FillBox,
    Flat,
    Gradient,
    Grid,
    Group,
    Guide,
    Layer,
    Layout,
    Line,
    Mask,
    Opening,
    Ornament,
    Path,
    Placement,
    Rectangle,
    Roll,
    Stop,
    Text,
)
from sutaru.core.document.layout import walked
from sutaru.core.edits import BringIn, Edit, Put, altered, apply, label
from sutaru.core.errors import EditRefused
from sutaru.core.fitting import resolved
from sutaru.core.formats import read_shelf
from sutaru.shelf import FOLDER
from tests.conftest import fake_photo

EDIT: TypeAdapter[Edit] = TypeAdapter(Edit)
SHELF = read_shelf(FOLDER)
TURNS = ("left", "right", "half", "left_right", "top_bottom")


def opening(identity: str, x: float, y: float, width: float = 40, height: float = 30, **more: object) -> Opening:
    fields = {"outline": Rectangle(width_mm=width, height_mm=height), "surface": Flat(centre=(x, y))}
    return Opening(id=identity, **{**fields, **more})


def edited(layout: Layout, **edit: object) -> Layout:
    return altered(layout, EDIT.validate_python({"sheet": "one", **edit}))


L_SHAPE = Path(d="M-20,-15L20,-15L20,0L0,0L0,15L-20,15Z")
NET = tuple(tuple((x + 2.5 * math.sin(y / 9), y + 0.0) for x in (150.0, 180.0, 210.0)) for y in (20.0, 40.0, 60.0))


@pytest.fixture
def sheet() -> Layout:
    """One of everything that can lie on a sheet."""
    stops = (Stop(at=0, colour="#ffffff"), Stop(at=1, colour="#224466"))
    return Layout(
        width_mm=304.8, height_mm=203.2, lines=(Line(kind="gutter", axis="x", at_mm=152.4),),
        guides=(Guide(axis="y", at_mm=33.333333333),),
        layers=(
            Background(id="ground", gradient=Gradient(turn_deg=30, stops=stops)),
            opening("plain", 60, 50),
            opening("turned", 60, 120, surface=Flat(centre=(60.1, 120.7), turn_deg=12.5)),
            opening("skewed", 250, 160, surface=Flat(centre=(250, 160), skew_deg=10, stretch_x=1.2)),
            opening("shape", 110, 60, outline=L_SHAPE),
            opening("round", 110, 120, outline=Ellipse(width_mm=30, height_mm=50)),
            opening("slanted", 0, 0, surface=Corners(points=((200, 80), (260, 90), (250, 140), (205, 130)))),
            opening("bent", 0, 0, surface=Grid(net=NET)),
            opening("mug", 260, 40, surface=Roll(centre=(260, 40), radius_mm=30, tilt_deg=15, turn_deg=5)),
            Echo(id="floor", of="plain"),
            FillBox(id="fill", outline=L_SHAPE, surface=Flat(centre=(30, 170), turn_deg=-20), colour="#aa3344"),
            Group(id="together", layers=(
                Text(id="words", text="Kites", centre=(150, 190), width_mm=80, height_mm=10, turn_deg=3),
                Ornament(id="kite", asset="0" * 64, centre=(280, 190), width_mm=12, height_mm=18, turn_deg=-30),
            )),
        ),
    )  # fmt: skip


# --- turning whole sheets -------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("how", TURNS)
def test_turned_back_a_sheet_is_what_it_was_byte_for_byte(sheet: Layout, how: str) -> None:
    canonical = edited(sheet, op="turn_sheet", how="half")  # a drawn path is rewritten once
    now = canonical
    times = {"left": 4, "right": 4, "half": 2, "left_right": 2, "top_bottom": 2}[how]
    for _ in range(times):
        now = edited(now, op="turn_sheet", how=how)
    assert now.packed() == canonical.packed()


@pytest.mark.parametrize("template", sorted(SHELF.templates))
def test_every_template_of_the_shelf_turns_and_comes_back(template: str) -> None:
    for sheet in SHELF.templates[template].sheets:
        if any(isinstance(leaf, Echo) and leaf.floor.line for leaf in sheet.layout.leaves):
            continue
        first = turned(sheet.layout, "half")
        again = turned(turned(turned(turned(first, "left"), "left"), "left"), "left")
        assert again.packed() == first.packed()
        assert turned(turned(first, "left_right"), "left_right").packed() == first.packed()


@pytest.mark.parametrize(("how", "matrix"), [
    ("left", [[0, 1, 0], [-1, 0, 304.8], [0, 0, 1]]), ("right", [[0, -1, 203.2], [1, 0, 0], [0, 0, 1]]),
    ("half", [[-1, 0, 304.8], [0, -1, 203.2], [0, 0, 1]]), ("left_right", [[-1, 0, 304.8], [0, 1, 0], [0, 0, 1]]),
    ("top_bottom", [[1, 0, 0], [0, -1, 203.2], [0, 0, 1]]),
])  # fmt: skip
def test_every_shape_lies_where_the_turn_takes_it(sheet: Layout, how: str, matrix: list) -> None:
    now = turned(sheet, how)  # type: ignore[arg-type]
    assert (now.width_mm, now.height_mm) == ((203.2, 304.8) if how in ("left", "right") else (304.8, 203.2))
    for before in sheet.leaves:
        if not isinstance(before, Opening | FillBox):
            continue
        after = now.find(before.id)
        assert isinstance(after, Opening | FillBox)
        was, there = _dense(before), _dense(after)
        goal = was @ np.array(matrix)[:2, :2].T + np.array(matrix)[:2, 2]
        # The same set of edge points: each lies on the other's, whatever its order.
        away = cKDTree(there).query(goal)[0]
        assert away.max() < 0.6, before.id


def _dense(layer: Opening | FillBox) -> np.ndarray:
    """Points all along a layer's edge, on the page."""
    onto = layer.surface.page_from_opening(layer.outline)
    rings = [np.vstack([np.linspace(a, b, 120) for a, b in itertools.pairwise([*p, p[0]])])
             for p in layer.outline.polygons()]  # fmt: skip
    return np.vstack([onto.apply(ring) for ring in rings])[::1]


@pytest.mark.parametrize("how", TURNS)
def test_photos_stay_upright_words_can_be_read_and_the_light_stays(sheet: Layout, how: str) -> None:
    now = turned(sheet, how)  # type: ignore[arg-type]
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
    drawn = resolved(now, sheet.id).by_id[first.id]
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
    words = turned(layout, how).texts_by_id["words"]  # type: ignore[arg-type]
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
    assert corner(turned(layout, "left")) == (34.0, 58.0)
    assert corner(turned(layout, "left_right")) == (58.0, 34.0)
    assert corner(turned(turned(layout, "left_right"), "left")) == (34.0, 42.0)
    assert corner(turned(turned(layout, "left"), "left_right")) == (46.0, 58.0)
    assert corner(turned(layout, "top_bottom")) == (42.0, 46.0)


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
    after = carried(before, motion)
    assert isinstance(after, Opening | FillBox)
    goal = _dense(before) @ motion.matrix[:2, :2].T + motion.matrix[:2, 2]
    away = cKDTree(_dense(after)).query(goal)[0]
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


# --- in line, at equal distances, in one size -----------------------------------------------------------------------------

SIZES = st.lists(
    st.tuples(st.floats(20, 280), st.floats(20, 180), st.floats(5, 80), st.floats(5, 80), st.floats(-180, 180)),
    min_size=3, max_size=9,
)  # fmt: skip


def _sheet_of(sizes: list[tuple[float, float, float, float, float]]) -> Layout:
    layers = [
        opening(f"o-{n}", x, y, w, h, surface=Flat(centre=(x, y), turn_deg=turn))
        for n, (x, y, w, h, turn) in enumerate(sizes)
    ]
    return Layout(width_mm=300, height_mm=200, lines=(Line(kind="gutter", axis="x", at_mm=150),), layers=tuple(layers))


@settings(max_examples=40, deadline=None)
@given(
    sizes=SIZES, axis=st.sampled_from("xy"), by=st.sampled_from(("gap", "centre")), gap=st.none() | st.floats(-5, 20)
)
def test_distributed_layers_lie_at_equal_ways_and_keep_all_else(
    sizes: list, axis: str, by: str, gap: float | None
) -> None:
    layout = _sheet_of(sizes)
    names = [layer.id for layer in layout.layers]
    now = edited(layout, op="distribute", layers=names, axis=axis, by=by, gap_mm=gap)
    before = {n: page_box(layout.openings_by_id[n]) for n in names}
    after = {n: page_box(now.openings_by_id[n]) for n in names}
    middle = {n: sum(before[n].span(axis)) / 2 for n in names}
    order = sorted(names, key=lambda n: (middle[n], names.index(n)))
    other = "y" if axis == "x" else "x"
    for n in names:
        assert after[n].span(other) == pytest.approx(before[n].span(other), abs=1e-6)
    if by == "gap":
        ways = [after[b].span(axis)[0] - after[a].span(axis)[1] for a, b in itertools.pairwise(order)]
    else:
        ways = [sum(after[b].span(axis)) / 2 - sum(after[a].span(axis)) / 2 for a, b in itertools.pairwise(order)]
    assert ways == pytest.approx([ways[0] if gap is None else gap] * len(ways), abs=1e-6)
    assert after[order[0]].span(axis) == pytest.approx(before[order[0]].span(axis), abs=1e-6)
    if gap is None:
        assert after[order[-1]].span(axis) == pytest.approx(before[order[-1]].span(axis), abs=1e-6)
        again = edited(now, op="distribute", layers=names, axis=axis, by=by)
        for n in names if ways[0] > 1e-3 else []:
            assert page_box(again.openings_by_id[n]).span(axis) == pytest.approx(after[n].span(axis), abs=1e-6)


@settings(max_examples=40, deadline=None)
@given(
    sizes=SIZES, edge=st.sampled_from(("left", "centre", "right", "top", "middle", "bottom")),
    to=st.sampled_from(("each_other", "page", "left_page", "right_page", "safe")),
)  # fmt: skip
def test_aligned_layers_share_a_line_and_are_not_turned_or_sized(sizes: list, edge: str, to: str) -> None:
    layout = _sheet_of(sizes)
    names = [layer.id for layer in layout.layers]
    now = edited(layout, op="align", layers=names, edge=edge, to=to)
    axis, share = {"left": ("x", 0), "centre": ("x", 0.5), "right": ("x", 1), "top": ("y", 0), "middle": ("y", 0.5),
                   "bottom": ("y", 1)}[edge]  # fmt: skip
    all_of = layers_box(list(layout.layers))
    low, high = {
        "each_other": all_of.span(axis), "page": (0, 300 if axis == "x" else 200), "safe": (5, 295 if axis == "x" else 195),
        "left_page": (0, 150 if axis == "x" else 200), "right_page": (150 if axis == "x" else 0, 300 if axis == "x" else 200),
    }[to]  # fmt: skip
    goal = low + share * (high - low)
    for name in names:
        was, box = layout.openings_by_id[name], page_box(now.openings_by_id[name])
        a, b = box.span(axis)
        assert a + share * (b - a) == pytest.approx(goal, abs=1e-6)
        assert now.openings_by_id[name].outline == was.outline
        assert now.openings_by_id[name].surface.turn_deg == was.surface.turn_deg  # type: ignore[union-attr]


def test_align_to_a_line_and_one_size(sheet: Layout) -> None:
    now = edited(sheet, op="align", layers=["plain", "words"], edge="left", line_mm=25)
    assert page_box(now.openings_by_id["plain"]).left == pytest.approx(25)
    sized = edited(sheet, op="same_size", layers=["plain", "shape", "round"], side="both")
    for name in ("plain", "shape", "round"):
        outline = sized.openings_by_id[name].outline
        assert (outline.width_mm, outline.height_mm) == pytest.approx((40, 30), abs=1e-3)
    with pytest.raises(EditRefused, match="no size of its own"):
        edited(sheet, op="same_size", layers=["plain", "slanted"])
    with pytest.raises(EditRefused, match="no gutter or fold"):
        edited(sheet.having(lines=()), op="align", layers=["plain"], edge="left", to="left_page")


# --- layers from layers ---------------------------------------------------------------------------------------------------


def test_repeat_lays_copies_in_columns_and_rows_above_the_first(sheet: Layout) -> None:
    now = edited(sheet, op="repeat", layers=["plain"], columns=3, rows=2, step_mm=[44, 34])
    places = [page_box(o) for o in now.openings() if o.id == "plain" or o.id.startswith("plain-")]
    assert [(box.left, box.top) for box in places] == [
        (40, 35), (84, 35), (128, 35), (40, 69), (84, 69), (128, 69),
    ]  # fmt: skip
    stack = [layer.id for layer in now.layers]
    assert stack[stack.index("plain") + 1 : stack.index("turned")] == [f"plain-{n}" for n in range(2, 7)]
    several = edited(sheet, op="repeat", layers=["together", "plain"], columns=2, step_mm=[10, 0])
    assert {"together-2", "words-2", "kite-2", "plain-2"} <= several.ids()
    with pytest.raises(EditRefused, match="So many copies"):
        edited(sheet, op="repeat", layers=["plain", "round"], columns=300)


def test_split_parts_a_turned_opening_and_keeps_its_first_photo(sheet: Layout) -> None:
    now = edited(sheet, op="split", opening="turned", columns=2, rows=3, gap_mm=[4, 3])
    parts = [o for o in now.openings() if o.id == "turned" or o.id.startswith("turned-")]
    assert len(parts) == 6
    assert {(o.outline.width_mm, o.outline.height_mm) for o in parts} == {(18.0, 8.0)}
    assert parts[0].id == "turned"
    corner = sheet.openings_by_id["turned"].page_from_opening.apply([(-20, -15)])
    assert parts[0].page_from_opening.apply([(-9, -4)]) == pytest.approx(corner, abs=1e-6)
    with pytest.raises(EditRefused, match="Only a rectangle"):
        edited(sheet, op="split", opening="round", columns=2)
    with pytest.raises(EditRefused, match="smaller than 1 mm"):
        edited(sheet, op="split", opening="plain", columns=50)


def test_make_one_of_two_sends_their_photos_back_to_the_pile(job_of) -> None:
    job = apply(job_of("album-spread-18"), BringIn(photos=tuple(fake_photo(n, 6000, 4000) for n in (1, 2, 3))))
    for n in (2, 3, 4):
        job = apply(job, Put(sheet="spread", opening=f"opening-{n}", photo=job.photos[n - 2].id))
    box = layers_box([job.sheets[0].layout.openings_by_id[f"opening-{n}"] for n in (2, 3)])
    now = apply(
        job, EDIT.validate_python({"op": "make_one", "sheet": "spread", "openings": ["opening-2", "opening-3"]})
    )
    layout = now.sheets[0].layout
    (one,) = set(layout.openings_by_id) - set(job.sheets[0].layout.openings_by_id)
    assert page_box(layout.openings_by_id[one]) == box
    drawn = resolved(now, "spread").by_id
    assert drawn[one].photo is None
    assert drawn["opening-4"].photo is not None
    assert {"opening-2", "opening-3"} & drawn.keys() == set()
    # And undone by hand, the photos lie where they lay: a filling outlives what is done to its sheet.
    assert resolved(job.having(editions=now.editions), "spread").by_id["opening-2"].photo is not None


def test_no_new_opening_takes_the_id_of_one_that_is_gone(job_of) -> None:
    job = apply(job_of("album-spread-18"), BringIn(photos=(photo := fake_photo(1, 6000, 4000),)))
    job = apply(job, Put(sheet="spread", opening="opening-18", photo=photo.id))
    for edit in (
        {"op": "remove_layers", "layers": ["opening-18"]},
        {"op": "repeat", "layers": ["opening-1"], "columns": 3, "step_mm": [5, 0]},
        {"op": "split", "opening": "opening-2", "columns": 2},
        {"op": "make_one", "openings": ["opening-3", "opening-4"]},
    ):
        job = apply(job, EDIT.validate_python({"sheet": "spread", **edit}))
    assert all(entry.photo is None for entry in resolved(job, "spread").openings)


def test_groups_are_made_and_taken_apart_where_they_lie(sheet: Layout) -> None:
    now = edited(sheet, op="gather", layers=["plain", "round", "words"], name="Left page")
    group = now.find("group-2")
    assert isinstance(group, Group)
    assert [layer.id for layer in group.layers] == ["plain", "round", "words"]
    assert [layer.id for layer in now.layers][-2:] == ["together", "group-2"]
    hidden = edited(now, op="set_fields", layers=["group-2"], fields={"visible": False, "place_locked": True})
    apart = edited(hidden, op="dissolve", groups=["group-2"])
    assert [layer.id for layer in apart.layers][-3:] == ["plain", "round", "words"]
    assert all(not apart.find(n).visible and apart.find(n).place_locked for n in ("plain", "round", "words"))  # type: ignore[union-attr]
    with pytest.raises(EditRefused, match="is not a group"):
        edited(sheet, op="dissolve", groups=["plain"])
    with pytest.raises(EditRefused, match="Select the group alone"):
        edited(sheet, op="carry", layers=["together", "words"], by=[1, 0])


def test_numbers_go_by_reading_or_by_ones_own_order(sheet: Layout) -> None:
    stacked = list(sheet.numbers)
    read = edited(sheet, op="renumber")
    left = [n for n in read.numbers if page_box(read.openings_by_id[n]).right < 152]
    assert list(read.numbers)[: len(left)] == left  # the left page first
    own = edited(sheet, op="renumber", order=["mug", "plain"])
    assert list(own.numbers)[:2] == ["mug", "plain"]
    assert set(own.numbers) == set(stacked)
    assert edited(own, op="renumber", order=stacked).packed() == sheet.packed()
    with pytest.raises(EditRefused, match="no opening kite"):
        edited(sheet, op="renumber", order=["kite"])


def test_a_sheet_is_set_by_what_it_has_and_refuses_the_rest(sheet: Layout) -> None:
    now = edited(
        sheet, op="set_sheet", fields={"width_mm": 250, "columns": {"columns": 6, "rows": 4}, "light.from_deg": 45}
    )
    assert (now.width_mm, now.light.from_deg) == (250, 45)
    assert now.columns
    assert (now.columns.columns, now.columns.gutter_mm) == (6, 4)
    assert now.layers == sheet.layers
    for fields, said in ({"layers": []}, "nothing called layers"), ({"width_mm": -3}, "greater than 0"):
        with pytest.raises(EditRefused, match=said):
            edited(sheet, op="set_sheet", fields=fields)


EVERY = [
    {"op": "carry", "layers": ["plain"], "about": [-100, 50], "scale": [100, 100]},
    {"op": "carry", "layers": ["gone"], "by": [1, 1]},
    {"op": "align", "layers": ["ground"], "edge": "left"},
    {"op": "distribute", "layers": ["plain"], "axis": "x"},
    {"op": "make_one", "openings": ["plain", "words"]},
    {"op": "gather", "layers": ["plain", "gone"]},
    {"op": "split", "opening": "together", "columns": 2},
]


@pytest.mark.parametrize("edit", EVERY, ids=lambda edit: edit["op"])
def test_what_cannot_be_is_refused_in_words(sheet: Layout, edit: dict) -> None:
    with pytest.raises(EditRefused) as refused:
        edited(sheet, **edit)
    assert refused.value.sentence.endswith(".")


def test_every_layer_of_a_changed_tree_is_still_there(sheet: Layout) -> None:
    ids = [layer.id for layer, _ in walked(sheet.layers)]
    now = edited(sheet, op="carry", layers=["together"], by=[1, 2])
    assert [layer.id for layer, _ in walked(now.layers)] == ids


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
