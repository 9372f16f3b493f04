"""A book in another size: the same photos on the same pages, each spread composed anew for it."""

from statistics import median

import pytest

from sutaru.core.arranging.aligning import page_box
from sutaru.core.books.another_size import resize_book
from sutaru.core.books.binding import cover_layout, pages_of, spine_of
from sutaru.core.books.book import plan_of
from sutaru.core.books.layout_suggestions import openings_on_page
from sutaru.core.books.plan import Wishes
from sutaru.core.checks import check_job
from sutaru.core.document import Book, Edition, Job, Sheet
from sutaru.core.edits.apply import apply
from sutaru.core.edits.kinds import Carry, LayBook, Pin, Place
from sutaru.core.errors import EditRefused
from sutaru.core.fitting import crop_share
from tests.conftest import SHELF
from tests.core.booked import BINDERY, book, photos

SIZES = {size.id: size for size in BINDERY.sizes}
THEME = SHELF.themes["shoreline"]


@pytest.fixture(scope="module")
def album() -> Job:
    """A book of 24 pages, 12 by 12 inches, of 60 photos of two days."""
    job = book(photos(60), pages=24)
    return apply(job, LayBook(plan=plan_of(job, Wishes(pages=24)), theme=THEME))


def bound(job: Job) -> Book:
    assert job.book is not None
    return job.book


def by_page(job: Job, sheet: Sheet) -> list[list[str]]:
    filling = job.editions[0].filling(sheet.id)
    return [sorted(photo for _, photo in openings_on_page(sheet, filling, page)) for page in (0, 1)]


def rects(job: Job, sheet: str) -> dict[str, tuple[float, ...]]:
    """Where each photo of a sheet lies, in shares of the sheet."""
    layout, filling = job.sheets_by_id[sheet].layout, job.editions[0].filling(sheet)
    return {
        filling.photo_in(opening.id): (
            box.left / layout.width_mm, box.top / layout.height_mm, box.right / layout.width_mm,
            box.bottom / layout.height_mm,
        )
        for opening in layout.openings() for box in [page_box(opening)]
    }  # fmt: skip


@pytest.mark.parametrize("size", ["square-8", "upright-8x10", "wide-12x8", "wide-14x10"])
def test_all_photos_keep_their_pages_and_nothing_is_wrong_in_any_size(album: Job, size: str) -> None:
    resized = resize_book(album, SIZES[size], THEME)
    assert not resized.fitted
    job = resized.job
    assert bound(job).size == SIZES[size]
    assert pages_of(job) == pages_of(album)
    for sheet in job.sheets:
        before = album.sheets_by_id[sheet.id]
        assert sorted(job.editions[0].filling(sheet.id).photos()) == sorted(
            album.editions[0].filling(sheet.id).photos()
        )
        if sheet.role != "cover":
            wide = SIZES[size].width_mm * (2 if sheet.role == "spread" else 1)
            assert (sheet.layout.width_mm, sheet.layout.height_mm) == (wide, SIZES[size].height_mm)
            assert set(sheet.layout.texts_by_id) <= {*before.layout.texts_by_id, "number-1", "number-2"}
    moved = [
        sheet.name for sheet in job.sheets
        if sheet.role == "spread" and len(sheet.layout.openings_by_id) > 1
        and by_page(job, sheet) != by_page(album, album.sheets_by_id[sheet.id])
    ]  # fmt: skip
    assert moved == []
    assert [finding.sentence for finding in check_job(job) if finding.severity == "stop"] == []
    known = job.pile.by_id
    for sheet in job.sheets:
        for name, lies in job.editions[0].filling(sheet.id).placements.items():
            opening = sheet.layout.openings_by_id[name]
            box = page_box(opening)
            runs_off = min(box.left, box.top) < 0 or box.right > sheet.layout.width_mm
            if sheet.role != "cover" and not runs_off:
                assert crop_share(opening, known[lies.photo], lies) <= bound(job).cropping + 0.02


