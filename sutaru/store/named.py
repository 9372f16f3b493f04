"""What the studio keeps under names of its own: recipes of tone, styles of layout; a table each."""

import logging
from typing import Generic, Literal, TypeVar

from pydantic import ValidationError

from ..core.document.base import Frozen
from ..core.errors import NotFound
from .database import Database
from .times import now

log = logging.getLogger("sutaru.store")
T = TypeVar("T", bound=Frozen)


class Named(Generic[T]):
    """One table of names and documents."""

    def __init__(
        self, database: Database, table: Literal["recipe", "layout_style"], model: type[T], called: str
    ) -> None:
        """``called``: what one is called where it is missing."""
        self._db, self._table, self._model, self._called = database, table, model, called

    def list_all(self) -> dict[str, T]:
        """All by name, in its order. One that cannot be read is passed over."""
        with self._db.reading() as db:
            rows = db.execute(f"SELECT name, document FROM {self._table} ORDER BY name").fetchall()
        readable = {}
        for row in rows:
            try:
                readable[row["name"]] = self._model.model_validate_json(row["document"])
            except ValidationError:
                log.error("the %s %s cannot be read", self._called, row["name"])
        return readable

    def keep(self, name: str, document: T) -> None:
        """Keeps one; that of its name, however it is written, is another one from now on."""
        with self._db.transaction() as db:
            db.execute(
                f"""
                INSERT INTO {self._table} (name, document, kept) VALUES (:name, :document, :kept)
                ON CONFLICT (name) DO UPDATE SET name = :name, document = :document, kept = :kept
                """,
                {"name": name, "document": document.model_dump_json(), "kept": now()},
            )

    def remove(self, name: str) -> None:
        """Keeps one no more. Raises NotFound."""
        with self._db.transaction() as db:
            if not db.execute(f"DELETE FROM {self._table} WHERE name = :name", {"name": name}).rowcount:
                raise NotFound(f"This {self._called} was not found.", "It may have been removed meanwhile.")
