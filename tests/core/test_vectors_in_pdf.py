"""What stays vector in a PDF: dates, lines, plain shapes, words that nothing blends over; read by independent programs."""

import re
from collections.abc import Callable
from pathlib import Path

import numpy as np
from PIL import Image

from sutaru.core.checks import check_job
from sutaru.core.document import Background, Corners, DateGrid, Ellipse, FillBox, Flat, Layout, Photo, Rectangle, Text
from sutaru.core.document import Path as Outline
from sutaru.core.photos import PhotoPixels
from tests.conftest import one_sheet
from tests.core.test_live_layers import LAB, LIVE, READERS, _job, _opening, _words, written  # noqa: F401
from tests.core.test_press import PRESS_LAB, plates, run
from tests.core.test_press import written as pressed

Pile = list[tuple[Path, Photo]]
SHAPES = (
    FillBox(id="band", colour="#b03050", outline=Rectangle(width_mm=120, height_mm=20), surface=Flat(centre=(80, 30))),
    FillBox(id="disc", colour="#30705c", outline=Ellipse(width_mm=60, height_mm=40),
            surface=Flat(centre=(190, 50), turn_deg=30)),
    FillBox(id="ring", colour="#204060", outline=Outline(d="M-30 -30H30V30H-30ZM-15 -15V15H15V-15Z"),
            surface=Flat(centre=(60, 120), turn_deg=12)),
    FillBox(id="leans", colour="#c8a040", outline=Rectangle(width_mm=80, height_mm=60),
            surface=Corners(points=((130, 100), (210, 90), (220, 160), (140, 180)))),
    FillBox(id="round", colour="#6040a0", outline=Rectangle(width_mm=60, height_mm=20, radius_mm=8),
            surface=Flat(centre=(70, 185))),
)  # fmt: skip


def painted(trace: str) -> int:
    """How many paths are filled on a page, as MuPDF traces it."""
    return len(re.findall("<fill_path", trace))


def test_plain_shapes_are_paths_where_they_are_painted(pile: Pile, written: Callable) -> None:  # noqa: F811
    job = _job(pile, Background(id="g", colour="#e8dcc4"), *SHAPES)
    path = written(job.copy_with(lab=LAB))
    assert painted(run("mutool", "trace", path)) == len(SHAPES)
    page = np.asarray(Image.open(written(job.copy_with(lab=LAB), "png")).convert("RGB")).astype(int)
    off = np.abs(READERS["mutool"](path) - page)
    assert off.mean() < 0.3
    assert np.quantile(off, 0.995) < 6  # edges, which each program smooths in its own way


def test_shapes_that_touch_let_no_light_through(pile: Pile, written: Callable) -> None:  # noqa: F811
    """Three dark bars side by side on white: readers smooth the edges of two vectors by themselves, and white shows between."""
    bars = [
        FillBox(id=f"bar-{n}", colour="#203040", outline=Rectangle(width_mm=30.17, height_mm=60),
                surface=Flat(centre=(60 + 30.17 * n, 90))) for n in range(3)
    ]  # fmt: skip
    seen = READERS["mutool"](written(_job(pile, Background(id="g", colour="#ffffff"), *bars).copy_with(lab=LAB)))
    row = seen[round(90 / 25.4 * 100), round(50 / 25.4 * 100) : round(130 / 25.4 * 100)].astype(int)
    assert np.abs(row - (0x20, 0x30, 0x40)).max() <= 3


def test_live_shapes_are_seen_as_they_are_painted(pile: Pile, written: Callable) -> None:  # noqa: F811
    faint = SHAPES[0].copy_with(id="faint", colour="#a02040", opacity=0.5, surface=Flat(centre=(100, 60)))
    blended = SHAPES[1].copy_with(id="blended", blend="multiply", surface=Flat(centre=(90, 120)))
    job = _job(pile, Background(id="g", colour="#e8dcc4"), *SHAPES, faint, blended)
    page = np.asarray(Image.open(written(job.copy_with(lab=LAB), "png")).convert("RGB")).astype(int)
    off = np.abs(READERS["mutool"](written(job.copy_with(lab=LIVE))) - page)
    assert off.mean() < 0.5
    assert np.quantile(off, 0.995) < 8


