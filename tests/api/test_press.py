"""The press asked of the server: its views of a sheet, figures of a place, a lab's own profile, files in its inks."""

import io
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pikepdf
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from sutaru.api.app import create_app
from sutaru.core.colour.output import Output
from sutaru.core.colour.profiles import profile_bytes
from sutaru.core.verifying.print_files import verify
from tests.api.asking import Pile, accept_all, bring, edit, ended, head, part, start, state


@pytest.fixture(scope="module")
def client(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    with TestClient(create_app(tmp_path_factory.mktemp("data")), base_url="http://localhost") as made:
        yield made


@pytest.fixture(scope="module")
def job(client: TestClient, pile: Pile) -> str:
    made = start(client, "card-portrait")
    for path, _ in pile[:3]:
        bring(client, made, path)
    assert edit(client, made, op="fill").status_code == 200
    return made


def lab_of(client: TestClient, job: str) -> dict:
    return part(client, "labs", head(client, job)["job"]["lab"])


def pixels(client: TestClient, key: str, **query: str) -> np.ndarray:
    answer = client.get(f"/api/drawn/{key}/picture", params={"width": "600", **query})
    assert answer.status_code == 200, answer.text
    return np.asarray(Image.open(io.BytesIO(answer.content)))


def test_a_sheet_as_the_press_shows_it(client: TestClient, job: str) -> None:
    key = head(client, job)["marks"][0]["key"]
    plain = pixels(client, key)
    seen = {view: pixels(client, key, proof=view) for view in ("paper", "press", "reach", "ink", "cyan", "black")}
    assert all(picture.shape == plain.shape for picture in seen.values())
    # White paper is white by itself, and by the press's paper a little blue and grey.
    corner = np.s_[4:12, 4:12]
    assert plain[corner].mean() > 253
    assert seen["press"][corner].mean() > 253
    paper = seen["paper"][corner].reshape(-1, 3).mean(axis=0)
    assert 225 < paper.mean() < 245
    assert paper[2] > paper[0]
    assert seen["cyan"][corner].mean() > 253  # no ink there
    assert client.get(f"/api/drawn/{key}/picture", params={"proof": "violet"}).status_code == 422


def test_figures_are_those_of_the_print(client: TestClient, job: str) -> None:
    key = head(client, job)["marks"][0]["key"]
    told = client.get(f"/api/drawn/{key}/figures", params={"x": 2, "y": 2}).json()
    assert (told["rgb"], told["inks"], told["ink_sum"]) == ([255, 255, 255], [0, 0, 0, 0], 0)
    x, y = 190, 88  # on the front's photo
    told = client.get(f"/api/drawn/{key}/figures", params={"x": x, "y": y}).json()
    wanted = Output("srgb", profile_bytes("fogra39"), "CMYK").convert(np.array([[told["rgb"]]], np.uint8))[0, 0] / 2.55
    assert told["inks"] == pytest.approx(wanted.tolist(), abs=0.06)
    assert client.get(f"/api/drawn/{key}/figures", params={"x": -50, "y": 2}).status_code == 404


def test_a_labs_own_profile_and_its_files(client: TestClient, job: str, tmp_path: Path) -> None:
    assert [one["id"] for one in client.get("/api/presses").json()] == ["fogra39", "tr006", "grey"]
    kept = client.post("/api/assets", content=profile_bytes("tr006"))
    assert kept.status_code == 201, kept.text
    told = kept.json()
    assert (told["kind"], told["profile"]["space"], told["profile"]["kind"]) == ("profile", "CMYK", "prtr")
    refused = client.post("/api/assets", content=profile_bytes("tr006")[:3000])
    assert refused.status_code == 422
    assert "profile" in refused.json()["sentence"]
    lab = lab_of(client, job) | {
        "press": {"profile": told["name"]}, "pdf": {"x4": True, "one_file": True, "cut": "Cut"}, "sharpen": "standard",
    }  # fmt: skip
    assert edit(client, job, op="choose_lab", lab=lab).status_code == 200
    asked = {"lab": lab["id"], "edition": "first", "format": "pdf"}
    for finding in state(client, job)["findings"]:
        if finding["severity"] == "stop":
            named = [{key: finding[key] for key in ("rule", "layer", "sentence")}]
            said = {"sheet": finding["sheet"], "findings": named, "name": "Ola", "reason": "a trial"}
            assert edit(client, job, op="accept", **said).status_code == 200
    task = ended(client, client.post(f"/api/jobs/{job}/exports", json=asked).json()["id"])
    assert task["state"] == "done", task["message"]
    (entry,) = task["outcome"]["files"]
    assert (entry["file"], len(entry["pages"])) == ("Spread-Ola.pdf", 2)
    target = tmp_path / "order.pdf"
    target.write_bytes(client.get(f"/api/exports/{task['id']}/files/{entry['file']}").content)
    assert {defect.rule for defect in verify(target).defects} == {"spot"}  # the cut lines that were asked for
    with pikepdf.open(target) as pdf:
        assert pdf.Root.OutputIntents[0].DestOutputProfile.read_bytes() == profile_bytes("tr006")
    # In a bundle the profile goes along, and comes back.
    bundle = client.get(f"/api/jobs/{job}/bundle").content
    again = client.post("/api/jobs/from-bundle", content=bundle)
    assert again.status_code == 201, again.text
    assert lab_of(client, again.json()["id"])["press"]["profile"] == told["name"]


def test_names_are_shown_before_they_are_kept(client: TestClient, job: str) -> None:
    def names(pattern: str = "") -> dict:
        return client.get(f"/api/jobs/{job}/names", params={"pattern": pattern}).json()

    assert names() == {"names": ["Spread_01", "Spread_02"], "alike": False}
    assert names("{customer} {name}")["names"] == ["Ola-Outside", "Ola-Inside"]
    assert names("{job}") == {"names": ["Spread", "Spread-02"], "alike": True}
    assert "knows {job}, {customer}, {page} and {name} only" in names("{place}")["sentence"]


def test_x4_without_a_press_is_refused_in_words(client: TestClient, job: str) -> None:
    lab = lab_of(client, job) | {"press": None, "pdf": {"x4": True}}
    refused = edit(client, job, op="choose_lab", lab=lab)
    assert refused.status_code == 422
    assert "PDF/X-4 is made for a press: choose its profile." in refused.json()["sentence"]


def test_a_grey_press_has_no_plates(client: TestClient, pile: Pile) -> None:
    job = start(client, "card-portrait")
    lab = lab_of(client, job) | {"press": {"profile": "grey"}}
    assert edit(client, job, op="choose_lab", lab=lab).status_code == 200
    key = head(client, job)["marks"][0]["key"]
    assert client.get(f"/api/drawn/{key}/picture", params={"proof": "cyan"}).status_code == 404
    assert client.get(f"/api/drawn/{key}/picture", params={"proof": "paper"}).status_code == 200
    assert client.get(f"/api/drawn/{key}/figures", params={"x": 2, "y": 2}).json()["inks"] == []


def test_a_print_file_of_anybodys_is_looked_over(pile: Pile, tmp_path: Path) -> None:
    with TestClient(create_app(tmp_path / "data"), base_url="http://localhost") as client:
        with pikepdf.new() as pdf:
            pdf.add_blank_page(page_size=(400, 300))
            pdf.save(tmp_path / "customer.pdf")
        data = (tmp_path / "customer.pdf").read_bytes()
        told = client.post("/api/verify", params={"name": "customer.pdf", "lab": "samphire-press"}, content=data).json()
        assert (told["file"], told["kind"], told["pages"]) == ("customer.pdf", "pdf", 1)
        assert "standard" in {defect["rule"] for defect in told["defects"]}
        plain = client.post("/api/verify", params={"name": "customer.pdf"}, content=data).json()
        assert "standard" not in {defect["rule"] for defect in plain["defects"]}
        photo = client.post("/api/verify", params={"name": "a.jpg"}, content=pile[0][0].read_bytes()).json()
        assert photo["kind"] == "jpeg"
        nothing = client.post("/api/verify", params={"name": "x.pdf"}, content=b"nothing").json()
        assert [defect["rule"] for defect in nothing["defects"]] == ["damaged"]
        assert client.post("/api/verify", params={"name": "x.pdf", "lab": "none"}, content=b"x").status_code == 404


def test_a_place_of_a_sheet_is_shown_as_each_way_of_sharpening_prints_it(pile: Pile, tmp_path: Path) -> None:
    """The same pixels as the file has there."""
    with TestClient(create_app(tmp_path / "data"), base_url="http://localhost") as client:
        job = start(client, "card-portrait")
        bring(client, job, pile[1][0])
        edit(client, job, op="fill")
        key = state(client, job)["marks"][0]["key"]

        def shown(how: str, **more: object) -> np.ndarray:
            asked = {"x": 190, "y": 80, "how": how, "side": 200, **more}
            answer = client.get(f"/api/drawn/{key}/printed", params=asked)
            assert answer.status_code == 200
            with Image.open(io.BytesIO(answer.content)) as picture:
                return np.asarray(picture.convert("L")).astype(float)

        def edges(pixels: np.ndarray) -> float:
            return float(np.abs(np.diff(pixels, axis=1)).mean())

        by_how = [edges(shown(how)) for how in ("none", "low", "standard", "high")]
        assert by_how == sorted(by_how)
        assert by_how[3] > 1.15 * by_how[0]
        assert edges(shown("high", surface="matt")) > by_how[3]
        assert shown("none", x=-900, y=9000).shape == (200, 200)  # the nearest place on the sheet
        accept_all(client, job)
        task = client.post(f"/api/jobs/{job}/exports", json={"lab": "gullwing-300", "format": "png"}).json()["id"]
        name = ended(client, task)["outcome"]["files"][0]["file"]
        with Image.open(io.BytesIO(client.get(f"/api/exports/{task}/files/{name}").content)) as picture:
            whole = np.asarray(picture.convert("L")).astype(float)
        px = 300 / 25.4
        x, y = int((190 + 3) * px) - 100, int((80 + 3) * px) - 100
        assert np.abs(whole[y : y + 200, x : x + 200] - shown("none")).mean() < 1.5  # JPEG against PNG
