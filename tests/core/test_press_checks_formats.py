"""Print files read back by independent tools; findings; bundles; the command line; the core standing alone."""

import ast
import hashlib
import json
import re
import subprocess
import sys
import threading
from datetime import UTC, datetime
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from sutaru.command_line.main import main
from sutaru.core.checks import RULES, check, check_job, measure_sheet
from sutaru.core.document import Corners, Flat, Found, Job, Layout, Opening, Photo, Rectangle
from sutaru.core.edits.apply import apply
from sutaru.core.edits.kinds import BringIn, ChooseLab, Fill, Place, Put, Write
from sutaru.core.errors import ExportFailed, FileRefused, Stopped
from sutaru.core.fitting import Resolved
from sutaru.core.formats.bundle import Bundle, write_bundle
from sutaru.core.formats.shelf import read_template
from sutaru.core.photos import Held, PhotoPixels, Pixels
from sutaru.core.press.exporting import export
from sutaru.core.press.files import PREFIX, Followed, sweep, sweep_orphans, write_whole
from sutaru.shelf import SAMPLES
from tests.conftest import LABS, SHELF, TEMPLATES, fake_photo, first, one_sheet, opening_of

MADE = datetime(2026, 6, 20, 12, tzinfo=UTC)
ROOT = Path(__file__).parent.parent.parent


def run(*command: object) -> str:
    return subprocess.run([str(part) for part in command], capture_output=True, text=True, check=True).stdout


@pytest.fixture(scope="module")
def pixels(pile: list[tuple[Path, Photo]]) -> Held:
    paths = {photo.id: path for path, photo in pile}
    return Held(PhotoPixels(lambda photo: paths[photo.id]), 200 << 20, always=True)


def written(*args: object, **more: object) -> list[Path]:
    return export(*args, assets=SHELF.asset, **more)


@pytest.fixture
def card(job_of, pile) -> Job:
    job = apply(job_of("card-portrait"), BringIn(photos=tuple(photo for _, photo in pile[:6])))
    return apply(apply(job, Fill()), Write(sheet="inside", layer="greeting", text="Fair winds, Ola"))


# --- print files ----------------------------------------------------------------------------------------------------


def test_jpeg_facts(card: Job, pixels: Pixels, tmp_path: Path) -> None:
    first, second, manifest = written(card, tmp_path, pixels, MADE)
    facts = json.loads(run("exiftool", "-json", "-a", "-G1", first))[0]
    assert (facts["File:ImageWidth"], facts["File:ImageHeight"]) == (3071, 2171)  # 10 x 7 in and 3 mm bleed at 300 ppi
    assert facts["JFIF:XResolution"] == facts["IFD0:XResolution"] == 300
    assert (facts["JFIF:ResolutionUnit"], facts["IFD0:ResolutionUnit"]) == ("inches", "inches")
    assert facts["File:YCbCrSubSampling"] == "YCbCr4:4:4 (1 1)"
    assert "sRGB" in facts["ICC_Profile:ProfileDescription"]
    assert run("identify", "-format", "%Q", first) == "95"
    listed = json.loads(manifest.read_text())["files"]
    assert [entry["file"] for entry in listed] == [first.name, second.name]
    assert listed[0]["sha256"] == hashlib.sha256(first.read_bytes()).hexdigest()
    assert (listed[0]["width_px"], listed[0]["ppi"], listed[0]["profile"]) == (3071, 300, "srgb")


def test_png_with_and_without_background(card: Job, pixels: Pixels, tmp_path: Path) -> None:
    solid = written(card, tmp_path / "a", pixels, MADE, "png")[0]
    clear = written(card, tmp_path / "b", pixels, MADE, "png", transparent=True)[0]
    facts = json.loads(run("exiftool", "-json", "-G1", solid))[0]
    assert (facts["PNG-pHYs:PixelsPerUnitX"], facts["PNG-pHYs:PixelUnits"]) == (11811, "meters")  # 300 ppi
    with Image.open(solid) as image:
        assert image.mode == "RGB"
    with Image.open(clear) as image:
        assert image.mode == "RGBA"
        alpha = np.asarray(image.getchannel("A"))
    assert alpha[5, 5] == 0
    # The picture area alone is opaque on that page: 4.75 x 6.75 in, 1425 x 2025 px.
    inside = alpha[:, 1550:]
    assert (inside == 255).sum() == pytest.approx(1425 * 2025, rel=2e-3)
    with pytest.raises(ExportFailed, match=r"A JPEG for print cannot be transparent\. Choose PNG\."):
        written(card, tmp_path, pixels, MADE, "jpeg", transparent=True)


