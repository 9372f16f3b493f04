"""PDFs whose layers stay live, seen by four independent readers as the page is; flat where blending would look otherwise."""

import subprocess
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path

import numpy as np
import pikepdf
import pypdfium2
import pytest
from PIL import Image

from sutaru.core.document import (
    Background,
    Border,
    Ellipse,
    FillBox,
    Flat,
    Job,
    Layout,
    Opening,
    PdfRules,
    Photo,
    Placement,
    Press,
    Rectangle,
    Shadow,
    Text,
)
from sutaru.core.document.lettering import WordLine, WordShadow
from sutaru.core.paint import refuse_asset
from sutaru.core.paint.blending import MODES
from sutaru.core.photos import PhotoPixels
from sutaru.core.press.exporting import export
from sutaru.core.verifying.print_files import verify
from tests.conftest import LABS, one_sheet
from tests.core.test_press import run

MADE = datetime(2026, 6, 20, 12, tzinfo=UTC)
# 254 x 203.2 mm at 100 ppi are whole pixels: what readers show is laid on the page's own.
LAB = LABS["gullwing-300"].copy_with(ppi_target=100, ppi_least=30, format="pdf", jpeg_quality=98)
LIVE = LAB.copy_with(pdf=PdfRules(live=True))
X4 = LAB.copy_with(press=Press(convert=False), pdf=PdfRules(live=True, x4=True))


def _opening(name: str, centre: tuple[float, float], turn: float = 0.0, **more: object) -> Opening:
    said = {"outline": Rectangle(width_mm=80, height_mm=60), "surface": Flat(centre=centre, turn_deg=turn)} | more
    return Opening(id=name, **said)


def _words(name: str, text: str, centre: tuple[float, float], **more: object) -> Text:
    return Text(id=name, text=text, centre=centre, width_mm=150, height_mm=24, size_pt=44, **more)


LAYERS = (
    Background(id="g", colour="#e8dcc4"),
    _opening("a", (60, 50), shadow=Shadow(distance_mm=3, blur_mm=6), border=Border(width_mm=4)),
    _words("below", "Skerry Sands", (90, 60), colour="#204060"),
    _opening("b", (120, 90), 8, opacity=0.8),
    _opening("c", (180, 60), blend="multiply", outline=Ellipse(width_mm=80, height_mm=60)),
    _words("faint", "Kites", (170, 130), colour="#a02040", opacity=0.6, line=WordLine(width_mm=1, colour="#ffffff")),
    _words("screened", "in the wind", (80, 150), colour="#203020", blend="screen"),
    _words("shadowed", "all day", (80, 182), colour="#b03050", shadow=WordShadow(distance_mm=2, blur_mm=3)),
    _opening("d", (200, 165), shadow=Shadow(kind="contact", blur_mm=8)),
)


def _job(pile: list[tuple[Path, Photo]], *layers: object) -> Job:
    photo = pile[1][1]
    layout = Layout(width_mm=254, height_mm=203.2, bleed_mm=0, layers=layers or LAYERS)
    return one_sheet(layout, (photo,), {o.id: Placement(photo=photo.id) for o in layout.openings()})


@pytest.fixture
def written(pile: list[tuple[Path, Photo]], tmp_path: Path) -> Callable:
    def write(job: Job, kind: str = "pdf") -> Path:
        folder = tmp_path / str(len(list(tmp_path.iterdir())))
        return export(job, folder, PhotoPixels(lambda photo: pile[1][0]), MADE, format=kind)[0]

    return write


def _pdfium(path: Path) -> np.ndarray:
    return np.asarray(pypdfium2.PdfDocument(path)[0].render(scale=100 / 72).to_pil().convert("RGB"))


def _by(*command: object) -> Callable[[Path], np.ndarray]:
    def seen(path: Path) -> np.ndarray:
        made = path.with_suffix(".png")
        parts = [str(part).replace("IN", str(path)).replace("OUT", str(path.with_suffix(""))) for part in command]
        subprocess.run(parts, check=True, capture_output=True)
        return np.asarray(Image.open(made).convert("RGB"))

    return seen


READERS = {
    "pdfium": _pdfium, "mutool": _by("mutool", "draw", "-r", 100, "-o", "OUT.png", "IN"),
    "poppler": _by("pdftoppm", "-r", 100, "-png", "-singlefile", "IN", "OUT"),
    "ghostscript": _by("gs", "-q", "-dNOPAUSE", "-dBATCH", "-sDEVICE=png16m", "-r100", "-dTextAlphaBits=4",
                       "-dGraphicsAlphaBits=4", "-sOutputFile=OUT.png", "IN"),
}  # fmt: skip


@pytest.mark.parametrize("reader", READERS)
def test_live_layers_are_seen_as_the_page_is(pile, written: Callable, reader: str) -> None:
    job = _job(pile)
    page = np.asarray(Image.open(written(job.copy_with(lab=LAB), "png")).convert("RGB")).astype(int)
    off = np.abs(READERS[reader](written(job.copy_with(lab=LIVE))) - page)
    assert off.shape == (800, 1000, 3)
    assert off.mean() < 0.8
    # Letters' edges apart, of which each reader has its own opinion.
    assert np.quantile(off, 0.998) < 18


