"""A printer that stands in: what it prints lies on the paper as meant, it fits nothing silently, and what stopped goes on."""

import io
import subprocess
import sys
import time
from pathlib import Path

import numpy as np
import pikepdf
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from sutaru.core.errors import FileRefused, NotFound
from sutaru.core.measure import points_from_mm
from sutaru.standins.printer import MARGIN_MM, PPI, Printer, create_printer
from sutaru.work.printing import NotPrinted, PrinterLine
from tests.serving import free_port

MM = PPI / 25.4


def pdf(
    *pages: tuple[float, float], box: tuple[float, float, float, float] = (50, 60, 30, 20), condition: str = ""
) -> bytes:
    """Pages of so many mm, each with a black box: its left, top, width and height, mm."""
    with pikepdf.new() as made:
        for wide, high in pages:
            page = made.add_blank_page(page_size=(points_from_mm(wide), points_from_mm(high))).obj
            left, top, w, h = (points_from_mm(v) for v in box)
            page.Contents = pikepdf.Stream(made, f"0 g {left} {points_from_mm(high) - top - h} {w} {h} re f".encode())
        if condition:
            intent = pikepdf.Dictionary(
                Type=pikepdf.Name.OutputIntent, S=pikepdf.Name.GTS_PDFX,
                OutputConditionIdentifier=pikepdf.String(condition),
            )  # fmt: skip
            made.Root.OutputIntents = pikepdf.Array([intent])
        out = io.BytesIO()
        made.save(out)
    return out.getvalue()


def black(path: Path) -> tuple[float, float, float, float]:
    """Where the black box lies on the paper: left, top, right, bottom, mm."""
    dark = np.asarray(Image.open(path).convert("L")) < 128
    rows, columns = np.flatnonzero(dark.any(1)), np.flatnonzero(dark.any(0))
    return columns[0] / MM, rows[0] / MM, (columns[-1] + 1) / MM, (rows[-1] + 1) / MM


@pytest.fixture
def printer(tmp_path: Path) -> Printer:
    return Printer(tmp_path / "printer")


def test_a_page_of_the_papers_size_lies_at_its_own_size(printer: Printer) -> None:
    job = printer.take(pdf((450, 320)), "1", 1, "", "exact")
    assert (job["state"], job["printed"], job["files"]) == ("done", 1, ["sheet-001-front.png"])
    assert job["notes"] == [f"At its own size; {MARGIN_MM:g} mm at the paper's edges stay white."]
    path = printer.file(job["id"], "sheet-001-front.png")
    with Image.open(path) as sheet:
        assert sheet.size == (round(450 * MM), round(320 * MM))
    assert black(path) == pytest.approx((50, 60, 80, 80), abs=0.3)
    upright = printer.take(pdf((320, 450)), "1", 1, "", "exact")  # lies a quarter turned, and says so
    assert upright["notes"][-1] == "A quarter turned."
    assert black(printer.file(upright["id"], "sheet-001-front.png")) == pytest.approx((60, 240, 80, 270), abs=0.3)


def test_where_it_does_not_print_stays_white(printer: Printer) -> None:
    job = printer.take(pdf((297, 210), box=(0, 0, 297, 210)), "3", 1, "", "exact")
    found = black(printer.file(job["id"], "sheet-001-front.png"))
    assert found == pytest.approx((MARGIN_MM, MARGIN_MM, 297 - MARGIN_MM, 210 - MARGIN_MM), abs=0.3)


def test_nothing_is_fitted_silently(printer: Printer) -> None:
    large = pdf((450, 320))
    with pytest.raises(FileRefused, match=r"450\.0 x 320\.0 mm is not of the size of tray 2, 420 x 297 mm") as refused:
        printer.take(large, "2", 1, "", "exact")
    assert refused.value.remedy == "Choose another tray, or have it made smaller (90%)."
    smaller = printer.take(large, "2", 1, "", "smaller")
    share = (297 - 2 * MARGIN_MM) / 320
    assert smaller["notes"] == [f"Printed smaller, at {share:.1%} of its size."]
    left, top, right, bottom = black(printer.file(smaller["id"], "sheet-001-front.png"))
    assert (right - left, bottom - top) == pytest.approx((30 * share, 20 * share), abs=0.4)
    middle = printer.take(large, "2", 1, "", "middle")
    assert middle["notes"] == ["It is larger than can be printed: its edges fall off."]
    at = black(printer.file(middle["id"], "sheet-001-front.png"))
    assert at == pytest.approx((50 - 15, 60 - 11.5, 80 - 15, 80 - 11.5), abs=0.4)
    small = printer.take(pdf((100, 90), box=(10, 10, 20, 20)), "2", 1, "", "middle")
    assert small["notes"] == [f"At its own size; {MARGIN_MM:g} mm at the paper's edges stay white."]


