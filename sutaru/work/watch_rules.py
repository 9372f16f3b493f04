"""What lies in watched folders: their rules, and the folders of customers' photos in them.

WATCHED/post-cards/rule.json              what is made of each folder beside it
WATCHED/post-cards/Brandvik/*.jpg         a customer's photos: taken once nothing in it has changed for a while
WATCHED/post-cards/taken/Brandvik         where they lie then, with ``job.json``, which says what became of them
WATCHED/post-cards/print/Brandvik         what was exported
"""

import os
from pathlib import Path
from typing import Annotated, Literal

from pydantic import Field, ValidationError

from ..core.document import FileKind
from ..core.document.base import Frozen
from ..core.errors import FileRefused, describe_complaint
from ..core.press.files import write_whole

RULE, TOLD = "rule.json", "job.json"
RULE_BYTES = 100_000
TAKEN, PRINT, WRONG = "taken", "print", "rule.wrong.txt"


class Rule(Frozen):
    """What is made of each folder that is laid in: a job from a template for a lab sheet, called as the folder; filled; exported
    when nothing stops it. ``format``: else as the lab sheet says."""

    template: Annotated[str, Field(min_length=1, max_length=64)]
    lab: Annotated[str, Field(min_length=1, max_length=64)] = "gullwing-300"
    fill: Literal["best", "order"] = "best"
    export: bool = True
    format: FileKind | None = None


def write_rule(folder: Path, rule: Rule) -> None:
    """Makes a watched folder, or gives one another rule."""
    folder.mkdir(parents=True, exist_ok=True)
    with write_whole(folder / RULE) as file:
        file.write(rule.model_dump_json(indent=1).encode())


def rules_in(folder: Path) -> list[Path]:
    """The rules of the watched folders that lie in a folder, in order of their names; none while its disk is away."""
    try:
        paths = sorted(folder.glob(f"*/{RULE}"))
        return [path for path in paths if _lies_in(path.parent, folder) and _lies_in(path, folder)]
    except OSError:
        return []


def list_waiting(watched: Path) -> list[Path]:
    """The folders that were laid into a watched one, and are not taken yet."""
    return [
        path
        for path in sorted(watched.iterdir())
        if path.is_dir() and not path.is_symlink() and path.name not in (TAKEN, PRINT) and not path.name.startswith(".")
    ]


def photos_of(folder: Path) -> list[Path]:
    """What lies in a customer's folder."""
    return sorted(
        path
        for path in folder.iterdir()
        if path.is_file() and not path.is_symlink() and not path.name.startswith(".") and path.name != TOLD
    )


def read_rule(path: Path) -> Rule:
    """A watched folder's rule. Raises FileRefused with a sentence when it is none."""
    try:
        with path.open("rb") as file:
            data = file.read(RULE_BYTES + 1)
    except OSError as error:
        raise FileRefused(f"{RULE} cannot be read: {error.strerror}.", "See who may read it.") from None
    try:
        if len(data) > RULE_BYTES:
            raise FileRefused(f"{RULE} is too large to be a rule.", "Write it anew.")
        return Rule.model_validate_json(data)
    except ValidationError as error:
        first = error.errors()[0]
        if not first["loc"]:
            raise FileRefused(f"{RULE} cannot be read: it is not a rule in JSON.", "Write it anew.") from None
        raise FileRefused(describe_complaint(first)) from None


def read_words(path: Path) -> str:
    """What stands in a file of words; nothing where there is none."""
    try:
        return path.read_text("utf-8", "replace")
    except OSError:
        return ""


def displayable_name(path: Path) -> str:
    """A file's name as it can be shown: one that is no UTF-8 with a mark for what is none."""
    return os.fsencode(path.name).decode("utf-8", "replace")


def _lies_in(path: Path, folder: Path) -> bool:
    """Whether what a path leads to lies in a folder; a link may lead elsewhere."""
    return not path.is_symlink() or path.resolve().is_relative_to(folder.resolve())
