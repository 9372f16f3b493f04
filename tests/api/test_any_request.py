"""No request, however odd, is answered with anything but a result or a plain sentence."""

import asyncio
import itertools
import json
import re
from collections.abc import Iterator

import pytest
from fastapi.testclient import TestClient

from sutaru.api.app import create_app
from sutaru.api.events import Events
from tools.make_shelf import SHELF, card, collage, mockup, spread, strip

ODD = ["", "x", "../..", "%00", "é☃", "0" * 64, "-1", "9" * 30, "null", "<script>"]
BODIES: list[object] = [None, [], {}, {"edit": {}}, {"edit": {"op": "put"}}, {"edit": {"op": "fill", "only_empty": "perhaps"}},
                        {"edit": {"op": "drop table"}}, {"template": 1}, {"lab": None}, "text"]  # fmt: skip


@pytest.fixture(scope="module")
def client(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    app = create_app(tmp_path_factory.mktemp("data"))
    with TestClient(app, base_url="http://localhost", raise_server_exceptions=False) as made:
        yield made


def calls() -> Iterator[tuple[str, str]]:
    paths = json.loads((SHELF.parent.parent / "web" / "openapi.json").read_text())["paths"]
    for path, methods in paths.items():
        if path != "/api/events":  # a stream without end
            for method in methods:
                yield method.upper(), path


@pytest.mark.parametrize(("method", "path"), list(calls()))
def test_odd_values_everywhere(client: TestClient, method: str, path: str) -> None:
    job = client.post("/api/jobs", json={"template": "mockup-wall", "name": "odd", "lab": "gullwing-300"}).json()["id"]
    for value, body in itertools.zip_longest(ODD, BODIES, fillvalue="x"):
        for known in (False, True):
            filled = path.replace("{job}", job) if known else path
            for name in set(re.findall(r"{(\w+)}", filled)):
                filled = filled.replace("{" + name + "}", str(value))
            query = {
                "have": value,
                "width": value,
                "name": value,
                "edition": value,
                "view": value,
                "on": "true",
                "limit": value,
            }
            answer = client.request(method, filled, params=query, json=body if method in ("POST", "PUT") else None)
            assert answer.status_code < 500, (method, filled, body, answer.text[:300])
            if (
                answer.status_code >= 400
                and answer.headers["content-type"] == "application/json"
                and "sentence" in answer.json()
            ):
                assert answer.json()["sentence"]
                assert answer.json()["code"]


def test_documents_out_of_range_are_refused_in_words(client: TestClient) -> None:
    job = client.post("/api/jobs", json={"template": "mockup-wall", "name": "odd", "lab": "gullwing-300"}).json()["id"]
    for change, where in (
        ({"zoom": 0}, "zoom"), ({"zoom": 1e9}, "zoom"), ({"centre": [1]}, "centre"),
        ({"turn_deg": "left"}, "The turn must be a number."), ({"surprise": 1}, "surprise"),
    ):  # fmt: skip
        edit = {
            "op": "place",
            "sheet": "wall-view",
            "opening": "frame-large",
            "centre": [0.5, 0.5],
            "zoom": 1,
            "turn_deg": 0,
            "mirror": False,
        }
        answer = client.post(f"/api/jobs/{job}/edits", json={"edit": {**edit, **change}})
        assert answer.status_code == 422
        assert where in answer.json()["sentence"]
    columns = {"op": "set_sheet", "sheet": "wall-view", "fields": {"columns": {"columns": 2.5, "rows": 2}}}
    answer = client.post(f"/api/jobs/{job}/edits", json={"edit": columns})
    assert answer.json()["sentence"] == "The columns must be a whole number."
    raw = '{"edit": {"op": "place", "sheet": "s", "opening": "o", "centre": [NaN, 0], "zoom": 1, "turn_deg": 0, "mirror": false}}'
    answer = client.post(f"/api/jobs/{job}/edits", content=raw, headers={"content-type": "application/json"})
    assert answer.status_code == 422


def test_a_listener_that_lags_loses_the_oldest_news_only() -> None:
    queue: asyncio.Queue[str] = asyncio.Queue(2)
    for message in ("first", "second", "third"):
        Events._offer(queue, message)
    assert [queue.get_nowait() for _ in range(2)] == ["second", "third"]


def test_the_shelf_is_what_its_maker_writes() -> None:
    for made in (spread(), card(False), card(True), collage(), strip(), mockup()):
        kept = json.loads((SHELF / "templates" / made["id"] / "template.json").read_text("utf-8"))
        assert kept == {"schema_version": 2, **json.loads(json.dumps(made))}
