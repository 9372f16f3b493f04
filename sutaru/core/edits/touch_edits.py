"""Edits that retouch: touches put to those of a photo, or of what one opening shows; changed in their place; taken away."""

from ..document import Cover, Eye, Filling, Free, Job, Recipe, Retouching
from ..errors import EditRefused
from . import lookups
from .kinds import MendOpening, MendPhoto, RetouchOpening, RetouchPhoto
from .kinds.shared import Retouches
from .lookups import OnSheet
from .naming import count
from .table import EditRule, Table

MOST = 2000


def mend_photo(job: Job, edit: MendPhoto) -> Job:
    photo, edition = lookups.photo(job.pile, edit.photo), lookups.edition(job, edit.edition)
    return _set_recipe(job, edit.edition, photo.id, _keep_other_fields(edit.recipe, edition.photo_tones.get(photo.id)))


def mend_opening(on: OnSheet, edit: MendOpening) -> Filling:
    opening = _mended_photo(on, edit)
    return _set_opening_recipe(on, opening, _keep_other_fields(edit.recipe, on.filling.tones.get(opening)))


def retouch_photo(job: Job, edit: RetouchPhoto) -> Job:
    photo, edition = lookups.photo(job.pile, edit.photo), lookups.edition(job, edit.edition)
    return _set_recipe(job, edit.edition, photo.id, _change_touches(edition.photo_tones.get(photo.id), edit))


def retouch_opening(on: OnSheet, edit: RetouchOpening) -> Filling:
    opening = _mended_photo(on, edit)
    return _set_opening_recipe(on, opening, _change_touches(on.filling.tones.get(opening), edit))


def _mended_photo(on: OnSheet, edit: MendOpening | RetouchOpening) -> str:
    opening = on.opening(edit.opening)
    on.check_photo(opening.id, edit.expect)
    if not on.filling.photo_in(opening.id):
        raise EditRefused("This opening is empty.", "Put a photo into it first.")
    return opening.id


def _keep_other_fields(fresh: Recipe | None, before: Recipe | None) -> Recipe | None:
    """A recipe of other steps: what else it says stays, unless it says that anew."""
    if fresh is None:
        return None
    old = before or Recipe()
    recipe = fresh.copy_with(retouching=fresh.retouching or old.retouching, upright=fresh.upright or old.upright)
    return recipe if recipe.retouching or recipe.upright or recipe.steps is not None else None


def _change_touches(before: Recipe | None, edit: Retouches) -> Recipe | None:
    recipe = before or Recipe(steps=None)
    now = {touch.id: touch for touch in (recipe.retouching.touches if recipe.retouching else ())}
    missing = [identity for identity in edit.gone if identity not in now]
    if missing and not edit.put:
        raise EditRefused("This touch is not there any more.", "Look at the list as it is now.")
    for identity in edit.gone:
        now.pop(identity, None)
    now |= {touch.id: touch for touch in edit.put}
    if len(now) > MOST:
        raise EditRefused(
            f"A photo takes {MOST:,} touches at most.", "Mend the rest of it elsewhere and bring it in again."
        )
    if not now and recipe.steps is None and recipe.upright is None:
        return None
    return recipe.copy_with(retouching=Retouching(touches=tuple(now.values())) if now else None)


def _set_recipe(job: Job, edition: str, photo: str, recipe: Recipe | None) -> Job:
    edition_then = lookups.edition(job, edition)
    tones = {k: v for k, v in edition_then.photo_tones.items() if k != photo} | (
        {photo: recipe} if recipe is not None else {}
    )
    return lookups.replace_edition(job, edition_then.copy_with(photo_tones=tones))


def _set_opening_recipe(on: OnSheet, opening: str, recipe: Recipe | None) -> Filling:
    tones = {k: v for k, v in on.filling.tones.items() if k != opening}
    return on.filling.copy_with(tones=tones | ({opening: recipe} if recipe is not None else {}))


def _describe_touches(edit: RetouchPhoto | RetouchOpening) -> str:
    if not edit.put:
        return f"remove {count(len(edit.gone), 'touch')}"
    if len(edit.put) > 1:
        return f"retouch {count(len(edit.put), 'place')}"
    touch = edit.put[0]
    if isinstance(touch, Free):
        return "cut a subject out of its opening"
    if isinstance(touch, Cover):
        return {"clone": "clone", "heal": "heal", "fill": "fill a place"}[touch.how]
    return "correct an eye" if isinstance(touch, Eye) else "adjust an area"


EDITS: Table = {
    MendPhoto: EditRule(mend_photo, lambda name, edit: f"adjust {name.photo(edit.photo)}"),
    MendOpening: EditRule(mend_opening, lambda name, edit: f"adjust {name.openings(edit.sheet, edit.opening)}"),
    RetouchPhoto: EditRule(retouch_photo, lambda name, edit: f"{_describe_touches(edit)} in {name.photo(edit.photo)}"),
    RetouchOpening: EditRule(
        retouch_opening,
        lambda name, edit: f"{_describe_touches(edit)} in {name.openings(edit.sheet, edit.opening)}",
    ),
}
