"""Pages as PDF, one or many in a file: the picture at the lab sheet's ppi, words as vector outlines above it, boxes, profiles.

Words and ornaments that can stay vectors do (``strata.py``). By ISO 15930-7 (PDF/X-4)
when the lab sheet wants it. Sources: ISO 32000-1 (8.5 paths, 8.6.5.5 ICC-based colour, 8.6.6.4 separations, 8.6.7 overprint,
8.9 images, 8.11 optional content, 14.11.2 page boundaries, 14.11.5 output intents); ISO 15930-7, from memory.
"""

from collections import deque
from collections.abc import Iterable, Iterator
from concurrent.futures import Executor
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numpy as np
import pikepdf
from fontTools.svgLib.path import parse_path
from pikepdf import Array, Dictionary, Name, Stream, String

from ..colour.output import CHANNELS, Assets, Output, press_bytes
from ..colour.profiles import colour_in, describe_profile
from ..document import FillBox, LabSheet, Layout, Ornament, Text
from ..errors import ExportFailed
from ..geometry import outlines
from ..geometry.matrices import Matrix, scaling, translation
from ..measure import points_from_mm
from ..paint.grid import PixelGrid
from ..paint.items import Item, lay_polygons
from ..paint.page import Painted
from ..verifying.pdf_check import verify_pdf
from ..words import set_text
from .drawings import operators
from .file_metadata import About
from .files import Followed, write_whole
from .operators import Operators
from .pdf_file import PdfFile
from .prefetch import prefetch
from .raster import jpeg_of_bands
from .strata import Picture, Stratum
from .transparency import Cover

if TYPE_CHECKING:
    from .fonts import Fonts

LINE_PT = 0.25  # of cut and fold lines
_HAIR_PX = 0.01
_LINE_MM = 1.0  # common practice, no source: thinner, black is printed in black alone
_CHORD_MM = 0.002  # how far a chord of a round shape may lie off it
X4 = "PDF/X-4"
# What a printing condition is called in the registry of the ICC, and what it is; a lab's own profile speaks for itself.
CONDITIONS = {
    "fogra39": ("FOGRA39", "Coated paper, ISO 12647-2:2004"), "tr006": ("CGATS TR 006", "Coated paper, CGATS TR 006-2007"),
}  # fmt: skip
_PDFX = "http://www.npes.org/pdfx/ns/id/"
_BLACK = "#000000"


@dataclass(frozen=True)
class PdfPage:
    """A page to be written: what it is made of, bottom to top; its first picture as a JPEG where that was made ``ahead``."""

    strata: tuple[Stratum, ...]
    grid: PixelGrid
    layout: Layout
    ahead: Path | None = None


def _read(path: Path) -> Iterator[bytes]:
    with path.open("rb") as file:
        yield from iter(lambda: file.read(1 << 20), b"")


def _flat(pages: Iterable[PdfPage]) -> Iterator[PdfPage | Painted | None]:
    """Each page without bands, then, of each of its pictures in turn, the bands and None."""
    for page in pages:
        parts = tuple(replace(part, bands=()) if isinstance(part, Picture) else part for part in page.strata)
        yield replace(page, strata=parts)
        for part in page.strata:
            if isinstance(part, Picture):
                yield from part.bands
                yield None


def write(
    target: Path, pages: Iterable[PdfPage], output: Output, lab: LabSheet, about: About, made_at: datetime, assets: Assets,
    threads: Executor | None = None,
) -> str:  # fmt: skip
    """Writes a PDF; its SHA-256. Pages are taken one after the other, and none is kept. While one band is encoded the next is
    painted, also when it is another page's. Raises ExportFailed when it does not read back as meant, and what painting raises."""
    trims: list[list[float]] = []
    with (
        write_whole(target, lambda path: _check(path, trims, lab)) as open_file,
        Followed(open_file) as followed, pikepdf.new() as pdf,
    ):  # fmt: skip
        file = PdfFile(pdf, followed)
        maker = _Maker(pdf, file, output, lab, assets, threads)
        flat = _flat(pages)
        parts = prefetch(flat, heavy=lambda part: isinstance(part, Painted)) if threads else flat
        for page in parts:
            assert isinstance(page, PdfPage)
            maker.page(page, parts)
            trims.append(_boxes(page)[1])
        maker.finish()
        write_metadata(pdf, about, made_at, lab.pdf.x4)
        file.finish()
        return followed.digest().hex()


