"""SVG of other programs read into sheets, beside librsvg's drawing of the same file; and our own, written and read back."""

import base64
import io
import re

import drawsvg
import numpy as np
import pytest
import pyvips
import segno
import svgwrite
from lxml import etree
from PIL import Image
from reportlab.graphics import renderSVG
from reportlab.graphics.charts.barcharts import VerticalBarChart
from reportlab.graphics.charts.piecharts import Pie
from reportlab.graphics.shapes import Drawing

from sutaru.core.document import Ellipse, Layout, Path, Rectangle
from sutaru.core.errors import FileRefused
from sutaru.core.fitting import resolve_sheet
from sutaru.core.formats.foreign.foreign_file import read_foreign
from sutaru.core.formats.foreign.read_result import Read
from sutaru.core.formats.svg_file import write_svg
from sutaru.core.geometry import outlines
from sutaru.core.paint import Painter, PixelGrid, items
from tests.conftest import one_sheet
from tests.core.arranged import SHELF

HEAD = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="120mm" height="90mm" viewBox="0 0 240 180"'


def svg(body: str, head: str = HEAD) -> bytes:
    return f"<svg {head}>{body}</svg>".encode()


def ours(read: Read, ppi: float = 150) -> np.ndarray:
    layout = read.sheets[0].layout
    layers = items(resolve_sheet(one_sheet(layout), "p"), read.files.__getitem__, bench=False, notes=False)
    return np.asarray(Painter(None).render(layers, PixelGrid.for_ppi(layout, ppi))[0]).astype(float)  # type: ignore[arg-type]


def librsvgs(data: bytes, size: tuple[int, int]) -> np.ndarray:
    root = etree.fromstring(data)
    if not root.get("viewBox"):
        root.set("viewBox", " ".join(["0 0", *(re.sub("[a-z]+$", "", root.get(side)) for side in ("width", "height"))]))
    root.set("preserveAspectRatio", "none")
    root.set("width", str(size[0]))
    root.set("height", str(size[1]))
    seen = pyvips.Image.svgload_buffer(etree.tostring(root), unlimited=True).numpy().astype(float)
    alpha = seen[..., 3:] / 255
    return np.asarray(seen[..., :3] * alpha + 255 * (1 - alpha))


def psnr(a: np.ndarray, b: np.ndarray) -> float:
    off = float(((a - b) ** 2).mean())
    return 99.0 if off == 0 else 10 * np.log10(255**2 / off)


GRADIENTS = (
    '<defs><linearGradient id="a" x1="0" y1="0" x2="1" y2="1"><stop offset="0" stop-color="#f4c430"/><stop offset="1" stop-color="#1d3557"/>'
    '</linearGradient><radialGradient id="b" xlink:href="#a" cx="0.4" cy="0.4" r="0.6"/>'
    '<linearGradient id="c" gradientUnits="userSpaceOnUse" x1="0" x2="240" spreadMethod="reflect" gradientTransform="rotate(20)">'
    '<stop offset="0.2" stop-color="teal" stop-opacity="0.3"/><stop offset="0.8" stop-color="rgb(200,40,60)"/></linearGradient></defs>'
)
CLIP = '<defs><clipPath id="k"><circle cx="120" cy="90" r="60"/></clipPath><mask id="m"><rect width="240" height="90" fill="white"/></mask></defs>'


def png() -> str:
    buffer = io.BytesIO()
    rows, columns = np.mgrid[0:40, 0:40]
    Image.fromarray(np.dstack([rows * 6, columns * 6, rows * 3]).astype(np.uint8)).save(buffer, "PNG")
    return base64.b64encode(buffer.getvalue()).decode()


