"""A PDF held against ISO 15930-7 (PDF/X-4) where it says to keep to it, and against a lab sheet. One rule a function.

The standard's clauses are from memory. A file is opened and its structure read; pictures are decoded only to count their ink,
and only where a lab sheet says how much a press takes. What cannot be read is a defect, never passed, and logged.
"""

import io
import logging
import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from datetime import datetime
from functools import cached_property
from pathlib import Path
from typing import Any
from xml.etree import ElementTree

import numpy as np
import pikepdf
import simplejpeg
from PIL import Image

from ..colour.inks import in_inks
from ..colour.output import Assets, press_bytes
from ..colour.profiles import described
from ..document import LabSheet
from .pages import Picture, Seen, boxes_mm, seen_on
from .report import Defect, Report, Severity

PDFX = "{http://www.npes.org/pdfx/ns/id/}GTS_PDFXVersion"
_NEAR_MM = 0.02
_PADDING = 16  # bytes that some cameras write after a picture's last (common practice, no source)
_HAIR_PT = 0.125  # a thinner line may not print (common practice, no source)
_SMALL_PT = 4.0  # smaller words are hard to read (common practice, no source)
_FORBIDDEN = {"/Launch", "/JavaScript", "/SubmitForm", "/ImportData", "/ResetForm", "/Movie", "/Sound", "/Rendition"}
_N = {"GRAY": 1, "RGB": 3, "CMYK": 4}
Found = Iterator[Defect]
log = logging.getLogger("sutaru.verifying")


@dataclass
class Looked:
    """A PDF that is being looked over, and what it is held against."""

    pdf: pikepdf.Pdf
    lab: LabSheet | None = None
    assets: Assets | None = None
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
        with self.pdf.open_metadata(set_pikepdf_as_editor=False, update_docinfo=False, strict=True) as told:
            return {str(key): str(value) for key, value in told.items()}

    def said(self, prefix: str, name: str) -> str:
        """One entry of its XMP; "" for none."""
        spaces = {"dc": "http://purl.org/dc/elements/1.1/", "xmp": "http://ns.adobe.com/xap/1.0/",
                  "xmpMM": "http://ns.adobe.com/xap/1.0/mm/", "pdf": "http://ns.adobe.com/pdf/1.3/"}  # fmt: skip
        return self.xmp.get(f"{{{spaces[prefix]}}}{name}", "")

    @property
    def standard(self) -> str:
        """What it says to keep to."""
        info = self.pdf.docinfo.get("/GTS_PDFXVersion") if "/Info" in self.pdf.trailer else None
        return self.xmp.get(PDFX, "") or (str(info) if info is not None else "")

    @property
    def x4(self) -> bool:
        """Whether it says to be PDF/X-4, or is to be."""
        return self.standard.startswith("PDF/X-4") or bool(self.lab and self.lab.pdf.x4)

    @cached_property
    def intents(self) -> list[Any]:
        """Output intents for print."""
        found = self.pdf.Root.get("/OutputIntents", [])
        return [intent for intent in found if str(intent.get("/S")) == "/GTS_PDFX"]

    @cached_property
    def profile(self) -> bytes:
        """The profile of its output intent."""
        held = self.intents[0].get("/DestOutputProfile") if self.intents else None
        return bytes(held.read_bytes()) if held is not None else b""

    @cached_property
    def press_space(self) -> str:
        """RGB, CMYK or GRAY, "" where it does not say."""
        return described(self.profile)[1] if self.profile else ""


def _one(rule: str, sentence: str, severity: Severity = "stop", page: int = 0) -> Defect:
    return Defect(rule=rule, severity=severity, sentence=sentence, page=page)


# The file as a whole


def claims(f: Looked) -> Found:
    if f.lab and f.lab.pdf.x4 and not f.standard.startswith("PDF/X-4"):
        said = f"says {f.standard}" if f.standard else "does not say to be any PDF/X"
        yield _one("standard", f"The lab wants PDF/X-4; this file {said}.")


