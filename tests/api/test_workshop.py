"""Templates of the studio's own: begun, altered, kept revision by revision, put away, out as a file and in again."""

import io
import json
import zipfile
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from sutaru.api.app import create_app
from sutaru.core.document import Photo
from sutaru.core.words import FOLDER
from sutaru.demo.demo_data import FILES
from tests.api.asking import back, bring, edit, start, state
from tests.core.test_flat_pictures import Truth, as_holes, made


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    with TestClient(create_app(tmp_path), base_url="http://localhost", raise_server_exceptions=False) as made:
        yield made


def begin(client: TestClient, **asked: object) -> str:
    answer = client.post("/api/workshop", json={"name": "Dune triptych", **asked})
    assert answer.status_code == 201, answer.json()
    return answer.json()["id"]


def cards(client: TestClient) -> dict[str, dict]:
    return {card["id"]: card for card in client.get("/api/templates").json()}


def opening(identity: str, x: float) -> dict:
    return {
        "kind": "opening", "id": identity, "outline": {"kind": "rectangle", "width_mm": 60, "height_mm": 40},
        "surface": {"kind": "flat", "centre": [x, 60]},
    }  # fmt: skip


def test_a_template_from_a_labs_blank_is_kept_used_revised_and_told_of(client: TestClient) -> None:
    draft = begin(client, lab="gullwing-300", blank="spread-12")
    assert [job["id"] for job in client.get("/api/jobs").json()["jobs"]] == []  # no order
    assert [job["id"] for job in client.get("/api/jobs?which=workshop").json()["jobs"]] == [draft]
    (layout,) = state(client, draft)["parts"]["layouts"].values()
    assert (layout["width_mm"], layout["lines"]) == (609.6, [{"kind": "gutter", "axis": "x", "at_mm": 304.8}])
    assert edit(client, draft, op="add_layers", sheet="sheet", layers=[opening("one", 60)]).status_code == 200
    kept = client.post(
        f"/api/jobs/{draft}/keep", json={"name": "Dune triptych", "tags": ["dune"], "occasion": "festival"}
    )
    assert kept.json() == {"id": "dune-triptych", "revision": 1, "name": "Dune triptych"}
    card = cards(client)["dune-triptych"]
    assert (card["own"], card["revision"], card["tags"], card["occasion"]) == (True, 1, ["dune"], "festival")
    assert card["proportions"] == [1.5]
    assert client.get("/api/templates/dune-triptych/sheets/sheet/picture?width=200").status_code == 200

    job = start(client, "dune-triptych")
    assert state(client, job)["newer"] == 0
    edit(client, draft, op="repeat", sheet="sheet", layers=["one"], columns=3, step_mm=[70, 0])
    again = client.post(f"/api/jobs/{draft}/keep", json={})
    assert again.json() == {"id": "dune-triptych", "revision": 2, "name": "Dune triptych"}
    here = state(client, job)
    assert here["newer"] == 2  # it has what it began with, and says so
    assert len(here["rows"]) == 1
    assert len(state(client, start(client, "dune-triptych"))["rows"]) == 3
    beside = client.post(f"/api/jobs/{draft}/keep", json={"as_new": True})
    assert beside.json()["id"] == "dune-triptych-2"


def test_what_ships_is_never_changed_but_something_new_is_made_of_it(client: TestClient) -> None:
    refused = client.post("/api/workshop", json={"name": "X", "template": "card-portrait", "revise": True})
    assert (refused.status_code, refused.json()["sentence"]) == (
        409, "This template ships with Sutaru and is never changed. Make a new one from it.",
    )  # fmt: skip
    before = cards(client)["card-portrait"]
    draft = begin(client, template="card-portrait", name="Folded card, portrait")
    for how in ("left", "left_right"):
        assert edit(client, draft, op="turn_sheet", sheet="outside", how=how).status_code == 200
    kept = client.post(f"/api/jobs/{draft}/keep", json={})
    assert kept.json()["id"] == "folded-card-portrait"
    assert cards(client)["card-portrait"] == before


