"""Fitting over the API: photos looked at in the background, filling that waits for it, previews, candidates, ppi, before."""

import io
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from sutaru.api.app import create_app
from tests.api.asking import Pile, back, bring, edit, head, start, state


@pytest.fixture(scope="module")
def client(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    with TestClient(create_app(tmp_path_factory.mktemp("data")), base_url="http://localhost") as made:
        yield made


@pytest.fixture(scope="module")
def shore(client: TestClient, pile: Pile) -> str:
    """Three openings filled from six photos, among them one with a face."""
    job = start(client, "collage-shore")
    for path, _ in pile[:6]:
        assert bring(client, job, path).status_code == 201
    assert edit(client, job, op="fill").status_code == 200
    return job


def image(data: bytes) -> np.ndarray:
    with Image.open(io.BytesIO(data)) as picture:
        return np.asarray(picture.convert("RGB")).astype(int)


def test_a_filling_waits_until_photos_were_looked_at_and_that_is_nothing_to_undo(
    client: TestClient, shore: str
) -> None:
    now = state(client, shore)
    assert now["unseen"] == 0
    found = {photo["name"]: photo["found"] for photo in now["photos"]}
    assert all(found.values())
    assert any(area["kind"] == "face" for entry in found.values() for area in entry["keep"])
    assert now["undo"] == "fill all openings"


def test_a_photo_known_from_another_job_is_known_at_once(client: TestClient, shore: str, pile: Pile) -> None:
    other = start(client, "collage-shore")
    bring(client, other, pile[0][0])
    assert state(client, other)["photos"][0]["found"] is not None


def picture(client: TestClient, key: str, query: str = "") -> bytes:
    return client.get(f"/api/drawn/{key}/picture?width=400{query}").content


def test_a_preview_shows_and_stores_nothing(client: TestClient, shore: str) -> None:
    before = head(client, shore)
    clear = {"op": "clear", "sheet": "print", "openings": ["shore"]}
    seen = client.post(f"/api/jobs/{shore}/sheets/print/preview", json={"edit": clear, "width": 400})
    assert seen.headers["content-type"] == "image/jpeg"
    assert head(client, shore)["seq"] == before["seq"]
    kept = picture(client, before["marks"][0]["key"])
    assert np.abs(image(seen.content)[100:200] - image(kept)[100:200]).mean() > 15
    cleared = edit(client, shore, **clear).json()
    assert np.abs(image(seen.content) - image(picture(client, cleared["marks"][0]["key"]))).mean() < 1
    back(client, shore)
    clear["openings"] = ["x"]
    assert client.post(f"/api/jobs/{shore}/sheets/print/preview", json={"edit": clear}).status_code == 409


def test_candidates_come_unused_and_best_first(client: TestClient, shore: str) -> None:
    ranked = client.get(f"/api/jobs/{shore}/sheets/print/openings/square-1/ranked?limit=6").json()
    assert [entry["used"] for entry in ranked] == sorted(entry["used"] for entry in ranked)
    unused = [entry["cost"] for entry in ranked if not entry["used"]]
    assert unused == sorted(unused)
    assert len(unused) == 3
    assert client.get(f"/api/jobs/{shore}/sheets/print/openings/nothing/ranked").status_code == 404


def test_ppi_place_by_place(client: TestClient, shore: str) -> None:
    cells = client.get(f"/api/drawn/{head(client, shore)['marks'][0]['key']}/openings/square-1/ppi").json()
    (row,) = [row for row in state(client, shore)["rows"] if row["opening"] == "square-1"]
    assert {round(cell["ppi"]) for cell in cells} == {round(row["ppi"])}  # flat: the same everywhere
    assert all(len(cell["points"]) == 4 for cell in cells)


def test_a_picture_before_mending(client: TestClient, shore: str) -> None:
    grey = {"steps": [{"kind": "black_and_white"}]}
    now = edit(client, shore, op="mend_opening", sheet="print", opening="shore", recipe=grey).json()
    key = now["marks"][0]["key"]
    after, before = image(picture(client, key)), image(picture(client, key, "&mending=false"))
    spread = [np.ptp(one[60:160, 60:300], axis=-1).mean() for one in (after, before)]
    assert spread[0] < 4 < 15 < spread[1]


def test_a_fold_is_refused_in_words(client: TestClient, shore: str) -> None:
    folded = {"kind": "corners", "points": [[0, 0], [10, 0], [2, 2], [0, 10]]}
    refused = edit(client, shore, op="set_fields", sheet="print", layers=["square-1"], fields={"surface": folded})
    assert refused.status_code == 409
    assert "fold or cave in" in refused.json()["sentence"]


def test_a_photo_takes_the_tones_of_another(tmp_path: Path, pile: Pile) -> None:
    """As that looks, from what is mended before the curves; photos that are not here are said."""
    with TestClient(create_app(tmp_path), base_url="http://localhost") as client:
        job = start(client, "card-portrait")
        for path, _ in pile[:2]:
            bring(client, job, path)
        one, two = (photo["id"] for photo in state(client, job)["photos"])
        same = client.post("/api/photos/matched", json={"photo": one, "like": one}).json()
        assert all(abs(x - y) <= 1.5 for colour in ("red", "green", "blue") for x, y in same[colour])
        plain = client.post("/api/photos/matched", json={"photo": one, "like": two}).json()
        lighter = {"steps": [{"kind": "exposure", "stops": 1.0}]}
        lit = client.post("/api/photos/matched", json={"photo": one, "like": two, "like_as": lighter}).json()
        assert sum(y for _, y in lit["red"]) > sum(y for _, y in plain["red"])
        assert client.post("/api/photos/matched", json={"photo": one, "like": "0" * 16}).status_code == 404
        recipe = {"steps": [plain]}
        assert edit(client, job, op="mend_photo", photo=one, recipe=recipe).status_code == 200