MARKS = (
    '<defs><marker id="k" viewBox="0 0 10 10" refX="8" refY="5" markerWidth="5" markerHeight="5" orient="auto"><path d="M0 0L10 5L0 10Z" fill="#b4532a"/></marker>'
    '<marker id="d" markerUnits="userSpaceOnUse" markerWidth="12" markerHeight="12" refX="6" refY="6"><circle cx="6" cy="6" r="5" fill="#246"/></marker></defs>'
)
SHAPES = {
    "rectangle": '<rect x="20" y="20" width="100" height="60" fill="#2f5d6b"/>',
    "rounded": '<rect x="20" y="20" width="100" height="60" rx="14" fill="#2f5d6b"/>',
    "rounded by two": '<rect x="20" y="20" width="100" height="60" rx="30" ry="10" fill="#2f5d6b"/>',
    "circle": '<circle cx="100" cy="90" r="50" fill="#b4532a"/>',
    "ellipse": '<ellipse cx="100" cy="90" rx="70" ry="30" fill="#b4532a" transform="rotate(25 100 90)"/>',
    "polygon": '<polygon points="20,150 120,20 220,150" fill="#26302f"/>',
    "star, nonzero": '<path d="M120 20L180 160L30 70L210 70L60 160Z" fill="#26302f"/>',
    "star, evenodd": '<path d="M120 20L180 160L30 70L210 70L60 160Z" fill="#26302f" fill-rule="evenodd"/>',
    "curves": '<path d="M20 90C40 20 90 20 120 90S200 160 220 90Q180 170 120 150T20 90Z" fill="#264"/>',
    "arcs": '<path d="M30 90A60 40 20 1 1 150 100A30 30 0 0 0 90 130Z" fill="#642"/>',
    "relative": '<path d="m40 40h80v60h-80zm20 20v20h40v-20z" fill="#824"/>',
    "skewed": '<rect x="60" y="40" width="80" height="60" fill="#357" transform="skewX(20) skewY(5)"/>',
    "mirrored": '<path d="M20 20H90L60 120Z" fill="#753" transform="translate(240) scale(-1 1)"/>',
    "matrix": '<rect width="60" height="40" fill="#537" transform="matrix(1.2 0.3 -0.4 0.9 80 40)"/>',
    "nested": '<g transform="translate(40 30)"><g transform="rotate(15) scale(1.3)"><rect width="60" height="40" fill="#a53"/></g></g>',
    "inherited": '<g fill="#2a6" stroke="#111" stroke-width="3"><circle cx="80" cy="80" r="40"/><rect x="130" y="60" width="60" height="50" fill="#fff"/></g>',
    "stroke": '<path d="M20 90C60 10 160 170 220 60" fill="none" stroke="#26302f" stroke-width="9" stroke-linecap="round"/>',
    "dashes": '<path d="M20 90H220" fill="none" stroke="#b4532a" stroke-width="6" stroke-dasharray="14 8"/>',
    "polyline": '<polyline points="20,150 80,40 140,150 220,30" fill="none" stroke="#246" stroke-width="4" stroke-linejoin="round"/>',
    "faint shape": '<rect x="20" y="20" width="150" height="90" fill="#246" fill-opacity="0.4"/><circle cx="130" cy="100" r="50" fill="#a33" opacity="0.5"/>',
    "faint group": '<g opacity="0.5"><rect x="20" y="20" width="120" height="90" fill="#246"/><circle cx="130" cy="100" r="50" fill="#a33"/></g>',
    "linear": GRADIENTS + '<rect x="20" y="20" width="200" height="120" fill="url(#a)"/>',
    "radial": GRADIENTS + '<circle cx="120" cy="90" r="80" fill="url(#b)"/>',
    "reflected": GRADIENTS + '<rect x="10" y="10" width="220" height="160" fill="url(#c)" transform="rotate(4)"/>',
    "clipped": CLIP + '<rect x="20" y="20" width="200" height="140" fill="#2a6" clip-path="url(#k)"/>',
    "clipped group": CLIP + '<g clip-path="url(#k)"><rect width="240" height="90" fill="#2a6"/><rect y="90" width="240" height="90" fill="#a26"/></g>',
    "masked": CLIP + '<circle cx="120" cy="90" r="70" fill="#a52" mask="url(#m)"/>',
    "use": '<defs><g id="leaf"><path d="M0 0C30 -20 40 -60 0 -90C-40 -60 -30 -20 0 0Z" fill="#3a5"/></g></defs>'
    '<use xlink:href="#leaf" x="80" y="140"/><use href="#leaf" transform="translate(160 140) rotate(30)"/>',
    "symbol": '<symbol id="s" viewBox="0 0 10 10"><path d="M0 0H10L5 10Z" fill="#808"/></symbol><use href="#s" x="20" y="30" width="90" height="60"/>',
    "inner svg": '<svg x="40" y="30" width="120" height="90" viewBox="0 0 12 9"><rect width="12" height="9" fill="#cde"/><circle cx="6" cy="4" r="3" fill="#835"/></svg>',
    "style sheet": '<style>.a{fill:#2f5d6b} g .b{fill:#b4532a;opacity:.6} #c{stroke:#111;stroke-width:5px;fill:none}</style>'
    '<rect class="a" width="90" height="60"/><g><circle class="b" cx="120" cy="90" r="50"/></g><path id="c" d="M20 150H220"/>',
    "style attribute": '<path style="fill:#264653;stroke:#e9c46a;stroke-width:6" d="M40 30L200 50L150 150Z"/>',
    "embedded picture": f'<image x="40" y="30" width="100" height="100" xlink:href="data:image/png;base64,{png()}"/>',
    "blurred": '<filter id="f"><feGaussianBlur stdDeviation="4"/></filter><rect x="50" y="40" width="120" height="80" fill="#a53" filter="url(#f)"/>',
    "pattern": '<pattern id="p" width="20" height="20" patternUnits="userSpaceOnUse"><circle cx="10" cy="10" r="6" fill="#379"/></pattern>'
    '<rect x="20" y="20" width="200" height="140" fill="url(#p)"/>',
    "hidden": '<rect width="240" height="180" fill="#eee"/><rect width="90" height="90" fill="red" display="none"/><rect width="60" height="60" fill="red" visibility="hidden"/>',
    "markers": MARKS + '<path d="M30 150L90 40L150 120L220 30" fill="none" stroke="#26302f" stroke-width="4" marker-end="url(#k)" marker-mid="url(#d)"/>',
    "markers in a style": MARKS + '<style>polyline{marker:url(#d);stroke:#444;fill:none}</style><polyline points="20,150 80,40 140,150"/>',
    "markers of a group": MARKS + '<g marker-start="url(#k)" stroke="#444" stroke-width="3"><line x1="40" y1="40" x2="200" y2="120"/></g>',
    "line below the fill": '<path d="M60 30H180V150H60Z" fill="#f4c430" stroke="#1d3557" stroke-width="24" paint-order="stroke"/>',
    "line below, in a style": '<g style="paint-order:stroke fill"><circle cx="120" cy="90" r="50" fill="#f4c430" stroke="#1d3557" stroke-width="20"/></g>',
    "multiplied": '<rect width="240" height="180" fill="#e9c46a"/><circle cx="100" cy="90" r="60" fill="#2a9d8f" style="mix-blend-mode:multiply"/>',
    "screened group": '<rect width="240" height="180" fill="#264653"/><g style="mix-blend-mode:screen"><rect x="30" y="30" width="90" height="90" fill="#a53"/><circle cx="130" cy="100" r="50" fill="#357"/></g>',
    "blended within a faint group": '<g opacity="0.7"><rect x="30" y="30" width="120" height="90" fill="#e76f51"/><circle cx="140" cy="100" r="50" fill="#2a9d8f" style="mix-blend-mode:multiply"/></g>',
    "important": '<style>rect{fill:#2a6 !important} #one{fill:#a26}</style><rect id="one" style="fill:#26a" x="20" y="20" width="120" height="90"/>',
    "important in a style": '<style>#one{fill:#a26 !important}</style><rect id="one" style="fill:#26a !important" x="20" y="20" width="120" height="90"/>',
    "switch": '<switch><rect systemLanguage="xx" width="200" height="150" fill="red"/><rect requiredExtensions="http://example.com/x" width="9" height="9"/>'
    '<circle cx="100" cy="80" r="50" fill="#2a6"/><rect width="200" height="100" fill="blue"/></switch>',
    "names": '<rect width="120" height="90" fill="lightsteelblue"/><circle cx="120" cy="90" r="40" fill="rgb(50%,20%,10%)" />',
}  # fmt: skip


