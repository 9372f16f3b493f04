"""Books: trees that crop nothing, spines, all pages laid out, themes, single sheets laid anew, and the customer's proof."""

import html.parser
import io
import json
from collections import Counter
from itertools import pairwise
from pathlib import Path
from statistics import pstdev

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image, ImageFilter

from sutaru.cli import main
from sutaru.core.books import Wishes, dressed, pages_of, plan_of, spine_mm, spine_of
from sutaru.core.books.laid import as_seen
from sutaru.core.books.picking import breaks, in_time, without_likes
from sutaru.core.books.plan import PagePlan
from sutaru.core.books.relaying import on_page, suggestions
from sutaru.core.books.trees import Tree, Trees, boxes, cost_of, parsed, text
from sutaru.core.checks import check_job
from sutaru.core.document import Binding, Job, Layout, Opening, Photo
from sutaru.core.edits import (
    AddPages,
    ChangeLayout,
    Clear,
    Dress,
    LayBook,
    LayGround,
    MovePhoto,
    Pin,
    Put,
    SetBook,
    SettleRemark,
    TakeOut,
    TakeRemarks,
    apply,
    label,
)
from sutaru.core.edits.kinds import RemoveSheet
from sutaru.core.errors import EditRefused, FileRefused
from sutaru.core.fitting import crop_share, resolved
from sutaru.core.photos.likeness import apart, detail, likeness
from sutaru.core.press.proof import marked, read_remarks, written
from sutaru.demo.scenes import picture
from tests.conftest import SHELF
from tests.core.booked import BINDERY, book, bound_in, one, photos

# Trees


@st.composite
def trees(draw: st.DrawFn, least: int = 1) -> tuple[Tree, list[float]]:
    count = draw(st.integers(least, 7))

    def made(low: int, high: int) -> Tree:
        if high - low == 1:
            return low
        cut = draw(st.integers(low + 1, high - 1))
        return (draw(st.sampled_from("rc")), made(low, cut), made(cut, high))

    return made(0, count), draw(st.lists(st.floats(0.5, 2.2), min_size=count, max_size=count))


def solved(tree: Tree, ratios: list[float], gap: float, room: tuple[float, float]) -> list[tuple[float, float]]:
    """Widths and heights of a tree's photos by a general solver: every part's width and height is an unknown, every ratio, gap
    and common side an equation (Atkins 2008, section 3); the whole is as wide or as high as the room."""
    parts: list[Tree] = []

    def listed(part: Tree) -> int:
        parts.append(part)
        return len(parts) - 1

    rows: list[dict[int, float]] = []
    right: list[float] = []

    def walk(part: Tree) -> int:
        n = listed(part)
        if isinstance(part, int):
            rows.append({2 * n: 1.0, 2 * n + 1: -ratios[part]})
            right.append(0.0)
            return n
        a, b = walk(part[1]), walk(part[2])
        along, across = (0, 1) if part[0] == "r" else (1, 0)
        for equation, value in (
            ({2 * n + along: 1.0, 2 * a + along: -1.0, 2 * b + along: -1.0}, gap),
            ({2 * n + across: 1.0, 2 * a + across: -1.0}, 0.0),
            ({2 * n + across: 1.0, 2 * b + across: -1.0}, 0.0),
        ):
            rows.append(equation)
            right.append(value)
        return n

    walk(tree)
    found = []
    for side in (0, 1):
        matrix = np.zeros((len(rows) + 1, 2 * len(parts)))
        for r, equation in enumerate(rows):
            for column, value in equation.items():
                matrix[r, column] = value
        matrix[-1, side] = 1.0
        sizes = np.linalg.solve(matrix, [*right, room[side]])
        if sizes[1 - side] <= room[1 - side] + 1e-9:
            found = sizes
    return [(found[2 * n], found[2 * n + 1]) for n, part in enumerate(parts) if isinstance(part, int)]


