"""PDFs that other programs wrote: what is said of them is true, and nothing sound is called damaged."""

import io
import subprocess
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pikepdf
import pypdfium2 as pdfium
import pytest
from PIL import Image
from reportlab.graphics import renderPDF
from reportlab.graphics.barcode.qr import QrCodeWidget
from reportlab.graphics.shapes import Drawing
from reportlab.lib.colors import CMYKColor, CMYKColorSep, Color
from reportlab.lib.utils import ImageReader
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from sutaru.core.verifying.print_files import verify
from sutaru.core.words import FOLDER
from sutaru.demo.scenes import picture

# What would call a sound file damaged. What a file lacks for print (a trim, a profile, a font) is another matter.
DAMAGE = {
    "syntax", "content", "damaged", "colour_space", "profile", "soft_mask", "blend", "intent", "decode", "xmp", "media_box",
    "postscript", "transfer", "blank", "encrypted",
}  # fmt: skip
KITE = Image.fromarray(picture("kite", 3, 360, 240))
POSTSCRIPT = """%!PS
/Helvetica findfont 24 scalefont setfont 72 700 moveto (Three days of wind) show
0.2 0.4 0.6 0 setcmykcolor 100 300 200 120 rectfill 0.9 0.2 0.1 setrgbcolor 3 setlinewidth 100 100 moveto 300 260 lineto stroke
/picture 8 string def 100 500 translate 80 80 scale 8 8 8 [8 0 0 -8 0 8] {currentfile picture readhexstring pop} image
"""
POSTSCRIPT += "004080c0ff80402010305070a0c0e0f0" * 4 + "\nshowpage\n"
PAGE = """<html><style>@page { size: 210mm 148mm; margin: 8mm } p { columns: 2 } .a { box-shadow: 0 0 9px #0008; opacity: .7 }
.b { background: linear-gradient(120deg, #024, #9cf); height: 40mm; transform: rotate(3deg); mix-blend-mode: multiply }</style>
<h1>Skerry Sands — Ωmega, дюны, 風</h1><div class="b a"></div><p>Kites over the bay, and lanterns at night.</p>
<svg width=200 height=80><defs>
<filter id=f><feGaussianBlur stdDeviation=2 /></filter><mask id=m><circle cx=40 cy=40 r=30 fill=white
/></mask></defs><rect width=90 height=70 fill=#c40 mask=url(#m) /><rect x=100 width=80 height=60 filter=url(#f) /></svg></html>"""


def canvas(path: Path, draw: Callable[[Canvas], object], **more: object) -> None:
    made = Canvas(str(path), pagesize=(300, 200), **more)
    draw(made)
    made.showPage()
    made.save()


def lettered(c: Canvas) -> None:
    pdfmetrics.registerFont(TTFont("Vollkorn", FOLDER / "Vollkorn-Regular.ttf"))
    c.setFont("Vollkorn", 18)
    c.drawString(30, 100, "Fair winds, дюна, ﬁne")


def pictured(c: Canvas, mode: str) -> None:
    data = io.BytesIO()
    KITE.convert(mode).save(data, "JPEG" if mode in ("CMYK", "L") else "PNG")
    c.drawImage(ImageReader(io.BytesIO(data.getvalue())), 20, 20, 180, 120, mask="auto")


def transparent(c: Canvas) -> None:
    pictured(c, "RGBA")


def shaped(c: Canvas) -> None:
    c.linearGradient(0, 0, 200, 100, (Color(0, 0.2, 0.4), Color(1, 0.8, 0.5)))
    c.setFillColor(Color(1, 0, 0, alpha=0.4))
    c.circle(120, 90, 50, stroke=0, fill=1)
    c.saveState()
    clip = c.beginPath()
    clip.circle(200, 60, 30)
    c.clipPath(clip)
    c.rect(180, 30, 60, 60, fill=1)
    c.restoreState()


def inked(c: Canvas) -> None:
    c.setFillColor(CMYKColor(0.2, 0.4, 0.6, 0.1))
    c.rect(20, 20, 90, 90, fill=1)
    c.setFillColor(CMYKColorSep(0, 1, 1, 0, spotName="KITE RED"))
    c.rect(120, 20, 90, 90, fill=1)


def coded(c: Canvas) -> None:
    drawing = Drawing(90, 90)
    drawing.add(QrCodeWidget("marram-studio.example"))
    renderPDF.draw(drawing, c, 40, 40)


def pillow(path: Path, mode: str, **more: object) -> None:
    KITE.convert(mode).save(path, "PDF", resolution=200, **more)


def ghostscript(path: Path, *options: str) -> None:
    source = path.with_suffix(".ps")
    source.write_text(POSTSCRIPT)
    told = ["gs", "-q", "-dNOPAUSE", "-dBATCH", "-sDEVICE=pdfwrite", *options, f"-sOutputFile={path}", str(source)]
    subprocess.run(told, check=True, capture_output=True)


def again(path: Path, *command: str) -> None:
    """A file of another program, written anew by one that reads it."""
    source = path.with_suffix(".in.pdf")
    canvas(source, lambda c: [draw(c) for draw in (lettered, shaped, transparent)])
    subprocess.run([part.format(source=source, path=path) for part in command], check=True, capture_output=True)


