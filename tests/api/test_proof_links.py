"""The customer's proof as a link: what it shows, what comes back by it, and that it opens nothing else."""

import base64
import hashlib
import json
import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from sutaru.api.app import create_app
from sutaru.store import proof_links
from tests.api.asking import Pile, bring, edit, head, part

WORD = "three days of wind"


@pytest.fixture
def studio(tmp_path: Path) -> Iterator[TestClient]:
    """A studio's browser, signed in, of a server that asks for a passphrase."""
    with TestClient(create_app(tmp_path, passphrase=WORD), base_url="http://localhost") as made:
        made.post("/api/session", json={"passphrase": WORD})
        yield made


@pytest.fixture
def customer(studio: TestClient) -> TestClient:
    """A browser that has no session."""
    return TestClient(studio.app, base_url="http://localhost")


@pytest.fixture
def job(studio: TestClient, pile: Pile) -> str:
    identity = studio.post("/api/jobs", json={"template": "mockup-wall", "name": "Wall", "lab": "gullwing-300"}).json()[
        "id"
    ]
    bring(studio, identity, pile[0][0])
    return identity


def make(studio: TestClient, job: str, **more: Any) -> dict[str, Any]:
    made = studio.post(f"/api/jobs/{job}/proof-links", json=more)
    assert made.status_code == 201, made.text
    return made.json()


def links(studio: TestClient, job: str) -> list[dict[str, Any]]:
    return studio.get(f"/api/jobs/{job}/proof-links").json()


def write_remarks(job: str, *texts: str, sheet: str = "sheet-1") -> dict[str, Any]:
    remarks = [{"id": f"{n:06x}", "sheet": sheet, "x": 0.4, "y": 0.3, "text": text} for n, text in enumerate(texts, 1)]
    return {"sutaru_remarks": 1, "job": job, "name": "Ola Brandvik", "remarks": remarks}


def about(page: str) -> dict[str, Any]:
    return json.loads(re.search(r'id="about">(.*?)</script>', page, re.DOTALL)[1])  # type: ignore[index]


def test_a_customer_opens_the_proof_and_nothing_else(studio: TestClient, customer: TestClient, job: str) -> None:
    link = make(studio, job)
    assert (link["opened"], link["remarks"], link["is_current"], link["url"]) == (None, 0, True, f"/p/{link['token']}")
    page = customer.get(link["url"])
    assert page.status_code == 200
    assert about(page.text)["send"] == link["url"]
    assert links(studio, job)[0]["opened"] is not None
    for path in ("/api/jobs", f"/api/jobs/{job}", f"/api/jobs/{job}/proof-links", f"/api/jobs/{job}/proof.html"):
        assert customer.get(path).status_code == 401
    assert customer.get(f"/p/{link['token'][:-1]}").status_code == 404
    assert customer.get("/p/").headers["content-security-policy"].startswith("default-src 'self'")


def test_only_the_script_that_ships_may_run_in_it(studio: TestClient, customer: TestClient, job: str) -> None:
    page = customer.get(make(studio, job)["url"])
    (script,) = re.findall(r"<script>(.*?)</script>", page.text, re.DOTALL)
    digest = base64.b64encode(hashlib.sha256(script.encode()).digest()).decode()
    policy = page.headers["content-security-policy"]
    assert f"script-src 'sha256-{digest}';" in policy
    assert "connect-src 'self'" in policy
    assert page.headers["referrer-policy"] == "no-referrer"
    assert page.headers["cache-control"] == "no-store"


def test_remarks_come_back_by_themselves_and_once(studio: TestClient, customer: TestClient, job: str) -> None:
    link = make(studio, job)
    sheet = about(customer.get(link["url"]).text)["sheets"][0]["id"]
    sent = customer.post(
        f"{link['url']}/remarks", json=write_remarks(job, "Brighter, please", "And larger", sheet=sheet)
    )
    assert (sent.status_code, sent.json()) == (200, {"new": 2})
    again = customer.post(
        f"{link['url']}/remarks", json=write_remarks(job, "Brighter, please", "And larger", "Thanks", sheet=sheet)
    )
    assert again.json() == {"new": 1}
    remarks = head(studio, job)["job"]["remarks"]
    assert [(one["text"], one["name"]) for one in remarks][:1] == [("Brighter, please", "Ola Brandvik")]
    (now,) = links(studio, job)
    assert (now["remarks"], now["is_current"]) == (3, True)  # remarks change nothing of what is shown
    for body in (write_remarks("000000000000", "Other job", sheet=sheet), {"sutaru_remarks": 2}, {}):
        refused = customer.post(f"{link['url']}/remarks", json=body)
        assert refused.status_code == 422, refused.text
    foreign = customer.post(
        f"{link['url']}/remarks", json=write_remarks(job, "x"), headers={"origin": "https://elsewhere.example"}
    )
    assert foreign.status_code == 403


