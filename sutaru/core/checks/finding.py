"""What a check found; and what of a sheet checks look at."""

from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import Field

from ..document import Accepted, Opening, Text
from ..document.base import Frozen, unsaid
from ..fitting import Drawn, Resolved

Severity = Literal["stop", "look", "note"]


class Finding(Frozen):
    """What a check found, where, what was measured and what it was measured against.

    ``severity`` is how it counts: one grade less than ``found`` once somebody has ``accepted`` it, as they say why.
    ``edition``: whose it is, where findings of several are told together.
    """

    rule: str
    severity: Severity
    sheet: str
    layer: str = ""
    sentence: str
    measured: float | None = None
    limit: float | None = None
    found: Severity = "note"
    accepted: Accepted | None = None
    edition: Annotated[str, Field(exclude_if=unsaid)] = ""


Findings = Iterator[Finding]


def openings_of(sheet: Resolved) -> Iterator[tuple[Drawn, Opening]]:
    """Openings that are seen, as they are drawn."""
    for drawn in sheet.openings:
        if isinstance(drawn.layer, Opening) and drawn.layer.visible:
            yield drawn, drawn.layer


def texts_of(sheet: Resolved) -> Iterator[tuple[Drawn, Text]]:
    """Boxes of words that are seen, the parts that others are made of left out."""
    for drawn in sheet.drawn:
        if isinstance(drawn.layer, Text) and drawn.layer.visible and not drawn.part_of:
            yield drawn, drawn.layer


def finding_of(sheet: Resolved, rule: str, severity: Severity, layer: str, sentence: str, **more: float) -> Finding:
    """A finding of a sheet. ``more``: what was ``measured``, and the ``limit`` that it was held against, to a millionth."""
    values = {name: round(value, 6) for name, value in more.items()}
    return Finding(
        rule=rule, severity=severity, found=severity, sheet=sheet.sheet, layer=layer, sentence=sentence, **values
    )
