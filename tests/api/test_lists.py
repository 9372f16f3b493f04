"""Lists asked of the server: read, matched, tried, taken; all editions exported at once."""

from collections.abc import Iterator

import pytest
from fastapi.testclient import TestClient

from sutaru.api.app import create_app
from tests.api.asking import Pile, bring, edit, ended, head, part, pile_of, start

CSV = b"Family,Photo,greeting,names,Copies\nBrandvik,festival-01,Fair winds,Ola,25\nHolm,festival-99,Moin,Jette,1\n"


@pytest.fixture(scope="module")
def client(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    with TestClient(create_app(tmp_path_factory.mktemp("data")), base_url="http://localhost") as made:
        yield made


def test_a_list_is_read_tried_taken_and_goes_out(client: TestClient, pile: Pile) -> None:
    job = start(client, "card-portrait")
    for path, _ in pile[:3]:
        bring(client, job, path)
    read = client.post(f"/api/jobs/{job}/list", params={"name": "families.csv"}, content=CSV)
    assert read.status_code == 200, read.text
    told = read.json()
    assert [m["kind"] for m in told["meanings"]] == ["name", "photo", "words", "words", "copies"]
    assert told["says"][0] == {
        "meaning": {"kind": "name", "sheet": "", "layer": "", "field": ""},
        "name": "Name",
    }
    assert any(one["name"].startswith("photo of opening 1") for one in told["says"])
    said = {"op": "take_list", "table": told["table"], "meanings": told["meanings"]}
    before = head(client, job)["seq"]
    tried = client.post(f"/api/jobs/{job}/list/tried", json=said)
    assert [(row["name"], row["state"]) for row in tried.json()] == [("Brandvik", "new"), ("Holm", "failed")]
    assert head(client, job)["seq"] == before  # nothing is kept
    assert edit(client, job, **said).status_code == 200
    made = part(client, "editions", head(client, job)["job"]["editions"][1])
    assert (made["name"], made["copies"]) == ("Brandvik", 25)
    # The job's own edition is empty: all editions together cannot go out, this one can.
    lab = {"lab": "gullwing-300", "format": "png"}
    refused = client.post(f"/api/jobs/{job}/exports", json={**lab, "edition": "*"})
    assert refused.status_code == 409
    assert "in the way of printing" in refused.json()["sentence"]
    assert edit(client, job, op="remove_edition", edition="first").status_code == 200
    more = {**said, "table": {**told["table"], "rows": [["Moor", "festival-02", "Thank you", "Thessaly", "2"]]}}
    assert edit(client, job, **more).status_code == 200
    found = client.get(f"/api/jobs/{job}/findings", params={"edition": "*"}).json()
    stops = [one for one in found if one["severity"] == "stop"]
    assert {one["edition"] for one in stops} == {"brandvik", "moor"}  # their photos are small
    for one in stops:
        named = [{key: one[key] for key in ("rule", "layer", "sentence")}]
        said = {"sheet": one["sheet"], "edition": one["edition"], "findings": named, "name": "Ola", "reason": "a trial"}
        assert edit(client, job, op="accept", **said).status_code == 200
    answer = client.post(f"/api/jobs/{job}/exports", json={**lab, "edition": "*"})
    assert answer.status_code == 202, answer.text
    task = ended(client, answer.json()["id"])
    assert task["state"] == "done", task["message"]
    files = task["outcome"]["files"]
    assert [(entry["edition"], entry["copies"]) for entry in files] == [("Brandvik", 25)] * 2 + [("Moor", 2)] * 2
    assert len({entry["file"] for entry in files}) == 4
    assert client.get(f"/api/exports/{task['id']}/files/{files[0]['file']}").status_code == 200


def test_print_sheets_of_all_editions(client: TestClient, pile: Pile) -> None:
    job = start(client, "card-portrait")
    for path, _ in pile[:2]:
        bring(client, job, path)
    assert edit(client, job, op="fill").status_code == 200
    assert edit(client, job, op="write", sheet="inside", layer="greeting", text="Hei").status_code == 200
    assert edit(client, job, op="write", sheet="inside", layer="names", text="Ola").status_code == 200
    found = client.get(f"/api/jobs/{job}/findings").json()
    for one in (one for one in found if one["severity"] == "stop"):
        named = [{key: one[key] for key in ("rule", "layer", "sentence")}]
        said = {"sheet": one["sheet"], "findings": named, "name": "Ola", "reason": "a trial"}
        assert edit(client, job, op="accept", **said).status_code == 200
    wish = {"width_mm": 640, "height_mm": 450, "duplex": "long", "copies": 5}
    task = client.post(f"/api/jobs/{job}/exports", json={"lab": "gullwing-300", "edition": "*", "sheets": wish})
    assert task.status_code == 202, task.text
    done = ended(client, task.json()["id"])
    assert done["state"] == "done", done["message"]
    (entry,) = done["outcome"]["files"]
    assert (entry["file"], entry["sheets"], entry["sides"], entry["on_a_side"]) == ("Spread-sheets.pdf", 1, 2, 5)
    assert done["outcome"]["accepted"]  # what was let pass is told here as well
    assert client.get(f"/api/exports/{done['id']}/files/{entry['file']}").content.startswith(b"%PDF")
    again = ended(client, client.post(f"/api/tasks/{done['id']}/again").json()["id"])
    assert again["outcome"]["files"][0]["sheets"] == 1
    small = {"lab": "gullwing-300", "edition": "*", "sheets": {"width_mm": 100, "height_mm": 80}}
    failed = ended(client, client.post(f"/api/jobs/{job}/exports", json=small).json()["id"])
    assert failed["state"] == "failed"
    assert "has no room for a piece" in failed["message"]


def test_what_is_no_list_is_refused(client: TestClient) -> None:
    job = start(client, "card-portrait")
    for data, why in ((b"", "no rows"), (b"PK\x03\x04 harmed", "cannot be read as XLSX")):
        answer = client.post(f"/api/jobs/{job}/list", params={"name": "x"}, content=data)
        assert answer.status_code == 422
        assert why in answer.json()["sentence"]
    body = {"op": "take_list", "table": {"columns": ["a"], "rows": [["b"]]}, "meanings": [{"kind": "nothing"}]}
    assert client.post(f"/api/jobs/{job}/list/tried", json=body).status_code in (409, 422)


def test_a_contact_sheet_is_a_job_of_its_own(client: TestClient, pile: Pile) -> None:
    job = start(client, "card-portrait")
    for path, _ in pile[:4]:
        bring(client, job, path)
    photos = [photo["id"] for photo in pile_of(client, head(client, job))]
    edit(client, job, op="put_aside", photos=photos[:1], aside=True)
    made = client.post(f"/api/jobs/{job}/contact", json={"columns": 3})
    assert made.status_code == 201, made.text
    found = head(client, made.json()["id"])
    assert found["job"]["name"] == "Spread, contact sheet"
    assert found["marks"][0]["counts"] is None or found["marks"][0]["counts"][:2] == [3, 3]
    assert client.get(f"/api/drawn/{found['marks'][0]['key']}/picture").status_code == 200
    assert client.post(f"/api/jobs/{job}/contact", json={"columns": 20, "width_mm": 60}).status_code == 409
