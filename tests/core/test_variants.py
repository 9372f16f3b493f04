"""Variants of a template, edition by edition: their sheets, what comes along, what is checked, filled and exported of each."""

from collections.abc import Callable
from pathlib import Path

import pytest

from sutaru.core.checks import check_job
from sutaru.core.document import Job, Photo, Template
from sutaru.core.document.parts import parts, unpack_job
from sutaru.core.edits.apply import apply, label
from sutaru.core.edits.editions import differences
from sutaru.core.edits.kinds import AddEdition, BringIn, ChooseVariant, Fill, Put, TakeList, Write
from sutaru.core.errors import EditRefused
from sutaru.core.lists import Meaning, Table
from sutaru.core.photos import PhotoPixels
from sutaru.core.press.exporting import EVERY, export, pieces
from sutaru.core.press.print_wishes import PrintWish
from sutaru.core.press.printing import _pieces
from tests.conftest import SHELF, fake_photo
from tests.work.test_exports import MADE

WIDE, TALL = fake_photo(1, 6000, 4000), fake_photo(2, 4000, 6000)


@pytest.fixture
def across(templates: dict[str, Template]) -> ChooseVariant:
    return ChooseVariant(edition="holm", template="card-landscape", sheets=templates["card-landscape"].sheets)


@pytest.fixture
def job(job_of: Callable[[str], Job]) -> Job:
    made = apply(job_of("card-portrait"), BringIn(photos=(WIDE, TALL)))
    made = apply(made, Put(sheet="outside", opening=first_opening(made), photo=TALL.id))
    made = apply(made, Write(sheet="inside", layer="names", text="Ola and Maren"))
    return apply(made, AddEdition(id="holm", name="Holm", like="first"))


def first_opening(job: Job) -> str:
    return next(iter(job.sheets[0].layout.openings_by_id))


def names(job: Job, edition: str) -> list[str]:
    return [sheet.id for sheet in job.sheets_of(job.edition(edition))]


def test_an_edition_has_the_sheets_of_its_variant_and_what_it_had_comes_along(job: Job, across: ChooseVariant) -> None:
    both = apply(job, across)
    assert names(both, "first") == [sheet.id for sheet in job.sheets]
    own = names(both, "holm")
    assert not set(own) & set(names(both, "first"))
    assert len(both.sheets) == len(names(both, "first")) + len(own)
    assert {sheet.variant for sheet in both.sheets} == {"card-portrait", "card-landscape"}
    held = [both.edition("holm").filling(sheet).photos() for sheet in own]
    assert held[0] == {TALL.id}
    words = [both.edition("holm").filling(sheet).texts for sheet in own]
    assert {"names": "Ola and Maren"} in words
    assert label(job, across) == "choose another variant for Holm"
    # There and back: nothing that was fitted is lost, and no sheet comes twice.
    back = apply(both, ChooseVariant(edition="holm", template="card-portrait"))
    assert back.edition("holm").filling("outside") == job.edition("holm").filling("outside")
    again = apply(back, across)
    assert len(again.sheets) == len(both.sheets)
    assert again.edition("holm").fillings == both.edition("holm").fillings
    (said,) = differences(both, both.editions[0], both.edition("holm"))
    assert (said.what, said.here, said.there) == ("variant", "card-portrait", "card-landscape")


def test_it_comes_back_from_its_parts(job: Job, across: ChooseVariant) -> None:
    both = apply(job, across)
    held = {part.digest: part.pack() for part in parts(both)}
    facts = {photo.id: photo for photo in (WIDE, TALL)}
    assert unpack_job(both.digest, held.__getitem__, lambda ids: {i: facts[i] for i in ids}, {}) == both
    assert Job.model_validate_json(both.model_dump_json()) == both
    assert "variant" not in job.model_dump_json().replace('"variants"', "")  # documents without any are as they were


