"""Books: all pages laid out, stretches and single sheets laid anew, and the command line."""

import json
from collections import Counter
from itertools import pairwise
from pathlib import Path
from statistics import median, pstdev

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from sutaru.command_line.main import main
from sutaru.core.arranging.aligning import Box, page_box
from sutaru.core.books.binding import pages_of
from sutaru.core.books.book import plan_of
from sutaru.core.books.layout_preview import describe_laid_out
from sutaru.core.books.layout_suggestions import openings_on_page, suggestions
from sutaru.core.books.plan import Wishes
from sutaru.core.checks import check_job
from sutaru.core.document import Job, Opening, Sheet
from sutaru.core.edits.apply import apply, label
from sutaru.core.edits.kinds import Clear, LayBook, MovePhoto, Pin, Put, TakeOut
from sutaru.core.errors import EditRefused
from sutaru.core.fitting import crop_share, resolve_sheet
from sutaru.scripting.shelf import open_job
from tests.conftest import SHELF
from tests.core.booked import book, busiest, photos


def lies(job: Job) -> list[list[str]]:
    """Photos of the inner pages in reading order, page by page."""
    own, found = job.editions[0], []
    for sheet in job.sheets:
        if sheet.role != "cover":
            for page in (0, 1) if sheet.role == "spread" else (0,):
                found.append([held for _, held in openings_on_page(sheet, own.filling(sheet.id), page)])
    return found


def test_a_book_is_laid_out_with_nothing_lost_or_left_over(laid: tuple[Job, Job]) -> None:
    _, job = laid
    pages = lies(job)
    assert len(pages) == 40
    assert all(pages)
    flat = [photo for page in pages for photo in page]
    assert Counter(flat) == Counter(photo.id for photo in job.photos)
    known = job.pile.by_id
    for sheet in job.sheets[1:]:
        for identity, placement in job.editions[0].filling(sheet.id).placements.items():
            shown = crop_share(sheet.layout.openings_by_id[identity], known[placement.photo], placement)
            bleeds = sheet.layout.openings_by_id[identity].outline.height_mm > sheet.layout.height_mm
            assert shown < (0.08 if bleeds else 0.1) + 1e-6
    stops = [one.sentence for one in check_job(job) if one.severity == "stop"]
    assert stops == []
    assert not [one for one in check_job(job) if one.rule == "empty_page"]
    assert not [
        one for one in check_job(job) if one.rule in ("keep_cut", "ragged_edge", "words_cut", "same_photo_twice")
    ]


def test_nothing_is_cut_where_nothing_may_be(laid: tuple[Job, Job]) -> None:
    job, _ = laid
    plan = plan_of(job, Wishes(pages=40, cropping=0))
    assert all(page.block is None for page in plan.pages)
    done = apply(job, LayBook(plan=plan, theme=SHELF.themes["shoreline"]))
    known = done.pile.by_id
    for sheet in done.sheets[1:]:
        for identity, placement in done.editions[0].filling(sheet.id).placements.items():
            opening = sheet.layout.openings_by_id[identity]
            bleeds = opening.outline.height_mm > sheet.layout.height_mm
            assert crop_share(opening, known[placement.photo], placement) < (0.08 if bleeds else 1e-6)


def _edges(sheet: Sheet) -> dict[int, tuple[float, float]]:
    """Top and bottom of what lies on each page of a spread, mm; none of a page that one photo fills."""
    found: dict[int, list[Box]] = {}
    for opening in sheet.layout.openings():
        box = page_box(opening)
        found.setdefault(int((box.left + box.right) / 2 > sheet.layout.width_mm / 2), []).append(box)
    edges = {page: (min(b.top for b in boxes), max(b.bottom for b in boxes)) for page, boxes in found.items()}
    return {page: edge for page, edge in edges.items() if edge[0] >= 0}


def test_both_pages_of_a_spread_hang_from_common_lines(laid: tuple[Job, Job]) -> None:
    _, job = laid
    edges = [_edges(sheet) for sheet in job.sheets if sheet.role == "spread"]
    pairs = [edge for edge in edges if len(edge) == 2]
    assert len(pairs) >= 12
    agree = sum(abs(edge[0][side] - edge[1][side]) < 0.01 for edge in pairs for side in (0, 1))
    assert agree >= 0.95 * 2 * len(pairs)


