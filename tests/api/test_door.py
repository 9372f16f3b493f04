"""The one door, the headers, and what happens while photos come in."""

import io
import json
import os
import time
import zipfile
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from sutaru.api import photos as photos_api
from sutaru.api.app import create_app
from sutaru.core.document import Photo
from sutaru.core.errors import FileRefused, PhotoRefused
from sutaru.core.paint import svg
from sutaru.core.photos import examine
from sutaru.core.photos.checksums import checksum
from sutaru.work import safe_reading
from sutaru.work.executor import Workers
from sutaru.work.safe_reading import Door
from tests.api.asking import accept_all, bring, edit, ended, head, start, state

Pile = list[tuple[Path, Photo]]


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    with TestClient(create_app(tmp_path), base_url="http://localhost", raise_server_exceptions=False) as made:
        yield made


@pytest.fixture(scope="module")
def workers() -> Iterator[Workers]:
    made = Workers()
    yield made
    made.close()


def greedy(name: str) -> int:
    return len(bytearray(4 << 30))


def endless(name: str) -> None:
    while True:
        pass


def wrong(name: str) -> int:
    raise ValueError("sesame")


def test_whatever_goes_wrong_with_a_file_is_a_sentence_that_names_it(
    workers: Workers, monkeypatch: pytest.MonkeyPatch
) -> None:  # fmt: skip
    monkeypatch.setattr(safe_reading, "PHOTO_SECONDS", 0.5)
    monkeypatch.setattr(safe_reading, "ASSET_SECONDS", 5.0)
    given = Door(workers)
    given.asset("warm", len, "up")
    remedy = "Save it anew as a plain JPEG and bring that in."
    since = time.monotonic()
    with pytest.raises(PhotoRefused) as slow:
        given.photo("slow.jpg", time.sleep, 60)
    assert time.monotonic() - since < 10
    assert str(slow.value) == f"slow.jpg takes longer than 0.5 s to read. {remedy}"
    with pytest.raises(PhotoRefused, match=r"^long\.jpg takes longer than 0\.5 s to read\."):
        given.photo("long.jpg", endless, "long.jpg")  # by processor time
    # Waiting for one's turn is nobody's fault.
    with ThreadPoolExecutor(8) as threads:
        turns = [threads.submit(given.photo, f"{n}.jpg", time.sleep, 0.4) for n in range(8)]
        assert [turn.result() for turn in turns] == [None] * 8
    # The worker is replaced; that another dies fails its own work alone.
    with ThreadPoolExecutor(2) as threads:
        other = threads.submit(given.asset, "other.svg", time.sleep, 1)
        time.sleep(0.2)
        with pytest.raises(
            FileRefused, match=r"^dead\.svg cannot be read: reading it ended the program that reads\. Make it"
        ):
            given.asset("dead.svg", os._exit, 3)
        assert other.result() is None
    with pytest.raises(FileRefused, match=r"^big\.svg needs more memory to read than any one file gets\."):
        given.asset("big.svg", greedy, "big.svg")
    with pytest.raises(FileRefused, match=r"^odd\.svg cannot be read\."):
        given.asset("odd.svg", wrong, "odd.svg")
    assert given.asset("fine", len, "fine") == 4


def test_a_bundles_photos_are_measured_from_their_files(client: TestClient, pile: Pile) -> None:
    job = start(client, "mockup-wall")
    for path, _ in pile[:2]:
        bring(client, job, path)
    edit(client, job, op="fill")
    small = io.BytesIO()
    Image.new("RGB", (300, 200), "teal").save(small, "JPEG")
    data = small.getvalue()
    sha = checksum(data)
    with zipfile.ZipFile(io.BytesIO(client.get(f"/api/jobs/{job}/bundle").content)) as packed:
        files = {name: packed.read(name) for name in packed.namelist()}
    said = json.loads(files["job.json"].replace(files_id(files).encode(), sha[:16].encode()))
    lying = next(photo for photo in said["pile"]["photos"] if photo["id"] == sha[:16])
    lying |= {
        "checksum": sha,
        "width": 6000,
        "height": 4000,
        "size_bytes": len(data),
        "found": None,
        "name": "lying.jpg",
    }
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as packed:
        for name, content in {**files, "job.json": json.dumps(said).encode(), f"photos/{sha}.jpg": data}.items():
            packed.writestr(name, content)
    made = client.post("/api/jobs/from-bundle", content=out.getvalue())
    assert made.status_code == 201, made.text
    found = state(client, made.json()["id"])
    photo = next(p for p in found["photos"] if p["id"] == sha[:16])
    assert (photo["width"], photo["height"], photo["name"]) == (300, 200, "lying.jpg")
    assert any(finding["rule"] == "too_few_pixels" for finding in found["findings"])


