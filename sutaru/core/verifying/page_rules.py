"""What can be wrong with the pages of a PDF: boxes, colours, fonts, pictures, lines, ink. A rule a function."""

import io
from typing import Any

import numpy as np
import pikepdf
from PIL import Image

from ..colour.inks import convert_to_inks
from ..colour.output import press_bytes
from ..colour.profiles import describe_profile
from ..document import LabSheet
from .checked_pdf import CheckedPdf, Found, defect, jpeg_of
from .page_boxes import boxes_mm
from .pages import CHANNELS, Picture
from .report import Severity

_NEAR_MM = 0.02
_HAIR_PT = 0.125  # a thinner line may not print (common practice, no source)
_SMALL_PT = 4.0  # smaller words are hard to read (common practice, no source)
_FORBIDDEN = {"/Launch", "/JavaScript", "/SubmitForm", "/ImportData", "/ResetForm", "/Movie", "/Sound", "/Rendition"}


def boxes(f: CheckedPdf) -> Found:
    for n, page in enumerate(f.pdf.pages, 1):
        by_name = dict(boxes_mm(page))
        media, bleed = by_name.get("MediaBox"), by_name.get("BleedBox")
        trim, art = by_name.get("TrimBox"), by_name.get("ArtBox")
        if media is None:
            yield defect("media_box", "It has no media box.", page=n)
            continue
        if trim is None and art is None:
            yield defect("trim_box", "It does not say where it is trimmed.", "stop" if f.x4 else "look", n)
        if f.x4 and trim is not None and art is not None:
            yield defect("trim_and_art", "It has a trim box and an art box; PDF/X-4 wants one of them.", page=n)
        inner = trim or art
        if inner and min(inner[2] - inner[0], inner[3] - inner[1]) < _NEAR_MM:
            yield defect("trim_box", "Its trim box has no size.", page=n)
        if inner and bleed and not _is_within(inner, bleed):
            yield defect("trim_off_bleed", "Its trim box runs beyond its bleed box.", page=n)
        if (bleed and not _is_within(bleed, media)) or (inner and not _is_within(inner, media)):
            yield defect("off_media", "Its trim or bleed box runs beyond its media box.", page=n)
        crop = by_name.get("CropBox")
        if inner and crop and not _is_within(inner, crop):
            yield defect("crop_box", "Its crop box cuts into what is printed.", "look", n)
        if int(page.obj.get("/Rotate", 0)) % 360:
            yield defect("rotated", f"It is shown turned by {int(page.obj.Rotate)} degrees.", "look", n)
        if float(page.obj.get("/UserUnit", 1)) != 1:
            yield defect("user_unit", "Its unit is not the point, which many printers pass over.", page=n)


def _is_within(inner: tuple[float, ...], outer: tuple[float, ...]) -> bool:
    return all(
        a >= b - _NEAR_MM
        for a, b in ((inner[0], outer[0]), (inner[1], outer[1]), (outer[2], inner[2]), (outer[3], inner[3]))
    )


def size(f: CheckedPdf) -> Found:
    """Each page's trim is a format of the lab, its bleed as much as that wants."""
    if f.lab is None or not f.lab.blanks:
        return
    for n, page in enumerate(f.pdf.pages, 1):
        by_name = dict(boxes_mm(page))
        trim, media = by_name.get("TrimBox"), by_name.get("BleedBox") or by_name.get("MediaBox")
        if trim is None or media is None:
            continue
        wide, high = trim[2] - trim[0], trim[3] - trim[1]
        blanks = f.lab.formats(wide, high)
        if not blanks and f.lab.any_size:
            continue
        if not blanks:
            severity: Severity = "look" if f.lab.bindery else "stop"  # covers are as wide as their spine
            yield defect("size", f"{wide:.1f} x {high:.1f} mm is not a size of {f.lab.name}.", severity, n)
            continue
        sides = {
            "left": trim[0] - media[0], "bottom": trim[1] - media[1], "right": media[2] - trim[2], "top": media[3] - trim[3],
        }  # fmt: skip
        least = min((sides[side] for side in f.lab.bleeds), default=99.0)
        wanted = min(blank.bleed_mm for blank in blanks)
        if least < wanted - 0.05:
            yield defect("bleed", f"It bleeds {max(0.0, least):.1f} mm; {f.lab.name} wants {wanted:g}.", page=n)


