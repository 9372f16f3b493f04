"""Dates of a customer's own from a file: CSV, or iCalendar (RFC 5545, by icalendar; what recurs by recurring-ical-events).

CSV: a date and what to write in each row, in any order of columns and with or without a heading; separated by comma, semicolon
or tab. Dates as 1987-06-14, 14.06.1987, 14/06/1987, and without a year 06-14 (ISO 8601: --06-14) or 14.06. Where strokes part
them, whether the day or the month comes first is told by the column: one row with a number over 12 tells it for all. Where none
does it is as the locale writes it (CLDR), and said to be unsure.
"""

import csv
import io
import re
from contextlib import suppress
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Any, Literal
from zoneinfo import ZoneInfo

from babel import Locale

from ..document import Dated
from ..errors import FileRefused

MOST_BYTES, MOST_DATES = 2_000_000, 5000
_ISO = re.compile(r"(?:(\d{4})|-)-?(\d\d)-(\d\d)")
_DOTTED = re.compile(r"(\d{1,2})\.(\d{1,2})\.?(?:(\d{4}))?")
_STROKES = re.compile(r"(\d{1,2})/(\d{1,2})/?(?:(\d{4}))?")
MOST_DAYS = 62  # of one event: what lasts longer is told of its first day
MOST_TIMES = 600  # that one event comes again

Order = Literal["day", "month"]  # which of the two comes first
Window = tuple[date, date]  # the first day that is asked about, and the one after the last


@dataclass(frozen=True)
class ReadDates:
    """What a file says, and which of its lines could not be told, in words. ``order``: what came first in dates with strokes, ""
    where there are none for which that matters; ``is_sure``: whether the file itself told that."""

    dates: tuple[Dated, ...]
    untold: tuple[str, ...]
    order: Order | Literal[""] = ""
    is_sure: bool = True


def read_dates(
    data: bytes, name: str, locale: str = "en_GB", order: Order | None = None, window: Window | None = None
) -> ReadDates:
    """The dates in a file. ``locale`` tells whether day or month comes first where the file does not, ``order`` does in any case;
    within ``window`` an event that recurs otherwise than yearly is told each time. Raises FileRefused with a plain sentence
    when there are none."""
    if len(data) > MOST_BYTES:
        raise FileRefused(f"{name} is larger than {MOST_BYTES // 1_000_000} MB.", "Bring in a shorter list.")
    is_calendar = b"BEGIN:VCALENDAR" in data[:2000]
    dates = _calendar(data, name, window) if is_calendar else _table(data, locale, order)
    if not dates.dates:
        raise FileRefused(
            f"There is no date in {name}.", "Bring in a CSV with a date and a name in each row, or an iCalendar file."
        )
    if len(dates.dates) > MOST_DATES:
        raise FileRefused(f"{name} has more than {MOST_DATES:,} dates.", "Bring in a shorter list.")
    return dates


def _table(data: bytes, locale: str, order: Order | None) -> ReadDates:
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
    strokes = [match for row in rows for cell in row if (match := _STROKES.fullmatch(cell.strip()))]
    order_of_dates = _order_told(strokes)
    first_is: Order = order or order_of_dates or _order_of(locale)
    for number, row in enumerate(rows, 1):
        cells = [cell.strip() for cell in row if cell.strip()]
        if not cells:
            continue
        day = next(((cell, when) for cell in cells if (when := _day(cell, first_is))), None)
        words = " ".join(cell for cell in cells if day is None or cell != day[0])[:200]
        dated = _make_dated(day[1], words) if day and words else None
        if dated:
            dates.append(dated)
        elif number > 1 or any(letter.isdigit() for letter in first):  # the first row may be a heading
            untold.append(f"Row {number}: {mark.join(row)[:80]}")
    matters = any(match[1] != match[2] for match in strokes)
    return ReadDates(
        tuple(dates), tuple(untold[:50]), first_is if matters else "", not matters or bool(order or order_of_dates)
    )


def _order_told(strokes: list[re.Match[str]]) -> Order | None:
    """What comes first in dates with strokes, as those of them tell that can be read one way only; None where none does, or where
    they tell both."""
    days = any(int(match[1]) > 12 >= int(match[2]) for match in strokes)
    months = any(int(match[2]) > 12 >= int(match[1]) for match in strokes)
    return None if days == months else "day" if days else "month"


def _order_of(locale: str) -> Order:
    """What comes first in a short date of a locale."""
    try:
        pattern = Locale.parse(locale).date_formats["short"].pattern
    except (ValueError, KeyError):
        return "day"
    return "month" if pattern.lower().find("m") < pattern.lower().find("d") else "day"


def _day(cell: str, first_is: Order) -> tuple[int | None, int, int] | None:
    """Year if said, month and day."""
    if match := _ISO.fullmatch(cell):
        return (int(match[1]) if match[1] else None), int(match[2]), int(match[3])
    if match := re.fullmatch(r"(\d\d)-(\d\d)", cell):
        return None, int(match[1]), int(match[2])
    if match := _DOTTED.fullmatch(cell):
        return (int(match[3]) if match[3] else None), int(match[2]), int(match[1])
    if match := _STROKES.fullmatch(cell):
        day, month = (match[1], match[2]) if first_is == "day" else (match[2], match[1])
        return (int(match[3]) if match[3] else None), int(month), int(day)
    return None


def _make_dated(day: tuple[int | None, int, int], text: str, yearly: bool = True) -> Dated | None:
    try:
        return Dated(year=day[0] or None, month=day[1], day=day[2], text=text, yearly=yearly)
    except ValueError:
        return None


