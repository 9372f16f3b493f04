"""A PDF's file structure, held against ISO 32000-1 (7.5) byte for byte, and read by programs that are not ours."""

import hashlib
import re
import subprocess
import zlib
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pikepdf
import simplejpeg
from pikepdf import Array, Dictionary, Name, Stream

from sutaru.core.colour.output import Output
from sutaru.core.colour.profiles import profile_bytes
from sutaru.core.paint.page import Painted
from sutaru.core.press.files import Followed
from sutaru.core.press.pdf_file import PdfFile
from sutaru.core.press.transparency import Cover

RGB = np.random.default_rng(7).integers(0, 256, (48, 64, 3), np.uint8)
RGB_OUT = Output("srgb", profile_bytes("srgb"))
JPEG = simplejpeg.encode_jpeg(RGB, 95, "RGB", "444")
ALPHA = np.tile(np.arange(64, dtype=np.uint8) * 4, (48, 1))
CONTENT = b"q 64 0 0 48 0 0 cm /P Do Q q 64 0 0 48 64 0 cm /C Do Q\n" * 30


def written(path: Path, title: str = "Kites, Skerry & (Söhne)") -> bytes:
    """A document of one page with two pictures, the second of which can be seen through; some of its numbers are not used."""
    with path.open("wb") as file, Followed(file) as followed, pikepdf.new() as pdf:
        made = PdfFile(pdf, followed)
        pdf.make_indirect(Stream(pdf, b"taken up anew under another number"))
        plain = made.picture(iter([JPEG[:100], JPEG[100:]]), (64, 48), RGB_OUT, Name.DeviceRGB)
        cover = Cover()

        def seen() -> Iterator[bytes]:
            for band in cover.read_bands(iter([Painted((0, 0, 64, 48), RGB, ALPHA)])):
                yield simplejpeg.encode_jpeg(band.rgb, 95, "RGB", "444")

        clear = made.picture(seen(), (64, 48), RGB_OUT, Name.DeviceRGB, cover)
        page = Dictionary(
            Type=Name.Page, MediaBox=Array([0, 0, 128, 48]), Contents=Stream(pdf, CONTENT),
            Resources=Dictionary(XObject=Dictionary(P=plain, C=clear)),
        )  # fmt: skip
        pdf.pages.append(pikepdf.Page(pdf.make_indirect(page)))
        pdf.docinfo["/Title"] = title
        with pdf.open_metadata(set_pikepdf_as_editor=False) as xmp:
            xmp["dc:title"] = title
        made.finish()
    return path.read_bytes()


def test_each_object_lies_where_the_table_says(tmp_path: Path) -> None:
    data = written(tmp_path / "made.pdf")
    assert data.startswith(b"%PDF-1.6\n%")
    assert min(data[10:14]) >= 128
    table = int(re.search(rb"startxref\n(\d+)\n%%EOF\n\Z", data).group(1))  # 7.5.5
    begun = re.match(rb"xref\n0 (\d+)\n", data[table:])
    size, rows = int(begun.group(1)), data[table + begun.end() : data.index(b"trailer", table)]
    assert len(rows) == 20 * size  # 7.5.4: each entry exactly 20 bytes
    entries = [rows[20 * n : 20 * n + 20] for n in range(size)]
    assert all(re.fullmatch(rb"\d{10} \d{5} [nf] \n", entry) for entry in entries)
    assert entries[0] == b"0000000000 65535 f \n"
    used = {n: int(entry[:10]) for n, entry in enumerate(entries) if entry[17:18] == b"n"}
    assert 0 < len(used) < size - 1  # one number is free
    assert all(data[at:].startswith(b"%d 0 obj\n" % n) for n, at in used.items())
    assert len(re.findall(rb"^\d+ 0 obj$", data, re.M)) == len(used)  # and nothing else lies there
    assert re.search(rb"/Size %d\b" % size, data[table:])
    named = {int(n) for n in re.findall(rb"(\d+) 0 R", data)}
    assert named <= set(used)


def test_a_file_is_identified_by_its_bytes(tmp_path: Path) -> None:
    """14.4 of ISO 32000-1 leaves open how."""
    data = written(tmp_path / "made.pdf")
    own = hashlib.sha256(data[: data.rindex(b"xref\n0 ")]).digest()[:16]
    with pikepdf.open(tmp_path / "made.pdf") as pdf:
        assert [bytes(part) for part in pdf.trailer.ID] == [own, own]
    assert written(tmp_path / "again.pdf") == data
    with pikepdf.open(tmp_path / "made.pdf") as one:
        written(tmp_path / "other.pdf", "Another")
        with pikepdf.open(tmp_path / "other.pdf") as other:
            assert bytes(one.trailer.ID[0]) != bytes(other.trailer.ID[0])


def test_programs_that_are_not_ours_read_it_without_a_word(tmp_path: Path) -> None:
    path = tmp_path / "made.pdf"
    written(path)
    checked = subprocess.run(["qpdf", "--check", path], capture_output=True, text=True)
    assert (checked.returncode, checked.stderr) == (0, "")
    info = subprocess.run(["pdfinfo", path], capture_output=True, text=True)
    assert (info.returncode, info.stderr) == (0, "")
    assert "Kites, Skerry & (Söhne)" in info.stdout
    drawn = subprocess.run(
        ["mutool", "draw", "-q", "-r", "72", "-o", tmp_path / "page.png", path], capture_output=True, text=True
    )
    told = drawn.stderr.replace("warning: ICC support is not available\n", "")  # Debian's is built without
    assert (drawn.returncode, told) == (0, "")
    listed = subprocess.run(["pdfimages", "-list", path], capture_output=True, text=True).stdout.splitlines()[2:5]
    assert [line.split()[2] for line in listed] == ["image", "image", "smask"]


def test_pictures_are_taken_as_they_are_and_what_is_said_of_the_document_stays_readable(tmp_path: Path) -> None:
    data = written(tmp_path / "made.pdf")
    with pikepdf.open(tmp_path / "made.pdf") as pdf:
        held = pdf.pages[0].Resources.XObject
        assert held.P.read_raw_bytes() == JPEG
        assert int(held.P.Length) == len(JPEG)
        assert zlib.decompress(held.C.SMask.read_raw_bytes()) == ALPHA.tobytes()
        content = pdf.pages[0].Contents
        assert (content.read_bytes(), content.Filter) == (CONTENT, Name.FlateDecode)
        assert len(content.read_raw_bytes()) < len(CONTENT) / 5
        assert "/Filter" not in pdf.Root.Metadata
    assert "Kites, Skerry &amp; (Söhne)".encode() in data