def _by_svgwrite() -> bytes:
    drawing = svgwrite.Drawing(size=("140mm", "100mm"), viewBox="0 0 140 100")
    for n in range(6):
        group = drawing.add(drawing.g(transform=f"translate({20 + 20 * n},50) rotate({12 * n})"))
        group.add(drawing.rect((-8, -20), (16, 40), rx=3, fill=svgwrite.rgb(40 * n, 90, 160), stroke="#222"))
    drawing.add(drawing.line((5, 92), (135, 92), stroke="#444", stroke_width=1.2))
    return bytes(drawing.tostring(), "utf-8")


def _by_drawsvg() -> bytes:
    drawing = drawsvg.Drawing(320, 200)
    sky = drawsvg.LinearGradient(0, 0, 0, 200)
    sky.add_stop(0, "#8fb6d4")
    sky.add_stop(1, "#e6dcc4")
    drawing.append(drawsvg.Rectangle(0, 0, 320, 200, fill=sky))
    drawing.append(drawsvg.ArcLine(160, 200, 120, 20, 160, stroke="#b4532a", stroke_width=7, fill="none"))
    drawing.append(
        drawsvg.Lines(40, 40, 90, 90, 40, 150, 20, 90, close=True, fill="#2f5d6b", stroke="#111", stroke_width=2)
    )
    clip = drawsvg.ClipPath()
    clip.append(drawsvg.Circle(240, 70, 40))
    drawing.append(drawsvg.Rectangle(200, 40, 100, 60, fill="#f4c430", clip_path=clip))
    return bytes(drawing.as_svg(), "utf-8")


