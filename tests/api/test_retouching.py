"""Retouching through the API: tiles of a photo as it is retouched, what is proposed, what is refused."""

import io
import json
from pathlib import Path

import cv2
import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from sutaru.api import tiles
from sutaru.api.app import create_app
from sutaru.core.document import Recipe, Retouching
from sutaru.core.mending import apply_recipe, detect_upright, retouch_image
from sutaru.core.photos import decode
from tests.api.asking import back, bring, edit, head, part, start, state
from tests.core.test_retouching import figure
from tests.core.test_straightening import leaning

SPECK = {
    "kind": "cover", "id": "speck", "how": "heal", "shift": [0.1, 0.0],
    "area": {"kind": "stroke", "points": [[0.4, 0.3]], "radius": 0.01, "soft": 0.2},
}  # fmt: skip
LIGHTER = {"kind": "adjust", "id": "l", "area": {"kind": "graded", "start": [0.5, 0], "end": [0.5, 1]}, "light": 0.8}


@pytest.fixture
def client(tmp_path: Path):
    with TestClient(create_app(tmp_path / "data"), base_url="http://localhost") as found:
        yield found


@pytest.fixture
def photo(client: TestClient, tmp_path: Path) -> tuple[str, dict, Path]:
    """A job with one photo of 1500 x 1000 px, grey with a speck, and its bytes."""
    rng = np.random.default_rng(1)
    y, x = np.mgrid[:1000, :1500]
    image = np.clip(120 + x[..., None] / 30 + rng.normal(0, 2, (1000, 1500, 3)), 0, 255)
    image[np.hypot(x - 600, y - 300) < 7] -= 60
    path = tmp_path / "dusty.png"
    Image.fromarray(image.astype(np.uint8)).save(path)
    job = start(client, "collage-triptych")
    return job, bring(client, job, path).json()["photo"], path


def tile(client: TestClient, photo: str, level: int, x: int, y: int, **query: str) -> np.ndarray:
    answer = client.get(f"/api/photos/{photo}/tiles/{level}/{x}/{y}", params=query)
    assert answer.status_code == 200, answer.text
    assert "immutable" in answer.headers["cache-control"]
    return np.asarray(Image.open(io.BytesIO(answer.content)))


def everywhere(client: TestClient, job: str, photo: str) -> str:
    return state(client, job)["edition_part"].get("photo_tones", {}).get(photo, {}).get("retouching") or ""


def test_tiles_are_the_photo_as_it_prints(client: TestClient, photo: tuple[str, dict, Path]) -> None:
    job, facts, path = photo
    whole = decode(path, "x")
    assert edit(client, job, op="retouch_photo", photo=facts["id"], put=[SPECK, LIGHTER]).status_code == 200
    name = everywhere(client, job, facts["id"])
    stored = part(client, "retouchings", name)
    assert [touch["id"] for touch in stored["touches"]] == ["speck", "l"]
    exposure = [{"kind": "exposure", "stops": 0.3}]
    wanted = apply_recipe(
        retouch_image(whole, Retouching.model_validate(stored)),
        Recipe.model_validate({"steps": exposure}),
        None,
    )
    got = tile(client, facts["id"], 0, 1, 0, everywhere=name, steps=json.dumps(exposure))
    assert got.shape == (512, 512, 3)
    assert np.abs(got.astype(int) - wanted[:512, 512:1024]).mean() < 2.5
    corner = tile(client, facts["id"], 0, 2, 1, everywhere=name)
    assert corner.shape == (1000 - 512, 1500 - 1024, 3)
    half = tile(client, facts["id"], 1, 0, 0, everywhere=name)
    assert half.shape == (500, 512, 3)
    bare = tile(client, facts["id"], 0, 1, 0)
    assert np.abs(bare.astype(int) - whole[:512, 512:1024]).mean() < 2.5
    spot = np.s_[296:304, 600 - 512 - 4 : 600 - 512 + 4]
    assert bare[spot].mean() < 100 < got[spot].mean()


def test_an_openings_own_come_over_its_photos(client: TestClient, photo: tuple[str, dict, Path]) -> None:
    job, facts, _ = photo
    edit(client, job, op="fill")
    found = state(client, job)
    sheet, placements = next(iter(found["placements"].items()))
    opening = next(iter(placements))
    edit(client, job, op="retouch_photo", photo=facts["id"], put=[SPECK])
    darker = {**LIGHTER, "light": -2}
    answer = edit(client, job, op="retouch_opening", sheet=sheet, opening=opening, expect=facts["id"], put=[darker])
    assert answer.status_code == 200
    name = everywhere(client, job, facts["id"])
    filling = state(client, job)["edition_part"]["fillings"][sheet]
    plain = tile(client, facts["id"], 1, 0, 0, everywhere=name)
    own = tile(client, facts["id"], 1, 0, 0, everywhere=name, filling=filling, opening=opening)
    assert own.mean() < plain.mean() - 30
    back(client, job)
    assert state(client, job)["edition_part"]["fillings"][sheet] != filling
    # A name never means anything else: the older state can still be seen.
    assert (tile(client, facts["id"], 1, 0, 0, everywhere=name, filling=filling, opening=opening) == own).all()


