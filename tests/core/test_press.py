"""Files for a press, in inks or with the press named, read back by independent programs."""

import json
import re
import subprocess
import threading
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime
from pathlib import Path

import numpy as np
import pikepdf
import pytest
import skimage.color
from PIL import Image

from sutaru.core.checks import check_job
from sutaru.core.colour.difference import ciede2000
from sutaru.core.colour.output import Output, output_of
from sutaru.core.colour.profiles import profile_bytes
from sutaru.core.colour.proofing import Proof
from sutaru.core.depths import Values
from sutaru.core.document import (
    Background,
    Blank,
    Flat,
    Job,
    Layout,
    Line,
    Opening,
    PdfRules,
    Photo,
    Placement,
    Press,
    Rectangle,
    StudioCard,
    Text,
)
from sutaru.core.errors import FileRefused
from sutaru.core.paint import Painter, refuse_asset
from sutaru.core.photos import PhotoPixels
from sutaru.core.press.exporting import export
from tests.conftest import LABS, SHELF, one_sheet

MADE = datetime(2026, 6, 20, 12, tzinfo=UTC)
MEASURED = Path("/usr/share/color/icc")  # of Debian's icc-profiles-free: characterisation data as published
PRESS_LAB = LABS["gullwing-300"].copy_with(
    press=Press(), pdf=PdfRules(x4=True), format="pdf", ppi_target=150, ppi_least=72
)


def run(*command: object, given: str = "") -> str:
    return subprocess.run(
        [str(part) for part in command], input=given, capture_output=True, text=True, check=True
    ).stdout


# --- files ----------------------------------------------------------------------------------------------------------


def _page(**more: object) -> Layout:
    return Layout(
        width_mm=80, height_mm=60, bleed_mm=3, layers=(
            Background(id="ground", colour="#f4efe4"),
            Opening(id="o", outline=Rectangle(width_mm=40, height_mm=30), surface=Flat(centre=(25, 25))),
            Text(id="black", text="Skerry", centre=(40, 48), width_mm=70, height_mm=12, size_pt=24, colour="#000000"),
            Text(id="red", text="Sands", centre=(62, 20), width_mm=30, height_mm=12, size_pt=20, colour="#b01818"),
        ), **more,
    )  # fmt: skip


@pytest.fixture
def job(pile: list[tuple[Path, Photo]]) -> Job:
    photo = pile[1][1]
    layout = _page(lines=(Line(kind="fold", axis="x", at_mm=40),))
    return one_sheet(layout, (photo,), {"o": Placement(photo=photo.id)}).copy_with(lab=PRESS_LAB)


@pytest.fixture
def pixels(pile: list[tuple[Path, Photo]]) -> PhotoPixels:
    paths = {photo.id: path for path, photo in pile}
    return PhotoPixels(lambda photo: paths[photo.id])


def written(job: Job, folder: Path, pixels: PhotoPixels, format: str | None = None) -> list[Path]:
    return export(job, folder, pixels, MADE, format, assets=SHELF.asset)  # type: ignore[arg-type]


def plates(pdf: Path, folder: Path) -> dict[str, np.ndarray]:
    """A page's plates, 0 to 1, as ghostscript separates them."""
    run(
        "gs",
        "-q",
        "-dNOPAUSE",
        "-dBATCH",
        "-dSAFER",
        "-sDEVICE=tiffsep",
        "-r150",
        f"-sOutputFile={folder}/sep.tif",
        pdf,
    )
    found = {}
    for path in folder.glob("sep*(*).tif"):
        with Image.open(path) as plate:
            found[re.search(r"\((.*)\)", path.name).group(1)] = 1 - np.asarray(plate.convert("L")) / 255
    return found


def test_black_words_are_black_ink_alone_over_what_lies_below(job: Job, pixels: PhotoPixels, tmp_path: Path) -> None:
    (pdf, _) = written(job, tmp_path, pixels)
    seen = plates(pdf, tmp_path)
    assert set(seen) == {"Cyan", "Magenta", "Yellow", "Black"}
    height, width = seen["Black"].shape
    band = np.s_[int(0.70 * height) : int(0.84 * height), int(0.1 * width) : int(0.9 * width)]
    letters = seen["Black"][band] > 0.98
    assert 500 < letters.sum() < letters.size / 2
    ground = (
        Output("srgb", profile_bytes("fogra39"), "CMYK").convert(np.array([[[0xF4, 0xEF, 0xE4]]], np.uint8))[0, 0] / 255
    )
    for n, ink in enumerate(("Cyan", "Magenta", "Yellow")):
        # Below the letters the ground goes on: nothing is left white there, nothing is added.
        assert seen[ink][band][letters].mean() == pytest.approx(float(ground[n]), abs=0.02)
    # Red words are inks by the profile, and take the ground away.
    wanted = (
        Output("srgb", profile_bytes("fogra39"), "CMYK").convert(np.array([[[0xB0, 0x18, 0x18]]], np.uint8))[0, 0] / 255
    )
    red = np.s_[int(0.28 * height) : int(0.45 * height), int(0.55 * width) : int(0.95 * width)]
    there = seen["Magenta"][red] > 0.9
    assert there.sum() > 200
    assert seen["Magenta"][red][there].mean() == pytest.approx(float(wanted[1]), abs=0.03)


