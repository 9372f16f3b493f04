"""A disk that is full, a folder that cannot be used, a second server, a slow client, many listeners: a sentence each."""

import contextlib
import os
import shutil
import signal
import socket
import sqlite3
import subprocess
import sys
import time
from collections.abc import Iterator
from contextlib import ExitStack
from pathlib import Path

import httpx
import pytest

from sutaru.api import request_limits
from sutaru.core.document import Photo
from sutaru.core.limits import LISTENERS, REQUEST_BYTES
from sutaru.store.lock import FolderLock
from tests.api.asking import accept_all, bring, edit, ended, filled_job, start
from tests.api.test_orders import TO
from tests.serving import Served, served_here
from tests.trial import times
from tests.trial.test_hostile import children
from tests.trial.test_kills import alive


@pytest.fixture
def small_disk(tmp_path: Path) -> Iterator[Path]:
    """A disk of 24 MB. Needs the right to mount one."""
    folder = tmp_path / "disk"
    folder.mkdir()
    mounted = subprocess.run(
        ["mount", "-t", "tmpfs", "-o", "size=24m", "tmpfs", folder], check=False, capture_output=True
    )
    if mounted.returncode:
        pytest.skip("no disk can be mounted here")
    yield folder
    subprocess.run(["umount", "-l", folder], check=False)


def test_a_full_disk_is_told_and_all_goes_on_when_there_is_room(
    small_disk: Path, pile: list[tuple[Path, Photo]]
) -> None:  # fmt: skip
    server = Served(small_disk)
    try:
        client = server.client
        job = filled_job(client, "mockup-wall", pile[:2])
        accept_all(client, job)
        ballast = small_disk / "ballast"
        with ballast.open("wb", buffering=0) as file:
            try:
                while True:
                    file.write(b"\0" * 65536)
            except OSError:
                pass
        refused = [bring(client, job, path) for path, _ in pile[2:5]]
        assert {answer.status_code for answer in refused} <= {201, 507}
        assert refused[-1].json()["sentence"] == (
            "The disk is full, so this was not kept. Make room; then go on where you were."
        )
        assert client.get(f"/api/jobs/{job}").status_code == 200  # what is there is still shown
        export = client.post(f"/api/jobs/{job}/exports", json={"lab": "gullwing-300", "format": "tiff"})
        assert export.status_code in (202, 507)
        time.sleep(3)
        ballast.unlink()
        if export.status_code == 202:
            assert ended(client, export.json()["id"])["state"] in ("failed", "done")
        # Everything goes on by itself: photos come in and are looked at, a filling ends, an export is written.
        for path, _ in pile[2:5]:
            assert bring(client, job, path).status_code == 201
        for _ in range(120):
            if not client.get(f"/api/jobs/{job}").json()["unseen"]:
                break
            time.sleep(0.25)
        assert client.get(f"/api/jobs/{job}").json()["unseen"] == 0
        assert edit(client, job, op="fill", only_empty=False).status_code == 200
        accept_all(client, job)
        export = client.post(f"/api/jobs/{job}/exports", json={"lab": "gullwing-300", "format": "jpeg"})
        assert ended(client, export.json()["id"])["state"] == "done"
    finally:
        server.end(signal.SIGTERM)


def refused_start(data: Path) -> str:
    """What a server that cannot start says."""
    command = [sys.executable, "-m", "sutaru", "serve", "--port", "0", "--data", str(data)]
    done = subprocess.run(command, capture_output=True, text=True, timeout=60, check=False)
    assert done.returncode == 2
    assert "Traceback" not in done.stderr
    return done.stderr.strip()