def test_a_stroke_costs_what_it_adds(client: TestClient, photo: tuple[str, dict, Path]) -> None:
    """An answer brings the touches of the photo that was touched, and no other part that is long."""
    job, facts, _ = photo
    root = head(client, job)["root"]
    body = {"edit": {"op": "retouch_photo", "photo": facts["id"], "put": [SPECK]}, "have": root}
    answer = client.post(f"/api/jobs/{job}/edits", json=body).json()
    brought = {kind: list(entries) for kind, entries in answer["parts"].items() if entries}
    assert sorted(brought) == ["editions", "retouchings"]
    assert answer["undo"] == f"heal in {facts['name']}"


def test_what_is_proposed_takes_the_speck_away(client: TestClient, photo: tuple[str, dict, Path]) -> None:
    job, facts, _ = photo
    bare = {**SPECK, "shift": [0, 0]}
    (found,) = client.post(f"/api/photos/{facts['id']}/covered", json={"touches": [bare]}).json()
    assert found["shift"] != [0, 0]
    dust = client.post(f"/api/photos/{facts['id']}/proposed", json={"what": "dust"}).json()
    assert len(dust) == 1
    (place,) = dust[0]["area"]["points"]
    assert place == pytest.approx([600 / 1500, 300 / 1000], abs=0.003)
    edit(client, job, op="retouch_photo", photo=facts["id"], put=dust)
    looking = {"what": "dust", "everywhere": everywhere(client, job, facts["id"])}
    assert client.post(f"/api/photos/{facts['id']}/proposed", json=looking).json() == []
    for what in ("blemishes", "eyes"):
        assert client.post(f"/api/photos/{facts['id']}/proposed", json={"what": what}).json() == []
    grey = client.post(f"/api/photos/{facts['id']}/grey", json={"at": [0.1, 0.9]}).json()
    assert grey["kind"] == "white_balance"
    assert abs(grey["warmth"]) < 8
    assert abs(grey["tint"]) < 8


@pytest.mark.parametrize(
    ("address", "sentence"),
    [
        ("{}/tiles/0/9/0", "This part of the photo does not exist."),
        ("{}/tiles/-1/0/0", "This part of the photo does not exist."),
        ("{}/tiles/60/0/0", "This part of the photo does not exist."),
        ("{}/tiles/0/0/0?everywhere=" + "0" * 32, "This state of the photo is not at hand any more. Ask for the job again."),
        ("{}/tiles/0/0/0?steps=[{}]", "These are no steps of tone."),
        ("0123456789abcdef/tiles/0/0/0", "This photo was not found. Bring it in first."),
    ],
)  # fmt: skip
def test_what_there_is_no_tile_of(
    client: TestClient, photo: tuple[str, dict, Path], address: str, sentence: str
) -> None:
    answer = client.get("/api/photos/" + address.replace("{}/tiles", photo[1]["id"] + "/tiles"))
    assert answer.status_code == 404
    assert answer.json()["sentence"] == sentence


def test_a_subject_is_cut_out_and_altered_by_more_strokes(client: TestClient, tmp_path: Path) -> None:
    path = tmp_path / "figure.png"
    Image.fromarray(figure()[0]).save(path)
    facts = bring(client, start(client, "collage-triptych"), path).json()["photo"]
    where = f"/api/photos/{facts['id']}/cut"

    def stroke(*points: tuple[float, float]) -> dict:
        return {"kind": "stroke", "points": points, "radius": 0.02}

    begun = client.post(where, json={"stroke": stroke((0.5, 0.28), (0.5, 0.9))}).json()
    assert len(begun["rings"]) == 1
    beside = stroke((0.15, 0.2), (0.3, 0.2))
    more = client.post(where, json={"stroke": beside, "begun": begun}).json()
    assert len(more["rings"]) == 2
    less = client.post(where, json={"stroke": beside, "begun": more, "away": True}).json()
    assert len(less["rings"]) == 1
    refused = client.post(where, json={"stroke": stroke((1.5, 1.5))})
    assert (refused.status_code, refused.json()["sentence"]) == (
        404, "Nothing is told apart from its backdrop here. Draw along the middle of the subject.",
    )  # fmt: skip
    everything = {"stroke": {**stroke((0, 0.5), (1, 0.5)), "radius": 1.0}, "begun": begun, "away": True}
    assert client.post(where, json=everything).status_code == 404