def test_tiff_in_a_wide_gamut(card: Job, pixels: Pixels, tmp_path: Path) -> None:
    job = apply(card, ChooseLab(lab=LABS["saltmarsh-250"]))
    first = written(job, tmp_path, pixels, MADE)[0]
    assert first.suffix == ".tif"
    size, density, depth = run("identify", "-format", "%w %h|%x %U|%z", first).split("|")
    assert size == "2559 1809"
    assert density.startswith("250 PixelsPerInch")
    assert depth == "8"
    assert "1998" in json.loads(run("exiftool", "-json", "-G1", first))[0]["ICC_Profile:ProfileDescription"]


def test_pdf_facts_and_its_words_as_vectors(card: Job, pixels: Pixels, tmp_path: Path) -> None:
    _, inside, manifest = written(card, tmp_path, pixels, MADE, "pdf")
    told = json.loads(manifest.read_text())["files"][1]
    assert (told["file"], told["sha256"]) == (inside.name, hashlib.sha256(inside.read_bytes()).hexdigest())
    assert "No syntax or stream encoding errors" in run("qpdf", "--check", inside)
    boxes = dict(re.findall(r"(\w+Box):\s+([\d. ]+)", run("pdfinfo", "-box", inside)))
    assert [float(v) for v in boxes["TrimBox"].split()] == pytest.approx([8.5, 8.5, 728.5, 512.5], abs=0.01)
    assert [float(v) for v in boxes["BleedBox"].split()] == pytest.approx([0, 0, 737.01, 521.01], abs=0.01)
    assert boxes["BleedBox"] == boxes["MediaBox"]
    image = run("pdfimages", "-list", inside).splitlines()[2].split()
    assert (image[3], image[4], image[5], image[12], image[13]) == ("3071", "2171", "icc", "300", "300")
    # Drawn by another program, the page is what our own painter paints.
    run("pdftocairo", "-png", "-singlefile", "-r", 300, inside, tmp_path / "drawn")
    ours = written(card, tmp_path / "png", pixels, MADE, "png")[1]
    drawn, painted = (np.asarray(Image.open(p).convert("RGB"), int) for p in (tmp_path / "drawn.png", ours))
    h, w = min(drawn.shape[0], painted.shape[0]), min(drawn.shape[1], painted.shape[1])
    difference = np.abs(drawn[:h, :w] - painted[:h, :w])
    assert difference.mean() < 0.25
    assert (painted[:h, :w] < 200).any()  # there are words
    # The words are no pixels: the picture in the PDF is blank.
    run("pdfimages", "-all", inside, tmp_path / "held")
    assert np.asarray(Image.open(next(tmp_path.glob("held*"))).convert("L")).min() > 250
    again = written(card, tmp_path / "again", pixels, MADE, "pdf")[1]
    assert again.read_bytes() == inside.read_bytes()


def test_a_file_is_summed_as_it_is_written(tmp_path: Path) -> None:
    """Parts of all sizes, in a buffer that is used again; and one that the disk does not take."""
    rng = np.random.default_rng(3)
    threads, buffer = threading.active_count(), bytearray(3 << 20)
    with (tmp_path / "made").open("wb") as file, Followed(file) as followed:
        for size in (1, 7, 2 << 20, 3 << 20, 0, 1 << 20, 5):
            buffer[:size] = rng.bytes(size)
            followed.write(memoryview(buffer)[:size])
            if size % 2:  # with and without something waiting
                found = followed.digest()
                file.flush()
                assert found == hashlib.sha256((tmp_path / "made").read_bytes()).digest()
    assert (tmp_path / "made").stat().st_size == (6 << 20) + 13
    with open("/dev/full", "wb", buffering=0) as full, pytest.raises(OSError, match="No space"), Followed(full) as over:
        over.write(bytes(2 << 20))
    assert threading.active_count() == threads