def test_a_disk_that_fills_up_anywhere_is_told_and_nothing_is_lost(
    small_disk: Path, pile: list[tuple[Path, Photo]]
) -> None:  # fmt: skip
    """Room for a little more each time, so that it ends at another place: in a photo, a state, a copy, an export, an order."""
    server = Served(small_disk)
    ballast = small_disk / "ballast"
    try:
        client = server.client
        job = filled_job(client, "mockup-wall", pile[:2])
        accept_all(client, job)
        done = client.post(f"/api/jobs/{job}/exports", json={"lab": "gullwing-300", "format": "jpeg"}).json()["id"]
        assert ended(client, done)["state"] == "done"
        for n in range(times(3, 25)):
            with ballast.open("wb", buffering=0) as file, contextlib.suppress(OSError):
                while True:
                    file.write(bytes(16384))
            os.truncate(ballast, max(0, ballast.stat().st_size - 24_000 * n))
            known = client.get(f"/api/jobs/{job}").json()
            answers = [
                bring(client, job, pile[2 + n % 20][0]),
                client.post(f"/api/jobs/{job}/edits", json={"edit": {"op": "rename", "name": f"Full {n}"}}),
                client.post(f"/api/jobs/{job}/undo", json={}),
                client.post(f"/api/jobs/{job}/duplicate", json={"name": "Twin", "keep": "all"}),
                client.post("/api/jobs", json={"template": "collage-shore", "name": "New", "lab": "gullwing-300"}),
                client.post("/api/orders", json={"export": done, "to": TO, "token": f"full {n}"}),
                client.post(f"/api/jobs/{job}/keep", json={"as_new": True, "name": "Kept"}),
                client.post(f"/api/jobs/{job}/exports", json={"lab": "gullwing-300", "format": "tiff"}),
                client.get(f"/api/jobs/{job}/bundle"),
            ]
            for answer in answers:
                assert answer.status_code in (200, 201, 202, 409, 507), (n, answer.request.url, answer.text[:300])
            for path in ("/api/jobs", f"/api/jobs/{job}", "/api/orders", "/api/templates"):
                assert client.get(path).status_code == 200, (n, path)
            ballast.unlink()
            now = client.get(f"/api/jobs/{job}").json()
            assert now["seq"] >= known["seq"]
            assert edit(client, job, op="rename", name="Room again").status_code == 200
            for listed in client.get("/api/jobs", params={"limit": 200}).json()["jobs"]:
                assert client.get(f"/api/jobs/{listed['id']}").status_code == 200
                for task in client.get(f"/api/jobs/{listed['id']}/tasks").json():
                    if task["state"] in ("queued", "running"):
                        ended(client, task["id"])
                if listed["id"] != job:
                    client.delete(f"/api/jobs/{listed['id']}")
        assert not list(small_disk.rglob("*.part"))
    finally:
        ballast.unlink(missing_ok=True)
        server.end(signal.SIGTERM)


def test_a_folder_that_cannot_be_used_is_explained(tmp_path: Path) -> None:
    server = Served(tmp_path / "a")
    assert refused_start(tmp_path / "a").startswith("sutaru: Another Sutaru is using the folder")
    server.end(signal.SIGTERM)
    shutil.copytree(tmp_path / "a", tmp_path / "newer")
    with sqlite3.connect(tmp_path / "newer" / "sutaru.sqlite3") as db:
        db.execute("PRAGMA user_version = 9999")
    assert "was written by a newer Sutaru. Bring Sutaru up to date" in refused_start(tmp_path / "newer")
    shutil.copytree(tmp_path / "a", tmp_path / "torn")
    (tmp_path / "torn" / "sutaru.sqlite3").write_bytes(b"no database at all" * 900)
    assert "is damaged. See what can be saved: sutaru doctor." in refused_start(tmp_path / "torn")
    (tmp_path / "file").write_text("")
    assert refused_start(tmp_path / "file").startswith("sutaru: ")
    if os.geteuid() != 0:
        (tmp_path / "fixed").mkdir(mode=0o500)
        assert "cannot be written to" in refused_start(tmp_path / "fixed")


