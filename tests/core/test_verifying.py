"""Print files read back: our own pass, and each of many defects put into them is named. Other programs' files too."""

import io
import json
import re
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path

import numpy as np
import pikepdf
import pytest
from pikepdf import Array, Dictionary, Name, Stream, String
from PIL import Image

from sutaru.command_line.main import main
from sutaru.core.colour.profiles import profile_bytes
from sutaru.core.document import Background, Blank, Layout, PdfRules, Press, Text
from sutaru.core.paint import refuse_asset
from sutaru.core.press.exporting import export
from sutaru.core.verifying.pdf_check import RULES
from sutaru.core.verifying.print_files import verify
from sutaru.core.verifying.raster import quality_of
from tests.conftest import LABS, SHELF, one_sheet

MADE = datetime(2026, 6, 20, 12, tzinfo=UTC)
BLANK = Blank(id="b", name="B", product="card", width_mm=80, height_mm=60, bleed_mm=3)
LAB = LABS["gullwing-300"].copy_with(any_size=False, 
    press=Press(), pdf=PdfRules(x4=True, cut="Cut"), format="pdf", ppi_target=150, ppi_least=100, blanks=(BLANK,),
    bindery=None,
)  # fmt: skip


def written(folder: Path, kind: str = "pdf", lab=LAB) -> Path:  # type: ignore[no-untyped-def]
    words = Text(id="w", text="Skerry", centre=(40, 30), width_mm=70, height_mm=12, size_pt=24, colour="#000000")
    layout = Layout(width_mm=80, height_mm=60, bleed_mm=3, layers=(Background(id="g", colour="#dfe8ee"), words))
    return export(one_sheet(layout).copy_with(lab=lab), folder, None, MADE, kind, assets=SHELF.asset)[0]  # type: ignore[arg-type]