def test_without_that_wish_black_words_are_inks_by_the_profile(job: Job, pixels: PhotoPixels, tmp_path: Path) -> None:
    lab = job.lab.copy_with(press=Press(black_words=False))
    (pdf, _) = written(job.copy_with(lab=lab), tmp_path, pixels)
    seen = plates(pdf, tmp_path)
    height, width = seen["Black"].shape
    band = np.s_[int(0.70 * height) : int(0.84 * height), int(0.1 * width) : int(0.9 * width)]
    letters = seen["Black"][band] > 0.9
    assert seen["Cyan"][band][letters].mean() > 0.5


@pytest.mark.parametrize("convert", [True, False])
def test_pdf_x4_as_independent_programs_read_it(job: Job, pixels: PhotoPixels, tmp_path: Path, convert: bool) -> None:
    lab = job.lab.copy_with(press=Press(convert=convert))
    (pdf, manifest) = written(job.copy_with(lab=lab), tmp_path, pixels)
    assert "No syntax or stream encoding errors" in run("qpdf", "--check", pdf)
    facts = json.loads(run("exiftool", "-json", "-a", "-G1", pdf))[0]
    assert any(key.endswith("GTS_PDFXVersion") and value == "PDF/X-4" for key, value in facts.items())
    assert (facts["PDF:Trapped"], facts["XMP-pdf:Trapped"]) == (False, False)
    assert facts["PDF:PDFVersion"] == 1.6
    assert "/GTS_PDFX" in run("mutool", "show", pdf, "trailer/Root/OutputIntents/1")
    stream = run("mutool", "show", pdf, "trailer/Root/OutputIntents/1/DestOutputProfile")
    assert "/N 4" in stream
    with pikepdf.open(pdf) as read:
        assert read.Root.OutputIntents[0].DestOutputProfile.read_bytes() == profile_bytes("fogra39")
        assert len(read.trailer.ID) == 2
    image = run("pdfimages", "-list", pdf).splitlines()[2].split()
    assert (image[5], image[12], image[13]) == ("cmyk" if convert else "icc", "150", "150")
    assert re.search(
        r'fill_path[^>]*colorspace="DeviceCMYK" color="0 0 0 1"[^>]* op="1" opm="1"', run("mutool", "trace", pdf)
    )
    told = json.loads(manifest.read_text())["files"][0]
    assert told["profile"] == ("fogra39" if convert else "srgb")
    again = written(job.copy_with(lab=lab), tmp_path / "again", pixels)[0]
    assert again.read_bytes() == pdf.read_bytes()  # the same, whenever the same is asked for


def test_cut_and_fold_lines_are_plates_of_their_own(job: Job, pixels: PhotoPixels, tmp_path: Path) -> None:
    lab = job.lab.copy_with(pdf=PdfRules(x4=True, cut="Cut", fold="Crease Line"))
    (pdf, _) = written(job.copy_with(lab=lab), tmp_path, pixels)
    seen = plates(pdf, tmp_path)
    assert set(seen) == {"Cyan", "Magenta", "Yellow", "Black", "Cut", "Crease Line"}
    px = 150 / 25.4
    rows, columns = np.nonzero(seen["Cut"] > 0.1)
    assert (columns.min() / px, columns.max() / px) == pytest.approx((3, 83), abs=0.3)
    assert (rows.min() / px, rows.max() / px) == pytest.approx((3, 63), abs=0.3)
    rows, columns = np.nonzero(seen["Crease Line"] > 0.1)
    assert columns.mean() / px == pytest.approx(43, abs=0.2)
    assert (rows.min(), rows.max()) == pytest.approx((0, 66 * px), abs=2)
    plain = plates(written(job, tmp_path / "plain", pixels)[0], tmp_path / "plain")
    for ink in ("Cyan", "Magenta", "Yellow", "Black"):  # they print over: nothing below is taken away
        assert np.abs(seen[ink] - plain[ink]).max() < 0.02