def test_dense_and_quiet_spreads_alternate_and_one_photo_is_the_largest(laid: tuple[Job, Job]) -> None:
    _, job = laid
    spreads = [sheet for sheet in job.sheets if sheet.role == "spread"]
    counts = [len(sheet.layout.openings()) for sheet in spreads]
    assert max(counts) >= 3 * min(counts)
    usual = median(counts)
    assert sum((a > usual) != (b > usual) for a, b in pairwise(counts)) >= 0.4 * len(counts)
    heroes = 0
    for sheet in spreads:
        areas = sorted(o.outline.width_mm * o.outline.height_mm for o in sheet.layout.openings())
        heroes += len(areas) < 4 or areas[-1] >= 2 * median(areas)
    assert heroes >= 0.8 * len(spreads)


def test_photos_keep_their_order_but_for_those_that_open_and_close_the_book(laid: tuple[Job, Job]) -> None:
    _, job = laid
    numbers = [[int(photo, 16) for photo in page] for page in lies(job)[1:-1]]
    assert all(max(page) < min(after) for page, after in pairwise(numbers))
    assert [len(page) for page in (lies(job)[0], lies(job)[-1])] == [1, 1]


def test_a_day_begins_on_a_page_of_its_own_and_says_its_date(laid: tuple[Job, Job]) -> None:
    _, job = laid
    second = {photo.id for photo in job.photos if photo.taken.day == 20}
    mixed = [page for page in lies(job)[1:-1] if 0 < len(second & set(page)) < len(page)]
    assert mixed == []
    dated = [sheet for sheet in job.sheets if any(name.startswith("date-") for name in sheet.layout.texts_by_id)]
    assert len(dated) == 2
    words = [drawn.words for drawn in resolve_sheet(job, dated[1].id).drawn if drawn.layer.id.startswith("date-")]
    assert words == ["20 June 2026"]


def test_one_step_back_and_again_the_same(laid: tuple[Job, Job]) -> None:
    job, done = laid
    edit = LayBook(plan=plan_of(job, Wishes(pages=40)), theme=SHELF.themes["shoreline"])
    assert apply(job, edit) == done
    assert label(job, edit) == "lay out the book"
    other = plan_of(job, Wishes(pages=40, seed=7))
    assert other != edit.plan
    seen = describe_laid_out(job, done, edit.plan)
    assert len(seen.sheets) == len(done.sheets)
    assert sum(len(s.photos) for s in seen.sheets) == 121


def test_dials_do_what_they_say() -> None:
    job = book(photos(120))

    def counts(**wishes: float) -> list[int]:
        return [len(page.photos) for page in plan_of(job, Wishes(pages=40, **wishes)).pages]

    assert pstdev(counts(lively=0.0)) < pstdev(counts(lively=1.0))
    little, much = (plan_of(job, Wishes(pages=40, white=white)) for white in (0.0, 1.0))
    assert little.margin_mm < much.margin_mm
    assert little.gap_mm < much.gap_mm
    assert little.margin_mm >= 6  # the safe line
    more = apply(job, LayBook(plan=plan_of(job, Wishes(per_page=2.0)), theme=SHELF.themes["shoreline"]))
    assert pages_of(more) == 60
    piled = plan_of(job, Wishes(pages=40, order="pile"))
    numbers = [int(photo, 16) for page in piled.pages[1:-1] for photo in page.photos]
    assert numbers == sorted(numbers)


def test_what_a_hand_placed_or_pinned_stays(laid: tuple[Job, Job]) -> None:
    _, job = laid
    by_hand, pinned = job.sheets[3], job.sheets[6]
    first = next(iter(by_hand.layout.openings_by_id))
    other = job.editions[0].filling(job.sheets[9].id).placements
    job = apply(job, Put(sheet=by_hand.id, opening=first, photo=next(iter(other.values())).photo))
    job = apply(job, Pin(sheet=pinned.id, openings=tuple(pinned.layout.openings_by_id)))
    again = apply(job, LayBook(plan=plan_of(job, Wishes(pages=40, seed=3)), theme=SHELF.themes["shoreline"]))
    for sheet in (by_hand, pinned):
        assert again.sheets_by_id[sheet.id].layout == job.sheets_by_id[sheet.id].layout
        assert again.editions[0].filling(sheet.id) == job.editions[0].filling(sheet.id)
    flat = Counter(photo for page in lies(again) for photo in page)
    assert set(flat) >= {photo.id for photo in job.photos}
    assert set(flat.values()) == {1}
    assert again.sheets[9].layout != job.sheets[9].layout