def files_id(files: dict[str, bytes]) -> str:
    """The id of a photo that lies in the bundle's first opening."""
    job = json.loads(files["job.json"])
    return str(job["editions"][0]["fillings"]["wall-view"]["placements"]["frame-large"]["photo"])


def test_undo_waits_until_photos_are_in(client: TestClient, pile: Pile, monkeypatch: pytest.MonkeyPatch) -> None:
    job = start(client, "mockup-wall")
    assert bring(client, job, pile[0][0], gesture="g").status_code == 201
    edit(client, job, op="fill")
    real = photos_api.take_in
    monkeypatch.setattr(photos_api, "take_in", slowly)
    with ThreadPoolExecutor(1) as threads:
        coming = threads.submit(bring, client, job, pile[1][0], gesture="g")
        time.sleep(0.7)
        refused = client.post(f"/api/jobs/{job}/undo", json={})
        assert (refused.status_code, refused.json()["sentence"]) == (
            409, "Photos are coming in. Undo when they are in, or stop them first.",
        )  # fmt: skip
        assert client.post(f"/api/jobs/{job}/redo", json={}).status_code == 409
        assert client.post(f"/api/jobs/{job}/history/1", json={}).status_code == 409
        assert coming.result().status_code == 201
    monkeypatch.setattr(photos_api, "take_in", real)
    assert client.post(f"/api/jobs/{job}/undo", json={}).status_code == 200
    assert client.post(f"/api/jobs/{job}/redo", json={}).status_code == 200
    assert len(state(client, job)["photos"]) == 2


def slowly(upload: str, name: str) -> tuple[Photo, bytes, bytes, int]:
    from sutaru.work.tasks import take_in

    time.sleep(2)
    return take_in(upload, name)


def test_sample_photos_of_a_fresh_folder_are_looked_at(client: TestClient) -> None:
    job = start(client, "collage-shore", samples=True)
    for _ in range(240):
        if not head(client, job)["unseen"]:
            break
        time.sleep(0.25)
    assert head(client, job)["unseen"] == 0
    photos = state(client, job)["photos"]
    assert len(photos) >= 6
    assert all(photo["found"] is not None for photo in photos)


@pytest.mark.parametrize("path", ["/", "/api/jobs", "/api/nothing", "/assets/none.js"])
def test_every_answer_lets_nothing_else_in(client: TestClient, path: str) -> None:
    """Headers by the OWASP HTTP Security Response Headers Cheat Sheet."""
    headers = client.get(path).headers
    policy = dict(part.split(" ", 1) for part in headers["content-security-policy"].split("; "))
    assert policy["default-src"] == "'self'"
    assert policy["frame-ancestors"] == policy["object-src"] == "'none'"
    assert "script-src" not in policy  # so that default-src holds for them: none written in the page
    assert headers["x-content-type-options"] == "nosniff"
    assert headers["referrer-policy"] == "same-origin"
    assert headers["cross-origin-resource-policy"] == "same-origin"


def test_only_our_own_pages_may_change_anything(client: TestClient) -> None:
    for origin in ("http://[", "null", "http://evil.example", "https://localhost.evil.example"):
        answer = client.post("/api/jobs", json={}, headers={"origin": origin})
        assert (answer.status_code, answer.json()["code"]) == (403, "foreign_origin")
    assert client.get("/api/jobs", headers={"host": "evil.example"}).status_code == 400


def test_names_of_photos_are_kept_plain(client: TestClient, pile: Pile) -> None:
    job = start(client, "mockup-wall")
    data = pile[0][0].read_bytes()
    answer = client.post(f"/api/jobs/{job}/photos", params={"name": "../3²4\0" + "x" * 3000 + ".jpg"}, content=data)
    assert answer.status_code == 201
    assert answer.json()["photo"]["name"] == "x" * 196 + ".jpg"
    assert examine(data, "a").checksum == answer.json()["photo"]["checksum"]


def test_a_photo_whose_file_is_gone_hides_nothing_else(client: TestClient, pile: Pile, tmp_path: Path) -> None:
    job = start(client, "mockup-wall")
    taken = [bring(client, job, path).json()["photo"] for path, _ in pile[:2]]
    edit(client, job, op="fill")
    accept_all(client, job)
    for kind in ("", ".proxy.jpg"):
        (tmp_path / "photos" / taken[0]["checksum"][:2] / (taken[0]["checksum"] + kind)).unlink()
    (mark,) = head(client, job)["marks"]
    picture = client.get(f"/api/drawn/{mark['key']}/picture?width=800")
    assert picture.status_code == 200
    assert picture.headers["cache-control"] == "no-store"  # it may be there again
    shown = np.asarray(Image.open(io.BytesIO(picture.content)))
    assert shown.std() > 10
    export = client.post(f"/api/jobs/{job}/exports", json={"lab": "gullwing-300", "format": "jpeg"})
    done = ended(client, export.json()["id"])
    assert done["state"] == "failed"
    assert f"The file of {taken[0]['name']} is missing. Bring that photo in again." in done["message"]
    assert bring(client, job, pile[0][0]).status_code == 201
    again = client.get(f"/api/drawn/{mark['key']}/picture?width=800")
    assert "immutable" in again.headers["cache-control"]
    assert np.abs(np.asarray(Image.open(io.BytesIO(again.content)), int) - shown).max() > 60  # no hatching any more