def test_a_slow_or_greedy_client_is_given_up(
    tmp_path: Path, pile: list[tuple[Path, Photo]], monkeypatch: pytest.MonkeyPatch
) -> None:  # fmt: skip
    monkeypatch.setattr(request_limits, "STALL_SECONDS", 2.0)
    with served_here(tmp_path) as client:
        job = start(client, "mockup-wall")
        address = (client.base_url.host, client.base_url.port)
        with socket.create_connection(address) as slow:
            slow.sendall(
                f"POST /api/jobs/{job}/photos?name=slow.jpg HTTP/1.1\r\nHost: 127.0.0.1\r\n"
                "Content-Length: 900000\r\n\r\nhalf".encode()
            )
            # Meanwhile nothing waits for it: photos come in, are looked at, and can be undone.
            assert bring(client, job, pile[0][0]).status_code == 201
            for _ in range(60):
                if not client.get(f"/api/jobs/{job}").json()["unseen"]:
                    break
                time.sleep(0.25)
            assert client.get(f"/api/jobs/{job}").json()["unseen"] == 0
            assert client.post(f"/api/jobs/{job}/undo", json={}).status_code == 200
            slow.settimeout(20)
            assert b" 408 " in slow.recv(4000)
        big = client.post(f"/api/jobs/{job}/edits", content=b" " * (REQUEST_BYTES + 1))
        assert (big.status_code, big.json()["sentence"]) == (
            413, "This request is larger than 8 MB. Ask for less at a time.",
        )  # fmt: skip

        with socket.create_connection(address) as endless:  # no length said
            endless.sendall(b"POST /api/jobs HTTP/1.1\r\nHost: 127.0.0.1\r\nTransfer-Encoding: chunked\r\n\r\n")
            endless.settimeout(20)
            with contextlib.suppress(OSError):  # it hangs up
                for _ in range(REQUEST_BYTES // 65536 + 2):
                    endless.sendall(b"10000\r\n" + b" " * 65536 + b"\r\n")
            assert b" 413 " in endless.recv(4000)
        assert list((tmp_path / "photos" / "incoming").iterdir()) == []


def test_more_listeners_than_there_may_be(tmp_path: Path) -> None:
    server = Served(tmp_path)
    count = times(LISTENERS + 10, 300)
    try:
        told = []
        with ExitStack() as streams:
            for _ in range(count):
                listener = streams.enter_context(httpx.Client(base_url=server.client.base_url, timeout=20))
                told.append(streams.enter_context(listener.stream("GET", "/api/events")).status_code)
            assert told.count(200) == LISTENERS
            assert set(told) == {200, 503}
            assert server.client.get("/api/jobs").status_code == 200
        time.sleep(2.5)
        with server.client.stream("GET", "/api/events") as again:
            assert again.status_code == 200  # those that went away make room
    finally:
        server.end(signal.SIGTERM)


def test_a_server_that_is_ended_ends_at_once_whatever_runs(tmp_path: Path, pile: list[tuple[Path, Photo]]) -> None:
    server = Served(tmp_path)
    client = server.client
    job = filled_job(client, "album-spread-18", pile[:18])
    accept_all(client, job)
    with ExitStack() as streams:
        for _ in range(3):
            listener = streams.enter_context(httpx.Client(base_url=client.base_url, timeout=20))
            streams.enter_context(listener.stream("GET", "/api/events"))
        for _ in range(3):
            client.post(f"/api/jobs/{job}/exports", json={"lab": "gullwing-300", "format": "tiff"})
        time.sleep(0.7)
        busy = children(server.process.pid)
        since = time.monotonic()
        server.process.send_signal(signal.SIGTERM)
        _, told = server.process.communicate(timeout=30)
        assert "Traceback" not in told
        assert time.monotonic() - since < 10  # five on a machine that is not full of tests
    time.sleep(0.5)
    assert [pid for pid in busy if alive(pid)] == []
    log = (tmp_path / "sutaru.log").read_text() if (tmp_path / "sutaru.log").exists() else ""
    assert "Traceback" not in log


def test_the_doctor_finds_and_mends(tmp_path: Path, pile: list[tuple[Path, Photo]]) -> None:
    server = Served(tmp_path)
    client = server.client
    good = start(client, "mockup-wall")
    broken = start(client, "collage-shore", name="To be broken")
    brought = bring(client, broken, pile[0][0]).json()["photo"]
    edit(client, broken, op="fill")
    before = client.get(f"/api/jobs/{broken}").json()
    edit(client, broken, op="rename", name="Later", customer="", order_number="")
    assert client.get("/api/jobs").json()["jobs"][0]["unreadable"] == ""  # kept as a card
    server.end(signal.SIGTERM)

    def doctor(*more: str) -> tuple[int, str]:
        command = [sys.executable, "-m", "sutaru", "doctor", "--data", str(tmp_path), *more]
        done = subprocess.run(command, capture_output=True, text=True, timeout=120, check=False)
        assert done.stderr == ""
        return done.returncode, done.stdout

    assert doctor() == (0, "Nothing is wrong.\n")
    with sqlite3.connect(tmp_path / "sutaru.sqlite3") as db:
        (root,) = db.execute(
            "SELECT root FROM state JOIN job ON state.job = job.id AND number = head WHERE id = ?", [broken]
        ).fetchone()
        db.execute("UPDATE part SET data = ? WHERE name = ?", [b"torn", root])
    stray = tmp_path / "photos" / "ab" / ("ab" * 32)
    stray.parent.mkdir(exist_ok=True)
    stray.write_bytes(b"nobody's")
    code, told = doctor()
    assert code == 1
    assert "cannot be shown: A part of this job is damaged on the disk." in told
    assert "belongs to no photo" in told
    assert stray.exists()
    # One broken job hides no other, and its last good state is one click away.
    server = Served(tmp_path)
    assert server.client.get(f"/api/jobs/{broken}/cover/{root}").status_code == 422  # as the shelf asks for its picture
    cards = {card["id"]: card for card in server.client.get("/api/jobs").json()["jobs"]}
    assert cards[good]["unreadable"] == ""
    assert "damaged" in cards[broken]["unreadable"]
    assert server.client.get(f"/api/jobs/{broken}").json()["sentence"].startswith("A part of this job is damaged")
    assert server.client.post(f"/api/jobs/{broken}/last-good").status_code == 200
    now = server.client.get(f"/api/jobs/{broken}").json()
    assert now["root"] == before["root"]
    server.end(signal.SIGTERM)
    code, told = doctor("--repair")
    assert code == 0
    assert "belongs to no photo. It was moved to repair-" in told
    assert not stray.exists()
    (moved,) = tmp_path.glob(f"repair-*/photos/ab/{stray.name}")
    assert moved.read_bytes() == b"nobody's"
    assert (tmp_path / "sutaru.sqlite3.before-repair").exists()
    # A database that is damaged itself: the last sound copy takes its place.
    (copy,) = tmp_path.glob("sutaru.sqlite3.day-*")
    (tmp_path / "sutaru.sqlite3").write_bytes(b"torn" * 5000)
    said = f"■ The database is damaged. With --repair what can be read of it is put together with the copy of {copy.name[-10:]}."
    assert doctor()[1].startswith(said)
    code, told = doctor("--repair")
    assert code == 1  # what was done since the copy was made is lost, and that is said
    assert "what was done after its copy was made is lost" in told
    with pytest.raises(AssertionError):  # and not while a server has the folder
        lock = FolderLock(tmp_path)
        try:
            doctor("--repair")
        finally:
            lock.release()
    server = Served(tmp_path)
    assert server.client.get("/api/jobs").status_code == 200
    server.end(signal.SIGTERM)
    assert brought["width"]
