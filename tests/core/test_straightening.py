"""Leaning photos put upright: against known homographies and OpenCV's own lens, and what must hold however it is turned."""

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from sutaru.core.checks import measure_sheet
from sutaru.core.document import KeepArea, Recipe, Upright
from sutaru.core.edits.apply import apply
from sutaru.core.edits.kinds import MendPhoto, Put, RetouchPhoto
from sutaru.core.fitting import areas_upright, resolve_sheet, upright_from_photo
from sutaru.core.fitting.straightening import FOCAL
from sutaru.core.geometry.lenses import Unbent, camera_turn
from sutaru.core.mending import detect_upright
from sutaru.core.paint import Painter, PixelGrid, items
from tests.conftest import fake_photo, noise
from tests.core.test_retouching import TOUCHES, Counted

WIDTH, HEIGHT = 1200, 900


def house() -> np.ndarray:
    """A front with upright edges, windows and a door, on a sky with a little grain."""
    image = np.full((HEIGHT, WIDTH, 3), (180, 200, 225), np.uint8)
    cv2.rectangle(image, (250, 180), (950, 880), (150, 120, 100), -1)
    for x in range(300, 900, 130):
        for y in range(230, 700, 160):
            cv2.rectangle(image, (x, y), (x + 60, y + 100), (60, 70, 90), -1)
    cv2.rectangle(image, (560, 720), (640, 880), (90, 50, 40), -1)
    return np.clip(image + np.random.default_rng(1).normal(0, 2, image.shape), 0, 255).astype(np.uint8)


def leaning(pitch: float, roll: float) -> tuple[np.ndarray, np.ndarray]:
    """The house as a camera sees it that looks up by a pitch and leans by a roll; and the homography that made it so."""
    middle = np.array([[1, 0, WIDTH / 2], [0, 1, HEIGHT / 2], [0, 0, 1.0]])
    back = np.linalg.inv(camera_turn(FOCAL * WIDTH, pitch, 0, roll))
    matrix = middle @ back @ np.linalg.inv(middle)
    return cv2.warpPerspective(house(), matrix, (WIDTH, HEIGHT), borderMode=cv2.BORDER_REPLICATE), matrix


@pytest.mark.parametrize(("pitch", "roll"), [(8, 0), (14, -3), (-10, 2), (0, 4), (20, 1)])
def test_upright_lines_are_found_and_the_known_homography_is_undone(pitch: float, roll: float) -> None:
    image, matrix = leaning(pitch, roll)
    found = detect_upright(image)
    assert found is not None
    assert found.pitch_deg == pytest.approx(pitch, abs=0.7)
    assert found.roll_deg == pytest.approx(roll, abs=0.4)
    onto = upright_from_photo(found, WIDTH, HEIGHT)
    for x in (250, 560, 950):
        top, bottom = onto.apply(cv2.perspectiveTransform(np.array([[(x, 200.0), (x, 860.0)]]), matrix)[0])
        lean = np.degrees(np.arctan2(top[0] - bottom[0], bottom[1] - top[1]))
        assert abs(lean) < 0.4


def test_where_nothing_is_upright_nothing_is_found() -> None:
    assert detect_upright(np.full((400, 600, 3), 120, np.uint8)) is None
    assert detect_upright(cv2.GaussianBlur(noise(400, 600, 3), (0, 0), 5)) is None
    straight = detect_upright(house())
    assert straight is not None
    assert abs(straight.pitch_deg) < 0.3
    assert abs(straight.roll_deg) < 0.2


def test_a_camera_turns_as_opencv_says() -> None:
    """K R K^-1, R by OpenCV's Rodrigues about each axis."""
    lens = np.diag([800.0, 800.0, 1.0])
    axes = {"pitch_deg": (1, 0, 0), "yaw_deg": (0, 1, 0), "roll_deg": (0, 0, -1)}
    for name, axis in axes.items():
        turn = cv2.Rodrigues(np.radians(10) * np.array(axis, np.float64))[0]
        wanted = lens @ turn @ np.linalg.inv(lens)
        angles = {"pitch_deg": 0.0, "yaw_deg": 0.0, "roll_deg": 0.0, name: 10.0}
        assert np.allclose(camera_turn(800, **angles), wanted)


@settings(max_examples=60, deadline=None)
@given(
    st.floats(-25, 25), st.floats(-25, 25), st.floats(-15, 15), st.floats(-100, 100), st.sampled_from([(600, 400), (400, 600)])
)  # fmt: skip
def test_the_frame_is_always_filled(pitch: float, yaw: float, roll: float, bend: float, size: tuple[int, int]) -> None:
    width, height = size
    onto = upright_from_photo(Upright(pitch_deg=pitch, yaw_deg=yaw, roll_deg=roll, bend=bend), width, height)
    x, y = np.linspace(0, width, 9), np.linspace(0, height, 9)
    frame = np.stack(np.meshgrid(x, y), -1)
    seen = onto.inverse(frame)
    assert seen.min() >= -0.5
    assert (seen <= np.array(size) + 0.5).all()
    assert np.abs(onto.apply(seen) - frame).max() < 1e-3


