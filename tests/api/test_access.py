"""Who may come in: other machines with a passphrase only, by a cookie that no other site can use."""

import contextlib
import os
import socket
import subprocess
import sys
import threading
import time
from collections.abc import Callable
from pathlib import Path

import httpx
import pytest
import uvicorn
from fastapi.testclient import TestClient

from sutaru.api import access, connections
from sutaru.api.access import MOST_ADDRESSES, TRIES, Sessions, WrongPassphrase, check_passphrase, list_host_names
from sutaru.api.app import create_app
from sutaru.api.connections import PatientProtocol
from sutaru.core.errors import SutaruError
from tests.serving import free_port

WORD = "three days of wind"


@pytest.fixture
def client(tmp_path: Path):
    app = create_app(tmp_path, list_host_names("192.168.7.7"), passphrase=WORD)
    with TestClient(app, base_url="http://192.168.7.7:8765") as made:
        yield made


def test_nothing_is_told_without_the_passphrase(client: TestClient) -> None:
    for method, path in (
        ("GET", "/api/jobs"),
        ("GET", "/api/events"),
        ("POST", "/api/photos"),
        ("GET", "/api/nowhere"),
    ):
        answer = client.request(method, path)
        assert (answer.status_code, answer.json()["code"]) == (401, "locked")
    wrong = client.post("/api/session", json={"passphrase": "wind"})
    assert (wrong.status_code, wrong.json()["sentence"]) == (
        403,
        "This is not the passphrase of this studio. Try again.",
    )
    right = client.post("/api/session", json={"passphrase": WORD})
    assert right.status_code == 204
    cookie = right.headers["set-cookie"]
    assert "HttpOnly" in cookie
    assert "samesite=strict" in cookie.lower()
    assert client.get("/api/jobs").status_code == 200
    # Another site cannot use it; a made-up cookie opens nothing; once ended it is over.
    foreign = {"origin": "http://evil.example"}
    assert client.post("/api/jobs", json={}, headers=foreign).status_code == 403
    assert client.post("/api/jobs", json={}, headers={"origin": "http://["}).status_code == 403
    assert client.delete("/api/session").status_code == 204
    assert client.get("/api/jobs").status_code == 401
    client.cookies.set(access.COOKIE, "made-up")
    assert client.get("/api/jobs").status_code == 401


def test_guessing_takes_a_rest(client: TestClient, monkeypatch: pytest.MonkeyPatch) -> None:
    for n in range(access.TRIES):
        client.post("/api/session", json={"passphrase": f"guess {n}"})
    rest = client.post("/api/session", json={"passphrase": WORD})
    assert (rest.status_code, rest.json()["sentence"]) == (
        403,
        "Too many wrong passphrases. Wait a minute, then try again.",
    )
    later = access.time.monotonic() + access.WITHIN_S + 1
    monkeypatch.setattr(access.time, "monotonic", lambda: later)
    assert client.post("/api/session", json={"passphrase": WORD}).status_code == 204


def test_only_names_of_this_machine_are_answered(client: TestClient) -> None:
    assert client.get("/api/jobs", headers={"host": "evil.example"}).status_code == 400
    assert client.get("/api/jobs", headers={"host": "localhost:8765"}).status_code == 401
    assert {"0.0.0.0", "::"} & set(list_host_names("0.0.0.0")) == set()


def test_other_machines_need_a_passphrase(tmp_path: Path) -> None:
    assert check_passphrase("127.0.0.1", None) is None
    assert check_passphrase("0.0.0.0", WORD) == WORD
    with pytest.raises(SutaruError, match="shorter than 8 letters"):
        check_passphrase("127.0.0.1", "wind")
    command = [sys.executable, "-m", "sutaru", "serve", "--host", "0.0.0.0", "--port", "0", "--data", str(tmp_path)]
    environment = {k: v for k, v in os.environ.items() if k != "SUTARU_PASSPHRASE"}
    refused = subprocess.run(command, capture_output=True, text=True, timeout=60, env=environment)
    assert refused.returncode == 2
    assert "At 0.0.0.0 other machines could open every job here. Set a passphrase" in refused.stderr


