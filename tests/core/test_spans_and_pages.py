"""Spans in register, openings altered, echoes added, what is pinned, mended and worked on: edits and what they refuse."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from sutaru.core.checks import check_job, measure_sheet, places
from sutaru.core.document import (
    Border,
    Corners,
    Echo,
    Ellipse,
    Enhance,
    Exposure,
    Flat,
    Job,
    LabSheet,
    Layout,
    Opening,
    Placement,
    Recipe,
    Rectangle,
)
from sutaru.core.edits.apply import apply, label
from sutaru.core.edits.kinds import (
    AddLayers,
    BringIn,
    Clear,
    EnhanceAll,
    Fill,
    MendOpening,
    MendPhoto,
    Nudge,
    Pin,
    Place,
    Put,
    RemoveLayers,
    SetFields,
    SpanOver,
    Spot,
    Swap,
    TakeOut,
    Unspan,
    Worked,
)
from sutaru.core.errors import EditRefused
from sutaru.core.fitting import page_from_photo, reading_order
from tests.conftest import fake_photo, first, one_sheet, opening_of, shown


def at(opening: str) -> Spot:
    return Spot(sheet="p", opening=opening)


def recipe(job: Job, opening: str) -> Recipe | None:
    return first(job).by_id[opening].recipe


PHOTOS = tuple(fake_photo(n, 6000, 4000) for n in range(1, 6))


def hole(name: str, x: float, y: float, turn: float = 0.0, **more: object) -> Opening:
    fields = {
        "id": name,
        "outline": Rectangle(width_mm=60, height_mm=50),
        "surface": Flat(centre=(x, y), turn_deg=turn),
    }
    return Opening.model_validate({**fields, **more})


def job_of(*openings: Opening) -> Job:
    return apply(one_sheet(Layout(width_mm=300, height_mm=200, layers=openings)), BringIn(photos=PHOTOS))


@pytest.fixture
def three() -> Job:
    return job_of(
        hole("a", 60, 60), hole("b", 130, 60, 8), hole("c", 200, 60, outline=Ellipse(width_mm=50, height_mm=50))
    )


def where(job: Job, opening: str, points: list[tuple[float, float]]) -> np.ndarray:
    """Photo px on the page, through what an opening shows."""
    hole, lies = opening_of(job, opening), shown(job)[opening]
    return page_from_photo(hole, job.pile.by_id[lies.photo], lies).apply(points)


CORNERS = [(0.0, 0.0), (6000.0, 0.0), (6000.0, 4000.0), (0.0, 4000.0)]


def in_register(job: Job, *openings: str) -> None:
    first = where(job, openings[0], CORNERS)
    for other in openings[1:]:
        assert where(job, other, CORNERS) == pytest.approx(first, abs=1e-4)


@settings(max_examples=40, deadline=None)
@given(
    dx=st.floats(-0.3, 0.3),
    zoom=st.floats(1, 3),
    turn=st.floats(-180, 180),
    mirror=st.booleans(),
    which=st.sampled_from("abc"),
)
def test_a_photo_runs_on_through_a_span_however_it_is_moved(
    dx: float, zoom: float, turn: float, mirror: bool, which: str
) -> None:
    three = job_of(
        hole("a", 60, 60), hole("b", 130, 60, 8), hole("c", 200, 60, outline=Ellipse(width_mm=50, height_mm=50))
    )
    job = apply(three, SpanOver(sheet="p", openings=("a", "b", "c"), photo=PHOTOS[0].id))
    in_register(job, "a", "b", "c")
    held = shown(job)[which]
    moved = Place(
        sheet="p",
        opening=which,
        centre=(held.centre[0] + dx, held.centre[1]),
        zoom=held.zoom * zoom,
        turn_deg=turn,
        mirror=mirror,
    )
    job = apply(job, moved)
    in_register(job, "a", "b", "c")
    for opening in "abc":  # no gaps: the outline lies on the photo
        found = opening_of(job, opening)
        onto = page_from_photo(found, PHOTOS[0], shown(job)[opening])
        polygon = found.page_from_opening.apply(found.outline.polygons()[0])
        back = onto.inverse(polygon)
        assert back.min() > -1e-3
        assert (back.max(axis=0) < np.array([6000, 4000]) + 1e-3).all()


def test_what_is_done_to_one_opening_of_a_span_is_done_to_it_all(three: Job) -> None:
    job = apply(
        apply(three, Put(sheet="p", opening="a", photo=PHOTOS[1].id)), SpanOver(sheet="p", openings=("a", "b", "c"))
    )
    assert {p.photo for p in shown(job).values()} == {PHOTOS[1].id}
    assert not [f for f in check_job(job) if f.rule == "same_photo_twice"]
    job = apply(job, Put(sheet="p", opening="c", photo=PHOTOS[2].id))
    assert {p.photo for p in shown(job).values()} == {PHOTOS[2].id}
    in_register(job, "a", "b", "c")
    # Moving an opening moves its window over the photo.
    job = apply(
        job,
        SetFields(
            sheet="p", layers=("b",), fields={"surface": {"kind": "flat", "centre": (130, 110), "turn_deg": -20}}
        ),
    )
    in_register(job, "a", "b", "c")
    rows = {row.opening: row for row in measure_sheet(first(job)).rows}
    assert {row.span for row in rows.values()} == {"span-1"}
    assert len(rows["b"].span_outline) == 3
    with pytest.raises(EditRefused, match="Every opening is pinned"):
        apply(job, Fill())
    with pytest.raises(EditRefused, match="covers them. End the span first"):
        apply(job, Place(sheet="p", opening="a", fit="whole", centre=(0.5, 0.5), zoom=1, turn_deg=0, mirror=False))
    with pytest.raises(EditRefused, match="part of a photo that runs on"):
        apply(job, Swap(first=at("a"), second=at("b")))
    ended = apply(job, Unspan(sheet="p", opening="b"))
    assert shown(ended) == shown(job)
    assert not ended.filling("p").spans
    # One is emptied: in the others the photo stays where it lies, and runs on through them.
    one_less = apply(job, Clear(sheet="p", openings=("b",)))
    assert one_less.filling("p").spans["span-1"].openings == ("a", "c")
    before, after = shown(job), shown(one_less)
    assert after.keys() == {"a", "c"}
    for opening in ("a", "c"):
        assert after[opening].centre == pytest.approx(before[opening].centre, abs=1e-9)
        assert after[opening].zoom == pytest.approx(before[opening].zoom, rel=1e-9)
    alone = apply(one_less, Clear(sheet="p", openings=("c",)))
    assert not alone.filling("p").spans
    assert shown(alone)["a"].centre == pytest.approx(before["a"].centre, abs=1e-9)
    assert not shown(apply(job, Clear(sheet="p", openings=("a", "b", "c"))))
    assert not apply(job, TakeOut(photos=(PHOTOS[2].id,))).filling("p").spans


def test_a_nudged_opening_shifts_alone_and_is_put_back(three: Job) -> None:
    job = apply(three, SpanOver(sheet="p", openings=("a", "b", "c"), photo=PHOTOS[0].id))
    job = apply(job, Place(sheet="p", opening="a", centre=(0.4, 0.5), zoom=9, turn_deg=0, mirror=False))
    nudged = apply(job, Nudge(sheet="p", opening="b", by=(2.0, -1.0)))
    assert where(nudged, "b", CORNERS) - where(nudged, "a", CORNERS) == pytest.approx(
        np.tile([2.0, -1.0], (4, 1)), abs=1e-4
    )
    in_register(nudged, "a", "c")
    in_register(apply(nudged, Nudge(sheet="p", opening="b", by=(0.0, 0.0))), "a", "b", "c")
    with pytest.raises(EditRefused, match="in no span"):
        apply(three, Nudge(sheet="p", opening="a", by=(1, 1)))


def test_spans_that_cannot_be(three: Job) -> None:
    slanted = hole("d", 0, 0, surface=Corners(points=((0, 0), (60, 5), (60, 40), (0, 50))))
    job = apply(job_of(hole("a", 60, 60), slanted), Put(sheet="p", opening="a", photo=PHOTOS[0].id))
    with pytest.raises(EditRefused, match="slanted, bent or stretched"):
        apply(job, SpanOver(sheet="p", openings=("a", "d")))
    with pytest.raises(EditRefused, match="all empty"):
        apply(three, SpanOver(sheet="p", openings=("a", "b")))
    with pytest.raises(EditRefused, match="two openings at least"):
        apply(three, SpanOver(sheet="p", openings=("a", "a"), photo=PHOTOS[0].id))
    spanned = apply(three, SpanOver(sheet="p", openings=("a", "b"), photo=PHOTOS[0].id))
    with pytest.raises(EditRefused, match="part of a photo that runs on"):
        apply(spanned, SpanOver(sheet="p", openings=("b", "c"), photo=PHOTOS[0].id))
    with pytest.raises(EditRefused, match="runs on through a, so it must lie flat"):
        apply(spanned, SetFields(sheet="p", layers=("a",), fields={"surface": slanted.surface.model_dump()}))


# --- filling --------------------------------------------------------------------------------------------------------


def test_pinned_openings_stay_and_order_is_kept(three: Job) -> None:
    job = apply(apply(three, Put(sheet="p", opening="b", photo=PHOTOS[4].id)), Pin(sheet="p", openings=("b",)))
    filled = apply(job, Fill(how="order"))
    order = [shown(filled)[o].photo for o in "abc"]
    assert order[1] == PHOTOS[4].id
    assert PHOTOS[4].id not in (order[0], order[2])
    ids = [p.id for p in filled.photos]
    assert ids.index(order[0]) < ids.index(order[2])
    only = apply(job, Fill(sheet="p", openings=("c",)))
    assert set(shown(only)) == {"b", "c"}
    assert apply(filled, Pin(sheet="p", openings=("b",), pinned=False)).filling("p").pins == ()
    with pytest.raises(EditRefused, match="Every opening is pinned"):
        apply(apply(job, Pin(sheet="p", openings=("a", "b", "c"))), Fill())
    assert label(job, Fill(how="order")) == "fill all openings in order"
    assert label(job, Pin(sheet="p", openings=("a", "c"))) == "pin 1, 3"


def test_a_swap_keeps_or_gives_up_the_fit(three: Job) -> None:
    job = apply(three, Put(sheet="p", opening="a", photo=PHOTOS[0].id))
    job = apply(job, Place(sheet="p", opening="a", centre=(0.4, 0.5), zoom=2, turn_deg=3, mirror=True))
    job = apply(job, MendOpening(sheet="p", opening="a", recipe=Recipe(steps=(Exposure(stops=1),))))
    kept = apply(job, Swap(first=at("a"), second=at("b"), keep_fit=True)).filling("p")
    assert (kept.placements["b"].zoom, kept.placements["b"].turn_deg, kept.placements["b"].mirror) == (2, 3, True)
    assert set(kept.tones) == {"b"}  # what was mended goes along
    fresh = apply(job, Swap(first=at("a"), second=at("b"))).filling("p")
    assert fresh.placements["b"] == Placement(photo=PHOTOS[0].id, centre=fresh.placements["b"].centre)


# --- openings and echoes --------------------------------------------------------------------------------------------


def having(*layers: str, **fields: object) -> SetFields:
    return SetFields(sheet="p", layers=layers, fields=fields)


def test_altering_an_opening_keeps_its_photo_fitted(three: Job) -> None:
    job = apply(three, Put(sheet="p", opening="a", photo=PHOTOS[0].id))
    dress = having("a", border={"width_mm": 2})
    assert opening_of(apply(job, dress), "a").border == Border(width_mm=2)
    assert label(job, dress) == "change border of opening 1"
    slant = having("a", surface=Corners(points=((30, 30), (90, 35), (90, 80), (30, 85))).model_dump())
    laid = apply(job, slant)
    assert shown(laid) == shown(job)
    assert label(job, slant) == "change place of opening 1"
    tall = apply(job, having("a", outline=Rectangle(width_mm=20, height_mm=90).model_dump()))
    onto = page_from_photo(opening_of(tall, "a"), PHOTOS[0], shown(tall)["a"])
    assert onto.inverse([(50.0, 15.0), (70.0, 105.0)]).min() >= -1e-6
    # And back: the fit is what it was.
    assert shown(apply(tall, having("a", outline=opening_of(job, "a").outline.model_dump()))) == shown(job)
    with pytest.raises(EditRefused, match="There is no layer nowhere on this sheet"):
        apply(job, having("nowhere", opacity=0.5))


def test_echoes_come_below_their_source_change_and_go(three: Job) -> None:
    echo = Echo(id="echo-b", of="b")
    job = apply(three, AddLayers(sheet="p", layers=(echo,), below="b"))
    assert order(job) == ["a", "echo-b", "b", "c"]
    darker = apply(job, having("echo-b", darken=0.5))
    assert order(darker) == ["a", "echo-b", "b", "c"]
    (place,) = places(darker.sheets[0].layout).echoes
    assert (place.of, len(place.corners)) == ("b", 4)
    assert order(apply(darker, RemoveLayers(sheet="p", layers=("echo-b",)))) == ["a", "b", "c"]
    assert order(apply(darker, RemoveLayers(sheet="p", layers=("b",)))) == ["a", "c"]  # an echo goes with its source
    with pytest.raises(EditRefused, match="Two layers are called c"):
        apply(job, AddLayers(sheet="p", layers=(Echo(id="c", of="b"),)))


def order(job: Job) -> list[str]:
    return [layer.id for layer in job.sheets[0].layout.layers]


# --- mending --------------------------------------------------------------------------------------------------------


def test_recipes_of_openings_go_before_those_of_photos_and_worked_photos_are_left_alone(three: Job) -> None:
    job = apply(three, Fill())
    photo = shown(job)["a"].photo
    assert recipe(job, "a") is None
    job = apply(job, EnhanceAll(on=True))
    assert recipe(job, "a") == Recipe(steps=(Enhance(),))
    job = apply(job, Worked(photos=(photo,)))
    assert recipe(job, "a") is None
    assert recipe(job, "b") == Recipe(steps=(Enhance(),))
    mine, own = Recipe(steps=(Exposure(stops=1),)), Recipe(steps=(Exposure(stops=-1),))
    job = apply(job, MendPhoto(photo=photo, recipe=mine))
    assert recipe(job, "a") == mine
    job = apply(job, MendOpening(sheet="p", opening="a", recipe=own))
    assert recipe(job, "a") == own
    assert recipe(apply(job, MendOpening(sheet="p", opening="a", recipe=None)), "a") == mine
    with pytest.raises(EditRefused, match="is empty"):
        apply(three, MendOpening(sheet="p", opening="a", recipe=mine))


def test_reading_order_goes_page_by_page_and_row_by_row(templates: dict, lab: LabSheet) -> None:
    spread = templates["album-spread-18"].sheets[0].layout
    order = [int(o.id.split("-")[1]) for o in reading_order(spread)]
    assert sorted(order) == list(range(1, 19))
    assert set(order[:9]) == set(range(1, 10))  # the left page first
    assert order[0] == 1
    assert order[9] == 10
    rows = [hole("r1", 200, 60), hole("r2", 60, 63), hole("r3", 60, 140), hole("r4", 130, 58)]
    page = Layout(width_mm=300, height_mm=200, layers=rows)
    assert [o.id for o in reading_order(page)] == ["r2", "r4", "r1", "r3"]


def test_what_is_mended_of_an_opening_goes_with_its_photo() -> None:
    """Another photo that comes to lie there, by hand, by filling or through a span, is not mended with it."""
    mine = Recipe(steps=(Exposure(stops=3),))
    photos = PHOTOS[:3]
    job = job_of(hole("a", 60, 50), hole("b", 150, 50), hole("c", 240, 50))
    for opening, photo in zip("ab", photos, strict=False):
        job = apply(job, Put(sheet="p", opening=opening, photo=photo.id))
    job = apply(job, MendOpening(sheet="p", opening="a", recipe=mine))

    def mended(edited: Job) -> dict[str, Recipe]:
        return dict(edited.filling("p").tones)

    stays = [
        Put(sheet="p", opening="a", photo=photos[0].id),
        SpanOver(sheet="p", openings=("a", "b"), photo=photos[0].id),
        TakeOut(photos=(photos[1].id,)),
    ]
    assert [mended(apply(job, edit)) for edit in stays] == [{"a": mine}] * 3
    goes = [
        Put(sheet="p", opening="a", photo=photos[2].id),
        SpanOver(sheet="p", openings=("a", "b"), photo=photos[1].id),
        TakeOut(photos=(photos[0].id,)),
        Clear(sheet="p", openings=("a",)),
    ]
    assert [mended(apply(job, edit)) for edit in goes] == [{}] * 4
    swapped = apply(job, Swap(first=at("a"), second=at("b")))
    assert mended(swapped) == {"b": mine}
    spanned = apply(apply(job, stays[1]), MendOpening(sheet="p", opening="b", recipe=mine))
    assert mended(apply(spanned, Put(sheet="p", opening="b", photo=photos[2].id))) == {}
    assert mended(apply(spanned, TakeOut(photos=(photos[0].id,)))) == {}
