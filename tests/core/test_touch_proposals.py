"""What the machine finds and proposes: pupils that glare, dust, blemishes, a grey; a person takes it or not."""

import math

import cv2
import numpy as np
import pytest

from sutaru.core.document import (
    Cover,
    KeepArea,
    Recipe,
    WhiteBalance,
)
from sutaru.core.mending import apply_recipe
from sutaru.core.mending.spot_finding import specks
from sutaru.core.mending.touch_proposals import eye_at, grey_at, propose_touches
from tests.conftest import fake_photo
from tests.core.test_retouching import ASTRONAUT, CAT, GREY, done


def eyed() -> tuple[np.ndarray, tuple[float, float]]:
    """A pupil that a flash made red, with its glint, in a brown iris."""
    y, x = np.mgrid[:300, :400]
    image = np.full((300, 400, 3), (205, 160, 140), np.uint8)
    away = np.hypot(x - 180.5, y - 140.5)
    image[away < 26] = (95, 70, 50)
    image[away < 12] = (190, 40, 45)
    image[np.hypot(x - 184, y - 136) < 3] = (250, 248, 245)
    return cv2.GaussianBlur(image, (0, 0), 0.8), (180 / 400, 140 / 300)


def test_a_flash_goes_and_the_glint_stays() -> None:
    image, at = eyed()
    touch = eye_at(image, (at[0] + 0.01, at[1] - 0.01), "e")
    assert touch is not None
    assert touch.centre[0] * 400 == pytest.approx(180.5, abs=1.5)
    assert touch.radius * 400 == pytest.approx(12, abs=6)
    got = done(image, touch).astype(int)
    assert got[145, 176, 0] - got[145, 176, 1:].max() <= 12  # no longer red
    assert got[145, 176].mean() < 80
    assert got[136, 184].min() > 220
    iris = np.s_[138:143, 200:204]
    assert np.abs(got[iris] - image[iris]).max() <= 3
    assert eye_at(GREY, (0.5, 0.5), "e") is None
    assert eye_at(CAT, (0.9, 0.1), "e") is None


def test_dust_is_proposed_where_it_lies() -> None:
    rng = np.random.default_rng(3)
    sky = np.full((1000, 1500, 3), (150, 180, 220)) * np.linspace(0.7, 1, 1000)[:, None, None]
    image = np.clip(sky + rng.normal(0, 2, sky.shape), 0, 255)
    spots = [(rng.uniform(30, 1470), rng.uniform(30, 970), rng.uniform(3, 7)) for _ in range(20)]
    y, x = np.mgrid[:1000, :1500]
    for px, py, r in spots:
        image *= 1 - 0.25 * np.clip((r - np.hypot(x - px, y - py)) / 2, 0, 1)[..., None]
    dusty = image.astype(np.uint8)
    found = specks(dusty)
    met = [any(math.hypot(s.centre[0] * 1500 - x, s.centre[1] * 1000 - y) < r for s in found) for x, y, r in spots]
    assert sum(met) >= 18
    assert len(found) <= 24
    touches = propose_touches(dusty, fake_photo(1, 1500, 1000), "dust")
    clean = done(dusty, *touches)
    assert len(specks(clean)) <= 3
    assert len(specks(ASTRONAUT)) <= 4  # buttons and badges at most


def test_blemishes_are_proposed_within_faces_alone() -> None:
    face = ASTRONAUT[0:260, 120:330]
    image = cv2.resize(face, (1050, 1300), interpolation=cv2.INTER_CUBIC)
    for x, y in ((365, 650), (520, 830), (120, 1200)):
        cv2.circle(image, (x, y), 5, (150, 80, 70), -1, cv2.LINE_AA)
    marked = (KeepArea(kind="face", left=0.25, top=0.15, width=0.5, height=0.55),)
    photo = fake_photo(1, 1050, 1300).copy_with(marked=marked)
    found = [touch for touch in propose_touches(image, photo, "blemishes") if isinstance(touch, Cover)]
    places = [(touch.area.points[0][0] * 1050, touch.area.points[0][1] * 1300) for touch in found]
    assert any(math.hypot(x - 365, y - 650) < 8 for x, y in places)
    assert not any(math.hypot(x - 120, y - 1200) < 20 for x, y in places)
    assert propose_touches(image, fake_photo(1, 1050, 1300), "blemishes") == ()


def test_a_picked_grey_is_grey() -> None:
    image = np.full((60, 80, 3), (140, 128, 114), np.uint8)
    balance = grey_at(image, (0.5, 0.5))
    got = apply_recipe(image, Recipe(steps=(balance,)), None)[0, 0].astype(int)
    assert np.ptp(got) <= 2
    assert np.ptp(image[0, 0].astype(int)) == 26
    plain = grey_at(GREY, (0.1, 0.1))
    assert isinstance(plain, WhiteBalance)
    assert (plain.warmth, plain.tint) == (0, 0)
