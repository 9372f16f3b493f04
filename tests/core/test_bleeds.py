"""Pictures that run off the paper: whole, clear of trim and gutter, with the lab's pixels; others keep out of their way."""

from itertools import pairwise

import pytest

from sutaru.core.arranging.aligning import Box, page_box
from sutaru.core.books.book import plan_of
from sutaru.core.books.layout_suggestions import suggestions
from sutaru.core.books.page_rooms import bleeds_of, page_room
from sutaru.core.books.plan import ACROSS, BLEED, EDGE, OF_ONE, RUN_OFF, SPREAD, WIDE, BookPlan, Wishes
from sutaru.core.document import Filling, Found, Job, KeepArea, Sheet
from sutaru.core.edits.apply import apply
from sutaru.core.edits.kinds import ComposeSheet, LayBook
from sutaru.core.fitting import crop_share, cuts
from tests.conftest import SHELF
from tests.core.booked import book, bound_in, one, photos

BOOK = bound_in()
MARGIN, GAP, LEAST = 15.0, 4.0, 200.0
BLEEDS = bleeds_of(BOOK, MARGIN, GAP, LEAST)
PAGE = BOOK.size.width_mm


def with_area(left: float, top: float, width: float, height: float, **more: object):  # type: ignore[no-untyped-def]
    area = KeepArea(kind="face", left=left, top=top, width=width, height=height)
    return one(1, found=Found(keep=(area,), likeness="0" * 16, detail=1.0), **more)


@pytest.mark.parametrize("side", ["left", "right"])
def test_a_wide_picture_keeps_its_proportions_and_a_column_its_distance(side: str) -> None:
    left, top, wide, high = BLEEDS.rect(WIDE, side, 1.5)
    assert wide / high == pytest.approx(1.5)
    assert (top, top + high) == (-3.0, BOOK.size.height_mm + 3.0)  # off the head and the foot
    assert (left == -3.0) if side == "left" else (left + wide == pytest.approx(PAGE + 3.0))  # and off the outer edge
    end = left + wide - PAGE if side == "left" else -left  # how far it comes into the other page
    assert 0.12 * PAGE < end < PAGE
    room = page_room(BOOK, "right" if side == "left" else "left", MARGIN)
    block = BLEEDS.column(1.5, room)
    assert block.side == "outer"
    column = block.width * room[2]
    assert column == pytest.approx(PAGE - end - BLEEDS.column_gap - MARGIN, abs=0.1)


def test_a_picture_at_the_edge_keeps_its_proportions_and_runs_off_where_it_can() -> None:
    for ratio in (2 / 3, 3 / 4, 4 / 3, 1.5, 1.78):
        left, top, wide, high = BLEEDS.rect(EDGE, "left", ratio)
        assert (left, top) == (-3.0, -3.0)
        assert wide / high == pytest.approx(ratio)
        assert wide <= PAGE + 3.0 + 1e-6
        right = BLEEDS.rect(EDGE, "right", ratio)
        assert right[0] + right[2] == pytest.approx(PAGE + 3.0)


@pytest.mark.parametrize(
    ("shape", "photo", "may"),
    [
        (BLEED, one(1, (4000, 4000)), True),
        (BLEED, one(1, (6000, 4000)), False),  # a third would be cut
        (BLEED, one(1, (2000, 2000)), False),  # 167 ppi
        (SPREAD, one(1, (6000, 3000)), True),
        (SPREAD, one(1, (4000, 2000)), False),
        (SPREAD, with_area(0.45, 0.4, 0.1, 0.1, size=(6000, 3000)), False),  # a face in the gutter
        (ACROSS, one(1, (9000, 3000)), True),
        (ACROSS, one(1, (6000, 4000)), False),
        (WIDE, one(1, (6000, 4000)), True),
        (WIDE, one(1, (4000, 6000)), False),
        (WIDE, one(1, (9000, 3000)), False),  # no room for a column
        (WIDE, one(1, (3000, 2000)), False),  # 164 ppi
        (WIDE, with_area(0.62, 0.4, 0.1, 0.1), False),  # the gutter of a picture from the left
        (WIDE, with_area(0.1, 0.4, 0.1, 0.1), True),
        (EDGE, one(1, (4000, 6000)), True),
        (EDGE, with_area(0.4, 0.0, 0.2, 0.2), False),  # a face at the trim
        (EDGE, with_area(0.4, 0.1, 0.2, 0.2), True),
    ],
)
def test_only_what_loses_nothing_runs_off(shape: str, photo, may: bool) -> None:  # type: ignore[no-untyped-def]
    assert BLEEDS.may(shape, photo) == may


@pytest.fixture(scope="module")
def laid_out_book() -> tuple[BookPlan, Job]:
    job = book(photos(120), pages=40)
    plan = plan_of(job, Wishes(pages=40, bleeds=0.7))
    return plan, apply(job, LayBook(plan=plan, theme=SHELF.themes["shoreline"]))