def syntax(f: Looked) -> Found:
    """Each object is read, and each stream unpacked; of a JPEG the header and its end, since to decode all costs more than to
    print."""
    problems: list[str] = []
    for held in f.pdf.objects:
        if not isinstance(held, pikepdf.Stream):
            continue
        number = held.objgen[0]
        kinds = held.get("/Filter", [])
        last = str(kinds if isinstance(kinds, pikepdf.Name) else kinds[-1]) if kinds else ""
        try:
            if last not in ("/DCTDecode", "/JPXDecode"):
                held.read_bytes()
            elif last == "/DCTDecode" and isinstance(kinds, pikepdf.Name):
                problems += _harm(held, number)
        except (pikepdf.PdfError, ValueError) as error:
            problems.append(f"object {number}: {_said(error, f.pdf.filename)}")
    problems += [_said(told, f.pdf.filename) for told in f.pdf.get_warnings()]
    for problem in dict.fromkeys(problems[:5]):
        yield _one("syntax", f"Its structure is damaged: {problem}.")


def _harm(stream: Any, number: int) -> Iterator[str]:
    """What is wrong with a JPEG: it is decoded at an eighth of its size, which reads all of it and draws little."""
    data = stream.read_raw_bytes()
    height, width, *_ = simplejpeg.decode_jpeg_header(data)
    said = int(stream.get("/Width", width)), int(stream.get("/Height", height))
    if said != (width, height):
        yield f"the picture in object {number} is {width} x {height} px, and is said to be {said[0]} x {said[1]}"
    if b"\xff\xd9" not in data[-64:]:
        yield f"the picture in object {number} ends early"
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


def _said(told: object, path: str) -> str:
    """What the reader says, without the folder that the file lies in."""
    return re.sub(r"^[: ]*\((.*?)\)", r"\1", str(told).splitlines()[0].removeprefix(path)).lstrip(": ")[:160]


def version(f: Looked) -> Found:
    if f.x4 and tuple(int(part) for part in f.pdf.pdf_version.split(".")) > (1, 6):
        yield _one("version", f"It is a PDF {f.pdf.pdf_version}; PDF/X-4 goes up to 1.6.")


def identity(f: Looked) -> Found:
    if f.x4 and "/ID" not in f.pdf.trailer:
        yield _one("file_id", "It has no file identifier (ID in its trailer).")


def encryption(f: Looked) -> Found:
    if f.pdf.is_encrypted:
        yield _one("encrypted", "It is encrypted: a lab cannot print it.")


def output_intent(f: Looked) -> Found:
    if not f.x4:
        return
    if len(f.intents) != 1:
        yield _one("output_intent", f"It has {len(f.intents) or 'no'} output intents for print; PDF/X-4 wants one.")
        return
    intent = f.intents[0]
    if not str(intent.get("/OutputConditionIdentifier", "")):
        yield _one("condition", "Its output intent does not name the printing condition.")
    if not f.profile:
        yield _one("intent_profile", "Its output intent carries no profile.")
        return
    kind = f.profile[12:16].decode("latin-1").strip()
    whole = int.from_bytes(f.profile[:4], "big") == len(f.profile)  # ICC.1:2022, 7.2.2
    if not f.press_space or f.profile[36:40] != b"acsp" or not whole:
        yield _one("intent_profile", "The profile of its output intent is damaged.")
    elif kind != "prtr":
        yield _one("intent_class", f"The profile of its output intent is no output profile (its class is {kind}).")
    elif int(intent.DestOutputProfile.get("/N", 0)) != _N.get(f.press_space):
        count = int(intent.DestOutputProfile.get("/N", 0))
        yield _one(
            "intent_channels", f"Its output profile is for {f.press_space}, but is said to have {count} channels."
        )


def intended_press(f: Looked) -> Found:
    if f.lab and f.lab.press and f.intents and f.assets:
        wanted = press_bytes(f.lab.press, f.assets)
        if f.profile and f.profile != wanted:
            yield _one(
                "press",
                f"It is meant for {described(f.profile)[0] or 'another press'}, not for {described(wanted)[0]}.",
            )