def test_files_are_whole_or_not_at_all(tmp_path: Path, card: Job, pixels: Pixels) -> None:
    target = tmp_path / "page.jpg"
    target.write_bytes(b"old")

    def fail_half_way() -> None:
        with write_whole(target) as file:
            file.write(b"half")
            raise RuntimeError

    with pytest.raises(RuntimeError):
        fail_half_way()
    assert target.read_bytes() == b"old"
    assert sweep(tmp_path) == 0
    (tmp_path / ".unfinished-x.jpg").write_bytes(b"left by a killed process")
    assert sweep(tmp_path) == 1

    def stop(stage: str, done: int, total: int) -> None:
        if done > 20:
            raise Stopped("The export was stopped.")

    with pytest.raises(Stopped):
        written(card, tmp_path / "out", pixels, MADE, progress=stop)
    assert list((tmp_path / "out").iterdir()) == []


def test_what_a_killed_process_left_is_swept_by_the_next_and_nobody_elses(tmp_path: Path) -> None:
    code = "import os, sys, pathlib; from sutaru.core.press.files import write_whole\n"
    code += "with write_whole(pathlib.Path(sys.argv[1])) as file: os.kill(os.getpid(), 9)"
    subprocess.run([sys.executable, "-c", code, str(tmp_path / "a.jpg")], check=False)
    (left,) = tmp_path.iterdir()
    with write_whole(tmp_path / "b.jpg") as file:
        sweep_orphans(tmp_path)
        file.write(b"mine")
    elsewhere = tmp_path / f"{PREFIX}0123abcd-1-x.jpg"  # of another machine that works in the same folder
    elsewhere.touch()
    sweep_orphans(tmp_path)
    assert not left.exists()
    assert {path.name for path in tmp_path.iterdir()} == {"b.jpg", elsewhere.name}


def test_names_are_safe_for_any_lab(card: Job, pixels: Pixels, tmp_path: Path) -> None:
    lab = LABS["gullwing-300"].copy_with(naming="{customer}_{job}_{page}_{name}", ppi_target=72, ppi_least=30)
    job = apply(card.copy_with(name="../Été: wind/3", customer="Ødegård & Søn"), ChooseLab(lab=lab))
    names = [path.name for path in written(job, tmp_path, pixels, MADE)]
    assert names == ["degard-Sn_-Ete-wind-3_01_Outside.jpg", "degard-Sn_-Ete-wind-3_02_Inside.jpg", "manifest.json"]


# --- checks ---------------------------------------------------------------------------------------------------------


def rules(job: Job) -> list[tuple[str, str]]:
    return [(finding.rule, finding.severity) for finding in check_job(job)]


def test_each_rule_finds_what_it_is_for(job_of) -> None:
    job = job_of("card-portrait")
    assert ("empty_opening", "stop") in rules(job)
    assert ("sample_words", "stop") in rules(job)
    good, soft, tiny = fake_photo(1, 4000, 6000), fake_photo(2, 1200, 1705), fake_photo(3, 400, 600)
    sample = fake_photo(4, 4000, 6000, sample=True)
    job = apply(job, BringIn(photos=(good, soft, tiny, sample)))
    for layer in ("greeting", "names"):
        job = apply(job, Write(sheet="inside", layer=layer, text="For Runa"))
    assert rules(apply(job, Put(sheet="outside", opening="picture", photo=good.id))) == []
    (found,) = check_job(apply(job, Put(sheet="outside", opening="picture", photo=soft.id)))
    assert (found.rule, found.severity, found.limit) == ("too_few_pixels", "look", 300)
    assert found.sentence == "Opening 1 prints at 253 ppi, below the 300 that Gullwing 300 asks for."
    (found,) = check_job(apply(job, Put(sheet="outside", opening="picture", photo=tiny.id)))
    assert (found.severity, found.limit) == ("stop", 200)
    assert rules(apply(job, Put(sheet="outside", opening="picture", photo=sample.id))) == [("sample_photo", "stop")]
    job = apply(job, Put(sheet="outside", opening="picture", photo=good.id))
    assert rules(apply(job, Write(sheet="inside", layer="names", text="Wind " * 80))) == [("words_overset", "stop")]
    (found,) = check_job(apply(job, Write(sheet="inside", layer="names", text="𒀀")))
    assert found.sentence == "No font here has a letter for 𒀀 in names."


