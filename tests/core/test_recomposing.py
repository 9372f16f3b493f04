"""A sheet composed anew after a hand changed what lies on it."""

from collections.abc import Callable
from statistics import median

import pytest
from pydantic import ValidationError

from sutaru.core.arranging.aligning import box_around, page_box
from sutaru.core.books.layout_suggestions import openings_on_page, suggestions
from sutaru.core.books.sheet_rooms import read_sheet
from sutaru.core.checks import check_job
from sutaru.core.document import Edition, Job, Placement, Sheet
from sutaru.core.edits.apply import apply, label
from sutaru.core.edits.kinds import Clear, ComposeSheet, Dress, Pin, Place, Put, RemoveLayers, SpanOver
from sutaru.core.errors import EditRefused
from sutaru.core.fitting import crop_share, first_placement
from tests.conftest import SHELF
from tests.core.booked import photos


def spread_of(job: Job, count: int) -> Sheet:
    """A spread with so many photos at least, both pages of it with some."""
    return next(
        sheet for sheet in job.sheets
        if sheet.role == "spread" and len(job.editions[0].filling(sheet.id).placements) >= count
        and all(len(openings_on_page(sheet, job.editions[0].filling(sheet.id), page)) >= 2 for page in (0, 1))
    )  # fmt: skip


def areas(job: Job, sheet: str) -> dict[str, float]:
    """How large each photo of a sheet is, mm2."""
    layout, filling = job.sheets_by_id[sheet].layout, job.editions[0].filling(sheet)
    boxes = {opening.id: page_box(opening) for opening in layout.openings()}
    return {
        filling.photo_in(name): (box.right - box.left) * (box.bottom - box.top) for name, box in boxes.items()
    }  # fmt: skip


def edges(job: Job, sheet: str) -> tuple[set[float], set[float]]:
    """Tops and feet of both pages."""
    layout = job.sheets_by_id[sheet].layout
    middle = layout.width_mm / 2
    boxes = [page_box(opening) for opening in layout.openings()]
    sides = [[box for box in boxes if ((box.left + box.right) / 2 > middle) == right] for right in (False, True)]
    return (
        {round(min(box.top for box in side), 0) for side in sides if side},
        {round(max(box.bottom for box in side), 0) for side in sides if side},
    )


def check_sound(job: Job, sheet: str) -> None:
    """Nothing overlaps, nothing is cropped beyond what was allowed, no photo lies without an opening or twice."""
    layout, filling = job.sheets_by_id[sheet].layout, job.editions[0].filling(sheet)
    assert set(filling.placements) == set(layout.openings_by_id)
    assert len(set(filling.photos())) == len(filling.placements)
    boxes = [page_box(opening) for opening in layout.openings()]
    for n, box in enumerate(boxes):
        for other in boxes[n + 1 :]:
            across = min(box.right, other.right) - max(box.left, other.left)
            down = min(box.bottom, other.bottom) - max(box.top, other.top)
            assert across < 0.1 or down < 0.1
    for name, lies in filling.placements.items():
        assert crop_share(layout.openings_by_id[name], job.pile.by_id[lies.photo], lies) < 0.101


def test_a_photo_taken_out_and_one_added_leave_the_others_on_their_pages_and_in_line(laid: tuple[Job, Job]) -> None:
    job = laid[1]
    sheet = spread_of(job, 6)
    filling = job.editions[0].filling(sheet.id)
    pages = [{photo for _, photo in openings_on_page(sheet, filling, page)} for page in (0, 1)]
    gone = sorted(pages[0])[0]
    out = apply(job, ComposeSheet(sheet=sheet.id, remove=(gone,)))
    extra = next(photo for photo in job.photos if photo.id not in filling.photos())
    more = apply(out, ComposeSheet(sheet=sheet.id, add=(extra.id,), page=1))
    for after, expected in ((out, [pages[0] - {gone}, pages[1]]), (more, [pages[0] - {gone}, pages[1] | {extra.id}])):
        laid_sheet, now = after.sheets_by_id[sheet.id], after.editions[0].filling(sheet.id)
        assert [{photo for _, photo in openings_on_page(laid_sheet, now, page)} for page in (0, 1)] == expected
        check_sound(after, sheet.id)
        tops, feet = edges(after, sheet.id)
        assert (len(tops), len(feet)) == (1, 1)
    assert [f.sentence for f in check_job(more) if f.severity == "stop"] == []
    # Who stays keeps the opening and its frame; words stay.
    for opening in sheet.layout.openings():
        photo = filling.photo_in(opening.id)
        if photo != gone:
            assert more.editions[0].filling(sheet.id).photo_in(opening.id) == photo
            assert more.sheets_by_id[sheet.id].layout.openings_by_id[opening.id].border == opening.border
    assert more.sheets_by_id[sheet.id].layout.texts_by_id.keys() == sheet.layout.texts_by_id.keys()