def test_an_eye_that_is_none_is_refused_in_words(client: TestClient, photo: tuple[str, dict, Path]) -> None:
    answer = client.post(f"/api/photos/{photo[1]['id']}/eye", json={"at": [0.2, 0.2]})
    assert answer.status_code == 404
    assert answer.json()["sentence"] == (
        "No eye that a flash made red or green is here. Click into the coloured pupil."
    )
    refused = edit(client, photo[0], op="retouch_photo", photo=photo[1]["id"], gone=["nothing"])
    assert refused.status_code == 409
    assert refused.json()["sentence"].startswith("This touch is not there any more.")


def test_a_leaning_photo_is_put_upright(client: TestClient, tmp_path: Path) -> None:
    image = cv2.cvtColor(leaning(9, -2)[0], cv2.COLOR_RGB2BGR)
    path = tmp_path / "leaning.jpg"
    cv2.imwrite(str(path), image)
    job = start(client, "collage-triptych")
    facts = bring(client, job, path).json()["photo"]
    upright = client.post(f"/api/photos/{facts['id']}/upright").json()
    assert upright["pitch_deg"] == pytest.approx(9, abs=0.8)
    assert upright["roll_deg"] == pytest.approx(-2, abs=0.5)
    edit(client, job, op="mend_photo", photo=facts["id"], recipe={"steps": None, "upright": upright})
    assert state(client, job)["edition_part"]["photo_tones"][facts["id"]]["upright"] == upright

    def seen(**query: str) -> np.ndarray:
        answer = client.get(f"/api/photos/{facts['id']}/mended/picture", params=query)
        assert answer.status_code == 200, answer.text
        return np.asarray(Image.open(io.BytesIO(answer.content)))

    plain, straight = seen(), seen(upright=json.dumps(upright))
    assert plain.shape == straight.shape == (900, 1200, 3)
    assert detect_upright(straight) is not None
    assert abs(detect_upright(straight).pitch_deg) < 0.8
    flat = bring(client, job, noisy(tmp_path)).json()["photo"]["id"]
    refused = client.post(f"/api/photos/{flat}/upright")
    assert refused.status_code == 404
    assert refused.json()["sentence"] == "Too few upright lines agree in this photo. Set it by the dials."
    wrong = client.get(f"/api/photos/{flat}/mended/picture", params={"upright": "{}x"})
    assert wrong.json()["sentence"] == "This is no way to mend a photo."


def noisy(folder: Path) -> Path:
    path = folder / "noise.png"
    Image.fromarray(np.random.default_rng(1).integers(0, 255, (300, 400, 3), np.uint8)).save(path)
    return path


def test_recipes_are_kept_by_name(client: TestClient) -> None:
    assert client.get("/api/recipes").json() == []
    dusk = {"name": " Dusk ", "steps": [{"kind": "exposure", "stops": 0.5}]}
    (kept,) = client.post("/api/recipes", json=dusk).json()
    assert kept["name"] == "Dusk"
    later = client.post("/api/recipes", json={"name": "dusk", "steps": []}).json()
    assert later == [{"name": "dusk", "steps": []}]  # one name, however it is written
    assert client.post("/api/recipes", json={"name": "  ", "steps": []}).status_code == 422
    twice = client.post("/api/recipes", json={"name": "twice", "steps": 2 * [{"kind": "exposure", "stops": 0.5}]})
    assert twice.status_code == 422
    assert "each kind of step once" in twice.json()["sentence"]
    assert client.delete("/api/recipes/noon").json()["sentence"].startswith("This recipe was not found.")
    assert client.delete("/api/recipes/dusk").json() == []


def test_a_photo_too_large_to_be_held_whole_is_seen_from_a_smaller_one(
    client: TestClient, photo: tuple[str, dict, Path], monkeypatch: pytest.MonkeyPatch
) -> None:
    exact = tile(client, photo[1]["id"], 0, 1, 0)
    asked: list[float] = []
    pixels = tiles.Retoucher.__call__

    def watched(self, facts, scale, space, retouching):  # type: ignore[no-untyped-def]
        asked.append(scale)
        return pixels(self, facts, scale, space, retouching)

    monkeypatch.setattr(tiles.Retoucher, "__call__", watched)
    monkeypatch.setattr(tiles, "WHOLE_PIXELS", 240_000)
    rough = tile(client, photo[1]["id"], 0, 1, 0, everywhere="")
    assert rough.shape == exact.shape
    assert asked == [pytest.approx(0.4)]
    assert np.abs(rough.astype(int) - exact).mean() < 4
