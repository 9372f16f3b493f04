"""The API's description, and that every refusal has the one shape that it promises."""

from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from sutaru.api import request_limits
from sutaru.api.app import create_app

PROBLEM = {"$ref": "#/components/schemas/Problem"}


@pytest.fixture(scope="module")
def document(tmp_path_factory: pytest.TempPathFactory) -> dict[str, Any]:
    return create_app(tmp_path_factory.mktemp("described")).openapi()


def operations(document: dict[str, Any]) -> list[tuple[str, str, dict[str, Any]]]:
    return [(method, path, entry) for path, entries in document["paths"].items() for method, entry in entries.items()]


def test_every_refusal_is_described_in_one_shape(document: dict[str, Any]) -> None:
    for method, path, operation in operations(document):
        refused = {status: answer for status, answer in operation["responses"].items() if int(status) >= 400}
        assert all(answer["content"]["application/json"]["schema"] == PROBLEM for answer in refused.values()), (
            method,
            path,
        )
        assert path in ("/api/session", "/health") or "401" in refused
        assert method == "get" or {"403", "409", "507"} <= refused.keys()
        assert "{" not in path or {"404", "422"} <= refused.keys()
    assert document["components"]["schemas"]["Problem"]["required"] == ["code", "sentence"]
    assert "HTTPValidationError" not in str(document)


def test_every_operation_says_what_it_does_and_what_it_takes(document: dict[str, Any]) -> None:
    for method, path, operation in operations(document):
        assert operation["description"].endswith("."), (method, path)
        if path.endswith(("from-file", "from-bundle", "/photos", "/assets", "/dates", "/list", "/verify", "/remarks")):
            assert method != "post" or operation["requestBody"]["required"], path
        assert method != "delete" or not [p for p in operation.get("parameters", []) if p["in"] == "query"]


def test_every_property_says_what_it_holds(document: dict[str, Any]) -> None:
    schemas = document["components"]["schemas"]
    properties = [
        (name, key, entry) for name, schema in schemas.items() for key, entry in schema.get("properties", {}).items()
    ]
    assert [(name, key) for name, key, entry in properties if not entry.get("description")] == []
    assert sum("examples" in entry for _, _, entry in properties) > 300


def test_refusals_come_as_they_are_described(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(request_limits, "REQUEST_BYTES", 2000)
    with TestClient(create_app(tmp_path, hosts=("testserver",))) as client:
        job = client.post("/api/jobs", json={"template": "mockup-wall", "name": "first", "lab": "gullwing-300"}).json()[
            "id"
        ]
        refused = {
            403: client.delete(f"/api/jobs/{job}", headers={"Origin": "http://elsewhere.example"}),
            404: client.get("/api/jobs/none"),
            405: client.patch(f"/api/jobs/{job}"),
            409: client.post(f"/api/jobs/{job}/edits", json={"edit": {"op": "take_out", "photos": ["none"]}}),
            413: client.post("/api/jobs", content=b"x" * 3000),
            422: client.post(f"/api/jobs/{job}/edits", json={"edit": {"op": "none"}}),
        }
    with TestClient(create_app(tmp_path / "locked", hosts=("testserver",), passphrase="sand and wind")) as client:
        refused[401] = client.get("/api/jobs")
    assert refused[422].json()["sentence"] == (
        'The edit must say what it is in "op", as the description of the API lists it.'
    )
    for status, answer in refused.items():
        assert answer.status_code == status, (status, answer.text)
        assert answer.json().keys() == {"code", "sentence"}, status
        assert answer.json()["sentence"].endswith("."), status
