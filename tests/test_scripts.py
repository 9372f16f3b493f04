"""Sutaru in a script: the examples of docs/scripts.md are run as they stand there."""

import doctest
import subprocess
import sys
from pathlib import Path

import pytest
from PIL import Image

import sutaru
from sutaru.core.document import Photo
from sutaru.core.errors import EditRefused, ExportRefused, NotFound, PhotoRefused, SutaruError

DOCS = Path(__file__).parent.parent / "docs" / "scripts.md"


@pytest.fixture
def folder(tmp_path: Path, pile: list[tuple[Path, Photo]], monkeypatch: pytest.MonkeyPatch) -> Path:
    photos = tmp_path / "photos"
    photos.mkdir()
    for path, _ in pile[:3]:
        picture = Image.open(path)
        scale = 4500 / max(picture.size)  # large enough for the lab
        picture.resize((round(picture.width * scale), round(picture.height * scale))).save(
            photos / path.name, quality=85
        )
    monkeypatch.chdir(tmp_path)
    return photos


def test_the_examples_of_the_docs_do_what_they_say(folder: Path) -> None:
    result = doctest.testfile(str(DOCS), module_relative=False, optionflags=doctest.REPORT_NDIFF)
    assert result.attempted >= 18
    assert result.failed == 0


def test_what_cannot_be_done_is_a_sentence_and_changes_nothing(folder: Path) -> None:
    shelf = sutaru.open_shelf()
    with pytest.raises(NotFound, match="There is no template nowhere"):
        shelf.start("nowhere")
    with pytest.raises(NotFound, match="There is no lab sheet"):
        shelf.start("collage-shore", lab="nobody")
    job = shelf.start("collage-shore")
    with pytest.raises(EditRefused):
        job.fill()
    with pytest.raises(PhotoRefused):
        job.add_photos([folder / "none.jpg", __file__])
    assert job.job.photos == ()
    (folder / "broken.jpg").write_bytes(b"\xff\xd8 nothing")
    refused: list[SutaruError] = job.add_photos(sorted(folder.iterdir()))
    assert len(refused) == 1
    with pytest.raises(NotFound, match="There is no photo x.jpg"):
        job.put("shore", "x.jpg")
    with pytest.raises(NotFound, match="This job has pages 1 to 1"):
        job.show(2)
    with pytest.raises(ExportRefused):
        job.export(folder.parent / "out")  # its openings are empty
    assert not list((folder.parent / "out").glob("*.jpg"))
    with pytest.raises(AttributeError, match="no attribute 'open_nothing'"):
        sutaru.open_nothing  # noqa: B018


def test_the_first_photo_chooses_the_variant_of_a_card(folder: Path) -> None:
    shelf = sutaru.open_shelf()
    job = shelf.start("card-portrait")
    job.add_photos(sorted(folder.glob("*.jpg"))[:1])
    wide = job.job.photos[0].width > job.job.photos[0].height
    sheet = job.sheet(1).layout
    assert (sheet.folded_mm[0] > sheet.folded_mm[1] if sheet.folded_mm else sheet.width_mm > sheet.height_mm) == wide


def test_importing_sutaru_loads_nothing_until_it_is_asked() -> None:
    code = "import sys, sutaru; print('sutaru.core' in sys.modules, 'pydantic' in sys.modules)"
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert done.stdout.split() == ["False", "False"]
