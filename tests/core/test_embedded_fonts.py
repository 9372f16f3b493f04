"""Words in embedded fonts: found again by other programs, and drawn by them as the outlines are."""

import io
from datetime import UTC, datetime
from pathlib import Path
from typing import Any
from unicodedata import combining, normalize

import numpy as np
import pikepdf
import pypdfium2 as pdfium
import pytest
from fontTools.fontBuilder import FontBuilder
from fontTools.pens.t2CharStringPen import T2CharStringPen
from PIL import Image

from sutaru.core.document import Background, Job, LabSheet, Layout, PdfRules, Press, Text
from sutaru.core.document.lettering import Run
from sutaru.core.formats.assets import read_asset
from sutaru.core.photos import PhotoPixels
from sutaru.core.press.exporting import export
from sutaru.core.verifying.print_files import verify
from sutaru.core.words.setting import CONTROLS
from tests.conftest import LABS, SHELF, one_sheet
from tests.core.test_press import plates, run

MADE = datetime(2026, 6, 20, tzinfo=UTC)
PLAIN = LABS["gullwing-300"].copy_with(ppi_target=127, ppi_least=72, format="pdf", blanks=(), bindery=None)


def sheet(lab: LabSheet, *texts: Text, **more: Any) -> Job:
    layout = Layout(
        width_mm=100, height_mm=60, bleed_mm=0, layers=(Background(id="b", colour="#f4f0e8"), *texts), **more
    )
    return one_sheet(layout).copy_with(lab=lab)


def words(text: str, **more: Any) -> Text:
    box = {
        "id": "w",
        "centre": (50, 30),
        "width_mm": 90,
        "height_mm": 50,
        "size_pt": 24,
        "sample": False,
        "colour": "#203040",
    }
    return Text(text=text, **{**box, **more})


def made(job: Job, folder: Path, fonts: str, assets: Any = SHELF.asset) -> Path:
    lab = job.lab.copy_with(pdf=job.lab.pdf.copy_with(fonts=fonts))
    file, _ = export(
        job.copy_with(lab=lab), folder / fonts, PhotoPixels(lambda photo: Path("none")), MADE, assets=assets
    )
    return file


def drawn(path: Path) -> np.ndarray:
    run("pdftocairo", "-png", "-singlefile", "-r", "127", path, path.with_suffix(""))
    with Image.open(path.with_suffix(".png")) as picture:
        return np.asarray(picture.convert("RGB")).astype(int)


TEXTS = {
    "kerned": (words("Waffle AVATAR, To Ola"), "Waffle AVATAR, To Ola"),
    "two lines, two looks": (
        words("Kites over\nthe bay", font="EB Garamond", runs=(Run(start=0, end=5, weight=700, colour="#a02020"),)),
        "Kites over\nthe bay",
    ),
    "leaning for want of a slanted face": (words("Fair winds", font="Bebas Neue", slant=True), None),
    "on an arc": (words("Three days of wind", bend_deg=80, size_pt=20), None),
    "from the right": (words("شكرا جزيلا", size_pt=28), None),
    "letters of several fonts": (words("Ola, Ωmega, дюна", size_pt=20), "Ola, Ωmega, дюна"),
    "justified": (words("Thank you for three days of wind and for every knot", align="justified", size_pt=18), None),
    "turned": (words("Skerry Sands", turn_deg=33, size_pt=20), None),
    "from a font with numbers of its own for its glyphs": (words("凧の浜 2027년", size_pt=28), "凧の浜 2027년"),
}  # fmt: skip


@pytest.mark.parametrize("name", list(TEXTS))
def test_words_look_as_their_outlines_and_stay_words(name: str, tmp_path: Path) -> None:
    layer, said = TEXTS[name]
    job = sheet(PLAIN, layer)
    outlines, embedded = made(job, tmp_path, "outlines"), made(job, tmp_path, "embedded")
    differ = np.abs(drawn(outlines) - drawn(embedded)).max(-1)
    assert differ.mean() < 1.5
    assert (differ > 120).mean() < 0.002
    rows = run("pdffonts", embedded).splitlines()[2:]
    assert rows
    assert all(row.split()[-5:-2] == ["yes", "yes", "yes"] for row in rows)  # embedded, subset, with their letters
    assert run("pdffonts", outlines).splitlines()[2:] == []
    if said:
        assert said.split() == run("pdftotext", embedded, "-").split()
    assert "No syntax" in run("qpdf", "--check", embedded)
    assert embedded.read_bytes() == made(job, tmp_path / "again", "embedded").read_bytes()


