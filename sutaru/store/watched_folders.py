"""Which job was begun of which customer's folder: the table ``laid_in``. Kept here and not in the folder, where
anybody writes."""

import hashlib
import os
import secrets
from pathlib import Path

from .database import Database


def folder_key(folder: Path) -> str:
    """A name for a folder as it lies there now: another one that is called alike later is another. Raises OSError."""
    seen = folder.stat(follow_symlinks=False)
    return hashlib.sha256(os.fsencode(folder.absolute()) + f" {seen.st_dev} {seen.st_ino}".encode()).hexdigest()


class LaidInFolders:
    """The table ``laid_in``."""

    def __init__(self, database: Database) -> None:
        self._db = database

    def job_of(self, folder: Path) -> str | None:
        """Id of the job that was begun of a folder; None when none was."""
        with self._db.reading() as db:
            row = db.execute("SELECT job FROM laid_in WHERE folder = :key", {"key": folder_key(folder)}).fetchone()
        return str(row["job"]) if row else None

    def begin(self, folder: Path) -> str:
        """The id of the job of a folder: that which it has, or a new one, written down before the job is made."""
        known = self.job_of(folder)
        if known:
            return known
        identity = secrets.token_hex(6)
        with self._db.transaction() as db:
            db.execute(
                "INSERT INTO laid_in (folder, job) VALUES (:key, :job)", {"key": folder_key(folder), "job": identity}
            )
        return identity

    def end(self, key: str) -> None:
        """Forgets a folder that was taken, by its key."""
        with self._db.transaction() as db:
            db.execute("DELETE FROM laid_in WHERE folder = :key", {"key": key})
