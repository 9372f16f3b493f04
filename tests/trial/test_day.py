"""A studio's day, sped up: jobs begun, filled, exported, put away; memory stays level, and nothing is left lying about.

At length it goes on for two hours: what the stores may keep is full within the first half of them.
"""

import itertools
import os
import signal
import time
from pathlib import Path

from sutaru.api import sheets, studio
from sutaru.core import remembering
from sutaru.core.document import Photo
from sutaru.store import parts
from tests.api.asking import accept_all, bring, edit, ended, start
from tests.serving import Served
from tests.trial import LONG, times
from tests.trial.test_hostile import children

STORES = (sheets.LIVE_BYTES, sheets.PATCH_BYTES, sheets.MEASURED_BYTES, sheets.JPEG_BYTES, studio.DECODED_BYTES,
          parts.KEPT_BYTES, parts.KEPT_ASSET_BYTES, 48_000_000, remembering.REMEMBERED_BYTES)  # fmt: skip
THREADS = (
    44  # that answer requests and work beside; each reads the database by a connection of its own: a file and its log
)
JOBS, PHOTOS, HOURS = 4, times(12, 50), float(os.environ.get("SUTARU_TRIAL_HOURS", "2"))
FULL_S = 20 * 60  # by then
TEMPLATES = ("album-spread-18", "collage-shore", "card-portrait", "mockup-table")


def held(pid: int) -> tuple[float, int]:
    """Memory in MB (resident), and open files, of a process."""
    status = Path(f"/proc/{pid}/status").read_text().split("VmRSS:")[1].split()[0]
    return int(status) / 1000, len(list(Path(f"/proc/{pid}/fd").iterdir()))


def test_a_day(tmp_path: Path, pile: list[tuple[Path, Photo]]) -> None:
    server = Served(tmp_path)
    client, pid = server.client, server.process.pid
    after: list[tuple[float, int]] = []
    workers: list[float] = []
    clock: list[float] = []
    began = time.monotonic()
    try:
        # What it holds before any work: once a picture was made, all that is loaded when it is first used is.
        (mark,) = client.get(f"/api/jobs/{start(client, 'collage-shore')}").json()["marks"]
        assert client.get(f"/api/drawn/{mark['key']}/picture", params={"width": 150}).status_code == 200
        bare = held(pid)[0]
        for n in itertools.count():
            if time.monotonic() - began > HOURS * 3600 if LONG else n == JOBS:
                break
            job = start(client, TEMPLATES[n % len(TEMPLATES)], name=f"Order {n}")
            for at in range(PHOTOS):
                path, _ = pile[at % len(pile)]
                copy = tmp_path / f"{n}-{at}.jpg"
                copy.write_bytes(path.read_bytes() + f"{n} {at}".encode())  # a photo of its own
                assert bring(client, job, copy).status_code == 201
                copy.unlink()
            edit(client, job, op="fill")
            found = client.get(f"/api/jobs/{job}").json()
            for mark in found["marks"]:
                for width in (150, 900, 1600):
                    assert client.get(f"/api/drawn/{mark['key']}/picture", params={"width": width}).status_code == 200
            accept_all(client, job)
            export = client.post(f"/api/jobs/{job}/exports", json={"lab": "gullwing-300", "format": "jpeg"})
            assert ended(client, export.json()["id"])["state"] == "done"
            assert client.get(f"/api/exports/{export.json()['id']}/all").status_code == 200
            assert client.get(f"/api/jobs/{job}/bundle").status_code == 200
            client.put(f"/api/jobs/{job}/archived")
            time.sleep(0.2)
            after.append(held(pid))
            workers.append(sum(held(child)[0] for child in children(pid)))
            clock.append(time.monotonic() - began)
            print(
                f"{clock[-1]:.0f} s: {after[-1][0]:.0f} MB, {after[-1][1]} files; workers {workers[-1]:.0f} MB",
                flush=True,
            )
        assert max(files for _, files in after) <= after[0][1] + 2 * THREADS
        # What it keeps is bounded in bytes, and takes half a day like this one to fill. It never holds more than that.
        assert max(mb for mb, _ in after) <= bare + 1.2 * sum(STORES) / 1e6  # a fifth for what the allocator keeps
        if LONG:
            full = [n for n, at in enumerate(clock) if at > FULL_S]
            middle = full[len(full) // 2]
            for values in ([mb for mb, _ in after], workers):
                assert max(values[middle:]) <= 1.1 * max(values[full[0] : middle])
        assert list((tmp_path / "photos" / "incoming").iterdir()) == []
        assert not list(tmp_path.rglob("*.part"))
        assert not list(tmp_path.rglob(".progress*"))
    finally:
        server.end(signal.SIGTERM)
