"""Covers and spines against sums by hand, and the pages that can be bound."""

import pytest

from sutaru.core.books.binding import pages_of, spine_mm, spine_of
from sutaru.core.checks import check_job
from sutaru.core.document import Binding, Layout
from sutaru.core.edits.apply import apply, label
from sutaru.core.edits.kinds import AddPages, RemoveSheet, SetBook
from sutaru.core.errors import EditRefused
from tests.core.booked import BINDERY, book, bound_in


def test_a_spine_is_as_wide_as_its_leaves_and_boards() -> None:
    # Worked by hand: 80 pages are 40 leaves of 0.22 mm, 8.8 mm; two boards of 2.5 mm more make 13.8 mm (common practice).
    assert spine_mm(bound_in("hard", paper=1), 80) == 13.8
    layout = book(pages=80).sheets[0].layout
    assert spine_of(layout) == pytest.approx((304.8 + 8, 304.8 + 8 + 13.8))
    assert layout.width_mm == pytest.approx(2 * (304.8 + 8) + 13.8)
    assert (layout.bleed_mm, sorted(line.kind for line in layout.lines)) == (18, ["hinge", "hinge", "spine", "spine"])


@pytest.mark.parametrize(
    ("asked", "pages"), [(1, 20), (20, 20), (21, 24), (24, 24), (97, 100), (118, 120), (121, 120), (900, 120)]
)
def test_pages_are_those_that_can_be_bound(asked: int, pages: int) -> None:
    assert Binding(id="b", name="B", kind="soft", least=18, most=123, multiple=4).bindable(asked) == pages


def test_a_binding_that_no_number_meets_is_refused() -> None:
    with pytest.raises(ValueError, match="No number of pages meets"):
        Binding(id="b", name="B", kind="soft", least=21, most=23, multiple=4)


def plainly(value: object) -> object:
    """A layout with its lengths to a millionth of a millimetre, lines in order."""
    if isinstance(value, Layout):
        return plainly({**value.model_dump(), "lines": sorted(line.model_dump_json() for line in value.lines)})
    if isinstance(value, dict):
        return {k: plainly(v) for k, v in value.items()}
    if isinstance(value, (list, tuple)):
        return [plainly(v) for v in value]
    return round(value, 6) if isinstance(value, float) else value


def test_more_pages_widen_the_spine_and_carry_the_front_along() -> None:
    job = book(pages=40)
    longer = apply(job, AddPages(count=3))
    assert (pages_of(longer), longer.sheets[-1].name, longer.sheets[-2].name) == (44, "Page 44", "Pages 42 and 43")
    before, after = job.sheets[0].layout, longer.sheets[0].layout
    more = 2 * 0.22  # two leaves
    assert after.width_mm - before.width_mm == pytest.approx(round(more, 1), abs=0.051)
    wider = after.width_mm - before.width_mm
    old, new = before.texts_by_id, after.texts_by_id
    assert new["imprint"].centre == old["imprint"].centre
    assert new["title"].centre[0] - old["title"].centre[0] == pytest.approx(wider)
    assert new["spine"].height_mm - old["spine"].height_mm == pytest.approx(wider)
    assert new["spine"].centre[0] == pytest.approx(after.width_mm / 2)
    assert after.openings()[0].surface.centre[0] - before.openings()[0].surface.centre[0] == pytest.approx(wider)
    assert label(job, AddPages(count=3)) == "add 3 pages"
    # Taken away again, all lies as it lay.
    again = apply(longer, RemoveSheet(gone=longer.sheets[-2].id))
    again = apply(again, RemoveSheet(gone=again.sheets[-2].id))
    assert plainly(again.sheets[0].layout) == plainly(before)
    assert [sheet.name for sheet in again.sheets] == [sheet.name for sheet in job.sheets]


def test_another_binding_or_paper_changes_the_cover() -> None:
    job = book(pages=100)
    soft = apply(job, SetBook(binding=BINDERY.bindings[0]))
    assert soft.sheets[0].layout.width_mm == pytest.approx(2 * 304.8 + spine_mm(bound_in("soft"), 100))
    assert soft.sheets[0].layout.bleed_mm == 3
    back = apply(soft, SetBook(binding=job.book.binding))
    assert plainly(back.sheets[0].layout) == plainly(job.sheets[0].layout)
    thick = apply(job, SetBook(paper=BINDERY.papers[2]))
    assert spine_of(thick.sheets[0].layout)[1] - spine_of(thick.sheets[0].layout)[0] == pytest.approx(19.0)
    with pytest.raises(EditRefused, match="spreads only"):
        apply(job, SetBook(binding=BINDERY.bindings[2]))


def test_words_on_a_spine_run_as_the_trade_has_them_and_a_narrow_one_has_none() -> None:
    assert book().sheets[0].layout.texts_by_id["spine"].turn_deg == -90
    assert book(locale="de_DE").sheets[0].layout.texts_by_id["spine"].turn_deg == 90
    assert "spine" not in book(pages=24, binding="soft").sheets[0].layout.texts_by_id
    # A hard cover's spine grows too narrow for its words: that is a stop.
    thin = apply(book(pages=20), SetBook(binding=BINDERY.bindings[0]))
    found = [finding for finding in check_job(thin) if finding.rule == "spine_words"]
    assert [(one.severity, one.sheet) for one in found] == [("stop", "cover")]
    assert "2.8 mm" in found[0].sentence
    assert "from 5 mm" in found[0].sentence


def test_the_lab_says_how_many_pages_it_binds() -> None:
    job = book(pages=20)
    few = apply(job, RemoveSheet(gone=job.sheets[4].id))
    sentences = [one.sentence for one in check_job(few) if one.rule == "page_count"]
    assert sentences == ["18 pages cannot be bound: Hard cover takes 20 to 220, in steps of 4. Add 2 pages."]
    assert not [one for one in check_job(job) if one.rule == "page_count"]
    with pytest.raises(EditRefused, match="no more than 220"):
        apply(book(pages=220), AddPages(count=4))
    empty = [one.sentence for one in check_job(job) if one.rule == "empty_page"]
    assert (empty[0], empty[1], len(empty)) == ("Page 1 shows no photo.", "Pages 2 and 3 show no photo.", 11)
    # Moved out of its place, a page alone makes spreads begin on a right page.
    moved = job.copy_with(sheets=(job.sheets[0], *job.sheets[2:5], job.sheets[1], *job.sheets[5:]))
    assert {one.rule for one in check_job(moved)} & {"spread_split"}