def test_an_orders_sheets_are_kept_without_its_customer(client: TestClient) -> None:
    job = start(client, "card-portrait")
    for finding in state(client, job)["findings"]:
        if finding["rule"] == "sample_words":
            edit(
                client,
                job,
                op="write",
                sheet=finding["sheet"],
                layer=finding["layer"],
                text="Thessaly Moor, 4 Dune Row",
            )
    edit(client, job, op="rename", name="Secret name", customer="Thessaly Moor")
    kept = client.post(f"/api/jobs/{job}/keep", json={"name": "Card of the season"}).json()
    packed = zipfile.ZipFile(io.BytesIO(client.get(f"/api/templates/{kept['id']}/file").content))
    said = packed.read("template.json").decode()
    assert "Thessaly" not in said
    assert "Secret" not in said
    # It stays an order.
    assert job in [entry["id"] for entry in client.get("/api/jobs").json()["jobs"]]


def test_a_template_file_goes_out_and_comes_in_as_one_of_the_studios(client: TestClient) -> None:
    data = client.get("/api/templates/card-portrait/file").content
    card = client.post("/api/templates/from-file", content=data).json()
    assert (card["own"], card["id"], card["revision"]) == (True, "folded-card-portrait", 1)
    first, second = (
        zipfile.ZipFile(io.BytesIO(d)) for d in (data, client.get(f"/api/templates/{card['id']}/file").content)
    )
    one, two = (json.loads(z.read("template.json")) for z in (first, second))
    assert one["sheets"] == two["sheets"]
    assert sorted(first.namelist()) == sorted(second.namelist())


def _zip(**files: bytes) -> bytes:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as packed:
        for name, content in files.items():
            packed.writestr(name.replace("__", "."), content)
    return buffer.getvalue()


@pytest.mark.parametrize(("content", "said"), [
    (b"", "is not a template of Sutaru's"), (b"PK\x03\x04nonsense", "is not a template of Sutaru's"),
    (_zip(other=b"{}"), "is not a template of Sutaru's"), (_zip(template__json=b"[]"), ""),
    (_zip(template__json=b'{"schema_version": 99}'), "newer"), (_zip(template__json=b'{"schema_version": 2}'), "not valid"),
])  # fmt: skip
def test_whatever_comes_in_as_a_template_gets_a_sentence(client: TestClient, content: bytes, said: str) -> None:
    answer = client.post("/api/templates/from-file", content=content)
    assert answer.status_code in (415, 422, 409), answer.text
    assert said in answer.json()["sentence"]
    assert not [card for card in cards(client).values() if card["own"]]


def test_templates_are_put_away_and_brought_back(client: TestClient) -> None:
    assert client.put("/api/templates/card-portrait/archived").json()["archived"] is True
    assert cards(client)["card-portrait"]["archived"] is True
    assert client.delete("/api/templates/card-portrait/archived").json()["archived"] is False
    assert client.put("/api/templates/none-such/archived").status_code == 404


def test_sheets_come_and_go_and_the_last_one_stays(client: TestClient) -> None:
    draft = begin(client, width_mm=200, height_mm=100)
    only = edit(client, draft, op="remove_sheet", gone="sheet")
    assert (only.status_code, only.json()["sentence"]) == (409, "This is the only sheet. Add another one first.")
    layout = {"width_mm": 200, "height_mm": 100, "layers": [opening("one", 50)]}
    fresh = {"id": "inside", "name": "Inside", "role": "inside", "layout": layout}
    assert edit(client, draft, op="add_sheet", fresh=fresh, after="sheet").status_code == 200
    assert edit(client, draft, op="rename_sheet", which="inside", name="Inner side").status_code == 200
    sheets = state(client, draft)["job"]["sheets"]
    assert edit(client, draft, op="remove_sheet", gone="sheet").status_code == 200
    assert back(client, draft, "undo").status_code == 200
    assert state(client, draft)["job"]["sheets"] == sheets


def test_samples_go_round_in_the_workshop(client: TestClient) -> None:
    draft = begin(client, template="album-spread-18")
    rows = state(client, draft)["rows"]
    assert all(row["photo"] for row in rows)
    assert len({row["photo"] for row in rows}) < len(rows) == 18
    edit(client, draft, op="add_layers", sheet="spread", layers=[opening("one-more", 60)])
    edit(client, draft, op="fill", only_empty=True)
    assert next(row for row in state(client, draft)["rows"] if row["opening"] == "one-more")["photo"]


def _png(truth: Truth) -> bytes:
    buffer = io.BytesIO()
    Image.fromarray(as_holes(truth)).save(buffer, "PNG")
    return buffer.getvalue()