def annotations(f: CheckedPdf) -> Found:
    for n, page in enumerate(f.pdf.pages, 1):
        for note in page.obj.get("/Annots", []):
            kind = str(note.get("/Subtype", ""))
            if kind not in ("/TrapNet", "/PrinterMark", "/Popup"):
                yield defect("annotation", f"A note lies on it ({kind[1:]}).", "stop" if f.x4 else "look", n)
                break
        actions = {str(note.get("/A", {}).get("/S", "")) for note in page.obj.get("/Annots", [])}
        if actions & _FORBIDDEN:
            yield defect(
                "note_action", "A note on it does something when it is clicked.", "stop" if f.x4 else "look", n
            )


def colours(f: CheckedPdf) -> Found:
    """Device colours only where the press named is of their kind."""
    for n, seen in enumerate(f.seen, 1):
        if f.x4 and "DeviceRGB" in seen.groups and f.press_space != "RGB":
            yield defect("device_rgb", "A transparency group on it is in RGB without a profile.", page=n)
        if f.x4 and "DeviceRGB" in seen.families and f.press_space != "RGB":
            yield defect("device_rgb", "RGB without a profile is on it: nobody knows which colour that is.", page=n)
        if f.x4 and "DeviceCMYK" in seen.families and f.press_space != "CMYK":
            yield defect("device_cmyk", "Inks are on it, but the press that it is meant for is not of inks.", page=n)
        if not f.x4 and "DeviceRGB" in seen.families:
            yield defect("device_rgb", "RGB without a profile is on it; it will be taken for sRGB.", "look", n)
        if "unknown" in seen.families:
            yield defect("colour_space", "A colour space on it is damaged.", page=n)


def profiles(f: CheckedPdf) -> Found:
    """The profiles of pictures and colours are whole, and of as many channels as they are said to have."""
    for n, seen in enumerate(f.seen, 1):
        for stream in seen.profiles:
            icc = bytes(stream.read_bytes())
            space = (
                describe_profile(icc)[1] if icc[36:40] == b"acsp" and int.from_bytes(icc[:4], "big") == len(icc) else ""
            )
            if not space:
                yield defect("profile", "The profile of a colour on it is damaged.", page=n)
            elif CHANNELS.get(space, 3) != int(stream.get("/N", 0)):
                channels = int(stream.get("/N", 0))
                yield defect(
                    "profile", f"A profile on it is for {space}, but is said to have {channels} channels.", page=n
                )


def spots(f: CheckedPdf) -> Found:
    wanted = {f.lab.pdf.cut, f.lab.pdf.fold} - {""} if f.lab else set()
    for n, seen in enumerate(f.seen, 1):
        extra = sorted(seen.spots - wanted)
        if extra:
            yield defect("spot", f"It has plates of its own: {', '.join(extra)}.", "look", n)


def fonts(f: CheckedPdf) -> Found:
    for n, seen in enumerate(f.seen, 1):
        missing = sorted(name for name, held in seen.fonts.items() if not held)
        if missing:
            yield defect("font", f"Fonts are not in the file: {', '.join(missing)}.", page=n)


def pixels(f: CheckedPdf) -> Found:
    """Pictures have enough pixels for the lab; without one, 150 ppi."""
    least = f.lab.ppi_least if f.lab else 150
    for n, seen in enumerate(f.seen, 1):
        low = [picture.ppi for picture in seen.pictures if picture.ppi < least and picture.width * picture.height > 4]
        if low:
            yield defect(
                "ppi", f"A picture has {min(low):.0f} ppi; {least} are wanted.", "stop" if f.lab else "look", n
            )


def lines(f: CheckedPdf) -> Found:
    for n, seen in enumerate(f.seen, 1):
        thin = [width for width in seen.lines if width < _HAIR_PT]
        if thin:
            yield defect("hairline", f"A line is {min(thin):.2f} pt wide: it may not print.", "look", n)


def words(f: CheckedPdf) -> Found:
    for n, seen in enumerate(f.seen, 1):
        if any(ink.family == "DeviceCMYK" and ink.values[3:4] > (0.85,) and sum(ink.values[:3]) > 0.3
               for ink, size, _ in seen.words if len(ink.values) == 4 and size < 14):  # fmt: skip
            yield defect("black_words", "Black words are printed in several inks: their edges may not meet.", "look", n)
        small = [size for _, size, _ in seen.words if 0 < size < _SMALL_PT]
        if small:
            yield defect("small_words", f"Words are {min(small):.1f} pt high.", "look", n)


def overprint(f: CheckedPdf) -> Found:
    for n, seen in enumerate(f.seen, 1):
        if seen.white_over:
            yield defect(
                "white_overprint", "Something white is set to print over what lies below: it will vanish.", page=n
            )


