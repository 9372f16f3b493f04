"""Edits that retouch: touches put to those of a photo, or of what one opening shows; changed in their place; taken away."""

from ..document import Filling, Job, Recipe, Retouching
from ..errors import EditRefused
from . import asked
from .asked import OnSheet
from .kinds import MendOpening, MendPhoto, RetouchOpening, RetouchPhoto
from .kinds.shared import Retouches

MOST = 2000


def mend_photo(job: Job, edit: MendPhoto) -> Job:
    photo, own = asked.photo(job.pile, edit.photo), asked.edition(job, edit.edition)
    return _with(job, edit.edition, photo.id, _kept(edit.recipe, own.photo_tones.get(photo.id)))


def mend_opening(on: OnSheet, edit: MendOpening) -> Filling:
    opening = _mended(on, edit)
    return _in_opening(on, opening, _kept(edit.recipe, on.filling.tones.get(opening)))


def retouch_photo(job: Job, edit: RetouchPhoto) -> Job:
    photo, own = asked.photo(job.pile, edit.photo), asked.edition(job, edit.edition)
    return _with(job, edit.edition, photo.id, _retouched(own.photo_tones.get(photo.id), edit))


def retouch_opening(on: OnSheet, edit: RetouchOpening) -> Filling:
    opening = _mended(on, edit)
    return _in_opening(on, opening, _retouched(on.filling.tones.get(opening), edit))


def _mended(on: OnSheet, edit: MendOpening | RetouchOpening) -> str:
    opening = on.opening(edit.opening)
    on.expected(opening.id, edit.expect)
    if not on.filling.held(opening.id):
        raise EditRefused("This opening is empty.", "Put a photo into it first.")
    return opening.id


def _kept(fresh: Recipe | None, before: Recipe | None) -> Recipe | None:
    """A recipe of other steps: what else it says stays, unless it says that anew."""
    if fresh is None:
        return None
    old = before or Recipe()
    kept = fresh.having(retouching=fresh.retouching or old.retouching, upright=fresh.upright or old.upright)
    return kept if kept.retouching or kept.upright or kept.steps is not None else None


def _retouched(before: Recipe | None, edit: Retouches) -> Recipe | None:
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
    return recipe.having(retouching=Retouching(touches=tuple(now.values())) if now else None)


def _with(job: Job, edition: str, photo: str, recipe: Recipe | None) -> Job:
    own = asked.edition(job, edition)
    tones = {k: v for k, v in own.photo_tones.items() if k != photo} | ({photo: recipe} if recipe is not None else {})
    return asked.with_edition(job, own.having(photo_tones=tones))


def _in_opening(on: OnSheet, opening: str, recipe: Recipe | None) -> Filling:
    tones = {k: v for k, v in on.filling.tones.items() if k != opening}
    return on.filling.having(tones=tones | ({opening: recipe} if recipe is not None else {}))
