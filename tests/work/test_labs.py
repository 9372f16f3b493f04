"""What a lab that stands in refuses, and how it is reached by a drop folder."""

import hashlib
import json
import re
import shutil
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path

import pikepdf
import pytest
from PIL import Image

from sutaru.core.colour.profiles import profile_bytes
from sutaru.core.document import Flat, Job, LabSheet, Layout, Opening, Placement, Rectangle
from sutaru.core.errors import NotFound, Stopped
from sutaru.core.ordering import Address, Order, OrderFile, OrderLine
from sutaru.core.photos import PhotoPixels, examine
from sutaru.core.press.exporting import export
from sutaru.standins.lab import Lab
from sutaru.work.dropping import ANSWER, TICKET, DropLine, line_to
from sutaru.work.sending import NotSent
from tests.conftest import LABS, noise, one_sheet

MADE = datetime(2026, 6, 20, tzinfo=UTC)
HOME = Address(name="Ola Brandvik", street="4 Pier Lane", place="Skerry Sands")


@pytest.fixture(scope="module")
def there(tmp_path_factory: pytest.TempPathFactory) -> Lab:
    return Lab(tmp_path_factory.mktemp("lab"))


@pytest.fixture(scope="module")
def prints(there: Lab) -> LabSheet:
    return there.sheets["samphire-prints"]