def test_a_clock_that_is_set_back_loses_nothing(
    client: TestClient, pile: Pile, monkeypatch: pytest.MonkeyPatch
) -> None:  # fmt: skip
    job = start(client, "mockup-wall")
    bring(client, job, pile[0][0])
    monkeypatch.setattr("sutaru.store.jobs.now", lambda: "1999-12-31T23:59:59.000+00:00")
    edit(client, job, op="fill")
    edit(client, job, op="rename", name="Before", customer="", order_number="")
    assert client.get(f"/api/jobs/{job}/history").json()[0]["label"] == "rename to Before"
    assert client.post(f"/api/jobs/{job}/undo", json={}).json()["job"]["name"] == "Spread"
    assert client.post(f"/api/jobs/{job}/redo", json={}).json()["job"]["name"] == "Before"


# --- what a worker knows, and how much memory it has left -------------------------------------------------------------------


def test_a_photo_that_another_job_knows_is_looked_at_here_too(client: TestClient, pile: Pile) -> None:
    """A face that was found once is kept from being cut in the next job, at once and with no photo unknown."""
    first = start(client, "mockup-wall")
    bring(client, first, pile[0][0])
    end = time.monotonic() + 60
    while head(client, first)["unseen"]:
        assert time.monotonic() < end
        time.sleep(0.1)
    second = start(client, "mockup-wall")
    brought = bring(client, second, pile[0][0]).json()
    assert brought["photo"]["found"] is not None
    assert head(client, second)["unseen"] == 0
    edit(client, second, op="fill")
    assert not any(row.get("checking") for row in state(client, second)["rows"])


def test_while_photos_are_not_looked_at_nothing_is_in_order_and_an_export_waits(
    client: TestClient, pile: Pile, monkeypatch: pytest.MonkeyPatch
) -> None:
    finder = client.app.state.studio.finder  # type: ignore[attr-defined]
    job = start(client, "mockup-wall")
    with finder.pause_for_import("another"):  # looking gives way to an import
        for path, _ in pile[:2]:
            bring(client, job, path)
        sheet = state(client, job)["rows"]
        for n, row in enumerate(sheet):
            edit(
                client,
                job,
                op="put",
                sheet="wall-view",
                opening=row["opening"],
                photo=state(client, job)["photos"][n]["id"],
            )
        found = state(client, job)
        assert {row["status"] for row in found["rows"]} <= {"checking", "stop", "look"}
        assert found["marks"][0]["counts"][4] == 2
        card = client.get("/api/jobs").json()["jobs"][0]
        assert (card["stops"], card["looks"]) == (None, None)
        accept_all(client, job)
        task = client.post(f"/api/jobs/{job}/exports", json={"lab": "gullwing-300"}).json()["id"]
        assert ended(client, task)["state"] in ("done", "failed")  # it has its photos looked at first
    assert head(client, job)["unseen"] == 0


def hoards(name: str, keep: list[bytearray] = []) -> int:  # noqa: B006
    """Leaves less and less memory to what comes after."""
    keep.append(bytearray(90 << 20))
    return os.getpid()


def cv2_runs_out(name: str) -> int:
    import cv2

    return int(cv2.resize(np.zeros((100, 100, 3), np.uint8), (40_000, 40_000)).size)


def blames_the_file(name: str, keep: list[bytearray] = []) -> int:  # noqa: B006
    """What decoders make of too little memory: a file that is damaged."""
    if keep:
        raise PhotoRefused(f"{name} is damaged.", "Save it anew.")
    keep.append(bytearray(200 << 20))
    return os.getpid()


def ends_once(mark: str) -> int:
    """Is killed from outside the first time."""
    if not Path(mark).exists():
        Path(mark).touch()
        os.kill(os.getpid(), 9)
    return 7


def test_a_worker_near_its_limit_of_memory_is_replaced(workers: Workers) -> None:
    at = Door(workers)
    seen = [at.photo("kite.jpg", hoards, "kite.jpg") for _ in range(24)]  # more than any one of them has room for
    assert len(set(seen)) > 2


def test_a_file_that_is_refused_where_memory_was_short_is_tried_in_a_fresh_worker(workers: Workers) -> None:
    at = Door(workers)
    for _ in range(6):
        assert at.photo("kite.jpg", blames_the_file, "kite.jpg") > 0


