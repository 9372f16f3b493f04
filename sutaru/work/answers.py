"""What a lab and a printer say: data from outside, read into models before anything is made of it. Nothing raw is kept.

An answer that is none is refused as a whole; of a list of reasons or sheets what cannot be read is left out, since the rest of it
still counts.
"""

import re
from typing import Annotated, Any, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, ValidationError, model_validator

from ..core.document import LabSheet
from ..core.errors import describe_complaint
from ..core.ordering import LAB_STATES

MOST_SHEETS, MOST_REASONS, MOST_NAMES = 200, 200, 200


def _text(most: int) -> BeforeValidator:
    """A string without control characters, cut to ``most`` letters; what is no string is none."""

    def plain_text(value: object) -> str:
        if not isinstance(value, str):
            return ""
        return "".join(letter for letter in value if letter.isprintable() or letter == "\n")[:most]

    return BeforeValidator(plain_text)


def _read_count(value: object) -> int:
    """A count that a lab may have written as text; 0 for what is none."""
    text = str(value).strip()
    return int(text) if text.isdecimal() and len(text) < 7 else 0


def _read_currency(value: object) -> str:
    """Three letters (ISO 4217); "" for what is no currency."""
    return value.upper() if isinstance(value, str) and re.fullmatch(r"[A-Za-z]{3}", value) else ""


Name = Annotated[str, _text(200)]
Sentence = Annotated[str, _text(1000)]
Price = Annotated[float, Field(ge=0, le=10_000_000, allow_inf_nan=False)]
Currency = Annotated[str, BeforeValidator(_read_currency)]
State = Literal["open", "unread", "refused", "cancelled", "received", "checked", "printing", "cut", "packed", "sent"]
assert set(LAB_STATES) <= set(State.__args__)  # type: ignore[attr-defined]


class Said(BaseModel):
    """Base of what is said from outside: fields that nobody knows here are passed over."""

    model_config = ConfigDict(frozen=True, extra="ignore")


class Reason(Said):
    """Why a lab refuses an order: of which line, file and page, the page's number in a file of many (0: none), in words."""

    line: Name = ""
    file: Name = ""
    page: Name = ""
    number: Annotated[int, BeforeValidator(_read_count)] = 0
    reason: Sentence = ""


def _reasons(value: object) -> list[Reason]:
    """Reasons that can be read, of a list that a lab gives."""
    if not isinstance(value, list | tuple):
        raise ValueError("The reasons are no list.")
    return [
        reason if isinstance(reason, Reason) else Reason.model_validate(reason)
        for reason in value[:MOST_REASONS]
        if isinstance(reason, dict | Reason)
    ]


Reasons = Annotated[tuple[Reason, ...], BeforeValidator(_reasons)]


class Standing(Said):
    """How an order stands at a lab."""

    id: Annotated[str, Field(pattern=r"^([A-Za-z0-9][A-Za-z0-9._-]{0,63})?$")] = ""
    state: State
    reasons: Reasons = ()
    missing: Annotated[tuple[Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")], ...], Field(max_length=20_000)] = ()
    price: Price | None = None
    currency: Currency = ""


class Received(Said):
    """How much of a file a lab has."""

    bytes: Annotated[int, Field(ge=0, le=1 << 50)]
    whole: bool


class Prices(Said):
    """What a lab asks for an order, and for a page; 0 where it does not say. ``currency`` by ISO 4217, "" where it does not."""

    order: Price = 0.0
    page: Price = 0.0
    spread: Price = 0.0
    currency: Currency = ""


Names = Annotated[tuple[Annotated[str, Field(min_length=1, max_length=200)], ...], Field(max_length=MOST_NAMES)]


class Offers(Said):
    """What a lab publishes. ``unread``: why a lab sheet of its list cannot be read, by its id."""

    sheets: tuple[LabSheet, ...]
    unread: dict[str, str] = {}
    papers: Names = ()
    finishes: Names = ()
    covers: Names = ()
    prices: Prices = Prices()
    turnaround: Name = ""

    @model_validator(mode="before")
    @classmethod
    def _each_sheet(cls, value: Any) -> Any:
        if not isinstance(value, dict) or not isinstance(value.get("sheets"), list | tuple):
            return value
        sheets: list[LabSheet] = []
        unread: dict[str, str] = {}
        for n, sheet in enumerate(value["sheets"][:MOST_SHEETS], 1):
            try:
                sheets.append(LabSheet.model_validate(sheet))
            except ValidationError as error:
                named = sheet.get("id") if isinstance(sheet, dict) else None
                unread[str(named or f"sheet {n}")[:64]] = describe_complaint(error.errors()[0])
        return {**value, "sheets": sheets, "unread": unread}


class Refusal(Said):
    """Why a lab or a printer does not do what it is asked: a sentence, and what to do."""

    sentence: Annotated[Sentence, Field(min_length=1)]
    remedy: Sentence = ""


class Tray(Said):
    """A tray of a printer. ``profile``: the press profile that its paper is printed by."""

    name: Annotated[str, Field(min_length=1, max_length=40)]
    width_mm: Annotated[float, Field(gt=0, le=5000, allow_inf_nan=False)]
    height_mm: Annotated[float, Field(gt=0, le=5000, allow_inf_nan=False)]
    media: Name = ""
    sheets: Annotated[int, Field(ge=0, le=10_000_000)] = 0
    profile: Name = ""
    duplex: bool = False


class Trays(Said):
    """What a printer holds, and where it does not print."""

    trays: Annotated[tuple[Tray, ...], Field(max_length=100)]
    margin_mm: Annotated[float, Field(ge=0, le=1000, allow_inf_nan=False)] = 0.0


class PrintJob(Said):
    """A job at a printer. ``printed``: sheets, of ``sheets`` times ``copies``; ``notes``: how it lies on the paper."""

    id: Annotated[str, Field(pattern=r"^[0-9a-f]{12}$")]
    tray: Name
    media: Name = ""
    copies: Annotated[int, Field(ge=1, le=100_000)]
    sheets: Annotated[int, Field(ge=0, le=1_000_000)]
    printed: Annotated[int, Field(ge=0, le=1_000_000_000)]
    state: Literal["printing", "stopped", "done"]
    why: Sentence = ""
    notes: Annotated[tuple[Sentence, ...], Field(max_length=100)] = ()
    files: Annotated[
        tuple[Annotated[str, Field(pattern=r"^sheet-\d{3,4}-(front|back)\.png$")], ...], Field(max_length=10_000)
    ] = ()
