"""A PDF file, written once from its start to its end (ISO 32000-1, 7.5): pictures as they are painted, so that none stands
whole in memory, then all else that pikepdf holds of the document."""

import zlib
from collections.abc import Iterable
from typing import Any

import pikepdf
from pikepdf import Array, Dictionary, Name, Stream, String

from ..colour.output import Output
from .files import Followed
from .transparency import Cover

VERSION = "1.6"
_FREE = b"%010d 65535 f \n" % 0


class PdfFile:
    """The way of a document into a file. Objects have in the file the numbers that they have in pikepdf."""

    def __init__(self, pdf: pikepdf.Pdf, file: Followed) -> None:
        self._pdf, self._file, self._at, self._places = pdf, file, 0, dict[int, int]()
        self._write(b"%%PDF-%s\n%%\xe2\xe3\xcf\xd3\n" % VERSION.encode())

    def picture(
        self, jpeg: Iterable[bytes], size: tuple[int, int], output: Output, colours: Any, cover: Cover | None = None
    ) -> Any:
        """Writes a picture, its data as they come; what stands for it in the document. ``colours``: its colour space. ``cover``:
        what is known, once they have come, of how far it can be seen through."""
        picture, mask = self._reference(), self._reference() if cover else None
        more = {"Decode": Array([1, 0] * 4)} if output.mode == "CMYK" else {}  # inks stand upside down in a JPEG
        more |= {"SMask": mask} if cover else {}
        self._image(picture, jpeg, size, Filter=Name.DCTDecode, ColorSpace=colours, **more)
        if cover:
            self._image(mask, cover.data(), size, Filter=Name.FlateDecode, ColorSpace=Name.DeviceGray)
        return picture

    def finish(self) -> None:
        """Writes what is not written yet, and where all lies. The file is identified by its bytes."""
        for stored in self._pdf.objects:
            if stored.objgen[0] not in self._places:
                self._write_object(stored, _serialise(stored), b"\nendobj\n")
        identity, table, size = String(self._file.digest()[:16]), self._at, max(self._places) + 1
        rows = [b"%010d 00000 n \n" % self._places[n] if n in self._places else _FREE for n in range(1, size)]
        self._write(b"xref\n0 %d\n" % size, _FREE, *rows)
        last = Dictionary(Size=size, Root=self._pdf.Root, Info=self._pdf.docinfo, ID=Array([identity, identity]))
        self._write(b"trailer ", last.unparse(), b"\nstartxref\n%d\n%%%%EOF\n" % table)

    def _reference(self) -> Any:
        """What stands in the document for an object that is in the file alone."""
        return self._pdf.make_indirect(Dictionary())

    def _image(self, stored: Any, data: Iterable[bytes], size: tuple[int, int], **more: Any) -> None:
        length = self._reference()  # known once it is written
        kind = {"Type": Name.XObject, "Subtype": Name.Image, "BitsPerComponent": 8}
        header = Dictionary(**kind, Width=size[0], Height=size[1], Length=length, **more)
        self._write_object(stored, header.unparse(), b"\nstream\n")
        start = self._at
        for part in data:
            self._write(part)
        count = self._at - start
        self._write(b"\nendstream\nendobj\n")
        self._write_object(length, b"%d\nendobj\n" % count)

    def _write_object(self, stored: Any, *parts: bytes) -> None:
        self._places[stored.objgen[0]] = self._at
        self._write(b"%d 0 obj\n" % stored.objgen[0], *parts)

    def _write(self, *parts: bytes) -> None:
        for part in parts:
            self._file.write(part)
            self._at += len(part)


def _serialise(stored: Any) -> bytes:
    """An object as it stands in a file; data packed, but for what is said of the document, which anyone may read."""
    if not isinstance(stored, Stream):
        return stored.unparse(resolved=True)
    if "/Filter" not in stored and stored.get("/Type") != Name.Metadata:
        stored.write(zlib.compress(stored.read_bytes()), filter=Name.FlateDecode)
    data, header = stored.read_raw_bytes(), stored.stream_dict
    header.Length = len(data)
    return b"%s\nstream\n%s\nendstream" % (header.unparse(), data)
