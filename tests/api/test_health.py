"""Whether the server is well, figures of its work, and tokens by which scripts come in."""

import shutil
from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from prometheus_client.parser import text_string_to_metric_families

from sutaru.api import access, health
from sutaru.api.app import create_app
from sutaru.command_line.main import main

WORD = "three days of wind"


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    with TestClient(create_app(tmp_path, passphrase=WORD), base_url="http://localhost") as made:
        yield made


def test_health_needs_no_passphrase_and_tells_nothing_of_the_studio(client: TestClient) -> None:
    answer = client.get("/health")
    assert (answer.status_code, answer.json()["status"], answer.json()["sentence"]) == (200, "ok", "")
    assert set(answer.json()) == {"status", "sentence", "version"}


def test_a_full_disk_and_a_lost_database_are_said(client: TestClient, monkeypatch: pytest.MonkeyPatch) -> None:
    usage = shutil.disk_usage("/")._replace(free=3 << 20)
    with monkeypatch.context() as patched:
        patched.setattr(health.shutil, "disk_usage", lambda path: usage)
        full = client.get("/health")
    assert (full.status_code, full.json()["sentence"]) == (503, "Only 3 MB are free on the disk of the data folder.")
    database = client.app.state.studio.database  # type: ignore[attr-defined]
    with database.transaction() as db:
        db.execute("ALTER TABLE job RENAME TO lost")
    lost = client.get("/health")
    assert (lost.status_code, lost.json()["status"]) == (503, "failing")
    with database.transaction() as db:
        db.execute("ALTER TABLE lost RENAME TO job")


def figures(text: str) -> dict[tuple[str, ...], float]:
    """Figures as a reader of the format takes them."""
    return {
        (sample.name, *sample.labels.values()): sample.value
        for family in text_string_to_metric_families(text) for sample in family.samples
    }  # fmt: skip


def test_figures_are_read_by_who_knows_the_format(client: TestClient, tmp_path: Path) -> None:
    assert client.get("/api/metrics").status_code == 401
    client.post("/api/session", json={"passphrase": WORD})
    for _ in range(3):
        client.get("/api/jobs")
    client.get("/api/jobs/none")
    client.post("/api/jobs", json={"template": "mockup-wall", "name": "first", "lab": "gullwing-300"})
    answer = client.get("/api/metrics")
    assert answer.headers["content-type"].startswith("text/plain")
    known = figures(answer.text)
    assert known["sutaru_requests_total", "GET", "/api/jobs", "200"] == 3
    assert known["sutaru_requests_total", "GET", "/api/jobs/{job}", "404"] == 1
    assert known["sutaru_request_seconds_total", "GET", "/api/jobs", "200"] > 0
    assert known["sutaru_jobs", "work"] == 1
    assert known[("sutaru_free_bytes",)] > 0
    assert known[("sutaru_resident_bytes",)] > 10 << 20


def test_a_script_comes_in_by_its_token_until_it_is_removed(
    client: TestClient, tmp_path: Path, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(access, "REMEMBERED_S", 0.0)
    data = ["--data", str(tmp_path)]
    assert main(["token", "add", "nightly export", *data]) == 0  # while the server runs
    token = capsys.readouterr().out.strip()
    bearer = {"Authorization": f"Bearer {token}"}
    assert client.get("/api/jobs").status_code == 401
    assert client.get("/api/jobs", headers=bearer).status_code == 200
    for wrong in (token[:-1], token + "x", "", "sutaru_"):
        assert client.get("/api/jobs", headers={"Authorization": f"Bearer {wrong}"}).status_code == 401
    assert (
        token.encode()
        not in (tmp_path / "sutaru.sqlite3").read_bytes() + (tmp_path / "sutaru.sqlite3-wal").read_bytes()
    )
    assert main(["token", "list", *data]) == 0
    assert "nightly export: made" in (listed := capsys.readouterr().out)
    assert "used last" in listed
    assert main(["token", "add", "nightly export", *data]) == 2
    assert "called nightly export already" in capsys.readouterr().err
    assert main(["token", "remove", "nightly export", *data]) == 0
    assert client.get("/api/jobs", headers=bearer).status_code == 401
    assert main(["token", "remove", "nightly export", *data]) == 2
    assert main(["token", "list", "--data", str(tmp_path / "nowhere")]) == 2
    assert "There is no data in" in capsys.readouterr().err
