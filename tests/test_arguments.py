"""The command line: every argument is looked at before work begins, and no exception reaches a person raw."""

import subprocess
import sys
from pathlib import Path

import pytest

from sutaru.command_line.grammar import parser
from sutaru.command_line.main import main
from tests.api.asking import Pile

ORDER = ["order", "JOB", "--name", "Ola", "--street", "4 Pier Lane", "--postcode", "SK4 2PL", "--place", "Skerry Sands"]
ODD = [
    ["calendar", "calendar-wall", "-o", "OUT", "--from", "2027-01", "--country", "Germany"],
    ["calendar", "calendar-wall", "-o", "OUT", "--from", "0000-01"],
    ["calendar", "calendar-wall", "-o", "OUT", "--from", "9999-12"],
    ["calendar", "calendar-wall", "-o", "OUT", "--from", "2027-13"],
    ["calendar", "calendar-wall", "-o", "OUT", "--from", "2027-01", "--dates", "PHOTO"],
    ["calendar", "calendar-wall", "-o", "OUT", "--from", "2027-01", "--months", "0"],
    ["calendar", "calendar-wall", "-o", "OUT", "--from", "2027-01", "--months", "\N{SUPERSCRIPT TWO}"],
    ["calendar", "calendar-wall", "-o", "OUT", "--from", "2027-01", "--locale", "../../x"],
    ["calendar", "calendar-wall", "-o", "OUT", "--from", "2027-01", "--region", "x" * 900],
    ["contact", "PHOTO", "-o", "OUT", "--columns", "0"],
    ["contact", "PHOTO", "-o", "OUT", "--columns", "-3"],
    ["contact", "PHOTO", "-o", "OUT", "--sheet", "0x0mm"],
    ["contact", "PHOTO", "-o", "OUT", "--sheet", "nanxnanmm"],
    ["book", "shoreline", "PHOTO", "-o", "OUT", "--pages", "0"],
    ["book", "shoreline", "PHOTO", "-o", "OUT", "--pages", "-2"],
    ["book", "shoreline", "PHOTO", "-o", "OUT", "--pages", "100000000000000000000"],
    ["book", "shoreline", "PHOTO", "-o", "OUT", "--title", "x" * 5000],
    ["book", "shoreline", "PHOTO", "-o", "OUT", "--per-page", "nan"],
    ["book", "shoreline", "PHOTO", "-o", "OUT", "--white", "inf"],
    ["book", "album-spread-18", "PHOTO", "-o", "OUT", "--size", "1x1in", "--pages", "nan"],
    ["impose", "JOB", "-o", "OUT", "--sheet", "450x320mm", "--margin", "nan"],
    ["impose", "JOB", "-o", "OUT", "--sheet", "450x320mm", "--copies", "0"],
    ["impose", "JOB", "-o", "OUT", "--sheet", "450x320mm", "--creep", "-1"],
    ["render", "JOB", "--page", "0", "--ppi", "72", "-o", "OUT"],
    ["render", "JOB", "--page", "1", "--ppi", "nan", "-o", "OUT"],
    ["write", "JOB", "-o", "OUT.svg", "--page", "x"],
    ["serve", "--port", "99999"],
    ["lab", "--clock", "0"],
    ["lab", "--port", "-1"],
    [*ORDER, "--country", "GB", "--key", "zz"],
    [*ORDER, "--country", "Germany"],
    [*ORDER, "--country", ""],
    [*ORDER, "--country", "GB", "--copies", "0"],
    [*ORDER, "--country", "GB", "--paper", "x" * 900],
    ["verify", "PHOTO", "--lab", "nobody"],
    ["verify", "OUT"],
    ["export", "PHOTO", "-o", "OUT"],
    ["check", "PHOTO"],
    ["batch", "card-portrait", "PHOTO", "-o", "OUT"],
    ["read", "JOB", "-o", "OUT", "--size", "999999x1mm"],
    ["watch", "OUT/shore", "--template", "x" * 900],
    ["template", "show", "PHOTO"],
    ["doctor", "--data", "PHOTO"],
]


