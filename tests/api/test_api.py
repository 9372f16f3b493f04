"""The API over a real store: starting, bringing in, editing, undoing, exporting, stopping; and what it refuses."""

import io
import json
import signal
import socket
import subprocess
import sys
import time
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import httpx
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from sutaru.api.app import create_app
from sutaru.core.document import Photo
from sutaru.core.formats import Bundle
from sutaru.shelf import SAMPLES

Pile = list[tuple[Path, Photo]]


@pytest.fixture(scope="module")
def client(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    with TestClient(create_app(tmp_path_factory.mktemp("data")), base_url="http://localhost") as made:
        yield made


def start(client: Any, template: str, **more: object) -> str:
    body = {"template": template, "name": "Spread", "customer": "Ola", "lab": "gullwing-300", **more}
    answer = client.post("/api/jobs", json=body)
    assert answer.status_code == 201, answer.text
    return answer.json()["id"]


def bring(client: Any, job: str, path: Path, **query: str) -> Any:
    return client.post(f"/api/jobs/{job}/photos", params={"name": path.name, **query}, content=path.read_bytes())


def edit(client: Any, job: str, gesture: str | None = None, **body: object) -> Any:
    return client.post(f"/api/jobs/{job}/edits", json={"edit": body, "gesture": gesture})


@pytest.fixture
def spread(client: TestClient, pile: Pile) -> str:
    job = start(client, "album-spread-18")
    for path, _ in pile[:5]:
        assert bring(client, job, path, gesture="folder").status_code == 201
    return job


def state(client: Any, job: str) -> dict:
    return client.get(f"/api/jobs/{job}").json()


def test_shelf(client: TestClient) -> None:
    cards = {card["id"]: card for card in client.get("/api/templates").json()}
    assert cards["album-spread-18"]["pages"][0]["openings"] == 18
    picture = client.get("/api/templates/collage-wind/pages/print/picture?width=300")
    with Image.open(io.BytesIO(picture.content)) as image:
        assert image.size[0] == 300
        # In its true proportions, bleed included.
        assert image.size[1] == pytest.approx(300 * (304.8 + 6) / (406.4 + 6), abs=1)
    assert [lab["ppi_target"] for lab in client.get("/api/labs").json()] == [300, 250]


def test_undo_and_redo_by_gesture(client: TestClient, spread: str) -> None:
    photos = [photo["id"] for photo in state(client, spread)["job"]["photos"]]
    assert len(photos) == 5
    edit(client, spread, op="put", opening="opening-1", photo=photos[0])
    for x in (0.4, 0.45, 0.5):
        where = {"centre": [x, 0.5], "zoom": 2, "turn_deg": 0, "mirror": False}
        edit(client, spread, "arrows", op="place", opening="opening-1", **where)
    assert state(client, spread)["undo"] == "fit 1"
    back = client.post(f"/api/jobs/{spread}/undo").json()
    assert back["job"]["edition"]["placements"]["opening-1"]["zoom"] == 1  # the whole run of keys
    assert (back["undo"], back["redo"]) == ("put a photo into 1", "fit 1")
    again = client.post(f"/api/jobs/{spread}/redo").json()
    assert again["job"]["edition"]["placements"]["opening-1"]["centre"][0] == 0.5
    client.post(f"/api/jobs/{spread}/undo")
    client.post(f"/api/jobs/{spread}/undo")
    empty = client.post(f"/api/jobs/{spread}/undo").json()  # the folder came in as one gesture
    assert (empty["job"]["photos"], empty["undo"]) == ([], "")
    refused = client.post(f"/api/jobs/{spread}/undo")
    assert (refused.status_code, refused.json()["sentence"]) == (409, "There is nothing to undo.")
    # A new edit after undo is a new branch; redo then follows the newest.
    client.post(f"/api/jobs/{spread}/redo")
    edit(client, spread, op="put", opening="opening-2", photo=photos[1])
    assert state(client, spread)["redo"] == ""


def test_pictures_follow_their_revision(client: TestClient, spread: str) -> None:
    photos = [photo["id"] for photo in state(client, spread)["job"]["photos"]]
    before = state(client, spread)["revision"]
    after = edit(client, spread, op="put", opening="opening-1", photo=photos[0]).json()["revision"]

    def at(revision: int) -> bytes:
        return client.get(f"/api/jobs/{spread}/pages/spread/picture?revision={revision}&width=400").content

    filled, empty = at(after), at(before)
    assert filled != empty
    assert at(after) == filled
    assert client.get(f"/api/jobs/{spread}/pages/spread/picture?revision=999").status_code == 404
    assert client.get(f"/api/jobs/{spread}/pages/none/picture?revision={after}").status_code == 404


@pytest.mark.parametrize(
    ("name", "data", "sentence"),
    [
        ("nothing.jpg", b"", "nothing.jpg is empty (0 bytes). Copy it from the camera or card again."),
        ("letter.txt", b"Dear Ola", "letter.txt is not a picture that can be read."),
        ("torn.jpg", None, "torn.jpg is damaged: its pixels end early or do not decode."),
    ],
)
def test_bad_files_are_refused_and_nothing_is_left(
    client: TestClient, spread: str, pile: Pile, name, data, sentence
) -> None:
    data = pile[9][0].read_bytes()[:12_000] if data is None else data
    answer = client.post(f"/api/jobs/{spread}/photos", params={"name": name}, content=data)
    assert answer.status_code == 422
    assert answer.json()["sentence"].startswith(sentence)
    assert len(state(client, spread)["job"]["photos"]) == 5
    assert not list(client.app.state.studio.photos.incoming.iterdir())


def test_same_photo_again_and_sample_photos_are_known(client: TestClient, spread: str, pile: Pile) -> None:
    revision = state(client, spread)["revision"]
    again = bring(client, spread, pile[0][0]).json()
    assert (again["known"], again["revision"]) == (True, revision)
    sample = bring(client, spread, SAMPLES / "sample-kite.jpg").json()
    assert sample["photo"]["sample"] is True
    job = start(client, "card-landscape", samples=True)
    filled = edit(client, job, op="fill").json()
    assert "sample_photo" in [finding["rule"] for finding in filled["findings"]]


@pytest.mark.parametrize(
    ("call", "status", "sentence"),
    [
        (("GET", "/api/jobs/nope", None), 404, "There is no such job."),
        (("GET", "/api/nowhere", None), 404, "There is nothing at this address."),
        (("GET", "/api/photos/..%2F..%2Fetc%2Fpasswd/thumb", None), 404, "There is nothing at this address."),
        (("GET", "/api/photos/abc/thumb", None), 404, "There is no such photo."),
        (
            ("POST", "/api/jobs", {"template": "nope", "name": "x", "lab": "gullwing-300"}),
            404,
            "There is no such template.",
        ),
        (
            ("POST", "/api/jobs", {"template": "mockup-wall", "name": "x", "lab": "nope"}),
            404,
            "There is no such lab sheet.",
        ),
        (
            ("POST", "/api/jobs", {"template": "mockup-wall", "name": "", "lab": "gullwing-300"}),
            422,
            "name: String should",
        ),
    ],
)
def test_refusals(client: TestClient, call: tuple, status: int, sentence: str) -> None:
    method, path, body = call
    answer = client.request(method, path, json=body)
    assert answer.status_code == status
    assert answer.json()["sentence"].startswith(sentence)


def test_only_this_machine_and_own_pages(client: TestClient, spread: str) -> None:
    assert client.get("/api/jobs", headers={"host": "evil.example"}).status_code == 400
    foreign = client.post(f"/api/jobs/{spread}/undo", headers={"origin": "http://evil.example"})
    assert (foreign.status_code, foreign.json()["code"]) == (403, "foreign_origin")
    assert client.post(f"/api/jobs/{spread}/undo", headers={"origin": "http://localhost"}).status_code == 200


def wait(client: Any, job: str, seconds: float = 90) -> dict:
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        (export, *_) = client.get(f"/api/jobs/{job}/exports").json()
        if export["state"] not in ("queued", "running"):
            return export
        time.sleep(0.1)
    raise AssertionError("the export did not end")


def test_export_with_progress_files_and_zip(client: TestClient, pile: Pile) -> None:
    job = start(client, "card-portrait")
    bring(client, job, pile[0][0])
    edit(client, job, op="fill")
    started = client.post(f"/api/jobs/{job}/exports", json={"lab": "gullwing-300", "format": "png"})
    assert started.status_code == 202
    done = wait(client, job)
    assert done["state"] == "done", done
    names = [entry["file"] for entry in done["manifest"]["files"]]
    assert names == ["Spread_01.png", "Spread_02.png"]
    packed = zipfile.ZipFile(io.BytesIO(client.get(f"/api/exports/{done['id']}/all").content))
    assert sorted(packed.namelist()) == [*names, "manifest.json"]
    with Image.open(io.BytesIO(client.get(f"/api/exports/{done['id']}/files/{names[0]}").content)) as image:
        assert image.size == (3071, 2171)
    assert client.get(f"/api/exports/{done['id']}/files/..%2F..%2Fsutaru.sqlite3").status_code == 404
    assert client.get(f"/api/exports/{done['id']}/files/.progress.json").status_code == 404


def test_an_export_can_be_stopped_and_leaves_nothing(client: TestClient, spread: str) -> None:
    edit(client, spread, op="fill")
    begun = client.post(f"/api/jobs/{spread}/exports", json={"lab": "gullwing-300"}).json()
    client.post(f"/api/exports/{begun['id']}/stop")
    ended = wait(client, spread)
    assert (ended["state"], ended["message"]) == ("stopped", "The export was stopped.")
    folder = client.app.state.studio.export_folder / begun["id"]
    assert not [path for path in folder.iterdir() if path.suffix == ".jpg"]
    assert client.get(f"/api/exports/{begun['id']}/all").status_code == 404


def test_bundle_there_and_back(client: TestClient, spread: str, tmp_path: Path) -> None:
    edit(client, spread, op="fill")
    answer = client.get(f"/api/jobs/{spread}/bundle")
    assert 'filename="Spread.sutaru"' in answer.headers["content-disposition"]
    path = tmp_path / "spread.sutaru"
    path.write_bytes(answer.content)
    assert Bundle(path).job.model_dump(mode="json") == state(client, spread)["job"]
    again = client.post("/api/jobs/from-bundle", content=answer.content).json()["id"]
    assert state(client, again)["job"] == state(client, spread)["job"]
    bad = client.post("/api/jobs/from-bundle", content=b"PK no")
    assert bad.status_code == 422
    assert "is not a Sutaru bundle" in bad.json()["sentence"]


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return probe.getsockname()[1]


class Served:
    """`sutaru serve` in a process of its own."""

    def __init__(self, data: Path) -> None:
        port = free_port()
        self.client = httpx.Client(base_url=f"http://127.0.0.1:{port}", timeout=60)
        command = [sys.executable, "-m", "sutaru.cli", "serve", "--port", str(port), "--data", str(data)]
        self.process = subprocess.Popen(command, stderr=subprocess.PIPE, text=True)
        for _ in range(600):
            try:
                self.client.get("/api/labs")
                return
            except httpx.TransportError:
                time.sleep(0.1)
        raise AssertionError("the server did not start")

    def end(self, how: signal.Signals) -> None:
        self.client.close()
        self.process.send_signal(how)
        self.process.communicate(timeout=30)


def test_nothing_acknowledged_is_lost_when_the_server_is_killed(tmp_path: Path, pile: Pile) -> None:
    first = Served(tmp_path)
    try:
        job = start(first.client, "mockup-wall")
        for path, _ in pile[:3]:
            bring(first.client, job, path)
        assert edit(first.client, job, op="fill").status_code == 200
        left = edit(first.client, job, op="clear", openings=["frame-small"]).json()
        first.client.post(f"/api/jobs/{job}/exports", json={"lab": "gullwing-300", "format": "tiff"})
    finally:
        first.end(signal.SIGKILL)
    second = Served(tmp_path)
    try:
        found = state(second.client, job)
        assert found == left
        (export,) = second.client.get(f"/api/jobs/{job}/exports").json()
        assert export["state"] in ("done", "failed")
        back = second.client.post(f"/api/jobs/{job}/undo").json()
        assert set(back["job"]["edition"]["placements"]) == {"frame-large", "frame-small"}
        for _ in range(4):
            last = second.client.post(f"/api/jobs/{job}/undo").json()
        assert (last["job"]["photos"], last["undo"]) == ([], "")
    finally:
        second.end(signal.SIGTERM)


def test_events_tell_of_changes(tmp_path: Path) -> None:
    server = Served(tmp_path)
    try:
        job = start(server.client, "mockup-wall")
        with (
            httpx.Client(base_url=server.client.base_url, timeout=30) as other,
            other.stream("GET", "/api/events") as stream,
        ):
            lines = stream.iter_lines()
            assert next(lines) == ": listening"
            body = {"edit": {"op": "rename", "name": "Second"}, "gesture": None}
            server.client.post(f"/api/jobs/{job}/edits", json=body)
            told = next(line for line in lines if line.startswith("data:"))
            assert json.loads(told.removeprefix("data: ")) == {"kind": "job", "id": job}
    finally:
        server.end(signal.SIGTERM)