def read_by(path: Path) -> dict[str, str]:
    """The words of a file as two programs read them, without marks of direction."""
    with pdfium.PdfDocument(path) as pdf:
        read = {"poppler": run("pdftotext", path, "-"), "pdfium": pdf[0].get_textpage().get_text_bounded()}
    return {program: normalize("NFC", CONTROLS.sub(" ", words)) for program, words in read.items()}


@pytest.mark.parametrize(
    "text",
    ["Waffle office, AVATAR", "cafe\u0301 and man\u0303ana", "क्षत्रिय हिन्दी विज्ञान", "สวัสดีครับ น้ำ", "Ωmega ΐ", "Շնորհակալ եւ",
     "მადლობა", "שלום עולם", "شكرا جزيلا", "ثلاثة أيام من الريح", "二〇二七年四月 凧の浜", "2027년 4월 연", "ສະບາຍດີ", "សួស្តី"],
)  # fmt: skip
def test_words_of_all_scripts_are_found_by_two_readers(text: str, tmp_path: Path) -> None:
    path = made(sheet(PLAIN, words(text, size_pt=22)), tmp_path, "embedded")
    for program, said in read_by(path).items():
        assert said.split() == normalize("NFC", text).split(), program


def test_pointed_words_from_the_right_are_found_by_their_letters(tmp_path: Path) -> None:
    path = made(sheet(PLAIN, words(text := "שָׁלוֹם")), tmp_path, "embedded")
    said = normalize("NFD", read_by(path)["poppler"]).strip()
    assert sorted(said) == sorted(normalize("NFD", text))
    assert [letter for letter in said if not combining(letter)] == [letter for letter in text if not combining(letter)]
    # As the standard has it: letters of a cluster in the order that they are read, those that draw nothing new say nothing.
    with pikepdf.open(path) as pdf:
        spans = [
            str(op.operands[1].ActualText)
            for op in pikepdf.parse_content_stream(pdf.pages[0])
            if str(op.operator) == "BDC" and "/ActualText" in op.operands[1]
        ]
    assert sorted(spans) == sorted(["", "", "", "שָׁ", "וֹ"])


def test_black_words_stay_in_black_ink_and_the_file_keeps_to_x4(tmp_path: Path) -> None:
    lab = PLAIN.copy_with(press=Press(), pdf=PdfRules(x4=True))
    job = sheet(
        lab,
        words("Fair winds", colour="#000000", size_pt=30),
    )
    path = made(job, tmp_path, "embedded")
    report = verify(path)
    assert [one.rule for one in report.defects if one.severity == "stop"] == []
    with pikepdf.open(path) as pdf:
        told = [(str(op.operator), [str(v) for v in op.operands]) for op in pikepdf.parse_content_stream(pdf.pages[0])]
    assert ("k", ["0", "0", "0", "1"]) in told
    assert "Tj" in [name for name, _ in told]
    seen = plates(path, tmp_path)
    assert (seen["Black"] > 0.75).mean() > 0.01
    assert np.abs(seen["Cyan"] - seen["Cyan"][2, 2]).max() <= 0.012  # the ground goes on below


def _font() -> bytes:
    """A font of two letters with CFF outlines."""

    def block(wide: int) -> Any:
        pen = T2CharStringPen(600, None)
        if wide:
            pen.moveTo((50, 0))
            for point in ((50, 700), (wide, 700), (wide, 0)):
                pen.lineTo(point)
            pen.closePath()
        return pen.getCharString()

    wide = {".notdef": 100, "A": 400, "B": 250, "space": 0}
    font = FontBuilder(1000, isTTF=False)
    font.setupGlyphOrder(list(wide))
    font.setupCharacterMap({65: "A", 66: "B", 32: "space"})
    font.setupCFF("Blocks", {"FullName": "Blocks"}, {name: block(w) for name, w in wide.items()}, {})
    font.setupHorizontalMetrics(dict.fromkeys(wide, (600, 50)))
    font.setupHorizontalHeader(ascent=800, descent=-200)
    font.setupNameTable({"familyName": "Blocks", "styleName": "Regular", "psName": "Blocks"})
    font.setupOS2(fsType=0)
    font.setupPost()
    out = io.BytesIO()
    font.save(out)
    return out.getvalue()


def test_a_font_of_the_documents_own_with_cff_outlines(tmp_path: Path) -> None:
    kept = read_asset(_font())
    job = sheet(PLAIN, words("AB BA", font=kept.family, size_pt=40), fonts={kept.family: kept.name})
    assets = {kept.name: kept.data}.__getitem__
    outlines, embedded = made(job, tmp_path, "outlines", assets), made(job, tmp_path, "embedded", assets)
    assert (np.abs(drawn(outlines) - drawn(embedded)).max(-1) > 120).mean() < 0.002
    assert "CID Type 0C" in run("pdffonts", embedded)
    assert run("pdftotext", embedded, "-").split() == ["AB", "BA"]