def _calendar(data: bytes, name: str, window: Window | None) -> ReadDates:
    try:
        import icalendar  # a tenth of a second, for those who bring such a file

        book: Any = icalendar.Calendar.from_ical(data)
        events = list(book.walk("VEVENT"))
    except Exception as error:  # whatever the library makes of a file that was harmed
        raise FileRefused(f"{name} cannot be read as iCalendar.", "Save it anew.") from error
    home = _zone(book)
    dates: list[Dated] = []
    untold: list[str] = []
    for together in _group_by_identity(events):
        text, dates_read = "", list[Dated]()
        with suppress(Exception):  # one event that makes no sense hides no other
            text = _name_of(together[0])
            if _is_cancelled(together[0]):
                text = f"{text or 'An event without a name'} (cancelled)"
            else:
                dates_read = _dates_of(together, home, window)
        if dates_read:
            dates += dates_read
        else:
            untold.append(text or "An event without a name")
    return ReadDates(tuple(dates[: MOST_DATES + 1]), tuple(untold[:50]))


def _group_by_identity(events: list[Any]) -> list[list[Any]]:
    """Events, each with those after it that change one of its times (RFC 5545, 3.8.4.4)."""
    groups: dict[str, list[Any]] = {}
    for n, event in enumerate(sorted(events, key=lambda entry: entry.get("RECURRENCE-ID") is not None)):
        name = str(_first(event.get("UID")) or "")
        changes = event.get("RECURRENCE-ID") is not None and name in groups
        groups.setdefault(name if changes or (name and name not in groups) else f"{name} {n}", []).append(event)
    return list(groups.values())


def _dates_of(together: list[Any], home: ZoneInfo | None, window: Window | None) -> list[Dated]:
    """The days that an event says, with what changes it. Each year where it recurs so; else each time within the window."""
    event, *changes = together
    text = _name_of(event)
    rule = _first(event.get("RRULE")) or {}
    parts = {str(key).upper(): [str(part).upper() for part in values] for key, values in rule.items()}
    yearly = parts.get("FREQ") == ["YEARLY"] and parts.get("INTERVAL", ["1"]) == ["1"]
    if yearly and not changes and not {"COUNT", "UNTIL", "BYDAY", "BYSETPOS", "BYWEEKNO", "BYYEARDAY"} & set(parts):
        return [dated for day in _days_of(event, home)[:1] if (dated := _date_on(day, text, True))]
    # What comes again within a day is told of its own day: no calendar shows hours.
    often = parts.get("FREQ", [""])[0] in ("SECONDLY", "MINUTELY", "HOURLY")
    often = often or any(len(parts.get(part, [])) > 1 for part in ("BYHOUR", "BYMINUTE", "BYSECOND"))
    if (rule or event.get("RDATE")) and window and not often:
        import icalendar
        import recurring_ical_events

        alone = icalendar.Calendar()
        for entry in together:
            alone.add_component(entry)
        times = recurring_ical_events.of(alone).between(*window)[:MOST_TIMES]
        times_kept = (time for time in times if not _is_cancelled(time))
        days_listed = [(day, _name_of(time) or text) for time in times_kept for day in _days_of(time, home)]
        within = sorted({(day, name) for day, name in days_listed if window[0] <= day < window[1]})
        return [dated for day, name in within if (dated := _date_on(day, name, False))]
    days = [
        (day, _name_of(entry) or text)
        for entry in together
        if not _is_cancelled(entry)
        for day in _days_of(entry, home)
    ]
    return [dated for day, name in days if (dated := _date_on(day, name, False))]


def _is_cancelled(event: Any) -> bool:
    return str(_first(event.get("STATUS")) or "").upper() == "CANCELLED"


def _days_of(event: Any, home: ZoneInfo | None) -> list[date]:
    """The days from the beginning of an event to its end; of a field that is there more than once the first counts."""
    begins = getattr(_first(event.get("DTSTART")), "dt", None)
    ends = getattr(_first(event.get("DTEND")), "dt", None)
    lasts = getattr(_first(event.get("DURATION")), "dt", None)
    if not isinstance(begins, date):
        return []
    if ends is None and isinstance(lasts, timedelta):
        ends = begins + lasts
    first, last = _local_day(begins, home), _local_day(ends, home) if isinstance(ends, date) else None
    # All-day events end on the day after (RFC 5545, 3.6.1); so does what ends at midnight.
    if last is not None and (not isinstance(ends, datetime) or (ends.hour, ends.minute, ends.second) == (0, 0, 0)):
        last -= timedelta(1)
    count = (last - first).days + 1 if last and last > first else 1
    return [first + timedelta(n) for n in range(count if count <= MOST_DAYS else 1)]


def _local_day(moment: date, home: ZoneInfo | None) -> date:
    """The day of a moment where it is kept: an hour of UTC is one of the calendar's own zone, where that is told."""
    if not isinstance(moment, datetime):
        return moment
    is_utc = (
        moment.tzinfo is not None and moment.utcoffset() == timedelta(0) and str(moment.tzinfo) in ("UTC", "Etc/UTC")
    )
    return moment.astimezone(home).date() if home and is_utc else moment.date()


def _zone(book: Any) -> ZoneInfo | None:
    """The zone that a calendar is kept in, by the field that programs write for it (common practice, no source)."""
    with suppress(Exception):
        return ZoneInfo(str(book.get("X-WR-TIMEZONE") or ""))
    return None


def _name_of(event: Any) -> str:
    return " ".join(str(_first(event.get("SUMMARY")) or "").split())[:200]


def _date_on(day: date, text: str, yearly: bool) -> Dated | None:
    return _make_dated((day.year, day.month, day.day), text, yearly) if text else None


def _first(value: Any) -> Any:
    return value[0] if isinstance(value, list) and value else value
