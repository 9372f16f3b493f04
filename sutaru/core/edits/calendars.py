"""Edits of what calendars show; and a template's months as the sheets of a job."""

from collections.abc import Sequence
from datetime import date

from ..document import CalendarSaid, Job, Sheet
from ..errors import EditRefused
from ..words.calendars import after, has_more_holidays, known_country
from ..words.fields import month_name
from .kinds import SetCalendar

MOST_MONTHS = 18


def set_calendar(job: Job, edit: SetCalendar) -> Job:
    was = job.calendar or CalendarSaid()
    country = was.country if edit.country is None else edit.country
    region = (was.region if edit.country in (None, was.country) else "") if edit.region is None else edit.region
    if country and not known_country(country, region):
        where = f"{region} of {country}" if region and known_country(country) else country
        raise EditRefused(f"The holidays of {where} are not known.", "Choose another country or region, or none.")
    dates = was.dates if edit.dates is None else edit.dates
    leap = edit.leap or was.leap
    more = was.more_holidays if edit.more_holidays is None else edit.more_holidays
    said = CalendarSaid(
        dates=dates, leap=leap, country=country, region=region if country else "",
        more_holidays=more and has_more_holidays(country),
    )  # fmt: skip
    job = job.having(calendar=said)
    return with_months(job, edit.first_month) if edit.first_month else job


def with_months(job: Job, first: str) -> Job:
    """A job whose sheets of months show months in order from the one given."""
    months = [sheet for sheet in job.sheets if sheet.role == "month"]
    if not months:
        raise EditRefused("No sheet of this job is a month.", "Say in the workshop which sheets are.")
    start = int(first[:4]), int(first[5:7])
    single = [sheet for sheet in months if not sheet.layout.shows_year]
    fresh = {sheet.id: _in_month(sheet, after(start, n), job.locale) for n, sheet in enumerate(single)}
    return job.having(sheets=tuple(fresh.get(sheet.id, _beginning(sheet, first)) for sheet in job.sheets))


def months_of(sheets: Sequence[Sheet], first: str, count: int, locale: str) -> tuple[Sheet, ...]:
    """A template's sheets with so many months: those that are months are gone through as often as need be, where the first of
    them stands. A sheet that shows a whole year is there once. Raises EditRefused when no sheet is a month."""
    pattern = [sheet for sheet in sheets if sheet.role == "month" and not sheet.layout.shows_year]
    if not pattern:
        if not any(sheet.role == "month" for sheet in sheets):
            raise EditRefused("This template has no sheet of a month.", "Choose a calendar.")
        return tuple(_beginning(sheet, first) for sheet in sheets)
    if not 1 <= count <= MOST_MONTHS:
        raise EditRefused(f"A calendar has 1 to {MOST_MONTHS} months.", "Choose another number.")
    start = int(first[:4]), int(first[5:7])
    made: list[Sheet] = []
    for n in range(count):
        sheet = pattern[n % len(pattern)]
        made.append(_in_month(sheet.having(id=f"month-{n + 1:02d}"), after(start, n), locale))
    at = list(sheets).index(pattern[0])
    taken = {sheet.id for sheet in made}

    def kept(some: Sequence[Sheet]) -> list[Sheet]:
        rest = [_beginning(sheet, first) for sheet in some if sheet not in pattern]
        return [sheet if sheet.id not in taken else sheet.having(id=f"{sheet.id}-sheet") for sheet in rest]

    return (*kept(sheets[:at]), *made, *kept(sheets[at:]))


def _beginning(sheet: Sheet, first: str) -> Sheet:
    """A cover, say, that speaks of the month a calendar begins with."""
    says = "month" in sheet.fields or sheet.role == "month"
    return sheet.having(fields={**sheet.fields, "month": first}) if says else sheet


def in_locale(job: Job, locale: str) -> Job:
    """A job in another locale: sheets of months that nobody has named otherwise are called as it calls them."""

    def renamed(sheet: Sheet) -> Sheet:
        said = sheet.fields.get("month", "")
        if sheet.role != "month" or not said or sheet.layout.shows_year:
            return sheet
        month = int(said[:4]), int(said[5:7])
        return _in_month(sheet, month, locale) if sheet.name == _called(month, job.locale) else sheet

    return job.having(locale=locale, sheets=tuple(renamed(sheet) for sheet in job.sheets))


def _called(month: tuple[int, int], locale: str) -> str:
    return f"{month_name(date(*month, 1), locale)} {month[0]}"


def _in_month(sheet: Sheet, month: tuple[int, int], locale: str) -> Sheet:
    return sheet.having(name=_called(month, locale), fields={**sheet.fields, "month": f"{month[0]:04d}-{month[1]:02d}"})
