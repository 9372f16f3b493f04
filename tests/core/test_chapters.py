"""Chapters of a book: where they begin, what they are called, and that each opens a spread under its title."""

from datetime import datetime, timedelta

import pytest

from sutaru.core.arranging.aligning import page_box
from sutaru.core.books.another_size import resize_book
from sutaru.core.books.book import plan_of
from sutaru.core.books.chapters import MOST, chapter_starts, name_chapters
from sutaru.core.books.plan import RUN_OFF, Wishes
from sutaru.core.checks import check_job
from sutaru.core.document import Job, Photo
from sutaru.core.edits.apply import apply
from sutaru.core.edits.kinds import ComposeSheet, LayBook
from tests.conftest import SHELF
from tests.core.booked import BINDERY, SHAPES, book, one

THEME = SHELF.themes["dune-grass"]
DAY = datetime(2026, 6, 19, 9, 30)


def taken(*events: tuple[timedelta, int]) -> tuple[Photo, ...]:
    """Photos of events: when each begins after the first, and how many photos it has, two minutes apart."""
    found: list[Photo] = []
    for begins, count in events:
        for n in range(count):
            found.append(one(len(found) + 1, SHAPES[len(found) % 9], DAY + begins + timedelta(minutes=2 * n)))
    return tuple(found)


HOURS = [timedelta(hours=hours) for hours in (0, 5, 11, 24, 30)]
STORY = taken(*((hours, 12) for hours in HOURS))


def test_chapters_begin_where_events_end() -> None:
    assert chapter_starts(STORY, 6) == [0, 12, 24, 36, 48]
    # A pause of a few minutes ends none, nor does an event of too few photos; a day may be half as long.
    assert chapter_starts(taken((timedelta(0), 20), (timedelta(minutes=55), 20)), 6) == []
    short = taken((timedelta(0), 20), (timedelta(hours=3), 3), (timedelta(hours=6), 20))
    assert chapter_starts(short, 8) in ([0, 20], [0, 23])
    assert chapter_starts(taken((timedelta(0), 20), (timedelta(days=1), 4)), 8) == [0, 20]
    assert chapter_starts([one(n) for n in range(1, 30)], 4) == []
    assert chapter_starts([], 4) == []
    many = taken(*((timedelta(days=day), 5) for day in range(30)))
    assert len(chapter_starts(many, 4)) <= MOST + 1


@pytest.mark.parametrize(
    ("locale", "names"),
    [  # by hand, from the Unicode CLDR's day periods and weekdays
        ("en_GB", ["Friday 19 June", "Afternoon", "Evening", "Saturday 20 June"]),
        ("de_DE", ["Freitag, 19. Juni", "Nachmittag", "Abend", "Samstag, 20. Juni"]),
        ("fr_FR", ["Vendredi 19 juin", "Après-midi", "Soir", "Samedi 20 juin"]),
    ],
)
def test_chapters_are_named_by_day_and_time_of_day(locale: str, names: list[str]) -> None:
    times = [DAY, DAY + timedelta(hours=5), DAY + timedelta(hours=10), DAY + timedelta(days=1)]
    assert name_chapters(times, locale) == names


def test_the_same_time_of_day_twice_is_said_by_the_clock() -> None:
    assert name_chapters([DAY, DAY + timedelta(hours=1)], "en_GB") == ["Morning", "10:30"]


@pytest.fixture(scope="module", params=[0.1, 0.0], ids=["cropped", "uncropped"])
def album(request: pytest.FixtureRequest) -> Job:
    job = book(STORY, pages=36, theme="dune-grass")
    plan = plan_of(job, Wishes(pages=36, chapters=True, cropping=request.param, likes=True))
    return apply(job, LayBook(plan=plan, theme=THEME))


def titles(job: Job) -> dict[str, str]:
    """The titles of chapters by the first photo of the sheet on which they stand."""
    return {
        job.editions[0].filling(sheet.id).photo_in(next(iter(sheet.layout.openings_by_id))): text.text
        for sheet in job.sheets for name, text in sheet.layout.texts_by_id.items() if name.startswith("chapter-")
    }  # fmt: skip


