"""Open sessions: the table ``session``. Of a token only its hash is stored, so that whoever reads the table cannot come in."""

import time

from .database import Database


class SessionStore:
    """The table ``session``."""

    def __init__(self, database: Database) -> None:
        self._db = database

    def list_all(self) -> dict[str, float]:
        """Hashes of sessions that have not ended, and when each ends, seconds since 1970."""
        with self._db.reading() as db:
            rows = db.execute("SELECT hash, ends FROM session WHERE ends > :now", {"now": time.time()}).fetchall()
        return {row["hash"]: row["ends"] for row in rows}

    def add(self, hashed: str, ends: float) -> None:
        """Stores a session, and forgets those that have ended."""
        with self._db.transaction() as db:
            db.execute("DELETE FROM session WHERE ends <= :now", {"now": time.time()})
            db.execute(
                "INSERT OR REPLACE INTO session (hash, ends) VALUES (:hash, :ends)", {"hash": hashed, "ends": ends}
            )

    def remove(self, hashed: str) -> None:
        """Forgets a session."""
        with self._db.transaction() as db:
            db.execute("DELETE FROM session WHERE hash = :hash", {"hash": hashed})
