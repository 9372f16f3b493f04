"""Sixteen bits a channel, from a photo's file through painting to a TIFF: no step makes eight of them on the way."""

import json
import re
import subprocess
from datetime import UTC, datetime
from pathlib import Path

import cv2
import numpy as np
import pytest
import tifffile

from sutaru.core.colour.profiles import profile_bytes, profile_path
from sutaru.core.depths import convert_to_8_bits, convert_to_16_bits
from sutaru.core.document import (
    Background,
    BlackAndWhite,
    ColourStep,
    Contrast,
    Exposure,
    Flat,
    Found,
    Gradient,
    Job,
    Layout,
    Levels,
    Opening,
    Photo,
    Placement,
    Press,
    Recipe,
    Rectangle,
    Retouching,
    Shadow,
    Stop,
)
from sutaru.core.mending import Retoucher, apply_recipe
from sutaru.core.paint import Painter, PixelGrid, items
from sutaru.core.paint.blending import MODES, composite
from sutaru.core.photos import PhotoPixels, decode, examine
from sutaru.core.press.exporting import export
from sutaru.core.verifying.print_files import verify
from tests.conftest import LABS, SHELF, fake_photo, first, one_sheet
from tests.core.test_colour import ADOBE, SRGB_OF_XYZ, XYZ_OF_WIDE, grey_profile, srgb_of, stored
from tests.core.test_press import run
from tests.core.test_retouching import TOUCHES

MADE = datetime(2026, 6, 20, 12, tzinfo=UTC)
DEEP = LABS["gullwing-300"].copy_with(format="tiff", tiff_bits=16, ppi_target=150, ppi_least=72)
# 800 px in which eight bits have 16 levels.
RAMP = np.repeat(np.linspace(20000, 24000, 800)[None, :, None], 600, 0).repeat(3, 2)


# --- reading ----------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("kind", ["png", "tiff"])
@pytest.mark.parametrize("grey", [False, True])
def test_a_file_of_sixteen_bits_is_read_as_it_is(kind: str, grey: bool) -> None:
    values = np.random.default_rng(3).integers(0, 65536, (24, 30) if grey else (24, 30, 3)).astype(np.uint16)
    got = decode(stored(kind, values), "x", depth=16)
    assert got.dtype == np.uint16
    assert (got == (values[..., None] if grey else values)).all()


def test_a_wide_gamut_of_sixteen_bits_comes_out_as_its_definition_says() -> None:
    colours = np.random.default_rng(4).integers(90 * 257, 150 * 257, (1, 4000, 3)).astype(np.uint16)
    expected = srgb_of(np.clip((colours / 65535.0) ** (563 / 256) @ XYZ_OF_WIDE.T @ SRGB_OF_XYZ.T, 0, 1)) * 257
    got = decode(stored("png", colours, ADOBE), "x", depth=16)
    assert np.abs(got - expected).max() < 100  # of 65,535; of the definition's four decimals
    assert len(np.unique(got[..., 1])) > 3000


def test_grey_of_sixteen_bits_honours_its_profile() -> None:
    ramp = np.arange(0, 65536, 16, dtype=np.uint16)[None].repeat(4, 0)
    got = decode(stored("png", ramp, grey_profile(1.0)), "x", depth=16)[0]
    assert np.abs(got - srgb_of(ramp[0] / 65535.0)[:, None] * 257).max() < 60
    assert np.ptp(got.astype(int), axis=-1).max() < 64  # neutral to a quarter of a level of eight bits


# --- painting ---------------------------------------------------------------------------------------------------------


def _painted(layout: Layout, image: np.ndarray, depth: int, **more: object) -> np.ndarray:
    photo = fake_photo(1, image.shape[1], image.shape[0])
    lies = {o.id: Placement(photo=photo.id, **more) for o in layout.openings()}

    def pixels(photo: Photo, scale: float, space: str = "srgb", depth: int = 8) -> np.ndarray:
        return convert_to_16_bits(image) if depth == 16 else convert_to_8_bits(image)

    drawn = items(first(one_sheet(layout, (photo,), lies)), lambda name: b"", False, False)
    return Painter(pixels).render(drawn, PixelGrid((layout.width_mm, layout.height_mm), 0, 150, depth=depth))[0]


def _opening(**more: object) -> Layout:
    said = {"outline": Rectangle(width_mm=90, height_mm=60), "surface": Flat(centre=(60, 40))} | more
    return Layout(
        width_mm=120, height_mm=80, bleed_mm=0, layers=(Background(id="g", colour="#f4efe4"), Opening(id="o", **said))
    )