def test_of_the_same_proportions_it_is_the_same_book_smaller(album: Job) -> None:
    job = resize_book(album, SIZES["square-8"], THEME).job
    near = [
        max(
            abs(a - b) for photo, rect in rects(album, sheet.id).items()
            for a, b in zip(rect, rects(job, sheet.id)[photo], strict=True)
        )
        for sheet in album.sheets if sheet.role == "spread" and sheet.layout.openings_by_id
    ]  # fmt: skip
    assert median(near) < 0.02
    assert bound(job).gap_mm == pytest.approx(bound(album).gap_mm * 8 / 12)


def test_the_largest_photo_of_a_sheet_stays_the_largest(album: Job) -> None:
    def largest(job: Job, sheet: str) -> tuple[str, float]:
        areas = {photo: (r - x) * (b - y) for photo, (x, y, r, b) in rects(job, sheet).items()}
        first = max(areas, key=lambda photo: areas[photo])
        return first, areas[first] / median(areas.values())

    job = resize_book(album, SIZES["wide-12x8"], THEME).job
    heroes = {s.id: largest(album, s.id) for s in album.sheets if s.role == "spread" and len(rects(album, s.id)) > 2}
    clear = [sheet for sheet, (_, share) in heroes.items() if share >= 1.6]
    assert len(clear) >= 4
    kept = [largest(job, sheet)[0] == heroes[sheet][0] for sheet in clear]
    assert sum(kept) >= 0.8 * len(kept)


def test_the_cover_has_the_spine_that_its_pages_ask_for(album: Job) -> None:
    job = resize_book(album, SIZES["wide-12x8"], THEME).job
    cover = job.sheets[0].layout
    wanted = cover_layout(bound(job), pages_of(job))
    assert (cover.width_mm, cover.height_mm) == pytest.approx((wanted.width_mm, wanted.height_mm), abs=0.01)
    assert spine_of(cover) == pytest.approx(spine_of(wanted), abs=0.01)
    assert cover.bleed_mm == wanted.bleed_mm


def test_what_a_hand_arranged_is_fitted_and_said(album: Job) -> None:
    spread = next(s for s in album.sheets if s.role == "spread" and len(s.layout.openings_by_id) >= 3)
    opening = next(iter(spread.layout.openings_by_id))
    by_hand = apply(album, Carry(sheet=spread.id, layers=(opening,), turn_deg=4.0))
    resized = resize_book(by_hand, SIZES["wide-12x8"], THEME)
    assert resized.fitted == (spread.name,)
    layout = resized.job.sheets_by_id[spread.id].layout
    assert layout.openings_by_id[opening].surface.turn_deg == 4.0  # type: ignore[union-attr]
    assert set(layout.openings_by_id) == set(spread.layout.openings_by_id)


def test_fits_tones_and_pins_of_all_editions_come_along(album: Job) -> None:
    spread = next(s for s in album.sheets if s.role == "spread" and len(s.layout.openings_by_id) >= 4)
    first, second = list(spread.layout.openings_by_id)[:2]
    job = album.copy_with(editions=(*album.editions, Edition(id="grandparents", name="Grandparents")))
    job = apply(job, Place(sheet=spread.id, opening=first, centre=(0.4, 0.45), zoom=1.6, turn_deg=0.0, mirror=False))
    job = apply(job, Pin(sheet=spread.id, openings=(second,), pinned=True))
    after = resize_book(job, SIZES["square-8"], THEME).job.editions[0].filling(spread.id)
    before = job.editions[0].filling(spread.id)
    lies = next(lies for lies in after.placements.values() if lies.photo == before.placements[first].photo)
    assert lies.zoom == pytest.approx(1.6, abs=0.05)
    assert after.pins == before.pins
    assert set(after.by_hand) == set(before.by_hand)


def test_only_a_book_has_another_size(album: Job) -> None:
    with pytest.raises(EditRefused, match="no book"):
        resize_book(album.copy_with(book=None), SIZES["square-8"])


def test_an_empty_book_is_resized_too() -> None:
    job = resize_book(book((), pages=20), SIZES["wide-12x8"], THEME).job
    assert pages_of(job) == 20
