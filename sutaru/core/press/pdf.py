"""One page as PDF: the picture at the lab sheet's ppi, words as vector outlines above it, trim and bleed boxes, profile.

Colours are ICC-based. Words that lie above everything else, unblended and opaque, stay vector; others are in the
picture. Sources: ISO 32000-1 (8.5 paths, 8.6.5.5 ICC-based colour, 8.9 images, 14.11.2 page boundaries).
"""

from collections.abc import Iterable
from datetime import UTC, datetime
from pathlib import Path
from typing import BinaryIO

import pikepdf
from fontTools.pens.basePen import BasePen
from fontTools.svgLib.path import parse_path
from pikepdf import Array, Dictionary, Name, Stream

from ..colour.profiles import colour_in, described, profile_bytes
from ..document import Text
from ..document.lab import Space
from ..errors import ExportFailed
from ..geometry import outlines
from ..geometry.matrices import Matrix, scaling, translation
from ..measure import points_from_mm
from ..paint.grid import PixelGrid
from ..paint.items import Item
from ..paint.page import Painted
from ..words import set_text
from .files import whole
from .raster import jpeg_of_bands, spooled

VERSION = "1.6"


class _Operators(BasePen):  # type: ignore[misc]
    """A fontTools pen that writes PDF path operators (ISO 32000-1, table 59); quadratic curves arrive as cubics."""

    def __init__(self, matrix: Matrix) -> None:
        super().__init__(None)
        self._matrix, self.parts = matrix, list[str]()

    def _at(self, *points: tuple[float, float]) -> str:
        (a, c, e), (b, d, f) = self._matrix[0], self._matrix[1]
        return " ".join(f"{a * x + c * y + e:.4f} {b * x + d * y + f:.4f}" for x, y in points)

    def _moveTo(self, p: tuple[float, float]) -> None:  # noqa: N802 (fontTools' protocol)
        self.parts.append(f"{self._at(p)} m")

    def _lineTo(self, p: tuple[float, float]) -> None:  # noqa: N802
        self.parts.append(f"{self._at(p)} l")

    def _curveToOne(self, p: tuple[float, float], q: tuple[float, float], r: tuple[float, float]) -> None:  # noqa: N802
        self.parts.append(f"{self._at(p, q, r)} c")

    def _closePath(self) -> None:  # noqa: N802
        self.parts.append("h")


def split(layers: list[Item]) -> tuple[list[Item], list[Item]]:
    """Layers to paint, and the words on top of them that can stay vector."""
    cut = len(layers)
    while cut and isinstance(layer := layers[cut - 1].layer, Text):
        if layer.opacity != 1.0 or layer.blend != "normal" or layer.shadow:
            break
        cut -= 1
    return layers[:cut], layers[cut:]


def _holding(file: BinaryIO, jpeg: Iterable[bytes], size: tuple[int, int]) -> pikepdf.Pdf:
    """A document without pages whose catalogue holds a JPEG as ``/Page``, read from ``file`` only when it is saved.

    Written by hand (ISO 32000-1, 7.5), since a picture of the size of a poster should not stand in memory.
    """
    places = []

    def put(data: bytes) -> None:
        places.append(file.tell())
        file.write(data)

    file.write(b"%PDF-1.6\n")
    put(b"1 0 obj<</Type/Catalog/Pages 2 0 R/Page 3 0 R>>endobj\n")
    put(b"2 0 obj<</Type/Pages/Kids[]/Count 0>>endobj\n")
    kind = b"/Type/XObject/Subtype/Image/BitsPerComponent 8/ColorSpace/DeviceRGB/Filter/DCTDecode"
    put(b"3 0 obj<<%s/Width %d/Height %d/Length 4 0 R>>stream\n" % (kind, *size))
    start = file.tell()
    for part in jpeg:
        file.write(part)
    length = file.tell() - start
    file.write(b"\nendstream endobj\n")
    put(b"4 0 obj %d endobj\n" % length)
    table = file.tell()
    file.write(b"xref\n0 5\n0000000000 65535 f \n" + b"".join(b"%010d 00000 n \n" % place for place in places))
    file.write(b"trailer<</Size 5/Root 1 0 R>>\nstartxref\n%d\n%%%%EOF\n" % table)
    file.flush()
    file.seek(0)
    return pikepdf.open(file)


