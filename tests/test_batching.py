"""``sutaru batch``: many customers from a list, or from a folder for each, to finished files."""

import json
import shutil
from pathlib import Path

import pytest
from PIL import Image

from sutaru.command_line.main import main
from sutaru.core.formats.bundle import Bundle
from sutaru.core.verifying.print_files import verify
from tests.api.asking import Pile
from tests.conftest import LABS


@pytest.fixture
def folder(pile: Pile, tmp_path: Path) -> Path:
    made = tmp_path / "photos"
    made.mkdir()
    for path, _ in pile[:4]:
        shutil.copy(path, made)
    return made


def told(capsys: pytest.CaptureFixture[str]) -> dict:
    return json.loads(capsys.readouterr().out)


def test_a_list_becomes_finished_files(
    folder: Path, pile: Pile, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    listed = tmp_path / "list.csv"
    listed.write_text(
        "Family,Photo,greeting,names,Copies\nBrandvik,festival-01,Fair winds,Ola,25\nHolm,festival-99,Moin,Jette,1\n"
        "Moor,festival-02.jpg,Thank you,Thessaly,3\n"
    )
    out = tmp_path / "out"
    ask = ["batch", "card-portrait", str(listed), "--photos", str(folder), "-o", str(out), "--format", "png", "--json"]
    assert main(ask) == 1  # one row names a photo that is not there
    said = told(capsys)
    assert said["columns"]["Photo"].startswith("photo outside")
    assert [(row["name"], row["state"], len(row["files"])) for row in said["rows"]] == [
        ("Brandvik", "new", 2), ("Holm", "failed", 0), ("Moor", "new", 2),
    ]  # fmt: skip
    assert said["rows"][1]["wrong"] == ["There is no photo festival-99 in the pile."]
    manifest = json.loads((out / "manifest.json").read_text())
    assert manifest["copies"] == 28
    assert {(entry["edition"], entry["copies"]) for entry in manifest["files"]} == {("Brandvik", 25), ("Moor", 3)}
    with Image.open(out / said["rows"][0]["files"][0]) as first, Image.open(out / said["rows"][2]["files"][0]) as other:
        assert first.tobytes() != other.tobytes()
    # What was made is a job: the list runs again on it.
    listed.write_text(listed.read_text().replace("festival-99", "festival-05").replace("Fair winds", "Fair wind"))
    again = ["batch", str(out / "job.sutaru"), str(listed), "-o", str(tmp_path / "again"), "--format", "png", "--json"]
    assert main(again) == 1
    assert [row["state"] for row in told(capsys)["rows"]] == [
        "changed",
        "failed",
        "same",
    ]  # that photo was not brought in
    (folder / "festival-05.jpg").write_bytes(pile[5][0].read_bytes())
    assert main([*again[:3], "--photos", str(folder), *again[3:]]) == 0
    assert [row["state"] for row in told(capsys)["rows"]] == ["changed", "new", "same"]
    bundle = Bundle(tmp_path / "again" / "job.sutaru")
    assert [own.name for own in bundle.job.editions] == ["Brandvik", "Moor", "Holm"]


def test_a_folder_for_each_customer(folder: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    each = tmp_path / "customers"
    for name, photo in (("Brandvik", "festival-00.jpg"), ("Holm", "festival-01.jpg")):
        (each / name).mkdir(parents=True)
        shutil.copy(folder / photo, each / name / "best.jpg")  # called alike
    (each / "Moor").mkdir()
    out = tmp_path / "out"
    main(["batch", "card-portrait", str(each), "-o", str(out), "--format", "pdf", "--lab", "samphire-press", "--json"])
    said = told(capsys)
    assert [(row["name"], row["state"], row["files"]) for row in said["rows"]][:2] == [
        ("Brandvik", "new", ["Brandvik.pdf"]), ("Holm", "new", ["Holm.pdf"]),
    ]  # fmt: skip
    assert said["rows"][2]["stops"]  # without photos it is not to be printed
    report = verify(out / "Brandvik.pdf", LABS["samphire-press"])
    assert (report.standard, report.pages) == ("PDF/X-4", 2)


def test_what_cannot_be_is_said(folder: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    listed = tmp_path / "list.csv"
    listed.write_text("who,photo\nOla,nothing-at-all\n")
    for ask, why in (
        (["batch", "card-portrait", str(tmp_path / "none.csv"), "-o", str(tmp_path)], "There is no list"),
        (
            ["batch", "card-portrait", str(listed), "-o", str(tmp_path), "--photos", "nowhere"],
            "There is no folder nowhere",
        ),
        (["batch", "card-portrait", str(listed), "-o", str(tmp_path)], "No row of this list works"),
        (["batch", "card-portrait", str(listed), "-o", str(tmp_path), "--lab", "x"], "There is no lab sheet x"),
        (["batch", "no-template", str(listed), "-o", str(tmp_path)], "There is no template no-template"),
        (["batch", "card-portrait", str(folder), "-o", str(tmp_path)], "There are no folders"),
    ):
        assert main(ask) == 2
        assert why in capsys.readouterr().err
