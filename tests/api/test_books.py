"""Books asked of the server: begun from what a lab binds, planned as long work, kept, looked at, proofed."""

import json
from collections.abc import Iterator
from typing import Any

import pytest
from fastapi.testclient import TestClient

from sutaru.api.app import create_app
from tests.api.asking import Pile, back, bring, edit, ended, head, part, state
from tests.conftest import SHELF

BOOK = {
    "size": "square-10",
    "paper": "matt-200",
    "binding": "hard",
    "theme": "dune-grass",
    "pages": 20,
    "title": "Dunes",
}


@pytest.fixture(scope="module")
def client(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    with TestClient(create_app(tmp_path_factory.mktemp("data")), base_url="http://localhost") as made:
        yield made


def begin(client: TestClient, **more: object) -> Any:
    body = {"name": "Dunes", "customer": "Ola", "lab": "gullwing-300", "book": {**BOOK, **more}}
    return client.post("/api/jobs", json=body)


def planned(client: TestClient, job: str, **asked: object) -> dict:
    task = client.post(f"/api/jobs/{job}/plans", json=asked)
    assert task.status_code == 202, task.text
    done = ended(client, task.json()["id"])
    assert done["state"] == "done", done["message"]
    return client.get(f"/api/plans/{done['id']}").json() | {"outcome": done["outcome"]}


def sheets(client: TestClient, job: str) -> list[dict]:
    return part(client, "sheets", head(client, job)["job"]["sheets"])["sheets"]


@pytest.fixture(scope="module")
def laid(client: TestClient, pile: Pile) -> str:
    """A book with fourteen photos, laid out."""
    job = begin(client).json()["id"]
    for path, _ in pile[:14]:
        bring(client, job, path)
    seen = planned(client, job, wishes={"pages": 20})
    theme = next(one for one in client.get("/api/themes").json() if one["id"] == "dune-grass")
    assert edit(client, job, op="lay_book", plan=seen["plan"], theme=theme).status_code == 200
    return job


def test_a_book_begins_as_its_lab_binds_it(client: TestClient) -> None:
    job = begin(client, pages=21).json()["id"]
    found = head(client, job)["job"]
    assert (found["book"]["theme"], found["book"]["paper"]["leaf_mm"], found["fields"]["title"]) == (
        "dune-grass",
        0.22,
        "Dunes",
    )
    names = [sheet["name"] for sheet in sheets(client, job)]
    assert names[:3] == ["Cover", "Page 1", "Pages 2 and 3"]
    assert names[-1] == "Page 24"
    for wrong, said in (({"size": "a9"}, "does not bind this"), ({"theme": "none"}, "theme was not found")):
        refused = begin(client, **wrong)
        assert (refused.status_code, said in refused.json()["sentence"]) == (404, True)
    assert client.post("/api/jobs", json={"name": "Bare", "lab": "gullwing-300"}).status_code == 404


def test_themes_are_shown_by_a_small_book_in_them(client: TestClient) -> None:
    told = client.get("/api/themes").json()
    assert {one["id"] for one in told} == set(SHELF.themes)
    pictures = {client.get(f"/api/themes/{one['id']}/picture", params={"at": 1}).content for one in told}
    assert len(pictures) == len(told)
    assert all(data.startswith(b"\xff\xd8") for data in pictures)
    assert client.get("/api/themes/none/picture").status_code == 404
    grounds = {client.get(f"/api/themes/bright-wind/grounds/{n}/picture").content for n in range(5)}
    assert len(grounds) == 5
    assert client.get("/api/themes/bright-wind/grounds/5/picture").status_code == 404


def test_a_plan_changes_nothing_until_it_is_kept_and_one_undo_takes_it_back(client: TestClient, pile: Pile) -> None:
    job = begin(client).json()["id"]
    for path, _ in pile[:8]:
        bring(client, job, path)
    before = head(client, job)
    seen = planned(client, job, wishes={"pages": 20, "lively": 0.9})
    assert head(client, job)["seq"] == before["seq"]
    assert seen["outcome"] == {"pages": 20, "laid": 8 - len(seen["plan"]["aside"]), "aside": len(seen["plan"]["aside"])}
    assert sum(len(sheet["photos"]) for sheet in seen["sheets"] if sheet["role"] != "cover") == seen["outcome"]["laid"]
    assert edit(client, job, op="lay_book", plan=seen["plan"]).status_code == 200
    rows = state(client, job)["rows"]
    assert len(rows) == 1 + seen["outcome"]["laid"]
    assert all(row["photo"] for row in rows)
    back(client, job)
    assert head(client, job)["job"]["sheets"] == before["job"]["sheets"]
    # Plans that nobody looks at any more are forgotten, files and all.
    for seed in range(1, 6):
        planned(client, job, wishes={"pages": 20, "seed": seed})
    tasks = [task for task in client.get(f"/api/jobs/{job}/tasks").json() if task["kind"] == "plan"]
    assert len(tasks) == 4
    assert all(client.get(f"/api/plans/{task['id']}").status_code == 200 for task in tasks)
    # A stretch of pages; and a job that is no book.
    refused = client.post(f"/api/jobs/{job}/plans", json={"sheets": ["nowhere"]})
    assert ended(client, refused.json()["id"])["state"] == "failed"
    plain = client.post("/api/jobs", json={"name": "Plain", "lab": "gullwing-300", "template": "card-baby"}).json()[
        "id"
    ]
    assert client.post(f"/api/jobs/{plain}/plans", json={}).json()["sentence"].startswith("This job is no book.")
    assert client.get("/api/plans/0123456789ab").status_code == 404


def test_layouts_suit_what_lies_on_a_sheet(client: TestClient, laid: str) -> None:
    offered = [
        (sheet, choice)
        for sheet in sheets(client, laid)
        if sheet["role"] == "spread"
        for choice in client.get(f"/api/jobs/{laid}/sheets/{sheet['id']}/layouts").json()
    ]
    assert {choice["source"] for _, choice in offered} <= {"computed", "book", "shelf"}
    sheet, other = next((sheet, choice) for sheet, choice in offered if not choice["now"])
    assert edit(client, laid, op="change_layout", which=sheet["id"], layout=other["layout"]).status_code == 200
    now = next(one for one in sheets(client, laid) if one["id"] == sheet["id"])
    assert now["layout"] != sheet["layout"]
    back(client, laid)
    assert client.get(f"/api/jobs/{laid}/sheets/none/layouts").status_code == 404
    assert client.get(f"/api/jobs/{laid}/sheets/{sheet['id']}/layouts", params={"edition": "none"}).status_code == 404


def test_the_proof_comes_as_one_file_and_remarks_go_back_in(client: TestClient, laid: str) -> None:
    proof = client.get(f"/api/jobs/{laid}/proof.html")
    assert proof.headers["content-disposition"] == 'attachment; filename="Dunes-proof.html"'
    assert proof.text.count("/9j/") >= len(sheets(client, laid))  # a JPEG's first bytes, as base64
    one = {"id": "aabbccddeeff", "sheet": "pages-2", "x": 0.5, "y": 0.5, "text": "Larger, please"}
    said = {"sutaru_remarks": 1, "job": laid, "name": "Runa", "remarks": [one]}
    taken = client.post(f"/api/jobs/{laid}/remarks", content=json.dumps(said))
    assert taken.status_code == 200, taken.text
    assert [remark["text"] for remark in head(client, laid)["job"]["remarks"]] == ["Larger, please"]
    for wrong, status in (
        (b"no", 422),
        (json.dumps({**said, "remarks": []}).encode(), 422),
        (json.dumps(said).encode(), 409),
    ):
        assert client.post(f"/api/jobs/{laid}/remarks", content=wrong).status_code == status
    assert edit(client, laid, op="settle_remark", remark="aabbccddeeff").status_code == 200
    assert head(client, laid)["job"]["remarks"][0]["done"] is True


def test_a_book_is_stored_whole(client: TestClient, laid: str) -> None:
    bundle = client.get(f"/api/jobs/{laid}/bundle")
    again = client.post("/api/jobs/from-bundle", content=bundle.content, params={"name": "dunes.sutaru"})
    assert again.status_code == 201, again.text
    assert head(client, again.json()["id"])["job"]["book"] == head(client, laid)["job"]["book"]


def test_a_book_is_had_in_another_size(client: TestClient, laid: str) -> None:
    asked = {"name": "Dunes, small", "order_number": "K-7", "size": "square-8"}
    made = client.post(f"/api/jobs/{laid}/another-size", json=asked)
    assert made.status_code == 201, made.text
    assert made.json()["fitted"] == []
    job = head(client, made.json()["id"])["job"]
    assert (job["name"], job["customer"], job["order_number"]) == ("Dunes, small", "Ola", "K-7")
    assert (job["book"]["size"]["id"], head(client, laid)["job"]["book"]["size"]["id"]) == ("square-8", "square-10")
    names = [sheet["name"] for sheet in sheets(client, made.json()["id"])]
    assert names == [sheet["name"] for sheet in sheets(client, laid)]
    for wrong, status, said in (
        ({"size": "square-99"}, 404, "8 × 8 in"), ({"size": "square-10"}, 409, "already"), ({"edition": "none"}, 404, "edition")
    ):  # fmt: skip
        refused = client.post(f"/api/jobs/{laid}/another-size", json=asked | wrong)
        assert (refused.status_code, said in " ".join(map(str, refused.json().values()))) == (status, True)


def test_styles_of_layout_are_kept_by_name(client: TestClient) -> None:
    assert client.get("/api/layout-styles").json() == []
    airy = {"name": " Airy, with chapters ", "style": {"white": 0.7, "chapters": True, "per_page": 1.5}}
    (kept,) = client.post("/api/layout-styles", json=airy).json()
    assert (kept["name"], kept["style"]["white"], kept["style"]["cropping"]) == ("Airy, with chapters", 0.7, 0.1)
    (later,) = client.post("/api/layout-styles", json={"name": "airy, with chapters", "style": {"white": 0.8}}).json()
    assert later["style"]["white"] == 0.8
    assert client.post("/api/layout-styles", json={"name": "Wrong", "style": {"white": 3}}).status_code == 422
    assert client.delete("/api/layout-styles/none").status_code == 404
    assert client.delete("/api/layout-styles/Airy, with chapters").json() == []
