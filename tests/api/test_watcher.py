"""Watched folders: photos laid in become a job by a rule, exported when in order, else it waits; made once whatever happens."""

import json
import os
import shutil
import threading
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from sutaru.api import watcher
from sutaru.api.app import create_app
from sutaru.api.studio import Studio
from sutaru.api.watcher import Watcher
from sutaru.command_line.main import main
from tests.api.asking import Pile, accept_all, state


@pytest.fixture(autouse=True)
def quick(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(watcher, "LOOK_S", 0.05)
    monkeypatch.setattr(watcher, "SETTLED_S", 0.3)


@pytest.fixture
def watched(tmp_path: Path) -> Path:
    folder = tmp_path / "watched" / "shore"
    assert main(["watch", str(folder), "--template", "collage-shore", "--fill", "order"]) == 0
    return folder


@pytest.fixture
def client(tmp_path: Path, watched: Path) -> Iterator[TestClient]:
    with TestClient(create_app(tmp_path / "data", watch=watched.parent), base_url="http://localhost") as found:
        yield found


def lay_in(folder: Path, name: str, photos: list[Path]) -> None:
    (folder / name).mkdir()
    for path in photos:
        shutil.copy(path, folder / name)


def told(folder: Path, name: str, seconds: float = 60) -> dict:
    end = time.monotonic() + seconds
    path = folder / "taken" / name / "job.json"
    while not path.exists():
        assert time.monotonic() < end, "nothing came of it"
        time.sleep(0.05)
    return json.loads(path.read_text("utf-8"))


def test_a_folder_becomes_a_job_that_waits_for_a_person_or_leaves(
    client: TestClient, watched: Path, pile: Pile, tmp_path: Path
) -> None:
    lay_in(watched, "Brandvik", [path for path, _ in pile[:9]])
    (watched / "Brandvik" / "notes.jpg").write_text("no picture")
    found = told(watched, "Brandvik")
    assert found["state"] == "waits"  # photos of the test are small: that is a stop
    assert "in the way" in found["why"] or "stop" in found["why"]
    assert len(found["refused"]) == 1
    assert found["refused"][0].startswith("notes.jpg is not a picture")
    (card,) = client.get("/api/jobs").json()["jobs"]
    assert (card["id"], card["name"], card["customer"]) == (found["job"], "Brandvik", "Brandvik")
    job = state(client, found["job"])
    shown = [row["placement"]["photo"] for row in job["rows"] if row["placement"]]
    by_name = {photo["id"]: photo["name"] for photo in job["photos"]}
    assert len(shown) == len(job["rows"])
    assert {by_name[one] for one in shown} <= {path.name for path, _ in pile[:9]}
    # Another customer of the same name, by another rule.
    rule = json.loads((watched / "rule.json").read_text())
    (watched / "rule.json").write_text(json.dumps({**rule, "template": "mockup-window", "lab": "gullwing-300"}))
    lay_in(watched, "Brandvik", [pile[1][0]])
    second = told(watched, "Brandvik-2")
    assert second["job"] != found["job"]
    assert client.get("/api/jobs").json()["count"] == 2


def test_what_is_in_order_is_exported(
    client: TestClient, watched: Path, pile: Pile, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("sutaru.core.checks.rules.RULES", ())
    monkeypatch.setattr("sutaru.core.checks.rules.check.__defaults__", ((),))
    lay_in(watched, "Holm", [path for path, _ in pile[:6]])
    found = told(watched, "Holm")
    assert found["state"] == "exported", found
    out = watched / "print" / "Holm"
    assert sorted(path.name for path in out.iterdir()) == sorted([*found["files"], "manifest.json"])
    assert json.loads((out / "manifest.json").read_text())["job"] == "Holm"


def test_a_folder_that_is_still_being_copied_is_waited_for(client: TestClient, watched: Path, pile: Pile) -> None:
    (watched / "Moor").mkdir()
    for path, _ in pile[:5]:
        shutil.copy(path, watched / "Moor")
        time.sleep(0.15)
    found = told(watched, "Moor")
    assert len(state(client, found["job"])["photos"]) == 5


def _text_of(path: Path) -> str:
    return path.read_text() if path.exists() else ""


def test_a_rule_that_is_none_is_answered_in_words(client: TestClient, watched: Path, pile: Pile) -> None:
    (watched / "rule.json").write_text('{"template": "nothing-like-it"}')
    lay_in(watched, "Orme", [pile[0][0]])
    end = time.monotonic() + 20
    # It may have been looked at while it was half written.
    while not _text_of(watched / "rule.wrong.txt").startswith("This template was not found"):
        assert time.monotonic() < end
        time.sleep(0.05)
    (watched / "rule.json").write_text('{"template": "collage-shore", "lab": 3}')
    while "lab" not in (watched / "rule.wrong.txt").read_text():
        assert time.monotonic() < end
        time.sleep(0.05)
    assert (watched / "Orme").exists()  # it is taken once the rule is mended
    (watched / "rule.json").write_text('{"template": "collage-shore", "export": false}')
    assert told(watched, "Orme")["why"] == "Its rule says so."
    assert not (watched / "rule.wrong.txt").exists()


def test_ended_in_the_middle_it_goes_on_with_the_same_job(
    tmp_path: Path, watched: Path, pile: Pile, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The application ends after the second photo; at its next start the job is gone on with, and is one."""
    lay_in(watched, "Runa", [path for path, _ in pile[:6]])
    real, came = Watcher._bring, []

    def ending(self: Watcher, job: str, path: Path) -> None:
        if len(came) == 2:
            self._over.set()
            raise watcher.Stopped("The application was closed.")
        came.append(path)
        real(self, job, path)

    monkeypatch.setattr(Watcher, "_bring", ending)
    studio = Studio(tmp_path / "data")
    Watcher(studio, watched.parent).close()
    studio.close()
    assert len(came) == 2
    assert (watched / "Runa").exists()
    monkeypatch.setattr(Watcher, "_bring", real)
    with TestClient(create_app(tmp_path / "data", watch=watched.parent), base_url="http://localhost") as client:
        found = told(watched, "Runa")
        (card,) = client.get("/api/jobs").json()["jobs"]
        assert card["id"] == found["job"]
        assert len(state(client, found["job"])["photos"]) == 6


@pytest.mark.parametrize(("error", "said"), [
    (PermissionError("no"), "A file in it cannot be read or written: see who may, and how much room there is."),
    (RuntimeError("no"), "This failed in a way that nobody foresaw; what went wrong is in sutaru.log."),
])  # fmt: skip
def test_a_folder_that_cannot_be_taken_says_why_and_keeps_no_other_waiting(
    client: TestClient, watched: Path, pile: Pile, monkeypatch: pytest.MonkeyPatch, error: Exception, said: str
) -> None:
    real = Watcher._bring

    def fails(self: Watcher, job: str, path: Path) -> None:
        if path.parent.name == "Brandvik":
            raise error
        real(self, job, path)

    monkeypatch.setattr(Watcher, "_bring", fails)
    for name in ("Brandvik", "Holm"):
        lay_in(watched, name, [pile[0][0]])
    told(watched, "Holm")
    (laid,) = folders(client)["shore"]["laid"]
    assert laid == {"name": "Brandvik", "photos": 1, "begun": True, "stuck": said}
    monkeypatch.setattr(Watcher, "_bring", real)
    told(watched, "Brandvik")
    assert folders(client)["shore"]["laid"] == []
    end = time.monotonic() + 10
    while client.app.state.watcher.stuck:
        assert time.monotonic() < end
        time.sleep(0.02)
    assert client.get("/api/jobs").json()["count"] == 2


def folders(client: TestClient) -> dict[str, dict]:
    return {one["name"]: one for one in client.get("/api/watched").json()["folders"]}


def test_a_watched_folder_is_made_altered_and_left_from_the_screen(
    client: TestClient, watched: Path, pile: Pile
) -> None:
    assert client.get("/api/watched").json()["folder"] == str(watched.parent)
    rule = {"template": "postcard-two", "lab": "saltmarsh-250", "fill": "order", "export": False, "format": None}
    made = client.post("/api/watched", json={"name": " Für ../ das Dorf ", "rule": rule})
    assert made.status_code == 201
    assert [one["name"] for one in made.json()["folders"]] == ["Fur-das-Dorf", "shore"]
    assert json.loads((watched.parent / "Fur-das-Dorf" / "rule.json").read_text()) == rule
    again = client.post("/api/watched", json={"name": "fur das dorf", "rule": rule})
    assert (again.status_code, "already" in again.json()["sentence"]) == (409, True)
    altered = client.put("/api/watched/Fur-das-Dorf", json={**rule, "fill": "best"})
    assert altered.json()["folders"][0]["rule"]["fill"] == "best"
    for change in ({"template": "nothing-like-it"}, {"lab": "nobody"}):
        assert client.put("/api/watched/shore", json={**rule, **change}).status_code == 404
    for name in ("elsewhere", "..", "%2e%2e", "..%2Fshore"):
        assert client.put(f"/api/watched/{name}", json=rule).status_code in (404, 405)
        assert client.delete(f"/api/watched/{name}").status_code in (404, 405)
    lay_in(watched.parent / "Fur-das-Dorf", "Moor", [path for path, _ in pile[:2]])
    assert told(watched.parent / "Fur-das-Dorf", "Moor")["why"] == "Its rule says so."
    assert client.delete("/api/watched/Fur-das-Dorf").status_code == 200
    assert list(folders(client)) == ["shore"]
    assert (watched.parent / "Fur-das-Dorf" / "taken" / "Moor").is_dir()


def test_there_are_only_so_many_watched_folders(client: TestClient, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("sutaru.api.watched.MOST", 1)
    answer = client.post("/api/watched", json={"name": "one more", "rule": {"template": "postcard-two"}})
    assert answer.json()["sentence"].startswith("There are 1 watched folders at most.")


def test_what_became_of_folders_is_told(
    client: TestClient, watched: Path, pile: Pile, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Those that lie there, those that were taken, the last first, and what was done with their jobs since."""
    (watched / "Empty").mkdir()
    for name in ("Holm", "Orme", "Vael"):
        lay_in(watched, name, [pile[0][0]])
        told(watched, name)
    first = folders(client)["shore"]
    assert first["laid"] == [{"name": "Empty", "photos": 0, "begun": False, "stuck": ""}]
    assert [(one["name"], one["state"]) for one in first["taken"]] == [
        ("Vael", "waits"),
        ("Orme", "waits"),
        ("Holm", "waits"),
    ]
    jobs = {one["name"]: one["job"] for one in first["taken"]}
    client.delete(f"/api/jobs/{jobs['Vael']}")
    assert accept_all(client, jobs["Orme"]) > 0
    monkeypatch.setattr("sutaru.core.checks.rules.check.__defaults__", ((),))
    lay_in(watched, "Tarrow", [path for path, _ in pile[:3]])
    assert told(watched, "Tarrow")["state"] == "exported"
    task = client.post(f"/api/jobs/{jobs['Orme']}/exports", json={"lab": "gullwing-300"}).json()["id"]
    end = time.monotonic() + 60
    while client.get(f"/api/tasks/{task}").json()["state"] != "done":
        assert time.monotonic() < end
        time.sleep(0.1)
    (watched / "taken" / "Holm" / "job.json").write_text('{"job": "../../elsewhere", "state": "waits"}')
    (watched / "rule.json").write_text("{")
    shore = folders(client)["shore"]
    assert [(one["name"], one["state"]) for one in shore["taken"]] == [
        ("Tarrow", "exported"), ("Vael", "gone"), ("Orme", "since"),
    ]  # fmt: skip
    assert shore["taken"][0]["files"] >= 1
    assert (shore["rule"], shore["count"]) == (None, 4)
    assert shore["wrong"]


def test_what_lies_in_a_customers_folder_is_not_believed(client: TestClient, watched: Path, pile: Pile) -> None:
    """Whose job a folder becomes is kept with the studio: a file in the folder that names another one is nothing but a file."""
    lay_in(watched, "Brandvik", [pile[0][0]])
    first = told(watched, "Brandvik")["job"]
    for n, said in enumerate((first, "../../../evil", "0" * 12, "\x00")):
        name = f"Holm-{n}"
        (watched / name).mkdir()
        (watched / name / ".job").write_text(said)
        (watched / name / "job.json").write_text(json.dumps({"job": said}))
        shutil.copy(pile[n + 1][0], watched / name)
        found = told(watched, name)["job"]
        assert found not in (first, said)
        assert len(found) == 12
        assert len(state(client, found)["photos"]) == 1
    assert len(state(client, first)["photos"]) == 1


def test_a_name_that_is_no_utf8_is_shown_and_taken(client: TestClient, watched: Path, pile: Pile) -> None:
    folder = os.fsencode(watched) + b"/M\xe4rz \xff"
    os.mkdir(folder)
    shutil.copy(pile[0][0], os.fsdecode(folder) + "/kite-" + os.fsdecode(b"\xe9") + ".jpg")
    assert client.get("/api/watched").status_code == 200
    end = time.monotonic() + 60
    while not (taken := client.get("/api/watched").json()["folders"][0]["taken"]):
        assert time.monotonic() < end
        time.sleep(0.1)
    assert taken[0]["name"] == "M\N{REPLACEMENT CHARACTER}rz \N{REPLACEMENT CHARACTER}"
    assert client.get("/api/jobs").json()["jobs"][0]["photos"] == 1


@pytest.mark.parametrize("rule", [b"\xff\xfe{", b"", b"[]", b" " * 200_000, b'{"template": "' + b"x" * 999 + b'"}'])
def test_a_rule_that_cannot_be_read_is_told_once(
    rule: bytes, client: TestClient, watched: Path, caplog: pytest.LogCaptureFixture
) -> None:
    (watched / "rule.json").write_bytes(rule)
    end = time.monotonic() + 20
    while not (watched / "rule.wrong.txt").exists():
        assert time.monotonic() < end
        time.sleep(0.05)
    time.sleep(0.5)  # it is looked at ten times meanwhile
    assert (watched / "rule.wrong.txt").read_text().endswith(".")
    assert client.get("/api/watched").json()["folders"][0]["wrong"]
    assert "Traceback" not in caplog.text


def test_a_failure_is_logged_once_and_again_after_it_was_over(
    client: TestClient, watched: Path, caplog: pytest.LogCaptureFixture, monkeypatch: pytest.MonkeyPatch
) -> None:
    fails, looked = threading.Event(), threading.Semaphore(0)
    look = Watcher._look

    def sometimes(watcher: Watcher, rule: Path) -> None:
        looked.release()
        if fails.is_set():
            raise RuntimeError("away")
        look(watcher, rule)

    monkeypatch.setattr(Watcher, "_look", sometimes)
    for times in (1, 2):
        for failing in (True, False):
            fails.set() if failing else fails.clear()
            for _ in range(4):
                assert looked.acquire(timeout=20)
        assert caplog.text.count("could not be looked into") == times


def test_links_do_not_lead_out(client: TestClient, watched: Path, pile: Pile, tmp_path: Path) -> None:
    secret = tmp_path / "private"
    secret.mkdir()
    shutil.copy(pile[0][0], secret / "private.jpg")
    (watched / "Linked").symlink_to(secret)
    (watched.parent / "elsewhere").symlink_to(secret)
    (secret / "rule.json").write_text((watched / "rule.json").read_text())
    lay_in(watched, "Holm", [pile[1][0]])
    (watched / "Holm" / "link.jpg").symlink_to(secret / "private.jpg")
    found = told(watched, "Holm")
    assert len(state(client, found["job"])["photos"]) == 1
    assert [folder["name"] for folder in client.get("/api/watched").json()["folders"]] == ["shore"]
    assert client.get("/api/jobs").json()["count"] == 1
    assert (secret / "private.jpg").exists()
    # Nor is anything written through one.
    shutil.move(watched / "taken", watched / "before")
    (watched / "taken").symlink_to(secret)
    lay_in(watched, "Moor", [pile[2][0]])
    end = time.monotonic() + 30
    while not (laid := [one for one in client.get("/api/watched").json()["folders"][0]["laid"] if one["stuck"]]):
        assert time.monotonic() < end
        time.sleep(0.1)
    assert laid[0]["stuck"] == "taken is a link. Put a folder in its place."
    assert not (secret / "Moor").exists()
