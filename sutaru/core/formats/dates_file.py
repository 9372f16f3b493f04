"""Dates of a customer's own from a file: CSV, or iCalendar (RFC 5545, by icalendar).

CSV: a date and what to write in each row, in any order of columns and with or without a heading; separated by comma, semicolon
or tab. Dates as 1987-06-14, 14.06.1987, 14/06/1987, and without a year 06-14 (ISO 8601: --06-14) or 14.06.
"""

import csv
import io
import re
from contextlib import suppress
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

import icalendar

from ..document import Dated
from ..errors import FileRefused

MOST_BYTES, MOST_DATES = 2_000_000, 5000
_ISO = re.compile(r"(?:(\d{4})|-)-?(\d\d)-(\d\d)")
_WRITTEN = re.compile(r"(\d{1,2})[./](\d{1,2})[./]?(?:(\d{4}))?")


@dataclass(frozen=True)
class ReadDates:
    """What a file says, and which of its lines could not be told, in words."""

    dates: tuple[Dated, ...]
    untold: tuple[str, ...]


def read_dates(data: bytes, name: str) -> ReadDates:
    """The dates in a file. Raises FileRefused with a plain sentence when there are none."""
    if len(data) > MOST_BYTES:
        raise FileRefused(f"{name} is larger than {MOST_BYTES // 1_000_000} MB.", "Bring in a shorter list.")
    found = _calendar(data, name) if b"BEGIN:VCALENDAR" in data[:2000] else _table(data)
    if not found.dates:
        raise FileRefused(
            f"There is no date in {name}.", "Bring in a CSV with a date and a name in each row, or an iCalendar file."
        )
    if len(found.dates) > MOST_DATES:
        raise FileRefused(f"{name} has more than {MOST_DATES:,} dates.", "Bring in a shorter list.")
    return found


def _table(data: bytes) -> ReadDates:
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = data.decode("latin-1")
    first = text.split("\n", 1)[0]
    mark = max(";\t,", key=first.count)
    dates: list[Dated] = []
    untold: list[str] = []
    try:
        rows = list(csv.reader(io.StringIO(text.replace("\0", "")), delimiter=mark))
    except csv.Error as error:
        raise FileRefused("This list cannot be read.", "Save it anew as CSV.") from error
    for number, row in enumerate(rows, 1):
        cells = [cell.strip() for cell in row if cell.strip()]
        if not cells:
            continue
        day = next(((cell, at) for cell in cells if (at := _day(cell))), None)
        words = " ".join(cell for cell in cells if day is None or cell != day[0])[:200]
        made = _dated(day[1], words) if day and words else None
        if made:
            dates.append(made)
        elif number > 1 or any(letter.isdigit() for letter in first):  # the first row may be a heading
            untold.append(f"Row {number}: {mark.join(row)[:80]}")
    return ReadDates(tuple(dates), tuple(untold[:50]))


def _day(cell: str) -> tuple[int | None, int, int] | None:
    """Year if said, month and day."""
    if found := _ISO.fullmatch(cell):
        return (int(found[1]) if found[1] else None), int(found[2]), int(found[3])
    if found := re.fullmatch(r"(\d\d)-(\d\d)", cell):
        return None, int(found[1]), int(found[2])
    if found := _WRITTEN.fullmatch(cell):
        return (int(found[3]) if found[3] else None), int(found[2]), int(found[1])
    return None


def _dated(day: tuple[int | None, int, int], text: str, yearly: bool = True) -> Dated | None:
    try:
        return Dated(year=day[0] or None, month=day[1], day=day[2], text=text, yearly=yearly)
    except ValueError:
        return None


def _calendar(data: bytes, name: str) -> ReadDates:
    try:
        book: Any = icalendar.Calendar.from_ical(data)
        events = list(book.walk("VEVENT"))
    except Exception as error:  # whatever the library makes of a file that was harmed
        raise FileRefused(f"{name} cannot be read as iCalendar.", "Save it anew.") from error
    dates: list[Dated] = []
    untold: list[str] = []
    for event in events:
        text, made = "", None
        with suppress(Exception):  # one event that makes no sense hides no other
            text = " ".join(str(event.get("SUMMARY", "")).split())[:200]
            made = _event(event, text)
        if made:
            dates.append(made)
        else:
            untold.append(text or "An event without a name")
    return ReadDates(tuple(dates), tuple(untold[:50]))


def _event(event: Any, text: str) -> Dated | None:
    """The date that an event says; of a field that is there more than once the first counts."""
    begins = getattr(_first(event.get("DTSTART")), "dt", None)
    day = begins.date() if isinstance(begins, datetime) else begins
    rule = _first(event.get("RRULE")) or {}
    yearly = "YEARLY" in [str(part).upper() for part in rule.get("FREQ", [])]
    return _dated((day.year, day.month, day.day), text, yearly) if isinstance(day, date) and text else None


def _first(value: Any) -> Any:
    return value[0] if isinstance(value, list) and value else value
