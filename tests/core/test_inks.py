"""Press colours against measured print, LittleCMS's and ArgyllCMS's own tools and published pairs."""

import io
import re
from pathlib import Path

import numpy as np
import pytest
import skimage.color
from PIL import Image, ImageCms

from sutaru.core.colour.difference import ciede2000
from sutaru.core.colour.inks import convert_deep, convert_to_inks
from sutaru.core.colour.output import Output, press_bytes, read_profile
from sutaru.core.colour.profiles import profile_bytes, profile_path
from sutaru.core.document import Layout, Press
from sutaru.core.errors import FileRefused
from sutaru.core.formats.assets import read_asset
from sutaru.core.formats.bundle import Bundle, write_bundle
from tests.conftest import LABS, one_sheet
from tests.core.test_press import run

MEASURED = Path("/usr/share/color/icc")  # of Debian's icc-profiles-free: characterisation data as published


# --- differences ----------------------------------------------------------------------------------------------------

# G. Sharma, W. Wu, E. N. Dalal, Color Research and Application 30 (2005), table 1; the numbers from memory.
PAIRS = """
50 2.6772 -79.7751 50 0 -82.7485 2.0425
50 3.1571 -77.2803 50 0 -82.7485 2.8615
50 2.8361 -74.0200 50 0 -82.7485 3.4412
50 -1.3802 -84.2814 50 0 -82.7485 1.0000
50 -1.1848 -84.8006 50 0 -82.7485 1.0000
50 -0.9009 -85.5211 50 0 -82.7485 1.0000
50 0 0 50 -1 2 2.3669
50 -1 2 50 0 0 2.3669
50 2.4900 -0.0010 50 -2.4900 0.0009 7.1792
50 2.4900 -0.0010 50 -2.4900 0.0010 7.1792
50 2.4900 -0.0010 50 -2.4900 0.0011 7.2195
50 2.4900 -0.0010 50 -2.4900 0.0012 7.2195
50 -0.0010 2.4900 50 0.0009 -2.4900 4.8045
50 -0.0010 2.4900 50 0.0010 -2.4900 4.8045
50 -0.0010 2.4900 50 0.0011 -2.4900 4.7461
50 2.5 0 50 0 -2.5 4.3065
50 2.5 0 73 25 -18 27.1492
50 2.5 0 61 -5 29 22.8977
50 2.5 0 56 -27 -3 31.9030
50 2.5 0 58 24 15 19.4535
50 2.5 0 50 3.1736 0.5854 1.0000
50 2.5 0 50 3.2972 0 1.0000
50 2.5 0 50 1.8634 0.5757 1.0000
50 2.5 0 50 3.2592 0.3350 1.0000
60.2574 -34.0099 36.2677 60.4626 -34.1751 39.4387 1.2644
63.0109 -31.0961 -5.8663 62.8187 -29.7946 -4.0864 1.2630
61.2901 3.7196 -5.3901 61.4292 2.2480 -4.9620 1.8731
35.0831 -44.1164 3.7933 35.0232 -40.0716 1.5901 1.8645
22.7233 20.0904 -46.6940 23.0331 14.9730 -42.5619 2.0373
36.4612 47.8580 18.3852 36.2715 50.5065 21.2231 1.4146
90.8027 -2.0831 1.4410 91.1528 -1.6435 0.0447 1.4441
90.9257 -0.5406 -0.9208 88.6381 -0.8985 -0.7239 1.5381
6.7747 -0.2908 -2.4247 5.8714 -0.0985 -2.2286 0.6377
2.0776 0.0795 -1.1350 0.9033 -0.0636 -0.5514 0.9082
"""


def test_ciede2000_against_the_published_pairs() -> None:
    rows = np.array([[float(v) for v in line.split()] for line in PAIRS.strip().splitlines()])
    assert len(rows) == 34
    assert ciede2000(rows[:, :3], rows[:, 3:6]) == pytest.approx(rows[:, 6], abs=0.00006)


def test_ciede2000_against_scikit_image() -> None:
    rng = np.random.default_rng(5)
    one, other = (rng.uniform((0, -110, -110), (100, 110, 110), (5000, 3)) for _ in range(2))
    near = one + rng.normal(0, 2, one.shape)
    for second in (other, near):
        assert ciede2000(one, second) == pytest.approx(skimage.color.deltaE_ciede2000(one, second), abs=1e-6)


