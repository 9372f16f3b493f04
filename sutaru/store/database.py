"""One SQLite database, plain SQL, numbered migrations. One connection, one lock: a studio's machine has one writer."""

import sqlite3
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from importlib.resources import files
from pathlib import Path


class Database:
    """The open database. ``transaction()`` gives the connection; it commits at the end or changes nothing."""

    def __init__(self, path: Path) -> None:
        path.parent.mkdir(parents=True, exist_ok=True)
        self._lock = threading.RLock()
        self._connection = sqlite3.connect(path, check_same_thread=False, isolation_level=None)
        self._connection.row_factory = sqlite3.Row
        # synchronous = FULL with WAL: a transaction is on the disk before it is acknowledged.
        self._connection.executescript(
            "PRAGMA journal_mode = WAL; PRAGMA synchronous = FULL; PRAGMA foreign_keys = ON;"
        )
        self._migrate()

    def _migrate(self) -> None:
        steps = sorted(p.name for p in (files(__package__) / "migrations").iterdir() if p.name.endswith(".sql"))
        done = self._connection.execute("PRAGMA user_version").fetchone()[0]
        for number, name in enumerate(steps, 1):
            if number > done:
                sql = (files(__package__) / "migrations" / name).read_text("utf-8")
                self._connection.executescript(f"BEGIN; {sql} PRAGMA user_version = {number}; COMMIT;")

    @contextmanager
    def transaction(self) -> Iterator[sqlite3.Connection]:
        """All or nothing, one at a time."""
        with self._lock:
            self._connection.execute("BEGIN IMMEDIATE")
            try:
                yield self._connection
            except BaseException:
                self._connection.execute("ROLLBACK")
                raise
            self._connection.execute("COMMIT")

    @contextmanager
    def reading(self) -> Iterator[sqlite3.Connection]:
        """For queries."""
        with self._lock:
            yield self._connection

    def close(self) -> None:
        """Closes the connection."""
        with self._lock:
            self._connection.close()
