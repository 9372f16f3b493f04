"""``sutaru template`` and the commands that take a template: what they print, write and refuse."""

import json
import zipfile
from pathlib import Path

import pytest
from PIL import Image

from sutaru.command_line.main import main
from sutaru.demo.demo_data import FILES
from tests.core.test_flat_pictures import as_flat, made


def told(capsys: pytest.CaptureFixture[str]) -> object:
    return json.loads(capsys.readouterr().out)


def test_a_template_is_resized_shown_kept_and_listed(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file, data = tmp_path / "small.sutaru-template", tmp_path / "data"
    assert main(["template", "resize", "album-spread-18", "--size", "20x10in", "-o", str(file), "--json"]) == 0
    made = told(capsys)
    assert made["sheets"][0]["trim_mm"] == [508.0, 254.0]
    assert main(["template", "show", str(file), "--json"]) == 0
    assert told(capsys) == made
    first = made["sheets"][0]["openings"][0]
    assert (first["number"], first["kind"], len(first["page_outline_mm"])) == (1, "rectangle", 5)
    data.mkdir()
    assert main(["template", "keep", str(file), "--data", str(data), "--name", "Small spread", "--json"]) == 0
    assert told(capsys) == {"id": "small-spread", "revision": 1}
    assert main(["template", "list", "--data", str(data)]) == 0
    assert capsys.readouterr().out.splitlines()[0].split()[:4] == ["small-spread", "album", "508", "x"]


def test_commands_take_a_template_as_well_as_a_job(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    picture = tmp_path / "page.png"
    assert main(["render", "card-portrait", "--page", "1", "--ppi", "30", "-o", str(picture)]) == 0
    with Image.open(picture) as image:
        assert image.size == (307, 217)
    assert main(["check", "card-portrait"]) == 1
    assert "Opening 1 is empty." in capsys.readouterr().out


@pytest.mark.parametrize(("asked", "said"), [
    (["template", "show", "no-such"], "There is no template no-such."),
    (["template", "show", "no-such.sutaru-template"], "There is no file no-such.sutaru-template."),
    (["template", "resize", "album-spread-18", "--size", "2x1in", "-o", "x.sutaru-template"], "too small for the margins"),
    (["template", "keep", "card-portrait", "--data", "."], ""),
    (["template", "list", "--data", "no-such-folder"], "There is no folder no-such-folder."),
])  # fmt: skip
def test_what_cannot_be_is_one_sentence(asked: list[str], said: str, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(asked) == 2
    errors = capsys.readouterr().err
    assert said in errors
    assert errors.count("\n") == 1


def test_a_size_that_is_none_is_refused_with_an_example(capsys: pytest.CaptureFixture[str]) -> None:
    with pytest.raises(SystemExit):
        main(["template", "resize", "album-spread-18", "--size", "10x", "-o", "x"])
    assert "write it like 10x8in" in capsys.readouterr().err


def test_a_flat_picture_is_read_from_the_command_line(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    truth, picture, out = made(5), tmp_path / "flat.png", tmp_path / "flat.sutaru-template"
    Image.fromarray(as_flat(truth, (255, 255, 255))).save(picture)
    assert main(["read", str(picture), "-o", str(out), "--size", "13x9in", "--areas", "#ffffff", "--json"]) == 0
    read = told(capsys)
    assert read["areas"] == "#ffffff"
    assert read["trim_mm"] == [330.2, 228.6]
    assert len(read["openings"]) == len(truth.shapes)
    assert main(["template", "show", str(out)]) == 0
    assert f"{len(truth.shapes)} openings" in capsys.readouterr().out
    assert main(["read", str(tmp_path / "none.png"), "-o", str(out)]) == 2
    assert "There is no file" in capsys.readouterr().err


def test_a_page_is_written_for_other_programs_and_read_again(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    svg, ora, png, back = (tmp_path / f"wind.{kind}" for kind in ("svg", "ora", "png", "sutaru-template"))
    assert main(["write", "collage-wind", "-o", str(svg)]) == 0
    assert main(["read", str(svg), "-o", str(back), "--json"]) == 0
    read = told(capsys)
    assert (read["areas"], len(read["openings"]), read["notes"]) == ("names", 7, [])
    assert main(["template", "show", "collage-wind", "--json"]) == 0
    first = told(capsys)["sheets"][0]["openings"][0]
    assert read["openings"][0] == {"number": 1, "kind": "rectangle", "page_outline_mm": first["page_outline_mm"]}
    assert main(["write", "card-portrait", "--page", "2", "-o", str(ora), "--ppi", "40"]) == 0
    assert zipfile.is_zipfile(ora)
    assert main(["write", "card-portrait", "-o", str(png), "--ppi", "40", "--transparent"]) == 0
    with Image.open(png) as image:
        assert (image.mode, image.size) == ("RGBA", (409, 289))
        assert image.getpixel((4, 4))[3] == 0
    for asked, said in (
        (["-o", "x.doc"], "not written as .doc"),
        (["-o", str(svg), "--page", "9"], "There is no page 9"),
    ):
        assert main(["write", "card-portrait", *asked]) == 2
        assert said in capsys.readouterr().err


def test_a_labs_blank_is_read_as_a_guide(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    out = tmp_path / "blank.sutaru-template"
    assert main(["read", str(FILES / "gullwing-card-blank.pdf"), "--guide", "-o", str(out), "--json"]) == 0
    read = told(capsys)
    assert (read["areas"], read["trim_mm"], read["openings"]) == ("guide", [355.6, 127.0], [])
    flat = tmp_path / "wind.sutaru-template"
    assert main(["read", str(FILES / "wind-flat.jpg"), "-o", str(flat)]) == 0
    assert "7 openings by #b4b4b4" in capsys.readouterr().out