def _boxes(page: PdfPage) -> tuple[list[float], list[float]]:
    """Media (and bleed) box and trim box of a page, points."""
    grid = page.grid
    media = [round(points_from_mm(side), 5) for side in grid.full_mm]
    left, top, right, bottom = (points_from_mm(side) for side in grid.bleed_sides_mm)
    trim = [round(v, 5) for v in (left, bottom, media[0] - right, media[1] - top)]
    return [0, 0, *media], trim


class _Maker:
    """Makes pages in a document, all in one colour."""

    def __init__(
        self, pdf: pikepdf.Pdf, file: PdfFile, output: Output, lab: LabSheet, assets: Assets, threads: Executor | None
    ) -> None:  # fmt: skip
        self._pdf, self._file, self._output, self._lab, self._threads = pdf, file, output, lab, threads
        self._press = press_bytes(lab.press, assets) if lab.press else b""
        inks = describe_profile(self._press)[1] == "CMYK" if self._press else False
        # Black ink can be asked for where it is said which: in inks, or with the press named.
        self._black = bool(lab.press and lab.press.black_words and inks and (output.mode == "CMYK" or lab.pdf.x4))
        self._profile: Any = self._stream(output.icc, output.mode) if output.mode != "CMYK" else None
        self._colours: Any = (
            pdf.make_indirect(Array([Name.ICCBased, self._profile])) if self._profile is not None else Name.DeviceCMYK
        )
        self._layers: dict[str, Any] = {}
        self._fonts: Fonts | None = None
        if lab.pdf.fonts == "embedded":
            from . import fonts  # it takes fonts apart by a library that is slow to load

            self._fonts = fonts.Fonts(pdf)

    def _stream(self, icc: bytes, mode: str) -> Any:
        alternate = {"RGB": Name.DeviceRGB, "CMYK": Name.DeviceCMYK, "L": Name.DeviceGray}[mode]
        channels = CHANNELS[mode]  # type: ignore[index]
        return Stream(self._pdf, icc, N=channels, Alternate=alternate)

    def page(self, page: PdfPage, parts: Iterator[PdfPage | Painted | None]) -> None:
        """Adds a page. ``parts``: from where the bands of its pictures come."""
        media, trim = _boxes(page)
        pt = points_from_mm(1.0)
        left, top = (points_from_mm(side) for side in page.grid.bleed_sides_mm[:2])
        # Page mm, y down, to points, y up, from the corner of the bleed box.
        points_from_page = translation(left, media[3] - top) @ scaling(pt, -pt)
        resources, content = self._resources(), [] if self._profile is None else ["/Working cs"]
        for part in page.strata:
            if isinstance(part, Picture):
                bands = (band for band in iter(lambda: next(parts), None) if isinstance(band, Painted))
                content.append(self._picture(part, page, bands, media, resources))
            elif part.layer.opacity == 1.0 and part.layer.blend == "normal":
                content += self._overprint_operators(part, points_from_page, resources)
            else:
                content.append(self._faint(part, points_from_page, media, resources))
        content += self._lines(page.layout, points_from_page, resources)
        blending = self._colours if self._profile is not None else Name.DeviceCMYK
        page_object = Dictionary(
            Type=Name.Page, MediaBox=Array(media), BleedBox=Array(media), CropBox=Array(media), TrimBox=Array(trim),
            Resources=resources, Group=Dictionary(Type=Name.Group, S=Name.Transparency, CS=blending),
            Contents=Stream(self._pdf, "\n".join(content).encode()),
        )  # fmt: skip
        self._pdf.pages.append(pikepdf.Page(self._pdf.make_indirect(page_object)))

    def _resources(self) -> Any:
        resources = Dictionary(
            XObject=Dictionary(), ColorSpace=Dictionary(), ExtGState=Dictionary(), Properties=Dictionary()
        )
        if self._profile is not None:
            resources.ColorSpace.Working = self._colours
        resources.ExtGState.Over = Dictionary(Type=Name.ExtGState, OP=True, op=True, OPM=1)
        resources.ExtGState.Plain = Dictionary(Type=Name.ExtGState, OP=False, op=False, OPM=0)
        return resources

    def _picture(
        self, part: Picture, page: PdfPage, bands: Iterator[Painted], media: list[float], resources: Any
    ) -> str:
        """Writes a picture into the file; what lays it in its box of the page."""
        size, grid = (part.box[2] - part.box[0], part.box[3] - part.box[1]), page.grid
        cover = Cover() if part.clear else None
        shown = cover.read_bands(bands) if cover else bands
        jpeg = (
            _read(page.ahead) if page.ahead
            else jpeg_of_bands(shown, size, self._lab.jpeg_quality, self._output, self._threads)
        )  # fmt: skip
        picture = self._file.picture(jpeg, size, self._output, self._colours, cover)
        deque(bands, maxlen=0)  # of what was made ahead there is but the end
        name = f"P{len(resources.XObject)}"
        resources.XObject[f"/{name}"] = picture
        kx, ky = media[2] / grid.size[0], media[3] / grid.size[1]
        x0, y0, x1, y1 = map(float, part.box)
        # Readers widen a picture to whole pixels: a hair less keeps it on its own.
        x0, y0, x1, y1 = x0 + _HAIR_PX, y0 + _HAIR_PX, x1 - _HAIR_PX, y1 - _HAIR_PX
        place = f"{(x1 - x0) * kx:.5f} 0 0 {(y1 - y0) * ky:.5f} {x0 * kx:.5f} {media[3] - y1 * ky:.5f} cm"
        return f"q {self._state(part.blend, 1.0, resources)}{place} /{name} Do Q"

    def _state(self, blend: str, opacity: float, resources: Any) -> str:
        """What chooses how a stratum is blended; "" where it only covers."""
        if blend == "normal" and opacity == 1.0:
            return ""
        mode = "".join(word.capitalize() for word in blend.split("-"))  # ISO 32000-1, tables 136 and 137
        name = f"{mode}{round(opacity * 1000)}"
        resources.ExtGState[f"/{name}"] = Dictionary(
            Type=Name.ExtGState, BM=Name(f"/{mode}"), ca=round(opacity, 4), CA=round(opacity, 4)
        )
        return f"/{name} gs "

    def _faint(self, item: Item, points_from_page: Matrix, media: list[float], resources: Any) -> str:
        """Words or an ornament that fade or blend, as one: a transparency group (ISO 32000-1, 11.4.5)."""
        resources_here = self._resources()
        content = [] if self._profile is None else ["/Working cs"]
        content += self._overprint_operators(item, points_from_page, resources_here, inked=False)
        group = Dictionary(Type=Name.Group, S=Name.Transparency, CS=self._colours, I=False, K=False)
        form = Stream(
            self._pdf, "\n".join(content).encode(), Type=Name.XObject, Subtype=Name.Form, BBox=Array(media),
            Resources=resources_here, Group=group,
        )  # fmt: skip
        name = f"F{len(resources.XObject)}"
        resources.XObject[f"/{name}"] = form
        return f"q {self._state(item.layer.blend, item.layer.opacity, resources)}/{name} Do Q"

    def _overprint_operators(
        self, item: Item, points_from_page: Matrix, resources: Any, inked: bool = True
    ) -> list[str]:
        """What paints words or an ornament. ``inked``: black words in black ink, where that is asked for."""
        layer = item.layer
        if isinstance(layer, Ornament):
            return operators(
                layer, item.asset, points_from_page, self._colour, lambda colour: self._colour(colour, True)
            )
        if isinstance(layer, FillBox):
            shape = _outline_operators(layer, points_from_page)
            if not (inked and _is_thin(layer)):
                return [self._colour(layer.colour), *shape, "f"]
            return [*self._begin_colour(layer.colour), *shape, "f", *self._end_colour(layer.colour)]
        assert isinstance(layer, Text)
        setting = set_text(layer, item.words, item.runs, item.brought)
        line = layer.line
        under = [(line.colour, outlines.thicken_path(setting.path, line.width_mm))] if line and setting.path else []
        onto = points_from_page @ layer.page_from_box
        embedded = self._fonts is not None and self._fonts.has(setting.words)
        begun = self._begin_colour if inked else lambda colour: [self._colour(colour)]
        ended = self._end_colour if inked else lambda colour: []
        content: list[str] = []
        for colour, path in under if embedded else [*under, *setting.pieces]:
            pen = Operators(onto)
            parse_path(path, pen)
            content += [*begun(colour), *pen.parts, "f", *ended(colour)]
        if embedded and self._fonts:
            content += self._fonts.operators(setting.words, onto, resources, begun, ended)
        return content

    def _begin_colour(self, colour: str) -> list[str]:
        """What chooses a colour for words; black words are black ink alone, printed over what lies below."""
        return ["/Over gs", "0 0 0 1 k"] if colour == _BLACK and self._black else [self._colour(colour)]

    def _end_colour(self, colour: str) -> list[str]:
        if colour == _BLACK and self._black:
            return ["/Plain gs", *(["/Working cs"] if self._profile is not None else [])]
        return []

    def _colour(self, hex_colour: str, stroke: bool = False) -> str:
        """The operator that fills, or strokes, in a layout's colour."""
        rgb = np.asarray(colour_in(hex_colour, self._output.space)).reshape(1, 1, 3)
        operands = " ".join(f"{v / 255:.4f}" for v in self._output.convert(rgb)[0, 0].tolist())
        if self._profile is None:
            return f"{operands} {'K' if stroke else 'k'}"
        return f"/Working CS {operands} SC" if stroke else f"{operands} sc"

    def _lines(self, layout: Layout, points_from_page: Matrix, resources: Any) -> list[str]:
        """Cut and fold lines, each kind on a layer of its own in a colour of its own, over all."""
        content: list[str] = []
        wide, high, bleed = layout.width_mm, layout.height_mm, layout.bleed_mm
        folds = [line for line in layout.lines if line.kind == "fold"]
        operators_made = [
            ((line.at_mm, -bleed), (line.at_mm, high + bleed)) if line.axis == "x"
            else ((-bleed, line.at_mm), (wide + bleed, line.at_mm)) for line in folds
        ]  # fmt: skip
        edge = [(0.0, 0.0), (wide, 0.0), (wide, high), (0.0, high)]
        rules = self._lab.pdf
        for kind, spot, paths in (
            ("Cut", rules.cut, [edge]),
            ("Fold", rules.fold, [list(ends) for ends in operators_made]),
        ):
            if not spot or not paths:
                continue
            resources.ColorSpace[f"/{kind}"] = self._spot(spot, kind)
            resources.Properties[f"/{kind}"] = self._layer(kind)
            content += [f"/OC /{kind} BDC", f"/Over gs /{kind} CS 1 SCN {LINE_PT} w"]
            for path in paths:
                pen = Operators(points_from_page)
                pen.moveTo(path[0])
                for point in path[1:]:
                    pen.lineTo(point)
                if kind == "Cut":
                    pen.closePath()
                content += [*pen.parts, "S"]
            content += ["/Plain gs", "EMC"]
        return content

    def _spot(self, name: str, kind: str) -> Any:
        shown = [0, 1, 0, 0] if kind == "Cut" else [1, 0, 0, 0]  # as a screen shows it; a press prints no such plate
        tint = Dictionary(FunctionType=2, Domain=[0, 1], C0=[0, 0, 0, 0], C1=shown, N=1)
        return Array([Name.Separation, Name(f"/{name}"), Name.DeviceCMYK, tint])

    def _layer(self, kind: str) -> Any:
        if kind not in self._layers:
            group = Dictionary(Type=Name.OCG, Name=String(f"{kind} lines"))
            self._layers[kind] = self._pdf.make_indirect(group)
        return self._layers[kind]

    def finish(self) -> None:
        """What the document says as a whole: its fonts, its layers, and the press that it is meant for."""
        if self._fonts:
            self._fonts.finish()
        if self._layers:
            groups = Array(list(self._layers.values()))
            self._pdf.Root.OCProperties = Dictionary(
                OCGs=groups, D=Dictionary(Name=String("Layers"), Order=groups, ON=groups)
            )
        press = self._lab.press
        if press is None:
            return
        description, space = describe_profile(self._press)
        identifier, info = CONDITIONS.get(press.profile, ("Custom", description))
        mode = {"CMYK": "CMYK", "RGB": "RGB", "GRAY": "L"}[space]
        intent = Dictionary(
            Type=Name.OutputIntent, S=Name.GTS_PDFX, OutputConditionIdentifier=String(identifier), Info=String(info),
            OutputCondition=String(info), DestOutputProfile=self._stream(self._press, mode),
        )  # fmt: skip
        if press.profile in CONDITIONS:
            intent.RegistryName = String("http://www.color.org")
        self._pdf.Root.OutputIntents = Array([self._pdf.make_indirect(intent)])