def test_same_photo_twice_and_order_of_findings(job_of) -> None:
    photo = fake_photo(1, 6000, 4000)
    job = apply(job_of("album-spread-18"), BringIn(photos=(photo,)))
    for opening in ("opening-1", "opening-5"):
        job = apply(job, Put(sheet="spread", opening=opening, photo=photo.id))
    found = check_job(job)
    assert [f.severity for f in found] == ["stop"] * 16 + ["look"]
    assert found[-1].sentence == "Opening 5 holds the same photo as opening 1."


@pytest.mark.parametrize(
    ("left", "ragged"),
    [(5.0, False), (4.5, True), (0.0, True), (-1.0, True), (-3.0, False), (-8.0, False), (30.0, False)],
)
def test_an_edge_is_safe_or_bleeds(left: float, ragged: bool) -> None:
    # Safe when d >= safe or d <= -bleed; in between it is cut raggedly.
    hole = Opening(id="o", outline=Rectangle(width_mm=40, height_mm=40), surface=Flat(centre=(left + 20, 50)))
    job = one_sheet(Layout(width_mm=100, height_mm=100, bleed_mm=3, safe_mm=5, layers=(hole,)))
    assert (("ragged_edge", "look") in rules(job)) is ragged


def test_a_rule_that_crashes_is_never_passed(job_of, caplog: pytest.LogCaptureFixture) -> None:
    def broken(sheet: Resolved):
        raise ZeroDivisionError("division by zero")

    (found,) = check(first(job_of("mockup-wall")), (broken,))
    assert found.severity == "stop"
    assert found.sentence == "Not checked for broken: the check itself failed. Look for it by eye."
    assert "division by zero" in caplog.text
    assert len({rule.__name__ for rule in RULES}) == len(RULES)


def test_a_photo_that_was_not_looked_at_is_being_checked_and_never_in_order(job_of) -> None:
    def of(photo) -> tuple[str, tuple[int, ...]]:
        job = apply(job_of("mockup-wall"), BringIn(photos=(photo,)))
        job = apply(job, Put(sheet="wall-view", opening="frame-large", photo=photo.id))
        made = measure_sheet(first(job))
        return made.rows[0].status, made.counts

    assert of(fake_photo(1, 6000, 4000)) == ("checking", (2, 1, 1, 0, 1))
    assert of(fake_photo(1, 6000, 4000, found=Found())) == ("order", (2, 1, 1, 0, 0))
    assert of(fake_photo(1, 6000, 4000, marked=())) == ("order", (2, 1, 1, 0, 0))  # a person has said it
    assert of(fake_photo(1, 60, 40)) == ("stop", (2, 1, 2, 0, 1))  # the worst is told, and that it is not all


def test_ledger_measures_every_opening(job_of) -> None:
    job = apply(job_of("mockup-wall"), BringIn(photos=(fake_photo(1, 6000, 4000, found=Found()),)))
    job = apply(job, Put(sheet="wall-view", opening="frame-large", photo=job.photos[0].id))
    job = apply(
        job, Place(sheet="wall-view", opening="frame-large", centre=(0.5, 0.5), zoom=2, turn_deg=3, mirror=False)
    )
    one, second = measure_sheet(first(job)).rows
    assert (one.number, one.placement.zoom, one.placement.turn_deg, one.status) == (1, 2.0, 3.0, "order")
    assert one.zoom_least_ppi == pytest.approx(2 * one.ppi / 200, abs=0.01)
    assert (second.photo, second.ppi, second.status) == ("", None, "stop")
    assert isinstance(opening_of(job, "frame-large").surface, Corners)


# --- formats, command line, layers of the code ------------------------------------------------------------------------


def test_bundle_round_trip_and_damage(card: Job, pile, tmp_path: Path) -> None:
    paths = {photo.id: path for path, photo in pile}
    target = tmp_path / "card.sutaru"
    write_bundle(target, card, lambda photo: paths[photo.id], SHELF.asset)
    bundle = Bundle(target)
    assert bundle.job == card
    for photo in card.photos:
        assert bundle.original(photo) == paths[photo.id].read_bytes()
    torn = tmp_path / "torn.sutaru"
    torn.write_bytes(target.read_bytes()[:-300])
    with pytest.raises(FileRefused, match=r"torn\.sutaru is not a Sutaru bundle\. Make one with: sutaru fill\."):
        Bundle(torn)
    swapped = bytearray(target.read_bytes())
    at = swapped.find(b"\xff\xd8\xff")
    swapped[at + 2000] ^= 1
    torn.write_bytes(swapped)
    with pytest.raises(FileRefused, match="is damaged|not the one that was brought in"):
        [Bundle(torn).original(photo) for photo in card.photos]


