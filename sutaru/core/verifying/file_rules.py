"""What can be wrong with a PDF as a whole: structure, profile, what it says of itself, what it does. A rule a function."""

import io
import re
from collections.abc import Iterator
from datetime import datetime
from typing import Any

import pikepdf
import simplejpeg
from PIL import Image

from ..colour.output import press_bytes
from ..colour.profiles import describe_profile
from .checked_pdf import PDFX, CheckedPdf, Found, defect, jpeg_of
from .pages import CHANNELS, family_of

_CHANNELS_OF = {"/DeviceGray": 1, "/DeviceRGB": 3, "/DeviceCMYK": 4}
_PADDING = 16  # bytes that some cameras write after a picture's last (common practice, no source)


def claims(f: CheckedPdf) -> Found:
    if f.lab and f.lab.pdf.x4 and not f.claimed_standard.startswith("PDF/X-4"):
        claim = f"says {f.claimed_standard}" if f.claimed_standard else "does not say to be any PDF/X"
        yield defect("standard", f"The lab wants PDF/X-4; this file {claim}.")


def syntax(f: CheckedPdf) -> Found:
    """Each object is read, and each stream unpacked; JPEGs are looked into as ``_find_jpeg_damage`` does."""
    problems: list[str] = []
    for held in f.pdf.objects:
        if not isinstance(held, pikepdf.Stream):
            continue
        number = held.objgen[0]
        kinds = held.get("/Filter", [])
        last = str(kinds if isinstance(kinds, pikepdf.Name) else kinds[-1]) if kinds else ""
        try:
            if last not in _PACKED_PICTURES:
                problems += _find_missing_pixels(held, number, len(held.read_bytes()))
            elif (jpeg := jpeg_of(held)) is not None:
                problems += _find_jpeg_damage(held, jpeg, number, f.decodes_pictures)
        except (pikepdf.PdfError, ValueError) as error:
            problems.append(f"object {number}: {describe_reader_error(error, f.pdf.filename)}")
    problems += [describe_reader_error(message, f.pdf.filename) for message in f.pdf.get_warnings()]
    for problem in dict.fromkeys(problems[:5]):
        yield defect("syntax", f"Its structure is damaged: {problem}.")


_PACKED_PICTURES = ("/DCTDecode", "/JPXDecode", "/CCITTFaxDecode", "/JBIG2Decode")