def boxes(sheet: Sheet) -> dict[str, Box]:
    return {opening.id: page_box(opening) for opening in sheet.layout.openings()}


def off(sheet: Sheet) -> list[str]:
    """Openings that run off a sheet."""
    return [name for name, box in boxes(sheet).items() if box.top < -1]


def test_a_book_has_several_kinds_of_them_and_seldom_two_after_each_other(laid_out_book: tuple[BookPlan, Job]) -> None:
    plan, job = laid_out_book
    shapes = [page.shape for page in plan.pages if page.shape in RUN_OFF]
    assert len(set(shapes)) >= 3
    spreads = [bool(off(sheet)) for sheet in job.sheets if sheet.role == "spread"]
    assert 0.2 <= sum(spreads) / len(spreads) <= 0.7
    assert sum(first and second for first, second in pairwise(spreads)) <= len(spreads) // 5


def test_nothing_lies_on_another_and_nothing_that_must_stay_is_cut(laid_out_book: tuple[BookPlan, Job]) -> None:
    _, job = laid_out_book
    known = job.pile.by_id
    for sheet in job.sheets[1:]:
        found = boxes(sheet)
        for name, box in found.items():
            for other, its in found.items():
                apart = box.right <= its.left or its.right <= box.left or box.bottom <= its.top or its.bottom <= box.top
                assert name == other or apart, sheet.name
        for name, placement in job.editions[0].filling(sheet.id).placements.items():
            opening = sheet.layout.openings_by_id[name]
            assert crop_share(opening, known[placement.photo], placement) <= 0.11
            assert not [
                cut for cut in cuts(sheet.layout, opening, known[placement.photo], placement) if cut.of_face > 0
            ]


def test_a_page_number_is_printed_on_no_picture_and_a_frame_stands_about_none(
    laid_out_book: tuple[BookPlan, Job],
) -> None:
    _, job = laid_out_book
    for sheet in job.sheets[1:]:
        numbers = [layer for layer in sheet.layout.layers if layer.id.startswith("number-")]
        found = boxes(sheet)
        for name in off(sheet):
            assert sheet.layout.openings_by_id[name].border is None
            for number in numbers:
                x, y = number.centre
                box = found[name]
                assert not (box.left < x < box.right and box.top < y < box.bottom), sheet.name


def test_who_wants_none_has_none_and_the_same_wishes_make_the_same_book(laid_out_book: tuple[BookPlan, Job]) -> None:
    job = book(photos(60), pages=24)
    calm = plan_of(job, Wishes(pages=24, bleeds=0.0))
    assert not [page for page in calm.pages if page.shape in RUN_OFF]
    wishes = Wishes(pages=24, bleeds=1.0)
    assert plan_of(job, wishes) == plan_of(job, wishes)
    assert len([p for p in plan_of(job, wishes).pages if p.shape in RUN_OFF]) > 3


def test_beside_a_picture_over_the_gutter_the_others_stay_in_their_column(laid_out_book: tuple[BookPlan, Job]) -> None:
    """A photo taken out of the column, say: the others are composed again beside the picture."""
    plan, job = laid_out_book
    number = next(n for n, page in enumerate(plan.pages) if page.shape == WIDE)
    hero = plan.pages[number].photos[0]
    sheet = next(
        sheet for sheet in job.sheets
        if hero in job.editions[0].filling(sheet.id).photos() and sheet.role == "spread"
    )  # fmt: skip
    filling: Filling = job.editions[0].filling(sheet.id)
    others = [photo for photo in filling.photos() if photo != hero]
    pages = next(
        choice.pages for choice in suggestions(job, sheet, job.editions[0])
        if choice.name == "Over the gutter, with a column" and hero in choice.photos
    )  # fmt: skip
    composed = apply(job, ComposeSheet(sheet=sheet.id, pages=pages))
    names = {choice.name for choice in suggestions(composed, composed.sheets_by_id[sheet.id], composed.editions[0])}
    assert {"Over the gutter, with a column", "To the edge", "Aligned across the fold"} <= names
    wide = max(boxes(composed.sheets_by_id[sheet.id]).values(), key=lambda box: box.right - box.left)
    for box in boxes(composed.sheets_by_id[sheet.id]).values():
        assert box == wide or box.left >= wide.right + 2 or box.right <= wide.left - 2
    assert sorted(composed.editions[0].filling(sheet.id).photos()) == sorted([hero, *others])


def test_shapes_of_one_photo_have_one_photo() -> None:
    for shape in OF_ONE:
        with pytest.raises(ValueError, match="as many photos as its shape has places"):
            BookPlan(pages=({"photos": ("a" * 16, "b" * 16), "shape": shape},))  # type: ignore[arg-type]
