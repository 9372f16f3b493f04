"""Painted pixels against other libraries and the W3C formulas; the same pixels whatever the region or the threads."""

from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image, ImageChops
from skimage import data
from skimage.metrics import peak_signal_noise_ratio
from skimage.transform import ProjectiveTransform, warp

from bench import quality
from sutaru.core.document import (
    Background,
    Corners,
    FillBox,
    Flat,
    Gradient,
    Job,
    Layout,
    Light,
    Opening,
    Ornament,
    Photo,
    Placement,
    Rectangle,
    Shadow,
    Stop,
)
from sutaru.core.edits.apply import apply
from sutaru.core.edits.kinds import BringIn, Fill, Place
from sutaru.core.geometry.maps import Projective
from sutaru.core.geometry.matrices import scaling
from sutaru.core.paint import LivePage, Painter, PixelGrid, items
from sutaru.core.paint.blending import MODES, composite
from sutaru.core.paint.sampling import sample
from sutaru.core.photos import Held, PhotoPixels
from tests.conftest import drawn_items, fake_photo, first, noise, one_sheet

# --- sampling -------------------------------------------------------------------------------------------------------


def reference(image: np.ndarray, px_from_photo: np.ndarray, width: int, height: int, n: int = 8) -> np.ndarray:
    """scikit-image's warp at n x n samples a pixel, averaged: the picture's mean over each pixel."""
    fine = scaling(n, n) @ px_from_photo
    centred = np.array([[1, 0, -0.5], [0, 1, -0.5], [0, 0, 1]]) @ fine @ np.array([[1, 0, 0.5], [0, 1, 0.5], [0, 0, 1]])
    big = warp(
        image, ProjectiveTransform(np.linalg.inv(centred)), output_shape=(height * n, width * n), order=3, mode="edge"
    )
    return cv2.resize(np.clip(big, 0, 1), (width, height), interpolation=cv2.INTER_AREA) * 255


@pytest.mark.parametrize("name", ["astronaut", "coffee"])
@pytest.mark.parametrize(
    ("case", "least_db"),
    [
        ([[0.53, 0, -4.37], [0, 0.53, -6.1], [0, 0, 1]], 46),  # upright, reduced
        ([[-0.7, 0, 330.4], [0, 0.7, -3.3], [0, 0, 1]], 44),  # mirrored
        ([[0, 0.61, -9.2], [-0.61, 0, 290.7], [0, 0, 1]], 44),  # a quarter turn
        ([[0.11, 0, -2.2], [0, 0.11, -1.4], [0, 0, 1]], 42),  # much reduced
        ([[0.6, 0.1, -20], [-0.1, 0.6, 30], [0, 0, 1]], 42),  # turned
        ([[1.8, 0, -300], [0, 1.8, -200], [0, 0, 1]], 38),  # enlarged
        ([[0.62, 0.02, -5], [0.03, 0.55, 3], [0.0006, 0.0001, 1]], 38),  # slanted
    ],
)
def test_sampled_pixels_against_scikit_image(name: str, case: list, least_db: float) -> None:
    image = getattr(data, name)()  # scikit-image's sample pictures
    matrix = np.array(case, float)
    size = (44, 32) if abs(case[0][0]) == 0.11 else (180, 130)
    got = sample(
        lambda photo, least, space, depth: image,
        fake_photo(1, image.shape[1], image.shape[0]),
        Projective(matrix),
        (0, 0, *size),
    )
    want = reference(image, matrix, *size)
    assert peak_signal_noise_ratio(want / 255, got / 255.0, data_range=1) > least_db


def test_sampling_is_nearer_to_the_truth_than_plain_warps() -> None:
    # Against a 16 x 16 times supersampled reference, beside OpenCV, Pillow and scikit-image at the same job.
    for surface, picture, by in quality.measure():
        assert by["Sutaru"] == max(by.values()), f"{surface}, {picture}: {by}"


def test_shrunk_decoding_moves_nothing() -> None:
    image = noise(800, 1200)
    half = cv2.resize(image, (600, 400), interpolation=cv2.INTER_AREA)
    matrix = np.array([[0.31, 0, -7.7], [0, 0.31, -3.2], [0, 0, 1.0]])
    photo = fake_photo(1, 1200, 800)
    whole = sample(lambda p, s, space, depth: image, photo, Projective(matrix), (0, 0, 300, 200))
    shrunk = sample(lambda p, s, space, depth: half, photo, Projective(matrix), (0, 0, 300, 200))
    assert np.abs(whole.astype(int) - shrunk).mean() < 1.5  # a shift by a tenth of a pixel would be 3