def metadata(f: Looked) -> Found:
    if f.has_broken_xmp:
        yield _one("xmp", "Its XMP metadata is damaged.", "stop" if f.x4 else "look")
        return
    yield from _told_twice(f)
    if not f.x4:
        return
    if not f.xmp:
        yield _one("xmp", "It has no XMP metadata.")
        return
    if not f.xmp.get(PDFX):
        yield _one("xmp_version", "Its XMP does not say which PDF/X it is.")
    missing = [name for name in ("CreateDate", "ModifyDate", "MetadataDate") if not f.said("xmp", name)]
    if missing:
        yield _one("xmp_dates", f"Its XMP lacks {', '.join(missing)}.")
    missing = [name for name in ("DocumentID", "VersionID", "RenditionClass") if not f.said("xmpMM", name)]
    if missing:
        yield _one("xmp_ids", f"Its XMP lacks {', '.join(missing)}.")
    if not f.said("dc", "title"):
        yield _one("title", "It has no title.")


def _told_twice(f: Looked) -> Found:
    """What the information dictionary and XMP both say they say alike (ISO 15930-7, 6.17)."""
    if "/Info" not in f.pdf.trailer:
        return
    severity: Severity = "stop" if f.x4 else "look"
    title, told = str(f.pdf.docinfo.get("/Title", "")), f.said("dc", "title")
    if title and told and title != told:
        yield _one("title", f"It has two titles: {title[:60]}, and {told[:60]} in its XMP.", severity)
    for key, name in (("/CreationDate", "CreateDate"), ("/ModDate", "ModifyDate")):
        said, again = _moment(str(f.pdf.docinfo.get(key, ""))), _moment(f.said("xmp", name))
        if said and again and said != again:
            yield _one("xmp_dates", f"Its {name} in XMP is another than that of the file.", severity)
    version = f.pdf.docinfo.get("/GTS_PDFXVersion")
    if version is not None and f.xmp.get(PDFX) and str(version) != f.xmp[PDFX]:
        yield _one("standard", f"It says to be {version}, and {f.xmp[PDFX]} in its XMP.", severity)


def _moment(said: str) -> datetime | None:
    """A date of PDF (D:20260620120000+02'00') or of XMP; None where it is neither, or tells no zone."""
    try:
        if said.startswith("D:"):
            plain = said[2:].replace("'", "")
            return datetime.strptime(plain.replace("Z", "+0000")[:19], "%Y%m%d%H%M%S%z")
        found = datetime.fromisoformat(said)
        return found.replace(microsecond=0) if found.tzinfo else None
    except ValueError:
        return None


def trapped(f: Looked) -> Found:
    if not f.x4:
        return
    info = f.pdf.docinfo.get("/Trapped") if "/Info" in f.pdf.trailer else None
    told = f.said("pdf", "Trapped")
    if info is None and not told:
        yield _one("trapped", "It does not say whether it is trapped.")
    elif info is not None and (not isinstance(info, pikepdf.Name) or str(info) not in ("/True", "/False")):
        yield _one("trapped", f"It says {str(info).strip('/')} for whether it is trapped; only True or False will do.")
    elif info is not None and told and told != str(info)[1:]:
        yield _one("trapped", f"It says of being trapped both {str(info)[1:]} and {told}.")


def actions(f: Looked) -> Found:
    root = f.pdf.Root
    names = root.get("/Names", {})
    if "/JavaScript" in names or "/OpenAction" in root or "/AA" in root or any("/AA" in p.obj for p in f.pdf.pages):
        yield _one(
            "actions", "It does something when it is opened (actions or JavaScript).", "stop" if f.x4 else "look"
        )
    if "/EmbeddedFiles" in names:
        yield _one("attachments", "Other files are attached to it.", "stop" if f.x4 else "look")
    if "/XFA" in root.get("/AcroForm", {}) or len(root.get("/AcroForm", {}).get("/Fields", [])):
        yield _one("form", "It holds a form to be filled in.", "stop" if f.x4 else "look")


def layers(f: Looked) -> Found:
    said = f.pdf.Root.get("/OCProperties")
    if said is None:
        return
    configurations = [said.get("/D", pikepdf.Dictionary()), *said.get("/Configs", [])]
    if f.x4 and any(not str(one.get("/Name", "")) for one in configurations):
        yield _one("layer_names", "Its set of layers has no name.")
    if f.x4 and any("/AS" in one for one in configurations):
        yield _one("layer_states", "Its layers change by how it is looked at.")
    off = [str(group.get("/Name", "?")) for one in configurations[:1] for group in one.get("/OFF", [])]
    if off:
        yield _one("layers_off", f"Layers are switched off: {', '.join(off[:5])}.", "look")


# Pages


