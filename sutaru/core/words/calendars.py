"""Days: months as weeks, week numbers (ISO 8601), names of months and weekdays (CLDR), moon phases."""

import math
from calendar import monthrange
from collections.abc import Sequence
from datetime import date, timedelta
from functools import lru_cache

from babel import Locale
from babel.dates import format_skeleton, get_day_names, get_month_names

from ..document.calendar import CalendarSaid, Dated
from .fields import locale_of

LEAP_YEAR = 2000  # whose days a calendar for any year has
SUNDAY = 6  # weekdays count from Monday, 0, as Python's


def weeks(year: int, month: int, first_day: int) -> list[list[date]]:
    """A month in whole weeks that begin on ``first_day``, days of its neighbours included.

    >>> [len(week) for week in weeks(2027, 2, 0)]
    [7, 7, 7, 7]
    """
    first = date(year, month, 1)
    start = first - timedelta(days=(first.weekday() - first_day) % 7)
    last = date(year, month, monthrange(year, month)[1])
    rows = []
    while start <= last:
        rows.append([start + timedelta(days=n) for n in range(7)])
        start += timedelta(days=7)
    return rows


def first_day_of(locale: str) -> int:
    """The weekday that weeks begin with where a locale is at home."""
    return locale_of(locale).first_week_day


def day_names(locale: str, width: str, first_day: int) -> list[str]:
    """Names of weekdays as they stand alone, from the first of a week. ``width``: narrow, short (babel's abbreviated), long."""
    named = {"narrow": "narrow", "short": "abbreviated", "long": "wide"}[width]
    names = get_day_names(named, context="stand-alone", locale=locale_of(locale))
    return [names[(first_day + n) % 7].rstrip(".") for n in range(7)]


def window_of(months: Sequence[tuple[int, int]]) -> tuple[date, date] | None:
    """From the first day of the earliest month to the day after the last of the latest; None without any."""
    if not months:
        return None
    return date(*min(months), 1), date(*add_months(max(months), 1), 1)


def month_names(locale: str, width: str = "wide") -> list[str]:
    """The twelve months' names as they stand alone."""
    names = get_month_names(width, context="stand-alone", locale=locale_of(locale))
    return [names[n] for n in range(1, 13)]


# The first digit of the numbering systems that a font that ships has (CLDR, supplemental/numberingSystems.xml; Unicode, Nd).
_ZEROS = {"arab": "\u0660", "arabext": "\u06f0", "deva": "\u0966", "mymr": "\u1040"}


def write_digits(number: int | str, locale: str) -> str:
    """Write a number in the digits of a locale; in Latin ones where no font that ships has those.

    >>> write_digits(31, "ar_EG"), write_digits(31, "he_IL")
    ('٣١', '31')
    """
    zero = _ZEROS.get(locale_of(locale).default_numbering_system)
    if zero is None:
        return str(number)
    return str(number).translate({ord("0") + n: ord(zero) + n for n in range(10)})


def month_and_year(year: int, month: int, locale: str) -> str:
    """A month's name with its year, in the order that a locale has them.

    >>> month_and_year(2027, 4, "en_GB"), month_and_year(2027, 4, "ja_JP")
    ('April 2027', '2027年4月')
    """
    return write_digits(format_skeleton("yMMMM", date(year, month, 1), locale=locale_of(locale)), locale)


def is_right_to_left(locale: str) -> bool:
    """Whether weeks run from right to left, as the writing does."""
    return bool(locale_of(locale).text_direction == "rtl")


def week_number(week: list[date]) -> int:
    """The number of a week: that of its Thursday's (ISO 8601, 3.1.1.23)."""
    thursday = next(day for day in week if day.weekday() == 3)
    return thursday.isocalendar().week


def add_months(month: tuple[int, int], by: int) -> tuple[int, int]:
    """Year and month some months later, or earlier below 0.

    >>> add_months((2026, 12), 1), add_months((2027, 1), -2)
    ((2027, 1), (2026, 11))
    """
    count = month[0] * 12 + month[1] - 1 + by
    return count // 12, count % 12 + 1


def country_name(country: str, locale: str) -> str:
    """A country's name in a locale."""
    return str(locale_of(locale).territories.get(country, country))


def days_of(dated: Dated, year: int, leap: str) -> date | None:
    """The day of a year that a date of one's own falls on; None for none."""
    if not dated.yearly and dated.year != year:
        return None
    if dated.year is not None and year < dated.year:
        return None
    if (dated.month, dated.day) == (2, 29) and monthrange(year, 2)[1] == 28:
        return {"before": date(year, 2, 28), "after": date(year, 3, 1)}.get(leap)
    return date(year, dated.month, dated.day)


