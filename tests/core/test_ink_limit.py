"""No more ink in one place than a press dries: in every format, in pictures and drawn shapes, and what that does to colours.

Files are read by Pillow and separated by ghostscript; colours are seen through LittleCMS's own way from inks to L*a*b*.
"""

import io
from pathlib import Path

import numpy as np
import pytest
from PIL import Image, ImageCms

from sutaru.core.colour import inks as press_inks
from sutaru.core.colour.inks import convert_deep
from sutaru.core.colour.limiting import choose_share, limit_inks
from sutaru.core.colour.output import Output
from sutaru.core.colour.profiles import profile_bytes
from sutaru.core.colour.proofing import Proof
from sutaru.core.document import Background, FillBox, Flat, Job, Layout, Opening, Placement, Press, Rectangle
from sutaru.core.photos import PhotoPixels
from sutaru.core.press.exporting import export
from sutaru.core.verifying.print_files import verify
from tests.conftest import SHELF, fake_photo, one_sheet
from tests.core.test_press import MADE, plates

LIMIT = 260
PRESSES = ("fogra39", "tr006")


def dark(seed: int = 3) -> np.ndarray:
    """Night with lights: grain in the shadows, and edges as hard as they come."""
    by = np.random.default_rng(seed)
    image = by.integers(0, 40, (600, 900, 3)).astype(np.uint8)
    image[100:500:40, :] = 0
    image[::60, 200:700:25] = (250, 245, 220)
    image[300:, 600:] = by.integers(0, 16, (300, 300, 3))
    return image


def night(press: str, tmp_path: Path) -> tuple[Job, PhotoPixels]:
    photo = fake_photo(1, 900, 600)
    Image.fromarray(dark()).save(tmp_path / "night.png")
    layers = (
        Background(id="ground", colour="#0c0a08"),
        Opening(id="o", outline=Rectangle(width_mm=60, height_mm=40), surface=Flat(centre=(35, 25))),
        FillBox(id="f", outline=Rectangle(width_mm=10, height_mm=40), surface=Flat(centre=(80, 25)), colour="#140508"),
    )
    layout = Layout(width_mm=90, height_mm=50, bleed_mm=3, layers=layers)
    job = one_sheet(layout, (photo,), {"o": Placement(photo=photo.id)})
    lab = job.lab.copy_with(press=Press(profile=press, convert=True, ink_limit=LIMIT), any_size=True, ppi_target=300)
    return job.copy_with(lab=lab), PhotoPixels(lambda asked: tmp_path / "night.png")


@pytest.mark.parametrize("press", PRESSES)
@pytest.mark.parametrize("format", ["tiff", "jpeg", "pdf"])
def test_no_file_takes_more_ink_than_the_press(tmp_path: Path, press: str, format: str) -> None:
    job, pixels = night(press, tmp_path)
    file, *_ = export(job, tmp_path / "out", pixels, MADE, format, assets=SHELF.asset)  # type: ignore[arg-type]
    if format == "pdf":
        sums = 100 * np.sum(list(plates(file, tmp_path).values()), axis=0)
    else:
        with Image.open(file) as picture:
            assert picture.mode == "CMYK"
            sums = np.asarray(picture).sum(-1, dtype=int) / 2.55
    assert sums.max() > LIMIT - 30  # it is a dark page
    assert np.quantile(sums, 0.999) <= LIMIT + 0.5
    assert sums.max() <= LIMIT + (0.5 if format == "tiff" else 8)  # a pixel of JPEG's here and there
    assert not [defect for defect in verify(file, job.lab, SHELF.asset).defects if defect.rule == "ink"]


def test_a_file_that_takes_more_is_found_out(tmp_path: Path) -> None:
    job, pixels = night("fogra39", tmp_path)
    free = job.copy_with(lab=job.lab.copy_with(press=job.lab.press.copy_with(ink_limit=320)))  # type: ignore[union-attr]
    file, *_ = export(free, tmp_path / "out", pixels, MADE, "tiff", assets=SHELF.asset)
    (defect,) = [defect for defect in verify(file, job.lab, SHELF.asset).defects if defect.rule == "ink"]
    assert defect.sentence.startswith("It takes 30") or defect.sentence.startswith("It takes 29")


def seen(inks: np.ndarray, press: str) -> np.ndarray:
    """L*a*b* of inks, percent (n, 4), by LittleCMS."""
    row = Image.fromarray(np.rint(inks * 2.55).astype(np.uint8)[None], "CMYK")
    source = ImageCms.ImageCmsProfile(io.BytesIO(profile_bytes(press)))
    lab = np.asarray(
        ImageCms.applyTransform(row, ImageCms.buildTransform(source, ImageCms.createProfile("LAB"), "CMYK", "LAB", 1))
    )[0]
    return np.column_stack([lab[:, 0] / 2.55, np.ascontiguousarray(lab[:, 1:]).view(np.int8)])


