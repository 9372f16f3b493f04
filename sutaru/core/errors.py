"""Errors of the core. Each class has a stable ``code``; each error says what is wrong and what to do about it."""

import re
from collections.abc import Mapping
from typing import Any


class SutaruError(Exception):
    """Root of all errors a user can meet. ``str(error)`` is one plain sentence, with the remedy when there is one."""

    code = "error"

    def __init__(self, sentence: str, remedy: str = "") -> None:
        self.sentence = sentence
        self.remedy = remedy
        super().__init__(f"{sentence} {remedy}".strip())

    def __reduce__(self) -> tuple[type["SutaruError"], tuple[str, str]]:
        return type(self), (self.sentence, self.remedy)


_NUMBERS = dict.fromkeys(
    ("int_type", "int_parsing", "int_from_float"), "Input should be a whole number"
) | dict.fromkeys(("float_type", "float_parsing"), "Input should be a number")


def describe_complaint(complaint: Mapping[str, Any]) -> str:
    """One complaint of a validation (Pydantic's) as a sentence that names no path of fields: "The width must be ..."."""
    message = str(complaint["msg"]).removeprefix("Value error, ").removeprefix("Assertion failed, ")
    names = [part for part in complaint["loc"] if isinstance(part, str)]
    if complaint["type"] == "value_error" or not names:
        return message
    if complaint["type"] in ("union_tag_not_found", "union_tag_invalid"):
        field = str(complaint.get("ctx", {}).get("discriminator", "kind")).strip("'")
        return f'The {names[-1].replace("_", " ")} must say what it is in "{field}", as the description of the API lists it.'
    name = re.sub(r"_(mm|deg|pt|id)$", "", names[-1]).replace("_", " ")
    message = _NUMBERS.get(complaint["type"], message)
    sentence = message.replace("Input should", "must").replace("Field required", "is missing")
    sentence = sentence.replace("String should", "must").replace("Extra inputs are not permitted", "is not known here")
    return f"The {name} {sentence[:1].lower()}{sentence[1:]}."


class GeometryError(SutaruError):
    """A shape that cannot be: a folded quadrilateral, an outline without area, a number that is not finite."""

    code = "geometry"


class EditRefused(SutaruError):
    """An edit that cannot be applied; the document is unchanged."""

    code = "edit_refused"


class NotFound(SutaruError):
    """Something named does not exist."""

    code = "not_found"


class PhotoRefused(SutaruError):
    """A file that cannot become a photo of the pile."""

    code = "photo_refused"


class FileRefused(SutaruError):
    """A bundle, template or vector file that is not what it should be."""

    code = "file_refused"


class ExportFailed(SutaruError):
    """A print file could not be written or did not read back as it should."""

    code = "export_failed"


class ExportRefused(SutaruError):
    """A job that is not to be printed as it stands."""

    code = "export_refused"

    @classmethod
    def for_stops(cls, stops: int) -> "ExportRefused":
        """So many stops that nobody accepted."""
        what, each = ("1 stop is", "it") if stops == 1 else (f"{stops} stops are", "each")
        return cls(f"{what} in the way of printing.", f"Mend {each}, or accept {each} with a name and a reason.")


class Stopped(SutaruError):
    """Long work was stopped by its user."""

    code = "stopped"
