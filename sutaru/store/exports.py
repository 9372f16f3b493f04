"""Exports and how they ended: the table ``export``. Files lie in ``exports/<id>/``."""

import json
import secrets
from dataclasses import dataclass
from typing import Any, Literal

from ..core.errors import NotFound
from .database import Database
from .jobs import now

State = Literal["queued", "running", "done", "failed", "stopped"]


@dataclass(frozen=True)
class Export:
    """One export: of which revision, for which lab, how it stands; ``manifest`` once it is done."""

    id: str
    job: str
    revision: int
    lab: str
    format: str
    state: State
    message: str
    manifest: dict[str, Any] | None
    made: str


_COLUMNS = "id, job, revision, lab, format, state, message, manifest, made"


def _row(row: Any) -> Export:
    values = dict(row)
    values["manifest"] = json.loads(values["manifest"]) if values["manifest"] else None
    return Export(**values)


class Exports:
    """The table ``export``."""

    def __init__(self, database: Database) -> None:
        self._db = database
        with self._db.transaction() as db:
            db.execute(
                """
                UPDATE export SET state = 'failed', message = 'The application was closed meanwhile. Export again.'
                WHERE state IN ('queued', 'running')
                """
            )

    def add(self, job: str, revision: int, lab: str, format: str) -> Export:
        """A new export, queued."""
        identity = secrets.token_hex(6)
        with self._db.transaction() as db:
            db.execute(
                """
                INSERT INTO export (id, job, revision, lab, format, state, made)
                VALUES (:id, :job, :revision, :lab, :format, 'queued', :made)
                """,
                {"id": identity, "job": job, "revision": revision, "lab": lab, "format": format, "made": now()},
            )
        return self.get(identity)

    def end(self, identity: str, state: State, message: str = "", manifest: str | None = None) -> Export:
        """Records a new state."""
        with self._db.transaction() as db:
            db.execute(
                "UPDATE export SET state = :state, message = :message, manifest = :manifest WHERE id = :id",
                {"state": state, "message": message, "manifest": manifest, "id": identity},
            )
        return self.get(identity)

    def get(self, identity: str) -> Export:
        """One export. Raises NotFound."""
        with self._db.reading() as db:
            row = db.execute(f"SELECT {_COLUMNS} FROM export WHERE id = :id", {"id": identity}).fetchone()
        if row is None:
            raise NotFound("There is no such export.")
        return _row(row)

    def of(self, job: str) -> list[Export]:
        """Exports of a job, the newest first."""
        with self._db.reading() as db:
            rows = db.execute(
                f"SELECT {_COLUMNS} FROM export WHERE job = :job ORDER BY made DESC, rowid DESC", {"job": job}
            ).fetchall()
        return [_row(row) for row in rows]
