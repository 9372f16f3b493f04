"""One photo's tone matched to another's: beside scikit-image's histogram matching, and what must hold of any two photos."""

from itertools import pairwise

import numpy as np
import pytest
from skimage import data
from skimage.exposure import match_histograms

from sutaru.core.document import Contrast, Curves, Exposure, Recipe, WhiteBalance
from sutaru.core.mending import apply_recipe, match_tones
from tests.conftest import noise

CAT, ROCKET, COFFEE = (
    np.ascontiguousarray(picture[..., :3]) for picture in (data.chelsea(), data.rocket(), data.coffee())
)


def done(pixels: np.ndarray, curves: Curves) -> np.ndarray:
    return apply_recipe(pixels, Recipe(steps=(curves,)), None)


def apart(one: np.ndarray, other: np.ndarray) -> float:
    """How far the tones of two photos lie apart: the mean over colours and places along all their pixels."""
    at = np.linspace(0.02, 0.98, 49)
    return float(
        np.mean([np.abs(np.quantile(one[..., n], at) - np.quantile(other[..., n], at)).mean() for n in range(3)])
    )


@pytest.mark.parametrize(("photo", "like"), [(CAT, COFFEE), (COFFEE, CAT), (CAT, ROCKET), (ROCKET, COFFEE)])
def test_tones_come_as_near_as_a_full_matching_does_and_stay_smooth(photo: np.ndarray, like: np.ndarray) -> None:
    """scikit-image matches every value, and tears smooth tones apart; a few points come nearly as near."""
    ours, theirs = done(photo, match_tones(photo, like)), match_histograms(photo, like, channel_axis=-1)
    assert apart(ours, like) < max(3.0, 0.12 * apart(photo, like))
    assert np.abs(ours.astype(int) - theirs).mean() < 6.0
    for points in (match_tones(photo, like).red, match_tones(photo, like).green, match_tones(photo, like).blue):
        assert all(y1 >= y0 for (_, y0), (_, y1) in pairwise(points))  # no tone turns back


def test_a_photo_that_was_changed_comes_back() -> None:
    """What gentle steps did to a photo is undone by matching it to what it was."""
    for steps in (
        (Exposure(stops=-0.6),),
        (WhiteBalance(warmth=70, tint=-30),),
        (Contrast(amount=-30), Exposure(stops=0.3)),
    ):
        changed = apply_recipe(CAT, Recipe(steps=steps), None)
        back = done(changed, match_tones(changed, CAT))
        before, after = (np.abs(pixels.astype(int) - CAT).mean() for pixels in (changed, back))
        assert before > 4.0
        assert after < min(2.5, 0.3 * before)


def test_the_same_photo_stays_as_it_is() -> None:
    assert np.abs(done(CAT, match_tones(CAT, CAT)).astype(int) - CAT).mean() < 0.6


def test_photos_of_one_value_and_of_few_make_curves_too() -> None:
    flat, black, white = (np.full((20, 30, 3), v, np.uint8) for v in (90, 0, 255))
    two = np.where(noise(20, 30)[..., :1] > 120, 200, 20).repeat(3, -1).astype(np.uint8)
    for photo in (flat, black, white, two):
        for like in (flat, black, white, two, CAT):
            made = done(photo, match_tones(photo, like))
            assert made.shape == photo.shape
    assert abs(int(done(flat, match_tones(flat, white)).mean()) - 255) <= 1