def test_a_template_that_is_not_valid_says_where(tmp_path: Path) -> None:
    (tmp_path / "template.json").write_text('{"id": "x", "name": "X", "product": "album", "pages": []}')
    with pytest.raises(FileRefused, match="is not valid: sheets"):
        read_template(tmp_path)


def test_the_shelf_holds_what_it_should() -> None:
    spread = TEMPLATES["album-spread-18"].sheets[0].layout
    assert (spread.width_mm, spread.height_mm, spread.bleed_mm, len(spread.openings())) == (609.6, 304.8, 3, 18)
    kinds = {o.outline.kind for o in TEMPLATES["collage-wind"].walk_openings()}
    assert kinds == {"rectangle", "ellipse", "path"}
    assert all(o.surface.kind == "corners" for o in TEMPLATES["mockup-wall"].walk_openings())
    # Nothing on the shelf is itself cut raggedly.
    for template in TEMPLATES.values():
        job = Job(
            name="x", template=template.id, product=template.product, sheets=template.sheets, lab=LABS["gullwing-300"]
        )
        assert not [f for f in check_job(job) if f.rule in ("ragged_edge", "words_overset")]


def test_command_line(tmp_path: Path, pile, capsys: pytest.CaptureFixture[str]) -> None:
    photos = [str(path) for path, _ in pile]
    bundle, out = tmp_path / "wall.sutaru", tmp_path / "out"
    assert main(["shelf", "--json"]) == 0
    rows = json.loads(capsys.readouterr().out)
    assert {
        "id": "mockup-wall",
        "name": "Two frames on a wall",
        "product": "mockup",
        "trim_mm": [360, 240],
        "openings": [2],
    } in rows
    assert main(["fill", "mockup-wall", *photos, "-o", str(bundle), "--lab", "saltmarsh-250"]) == 0
    assert main(["check", str(bundle), "--json"]) in (0, 1)
    capsys.readouterr()
    export = ["export", str(bundle), "-o", str(out), "--format", "png", "--lab", "gullwing-300"]
    assert main(export) == 0  # a stop that nobody accepted is told, here and in the manifest
    assert "■ Opening 1 would print at" in capsys.readouterr().err
    told = json.loads((out / "manifest.json").read_text())
    assert (len(told["stops"]), told["accepted"]) == (1, [])
    assert main([*export, "--accepted-by", "Tove", "--reason", "A test print"]) == 0
    (accepted,) = json.loads((out / "manifest.json").read_text())["accepted"]
    assert (accepted["by"], accepted["reason"], accepted["severity"]) == ("Tove", "A test print", "stop")
    assert capsys.readouterr().out.split() == [str(out / "wall_01.png"), str(out / "manifest.json")]
    with Image.open(out / "wall_01.png") as image:
        assert image.size == (4252, 2835)
    live = ["export", str(bundle), "-o", str(tmp_path / "live"), "--live"]
    assert main(live) == 2
    assert "Only in a PDF can layers stay live. Add --format pdf." in capsys.readouterr().err
    assert main([*live, "--format", "pdf", "--profile", "fogra39"]) == 2
    assert "Layers stay live only in RGB" in capsys.readouterr().err
    assert main([*live, "--format", "pdf"]) == 0
    assert "smask" in run("pdfimages", "-list", tmp_path / "live" / "wall_01_Wall.pdf")
    deep = ["export", str(bundle), "-o", str(tmp_path / "deep"), "--bits", "16"]
    assert main([*deep, "--format", "jpeg"]) == 2
    assert "Only a TIFF can have 16 bits a channel. Add --format tiff." in capsys.readouterr().err
    assert main(deep) == 0  # that lab wants TIFFs
    assert run("identify", "-format", "%z", tmp_path / "deep" / "wall_01_Wall.tif") == "16"
    assert main(["render", str(bundle), "--page", "1", "--ppi", "50", "-o", str(tmp_path / "bench.png")]) == 0
    with Image.open(tmp_path / "bench.png") as image:
        assert image.size == (709, 472)
    assert main(["fill", "card-landscape", str(SAMPLES / "sample-dunes.jpg"), "-o", str(bundle)]) == 0
    assert main(["check", str(bundle), "--json"]) == 1
    found = json.loads(capsys.readouterr().out.split("filled\n")[-1])
    assert ("sample_photo", "outside") in [(finding["rule"], finding["page"]) for finding in found]
    assert main(["fill", "album-spread-18", photos[0], "-o", str(bundle)]) == 0
    assert main(["check", str(bundle)]) == 1
    assert "■ stop" in capsys.readouterr().out


