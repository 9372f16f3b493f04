"""Recipes of tone that the studio keeps: the table ``recipe``."""

import logging

from pydantic import ValidationError

from ..core.document import Recipe
from ..core.errors import NotFound
from .database import Database
from .times import now

log = logging.getLogger("sutaru.store")


class Recipes:
    """The table ``recipe``."""

    def __init__(self, database: Database) -> None:
        self._db = database

    def list_all(self) -> dict[str, Recipe]:
        """Recipes by name, in its order. One that cannot be read is passed over."""
        with self._db.reading() as db:
            rows = db.execute("SELECT name, document FROM recipe ORDER BY name").fetchall()
        recipes = {}
        for row in rows:
            try:
                recipes[row["name"]] = Recipe.model_validate_json(row["document"])
            except ValidationError:
                log.error("the recipe %s cannot be read", row["name"])
        return recipes

    def keep(self, name: str, recipe: Recipe) -> None:
        """Keeps a recipe; the one of its name, however it is written, is another one from now on."""
        with self._db.transaction() as db:
            db.execute(
                """
                INSERT INTO recipe (name, document, kept) VALUES (:name, :document, :kept)
                ON CONFLICT (name) DO UPDATE SET name = :name, document = :document, kept = :kept
                """,
                {"name": name, "document": recipe.model_dump_json(), "kept": now()},
            )

    def remove(self, name: str) -> None:
        """Keeps a recipe no more. Raises NotFound."""
        with self._db.transaction() as db:
            if not db.execute("DELETE FROM recipe WHERE name = :name", {"name": name}).rowcount:
                raise NotFound("This recipe was not found.", "It may have been taken away meanwhile.")
