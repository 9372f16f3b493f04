"""Editions beside each other: where they differ, one thing taken over; a job begun again for new photos."""

from collections.abc import Callable

import pytest

from sutaru.core.document import Job
from sutaru.core.edits.apply import apply, label
from sutaru.core.edits.editions import differences, remove_photos
from sutaru.core.edits.kinds import (
    AddEdition,
    BringIn,
    Fill,
    MendOpening,
    MendPhoto,
    Place,
    Put,
    ReplacePhotos,
    Say,
    SetCopies,
    SpanOver,
    Star,
    TakeOver,
    Write,
)
from sutaru.core.errors import EditRefused
from sutaru.core.fitting import clamp_placement
from tests.conftest import fake_photo

PHOTOS = tuple(fake_photo(n, 6000, 4000) if n % 2 else fake_photo(n, 4000, 6000) for n in range(1, 25))
BRIGHT = {"steps": [{"kind": "exposure", "stops": 0.5}]}


@pytest.fixture
def job(job_of: Callable[[str], Job]) -> Job:
    filled = apply(apply(job_of("album-spread-18"), BringIn(photos=PHOTOS)), Fill())
    return apply(filled, AddEdition(id="two", name="Brandvik", like=filled.editions[0].id))


def differ(job: Job) -> list[tuple[str, str]]:
    here, there = job.editions[0], job.edition("two")
    return [(one.what, one.layer or one.field) for one in differences(job, here, there)]


def two(job: Job, kind, **more) -> Job:  # type: ignore[no-untyped-def]
    return apply(job, kind(**{"sheet": "spread", "edition": "two", **more}))


@pytest.fixture
def other(job: Job) -> Job:
    """Two editions with each kind of difference."""
    held = job.filling("spread").photo_in
    unused = next(
        photo.id for photo in PHOTOS if photo.id not in {held(o) for o in job.sheets[0].layout.openings_by_id}
    )
    job = two(job, Put, opening="opening-1", photo=unused)
    job = two(job, Place, opening="opening-2", fit="cover", centre=(0.5, 0.5), zoom=1.5, turn_deg=0.0, mirror=True)
    job = two(job, MendOpening, opening="opening-3", recipe=BRIGHT)
    job = apply(job, MendPhoto(edition="two", photo=held("opening-4"), recipe=BRIGHT))  # type: ignore[arg-type]
    text = next(iter(job.sheets[0].layout.texts_by_id), None)
    if text:
        job = two(job, Write, layer=text, text="To Ola")
    return apply(job, SetCopies(edition="two", copies=12))


def test_where_two_editions_differ(job: Job, other: Job) -> None:
    assert differ(job) == []
    texts = list(other.sheets[0].layout.texts_by_id)
    assert differ(other) == [
        ("photo", "opening-1"), ("fit", "opening-2"), ("tone", "opening-3"), ("tone", "opening-4"),
        *[("words", text) for text in texts[:1]], ("copies", ""),
    ]  # fmt: skip
    found = differences(other, other.editions[0], other.edition("two"))
    names = {photo.id: photo.name for photo in PHOTOS}
    assert (found[0].here, found[0].there, found[0].number) == (
        names[other.filling("spread").photo_in("opening-1")], names[other.filling("spread", "two").photo_in("opening-1")], 1,
    )  # fmt: skip
    back = differences(other, other.edition("two"), other.editions[0])
    assert [(one.here, one.there) for one in back] == [(one.there, one.here) for one in found]


def test_one_thing_and_then_all_is_taken_over(other: Job) -> None:
    first = other.editions[0].id
    one = apply(other, TakeOver(edition=first, other="two", sheet="spread", layers=("opening-2",)))
    assert one.filling("spread").placements["opening-2"] == other.filling("spread", "two").placements["opening-2"]
    assert ("fit", "opening-2") not in differ(one)
    assert len(differ(one)) == len(differ(other)) - 1
    assert one.edition("two") is other.edition("two")
    assert label(other, TakeOver(edition=first, other="two", sheet="spread", layers=("opening-2",))) == (
        "take over 1 thing from Brandvik"
    )
    layers = tuple(layer for what, layer in differ(other) if what != "copies")
    both = apply(other, TakeOver(edition=first, other="two", sheet="spread", layers=layers, copies=True))
    assert differ(both) == []
    assert both.editions[0].copies == 12


def test_a_photo_that_runs_through_several_openings_comes_whole_and_goes_whole(job: Job) -> None:
    spanned = two(job, SpanOver, openings=("opening-1", "opening-2"))
    first = job.editions[0].id
    whole = apply(spanned, TakeOver(edition=first, other="two", sheet="spread", layers=("opening-1",)))
    assert differ(whole) == []
    assert not {"opening-1", "opening-2"} & set(whole.filling("spread").placements)
    back = apply(spanned, TakeOver(edition="two", other=first, sheet="spread", layers=("opening-2",)))
    assert differ(back) == []
    # Two photos run through openings that are not the same: the one that was there ends, in all of its openings.
    mine = apply(spanned, SpanOver(sheet="spread", openings=("opening-2", "opening-3")))
    taken = apply(mine, TakeOver(edition=first, other="two", sheet="spread", layers=("opening-1",)))
    (span,) = taken.filling("spread").spans.values()
    assert set(span.openings) == {"opening-1", "opening-2"}
    assert taken.filling("spread").photo_in("opening-3") == job.filling("spread").photo_in("opening-3")