def test_too_much_for_a_fresh_worker_is_too_much(workers: Workers) -> None:
    with pytest.raises(PhotoRefused, match=r"large\.tif needs more memory to read than any one file gets"):
        Door(workers).photo("large.tif", cv2_runs_out, "large.tif")


def test_a_worker_that_is_killed_is_no_fault_of_the_file(workers: Workers, tmp_path: Path) -> None:
    assert Door(workers).photo("kite.jpg", ends_once, str(tmp_path / "once")) == 7


def test_reading_needs_no_room_on_the_disk(client: TestClient, pile: Pile) -> None:
    studio = client.app.state.studio  # type: ignore[attr-defined]
    job = start(client, "mockup-wall")
    with studio.database.transaction() as db:
        pages = db.execute("PRAGMA page_count").fetchone()[0]
        db.execute("UPDATE job SET card = NULL")
    studio.database._connection.execute(f"PRAGMA max_page_count = {pages}")
    big = client.post(f"/api/jobs/{job}/edits", json={"edit": {"op": "describe"}})
    assert big.status_code in (200, 409, 422, 507)
    full = client.post(f"/api/jobs/{job}/duplicate", json={"name": "x" * 100, "keep": "all"})
    for _ in range(40):
        if full.status_code == 507:
            break
        full = client.post(f"/api/jobs/{job}/duplicate", json={"name": "x" * 100, "keep": "all"})
    assert full.status_code == 507, full.text
    for path in ("/api/jobs", f"/api/jobs/{job}", "/api/templates", "/api/orders"):
        assert client.get(path).status_code == 200


@pytest.mark.parametrize(
    "asked",
    [
        {"op": "bring_font", "name": "Kites", "asset": "0" * 64},
        {"op": "take_card", "card": {"name": "Marram", "logo": "1" * 64}},
        {"op": "set_fields", "sheet": "wall-view", "layers": ["frame-large"], "expect": {},
         "fields": {"outline": {"kind": "mask", "asset": "2" * 64, "width_mm": 30, "height_mm": 30, "d": "M0 0h30v30z"}}},
    ],
)  # fmt: skip
def test_an_edit_that_names_a_file_which_is_nowhere_is_refused(asked: dict, client: TestClient) -> None:
    job = start(client, "mockup-wall")
    answer = client.post(f"/api/jobs/{job}/edits", json={"edit": asked})
    assert answer.status_code in (409, 422), answer.text
    if answer.status_code == 409:
        assert "is not here" in answer.json()["sentence"] or "missing" in answer.json()["sentence"]
    lab = {**client.get("/api/labs").json()[0], "press": {"profile": "3" * 64}}
    assert client.post(f"/api/jobs/{job}/edits", json={"edit": {"op": "choose_lab", "lab": lab}}).status_code == 409


def test_a_photo_whose_file_was_never_brought_in_is_refused(client: TestClient, pile: Pile) -> None:
    job = start(client, "mockup-wall")
    made_up = pile[0][1].model_dump(mode="json")
    answer = client.post(f"/api/jobs/{job}/edits", json={"edit": {"op": "bring_in", "photos": [made_up]}})
    assert (answer.status_code, answer.json()["sentence"]) == (
        409, f"The file of {pile[0][1].name} is not here. Bring the photo in from its file.",
    )  # fmt: skip


def test_a_print_file_may_be_as_large_as_on_the_command_line(client: TestClient) -> None:
    answer = client.post("/api/verify", params={"name": "large.pdf"}, content=b"%PDF-1.6\n" + bytes(9 << 20))
    assert answer.status_code == 200, answer.text
    assert answer.json()["defects"]


def test_a_drawing_that_would_take_minutes_is_refused(client: TestClient) -> None:
    gradient = '<radialGradient id="g"><stop offset="0" stop-color="#f00"/><stop offset="1" stop-opacity="0.1"/></radialGradient>'
    shape = '<rect id="r" width="100" height="100" fill="url(#g)" opacity="0.5"/>'
    many = '<use href="#r"/>' * 1500
    drawing = (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100"><defs>{gradient}{shape}</defs>{many}</svg>'
    )
    answer = client.post("/api/assets", content=drawing.encode())
    assert answer.status_code == 422
    assert "takes longer" in answer.json()["sentence"] or "would take longer" in answer.json()["sentence"]
    with pytest.raises(FileRefused, match="An ornament takes longer than 30 s to draw"):  # one that was kept before
        place = np.array([[36.0, 0, 1800], [0, 36.0, 1800], [0, 0, 1]])
        svg.drawing(svg.clean_svg(drawing), "#000000", place, 100, 100, (0, 0, 3600, 3600))