@given(trees(), st.floats(0, 4))
def test_a_trees_photos_keep_their_ratios_and_gaps_as_a_general_solver_has_them(
    made: tuple[Tree, list[float]], gap: float
) -> None:
    tree, ratios = made
    laid = boxes(tree, ratios, gap, (10, 20, 300, 280))
    assert parsed(text(tree)) == tree
    for ratio, (_, _, w, h) in zip(ratios, laid, strict=True):
        assert w / h == pytest.approx(ratio)
    left, top = min(x for x, *_ in laid), min(y for _, y, *_ in laid)
    right, bottom = max(x + w for x, _, w, _ in laid), max(y + h for _, y, _, h in laid)
    assert (left + right, top + bottom) == pytest.approx((2 * 10 + 300, 2 * 20 + 280))  # in the middle
    assert max((right - left) / 300, (bottom - top) / 280) == pytest.approx(1)  # as large as can be
    assert [size for x, y, *size in laid] == [pytest.approx(size) for size in solved(tree, ratios, gap, (300, 280))]
    for n, (x, y, w, h) in enumerate(laid):
        for x2, y2, w2, h2 in laid[n + 1 :]:
            across = max(x2 - (x + w), x - (x2 + w2))
            down = max(y2 - (y + h), y - (y2 + h2))
            assert max(across, down) == pytest.approx(gap) or max(across, down) > gap


def every(low: int, high: int) -> list[Tree]:
    """All ways to part a run of photos, each row and column once."""
    if high - low == 1:
        return [low]
    return [
        (way, a, b)
        for cut in range(low + 1, high) for way in "rc"
        for a in every(low, cut) if isinstance(a, int) or a[0] != way for b in every(cut, high)
    ]  # fmt: skip


def test_of_few_photos_no_tree_is_better_than_the_one_found() -> None:
    assert [len(every(0, n)) for n in (2, 3, 4, 5)] == [2, 6, 22, 90]  # large Schröder numbers (OEIS A006318)
    for ratios in ((1.5, 1.5, 0.667, 1.5), (0.75, 1.333, 1.333), (1.5, 0.667, 0.667, 1.5)):
        best = Trees(3.0).best(ratios, (260.0, 250.0), count=5)

        costs = []
        for tree in every(0, len(ratios)):
            laid = boxes(tree, ratios, 3.0, (0, 0, 260, 250))
            costs.append(cost_of(laid, [0.0] * len(ratios), (260, 250)))
        assert best[0].cost == pytest.approx(min(costs))
        assert [one.cost for one in best] == sorted(one.cost for one in best)


@pytest.mark.parametrize("written", ["", "r", "r(0)", "r(0,0)", "c(1,0)", "x(0,1)", "r(0,1)) ", "r(0, 1)", "c(0,2)"])
def test_what_is_no_tree_is_refused(written: str) -> None:
    with pytest.raises(ValueError, match="no tree of rows and columns"):
        parsed(written)
    with pytest.raises(ValueError, match=r"no tree|as many photos"):
        PagePlan(photos=("0" * 16, "1" * 16), shape=written)


def test_gaps_that_leave_no_room_are_refused() -> None:
    with pytest.raises(ValueError, match="leave no room"):
        boxes(("r", 0, 1), [1.5, 1.5], 300, (0, 0, 200, 200))


# Binding


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
    moved = job.having(sheets=(job.sheets[0], *job.sheets[2:5], job.sheets[1], *job.sheets[5:]))
    assert {one.rule for one in check_job(moved)} & {"spread_split"}


# Which photos