# --- blending -------------------------------------------------------------------------------------------------------


def one(mode: str, backdrop: tuple, source: tuple, alpha: int = 255) -> np.ndarray:
    under = np.array([[backdrop]], np.uint8)
    composite(under, None, np.array([[source]], np.uint8), np.array([[alpha]], np.uint8), mode)
    return under[0, 0]


def test_source_over_worked_values() -> None:
    # W3C Compositing Level 1, 9.1.4: co = Cs as + Cb ab (1 - as). Half red over opaque blue.
    assert one("normal", (0, 0, 255), (255, 0, 0), 128).tolist() == [128, 0, 127]
    # Over a half-covered backdrop: ao = as + ab (1 - as) = 0.75, colour (0.5 red + 0.25 blue) / 0.75.
    under, cover = np.array([[[0, 0, 255]]], np.uint8), np.array([[128]], np.uint8)
    composite(under, cover, np.array([[[255, 0, 0]]], np.uint8), np.array([[128]], np.uint8))
    assert cover[0, 0] == pytest.approx(191.75, abs=0.5)
    assert under[0, 0] == pytest.approx([170.2, 0, 84.8], abs=0.6)


@pytest.mark.parametrize(
    ("mode", "library"),
    [
        ("multiply", ImageChops.multiply), ("screen", ImageChops.screen), ("darken", ImageChops.darker),
        ("lighten", ImageChops.lighter), ("difference", ImageChops.difference), ("overlay", ImageChops.overlay),
        ("hard-light", ImageChops.hard_light),
    ],
)  # fmt: skip
def test_blend_modes_against_pillow(mode: str, library) -> None:
    b, s = (np.random.default_rng(n).integers(0, 256, (40, 40, 3), np.uint8) for n in (1, 2))
    under = b.copy()
    composite(under, None, s, np.full((40, 40), 255, np.uint8), mode)
    theirs = np.asarray(library(Image.fromarray(b), Image.fromarray(s)))
    assert np.abs(under.astype(int) - theirs).max() <= 2  # Pillow rounds downwards, in whole numbers


@pytest.mark.parametrize(
    ("mode", "backdrop", "source", "expected"),
    [
        # By hand from the formulas of W3C Compositing Level 1, section 10, on fractions of 255.
        ("color-dodge", 0.25, 0.5, 0.5), ("color-dodge", 0.5, 1.0, 1.0), ("color-dodge", 0.0, 1.0, 0.0),
        ("color-burn", 0.75, 0.5, 0.5), ("color-burn", 0.5, 0.0, 0.0), ("color-burn", 1.0, 0.0, 1.0),
        ("exclusion", 0.5, 0.25, 0.5), ("soft-light", 0.5, 0.25, 0.375), ("soft-light", 0.16, 1.0, 0.398336),
    ],
)  # fmt: skip
def test_blend_modes_worked_values(mode: str, backdrop: float, source: float, expected: float) -> None:
    b, s = np.full((1, 3), backdrop, np.float32), np.full((1, 3), source, np.float32)
    assert MODES[mode](b, s)[0, 0] == pytest.approx(expected, abs=1e-4)


def by_pseudo_code(mode: str, b: list, s: list) -> list:
    """The non-separable modes, scalar, as the W3C text writes them (section 10.2)."""

    def lum(c: list) -> float:
        return 0.3 * c[0] + 0.59 * c[1] + 0.11 * c[2]

    def set_lum(c: list, target: float) -> list:
        c = [v + target - lum(c) for v in c]
        mean, low, high = lum(c), min(c), max(c)
        if low < 0:
            c = [mean + (v - mean) * mean / (mean - low) for v in c]
        if high > 1:
            c = [mean + (v - mean) * (1 - mean) / (high - mean) for v in c]
        return c

    def set_sat(c: list, sat: float) -> list:
        order = sorted(range(3), key=lambda i: c[i])
        low, mid, high = order
        out = [0.0, 0.0, 0.0]
        if c[high] > c[low]:
            out[mid] = (c[mid] - c[low]) * sat / (c[high] - c[low])
            out[high] = sat
        return out

    def sat(c: list) -> float:
        return max(c) - min(c)

    return {
        "hue": lambda: set_lum(set_sat(s, sat(b)), lum(b)),
        "saturation": lambda: set_lum(set_sat(b, sat(s)), lum(b)),
        "color": lambda: set_lum(s, lum(b)),
        "luminosity": lambda: set_lum(b, lum(s)),
    }[mode]()