def _by_reportlab(chart: object) -> bytes:
    drawing = Drawing(320, 200)
    chart.x, chart.y, chart.width, chart.height = 30, 30, 250, 150  # type: ignore[attr-defined]
    drawing.add(chart)
    return bytes(renderSVG.drawToString(drawing), "utf-8")


def _bars() -> bytes:
    chart = VerticalBarChart()
    chart.data = [(12, 9, 14, 7), (3, 8, 6, 11)]
    chart.categoryAxis.visibleLabels = chart.valueAxis.visibleLabels = 0
    return _by_reportlab(chart)


def _pie() -> bytes:
    chart = Pie()
    chart.data = [12, 9, 14, 7]
    return _by_reportlab(chart)


def _by_segno() -> bytes:
    buffer = io.BytesIO()
    segno.make("marram-studio.example").save(buffer, kind="svg", scale=6, dark="#26302f", light="#fdfcf8")
    return buffer.getvalue()


OTHERS = {"svgwrite": _by_svgwrite, "segno": _by_segno, "drawsvg": _by_drawsvg, "bars": _bars, "pie": _pie}


@pytest.mark.parametrize("name", [*SHAPES, *OTHERS])
def test_what_a_file_draws_is_what_librsvg_draws(name: str) -> None:
    data = svg(SHAPES[name]) if name in SHAPES else OTHERS[name]()
    read = read_foreign(data, f"{name}.svg")
    pictured = any(layer.kind == "overlay" for layer in read.sheets[0].layout.leaves)
    seen = ours(read, 300 if pictured else 150)  # what became a picture has the pixels of the print
    assert seen.min() < 250  # something is drawn
    # librsvg puts a pattern's tile on whole pixels, which lie otherwise where a part of the page is drawn by itself.
    assert psnr(seen, librsvgs(data, (seen.shape[1], seen.shape[0]))) > (33 if name == "pattern" else 40)


def test_a_prefix_changes_nothing() -> None:
    body = '<s:style>.a{fill:#2f5d6b}</s:style><s:g transform="rotate(8)"><s:rect class="a" x="40" y="20" width="90" height="60"/></s:g>'
    prefixed = (
        f'<s:svg xmlns:s="http://www.w3.org/2000/svg" width="120mm" height="90mm" viewBox="0 0 240 180">{body}</s:svg>'
    )
    seen = ours(read_foreign(prefixed.encode(), "a.svg"))
    assert seen.min() < 250
    assert np.array_equal(seen, ours(read_foreign(svg(body.replace("s:", "")), "b.svg")))


def test_words_lie_along_their_path() -> None:
    """Beside geometry: on a circle about (120, 90) each letter's foot is as far from its middle as the circle is."""
    ring = '<defs><path id="ring" d="M40 90A80 80 0 0 1 200 90"/></defs>'
    for anchor, offset in (("start", "0"), ("middle", "50%"), ("end", "100%")):
        words = f'<text font-family="Lato" font-size="16" text-anchor="{anchor}"><textPath href="#ring" startOffset="{offset}">IIIIIIIIIIII</textPath></text>'
        read = read_foreign(svg(ring + words), "ring.svg")
        seen = ours(read).min(axis=-1) < 128
        scale = seen.shape[1] / 240
        y, x = np.nonzero(seen)
        away = np.hypot(x / scale - 120, y / scale - 90)
        assert away.min() == pytest.approx(80, abs=0.8)
        assert away.max() == pytest.approx(80 + 16 * 0.72, abs=1.2)  # Lato's capitals, by its OS/2 table: 0.72 of an em
        angle = np.degrees(np.arctan2(90 - y / scale, x / scale - 120))
        middle = (angle.min() + angle.max()) / 2
        assert {"start": middle > 120, "middle": abs(middle - 90) < 2, "end": middle < 60}[anchor]
    (note,) = [n for n in read_foreign(svg('<rect width="9" height="9"/><text><textPath href="#no">a</textPath></text>'), "a.svg").notes
               if "path" in n]  # fmt: skip
    assert note == "Words along a path that is not in the file were left out."


