"""SIGKILL at random while a studio edits, brings photos in, exports and undoes: nothing acknowledged is lost, nothing stays."""

import contextlib
import random
import signal
import threading
import time
from pathlib import Path

import httpx
import pytest

from sutaru.core.document import Photo
from tests.api.asking import accept_all, edit, filled_job, start
from tests.serving import Served
from tests.trial import times
from tests.trial.test_hostile import children

KILLS = times(3, 300)


class Worker(threading.Thread):
    """Does one kind of thing again and again, and remembers what was acknowledged."""

    def __init__(self, server: Served, job: str, what: str, by: random.Random, pile: list[tuple[Path, Photo]]) -> None:
        super().__init__(daemon=True)
        self._base, self._job, self._what, self._by, self._pile = server.client.base_url, job, what, by, pile
        self.photos: set[str] = set()
        self.seen: dict[int, str] = {}  # roots by seq

    def run(self) -> None:
        with contextlib.suppress(httpx.TransportError), httpx.Client(base_url=self._base, timeout=60) as client:
            while True:
                getattr(self, self._what)(client)

    def _note(self, answer: httpx.Response) -> None:
        if answer.status_code == 200:
            said = answer.json()
            self.seen[said["seq"]] = said["root"]

    def edits(self, client: httpx.Client) -> None:
        body = {"op": "place", "sheet": "spread", "opening": f"opening-{self._by.randrange(18) + 1}", "turn_deg": 0,
                "centre": [self._by.random(), 0.5], "zoom": 1 + self._by.random(), "mirror": False}  # fmt: skip
        self._note(client.post(f"/api/jobs/{self._job}/edits", json={"edit": body}))

    def undoes(self, client: httpx.Client) -> None:
        self._note(client.post(f"/api/jobs/{self._job}/{self._by.choice(('undo', 'redo'))}", json={}))
        time.sleep(0.02)

    def brings(self, client: httpx.Client) -> None:
        path, _ = self._by.choice(self._pile)
        data = path.read_bytes() + self._by.randbytes(8)  # bytes after the end make it a photo of its own
        answer = client.post(f"/api/jobs/{self._job}/photos", params={"name": path.name}, content=data)
        if answer.status_code == 201:
            self.photos.add(answer.json()["photo"]["checksum"])

    def exports(self, client: httpx.Client) -> None:
        # A job of its own without stops: the first of the folder, which nobody edits.
        jobs = client.get("/api/jobs", params={"sort": "created", "words": "Ready"}).json()["jobs"]
        answer = client.post(f"/api/jobs/{jobs[0]['id']}/exports", json={"lab": "gullwing-300", "format": "jpeg"})
        assert answer.status_code == 202, answer.text
        time.sleep(0.5)


def ready(server: Served, pile: list[tuple[Path, Photo]]) -> None:
    """A job that can be exported."""
    client = server.client
    job = filled_job(client, "mockup-wall", pile[:2], name="Ready")
    accept_all(client, job)


def alive(pid: int) -> bool:
    try:
        return "spawn_main" in Path(f"/proc/{pid}/cmdline").read_text()
    except OSError:
        return False


@pytest.mark.parametrize("seed", [7])
def test_nothing_acknowledged_is_lost(seed: int, tmp_path: Path, pile: list[tuple[Path, Photo]]) -> None:
    by = random.Random(seed)
    server = Served(tmp_path)
    ready(server, pile)
    job = start(server.client, "album-spread-18")
    server.client.post(f"/api/jobs/{job}/photos", params={"name": "a.jpg"}, content=pile[0][0].read_bytes())
    edit(server.client, job, op="fill")
    photos: set[str] = set()
    for kill in range(KILLS):
        kinds = ["edits", "undoes", "brings", "brings", "exports"]
        workers = [Worker(server, job, kind, random.Random(f"{seed} {kill} {n}"), pile) for n, kind in enumerate(kinds)]
        for worker in workers:
            worker.start()
        time.sleep(by.uniform(0.1, 5.0))
        busy = children(server.process.pid)
        server.process.send_signal(signal.SIGKILL)
        server.process.communicate(timeout=30)
        server.client.close()
        for worker in workers:
            worker.join(30)
        time.sleep(3)
        assert [pid for pid in busy if alive(pid)] == [], f"kill {kill}: workers are left"
        server = Served(tmp_path)
        photos |= {sha for worker in workers for sha in worker.photos}
        seen = {seq: root for worker in workers for seq, root in worker.seen.items()}
        now = server.client.get(f"/api/jobs/{job}").json()
        if seen:
            last = max(seen)
            assert now["seq"] >= last, f"kill {kill}: acknowledged up to {last}, found {now['seq']}"
            assert now["seq"] > last or now["root"] == seen[last]
        for sha in photos:
            assert server.client.get(f"/api/photos/{sha}/proxy").status_code == 200
            assert (tmp_path / "photos" / sha[:2] / sha).exists()
        for mark in now["marks"]:
            assert server.client.get(f"/api/drawn/{mark['key']}/picture?width=300").status_code == 200
        left = [path for path in (tmp_path / "photos" / "incoming").iterdir() if not path.name.startswith("festival")]
        assert left == [], f"kill {kill}: {left}"
        for folder in (tmp_path / "exports").iterdir():
            assert server.client.get(f"/api/tasks/{folder.name}").json()["state"] == "done", (
                f"kill {kill}: {folder.name}"
            )
        recent = [t["state"] for listed in server.client.get("/api/jobs").json()["jobs"]
                  for t in server.client.get(f"/api/jobs/{listed['id']}/tasks").json()]  # fmt: skip
        assert not {"queued", "running"} & set(recent)
        assert not list(tmp_path.rglob("*.part"))
        print(f"kill {kill + 1}", len(photos), "photos,", max(seen, default=0), "changes", flush=True)
    server.end(signal.SIGTERM)
