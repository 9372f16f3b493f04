"""Pictures of a PDF, written to a file as they are painted: none stands whole in memory."""

import zlib
from collections.abc import Iterable, Iterator
from typing import BinaryIO

import cv2
import numpy as np
import pikepdf

from ..colour.output import Output
from ..depths import Bytes
from ..paint.page import Painted

_SPACES = {"RGB": b"/DeviceRGB", "CMYK": b"/DeviceCMYK", "L": b"/DeviceGray"}
_OBJECTS = 4  # of a picture: itself, its length, its mask, the mask's length
_WIDE = 16  # px about a soft edge within which what is behind it takes its colour: more than a JPEG's block


class Pictures:
    """A document without pages whose catalogue holds pictures as ``/Pictures``, read from its file only when it is saved.

    Written by hand (ISO 32000-1, 7.5), since a picture of the size of a poster should not stand in memory.
    """

    def __init__(self, file: BinaryIO) -> None:
        self._file, self._places, self._count = file, dict[int, int](), 0
        file.write(b"%PDF-1.6\n")

    def _put(self, number: int, data: bytes) -> None:
        self._places[number] = self._file.tell()
        self._file.write(b"%d 0 obj" % number + data)

    def _stream(self, number: int, said: bytes, data: Iterable[bytes]) -> None:
        self._put(
            number, b"<</Type/XObject/Subtype/Image/BitsPerComponent 8%s/Length %d 0 R>>stream\n" % (said, number + 1)
        )
        start = self._file.tell()
        for part in data:
            self._file.write(part)
        length = self._file.tell() - start
        self._file.write(b"\nendstream endobj\n")
        self._put(number + 1, b" %d endobj\n" % length)

    def add(self, jpeg: Iterable[bytes], size: tuple[int, int], output: Output, cover: "Cover | None" = None) -> None:
        """One more, its data as they come. ``cover``: what is known, once they have come, of how far it can be seen through."""
        number = 3 + _OBJECTS * self._count
        sides = b"/Width %d/Height %d" % size
        kind = b"/Filter/DCTDecode/ColorSpace" + _SPACES[output.mode]
        # Inks stand upside down in a JPEG.
        kind += b"/Decode[1 0 1 0 1 0 1 0]" if output.mode == "CMYK" else b""
        kind += b"/SMask %d 0 R" % (number + 2) if cover else b""
        self._stream(number, sides + kind, jpeg)
        if cover:
            self._stream(number + 2, sides + b"/Filter/FlateDecode/ColorSpace/DeviceGray", cover.data())
        else:
            self._put(number + 2, b" null endobj\n")
            self._put(number + 3, b" null endobj\n")
        self._count += 1

    def opened(self) -> pikepdf.Pdf:
        """The document."""
        held = b" ".join(b"%d 0 R" % (3 + _OBJECTS * n) for n in range(self._count))
        self._put(1, b"<</Type/Catalog/Pages 2 0 R/Pictures[%s]>>endobj\n" % held)
        self._put(2, b"<</Type/Pages/Kids[]/Count 0>>endobj\n")
        table, size = self._file.tell(), 3 + _OBJECTS * self._count
        rows = b"".join(b"%010d 00000 n \n" % self._places[n] for n in range(1, size))
        self._file.write(b"xref\n0 %d\n0000000000 65535 f \n" % size + rows)
        self._file.write(b"trailer<</Size %d/Root 1 0 R>>\nstartxref\n%d\n%%%%EOF\n" % (size, table))
        self._file.flush()
        self._file.seek(0)
        return pikepdf.open(self._file)


class Cover:
    """The alpha of bands that go by, packed; the bands go on without it."""

    def __init__(self) -> None:
        self._packer, self._parts = zlib.compressobj(6), list[bytes]()

    def taken_from(self, bands: Iterable[Painted]) -> Iterator[Painted]:
        """The bands, their colours going on behind what hides them, so that a JPEG makes no rings about their edges."""
        for band in bands:
            assert band.alpha is not None, "a clear picture is painted transparent"
            self._parts.append(self._packer.compress(np.ascontiguousarray(band.alpha).data))
            yield Painted(band.box, _going_on(band.rgb, band.alpha), None)

    def data(self) -> Iterator[bytes]:
        """All of it, once the bands have gone by."""
        yield from self._parts
        yield self._packer.flush()


def _going_on(rgb: Bytes, alpha: Bytes) -> Bytes:
    """Colours with those near them where nothing is seen."""
    hidden = alpha == 0
    if not hidden.any() or hidden.all():
        return rgb
    size = max(1, rgb.shape[1] // _WIDE), max(1, rgb.shape[0] // _WIDE)
    strong = alpha.astype(np.float32) / np.float32(255)
    small = [cv2.resize(layer, size, interpolation=cv2.INTER_AREA) for layer in (rgb * strong[..., None], strong)]
    small = [cv2.blur(layer, (3, 3), borderType=cv2.BORDER_REPLICATE) for layer in small]
    share = small[1].reshape(size[1], size[0], 1)
    colours = np.where(share > 0, small[0].reshape(size[1], size[0], 3) / np.maximum(share, 1e-6), 255)
    near = cv2.resize(
        np.clip(np.rint(colours), 0, 255).astype(np.uint8), rgb.shape[1::-1], interpolation=cv2.INTER_LINEAR
    )
    return np.where(hidden[..., None], near, rgb)
