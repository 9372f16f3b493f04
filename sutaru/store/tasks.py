"""Long work and how it ended: the table ``task``. What ran when the application ended, ended with it."""

import json
import secrets
from dataclasses import dataclass
from typing import Any, Literal

from ..core.errors import NotFound
from .database import Database
from .times import now

State = Literal["queued", "running", "done", "failed", "stopped"]
Kind = Literal["export", "fill", "plan"]
CLOSED = "The application was closed meanwhile. Run it again."


@dataclass(frozen=True)
class Task:
    """One piece of long work: what was asked, how it stands; ``outcome`` once it is done."""

    id: str
    kind: Kind
    job: str
    asked: dict[str, Any]
    state: State
    message: str
    outcome: dict[str, Any] | None
    made: str
    ended: str | None


_COLUMNS = "id, kind, job, asked, state, message, outcome, made, ended"


def _row(row: Any) -> Task:
    values = dict(row)
    values["asked"] = json.loads(values["asked"])
    values["outcome"] = json.loads(values["outcome"]) if values["outcome"] else None
    return Task(**values)


class Tasks:
    """The table ``task``."""

    def __init__(self, database: Database) -> None:
        self._db = database
        with self._db.transaction() as db:
            db.execute(
                """
                UPDATE task SET state = 'failed', message = :closed, ended = :now
                WHERE state IN ('queued', 'running')
                """,
                {"closed": CLOSED, "now": now()},
            )

    def add(self, kind: Kind, job: str, request: dict[str, Any]) -> Task:
        """New work, queued."""
        identity = secrets.token_hex(6)
        with self._db.transaction() as db:
            db.execute(
                """
                INSERT INTO task (id, kind, job, asked, state, made)
                VALUES (:id, :kind, :job, :asked, 'queued', :made)
                """,
                {"id": identity, "kind": kind, "job": job, "asked": json.dumps(request), "made": now()},
            )
        return self.get(identity)

    def begin(self, identity: str) -> None:
        """Says that queued work is running."""
        with self._db.transaction() as db:
            db.execute("UPDATE task SET state = 'running' WHERE id = :id AND state = 'queued'", {"id": identity})

    def end(self, identity: str, state: State, message: str = "", outcome: dict[str, Any] | None = None) -> Task:
        """Records how work ended. Work that has ended stays as it is."""
        with self._db.transaction() as db:
            db.execute(
                """
                UPDATE task SET state = :state, message = :message, outcome = :outcome, ended = :now
                WHERE id = :id AND state IN ('queued', 'running')
                """,
                {
                    "state": state, "message": message, "outcome": json.dumps(outcome) if outcome is not None else None,
                    "id": identity, "now": now(),
                },
            )  # fmt: skip
        return self.get(identity)

    def get(self, identity: str) -> Task:
        """One task. Raises NotFound."""
        with self._db.reading() as db:
            row = db.execute(f"SELECT {_COLUMNS} FROM task WHERE id = :id", {"id": identity}).fetchone()
        if row is None:
            raise NotFound("This task was not found.")
        return _row(row)

    def list_of_job(self, job: str) -> list[Task]:
        """Tasks of a job, the newest first."""
        with self._db.reading() as db:
            rows = db.execute(
                f"SELECT {_COLUMNS} FROM task WHERE job = :job ORDER BY made DESC, rowid DESC LIMIT 200", {"job": job}
            ).fetchall()
        return [_row(row) for row in rows]

    def forget(self, identity: str) -> None:
        """Takes work that has ended out of the table."""
        with self._db.transaction() as db:
            db.execute("DELETE FROM task WHERE id = :id AND state NOT IN ('queued', 'running')", {"id": identity})
