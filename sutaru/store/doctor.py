"""Looks a data folder over, and mends what can be mended: the database, the states of jobs, the files of photos."""

import re
import sqlite3
from collections.abc import Callable, Iterator
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path

from ..core.document import Job
from ..core.errors import SutaruError
from ..core.paint import Assets
from .database import Database
from .jobs import Jobs
from .parts import Parts
from .photos import Photos

NAME = "sutaru.sqlite3"


@dataclass(frozen=True)
class Complaint:
    """Something wrong, what was or can be done about it, and whether it is mended."""

    sentence: str
    remedy: str
    mended: bool = False


def sound(path: Path) -> bool:
    """Whether a file is a database without damage (SQLite, "PRAGMA integrity_check")."""
    try:
        with closing(sqlite3.connect(f"file:{path}?mode=ro", uri=True)) as db:
            return bool(db.execute("PRAGMA integrity_check").fetchone()[0] == "ok")
    except sqlite3.Error:
        return False


def examined(folder: Path, repair: bool, works: Callable[[Job, Assets], object]) -> Iterator[Complaint]:
    """What is wrong in a data folder. With ``repair`` it is mended as it is told, a copy of the database kept before.

    ``works`` raises when a job, with these assets, cannot be shown. Raises StoreFailed when the folder is in use, or
    cannot be read at all.
    """
    path = folder / NAME
    if not path.exists():
        yield Complaint(f"There is no database in {folder}.", "Give the folder that Sutaru was started with by --data.")
        return
    if not sound(path):
        copies = [copy for copy in sorted(folder.glob(f"{NAME}.day-*"), reverse=True) if sound(copy)]
        if not copies:
            yield Complaint(
                "The database is damaged, and there is no sound copy of it.",
                "Put back a copy of the whole folder, or begin with another by --data.",
            )
            return
        day = copies[0].name.rsplit("day-", 1)[-1]
        if not repair:
            yield Complaint("The database is damaged.", f"With --repair the copy of {day} takes its place.")
            return
        for old in (path, path.with_name(NAME + "-wal"), path.with_name(NAME + "-shm")):
            if old.exists():
                old.replace(old.with_name(old.name + ".damaged"))
        unfinished = path.with_name(NAME + ".part")
        unfinished.write_bytes(copies[0].read_bytes())
        unfinished.replace(path)
        yield Complaint("The database was damaged.", f"The copy of {day} took its place.", mended=True)
    database = Database(path)
    try:
        if repair:
            database.keep_copy_before_repair()
        photos = Photos(database, folder / "photos")
        parts = Parts(database)
        yield from _jobs(Jobs(database, parts, photos), repair, lambda job: works(job, parts.asset))
        yield from _files(database, photos, repair)
    finally:
        database.close()


def _jobs(jobs: Jobs, repair: bool, works: Callable[[Job], object]) -> Iterator[Complaint]:
    for identity, name in jobs.every():
        try:
            works(jobs.head(identity).job)
        except SutaruError as error:
            if not repair:
                yield Complaint(f"The job {name} ({identity}) cannot be shown: {error.sentence}",
                                "With --repair it goes back to its last good state.")  # fmt: skip
                continue
            try:
                head = jobs.last_good(identity, works)
                yield Complaint(f"The job {name} ({identity}) could not be shown.",
                                f"It went back to its state {head.number}.", mended=True)  # fmt: skip
            except SutaruError as worse:
                yield Complaint(f"The job {name} ({identity}): {worse.sentence}", worse.remedy)


def _files(database: Database, photos: Photos, repair: bool) -> Iterator[Complaint]:
    with database.reading() as db:
        known = {row["checksum"] for row in db.execute("SELECT checksum FROM photo WHERE proxy_width > 0")}
    for checksum in sorted(known):
        if not photos.path(checksum).exists():
            yield Complaint(f"The original of the photo {checksum[:16]} is missing.", "Bring that photo in again.")
    for path in sorted(photos.path("0" * 64).parent.parent.glob("[0-9a-f][0-9a-f]/*")):
        if (found := re.match(r"[0-9a-f]{64}", path.name)) is None or found.group() not in known:
            if repair:
                path.unlink()
            yield Complaint(f"The file {path.name[:24]} belongs to no photo.",
                            "It was deleted." if repair else "With --repair it is deleted.", mended=repair)  # fmt: skip
