"""Backups of a data folder, made while it is in use, and brought back.

The database is copied by SQLite's online backup, first: whatever it names is on the disk by then, since photos are stored before
anybody is told of them. Then all files that are not there yet: photos, which are named by their content and never change, by a
hard link where the disk is the same. What a backup is made over stays until each new file is whole; ``backup.json`` says when
it was made, and is written last.
"""

import json
import os
import shutil
import sqlite3
from collections.abc import Callable, Iterator
from contextlib import closing, suppress
from dataclasses import asdict, dataclass
from datetime import UTC, datetime
from pathlib import Path

from ..core.errors import FileRefused, NotFound
from .copies import NAME, is_sound, make_copy
from .lock import FolderLock

MANIFEST = "backup.json"
PHOTOS = "photos"
# What is made anew, or is of the running process alone.
_LEFT = {".lock", "pictures", "sutaru.log", NAME, f"{NAME}-wal", f"{NAME}-shm", MANIFEST}
_UNFINISHED = ".part"
Progress = Callable[[int], None]


@dataclass(frozen=True)
class Backup:
    """What a backup holds. ``added``: files that were not there before; ``missing``: photos that the database names and that are
    not in the folder, by checksum."""

    made: str
    files: int
    bytes: int
    added: int
    added_bytes: int
    missing: tuple[str, ...]


def make_backup(data: Path, target: Path, progress: Progress = lambda files: None) -> Backup:
    """Back a data folder up into another folder, or bring an earlier backup there up to date. Raises NotFound, FileRefused,
    StoreFailed while another backup is made there;
    sqlite3.Error where the database is damaged, and then an earlier backup is as it was."""
    if not (data / NAME).is_file():
        raise NotFound(f"There is no database in {data}.", "Give the data folder with --data.")
    if target.resolve().is_relative_to(data.resolve()):
        raise FileRefused(
            f"{target} lies in the data folder itself.", "Choose a folder elsewhere, on another disk at best."
        )
    if target.exists() and not target.is_dir():
        raise FileRefused(f"{target} is a file.", "Give a folder: a backup is brought up to date by the next one.")
    if target.is_dir() and any(target.iterdir()) and not (target / MANIFEST).exists() and not (target / NAME).exists():
        raise FileRefused(f"{target} holds other things.", "Choose an empty folder, or one that holds a backup.")
    target.mkdir(parents=True, exist_ok=True)
    lock = FolderLock(target)  # two at once would take each other's unfinished files
    try:
        return _copy_all(data, target, progress)
    finally:
        lock.release()


def _copy_all(data: Path, target: Path, progress: Progress) -> Backup:
    with closing(sqlite3.connect(f"{(data / NAME).absolute().as_uri()}?mode=ro", uri=True, timeout=30)) as database:
        make_copy(database, target / NAME)
    count = size = added = added_bytes = 0
    for path in _files(data):
        place = target / path.relative_to(data)
        try:
            length = path.stat().st_size
            if not _is_there(path, place):
                _bring(path, place, path.relative_to(data).parts[0] == PHOTOS)
                added, added_bytes = added + 1, added_bytes + length
        except FileNotFoundError:  # deleted meanwhile
            continue
        count, size = count + 1, size + length
        progress(count)
    made_at = datetime.now(UTC).isoformat(timespec="seconds")
    report = Backup(made_at, count, size, added, added_bytes, _missing_photos(target))
    unfinished = target / f"{MANIFEST}{_UNFINISHED}"
    unfinished.write_text(json.dumps(asdict(report), indent=1), "utf-8")
    unfinished.replace(target / MANIFEST)
    return report


def restore_backup(source: Path, data: Path, progress: Progress = lambda files: None) -> Backup:
    """Bring a backup back as a data folder, whole or not at all. Raises NotFound, FileRefused."""
    try:
        manifest = json.loads((source / MANIFEST).read_text("utf-8"))
        made_at = str(manifest["made"])
    except (OSError, ValueError, KeyError, TypeError):
        raise NotFound(f"There is no finished backup in {source}.", "Make one with: sutaru backup.") from None
    if not (source / NAME).is_file() or not is_sound(source / NAME):
        raise FileRefused(f"The database in {source} is damaged.", "Use another backup.")
    if data.exists() and (not data.is_dir() or any(data.iterdir())):
        raise FileRefused(f"{data} is not empty.", "Give a new folder with --data: nothing is written over.")
    data = data.absolute()
    unfinished = data.with_name(f".{data.name}{_UNFINISHED}")
    shutil.rmtree(unfinished, ignore_errors=True)
    try:
        unfinished.mkdir(parents=True)
        count = size = 0
        for path in _files(source):
            _bring(path, unfinished / path.relative_to(source), linked=False)  # the backup stays one of its own
            count, size = count + 1, size + path.stat().st_size
            progress(count)
        shutil.copyfile(source / NAME, unfinished / NAME)
        missing = _missing_photos(unfinished)
        if data.is_dir():
            data.rmdir()
        unfinished.rename(data)
    finally:
        shutil.rmtree(unfinished, ignore_errors=True)
    return Backup(made_at, count, size, count, size, missing)


def _files(folder: Path) -> Iterator[Path]:
    """All files of a data folder or a backup that are carried over, in order; links are not followed."""
    for root, folders, names in os.walk(folder):
        here = Path(root)
        top = here == folder
        folders[:] = sorted(name for name in folders if not (top and name in _LEFT))
        for name in sorted(names):
            path = here / name
            if (
                not (top and name in _LEFT)
                and not name.endswith(_UNFINISHED)
                and path.is_file()
                and not path.is_symlink()
            ):
                yield path


def _is_there(path: Path, place: Path) -> bool:
    """Whether a file was carried over already: as long, and not older than the one it is of."""
    try:
        before, now = path.stat(), place.stat()
    except FileNotFoundError:
        return False
    return before.st_size == now.st_size and before.st_mtime_ns <= now.st_mtime_ns


def _bring(path: Path, place: Path, linked: bool) -> None:
    """Carry a file over, whole or not at all."""
    place.parent.mkdir(parents=True, exist_ok=True)
    unfinished = place.with_name(place.name + _UNFINISHED)
    unfinished.unlink(missing_ok=True)
    try:
        if linked:
            with suppress(OSError):  # another disk, or one that knows no links
                os.link(path, unfinished)
        if not unfinished.exists():
            shutil.copy2(path, unfinished)
        unfinished.replace(place)
    finally:
        unfinished.unlink(missing_ok=True)


def _missing_photos(folder: Path) -> tuple[str, ...]:
    """Checksums of photos that a folder's database names and whose files are not in it."""
    with closing(sqlite3.connect(f"{(folder / NAME).absolute().as_uri()}?immutable=1", uri=True)) as database:
        columns = {row[1] for row in database.execute("PRAGMA table_info(photo)")}
        column = "checksum" if "checksum" in columns else "sha256"
        names = [name for (name,) in database.execute(f"SELECT {column} FROM photo ORDER BY 1")]
    return tuple(name for name in names if not (folder / PHOTOS / name[:2] / name).exists())