def test_likeness_is_that_of_the_scene_and_detail_that_of_focus() -> None:
    scenes = [picture(scene, seed, 720, 480) for scene, seed in (("beach", 3), ("maker", 5), ("kite", 2), ("dunes", 9))]
    greys = [cv2.cvtColor(scene, cv2.COLOR_RGB2GRAY) for scene in scenes]
    for grey in greys:
        lighter = np.clip(grey.astype(float) * 1.08 + 6, 0, 255).astype(np.uint8)
        small = cv2.resize(grey, (360, 240), interpolation=cv2.INTER_AREA)
        noisy = np.clip(grey + np.random.default_rng(4).normal(0, 6, grey.shape), 0, 255).astype(np.uint8)
        assert max(apart(likeness(grey), likeness(one)) for one in (lighter, small, noisy)) <= 6
        soft = np.asarray(Image.fromarray(grey).filter(ImageFilter.GaussianBlur(3)))
        assert detail(soft) < 0.5 * detail(grey)
        # The same difference hash by another library: boxes of Pillow's, bits counted one by one.
        tiny = np.asarray(Image.fromarray(grey).resize((9, 8), Image.Resampling.BOX), int)
        bits = "".join("1" if a < b else "0" for row in tiny for a, b in pairwise(row))
        assert apart(likeness(grey), f"{int(bits, 2):016x}") <= 2
    for n, grey in enumerate(greys):
        for other in greys[n + 1 :]:
            assert apart(likeness(grey), likeness(other)) > 10


def shots(*shots: tuple[int, str, float, int]) -> list[Photo]:
    """Photos as (seconds after nine, likeness, detail, stars)."""
    from datetime import datetime, timedelta

    from sutaru.core.document import Found

    return [
        one(
            n + 1,
            taken=datetime(2026, 6, 19, 9) + timedelta(seconds=s),
            found=Found(likeness=bits, detail=d),
            stars=stars,
        )
        for n, (s, bits, d, stars) in enumerate(shots)
    ]


def test_of_one_scene_the_sharpest_is_kept_unless_another_has_stars() -> None:
    same, near, other = "00ff00ff00ff00ff", "00ff00ff00ff000f", "f0f0f0f0f0f0f0f0"
    kept, aside = without_likes(
        shots((0, same, 1, 0), (3, near, 2, 0), (6, other, 1, 0), (9, same, 1, 1), (600, same, 9, 0))
    )
    assert [int(photo.id, 16) for photo in kept] == [3, 4, 5]  # the last was taken ten minutes later
    assert [(int(one.photo, 16), int(one.like, 16), one.why) for one in aside] == [
        (1, 4, "fewer stars"), (2, 4, "fewer stars"),
    ]  # fmt: skip
    kept, aside = without_likes(shots((0, same, 1, 0), (3, near, 2, 0)))
    assert [(one.photo, one.why) for one in aside] == [(f"{1:016x}", "less sharp")]
    assert without_likes(shots((0, "", 1, 0), (3, "", 1, 0)))[1] == []  # nobody looked: nothing is known


def test_events_end_where_a_pause_is_long_beside_those_about_it() -> None:
    at = [0, 30, 70, 90, 3000, 3040, 3070, 80_000, 80_020]
    found = breaks(shots(*((s, "", 1.0, 0) for s in at)))
    assert [n for n, sure in enumerate(found) if sure > 0.3] == [0, 4, 7]
    assert found[0] == found[7] == 1
    assert found[4] < 1


def test_photos_whose_time_nobody_knows_stay_behind_the_one_before_them() -> None:
    a, b, c = shots((100, "", 1, 0), (0, "", 1, 0), (50, "", 1, 0))
    unknown = one(9)
    assert [int(photo.id, 16) for photo in in_time([a, unknown, b, c])] == [2, 3, 1, 9]


# Whole books


def lies(job: Job) -> list[list[str]]:
    """Photos of the inner pages in reading order, page by page."""
    own, found = job.editions[0], []
    for sheet in job.sheets:
        if sheet.role != "cover":
            for page in (0, 1) if sheet.role == "spread" else (0,):
                found.append([held for _, held in on_page(sheet, own.filling(sheet.id), page)])
    return found


@pytest.fixture(scope="module")
def laid() -> tuple[Job, Job]:
    """A book of 40 pages, and it laid out with 120 photos."""
    job = book(photos(120))
    return job, apply(job, LayBook(plan=plan_of(job, Wishes(pages=40)), theme=SHELF.themes["shoreline"]))