# --- profiles -------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(("press", "data"), [("fogra39", "FOGRA39L"), ("tr006", "TR006")])
def test_press_profiles_against_the_measured_print(press: str, data: str) -> None:
    """Patches as they were measured, and as the profile sees them through LittleCMS's own tool."""
    text = (MEASURED / f"{data}.ti3").read_text("latin-1")
    names = re.search(r"BEGIN_DATA_FORMAT\s+(.*?)\s+END_DATA_FORMAT", text, re.S).group(1).split()
    rows = [line.split() for line in re.search(r"BEGIN_DATA\s+(.*?)\s+END_DATA\b", text, re.S).group(1).splitlines()]
    at = [names.index(f"CMYK_{ink}") for ink in "CMYK"], [names.index(f"LAB_{axis}") for axis in "LAB"]
    inks, measured = (
        np.array([[float(row[n]) for n in some] for row in rows if len(row) == len(names)]) for some in at
    )
    assert len(inks) > 1000
    asked = "\n".join("\n".join(f"{v:.4f}" for v in row) for row in inks)
    told = run("transicc", "-i", profile_path(press), "-o", "*Lab", "-t3", "-n", given=asked + "\n")
    seen = np.array([float(v) for v in re.findall(r"-?\d+\.\d+", told)]).reshape(-1, 3)
    off = ciede2000(seen, measured)
    assert off.mean() < 0.2
    assert np.quantile(off, 0.95) < 0.4
    assert off.max() < 0.7


GRID = np.stack(np.meshgrid(*[np.arange(0, 256, 51)] * 3, indexing="ij"), -1).reshape(1, -1, 3).astype(np.uint8)


@pytest.mark.parametrize("press", ["fogra39", "tr006"])
def test_inks_against_littlecms_and_argyll_as_they_are_seen(press: str) -> None:
    ours = Output("srgb", profile_bytes(press), "CMYK").convert(GRID)[0] / 2.55
    asked = "\n".join(str(v) for v in GRID.ravel().tolist()) + "\n"
    told = run("transicc", "-i", profile_path("srgb"), "-o", profile_path(press), "-t1", "-b", "-n", given=asked)
    theirs = np.array([float(v) for v in re.findall(r"-?\d+\.\d+", told)]).reshape(-1, 4)
    # Both sets of inks seen by a third program: ArgyllCMS.
    seen = []
    for inks in (ours, theirs):
        given = "\n".join(" ".join(f"{v / 100:.6f}" for v in row) for row in inks) + "\n"
        lines = run("xicclu", "-ff", "-ir", "-pl", profile_path(press), given=given).splitlines()
        told = [re.search(r"->.*?(-?[\d.]+) (-?[\d.]+) (-?[\d.]+) \[Lab\]", line) for line in lines]
        labs = [[float(v) for v in found.groups()] for found in told if found]
        seen.append(np.array(labs))
    off = ciede2000(*seen)
    assert len(off) == 216
    assert off.mean() < 0.3
    assert off.max() < 2.0


@pytest.mark.parametrize(("intent", "number"), [("perceptual", 0), ("relative", 1), ("saturation", 2), ("absolute", 3)])
@pytest.mark.parametrize("point", [True, False])
def test_intent_and_black_point_are_what_the_lab_says(intent: str, number: int, point: bool) -> None:
    colours = np.array([[[20, 20, 20], [255, 255, 255], [0, 90, 200], [240, 30, 60]]], np.uint8)
    ours = Output("srgb", profile_bytes("fogra39"), "CMYK", intent, point).convert(colours)[0] / 2.55  # type: ignore[arg-type]
    asked = "\n".join(str(v) for v in colours.ravel().tolist()) + "\n"
    flags = ["-b"] if point else []
    told = run(
        "transicc", "-i", profile_path("srgb"), "-o", profile_path("fogra39"), f"-t{number}", *flags, "-n", given=asked
    )
    theirs = np.array([float(v) for v in re.findall(r"-?\d+\.\d+", told)]).reshape(-1, 4)
    assert ours == pytest.approx(theirs, abs=1.5)


def test_intents_and_black_points_differ() -> None:
    def inks(value: int, intent: str, point: bool) -> list[int]:
        colour = np.full((1, 1, 3), value, np.uint8)
        return Output("srgb", profile_bytes("fogra39"), "CMYK", intent, point).convert(colour)[0, 0].tolist()  # type: ignore[arg-type]

    # Without compensation what is darker than the press can print runs together: the shadow takes nearly all the ink.
    assert sum(inks(20, "relative", False)) > 1.1 * sum(inks(20, "relative", True))
    assert inks(255, "relative", True) == [0, 0, 0, 0]
    assert max(inks(255, "absolute", True)) > 0  # the screen's white on the press's paper
    assert inks(20, "perceptual", False) != inks(20, "relative", False)


