"""One SQLite database, plain SQL, numbered migrations. One connection writes, under a lock; whoever reads has one of their own.

What goes wrong with the file or the disk is one plain sentence: nothing that was acknowledged is lost by it.
"""

import importlib
import sqlite3
import threading
from collections.abc import Iterator
from contextlib import closing, contextmanager
from datetime import date
from importlib.resources import files
from pathlib import Path

from . import copies
from .lock import FolderLock
from .trouble import StoreFailed, explain_failure


def _migrations() -> list[str]:
    """Migrations, in their order."""
    folder = files(__package__) / "migrations"
    return sorted(entry.name for entry in folder.iterdir() if entry.name[0].isdigit())


def is_of_earlier_version(path: Path) -> bool:
    """Whether a database would be brought up to date as it is opened. Raises sqlite3.Error when it cannot be read."""
    with closing(sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True)) as db:
        return int(db.execute("PRAGMA user_version").fetchone()[0]) < len(_migrations())


MOST_READERS = 8  # connections that are kept open while nobody reads by them

CACHE_KB = 512  # of each thread's connection, of pages that the system keeps as well


class Database:
    """The open database. ``transaction()`` gives the writing connection; it commits at the end or changes nothing."""

    def __init__(self, path: Path, lock: FolderLock | None = None) -> None:
        """``lock``: that of the folder, when the caller holds it already, and then releases it. Raises StoreFailed with a
        sentence: another server uses the folder, or it is read-only, damaged or too new."""
        self.folder = path.parent
        self._path = path
        self._lock = threading.RLock()
        self._readers: list[sqlite3.Connection] = []  # that nobody reads by just now
        self._closed = False
        self._held: FolderLock | None = None
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            self._held = None if lock else FolderLock(path.parent)
            for left in path.parent.glob(f"{path.name}*.part"):  # of a copy that was cut short
                left.unlink(missing_ok=True)
            self._refuse_what_would_hide_jobs()
            self._connection = self._connect()
            self._migrate()
        except (OSError, sqlite3.Error) as error:
            self._release()
            raise explain_failure(error, self.folder) or error from None
        except BaseException:
            self._release()
            raise

    def _refuse_what_would_hide_jobs(self) -> None:
        """No new database is begun in a folder of jobs: an empty shelf would be shown, and copied over good copies."""
        if self._path.name != copies.NAME:
            return
        if not self._path.exists() or not self._path.stat().st_size:
            if any(self.folder.glob("photos/*/" + "[0-9a-f]" * 64)) or copies.day_copies(self.folder):
                what = "empty" if self._path.exists() else "missing"
                raise StoreFailed(
                    f"The database in {self.folder} is {what}, though there are photos or copies of it.",
                    "Put it together again: sutaru doctor --repair.",
                )
            return
        with closing(sqlite3.connect(f"{self._path.absolute().as_uri()}?mode=ro", uri=True)) as db:
            named = [name for (name,) in db.execute("SELECT name FROM sqlite_schema WHERE type = 'table'")]
        if named and "job" not in named:
            raise StoreFailed(
                f"The database in {self.folder} is another program's.",
                "Use another folder; if there were jobs in this one, see what can be saved: sutaru doctor.",
            )

    def _release(self) -> None:
        if self._held is not None:
            self._held.release()
            self._held = None

    def _connect(self) -> sqlite3.Connection:
        connection = sqlite3.connect(self._path, check_same_thread=False, isolation_level=None, timeout=10)
        connection.row_factory = sqlite3.Row
        # synchronous = FULL with WAL: a transaction is on the disk before it is acknowledged.
        connection.executescript("PRAGMA journal_mode = WAL; PRAGMA synchronous = FULL; PRAGMA foreign_keys = ON;")
        connection.execute(f"PRAGMA cache_size = -{CACHE_KB}")
        return connection

    def _migrate(self) -> None:
        folder = files(__package__) / "migrations"
        steps = _migrations()
        done = self._connection.execute("PRAGMA user_version").fetchone()[0]
        if done > len(steps):
            raise StoreFailed(
                f"The folder {self.folder} was written by a newer Sutaru.",
                "Bring Sutaru up to date, or use another folder.",
            )
        if 0 < done < len(steps):
            self._copy(f"before-{len(steps)}")
        for number, name in enumerate(steps[done:], done + 1):
            if name.endswith(".sql"):
                sql = (folder / name).read_text("utf-8")
                self._connection.executescript(f"BEGIN; {sql} PRAGMA user_version = {number}; COMMIT;")
                continue
            step = importlib.import_module(f"{__package__}.migrations.{name.removesuffix('.py')}")
            with self.transaction() as db:
                step.up(db)
                db.execute(f"PRAGMA user_version = {number}")

    def _copy(self, what: str) -> None:
        """A copy of the database beside it, whole or not at all."""
        # By a connection of its own: whoever stores something meanwhile does not wait.
        with closing(self._connect()) as source:
            copies.make_copy(source, self._path.with_name(f"{self._path.name}.{what}"))

    def keep_copy_before_repair(self) -> None:
        """A copy as it is now, beside the others."""
        self._copy("before-repair")

    def keep_copy(self, day: date) -> None:
        """Makes the day's copy of the database anew when anything was written since the last one."""
        if copies.has_changed_since(self.folder, self.folder / f"{copies.NAME}.day-{day.isoformat()}"):
            with closing(self._connect()) as source:
                copies.make_day_copy(source, self.folder, day)

    @contextmanager
    def transaction(self) -> Iterator[sqlite3.Connection]:
        """All or nothing, one at a time. Raises StoreFailed for what the disk cannot do."""
        with self._lock:
            try:
                self._connection.execute("BEGIN IMMEDIATE")
                try:
                    yield self._connection
                    self._connection.execute("COMMIT")
                except BaseException:
                    if self._connection.in_transaction:
                        self._connection.execute("ROLLBACK")
                    raise
            except sqlite3.IntegrityError:
                raise
            except sqlite3.Error as error:
                raise explain_failure(error, self.folder) or error from None

    @contextmanager
    def reading(self) -> Iterator[sqlite3.Connection]:
        """For queries: a connection that nobody else has meanwhile, and that waits for no writer.

        It goes to whoever reads next, not with a thread: a server's threads end when there is little to do.
        """
        try:
            connection = self._readers.pop()
        except IndexError:
            connection = self._connect()
            connection.execute("PRAGMA query_only = ON")
        try:
            yield connection
        except sqlite3.Error as error:
            raise explain_failure(error, self.folder) or error from None
        finally:
            if self._closed or len(self._readers) >= MOST_READERS:
                connection.close()
            else:
                self._readers.append(connection)

    def close(self) -> None:
        """Closes all connections and lets go of the folder."""
        with self._lock:
            self._closed = True
            for connection in (*self._readers, self._connection):
                connection.close()
            self._readers.clear()
            self._release()
