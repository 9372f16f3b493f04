"""Hostile files at the one door: each is taken or refused in a sentence, in time, within memory; the others go on."""

import collections
import time
from pathlib import Path

import pytest

from sutaru.core.document import Photo
from tests.api.asking import bring, filled_job
from tests.serving import Served
from tests.trial import LONG, hostile, times

COUNT = {"photo": times(90, 2400), "asset": times(90, 1400), "bundle": times(60, 1200)}
LONGEST_S, WORKER_MB, SERVER_MB = 12.0, 900, 500


def memory_mb(pid: int) -> float:
    """Most that a process ever held."""
    for line in Path(f"/proc/{pid}/status").read_text().splitlines():
        if line.startswith("VmHWM"):
            return int(line.split()[1]) / 1000
    return 0.0


def children(pid: int) -> list[int]:
    found = Path(f"/proc/{pid}/task/{pid}/children").read_text().split()
    threads = (task.name for task in Path(f"/proc/{pid}/task").iterdir())
    every = {int(child) for thread in threads for child in _children_of(pid, thread)} | {int(child) for child in found}
    return sorted(every)


def _children_of(pid: int, thread: str) -> list[str]:
    try:
        return Path(f"/proc/{pid}/task/{thread}/children").read_text().split()
    except OSError:
        return []


@pytest.mark.parametrize("kind", ["photo", "asset", "bundle"])
def test_hostile_files(kind: str, tmp_path: Path, pile: list[tuple[Path, Photo]]) -> None:
    server = Served(tmp_path)
    told: collections.Counter[int] = collections.Counter()
    most = 0.0
    try:
        client = server.client
        job = filled_job(client, "mockup-wall", pile[:2])
        sound = client.get(f"/api/jobs/{job}/bundle").content
        for n in range(COUNT[kind]):
            name, data = hostile.bundle(n, sound) if kind == "bundle" else getattr(hostile, kind)(n)
            where = {"photo": f"/api/jobs/{job}/photos", "asset": "/api/assets", "bundle": "/api/jobs/from-bundle"}[
                kind
            ]
            since = time.monotonic()
            answer = client.post(where, params={"name": name} if kind == "photo" else {}, content=data)
            took = time.monotonic() - since
            told[answer.status_code] += 1
            said = f"{kind} {n} ({name[-20:]!r}): {answer.status_code} {answer.text[:300]}"
            assert answer.status_code in (201, 409, 422), said
            assert took < LONGEST_S or not LONG, f"{said} took {took:.1f} s"  # a sample runs beside other tests
            if answer.status_code != 201:
                sentence = answer.json()["sentence"]
                assert sentence[-1] in ".)?", said
                assert "Error" not in sentence.replace("Error)", ""), said
            elif kind == "bundle":
                made = answer.json()["id"]
                assert client.get(f"/api/jobs/{made}").status_code == 200, said
            for pid in children(server.process.pid):
                most = max(most, memory_mb(pid))
        # The others go on.
        assert bring(client, job, pile[3][0]).status_code == 201
        assert client.get("/api/jobs").status_code == 200
        assert most < WORKER_MB
        assert memory_mb(server.process.pid) < SERVER_MB
        print(f"{kind}: {dict(told)}, workers {most:.0f} MB, server {memory_mb(server.process.pid):.0f} MB")
    finally:
        server.end(15)  # type: ignore[arg-type]
    assert told[201] > 0
    assert told.total() - told[201] > COUNT[kind] / 5
