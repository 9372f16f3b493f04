"""The proof for a customer, and the remarks that come back."""

import html
import html.parser
import io
import json

import numpy as np
import pytest
from PIL import Image

from sutaru.core.edits.apply import apply
from sutaru.core.edits.kinds import SettleRemark, TakeRemarks
from sutaru.core.errors import EditRefused, FileRefused
from sutaru.core.press.proof import read_remarks, watermark, write_proof
from tests.core.booked import book


class Reader(html.parser.HTMLParser):
    def __init__(self) -> None:
        super().__init__()
        self.scripts: list[tuple[dict[str, str | None], str]] = []
        self.links: list[str] = []

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.links += [value or "" for name, value in attrs if name in ("src", "href")]
        if tag == "script":
            self.scripts.append((dict(attrs), ""))

    def handle_data(self, data: str) -> None:
        if self.scripts and not self.scripts[-1][1]:
            self.scripts[-1] = self.scripts[-1][0], data


def jpeg(colour: tuple[int, int, int]) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (300, 150), colour).save(out, "JPEG")
    return out.getvalue()


def test_the_proof_is_one_page_that_asks_for_nothing_from_elsewhere() -> None:
    job = book(pages=20).copy_with(customer="Ola <b>Brandvik</b>")
    whole = "".join(
        write_proof(job, "0a1b", "2026-11-26T10:00:00+01:00", "remarks.json", lambda sheet: jpeg((90, 120, 200)))
    )
    read = Reader()
    read.feed(whole)
    assert read.links == []
    assert "http" not in whole.replace("http-equiv", "")
    about, pictures = (json.loads(data) for attrs, data in read.scripts if attrs.get("type") == "application/json")
    assert len(pictures) == len(about["sheets"]) == len(job.sheets)
    assert about["job"] == "0a1b"
    assert about["sheets"][1]["name"] == "Page 1"
    assert "<b>Brandvik" not in whole
    assert "&lt;b&gt;Brandvik" in whole


def test_a_proof_is_marked_across_light_and_dark() -> None:
    for colour in ((250, 250, 248), (20, 20, 24), (120, 130, 140)):
        before = np.asarray(Image.open(io.BytesIO(jpeg(colour))), int)
        after = np.asarray(Image.open(io.BytesIO(watermark(jpeg(colour)))), int)
        assert 0.02 < (np.abs(after - before).max(axis=2) > 12).mean() < 0.5


def test_remarks_come_back_once_and_are_settled() -> None:
    job = book(pages=20)
    said = {"sutaru_remarks": 1, "job": "0a1b", "name": "Runa", "remarks": [
        {"id": "aabbccddeeff", "sheet": "pages-3", "x": 0.2, "y": 0.9, "text": "Not this one"},
        {"id": "aabbccddee00", "sheet": "gone", "x": 0.2, "y": 0.9, "text": "A sheet that is not there"},
    ]}  # fmt: skip
    found = read_remarks(json.dumps(said).encode(), job.sheets_by_id, "0a1b", "2026-11-26T10:00:00")
    assert [(one.sheet, one.text, one.name, one.done) for one in found] == [("pages-3", "Not this one", "Runa", False)]
    taken = apply(job, TakeRemarks(remarks=tuple(found)))
    with pytest.raises(EditRefused, match="here already"):
        apply(taken, TakeRemarks(remarks=tuple(found)))
    done = apply(taken, SettleRemark(remark="aabbccddeeff"))
    assert [one.done for one in done.remarks] == [True]
    with pytest.raises(EditRefused, match="remark was not found"):
        apply(taken, SettleRemark(remark="ffff"))


def remark(**fields: object) -> bytes:
    entry = {"id": "abcdef", "sheet": "cover", "x": 1, "y": 1, "text": "a", **fields}
    return json.dumps({"sutaru_remarks": 1, "job": "0a1b", "name": "", "remarks": [entry]}).encode()


NO_REMARKS = [
    b"", b"\xff\xfe", b"[]", b"{}", b'{"sutaru_remarks": 2}', b'{"sutaru_remarks": 1, "job": "0a1b", "name": 3}',
    remark(id="../x"), remark(x=9), remark(text=""), remark(sheet=[3]),
    b'{"sutaru_remarks": 1, "job": "0a1b", "name": "", "remarks": [3]}',
]  # fmt: skip


@pytest.mark.parametrize("data", NO_REMARKS)
def test_what_are_no_remarks_is_refused(data: bytes) -> None:
    with pytest.raises(FileRefused, match="no file of remarks"):
        read_remarks(data, book(pages=20).sheets_by_id, "0a1b", "")
    with pytest.raises(FileRefused, match="another job"):
        read_remarks(
            b'{"sutaru_remarks": 1, "job": "other", "name": "", "remarks": []}', book(pages=20).sheets_by_id, "0a1b", ""
        )


JPEG = jpeg((90, 120, 160))


@pytest.mark.parametrize("name", ["{{pictures}}", "{{about}}", "{{title}} {{by}}", "</script><b>", "\\1 \\g<0>"])
def test_a_proof_is_whole_whatever_the_job_is_called(name: str, job_of) -> None:
    job = job_of("card-portrait").copy_with(name=name, customer=name, fields={"title": name})
    job = job.copy_with(sheets=tuple(sheet.copy_with(name=name) for sheet in job.sheets))
    page = "".join(write_proof(job, "j" * 12, "2026-11-26", "r.json", lambda sheet: JPEG))
    plain = "".join(
        write_proof(
            job.copy_with(name="Plain", customer="", fields={}), "j" * 12, "2026-11-26", "r.json", lambda sheet: JPEG
        )
    )
    assert page.count("<script") == plain.count("<script")
    assert html.escape(name) in page
    assert page.count('","') >= len(job.sheets) - 1


@pytest.mark.parametrize(
    "data",
    [b"[" * 100_000, b"[]", b"7", b'{"sutaru_remarks": 1}', b"\xff\xfe", b'{"sutaru_remarks": true, "job": "j", "remarks": 5}',
     json.dumps({"sutaru_remarks": 1, "job": "j", "name": None, "remarks": [{"id": []}]}).encode(),
     b'{"sutaru_remarks": 1, "job": "j", "name": "\\ud800", "remarks": []}',
     json.dumps({"sutaru_remarks": 1, "job": "j", "name": "x", "remarks": [{"id": "abcdef", "sheet": "outside", "x": 9e99, "y": 0,
                                                                           "text": "x"}]}).encode()],
)  # fmt: skip
def test_what_is_no_file_of_remarks_is_a_sentence(data: bytes, job_of) -> None:
    with pytest.raises(FileRefused, match="This is no file of remarks"):
        read_remarks(data, job_of("card-portrait").sheets_by_id, "j", "2026-11-26")