def test_what_was_approved_is_what_was_shown(studio: TestClient, customer: TestClient, job: str) -> None:
    link = make(studio, job)
    before = customer.get(link["url"]).text
    shown = about(before)["state"]
    edit(studio, job, op="rename", name="Wall, second")
    edit(studio, job, op="fill")
    assert customer.get(link["url"]).text.split('id="pictures"')[1] == before.split('id="pictures"')[1]
    assert links(studio, job)[0]["is_current"] is False
    assert customer.post(f"{link['url']}/approval", json={"name": "  ", "state": shown}).status_code == 422
    approved = customer.post(f"{link['url']}/approval", json={"name": "Ola Brandvik", "state": shown})
    assert approved.json()["approved_by"] == "Ola Brandvik"
    other = customer.post(f"{link['url']}/approval", json={"name": "Somebody", "state": shown})
    assert (other.status_code, "Ola Brandvik has approved" in other.json()["sentence"]) == (409, True)
    assert about(customer.get(link["url"]).text)["approved_by"] == "Ola Brandvik"
    # Brought up to date it waits for another approval.
    current = studio.put(f"/api/jobs/{job}/proof-links/{link['token']}/current").json()
    assert (current["is_current"], current["approved_by"]) == (True, None)
    assert customer.get(link["url"]).text.split('id="pictures"')[1] != before.split('id="pictures"')[1]


def test_a_link_ends(studio: TestClient, customer: TestClient, job: str, monkeypatch: pytest.MonkeyPatch) -> None:
    first, second, third = make(studio, job, days=7), make(studio, job), make(studio, job)
    assert studio.delete(f"/api/jobs/{job}/proof-links/{second['token']}").status_code == 204
    with monkeypatch.context() as later:
        later.setattr(proof_links, "now", lambda: "2099-01-01T00:00:00.000+00:00")
        assert [link["has_expired"] for link in links(studio, job)] == [True, True]
        closed = [first]
        for link in (*closed, second):
            assert customer.get(link["url"]).status_code == 404
            assert customer.post(f"{link['url']}/remarks", json=write_remarks(job, "Late")).status_code == 404
            assert customer.post(f"{link['url']}/approval", json={"name": "Ola", "state": 1}).status_code == 404
    assert "Ask the studio for a new one" in customer.get(second["url"]).text
    studio.delete(f"/api/jobs/{job}")
    assert customer.get(third["url"]).status_code == 404


def test_a_link_belongs_to_its_job_and_edition(studio: TestClient, job: str) -> None:
    other = studio.post("/api/jobs", json={"template": "mockup-wall", "name": "Other", "lab": "gullwing-300"}).json()[
        "id"
    ]
    link = make(studio, job)
    assert studio.delete(f"/api/jobs/{other}/proof-links/{link['token']}").status_code == 404
    assert studio.put(f"/api/jobs/{other}/proof-links/{link['token']}/current").status_code == 404
    assert studio.post(f"/api/jobs/{job}/proof-links", json={"edition": "none"}).status_code == 404
    assert studio.post(f"/api/jobs/{job}/proof-links", json={"days": 0}).status_code == 422


def test_there_is_an_end_to_links(studio: TestClient, job: str, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(proof_links, "MOST", 2)
    make(studio, job)
    make(studio, job)
    assert studio.post(f"/api/jobs/{job}/proof-links", json={}).status_code == 409


def test_only_what_a_customer_saw_is_approved(studio: TestClient, customer: TestClient, job: str) -> None:
    link = make(studio, job)
    seen = about(customer.get(link["url"]).text)["state"]
    edit(studio, job, op="fill")
    studio.put(f"/api/jobs/{job}/proof-links/{link['token']}/current")
    refused = customer.post(f"{link['url']}/approval", json={"name": "Ola Brandvik", "state": seen})
    assert (refused.status_code, "Load the page again" in refused.json()["sentence"]) == (409, True)
    assert links(studio, job)[0]["approved"] is None
    now = about(customer.get(link["url"]).text)["state"]
    assert customer.post(f"{link['url']}/approval", json={"name": "Ola Brandvik", "state": now}).status_code == 200


def test_a_remark_on_a_page_that_is_gone_is_not_lost(studio: TestClient, customer: TestClient, job: str) -> None:
    first = part(studio, "sheets", head(studio, job)["job"]["sheets"])["sheets"][0]["id"]
    copied = edit(studio, job, op="copy_sheet", which=first, fresh="second")
    assert copied.status_code == 200, copied.text
    link = make(studio, job)
    gone = about(customer.get(link["url"]).text)["sheets"][1]["id"]
    assert edit(studio, job, op="remove_sheet", gone=gone).status_code == 200
    sent = customer.post(f"{link['url']}/remarks", json=write_remarks(job, "Keep this one", sheet=gone))
    assert sent.json() == {"new": 1}
