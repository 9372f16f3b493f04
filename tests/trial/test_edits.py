"""Edits of any value at real jobs: none ends in a 500, and whatever was stored can be opened, painted and exported."""

import collections
import json
import shutil
import sqlite3
import subprocess
import sys
from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from sutaru.api.app import create_app
from sutaru.api.studio import Studio
from sutaru.core.document import Photo
from sutaru.core.photos import PhotoPixels
from sutaru.core.press.exporting import export
from tests.api.asking import bring, edit, head, start
from tests.trial import times
from tests.trial.anyedit import AnyEdit

# A job of each kind: what it is begun with.
TEMPLATES = (
    "collage-shore",
    "card-portrait",
    "mockup-table",
    "album-spread-18",
    "calendar-wall",
    "calendar-months",
    "book",
)
EACH = times(100, 5000)  # edits at a job of each template
BATCH = 100  # edits, then a look at all of it


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    with TestClient(create_app(tmp_path), base_url="http://localhost", raise_server_exceptions=False) as made:
        yield made


def studio_of(client: TestClient) -> Studio:
    return client.app.state.studio  # type: ignore[attr-defined,no-any-return]


def works(client: TestClient, identity: str, folder: Path) -> None:
    """The job opens, all of its sheets are measured and painted, and it can be printed."""
    job = studio_of(client).jobs.head(identity).job
    for edition in job.editions[:3]:
        found = client.get(f"/api/jobs/{identity}", params={"edition": edition.id})
        assert found.status_code == 200, found.text
        for mark in found.json()["marks"]:
            for what in ("measured", "picture?width=500&notes=true"):
                answer = client.get(f"/api/drawn/{mark['key']}/{what}")
                assert answer.status_code == 200, (what, answer.text[:300])
    studio = studio_of(client)
    small = job.copy_with(lab=job.lab.copy_with(ppi_target=72))
    pixels = PhotoPixels(lambda photo: studio.photos.path(photo.checksum))
    for format in ("jpeg", "pdf"):
        export(small, folder / format, pixels, datetime(2026, 5, 1, tzinfo=UTC), format, assets=studio.parts.asset)  # type: ignore[arg-type]


READ = """
import sys
from pathlib import Path
from sutaru.store import Database, Jobs, Parts, Photos
folder = Path(sys.argv[1])
database = Database(folder / "sutaru.sqlite3")
jobs = Jobs(database, Parts(database), Photos(database, folder / "photos"))
with database.reading() as db:
    states = [tuple(row) for row in db.execute("SELECT job, number, root FROM state")]
for job, number, root in states:
    assert jobs.get_state(job, number).digest == root, (job, number)
print(len(states))
"""


def reads_back_elsewhere(client: TestClient, folder: Path) -> int:
    """Every state there is opens in a process of its own, and is what was stored; how many there are."""
    folder.mkdir()
    with sqlite3.connect(folder / "sutaru.sqlite3") as copy, studio_of(client).database.reading() as here:
        here.backup(copy)
    done = subprocess.run(
        [sys.executable, "-c", READ, str(folder)], capture_output=True, text=True, check=False, timeout=600
    )
    assert done.returncode == 0, done.stderr[-1500:]
    shutil.rmtree(folder)
    return int(done.stdout)


def begin(client: TestClient, template: str) -> str:
    if template.startswith("calendar"):
        return start(client, template, months=3, first_month="2027-01")
    if template != "book":
        return start(client, template)
    bindery = client.get("/api/labs").json()[0]["bindery"]
    book = {"theme": "shoreline", "pages": 20, **{what: bindery[many][0]["id"] for what, many in MANY.items()}}
    answer = client.post("/api/jobs", json={"name": "Book", "lab": "gullwing-300", "book": book})
    assert answer.status_code == 201, answer.text
    return str(answer.json()["id"])


MANY = {"size": "sizes", "paper": "papers", "binding": "bindings"}


@pytest.mark.parametrize("template", TEMPLATES)
def test_edits_of_any_value(template: str, client: TestClient, tmp_path: Path, pile: list[tuple[Path, Photo]]) -> None:
    job = begin(client, template)
    for path, _ in pile[:8]:
        bring(client, job, path)
    edit(client, job, op="fill")
    begun = head(client, job)["number"]
    told: collections.Counter[int] = collections.Counter()
    unforeseen: list[str] = []  # refused, as it must be, but by an error that nobody foresaw
    for n in range(EACH):
        asked = AnyEdit(studio_of(client).jobs.head(job).job, f"{template} {n}").make()
        answer = client.post(f"/api/jobs/{job}/edits", json={"edit": asked, "gesture": None})
        told[answer.status_code] += 1
        said = f"{template} {n}: {json.dumps(asked)[:900]} -> {answer.status_code} {answer.text[:300]}"
        assert answer.status_code in (200, 404, 409, 422), said
        if answer.status_code != 200:
            sentence = answer.json()["sentence"]
            assert sentence, said
            if "could not be shown and printed" in sentence:
                unforeseen.append(said)
        elif n % 7 == 0:
            client.post(f"/api/jobs/{job}/undo", json={})
        if n % BATCH == BATCH - 1:
            works(client, job, tmp_path / f"out-{n}")
            assert reads_back_elsewhere(client, tmp_path / f"read-{n}") > 1
            client.post(f"/api/jobs/{job}/history/{begun}", json={})  # from the start again, else all is soon odd
    print(template, dict(told), *unforeseen, sep="\n")
    assert told[200] > EACH / 8
    assert len(unforeseen) <= EACH / 1000
