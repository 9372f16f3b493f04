"""What is taken from outside and how much of it: limits hold, are told in a sentence, and stand in the documentation."""

import io
import random
import re
import zipfile
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from pydantic import ValidationError

from sutaru.core import limits, remembering
from sutaru.core.checks.trial_paint import refuse_failures, try_painting
from sutaru.core.document import Path as Outline
from sutaru.core.document import Text
from sutaru.core.errors import EditRefused, FileRefused, GeometryError, PhotoRefused
from sutaru.core.formats.bundle import Bundle, write_bundle
from sutaru.core.geometry.maps import Projective
from sutaru.core.geometry.matrices import scaling
from sutaru.core.geometry.outlines import region
from sutaru.core.paint.sampling import sample_picture
from sutaru.core.paint.vectors import coverage
from sutaru.core.photos import decode, examine, plain_name
from sutaru.core.photos.deep import Bands, read_shrunk
from sutaru.core.remembering import Kept, remember
from sutaru.core.words import set_text
from tests.conftest import SHELF, TEMPLATES, first, one_sheet

DOC = Path(__file__).parent.parent.parent / "docs" / "limits.md"


def test_the_documentation_tells_every_limit() -> None:
    told = dict(re.findall(r"^\| `(\w+)` \| ([\d,.]+)", DOC.read_text("utf-8"), re.M))
    ours = {name: value for name, value in vars(limits).items() if name.isupper() and name != "MB"}
    assert told.keys() == ours.keys()
    for name, value in ours.items():
        said = float(told[name].replace(",", ""))
        assert said * (limits.MB if name.endswith("_BYTES") else 1) == pytest.approx(value, rel=0.06), name


# --- outlines -------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("d", "sentence"),
    [
        ("M0 0L10 0L20 0Z", "encloses nothing"),
        ("M0 0h0.0001v50h-0.0001z", "encloses nothing"),
        ("M0 0L1e6 0L1e6 1e6Z", "reaches further than 5 m"),
        ("M0 0" + "C0 1e7 1e7 0 0 0" * 900 + "Z", "too large, or has too many curves"),
        ("M0 0L" + " ".join(f"{n % 97} {n % 89}" for n in range(9000)) + "Z", "at most 20000 characters"),
    ],
)
def test_heavy_outlines_are_refused_at_once(d: str, sentence: str) -> None:
    with pytest.raises((ValidationError, GeometryError), match=sentence):
        Outline(d=d)


def test_an_outline_that_crosses_itself_without_end_is_refused() -> None:
    by = random.Random(3)
    tangle = [np.array([(by.uniform(-90, 90), by.uniform(-90, 90)) for _ in range(n)]) for n in (40, 2000)]
    assert region([tangle[0]]).area > 100
    with pytest.raises(GeometryError, match="crosses itself too often"):
        region([tangle[1]])


# --- photos ---------------------------------------------------------------------------------------------------------


STORED = [("PNG", "RGB"), ("PNG", "RGBA"), ("PNG", "L"), ("TIFF", "CMYK"), ("TIFF", "RGB")]


@pytest.mark.parametrize(("format", "mode"), STORED)
def test_a_large_picture_is_read_shrunk_as_pillow_reads_it(format: str, mode: str) -> None:
    """Against Pillow's own box reduction of the whole picture."""
    noise = np.random.default_rng(4).integers(0, 255, (120, 180, len(mode)), np.uint8)
    image = Image.fromarray(noise.squeeze(), mode)
    file = io.BytesIO()
    image.save(file, format)
    found = read_shrunk(file.getvalue(), format, 0.25, Bands(None, True))
    assert found is not None
    assert (found.mode, found.size) == (mode, (45, 30))
    if mode == "RGBA":
        return  # averaged by alpha, which Pillow's reduction does not
    assert np.abs(np.asarray(found, int) - np.asarray(image.reduce(4), int)).max() <= 1
    assert read_shrunk(file.getvalue(), format, 0.7, Bands(None, True)) is None