@pytest.fixture(scope="module")
def sound(prints: LabSheet, tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A print of 5 x 7 in as that lab wants it."""
    return _written(prints, 127.0, 177.8, tmp_path_factory.mktemp("sound"))


@pytest.fixture(scope="module")
def offset(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A card for offset, a PDF/X-4."""
    return _written(LABS["samphire-press"], 254.0, 177.8, tmp_path_factory.mktemp("offset"), 3.0)


def _opening(wide: float, high: float) -> Opening:
    outline = Rectangle(width_mm=wide - 30, height_mm=high - 30)
    return Opening(id="o", outline=outline, surface=Flat(centre=(wide / 2, high / 2)))


def _written(lab: LabSheet, wide: float, high: float, folder: Path, bleed: float = 2.0) -> Path:
    picture = folder / "photo.jpg"
    Image.fromarray(noise(2500, 3400)).save(picture, quality=92)
    photo = examine(picture, "photo.jpg")
    layout = Layout(
        width_mm=wide, height_mm=high, bleed_mm=bleed,
        layers=(_opening(wide, high),),
    )  # fmt: skip
    job: Job = one_sheet(layout, (photo,), {"o": Placement(photo=photo.id)}).copy_with(lab=lab)
    file, _ = export(job, folder, PhotoPixels(lambda asked: picture), MADE)
    return file


def order(path: Path, lab: str = "samphire-prints", key: str = "", **line: object) -> Order:
    key = key or hashlib.sha256(repr((path, lab, line)).encode()).hexdigest()
    data = path.read_bytes()
    said = {"name": path.name, "sha256": hashlib.sha256(data).hexdigest(), "bytes": len(data), "page": "P"}
    file = OrderFile(**{**said, **line.pop("file", {})})  # type: ignore[arg-type, dict-item]
    made = OrderLine(title="Kites", lab_sheet=lab, files=(file,), **line)  # type: ignore[arg-type]
    return Order(key=key, reference="S-1", lines=(made,), to=HOME)


def reasons(lab: Lab, path: Path, asked: Order) -> list[str]:
    told = lab.open(asked)
    data = path.read_bytes()
    for sha in told["missing"]:
        lab.put_piece(hashlib.sha256(data).hexdigest(), 0, data, len(data))
        assert sha == hashlib.sha256(data).hexdigest()
    return [reason["reason"] for reason in lab.submit(told["id"])["reasons"]]


def test_a_sound_order_is_taken(there: Lab, sound: Path, offset: Path) -> None:
    assert reasons(there, sound, order(sound)) == []
    assert reasons(there, sound, order(sound, paper="silk 170", finish="matt film", to=HOME, copies=25)) == []
    assert reasons(there, offset, order(offset, "samphire-press")) == []


def _saved(change: Callable[[Image.Image], tuple[Image.Image, dict]]) -> Callable[[Path, Path], None]:
    def write(source: Path, target: Path) -> None:
        with Image.open(source) as picture:
            picture.load()
            kept = {"quality": 95, "subsampling": 0, "dpi": (300, 300), "icc_profile": picture.info["icc_profile"]}
            made, more = change(picture)
            made.save(target, **{**kept, **more})

    return write


def _cut(source: Path, target: Path) -> None:
    target.write_bytes(source.read_bytes()[:-20_000])


def _no_picture(source: Path, target: Path) -> None:
    target.write_text("Kites over the bay")


def _harmed(harm: Callable[[pikepdf.Pdf], None], **how: object) -> Callable[[Path, Path], None]:
    def write(source: Path, target: Path) -> None:
        with pikepdf.open(source) as pdf:
            harm(pdf)
            pdf.save(target, **({"force_version": "1.6"} | how))  # type: ignore[arg-type]

    return write


def _trim(pdf: pikepdf.Pdf) -> None:
    del pdf.pages[0].obj["/TrimBox"]


def _no_bleed(pdf: pikepdf.Pdf) -> None:
    page = pdf.pages[0].obj
    page.MediaBox = page.BleedBox = page.CropBox = page.TrimBox


def _script(pdf: pikepdf.Pdf) -> None:
    pdf.Root.OpenAction = pikepdf.Dictionary(S=pikepdf.Name.JavaScript, JS=pikepdf.String("app.beep()"))


LOCK = pikepdf.Encryption(owner="a", user="b")
FILES: dict[str, tuple[str, str, Callable[[Path, Path], None]]] = {
    "no picture": (".jpg", "cannot be read", _no_picture),
    "cut short": (".jpg", "Its pixels end early", _cut),
    "another kind of file": (".png", "wants JPEG, not PNG", _saved(lambda p: (p, {}))),
    "another density": (".jpg", "It says 240 ppi", _saved(lambda p: (p, {"dpi": (240, 240)}))),
    "another size": (".jpg", "is not a size of Samphire prints", _saved(lambda p: (p.resize((1200, 1800)), {}))),
    "another profile": (
        ".jpg", "Its colours are", _saved(lambda p: (p, {"icc_profile": profile_bytes("adobe-compatible")})),
    ),
    "inks": (".jpg", "It is CMYK", _saved(lambda p: (p.convert("CMYK"), {"icc_profile": None}))),
    "pressed too hard": (".jpg", "It was saved at a quality of about", _saved(lambda p: (p, {"quality": 60}))),
}  # fmt: skip
PDFS: dict[str, tuple[str, Callable[[Path, Path], None]]] = {
    "no trim": ("trim", _harmed(_trim)),
    "no bleed": ("It bleeds 0.0 mm", _harmed(_no_bleed)),
    "a script": ("script|action", _harmed(_script)),
    "locked": ("locked by a password", _harmed(lambda pdf: None, force_version="", encryption=LOCK)),
}  # fmt: skip


@pytest.mark.parametrize("fault", list(FILES))
def test_a_fault_in_a_picture_is_refused_and_named(fault: str, there: Lab, sound: Path, tmp_path: Path) -> None:
    ending, sentence, write = FILES[fault]
    target = tmp_path / f"kites{ending}"
    write(sound, target)
    found = reasons(there, target, order(target))
    assert any(sentence in reason for reason in found), found


@pytest.mark.parametrize("fault", list(PDFS))
def test_a_fault_in_a_pdf_is_refused_and_named(fault: str, there: Lab, offset: Path, tmp_path: Path) -> None:
    sentence, write = PDFS[fault]
    target = tmp_path / "kites.pdf"
    write(offset, target)
    found = reasons(there, target, order(target, "samphire-press"))
    assert any(re.search(sentence, reason, re.I) for reason in found), found


@pytest.mark.parametrize(
    ("asked", "sentence"),
    [
        ({"lab": "nobodys"}, "No sheet nobodys is printed here."),
        ({"paper": "velvet 999"}, "There is no paper velvet 999 here."),
        ({"finish": "gold"}, "There is no finish gold here."),
        ({"cover": "bark"}, "There is no cover bark here."),
        ({"cover": "linen"}, "Samphire prints binds nothing: it has no covers."),
        ({"to": Address(name="Ola")}, "Its own address is not whole."),
        ({"file": {"bytes": 17}}, "bytes, not 17."),
    ],
)
def test_a_fault_in_the_order_is_refused_and_named(asked: dict, sentence: str, there: Lab, sound: Path) -> None:
    found = reasons(there, sound, order(sound, **asked))
    assert any(sentence in reason for reason in found), found


def test_an_order_without_an_address_is_refused_unless_each_line_has_one(there: Lab, sound: Path) -> None:
    nowhere = order(sound, key="aa" * 16).copy_with(to=Address())
    assert reasons(there, sound, nowhere) == ["The address is not whole."]
    own = order(sound, key="bb" * 16, to=HOME).copy_with(to=Address())
    assert reasons(there, sound, own) == []


# --- the drop folder -----------------------------------------------------------------------------------------------------


def test_an_order_by_a_drop_folder(sound: Path, tmp_path: Path) -> None:
    drop, lab = tmp_path / "drop", Lab(tmp_path / "lab")
    line = line_to(f"folder:{drop}")
    assert isinstance(line, DropLine)
    with pytest.raises(NotSent, match="folder of the lab is not there"):
        line.sheets()
    drop.mkdir()
    with pytest.raises(NotSent, match="has not said"):
        line.sheets()
    lab.look_into(drop)
    assert "samphire-prints" in [sheet.id for sheet in line.sheets().sheets]
    good, bad = order(sound), order(sound, paper="velvet")
    told: list[tuple[int, int]] = []
    first = line.send(good, lambda sha: sound, lambda name, at, of: told.append((at, of)))
    assert first.state == "received"
    assert told[-1][0] == told[-1][1] == sound.stat().st_size
    assert sorted(path.name for path in (drop / first.id).iterdir()) == sorted([sound.name, TICKET])
    second = line.send(bad, lambda sha: sound, lambda *said: None)
    lab.look_into(drop)
    assert line.ask_standing(first.id).state == "received"
    refused = line.ask_standing(second.id)
    assert (refused.state, refused.reasons[0].reason) == ("refused", "There is no paper velvet here.")
    # Laid in again it is the same order, and nothing is copied.
    before = (drop / first.id / sound.name).stat()
    assert line.send(good, lambda sha: tmp_path / "gone", lambda *said: None).state == "received"
    assert (drop / first.id / sound.name).stat().st_mtime_ns == before.st_mtime_ns
    lab.look_into(drop)
    assert len(list((tmp_path / "lab" / "orders").iterdir())) == 2


def test_a_ticket_comes_last_and_half_an_order_is_no_order(sound: Path, tmp_path: Path) -> None:
    drop, lab = tmp_path / "drop", Lab(tmp_path / "lab")
    drop.mkdir()
    line = DropLine(drop)
    asked = order(sound)

    def stopping(name: str, at: int, of: int) -> None:
        if at > 0:
            raise Stopped("It was stopped.")

    with pytest.raises(Stopped):
        line.send(asked, lambda sha: sound, stopping)
    own = drop / asked.key[:12]
    assert [path.name for path in own.iterdir()] == [sound.name]
    lab.look_into(drop)
    assert not (own / ANSWER).exists()
    line.send(asked, lambda sha: sound, lambda *said: None)
    lab.look_into(drop)
    assert json.loads((own / ANSWER).read_text())["state"] == "received"
    # A file that was exchanged, or a ticket that is none, is answered in words.
    bad = tmp_path / "bad"
    bad.mkdir()
    DropLine(bad).send(asked, lambda sha: sound, lambda *said: None)
    (bad / asked.key[:12] / sound.name).write_bytes(b"x" * 500)
    shutil.copytree(own, bad / "torn")
    (bad / "torn" / TICKET).write_text("{")
    Lab(tmp_path / "another").look_into(bad)
    assert "another file than was named" in str(json.loads((bad / asked.key[:12] / ANSWER).read_text())["reasons"])
    assert json.loads((bad / "torn" / ANSWER).read_text())["state"] == "unread"


def test_what_is_no_lab_is_said() -> None:
    with pytest.raises(NotFound, match=r"ftp://x is no lab\. Give http://HOST:PORT, or folder:PATH"):
        line_to("ftp://x")