def test_only_what_a_blend_lies_over_becomes_pixels(pile: Pile, written: Callable) -> None:  # noqa: F811
    over = _opening("over", (200, 150), blend="multiply")
    job = _job(
        pile, Background(id="g", colour="#e8dcc4"), SHAPES[0], _words("free", "Skerry", (80, 80), colour="#204060"),
        _words("under", "Sands", (190, 150), colour="#a02040"), over, _words("on-top", "Kites", (190, 165)),
    )  # fmt: skip
    path = written(job.copy_with(lab=LAB))
    said = [finding.sentence for finding in check_job(job.copy_with(lab=LAB)) if finding.rule == "words_in_picture"]
    assert said == [
        "In a PDF “Sands” is printed as pixels, since a layer blends over it. Move the text above it to keep it sharp."
    ]
    assert not [finding for finding in check_job(job.copy_with(lab=LIVE)) if finding.rule == "words_in_picture"]
    trace = run("mutool", "trace", path)
    colours = {
        tuple(round(float(v), 2) for v in said.split())
        for said in re.findall(r'<fill_path[^>]* color="([^"]+)"', trace)
    }
    assert (0.13, 0.25, 0.38) in colours  # words that nothing lies over stay words
    assert (0.69, 0.19, 0.31) in colours  # and so does the shape
    assert (0.63, 0.13, 0.25) not in colours  # those under the blend are in the picture with it
    assert painted(trace) == 3
    page = np.asarray(Image.open(written(job.copy_with(lab=LAB), "png")).convert("RGB")).astype(int)
    off = np.abs(READERS["mutool"](path) - page)
    assert off.mean() < 0.8
    assert np.quantile(off, 0.998) < 18


def test_dates_and_their_lines_are_vectors_in_black_alone(pile: Pile, tmp_path: Path) -> None:
    grid = DateGrid(  # four whole weeks: days of other months are fainter, and stay in the picture
        id="d", centre=(50, 45), width_mm=90, height_mm=70, month="2027-02", size_pt=9,
        day={"colour": "#000000"}, title={"colour": "#000000"}, line={"width_mm": 0.2, "colour": "#000000"},
        weekend={"colour": "#000000"}, sunday=None, holiday={"colour": "#000000"},
    )  # fmt: skip
    job = one_sheet(Layout(width_mm=100, height_mm=90, bleed_mm=0, layers=(grid,)), (), {})
    pixels = PhotoPixels(lambda photo: pile[0][0])
    (pdf, _) = pressed(job.copy_with(lab=PRESS_LAB), tmp_path, pixels)
    assert painted(run("mutool", "trace", pdf)) > 30
    seen = plates(pdf, tmp_path)
    assert (seen["Black"] > 0.9).sum() > 1000
    for ink in ("Cyan", "Magenta", "Yellow"):
        assert seen[ink].max() < 0.02


def test_black_in_large_shapes_is_inks_by_the_profile(pile: Pile, tmp_path: Path) -> None:
    shape = FillBox(
        id="s", colour="#000000", outline=Rectangle(width_mm=60, height_mm=40), surface=Flat(centre=(50, 45))
    )
    job = one_sheet(Layout(width_mm=100, height_mm=90, bleed_mm=0, layers=(shape,)), (), {})
    (pdf, _) = pressed(job.copy_with(lab=PRESS_LAB), tmp_path, PhotoPixels(lambda photo: pile[0][0]))
    assert plates(pdf, tmp_path)["Cyan"].max() > 0.5


def test_words_without_their_shadow_stay_words(pile: Pile, written: Callable) -> None:  # noqa: F811
    shadowed = Text(id="t", text="all day", centre=(80, 60), width_mm=120, height_mm=24, size_pt=44, colour="#b03050",
                    shadow={"distance_mm": 2, "blur_mm": 3})  # fmt: skip
    job = _job(pile, Background(id="g", colour="#e8dcc4"), shadowed)
    path = written(job.copy_with(lab=LAB))
    assert painted(run("mutool", "trace", path)) == 1
    page = np.asarray(Image.open(written(job.copy_with(lab=LAB), "png")).convert("RGB")).astype(int)
    assert np.abs(READERS["mutool"](path) - page).mean() < 0.5