def test_a_flat_picture_is_read_kept_and_goes_out_as_a_file(client: TestClient) -> None:
    truth = made(3)
    read = client.post("/api/workshop/from-file?name=Beach.png&width_mm=300", content=_png(truth))
    assert read.status_code == 201, read.text
    assert (read.json()["openings"], read.json()["how"]) == (len(truth.shapes), "holes")
    assert state(client, read.json()["id"])["job"]["making"]["read"] == read.json()["notes"]
    rows = state(client, read.json()["id"])["rows"]
    assert len(rows) == len(truth.shapes)
    kept = client.post(f"/api/jobs/{read.json()['id']}/keep", json={}).json()
    assert kept["name"] == "Beach"
    data = client.get(f"/api/templates/{kept['id']}/file").content
    assert client.post("/api/templates/from-file", content=data).status_code == 201


@pytest.mark.parametrize(("content", "asked", "said"), [
    (b"", "", "is not a picture that can be read."), (_png(made(3))[:4000], "", "is not a picture that can be read."),
    (b"\x89PNG\r\n\x1a\nnonsense", "", "is not a picture that can be read."), (b"%PDF-1.7", "", "is not a PDF that can be read"),
    (_png(made(3)), "&areas=%23123456", "No opening was found"),
])  # fmt: skip
def test_what_is_no_picture_of_a_template_gets_a_sentence(
    client: TestClient, content: bytes, asked: str, said: str
) -> None:
    answer = client.post(f"/api/workshop/from-file?name=Odd.png{asked}", content=content)
    assert answer.status_code in (415, 422, 409), answer.text
    assert said in answer.json()["sentence"]


def test_a_damaged_revision_hides_nothing_else(client: TestClient) -> None:
    draft = begin(client, width_mm=200, height_mm=100)
    edit(client, draft, op="add_layers", sheet="sheet", layers=[opening("one", 60)])
    for _ in range(2):
        client.post(f"/api/jobs/{draft}/keep", json={"name": "Pair"})
    client.post(f"/api/jobs/{draft}/keep", json={"name": "Other", "as_new": True})
    studio = client.app.state.studio
    with studio.database.transaction() as db:
        db.execute("UPDATE template SET document = '{' WHERE id = 'pair' AND revision = 2")
    studio.templates._read.clear()
    own = {card["id"]: card["revision"] for card in cards(client).values() if card["own"]}
    assert own == {"pair": 1, "other": 1}


def test_a_file_of_any_size_a_picture_may_have_comes_in(client: TestClient) -> None:
    """More than the few megabytes that other requests may have."""
    rng = np.random.default_rng(3)
    noise = rng.integers(0, 120, (2200, 2400, 3), dtype=np.uint8)
    noise[300:900, 300:1200] = 255
    buffer = io.BytesIO()
    Image.fromarray(noise).save(buffer, "PNG")
    assert len(buffer.getvalue()) > 9 << 20
    read = client.post("/api/workshop/from-file?name=Large.png&areas=%23ffffff", content=buffer.getvalue())
    assert (read.status_code, read.json()["openings"]) == (201, 1)


def test_a_labs_blank_lies_as_a_guide_and_never_prints(client: TestClient) -> None:
    blank = (FILES / "gullwing-card-blank.pdf").read_bytes()
    read = client.post("/api/workshop/from-file?name=Blank.pdf&guide=true", content=blank)
    assert (read.status_code, read.json()["how"]) == (201, "guide")
    draft = read.json()["id"]
    (layout,) = state(client, draft)["parts"]["layouts"].values()
    assert (layout["width_mm"], layout["height_mm"], layout["bleed_mm"]) == pytest.approx((355.6, 127, 3), abs=0.01)
    assert [(layer["kind"], layer["guide"]) for layer in layout["layers"]] == [("overlay", True)]
    assert "read" not in state(client, draft)["job"]["making"]  # all of it was told
    key = state(client, draft)["marks"][0]["key"]
    seen = client.get(f"/api/drawn/{key}/picture?width=400&notes=true").content
    printed = client.get(f"/api/drawn/{key}/picture?width=400").content
    assert np.asarray(Image.open(io.BytesIO(seen))).min() < 200
    assert np.asarray(Image.open(io.BytesIO(printed))).min() > 250


