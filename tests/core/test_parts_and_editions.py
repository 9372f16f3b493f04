"""A job taken apart into parts and put together again; editions; what a long filling keeps when much has changed meanwhile."""

from collections.abc import Callable

import pytest

from sutaru.core.document import Job, Photo
from sutaru.core.document.parts import new_parts, parts, unpack_job
from sutaru.core.edits.apply import apply, label
from sutaru.core.edits.kinds import (
    AddEdition,
    BringIn,
    Clear,
    Fill,
    Laid,
    Lay,
    Mark,
    MendOpening,
    Pin,
    Put,
    RemoveEdition,
    RenameEdition,
    SetFields,
    SpanOver,
    TakeOut,
    Write,
)
from sutaru.core.errors import EditRefused, FileRefused
from sutaru.core.fitting import drawing_key, resolve_sheet
from tests.conftest import fake_photo, shown

PHOTOS = tuple(fake_photo(n, 6000, 4000) if n % 2 else fake_photo(n, 4000, 6000) for n in range(1, 25))
FACTS = {photo.id: photo for photo in PHOTOS}


@pytest.fixture
def job(job_of: Callable[[str], Job]) -> Job:
    return apply(job_of("album-spread-18"), BringIn(photos=PHOTOS))


def stored(*states: Job) -> dict[str, bytes]:
    """Parts as they would lie in the store: what each state adds to the one before it."""
    found: dict[str, bytes] = {}
    before: Job | None = None
    for state in states:
        found |= {part.digest: part.pack() for part in new_parts(state, before)}
        before = state
    return found


def opened(job: Job, held: dict[str, bytes]) -> Job:
    return unpack_job(job.digest, held.__getitem__, lambda ids: {i: FACTS[i] for i in ids}, {})


def edited(job: Job) -> list[Job]:
    """States of a day's work, one after another."""
    states = [job]
    for edit in (
        Fill(),
        AddEdition(id="two", name="Second copy", like=job.editions[0].id),
        Clear(sheet="spread", edition="two", openings=("opening-3",)),
        Pin(sheet="spread", openings=("opening-1",)),
        Mark(photo=PHOTOS[0].id, areas=()),
        SetFields(sheet="spread", layers=("opening-2",), fields={"border.width_mm": 1.5}),
        MendOpening(sheet="spread", opening="opening-2", recipe={"steps": []}),  # type: ignore[arg-type]
        TakeOut(photos=(PHOTOS[5].id,)),
        RemoveEdition(edition="two"),
    ):
        states.append(apply(states[-1], edit))
    return states


def test_every_state_comes_back_from_its_parts(job: Job) -> None:
    states = edited(job)
    held = stored(*states)
    for state in states:
        again = opened(state, held)
        assert again == state
        assert again.digest == state.digest
        assert {part.digest for part in parts(again)} <= held.keys()


def test_an_edit_adds_only_what_it_changed(job: Job) -> None:
    filled = apply(job, Fill())
    changed = apply(filled, Clear(sheet="spread", openings=("opening-3",)))
    kinds = [type(part).__name__ for part in new_parts(changed, filled)]
    assert kinds == ["Filling", "Edition", "Job"]
    bordered = apply(filled, SetFields(sheet="spread", layers=("opening-2",), fields={"opacity": 0.5}))
    assert [type(part).__name__ for part in new_parts(bordered, filled)] == ["Layout", "SheetList", "Job"]
    assert [type(part).__name__ for part in new_parts(apply(filled, Mark(photo=PHOTOS[0].id, areas=())), filled)] == [
        "PileChunk", "Pile", "Job",
    ]  # fmt: skip


def test_a_part_that_is_missing_or_altered_is_said(job: Job) -> None:
    held = stored(job)
    with pytest.raises(FileRefused, match=r"^A part of this job cannot be read\. Go back"):
        opened(job, {k: v for k, v in held.items() if k != job.lab.digest})
    with pytest.raises(FileRefused, match="damaged on the disk. Go back to an earlier state"):
        opened(job, held | {job.lab.digest: held[job.lab.digest].replace(b"gullwing", b"gullwinh")})


def test_editions_share_sheets_and_pile_and_nothing_else(job: Job) -> None:
    job = apply(job, Put(sheet="spread", opening="opening-1", photo=PHOTOS[0].id))
    first = job.editions[0].id
    two = apply(job, AddEdition(id="two", name="Brandvik", like=first))
    empty = apply(two, AddEdition(id="three", name="Orme"))
    assert (len(empty.edition("two").filling("spread").placements), len(empty.edition("three").fillings)) == (1, 0)
    other = apply(empty, Put(sheet="spread", edition="two", opening="opening-1", photo=PHOTOS[2].id))
    assert other.filling("spread").placements["opening-1"].photo == PHOTOS[0].id
    assert resolve_sheet(other, "spread", "two").by_id["opening-1"].photo == PHOTOS[2]
    # A layout edit shows in all; a photo taken out goes from all.
    paler = apply(other, SetFields(sheet="spread", layers=("opening-1",), fields={"opacity": 0.5}))
    assert {resolve_sheet(paler, "spread", e.id).by_id["opening-1"].layer.opacity for e in paler.editions} == {0.5}  # type: ignore[union-attr]
    without = apply(paler, TakeOut(photos=(PHOTOS[0].id, PHOTOS[2].id)))
    assert all(resolve_sheet(without, "spread", e.id).by_id["opening-1"].photo is None for e in without.editions)
    named = apply(without, RenameEdition(edition="three", name="Skarsund"))
    assert [e.name for e in named.editions][1:] == ["Brandvik", "Skarsund"]


