"""Edits: what each does, what each refuses and says, and that a refusal changes nothing."""

from datetime import datetime

import pytest

from sutaru.core.document import Job, Placement
from sutaru.core.edits.apply import apply, label
from sutaru.core.edits.kinds import (
    BringIn,
    ChooseLab,
    Clear,
    Fill,
    KeepInView,
    Place,
    Put,
    PutAside,
    Rename,
    Spot,
    Star,
    Swap,
    TakeOut,
    Write,
)
from sutaru.core.errors import EditRefused
from sutaru.core.fitting import resolve_sheet
from tests.conftest import LABS, fake_photo, shown

WIDE = [fake_photo(n, 6000, 4000) for n in range(1, 6)]


def at(opening: str, sheet: str = "spread") -> Spot:
    return Spot(sheet=sheet, opening=opening)


def words(job: Job) -> str:
    return resolve_sheet(job, "inside").by_id["greeting"].words


@pytest.fixture
def job(job_of) -> Job:
    return apply(job_of("album-spread-18"), BringIn(photos=tuple(WIDE)))


def test_photos_come_in_once_and_go_out_everywhere(job: Job) -> None:
    assert apply(job, BringIn(photos=tuple(WIDE[:2]))) is job
    job = apply(job, Put(sheet="spread", opening="opening-2", photo=WIDE[0].id))
    job = apply(job, Put(sheet="spread", opening="opening-3", photo=WIDE[0].id))
    left = apply(job, TakeOut(photos=(WIDE[0].id,)))
    assert shown(left) == {}
    assert [p.id for p in left.photos] == [p.id for p in WIDE[1:]]


def test_the_pile_lies_in_order_of_capture(job_of) -> None:
    morning, evening = datetime(2026, 6, 19, 9, 30), datetime(2026, 6, 19, 21, 5)
    late, early = fake_photo(1, 60, 40, taken=evening, name="a.jpg"), fake_photo(2, 60, 40, taken=morning, name="z.jpg")
    tenth, second = fake_photo(3, 60, 40, name="Scan 10.tif"), fake_photo(4, 60, 40, name="scan 2.tif")
    job = apply(apply(job_of("mockup-wall"), BringIn(photos=(tenth, late))), BringIn(photos=(second, early)))
    assert [photo.name for photo in job.photos] == ["z.jpg", "a.jpg", "scan 2.tif", "Scan 10.tif"]


def test_put_replaces_and_swap_exchanges(job: Job) -> None:
    job = apply(job, Put(sheet="spread", opening="opening-2", photo=WIDE[0].id))
    job = apply(job, Put(sheet="spread", opening="opening-2", photo=WIDE[1].id))
    job = apply(job, Swap(first=at("opening-2"), second=at("opening-1")))
    assert {o: p.photo for o, p in shown(job).items()} == {"opening-1": WIDE[1].id}
    job = apply(job, Put(sheet="spread", opening="opening-2", photo=WIDE[2].id))
    job = apply(job, Swap(first=at("opening-2"), second=at("opening-1")))
    assert {o: p.photo for o, p in shown(job).items()} == {"opening-1": WIDE[2].id, "opening-2": WIDE[1].id}


def test_place_is_clamped_and_fit_survives(job: Job) -> None:
    job = apply(job, Put(sheet="spread", opening="opening-2", photo=WIDE[0].id))
    job = apply(job, Place(sheet="spread", opening="opening-2", centre=(9, -9), zoom=0.2, turn_deg=400, mirror=True))
    lies = shown(job)["opening-2"]
    assert (lies.zoom, lies.turn_deg, lies.mirror) == (1.0, 40.0, True)
    assert 0 < lies.centre[0] < 1
    assert 0 < lies.centre[1] < 1


def test_fill_uses_each_photo_once_and_leaves_what_lies(job: Job) -> None:
    job = apply(job, Put(sheet="spread", opening="opening-9", photo=WIDE[4].id))
    kept = shown(job)["opening-9"]
    some = apply(job, Fill(only_empty=True))
    assert shown(some)["opening-9"] == kept
    assert len({p.photo for p in shown(some).values()}) == 5
    assert shown(apply(job, Fill()))["opening-9"] == kept  # a person put it there
    anew = apply(job, Fill(also_by_hand=True))
    assert len(shown(anew)) == 5
    assert "opening-9" not in shown(anew)  # an upright opening gets no wide photo while others are free


def test_what_was_done_by_hand_is_known_and_stays_when_all_is_filled_anew(job: Job) -> None:
    def by_hand(job: Job) -> set[str]:
        return set(job.filling("spread").by_hand)

    filled = apply(job, Fill())
    assert by_hand(filled) == set()
    lies = {"centre": (0.4, 0.5), "zoom": 1.3, "turn_deg": 2, "mirror": False}
    openings = list(shown(filled))[:3]
    fitted = apply(filled, Place(sheet="spread", opening=openings[0], **lies))
    swapped = apply(fitted, Swap(first=at(openings[0]), second=at(openings[1]), keep_fit=True))
    assert by_hand(swapped) == set(openings[:2])
    anew = apply(swapped, Fill(how="order"))
    for opening in openings[:2]:
        assert shown(anew)[opening] == shown(swapped)[opening]
    assert by_hand(apply(anew, Clear(sheet="spread", openings=(openings[0],)))) == {openings[1]}
    every = apply(swapped, Fill(also_by_hand=True))
    assert by_hand(every) == set()
    assert by_hand(apply(swapped, TakeOut(photos=(shown(swapped)[openings[0]].photo,)))) == {openings[1]}
    # Brought into view by the machine it is still the person's.
    assert by_hand(apply(swapped, KeepInView(sheet="spread", openings=(openings[0],)))) == set(openings[:2])