def test_a_stretch_of_pages_is_laid_out_anew_and_nothing_else(laid: tuple[Job, Job]) -> None:
    _, job = laid
    some = tuple(sheet.id for sheet in job.sheets[4:7])
    plan = plan_of(job, Wishes(seed=11, lively=1.0), sheets=some)
    again = apply(job, LayBook(plan=plan, sheets=some, theme=SHELF.themes["shoreline"]))
    for before, after in zip(job.sheets, again.sheets, strict=True):
        assert (before.layout == after.layout) or before.id in some
    assert Counter(photo for page in lies(again) for photo in page) == Counter(p for page in lies(job) for p in page)
    assert again.sheets[4:7] != job.sheets[4:7]
    # Of a stretch no photo opens or closes anything: all keep their order.
    numbers = [int(photo, 16) for page in plan.pages for photo in page.photos]
    assert numbers == sorted(numbers)


def test_photos_that_went_meanwhile_are_passed_over_and_their_pages_laid_with_the_rest() -> None:
    job = book(photos(40), pages=20)
    plan = plan_of(job, Wishes(pages=20))
    gone = next(page.photos[0] for page in plan.pages if len(page.photos) > 2)
    done = apply(apply(job, TakeOut(photos=(gone,))), LayBook(plan=plan, theme=SHELF.themes["shoreline"]))
    assert Counter(p for page in lies(done) for p in page) == Counter(p.id for p in job.photos if p.id != gone)
    assert not [one for one in check_job(done) if one.severity == "stop"]


def test_the_first_page_keeps_its_title_when_it_is_laid_anew(laid: tuple[Job, Job]) -> None:
    _, job = laid
    some = ("pages-1", "pages-2")
    again = apply(job, LayBook(plan=plan_of(job, Wishes(), sheets=some), sheets=some, theme=SHELF.themes["shoreline"]))
    assert "title" in again.sheets_by_id["pages-1"].layout.texts_by_id


def test_near_duplicates_are_laid_aside_unless_wished_for() -> None:
    pile = photos(40)
    twins = tuple(photo.copy_with(id=f"{n + 500:016x}", checksum=f"{n + 500:064x}") for n, photo in enumerate(pile[:6]))
    job = book((*pile, *twins), pages=20)
    plan = plan_of(job, Wishes(pages=20))
    assert len(plan.aside) == 6
    done = apply(job, LayBook(plan=plan, theme=None))
    assert {photo.id for photo in done.photos if photo.aside} == {one.photo for one in plan.aside}
    assert plan_of(job, Wishes(pages=20, likes=True)).aside == ()


def test_what_cannot_be_laid_out_is_refused_with_a_remedy() -> None:
    with pytest.raises(EditRefused, match="no photo to lay out"):
        plan_of(book(), Wishes())
    with pytest.raises(EditRefused, match=r"400 photos are too many for 20 pages\. Ask for 27 pages at least"):
        plan_of(book(photos(400)), Wishes(pages=20))
    plain = book(photos(12)).copy_with(book=None)
    with pytest.raises(EditRefused, match="no book"):
        plan_of(plain, Wishes())
    job = book(photos(30), pages=20)
    plan = plan_of(job, Wishes(pages=20))
    with pytest.raises(EditRefused, match="changed meanwhile"):
        apply(job, LayBook(plan=plan, sheets=(job.sheets[2].id,)))

    def stop(stage: str, done: int, total: int) -> None:
        raise EditRefused("It was stopped.")

    with pytest.raises(EditRefused, match="stopped"):
        plan_of(job, Wishes(pages=20), progress=stop)