def inks_of(rgb: np.ndarray, press: str) -> np.ndarray:
    deep = (rgb.reshape(1, -1, 3).astype(np.uint16)) * 257
    return convert_deep(deep, "srgb", profile_bytes(press), "relative", True)[0] / 655.35


@pytest.mark.parametrize("press", PRESSES)
@pytest.mark.parametrize(("limit", "moved"), [(280, 2.0), (260, 2.5), (240, 5.0)])
def test_hue_stays_and_greys_stay_grey(press: str, limit: int, moved: float) -> None:
    levels = np.arange(0, 256, 15)
    colours = np.stack(np.meshgrid(levels, levels, levels), -1).reshape(-1, 3)
    inks = inks_of(colours, press)
    over = inks[inks.sum(1) > limit]
    share = choose_share(inks, limit, profile_bytes(press))
    limited = limit_inks(over, limit, share)
    assert (limited.sum(1) <= limit + 1e-6).all()
    assert np.linalg.norm(seen(limited, press) - seen(over, press), axis=1).max(initial=0) <= moved
    greys = inks_of(np.repeat(np.arange(256)[:, None], 3, 1), press)
    lab = seen(limit_inks(greys, limit, share), press)
    assert np.hypot(lab[:, 1], lab[:, 2]).max() <= np.hypot(*seen(greys, press)[:, 1:].T).max() + 1.5
    assert (np.diff(lab[:, 0]) > -0.5).all()  # no grey is darker than one below it


def test_what_is_within_the_limit_is_as_it_was() -> None:
    rgb = np.random.default_rng(1).integers(60, 256, (50, 60, 3)).astype(np.uint8)
    plain, limited = (
        Output("srgb", profile_bytes("fogra39"), "CMYK", most_ink=most).convert(rgb) for most in (400, 260)
    )
    assert np.array_equal(plain, limited)


@pytest.mark.parametrize("depth", [np.uint8, np.uint16])
def test_every_colour_there_is_keeps_the_limit(depth: type) -> None:
    step = 257 if depth is np.uint16 else 1
    rgb = (np.random.default_rng(2).integers(0, 256, (300, 300, 3)) * step).astype(depth)
    rgb[:100] //= 6
    for limit in (200, 260, 300):
        inks = Output("srgb", profile_bytes("fogra39"), "CMYK", most_ink=limit).convert(rgb)
        assert inks.sum(-1, dtype=np.int64).max() / (2.55 * step) <= limit + 0.8  # rounding of four inks


def test_a_band_is_limited_alike_whatever_is_beside_it(monkeypatch: pytest.MonkeyPatch) -> None:
    """Each worker begins with another band of a page, of other colours; nothing is remembered from one to the next here."""
    monkeypatch.setattr(press_inks, "_share", press_inks._share.__wrapped__)  # type: ignore[attr-defined]
    by = np.random.default_rng(4)
    bands = [(by.integers(0, 60, (40, 40, 3)) // dark * 257).astype(np.uint16) for dark in (1, 3, 9)]
    output = Output("srgb", profile_bytes("tr006"), "CMYK", most_ink=220)
    assert np.array_equal(
        output.convert(np.concatenate(bands)), np.concatenate([output.convert(band) for band in bands])
    )


def test_the_proof_shows_the_inks_that_are_printed() -> None:
    """What would be too much is still seen, by the profile alone."""
    black = np.zeros((8, 8, 3), np.uint8)
    black[:4] = (12, 8, 4)
    proof = Proof("srgb", Press(profile="fogra39", convert=True, ink_limit=LIMIT), SHELF.asset)
    figures = proof.figures(black[0, 0])
    assert LIMIT - 2 <= figures.ink_sum <= LIMIT + 0.5
    free = Proof("srgb", Press(profile="fogra39", convert=True, ink_limit=320), SHELF.asset)
    assert free.figures(black[0, 0]).ink_sum > LIMIT + 10
    assert (proof.view(black, "ink") != free.view(black, "ink")).any()


def test_what_is_too_much_is_taken_off_all_colours_alike_and_a_share_goes_over_into_black() -> None:
    """By hand: 220 % of 200 %, half of the 20 % that are too much into black; the colours share the 180 % that are left."""
    inks = np.array([[80.0, 70.0, 60.0, 10.0], [60.0, 50.0, 40.0, 50.0]])
    limited = limit_inks(inks, 200.0, 0.5)
    assert limited[0] == pytest.approx([80 * 180 / 210, 70 * 180 / 210, 60 * 180 / 210, 20.0])
    assert limited[1].tolist() == inks[1].tolist()  # just what is dried
    assert limit_inks(inks, 200.0, 0.0)[0, 3] == 10.0


def test_only_what_is_too_much_decides_how_much_goes_over_into_black() -> None:
    icc = profile_bytes("fogra39")
    much, little = np.array([[90.0, 80.0, 70.0, 60.0]]), np.array([[60.0, 20.0, 10.0, 0.0]])
    assert choose_share(little, 260.0, icc) == 0.0
    assert choose_share(np.vstack([little, much, little]), 260.0, icc) == choose_share(much, 260.0, icc) > 0