def boxes(f: Looked) -> Found:
    for n, page in enumerate(f.pdf.pages, 1):
        found = dict(boxes_mm(page))
        media, bleed = found.get("MediaBox"), found.get("BleedBox")
        trim, art = found.get("TrimBox"), found.get("ArtBox")
        if media is None:
            yield _one("media_box", "It has no media box.", page=n)
            continue
        if trim is None and art is None:
            yield _one("trim_box", "It does not say where it is trimmed.", "stop" if f.x4 else "look", n)
        if f.x4 and trim is not None and art is not None:
            yield _one("trim_and_art", "It has a trim box and an art box; PDF/X-4 wants one of them.", page=n)
        inner = trim or art
        if inner and min(inner[2] - inner[0], inner[3] - inner[1]) < _NEAR_MM:
            yield _one("trim_box", "Its trim box has no size.", page=n)
        if inner and bleed and not _within(inner, bleed):
            yield _one("trim_off_bleed", "Its trim box runs beyond its bleed box.", page=n)
        if (bleed and not _within(bleed, media)) or (inner and not _within(inner, media)):
            yield _one("off_media", "Its trim or bleed box runs beyond its media box.", page=n)
        if int(page.obj.get("/Rotate", 0)) % 360:
            yield _one("rotated", f"It is shown turned by {int(page.obj.Rotate)} degrees.", "look", n)
        if float(page.obj.get("/UserUnit", 1)) != 1:
            yield _one("user_unit", "Its unit is not the point, which many printers pass over.", page=n)


def _within(inner: tuple[float, ...], outer: tuple[float, ...]) -> bool:
    return all(
        a >= b - _NEAR_MM
        for a, b in ((inner[0], outer[0]), (inner[1], outer[1]), (outer[2], inner[2]), (outer[3], inner[3]))
    )


def size(f: Looked) -> Found:
    """Each page's trim is a format of the lab, its bleed as much as that wants."""
    if f.lab is None or not f.lab.blanks:
        return
    for n, page in enumerate(f.pdf.pages, 1):
        found = dict(boxes_mm(page))
        trim, media = found.get("TrimBox"), found.get("BleedBox") or found.get("MediaBox")
        if trim is None or media is None:
            continue
        wide, high = trim[2] - trim[0], trim[3] - trim[1]
        blanks = f.lab.formats(wide, high)
        if not blanks and f.lab.any_size:
            continue
        if not blanks:
            severity: Severity = "look" if f.lab.bindery else "stop"  # covers are as wide as their spine
            yield _one("size", f"{wide:.1f} x {high:.1f} mm is no format of {f.lab.name}.", severity, n)
            continue
        sides = {
            "left": trim[0] - media[0], "bottom": trim[1] - media[1], "right": media[2] - trim[2], "top": media[3] - trim[3],
        }  # fmt: skip
        least = min((sides[side] for side in f.lab.bleeds), default=99.0)
        wanted = min(blank.bleed_mm for blank in blanks)
        if least < wanted - 0.05:
            yield _one("bleed", f"It bleeds {max(0.0, least):.1f} mm; {f.lab.name} wants {wanted:g}.", page=n)


def annotations(f: Looked) -> Found:
    for n, page in enumerate(f.pdf.pages, 1):
        for note in page.obj.get("/Annots", []):
            kind = str(note.get("/Subtype", ""))
            if kind not in ("/TrapNet", "/PrinterMark", "/Popup"):
                yield _one("annotation", f"A note lies on it ({kind[1:]}).", "stop" if f.x4 else "look", n)
                break
        actions = {str(note.get("/A", {}).get("/S", "")) for note in page.obj.get("/Annots", [])}
        if actions & _FORBIDDEN:
            yield _one("note_action", "A note on it does something when it is clicked.", "stop" if f.x4 else "look", n)


