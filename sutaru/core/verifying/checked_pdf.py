"""A PDF that is looked over: what it says of itself, and what it is held against."""

import base64
import zlib
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any
from xml.etree import ElementTree

import pikepdf

from ..colour.output import Assets
from ..colour.profiles import describe_profile
from ..document import LabSheet
from .pages import Seen
from .report import Defect, Severity

PDFX = "{http://www.npes.org/pdfx/ns/id/}GTS_PDFXVersion"
Found = Iterator[Defect]


@dataclass
class CheckedPdf:
    """A PDF that is being looked over, and what it is held against."""

    pdf: pikepdf.Pdf
    lab: LabSheet | None = None
    assets: Assets | None = None
    decodes_pictures: bool = True  # pictures are decoded, to see whether they are whole
    seen: list[Seen] = field(default_factory=list)

    @cached_property
    def has_broken_xmp(self) -> bool:
        """Whether there is XMP, and it is no XML."""
        try:
            if "/Metadata" in self.pdf.Root:
                ElementTree.fromstring(self.pdf.Root.Metadata.read_bytes())
        except (ElementTree.ParseError, pikepdf.PdfError):
            return True
        return False

    @cached_property
    def xmp(self) -> dict[str, str]:
        """Its XMP, by names with their namespaces; nothing where it is broken."""
        if "/Metadata" not in self.pdf.Root or self.has_broken_xmp:
            return {}
        with self.pdf.open_metadata(set_pikepdf_as_editor=False, update_docinfo=False, strict=True) as metadata:
            return {str(key): str(value) for key, value in metadata.items()}

    def xmp_entry(self, prefix: str, name: str) -> str:
        """One entry of its XMP; "" for none."""
        spaces = {"dc": "http://purl.org/dc/elements/1.1/", "xmp": "http://ns.adobe.com/xap/1.0/",
                  "xmpMM": "http://ns.adobe.com/xap/1.0/mm/", "pdf": "http://ns.adobe.com/pdf/1.3/"}  # fmt: skip
        return self.xmp.get(f"{{{spaces[prefix]}}}{name}", "")

    @property
    def claimed_standard(self) -> str:
        """What it says to keep to."""
        info = self.pdf.docinfo.get("/GTS_PDFXVersion") if "/Info" in self.pdf.trailer else None
        return self.xmp.get(PDFX, "") or (str(info) if info is not None else "")

    @property
    def x4(self) -> bool:
        """Whether it says to be PDF/X-4, or is to be."""
        return self.claimed_standard.startswith("PDF/X-4") or bool(self.lab and self.lab.pdf.x4)

    @cached_property
    def intents(self) -> list[Any]:
        """Output intents for print."""
        intents = self.pdf.Root.get("/OutputIntents", [])
        return [intent for intent in intents if str(intent.get("/S")) == "/GTS_PDFX"]

    @cached_property
    def profile(self) -> bytes:
        """The profile of its output intent."""
        held = self.intents[0].get("/DestOutputProfile") if self.intents else None
        return bytes(held.read_bytes()) if held is not None else b""

    @cached_property
    def press_space(self) -> str:
        """RGB, CMYK or GRAY, "" where it does not say."""
        return describe_profile(self.profile)[1] if self.profile else ""


_UNPACKED: dict[str, Callable[[bytes], bytes]] = {
    "/FlateDecode": zlib.decompress,
    "/ASCII85Decode": lambda data: base64.a85decode(data.strip().removeprefix(b"<~").removesuffix(b"~>")),
    "/ASCIIHexDecode": lambda data: bytes.fromhex(data.decode("ascii").split(">")[0]),
}


def jpeg_of(stream: Any) -> bytes | None:
    """The JPEG that a picture is kept as, whatever it was packed into; None where it is none. Raises ValueError where that is
    damaged."""
    kinds = stream.get("/Filter", [])
    names = [str(kind) for kind in ([kinds] if isinstance(kinds, pikepdf.Name) else kinds)]
    if not names or names[-1] != "/DCTDecode":
        return None
    data = bytes(stream.read_raw_bytes())
    for name in names[:-1]:
        if name not in _UNPACKED:
            return None
        try:
            data = _UNPACKED[name](data)
        except zlib.error as error:
            raise ValueError(str(error)) from None
    return data


def defect(rule: str, sentence: str, severity: Severity = "stop", page: int = 0) -> Defect:
    return Defect(rule=rule, severity=severity, sentence=sentence, page=page)
