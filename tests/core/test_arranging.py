"""Layers in line, at equal distances, in one size; repeated, split, joined, grouped, numbered."""

import itertools

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from sutaru.core.arranging.aligning import layers_box, page_box
from sutaru.core.document import (
    Flat,
    Group,
    Layout,
    Line,
)
from sutaru.core.document.layout import walk_layers
from sutaru.core.edits.apply import apply
from sutaru.core.edits.kinds import BringIn, Put
from sutaru.core.errors import EditRefused
from sutaru.core.fitting import resolve_sheet
from tests.conftest import fake_photo
from tests.core.arranged import EDIT, edited, everything, opening


@pytest.fixture
def sheet() -> Layout:
    return everything()


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
        edited(sheet.copy_with(lines=()), op="align", layers=["plain"], edge="left", to="left_page")


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


def test_copies_take_the_names_they_are_given_and_lie_on_top_when_asked(sheet: Layout) -> None:
    echo = {"kind": "echo", "id": "again", "of": "plain", "how": "reflection"}
    sheet = edited(sheet, op="add_layers", layers=[echo])
    now = edited(
        sheet, op="repeat", layers=["plain", "again"], columns=2, step_mm=[9, 0], names=["p2", "a2"], on_top=True
    )
    assert [layer.id for layer in now.layers[-2:]] == ["p2", "a2"]
    assert now.find("a2").of == "p2"  # the copy is echoed, not what it was copied from
    inside = edited(sheet, op="repeat", layers=["words"], columns=2, step_mm=[9, 0], names=["w2"], on_top=True)
    assert [layer.id for layer in inside.find("together").layers][-1] == "w2"
    group = edited(sheet, op="repeat", layers=["together"], columns=2, step_mm=[9, 0], names=["t2", "i1", "i2"])
    assert [layer.id for layer in group.find("t2").layers] == ["i1", "i2"]
    for names in (["p2"], ["p2", "p2"], ["p2", "plain"]):
        with pytest.raises(EditRefused, match="do not fit the copies"):
            edited(sheet, op="repeat", layers=["plain", "again"], columns=2, step_mm=[9, 0], names=names)


def test_openings_keep_their_numbers_until_they_are_renumbered(sheet: Layout) -> None:
    numbers = list(sheet.numbers)
    assert sheet.order == ()
    lowest = edited(sheet, op="restack", layer=numbers[-1], below=sheet.layers[0].id)
    assert list(lowest.numbers) == numbers
    copied = edited(sheet, op="repeat", layers=[numbers[0]], columns=2, step_mm=[9, 0], names=["copy"])
    assert list(copied.numbers) == [*numbers, "copy"]
    gone = edited(copied, op="remove_layers", layers=[numbers[1]])
    assert list(gone.numbers) == [numbers[0], *numbers[2:], "copy"]
    assert edited(lowest, op="restack", layer=numbers[-1]).order == ()  # nothing is said that is so anyhow
    assert list(edited(copied, op="renumber", order=["copy"]).numbers) == ["copy", *numbers]


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
    drawn = resolve_sheet(now, "spread").by_id
    assert drawn[one].photo is None
    assert drawn["opening-4"].photo is not None
    assert {"opening-2", "opening-3"} & drawn.keys() == set()
    # And undone by hand, the photos lie where they lay: a filling outlives what is done to its sheet.
    assert resolve_sheet(job.copy_with(editions=now.editions), "spread").by_id["opening-2"].photo is not None


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
    assert all(entry.photo is None for entry in resolve_sheet(job, "spread").openings)


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
    assert edited(own, op="renumber", order=stacked).pack() == sheet.pack()
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
    ids = [layer.id for layer, _ in walk_layers(sheet.layers)]
    now = edited(sheet, op="carry", layers=["together"], by=[1, 2])
    assert [layer.id for layer, _ in walk_layers(now.layers)] == ids