@pytest.mark.parametrize(
    ("edit", "sentence"),
    [
        (AddEdition(id="two", name="x"), "There is an edition of that id already"),
        (AddEdition(id="three", name="x", like="gone"), "This edition was not found in this job"),
        (RemoveEdition(edition="gone"), "This edition was not found in this job"),
        (Clear(sheet="spread", edition="gone", openings=("opening-1",)), "This edition was not found in this job"),
    ],
)
def test_editions_that_are_not_there_are_said(job: Job, edit, sentence: str) -> None:
    job = apply(job, AddEdition(id="two", name="Two"))
    with pytest.raises(EditRefused, match=sentence):
        apply(job, edit)


def test_the_last_edition_stays(job: Job) -> None:
    with pytest.raises(EditRefused, match="keeps at least one"):
        apply(job, RemoveEdition(edition=job.editions[0].id))


def test_edition_labels(job: Job) -> None:
    two = apply(job, AddEdition(id="two", name="Brandvik"))
    assert label(job, AddEdition(id="two", name="Brandvik")) == "add the edition Brandvik"
    assert label(two, RemoveEdition(edition="two")) == "delete the edition Brandvik"


def test_the_same_sheet_has_the_same_name_whatever_happens_elsewhere(job: Job) -> None:
    """What decides how a sheet looks is in its key; what does not is not."""
    job = apply(job, Put(sheet="spread", opening="opening-1", photo=PHOTOS[0].id))

    def key(state: Job) -> str:
        return drawing_key(state, "spread", state.editions[0], {})

    same = [
        apply(job, AddEdition(id="two", name="x")),
        apply(job, Mark(photo=PHOTOS[8].id, areas=())),
        apply(job, TakeOut(photos=(PHOTOS[8].id,))),
    ]
    assert {key(state) for state in same} == {key(job)}
    others = [
        apply(job, Mark(photo=PHOTOS[0].id, areas=())),
        apply(job, Pin(sheet="spread", openings=("opening-1",))),
        apply(job, SetFields(sheet="spread", layers=("opening-7",), fields={"opacity": 0.9})),
        job.copy_with(enhance=not job.enhance),
    ]
    assert len({key(job), *map(key, others)}) == 5


def laid(job: Job, before: Job) -> Lay:
    """What a filling of ``job`` chose, as a long one hands it in."""
    was = before.filling("spread")
    return Lay(
        laid=tuple(
            Laid(sheet="spread", opening=o, was=was.photo_in(o), placement=p)
            for o, p in apply(job, Fill()).filling("spread").placements.items()
        )
    )


def test_a_long_filling_passes_over_what_was_touched_meanwhile(job: Job) -> None:
    """While it worked one opening was filled by hand, one pinned, two spanned, and a photo it chose was taken out."""
    chosen = laid(job, job)
    by_opening = {entry.opening: entry for entry in chosen.laid}
    lost = by_opening["opening-5"].placement.photo  # type: ignore[union-attr]
    now = apply(job, Put(sheet="spread", opening="opening-1", photo=PHOTOS[20].id))
    now = apply(now, Pin(sheet="spread", openings=("opening-2",)))
    now = apply(now, SpanOver(sheet="spread", openings=("opening-3", "opening-4"), photo=PHOTOS[21].id))
    now = apply(now, TakeOut(photos=(lost,)))
    touched = shown(now)
    done = shown(apply(now, chosen))
    for opening, entry in by_opening.items():
        if opening in ("opening-1", "opening-3", "opening-4"):
            assert done[opening] == touched[opening]
        elif opening == "opening-2" or entry.placement.photo == lost:  # type: ignore[union-attr]
            assert opening not in done
        else:
            assert done[opening].photo == entry.placement.photo  # type: ignore[union-attr]


def test_a_long_filling_of_which_nothing_is_left_says_so(job: Job) -> None:
    chosen = laid(job, job)
    now = apply(job, Pin(sheet="spread", openings=tuple(entry.opening for entry in chosen.laid)))
    with pytest.raises(EditRefused, match="Everything was changed meanwhile. Fill again"):
        apply(now, chosen)


def test_words_are_each_edition_s_own(job_of: Callable[[str], Job]) -> None:
    job = apply(job_of("card-portrait"), AddEdition(id="two", name="Two"))
    sheet, text = next((s.id, t) for s in job.sheets for t in s.layout.texts_by_id if t != "imprint")
    job = apply(job, Write(sheet=sheet, edition="two", layer=text, text="With love"))
    assert resolve_sheet(job, sheet, "two").by_id[text].words == "With love"
    assert resolve_sheet(job, sheet).by_id[text].words == job.sheets_by_id[sheet].layout.texts_by_id[text].text


def facts_of(photo: Photo) -> set[str]:
    return set(photo.job_fields())


def test_what_is_said_of_a_photo_lies_in_the_pile_and_facts_do_not(job: Job) -> None:
    assert facts_of(job.photos[0]) == {"id", "name"}
    marked = apply(job, Mark(photo=job.photos[0].id, areas=()))
    assert facts_of(marked.photos[0]) == {"id", "name", "marked"}
    assert b"width" not in marked.pile.pack()