@pytest.fixture(scope="module")
def sound(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return written(tmp_path_factory.mktemp("sound"))


def test_what_we_write_is_in_order(sound: Path, tmp_path: Path) -> None:
    report = verify(sound, LAB, refuse_asset)
    assert report.defects == ()
    assert (report.standard, report.pages, report.checked) == ("PDF/X-4", 1, ("ISO 15930-7", "Gullwing 300"))
    for kind in ("jpeg", "tiff", "png"):
        assert (
            verify(
                written(tmp_path, kind, LAB.copy_with(format=kind)), LAB.copy_with(format=kind), refuse_asset
            ).defects
            == ()
        )
    rgb = LAB.copy_with(press=Press(convert=False))
    assert verify(written(tmp_path / "rgb", "pdf", rgb), rgb, refuse_asset).defects == ()


# --- defects put into a PDF -------------------------------------------------------------------------------------------


def paint(pdf: pikepdf.Pdf, content: str) -> None:
    pdf.pages[0].contents_add(Stream(pdf, content.encode()))


def xmp(key: str, value: str | None) -> Callable[[pikepdf.Pdf], None]:
    def change(pdf: pikepdf.Pdf) -> None:
        with pdf.open_metadata(set_pikepdf_as_editor=False, update_docinfo=False) as told:
            if value is None:
                del told[key]
            else:
                told[key] = value

    return change


def form(pdf: pikepdf.Pdf, content: bytes, **more: object) -> None:
    """Puts a form with some content on the page."""
    fields = {"Type": Name.XObject, "Subtype": Name.Form, "BBox": Array([0, 0, 200, 200]), **more}
    made = Stream(pdf, content, **fields)
    pdf.pages[0].obj.Resources.XObject["/Extra"] = pdf.make_indirect(made)
    paint(pdf, "/Extra Do")


def picture(pdf: pikepdf.Pdf, side: int, scale: float, **more: object) -> None:
    fields = {"ColorSpace": Name.DeviceCMYK, "BitsPerComponent": 8, **more}
    fields = {"Width": side, "Height": side, "Type": Name.XObject, "Subtype": Name.Image, **fields}
    pdf.pages[0].obj.Resources.XObject["/Extra"] = pdf.make_indirect(Stream(pdf, bytes(4 * side * side), **fields))
    paint(pdf, f"q {scale} 0 0 {scale} 20 20 cm /Extra Do Q")


def font(pdf: pikepdf.Pdf, content: str) -> None:
    found = Dictionary(Type=Name.Font, Subtype=Name.Type1, BaseFont=Name.Helvetica)
    pdf.pages[0].obj.Resources.Font = Dictionary(F=pdf.make_indirect(found))
    paint(pdf, content)


def state(pdf: pikepdf.Pdf, content: str, **said: object) -> None:
    pdf.pages[0].obj.Resources.ExtGState["/Extra"] = Dictionary(Type=Name.ExtGState, **said)
    paint(pdf, content)


def intent(pdf: pikepdf.Pdf):  # type: ignore[no-untyped-def]
    return pdf.Root.OutputIntents[0]


def new_profile(pdf: pikepdf.Pdf, data: bytes, n: int = 4) -> None:
    intent(pdf).DestOutputProfile = pdf.make_indirect(Stream(pdf, data, N=n))


def note(pdf: pikepdf.Pdf, **more: object) -> None:
    made = Dictionary(Type=Name.Annot, Rect=Array([20, 20, 40, 40]), **more)
    pdf.pages[0].obj.Annots = Array([pdf.make_indirect(made)])


def group(pdf: pikepdf.Pdf):  # type: ignore[no-untyped-def]
    return pdf.Root.OCProperties.OCGs[0]


def page(pdf: pikepdf.Pdf):  # type: ignore[no-untyped-def]
    return pdf.pages[0].obj


def pattern(pdf: pikepdf.Pdf, PatternType: int, **more: object) -> None:
    fields = {"Type": Name.Pattern, "PatternType": PatternType, **more}
    tile = {
        "PaintType": 1,
        "TilingType": 1,
        "BBox": Array([0, 0, 9, 9]),
        "XStep": 9,
        "YStep": 9,
        "Resources": Dictionary(),
    }
    made: object = Stream(pdf, b"1 0 0 rg 0 0 5 5 re f", **fields, **tile) if PatternType == 1 else Dictionary(**fields)
    page(pdf).Resources["/Pattern"] = Dictionary(Extra=pdf.make_indirect(made))
    paint(pdf, "/Pattern cs /Extra scn 20 20 30 30 re f")


def masked(pdf: pikepdf.Pdf, content: bytes, **said: object) -> None:
    shape = Stream(
        pdf, content, Type=Name.XObject, Subtype=Name.Form, BBox=Array([0, 0, 200, 200]), Resources=Dictionary(),
        Group=Dictionary(S=Name.Transparency, **{"CS": Name.DeviceGray, **said}),
    )  # fmt: skip
    state(pdf, "/Extra gs", SMask=Dictionary(S=Name.Luminosity, G=pdf.make_indirect(shape)))


def own_font(pdf: pikepdf.Pdf, data: bytes) -> None:
    about = Dictionary(
        Type=Name.FontDescriptor, FontName=Name.Kite, Flags=32, FontFile2=pdf.make_indirect(Stream(pdf, data))
    )
    found = Dictionary(
        Type=Name.Font, Subtype=Name.TrueType, BaseFont=Name.Kite, FontDescriptor=pdf.make_indirect(about)
    )
    page(pdf).Resources.Font = Dictionary(F=pdf.make_indirect(found))
    paint(pdf, "BT 0 0 0 1 k /F 12 Tf 30 30 Td (kite) Tj ET")


def jpeg(pdf: pikepdf.Pdf, harm: bool = False, **more: object) -> None:
    """A picture in inks of 160 px, said to be so; ``harm``: with zeros in its middle."""
    data = io.BytesIO()
    noise = np.random.default_rng(2).integers(0, 90, (160, 160, 4), np.uint8)
    Image.fromarray(noise, "CMYK").save(data, "JPEG", quality=90)
    kept = bytearray(data.getvalue())
    if harm:
        kept[len(kept) // 2 : len(kept) // 2 + 400] = bytes(400)
    fields = {"Width": 160, "Height": 160, "ColorSpace": Name.DeviceCMYK, "BitsPerComponent": 8, "Filter": Name.DCTDecode,
              "Type": Name.XObject, "Subtype": Name.Image, **more}  # fmt: skip
    page(pdf).Resources.XObject["/Extra"] = pdf.make_indirect(Stream(pdf, bytes(kept), **fields))
    paint(pdf, "q 60 0 0 60 20 20 cm /Extra Do Q")


def test_a_sound_picture_is_none(sound: Path, tmp_path: Path) -> None:
    with pikepdf.open(sound) as pdf:
        jpeg(pdf, Decode=Array([1, 0] * 4))  # stored inverted, as its marker says, and turned back
        pdf.save(tmp_path / "more.pdf", force_version="1.6", deterministic_id=True)
    assert {one.rule for one in verify(tmp_path / "more.pdf", LAB, refuse_asset).defects} <= {"ink"}


def test_a_jpeg_2000_may_say_its_colours_itself(sound: Path, tmp_path: Path) -> None:
    data = io.BytesIO()
    Image.new("L", (120, 120), 90).save(data, "JPEG2000")
    with pikepdf.open(sound) as pdf:
        fields = {"Type": Name.XObject, "Subtype": Name.Image, "Width": 120, "Height": 120, "Filter": Name.JPXDecode}
        page(pdf).Resources.XObject["/Extra"] = pdf.make_indirect(Stream(pdf, data.getvalue(), **fields))
        paint(pdf, "q 20 0 0 20 20 20 cm /Extra Do Q")
        pdf.save(tmp_path / "more.pdf", force_version="1.6", deterministic_id=True)
    assert verify(tmp_path / "more.pdf", LAB, refuse_asset).defects == ()


def separation(pdf: pikepdf.Pdf, other: Name = Name.DeviceCMYK, channels: int = 4) -> None:
    tint = Dictionary(FunctionType=2, Domain=[0, 1], C0=[0] * channels, C1=[0, 1, 1, 0][:channels], N=1)
    page(pdf).Resources.ColorSpace["/Own"] = Array([Name.Separation, Name("/Gold Foil"), other, tint])
    paint(pdf, "/Own cs 1 scn 20 20 30 30 re f")


def plates(pdf: pikepdf.Pdf, names: list[str]) -> None:
    tint = Stream(pdf, b"{pop pop 0 0 0 0}", FunctionType=4, Domain=[0, 1] * len(names), Range=[0, 1] * 4)
    space = [Name.DeviceN, Array([Name(name) for name in names]), Name.DeviceCMYK, pdf.make_indirect(tint)]
    page(pdf).Resources.ColorSpace["/Own"] = Array(space)
    paint(pdf, "/Own cs 1 1 scn 20 20 30 30 re f")


def drawn_font(pdf: pikepdf.Pdf, glyph: bytes) -> None:
    made = Dictionary(
        Type=Name.Font, Subtype=Name.Type3, FontBBox=Array([0, 0, 9, 9]), FontMatrix=Array([0.1, 0, 0, 0.1, 0, 0]),
        CharProcs=Dictionary(kite=pdf.make_indirect(Stream(pdf, glyph))), FirstChar=107, LastChar=107, Widths=Array([9]),
        Encoding=Dictionary(Differences=Array([107, Name.kite])),
    )  # fmt: skip
    page(pdf).Resources.Font = Dictionary(F=pdf.make_indirect(made))
    paint(pdf, "BT /F 12 Tf 30 30 Td (k) Tj ET")


def nested(pdf: pikepdf.Pdf, content: bytes | None) -> None:
    """A form in a form; or, where nothing is its content, one that shows itself."""
    fields = {"Type": Name.XObject, "Subtype": Name.Form, "BBox": Array([0, 0, 200, 200])}
    inner = pdf.make_indirect(Stream(pdf, content if content is not None else b"/In Do", **fields))
    if content is None:
        inner.Resources = Dictionary(XObject=Dictionary(In=inner))
    form(pdf, b"/In Do", Resources=Dictionary(XObject=Dictionary(In=inner)))


def profiled(pdf: pikepdf.Pdf, icc: bytes, channels: int) -> None:
    space = Array([Name.ICCBased, pdf.make_indirect(Stream(pdf, icc, N=channels))])
    picture(pdf, 90, 20, ColorSpace=space)


def softened(pdf: pikepdf.Pdf, space: Name) -> None:
    mask = Stream(
        pdf,
        bytes(4 * 8 * 8),
        Type=Name.XObject,
        Subtype=Name.Image,
        Width=8,
        Height=8,
        BitsPerComponent=8,
        ColorSpace=space,
    )
    picture(pdf, 90, 20, SMask=pdf.make_indirect(mask))


def stretched(pdf: pikepdf.Pdf, side: int, wide: float, high: float) -> None:
    picture(pdf, side, wide)
    paint(pdf, f"q {wide} 0 0 {high} 20 20 cm /Extra Do Q")


def changed_profile(at: int, said: bytes) -> bytes:
    icc = profile_bytes("fogra39")
    return icc[:at] + said + icc[at + len(said) :]


DEFECTS: dict[str, tuple[Callable[[pikepdf.Pdf], object], str]] = {
    "no output intent": (lambda pdf: pdf.Root.__delitem__("/OutputIntents"), "output_intent"),
    "two output intents": (lambda pdf: pdf.Root.OutputIntents.append(intent(pdf)), "output_intent"),
    "an intent for another purpose": (lambda pdf: intent(pdf).__setitem__("/S", Name.GTS_PDFA1), "output_intent"),
    "no condition": (lambda pdf: intent(pdf).__delitem__("/OutputConditionIdentifier"), "condition"),
    "no profile": (lambda pdf: intent(pdf).__delitem__("/DestOutputProfile"), "intent_profile"),
    "a damaged profile": (lambda pdf: new_profile(pdf, b"\0" * 300), "intent_profile"),
    "a screen's profile": (lambda pdf: new_profile(pdf, profile_bytes("srgb"), 3), "intent_class"),
    "a wrong number of channels": (lambda pdf: new_profile(pdf, profile_bytes("fogra39"), 3), "intent_channels"),
    "another press": (lambda pdf: new_profile(pdf, profile_bytes("tr006")), "press"),
    "no XMP": (lambda pdf: pdf.Root.__delitem__("/Metadata"), "xmp"),
    "no version in XMP": (xmp("pdfxid:GTS_PDFXVersion", None), "standard"),
    "another standard": (xmp("pdfxid:GTS_PDFXVersion", "PDF/X-3:2003"), "standard"),
    "no date in XMP": (xmp("xmp:MetadataDate", None), "xmp_dates"),
    "no identity in XMP": (xmp("xmpMM:DocumentID", None), "xmp_ids"),
    "no title": (xmp("dc:title", None), "title"),
    "trapped unknown": (lambda pdf: pdf.docinfo.__setitem__("/Trapped", Name.Unknown), "trapped"),
    "trapped twice": (xmp("pdf:Trapped", "True"), "trapped"),
    "JavaScript": (
        lambda pdf: pdf.Root.__setitem__("/OpenAction", Dictionary(S=Name.JavaScript, JS=String("app.beep()"))), "actions"),
    "an action of a page": (lambda pdf: page(pdf).__setitem__("/AA", Dictionary()), "actions"),
    "an attachment": (lambda pdf: pdf.attachments.__setitem__("a.txt", b"a"), "attachments"),
    "a form": (lambda pdf: pdf.Root.__setitem__("/AcroForm", Dictionary(Fields=[Dictionary()])), "form"),
    "a nameless set of layers": (lambda pdf: pdf.Root.OCProperties.D.__delitem__("/Name"), "layer_names"),
    "layers by zoom": (lambda pdf: pdf.Root.OCProperties.D.__setitem__("/AS", Array([])), "layer_states"),
    "a layer that is off": (lambda pdf: pdf.Root.OCProperties.D.__setitem__("/OFF", Array([group(pdf)])), "layers_off"),
    "no trim box": (lambda pdf: page(pdf).__delitem__("/TrimBox"), "trim_box"),
    "trim and art": (lambda pdf: page(pdf).__setitem__("/ArtBox", page(pdf).TrimBox), "trim_and_art"),
    "a trim beyond the bleed": (lambda pdf: page(pdf).__setitem__("/BleedBox", Array([20, 20, 200, 150])), "trim_off_bleed"),
    "a bleed beyond the sheet": (lambda pdf: page(pdf).__setitem__("/BleedBox", Array([-9, 0, 243, 187])), "off_media"),
    "turned": (lambda pdf: page(pdf).__setitem__("/Rotate", 90), "rotated"),
    "another unit": (lambda pdf: page(pdf).__setitem__("/UserUnit", 2), "user_unit"),
    "another size": (lambda pdf: page(pdf).__setitem__("/TrimBox", Array([20, 20, 200, 150])), "size"),
    "too little bleed": (lambda pdf: page(pdf).__setitem__("/BleedBox", Array([6, 6, 238, 181])), "bleed"),
    "a note": (lambda pdf: note(pdf, Subtype=Name.Text, Contents=String("hm")), "annotation"),
    "a note that acts": (lambda pdf: note(pdf, Subtype=Name.Link, A=Dictionary(S=Name.Launch)), "note_action"),
    "RGB without a profile": (lambda pdf: paint(pdf, "1 0 0 rg 20 20 30 30 re f"), "device_rgb"),
    "RGB in a form": (lambda pdf: form(pdf, b"0 1 0 RG 0 0 m 50 50 l S"), "device_rgb"),
    "an RGB picture": (lambda pdf: picture(pdf, 90, 20, ColorSpace=Name.DeviceRGB), "device_rgb"),
    "a plate of its own": (separation, "spot"),
    "a font that is not there": (lambda pdf: font(pdf, "BT /F 12 Tf 30 30 Td (kite) Tj ET"), "font"),
    "words in several inks": (lambda pdf: font(pdf, "BT 0.6 0.5 0.5 1 k /F 9 Tf 30 30 Td (kite) Tj ET"), "black_words"),
    "tiny words": (lambda pdf: font(pdf, "BT 0 0 0 1 k /F 3 Tf 30 30 Td (kite) Tj ET"), "small_words"),
    "a coarse picture": (lambda pdf: picture(pdf, 20, 60), "ppi"),
    "a hairline": (lambda pdf: paint(pdf, "0 0 0 1 K 0.05 w 20 20 m 90 90 l S"), "hairline"),
    "white that prints over": (
        lambda pdf: state(pdf, "/Extra gs 0 0 0 0 k 20 20 30 30 re f", op=True, OP=True), "white_overprint"),
    "a transfer curve": (lambda pdf: state(pdf, "/Extra gs", TR=Name.Identity), "transfer"),
    "PostScript": (lambda pdf: form(pdf, b"", Subtype=Name.PS), "postscript"),
    "a page of another file": (lambda pdf: form(pdf, b"", Ref=Dictionary(F=String("other.pdf"), Page=0)), "reference"),
    "pictures to choose from": (lambda pdf: picture(pdf, 90, 20, Alternates=Array([])), "alternates"),
    "a cut profile": (lambda pdf: new_profile(pdf, profile_bytes("fogra39")[:-2000]), "intent_profile"),
    "a trim of no width": (lambda pdf: page(pdf).__setitem__("/TrimBox", Array([20, 20, 20, 150])), "trim_box"),
    "RGB in a pattern": (lambda pdf: pattern(pdf, PatternType=1), "device_rgb"),
    "RGB in a shading": (lambda pdf: pattern(pdf, PatternType=2, Shading=Dictionary(
        ShadingType=2, ColorSpace=Name.DeviceRGB, Coords=[0, 0, 9, 9],
        Function=Dictionary(FunctionType=2, Domain=[0, 1], C0=[0, 0, 0], C1=[1, 0, 0], N=1))), "device_rgb"),
    "RGB in an inline picture": (
        lambda pdf: paint(pdf, "q 9 0 0 9 20 20 cm BI /W 2 /H 1 /CS /RGB /BPC 8 ID abcdef EI Q"), "device_rgb"),
    "RGB in a soft mask": (lambda pdf: masked(pdf, b"1 0 0 rg 0 0 50 50 re f"), "device_rgb"),
    "RGB in a soft mask's group": (lambda pdf: masked(pdf, b"0 g 0 0 50 50 re f", CS=Name.DeviceRGB), "device_rgb"),
    "RGB in the page's group": (lambda pdf: page(pdf).Group.__setitem__("/CS", Name.DeviceRGB), "device_rgb"),
    "another title in XMP": (xmp("dc:title", "Dunes"), "title"),
    "another date in XMP": (xmp("xmp:CreateDate", "2020-01-01T00:00:00+00:00"), "xmp_dates"),
    "another standard in its information": (
        lambda pdf: pdf.docinfo.__setitem__("/GTS_PDFXVersion", String("PDF/X-1:2001")), "standard"),
    "a state never kept": (lambda pdf: paint(pdf, "Q Q"), "content"),
    "a state never taken back": (lambda pdf: paint(pdf, "q 0 0 0 1 k"), "content"),
    "a font file that is none": (lambda pdf: own_font(pdf, b"kites " * 200), "content"),
    "a picture of another width": (lambda pdf: jpeg(pdf, Width=150), "syntax"),
    "a picture that is its negative": (lambda pdf: picture(pdf, 90, 20, Decode=Array([1, 0] * 4)), "decode"),
    "a blend that nobody knows": (lambda pdf: state(pdf, "/Extra gs", BM=Name.Shimmer), "blend"),
    "zeros in a picture": (lambda pdf: jpeg(pdf, harm=True), "syntax"),
    "too much ink in a shape": (lambda pdf: paint(pdf, "1 1 1 1 k 20 20 60 60 re f"), "ink"),
    "too much ink in a line": (lambda pdf: paint(pdf, "1 1 1 1 K 2 w 20 20 m 60 60 l S"), "ink"),
    "RGB behind a plate of its own": (lambda pdf: separation(pdf, Name.DeviceRGB, 3), "device_rgb"),
    "RGB in the glyphs of a font": (lambda pdf: drawn_font(pdf, b"9 0 d0 1 0 0 rg 0 0 5 5 re f"), "device_rgb"),
    "RGB in a form in a form": (lambda pdf: nested(pdf, b"1 0 0 rg 0 0 9 9 re f"), "device_rgb"),
    "RGB in a table of colours": (lambda pdf: picture(pdf, 90, 20, ColorSpace=Array(
        [Name.Indexed, Name.DeviceRGB, 1, String("abcdef")])), "device_rgb"),
    "several plates of its own": (lambda pdf: plates(pdf, ["/Cyan", "/Kite Blue"]), "spot"),
    "a colour space that is nowhere": (lambda pdf: paint(pdf, "/Sea cs 1 scn 20 20 9 9 re f"), "colour_space"),
    "a damaged profile of a picture": (lambda pdf: profiled(pdf, profile_bytes("srgb")[:-40], 3), "profile"),
    "a profile of a picture with wrong channels": (lambda pdf: profiled(pdf, profile_bytes("srgb"), 4), "profile"),
    "a picture that lacks pixels": (lambda pdf: picture(pdf, 90, 20, Height=140), "syntax"),
    "a JPEG in other channels": (lambda pdf: jpeg(pdf, ColorSpace=Name.DeviceGray), "syntax"),
    "a JPEG of another height": (lambda pdf: jpeg(pdf, Height=161), "syntax"),
    "a soft mask in colour": (lambda pdf: softened(pdf, Name.DeviceCMYK), "soft_mask"),
    "a form that shows itself": (lambda pdf: nested(pdf, None), "content"),
    "words never ended": (lambda pdf: paint(pdf, "BT 0 0 0 1 k"), "content"),
    "words ended twice": (lambda pdf: paint(pdf, "ET"), "content"),
    "a mark never ended": (lambda pdf: paint(pdf, "/Kite BMC 20 20 9 9 re f"), "content"),
    "a mark ended twice": (lambda pdf: paint(pdf, "EMC"), "content"),
    "a font that is nowhere": (lambda pdf: paint(pdf, "BT /Nowhere 9 Tf (kite) Tj ET"), "content"),
    "a state that is nowhere": (lambda pdf: paint(pdf, "/Nowhere gs"), "content"),
    "a rendering intent that nobody knows": (lambda pdf: paint(pdf, "/Pleasing ri 20 20 9 9 re f"), "intent"),
    "such an intent in a state": (lambda pdf: state(pdf, "/Extra gs", RI=Name.Pleasing), "intent"),
    "such an intent of a picture": (lambda pdf: picture(pdf, 90, 20, Intent=Name.Pleasing), "intent"),
    "a screen of its own": (lambda pdf: state(pdf, "/Extra gs", HT=Dictionary(HalftoneType=6)), "transfer"),
    "a transfer curve of a second kind": (lambda pdf: state(pdf, "/Extra gs", TR2=Name.Identity), "transfer"),
    "a place for its screen": (lambda pdf: state(pdf, "/Extra gs", HTP=Array([1, 1])), "transfer"),
    "nothing on a page": (lambda pdf: page(pdf).__setitem__("/Contents", Stream(pdf, b"")), "blank"),
    "a crop box within the trim": (lambda pdf: page(pdf).__setitem__("/CropBox", Array([40, 40, 200, 150])), "crop_box"),
    "white words that print over": (
        lambda pdf: state(pdf, "/Extra gs BT 0 0 0 0 k /F 9 Tf (kite) Tj ET", op=True), "white_overprint"),
    "too much ink in words": (lambda pdf: font(pdf, "BT 1 1 1 0.8 k /F 20 Tf 30 30 Td (kite) Tj ET"), "ink"),
    "words made tiny by the page": (
        lambda pdf: font(pdf, "q .2 0 0 .2 0 0 cm BT 0 0 0 1 k /F 12 Tf (kite) Tj ET Q"), "small_words"),
    "a line of no width": (lambda pdf: paint(pdf, "0 0 0 1 K 0 w 20 20 m 90 90 l S"), "hairline"),
    "a thin line by a state": (lambda pdf: state(pdf, "/Extra gs 0 0 0 1 K 20 20 m 90 90 l S", LW=0.05), "hairline"),
    "a coarse picture in one direction": (lambda pdf: stretched(pdf, 90, 20, 90), "ppi"),
    "a blend among several that nobody knows": (
        lambda pdf: state(pdf, "/Extra gs", BM=Array([Name.Shimmer, Name.Glow])), "blend"),
    "a scanner's profile": (lambda pdf: new_profile(pdf, changed_profile(12, b"scnr")), "intent_class"),
    "a profile without its mark": (lambda pdf: new_profile(pdf, changed_profile(36, b"acsq")), "intent_profile"),
    "a condition without a name": (lambda pdf: intent(pdf).__setitem__("/OutputConditionIdentifier", String("")), "condition"),
    "no version of the document in XMP": (xmp("xmpMM:VersionID", None), "xmp_ids"),
    "no date of creation in XMP": (xmp("xmp:CreateDate", None), "xmp_dates"),
    "another title in its information": (lambda pdf: pdf.docinfo.__setitem__("/Title", String("Dunes")), "title"),
    "trapped by both and neither": (lambda pdf: pdf.docinfo.__setitem__("/Trapped", String("False")), "trapped"),
    "scripts by name": (
        lambda pdf: pdf.Root.__setitem__("/Names", Dictionary(JavaScript=Dictionary(Names=Array([])))), "actions"),
    "a script of the document": (lambda pdf: pdf.Root.__setitem__("/AA", Dictionary()), "actions"),
    "files beside it": (lambda pdf: pdf.Root.__setitem__("/AF", Array([])), "attachments"),
    "a set of files": (lambda pdf: pdf.Root.__setitem__("/Collection", Dictionary()), "attachments"),
    "a form of another kind": (lambda pdf: pdf.Root.__setitem__("/AcroForm", Dictionary(XFA=String("x"))), "form"),
    "a film": (lambda pdf: note(pdf, Subtype=Name.Movie, A=Dictionary(S=Name.Movie)), "note_action"),
    "a link": (lambda pdf: note(pdf, Subtype=Name.Link, A=Dictionary(S=Name.URI)), "annotation"),
    "turned round": (lambda pdf: page(pdf).__setitem__("/Rotate", 180), "rotated"),
    "a trim off the sheet": (lambda pdf: page(pdf).__setitem__("/TrimBox", Array([-30, 8, 196, 178])), "off_media"),
    "another set of layers without a name": (
        lambda pdf: pdf.Root.OCProperties.__setitem__("/Configs", Array([Dictionary()])), "layer_names"),
    "a picture with a press's own files": (lambda pdf: picture(pdf, 90, 20, OPI=Dictionary()), "alternates"),
    "damaged content": (lambda pdf: paint(pdf, "q 1 0 0 cm /Nothing Do (((("), "content"),
}  # fmt: skip


@pytest.mark.parametrize("defect", list(DEFECTS))
def test_a_defect_put_into_a_pdf_is_named(defect: str, sound: Path, tmp_path: Path) -> None:
    harm, rule = DEFECTS[defect]
    target = tmp_path / "harmed.pdf"
    with pikepdf.open(sound) as pdf:
        harm(pdf)
        pdf.save(target, force_version="1.6", deterministic_id=True)
    report = verify(target, LAB, refuse_asset)
    found = {one.rule: one for one in report.defects}
    assert rule in found, (rule, report.defects)
    assert found[rule].sentence.endswith(".")
    # Nothing else is made up about it, but for what follows from the same defect.
    follows = {"standard", "output_intent", "intent_profile", "intent_class", "press", "font", "device_cmyk", "content",
               "xmp_version", "trim_off_bleed", "off_media", "bleed", "size", "title", "xmp", "trapped", "small_words",
               "syntax", "annotation", "xmp_dates", "xmp_ids", "crop_box", "spot"}  # fmt: skip
    assert set(found) - {rule} <= follows


def test_broken_xmp_is_named(sound: Path, tmp_path: Path) -> None:
    target = tmp_path / "harmed.pdf"
    target.write_bytes(sound.read_bytes().replace(b"</rdf:RDF>", b"</rdf:RDX>"))
    assert ("xmp", "Its XMP metadata is damaged.") in {(one.rule, one.sentence) for one in verify(target).defects}


def test_a_harmed_file_is_no_reason_to_fail(sound: Path, tmp_path: Path) -> None:
    target = tmp_path / "cut.pdf"
    target.write_bytes(sound.read_bytes()[:4000])
    assert verify(target, LAB, refuse_asset).has_stops
    target.write_bytes(b"%PDF-1.6\nnothing at all")
    (told,) = verify(target).defects
    assert (told.rule, told.sentence[-23:]) == ("damaged", " file. Ask for it anew.")
    assert str(tmp_path) not in told.sentence
    target.write_bytes(sound.read_bytes().replace(b"endobj", b"endobx", 1))
    (told,) = [one for one in verify(target).defects if one.rule == "syntax"]
    assert re.fullmatch(r"Its structure is damaged: object \d+ 0, offset \d+: expected endobj\.", told.sentence)
    with pikepdf.open(sound) as pdf:
        pdf.save(target, encryption=pikepdf.Encryption(owner="a", user="b"))
    assert [one.rule for one in verify(target).defects] == ["encrypted"]
    with pikepdf.open(sound) as pdf:
        pdf.save(target, encryption=pikepdf.Encryption(owner="a", user=""), force_version="2.0")
    assert {"encrypted", "version"} <= {one.rule for one in verify(target).defects}


@pytest.mark.parametrize(("content", "said"), [
    ("1 0 0 cm", "cm is not given what it needs"), ("/Nothing Do", "Do names something that is not there"),
])  # fmt: skip
def test_damage_is_told_in_words(content: str, said: str, sound: Path, tmp_path: Path) -> None:
    with pikepdf.open(sound) as pdf:
        paint(pdf, content)
        pdf.save(tmp_path / "harmed.pdf", force_version="1.6")
    found = [one.sentence for one in verify(tmp_path / "harmed.pdf").defects if one.rule == "content"]
    assert found == [f"Its content is damaged: {said}."]


def test_a_rule_that_cannot_look_says_so(
    sound: Path, monkeypatch: pytest.MonkeyPatch, caplog: pytest.LogCaptureFixture
) -> None:
    def small_words(looked: object) -> None:
        raise RuntimeError("out of order")

    monkeypatch.setattr("sutaru.core.verifying.pdf_check.RULES", (small_words, *RULES))
    said = "Not checked for small words: it could not be looked for. Look for it by eye."
    assert [one.sentence for one in verify(sound, LAB, refuse_asset).defects] == [said]
    assert "out of order" in caplog.text


def test_files_of_other_programs(tmp_path: Path) -> None:
    from reportlab.pdfgen.canvas import Canvas

    path = tmp_path / "customer.pdf"
    canvas = Canvas(str(path), pagesize=(200, 150))
    canvas.setFillColorRGB(1, 0, 0)
    canvas.drawString(40, 40, "Kites")
    canvas.save()
    report = verify(path)
    assert (report.standard, report.has_stops) == ("", True)
    assert {one.rule for one in report.defects} == {"trim_box", "device_rgb", "font"}
    assert "standard" in {one.rule for one in verify(path, LAB, refuse_asset).defects}


# --- pictures ---------------------------------------------------------------------------------------------------------


def harmed_picture(path: Path, **said: object) -> Path:
    rgb = np.random.default_rng(1).integers(0, 255, (390, 508, 3), np.uint8)
    fields: dict = {"quality": 95, "dpi": (150, 150), "icc_profile": profile_bytes("srgb"), "subsampling": 0} | said
    Image.fromarray(rgb).save(path, **{k: v for k, v in fields.items() if v is not None})
    return path


def _orientation(value: int) -> Image.Exif:
    exif = Image.Exif()
    exif[0x0112] = value
    return exif


def _place() -> Image.Exif:
    exif = Image.Exif()
    exif.get_ifd(0x8825)[1] = "N"
    exif[0x8825] = {1: "N", 2: (54.0, 1.0, 2.0)}
    return exif


PICTURES = {
    "no profile": ({"icc_profile": None}, "profile"),
    "another profile": ({"icc_profile": profile_bytes("adobe-compatible")}, "press"),
    "a damaged profile": ({"icc_profile": b"\0" * 200}, "profile"), "too dense": ({"dpi": (300, 300)}, "density"),
    "stored turned": ({"exif": _orientation(6)}, "orientation"), "the place": ({"exif": _place()}, "place"),
    "saved badly": ({"quality": 60}, "quality"),
}  # fmt: skip
RGB_LAB = LAB.copy_with(press=None, pdf=PdfRules(), format="jpeg")


@pytest.mark.parametrize("defect", list(PICTURES))
def test_a_defect_of_a_picture_is_named(defect: str, tmp_path: Path) -> None:
    said, rule = PICTURES[defect]
    report = verify(harmed_picture(tmp_path / "p.jpg", **said), RGB_LAB)
    assert rule in {one.rule for one in report.defects}
    assert {one.rule for one in report.defects} <= {rule, "press"}
    assert verify(harmed_picture(tmp_path / "fine.jpg"), RGB_LAB).defects == ()


def test_other_defects_of_pictures(tmp_path: Path) -> None:
    path = harmed_picture(tmp_path / "p.jpg")
    path.write_bytes(path.read_bytes()[:9000])
    assert [one.rule for one in verify(path).defects] == ["damaged"]
    (tmp_path / "x.jpg").write_bytes(b"kite")
    assert [one.rule for one in verify(tmp_path / "x.jpg").defects] == ["damaged"]
    Image.new("RGBA", (508, 390)).save(tmp_path / "a.png", dpi=(150, 150), icc_profile=profile_bytes("srgb"))
    assert {one.rule for one in verify(tmp_path / "a.png", RGB_LAB).defects} == {"alpha", "format"}
    Image.new("RGB", (500, 390)).save(tmp_path / "s.jpg", dpi=(150, 150), icc_profile=profile_bytes("srgb"), quality=95)
    assert {one.rule for one in verify(tmp_path / "s.jpg", RGB_LAB).defects} == {"size"}


@pytest.mark.parametrize("quality", [40, 60, 75, 85, 92, 95, 98])
def test_qualities_are_told_from_tables(quality: int, tmp_path: Path) -> None:
    with Image.open(harmed_picture(tmp_path / "p.jpg", quality=quality)) as picture:
        assert quality_of(picture) == pytest.approx(quality, abs=1)


# --- the command, and time ---------------------------------------------------------------------------------------------


def test_from_the_command_line(sound: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["verify", str(sound)]) == 0
    out = capsys.readouterr().out
    assert "PDF/X-4" in out
    assert "structurally checked against ISO 15930-7" in out
    assert "certified" not in out
    with pikepdf.open(sound) as pdf:
        del pdf.Root.OutputIntents
        pdf.save(tmp_path / "harmed.pdf", force_version="1.6")
    assert main(["verify", str(tmp_path / "harmed.pdf"), "--json"]) == 1
    told = json.loads(capsys.readouterr().out)
    assert told["defects"][0]["rule"] == "output_intent"
    assert main(["verify", str(tmp_path / "harmed.pdf"), "--lab", "nobody"]) == 2
    assert main(["verify", str(tmp_path / "missing.pdf")]) == 2
    (tmp_path / "letter.pdf").write_bytes(b"Dear Ola")
    assert main(["verify", str(tmp_path / "letter.pdf")]) == 1
    assert "letter.pdf could not be looked into." in capsys.readouterr().out
    assert main(["verify", str(sound), "--lab", "gullwing-300", "--json"]) == 1  # it was made at 150 ppi
    assert "ppi" in {one["rule"] for one in json.loads(capsys.readouterr().out)["defects"]}