@pytest.mark.parametrize("turn", [0.0, 90.0, 7.0])
def test_a_ramp_stays_a_ramp(turn: float) -> None:
    """Against the straight line that it is, in the middle of the opening; eight bits are up to 128 off."""
    layout = _opening(surface=Flat(centre=(60, 40), turn_deg=turn))
    got = _painted(layout, RAMP.astype(np.uint16), 16)[180:290, 280:430, 1].astype(float)
    rows, columns = np.mgrid[0 : got.shape[0], 0 : got.shape[1]]
    plane = np.column_stack([rows.ravel(), columns.ravel(), np.ones(got.size)])
    off = got.ravel() - plane @ np.linalg.lstsq(plane, got.ravel(), rcond=None)[0]
    assert np.ptp(got) > 500
    assert np.abs(off).max() < 4


@pytest.mark.parametrize("name", sorted(SHELF.templates))
def test_every_layer_of_the_shelf_is_the_same_in_either_depth(name: str) -> None:
    """Rounded to eight bits a deep page is the plain one, gradients' grain and roundings on one another aside."""
    rng = np.random.default_rng(2)
    image = cv2.resize(rng.integers(0, 256, (12, 16, 3), dtype=np.uint8), (480, 360), interpolation=cv2.INTER_CUBIC)
    photo = fake_photo(1, 480, 360)

    def pixels(photo: Photo, scale: float, space: str = "srgb", depth: int = 8) -> np.ndarray:
        return convert_to_16_bits(image) if depth == 16 else image

    for sheet in SHELF.templates[name].sheets[:2]:
        layout = sheet.layout
        job = one_sheet(layout, (photo,), {o.id: Placement(photo=photo.id) for o in layout.openings()})
        drawn = items(first(job), SHELF.asset, False, False)
        full = (layout.width_mm, layout.height_mm), layout.bleed_mm
        flat, deep = (Painter(pixels).render(drawn, PixelGrid(*full, 36, depth=d))[0] for d in (8, 16))
        off = np.abs(convert_to_8_bits(deep).astype(int) - flat)
        assert deep.dtype == np.uint16
        assert np.quantile(off, 0.999) <= 2
        assert off.mean() < 0.5


def test_a_soft_shadow_and_a_gradient_have_finer_steps_than_eight_bits() -> None:
    soft = _opening(shadow=Shadow(kind="contact", blur_mm=14, opacity=0.3))
    run = Gradient(shape="linear", stops=(Stop(at=0, colour="#405060"), Stop(at=1, colour="#485868")))
    ground = Layout(width_mm=120, height_mm=80, bleed_mm=0, layers=(Background(id="g", gradient=run),))
    for layout, at in ((soft, np.s_[236, 4:85, 0]), (ground, np.s_[300, :, 0])):
        deep, flat = (_painted(layout, RAMP.astype(np.uint16), depth)[at].astype(int) for depth in (16, 8))
        assert len(np.unique(deep)) > 2.5 * len(np.unique(flat))
        assert np.abs(np.diff(deep)).max() < 257 * max(1, np.abs(np.diff(flat)).max())


@pytest.mark.parametrize("mode", sorted(MODES))
@pytest.mark.parametrize("deep_cover", [False, True])
def test_compositing_against_the_formula_in_doubles(mode: str, deep_cover: bool) -> None:
    """W3C Compositing and Blending Level 1, section 5.1 over an opaque backdrop; its modes are checked in the tests of eight
    bits."""
    rng = np.random.default_rng(9)
    under, colour = (rng.integers(0, 65536, (40, 50, 3)).astype(np.uint16) for _ in range(2))
    alpha = rng.integers(0, 65536 if deep_cover else 256, (40, 50)).astype(np.uint16 if deep_cover else np.uint8)
    share = alpha[..., None] / (65535 if deep_cover else 255)
    b, s = under / 65535, colour / 65535
    blended = MODES[mode](b.reshape(-1, 3), s.reshape(-1, 3)).reshape(b.shape)
    wanted = 65535 * (share * blended + (1 - share) * b)
    composite(under, None, colour, alpha, mode)
    assert np.abs(under - wanted).max() < 1.1


