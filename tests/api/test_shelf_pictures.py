"""Pictures that ship with the shelf are those of the shelf; pictures of jobs outlive a restart."""

import io
import math
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from sutaru.api.app import create_app
from sutaru.api.samples import sample_photos
from sutaru.api.sheets import Sheets
from sutaru.core.formats.shelf import read_shelf
from sutaru.shelf import FOLDER, sample_ids
from sutaru.shelf.pictures import THEME_PICTURES, digest_of, digest_of_theme, picture_path, read_index, theme_name
from sutaru.store import Pictures
from tests.api.asking import Pile, filled_job


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    with TestClient(create_app(tmp_path, ("testserver",))) as client:
        yield client


SHEETS = [(template, sheet) for template in read_shelf(FOLDER).templates.values() for sheet in template.sheets]


def test_every_sheet_of_the_shelf_has_its_picture_and_no_other_ships() -> None:
    wanted = {f"{template.id}/{sheet.id}": digest_of(template, sheet.id, sample_ids()) for template, sheet in SHEETS}
    wanted |= {
        f"{theme_name(theme.id)}/{n}": digest_of_theme(theme, sample_ids())
        for theme in read_shelf(FOLDER).themes.values()
        for n in range(THEME_PICTURES)
    }
    found = {name: entry["made_of"] for name, entry in read_index().items()}
    assert found == wanted, "run tools/make_shelf_pictures.py"
    paths = {picture_path(*name.split("/")) for name in wanted}
    assert paths == set(picture_path("x", "y").parent.glob("*.webp"))
    for template, sheet in SHEETS:
        with Image.open(picture_path(template.id, sheet.id)) as picture:
            assert picture.width == read_index()[f"{template.id}/{sheet.id}"]["width"]


@pytest.mark.parametrize("name", ["card-portrait", "album-spread-6", "collage-heart"])
def test_what_ships_is_what_would_be_painted(client: TestClient, name: str) -> None:
    template = read_shelf(FOLDER).templates[name]
    while not all(photo.is_looked_at for photo in sample_photos(client.app.state.studio)):  # faces are kept in view
        time.sleep(0.1)
    _assert_painted_alike(
        client,
        [(f"{name}/{sheet.id}", f"/api/templates/{name}/sheets/{sheet.id}/picture?") for sheet in template.sheets],
    )


def test_pictures_of_themes_are_what_would_be_painted(client: TestClient) -> None:
    while not all(photo.is_looked_at for photo in sample_photos(client.app.state.studio)):
        time.sleep(0.1)
    _assert_painted_alike(
        client, [(f"theme-sail-maker/{n}", f"/api/themes/sail-maker/picture?at={n}&") for n in range(THEME_PICTURES)]
    )


def _assert_painted_alike(client: TestClient, pictures: list[tuple[str, str]]) -> None:
    """``pictures``: names in the index, and addresses, to be followed by the width."""
    for name, address in pictures:
        width = read_index()[name]["width"]
        shipped = client.get(f"{address}width={width}")
        assert shipped.headers["content-type"] == "image/webp"
        larger = client.get(f"{address}width={width + 1}")  # none ships so large
        assert larger.headers["content-type"] == "image/jpeg"
        ours, theirs = (Image.open(io.BytesIO(answer.content)).convert("RGB") for answer in (shipped, larger))
        error = np.asarray(ours, float) - np.asarray(theirs.resize(ours.size), float)
        assert 10 * math.log10(255**2 / np.mean(error**2)) > 26


def test_with_a_studio_card_templates_are_painted_with_it(client: TestClient) -> None:
    card = client.get("/api/studio-card").json()
    assert client.put("/api/studio-card", json={**card, "name": "Samphire Studio"}).status_code == 200
    answer = client.get("/api/templates/card-portrait/sheets/outside/picture", params={"width": 280})
    assert answer.headers["content-type"] == "image/jpeg"


def test_a_jobs_picture_is_there_after_a_restart_without_painting(
    tmp_path: Path, pile: Pile, monkeypatch: pytest.MonkeyPatch
) -> None:
    with TestClient(create_app(tmp_path, ("testserver",))) as client:
        job = filled_job(client, "card-portrait", pile[:2])
        (card,) = client.get("/api/jobs").json()["jobs"]
        address = f"/api/jobs/{job}/cover/{card['picture']}?width=200"
        painted = client.get(address)
        assert painted.status_code == 200
    monkeypatch.setattr(Sheets, "paint", lambda *asked, **more: 1 / 0)
    with TestClient(create_app(tmp_path, ("testserver",))) as client:
        again = client.get(address)
        assert again.content == painted.content
        assert "immutable" in again.headers["cache-control"]


def test_pictures_that_nobody_looks_at_go_and_damaged_ones_are_none(tmp_path: Path) -> None:
    pictures = Pictures(tmp_path / "pictures", most=10)
    jpeg = b"\xff\xd8picture\xff\xd9"
    names = [f"{n:032x}" for n in range(30)]
    for name in names:
        pictures.put(name, 200, jpeg)
        pictures.get(names[0], 200)
    assert pictures.get(names[-1], 200) == jpeg
    assert len(list((tmp_path / "pictures").iterdir())) <= 10
    (tmp_path / "pictures" / f"{names[-1]}-200.jpg").write_bytes(jpeg[:-1])
    assert pictures.get(names[-1], 200) is None
    assert pictures.get("../../etc/passwd", 200) is None
    Pictures(tmp_path / "pictures" / f"{names[-1]}-200.jpg").put(
        names[0], 200, jpeg
    )  # no folder: nothing is kept, nothing fails


def test_pictures_are_kept_by_many_threads_at_once(tmp_path: Path, caplog: pytest.LogCaptureFixture) -> None:
    pictures = Pictures(tmp_path / "pictures", most=8)
    with ThreadPoolExecutor(8) as pool:
        list(pool.map(lambda n: pictures.put(f"{n:032x}", 200, b"\xff\xd8picture\xff\xd9"), range(400)))
    assert not caplog.records  # nothing that could not be kept
    assert len(list((tmp_path / "pictures").iterdir())) <= 8
