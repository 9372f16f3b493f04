"""Print sheets on the studio's printer: sent as they are, stopped and gone on with, off and said so."""

import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from sutaru.api.app import create_app
from sutaru.api.studio import Studio
from sutaru.work.printing import NotPrinted, PrinterLine
from tests.api.asking import Pile, accept_all, bring, edit, ended, start
from tests.serving import free_port


@pytest.fixture
def printer(tmp_path: Path) -> Iterator[str]:
    port = free_port()
    command = [sys.executable, "-m", "sutaru", "printer", "--port", str(port), "--data", str(tmp_path / "printer")]
    process = subprocess.Popen([*command, "--faults", "jam:1"], stdout=subprocess.DEVNULL)
    address = f"http://127.0.0.1:{port}"
    for _ in range(200):
        try:
            PrinterLine(address).trays()
            break
        except NotPrinted:
            time.sleep(0.1)
    yield address
    process.kill()
    process.wait()


def test_cards_on_paper(printer: str, pile: Pile, tmp_path: Path) -> None:
    studio = Studio(tmp_path / "data", printer=printer)
    with TestClient(create_app(tmp_path / "data", opened=studio), base_url="http://localhost") as client:
        trays = client.get("/api/printer").json()["trays"]
        assert (trays[0]["width_mm"], trays[0]["height_mm"]) == (450, 320)
        job = start(client, "card-portrait")
        bring(client, job, pile[1][0])
        edit(client, job, op="fill")
        accept_all(client, job)
        wish = {"width_mm": 450, "height_mm": 320, "duplex": "long", "copies": 2}
        task = client.post(f"/api/jobs/{job}/exports", json={"lab": "gullwing-300", "sheets": wish}).json()["id"]
        (file,) = ended(client, task)["outcome"]["files"]
        asked = {"files": [file["file"]], "tray": "2", "copies": 3, "duplex": "long"}
        refused = client.post(f"/api/exports/{task}/print", json=asked)
        assert (refused.status_code, refused.json()["code"]) == (422, "not_printed")
        assert refused.json()["sentence"].startswith("A page of 450.0 x 320.0 mm is not of the size of tray 2")
        stopped = client.post(f"/api/exports/{task}/print", json={**asked, "tray": "1"}).json()
        assert (stopped["state"], stopped["printed"]) == ("stopped", 0)
        assert "jammed" in stopped["why"]
        assert client.get(f"/api/printer/jobs/{stopped['id']}").json() == stopped
        done = client.post(f"/api/printer/jobs/{stopped['id']}/on").json()
        assert (done["state"], done["printed"]) == ("done", 3)
        sides = []
        for name in done["files"]:
            path = tmp_path / name
            path.write_bytes(client.get(f"/api/printer/jobs/{done['id']}/sides/{name}").content)
            with Image.open(path) as picture:
                sides.append(np.asarray(picture.convert("L")) < 245)
        front, back = sides
        # Held against the light, turned over its long edge, both sides print on the same places.
        through = back[::-1]
        rows, columns = (np.flatnonzero(front.any(axis)) for axis in (1, 0))
        rows_back, columns_back = (np.flatnonzero(through.any(axis)) for axis in (1, 0))
        middle = (rows[0] + rows[-1]) // 2, (columns[0] + columns[-1]) // 2
        assert front[middle[0] - 40 : middle[0] + 40].any()
        assert abs(columns[0] - columns_back[0]) <= 2
        assert abs(columns[-1] - columns_back[-1]) <= 2
        assert abs(rows[0] - rows_back[0]) <= 60  # the bar and the line of the job stand at one edge
        assert client.post(f"/api/exports/{task}/print", json={**asked, "files": ["manifest.json"]}).status_code == 404
        assert client.get(f"/api/printer/jobs/{done['id']}/sides/job.pdf").status_code == 422


def test_both_sides_of_a_card_are_one_job(printer: str, pile: Pile, tmp_path: Path) -> None:
    """A file a side, as the lab sheet has it: at the printer they are the two sides of one sheet."""
    studio = Studio(tmp_path / "data", printer=printer)
    with TestClient(create_app(tmp_path / "data", opened=studio), base_url="http://localhost") as client:
        job = start(client, "postcard-two")
        bring(client, job, pile[1][0])
        edit(client, job, op="fill")
        accept_all(client, job)
        task = client.post(f"/api/jobs/{job}/exports", json={"lab": "gullwing-300", "format": "pdf"}).json()["id"]
        files = [file["file"] for file in ended(client, task)["outcome"]["files"]]
        assert len(files) == 2
        asked = {"files": files, "tray": "2", "duplex": "short", "fit": "middle", "copies": 2}
        stopped = client.post(f"/api/exports/{task}/print", json=asked).json()
        assert (stopped["sheets"], stopped["copies"], stopped["state"]) == (
            1,
            2,
            "stopped",
        )  # at the first sheet it jams
        done = client.post(f"/api/printer/jobs/{stopped['id']}/on").json()
        assert (done["state"], done["printed"]) == ("done", 2)
        assert done["files"][:2] == ["sheet-001-front.png", "sheet-001-back.png"]
        sides = []
        for name in done["files"][:2]:
            path = tmp_path / name
            path.write_bytes(client.get(f"/api/printer/jobs/{done['id']}/sides/{name}").content)
            with Image.open(path) as picture:
                sides.append(np.asarray(picture.convert("RGB")).astype(int))
        assert np.abs(sides[0] - sides[1]).mean() > 5  # another side, not the same again


def test_a_printer_that_is_off_is_said(tmp_path: Path) -> None:
    studio = Studio(tmp_path / "data", printer=f"http://127.0.0.1:{free_port()}")
    with TestClient(create_app(tmp_path / "data", opened=studio), base_url="http://localhost") as client:
        told = client.get("/api/printer").json()
        assert not told["reachable"]
        assert "does not answer" in told["message"]
        assert client.post("/api/exports/nothing/print", json={"files": ["x.pdf"], "tray": "1"}).status_code == 404
