"""Photos for a book: likeness, the best of a scene, events."""

from datetime import datetime
from itertools import pairwise

import cv2
import numpy as np
import pytest
from PIL import Image, ImageFilter
from scipy import ndimage

from sutaru.core.books.book import begin_empty_book, lay_out_book, plan_of
from sutaru.core.books.photo_choice import breaks, most_telling, photo_worth, set_likes_aside, sort_by_time
from sutaru.core.books.plan import Wishes
from sutaru.core.checks import check
from sutaru.core.document import Found, KeepArea, Photo, Pile
from sutaru.core.fitting import resolve_sheet
from sutaru.core.photos.likeness import detail, hash_distance, likeness
from sutaru.demo.scenes import picture
from tests.conftest import LABS, SHELF
from tests.core.booked import BINDERY, bound_in, one


def test_likeness_is_that_of_the_scene_and_detail_that_of_focus() -> None:
    scenes = [picture(scene, seed, 720, 480) for scene, seed in (("beach", 3), ("maker", 5), ("kite", 2), ("dunes", 9))]
    greys = [cv2.cvtColor(scene, cv2.COLOR_RGB2GRAY) for scene in scenes]
    for grey in greys:
        lighter = np.clip(grey.astype(float) * 1.08 + 6, 0, 255).astype(np.uint8)
        small = cv2.resize(grey, (360, 240), interpolation=cv2.INTER_AREA)
        noisy = np.clip(grey + np.random.default_rng(4).normal(0, 6, grey.shape), 0, 255).astype(np.uint8)
        assert max(hash_distance(likeness(grey), likeness(one)) for one in (lighter, small, noisy)) <= 6
        soft = np.asarray(Image.fromarray(grey).filter(ImageFilter.GaussianBlur(3)))
        assert detail(soft) < 0.5 * detail(grey)
        # The same figure by another library: SciPy's Laplacian, edges mirrored without their own pixel.
        fine = ndimage.laplace(grey.astype(float), mode="mirror")
        assert detail(grey) == pytest.approx((fine * fine).mean() / grey.astype(float).var(), rel=1e-6)
        # The same difference hash by another library: boxes of Pillow's, bits counted one by one.
        tiny = np.asarray(Image.fromarray(grey).resize((9, 8), Image.Resampling.BOX), int)
        bits = "".join("1" if a < b else "0" for row in tiny for a, b in pairwise(row))
        assert hash_distance(likeness(grey), f"{int(bits, 2):016x}") <= 2
    for n, grey in enumerate(greys):
        for other in greys[n + 1 :]:
            assert hash_distance(likeness(grey), likeness(other)) > 10


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
    kept, aside = set_likes_aside(
        shots((0, same, 1, 0), (3, near, 2, 0), (6, other, 1, 0), (9, same, 1, 1), (600, same, 9, 0))
    )
    assert [int(photo.id, 16) for photo in kept] == [3, 4, 5]  # the last was taken ten minutes later
    assert [(int(one.photo, 16), int(one.like, 16), one.why) for one in aside] == [
        (1, 4, "fewer stars"), (2, 4, "fewer stars"),
    ]  # fmt: skip
    kept, aside = set_likes_aside(shots((0, same, 1, 0), (3, near, 2, 0)))
    assert [(one.photo, one.why) for one in aside] == [(f"{1:016x}", "less sharp")]
    assert set_likes_aside(shots((0, "", 1, 0), (3, "", 1, 0)))[1] == []  # nobody looked: nothing is known


def test_events_end_where_a_pause_is_long_beside_those_about_it() -> None:
    at = [0, 30, 70, 90, 3000, 3040, 3070, 80_000, 80_020]
    found = breaks(shots(*((s, "", 1.0, 0) for s in at)))
    assert [n for n, sure in enumerate(found) if sure > 0.3] == [0, 4, 7]
    assert found[0] == found[7] == 1
    assert found[4] < 1


def test_photos_whose_time_nobody_knows_stay_behind_the_one_before_them() -> None:
    a, b, c = shots((100, "", 1, 0), (0, "", 1, 0), (50, "", 1, 0))
    unknown = one(9)
    assert [int(photo.id, 16) for photo in sort_by_time([a, unknown, b, c])] == [2, 3, 1, 9]


@pytest.mark.parametrize(
    "sizes", [[(6000, 4000), (1600, 1067), (900, 1200), (640, 480), (3000, 1000)], [(1200, 800), (800, 1200)]]
)
@pytest.mark.parametrize("size", [size.id for size in BINDERY.sizes])
def test_no_page_prints_a_photo_with_fewer_pixels_than_the_lab_takes(size: str, sizes: list[tuple[int, int]]) -> None:
    pile = tuple(
        one(n + 1, sizes[n % len(sizes)], datetime(2026, 6, 19, 9, n), stars=5 * (n % 9 == 0)) for n in range(50)
    )
    job = begin_empty_book("Book", LABS["gullwing-300"], bound_in("hard", 0, size), SHELF.themes["shoreline"], 24)
    job = job.copy_with(pile=Pile(photos=pile))
    for white in (0.0, 0.8):
        wishes = Wishes(pages=24, white=white, lively=0.8)
        laid = lay_out_book(job, plan_of(job, wishes), SHELF.themes["shoreline"])
        stops = [f for sheet in laid.sheets for f in check(resolve_sheet(laid, sheet.id)) if f.severity == "stop"]
        assert [f.sentence for f in stops] == []
        held = {photo for sheet in laid.sheets for photo in laid.editions[0].filling(sheet.id).photos()}
        assert len(held) == len(pile)