def _is_thin(layer: FillBox) -> bool:
    """Whether a shape is as thin as letters are: in several inks it would show where they do not meet."""
    return min(layer.outline.width_mm, layer.outline.height_mm) <= _LINE_MM


def _outline_operators(layer: FillBox, points_from_page: Matrix) -> list[str]:
    """Write the outline of a plain shape as path operators, mm of the page to points."""
    pen = Operators(points_from_page)
    for ring in lay_polygons(layer.outline.polygons(_CHORD_MM), layer.surface.page_from_opening(layer.outline)):
        first, *others = ring.tolist()
        pen.moveTo(first)
        for point in others:
            pen.lineTo(point)
        pen.closePath()
    return pen.parts


def write_metadata(pdf: pikepdf.Pdf, about: About, made_at: datetime, x4: bool) -> None:
    """Title, times and, for PDF/X-4, its version and identities, in the information dictionary and in XMP alike."""
    stamp = made_at.astimezone(UTC)
    pdf.docinfo["/Title"] = about.title
    pdf.docinfo["/Creator"] = pdf.docinfo["/Producer"] = "Sutaru"
    pdf.docinfo["/CreationDate"] = pdf.docinfo["/ModDate"] = stamp.strftime("D:%Y%m%d%H%M%SZ")
    pdf.docinfo["/Trapped"] = Name("/False")
    with pdf.open_metadata(set_pikepdf_as_editor=False) as xmp:
        xmp["dc:title"] = about.title
        if about.by:
            xmp["dc:creator"], xmp["dc:rights"] = [about.by], f"© {about.by}"
        xmp["pdf:Producer"] = xmp["xmp:CreatorTool"] = "Sutaru"
        xmp["pdf:Trapped"] = "False"
        xmp["xmp:CreateDate"] = xmp["xmp:ModifyDate"] = xmp["xmp:MetadataDate"] = stamp.isoformat()
        xmp["xmpMM:DocumentID"] = f"uuid:{about.identity()}"
        xmp["xmpMM:VersionID"] = "1"
        xmp["xmpMM:RenditionClass"] = "default"
        if x4:
            xmp.register_xml_namespace(_PDFX, "pdfxid")
            xmp["pdfxid:GTS_PDFXVersion"] = X4


def _check(path: Path, trims: list[list[float]], lab: LabSheet) -> None:
    with pikepdf.open(path) as written:
        trim_boxes = [[float(v) for v in page.obj.TrimBox] for page in written.pages]
        if not np.allclose(trim_boxes, trims, rtol=0, atol=0.001):
            raise ExportFailed("The PDF did not read back as written.", "Free some disk space and try again.")
    for defect in verify_pdf(path, decodes_pictures=False).defects if lab.pdf.x4 else ():
        if defect.severity == "stop":
            raise ExportFailed(f"The PDF did not read back as {X4}: {defect.sentence}")
