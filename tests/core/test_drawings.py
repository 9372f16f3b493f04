"""Ornaments as vectors in a PDF: beside the picture that is painted of them, drawn by another program; others stay pictures."""

import re
import subprocess
from datetime import UTC, datetime
from pathlib import Path

import numpy as np
import pikepdf
import pytest
from PIL import Image

from sutaru.core.document import Background, Job, LabSheet, Layout, Ornament, PdfRules, Press, Text
from sutaru.core.formats.assets import read_asset
from sutaru.core.formats.shelf import read_shelf
from sutaru.core.photos import PhotoPixels
from sutaru.core.press.drawings import is_plain, shapes
from sutaru.core.press.exporting import export
from sutaru.core.verifying.print_files import verify
from sutaru.shelf import FOLDER
from tests.conftest import LABS, one_sheet

MADE = datetime(2026, 6, 20, tzinfo=UTC)
SHELF = read_shelf(FOLDER)
NO_PHOTO = PhotoPixels(lambda photo: Path("none"))
PLAIN = LABS["gullwing-300"].copy_with(ppi_target=127, ppi_least=72)  # five pixels a millimetre


def sheet(svg: str, lab: LabSheet = PLAIN, **more: object) -> tuple[Job, dict[str, bytes]]:
    kept = read_asset(svg.encode())
    box = {"centre": (30, 20), "width_mm": 40, "height_mm": 24, "colour": "#206080", **more}
    ornament = Ornament(id="o", asset=kept.name, **box)  # type: ignore[arg-type]
    layout = Layout(width_mm=60, height_mm=40, bleed_mm=0, layers=(Background(id="b", colour="#f4f0e8"), ornament))
    return one_sheet(layout).copy_with(lab=lab), {kept.name: kept.data}


def seen(job: Job, assets: dict[str, bytes], folder: Path, kind: str) -> np.ndarray:
    file, _ = export(job, folder / kind, NO_PHOTO, MADE, kind, assets=assets.__getitem__)  # type: ignore[arg-type]
    if kind == "pdf":
        subprocess.run(
            ["pdftocairo", "-png", "-singlefile", "-r", "127", str(file), str(file.with_suffix(""))], check=True
        )
        file = file.with_suffix(".png")
    with Image.open(file) as picture:
        return np.asarray(picture.convert("RGB")).astype(int)[:200]  # that program rounds up


def painted(folder: Path) -> int:
    """How many paths another program finds in the PDF."""
    (file,) = (folder / "pdf").glob("*.pdf")
    trace = subprocess.run(["mutool", "trace", str(file)], capture_output=True, text=True, check=True).stdout
    return len(re.findall("<(?:fill|stroke)_path", trace))


SVG = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 60">{}</svg>'
DRAWN = {
    "all shapes": (
        '<rect x="5" y="5" width="20" height="12" rx="3" fill="#c03020"/><circle cx="50" cy="20" r="10" fill="currentColor"/>'
        '<ellipse cx="80" cy="20" rx="14" ry="7" fill="teal"/><polygon points="10,50 20,30 30,50" fill="rgb(20,40,160)"/>'
        '<polyline points="40,50 50,40 60,50" fill="none" stroke="#222222" stroke-width="2"/>'
        '<line x1="70" y1="40" x2="95" y2="55" stroke="currentColor" stroke-width="3" stroke-linecap="round"/>'
    ),
    "groups and transforms": (
        '<g transform="translate(50 30) rotate(30)" fill="#704020"><g transform="scale(2 1)"><rect x="-10" y="-4" width="20" '
        'height="8"/></g><path transform="matrix(1 0 0.5 1 0 0)" d="M-20,-20 q10,-8 20,0 t20,0 l-4,6 h-30 z" fill="#2040a0"/></g>'
    ),
    "holes": '<path fill-rule="evenodd" fill="#303030" d="M10,10 h60 v40 h-60 z M20,20 h20 v20 h-20 z"/>',
    "holes by winding": '<path fill="#303030" d="M10,10 h60 v40 h-60 z M20,20 v20 h20 v-20 z"/>',
    "dashes and joins": (
        '<path d="M10,10 L50,50 L90,10" fill="none" stroke="#800040" stroke-width="6" stroke-linejoin="bevel"/>'
        '<path d="M10,50 H90" stroke="#106030" stroke-width="3" stroke-dasharray="8 3 2" stroke-dashoffset="4" fill="none"/>'
    ),
    "an arc": '<path d="M20,30 A20,12 25 1 1 60,34 L50,50 Z" fill="#604080"/>',
}  # fmt: skip


@pytest.mark.parametrize("name", list(DRAWN))
@pytest.mark.parametrize("more", [{}, {"turn_deg": 25.0, "mirrored": True}])
def test_a_drawing_as_vectors_shows_what_is_painted(name: str, more: dict, tmp_path: Path) -> None:
    job, assets = sheet(SVG.format(DRAWN[name]), **more)
    vector, picture = seen(job, assets, tmp_path, "pdf"), seen(job, assets, tmp_path, "png")
    assert painted(tmp_path) >= 1
    differ = np.abs(vector - picture).max(-1)
    assert differ.mean() < 1.5
    assert (differ > 60).mean() < 0.004  # edges, which two programs draw by two hands