def test_photos_put_aside_are_not_filled_in_and_stars_are_kept(job: Job) -> None:
    first = job.photos[0].id
    aside = apply(job, PutAside(photos=(first,)))
    assert first not in {p.photo for p in shown(apply(aside, Fill())).values()}
    assert first in {
        p.photo for p in shown(apply(apply(aside, PutAside(photos=(first,), aside=False)), Fill())).values()
    }
    starred = apply(job, Star(photos=(first,), stars=4))
    assert starred.pile.by_id[first].stars == 4
    assert label(job, Star(photos=(first,), stars=1)) == "give 1 star to 1 photo"
    assert label(job, PutAside(photos=(first,))) == "put 1 photo aside"
    lying = apply(apply(job, Put(sheet="spread", opening="opening-1", photo=first)), PutAside(photos=(first,)))
    assert shown(lying)["opening-1"].photo == first  # where it lies it stays


def test_fill_passes_sample_photos_over_when_there_are_others(job_of) -> None:
    sample, own = fake_photo(8, 1500, 1000, sample=True), fake_photo(9, 1500, 1000)
    job = apply(job_of("card-landscape"), BringIn(photos=(sample, own)))
    assert shown(apply(job, Fill()))["picture"].photo == own.id


def test_words_change_and_come_back(job_of) -> None:
    job = apply(job_of("card-portrait"), Write(sheet="inside", layer="greeting", text="Fair winds"))
    assert words(job) == "Fair winds"
    assert words(apply(job, Write(sheet="inside", layer="greeting", text=None))) == "With wind and warm wishes"


def test_lab_and_name(job: Job) -> None:
    job = apply(apply(job, ChooseLab(lab=LABS["saltmarsh-250"])), Rename(name="Second spread", customer="Runa"))
    assert (job.lab.ppi_target, job.name, job.customer) == (250, "Second spread", "Runa")


@pytest.mark.parametrize(
    ("edit", "sentence"),
    [
        (Put(sheet="spread", opening="nowhere", photo=WIDE[0].id), 
         "There is no opening nowhere on this sheet. Choose one of the ledger's."),
        (Put(sheet="spread", opening="opening-1", photo="f" * 16), "This photo is not in the pile. Bring it in first."),
        (TakeOut(photos=("f" * 16,)), "This photo is not in the pile. Bring it in first."),
        (Place(sheet="spread", opening="opening-1", centre=(0.5, 0.5), zoom=1, turn_deg=0, mirror=False),
         "This opening is empty. Put a photo into it first."),
        (Swap(first=at("opening-1"), second=at("opening-2")), "Both openings are empty. Put a photo into one of them first."),
        (Swap(first=at("opening-1"), second=at("opening-1")), "A photo cannot be swapped with itself. Choose two openings."),
        (Clear(sheet="spread", openings=("opening-1",)), "There is nothing to clear: the opening is empty."),
        (Write(sheet="spread", layer="opening-1", text="x"), "There is no text opening-1 on this sheet."),
    ],
)  # fmt: skip
def test_refusals(job: Job, edit, sentence: str) -> None:
    before = job.model_dump_json()
    with pytest.raises(EditRefused) as refused:
        apply(job, edit)
    assert str(refused.value) == sentence
    assert job.model_dump_json() == before


def test_fill_without_photos_is_refused(job_of) -> None:
    with pytest.raises(EditRefused, match="There is no unused photo in the pile. Bring photos in first."):
        apply(job_of("album-spread-18"), Fill())


def test_every_edit_has_a_label(job_of) -> None:
    job = apply(job_of("card-portrait"), BringIn(photos=tuple(WIDE)))
    picture = at("picture", "outside")
    edits = [
        BringIn(photos=tuple(WIDE)), TakeOut(photos=(WIDE[0].id,)), Put(**picture.model_dump(), photo=WIDE[0].id),
        Place(**picture.model_dump(), centre=(0.5, 0.5), zoom=1, turn_deg=0, mirror=False), Swap(first=picture, second=picture),
        Clear(sheet="outside", openings=("picture",)), Fill(), Fill(only_empty=True), ChooseLab(lab=job.lab),
        Write(sheet="inside", layer="names", text="x"), Rename(name="n"),
    ]  # fmt: skip
    assert len({label(job, edit) for edit in edits}) == len(edits)


def test_a_copy_never_keeps_what_was_computed_from_the_old_fields(job: Job) -> None:
    assert len(job.pile.by_id) == 5
    assert len(apply(job, TakeOut(photos=(WIDE[0].id,))).pile.by_id) == 4


def test_documents_are_checked_as_they_are_read(job: Job) -> None:
    data = job.model_dump()
    # What is said of a layer or a photo that is not there counts for nothing.
    data["editions"][0]["fillings"] = {"spread": {"placements": {"opening-1": Placement(photo="f" * 16).model_dump()}}}
    assert shown(Job.model_validate(data)) == {}
    data["surprise"] = 1
    with pytest.raises(ValueError, match="surprise"):
        Job.model_validate(data)
    assert Job.model_validate_json(job.model_dump_json()) == job