def _find_missing_pixels(stream: Any, number: int, held: int) -> Iterator[str]:
    """A picture that holds fewer bytes than its size asks for (ISO 32000-1, 8.9.3)."""
    if str(stream.get("/Subtype")) != "/Image" or "/Width" not in stream or "/Height" not in stream:
        return
    width, height = int(stream["/Width"]), int(stream["/Height"])
    family = "DeviceGray" if stream.get("/ImageMask", False) else family_of(stream.get("/ColorSpace"), None)[0]
    indexed = isinstance(stream.get("/ColorSpace"), pikepdf.Array) and str(stream["/ColorSpace"][0]) == "/Indexed"
    per_pixel = (
        1 if indexed else _CHANNELS_OF.get(f"/{family}", int(family[9:] or 0) if family.startswith("ICCBased") else 1)
    )
    bits = 1 if stream.get("/ImageMask", False) else int(stream.get("/BitsPerComponent", 8))
    wanted = height * -(-width * per_pixel * bits // 8)
    if held < wanted:
        yield f"the picture in object {number} has {held} of {wanted} bytes"


def _find_jpeg_damage(stream: Any, data: bytes, number: int, decodes: bool) -> Iterator[str]:
    """What is wrong with a JPEG: its size and its end; where it ``decodes``, all of it, at an eighth of its size."""
    height, width, space, _ = simplejpeg.decode_jpeg_header(data)
    stated = int(stream.get("/Width", width)), int(stream.get("/Height", height))
    if stated != (width, height):
        yield f"the picture in object {number} is {width} x {height} px, and is said to be {stated[0]} x {stated[1]}"
    channels = _CHANNELS_OF.get(str(stream.get("/ColorSpace")))
    if channels and channels != {"GRAY": 1, "Gray": 1, "CMYK": 4, "YCCK": 4}.get(space, 3):
        yield f"the picture in object {number} has other channels than it is said to have"
    if b"\xff\xd9" not in data[-64:]:
        yield f"the picture in object {number} ends early"
        return
    if not decodes:
        return
    try:
        with Image.open(io.BytesIO(data)) as picture:
            if picture.mode in ("L", "RGB", "CMYK"):
                spaces = {"L": "GRAY", "RGB": "RGB", "CMYK": "CMYK"}
                simplejpeg.decode_jpeg(data, spaces[picture.mode], min_height=1, min_width=1, min_factor=8, strict=True)
    except (ValueError, OSError) as error:
        left_over = re.search(r"(\d+) extraneous bytes", str(error))
        if not left_over or int(left_over[1]) > _PADDING:
            yield f"the picture in object {number} is damaged within"


def describe_reader_error(message: object, path: str) -> str:
    """What the reader says, without the folder that the file lies in."""
    return re.sub(r"^[: ]*\((.*?)\)", r"\1", str(message).splitlines()[0].removeprefix(path)).lstrip(": ")[:160]


def version(f: CheckedPdf) -> Found:
    if f.x4 and tuple(int(part) for part in f.pdf.pdf_version.split(".")) > (1, 6):
        yield defect("version", f"It is a PDF {f.pdf.pdf_version}; PDF/X-4 goes up to 1.6.")


def identity(f: CheckedPdf) -> Found:
    if f.x4 and "/ID" not in f.pdf.trailer:
        yield defect("file_id", "It has no file identifier (ID in its trailer).")


def encryption(f: CheckedPdf) -> Found:
    if f.pdf.is_encrypted:
        yield defect("encrypted", "It is encrypted: a lab cannot print it.")


def output_intent(f: CheckedPdf) -> Found:
    if not f.x4:
        return
    if len(f.intents) != 1:
        yield defect("output_intent", f"It has {len(f.intents) or 'no'} output intents for print; PDF/X-4 wants one.")
        return
    intent = f.intents[0]
    if not str(intent.get("/OutputConditionIdentifier", "")):
        yield defect("condition", "Its output intent does not name the printing condition.")
    if not f.profile:
        yield defect("intent_profile", "Its output intent carries no profile.")
        return
    kind = f.profile[12:16].decode("latin-1").strip()
    whole = int.from_bytes(f.profile[:4], "big") == len(f.profile)  # ICC.1:2022, 7.2.2
    if not f.press_space or f.profile[36:40] != b"acsp" or not whole:
        yield defect("intent_profile", "The profile of its output intent is damaged.")
    elif kind != "prtr":
        yield defect("intent_class", f"The profile of its output intent is no output profile (its class is {kind}).")
    elif int(intent.DestOutputProfile.get("/N", 0)) != CHANNELS.get(f.press_space):
        count = int(intent.DestOutputProfile.get("/N", 0))
        yield defect(
            "intent_channels", f"Its output profile is for {f.press_space}, but is said to have {count} channels."
        )


def intended_press(f: CheckedPdf) -> Found:
    if f.lab and f.lab.press and f.intents and f.assets:
        wanted = press_bytes(f.lab.press, f.assets)
        if f.profile and f.profile != wanted:
            yield defect(
                "press",
                f"It is meant for {describe_profile(f.profile)[0] or 'another press'}, not for {describe_profile(wanted)[0]}.",
            )


def metadata(f: CheckedPdf) -> Found:
    if f.has_broken_xmp:
        yield defect("xmp", "Its XMP metadata is damaged.", "stop" if f.x4 else "look")
        return
    if not f.x4:
        return
    yield from _compare_info_and_xmp(f)
    if not f.xmp:
        yield defect("xmp", "It has no XMP metadata.")
        return
    if not f.xmp.get(PDFX):
        yield defect("xmp_version", "Its XMP does not say which PDF/X it is.")
    missing = [name for name in ("CreateDate", "ModifyDate", "MetadataDate") if not f.xmp_entry("xmp", name)]
    if missing:
        yield defect("xmp_dates", f"Its XMP lacks {', '.join(missing)}.")
    missing = [name for name in ("DocumentID", "VersionID", "RenditionClass") if not f.xmp_entry("xmpMM", name)]
    if missing:
        yield defect("xmp_ids", f"Its XMP lacks {', '.join(missing)}.")
    if not f.xmp_entry("dc", "title"):
        yield defect("title", "It has no title.")


def _compare_info_and_xmp(f: CheckedPdf) -> Found:
    """What the information dictionary and XMP both say they say alike (ISO 15930-7, from memory)."""
    if "/Info" not in f.pdf.trailer:
        return
    title, xmp_title = str(f.pdf.docinfo.get("/Title", "")), f.xmp_entry("dc", "title")
    if title and xmp_title and title != xmp_title:
        yield defect("title", f"It has two titles: {title[:60]}, and {xmp_title[:60]} in its XMP.")
    for key, name in (("/CreationDate", "CreateDate"), ("/ModDate", "ModifyDate")):
        info_date, again = _parse_date(str(f.pdf.docinfo.get(key, ""))), _parse_date(f.xmp_entry("xmp", name))
        if info_date and again and info_date != again:
            yield defect("xmp_dates", f"Its {name} in XMP is another than that of the file.")
    version = f.pdf.docinfo.get("/GTS_PDFXVersion")
    if version is not None and f.xmp.get(PDFX) and str(version) != f.xmp[PDFX]:
        yield defect("standard", f"It says to be {version}, and {f.xmp[PDFX]} in its XMP.")


def _parse_date(text: str) -> datetime | None:
    """A date of PDF (D:20260620120000+02'00') or of XMP; None where it is neither, or tells no zone."""
    try:
        if text.startswith("D:"):
            plain = text[2:].replace("'", "")
            return datetime.strptime(plain.replace("Z", "+0000")[:19], "%Y%m%d%H%M%S%z")
        day = datetime.fromisoformat(text)
        return day.replace(microsecond=0) if day.tzinfo else None
    except ValueError:
        return None


def trapped(f: CheckedPdf) -> Found:
    if not f.x4:
        return
    info = f.pdf.docinfo.get("/Trapped") if "/Info" in f.pdf.trailer else None
    value = f.xmp_entry("pdf", "Trapped")
    if info is None and not value:
        yield defect("trapped", "It does not say whether it is trapped.")
    elif info is not None and (not isinstance(info, pikepdf.Name) or str(info) not in ("/True", "/False")):
        yield defect(
            "trapped", f"It says {str(info).strip('/')} for whether it is trapped; only True or False will do."
        )
    elif info is not None and value and value != str(info)[1:]:
        yield defect("trapped", f"It says of being trapped both {str(info)[1:]} and {value}.")


def actions(f: CheckedPdf) -> Found:
    root = f.pdf.Root
    names = root.get("/Names", {})
    if "/JavaScript" in names or "/OpenAction" in root or "/AA" in root or any("/AA" in p.obj for p in f.pdf.pages):
        yield defect(
            "actions", "It does something when it is opened (actions or JavaScript).", "stop" if f.x4 else "look"
        )
    if "/EmbeddedFiles" in names or "/AF" in root or "/Collection" in root:
        yield defect("attachments", "Other files are attached to it.", "stop" if f.x4 else "look")
    if "/XFA" in root.get("/AcroForm", {}) or len(root.get("/AcroForm", {}).get("/Fields", [])):
        yield defect("form", "It holds a form to be filled in.", "stop" if f.x4 else "look")


def layers(f: CheckedPdf) -> Found:
    properties = f.pdf.Root.get("/OCProperties")
    if properties is None:
        return
    configurations = [properties.get("/D", pikepdf.Dictionary()), *properties.get("/Configs", [])]
    if f.x4 and any(not str(configuration.get("/Name", "")) for configuration in configurations):
        yield defect("layer_names", "Its set of layers has no name.")
    if f.x4 and any("/AS" in configuration for configuration in configurations):
        yield defect("layer_states", "Its layers change by how it is looked at.")
    off = [
        str(group.get("/Name", "?")) for configuration in configurations[:1] for group in configuration.get("/OFF", [])
    ]
    if off:
        yield defect("layers_off", f"Layers are switched off: {', '.join(off[:5])}.", "look")