def spoilt(n: int, flaw: str, **more: object) -> Photo:
    return one(n, taken=datetime(2026, 6, 19, 12, n % 60), found=Found(likeness=f"{n:016x}", flaw=flaw), **more)


def test_spoilt_photos_are_not_laid_unless_somebody_wants_them() -> None:
    day = [one(n, taken=datetime(2026, 6, 19, 10, n)) for n in range(1, 30)]
    bad = [spoilt(40, "too dark"), spoilt(41, "burnt out"), spoilt(42, "blurred"), spoilt(43, "blurred", stars=4)]
    job = begin_empty_book("Book", LABS["gullwing-300"], bound_in(), SHELF.themes["shoreline"], 20).copy_with(
        pile=Pile(photos=(*day, *bad))
    )
    plan = plan_of(job, Wishes(pages=20, likes=True))
    assert {(entry.photo[-2:], entry.why) for entry in plan.aside} == {
        ("28", "too dark"),
        ("29", "burnt out"),
        ("2a", "blurred"),
    }
    laid = {photo for page in plan.pages for photo in page.photos}
    assert laid.isdisjoint(entry.photo for entry in plan.aside)
    assert bad[3].id in laid  # it has stars
    wanted = plan_of(job, Wishes(pages=20, likes=True, also=(bad[0].id,)))
    assert bad[0].id in {photo for page in wanted.pages for photo in page.photos}
    assert plan_of(job, Wishes(pages=20, likes=True, spoilt=True)).aside == ()


def test_those_that_tell_most_are_of_every_event() -> None:
    events = [
        [one(100 * e + n, taken=datetime(2026, 6, 19, 8 + 2 * e, n)) for n in range(1, 1 + size)]
        for e, size in enumerate((40, 6, 20))
    ]
    starred = one(350, taken=datetime(2026, 6, 19, 12, 30), stars=5)
    pile = [*(photo for event in events for photo in event), starred]
    kept, aside = most_telling(pile, 20)
    assert (len(kept), len(aside)) == (20, 47)
    assert [photo for photo in pile if photo in kept] == kept  # in their order
    counts = [sum(photo in kept for photo in event) for event in events]
    assert all(count >= 2 for count in counts)
    assert counts[0] > counts[2] > counts[1]
    assert starred in kept
    assert most_telling(pile, 200) == (pile, [])


def test_groups_from_edge_to_edge_are_laid_whole() -> None:
    """Faces over all of a photo leave nothing to be cropped: no common lines then, but every photo is laid and none is cut."""
    wide = [KeepArea(kind="face", left=x, top=0.02, width=0.1, height=0.96) for x in (0.0, 0.45, 0.9)]
    group = Found(keep=tuple(wide))
    for every in (1, 2, 5):
        pile = tuple(
            one(n, taken=datetime(2026, 6, 19, 9, n), found=group if n % every == 0 else Found()) for n in range(1, 41)
        )
        job = begin_empty_book("Book", LABS["gullwing-300"], bound_in(), SHELF.themes["shoreline"], 20).copy_with(
            pile=Pile(photos=pile)
        )
        laid = lay_out_book(job, plan_of(job, Wishes(pages=20, likes=True)), SHELF.themes["shoreline"])
        held = [p for sheet in laid.sheets[1:] for p in laid.editions[0].filling(sheet.id).photos()]
        assert sorted(held) == sorted(photo.id for photo in pile)
        found = [f for sheet in laid.sheets[1:] for f in check(resolve_sheet(laid, sheet.id))]
        assert [f.sentence for f in found if f.rule == "keep_cut"] == []


def test_a_photo_counts_by_its_stars_and_by_how_large_faces_are_in_it() -> None:
    def worth_with(kind: str, height: float, stars: int = 0) -> float:
        area = KeepArea(kind=kind, left=0.1, top=0.1, width=0.2, height=height)
        return photo_worth(one(1).copy_with(found=Found(keep=(area,)), stars=stars))

    assert worth_with("subject", 0.4) == 1.0  # what seems to be the subject is no face
    assert worth_with("face", 0.2) == worth_with("hand", 0.2) == pytest.approx(1.3)
    assert worth_with("face", 0.8) == pytest.approx(1.6)  # no more than that, however large
    assert worth_with("face", 0.2, stars=2) == pytest.approx(2.2)