def test_there_are_forty_files_and_more() -> None:
    assert len(SHAPES) + len(OTHERS) >= 40


OPENINGS = """<rect width="240" height="180" fill="#fdfcf8"/>
<g transform="translate(20 20)"><rect id="opening-1" width="80" height="60" stroke="#b4532a" stroke-width="4" fill="#ccc"/></g>
<g class="photo openings"><circle cx="170" cy="50" r="30" class="opening"/></g>
<rect class="opening" x="30" y="110" width="60" height="40" rx="6" transform="rotate(10 60 130)"/>
<path class="opening" fill-rule="evenodd" d="M130 100H220V170H130ZM150 120V150H200V120Z"/>
<text x="20" y="174" font-family="Vollkorn" font-size="9">Skerry Sands</text>"""


def test_openings_are_found_by_class_and_id_and_are_exact() -> None:
    read = read_foreign(svg(OPENINGS), "card.svg")
    layout = read.sheets[0].layout
    assert (layout.width_mm, layout.height_mm) == (120, 90)
    first, second, third, fourth = layout.openings()
    assert first.outline == Rectangle(width_mm=40, height_mm=30)
    assert first.surface.centre == (30, 25)  # type: ignore[union-attr]
    assert (first.border.width_mm, first.border.colour, first.border.side) == (2, "#b4532a", "centred")  # type: ignore[union-attr]
    assert second.outline == Ellipse(width_mm=30, height_mm=30)
    assert third.outline == Rectangle(width_mm=30, height_mm=20, radius_mm=3)
    assert third.surface.turn_deg == -10  # type: ignore[union-attr]
    assert isinstance(fourth.outline, Path)
    assert fourth.outline.area_mm2 == pytest.approx((90 * 70 - 50 * 30) / 4)
    assert [layer.kind for layer in layout.leaves] == ["fill", *["opening"] * 4, "ornament"]  # words became a drawing
    assert read.notes == ()


def test_openings_are_found_by_a_picked_fill() -> None:
    body = '<rect width="240" height="180" fill="#eee"/><g fill="#0a0"><rect x="9" y="9" width="50" height="40"/><circle cx="150" cy="90" r="30"/></g>'
    layout = read_foreign(svg(body), "picked.svg", "#00aa00").sheets[0].layout
    assert [o.outline.kind for o in layout.openings()] == ["rectangle", "ellipse"]
    none = read_foreign(svg(body), "picked.svg")
    assert not none.openings
    assert "No shape is called" in none.notes[-1]
    assert [layer.kind for layer in none.sheets[0].layout.leaves] == ["fill", "fill", "fill"]  # to be made openings of


@pytest.mark.parametrize(("head", "size"), [
    ('viewBox="0 0 96 48"', (25.4, 12.7)), ('width="10cm" height="5cm"', (100, 50)), ('width="4in" viewBox="0 0 2 1"', (101.6, 50.8)),
    ('width="72pt" height="36pt" viewBox="0 0 5 5"', (25.4, 12.7)), ('width="100%" height="100%" viewBox="0 0 960 480"', (254, 127)),
    ('width="192" height="96"', (50.8, 25.4)), ('width="20mm" height="600Q"', (20, 150)),
])  # fmt: skip
def test_sizes_are_in_real_units(head: str, size: tuple[float, float]) -> None:
    """CSS Values and Units Module Level 3, 5.2."""
    layout = (
        read_foreign(svg('<rect width="5" height="5"/>', f'xmlns="http://www.w3.org/2000/svg" {head}'), "x")
        .sheets[0]
        .layout
    )
    assert (layout.width_mm, layout.height_mm) == pytest.approx(size)


def test_nothing_that_runs_or_is_outside_comes_in_and_all_of_it_is_said() -> None:
    body = (
        '<script>alert(1)</script><rect width="200" height="100" onclick="alert(1)" fill="#abc"/>'
        '<image href="https://marram-studio.example/a.png" width="9" height="9"/><image href="/etc/passwd" width="9" height="9"/>'
        '<foreignObject width="9" height="9"><p/></foreignObject><use href="other.svg#a"/>'
        '<rect width="9" height="9" fill="url(https://marram-studio.example/#g)"/><style>@import "x.css"; rect { fill-rule: evenodd }</style>'
        '<a href="javascript:alert(1)"><circle r="9" stroke="#000"/></a><animate attributeName="x"/>'
    )
    read = read_foreign(svg(body), "bad.svg")
    kept = b"".join(read.files.values()) + read.sheets[0].layout.pack()
    assert not re.search(rb"script|javascript|https?://(?!www\.w3\.org)|passwd|onclick|@import", kept)
    told = " ".join(read.notes)
    for said in (
        "A script was left out",
        "A picture outside the file",
        "another language",
        "used again was not found",
        "Movement",
    ):
        assert said in told