def test_a_book_is_laid_out_with_nothing_cut_lost_or_left_over(laid: tuple[Job, Job]) -> None:
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
            assert shown < (0.08 if bleeds else 1e-6)
    stops = [one.sentence for one in check_job(job) if one.severity == "stop"]
    assert stops == []
    assert not [one for one in check_job(job) if one.rule == "empty_page"]
    assert not [
        one for one in check_job(job) if one.rule in ("keep_cut", "ragged_edge", "words_cut", "same_photo_twice")
    ]


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
    words = [drawn.words for drawn in resolved(job, dated[1].id).drawn if drawn.layer.id.startswith("date-")]
    assert words == ["20 June 2026"]


def test_one_step_back_and_again_the_same(laid: tuple[Job, Job]) -> None:
    job, done = laid
    edit = LayBook(plan=plan_of(job, Wishes(pages=40)), theme=SHELF.themes["shoreline"])
    assert apply(job, edit) == done
    assert label(job, edit) == "lay out the book"
    other = plan_of(job, Wishes(pages=40, seed=7))
    assert other != edit.plan
    seen = as_seen(job, done, edit.plan)
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
    twins = tuple(photo.having(id=f"{n + 500:016x}", sha256=f"{n + 500:064x}") for n, photo in enumerate(pile[:6]))
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
    plain = book(photos(12)).having(book=None)
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


# Themes


def luminance(colour: str) -> float:
    """Relative luminance (WCAG 2.2)."""
    channels = (int(colour[n : n + 2], 16) / 255 for n in (1, 3, 5))
    linear = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in channels]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


@pytest.mark.parametrize("identity", sorted(SHELF.themes))
def test_a_themes_words_are_read_on_its_grounds(identity: str) -> None:
    theme = SHELF.themes[identity]

    def plain(colour: str) -> float:
        return luminance(theme.swatches[colour[7:]] if colour.startswith("swatch ") else colour)

    def contrast(style: str, ground: str) -> float:
        dark, light = sorted((plain(theme.styles[style].colour), plain(ground)))
        return (light + 0.05) / (dark + 0.05)

    for ground in theme.grounds:
        if ground.shift is None:
            assert contrast("Caption", ground.colour) >= 4.5
            assert contrast("Page number", ground.colour) >= 4.5
            assert contrast("Title", ground.colour) >= 3  # large (WCAG 2.2, 1.4.3)
    assert min(contrast("Cover title", theme.cover.colour), contrast("Spine", theme.cover.colour)) >= 3
    assert contrast("Imprint", theme.cover.colour) >= 4.5


def test_another_theme_dresses_the_whole_book_and_keeps_its_photos(laid: tuple[Job, Job]) -> None:
    _, job = laid
    night = apply(job, Dress(theme=SHELF.themes["lantern-night"]))
    assert night.editions == job.editions
    assert night.book.theme == "lantern-night"
    assert label(job, Dress(theme=SHELF.themes["lantern-night"])) == "dress in Lantern night"
    for before, after in zip(job.sheets, night.sheets, strict=True):
        assert after.layout.swatches["Paper"] == "#141d2e"
        assert [o.surface for o in after.layout.openings()] == [o.surface for o in before.layout.openings()]
        grounds = [layer for layer in after.layout.layers if layer.kind == "background"]
        assert len(grounds) == 1
        assert after.layout.layers[0] == grounds[0]
        assert all(opening.border for opening in after.layout.openings() if opening.outline.height_mm < 304)
    assert apply(night, Dress(theme=SHELF.themes["shoreline"])).sheets == job.sheets
    assert dressed(job.sheets[2].layout, SHELF.themes["shoreline"], 2, "spread") == job.sheets[2].layout