def test_the_next_page_is_painted_while_one_is_encoded(job: Job, pixels: PhotoPixels, tmp_path: Path) -> None:
    """Pages are encoded by threads that wait until the page after them has its photo: it comes, though none has been encoded."""
    sheets = tuple(job.sheets[0].copy_with(id=f"p{n}", name=f"Page {n}") for n in range(3))
    edition = job.editions[0].copy_with(fillings={sheet.id: job.filling(job.sheets[0].id) for sheet in sheets})
    lab = job.lab.copy_with(pdf=PdfRules(x4=True, one_file=True))
    album = job.copy_with(sheets=sheets, editions=(edition,), lab=lab)
    asked, late = threading.Semaphore(0), list[bool]()

    def told(photo: Photo, *how: object) -> Values:
        asked.release()
        return pixels(photo, *how)  # type: ignore[arg-type]

    class Waiting(ThreadPoolExecutor):
        def submit(self, work, /, *given, **more):  # type: ignore[no-untyped-def]
            if getattr(work, "__name__", "") == "strip" and not late:
                late.append(not asked.acquire(timeout=30) or not asked.acquire(timeout=30))
            return super().submit(work, *given, **more)

    with Waiting(2) as threads:
        export(album, tmp_path, pixels, MADE, painter=Painter(told, threads))
    assert late == [False]


def test_many_pages_in_one_file(job: Job, pixels: PhotoPixels, tmp_path: Path) -> None:
    first = job.sheets[0]
    more = tuple(
        first.copy_with(id=f"p{n}", name=f"Page {n}", layout=_page().copy_with(width_mm=80 + n)) for n in (2, 3)
    )
    lab = job.lab.copy_with(pdf=PdfRules(x4=True, one_file=True))
    whole = job.copy_with(sheets=(first, *more), lab=lab, name="Skerry")
    (pdf, manifest) = written(whole, tmp_path, pixels)
    assert pdf.name == "Skerry.pdf"
    assert run("qpdf", "--show-npages", pdf).strip() == "3"
    told = json.loads(manifest.read_text())["files"][0]
    assert told["pages"] == ["P", "Page 2", "Page 3"]
    boxes = re.findall(r"Page\s+\d+ TrimBox:\s+([\d. ]+)", run("pdfinfo", "-box", "-f", 1, "-l", 3, pdf))
    widths = [(float(b.split()[2]) - float(b.split()[0])) / 72 * 25.4 for b in boxes]
    assert widths == pytest.approx([80, 82, 83], abs=0.01)


@pytest.mark.parametrize("kind", ["jpeg", "tiff"])
def test_pictures_in_inks_hold_what_the_profile_says(job: Job, pixels: PhotoPixels, tmp_path: Path, kind: str) -> None:
    (path, _) = written(job, tmp_path, pixels, kind)
    png = written(job, tmp_path / "rgb", pixels, "png")[0]
    with Image.open(path) as inks, Image.open(png) as rgb:
        assert (inks.mode, inks.size) == ("CMYK", rgb.size)
        assert inks.info["icc_profile"] == profile_bytes("fogra39")
        assert tuple(round(float(v)) for v in inks.info["dpi"]) == (150, 150)
        wanted = Output("srgb", profile_bytes("fogra39"), "CMYK").convert(np.asarray(rgb))
        off = np.abs(np.asarray(inks).astype(int) - wanted)
        assert off.max() <= (0 if kind == "tiff" else 60)
        assert off.mean() < 1.5
    facts = json.loads(run("exiftool", "-json", "-a", "-G1", path))[0]
    assert facts["IFD0:XResolution"] == 150
    assert facts["XMP-dc:Title"] == "j, P"
    assert facts.get("File:ColorComponents", 4) == 4
    colourspace = run("identify", "-format", "%[colorspace] %x", path)
    assert colourspace.startswith("CMYK 150")