def colours(f: Looked) -> Found:
    """Device colours only where the press named is of their kind."""
    for n, seen in enumerate(f.seen, 1):
        if f.x4 and "DeviceRGB" in seen.groups and f.press_space != "RGB":
            yield _one("device_rgb", "What can be seen through is worked out in RGB without a profile.", page=n)
        if f.x4 and "DeviceRGB" in seen.families and f.press_space != "RGB":
            yield _one("device_rgb", "RGB without a profile is on it: nobody knows which colour that is.", page=n)
        if f.x4 and "DeviceCMYK" in seen.families and f.press_space != "CMYK":
            yield _one("device_cmyk", "Inks are on it, but the press that it is meant for is not of inks.", page=n)
        if not f.x4 and "DeviceRGB" in seen.families:
            yield _one("device_rgb", "RGB without a profile is on it; it will be taken for sRGB.", "look", n)
        if "unknown" in seen.families:
            yield _one("colour_space", "A colour space on it is damaged.", page=n)


def spots(f: Looked) -> Found:
    wanted = {f.lab.pdf.cut, f.lab.pdf.fold} - {""} if f.lab else set()
    for n, seen in enumerate(f.seen, 1):
        extra = sorted(seen.spots - wanted)
        if extra:
            yield _one("spot", f"It has plates of its own: {', '.join(extra)}.", "look", n)


def fonts(f: Looked) -> Found:
    for n, seen in enumerate(f.seen, 1):
        missing = sorted(name for name, held in seen.fonts.items() if not held)
        if missing:
            yield _one("font", f"Fonts are not in the file: {', '.join(missing)}.", page=n)


def pixels(f: Looked) -> Found:
    """Pictures have enough pixels for the lab; without one, 150 ppi."""
    least = f.lab.ppi_least if f.lab else 150
    for n, seen in enumerate(f.seen, 1):
        low = [picture.ppi for picture in seen.pictures if picture.ppi < least and picture.width * picture.height > 4]
        if low:
            yield _one("ppi", f"A picture has {min(low):.0f} ppi; {least} are wanted.", "stop" if f.lab else "look", n)


def lines(f: Looked) -> Found:
    for n, seen in enumerate(f.seen, 1):
        thin = [width for width in seen.lines if width < _HAIR_PT]
        if thin:
            yield _one("hairline", f"A line is {min(thin):.2f} pt wide: it may not print.", "look", n)


def words(f: Looked) -> Found:
    for n, seen in enumerate(f.seen, 1):
        if any(ink.family == "DeviceCMYK" and ink.values[3:4] > (0.85,) and sum(ink.values[:3]) > 0.3
               for ink, size, _ in seen.words if len(ink.values) == 4 and size < 14):  # fmt: skip
            yield _one("black_words", "Black words are printed in several inks: their edges may not meet.", "look", n)
        small = [size for _, size, _ in seen.words if 0 < size < _SMALL_PT]
        if small:
            yield _one("small_words", f"Words are {min(small):.1f} pt high.", "look", n)


def overprint(f: Looked) -> Found:
    for n, seen in enumerate(f.seen, 1):
        if seen.white_over:
            yield _one(
                "white_overprint", "Something white is set to print over what lies below: it will vanish.", page=n
            )


def odd(f: Looked) -> Found:
    """What the standard forbids in a page's content."""
    for n, seen in enumerate(f.seen, 1):
        if seen.faults:
            yield _one("content", f"Its content is damaged: {seen.faults[0]}.", page=n)
        if seen.unfinished:
            severity: Severity = "stop" if f.x4 else "look"
            yield _one("content", "Its content is damaged: q keeps a state that is never taken back.", severity, n)
        if seen.blends:
            yield _one(
                "blend", f"Something blends in a way that nobody knows: {', '.join(sorted(seen.blends))}.", page=n
            )
        if any(_is_inverted(picture) for picture in seen.pictures):
            yield _one("decode", "A picture is printed as its negative (Decode).", "look", n)
        if seen.transfers and f.x4:
            yield _one("transfer", "It changes the press's own curves.", page=n)
        if seen.postscript:
            yield _one("postscript", "PostScript is in it.", "stop" if f.x4 else "look", n)
        for stream in seen.streams:
            kinds = stream.get("/Filter", ())
            names = {str(k) for k in (kinds if isinstance(kinds, pikepdf.Array) else [kinds])} if kinds else set()
            if f.x4 and "/LZWDecode" in names:
                yield _one("lzw", "It is packed by LZW, which PDF/X-4 does not take.", page=n)
                break
            if f.x4 and ("/Alternates" in stream or "/OPI" in stream):
                yield _one("alternates", "A picture has others to stand in for it.", page=n)
                break
            if f.x4 and "/Ref" in stream:
                yield _one("reference", "It shows a page of another file.", page=n)
                break