triple = st.lists(st.floats(0, 1, width=32), min_size=3, max_size=3)


@given(st.sampled_from(["hue", "saturation", "color", "luminosity"]), triple, triple)
def test_non_separable_modes_against_the_pseudo_code(mode: str, b: list, s: list) -> None:
    got = MODES[mode](np.array([b], np.float32), np.array([s], np.float32))[0]
    want = by_pseudo_code(mode, b, s)
    if max(s) - min(s) < 1e-4 and mode == "hue":
        return  # the hue of a grey is noise
    assert got == pytest.approx(want, abs=2e-3)


# --- pages ----------------------------------------------------------------------------------------------------------


@pytest.fixture(scope="module")
def pixels(pile: list[tuple[Path, Photo]]) -> Held:
    paths = {photo.id: path for path, photo in pile}
    return Held(PhotoPixels(lambda photo: paths[photo.id]), 200 << 20, always=True)


@pytest.fixture
def filled(job_of, pile):
    def make(template: str) -> Job:
        return apply(apply(job_of(template), BringIn(photos=tuple(photo for _, photo in pile))), Fill())

    return make


@pytest.mark.parametrize("template", ["album-spread-18", "collage-wind", "mockup-wall", "card-landscape"])
def test_same_pixels_whatever_region_threads_and_cache(template: str, filled, pixels, monkeypatch) -> None:
    job = filled(template)
    page = job.sheets[0].layout
    grid, layers = PixelGrid.for_ppi(page, 45), drawn_items(job, bench=True, notes=True)
    whole, _ = Painter(pixels).render(layers, grid)
    with ThreadPoolExecutor(3) as threads:
        threaded, _ = Painter(pixels, threads, patches_kept=Painter.room(50 << 20)).render(layers, grid)
    assert np.array_equal(whole, threaded)
    w, h = grid.size
    for box in ((0, 0, w, 37), (33, 41, w - 29, h - 60), (w - 5, h - 5, w, h)):
        part, _ = Painter(pixels).render(layers, grid, box)
        assert np.array_equal(part, whole[box[1] : box[3], box[0] : box[2]])


@pytest.mark.parametrize("template", ["album-spread-18", "collage-wind", "mockup-wall"])
def test_a_live_page_equals_a_fresh_one(template: str, filled, pixels) -> None:
    job = filled(template)
    page = job.sheets[0].layout
    grid = PixelGrid.for_ppi(page, 40)
    live = LivePage(Painter(pixels, patches_kept=Painter.room(50 << 20)), grid)
    live.picture(drawn_items(job, bench=True, notes=True))
    first = page.openings()[0].id
    for edit in (
        Place(sheet=job.sheets[0].id, opening=first, centre=(0.3, 0.4), zoom=1.7, turn_deg=11, mirror=True),
        Place(sheet=job.sheets[0].id, opening=first, fit="whole", centre=(0.5, 0.5), zoom=1, turn_deg=0, mirror=False),
    ):
        job = apply(job, edit)
        layers = drawn_items(job, bench=True, notes=True)
        fresh, _ = Painter(pixels).render(layers, grid)
        assert np.array_equal(live.picture(layers), fresh)


def simple(*layers: object, light: float = 120.0) -> tuple[Job, Layout]:
    page = Layout(width_mm=100, height_mm=80, bleed_mm=0, layers=tuple(layers), light=Light(from_deg=light))
    return one_sheet(page), page


def no_pixels(photo: Photo, least: float, space: str = "srgb", depth: int = 8) -> np.ndarray:
    return np.full((400, 600, 3), (200, 30, 40), np.uint8)


def test_notes_numbers_and_empty_openings_never_print(job_of) -> None:
    job = job_of("album-spread-18")
    page = job.sheets[0].layout
    grid = PixelGrid.for_ppi(page, 30)
    rgb, _ = Painter(no_pixels).render(drawn_items(job), grid)
    assert (rgb == (0xFD, 0xFC, 0xF8)).all()
    bench, _ = Painter(no_pixels).render(drawn_items(job, bench=True, notes=True), grid)
    assert (bench != rgb).any()