def test_a_sheet_goes_out_as_svg_and_comes_back(client: TestClient) -> None:
    draft = begin(client, template="collage-wind")
    answer = client.get(f"/api/jobs/{draft}/sheets/print/svg")
    assert (answer.status_code, answer.headers["content-type"]) == (200, "image/svg+xml")
    assert 'filename="Dune-triptych' in answer.headers["content-disposition"]
    read = client.post("/api/workshop/from-file?name=Back.svg", content=answer.content)
    assert (read.status_code, read.json()["openings"], read.json()["notes"]) == (201, 7, [])
    assert client.get(f"/api/jobs/{draft}/sheets/none/svg").status_code == 404


def test_ornaments_are_listed_and_served(client: TestClient) -> None:
    pieces = client.get("/api/ornaments").json()
    assert {piece["kind"] for piece in pieces} >= {"kites", "sea", "frames", "dividers", "occasions"}
    piece = next(one for one in pieces if one["kind"] == "dividers")
    assert piece["ratio"] > 5
    drawn = client.get(f"/api/ornaments/{piece['asset']}.svg")
    assert drawn.headers["content-type"] == "image/svg+xml"
    assert b"<svg" in drawn.content
    known = client.get(f"/api/assets/{piece['asset']}").json()
    assert known["ratio"] == piece["ratio"]
    assert known["traced"]["alpha"]
    assert client.get(f"/api/ornaments/{'0' * 64}.svg").status_code == 404


def test_the_studio_card_reaches_templates_at_once_and_orders_when_they_take_it(client: TestClient) -> None:
    assert client.get("/api/studio-card").json()["name"] == ""
    draft, order = begin(client, template="card-portrait"), start(client, "card-portrait")
    piece = next(one for one in client.get("/api/ornaments").json() if one["name"] == "rokkaku")
    said = {"name": "Marram Studio", "web": "marram-studio.example", "main": "#114455", "logo": piece["asset"]}
    kept = client.put("/api/studio-card", json=said)
    assert (kept.status_code, kept.json()["name"]) == (200, "Marram Studio")
    assert kept.json()["traced"]
    assert client.get(f"/api/studio-card/logo/{piece['asset']}").headers["content-type"] == "image/svg+xml"
    assert state(client, draft)["job"]["studio"]["name"] == "Marram Studio"
    assert state(client, order)["job"].get("studio") is None
    assert edit(client, order, op="take_card", card=kept.json()).status_code == 200
    assert state(client, order)["job"]["studio"]["name"] == "Marram Studio"
    assert state(client, start(client, "card-portrait"))["job"]["studio"]["web"] == "marram-studio.example"
    assert client.put("/api/studio-card", json={"logo": "0" * 64}).status_code == 404
    assert client.put("/api/studio-card", json={"main": "blue"}).status_code == 422
    # A logo may be a picture, also one that could be no mask.
    file = io.BytesIO()
    Image.new("RGB", (90, 30), "#204060").save(file, "PNG")
    png = client.post("/api/assets", content=file.getvalue()).json()["name"]
    kept = client.put("/api/studio-card", json={**said, "logo": png}).json()
    assert (kept["logo_ratio"], kept["traced"]) == (3, "")
    shown = client.get(f"/api/studio-card/logo/{png}")
    assert (shown.headers["content-type"], shown.content) == ("image/png", file.getvalue())
    font = client.post("/api/assets", content=(FOLDER / "Lato-Regular.ttf").read_bytes()).json()["name"]
    assert client.get(f"/api/studio-card/logo/{font}").status_code == 404
    refused = client.put("/api/studio-card", json={"logo": font})
    assert (refused.status_code, refused.json()["sentence"][:19]) == (409, "This is no picture.")
    again = back(client, order)
    assert again.status_code == 200


