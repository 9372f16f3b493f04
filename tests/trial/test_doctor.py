"""``sutaru doctor --repair`` on many kinds of damage: no photo is lost, and a job only where no readable row and no copy holds
it, which is said."""

import random
import re
import shutil
import signal
import sqlite3
import subprocess
import sys
from collections.abc import Callable
from contextlib import closing
from datetime import date
from pathlib import Path

import pytest

from sutaru.core.document import Photo
from sutaru.store import Database, Jobs, Parts, Photos
from sutaru.store.copies import NAME
from tests.api.asking import bring, edit, filled_job, start
from tests.serving import Served
from tests.trial import LONG

PAGE = 4096
Damage = Callable[[Path, random.Random], None]


def _pages(count: int, fill: Callable[[random.Random], bytes], first: int = 1) -> Damage:
    """So many pages of the database overwritten, the first page of the file only where ``first`` is 0."""

    def damage(folder: Path, by: random.Random) -> None:
        path = folder / NAME
        data = bytearray(path.read_bytes())
        for _ in range(count):
            at = PAGE * by.randrange(first, len(data) // PAGE)
            data[at : at + PAGE] = fill(by)
        path.write_bytes(data)

    return damage


def _zeros(by: random.Random) -> bytes:
    return bytes(PAGE)


def _noise(by: random.Random) -> bytes:
    return by.randbytes(PAGE)


def _header(folder: Path, by: random.Random) -> None:
    with (folder / NAME).open("r+b") as file:
        file.write(by.randbytes(100))


def _first_page(folder: Path, by: random.Random) -> None:
    with (folder / NAME).open("r+b") as file:
        file.write(bytes(PAGE))


def _cut(share: float) -> Damage:
    def damage(folder: Path, by: random.Random) -> None:
        data = (folder / NAME).read_bytes()
        (folder / NAME).write_bytes(data[: int(len(data) * share) // PAGE * PAGE + 17])

    return damage


def _bits(count: int) -> Damage:
    def damage(folder: Path, by: random.Random) -> None:
        data = bytearray((folder / NAME).read_bytes())
        for _ in range(count):
            data[by.randrange(100, len(data))] ^= 1 << by.randrange(8)
        (folder / NAME).write_bytes(data)

    return damage


def _all_torn(folder: Path, by: random.Random) -> None:
    (folder / NAME).write_bytes(b"torn" * 9000)


def _table_root(table: str) -> Damage:
    """The first page of a table, so that all of its rows are out of reach but by other ways."""

    def damage(folder: Path, by: random.Random) -> None:
        with closing(sqlite3.connect(folder / NAME)) as db:
            (page,) = db.execute("SELECT rootpage FROM sqlite_schema WHERE name = ?", [table]).fetchone()
        with (folder / NAME).open("r+b") as file:
            file.seek(PAGE * (page - 1))
            file.write(bytes(PAGE))

    return damage


def _log_noise(folder: Path, by: random.Random) -> None:
    _pages(3, _zeros)(folder, by)
    (folder / f"{NAME}-wal").write_bytes(by.randbytes(50_000))


def _gone(folder: Path, by: random.Random) -> None:
    (folder / NAME).unlink()


def _called_alike(folder: Path, by: random.Random) -> None:
    """What an earlier look had left beside a copy: it is none."""
    for copy in folder.glob(f"{NAME}.day-*"):
        (folder / f"{copy.name}-wal").touch()
        (folder / f"{copy.name}-shm").write_bytes(bytes(32768))
    _pages(3, _noise)(folder, by)


def _written(at: int, data: bytes) -> Damage:
    """Bytes of the file's head altered."""

    def damage(folder: Path, by: random.Random) -> None:
        with (folder / NAME).open("r+b") as file:
            file.seek(at)
            file.write(data)

    return damage


def _changed(change: Callable[[bytes, random.Random], bytes]) -> Damage:
    """The whole file, altered."""

    def damage(folder: Path, by: random.Random) -> None:
        path = folder / NAME
        path.write_bytes(change(path.read_bytes(), by))

    return damage


def _swapped(data: bytes, by: random.Random) -> bytes:
    pages = [data[at : at + PAGE] for at in range(0, len(data), PAGE)]
    one, other = by.sample(range(1, len(pages)), 2)
    pages[one], pages[other] = pages[other], pages[one]
    return b"".join(pages)


def _every(step: int) -> Callable[[bytes, random.Random], bytes]:
    def change(data: bytes, by: random.Random) -> bytes:
        found = bytearray(data)
        for page in range(step, len(data) // PAGE, step):
            found[page * PAGE : (page + 1) * PAGE] = bytes(PAGE)
        return bytes(found)

    return change


def _heads(data: bytes, by: random.Random) -> bytes:
    """The heads of ten pages: what kind they are, and where on them their rows lie."""
    found = bytearray(data)
    for page in by.sample(range(1, len(data) // PAGE), 10):
        found[page * PAGE : page * PAGE + 12] = by.randbytes(12)
    return bytes(found)


def _run_sql(*sql: str) -> Damage:
    """Rows altered or gone in a file that is sound by itself."""

    def damage(folder: Path, by: random.Random) -> None:
        with closing(sqlite3.connect(folder / NAME)) as db:
            db.execute("PRAGMA foreign_keys = OFF")
            for one in sql:
                db.execute(one)
            db.commit()
            db.execute("PRAGMA wal_checkpoint(TRUNCATE)")

    return damage


def _index_roots(folder: Path, by: random.Random) -> None:
    with closing(sqlite3.connect(folder / NAME)) as db:
        pages = [page for (page,) in db.execute("SELECT rootpage FROM sqlite_schema WHERE type = 'index'")]
    with (folder / NAME).open("r+b") as file:
        for page in pages:
            file.seek(PAGE * (page - 1))
            file.write(bytes(PAGE))


def _another_database(folder: Path, by: random.Random) -> None:
    (folder / NAME).unlink()
    with closing(sqlite3.connect(folder / NAME)) as db:
        db.execute("CREATE TABLE recipe (name TEXT)")
        db.commit()


def _beside(suffix: str, data: bytes) -> Damage:
    """A file that SQLite reads beside the database is another's; and a page of the database is torn."""

    def damage(folder: Path, by: random.Random) -> None:
        _pages(1, _noise)(folder, by)
        (folder / f"{NAME}{suffix}").write_bytes(data)

    return damage


def _copy_torn(folder: Path, by: random.Random) -> None:
    for copy in folder.glob(f"{NAME}.day-*"):
        copy.write_bytes(copy.read_bytes()[: 5 * PAGE])
    _pages(3, _noise)(folder, by)


def _photo_file(change: Callable[[Path], object]) -> Damage:
    """What is made of an original's small pictures is damaged, and a page of the database."""

    def damage(folder: Path, by: random.Random) -> None:
        small = [path for path in sorted((folder / "photos").rglob("*")) if path.is_file() and len(path.name) != 64]
        for path in small[:6]:
            change(path)
        _pages(1, _noise)(folder, by)

    return damage


KINDS: dict[str, Damage] = {
    "three pages": _pages(3, _noise), "called alike": _called_alike, "job table": _table_root("job"), "torn": _all_torn,
    "photo table": _table_root("photo"), "bits": _bits(40),
    "one page": _pages(1, _zeros), "ten pages": _pages(10, _zeros), "a third": _pages(40, _noise), "header": _header,
    "first page": _first_page, "cut at half": _cut(0.5), "cut at nine tenths": _cut(0.9), "cut at a tenth": _cut(0.1),
    "state table": _table_root("state"), "part table": _table_root("part"), "pile table": _table_root("in_pile"),
    "order table": _table_root("print_order"), "template table": _table_root("template"), "task table": _table_root("task"),
    "many bits": _bits(2000), "log": _log_noise, "gone": _gone,
    "page size": _written(16, b"\x02\x00"), "free list": _written(32, b"\x00\x00\x00\x07\x00\x00\x00\x09"),
    "text encoding": _written(56, b"\x00\x00\x00\x03"), "newer format": _written(18, b"\x09\x09"),
    "page count": _written(28, b"\x00\x00\x00\x02"), "pages swapped": _changed(_swapped),
    "a page too many": _changed(lambda data, by: data[: 9 * PAGE] + by.randbytes(PAGE) + data[9 * PAGE :]),
    "a page missing": _changed(lambda data, by: data[: 9 * PAGE] + data[10 * PAGE :]),
    "every tenth page": _changed(_every(10)), "every third page": _changed(_every(3)), "heads of pages": _changed(_heads),
    "last page": _changed(lambda data, by: data[:-PAGE] + bytes(PAGE)), "longer": _changed(lambda data, by: data + data),
    "empty": _changed(lambda data, by: b""), "one page of it": _changed(lambda data, by: data[:PAGE]),
    "a picture": _changed(lambda data, by: b"\xff\xd8\xff\xe0" + by.randbytes(40_000)),
    "as text": _changed(lambda data, by: data.replace(b"\n", b"\r\n")), "indexes": _index_roots,
    "another database": _another_database, "no states": _run_sql("DELETE FROM state WHERE unicode(substr(root, 2)) % 2"),
    "no parts": _run_sql("DELETE FROM part WHERE unicode(substr(name, 2)) % 3 = 0"), "no table": _run_sql("DROP TABLE in_pile"),
    "roots of jobs": _run_sql("UPDATE state SET root = 'nothing' WHERE unicode(substr(root, 2)) % 4 = 0"),
    "journal": _beside("-journal", b"\xd9\xd5\x05\xf9\x20\xa1\x63\xd7" + bytes(600)),
    "shared memory": _beside("-shm", b"torn" * 8192), "copy torn": _copy_torn,
    "small pictures": _photo_file(lambda path: path.write_bytes(b"torn")),
}  # fmt: skip
CASES = [(kind, copy, seed) for seed in range(2) for copy in (True, False) for kind in KINDS]
SHORT = [
    ("called alike", True, 0),
    ("job table", False, 0),
    ("ten pages", True, 0),
    ("torn", True, 0),
    ("no parts", True, 0),
    ("empty", False, 0),
]


@pytest.fixture(scope="module")
def studio(tmp_path_factory: pytest.TempPathFactory, pile: list[tuple[Path, Photo]]) -> tuple[Path, dict[str, str]]:
    """A data folder of which a copy was made in the middle of the day, killed at work; its jobs, with their names."""
    folder = tmp_path_factory.mktemp("studio")
    server, names = Served(folder), {}
    for n, template in enumerate(("mockup-wall", "collage-shore", "card-portrait")):
        job = start(server.client, template, name=f"Morning {n}")
        for path, _ in pile[3 * n : 3 * n + 3]:
            bring(server.client, job, path)
        edit(server.client, job, op="fill")
        names[job] = f"Morning {n}"
    server.end(signal.SIGTERM)
    with closing(Database(folder / NAME)) as database:
        database.keep_copy(date(2026, 11, 26))
    server = Served(folder)
    for n in range(3):
        job = filled_job(server.client, "album-spread-6", pile[9 + 3 * n : 12 + 3 * n], name=f"Afternoon {n}")
        for k in range(40):
            edit(server.client, job, op="rename", name=f"Afternoon {n}, {k}", customer="", order_number="")
        names[job] = f"Afternoon {n}, 39"
    server.end(signal.SIGKILL)
    return folder, names


def _originals(folder: Path) -> set[str]:
    return {path.name for path in folder.rglob("*") if re.fullmatch("[0-9a-f]{64}", path.name)}


def _databases(folder: Path) -> dict[str, bytes]:
    """The database with its log, and its copies; what SQLite keeps in memory that is shared is nobody's data."""
    return {path.name: path.read_bytes() for path in folder.glob(f"{NAME}*") if not path.name.endswith("-shm")}


@pytest.mark.parametrize(("kind", "copy", "seed"), CASES if LONG else SHORT)
def test_a_repair_loses_no_photo_and_says_which_job(
    kind: str, copy: bool, seed: int, studio: tuple[Path, dict[str, str]], tmp_path: Path
) -> None:
    source, names = studio
    folder = tmp_path / "data"
    shutil.copytree(source, folder)
    for day in folder.glob(f"{NAME}.day-*"):
        if not copy or day.name != f"{NAME}.day-2026-11-26":
            day.unlink()
    with closing(
        sqlite3.connect(folder / NAME)
    ) as db:  # the log comes into the file, so that the damage meets all of it
        db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    photos = _originals(folder)
    KINDS[kind](folder, random.Random(f"{kind} {seed}"))
    before = _databases(folder)

    def doctor(*more: str) -> tuple[int, str]:
        command = [sys.executable, "-m", "sutaru", "doctor", "--data", str(folder), *more]
        done = subprocess.run(command, capture_output=True, text=True, timeout=300, check=False)
        assert "Traceback" not in done.stderr, done.stderr
        return done.returncode, done.stdout

    code, _ = doctor()
    assert _databases(folder) == before, "a look changes nothing"
    code, told = doctor("--repair")
    assert _originals(folder) == photos, told
    lost = set(re.findall(r"The job ([0-9a-f]{12}) is lost", told))
    hopeless = "no job can be read of it, and there is no sound copy" in told or told.startswith(
        "■ There is no database"
    )
    if hopeless:
        assert not copy
        assert code == 1
        return
    assert code == (1 if "■" in told else 0)
    with closing(Database(folder / NAME)) as database:
        jobs = Jobs(database, Parts(database), Photos(database, folder / "photos"))
        here = dict(jobs.list_all())
        assert here.keys() | lost >= names.keys() or "is lost" in told or "are lost" in told, told
        if copy:
            assert {job for job, name in names.items() if name.startswith("Morning")} <= here.keys(), told
        if kind in ("three pages", "called alike", "one page", "job table", "photo table"):
            # Without a copy, a page that held all states of one job takes that job along: it is said, and nothing else is lost.
            assert len(lost) <= (0 if copy else 3), told
            assert here.keys() | lost == names.keys()
        unreadable = set(re.findall(r"\(([0-9a-f]{12})\): No state of this job can be read", told))
        for job in here.keys() - unreadable:
            jobs.head(job)
        if copy:
            assert not unreadable & {job for job, name in names.items() if name.startswith("Morning")}, told
    code_again, again = doctor()
    assert code_again == 0 or unreadable or "original of the photo" in again, again