@pytest.mark.parametrize(
    "steps",
    [
        (Exposure(stops=0.7),), (Levels(black=20, white=230, gamma=1.3),), (Contrast(amount=40),),
        (Exposure(stops=-1), BlackAndWhite(), Contrast(amount=-30)), (ColourStep(saturation=-40, lightness=10),),
    ],
)  # fmt: skip
def test_tone_goes_through_without_losing_steps(steps: tuple) -> None:
    """The deep photo after a recipe is within a level of the plain one, and as finely graded as it came."""
    image = RAMP.astype(np.uint16)
    deep, flat = (apply_recipe(values, Recipe(steps=steps), Found()) for values in (image, convert_to_8_bits(image)))
    assert np.abs(deep / 257 - flat).max() < 1.6
    row = deep[0, :, 1].astype(int)
    assert len(np.unique(row)) > 700
    assert (np.diff(row) >= 0).all()


def test_what_no_touch_changes_stays_as_deep_as_it_came() -> None:
    image = (RAMP + np.linspace(0, 900, 600)[:, None, None]).astype(np.uint16)
    image = cv2.resize(image, (600, 400))
    retoucher = Retoucher(
        lambda photo, scale, space, depth: image if depth == 16 else convert_to_8_bits(image), 10_000_000
    )
    photo, touches = fake_photo(1, 600, 400), Retouching(touches=TOUCHES)
    deep, flat = (retoucher(photo, 1.0, "srgb", touches, depth) for depth in (16, 8))
    touched = (flat != convert_to_8_bits(image)).any(-1)
    assert 0.001 < touched.mean() < 0.9
    assert (deep[~touched] == image[~touched]).all()
    assert (convert_to_8_bits(deep) == flat).all()


# --- files ------------------------------------------------------------------------------------------------------------


@pytest.fixture
def job(tmp_path: Path) -> Job:
    (tmp_path / "ramp.png").write_bytes(stored("png", RAMP.astype(np.uint16)))
    photo = examine(tmp_path / "ramp.png", "ramp.png")
    return one_sheet(_opening(), (photo,), {"o": Placement(photo=photo.id)}).copy_with(lab=DEEP)


def _exported(job: Job, folder: Path) -> Path:
    return export(job, folder / "out", PhotoPixels(lambda photo: folder / "ramp.png"), MADE)[0]


def _read(path: Path, kind: str, channels: int) -> np.ndarray:
    """Pixels as ImageMagick reads them, (472, 709, channels)."""
    told = subprocess.run(
        ["convert", path, "-depth", "16", "-endian", "LSB", f"{kind}:-"], capture_output=True, check=True
    )
    return np.frombuffer(told.stdout, "<u2").reshape(472, 709, channels)


def test_a_tiff_of_sixteen_bits_as_others_read_it(job: Job, tmp_path: Path) -> None:
    path = _exported(job, tmp_path)
    with tifffile.TiffFile(path) as file:
        page = file.pages[0]
        assert page.shape == (472, 709, 3)
        assert page.tags[258].value == (16, 16, 16)
        assert page.tags[34675].value == profile_bytes("srgb")
    values = _read(path, "rgb", 3)
    assert len(np.unique(values[200, 120:600, 1])) > 400
    assert json.loads((path.parent / "manifest.json").read_text())["files"][0]["bits"] == 16
    told = run("identify", "-format", "%z %[colorspace] %x %U", path)
    assert re.match(r"16 sRGB 150 PixelsPerInch", told)
    assert verify(path, DEEP, lambda name: b"").defects == ()
    plain = DEEP.copy_with(tiff_bits=8)
    assert {defect.rule for defect in verify(path, plain, lambda name: b"").defects} == {"bits"}


@pytest.mark.parametrize(("press", "channels"), [("fogra39", 4), ("tr006", 4), ("grey", 1)])
def test_inks_of_sixteen_bits_against_littlecmss_own_tool(job: Job, tmp_path: Path, press: str, channels: int) -> None:
    path = _exported(job.copy_with(lab=DEEP.copy_with(press=Press(profile=press))), tmp_path)
    values = _read(path, {1: "gray", 4: "cmyk"}[channels], channels)
    told = run(
        "transicc",
        "-i",
        profile_path("srgb"),
        "-o",
        profile_path(press),
        "-t1",
        "-b",
        "-n",
        "-c0",
        given="244\n239\n228\n",
    )
    theirs = np.array([float(v) for v in re.findall(r"-?\d+\.\d+", told)])
    # transicc speaks of percents of ink, and of grey from 0 to 255.
    assert values[4, 4] / (655.35 if channels == 4 else 257) == pytest.approx(theirs, abs=0.15)
    assert len(np.unique(values[200, 120:600, 0])) > 300
    assert verify(path, DEEP.copy_with(press=Press(profile=press)), lambda name: b"").defects == ()