def write(
    target: Path, bands: Iterable[Painted], words: list[Item], grid: PixelGrid, profile: Space, quality: int, title: str,
    made: datetime,
) -> None:  # fmt: skip
    """Writes a one-page PDF; ``bands`` are the whole bleed box. Raises ExportFailed when it does not read back as meant."""
    media = [points_from_mm(side + 2 * grid.bleed_mm) for side in grid.page_mm]
    bleed = points_from_mm(grid.bleed_mm)
    trim = [bleed, bleed, media[0] - bleed, media[1] - bleed]
    with spooled(target) as image, _holding(image, jpeg_of_bands(bands, grid.size, quality), grid.size) as pdf:
        icc = Stream(pdf, profile_bytes(profile), N=3, Alternate=Name.DeviceRGB)
        colours = pdf.make_indirect(Array([Name.ICCBased, pdf.make_indirect(icc)]))
        picture = pdf.Root.Page
        del pdf.Root.Page
        picture.ColorSpace = colours
        content = [f"q {media[0]:.5f} 0 0 {media[1]:.5f} 0 0 cm /Page Do Q", "/Working cs"]
        pt = points_from_mm(1.0)
        # Page mm, y down, to points, y up, from the corner of the bleed box.
        points_from_page = translation(bleed, media[1] - bleed) @ scaling(pt, -pt)
        for item in words:
            layer = item.layer
            assert isinstance(layer, Text)
            setting = set_text(layer, item.words, item.runs, item.brought)
            line = layer.line
            under = [(line.colour, outlines.thickened(setting.path, line.width_mm))] if line and setting.path else []
            for colour, path in [*under, *setting.pieces]:
                pen = _Operators(points_from_page @ layer.page_from_box)
                parse_path(path, pen)
                red, green, blue = (colour_in(colour, profile) / 255).tolist()
                content += [f"{red:.4f} {green:.4f} {blue:.4f} sc", *pen.parts, "f"]
        page = pdf.add_blank_page(page_size=(media[0], media[1]))
        page.obj.MediaBox = page.obj.BleedBox = page.obj.CropBox = Array([0, 0, *(round(v, 5) for v in media)])
        page.obj.TrimBox = Array([round(v, 5) for v in trim])
        page.obj.Resources = Dictionary(XObject=Dictionary(Page=picture), ColorSpace=Dictionary(Working=colours))
        page.obj.Contents = pdf.make_indirect(Stream(pdf, "\n".join(content).encode()))
        stamp = made.astimezone(UTC)
        pdf.docinfo["/Title"] = title
        pdf.docinfo["/Producer"] = "Sutaru"
        pdf.docinfo["/CreationDate"] = pdf.docinfo["/ModDate"] = stamp.strftime("D:%Y%m%d%H%M%SZ")
        with pdf.open_metadata(set_pikepdf_as_editor=False) as xmp:
            xmp["dc:title"] = title
            xmp["pdf:Producer"] = "Sutaru"
            xmp["xmp:CreateDate"] = xmp["xmp:ModifyDate"] = xmp["xmp:MetadataDate"] = stamp.isoformat()
        with whole(target, lambda path: _check(path, trim)) as file:
            pdf.save(
                file, force_version=VERSION, deterministic_id=True, object_stream_mode=pikepdf.ObjectStreamMode.disable
            )


def _check(path: Path, trim: list[float]) -> None:
    with pikepdf.open(path) as written:
        page = written.pages[0]
        kept = [float(v) for v in page.obj.TrimBox]
        profile = written.pages[0].obj.Resources.ColorSpace.Working[1].read_bytes()
        if (
            len(written.pages) != 1
            or any(abs(a - b) > 0.001 for a, b in zip(kept, trim, strict=True))
            or not described(profile)[1]
        ):
            raise ExportFailed("The PDF did not read back as written.", "Free some disk space and try again.")
