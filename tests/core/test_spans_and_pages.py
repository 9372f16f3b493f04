"""Spans in register, openings altered, echoes added, what is pinned, mended and worked on: edits and what they refuse."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from sutaru.core.checks import check, echoes, ledger
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
    Opening,
    Page,
    Placement,
    Recipe,
    Rectangle,
)
from sutaru.core.edits import (
    Alter,
    BringIn,
    Clear,
    EchoTo,
    EnhanceAll,
    Fill,
    Mend,
    Nudge,
    Pin,
    Place,
    Put,
    RemoveEcho,
    SpanOver,
    Swap,
    TakeOut,
    Unspan,
    Worked,
    apply,
    label,
)
from sutaru.core.errors import EditRefused
from sutaru.core.fitting import page_from_photo, reading_order
from tests.conftest import LABS, fake_photo

PHOTOS = tuple(fake_photo(n, 6000, 4000) for n in range(1, 6))


def hole(name: str, x: float, y: float, turn: float = 0.0, **more: object) -> Opening:
    fields = {
        "id": name,
        "outline": Rectangle(width_mm=60, height_mm=50),
        "surface": Flat(centre=(x, y), turn_deg=turn),
    }
    return Opening.model_validate({**fields, **more})


def job_of(*openings: Opening) -> Job:
    page = Page(id="p", name="p", width_mm=300, height_mm=200, layers=openings)
    job = Job(name="n", template="t", product="collage", pages=(page,), lab=LABS["gullwing-300"])
    return apply(job, BringIn(photos=PHOTOS))


@pytest.fixture
def three() -> Job:
    return job_of(
        hole("a", 60, 60), hole("b", 130, 60, 8), hole("c", 200, 60, outline=Ellipse(width_mm=50, height_mm=50))
    )


def where(job: Job, opening: str, points: list[tuple[float, float]]) -> np.ndarray:
    """Photo px on the page, through what an opening shows."""
    hole, lies = job.openings_by_id[opening], job.edition.placements[opening]
    return page_from_photo(hole, job.photos_by_id[lies.photo], lies).apply(points)


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
    job = apply(three, SpanOver(openings=("a", "b", "c"), photo=PHOTOS[0].id))
    in_register(job, "a", "b", "c")
    held = job.edition.placements[which]
    moved = Place(
        opening=which, centre=(held.centre[0] + dx, held.centre[1]), zoom=held.zoom * zoom, turn_deg=turn, mirror=mirror
    )
    job = apply(job, moved)
    in_register(job, "a", "b", "c")
    for opening in "abc":  # no gaps: the outline lies on the photo
        onto = page_from_photo(job.openings_by_id[opening], PHOTOS[0], job.edition.placements[opening])
        polygon = job.openings_by_id[opening].page_from_opening.apply(job.openings_by_id[opening].outline.polygons()[0])
        back = onto.inverse(polygon)
        assert back.min() > -1e-3
        assert (back.max(axis=0) < np.array([6000, 4000]) + 1e-3).all()


def test_what_is_done_to_one_opening_of_a_span_is_done_to_it_all(three: Job) -> None:
    job = apply(apply(three, Put(opening="a", photo=PHOTOS[1].id)), SpanOver(openings=("a", "b", "c")))
    assert {p.photo for p in job.edition.placements.values()} == {PHOTOS[1].id}
    assert not [f for f in check(job) if f.rule == "same_photo_twice"]
    job = apply(job, Put(opening="c", photo=PHOTOS[2].id))
    assert {p.photo for p in job.edition.placements.values()} == {PHOTOS[2].id}
    in_register(job, "a", "b", "c")
    # Moving an opening moves its window over the photo.
    job = apply(job, Alter(layer=job.openings_by_id["b"].having(surface=Flat(centre=(130, 110), turn_deg=-20))))
    in_register(job, "a", "b", "c")
    rows = {row.opening: row for row in ledger(job, [])}
    assert {row.span for row in rows.values()} == {"span-1"}
    assert len(rows["b"].span_outline) == 3
    with pytest.raises(EditRefused, match="Every opening is pinned"):
        apply(job, Fill())
    with pytest.raises(EditRefused, match="covers them. End the span first"):
        apply(job, Place(opening="a", fit="whole", centre=(0.5, 0.5), zoom=1, turn_deg=0, mirror=False))
    with pytest.raises(EditRefused, match="part of a photo that runs on"):
        apply(job, Swap(first="a", second="b"))
    ended = apply(job, Unspan(opening="b"))
    assert ended.edition.placements == job.edition.placements
    assert not ended.edition.spans
    assert not apply(job, Clear(openings=("b",))).edition.placements
    assert not apply(job, TakeOut(photos=(PHOTOS[2].id,))).edition.spans


def test_a_nudged_opening_shifts_alone_and_is_put_back(three: Job) -> None:
    job = apply(three, SpanOver(openings=("a", "b", "c"), photo=PHOTOS[0].id))
    job = apply(job, Place(opening="a", centre=(0.4, 0.5), zoom=9, turn_deg=0, mirror=False))
    nudged = apply(job, Nudge(opening="b", by=(2.0, -1.0)))
    assert where(nudged, "b", CORNERS) - where(nudged, "a", CORNERS) == pytest.approx(
        np.tile([2.0, -1.0], (4, 1)), abs=1e-4
    )
    in_register(nudged, "a", "c")
    in_register(apply(nudged, Nudge(opening="b", by=(0.0, 0.0))), "a", "b", "c")
    with pytest.raises(EditRefused, match="in no span"):
        apply(three, Nudge(opening="a", by=(1, 1)))


def test_spans_that_cannot_be(three: Job) -> None:
    slanted = hole("d", 0, 0, surface=Corners(points=((0, 0), (60, 5), (60, 40), (0, 50))))
    job = apply(job_of(hole("a", 60, 60), slanted), Put(opening="a", photo=PHOTOS[0].id))
    with pytest.raises(EditRefused, match="slanted, bent or stretched"):
        apply(job, SpanOver(openings=("a", "d")))
    with pytest.raises(EditRefused, match="all empty"):
        apply(three, SpanOver(openings=("a", "b")))
    with pytest.raises(EditRefused, match="two openings at least"):
        apply(three, SpanOver(openings=("a", "a"), photo=PHOTOS[0].id))
    spanned = apply(three, SpanOver(openings=("a", "b"), photo=PHOTOS[0].id))
    with pytest.raises(EditRefused, match="part of a photo that runs on"):
        apply(spanned, SpanOver(openings=("b", "c"), photo=PHOTOS[0].id))
    with pytest.raises(EditRefused, match="slanted, bent"):
        apply(spanned, Alter(layer=spanned.openings_by_id["a"].having(surface=slanted.surface)))


# --- filling --------------------------------------------------------------------------------------------------------


def test_pinned_openings_stay_and_order_is_kept(three: Job) -> None:
    job = apply(apply(three, Put(opening="b", photo=PHOTOS[4].id)), Pin(openings=("b",)))
    filled = apply(job, Fill(how="order"))
    order = [filled.edition.placements[o].photo for o in "abc"]
    assert order[1] == PHOTOS[4].id
    assert PHOTOS[4].id not in (order[0], order[2])
    ids = [p.id for p in filled.photos]
    assert ids.index(order[0]) < ids.index(order[2])
    only = apply(job, Fill(openings=("c",)))
    assert set(only.edition.placements) == {"b", "c"}
    assert apply(filled, Pin(openings=("b",), pinned=False)).edition.pins == ()
    with pytest.raises(EditRefused, match="Every opening is pinned"):
        apply(apply(job, Pin(openings=("a", "b", "c"))), Fill())
    assert label(job, Fill(how="order")) == "fill all openings in order"
    assert label(job, Pin(openings=("a", "c"))) == "pin 1, 3"


def test_a_swap_keeps_or_gives_up_the_fit(three: Job) -> None:
    job = apply(three, Put(opening="a", photo=PHOTOS[0].id))
    job = apply(job, Place(opening="a", centre=(0.4, 0.5), zoom=2, turn_deg=3, mirror=True))
    job = apply(job, Mend(opening="a", recipe=Recipe(steps=(Exposure(stops=1),))))
    kept = apply(job, Swap(first="a", second="b", keep_fit=True)).edition
    assert (kept.placements["b"].zoom, kept.placements["b"].turn_deg, kept.placements["b"].mirror) == (2, 3, True)
    assert set(kept.tones) == {"b"}  # what was mended goes along
    fresh = apply(job, Swap(first="a", second="b")).edition
    assert fresh.placements["b"] == Placement(photo=PHOTOS[0].id, centre=fresh.placements["b"].centre)


# --- openings and echoes --------------------------------------------------------------------------------------------


def test_altering_an_opening_keeps_its_photo_fitted(three: Job) -> None:
    job = apply(three, Put(opening="a", photo=PHOTOS[0].id))
    before = job.openings_by_id["a"]
    dressed = apply(job, Alter(layer=before.having(border=Border(width_mm=2))))
    assert dressed.openings_by_id["a"].border == Border(width_mm=2)
    assert label(job, Alter(layer=before.having(border=Border(width_mm=2)))) == "dress 1"
    slanted = before.having(surface=Corners(points=((30, 30), (90, 35), (90, 80), (30, 85))))
    laid = apply(job, Alter(layer=slanted))
    assert laid.edition.placements == job.edition.placements
    assert label(job, Alter(layer=slanted)) == "lay 1"
    tall = apply(job, Alter(layer=before.having(outline=Rectangle(width_mm=20, height_mm=90))))
    onto = page_from_photo(tall.openings_by_id["a"], PHOTOS[0], tall.edition.placements["a"])
    assert onto.inverse([(50.0, 15.0), (70.0, 105.0)]).min() >= -1e-6
    with pytest.raises(EditRefused, match="There is no opening nowhere"):
        apply(job, Alter(layer=before.having(id="nowhere")))


def test_echoes_come_below_their_source_change_and_go(three: Job) -> None:
    job = apply(three, EchoTo(layer=Echo(id="echo-b", of="b")))
    assert [layer.id for layer in job.pages[0].layers] == ["a", "echo-b", "b", "c"]
    darker = apply(job, EchoTo(layer=Echo(id="echo-b", of="b", darken=0.5)))
    assert [layer.id for layer in darker.pages[0].layers] == ["a", "echo-b", "b", "c"]
    (row,) = echoes(darker)
    assert (row.of, len(row.corners)) == ("b", 4)
    assert [layer.id for layer in apply(darker, RemoveEcho(echo="echo-b")).pages[0].layers] == ["a", "b", "c"]
    with pytest.raises(EditRefused, match="already something called c"):
        apply(job, EchoTo(layer=Echo(id="c", of="b")))
    with pytest.raises(EditRefused, match="no echo echo-x"):
        apply(job, RemoveEcho(echo="echo-x"))


# --- mending --------------------------------------------------------------------------------------------------------


def test_recipes_of_openings_go_before_those_of_photos_and_worked_photos_are_left_alone(three: Job) -> None:
    job = apply(three, Fill())
    photo = job.edition.placements["a"].photo
    assert job.recipe("a") is None
    job = apply(job, EnhanceAll(on=True))
    assert job.recipe("a") == Recipe(steps=(Enhance(),))
    job = apply(job, Worked(photos=(photo,)))
    assert job.recipe("a") is None
    assert job.recipe("b") == Recipe(steps=(Enhance(),))
    mine, own = Recipe(steps=(Exposure(stops=1),)), Recipe(steps=(Exposure(stops=-1),))
    job = apply(job, Mend(photo=photo, recipe=mine))
    assert job.recipe("a") == mine
    job = apply(job, Mend(opening="a", recipe=own))
    assert job.recipe("a") == own
    assert apply(job, Mend(opening="a", recipe=None)).recipe("a") == mine
    with pytest.raises(EditRefused, match="an opening, or a photo"):
        apply(job, Mend(recipe=mine))
    with pytest.raises(EditRefused, match="is empty"):
        apply(three, Mend(opening="a", recipe=mine))


def test_reading_order_goes_page_by_page_and_row_by_row(templates: dict, lab: LabSheet) -> None:
    spread = templates["album-spread-18"].pages[0]
    order = [int(o.id.split("-")[1]) for o in reading_order(spread)]
    assert sorted(order) == list(range(1, 19))
    assert set(order[:9]) == set(range(1, 10))  # the left page first
    assert order[0] == 1
    assert order[9] == 10
    rows = [hole("r1", 200, 60), hole("r2", 60, 63), hole("r3", 60, 140), hole("r4", 130, 58)]
    page = Page(id="p", name="p", width_mm=300, height_mm=200, layers=rows)
    assert [o.id for o in reading_order(page)] == ["r2", "r4", "r1", "r3"]
