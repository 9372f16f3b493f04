"""What a photo's file says of it in words: XMP's description, IPTC's caption, or Exif's description, the first that is there.

XMP: ISO 16684-1, ``dc:description``. IPTC-IIM 4.2, dataset 2:120. Exif 2.32, tag 0x010E.
"""

import contextlib
import xml.etree.ElementTree as ET
from typing import Any, cast

from PIL import ExifTags, Image, ImageFile, IptcImagePlugin

XMP_BYTES, LETTERS = 1 << 20, 2000
_DC, _RDF = "{http://purl.org/dc/elements/1.1/}", "{http://www.w3.org/1999/02/22-rdf-syntax-ns#}"
_LANG = "{http://www.w3.org/XML/1998/namespace}lang"


def caption_of(picture: Image.Image) -> str:
    """The caption of an opened picture, "" for none. A block that cannot be read says nothing."""
    for read in (_xmp, _iptc, _exif):
        with contextlib.suppress(Exception):  # whatever is wrong with the block, the picture is what counts
            text = " ".join("".join(c if c.isprintable() else " " for c in read(picture)).split())
            if text:
                return text[:LETTERS]
    return ""


def _xmp(picture: Image.Image) -> str:
    packet: Any = picture.info.get("xmp") or picture.info.get("XML:com.adobe.xmp") or b""
    data = packet.encode() if isinstance(packet, str) else bytes(packet)
    if b"description" not in data or len(data) > XMP_BYTES or b"<!DOCTYPE" in data or b"<!ENTITY" in data:
        return ""
    start, end = data.find(b"<x:xmpmeta"), data.rfind(b">")
    root = ET.fromstring(data[max(0, start) : end + 1].rstrip(b"\0"))
    for described in root.iter(f"{_DC}description"):
        texts = {item.get(_LANG, ""): item.text or "" for item in described.iter(f"{_RDF}li")}
        if texts:
            return texts.get("x-default") or next(iter(texts.values()))
        if described.text and described.text.strip():
            return described.text
    return next((el.get(f"{_DC}description", "") for el in root.iter() if el.get(f"{_DC}description")), "")


def _iptc(picture: Image.Image) -> str:
    fields: Any = IptcImagePlugin.getiptcinfo(cast(ImageFile.ImageFile, picture)) or {}
    text = fields.get((2, 120), b"")
    text = text[0] if isinstance(text, list) else text
    utf8 = b"\x1b%G" in (fields.get((1, 90)) or b"")
    try:
        return str(text.decode("utf-8"))
    except UnicodeDecodeError:
        return "" if utf8 else str(text.decode("latin-1"))


def _exif(picture: Image.Image) -> str:
    text: Any = picture.getexif().get(ExifTags.Base.ImageDescription, "")
    return text.decode("utf-8", "replace") if isinstance(text, bytes) else str(text or "")