def test_a_ground_is_laid_under_some_sheets_or_all(laid: tuple[Job, Job]) -> None:
    _, job = laid
    ground = SHELF.themes["shoreline"].cover
    some = apply(job, LayGround(ground=ground, sheets=("pages-2", "pages-3")))
    changed = [b.id for a, b in zip(job.sheets, some.sheets, strict=True) if a != b]
    assert changed == ["pages-2", "pages-3"]
    assert all(sheet.layout.layers[0].colour == ground.colour for sheet in apply(job, LayGround(ground=ground)).sheets)
    with pytest.raises(EditRefused, match="no swatch Nowhere"):
        apply(job, LayGround(ground=ground.having(colour="swatch Nowhere")))


# Single sheets


def busiest(job: Job) -> int:
    counts = [len(sheet.layout.openings_by_id) if sheet.role == "spread" else 0 for sheet in job.sheets]
    return counts.index(max(counts))


def test_layouts_for_a_sheet_keep_its_photos_and_crop_nothing_when_computed(laid: tuple[Job, Job]) -> None:
    _, job = laid
    sheet = job.sheets[busiest(job)]
    shown = sorted(job.editions[0].filling(sheet.id).photos())
    found = suggestions(job, sheet, job.editions[0], SHELF.templates.values())
    assert {one.source for one in found} >= {"computed"}
    assert len(found) >= 5
    assert sum(one.now for one in found) <= 1
    for choice in found:
        assert choice.openings == len(shown)
        after = apply(job, ChangeLayout(which=sheet.id, layout=choice.layout))
        filling = after.editions[0].filling(sheet.id)
        assert sorted(filling.photos()) == shown
        if choice.name == "Nothing cropped":
            layout, known = after.sheets_by_id[sheet.id].layout, job.pile.by_id
            cut = [crop_share(layout.openings_by_id[k], known[v.photo], v) for k, v in filling.placements.items()]
            assert max(cut) < 1e-6
        words = {k: v.text for k, v in after.sheets_by_id[sheet.id].layout.texts_by_id.items()}
        assert words == {k: v.text for k, v in sheet.layout.texts_by_id.items()}


def test_fewer_openings_free_photos_and_a_layout_of_another_size_is_refused(laid: tuple[Job, Job]) -> None:
    _, job = laid
    sheet = job.sheets[busiest(job)]
    few = next(
        s for s in job.sheets if s.role == "spread" and len(s.layout.openings_by_id) < len(sheet.layout.openings_by_id)
    )
    after = apply(job, ChangeLayout(which=sheet.id, layout=few.layout))
    assert len(after.editions[0].filling(sheet.id).placements) == len(few.layout.openings_by_id)
    with pytest.raises(EditRefused, match="another size"):
        apply(job, ChangeLayout(which=sheet.id, layout=job.sheets[0].layout))


def test_a_photo_goes_to_another_page_and_both_are_laid_anew(laid: tuple[Job, Job]) -> None:
    _, job = laid
    source, target = job.sheets[3], job.sheets[7]
    photo = next(iter(job.editions[0].filling(source.id).placements.values())).photo
    edit = MovePhoto(photo=photo, whence=source.id, onto=target.id, page=1)
    after = apply(job, edit)
    there = [held for _, held in on_page(after.sheets_by_id[target.id], after.editions[0].filling(target.id), 1)]
    assert photo in there
    assert len(there) == len(on_page(target, job.editions[0].filling(target.id), 1)) + 1
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
        (edit.having(onto="cover"), "pages inside a book"),
        (edit.having(photo="f" * 16), "lies there no more"),
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


# The customer's proof


class Reader(html.parser.HTMLParser):
    def __init__(self) -> None:
        super().__init__()
        self.scripts: list[tuple[dict[str, str | None], str]] = []
        self.links: list[str] = []

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.links += [value or "" for name, value in attrs if name in ("src", "href")]
        if tag == "script":
            self.scripts.append((dict(attrs), ""))

    def handle_data(self, data: str) -> None:
        if self.scripts and not self.scripts[-1][1]:
            self.scripts[-1] = self.scripts[-1][0], data