def test_grey_goes_from_black_to_white() -> None:
    grey = Output("srgb", profile_bytes("grey"), "L").convert(
        np.array([[[0, 0, 0], [255, 255, 255], [120, 120, 120]]], np.uint8)
    )
    assert grey.shape == (1, 3, 1)
    assert grey[0, 0, 0] == 0
    assert grey[0, 1, 0] == 255


def test_a_labs_own_profile_is_read_and_others_are_refused(tmp_path: Path) -> None:
    data = profile_bytes("tr006")
    facts = read_profile(data, "own.icc")
    assert (facts.kind, facts.space, facts.bytes) == ("prtr", "CMYK", len(data))
    assert "TR 006" in facts.description
    kept = read_asset(data)
    assert (kept.kind, kept.profile) == ("profile", facts.__class__(facts.description, "prtr", "CMYK", len(data)))
    for harmed, why in (
        (b"not at all" * 40, "is no ICC profile"),
        (data[:128] + b"\xff" * 400, "damaged ICC profile|cannot turn colours"),
        (data[:12] + b"link" + data[16:], "no output profile"),
        (data[:16] + b"Lab " + data[20:], "for Lab|damaged"),
    ):
        with pytest.raises(FileRefused, match=why):
            read_profile(harmed, "own.icc")
    lab = LABS["gullwing-300"].copy_with(press=Press(profile=kept.name))
    assert press_bytes(lab.press, {kept.name: data}.__getitem__) == data
    job = one_sheet(Layout(width_mm=40, height_mm=30, layers=())).copy_with(lab=lab)
    write_bundle(tmp_path / "own.sutaru", job, lambda photo: b"", {kept.name: data}.__getitem__)
    assert Bundle(tmp_path / "own.sutaru").asset(kept.name) == data  # it travels along


# --- the table --------------------------------------------------------------------------------------------------------


def _littlecms(rgb: np.ndarray, exactly: bool) -> np.ndarray:
    """Inks by LittleCMS through Pillow: each colour worked out by itself, or its own fast way for 8 bits."""
    own, press = (ImageCms.ImageCmsProfile(io.BytesIO(profile_bytes(name))) for name in ("srgb", "fogra39"))
    flags = ImageCms.Flags.BLACKPOINTCOMPENSATION | (ImageCms.Flags.NOOPTIMIZE if exactly else ImageCms.Flags.NONE)
    way = ImageCms.buildTransform(own, press, "RGB", "CMYK", ImageCms.Intent.RELATIVE_COLORIMETRIC, flags)
    return np.asarray(ImageCms.applyTransform(Image.fromarray(rgb), way)).astype(int)


def _inks(rgb: np.ndarray) -> np.ndarray:
    return convert_to_inks(rgb, "srgb", profile_bytes("fogra39"), "relative", True).astype(int)


def test_colours_between_the_tables_entries_are_nearer_than_littlecmss_fast_way() -> None:
    rgb = np.random.default_rng(8).integers(0, 256, (300, 200, 3), dtype=np.uint8)
    exact = _littlecms(rgb, True)
    ours, theirs = np.abs(_inks(rgb) - exact), np.abs(_littlecms(rgb, False) - exact)
    assert ours.mean() < 0.1
    assert ours.mean() < 0.6 * theirs.mean()
    assert ours.max() <= 8 < theirs.max()


def test_colours_on_an_entry_are_exact() -> None:
    """Also the outermost, beyond which the table has none."""
    levels = np.array([0, 5, 125, 250, 255], np.uint8)
    rgb = np.stack(np.meshgrid(levels, levels, levels), -1).reshape(1, -1, 3)
    assert np.abs(_inks(rgb) - _littlecms(rgb, True)).max() <= 1
    deep = convert_deep(rgb.astype(np.uint16) * 257, "srgb", profile_bytes("fogra39"), "relative", True)
    assert np.abs(_inks(rgb) - deep / 257).max() < 0.511  # rounded, from entries of a fiftieth of a level


@pytest.mark.parametrize("channel", [0, 1, 2])
def test_a_ramp_of_one_channel_has_no_steps(channel: int) -> None:
    """Every level lies between its entries: no ink turns back by more than rounding within a fifth, nor jumps at an entry."""
    rgb = np.full((1, 256, 3), 130, np.uint8)
    rgb[0, :, channel] = np.arange(256)
    inks = _inks(rgb)[0]
    for start in range(0, 255, 5):
        part = inks[start : start + 6]
        straight = part[0] + (part[5] - part[0]) * np.arange(6)[:, None] / 5
        assert np.abs(part - straight).max() <= 1
