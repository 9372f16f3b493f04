"""Sheets moved, swapped, copied: with all that lies on them, in every edition, and their page numbers after them."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from sutaru.core.document import Job, LabSheet, Layout, Sheet, Text
from sutaru.core.edits.apply import apply, label
from sutaru.core.edits.kinds import AddEdition, CopySheet, MoveSheets, RenameSheet, SwapSheets, Write
from sutaru.core.errors import EditRefused
from sutaru.core.fitting import resolve_sheet

LAB = LabSheet(id="lab", name="Lab", ppi_target=300, ppi_least=150)
ROLES = ("cover", "page", "spread", "page", "spread")


def book() -> Job:
    words = Text(id="words", text="{page}", sample=False, centre=(20, 20), width_mm=30, height_mm=10)
    layout = Layout(width_mm=200, height_mm=100, layers=(words,))
    sheets = tuple(Sheet(id=f"s{n}", name=f"Sheet {n}", role=role, layout=layout) for n, role in enumerate(ROLES))
    job = Job(name="Book", template="t", product="album", lab=LAB, sheets=sheets)
    job = apply(job, AddEdition(id="second", name="Second"))
    return apply(job, Write(sheet="s3", edition="second", layer="words", text="of the second"))


def order(job: Job) -> list[str]:
    return [sheet.id for sheet in job.sheets]


@given(
    st.sets(st.sampled_from(["s0", "s1", "s2", "s3", "s4"]), min_size=1, max_size=4),
    st.sampled_from(["", "s0", "s2", "s4"]),
)
def test_moved_sheets_keep_their_order_and_the_rest_theirs(meant: set[str], before: str) -> None:
    job = book()
    edit = MoveSheets(sheets=tuple(sorted(meant, reverse=True)), before=before)
    if before in meant:
        with pytest.raises(EditRefused, match="before themselves"):
            apply(job, edit)
        return
    after = order(apply(job, edit))
    assert [s for s in after if s in meant] == sorted(meant)
    assert [s for s in after if s not in meant] == [s for s in order(job) if s not in meant]
    at = after.index(sorted(meant)[-1]) + 1
    assert (after[at] if at < len(after) else "") == before
    assert apply(job, edit).editions == job.editions  # what lies on them goes along by their ids


def test_swapped_twice_they_stand_as_they_stood() -> None:
    job, edit = book(), SwapSheets(first="s1", second="s4")
    assert order(apply(job, edit)) == ["s0", "s4", "s2", "s3", "s1"]
    assert apply(apply(job, edit), edit).sheets == job.sheets
    assert label(job, edit) == "swap Sheet 1 and Sheet 4"
    for bad in (SwapSheets(first="s1", second="s1"), SwapSheets(first="s1", second="gone")):
        with pytest.raises(EditRefused, match=r"swapped with itself|no sheet"):
            apply(job, bad)


def test_a_copy_stands_after_its_like_with_or_without_what_lies_there() -> None:
    job = book()
    bare = apply(job, CopySheet(which="s3", fresh="new"))
    assert order(bare) == ["s0", "s1", "s2", "s3", "new", "s4"]
    assert bare.sheets_by_id["new"].name == "Sheet 5"
    assert not bare.edition("second").filling("new").texts
    full = apply(job, CopySheet(which="s3", fresh="new", with_photos=True))
    assert full.edition("second").filling("new").texts == {"words": "of the second"}
    long = apply(job, RenameSheet(which="s3", name="x" * 120))
    named = apply(apply(long, CopySheet(which="s3", fresh="a1")), CopySheet(which="s3", fresh="a2"))
    assert len({sheet.name for sheet in named.sheets}) == 7
    with pytest.raises(EditRefused, match="There is a sheet s1 already"):
        apply(job, CopySheet(which="s3", fresh="s1"))


def test_page_numbers_follow_the_order() -> None:
    job = book()
    said = lambda job, sheet: resolve_sheet(job, sheet).by_id["words"].words  # noqa: E731
    assert [said(job, f"s{n}") for n in range(5)] == ["", "1", "2", "4", "5"]
    moved = apply(job, MoveSheets(sheets=("s4",), before="s1"))
    assert [said(moved, f"s{n}") for n in range(5)] == ["", "3", "4", "6", "1"]