def chromium(path: Path, page: str) -> None:
    source = path.with_suffix(".html")
    source.write_text(page, "utf-8")
    told = [
        "chromium",
        "--headless",
        "--no-sandbox",
        "--disable-gpu",
        "--no-pdf-header-footer",
        f"--print-to-pdf={path}",
    ]
    subprocess.run([*told, source.as_uri()], check=True, capture_output=True, timeout=120)


def by_pdfium(path: Path) -> None:
    source = path.with_suffix(".in.pdf")
    canvas(source, lettered)
    with pdfium.PdfDocument.new() as made, pdfium.PdfDocument(source) as other:
        made.import_pages(other)
        made.save(path)


def by_pikepdf(path: Path) -> None:
    source = path.with_suffix(".in.pdf")
    canvas(source, shaped)
    with pikepdf.open(source) as pdf:
        pdf.save(path, object_stream_mode=pikepdf.ObjectStreamMode.generate, linearize=True)


FILES: dict[str, Callable[[Path], object]] = {
    "reportlab, a font of its own": lambda path: canvas(path, lettered),
    "reportlab, a font of every reader's": lambda path: canvas(path, lambda c: c.drawString(30, 60, "Kites")),
    "reportlab, RGB": lambda path: canvas(path, lambda c: pictured(c, "RGB")),
    "reportlab, transparent": lambda path: canvas(path, lambda c: pictured(c, "RGBA")),
    "reportlab, grey": lambda path: canvas(path, lambda c: pictured(c, "L")),
    "reportlab, inks": lambda path: canvas(path, lambda c: pictured(c, "CMYK")),
    "reportlab, table": lambda path: canvas(path, lambda c: pictured(c, "P")),
    "reportlab, shapes": lambda path: canvas(path, shaped),
    "reportlab, plates": lambda path: canvas(path, inked),
    "reportlab, code": lambda path: canvas(path, coded),
    "reportlab, not packed": lambda path: canvas(path, shaped, pageCompression=0),
    "Pillow, RGB": lambda path: pillow(path, "RGB"),
    "Pillow, grey": lambda path: pillow(path, "L"),
    "Pillow, inks": lambda path: pillow(path, "CMYK"),
    "Pillow, black and white": lambda path: pillow(path, "1"),
    "Pillow, table": lambda path: pillow(path, "P"),
    "Pillow, pages": lambda path: pillow(path, "RGB", save_all=True, append_images=[KITE.rotate(90, expand=True)]),
    "Ghostscript": lambda path: ghostscript(path),
    "Ghostscript, 1.3": lambda path: ghostscript(path, "-dCompatibilityLevel=1.3"),
    "Ghostscript, prepress": lambda path: ghostscript(path, "-dPDFSETTINGS=/prepress"),
    "Ghostscript, screen": lambda path: ghostscript(path, "-dPDFSETTINGS=/screen"),
    "Ghostscript, inks": lambda path: ghostscript(path, "-sColorConversionStrategy=CMYK"),
    "Ghostscript, grey": lambda path: ghostscript(path, "-sColorConversionStrategy=Gray"),
    "cairo": lambda path: again(path, "pdftocairo", "-pdf", "{source}", "{path}"),
    "MuPDF, cleaned": lambda path: again(path, "mutool", "clean", "-gggz", "{source}", "{path}"),
    "MuPDF, converted": lambda path: again(path, "mutool", "convert", "-o", "{path}", "{source}"),
    "qpdf, for the web": lambda path: again(path, "qpdf", "--linearize", "--object-streams=generate", "{source}", "{path}"),
    "qpdf, readable": lambda path: again(path, "qpdf", "--qdf", "{source}", "{path}"),
    "Ghostscript, from PDF": lambda path: again(
        path, "gs", "-q", "-dNOPAUSE", "-dBATCH", "-sDEVICE=pdfwrite", "-sOutputFile={path}", "{source}"),
    "pdfium": by_pdfium,
    "pikepdf": by_pikepdf,
    "Chromium": lambda path: chromium(path, PAGE),
    "Chromium, a page of words": lambda path: chromium(path, "<h1>Thank you</h1>" + "<p>Fair winds and dry sand.</p>" * 40),
}  # fmt: skip


@pytest.fixture(scope="module")
def folder(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return tmp_path_factory.mktemp("others")


@pytest.mark.parametrize("name", list(FILES))
def test_a_sound_file_of_another_program_is_not_called_damaged(name: str, folder: Path) -> None:
    path = folder / f"{list(FILES).index(name)}.pdf"
    FILES[name](path)
    assert path.stat().st_size > 500
    defects = verify(path).defects
    assert [(one.rule, one.sentence) for one in defects if one.rule in DAMAGE or "Not checked" in one.sentence] == []
    # Whether its fonts are in it, by another program.
    listed = subprocess.run(["pdffonts", str(path)], check=True, capture_output=True, text=True).stdout.splitlines()[2:]
    lacks = any(line.split()[-5] == "no" for line in listed)
    assert ("font" in {one.rule for one in defects}) == lacks


def test_a_page_that_was_left_white_is_told_from_one_that_is_not(folder: Path) -> None:
    canvas(folder / "white.pdf", lambda c: None)
    assert "blank" in {one.rule for one in verify(folder / "white.pdf").defects}
    assert np.asarray(KITE).std() > 10
