"""Layout edits, on a job's sheet and on a template alike, and what is drawn of groups, locks and what is no longer there."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from sutaru.core.document import (
    Background,
    Echo,
    Filling,
    Flat,
    Group,
    Layer,
    Layout,
    Line,
    Opening,
    Placement,
    Rectangle,
    Template,
    Text,
)
from sutaru.core.edits.apply import apply, apply_to_template, label
from sutaru.core.edits.kinds import AddLayers, Fill, Put, RemoveLayers, Restack, SetFields, SpanOver
from sutaru.core.errors import EditRefused
from sutaru.core.fitting import resolve_sheet
from tests.conftest import TEMPLATES, fake_photo, one_sheet, shown

PHOTO = fake_photo(1, 6000, 4000)


def opening(identity: str, x: float = 50, **more: object) -> Opening:
    return Opening(id=identity, outline=Rectangle(width_mm=40, height_mm=30), surface=Flat(centre=(x, 50)), **more)  # type: ignore[arg-type]


def layout(*layers: Layer) -> Layout:
    return Layout(width_mm=200, height_mm=100, layers=layers)


LAYERS = (
    Background(id="ground"),
    Group(id="row", name="Row", layers=(opening("a"), Group(id="inner", layers=(opening("b", 90), opening("c", 130))))),
    Text(id="words", centre=(100, 80), width_mm=100, height_mm=10, text="Skerry Sands"),
    Echo(id="echo", of="a"),
)
PAGE = layout(*LAYERS)


def done(*edits: AddLayers | RemoveLayers | Restack | SetFields, page: Layout = PAGE) -> Layout:
    """The page after edits, the same on a job as on a template."""
    job, template = one_sheet(page), TEMPLATES["collage-shore"]
    template = template.copy_with(sheets=(one_sheet(page).sheets[0],))
    for edit in edits:
        job, template = apply(job, edit), apply_to_template(template, edit)
    assert job.sheets[0].layout == template.sheets[0].layout
    return job.sheets[0].layout


def order(page: Layout) -> str:
    """The tree, short: ids bottom to top, groups in brackets."""

    def told(layers: tuple[Layer, ...]) -> str:
        return " ".join(f"{x.id}[{told(x.layers)}]" if isinstance(x, Group) else x.id for x in layers)

    return told(page.layers)


@pytest.mark.parametrize(
    ("edit", "expected"),
    [
        (AddLayers(sheet="p", layers=(opening("d"),)), "ground row[a inner[b c]] words echo d"),
        (AddLayers(sheet="p", layers=(opening("d"),), below="ground"), "d ground row[a inner[b c]] words echo"),
        (AddLayers(sheet="p", layers=(opening("d"), opening("e")), below="c"), "ground row[a inner[b d e c]] words echo"),
        (AddLayers(sheet="p", layers=(opening("d"),), group="inner"), "ground row[a inner[b c d]] words echo"),
        (AddLayers(sheet="p", layers=(opening("d"),), group="row", below="a"), "ground row[d a inner[b c]] words echo"),
        (RemoveLayers(sheet="p", layers=("inner", "words")), "ground row[a] echo"),
        (RemoveLayers(sheet="p", layers=("a",)), "ground row[inner[b c]] words"),  # its echo goes with it
        (RemoveLayers(sheet="p", layers=("row",)), "ground words"),
        (Restack(sheet="p", layer="words", below="ground"), "words ground row[a inner[b c]] echo"),
        (Restack(sheet="p", layer="words"), "ground row[a inner[b c]] echo words"),
        (Restack(sheet="p", layer="b", group="row", below="a"), "ground row[b a inner[c]] words echo"),
        (Restack(sheet="p", layer="inner", below="words"), "ground row[a] inner[b c] words echo"),
    ],
)  # fmt: skip
def test_layers_are_added_taken_away_and_moved(edit, expected: str) -> None:
    assert order(done(edit)) == expected


@pytest.mark.parametrize(
    ("edit", "sentence"),
    [
        (AddLayers(sheet="p", layers=(opening("a"),)), "Two layers are called a"),
        (AddLayers(sheet="p", layers=(opening("d"),), below="gone"), "There is no layer gone to lie below"),
        (AddLayers(sheet="p", layers=(opening("d"),), group="a"), "There is no group a"),
        (AddLayers(sheet="p", layers=(Echo(id="e", of="gone"),)), "which is not on its sheet"),
        (RemoveLayers(sheet="p", layers=("gone",)), "There is no layer gone on this sheet. It may have been taken away"),
        (Restack(sheet="p", layer="row", group="inner"), "A group cannot be moved into itself"),
        (Restack(sheet="p", layer="row", below="b"), "A group cannot be moved into itself"),
        (SetFields(sheet="p", layers=("a",), fields={"colour": "#000000"}), "nothing called colour to set"),
        (SetFields(sheet="p", layers=("a",), fields={"id": "z"}), "nothing called id to set"),
        (SetFields(sheet="p", layers=("row",), fields={"layers": []}), "nothing called layers to set"),
        (SetFields(sheet="p", layers=("a",), fields={"opacity": 3}), "opacity"),
        (SetFields(sheet="gone", layers=("a",), fields={"opacity": 1}), "no sheet gone"),
    ],
)  # fmt: skip
def test_what_cannot_be_is_refused_in_words(edit, sentence: str) -> None:
    job, before = one_sheet(PAGE), PAGE.digest
    with pytest.raises(EditRefused, match=sentence):
        apply(job, edit)
    assert job.sheets[0].layout.digest == before


def test_groups_lie_only_so_deep() -> None:
    deep: Layer = opening("z")
    for n in range(9):
        deep = Group(id=f"g{n}", layers=(deep,))
    with pytest.raises(EditRefused, match="more than 8 deep"):
        done(AddLayers(sheet="p", layers=(deep,)))


def test_two_windows_setting_two_things_of_one_layer_both_win() -> None:
    one = SetFields(sheet="p", layers=("a",), fields={"border.width_mm": 2.0})
    two = SetFields(sheet="p", layers=("a", "b"), fields={"blend": "multiply"}, expect={"border": None})
    colour = SetFields(sheet="p", layers=("a",), fields={"border.colour": "#102030"}, expect={"border.width_mm": 2.0})
    first = done(one, two.copy_with(expect={}), colour).openings_by_id["a"]
    assert (first.border.width_mm, first.border.colour, first.blend) == (2.0, "#102030", "multiply")  # type: ignore[union-attr]
    assert first == done(two, one, colour).openings_by_id["a"]
    with pytest.raises(EditRefused, match="a has been changed meanwhile"):  # the border two expects is none
        done(one, two)
    with pytest.raises(EditRefused, match="a has been changed meanwhile"):
        done(one, colour.copy_with(expect={"border.width_mm": 3.0}))


@pytest.mark.parametrize(
    ("locked", "place", "content"),
    [
        ({"a": {"place_locked": True}}, "locked in its place", None),
        ({"a": {"content_locked": True}}, None, "is locked"),
        ({"row": {"place_locked": True, "content_locked": True}}, "locked in its place", "is locked"),
    ],
)
def test_locks_hold_of_a_layer_and_of_its_group(locked: dict, place: str | None, content: str | None) -> None:
    edits = [SetFields(sheet="p", layers=(which,), fields=fields) for which, fields in locked.items()]
    page = done(*edits)
    moved = SetFields(sheet="p", layers=("a",), fields={"surface": Flat(centre=(60, 50)).model_dump()})
    paler = SetFields(sheet="p", layers=("a",), fields={"opacity": 0.5})
    for edit, sentence in ((moved, place), (paler, content)):
        if sentence:
            with pytest.raises(EditRefused, match=sentence):
                done(edit, page=page)
        else:
            assert done(edit, page=page) != page
    # A name, and the lock itself, can always be set.
    done(SetFields(sheet="p", layers=("a",), fields={"name": "Left", "visible": False}), page=page)
    unlocked = {"place_locked": False, "content_locked": False}
    free = done(SetFields(sheet="p", layers=(*locked,), fields=unlocked), moved, paler, page=page)
    assert free.openings_by_id["a"].opacity == 0.5


def test_a_hidden_or_locked_group_hides_and_locks_what_is_in_it() -> None:
    page = done(SetFields(sheet="p", layers=("row",), fields={"visible": False, "content_locked": True}))
    assert [(leaf.id, leaf.visible, leaf.content_locked) for leaf in page.leaves] == [
        ("ground", True, False), ("a", False, True), ("b", False, True), ("c", False, True),
        ("words", True, False), ("echo", True, False),
    ]  # fmt: skip
    assert list(page.openings_by_id) == ["a", "b", "c"]  # hidden ones keep their numbers
    assert page.find("a").visible  # type: ignore[union-attr]  # what is stored of it has not changed


def test_a_photo_running_through_openings_keeps_them_flat() -> None:
    job = one_sheet(PAGE, (PHOTO,))
    job = apply(apply(job, Put(sheet="p", opening="a", photo=PHOTO.id)), SpanOver(sheet="p", openings=("a", "b")))
    slanted = {"kind": "corners", "points": [[0, 0], [40, 5], [40, 35], [0, 30]]}
    with pytest.raises(EditRefused, match="A photo runs on through a, so it must lie flat. End the span first"):
        apply(job, SetFields(sheet="p", layers=("a",), fields={"surface": slanted}))
    apply(job, SetFields(sheet="p", layers=("c",), fields={"surface": slanted}))


def test_what_lies_in_openings_that_are_gone_is_passed_over_and_comes_back_with_them() -> None:
    job = apply(one_sheet(PAGE, (PHOTO,)), Put(sheet="p", opening="b", photo=PHOTO.id))
    gone = apply(job, RemoveLayers(sheet="p", layers=("inner",)))
    assert [entry.layer.id for entry in resolve_sheet(gone, "p").openings] == ["a"]
    assert gone.filling("p") == job.filling("p")
    back = apply(gone, AddLayers(sheet="p", layers=(opening("b", 90),)))
    shown = resolve_sheet(back, "p").by_id["b"]
    assert shown.photo == PHOTO
    assert shown.placement is not None


def test_a_placement_that_no_longer_covers_is_drawn_moved() -> None:
    """The opening is made longer by another window: what is drawn has no gap, and the stored placement waits."""
    job = apply(one_sheet(PAGE, (PHOTO,)), Put(sheet="p", opening="a", photo=PHOTO.id))
    kept = job.filling("p").placements["a"].copy_with(centre=(0.45, 0.5), zoom=1.2)
    job = one_sheet(PAGE, (PHOTO,), {"a": kept})
    wide = Rectangle(width_mm=60, height_mm=30).model_dump()
    longer = apply(job, SetFields(sheet="p", layers=("a",), fields={"outline": wide}))
    drawn = resolve_sheet(longer, "p").by_id["a"].placement
    assert isinstance(drawn, Placement)
    assert longer.filling("p").placements["a"] == kept
    assert drawn.zoom == pytest.approx(1.2, abs=0.3)


def test_labels_say_what_a_layout_edit_did() -> None:
    job = one_sheet(PAGE)
    said = [
        label(job, edit)
        for edit in (
            AddLayers(sheet="p", layers=(opening("d"), opening("e"))),
            AddLayers(sheet="p", layers=(Background(id="x"), opening("y"))),
            RemoveLayers(sheet="p", layers=("words",)),
            RemoveLayers(sheet="p", layers=("a", "words")),
            Restack(sheet="p", layer="b"),
            SetFields(sheet="p", layers=("a", "b"), fields={"border.width_mm": 1, "border.colour": "#000000"}),
            SetFields(sheet="p", layers=("row",), fields={"visible": False}),
        )
    ]
    assert said == [
        "add 2 openings", "add 2 layers", "delete text", "delete 2 layers", "move opening 2 in the stack",
        "change border of opening 1 and 1 more", "change visible of Row",
    ]  # fmt: skip


IDS = st.sampled_from([layer.id for layer in LAYERS] + ["a", "b", "c", "inner", "gone"])
EDITS = st.one_of(
    st.builds(RemoveLayers, sheet=st.just("p"), layers=st.lists(IDS, min_size=1, max_size=2).map(tuple)),
    st.builds(Restack, sheet=st.just("p"), layer=IDS, group=st.none() | IDS, below=st.none() | IDS),
    st.builds(
        AddLayers, sheet=st.just("p"), layers=st.sampled_from([(opening("d"),), (Group(id="g"),)]),
        group=st.none() | IDS, below=st.none() | IDS,
    ),
    st.builds(
        SetFields, sheet=st.just("p"), layers=IDS.map(lambda i: (i,)),
        fields=st.sampled_from([{"visible": False}, {"place_locked": True}, {"opacity": 0.5}, {"name": "x"}]),
    ),
)  # fmt: skip


@settings(max_examples=120, deadline=None)
@given(st.lists(EDITS, max_size=12))
def test_whatever_is_done_layers_stay_whole(edits: list) -> None:
    """Moving neither loses nor doubles a layer, whatever was refused; the page reads back as it was written."""
    page: Layout = PAGE
    for edit in edits:
        before = page.ids()
        try:
            page = done(edit, page=page)
        except EditRefused:
            continue
        if isinstance(edit, Restack | SetFields):
            assert page.ids() == before
        elif isinstance(edit, AddLayers):
            assert page.ids() == before | {layer.id for layer in edit.layers}
        else:
            assert page.ids() < before
        assert Layout.model_validate_json(page.model_dump_json()) == page


def test_a_template_needs_the_sheet() -> None:
    template: Template = TEMPLATES["collage-shore"]
    with pytest.raises(EditRefused, match="There is no sheet gone in this template"):
        apply_to_template(template, RemoveLayers(sheet="gone", layers=("a",)))


def test_an_empty_filling_is_nothing_kept() -> None:
    assert one_sheet(PAGE).filling("p") == Filling()


def test_hidden_openings_are_not_filled_and_in_order_means_reading_order() -> None:
    """Openings lie in the stack from right to left; the photos go from left to right, and none is spent on what is hidden."""
    photos = tuple(fake_photo(n, 4000, 3000) for n in range(1, 3))
    page = layout(opening("c", 150), opening("b", 100, visible=False), opening("a", 50))
    job = apply(one_sheet(page, photos), Fill(how="order"))
    assert {o: p.photo for o, p in shown(job).items()} == {"a": photos[0].id, "c": photos[1].id}
    grouped = layout(Group(id="g", visible=False, layers=(opening("b"),)), opening("a", 100))
    assert list(shown(apply(one_sheet(grouped, photos), Fill()))) == ["a"]


def test_an_echo_is_refused_a_roll_that_folds() -> None:
    """A roll shows at most half of its girth; 40 mm round a radius of 5 mm is more, whoever shows the photo."""
    roll = {"kind": "roll", "centre": [60, 50], "radius_mm": 5.0}
    echo = Echo.model_validate({"id": "again", "of": "a", "how": "repeat", "surface": roll})
    with pytest.raises(EditRefused, match="radius|roll|round"):
        done(AddLayers(sheet="p", layers=(echo,)))


def test_a_card_knows_what_it_folds_to() -> None:
    layout = TEMPLATES["card-portrait"].sheets[0].layout
    assert layout.folded_mm == (127.0, 177.8)  # 10 x 7 in, folded at half its width
    thrice = layout.copy_with(lines=(Line(kind="fold", axis="x", at_mm=100), Line(kind="fold", axis="x", at_mm=199)))
    assert thrice.folded_mm == (100, 177.8)  # the largest panel lies outside
    assert layout.copy_with(lines=(Line(kind="gutter", axis="x", at_mm=127),)).folded_mm is None