def test_each_chapter_opens_a_spread_under_its_title(album: Job) -> None:
    found = titles(album)
    assert album.book
    assert album.book.chapters
    assert list(found.values()) == ["Friday 19 June", "Afternoon", "Evening", "Saturday 20 June", "Afternoon"]
    order = {photo.id: n for n, photo in enumerate(STORY)}
    assert [order[photo] for photo in found][1:] == [12, 24, 36, 48]
    assert [finding.sentence for finding in check_job(album) if finding.severity == "stop"] == []


def test_a_title_is_in_line_with_its_photos_and_nothing_lies_on_it(album: Job) -> None:
    for sheet in album.sheets:
        texts = [text for name, text in sheet.layout.texts_by_id.items() if name.startswith("chapter-")]
        for text in texts:
            box = page_box(text)
            photos = [page_box(opening) for opening in sheet.layout.openings()]
            on_left = [photo for photo in photos if photo.right <= sheet.layout.width_mm / 2 + 1]
            if on_left:
                assert box.left == pytest.approx(min(photo.left for photo in on_left), abs=0.1)
            assert box.top >= sheet.layout.safe_mm - 0.1
            for other in (page_box(layer) for layer in sheet.layout.layers if layer.kind in ("opening", "ornament")):
                across = min(box.right, other.right) - max(box.left, other.left)
                down = min(box.bottom, other.bottom) - max(box.top, other.top)
                assert min(across, down) <= 0.01


def test_no_picture_runs_off_under_a_title() -> None:
    job = book(STORY, pages=36)
    for seed in range(4):
        plan = plan_of(job, Wishes(pages=36, chapters=True, bleeds=1.0, seed=seed))
        assert sum(bool(page.chapter) for page in plan.pages) == 5
        assert not [page for page in plan.pages if page.chapter and page.shape in RUN_OFF]


def test_a_chapter_says_the_day_and_no_date_stands_at_its_foot(album: Job) -> None:
    dated = [sheet.id for sheet in album.sheets if {"date-1", "date-2"} & set(sheet.layout.texts_by_id)]
    titled = [
        sheet.id for sheet in album.sheets if any(name.startswith("chapter-") for name in sheet.layout.texts_by_id)
    ]
    assert len(titled) == 5
    assert not set(dated) & set(titled)


def test_a_title_stays_over_its_photos_when_they_are_composed_anew_or_the_book_is_resized(album: Job) -> None:
    sheet = next(sheet for sheet in album.sheets if "chapter-1" in sheet.layout.texts_by_id)
    first = album.editions[0].filling(sheet.id).photos()
    others = [photo.id for photo in album.photos if photo.id not in first]
    job = apply(album, ComposeSheet(sheet=sheet.id, how="anew", add=(others[0], others[1])))
    small = resize_book(album, next(size for size in BINDERY.sizes if size.id == "wide-12x8"), THEME).job
    for after in (job, small):
        layout = after.sheets_by_id[sheet.id].layout
        box = page_box(layout.texts_by_id["chapter-1"])
        left = [page_box(opening) for opening in layout.openings()]
        left = [photo for photo in left if photo.right <= layout.width_mm / 2 + 1]
        assert box.left == pytest.approx(min(photo.left for photo in left), abs=0.1)
        assert box.bottom <= min(photo.top for photo in left)


def test_without_times_or_in_the_order_of_the_pile_there_are_no_chapters() -> None:
    job = book(tuple(one(n, SHAPES[n % 9]) for n in range(1, 40)), pages=24)
    for wishes in (Wishes(pages=24, chapters=True), Wishes(pages=24, chapters=True, order="pile")):
        assert not any(page.chapter for page in plan_of(job, wishes).pages)


def test_too_few_pages_still_take_all_photos() -> None:
    job = book(STORY, pages=20)
    plan = plan_of(job, Wishes(pages=20, chapters=True, likes=True))
    assert sum(len(page.photos) for page in plan.pages) == len(STORY)