def test_only_its_own_sheets_are_checked_and_filled(job: Job, across: ChooseVariant) -> None:
    both = apply(job, across)
    assert {finding.sheet for finding in check_job(both, "holm")} <= set(names(both, "holm"))
    assert {finding.sheet for finding in check_job(both, "first")} <= set(names(both, "first"))
    more = apply(both, BringIn(photos=(fake_photo(3, 6000, 4000),)))
    filled = apply(more, Fill(edition="holm", only_empty=False, also_by_hand=True))
    touched = {
        sheet for sheet, filling in filled.edition("holm").fillings.items()
        if filling.photos() != more.edition("holm").filling(sheet).photos()
    }  # fmt: skip
    assert touched <= set(names(both, "holm"))


def test_what_cannot_be_chosen_is_said(job: Job, job_of: Callable[[str], Job], across: ChooseVariant) -> None:
    with pytest.raises(EditRefused, match="variant was not found"):
        apply(job, ChooseVariant(edition="holm", template="card-unknown"))
    with pytest.raises(EditRefused, match="edition was not found"):
        apply(job, across.copy_with(edition="gone"))
    with pytest.raises(EditRefused, match="book or a calendar"):
        apply(job_of("calendar-desk"), across.copy_with(edition=""))


def test_files_and_print_sheets_hold_each_editions_own(
    job: Job, across: ChooseVariant, pile: list[tuple[Path, Photo]], tmp_path: Path
) -> None:
    both = apply(job, across)
    files = [(piece.edition, piece.sheets) for piece in pieces(both, "jpeg", EVERY)]
    assert [sheets for edition, sheets in files if edition == "holm"] == [(sheet,) for sheet in names(both, "holm")]
    assert [piece.file for piece in pieces(both, "jpeg", EVERY)] == [
        "First_Test_01.jpg", "First_Test_02.jpg", "Holm_Test_01.jpg", "Holm_Test_02.jpg",
    ]  # fmt: skip
    assert _pieces(both, PrintWish(width_mm=450, height_mm=320, duplex="long", copies=1)) == [(0, 1), (2, 3)]
    known = [photo for _, photo in pile[:2]]
    ours = both.copy_with(pile=type(both.pile)(photos=tuple(known)))
    for own, sheet in (("first", "outside"), ("holm", names(both, "holm")[0])):
        opening = next(iter(ours.sheets_by_id[sheet].layout.openings_by_id))
        ours = apply(ours, Put(sheet=sheet, edition=own, opening=opening, photo=known[0].id))
    lab = ours.lab.copy_with(ppi_target=72, ppi_least=50)
    *written, _ = export(
        ours.copy_with(lab=lab),
        tmp_path,
        PhotoPixels(lambda photo: pile[0][0]),
        MADE,
        assets=SHELF.asset,
        edition=EVERY,
    )
    assert len(written) == 4


def test_a_list_chooses_by_each_rows_photo(job: Job, across: ChooseVariant) -> None:
    """Where the job holds both, a family's card lies as its photo does."""
    both = apply(job, across)
    table = Table(columns=("name", "photo"), rows=(("Brandvik", WIDE.name), ("Moor", TALL.name)))
    photo = Meaning(kind="photo", sheet="outside", layer=first_opening(job))
    taken = apply(both, TakeList(like="first", table=table, meanings=(Meaning(kind="name"), photo)))
    by_name = {own.name: own for own in taken.editions}
    assert [by_name[name].variant for name in ("Brandvik", "Moor")] == ["card-landscape", "card-portrait"]
    own = by_name["Brandvik"]
    assert own.filling(names(taken, own.id)[0]).photos() == {WIDE.id}
    # What a hand chose since stays when the list is run again and says the same of it.
    turned = apply(taken, ChooseVariant(edition=own.id, template="card-portrait"))
    rerun = apply(turned, TakeList(like="first", table=table, meanings=(Meaning(kind="name"), photo)))
    assert rerun.edition(own.id).variant == "card-portrait"
    assert "Ola and Maren" in str(own.fillings[names(taken, own.id)[1]].texts)