def odd(f: CheckedPdf) -> Found:
    """What the standard forbids in a page's content."""
    for n, seen in enumerate(f.seen, 1):
        if seen.faults:
            yield defect("content", f"Its content is damaged: {seen.faults[0]}.", page=n)
        if seen.unfinished:
            severity: Severity = "stop" if f.x4 else "look"
            ended = {"q": "Q", "BT": "ET", "BDC": "EMC"}[seen.unfinished]
            yield defect("content", f"Its content is damaged: a {seen.unfinished} has no {ended}.", severity, n)
        if not seen.paints:
            yield defect("blank", "Nothing is on it.", "look", n)
        if seen.intents:
            intents_seen = ", ".join(sorted(seen.intents))
            yield defect(
                "intent", f"It has an unknown rendering intent: {intents_seen}.", "stop" if f.x4 else "look", n
            )
        if seen.halftones and f.x4:
            yield defect("transfer", "It asks for a screen of its own, which PDF/X-4 does not take.", page=n)
        if any(str(mask.get("/ColorSpace")) not in ("/DeviceGray", "/G") for mask in seen.masks):
            yield defect("soft_mask", "A picture's soft mask is in colour.", page=n)
        if seen.blends:
            yield defect("blend", f"It has an unknown blend mode: {', '.join(sorted(seen.blends))}.", page=n)
        if any(_is_inverted(picture) for picture in seen.pictures):
            yield defect("decode", "A picture on it is inverted (its Decode array).", "look", n)
        if seen.transfers and f.x4:
            yield defect("transfer", "It changes the press's own curves.", page=n)
        if seen.postscript:
            yield defect("postscript", "PostScript is in it.", "stop" if f.x4 else "look", n)
        for stream in seen.streams:
            kinds = stream.get("/Filter", ())
            names = {str(k) for k in (kinds if isinstance(kinds, pikepdf.Array) else [kinds])} if kinds else set()
            if f.x4 and "/LZWDecode" in names:
                yield defect("lzw", "It is packed by LZW, which PDF/X-4 does not take.", page=n)
                break
            if f.x4 and ("/Alternates" in stream or "/OPI" in stream):
                yield defect("alternates", "A picture has others to stand in for it.", page=n)
                break
            if f.x4 and "/Ref" in stream:
                yield defect("reference", "It shows a page of another file.", page=n)
                break


def _is_inverted(picture: Picture) -> bool:
    """Whether a picture's numbers are turned round, which only some JPEGs of inks are stored for (Adobe's APP14 marker)."""
    stream = picture.stream
    decode = [float(v) for v in stream.get("/Decode", [])]
    if len(decode) < 2 or decode[0] <= decode[1] or stream.get("/ImageMask", False):
        return False
    jpeg = jpeg_of(stream)
    return not (jpeg is not None and len(decode) == 8 and b"Adobe" in jpeg[:4096])


def ink(f: CheckedPdf) -> Found:
    """No place takes more ink than the press: pictures in inks as they are, in RGB as they will be; what is drawn."""
    press = f.lab.press if f.lab else None
    if press is None or f.press_space not in ("", "CMYK"):
        return
    icc = f.profile or (press_bytes(press, f.assets) if f.assets else b"")
    if describe_profile(icc)[1] != "CMYK":
        return
    for n, seen in enumerate(f.seen, 1):
        most = max((_most_ink(p.stream, icc, f.lab) for p in seen.pictures if p.family != "DeviceGray"), default=0.0)  # type: ignore[arg-type]
        if seen.most_ink > press.ink_limit + 2:
            sentence = f"A shape or text takes {seen.most_ink:.0f} % of ink; the press takes {press.ink_limit}."
            yield defect("ink", sentence, "look", n)
        if most > press.ink_limit + 2:
            yield defect("ink", f"A picture takes {most:.0f} % of ink; the press takes {press.ink_limit}.", "look", n)


def _most_ink(stream: Any, icc: bytes, lab: LabSheet) -> float:
    """The ink sum that a thousandth of a JPEG's places is above, percent; other pictures are not decoded."""
    jpeg = jpeg_of(stream)
    if jpeg is None:
        return 0.0
    with Image.open(io.BytesIO(jpeg)) as picture:
        picture.draft(None, (400, 400))
        if picture.mode == "CMYK":
            inks = np.asarray(picture)
        elif picture.mode == "RGB" and lab.press:
            inks = convert_to_inks(np.asarray(picture), lab.profile, icc, lab.press.intent, lab.press.black_point)
        else:
            return 0.0
    return float(np.quantile(inks.astype(np.float32).sum(-1), 0.999)) / 255 * 100