def test_both_sides_copies_and_papers(printer: Printer) -> None:
    job = printer.take(pdf(*[(450, 320)] * 3), "1", 4, "long", "exact")
    assert (job["sheets"], job["printed"], job["state"]) == (2, 8, "done")
    assert job["files"] == ["sheet-001-front.png", "sheet-001-back.png", "sheet-002-front.png"]
    assert printer.trays["1"].sheets == 492
    with pytest.raises(FileRefused, match="printed on one side only"):
        printer.take(pdf((203.2, 304.8)), "4", 1, "short", "exact")
    with pytest.raises(NotFound, match=r"no tray 9\. Choose one of: 1, 2, 3, 4"):
        printer.take(pdf((450, 320)), "9", 1, "", "exact")
    with pytest.raises(FileRefused, match="no PDF"):
        printer.take(b"%PDF-1.6 nothing", "1", 1, "", "exact")
    meant = printer.take(pdf((450, 320), condition="CGATS TR 006"), "1", 1, "", "exact")
    assert meant["notes"][-1] == "It was made for CGATS TR 006; coated 170 is printed by another profile."


@pytest.mark.parametrize(
    ("fault", "why"),
    [("empty:1", "out of coated 170"), ("jam:1", "is jammed"), ("wrong:1", "other paper in tray 1")],
)
def test_what_stops_goes_on_and_no_sheet_is_printed_twice(fault: str, why: str, tmp_path: Path) -> None:
    printer = Printer(tmp_path, fault)
    stopped = printer.take(pdf(*[(450, 320)] * 3), "1", 2, "", "exact")
    assert stopped["state"] == "stopped"
    assert why in stopped["why"]
    assert stopped["printed"] == 0
    done = printer.go_on(stopped["id"])
    assert (done["state"], done["printed"], len(done["files"])) == ("done", 6, 3)
    assert printer.go_on(stopped["id"]) == done  # once more changes nothing


def test_out_of_paper_in_the_middle(printer: Printer) -> None:
    printer.trays["1"].sheets = 3
    stopped = printer.take(pdf(*[(450, 320)] * 5), "1", 1, "", "exact")
    assert (stopped["state"], stopped["printed"], len(stopped["files"])) == ("stopped", 3, 3)
    done = printer.go_on(stopped["id"])
    assert (done["state"], done["printed"], len(set(done["files"]))) == ("done", 5, 5)
    assert printer.trays["1"].sheets == 98


def test_the_service_says_the_same_and_a_printer_that_is_off_is_said(printer: Printer) -> None:
    with TestClient(create_printer(printer)) as client:
        assert [tray["name"] for tray in client.get("/printer").json()["trays"]] == ["1", "2", "3", "4"]
        assert client.post("/jobs", params={"tray": "1", "copies": 5000}, content=b"x").status_code == 409
        job = client.post("/jobs", params={"tray": "1"}, content=pdf((450, 320))).json()
        assert client.get(f"/jobs/{job['id']}").json() == job
        assert client.get(f"/jobs/{job['id']}/sides/{job['files'][0]}").content[:4] == b"\x89PNG"
        assert client.get(f"/jobs/{job['id']}/sides/job.pdf").status_code == 404
        assert client.get("/jobs/..%2f..").status_code == 404
    with pytest.raises(NotPrinted, match=r"The printer at http://127\.0\.0\.1:9 does not answer\."):
        PrinterLine("http://127.0.0.1:9").trays()


def test_a_stand_in_ends_with_what_started_it(tmp_path: Path) -> None:
    """Also when that is killed: it would hold its port against the next one."""
    script = (
        "import os, subprocess, sys, time\n"
        f"own = [sys.executable, '-m', 'sutaru', 'printer', '--port', '{free_port()}', '--data', {str(tmp_path)!r}]\n"
        "made = subprocess.Popen([*own, '--until', str(os.getpid())], stdout=subprocess.PIPE, text=True)\n"
        "made.stdout.readline()\n"
        "print(made.pid, flush=True)\n"
        "time.sleep(60)\n"
    )
    starter = subprocess.Popen([sys.executable, "-c", script], stdout=subprocess.PIPE, text=True)
    assert starter.stdout is not None
    pid = int(starter.stdout.readline())
    assert Path(f"/proc/{pid}").exists()
    starter.kill()
    starter.communicate()
    end = time.monotonic() + 20
    while Path(f"/proc/{pid}").exists() and "Z" not in Path(f"/proc/{pid}/stat").read_text().split()[2]:
        assert time.monotonic() < end, "it goes on"
        time.sleep(0.1)