@pytest.mark.parametrize(
    ("arguments", "sentence"),
    [
        (["fill", "nope", "x.jpg", "-o", "y"], "sutaru: There is no template nope. Choose one of: album-cover-10"),
        (["fill", "mockup-wall", "nope.jpg", "-o", "y"], "sutaru: There is no file nope.jpg."),
        (["check", "nope.sutaru"], "sutaru: There is no file nope.sutaru. Give the path of a .sutaru bundle."),
        (["export", __file__, "-o", "x"], "is not a Sutaru bundle. Make one with: sutaru fill."),
        (
            ["render", "x", "--page", "1", "--ppi", "9999", "-o", "y"],
            "argument --ppi: '9999' is no number from 1 to 1200",
        ),
        (["frobnicate"], "sutaru: argument command: invalid choice"),
    ],
)
def test_command_line_errors_are_one_sentence(arguments, sentence: str, capsys) -> None:
    try:
        code = main(arguments)
    except SystemExit as stop:
        code = stop.code
    said = capsys.readouterr().err
    assert code == 2
    assert sentence in said
    assert said.count("\n") == 1


def test_filling_goes_on_past_photos_that_cannot_be_read(tmp_path: Path, pile, capsys) -> None:
    half, out = tmp_path / "half.jpg", tmp_path / "job.sutaru"
    half.write_bytes(pile[0][0].read_bytes()[:5000])
    given = [str(pile[1][0]), str(half), str(tmp_path / "gone.jpg"), str(pile[2][0])]
    assert main(["fill", "mockup-wall", *given, "-o", str(out)]) == 1
    said = capsys.readouterr()
    assert said.out == f"{out}: 2 of 2 openings filled\n"
    assert re.fullmatch(r"sutaru: half.jpg is damaged: .*\nsutaru: There is no file .*gone.jpg.\n", said.err)
    assert [photo.name for photo in Bundle(out).job.photos] == [pile[1][0].name, pile[2][0].name]
    out.unlink()
    assert main(["fill", "mockup-wall", *given[1:3], "-o", str(out)]) == 2
    assert "None of these photos can be read" in capsys.readouterr().err
    assert not out.exists()


def test_the_core_stands_alone() -> None:
    script = (
        "import pkgutil, importlib, sys, sutaru.core as core\n"
        "for m in pkgutil.walk_packages(core.__path__, 'sutaru.core.'): importlib.import_module(m.name)\n"
        "bad = [m for m in sys.modules if m.split('.')[0] in ('fastapi', 'starlette', 'uvicorn', 'sqlite3')\n"
        "       or (m.startswith('sutaru.') and not m.startswith('sutaru.core'))]\n"
        "sys.exit(', '.join(bad) or 0)"
    )
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, cwd=ROOT, check=False)
    assert done.returncode == 0, done.stderr


def test_stages_of_the_core_import_only_earlier_ones() -> None:
    order = [
        "errors", "measure", "depths", "compiling", "limits", "remembering", "memory", "geometry", "document", "colour",
        "photos", "words", "arranging", "fitting", "books", "cards", "lists", "edits", "mending", "paint", "checks", "verifying",
        "ordering", "press", "formats",
    ]  # fmt: skip
    core = ROOT / "sutaru" / "core"
    for path in core.rglob("*.py"):
        parts = path.relative_to(core).parts
        stage = parts[0].removesuffix(".py")
        if stage == "__init__":
            continue
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.ImportFrom) and node.level == len(parts):
                others = [node.module.split(".")[0]] if node.module else [alias.name for alias in node.names]
                for other in others:
                    assert order.index(other) <= order.index(stage), f"{path.name} imports {other}"


def test_no_sentence_names_the_class_of_an_error() -> None:
    told = [
        f"{path.name}:{node.lineno}"
        for path in (ROOT / "sutaru").rglob("*.py")
        for node in ast.walk(ast.parse(path.read_text()))
        if isinstance(node, ast.JoinedStr) and "type(error)" in ast.unparse(node)
    ]
    assert not told