@pytest.mark.parametrize(("data", "said"), [
    (b'<!DOCTYPE svg [<!ENTITY a "b">]>' + svg("<rect/>"), "declares entities"),
    (svg("<rect width='9'"), "not well-formed"), (b"<html><svg></html>", "not well-formed"),
    (svg('<rect width="9" height="9"/>', 'xmlns="http://www.w3.org/2000/svg"'), "does not say how large"),
    (svg("<g/>"), "shows nothing"), (svg("<g>" * 80 + '<rect width="9" height="9"/>' + "</g>" * 80), "deep in each other"),
    (svg('<rect width="9" height="9"/>' * 20_001), "20,000 parts"),
    (svg('<g id="a"><use href="#b"/><use href="#b"/></g><g id="b"><use href="#c"/><use href="#c"/></g>'
         + "".join(f'<g id="{chr(n)}"><use href="#{chr(n + 1)}"/><use href="#{chr(n + 1)}"/></g>' for n in range(99, 121))
         + '<rect id="y" width="1" height="1"/>'), "20,000 parts"),
    (svg('<rect width="9" height="9"/>', 'xmlns="http://www.w3.org/2000/svg" width="9e9mm" height="1mm"'), "Say another size"),
])  # fmt: skip
def test_what_cannot_be_read_gets_a_sentence(data: bytes, said: str) -> None:
    with pytest.raises(FileRefused, match=said):
        read_foreign(data, "bad.svg")


def test_a_use_of_itself_ends() -> None:
    read = read_foreign(
        svg('<g id="a"><rect width="50" height="50" stroke="#000"/><use href="#a" x="9"/></g>'), "loop.svg"
    )
    assert any("uses itself" in note for note in read.notes)


SHEETS = [(template.id, sheet.layout) for template in SHELF.templates.values() for sheet in template.sheets[:2]]


@pytest.mark.parametrize(("name", "layout"), SHEETS, ids=[f"{name}-{n}" for n, (name, _) in enumerate(SHEETS)])
def test_a_written_sheet_reads_back_the_same(name: str, layout: Layout) -> None:
    data = write_svg(layout, SHELF.asset)
    read = read_foreign(data, "back.svg")
    assert read.sheets[0].layout == layout
    assert read.notes == ()
    assert all(read.files[asset] == SHELF.asset(asset) for asset in read.files)
    wide = (layout.width_mm + 2 * layout.bleed_mm, layout.height_mm + 2 * layout.bleed_mm)
    root = etree.fromstring(data)
    assert [float(root.get(side).removesuffix("mm")) for side in ("width", "height")] == pytest.approx(list(wide))
    assert pyvips.Image.svgload_buffer(data).width > 100  # any program draws it


def test_what_another_program_changed_is_read_as_it_is_drawn() -> None:
    layout = SHELF.templates["collage-wind"].sheets[0].layout
    data = write_svg(layout, SHELF.asset)
    root = etree.fromstring(data)
    space = {"s": "http://www.w3.org/2000/svg"}
    (group,) = root.xpath('//s:g[@class="opening"][1]', namespaces=space)[:1]
    group[-1].set("d", "M10 10H60V50H10Z")
    group[-1].attrib.pop("stroke", None)
    read = read_foreign(etree.tostring(root), "changed.svg")
    after = read.sheets[0].layout
    assert len(after.openings()) == len(layout.openings())
    changed = next(o for o in after.openings() if o.id not in layout.openings_by_id)
    assert outlines.bounds([changed.page_from_opening.apply(p) for p in changed.outline.polygons()]) == (10, 10, 60, 50)
    assert len(read.notes) == 1
    kept = [layer for layer in after.leaves if layer.id in layout.ids()]
    assert len(kept) == len(layout.leaves) - 1


def test_a_written_file_that_lost_a_drawing_is_refused() -> None:
    data = write_svg(SHELF.templates["collage-wind"].sheets[0].layout, SHELF.asset)
    with pytest.raises(FileRefused, match="names a drawing that is not in it"):
        read_foreign(re.sub(rb"<metadata.*?/>", b"", data, flags=re.DOTALL), "lost.svg")
