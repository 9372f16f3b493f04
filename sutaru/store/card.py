"""The studio card: the table ``studio_card``, of one row."""

import logging

from pydantic import ValidationError

from ..core.document import StudioCard
from .database import Database

log = logging.getLogger("sutaru.store")


class Card:
    """The studio's own card."""

    def __init__(self, database: Database) -> None:
        self._db = database

    def get(self) -> StudioCard:
        """The card; an empty one as long as nobody wrote one."""
        with self._db.reading() as db:
            row = db.execute("SELECT document FROM studio_card WHERE id = 1").fetchone()
        try:
            return StudioCard.model_validate_json(row["document"]) if row else StudioCard()
        except ValidationError:
            log.error("the studio card cannot be read")
            return StudioCard()

    def get_written(self) -> StudioCard | None:
        """The card as a job begins with it; None as long as nobody wrote one."""
        card = self.get()
        return None if card == StudioCard() else card

    def keep(self, card: StudioCard) -> None:
        """Writes the card."""
        with self._db.transaction() as db:
            db.execute(
                """
                INSERT INTO studio_card (id, document) VALUES (1, :document)
                ON CONFLICT (id) DO UPDATE SET document = :document
                """,
                {"document": card.model_dump_json()},
            )