def test_grey_files_and_pictures_without_inks(job: Job, pixels: PhotoPixels, tmp_path: Path) -> None:
    lab = job.lab.copy_with(press=Press(profile="grey"), pdf=PdfRules())
    for kind in ("jpeg", "tiff", "pdf"):
        (path, _) = written(job.copy_with(lab=lab), tmp_path / kind, pixels, kind)
        if kind == "pdf":
            assert run("pdfimages", "-list", path).splitlines()[2].split()[5] == "icc"
            assert run("pdfimages", "-list", path).splitlines()[2].split()[6] == "1"
            continue
        with Image.open(path) as picture:
            assert (picture.mode, picture.info["icc_profile"]) == ("L", profile_bytes("grey"))
    (png, _) = written(job, tmp_path / "png", pixels, "png")  # a PNG has no inks: it stays as it was painted
    with Image.open(png) as picture:
        assert (picture.mode, picture.info["icc_profile"]) == ("RGB", profile_bytes("srgb"))


def test_x4_needs_a_press() -> None:
    with pytest.raises(ValueError, match="PDF/X-4 is made for a press"):
        type(PRESS_LAB).model_validate({**PRESS_LAB.model_dump(), "press": None})
    with pytest.raises(FileRefused):
        output_of(PRESS_LAB.copy_with(press=Press(profile="ab" * 32)), refuse_asset)


# --- proof ----------------------------------------------------------------------------------------------------------


def test_the_proof_shows_paper_and_press_as_measured() -> None:
    proof = Proof("srgb", Press(), refuse_asset)
    white = np.full((1, 1, 3), 255, np.uint8)
    # FOGRA39L, patch 1: paper is L*a*b* 95, 0, -2; patch of full magenta 48, 74, -3 (the data file in icc-profiles-free).
    assert proof.figures(white[0, 0]).lab == pytest.approx((95, 0, -2), abs=0.6)
    seen = proof.view(white, "paper")[0, 0]
    lab = skimage.color.rgb2lab(seen[None, None] / 255.0, illuminant="D65")[0, 0]
    assert ciede2000(lab, np.array([95.0, 0.0, -2.0])) < 1.0
    assert proof.view(white, "press")[0, 0].tolist() == [255, 255, 255]
    # What a press cannot reach is marked; what it reaches is not.
    colours = np.array([[[0, 255, 0], [128, 128, 128]]], np.uint8)
    moved = proof.colour_shift(colours)[0]
    assert moved[0] > 10
    assert moved[1] < 2
    marked = proof.view(colours, "reach")[0].astype(int)
    assert np.ptp(marked[0]) > 60
    assert np.ptp(marked[1]) <= 2
    assert proof.figures(colours[0, 0]).moved == pytest.approx(moved[0], abs=0.1)


def test_plates_and_ink_sums_are_the_files_own() -> None:
    rng = np.random.default_rng(2)
    rgb = rng.integers(0, 256, (40, 50, 3), np.uint8)
    inks = Output("srgb", profile_bytes("fogra39"), "CMYK", most_ink=250).convert(rgb)
    proof = Proof("srgb", Press(ink_limit=250), refuse_asset)
    for n, plate in enumerate(("cyan", "magenta", "yellow", "black")):
        assert (255 - proof.view(rgb, plate)[..., 0] == inks[..., n]).all()  # type: ignore[arg-type]
    unlimited = Output("srgb", profile_bytes("fogra39"), "CMYK").convert(rgb)
    over = unlimited.astype(float).sum(-1) / 2.55 > 250  # where the limit has to hold ink back
    assert over.any()
    marked = np.ptp(proof.view(rgb, "ink").astype(int), axis=-1) > 20
    assert (marked == over).all()
    figures = proof.figures(rgb[3, 4])
    assert figures.inks == pytest.approx([v / 2.55 for v in inks[3, 4].tolist()], abs=0.06)
    assert figures.ink_sum == pytest.approx(sum(figures.inks), abs=0.05)


@pytest.mark.parametrize("view", ["paper", "press", "reach"])
def test_the_fast_proof_is_the_exact_one_within_what_is_seen(view: str) -> None:
    rng = np.random.default_rng(4)
    rgb = rng.integers(0, 256, (120, 160, 3), np.uint8)
    proof = Proof("adobe-compatible", Press(profile="tr006"), refuse_asset)
    off = np.abs(proof.view(rgb, view).astype(int) - proof.paint_exactly(rgb, view))  # type: ignore[arg-type]
    assert off.mean() < 1.5
    assert np.quantile(off, 0.95) <= 6
    grid = np.stack(np.meshgrid(*[np.arange(0, 256, 85)] * 3, indexing="ij"), -1).reshape(1, -1, 3).astype(np.uint8)
    assert np.abs(proof.view(grid, view).astype(int) - proof.paint_exactly(grid, view)).max() <= 1  # type: ignore[arg-type]


