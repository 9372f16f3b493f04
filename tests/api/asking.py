"""Asking the API as a screen does: a job put together from its head and the parts it names."""

import time
from pathlib import Path
from typing import Any

from sutaru.core.document import Photo

Pile = list[tuple[Path, Photo]]


def start(client: Any, template: str, **more: object) -> str:
    body = {"template": template, "name": "Spread", "customer": "Ola", "lab": "gullwing-300", **more}
    answer = client.post("/api/jobs", json=body)
    assert answer.status_code == 201, answer.text
    return answer.json()["id"]


def bring(client: Any, job: str, path: Path, **query: str) -> Any:
    return client.post(f"/api/jobs/{job}/photos", params={"name": path.name, **query}, content=path.read_bytes())


def filled_job(client: Any, template: str, photos: list[Any], **more: object) -> str:
    """A job with photos brought in and laid; ``photos`` as the fixture ``pile`` has them."""
    job = start(client, template, **more)
    for path, _ in photos:
        answer = bring(client, job, path)
        assert answer.status_code == 201, answer.text
    edit(client, job, op="fill")
    return job


def edit(client: Any, job: str, gesture: str | None = None, **body: object) -> Any:
    """Applies an edit and waits for the task it may have become."""
    answer = client.post(f"/api/jobs/{job}/edits", json={"edit": body, "gesture": gesture})
    if answer.status_code == 200 and answer.json()["task"]:
        assert ended(client, answer.json()["task"]["id"])["state"] == "done"
    return answer


def back(client: Any, job: str, which: str = "undo") -> Any:
    return client.post(f"/api/jobs/{job}/{which}", json={})


def head(client: Any, job: str, **query: str) -> dict:
    return client.get(f"/api/jobs/{job}", params=query).json()


def part(client: Any, kind: str, name: str) -> dict:
    return client.get(f"/api/parts/{kind}/{name}").json()[kind][name]


def pile_of(client: Any, found: dict) -> list[dict]:
    """What is said of each photo of a head's pile."""
    pile = part(client, "piles", found["job"]["pile"])
    chunks = client.post("/api/parts/chunks", json={"names": pile.get("chunks", [])}).json()["chunks"]
    return pile.get("photos", []) + [photo for name in pile.get("chunks", []) for photo in chunks[name]["photos"]]


def state(client: Any, job: str) -> dict:
    """All of a job's first edition: photos, placements by sheet, rows and findings of all sheets."""
    found = head(client, job)
    pile = pile_of(client, found)
    facts = {p["id"]: p for p in client.post("/api/photos", json={"ids": [p["id"] for p in pile]}).json()}
    edition = part(client, "editions", found["job"]["editions"][0])
    fillings = {sheet: part(client, "fillings", name) for sheet, name in edition["fillings"].items()}
    measured = [client.get(f"/api/drawn/{mark['key']}/measured").json() for mark in found["marks"]]
    return found | {
        "photos": [{**facts[p["id"]], **p} for p in pile],
        "fillings": fillings,
        "edition_part": edition,
        "placements": {sheet: filling["placements"] for sheet, filling in fillings.items() if filling["placements"]},
        "rows": [row for one in measured for row in one["rows"]],
        "findings": [finding for one in measured for finding in one["findings"]],
    }


def accept_all(client: Any, job: str) -> int:
    """Lets all stops of a job pass; how many there were."""
    count = 0
    for finding in state(client, job)["findings"]:
        if finding["severity"] == "stop":
            named = {key: finding[key] for key in ("rule", "layer", "sentence")}
            said = {"sheet": finding["sheet"], "findings": [named], "name": "Tove", "reason": "A test."}
            assert edit(client, job, op="accept", **said).status_code == 200
            count += 1
    return count


def ended(client: Any, task: str, seconds: float = 90) -> dict:
    """A task once it has ended."""
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        found = client.get(f"/api/tasks/{task}").json()
        if found["state"] not in ("queued", "running"):
            return found
        time.sleep(0.05)
    raise AssertionError("the task did not end")