@pytest.mark.parametrize("mode", sorted(set(MODES) - {"normal"}))
def test_each_way_of_blending_is_the_readers_own(pile, written: Callable, mode: str) -> None:
    """Ours against those of another program (MuPDF), for a picture on a picture."""
    photo = _opening("a", (100, 90), outline=Rectangle(width_mm=180, height_mm=150))
    over = _opening("b", (150, 110), 20, outline=Ellipse(width_mm=150, height_mm=120), blend=mode, opacity=0.9)
    job = _job(pile, Background(id="g", colour="#c8a890"), photo, over)
    path = written(job.copy_with(lab=LIVE))
    with pikepdf.open(path) as pdf:
        said = [str(one.BM) for one in pdf.pages[0].Resources.ExtGState.values() if "/BM" in one]
    assert said == ["/" + "".join(word.capitalize() for word in mode.split("-"))]
    page = np.asarray(Image.open(written(job.copy_with(lab=LAB), "png")).convert("RGB")).astype(int)
    off = np.abs(READERS["mutool"](path) - page)
    # Dodge and burn tell neighbouring levels of the pictures far apart: a JPEG is a level or two off.
    assert off.mean() < 2.5
    assert np.quantile(off, 0.9) < 9


def test_words_stay_words_wherever_they_lie_and_edges_stay_soft(pile, written: Callable) -> None:
    path = written(_job(pile).copy_with(lab=LIVE.copy_with(pdf=PdfRules(live=True, fonts="embedded"))))
    told = run("pdftotext", "-layout", path, "-")
    for words in ("Skerry Sands", "Kites", "in the wind", "all day"):
        assert words in told
    with pikepdf.open(path) as pdf:
        held = pdf.pages[0].Resources
        kinds = {name: str(one.Subtype) for name, one in held.XObject.items()}
        soft = [one for one in held.XObject.values() if "/SMask" in one]
        opaque = [one for one in held.XObject.values() if one.Subtype == "/Image" and "/SMask" not in one]
        masks = [np.frombuffer(one.SMask.read_bytes(), np.uint8) for one in soft]
    assert sorted(kinds.values()) == ["/Form"] * 2 + ["/Image"] * 6
    assert (len(soft), len(opaque)) == (5, 1)  # the ground alone hides all
    assert [len(mask) for mask in masks] == [int(one.Width) * int(one.Height) for one in soft]
    assert all(len(np.unique(mask)) > 20 for mask in masks)
    flat = written(_job(pile).copy_with(lab=LAB.copy_with(pdf=PdfRules(fonts="embedded"))))
    assert "Skerry" not in run("pdftotext", flat, "-")  # there they lie in the picture


def test_live_layers_are_in_order_by_the_standard(pile, written: Callable) -> None:
    path = written(_job(pile).copy_with(lab=X4))
    report = verify(path, X4, refuse_asset)
    assert report.standard == "PDF/X-4"
    assert report.defects == ()
    run("qpdf", "--check", path)


def test_inks_are_laid_flat(pile, written: Callable) -> None:
    inked = X4.copy_with(press=Press())
    with pikepdf.open(written(_job(pile).copy_with(lab=inked))) as pdf:
        (picture,) = [one for one in pdf.pages[0].Resources.XObject.values() if one.Subtype == "/Image"]
        assert "/SMask" not in picture
        assert not [one for one in pdf.pages[0].Resources.ExtGState.values() if "/BM" in one]


def test_words_that_fade_with_a_line_fade_as_one(pile, written: Callable) -> None:
    """The line does not show through the letters that it runs round."""
    words = Text(
        id="w", text="I", centre=(127, 100), width_mm=200, height_mm=120, size_pt=300, colour="#800000", opacity=0.5,
        line=WordLine(width_mm=4, colour="#00ff00"),
    )  # fmt: skip
    page = np.asarray(
        Image.open(written(_job(pile, Background(id="g"), words).copy_with(lab=LAB), "png")).convert("RGB")
    )
    assert np.abs(page[400, 500].astype(int) - (192, 128, 128)).max() <= 1  # half of #800000 on white, no green


def test_a_colour_goes_on_behind_what_hides_it(pile, written: Callable) -> None:
    """Or a JPEG of a red disc on nothing has dark rings about its edge."""
    disc = FillBox(
        id="f", outline=Ellipse(width_mm=120, height_mm=120), surface=Flat(centre=(127, 100)), colour="#d02020"
    )
    job = _job(pile, Background(id="g", colour="#ffffff"), disc).copy_with(lab=LIVE.copy_with(jpeg_quality=70))
    seen = READERS["mutool"](written(job)).astype(int)
    red = seen[380:400, 300:700]
    assert np.abs(red - (208, 32, 32)).max() < 6
    rows, columns = np.mgrid[0:800, 0:1000]
    away = np.hypot(columns + 0.5 - 500, rows + 0.5 - 100 / 25.4 * 100)
    rim = (away < 236.2 - 1.5) & (away > 236.2 - 8)
    assert np.abs(seen[rim] - (208, 32, 32)).max() < 10
