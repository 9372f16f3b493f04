"""How an edit stands in the table of its subject: what it does, and what undo and the history call it."""

from collections.abc import Callable
from typing import Any, NamedTuple

from .naming import Namer


class EditRule(NamedTuple):
    """``apply``: of a layout edit, from a Layout; of a filling edit, from what lies on a sheet; of any other, from a Job.

    ``label``: what it does, in a few words. ``takes_ids``: it makes layers, and is told the ids that are taken.
    """

    apply: Callable[..., Any]
    label: Callable[[Namer, Any], str]
    takes_ids: bool = False


Table = dict[type[Any], EditRule]
