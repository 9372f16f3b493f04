"""Who may come in: other machines with a passphrase only, by a cookie that no other site can use."""

import os
import subprocess
import sys
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from sutaru.api import access
from sutaru.api.access import checked_passphrase, known_names
from sutaru.api.app import create_app
from sutaru.core.errors import SutaruError

WORD = "three days of wind"


@pytest.fixture
def client(tmp_path: Path):
    app = create_app(tmp_path, known_names("192.168.7.7"), passphrase=WORD)
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
    assert {"0.0.0.0", "::"} & set(known_names("0.0.0.0")) == set()


def test_other_machines_need_a_passphrase(tmp_path: Path) -> None:
    assert checked_passphrase("127.0.0.1", None) is None
    assert checked_passphrase("0.0.0.0", WORD) == WORD
    with pytest.raises(SutaruError, match="shorter than 8 letters"):
        checked_passphrase("127.0.0.1", "wind")
    command = [sys.executable, "-m", "sutaru.cli", "serve", "--host", "0.0.0.0", "--port", "0", "--data", str(tmp_path)]
    environment = {k: v for k, v in os.environ.items() if k != "SUTARU_PASSPHRASE"}
    refused = subprocess.run(command, capture_output=True, text=True, timeout=60, env=environment)
    assert refused.returncode == 2
    assert "At 0.0.0.0 other machines could open every job here. Set a passphrase" in refused.stderr
