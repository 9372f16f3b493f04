"""Spoilt photos are told from sound ones: photographs of scikit-image and the demo's, spoilt by known amounts."""

import cv2
import numpy as np
import pytest
from skimage import data

from sutaru.core.photos import look
from sutaru.demo.scenes import SCENES, picture

SOUND = {
    **{f"demo {scene}": picture(scene, seed, 960, 640) for seed, scene in enumerate(SCENES)},
    **{name: np.asarray(getattr(data, name)()) for name in ("astronaut", "coffee", "chelsea", "rocket")},
}


def dark(rgb: np.ndarray) -> np.ndarray:
    return (rgb * 0.1).astype(np.uint8)  # 3 1/3 stops


def burnt(rgb: np.ndarray) -> np.ndarray:
    return np.clip(rgb * 4.0 + 90, 0, 255).astype(np.uint8)


def blurred(rgb: np.ndarray) -> np.ndarray:
    return np.asarray(cv2.GaussianBlur(rgb, (0, 0), max(rgb.shape[:2]) / 90))


@pytest.mark.parametrize("name", list(SOUND))
def test_a_sound_photo_has_no_flaw_and_a_dark_one_is_too_dark(name: str) -> None:
    assert look(SOUND[name]).flaw == ""
    assert look(dark(SOUND[name])).flaw == "too dark"


def test_a_portrait_on_a_white_ground_is_sound() -> None:
    small = cv2.resize(SOUND["astronaut"], (320, 320), interpolation=cv2.INTER_AREA)
    ground = np.full((600, 600, 3), 252, np.uint8)
    ground[200:520, 140:460] = small
    assert (ground >= 243).mean() > 0.6
    assert look(ground).flaw == ""


def test_burnt_and_blurred_photos_are_told_from_sound_ones() -> None:
    lit = {name: rgb for name, rgb in SOUND.items() if np.median(rgb) > 40}  # of a night no sharpness is asked
    assert len(lit) >= 8
    found = [look(blurred(rgb)).flaw for rgb in lit.values()]
    assert found.count("blurred") >= 0.85 * len(found)
    white = [look(burnt(rgb)).flaw for rgb in lit.values()]
    assert white.count("burnt out") >= 0.85 * len(white)
    grainy = [
        np.clip(rgb + np.random.default_rng(3).normal(0, 6, rgb.shape), 0, 255).astype(np.uint8) for rgb in lit.values()
    ]
    assert {look(rgb).flaw for rgb in grainy} == {""}