@pytest.mark.parametrize(
    "inside",
    [
        '<rect width="50" height="50" opacity="0.5"/>',
        '<rect width="50" height="50" fill-opacity="0.5"/>',
        '<defs><linearGradient id="g"><stop offset="0" stop-color="red"/></linearGradient></defs>'
        '<rect width="9" height="9" fill="url(#g)"/>',
        '<defs><clipPath id="c"><circle r="20"/></clipPath></defs><rect width="50" height="50" clip-path="url(#c)"/>',
        '<g color="#ff0000"><rect width="9" height="9" fill="currentColor"/></g>',
        '<g transform="scale(3 1)"><line x1="1" y1="1" x2="20" y2="30" stroke="#000000"/></g>',
    ],
)
def test_what_is_not_plain_stays_a_picture(inside: str, tmp_path: Path) -> None:
    job, assets = sheet(SVG.format(inside))
    assert shapes(next(iter(assets.values())), "#206080") is None
    seen(job, assets, tmp_path, "pdf")
    assert painted(tmp_path) == 0


def test_one_that_lies_below_something_or_is_seen_through_stays_a_picture(tmp_path: Path) -> None:
    job, assets = sheet(SVG.format(DRAWN["holes"]), opacity=0.5)
    seen(job, assets, tmp_path / "a", "pdf")
    assert painted(tmp_path / "a") == 0
    job, assets = sheet(SVG.format(DRAWN["holes"]))
    layout = job.sheets[0].layout
    words = Text(id="w", text="Kites", centre=(30, 20), width_mm=40, height_mm=10, size_pt=20)
    above = layout.copy_with(layers=(*layout.layers, words))
    job = job.copy_with(sheets=(job.sheets[0].copy_with(layout=above),))
    seen(job, assets, tmp_path / "b", "pdf")
    assert painted(tmp_path / "b") >= 2  # both stay vector, the words above
    covered = layout.copy_with(layers=(*layout.layers, words.copy_with(opacity=0.5)))
    job = job.copy_with(sheets=(job.sheets[0].copy_with(layout=covered),))
    seen(job, assets, tmp_path / "c", "pdf")
    assert painted(tmp_path / "c") == 0


def test_in_inks_and_as_x4(tmp_path: Path) -> None:
    lab = PLAIN.copy_with(press=Press(), pdf=PdfRules(x4=True), format="pdf", blanks=(), bindery=None)
    job, assets = sheet(SVG.format(DRAWN["all shapes"]), lab)
    file, _ = export(job, tmp_path, NO_PHOTO, MADE, assets=assets.__getitem__)
    assert [one.rule for one in verify(file).defects if one.severity == "stop"] == []
    with pikepdf.open(file) as pdf:
        used = {str(op.operator) for op in pikepdf.parse_content_stream(pdf.pages[0])}
    assert {"k", "K", "f", "S"} <= used
    assert not used & {"rg", "RG", "g", "G", "sc", "SC"}
    kept = PLAIN.copy_with(press=Press(convert=False), pdf=PdfRules(x4=True), format="pdf", blanks=(), bindery=None)
    job, assets = sheet(SVG.format(DRAWN["all shapes"]), kept)
    file, _ = export(job, tmp_path / "rgb", NO_PHOTO, MADE, assets=assets.__getitem__)
    assert [one.rule for one in verify(file).defects if one.severity == "stop"] == []


def test_the_shelfs_ornaments(tmp_path: Path) -> None:
    """Each that is plain is drawn by another program as it is painted here; most are."""
    plain = 0
    for number, piece in enumerate(SHELF.ornaments):
        svg = SHELF.asset(piece.asset)
        layer = Ornament(
            id="o",
            asset=piece.asset,
            centre=(30, 20),
            width_mm=36 * piece.ratio / max(1.0, piece.ratio),
            height_mm=36 / max(1.0, piece.ratio),
        )
        if not is_plain(layer, svg):
            continue
        plain += 1
        if number % 4:
            continue
        layout = Layout(width_mm=60, height_mm=40, bleed_mm=0, layers=(Background(id="b", colour="#ffffff"), layer))
        job = one_sheet(layout).copy_with(lab=PLAIN)
        vector = seen(job, {piece.asset: svg}, tmp_path / str(number), "pdf")
        picture = seen(job, {piece.asset: svg}, tmp_path / str(number), "png")
        differ = np.abs(vector - picture).max(-1)
        assert differ.mean() < 2.5, piece.name
        assert (differ > 90).mean() < 0.01, piece.name
    assert plain >= 48
    print(f"{plain} of {len(SHELF.ornaments)} ornaments are vectors")