def list_dates(calendar: CalendarSaid, year: int | None) -> dict[date, list[str]]:
    """What dates of one's own say, by day, in the order they were given; with the age where it is known.

    Without a year: yearly ones on the days of a leap year, with the year in which they first were.
    """
    by_day: dict[date, list[str]] = {}
    for dated in calendar.dates:
        if year is None:
            if dated.yearly:
                text = f"{dated.text} {dated.year}" if dated.year else dated.text
                by_day.setdefault(date(LEAP_YEAR, dated.month, dated.day), []).append(text)
            continue
        day = days_of(dated, year, calendar.leap)
        if day is None:
            continue
        age = year - dated.year if dated.yearly and dated.year else 0
        by_day.setdefault(day, []).append(f"{dated.text} ({age})" if age else dated.text)
    return by_day


def photos_on(calendar: CalendarSaid, year: int | None) -> dict[date, str]:
    """The photos of dates of one's own, by day; of several on one day the first."""
    by_day: dict[date, str] = {}
    for dated in calendar.dates:
        if not dated.photo or (year is None and not dated.yearly):
            continue
        day = date(LEAP_YEAR, dated.month, dated.day) if year is None else days_of(dated, year, calendar.leap)
        if day is not None:
            by_day.setdefault(day, dated.photo)
    return by_day


def list_fallen_away(calendar: CalendarSaid, months: list[tuple[int, int]]) -> list[Dated]:
    """Dates of one's own that fall on no day of the months shown."""
    shown = set(months)
    years = {year for year, _ in months}
    return [
        dated
        for dated in calendar.dates
        if not any((day := days_of(dated, year, calendar.leap)) and (day.year, day.month) in shown for year in years)
    ]


def locale_weekend(locale: Locale) -> set[int]:
    """The weekdays of a weekend."""
    start, end = locale.weekend_start, locale.weekend_end
    return {(start + n) % 7 for n in range((end - start) % 7 + 1)}


# --- the moon ----------------------------------------------------------------------------------------------------------

PHASES = ("new", "first", "full", "last")


@lru_cache(maxsize=64)
def moon_phases(year: int) -> dict[date, str]:
    """Days (UTC) of a year's principal phases of the moon.

    J. Meeus, "Astronomical Algorithms", 2nd ed. 1998, chapter 49, with its main periodic terms (as remembered; within half an
    hour of the whole series, and days are what counts).
    """
    by_day: dict[date, str] = {}
    for quarter in range(math.floor((year - 2000) * 12.3685 * 4) - 8, math.floor((year - 1999) * 12.3685 * 4) + 8):
        day = _calendar_day(_phase(quarter / 4, quarter % 4))
        if day.year == year:
            by_day[day] = PHASES[quarter % 4]
    return by_day


def _phase(k: float, which: int) -> float:
    """Julian ephemeris day of a phase."""
    t = k / 1236.85
    jde = 2451550.09766 + 29.530588861 * k + 0.00015437 * t * t
    sun = math.radians(2.5534 + 29.10535670 * k)
    moon = math.radians(201.5643 + 385.81693528 * k + 0.0107582 * t * t)
    node = math.radians(160.7108 + 390.67050284 * k - 0.0016118 * t * t)
    e = 1 - 0.002516 * t
    if which in (0, 2):
        a, b = (-0.40720, 0.17241 * e) if which == 0 else (-0.40614, 0.17302 * e)
        jde += a * math.sin(moon) + b * math.sin(sun) + 0.01608 * math.sin(2 * moon) + 0.01039 * math.sin(2 * node)
        jde += 0.00739 * e * math.sin(moon - sun) - 0.00514 * e * math.sin(moon + sun)
    else:
        jde += -0.62801 * math.sin(moon) + 0.17172 * e * math.sin(sun) - 0.01183 * e * math.sin(moon + sun)
        jde += 0.00862 * math.sin(2 * moon) + 0.00804 * math.sin(2 * node) + 0.00454 * e * math.sin(moon - sun)
        w = 0.00306 - 0.00038 * e * math.cos(sun) + 0.00026 * math.cos(moon)
        jde += w if which == 1 else -w
    return jde


def _calendar_day(julian: float) -> date:
    """The day (UTC, of which dynamical time is about a minute ahead) of a Julian ephemeris day."""
    return date.fromordinal(math.floor(julian - 70 / 86400 + 0.5) - 1721425)
