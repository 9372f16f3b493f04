"""What is found in a file that is to be printed: each defect with its rule, its place and what is wanted instead."""

from typing import Literal

from ..document.base import Frozen

Severity = Literal["stop", "look", "note"]


class Defect(Frozen):
    """Something in a file against the standard or the lab sheet. ``page``: counted from 1, 0 for the whole file."""

    rule: str
    severity: Severity
    sentence: str
    page: int = 0


class Report(Frozen):
    """A file that was looked over. ``standard``: what it says to keep to, "" for none. ``checked``: against what it was held.

    What is said here was worked out from the file's structure; it is no certificate.
    """

    file: str
    kind: Literal["pdf", "jpeg", "tiff", "png", "other"]
    standard: str = ""
    pages: int = 0
    checked: tuple[str, ...] = ()
    defects: tuple[Defect, ...] = ()

    @property
    def has_stops(self) -> bool:
        """Whether something in it will be refused, or print wrongly."""
        return any(defect.severity == "stop" for defect in self.defects)