def test_an_area_that_is_pointed_at_becomes_an_opening(client: TestClient) -> None:
    rgba = np.full((300, 400, 3), (230, 220, 200), np.uint8)
    rgba[50:120, 60:160], rgba[50:120, 220:320] = (180, 180, 180), (90, 120, 150)
    buffer = io.BytesIO()
    Image.fromarray(rgba).save(buffer, "PNG", dpi=(254, 254))
    read = client.post("/api/workshop/from-file?name=Two.png&areas=%23b4b4b4", content=buffer.getvalue()).json()
    asked = {"layer": "overlay", "at_mm": [25, 8]}
    found = client.post(f"/api/jobs/{read['id']}/sheets/sheet/areas", json=asked)
    assert found.status_code == 200, found.text
    assert found.json()["there"] == ""
    opening, asset = {**found.json()["opening"], "id": "second"}, found.json()["asset"]
    assert (
        edit(client, read["id"], op="add_layers", sheet="sheet", layers=[opening], below="overlay").status_code == 200
    )
    changed = edit(client, read["id"], op="set_fields", sheet="sheet", layers=["overlay"],
                   fields={"asset": asset, "content_locked": True})  # fmt: skip
    assert changed.status_code == 200, changed.text
    assert len(state(client, read["id"])["rows"]) == 2
    again = client.post(f"/api/jobs/{read['id']}/sheets/sheet/areas", json={"layer": "overlay", "at_mm": [24, 9]})
    assert again.json()["there"] == "second"  # pointed at twice, it has its opening already
    none = client.post(f"/api/jobs/{read['id']}/sheets/sheet/areas", json={"layer": "overlay", "at_mm": [1, 1]})
    assert "ground of the whole picture" in none.json()["sentence"]
    assert (
        client.post(f"/api/jobs/{read['id']}/sheets/sheet/areas", json={"layer": "none", "at_mm": [1, 1]}).status_code
        == 404
    )


def test_the_first_photo_chooses_between_variants(client: TestClient, pile: list[tuple[Path, Photo]]) -> None:
    groups = {card["id"]: card["group"] for card in client.get("/api/templates").json()}
    assert groups["card-portrait"] == groups["card-landscape"] == "card-landscape"
    tall = next(path for path, photo in pile if photo.height > photo.width)
    wide = next(path for path, photo in pile if photo.width > photo.height)
    for begun in ("card-portrait", "card-landscape"):
        for first, other, chosen in ((tall, wide, "card-portrait"), (wide, tall, "card-landscape")):
            job = start(client, begun, by_photo=True)
            assert state(client, job)["job"]["variants"] == ["card-landscape", "card-portrait"]
            for path in (first, other):
                assert bring(client, job, path).status_code == 201
            now = state(client, job)["job"]
            assert (now["template"], now.get("variants", [])) == (chosen, [])
    plain = start(client, "card-portrait")
    bring(client, plain, wide)
    assert state(client, plain)["job"]["template"] == "card-portrait"


def test_what_was_worked_on_before_the_first_photo_stays(client: TestClient, pile: list[tuple[Path, Photo]]) -> None:
    wide = next(path for path, photo in pile if photo.width > photo.height)
    job = start(client, "card-portrait", by_photo=True)
    edit(client, job, op="write", sheet="inside", layer="greeting", text="For you")
    bring(client, job, wide)
    assert state(client, job)["job"]["template"] == "card-portrait"
    back(client, job)
    assert state(client, job)["job"]["variants"]  # until a photo comes


def test_a_template_is_kept_as_a_variant_of_another(client: TestClient) -> None:
    draft = begin(client, template="postcard-two")
    edit(client, draft, op="turn_sheet", sheet="front", how="left")
    kept = client.post(
        f"/api/jobs/{draft}/keep", json={"name": "Upright", "as_new": True, "variant_of": "postcard-two"}
    ).json()
    assert cards(client)[kept["id"]]["group"] == "postcard-two"
    again = begin(client, template=kept["id"])
    other = client.post(
        f"/api/jobs/{again}/keep", json={"name": "Third", "as_new": True, "variant_of": kept["id"]}
    ).json()
    assert cards(client)[other["id"]]["group"] == "postcard-two"
    assert client.post(f"/api/jobs/{again}/keep", json={"name": "No", "variant_of": "no-such"}).status_code == 404


def test_favourites_and_what_is_used_are_said(client: TestClient) -> None:
    assert (cards(client)["collage-heart"]["favourite"], cards(client)["collage-heart"]["used"]) == (False, 0)
    assert client.put("/api/templates/collage-heart/favourite").json()["favourite"] is True
    client.post("/api/jobs", json={"template": "collage-heart", "name": "Hearts", "lab": "gullwing-300"})
    assert (cards(client)["collage-heart"]["favourite"], cards(client)["collage-heart"]["used"]) == (True, 1)
    assert client.delete("/api/templates/collage-heart/favourite").json()["favourite"] is False
    assert client.put("/api/templates/none-such/favourite").status_code == 404
