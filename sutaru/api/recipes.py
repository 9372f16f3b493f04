"""Recipes of tone that the studio keeps, to be laid on photos of any job."""

from functools import cache
from typing import Annotated

from fastapi import APIRouter
from pydantic import Field, StringConstraints, TypeAdapter

from ..core.document.recipe import Recipe, Step
from ..core.errors import EditRefused
from ..shelf import LOOKS
from .messages import Message
from .studio import InStudio

router = APIRouter(prefix="/api", tags=["recipes"])
MOST = 200


class KeptRecipe(Message):
    """A recipe of tone under the studio's own name for it."""

    name: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=60)]
    steps: Annotated[tuple[Step, ...], Field(max_length=8)]


@router.get("/recipes")
def recipes(studio: InStudio) -> list[KeptRecipe]:
    """All of them, by name."""
    return [KeptRecipe(name=name, steps=recipe.steps or ()) for name, recipe in studio.recipes.list_all().items()]


@router.get("/looks")
def looks() -> list[KeptRecipe]:
    """Recipes of tone that ship."""
    return list(_read_looks())


@cache
def _read_looks() -> tuple[KeptRecipe, ...]:
    return TypeAdapter(tuple[KeptRecipe, ...]).validate_json(LOOKS.read_bytes())


@router.post("/recipes", status_code=201)
def keep(studio: InStudio, recipe: KeptRecipe) -> list[KeptRecipe]:
    """Keeps one, in the place of that of its name; all there are then."""
    recipes_kept = studio.recipes.list_all()
    if len(recipes_kept) >= MOST and recipe.name.casefold() not in {name.casefold() for name in recipes_kept}:
        raise EditRefused(f"The studio keeps {MOST} recipes at most.", "Take one away first.")
    studio.recipes.keep(recipe.name, Recipe(steps=recipe.steps))
    return recipes(studio)


@router.delete("/recipes/{name}")
def remove(studio: InStudio, name: str) -> list[KeptRecipe]:
    """Keeps one no more; all there are then. What it was laid on stays as it is."""
    studio.recipes.remove(name)
    return recipes(studio)
