"""Sharpening for the print: against scikit-image, the same whatever the bands, photos alone."""

from itertools import pairwise

import numpy as np
import pytest
import skimage.filters

from sutaru.core.document import Flat, Layout, Opening, Placement, Rectangle, Text
from sutaru.core.paint import PixelGrid, items
from sutaru.core.paint import grid as grid_module
from sutaru.core.paint.sharpening import sharpening_for, unsharp
from tests.conftest import first, noise, one_sheet
from tests.core.test_bands import PHOTO, dressed, painter, soft_disc


@pytest.mark.parametrize("sigma", [0.5, 0.95, 1.9, 3.0])
@pytest.mark.parametrize("amount", [0.35, 1.1])
def test_it_is_scikit_images_unsharp_mask(sigma: float, amount: float) -> None:
    grey = np.random.default_rng(7).integers(40, 216, (160, 200, 1), np.uint8).repeat(3, axis=-1)
    ours = unsharp(grey, sigma, amount)
    theirs = skimage.filters.unsharp_mask(grey[..., 0] / 255.0, radius=sigma, amount=amount) * 255
    inner = np.s_[16:-16, 16:-16]
    assert np.abs(ours[..., 0].astype(float) - theirs)[inner].max() <= 1.0
    assert (ours[..., 0] != grey[..., 0]).mean() > 0.3


def test_no_hue_shifts() -> None:
    rgb = np.clip(noise(120, 120, 3).astype(int) // 2 + 60, 0, 255).astype(np.uint8)
    made = unsharp(rgb, 1.0, 0.7).astype(int)
    before = rgb.astype(int)
    unclipped = (made > 0).all(-1) & (made < 255).all(-1)
    for a, b in ((0, 1), (1, 2)):
        shift = (made[..., a] - made[..., b]) - (before[..., a] - before[..., b])
        assert np.abs(shift[unclipped]).max() <= 1


def shown(layout: Layout, how: str, ppi: float, surface: str = "glossy", **more: Placement) -> np.ndarray:
    lies = {o.id: Placement(photo=PHOTO.id, zoom=1.3, turn_deg=4) for o in layout.openings()} | more
    job = one_sheet(layout, (PHOTO,), lies)
    job = job.copy_with(lab=job.lab.copy_with(sharpen=how, surface=surface))
    layers = items(first(job), lambda name: soft_disc(), False, False, printing=True)
    return painter().render(layers, PixelGrid.for_ppi(layout, ppi))[0]


def test_the_same_pixels_whatever_the_bands(monkeypatch: pytest.MonkeyPatch) -> None:
    layout = dressed()
    whole = shown(layout, "high", 230)
    assert (whole != shown(layout, "none", 230)).any()
    for rows in (1, 2):
        monkeypatch.setattr(grid_module, "WHOLE", 0)
        monkeypatch.setattr(grid_module, "BAND", rows * 512 * whole.shape[1])
        assert PixelGrid.for_ppi(layout, 230).band_rows == 512 * rows
        got = shown(layout, "high", 230)
        assert np.array_equal(got, whole), np.argwhere((got != whole).any(-1))[:3]


def page() -> Layout:
    opening = Opening(id="o", outline=Rectangle(width_mm=60, height_mm=40), surface=Flat(centre=(35, 25)))
    words = Text(id="w", text="Skerry Sands", centre=(50, 65), width_mm=90, height_mm=20, size_pt=30, colour="#202020")
    return Layout(width_mm=100, height_mm=80, bleed_mm=0, layers=(opening, words))


def test_more_is_more_and_words_are_left_alone() -> None:
    layout = page()
    seen = {how: shown(layout, how, 300) for how in ("none", "low", "standard", "high")}
    edges = [float(np.abs(np.diff(one[60:400, 100:700].astype(float), axis=1)).mean()) for one in seen.values()]
    assert all(more > less * 1.005 for less, more in pairwise(edges))
    below = np.s_[620:, :]
    assert (seen["high"][below] == seen["none"][below]).all()
    assert (seen["none"][below] < 100).any()  # the words are there
    matt = shown(layout, "standard", 300, "matt")
    assert float(np.abs(np.diff(matt[60:400, 100:700].astype(float), axis=1)).mean()) > edges[2]


def test_the_halo_is_a_length_on_paper() -> None:
    found = sharpening_for("standard", "glossy")
    assert found is not None
    assert found.sigma_px(600 / 25.4) == pytest.approx(2 * found.sigma_px(300 / 25.4))
    assert found.sigma_px(300 / 25.4) == pytest.approx(0.94, abs=0.02)
    assert sharpening_for("none", "matt") is None


def test_only_the_print_is_sharpened() -> None:
    job = one_sheet(page(), (PHOTO,), {"o": Placement(photo=PHOTO.id)})
    job = job.copy_with(lab=job.lab.copy_with(sharpen="high"))
    assert all(item.sharpen is None for item in items(first(job), lambda name: b"", True, True))
    printed = items(first(job), lambda name: b"", False, False, printing=True)
    assert [item.sharpen is not None for item in printed] == [True, False]