def test_what_is_said_is_taken_over_by_name(job: Job) -> None:
    job = job.copy_with(
        editions=(
            job.editions[0].copy_with(fields={"who": "Ola"}),
            job.edition("two").copy_with(fields={"family": "Holm"}),
        )
    )
    assert differ(job) == [("field", "who"), ("field", "family")]
    taken = apply(job, TakeOver(other="two", fields=("family", "who")))
    assert taken.editions[0].fields == {"family": "Holm"}
    assert differ(taken) == []


@pytest.mark.parametrize(
    ("edit", "sentence"),
    [
        (TakeOver(other="first", sheet="spread", layers=("opening-1",)), "nothing to take over from itself"),
        (TakeOver(other="gone", sheet="spread", layers=("opening-1",)), "edition was not found"),
        (TakeOver(other="two", sheet="spread", layers=("nothing",)), "no opening nothing"),
        (TakeOver(other="two", layers=("opening-1",)), "which sheet"),
        (TakeOver(other="two"), "what is to be taken over"),
    ],
)
def test_what_cannot_be_taken_over_is_said(job: Job, edit: TakeOver, sentence: str) -> None:
    with pytest.raises(EditRefused, match=sentence):
        apply(job, edit)


def test_again_keeps_all_but_photos(other: Job) -> None:
    again = remove_photos(apply(other, Say(fields={"occasion": "Festival"})))
    assert again.photos == ()
    assert (again.fields, again.sheets, again.lab) == ({"occasion": "Festival"}, other.sheets, other.lab)
    assert [(own.name, own.copies) for own in again.editions] == [("First", 1), ("Brandvik", 12)]
    assert all(not filling.photos() for own in again.editions for filling in own.fillings.values())
    assert again.filling("spread", "two").texts == other.filling("spread", "two").texts
    # How an opening is mended waits for its photo, and stays with it when it is filled anew.
    fresh = tuple(fake_photo(n, 6000, 4000) for n in range(31, 55))
    filled = apply(apply(again, BringIn(photos=fresh)), Fill(edition="two"))
    recipe = other.filling("spread", "two").tones["opening-3"]
    assert filled.filling("spread", "two").photo_in("opening-3") in {photo.id for photo in fresh}
    assert filled.filling("spread", "two").tones["opening-3"] == recipe
    # From then on it goes with that photo.
    swapped = apply(filled, Put(sheet="spread", edition="two", opening="opening-3", photo=fresh[-1].id))
    held = filled.filling("spread", "two").photo_in("opening-3")
    assert ("opening-3" in swapped.filling("spread", "two").tones) == (held == fresh[-1].id)


# --- photos that come back ---------------------------------------------------------------------------------------------


def test_a_photo_mended_elsewhere_takes_the_places_of_the_other(other: Job) -> None:
    """In all editions, as it was fitted; what was said of it holds; one undo step."""
    old = PHOTOS[0]
    back = fake_photo(77, old.width * 2, old.height * 2)
    places = [
        (own.id, sheet, opening, lies)
        for own in other.editions for sheet, filling in own.fillings.items()
        for opening, lies in filling.placements.items() if lies.photo == old.id
    ]  # fmt: skip
    assert places
    job = apply(apply(other, BringIn(photos=(back,))), Star(photos=(old.id,), stars=4))
    job = apply(job, MendPhoto(photo=old.id, recipe=BRIGHT))  # type: ignore[arg-type]
    edit = ReplacePhotos(photos=({"old": old.id, "new": back.id},))  # type: ignore[arg-type]
    done = apply(job, edit)
    assert label(job, edit) == "replace 1 photo"
    for edition, sheet, opening, lies in places:
        now = done.edition(edition).filling(sheet).placements[opening]
        assert now == lies.copy_with(photo=back.id)  # the same shape: the same fit
    assert not any(old.id in filling.photos() for own in done.editions for filling in own.fillings.values())
    known = done.pile.by_id
    assert (known[old.id].aside, known[back.id].aside, known[back.id].stars) == (True, False, 4)
    assert old.id not in done.editions[0].photo_tones
    assert done.editions[0].photo_tones[back.id] == job.editions[0].photo_tones[old.id]
    assert done.editions[0].filling("spread").by_hand == job.editions[0].filling("spread").by_hand


def test_one_of_another_shape_leaves_no_gap_and_spans_follow(job: Job) -> None:
    spanned = apply(job, SpanOver(sheet="spread", openings=("opening-1", "opening-2")))
    old = spanned.pile.by_id[spanned.filling("spread").photo_in("opening-1")]
    flat = fake_photo(78, 8000, 2000)
    done = apply(
        apply(spanned, BringIn(photos=(flat,))),
        ReplacePhotos(photos=({"old": old.id, "new": flat.id},)),  # type: ignore[arg-type]
    )
    assert done.filling("spread").photo_in("opening-1") == done.filling("spread").photo_in("opening-2") == flat.id
    for opening, lies in done.edition("two").filling("spread").placements.items():
        if lies.photo == flat.id:
            hole = done.sheets[0].layout.openings_by_id[opening]
            assert clamp_placement(hole, flat, lies) == lies
    for wrong, sentence in (
        ([{"old": flat.id, "new": flat.id}], "cannot take its own place"),
        ([{"old": "0" * 16, "new": flat.id}], "not in the pile"),
        ([{"old": old.id, "new": flat.id}, {"old": flat.id, "new": PHOTOS[3].id}], "come and go at once"),
    ):
        with pytest.raises(EditRefused, match=sentence):
            apply(done, ReplacePhotos(photos=tuple(wrong)))  # type: ignore[arg-type]
