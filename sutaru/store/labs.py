"""Lab sheets taken from a lab: the table ``lab_sheet``."""

import logging

from pydantic import ValidationError

from ..core.document import LabSheet
from .database import Database
from .times import now

log = logging.getLogger("sutaru.store")


class LabSheets:
    """The table ``lab_sheet``."""

    def __init__(self, database: Database) -> None:
        self._db = database

    def list_all(self) -> dict[str, LabSheet]:
        """Lab sheets by id, as they were taken last. One that cannot be read is passed over."""
        with self._db.reading() as db:
            rows = db.execute("SELECT id, document FROM lab_sheet ORDER BY taken").fetchall()
        sheets = {}
        for row in rows:
            try:
                sheets[row["id"]] = LabSheet.model_validate_json(row["document"])
            except ValidationError:
                log.error("the lab sheet %s cannot be read", row["id"])
        return sheets

    def keep(self, sheet: LabSheet) -> None:
        """Keeps a lab sheet; the one of its id is another one from now on."""
        with self._db.transaction() as db:
            db.execute(
                """
                INSERT INTO lab_sheet (id, document, taken) VALUES (:id, :document, :taken)
                ON CONFLICT (id) DO UPDATE SET document = :document, taken = :taken
                """,
                {"id": sheet.id, "document": sheet.model_dump_json(), "taken": now()},
            )
