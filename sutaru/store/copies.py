"""Copies of the database beside it: the newest sound state of each day, made after every hour with changes; seven days are kept.

A copy is whole or not there, and is looked over before it takes the place of an earlier one.
"""

import re
import sqlite3
from contextlib import closing
from datetime import date
from pathlib import Path

NAME = "sutaru.sqlite3"
KEPT_DAYS = 7
_DAY = re.compile(re.escape(NAME) + r"\.day-(\d{4}-\d{2}-\d{2})")


def is_sound(path: Path) -> bool:
    """Whether a file that nobody writes to is a database of jobs without damage. Nothing is written, not even beside it."""
    try:
        with closing(sqlite3.connect(f"{path.absolute().as_uri()}?immutable=1", uri=True)) as db:
            return is_undamaged(db)
    except (sqlite3.Error, UnicodeDecodeError):  # what it says of damage may name a table that is damaged
        return False


def is_undamaged(db: sqlite3.Connection) -> bool:
    """Whether a database holds jobs, and no damage (SQLite, "PRAGMA integrity_check"): an empty one is as bad as none."""
    holds_jobs = db.execute("SELECT count(*) FROM sqlite_schema WHERE type = 'table' AND name = 'job'").fetchone()[0]
    return bool(holds_jobs and db.execute("PRAGMA integrity_check").fetchone()[0] == "ok")


def day_copies(folder: Path) -> list[Path]:
    """The copies of days in a folder, the newest first; what is only called alike is none."""
    return sorted((path for path in folder.iterdir() if _DAY.fullmatch(path.name)), reverse=True)


def day_of(copy: Path) -> str:
    """The day that a copy is of, as 2026-11-26."""
    match = _DAY.fullmatch(copy.name)
    return match[1] if match else ""


def make_copy(source: sqlite3.Connection, target: Path) -> None:
    """Copy a database, whole or not at all (SQLite's online backup). Raises sqlite3.Error when what was copied is damaged."""
    unfinished = target.with_name(target.name + ".part")
    try:
        unfinished.unlink(missing_ok=True)
        with closing(sqlite3.connect(unfinished)) as copy:
            source.backup(copy)
        if not is_sound(unfinished):
            raise sqlite3.DatabaseError("database disk image is malformed")
        unfinished.replace(target)
    finally:
        unfinished.unlink(missing_ok=True)


def make_day_copy(source: sqlite3.Connection, folder: Path, day: date) -> None:
    """Make the day's copy, in place of an earlier one of that day; the last seven days are kept."""
    make_copy(source, folder / f"{NAME}.day-{day.isoformat()}")
    for old in day_copies(folder)[KEPT_DAYS:]:
        old.unlink(missing_ok=True)


def has_changed_since(folder: Path, copy: Path) -> bool:
    """Whether the database was written to after a copy was made."""
    if not copy.exists():
        return True
    written = [path.stat().st_mtime_ns for name in (NAME, f"{NAME}-wal") if (path := folder / name).exists()]
    return max(written, default=0) > copy.stat().st_mtime_ns
