"""The API over a real store: starting, bringing in, editing, undoing, exporting, stopping; and what it refuses."""

import io
import json
import signal
import time
import zipfile
from collections.abc import Iterator
from pathlib import Path

import httpx
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from sutaru.api.app import create_app
from sutaru.core.formats.bundle import Bundle
from sutaru.shelf import SAMPLES
from tests.api.asking import Pile, accept_all, back, bring, edit, ended, head, start, state
from tests.serving import Served


@pytest.fixture(scope="module")
def client(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    with TestClient(create_app(tmp_path_factory.mktemp("data")), base_url="http://localhost") as made:
        yield made


@pytest.fixture
def spread(client: TestClient, pile: Pile) -> str:
    job = start(client, "album-spread-18")
    for path, _ in pile[:5]:
        assert bring(client, job, path, gesture="folder").status_code == 201
    return job


def test_shelf(client: TestClient) -> None:
    cards = {card["id"]: card for card in client.get("/api/templates").json()}
    assert cards["album-spread-18"]["sheets"][0]["openings"] == 18
    picture = client.get("/api/templates/collage-wind/sheets/print/picture?width=300")
    with Image.open(io.BytesIO(picture.content)) as image:
        assert 300 <= image.size[0] <= 450  # one that ships
        # In its true proportions, bleed included.
        assert image.size[1] == pytest.approx(image.size[0] * (304.8 + 6) / (406.4 + 6), abs=1)
    assert [lab["ppi_target"] for lab in client.get("/api/labs").json()] == [300, 250, 300]


def test_undo_and_redo_by_gesture(client: TestClient, spread: str) -> None:
    photos = [photo["id"] for photo in state(client, spread)["photos"]]
    assert len(photos) == 5
    edit(client, spread, op="put", sheet="spread", opening="opening-1", photo=photos[0])
    for x in (0.4, 0.45, 0.5):
        where = {"centre": [x, 0.5], "zoom": 2, "turn_deg": 0, "mirror": False}
        edit(client, spread, "arrows", op="place", sheet="spread", opening="opening-1", **where)
    assert state(client, spread)["undo"] == "fit photo in 1"
    before = head(client, spread)["seq"]
    undone = back(client, spread).json()
    assert undone["seq"] == before + 1  # each move of the head counts
    assert state(client, spread)["placements"]["spread"]["opening-1"]["zoom"] == 1  # the whole run of keys
    assert (undone["undo"], undone["redo"]) == ("put a photo into 1", "fit photo in 1")
    back(client, spread, "redo")
    assert state(client, spread)["placements"]["spread"]["opening-1"]["centre"][0] == 0.5
    back(client, spread)
    back(client, spread)
    empty = back(client, spread).json()  # the folder came in as one gesture
    assert (state(client, spread)["photos"], empty["undo"]) == ([], "")
    refused = back(client, spread)
    assert (refused.status_code, refused.json()["sentence"]) == (409, "There is nothing to undo.")
    # A new edit after undo is a new branch; redo then follows the newest.
    back(client, spread, "redo")
    edit(client, spread, op="put", sheet="spread", opening="opening-2", photo=photos[1])
    assert state(client, spread)["redo"] == ""


def test_history_goes_back_to_any_state_branches_too(client: TestClient, spread: str) -> None:
    photos = [photo["id"] for photo in state(client, spread)["photos"]]
    for opening in ("opening-1", "opening-2"):
        edit(client, spread, op="put", sheet="spread", opening=opening, photo=photos[0])
    left = head(client, spread)
    back(client, spread)
    edit(client, spread, op="put", sheet="spread", opening="opening-9", photo=photos[1])
    history = client.get(f"/api/jobs/{spread}/history").json()
    assert [entry["label"] for entry in history] == [
        "put a photo into 9", "put a photo into 2", "put a photo into 1", "bring photos in", "start the job",
    ]  # fmt: skip
    assert [(entry["here"], entry["undone"], entry["steps"]) for entry in history] == [
        (True, False, 1), (False, True, 1), (False, False, 1), (False, False, 5), (False, False, 1),
    ]  # fmt: skip
    picture = client.get(f"/api/jobs/{spread}/history/{left['number']}/picture?width=200")
    assert picture.headers["content-type"] == "image/jpeg"
    named = client.put(f"/api/jobs/{spread}/history/{left['number']}", json={"name": "As the customer liked it"})
    assert named.status_code == 204
    gone = client.post(f"/api/jobs/{spread}/history/{left['number']}", json={}).json()
    assert (gone["root"], gone["number"]) == (left["root"], left["number"])
    (entry,) = [e for e in client.get(f"/api/jobs/{spread}/history").json() if e["named"]]
    assert (entry["named"], entry["here"]) == ("As the customer liked it", True)
    assert client.post(f"/api/jobs/{spread}/history/999", json={}).status_code == 404
    assert client.put(f"/api/jobs/{spread}/history/0", json={"name": "x"}).status_code == 404


def test_an_answer_holds_what_is_new_to_the_asker(client: TestClient, spread: str) -> None:
    photos = [photo["id"] for photo in state(client, spread)["photos"]]
    first = head(client, spread)
    assert {kind: len(names) for kind, names in first["parts"].items()} == {
        "sheets": 1, "labs": 1, "piles": 1, "chunks": 1, "editions": 1, "layouts": 1, "fillings": 1,
    }  # fmt: skip
    body = {"edit": {"op": "put", "sheet": "spread", "opening": "opening-1", "photo": photos[0]}, "have": first["root"]}
    answer = client.post(f"/api/jobs/{spread}/edits", json=body)
    new = answer.json()
    assert {kind: len(names) for kind, names in new["parts"].items()} == {"fillings": 1, "editions": 1}
    assert new["places"] == {}  # the layout is what it was
    (measured,) = new["measured"].values()
    assert measured["rows"][0]["photo"] == photos[0]
    assert len(answer.content) < 8000
    # Nothing new, nothing sent; and what was there before is known by the same names.
    again = head(client, spread, have=new["root"])
    assert (again["parts"], again["root"]) == ({}, new["root"])
    assert back(client, spread).json()["root"] == first["root"]


def test_pictures_and_ledgers_go_by_what_decides_them(client: TestClient, spread: str) -> None:
    photos = [photo["id"] for photo in state(client, spread)["photos"]]
    before = head(client, spread)["marks"][0]["key"]
    after = edit(client, spread, op="put", sheet="spread", opening="opening-1", photo=photos[0]).json()["marks"][0][
        "key"
    ]

    def at(key: str) -> bytes:
        return client.get(f"/api/drawn/{key}/picture?width=400").content

    filled, empty = at(after), at(before)
    assert filled != empty
    assert at(after) == filled
    assert back(client, spread).json()["marks"][0]["key"] == before
    assert client.get("/api/drawn/none/picture").status_code == 404
    assert client.get("/api/drawn/none/measured").status_code == 404
    kept = client.get(f"/api/drawn/{after}/measured").headers["cache-control"]
    assert "immutable" in kept


def test_an_edit_says_what_it_expects(client: TestClient, spread: str) -> None:
    photos = [photo["id"] for photo in state(client, spread)["photos"]]
    put = {"op": "put", "sheet": "spread", "opening": "opening-1"}
    assert edit(client, spread, **put, photo=photos[0], expect="").status_code == 200
    late = edit(client, spread, **put, photo=photos[1], expect="")
    assert late.status_code == 409
    assert late.json()["sentence"] == "Opening 1 holds another photo now. Look at it as it is, and try again."
    place = {"op": "place", "sheet": "spread", "opening": "opening-1", "centre": [0.5, 0.5], "zoom": 2, "turn_deg": 0}
    assert edit(client, spread, **place, mirror=False, expect=photos[1]).status_code == 409
    assert edit(client, spread, **place, mirror=False, expect=photos[0]).status_code == 200


def test_two_windows_that_set_different_fields_both_win(client: TestClient, spread: str) -> None:
    fields = {"op": "set_fields", "sheet": "spread", "layers": ["opening-1"]}
    edit(client, spread, **fields, fields={"border.width_mm": 2.5})
    edit(client, spread, **fields, fields={"blend": "multiply", "border.colour": "#102030"})
    found = head(client, spread)
    (layout,) = found["parts"]["layouts"].values()
    layer = next(entry for entry in layout["layers"] if entry["id"] == "opening-1")
    assert layer["border"] == {"width_mm": 2.5, "colour": "#102030", "side": "inside"}
    assert layer["blend"] == "multiply"
    refused = edit(client, spread, **fields, fields={"blend": "screen"}, expect={"blend": "normal"})
    assert "has been changed meanwhile" in refused.json()["sentence"]


def test_jobs_are_found_put_away_deleted_and_duplicated(client: TestClient, pile: Pile) -> None:
    job = start(client, "mockup-wall", name="Lighthouse keepers", order_number="S-77", customer="Brisling & Co")
    bring(client, job, pile[0][0])

    def found(words: str, **query: object) -> list[str]:
        listed = client.get("/api/jobs", params={"words": words, **query}).json()
        assert listed["count"] >= len(listed["jobs"])
        return [card["id"] for card in listed["jobs"]]

    for words in ("lighthouse", "KEEPERS light", "s-77", "brisling", f"{pile[0][1].name} keepers"):
        assert found(words) == [job], words
    assert found("lighthouse 100%") == []
    edit(client, job, op="rename", name="Harbour", customer="", order_number="S-78")
    assert (found("lighthouse"), found("harbour s-78")) == ([], [job])
    # The list does not wait for what has yet to be measured; that follows.
    (card,) = client.get("/api/jobs", params={"words": "harbour"}).json()["jobs"]
    assert (card["openings"], card["filled"], card["photos"]) == (2, 0, 1)
    for _ in range(600):
        (card,) = client.get("/api/jobs", params={"words": "harbour"}).json()["jobs"]
        if card["stops"] is not None:
            break
        time.sleep(0.05)
    assert card["stops"] == 2
    assert client.get(f"/api/jobs/{job}/cover/{card['picture']}").headers["content-type"] == "image/jpeg"
    twin = client.post(f"/api/jobs/{job}/duplicate", json={"name": "Harbour again", "keep": "sheets"}).json()["id"]
    assert len(state(client, job)["photos"]) == 1
    assert state(client, twin)["photos"] == []
    assert client.put(f"/api/jobs/{job}/archived").json()["archived"] is True
    assert (found("harbour"), found("harbour", which="archived")) == ([twin], [job])
    client.delete(f"/api/jobs/{job}/archived")
    client.delete(f"/api/jobs/{twin}")
    assert (found("harbour"), found("harbour", which="deleted")) == ([job], [twin])
    client.post(f"/api/jobs/{twin}/restore")
    assert found("harbour", sort="name") == [job, twin]
    assert found("harbour", sort="name", limit=1, offset=1) == [twin]
    assert client.delete("/api/jobs/nope").status_code == 404


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
    assert len(state(client, spread)["photos"]) == 5
    assert not list(client.app.state.studio.photos.incoming.iterdir())


def test_same_photo_again_and_sample_photos_are_known(client: TestClient, spread: str, pile: Pile) -> None:
    seq = head(client, spread)["seq"]
    again = bring(client, spread, pile[0][0]).json()
    assert (again["known"], again["seq"]) == (True, seq)
    sample = bring(client, spread, SAMPLES / "sample-kite.jpg").json()
    assert sample["photo"]["sample"] is True
    job = start(client, "card-landscape", samples=True)
    edit(client, job, op="fill")
    assert "sample_photo" in [finding["rule"] for finding in state(client, job)["findings"]]


@pytest.mark.parametrize(
    ("call", "status", "sentence"),
    [
        (("GET", "/api/jobs/nope", None), 404, "This job was not found."),
        (("GET", "/api/nowhere", None), 404, "This address does not exist. Check it for a slip."),
        (
            ("GET", "/api/photos/..%2F..%2Fetc%2Fpasswd/thumb", None),
            404,
            "This address does not exist. Check it for a slip.",
        ),
        (("GET", "/api/photos/abc/thumb", None), 404, "This photo was not found."),
        (
            ("POST", "/api/jobs", {"template": "nope", "name": "x", "lab": "gullwing-300"}),
            404,
            "This template was not found.",
        ),
        (
            ("POST", "/api/jobs", {"template": "mockup-wall", "name": "x", "lab": "nope"}),
            404,
            "This lab sheet was not found.",
        ),
        (
            ("POST", "/api/jobs", {"template": "mockup-wall", "name": "", "lab": "gullwing-300"}),
            422,
            "The name must",
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
    undo = f"/api/jobs/{spread}/undo"
    foreign = client.post(undo, json={}, headers={"origin": "http://evil.example"})
    assert (foreign.status_code, foreign.json()["code"]) == (403, "foreign_origin")
    assert client.post(undo, json={}, headers={"origin": "http://localhost"}).status_code == 200


def test_export_with_progress_files_and_zip(client: TestClient, pile: Pile) -> None:
    job = start(client, "card-portrait")
    bring(client, job, pile[0][0])
    edit(client, job, op="fill")
    asked = {"lab": "gullwing-300", "format": "png"}
    refused = client.post(f"/api/jobs/{job}/exports", json=asked)
    assert (refused.status_code, refused.json()["code"]) == (409, "export_refused")
    assert refused.json()["sentence"] == (
        "1 stop is in the way of printing. Mend it, or accept it with a name and a reason."
    )
    only = state(client, job)["findings"][0]["sheet"]
    older = {"rule": "sample_words", "layer": "line", "sentence": "It was found like this a moment ago."}
    late = edit(client, job, op="accept", sheet=only, findings=[older], name="Tove", reason="Seen.")
    assert (late.status_code, late.json()["sentence"]) == (
        409,
        "This is found otherwise by now. Look at it as it stands, and accept that.",
    )
    accept_all(client, job)
    assert not [f for f in state(client, job)["findings"] if f["severity"] == "stop"]
    started = client.post(f"/api/jobs/{job}/exports", json=asked)
    assert started.status_code == 202
    done = ended(client, started.json()["id"])
    assert done["state"] == "done", done
    names = [entry["file"] for entry in done["outcome"]["files"]]
    assert names == ["Spread_01.png", "Spread_02.png"]
    packed = zipfile.ZipFile(io.BytesIO(client.get(f"/api/exports/{done['id']}/all").content))
    assert sorted(packed.namelist()) == [*names, "manifest.json"]
    with Image.open(io.BytesIO(client.get(f"/api/exports/{done['id']}/files/{names[0]}").content)) as image:
        assert image.size == (3071, 2171)
    assert client.get(f"/api/exports/{done['id']}/files/..%2F..%2Fsutaru.sqlite3").status_code == 404
    assert client.get(f"/api/exports/{done['id']}/files/.progress.json").status_code == 404


def test_an_export_can_be_stopped_and_leaves_nothing(client: TestClient, spread: str) -> None:
    edit(client, spread, op="fill")
    accept_all(client, spread)
    begun = client.post(f"/api/jobs/{spread}/exports", json={"lab": "gullwing-300"}).json()
    client.post(f"/api/tasks/{begun['id']}/stop")
    stopped = ended(client, begun["id"])
    assert (stopped["state"], stopped["message"]) == ("stopped", "It was stopped.")
    assert not (client.app.state.studio.database.folder / "exports" / begun["id"]).exists()
    assert client.get(f"/api/exports/{begun['id']}/all").status_code == 404
    again = client.post(f"/api/tasks/{begun['id']}/again")
    assert again.status_code == 202
    assert again.json()["asked"]["lab"] == "gullwing-300"
    client.post(f"/api/tasks/{again.json()['id']}/stop")
    assert client.post("/api/tasks/nope/stop").status_code == 404


def test_bundle_there_and_back(client: TestClient, spread: str, tmp_path: Path) -> None:
    edit(client, spread, op="fill")
    answer = client.get(f"/api/jobs/{spread}/bundle")
    assert 'filename="Spread.sutaru"' in answer.headers["content-disposition"]
    path = tmp_path / "spread.sutaru"
    path.write_bytes(answer.content)
    assert Bundle(path).job.digest == head(client, spread)["root"]
    again = client.post("/api/jobs/from-bundle", content=answer.content).json()["id"]
    assert head(client, again)["root"] == head(client, spread)["root"]
    bad = client.post("/api/jobs/from-bundle", content=b"PK no")
    assert bad.status_code == 422
    assert "is not a Sutaru bundle" in bad.json()["sentence"]


def test_nothing_acknowledged_is_lost_when_the_server_is_killed(tmp_path: Path, pile: Pile) -> None:
    first = Served(tmp_path)
    try:
        job = start(first.client, "mockup-wall")
        for path, _ in pile[:3]:
            bring(first.client, job, path)
        assert edit(first.client, job, op="fill").status_code == 200
        edit(first.client, job, op="clear", sheet="wall-view", openings=["frame-small"])
        accepted = accept_all(first.client, job)
        left = state(first.client, job)
        first.client.post(f"/api/jobs/{job}/exports", json={"lab": "gullwing-300", "format": "tiff"})
    finally:
        first.end(signal.SIGKILL)
    second = Served(tmp_path)
    try:
        found = state(second.client, job)
        assert found == left
        (export,) = [t for t in second.client.get(f"/api/jobs/{job}/tasks").json() if t["kind"] == "export"]
        assert export["state"] in ("done", "failed")
        for _ in range(accepted + 1):
            back(second.client, job)
        assert set(state(second.client, job)["placements"]["wall-view"]) == {"frame-large", "frame-small"}
        for _ in range(4):
            last = back(second.client, job).json()
        assert (state(second.client, job)["photos"], last["undo"]) == ([], "")
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
            hello = json.loads(next(lines).removeprefix("data: "))
            assert hello["kind"] == "hello"
            body = {"edit": {"op": "rename", "name": "Second"}, "gesture": None}
            server.client.post(f"/api/jobs/{job}/edits", json=body)
            told = json.loads(next(line for line in lines if line.startswith("data:")).removeprefix("data: "))
            assert (told["kind"], told["id"], told["seq"]) == ("job", job, 2)
            assert (told["n"], told["server"]) == (hello["n"] + 1, hello["server"])
    finally:
        server.end(signal.SIGTERM)
