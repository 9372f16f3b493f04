"""Edits of what calendars show; and a template's months as the sheets of a job."""

from collections.abc import Sequence
from datetime import date

from ..document import CalendarSaid, Job, Sheet
from ..errors import EditRefused
from ..words.calendars import add_months
from ..words.fields import month_name
from .kinds import SetCalendar
from .naming import Namer
from .table import EditRule, Table

MOST_MONTHS = 18


def set_calendar(job: Job, edit: SetCalendar) -> Job:
    from ..words.public_holidays import has_more_holidays, is_known_country  # slow to load, and few jobs are calendars

    was = job.calendar or CalendarSaid()
    country = was.country if edit.country is None else edit.country
    region = (was.region if edit.country in (None, was.country) else "") if edit.region is None else edit.region
    if country and not is_known_country(country, region):
        where = f"{region} of {country}" if region and is_known_country(country) else country
        raise EditRefused(f"The holidays of {where} are not known.", "Choose another country or region, or none.")
    dates = was.dates if edit.dates is None else edit.dates
    leap = edit.leap or was.leap
    more = was.more_holidays if edit.more_holidays is None else edit.more_holidays
    settings = CalendarSaid(
        dates=dates, leap=leap, country=country, region=region if country else "",
        more_holidays=more and has_more_holidays(country),
    )  # fmt: skip
    job = job.copy_with(calendar=settings)
    return set_first_month(job, edit.first_month) if edit.first_month else job


def set_first_month(job: Job, first: str) -> Job:
    """A job whose sheets of months show months in order from the one given."""
    months = [sheet for sheet in job.sheets if sheet.role == "month"]
    if not months:
        raise EditRefused("No sheet of this job is a month.", "Say in the workshop which sheets are.")
    start = int(first[:4]), int(first[5:7])
    single = [sheet for sheet in months if not sheet.layout.shows_year]
    fresh = {sheet.id: _set_month(sheet, add_months(start, n), job.locale) for n, sheet in enumerate(single)}
    return job.copy_with(sheets=tuple(fresh.get(sheet.id, _set_beginning(sheet, first)) for sheet in job.sheets))


def months_of(sheets: Sequence[Sheet], first: str, count: int, locale: str) -> tuple[Sheet, ...]:
    """A template's sheets with so many months: those that are months are gone through as often as need be, where the first of
    them stands. A sheet that shows a whole year is there once. Raises EditRefused when no sheet is a month."""
    pattern = [sheet for sheet in sheets if sheet.role == "month" and not sheet.layout.shows_year]
    if not pattern:
        if not any(sheet.role == "month" for sheet in sheets):
            raise EditRefused("This template has no sheet of a month.", "Choose a calendar.")
        return tuple(_set_beginning(sheet, first) for sheet in sheets)
    if not 1 <= count <= MOST_MONTHS:
        raise EditRefused(f"A calendar has 1 to {MOST_MONTHS} months.", "Choose another number.")
    start = int(first[:4]), int(first[5:7])
    sheets_made: list[Sheet] = []
    for n in range(count):
        sheet = pattern[n % len(pattern)]
        sheets_made.append(_set_month(sheet.copy_with(id=f"month-{n + 1:02d}"), add_months(start, n), locale))
    index = list(sheets).index(pattern[0])
    taken = {sheet.id for sheet in sheets_made}

    def list_months(some: Sequence[Sheet]) -> list[Sheet]:
        rest = [_set_beginning(sheet, first) for sheet in some if sheet not in pattern]
        return [sheet if sheet.id not in taken else sheet.copy_with(id=f"{sheet.id}-sheet") for sheet in rest]

    return (*list_months(sheets[:index]), *sheets_made, *list_months(sheets[index:]))


def _set_beginning(sheet: Sheet, first: str) -> Sheet:
    """A cover, say, that speaks of the month a calendar begins with."""
    says = "month" in sheet.fields or sheet.role == "month"
    return sheet.copy_with(fields={**sheet.fields, "month": first}) if says else sheet


def set_locale(job: Job, locale: str) -> Job:
    """A job in another locale: sheets of months that nobody has named otherwise are called as it calls them."""

    def rename_month(sheet: Sheet) -> Sheet:
        month_text = sheet.fields.get("month", "")
        if sheet.role != "month" or not month_text or sheet.layout.shows_year:
            return sheet
        month = int(month_text[:4]), int(month_text[5:7])
        return _set_month(sheet, month, locale) if sheet.name == _month_title(month, job.locale) else sheet

    return job.copy_with(locale=locale, sheets=tuple(rename_month(sheet) for sheet in job.sheets))


def _month_title(month: tuple[int, int], locale: str) -> str:
    return f"{month_name(date(*month, 1), locale)} {month[0]}"


def _set_month(sheet: Sheet, month: tuple[int, int], locale: str) -> Sheet:
    return sheet.copy_with(
        name=_month_title(month, locale), fields={**sheet.fields, "month": f"{month[0]:04d}-{month[1]:02d}"}
    )


_NAMES = {
    "first_month": "months",
    "dates": "dates",
    "leap": "29 February",
    "country": "holidays",
    "more_holidays": "holidays",
}


def _label_calendar(_: Namer, edit: SetCalendar) -> str:
    names = dict.fromkeys(name for field, name in _NAMES.items() if getattr(edit, field) is not None)
    return f"set {' and '.join(names) or 'the calendar'}"


EDITS: Table = {SetCalendar: EditRule(set_calendar, _label_calendar)}
