"""Orders to a lab: the table ``print_order``, and their files, kept by checksum so that last year's can be printed again."""

import json
import logging
import os
import shutil
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from ..core.errors import NotFound
from ..core.ordering import Order
from .database import Database
from .times import now

log = logging.getLogger("sutaru.store")
UNSENT = "The application was closed while this was on its way. Send it again: the lab takes it once."
MOVING = ("received", "checked", "printing", "cut", "packed")  # states that will change by themselves


@dataclass(frozen=True)
class Ordered:
    """An order and how it stands: ``sending``, ``unsent`` with why, ``refused`` with reasons, or what the lab says.

    ``reasons``: as ``work.answers.Reason`` has them. ``number``: the job's state that was exported.
    ``again_of``: the order whose files these are.
    """

    id: str
    job: str
    export: str
    order: Order
    state: str
    message: str
    reasons: tuple[dict[str, Any], ...]
    lab_order: str
    price: float | None
    currency: str
    number: int
    again_of: str
    made: str
    asked: str


_COLUMNS = (
    "id, job, export, document, state, message, reasons, lab_order, price, currency, number, again_of, made, asked"
)


def _row(row: Any) -> Ordered:
    values = dict(row)
    values["order"] = Order.model_validate_json(values.pop("document"))
    values["reasons"] = _parse_reasons(values["reasons"])
    if not isinstance(values["price"], int | float):  # an earlier version stored what the lab said, whatever that was
        values["price"] = None
    return Ordered(**values)


def _parse_reasons(text: str) -> tuple[dict[str, Any], ...]:
    try:
        entries = json.loads(text)
    except ValueError:
        return ()
    return tuple(entry for entry in entries if isinstance(entry, dict)) if isinstance(entries, list) else ()


def _readable(rows: list[Any]) -> list[Ordered]:
    """Orders of rows; one that cannot be read keeps nobody from the others."""
    readable = []
    for row in rows:
        try:
            readable.append(_row(row))
        except ValidationError:
            log.error("the order %s cannot be read", row["id"])
    return readable


class Orders:
    """The table ``print_order`` and the folder of its files."""

    def __init__(self, database: Database, folder: Path) -> None:
        self._db, self._folder = database, folder
        folder.mkdir(parents=True, exist_ok=True)
        with self._db.transaction() as db:
            db.execute(
                "UPDATE print_order SET state = 'unsent', message = :unsent WHERE state = 'sending'", {"unsent": UNSENT}
            )

    def file(self, sha256: str) -> Path:
        """Where a file of an order lies."""
        return self._folder / sha256

    def keep(self, sha256: str, path: Path) -> None:
        """Keeps a file of an export: a second name for it where the disk can, else a copy."""
        target = self.file(sha256)
        if target.exists():
            return
        unfinished = target.with_suffix(".part")
        unfinished.unlink(missing_ok=True)
        try:
            os.link(path, unfinished)
        except OSError:
            shutil.copyfile(path, unfinished)
        os.replace(unfinished, target)

    def add(self, job: str, export: str, order: Order, number: int, again_of: str = "", made_at: str = "") -> Ordered:
        """A new order, about to be sent; the one that is there already when its key was added before. ``made``: when, else
        now."""
        identity = order.key[:12]
        with self._db.transaction() as db:
            db.execute(
                """
                INSERT OR IGNORE INTO print_order (id, job, export, document, state, number, again_of, made)
                VALUES (:id, :job, :export, :document, 'sending', :number, :again_of, :made)
                """,
                {"id": identity, "job": job, "export": export, "document": order.model_dump_json(), "number": number,
                 "again_of": again_of, "made": made_at or now()},
            )  # fmt: skip
        return self.get(identity)

    def get(self, identity: str) -> Ordered:
        """An order. Raises NotFound."""
        with self._db.reading() as db:
            row = db.execute(f"SELECT {_COLUMNS} FROM print_order WHERE id = :id", {"id": identity}).fetchone()
        if row is None:
            raise NotFound("This order was not found.")
        return _row(row)

    def list_newest(self, job: str = "", limit: int = 500) -> Sequence[Ordered]:
        """Orders, the newest first: of one job, or of all."""
        with self._db.reading() as db:
            rows = db.execute(
                f"""
                SELECT {_COLUMNS} FROM print_order WHERE :job = '' OR job = :job ORDER BY made DESC, rowid DESC LIMIT :limit
                """,
                {"job": job, "limit": limit},
            ).fetchall()
        return _readable(rows)

    def set_standing(
        self, identity: str, state: str, message: str = "", reasons: Sequence[dict[str, Any]] = (), lab_order: str = "",
        price: float | None = None, currency: str = "",
    ) -> Ordered:  # fmt: skip
        """Writes down how an order stands now."""
        with self._db.transaction() as db:
            db.execute(
                """
                UPDATE print_order SET state = :state, message = :message, reasons = :reasons, asked = :now,
                  lab_order = CASE WHEN :lab_order = '' THEN lab_order ELSE :lab_order END, price = COALESCE(:price, price),
                  currency = CASE WHEN :currency = '' THEN currency ELSE :currency END
                WHERE id = :id
                """,
                {"id": identity, "state": state, "message": message, "reasons": json.dumps(list(reasons)), "now": now(),
                 "lab_order": lab_order, "price": price, "currency": currency},
            )  # fmt: skip
        return self.get(identity)

    def set_lab_order(self, identity: str, lab_order: str) -> None:
        """Writes down the lab's number of an order that is on its way."""
        with self._db.transaction() as db:
            db.execute("UPDATE print_order SET lab_order = :lab WHERE id = :id", {"lab": lab_order, "id": identity})