def _is_inverted(picture: Picture) -> bool:
    """Whether a picture's numbers are turned round, which only some JPEGs of inks are stored for (Adobe's APP14 marker)."""
    stream = picture.stream
    decode = [float(v) for v in stream.get("/Decode", [])]
    if len(decode) < 2 or decode[0] <= decode[1] or stream.get("/ImageMask", False):
        return False
    jpeg = str(stream.get("/Filter", "")) == "/DCTDecode"
    return not (jpeg and len(decode) == 8 and b"Adobe" in stream.read_raw_bytes()[:4096])


def ink(f: Looked) -> Found:
    """No place takes more ink than the press: pictures in inks as they are, in RGB as they will be; what is drawn."""
    press = f.lab.press if f.lab else None
    if press is None or f.press_space not in ("", "CMYK"):
        return
    icc = f.profile or (press_bytes(press, f.assets) if f.assets else b"")
    if described(icc)[1] != "CMYK":
        return
    for n, seen in enumerate(f.seen, 1):
        most = max((_most_ink(p.stream, icc, f.lab) for p in seen.pictures if p.family != "DeviceGray"), default=0.0)  # type: ignore[arg-type]
        if seen.most_ink > press.ink_limit + 2:
            sentence = f"What is drawn takes {seen.most_ink:.0f} % of ink; the press takes {press.ink_limit}."
            yield _one("ink", sentence, "look", n)
        if most > press.ink_limit + 2:
            yield _one("ink", f"A picture takes {most:.0f} % of ink; the press takes {press.ink_limit}.", "look", n)


def _most_ink(stream: Any, icc: bytes, lab: LabSheet) -> float:
    """The ink sum that a thousandth of a JPEG's places is above, percent; other pictures are not decoded."""
    if str(stream.get("/Filter")) != "/DCTDecode":
        return 0.0
    with Image.open(io.BytesIO(stream.read_raw_bytes())) as picture:
        picture.draft(None, (400, 400))
        if picture.mode == "CMYK":
            inks = np.asarray(picture)
        elif picture.mode == "RGB" and lab.press:
            inks = in_inks(np.asarray(picture), lab.profile, icc, lab.press.intent, lab.press.black_point)
        else:
            return 0.0
    return float(np.quantile(inks.astype(np.float32).sum(-1), 0.999)) / 255 * 100


RULES: tuple[Callable[[Looked], Found], ...] = (
    claims, syntax, version, identity, encryption, output_intent, intended_press, metadata, trapped, actions, layers, boxes,
    size, annotations, colours, spots, fonts, pixels, lines, words, overprint, odd, ink,
)  # fmt: skip


def verify_pdf(path: Path, lab: LabSheet | None = None, assets: Assets | None = None) -> Report:
    """A PDF looked over. ``lab``: held against its sheet as well; ``assets`` gives a lab's own profile."""
    held = (*(("ISO 15930-7",) if lab is None or lab.pdf.x4 else ()), *((lab.name,) if lab else ()))
    try:
        pdf = pikepdf.open(path)
    except pikepdf.PasswordError:
        locked = _one("encrypted", "It is locked by a password: a lab cannot print it.")
        return Report(file=path.name, kind="pdf", checked=held, defects=(locked,))
    except (pikepdf.PdfError, OSError) as error:
        broken = _one("damaged", f"It cannot be read as a PDF: {_said(error, str(path))}. Ask for it anew.")
        return Report(file=path.name, kind="pdf", checked=held, defects=(broken,))
    with pdf:
        looked = Looked(pdf, lab, assets)
        looked.seen = [seen_on(page) for page in pdf.pages]
        found: list[Defect] = []
        for rule in RULES:
            try:
                found += rule(looked)
            except Exception:  # a rule that could not look is never taken for one that passed
                log.exception("%s in %s", rule.__name__, path.name)
                sentence = f"Not checked for {rule.__name__.replace('_', ' ')}: it could not be looked for. Look for it by eye."
                found.append(_one(rule.__name__, sentence))
        try:
            standard = looked.standard
        except Exception:
            standard = ""
        return Report(
            file=path.name, kind="pdf", standard=standard, pages=len(pdf.pages), checked=held, defects=tuple(found)
        )
