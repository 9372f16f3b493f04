"""Jobs as lists show them: found, sorted, archived, deleted."""

import json
import sqlite3
from dataclasses import dataclass
from typing import Any, Literal

from ..core.errors import NotFound
from .database import Database
from .times import now

Sort = Literal["changed", "created", "name", "customer"]
Which = Literal["work", "archived", "deleted", "workshop"]


@dataclass(frozen=True)
class Listed:
    """A job as a list shows it. ``card`` is what was last worked out for showing it, with the root it was made of."""

    id: str
    name: str
    customer: str
    order_number: str
    template: str
    head: int
    root: str
    created: str
    changed: str
    put_away: str | None
    deleted: str | None
    making: bool
    card: dict[str, Any] | None


class JobList:
    """Rows of the table ``job``, of jobs and of templates in the workshop."""

    def __init__(self, database: Database) -> None:
        self._db = database

    def search(
        self, words: str = "", which: Which = "work", sort: Sort = "changed", limit: int = 1000, offset: int = 0
    ) -> tuple[list[Listed], int]:
        """Jobs that match all words by name, customer, order number or a photo's name; and how many there are in all."""
        where = {"work": "NOT making AND put_away IS NULL AND deleted IS NULL",
                 "archived": "put_away IS NOT NULL AND deleted IS NULL", "deleted": "deleted IS NOT NULL",
                 "workshop": "making AND put_away IS NULL AND deleted IS NULL"}[which]  # fmt: skip
        order = {"changed": "changed DESC", "created": "created DESC", "name": "lower(job.name)",
                 "customer": "lower(customer)"}[sort]  # fmt: skip
        values: dict[str, Any] = {"limit": limit, "offset": offset}
        for n, word in enumerate(words.lower().split()[:8]):
            values[f"word{n}"] = "%" + word.replace("\\", "\\\\").replace("%", r"\%").replace("_", r"\_") + "%"
            where += rf"""
                AND (lower(job.name) LIKE :word{n} ESCAPE '\' OR lower(customer) LIKE :word{n} ESCAPE '\'
                     OR lower(order_number) LIKE :word{n} ESCAPE '\'
                     OR EXISTS (SELECT 1 FROM in_pile WHERE in_pile.job = job.id AND in_pile.name LIKE :word{n} ESCAPE '\'))
            """
        with self._db.reading() as db:
            count = db.execute(f"SELECT count(*) FROM job WHERE {where}", values).fetchone()[0]
            rows = db.execute(
                f"""
                SELECT job.id, job.name, customer, order_number, template, head, state.root, created, changed, put_away,
                       deleted, making, card
                FROM job JOIN state ON state.job = job.id AND state.number = job.head
                WHERE {where} ORDER BY {order}, job.id LIMIT :limit OFFSET :offset
                """,
                values,
            ).fetchall()
        return [_listed_from_row(row) for row in rows], count

    def list_all(self) -> list[tuple[str, str]]:
        """Id and name of every job, archived and deleted ones too."""
        with self._db.reading() as db:
            return [(row["id"], row["name"]) for row in db.execute("SELECT id, name FROM job ORDER BY created")]

    def count_by_template(self) -> dict[str, int]:
        """How many jobs began from each template, deleted ones too."""
        with self._db.reading() as db:
            rows = db.execute("SELECT template, COUNT(*) AS count FROM job WHERE NOT making GROUP BY template")
            return {row["template"]: row["count"] for row in rows}

    def list_workshop(self) -> list[str]:
        """Ids of the templates in the workshop, those that were not thrown away."""
        with self._db.reading() as db:
            return [row["id"] for row in db.execute("SELECT id FROM job WHERE making AND deleted IS NULL")]

    def get_listed(self, identity: str) -> Listed:
        """One job as lists show it. Raises NotFound."""
        with self._db.reading() as db:
            row = db.execute(
                """
                SELECT job.id, job.name, customer, order_number, template, head, state.root, created, changed, put_away,
                       deleted, making, card
                FROM job JOIN state ON state.job = job.id AND state.number = job.head WHERE job.id = :id
                """,
                {"id": identity},
            ).fetchone()
        if row is None:
            raise NotFound("This job was not found.", "It may have been deleted: look under Deleted on the shelf.")
        return _listed_from_row(row)

    def keep_card(self, identity: str, card: dict[str, Any] | None) -> None:
        """Keeps what was worked out for showing a job in lists; None: it is worked out anew."""
        card_json = json.dumps(card) if card else None
        with self._db.transaction() as db:
            db.execute("UPDATE job SET card = :card WHERE id = :id", {"card": card_json, "id": identity})

    def archive(self, identity: str, is_archived: bool) -> None:
        """Archives a job, or returns it to work."""
        self._stamp(identity, "put_away", is_archived)

    def delete(self, identity: str, deleted: bool) -> None:
        """Deletes a job, or brings it back. Nothing of it is lost."""
        self._stamp(identity, "deleted", deleted)

    def _stamp(self, identity: str, column: Literal["put_away", "deleted"], on: bool) -> None:
        self.get_listed(identity)
        with self._db.transaction() as db:
            db.execute(f"UPDATE job SET {column} = :at WHERE id = :id", {"at": now() if on else None, "id": identity})


def _listed_from_row(row: sqlite3.Row) -> Listed:
    values = dict(row)
    values["making"] = bool(values["making"])
    values["card"] = json.loads(values["card"]) if values["card"] else None
    return Listed(**values)