def jpeg(colour: tuple[int, int, int]) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (300, 150), colour).save(out, "JPEG")
    return out.getvalue()


def test_the_proof_is_one_page_that_asks_for_nothing_from_elsewhere() -> None:
    job = book(pages=20).having(customer="Ola <b>Brandvik</b>")
    whole = "".join(
        written(job, "0a1b", "2026-11-26T10:00:00+01:00", "remarks.json", lambda sheet: jpeg((90, 120, 200)))
    )
    read = Reader()
    read.feed(whole)
    assert read.links == []
    assert "http" not in whole.replace("http-equiv", "")
    about, pictures = (json.loads(data) for attrs, data in read.scripts if attrs.get("type") == "application/json")
    assert len(pictures) == len(about["sheets"]) == len(job.sheets)
    assert about["job"] == "0a1b"
    assert about["sheets"][1]["name"] == "Page 1"
    assert "<b>Brandvik" not in whole
    assert "&lt;b&gt;Brandvik" in whole


def test_a_proof_is_marked_across_light_and_dark() -> None:
    for colour in ((250, 250, 248), (20, 20, 24), (120, 130, 140)):
        before = np.asarray(Image.open(io.BytesIO(jpeg(colour))), int)
        after = np.asarray(Image.open(io.BytesIO(marked(jpeg(colour)))), int)
        assert 0.02 < (np.abs(after - before).max(axis=2) > 12).mean() < 0.5


def test_remarks_come_back_once_and_are_settled() -> None:
    job = book(pages=20)
    said = {"sutaru_remarks": 1, "job": "0a1b", "name": "Runa", "remarks": [
        {"id": "aabbccddeeff", "sheet": "pages-3", "x": 0.2, "y": 0.9, "text": "Not this one"},
        {"id": "aabbccddee00", "sheet": "gone", "x": 0.2, "y": 0.9, "text": "A sheet that is not there"},
    ]}  # fmt: skip
    found = read_remarks(json.dumps(said).encode(), job, "0a1b", "2026-11-26T10:00:00")
    assert [(one.sheet, one.text, one.name, one.done) for one in found] == [("pages-3", "Not this one", "Runa", False)]
    taken = apply(job, TakeRemarks(remarks=tuple(found)))
    with pytest.raises(EditRefused, match="here already"):
        apply(taken, TakeRemarks(remarks=tuple(found)))
    done = apply(taken, SettleRemark(remark="aabbccddeeff"))
    assert [one.done for one in done.remarks] == [True]
    with pytest.raises(EditRefused, match="no such remark"):
        apply(taken, SettleRemark(remark="ffff"))


def remark(**fields: object) -> bytes:
    entry = {"id": "abcdef", "sheet": "cover", "x": 1, "y": 1, "text": "a", **fields}
    return json.dumps({"sutaru_remarks": 1, "job": "0a1b", "name": "", "remarks": [entry]}).encode()


NO_REMARKS = [
    b"", b"\xff\xfe", b"[]", b"{}", b'{"sutaru_remarks": 2}', b'{"sutaru_remarks": 1, "job": "0a1b", "name": 3}',
    remark(id="../x"), remark(x=9), remark(text=""), remark(sheet=[3]),
    b'{"sutaru_remarks": 1, "job": "0a1b", "name": "", "remarks": [3]}',
]  # fmt: skip


@pytest.mark.parametrize("data", NO_REMARKS)
def test_what_are_no_remarks_is_refused(data: bytes) -> None:
    with pytest.raises(FileRefused, match="no file of remarks"):
        read_remarks(data, book(pages=20), "0a1b", "")
    with pytest.raises(FileRefused, match="another job"):
        read_remarks(b'{"sutaru_remarks": 1, "job": "other", "name": "", "remarks": []}', book(pages=20), "0a1b", "")


# From the command line


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