def test_a_press_without_inks_has_no_plates() -> None:
    assert Proof("srgb", Press(profile="grey"), refuse_asset).views == ("paper", "press", "reach")
    grey = Proof("srgb", Press(profile="grey"), refuse_asset).view(np.array([[[200, 30, 30]]], np.uint8), "press")[0, 0]
    assert np.ptp(grey.astype(int)) <= 1


# --- bleed by side ------------------------------------------------------------------------------------------------------


def test_a_file_bleeds_at_the_sides_and_as_far_as_the_lab_wants(pile: list[tuple[Path, Photo]], tmp_path: Path) -> None:
    """At 254 ppi a millimetre is ten pixels: what is left away is cut off, and nothing else changes."""
    path, photo = pile[1]
    opening = Opening(id="o", outline=Rectangle(width_mm=130, height_mm=110), surface=Flat(centre=(60, 50)))
    layout = Layout(
        width_mm=120, height_mm=100, bleed_mm=3,
        layers=(Background(id="b", kind="background", colour="#ddeeff"), opening),
    )  # fmt: skip
    job = one_sheet(layout, (photo,), {"o": Placement(photo=photo.id)})
    plain = LABS["gullwing-300"].copy_with(ppi_target=254, format="png", blanks=(), bindery=None)

    def made(name: str, lab, kind: str = "png") -> Path:  # type: ignore[no-untyped-def]
        file, _ = export(job.copy_with(lab=lab), tmp_path / name, PhotoPixels(lambda asked: path), MADE, kind)  # type: ignore[arg-type]
        return file

    whole = np.asarray(Image.open(made("whole", plain)))
    assert whole.shape[:2] == (1060, 1260)
    some = np.asarray(Image.open(made("some", plain.copy_with(bleeds=("top", "right")))))
    assert some.shape[:2] == (1030, 1230)
    assert np.abs(some.astype(int) - whole[:1030, 30:]).max() <= 1
    none = np.asarray(Image.open(made("none", plain.copy_with(bleeds=()))))
    assert np.abs(none.astype(int) - whole[30:-30, 30:-30]).max() <= 1
    # A format that wants less.
    less = Blank(id="b", name="B", product="card", width_mm=100, height_mm=120, bleed_mm=2)
    assert np.asarray(Image.open(made("less", plain.copy_with(blanks=(less,))))).shape[:2] == (1040, 1240)
    told = json.loads((tmp_path / "some" / "manifest.json").read_text())["files"][0]
    assert (told["width_px"], told["height_px"], told["bleeds_mm"]) == (1230, 1030, [0.0, 3.0, 3.0, 0.0])
    with pikepdf.open(made("pdf", plain.copy_with(bleeds=("top", "right")), "pdf")) as pdf:
        page = pdf.pages[0].obj
        mm = [round(float(v) * 25.4 / 72, 3) for v in (*page.MediaBox, *page.TrimBox)]
    assert mm == [0, 0, 123, 103, 0, 0, 120, 100]  # PDF counts from below: what bleeds is above and to the right
    strict = plain.copy_with(blanks=(less.copy_with(bleed_mm=5),))
    (finding,) = [one for one in check_job(job.copy_with(lab=strict)) if one.rule == "little_bleed"]
    assert (finding.severity, finding.measured, finding.limit) == ("stop", 3.0, 5.0)
    assert "This sheet bleeds 3.0 mm; B of" in finding.sentence


@pytest.mark.parametrize("kind", ["jpeg", "tiff", "png", "pdf"])
def test_files_say_who_made_them_where_that_is_wanted_and_of_the_customer_never(
    job: Job, pixels: PhotoPixels, tmp_path: Path, kind: str
) -> None:
    card = StudioCard(name="Marram Studio & Söhne", address="2 Harbour Row")
    job = job.copy_with(studio=card, customer="Ola Brandvik", lab=job.lab.copy_with(press=None, pdf=PdfRules()))
    for wanted in (False, True):
        ours = job.copy_with(lab=job.lab.copy_with(credit=wanted))
        (path, _) = written(ours, tmp_path / str(wanted), pixels, kind)
        facts = json.loads(run("exiftool", "-json", "-a", "-G1", path))[0]
        assert facts.get("XMP-dc:Creator") == ("Marram Studio & Söhne" if wanted else None)
        assert facts.get("XMP-dc:Rights") == ("© Marram Studio & Söhne" if wanted else None)
        assert "Brandvik" not in json.dumps(facts, ensure_ascii=False)
        assert "Harbour" not in json.dumps(facts)
