"""Links by which customers look at a proof: the table ``proof_link``."""

import secrets
import sqlite3
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from ..core.errors import EditRefused, NotFound
from .database import Database
from .times import now

MOST = 50  # links of a job that are open at a time


@dataclass(frozen=True)
class ProofLink:
    """A link. ``state``: the job's, that it shows; ``expires``, ``opened``, ``approved``: times, the last two None for never;
    ``remarks``: how many came in by it."""

    token: str
    job: str
    edition: str
    state: int
    created: str
    expires: str
    opened: str | None
    remarks: int
    approved_by: str | None
    approved: str | None

    @property
    def has_expired(self) -> bool:
        """Whether its day is over."""
        return self.expires <= now()


def _from_row(row: sqlite3.Row) -> ProofLink:
    return ProofLink(**{name: row[name] for name in row.keys()})  # noqa: SIM118


class ProofLinks:
    """The table ``proof_link``."""

    def __init__(self, database: Database) -> None:
        self._db = database

    def add(self, job: str, edition: str, state: int, days: int) -> ProofLink:
        """Make a link to a job's state that holds so many days. Raises EditRefused where there are too many."""
        token, created = secrets.token_urlsafe(18), now()
        expires = (datetime.now(UTC) + timedelta(days=days)).isoformat(timespec="milliseconds")
        with self._db.transaction() as db:
            count = db.execute(
                "SELECT count(*) AS many FROM proof_link WHERE job = :job AND expires > :now",
                {"job": job, "now": created},
            ).fetchone()["many"]
            if count >= MOST:
                raise EditRefused(f"This job has {MOST} links already.", "Remove some first.")
            db.execute(
                """
                INSERT INTO proof_link (token, job, edition, state, created, expires)
                VALUES (:token, :job, :edition, :state, :created, :expires)
                """,
                {
                    "token": token,
                    "job": job,
                    "edition": edition,
                    "state": state,
                    "created": created,
                    "expires": expires,
                },
            )
        return self.get(token)

    def get(self, token: str) -> ProofLink:
        """A link by its token. Raises NotFound."""
        with self._db.reading() as db:
            row = db.execute("SELECT * FROM proof_link WHERE token = :token", {"token": token}).fetchone()
        if row is None:
            raise NotFound("This link was not found.", "It may have been removed: make a new one.")
        return _from_row(row)

    def list_of_job(self, job: str) -> list[ProofLink]:
        """The links of a job, the newest first."""
        with self._db.reading() as db:
            rows = db.execute(
                "SELECT * FROM proof_link WHERE job = :job ORDER BY created DESC, token", {"job": job}
            ).fetchall()
        return list(map(_from_row, rows))

    def show_state(self, token: str, state: int) -> None:
        """Have a link show another state: what was approved before no longer counts."""
        self._set(token, "state = :value, approved_by = NULL, approved = NULL", state)

    def mark_opened(self, token: str) -> None:
        """Store that a customer has opened it."""
        self._set(token, "opened = :value", now())

    def add_remarks(self, token: str, count: int) -> None:
        """Store that remarks came in by it."""
        self._set(token, "remarks = remarks + :value", count)

    def approve(self, token: str, name: str, state: int) -> bool:
        """Store who approved a state, and when; the first approval holds. Whether the link shows that state still."""
        with self._db.transaction() as db:
            changed = db.execute(
                """
                UPDATE proof_link SET approved_by = :name, approved = :now
                WHERE token = :token AND state = :state AND approved IS NULL
                """,
                {"token": token, "name": name, "state": state, "now": now()},
            )
        return changed.rowcount == 1

    def remove(self, token: str) -> None:
        """Remove a link: it opens nothing any more."""
        with self._db.transaction() as db:
            db.execute("DELETE FROM proof_link WHERE token = :token", {"token": token})

    def _set(self, token: str, what: str, value: str | int) -> None:
        with self._db.transaction() as db:
            db.execute(f"UPDATE proof_link SET {what} WHERE token = :token", {"token": token, "value": value})