def test_a_large_picture_keeps_its_orientation(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("sutaru.core.photos.photo_file.LARGE_PIXELS", 1000)
    image = Image.new("RGB", (80, 40), "black")
    image.paste("white", (0, 0, 40, 40))
    exif = Image.Exif()
    exif[0x0112] = 6  # to be turned a quarter clockwise: what was left is on top
    file = io.BytesIO()
    image.save(file, "TIFF", exif=exif)
    found = decode(file.getvalue(), "a.tif", 0.25)
    assert found.shape == (20, 10, 3)
    assert found[:8].min() == 255
    assert found[12:].max() == 0


def test_a_progressive_jpeg_of_too_many_pixels_is_refused_by_its_head() -> None:
    file = io.BytesIO()
    Image.new("RGB", (64, 64)).save(file, "JPEG", progressive=True)
    data = bytearray(file.getvalue())
    at = data.index(b"\xff\xc2")
    data[at + 5 : at + 9] = (16000).to_bytes(2, "big") * 2
    with pytest.raises(
        PhotoRefused, match=r"progressive JPEG of 256 million pixels: reading it would need 1.5 GB. Save"
    ):
        examine(bytes(data), "a.jpg")


@pytest.mark.parametrize(
    ("said", "kept"),
    [
        ("3²4.jpg", "3²4.jpg"), ("../../etc/passwd.jpg", "passwd.jpg"), ("C:\\photos\\a.jpg", "a.jpg"), ("a\0b\n.jpg", "ab.jpg"),
        ("x" * 900 + ".jpg", "x" * 196 + ".jpg"), ("", "photo"), (" \t/", "photo"), ("dragon \u202efles.jpg", "dragon fles.jpg"),
    ],
)  # fmt: skip
def test_names_are_kept_plain(said: str, kept: str) -> None:
    assert plain_name(said) == kept


# --- what a pixel is left of ----------------------------------------------------------------------------------------


def test_what_comes_out_one_pixel_wide_is_painted() -> None:
    square = [np.array([(0.0, 0.0), (9.0, 0.0), (9.0, 9.0), (0.0, 9.0)])]
    for box, shape in (((2, 2, 3, 3), (1, 1)), ((2, 1, 3, 6), (5, 1)), ((1, 2, 6, 3), (1, 5))):
        assert coverage(square, box).shape == shape
        assert (coverage(square, box) == 255).all()


def test_a_picture_smaller_than_a_pixel_is_painted() -> None:
    image = np.full((400, 600, 3), 90, np.uint8)
    tiny = Projective(scaling(1e-7, 1e-7))
    assert sample_picture(image, tiny, (0, 0, 4, 4)).shape == (4, 4, 3)


@pytest.mark.parametrize("words", ["Hello\n", "\n", "\n\nHello\n\n", " \n ", "\u200b\n"])
def test_words_with_an_empty_line(words: str) -> None:
    layer = Text(
        id="t", text=words, centre=(60, 60), width_mm=60, height_mm=30, font="Manrope", size_pt=12, colour="#000000"
    )
    set_text(layer, words)
    layout = TEMPLATES["collage-shore"].sheets[0].layout
    try_painting(first(one_sheet(layout.copy_with(layers=(*layout.layers, layer)))), SHELF.asset)


def test_what_nobody_foresaw_is_a_sentence() -> None:
    sentence = r"^This could not be shown and printed like that\. Try other figures\.$"
    with pytest.raises(EditRefused, match=sentence), refuse_failures("This"):
        _ = 1 / 0
    with pytest.raises(FileRefused, match="plainly"), refuse_failures("This"):
        raise FileRefused("Said plainly.")


# --- bundles --------------------------------------------------------------------------------------------------------


def _bundle(tmp_path: Path) -> Path:
    path = tmp_path / "job.sutaru"
    write_bundle(
        path, one_sheet(TEMPLATES["collage-shore"].sheets[0].layout), lambda photo: b"", lambda name: b"<svg/>"
    )
    return path


@pytest.mark.parametrize("flag", [0x01, 0x40])  # encrypted; strongly encrypted
def test_an_encrypted_bundle_is_refused_in_words(flag: int, tmp_path: Path) -> None:
    path = _bundle(tmp_path)
    data = bytearray(path.read_bytes())
    for mark, offset in ((b"PK\x01\x02", 8), (b"PK\x03\x04", 6)):
        data[data.index(mark) + offset] |= flag
    path.write_bytes(data)
    with pytest.raises(FileRefused, match=r"^job.sutaru is not a Sutaru bundle"):
        Bundle(path)


def test_a_bundle_nested_without_end_is_refused_in_words(tmp_path: Path) -> None:
    path = tmp_path / "job.sutaru"
    with zipfile.ZipFile(path, "w") as packed:
        packed.writestr("job.json", "[" * 200_000 + "]" * 200_000)
    with pytest.raises(FileRefused, match="is not a Sutaru bundle"):
        Bundle(path)


# --- memory ---------------------------------------------------------------------------------------------------------


def test_answers_are_remembered_up_to_so_many_bytes(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(remembering, "_answers", Kept(2000, lambda entry: entry[1]))
    asked: list[str] = []

    @remember
    def wide(word: str) -> str:
        asked.append(word)
        return word * 100

    letters = "aabbcdefghijklmnop"
    assert [wide(letter)[:1] for letter in letters] == list(letters)
    assert "".join(asked) == "abcdefghijklmnop"
    wide("p")
    assert len(asked) == 16
    wide("a")  # let go of, long ago
    assert len(asked) == 17

    @remember
    def sides(outline: Outline) -> int:  # what was asked is kept as well, and outweighs the answer
        asked.append(outline.d)
        return len(outline.polygons()[0])

    outlines = [Outline(d=f"M0 0H{n}V9H0Z" + "M1 1H2V2H1Z" * 100) for n in (5, 6)]
    assert [sides(outlines[n]) for n in (0, 1, 0)] == [4, 4, 4]
    assert len(asked) == 20
    kept: Kept[int, bytes] = Kept(100, len)
    kept.put(1, b"x" * 101)
    assert kept.get(1) is None