@settings(max_examples=15, deadline=None)
@given(st.integers(1, 70), st.sampled_from(["hard", "lay-flat", "soft"]), st.integers(0, 5), st.floats(0, 1))
def test_any_number_of_photos_makes_a_book(count: int, binding: str, seed: int, lively: float) -> None:
    job = book(photos(count, seed), pages=24, binding=binding)
    done = apply(job, LayBook(plan=plan_of(job, Wishes(seed=seed, lively=lively)), theme=SHELF.themes["dune-grass"]))
    assert Counter(p for page in lies(done) for p in page) == Counter(photo.id for photo in job.photos)
    assert pages_of(done) == done.book.binding.bindable(-(-count // 3))


def test_a_photo_goes_to_another_page_and_both_are_laid_anew(laid: tuple[Job, Job]) -> None:
    _, job = laid
    source, target = job.sheets[3], job.sheets[7]
    photo = next(iter(job.editions[0].filling(source.id).placements.values())).photo
    edit = MovePhoto(photo=photo, whence=source.id, onto=target.id, page=1)
    after = apply(job, edit)
    there = [
        held for _, held in openings_on_page(after.sheets_by_id[target.id], after.editions[0].filling(target.id), 1)
    ]
    assert photo in there
    assert len(there) == len(openings_on_page(target, job.editions[0].filling(target.id), 1)) + 1
    assert photo not in after.editions[0].filling(source.id).photos()
    assert Counter(p for page in lies(after) for p in page) == Counter(p for page in lies(job) for p in page)
    for sheet in (source, target):
        fresh = after.sheets_by_id[sheet.id].layout
        assert {t.id for t in fresh.texts_by_id.values()} == {t.id for t in sheet.layout.texts_by_id.values()}
        assert all(isinstance(o, Opening) and o.border == sheet.layout.openings()[0].border for o in fresh.openings())
    assert label(job, edit).startswith("move photo-")
    # A hand has moved it: laid out anew, the book leaves that sheet as it is.
    again = apply(after, LayBook(plan=plan_of(after, Wishes(pages=40, seed=5)), theme=SHELF.themes["shoreline"]))
    assert again.sheets_by_id[target.id] == after.sheets_by_id[target.id]
    for wrong, said in (
        (edit.copy_with(onto="cover"), "pages inside a book"),
        (edit.copy_with(photo="f" * 16), "lies there no more"),
        (MovePhoto(photo=photo, whence=source.id, onto=source.id, page=0), "on this page already"),
    ):
        with pytest.raises(EditRefused, match=said):
            apply(job, wrong)
    # From a page that is emptied, and back.
    alone = next(s for s in job.sheets if s.role == "page")
    own = next(iter(job.editions[0].filling(alone.id).placements.values())).photo
    emptied = apply(job, MovePhoto(photo=own, whence=alone.id, onto=target.id))
    assert not emptied.sheets_by_id[alone.id].layout.openings_by_id
    assert (
        own
        in apply(emptied, MovePhoto(photo=own, whence=target.id, onto=alone.id)).editions[0].filling(alone.id).photos()
    )


def test_an_emptied_opening_is_no_photo(laid: tuple[Job, Job]) -> None:
    _, job = laid
    sheet = job.sheets[busiest(job)]
    gone = next(iter(sheet.layout.openings_by_id))
    cleared = apply(job, Clear(sheet=sheet.id, openings=(gone,)))
    found = suggestions(cleared, sheet, cleared.editions[0])
    assert {one.openings for one in found} == {len(sheet.layout.openings_by_id) - 1}


def test_a_book_from_the_command_line(pile: list, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    names = [str(path) for path, _ in pile[:14]]
    out = tmp_path / "festival.sutaru"
    assert main(["book", "bright-wind", *names, "-o", str(out), "--pages", "20", "--binding", "hard", "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert (told["pages"], told["laid"] + len(told["aside"]), told["unused"]) == (20, 14, [])
    assert told["spine_mm"] == pytest.approx(10 * 0.25 + 4.0)  # leaves of its first paper, and boards
    assert [sheet["name"] for sheet in told["sheets"][:3]] == ["Cover", "Page 1", "Pages 2 and 3"]
    main(["check", str(out), "--json"])
    rules = {finding["rule"] for finding in json.loads(capsys.readouterr().out)}
    assert rules.isdisjoint({"keep_cut", "empty_opening", "page_count", "spread_split", "words_cut"})
    small = tmp_path / "small.sutaru"
    assert main(["resize", str(out), "--size", "12x8in", "-o", str(small), "--json"]) == 0
    assert json.loads(capsys.readouterr().out) == {"file": str(small), "fitted": []}
    with open_job(small) as job:
        assert (job.job.name, job.job.book and job.job.book.size.id) == ("small", "wide-12x8")
    assert main(["resize", str(out), "--size", "9x9in", "-o", str(small)]) == 2
    assert "8 × 8 in" in capsys.readouterr().err
    # On a template's own sheets, in turn.
    other = tmp_path / "spreads.sutaru"
    assert main(["book", "album-spread-6", *names, "-o", str(other), "--size", "10x10in"]) == 0
    assert "6 pages, 14 photos laid" in capsys.readouterr().out
    for wrong, said in (
        (["book", "nowhere", names[0], "-o", str(out)], "There is no template nowhere"),
        (["book", "bright-wind", names[0], "-o", str(out), "--size", "3x3in"], "binds no pages of this size"),
        (["book", "bright-wind", names[0], "-o", str(out), "--paper", "tin"], "There is no paper tin"),
    ):
        assert main(wrong) == 2
        assert said in capsys.readouterr().err
