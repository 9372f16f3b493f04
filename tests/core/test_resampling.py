"""Upright pictures at the print's resolution: against a fine sum over the cubic through their pixels, in doubles."""

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from skimage import data

from sutaru.core.depths import convert_to_16_bits
from sutaru.core.paint.resampling import resample, taps

FINE = 400


def keys(x: np.ndarray) -> np.ndarray:
    """R. Keys, IEEE Trans. ASSP 29 (1981), equation 4 with a = -0.75, which OpenCV's cubic has too."""
    x = np.abs(x)
    near, far = (1.25 * x - 2.25) * x * x + 1, -0.75 * (((x - 5) * x + 8) * x - 4)
    return np.where(x <= 1, near, np.where(x < 2, far, 0.0))


def matrix(first: int, last: int, scale: float, shift: float, length: int) -> np.ndarray:
    """What each print pixel is of ``length`` of the picture's: the cubic at many places of it; beyond the edges the last."""
    within = (np.arange(FINE) + 0.5) / FINE
    at = ((np.arange(first, last)[:, None] + within) - shift) / scale - 0.5
    nodes = np.floor(at).astype(int)[..., None] + np.arange(-1, 3)
    weights = keys(at[..., None] - nodes) / FINE
    made = np.zeros((last - first, length))
    for row in range(last - first):
        np.add.at(made[row], np.clip(nodes[row], 0, length - 1).ravel(), weights[row].ravel())
    return made


@pytest.mark.parametrize("depth", [8, 16])
@pytest.mark.parametrize(
    ("scale", "shift"), [(0.5, 0.0), (0.559, 0.37), (0.745, -20.2), (0.97, 3.5), (-0.62, 330.1), (0.999, 0.001)]
)
def test_each_pixel_is_the_mean_of_the_picture_over_it(scale: float, shift: float, depth: int) -> None:
    picture = data.astronaut()[:400, :480]
    down, across = (-3, 150, abs(scale), -11.7), (4, 200, scale, shift)
    wanted = np.einsum("ya,abc,xb->yxc", matrix(*down, 400), picture.astype(float), matrix(*across, 480), optimize=True)
    got = resample(convert_to_16_bits(picture) if depth == 16 else picture, taps(*across), taps(*down))
    most = 65535 if depth == 16 else 255
    off = np.abs(got - np.clip(wanted * (257 if depth == 16 else 1), 0, most))
    assert off.max() < (0.51 if depth == 8 else 4)  # rounding, and what the sum in doubles is itself off


FAR = st.floats(-300, 300) | st.sampled_from([-1e9, 1e9])


@given(st.floats(0.5, 0.9999), FAR, st.sampled_from([1, 3, 4]), st.integers(1, 40), st.integers(1, 40))
def test_one_colour_stays_that_colour_wherever_it_lies(
    scale: float, shift: float, channels: int, wide: int, high: int
) -> None:
    """Also where the print's pixels lie beyond the picture altogether."""
    colour = np.array([200, 7, 91, 255][:channels], np.uint8)
    picture = np.broadcast_to(colour, (high, wide, channels)).copy()
    got = resample(picture, taps(-20, 30, scale, shift), taps(0, 25, scale, -shift))
    assert (got == colour).all()


def test_parts_are_as_the_whole() -> None:
    picture = data.coffee()[:300, :301]
    whole = resample(picture, taps(0, 200, 0.61, 2.2), taps(0, 180, 0.61, -3.1))
    part = resample(picture, taps(50, 121, 0.61, 2.2), taps(33, 99, 0.61, -3.1))
    assert (part == whole[33:99, 50:121]).all()


def test_a_grey_picture_is_as_one_of_its_channels() -> None:
    picture = np.ascontiguousarray(data.coffee()[:100, :120])
    ways = taps(0, 70, 0.6, 1.0), taps(0, 60, 0.6, 1.0)
    grey = resample(np.ascontiguousarray(picture[..., 1]), *ways)
    assert np.abs(grey.astype(int) - resample(picture, *ways)[..., 1]).max() <= 1
    assert grey.shape == (60, 70)


def test_nearer_the_truth_than_librarys_own_reductions() -> None:
    """Peak signal to noise against the mean in doubles, beside OpenCV's best two."""
    picture, scale = data.astronaut(), 0.83
    width = int(512 * scale)
    wanted = np.einsum("ya,abc,xb->yxc", *(matrix(0, width, scale, 0.0, 512),), picture.astype(float),
                       matrix(0, width, scale, 0.0, 512), optimize=True)  # fmt: skip
    ours = resample(picture, taps(0, width, scale, 0.0), taps(0, width, scale, 0.0))

    def db(got: np.ndarray) -> float:
        return float(10 * np.log10(255**2 / np.mean((got - np.clip(wanted, 0, 255)) ** 2)))

    theirs = [cv2.resize(picture, (width, width), interpolation=how) for how in (cv2.INTER_AREA, cv2.INTER_CUBIC)]
    assert db(ours) > 57
    assert db(ours) > 20 + max(db(one) for one in theirs)
