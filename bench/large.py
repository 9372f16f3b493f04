"""A large job: 100 spreads of 12 openings, 2,000 photos, over HTTP; and eight clients at once beside long work.

Photos are known by their facts only, but for the few that are painted: what is measured here is the document, not pixels.
"""

import random
import re
import sqlite3
import statistics
import subprocess
import threading
import time
from concurrent.futures import ThreadPoolExecutor
from hashlib import sha256
from pathlib import Path

import httpx

from bench.photos import photos
from bench.served import PORT, fill, post, server, start
from sutaru.core.document import Flat, Found, Job, KeepArea, Layout, Line, Opening, Photo, Rectangle, Sheet
from sutaru.core.edits.apply import apply
from sutaru.core.edits.kinds import BringIn, Fill
from sutaru.core.formats.shelf import read_shelf
from sutaru.core.photos import examine
from sutaru.shelf import FOLDER
from sutaru.store import Database, Jobs, Parts, Photos
from sutaru.work.tasks import take_in

SHEETS, OPENINGS, PHOTOS = 100, 12, 2000


def layout(seed: int) -> Layout:
    """A 24 x 12 in spread of twelve openings, a little different for each seed."""
    rng = random.Random(seed)
    holes = []
    for n in range(OPENINGS):
        wide, high = rng.uniform(70, 92), rng.uniform(70, 92)
        centre = (52 + 101 * (n % 6), 76 + 150 * (n // 6))
        holes.append(
            Opening(id=f"o{n + 1}", outline=Rectangle(width_mm=wide, height_mm=high), surface=Flat(centre=centre))
        )
    return Layout(
        width_mm=609.6, height_mm=304.8, lines=(Line(kind="gutter", axis="x", at_mm=304.8),), layers=tuple(holes)
    )


def pile() -> list[Photo]:
    """Photos as they are known, one in three with a face; the first eighteen are files that exist."""
    rng = random.Random(3)
    found = [examine(path, path.name).copy_with(found=Found()) for path in photos()]
    for n in range(len(found), PHOTOS):
        width, height = rng.choice([(6000, 4000), (4000, 6000), (4896, 3264)])
        face = KeepArea(kind="face", left=rng.uniform(0.1, 0.7), top=rng.uniform(0.1, 0.5), width=0.16, height=0.22)
        digest = sha256(b"%d" % n).hexdigest()
        found.append(Photo(
            id=digest[:16], checksum=digest, name=f"large-{n:04d}.jpg", format="JPEG", size_bytes=9_000_000, width=width,
            height=height, found=Found(keep=(face,) if n % 3 == 0 else ()),
        ))  # fmt: skip
    return found


def made(data: Path) -> str:
    """Makes the job in a data folder; its id."""
    shelf, all_photos = read_shelf(FOLDER), pile()
    sheets = tuple(
        Sheet(id=f"s{n + 1:03d}", name=f"Spread {n + 1}", role="spread", layout=layout(n % 20)) for n in range(SHEETS)
    )
    job = Job(name="Large", template="large", product="album", lab=shelf.labs["gullwing-300"], sheets=sheets)
    job = apply(job, BringIn(photos=tuple(all_photos)))
    # Sheet by sheet in order, as one lays a book out; the first is of the files that exist.
    own = job.editions[0]
    fillings = {}
    for n, sheet in enumerate(sheets):
        some = all_photos[OPENINGS * n : OPENINGS * (n + 1)]
        one = job.copy_with(sheets=(sheet,), pile=job.pile.copy_with(photos=tuple(some)))
        fillings[sheet.id] = apply(one, Fill(how="order")).filling(sheet.id)
    database = Database(data / "sutaru.sqlite3")
    store = Photos(database, data / "photos")
    jobs = Jobs(database, Parts(database), store)
    identity = jobs.create(job.copy_with(editions=(own.copy_with(fillings=fillings),)))
    for path, photo in zip(photos(), all_photos, strict=False):
        upload = store.incoming / photo.id
        upload.write_bytes(path.read_bytes())
        _, proxy, thumb, width = take_in(str(upload), photo.name)
        store.keep(photo, upload, proxy, thumb, width)
    database.close()
    return identity


def percentile(values: list[float], share: float = 0.95) -> float:
    return sorted(values)[min(len(values) - 1, int(share * len(values)))]


def memory_mb(port: int) -> float:
    """Resident memory of the server that listens on a port, without its workers."""
    listing = subprocess.run(["ps", "-eo", "rss,args"], capture_output=True, text=True, check=True).stdout
    sizes = [int(m[1]) for m in re.finditer(rf"^\s*(\d+) .*sutaru serve --port {port}", listing, re.M)]
    return max(sizes) / 1024


def place(n: int, sheet: str, opening: str) -> dict:
    return {"op": "place", "sheet": sheet, "opening": opening, "centre": [0.4 + 0.01 * (n % 20), 0.5],
            "zoom": 1.2 + 0.03 * (n % 7), "turn_deg": 0, "mirror": False}  # fmt: skip


def large(data: Path) -> dict[str, float]:
    """Opening the large job, 200 edits of it, what they cost on the wire and on the disk."""
    job, found = made(data), {}
    with server(data) as client:
        since = time.perf_counter()
        head = client.get(f"/api/jobs/{job}").json()
        picture = client.get(f"/api/drawn/{head['marks'][0]['key']}/picture?width=1600&notes=true")
        assert picture.content[:2] == b"\xff\xd8", picture.text
        found["open_s"] = time.perf_counter() - since
        while any(mark["counts"] is None for mark in client.get(f"/api/jobs/{job}").json()["marks"]):
            time.sleep(0.2)
        sizes, times = [], []
        path = data / "sutaru.sqlite3"

        def stored() -> int:
            with sqlite3.connect(path) as db:
                size = db.execute("SELECT sum(length(name) + length(data)) FROM part").fetchone()[0]
                rows = db.execute("SELECT sum(length(job) + length(root) + length(label) + 40) FROM state").fetchone()[
                    0
                ]
            return int(size + rows)

        root, before = head["root"], stored()
        for n in range(200):
            sheet = f"s{n * 7 % SHEETS + 1:03d}"
            body = {"edit": place(n, sheet, f"o{n % OPENINGS + 1}"), "have": root, "view": sheet}
            since = time.perf_counter()
            answer = client.post(f"/api/jobs/{job}/edits", json=body)
            times.append(1000 * (time.perf_counter() - since))
            assert answer.status_code == 200, answer.text
            new = answer.json()
            assert len(new["measured"]) == 1  # with its ledger rows and findings
            root = new["root"]
            sizes.append(len(answer.content))
        found["edit_ms"], found["edit_median_ms"] = percentile(times), statistics.median(times)
        found["answer_kb"] = percentile([float(s) for s in sizes]) / 1000
        found["revision_kb"] = (stored() - before) / 200 / 1000
        found["memory_mb"] = memory_mb(PORT)
    return found


def crowd(data: Path, seconds: float = 20) -> dict[str, float]:
    """Eight clients on eight jobs while one imports, one exports and one fills 500 openings: p95 ms of an edit."""
    big = made(data)
    sources = [path.read_bytes() for path in photos()]
    with server(data) as client:
        jobs = []
        for _ in range(8):
            job = start(client)
            for n in range(6):
                post(job, sources[n], f"c{n}.jpg")
            fill(client, job)
            jobs.append(job)
        stop, times = threading.Event(), list[float]()

        def edits(job: str) -> None:
            with httpx.Client(base_url=client.base_url, timeout=120) as own:
                filled = [
                    row["opening"]
                    for measured in own.get(f"/api/jobs/{job}").json()["measured"].values()
                    for row in measured["rows"]
                    if row["photo"]
                ]
                n = 0
                while not stop.is_set():
                    n += 1
                    since = time.perf_counter()
                    body = {"edit": place(n, "spread", filled[n % len(filled)])}
                    assert own.post(f"/api/jobs/{job}/edits", json=body).status_code == 200
                    times.append(1000 * (time.perf_counter() - since))
                    time.sleep(0.25)  # as fast as a person works

        def imports() -> None:
            n = 0
            while not stop.is_set():
                n += 1
                post(jobs[0], sources[n % 18] + n.to_bytes(4, "big"), f"i{n}.jpg")

        with ThreadPoolExecutor(12) as threads:
            work = [threads.submit(edits, job) for job in jobs] + [threads.submit(imports) for _ in range(2)]
            client.post(f"/api/jobs/{jobs[1]}/exports", json={"lab": "gullwing-300"})
            asked = {"op": "fill", "only_empty": False, "how": "best"}
            task = client.post(f"/api/jobs/{big}/edits", json={"edit": asked}).json()["task"]
            time.sleep(seconds)
            stop.set()
            for one in work:
                one.result()
            client.post(f"/api/tasks/{task['id']}/stop")
    return {"edit_ms": percentile(times), "edit_median_ms": statistics.median(times), "edits": float(len(times))}


if __name__ == "__main__":
    import tempfile

    with tempfile.TemporaryDirectory() as name:
        print(large(Path(name) / "large"))
        print(crowd(Path(name) / "crowd"))