def test_a_stranger_who_guesses_locks_nobody_else_out() -> None:
    sessions = Sessions("kites over the bay")
    for _ in range(TRIES):
        with pytest.raises(WrongPassphrase, match="not the passphrase"):
            sessions.begin("guess", "203.0.113.9")
    with pytest.raises(WrongPassphrase, match="Too many"):
        sessions.begin("kites over the bay", "203.0.113.9")
    assert sessions.begin("kites over the bay", "192.0.2.4")
    # One household has many addresses of IPv6; they count as one.
    for n in range(TRIES):
        with pytest.raises(WrongPassphrase, match="not the passphrase"):
            sessions.begin("guess", f"2001:db8:1:2::{n + 1:x}")
    with pytest.raises(WrongPassphrase, match="Too many"):
        sessions.begin("guess", "2001:db8:1:2:ffff::9")
    assert sessions.begin("kites over the bay", "2001:db8:1:3::1")
    for n in range(MOST_ADDRESSES + 50):  # what is remembered of strangers is bounded
        with pytest.raises(WrongPassphrase):
            sessions.begin("guess", f"10.{n >> 16}.{n >> 8 & 255}.{n & 255}")
    assert len(sessions._wrong) <= MOST_ADDRESSES


@pytest.mark.parametrize(
    ("site", "status"), [("cross-site", 403), ("same-site", 403), ("same-origin", 422), ("none", 422)]
)
def test_a_change_that_another_site_asks_for_is_refused_without_an_origin_too(
    site: str, status: int, tmp_path: Path
) -> None:
    with TestClient(create_app(tmp_path), base_url="http://localhost") as client:
        answer = client.post("/api/jobs", json={}, headers={"Sec-Fetch-Site": site})
        assert answer.status_code == status
        assert client.get("/api/jobs", headers={"Sec-Fetch-Site": site}).status_code == 200


def test_connections_that_say_nothing_are_let_go_and_there_are_only_so_many(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(connections, "HEADER_SECONDS", 120.0)
    monkeypatch.setattr(connections, "MOST", 12)
    server = uvicorn.Server(
        uvicorn.Config(create_app(tmp_path), port=(port := free_port()), log_level="warning", http=PatientProtocol)
    )
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.05)

    def silent(count: int) -> list[socket.socket]:
        return [opened.enter_context(socket.create_connection(("127.0.0.1", port))) for _ in range(count)]

    def hung_up(one: socket.socket) -> None:
        one.settimeout(20)
        with contextlib.suppress(ConnectionResetError):
            assert one.recv(100) == b""  # without an answer

    with contextlib.ExitStack() as opened, httpx.Client(base_url=f"http://127.0.0.1:{port}", timeout=20) as client:
        assert client.get("/api/labs").status_code == 200
        *most, one_too_many = silent(12)
        hung_up(one_too_many)  # no more than so many at once, the client's own among them
        with pytest.raises(httpx.TransportError):
            httpx.get(f"http://127.0.0.1:{port}/api/labs", timeout=5)
        assert client.get("/api/labs").status_code == 200  # who is in goes on
        for one in most:
            one.close()
        until(lambda: connections._open.total() == 1)
        monkeypatch.setattr(connections, "HEADER_SECONDS", 1.0)
        half, *others = silent(6)
        half.sendall(b"GET /api/jobs HTTP/1.1\r\nHost: localhost\r\nX-A: ")
        for one in (half, *others):
            hung_up(one)
        assert client.get("/api/labs").status_code == 200
    server.should_exit = True
    thread.join(20)
    assert connections._open.total() == 0


def until(holds: Callable[[], bool]) -> None:
    """Waits until something holds, on a machine however busy."""
    for _ in range(400):
        if holds():
            return
        time.sleep(0.05)
    raise AssertionError("It never held.")


def test_a_session_outlives_a_restart_and_not_another_passphrase(tmp_path: Path) -> None:
    def at(passphrase: str) -> TestClient:
        return TestClient(create_app(tmp_path, passphrase=passphrase), base_url="http://localhost")

    with at(WORD) as client:
        assert client.post("/api/session", json={"passphrase": WORD}).status_code == 204
        token = client.cookies["sutaru"]
        assert client.get("/api/jobs").status_code == 200
    cookie = {"Cookie": f"sutaru={token}"}
    with at(WORD) as client:
        assert client.get("/api/jobs", headers=cookie).status_code == 200
        with client.app.state.studio.database.reading() as db:  # type: ignore[attr-defined]
            stored = [row["hash"] for row in db.execute("SELECT hash FROM session")]
        assert len(stored) == 1
        assert token not in stored[0]
        assert client.get("/api/jobs", headers={"Cookie": f"sutaru={stored[0]}"}).status_code == 401
    with at("another wind") as client:
        assert client.get("/api/jobs", headers=cookie).status_code == 401
    with at(WORD) as client:
        assert client.delete("/api/session", headers=cookie).status_code == 204
    with at(WORD) as client:
        assert client.get("/api/jobs", headers=cookie).status_code == 401  # it was ended, and stays so