def test_the_date_of_a_page_is_that_of_a_photo_that_stays(laid: tuple[Job, Job]) -> None:
    job = laid[1]
    sheet = next(
        sheet for sheet in job.sheets
        if sheet.role == "spread" and any(text.photo_of for text in sheet.layout.texts_by_id.values())
        and len(sheet.layout.openings_by_id) > 2
    )  # fmt: skip
    dated = next(text for text in sheet.layout.texts_by_id.values() if text.photo_of)
    gone = job.editions[0].filling(sheet.id).photo_in(dated.photo_of)
    after = apply(job, ComposeSheet(sheet=sheet.id, remove=(gone,))).sheets_by_id[sheet.id].layout
    assert after.texts_by_id[dated.id].photo_of in after.openings_by_id
    assert after.texts_by_id[dated.id].text == dated.text


def test_a_photo_becomes_larger_and_smaller_and_stays_the_largest(laid: tuple[Job, Job]) -> None:
    job = laid[1]
    sheet = spread_of(job, 6)
    before = areas(job, sheet.id)
    photo = sorted(before, key=before.__getitem__)[len(before) // 2]
    larger = apply(job, ComposeSheet(sheet=sheet.id, how="larger", photo=photo))
    assert areas(larger, sheet.id)[photo] >= 1.2 * before[photo]
    check_sound(larger, sheet.id)
    smaller = apply(larger, ComposeSheet(sheet=sheet.id, how="smaller", photo=photo))
    assert areas(smaller, sheet.id)[photo] <= 0.84 * areas(larger, sheet.id)[photo]
    # Whoever made it the largest finds it so after the next change.
    hero = larger
    for _ in range(6):
        sizes = areas(hero, sheet.id)
        if max(sizes, key=sizes.__getitem__) == photo and sizes[photo] >= 1.6 * median(sizes.values()):
            break
        hero = apply(hero, ComposeSheet(sheet=sheet.id, how="larger", photo=photo))
    other = next(held for held in sorted(before) if held != photo)
    sizes = areas(apply(hero, ComposeSheet(sheet=sheet.id, remove=(other,))), sheet.id)
    assert max(sizes, key=sizes.__getitem__) == photo


def test_white_space_is_more_and_less_and_the_spread_the_other_way_round(laid: tuple[Job, Job]) -> None:
    job = laid[1]
    sheet = spread_of(job, 5)
    total = sum(areas(job, sheet.id).values())
    more = apply(job, ComposeSheet(sheet=sheet.id, how="more_white_space"))
    assert sum(areas(more, sheet.id).values()) <= 0.94 * total
    less = apply(more, ComposeSheet(sheet=sheet.id, how="less_white_space"))
    assert sum(areas(less, sheet.id).values()) >= 1.06 * sum(areas(more, sheet.id).values())
    for after in (more, less):
        check_sound(after, sheet.id)
    turned = apply(job, ComposeSheet(sheet=sheet.id, how="mirror"))
    check_sound(turned, sheet.id)
    assert areas(turned, sheet.id) == pytest.approx(areas(job, sheet.id), abs=0.1)
    width = sheet.layout.width_mm
    for opening in sheet.layout.openings():
        was, box = page_box(opening), page_box(turned.sheets_by_id[sheet.id].layout.openings_by_id[opening.id])
        assert (box.left, box.right) == pytest.approx((width - was.right, width - was.left), abs=0.01)
        assert (box.top, box.bottom) == pytest.approx((was.top, was.bottom), abs=0.01)
    again = apply(turned, ComposeSheet(sheet=sheet.id, how="mirror"))
    assert areas(again, sheet.id) == pytest.approx(areas(job, sheet.id), abs=0.1)


def test_designs_that_are_offered_can_be_chosen_and_are_told_apart(laid: tuple[Job, Job]) -> None:
    job = laid[1]
    sheet = spread_of(job, 5)
    offered = [choice for choice in suggestions(job, sheet, job.editions[0]) if choice.source == "computed"]
    assert len(offered) == 12
    assert sum(choice.now for choice in offered) <= 1
    assert len({choice.name for choice in offered}) >= 4
    for choice in offered:
        after = apply(job, ComposeSheet(sheet=sheet.id, pages=choice.pages))
        check_sound(after, sheet.id)
        assert after.sheets_by_id[sheet.id].layout == choice.layout
        again = suggestions(after, after.sheets_by_id[sheet.id], after.editions[0])
        assert sum(other.now for other in again if other.source == "computed") <= 1
    with pytest.raises(EditRefused, match="Other photos lie on this sheet now"):
        other = next(s for s in job.sheets if s.role == "spread" and s.id != sheet.id)
        apply(job, ComposeSheet(sheet=other.id, pages=offered[0].pages))


def test_what_is_pinned_stays_and_the_other_page_hangs_from_its_lines(laid: tuple[Job, Job]) -> None:
    job = laid[1]
    sheet = spread_of(job, 6)
    filling = job.editions[0].filling(sheet.id)
    left, right = (openings_on_page(sheet, filling, page) for page in (0, 1))
    pinned = apply(job, Pin(sheet=sheet.id, openings=(left[0][0].id,), pinned=True))
    after = apply(pinned, ComposeSheet(sheet=sheet.id, remove=(right[0][1],)))
    layout = after.sheets_by_id[sheet.id].layout
    assert all(layout.openings_by_id[opening.id] == opening for opening, _ in left)
    fixed, box = (
        page_box(left[0][0]),
        [page_box(o) for o, _ in openings_on_page(after.sheets_by_id[sheet.id], filling, 1)],
    )
    assert min(b.top for b in box) == pytest.approx(fixed.top, abs=0.7)
    for edit, sentence in (
        (ComposeSheet(sheet=sheet.id, add=(job.photos[0].id,), page=0), "pinned on this page"),
        (ComposeSheet(sheet=sheet.id, how="larger", photo=left[0][1]), "stays as it is"),
        (ComposeSheet(sheet=sheet.id, remove=("f" * 16,)), "does not lie on this sheet"),
        (ComposeSheet(sheet="cover", how="anew"), "keep their layout"),
        (ComposeSheet(sheet=sheet.id, add=(right[0][1],)), "lies on this sheet already"),
    ):
        with pytest.raises(EditRefused, match=sentence):
            apply(pinned, edit)
    both = apply(pinned, Pin(sheet=sheet.id, openings=(right[0][0].id,), pinned=True))
    with pytest.raises(EditRefused, match="pinned or locked"):
        apply(both, ComposeSheet(sheet=sheet.id))


def test_what_a_hand_has_fitted_goes_along(laid: tuple[Job, Job]) -> None:
    job = laid[1]
    sheet = spread_of(job, 6)
    name, lies = next(iter(job.editions[0].filling(sheet.id).placements.items()))
    fitted = Place(sheet=sheet.id, opening=name, fit="cover", centre=(0.5, 0.5), zoom=1.4, turn_deg=3.0, mirror=True)
    closer = apply(job, fitted)
    gone = next(held for held in sorted(job.editions[0].filling(sheet.id).photos()) if held != lies.photo)
    after = apply(closer, ComposeSheet(sheet=sheet.id, remove=(gone,))).editions[0].filling(sheet.id).placements[name]
    assert (after.photo, after.zoom, after.turn_deg, after.mirror) == (lies.photo, 1.4, 3.0, True)


def test_another_edition_keeps_its_photos_in_the_openings_that_stay(laid: tuple[Job, Job]) -> None:
    job = laid[1]
    sheet = spread_of(job, 6)
    filling = job.editions[0].filling(sheet.id)
    known = job.photos
    theirs = {name: Placement(photo=known[n].id) for n, name in enumerate(sheet.layout.openings_by_id)}
    two = Edition(id="two", name="Two", fillings={sheet.id: filling.copy_with(placements=theirs)})
    both = job.copy_with(editions=(*job.editions, two))
    gone = next(iter(sheet.layout.openings_by_id))
    after = apply(both, ComposeSheet(sheet=sheet.id, remove=(filling.photo_in(gone),)))
    here = after.edition("two").filling(sheet.id)
    assert {name: lies.photo for name, lies in here.placements.items()} == {
        name: lies.photo for name, lies in theirs.items() if name != gone
    }


def filled(job: Job) -> Job:
    """A job of one sheet with a photo in every opening."""
    job, sheet = job.copy_with(pile=job.pile.copy_with(photos=photos(40))), job.sheets[0]
    for n, name in enumerate(sheet.layout.openings_by_id):
        job = apply(job, Put(sheet=sheet.id, opening=name, photo=job.photos[n].id))
    return job


def test_what_another_edition_has_pinned_or_runs_on_stays_for_all(laid: tuple[Job, Job]) -> None:
    job = laid[1]
    sheet = spread_of(job, 6)
    filling = job.editions[0].filling(sheet.id)
    left, right = (openings_on_page(sheet, filling, page) for page in (0, 1))
    two = Edition(id="two", name="Two", fillings={sheet.id: filling.copy_with(pins=(left[0][0].id,))})
    both = job.copy_with(editions=(*job.editions, two))
    after = apply(both, ComposeSheet(sheet=sheet.id, remove=(right[0][1],)))
    assert all(after.sheets_by_id[sheet.id].layout.openings_by_id[opening.id] == opening for opening, _ in left)
    spanned = SpanOver(edition="two", sheet=sheet.id, photo=right[0][1], openings=tuple(o.id for o, _ in right[:2]))
    with pytest.raises(EditRefused, match="in Two"):
        apply(apply(both, spanned), ComposeSheet(sheet=sheet.id))


def test_faces_of_another_editions_photos_stay_in_view(laid: tuple[Job, Job]) -> None:
    """Laid by itself, a photo is laid by itself again in an opening of another shape, as in the edition in view."""
    job = laid[1]
    sheet = spread_of(job, 6)
    filling = job.editions[0].filling(sheet.id)
    names = list(sheet.layout.openings_by_id)
    faces = [photo for photo in job.photos if photo.keep_areas and photo.id not in filling.photos()][: len(names)]
    two = Edition(id="two", name="Two")
    both = job.copy_with(editions=(*job.editions, two))
    for name, photo in zip(names, faces, strict=True):
        both = apply(both, Put(edition="two", sheet=sheet.id, opening=name, photo=photo.id))
    after = apply(both, ComposeSheet(sheet=sheet.id, how="mirror"))
    after = apply(after, ComposeSheet(sheet=sheet.id, remove=(filling.photo_in(names[0]),)))
    layout = after.sheets_by_id[sheet.id].layout
    for name, lies in after.edition("two").filling(sheet.id).placements.items():
        opening = layout.openings_by_id[name]
        assert lies == first_placement(layout, opening, job.pile.by_id[lies.photo])


def test_page_numbers_hide_under_pictures_and_are_there_again_but_not_one_that_a_hand_took_away(
    laid: tuple[Job, Job],
) -> None:
    job = laid[1]

    def numbers(after: Job) -> list[str]:
        texts = after.sheets_by_id[sheet.id].layout.texts_by_id.values()
        return sorted(text.id for text in texts if text.style == "Page number" and text.visible)

    sheet, bleeding, aligned = next(
        (sheet, bleeding.pages, aligned.pages)
        for sheet in job.sheets if sheet.role == "spread"
        for offered in [[one for one in suggestions(job, sheet, job.editions[0]) if one.source == "computed"]]
        for bleeding in offered if bleeding.name == "A photo over the whole page"
        for aligned in offered if aligned.name == "Aligned across the fold"
    )  # fmt: skip
    job = apply(job, ComposeSheet(sheet=sheet.id, pages=aligned))
    assert numbers(job) == ["number-1", "number-2"]
    covered = apply(job, ComposeSheet(sheet=sheet.id, pages=bleeding))
    assert len(numbers(covered)) == 1
    assert numbers(apply(covered, ComposeSheet(sheet=sheet.id, pages=aligned))) == ["number-1", "number-2"]
    # Of a book that was laid out so from the first there is no number to hide: it comes.
    hidden = next(
        text.id for text in covered.sheets_by_id[sheet.id].layout.texts_by_id.values()
        if text.style == "Page number" and not text.visible
    )  # fmt: skip
    bare = apply(covered, RemoveLayers(sheet=sheet.id, layers=(hidden,)))
    assert numbers(apply(bare, ComposeSheet(sheet=sheet.id, pages=aligned))) == ["number-1", "number-2"]
    taken = apply(job, RemoveLayers(sheet=sheet.id, layers=("number-1",)))
    assert numbers(apply(taken, ComposeSheet(sheet=sheet.id, how="mirror"))) == ["number-2"]


def test_a_sheet_is_asked_one_change_at_a_time(laid: tuple[Job, Job]) -> None:
    photo = laid[1].photos[0].id
    for wrong in ({"how": "mirror", "remove": (photo,)}, {"how": "larger", "photo": photo, "add": (photo,)}):
        with pytest.raises(ValidationError, match="one change of a sheet at a time"):
            ComposeSheet(sheet="pages-2", **wrong)


def test_a_board_of_photos_is_composed_within_what_its_openings_take(job_of: Callable[[str], Job]) -> None:
    job = filled(job_of("storyboard-sixteen-16x20"))
    sheet = job.sheets[0]
    before = box_around([page_box(opening) for opening in sheet.layout.openings()])
    for edit, count in (
        (ComposeSheet(sheet=sheet.id, add=(job.photos[30].id, job.photos[31].id)), 18),
        (ComposeSheet(sheet=sheet.id, remove=tuple(photo.id for photo in job.photos[:7])), 9),
        (ComposeSheet(sheet=sheet.id, how="larger", photo=job.photos[3].id), 16),
    ):
        after = apply(job, edit)
        check_sound(after, sheet.id)
        layout = after.sheets_by_id[sheet.id].layout
        assert len(layout.openings_by_id) == count
        around = box_around([page_box(opening) for opening in layout.openings()])
        for inner, outer in ((around.left, before.left), (around.top, before.top)):
            assert inner >= outer - 0.1
        for inner, outer in ((around.right, before.right), (around.bottom, before.bottom)):
            assert inner <= outer + 0.1
        assert layout.texts_by_id == sheet.layout.texts_by_id


def test_openings_that_are_empty_are_not_taken_away_unasked(job_of: Callable[[str], Job]) -> None:
    job = filled(job_of("storyboard-sixteen-16x20"))
    sheet = job.sheets[0]
    cleared = apply(job, Clear(sheet=sheet.id, openings=tuple(sheet.layout.openings_by_id)[:2]))
    with pytest.raises(EditRefused, match="2 openings on this sheet are empty"):
        apply(cleared, ComposeSheet(sheet=sheet.id, how="larger", photo=job.photos[5].id))
    offered = suggestions(cleared, sheet, cleared.editions[0])[0]
    after = apply(cleared, ComposeSheet(sheet=sheet.id, pages=offered.pages))
    assert len(after.sheets[0].layout.openings_by_id) == 14


def test_words_among_the_photos_and_shapes_that_are_none_are_left_alone(job_of: Callable[[str], Job]) -> None:
    for template, sentence in (
        ("card-birthday", "lies among the photos"),
        ("collage-heart", "rectangles that lie straight"),
    ):
        job = filled(job_of(template))
        with pytest.raises(EditRefused, match=sentence):
            apply(job, ComposeSheet(sheet=job.sheets[0].id))
        assert not [one for one in suggestions(job, job.sheets[0], job.editions[0]) if one.source == "computed"]


def test_each_has_a_label_of_its_own(laid: tuple[Job, Job]) -> None:
    job = laid[1]
    sheet = spread_of(job, 5)
    photo = next(iter(job.editions[0].filling(sheet.id).photos()))
    hows = ("anew", "larger", "smaller", "more_white_space", "less_white_space", "mirror")
    edits = [ComposeSheet(sheet=sheet.id, how=how, photo=photo) for how in hows]
    edits += [ComposeSheet(sheet=sheet.id, add=(photo,)), ComposeSheet(sheet=sheet.id, remove=(photo,))]
    assert len({label(job, edit) for edit in edits}) == len(edits)
    spanned = apply(job, SpanOver(sheet=sheet.id, photo=photo, openings=tuple(sheet.layout.openings_by_id)[:2]))
    with pytest.raises(EditRefused, match="runs on through"):
        apply(spanned, ComposeSheet(sheet=sheet.id))


def test_what_is_pinned_on_the_right_page_leaves_the_left_one_to_be_composed(laid: tuple[Job, Job]) -> None:
    job = laid[1]
    sheet = spread_of(job, 6)
    filling = job.editions[0].filling(sheet.id)
    left, right = (openings_on_page(sheet, filling, page) for page in (0, 1))
    pinned = apply(job, Pin(sheet=sheet.id, openings=(right[0][0].id,), pinned=True))
    after = apply(pinned, ComposeSheet(sheet=sheet.id, remove=(left[0][1],)))
    layout = after.sheets_by_id[sheet.id].layout
    assert all(layout.openings_by_id[opening.id] == opening for opening, _ in right)
    assert left[0][0].id not in layout.openings_by_id


def test_a_photo_that_comes_is_framed_as_the_others_and_lies_under_the_words(laid: tuple[Job, Job]) -> None:
    framed = next(theme for theme in SHELF.themes.values() if theme.frame.border)
    job = apply(laid[1], Dress(theme=framed))
    sheet = spread_of(job, 5)
    filling = job.editions[0].filling(sheet.id)
    extra = next(photo for photo in job.photos if photo.id not in filling.photos())
    after = apply(job, ComposeSheet(sheet=sheet.id, add=(extra.id,)))
    layout, now = after.sheets_by_id[sheet.id].layout, after.editions[0].filling(sheet.id)
    fresh = next(layout.openings_by_id[name] for name, lies in now.placements.items() if lies.photo == extra.id)
    assert fresh.id not in sheet.layout.openings_by_id
    assert fresh.border == sheet.layout.openings()[0].border
    assert fresh.border is not None
    # On a page that was empty they lie above the ground and under the page number.
    bare = next(s for s in laid[0].sheets if s.role == "page" and s.id != job.sheets[1].id)
    empty = laid[0].copy_with(pile=job.pile)
    kinds = [
        layer.kind
        for layer in apply(empty, ComposeSheet(sheet=bare.id, add=(extra.id,))).sheets_by_id[bare.id].layout.layers
    ]
    assert kinds.index("background") < kinds.index("opening") < kinds.index("text")


def test_a_page_alone_has_designs_of_its_own(laid: tuple[Job, Job]) -> None:
    job = laid[1]
    page = next(sheet for sheet in job.sheets if sheet.role == "page" and len(sheet.layout.openings_by_id) == 1)
    held = next(iter(job.editions[0].filling(page.id).photos()))
    more = [photo.id for photo in job.photos if photo.id != held][:4]
    after = apply(job, ComposeSheet(sheet=page.id, add=tuple(more)))
    assert after.editions[0].filling(page.id).photos() == {held, *more}
    check_sound(after, page.id)
    five = after.sheets_by_id[page.id]
    names = {choice.name for choice in suggestions(after, five, after.editions[0]) if choice.source == "computed"}
    assert "In one block" in names


def test_the_largest_is_meant_to_be_it_only_where_it_is_much_larger(
    laid: tuple[Job, Job], job_of: Callable[[str], Job]
) -> None:
    board = filled(job_of("storyboard-sixteen-16x20"))
    assert read_sheet(board, board.sheets[0], board.editions[0].filling(board.sheets[0].id)).hero == ""
    job = laid[1]
    for sheet in job.sheets:
        sizes = areas(job, sheet.id)
        if sheet.role == "spread" and len(sizes) > 2 and max(sizes.values()) >= 2 * median(sizes.values()):
            assert read_sheet(job, sheet, job.editions[0].filling(sheet.id)).hero == max(sizes, key=sizes.__getitem__)


def test_a_sheet_without_openings_is_composed_within_its_margins(job_of: Callable[[str], Job]) -> None:
    job = job_of("storyboard-sixteen-16x20")
    sheet = job.sheets[0]
    bare = sheet.layout.copy_with(layers=tuple(layer for layer in sheet.layout.layers if layer.kind == "background"))
    job = job.copy_with(sheets=(sheet.copy_with(layout=bare),), pile=job.pile.copy_with(photos=photos(12)))
    after = apply(job, ComposeSheet(sheet=sheet.id, add=tuple(photo.id for photo in job.photos[:9])))
    check_sound(after, sheet.id)
    around = box_around([page_box(opening) for opening in after.sheets[0].layout.openings()])
    margin = bare.safe_mm + 0.06 * min(bare.width_mm, bare.height_mm)
    for side in (around.left, around.top, bare.width_mm - around.right, bare.height_mm - around.bottom):
        assert side >= margin - 0.1
    assert len(after.sheets[0].layout.openings()) == 9