def test_gradient_runs_and_does_not_band() -> None:
    stops = (Stop(at=0, colour="#404040"), Stop(at=1, colour="#484848"))
    job, page = simple(Background(id="b", gradient=Gradient(turn_deg=0, stops=stops)))
    rgb, _ = Painter(no_pixels).render(drawn_items(job), PixelGrid.for_ppi(page, 254))
    means = rgb[..., 0].mean(axis=0)
    want = 0x40 + 8 * (np.arange(1000) + 0.5) / 1000
    smooth = np.convolve(means, np.ones(25) / 25, "valid")
    assert np.abs(smooth - want[12:-12]).max() < 0.12


def shadow_centroid(turn: float) -> np.ndarray:
    shadow = Shadow(distance_mm=6, blur_mm=2, opacity=1, colour="#000000")
    opening = Opening(
        id="o",
        outline=Rectangle(width_mm=30, height_mm=30),
        surface=Flat(centre=(50, 40), turn_deg=turn),
        shadow=shadow,
    )
    job, page = simple(Background(id="b"), opening)
    photo = fake_photo(1, 600, 400)
    job = one_sheet(page, (photo,), {"o": Placement(photo=photo.id)})
    rgb, _ = Painter(no_pixels).render(drawn_items(job), PixelGrid.for_ppi(page, 50.8))
    dark = np.clip(200 - rgb[..., 0].astype(float), 0, None) * (rgb[..., 1] != 30)
    ys, xs = np.mgrid[: rgb.shape[0], : rgb.shape[1]]
    return np.array([(xs * dark).sum(), (ys * dark).sum()]) / dark.sum() - (100, 80)


def test_turning_an_opening_never_turns_the_light() -> None:
    # Common practice, no source: light from 120 degrees, the upper left; so the shadow lies to the lower right.
    for turn in (0, 90, 37):
        x, y = shadow_centroid(turn)
        assert x > 1
        assert y > 1


def test_slanted_opening_is_covered_to_its_corners() -> None:
    quad = Corners(points=((10, 10), (90, 20), (85, 60), (12, 70)))
    opening = Opening(id="o", outline=Rectangle(width_mm=60, height_mm=40), surface=quad)
    job, page = simple(Background(id="b"), opening)
    photo = fake_photo(1, 600, 400)
    job = one_sheet(page, (photo,), {"o": Placement(photo=photo.id)})
    rgb, _ = Painter(no_pixels).render(drawn_items(job), PixelGrid.for_ppi(page, 254))
    red = (255 - rgb[..., 1].astype(float)) / (255 - 30)  # share of each pixel that is covered
    area = 0.5 * abs((85 - 10) * (70 - 20) - (12 - 90) * (60 - 10))  # half the cross product of the diagonals
    assert red.sum() / 100 == pytest.approx(area, rel=1e-3)


def test_transparent_page_and_opacity() -> None:
    box = FillBox(
        id="f",
        outline=Rectangle(width_mm=20, height_mm=20),
        surface=Flat(centre=(50, 40)),
        colour="#0000ff",
        opacity=0.5,
    )
    job, page = simple(Background(id="b"), box)
    rgb, alpha = Painter(no_pixels).render(
        drawn_items(job, transparent=True), PixelGrid.for_ppi(page, 25.4), transparent=True
    )
    assert alpha is not None
    assert alpha[0, 0] == 0
    assert alpha[40, 50] == 128
    assert rgb[40, 50].tolist() == [0, 0, 255]


def test_ornament_is_drawn_in_its_colour_and_place() -> None:
    svg = (
        "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 10 10'><path fill='currentColor' d='M0 0H10V5H0Z'/></svg>"
    )
    job, page = simple(
        Ornament(id="o", asset="0" * 64, centre=(50, 40), width_mm=40, height_mm=20, turn_deg=90, colour="#00ff00")
    )
    layers = items(first(job), lambda name: svg.encode(), bench=False, notes=False)
    rgb, _ = Painter(no_pixels).render(layers, PixelGrid.for_ppi(page, 25.4))
    green = (rgb == (0, 255, 0)).all(axis=-1)
    ys, xs = np.nonzero(green)
    # Its upper half, turned a quarter to the left, lies on the left.
    assert (xs.min(), xs.max(), ys.min(), ys.max()) == (40, 49, 20, 59)
