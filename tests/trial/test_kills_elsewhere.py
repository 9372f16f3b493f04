"""SIGKILL at random in what runs beside the server: a batch, an order from the command line, a repair, the copy of the day."""

import hashlib
import json
import random
import shutil
import signal
import subprocess
import sys
from contextlib import closing
from datetime import date
from pathlib import Path

import pytest

from sutaru.command_line.main import main
from sutaru.core.document import Photo
from sutaru.store import Database, Jobs, Parts, Photos
from sutaru.store.copies import NAME, day_copies, is_sound
from tests.api.asking import bring, edit, start
from tests.api.test_orders import Running
from tests.serving import Served
from tests.trial import times

KILLS = times(2, 50)


def killed(command: list[str], after_s: float) -> int | None:
    """Runs a command, and kills it after a while; its exit code when it ended before."""
    process = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.STDOUT)
    try:
        process.communicate(timeout=after_s)
        return process.returncode
    except subprocess.TimeoutExpired:
        process.send_signal(signal.SIGKILL)
        process.communicate()
        return None


def sutaru(*words: object) -> list[str]:
    return [sys.executable, "-m", "sutaru", *map(str, words)]


def sha256(path: Path) -> str:
    return hashlib.sha256(path.read_bytes()).hexdigest()


def test_a_batch_that_is_killed_leaves_whole_files_and_can_be_run_again(
    tmp_path: Path, pile: list[tuple[Path, Photo]], capsys: pytest.CaptureFixture[str]
) -> None:
    by, out = random.Random(3), tmp_path / "out"
    listed = tmp_path / "list.csv"
    listed.write_text("name,photo\n" + "".join(f"Family {n},{pile[n][0].name}\n" for n in range(6)))
    command = ["batch", "card-portrait", str(listed), "--photos", str(pile[0][0].parent), "-o", str(out)]
    for _ in range(KILLS):
        killed(sutaru(*command), by.uniform(2.0, 9.0))
        for path in out.glob("[!.]*.jpg"):
            assert path.read_bytes()[-2:] == b"\xff\xd9", f"{path.name} is half a file"
        if (out / "manifest.json").exists():
            told = json.loads((out / "manifest.json").read_text())
            assert all((out / entry["file"]).exists() for entry in told["files"])
    assert main(command) == 0
    told = json.loads((out / "manifest.json").read_text())
    assert len(told["files"]) == 12
    assert not list(out.glob(".unfinished*"))
    assert all(sha256(out / entry["file"]) == entry["sha256"] for entry in told["files"])
    capsys.readouterr()


def test_an_order_whose_sender_is_killed_is_one_order(tmp_path: Path, pile: list[tuple[Path, Photo]]) -> None:
    by, lab = random.Random(5), Running(tmp_path / "lab")
    bundle = tmp_path / "card.sutaru"
    try:
        assert main(["fill", "card-portrait", str(pile[0][0]), "-o", str(bundle)]) == 0
        command = sutaru(
            "order", bundle, "--to", lab.address, "--name", "Ola", "--street", "4 Pier Lane", "--postcode", "25938",
            "--place", "Skerry Sands", "--country", "DE", "--key", "ab" * 16,
        )  # fmt: skip
        for _ in range(KILLS):
            killed(command, by.uniform(1.0, 6.0))
        done = subprocess.run(command, capture_output=True, text=True, timeout=120, check=False)
        assert done.returncode == 0, done.stderr
        assert len(list((tmp_path / "lab" / "orders").iterdir())) == 1
    finally:
        lab.end()


@pytest.fixture(scope="module")
def studio(tmp_path_factory: pytest.TempPathFactory, pile: list[tuple[Path, Photo]]) -> tuple[Path, set[str]]:
    """A data folder with its copy of the day, and the jobs in it."""
    folder = tmp_path_factory.mktemp("studio")
    server = Served(folder)
    jobs = set()
    for n in range(2):
        jobs.add(job := start(server.client, "mockup-wall", name=f"Job {n}"))
        for path, _ in pile[2 * n : 2 * n + 2]:
            bring(server.client, job, path)
        edit(server.client, job, op="fill")
    server.end(signal.SIGTERM)
    with closing(Database(folder / NAME)) as database:
        database.keep_copy(date(2026, 11, 26))
    return folder, jobs


def test_a_repair_that_is_killed_loses_nothing_and_can_be_run_again(
    studio: tuple[Path, set[str]], tmp_path: Path
) -> None:
    source, jobs = studio
    by = random.Random(9)
    for kill in range(KILLS):
        folder = tmp_path / f"data-{kill}"
        shutil.copytree(source, folder)
        with (folder / NAME).open("r+b") as file:
            file.seek(4096 * by.randrange(1, 20))
            file.write(bytes(4096 * 3))
        originals = {path.name for path in (folder / "photos").rglob("*") if len(path.name) == 64}
        for _ in range(2):
            killed(sutaru("doctor", "--data", folder, "--repair"), by.uniform(0.5, 4.0))
            assert (folder / NAME).exists(), "at no moment is there no database"
        subprocess.run(sutaru("doctor", "--data", folder, "--repair"), capture_output=True, timeout=300, check=False)
        assert {path.name for path in folder.rglob("*") if len(path.name) == 64} == originals
        with closing(Database(folder / NAME)) as database:
            store = Jobs(database, Parts(database), Photos(database, folder / "photos"))
            assert {identity for identity, _ in store.list_all()} == jobs
            for identity in jobs:
                store.head(identity)
        shutil.rmtree(folder)


COPIES = """
import sys
from datetime import date, timedelta
from pathlib import Path
from sutaru.store import Database
from sutaru.store.copies import NAME
database = Database(Path(sys.argv[1]) / NAME)
n = 0
while True:
    n += 1
    with database.transaction() as db:
        db.execute("INSERT OR REPLACE INTO recipe (name, document, kept) VALUES ('r', ?, '')", ["x" * (n % 900)])
    database.keep_copy(date(2026, 11, 20) + timedelta(n % 4))
"""


def test_a_copy_of_the_day_that_is_cut_short_is_none(studio: tuple[Path, set[str]], tmp_path: Path) -> None:
    by, folder = random.Random(11), tmp_path / "data"
    shutil.copytree(studio[0], folder)
    for _ in range(2 * KILLS):
        killed([sys.executable, "-c", COPIES, str(folder)], by.uniform(0.8, 2.5))
        assert day_copies(folder)
        assert all(is_sound(copy) for copy in day_copies(folder))
        assert is_sound(folder / NAME) or (folder / f"{NAME}-wal").exists()
    with closing(Database(folder / NAME)) as database:
        database.keep_copy(date(2026, 11, 29))
    assert not list(folder.glob("*.part"))