@pytest.fixture(scope="module")
def bundle(tmp_path_factory: pytest.TempPathFactory, pile: Pile) -> Path:
    target = tmp_path_factory.mktemp("job") / "card.sutaru"
    assert main(["fill", "card-portrait", str(pile[0][0]), "-o", str(target)]) == 0
    return target


@pytest.mark.parametrize("asked", ODD, ids=lambda asked: " ".join(asked)[:60])
def test_what_makes_no_sense_is_a_sentence(
    asked: list[str], bundle: Path, pile: Pile, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    places = {"JOB": str(bundle), "PHOTO": str(pile[0][0]), "OUT": str(tmp_path / "out"),
              "OUT/shore": str(tmp_path / "shore"), "OUT.svg": str(tmp_path / "out.svg")}  # fmt: skip
    try:
        code = main([places.get(word, word) for word in asked])
    except SystemExit as ended:
        code = int(ended.code or 0)
    told = capsys.readouterr().err
    assert code == 2, told
    assert told.startswith("sutaru: ")
    assert told.count("\n") == 1
    assert "nobody foresaw" not in told
    assert "Traceback" not in told
    assert "Error" not in told


def test_a_job_is_called_as_its_file_whatever_that_is_called(
    pile: Pile, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    for name in ("x" * 200, "\t", "Ola\n Brandvik", "\udcff"):
        assert main(["fill", "card-portrait", str(pile[0][0]), "-o", str(tmp_path / f"{name}.sutaru")]) == 0
    assert capsys.readouterr().err == ""


def test_what_nobody_foresaw_is_one_sentence_and_its_place_on_request(
    bundle: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    monkeypatch.setattr("sutaru.core.checks.check_job", lambda *asked, **more: 1 / 0)
    assert main(["check", str(bundle)]) == 2
    assert capsys.readouterr().err == (
        "sutaru: This failed in a way that nobody foresaw. Run it with SUTARU_TRACE=1 to see where.\n"
    )
    monkeypatch.setenv("SUTARU_TRACE", "1")
    with pytest.raises(ZeroDivisionError):
        main(["check", str(bundle)])


def test_who_listens_no_more_ends_it_without_a_word() -> None:
    command = [sys.executable, "-m", "sutaru", "shelf", "--json"]
    shown = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE)
    assert shown.stdout is not None
    shown.stdout.close()
    _, told = shown.communicate(timeout=60)
    assert told == b""


def test_numbers_are_read_as_people_write_them() -> None:
    args = parser().parse_args(["book", "t", "p", "-o", "x", "--white", "0,25", "--per-page", "2.5"])
    assert (args.white, args.per_page) == (0.25, 2.5)


LOADED = (
    "import sys; from sutaru.command_line.main import main; main(sys.argv[1:]); print(*sys.modules, file=sys.stderr)"
)


def loaded_by(*words: str) -> set[str]:
    """The modules that a command loads, from the command typed to its end."""
    ended = subprocess.run(
        [sys.executable, "-c", LOADED, *words], capture_output=True, text=True, check=True, timeout=120
    )
    return set(ended.stderr.split())


def test_commands_load_what_they_use_and_nothing_else(bundle: Path, tmp_path: Path) -> None:
    of_shelf = loaded_by("shelf")
    assert not {name for name in of_shelf if name.startswith("sutaru.core.")} - {"sutaru.core", "sutaru.core.errors"}
    assert not of_shelf & {"numpy", "pydantic", "PIL"}
    of_export = loaded_by("export", str(bundle), "-o", str(tmp_path / "out"))
    assert {"numpy", "cv2", "sutaru.core.press.raster"} <= of_export
    needless = {
        "numba", "pikepdf", "fontTools.subset", "holidays", "pillow_heif", "fastapi", "scipy.optimize", "distributed",
        "onnxruntime", "sutaru.core.books", "sutaru.core.edits", "sutaru.core.press.pdf_pages", "sutaru.core.formats.foreign",
    }  # fmt: skip
    assert not of_export & needless