@pytest.mark.parametrize("k", [-0.25, -0.1, 0.1, 0.2])
def test_what_a_lens_bent_comes_straight_and_back(k: float) -> None:
    lens = Unbent(k, 500.0)
    points = np.random.default_rng(2).uniform(-300, 300, (50, 2))
    assert np.allclose(lens.inverse(lens.apply(points)), points)
    step = 1e-4
    for n in (0, 1):
        moved = points.copy()
        moved[:, n] += step
        assert np.allclose((lens.apply(moved) - lens.apply(points)) / step, lens.jacobians(points)[..., n], atol=1e-4)
    # A line of the bent picture is a circle through r / (1 + k r^2): the division model takes it to a straight one.
    straight = np.stack([np.linspace(-250, 250, 11), np.full(11, 120.0)], -1)
    assert np.ptp(lens.apply(lens.inverse(straight))[:, 1]) < 1e-9
    assert np.ptp(lens.inverse(straight)[:, 1]) > 2


def test_what_must_stay_visible_moves_along() -> None:
    area = KeepArea(kind="face", left=0.6, top=0.1, width=0.1, height=0.15)
    photo = fake_photo(1, WIDTH, HEIGHT).copy_with(marked=(area,))
    upright = Upright(pitch_deg=10)
    (moved,) = areas_upright(photo, upright)
    onto = upright_from_photo(upright, WIDTH, HEIGHT)
    middle = onto.apply(np.array([0.65 * WIDTH, 0.175 * HEIGHT])) / (WIDTH, HEIGHT)
    assert moved.left < middle[0] < moved.left + moved.width
    assert moved.top < middle[1] < moved.top + moved.height
    assert moved.kind == "face"


@pytest.fixture
def job(job_of):
    job = job_of("collage-triptych")
    photo = fake_photo(1, WIDTH, HEIGHT)
    job = job.copy_with(pile=job.pile.copy_with(photos=(photo,)))
    sheet = job.sheets[0]
    return apply(job, Put(sheet=sheet.id, opening=next(iter(sheet.layout.openings_by_id)), photo=photo.id))


@pytest.mark.parametrize("upright", [Upright(pitch_deg=12, roll_deg=2), Upright(bend=60, pitch_deg=5)])
def test_the_page_shows_it_upright_at_every_size(job, upright: Upright) -> None:
    """Painted in one go by the sampler, against OpenCV's warp of all of the photo by the map's own inverse."""
    photo, sheet = job.photos[0], job.sheets[0]
    image = cv2.GaussianBlur(leaning(12, 2)[0], (0, 0), 2)
    straight = apply(job, MendPhoto(photo=photo.id, recipe=Recipe(steps=None, upright=upright)))
    grid = PixelGrid.for_ppi(sheet.layout, 40)

    def page(job, image: np.ndarray) -> np.ndarray:
        return Painter(Counted(image)).render(
            items(resolve_sheet(job, sheet.id), lambda name: b"", False, False), grid
        )[0]

    x, y = np.meshgrid(np.arange(WIDTH) + 0.5, np.arange(HEIGHT) + 0.5)
    at = upright_from_photo(upright, WIDTH, HEIGHT).inverse(np.stack([x, y], -1)).astype(np.float32) - 0.5
    done = cv2.remap(image, at, None, cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE)
    got, wanted = page(straight, image), page(job, done)
    assert np.abs(got.astype(int) - wanted).mean() < 0.25
    assert np.abs(got.astype(int) - wanted).max() <= 14
    assert np.abs(page(job, image).astype(int) - got).max() > 40


def test_what_it_is_enlarged_by_counts(job) -> None:
    photo = job.photos[0]
    before = measure_sheet(resolve_sheet(job, job.sheets[0].id)).rows[0].ppi
    recipe = Recipe(steps=None, upright=Upright(pitch_deg=15))
    after = (
        measure_sheet(resolve_sheet(apply(job, MendPhoto(photo=photo.id, recipe=recipe)), job.sheets[0].id)).rows[0].ppi
    )
    assert 0.4 * before < after < 0.95 * before
    off = Recipe(steps=None, upright=Upright(on=False, pitch_deg=15))
    assert (
        measure_sheet(resolve_sheet(apply(job, MendPhoto(photo=photo.id, recipe=off)), job.sheets[0].id)).rows[0].ppi
        == before
    )


def test_other_mending_leaves_it_standing(job) -> None:
    photo = job.photos[0]
    job = apply(job, MendPhoto(photo=photo.id, recipe=Recipe(steps=None, upright=Upright(pitch_deg=5))))
    job = apply(job, RetouchPhoto(photo=photo.id, put=TOUCHES[:1]))
    job = apply(job, MendPhoto(photo=photo.id, recipe=Recipe(steps=())))
    job = apply(job, RetouchPhoto(photo=photo.id, gone=("a",)))
    assert job.editions[0].photo_tones[photo.id] == Recipe(steps=(), upright=Upright(pitch_deg=5))
