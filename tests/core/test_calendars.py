"""Calendars: months against Python's own calendar, ISO weeks, Easter, the moon, CLDR; grids as they are drawn; lists of dates."""

import calendar
from datetime import date, datetime, timedelta
from pathlib import Path

import ephem
import numpy as np
import pytest
from dateutil.easter import easter
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from sutaru.core.arranging.aligning import page_box
from sutaru.core.arranging.sheet_rotation import rotate_sheet
from sutaru.core.arranging.sizing import resize_layout
from sutaru.core.checks import check, check_job
from sutaru.core.checks.trial_paint import try_painting
from sutaru.core.document import (
    CalendarSaid,
    Dated,
    DateGrid,
    FillBox,
    Flat,
    Found,
    Hole,
    Job,
    KeepArea,
    LabSheet,
    Layout,
    Opening,
    Pile,
    Rectangle,
    Sheet,
    Text,
)
from sutaru.core.document.lettering import WordLine
from sutaru.core.edits.apply import apply
from sutaru.core.edits.calendars import months_of
from sutaru.core.edits.kinds import BringIn, Fill, RenameSheet, Say, SetCalendar, SwapSheets
from sutaru.core.errors import EditRefused, FileRefused
from sutaru.core.fitting import cuts, drawing_key, first_placement, resolve_sheet
from sutaru.core.formats.dates_file import read_dates
from sutaru.core.paint import Painter, PixelGrid, items, refuse_asset
from sutaru.core.photos import PhotoPixels
from sutaru.core.words.calendars import (
    PHASES,
    add_months,
    day_names,
    days_of,
    first_day_of,
    list_dates,
    list_fallen_away,
    month_names,
    moon_phases,
    week_number,
    weeks,
)
from sutaru.core.words.date_grids import draw_grid
from sutaru.core.words.public_holidays import holidays_of
from tests.conftest import SHELF, TEMPLATES, fake_photo, one_sheet

LAB = LabSheet(id="lab", name="Lab", ppi_target=300, ppi_least=150)
NOBODY = CalendarSaid()


def grid(**more: object) -> DateGrid:
    fields = {"id": "dates", "centre": (100, 75), "width_mm": 180, "height_mm": 130, "size_pt": 12}
    return DateGrid.model_validate({**fields, **more})


def job_with(*grids: DateGrid, month: str = "2027-01", said: CalendarSaid = NOBODY, locale: str = "en_GB") -> Job:
    layout = Layout(width_mm=200, height_mm=150, layers=grids)
    sheets = (
        Sheet(id="month-01", name="A month", role="month", layout=layout, fields={"month": month} if month else {}),
    )
    return Job(name="Days", template="t", product="calendar", lab=LAB, sheets=sheets, calendar=said, locale=locale)


def figures(job: Job) -> list[str]:
    return [drawn.words for drawn in resolve_sheet(job, "month-01").drawn if isinstance(drawn.layer, Text)]


# --- days ------------------------------------------------------------------------------------------------------------


def test_months_of_28_centuries_are_pythons_own() -> None:
    for year in range(1, 2801, 7):  # every year of a 400-year cycle's 28-year pattern comes by
        for month in range(1, 13):
            if (year, month) == (1, 1):
                continue  # the days before it have no name
            for first in (0, 5, 6):
                assert weeks(year, month, first) == calendar.Calendar(first).monthdatescalendar(year, month)


def test_week_numbers_are_iso_8601s() -> None:
    day = date(1990, 1, 1)
    while day < date(2100, 1, 1):
        week = [day + timedelta(days=n) for n in range(7)]
        assert week_number(week) == day.isocalendar().week
        assert week_number([d - timedelta(days=1) for d in week]) == day.isocalendar().week  # weeks from Sunday
        day += timedelta(days=7)


def test_easter_is_where_meeus_and_dateutil_have_it() -> None:
    # J. Meeus, "Astronomical Algorithms", 2nd ed., chapter 8: examples of the Gregorian Easter.
    for year, month, day in ((1991, 3, 31), (1992, 4, 19), (1993, 4, 11), (1954, 4, 18), (2000, 4, 23), (1818, 3, 22)):
        assert easter(year) == date(year, month, day)
    for year in range(1995, 2060):
        assert holidays_of("DE", "", year, "de_DE")[easter(year) + timedelta(days=1)] == "Ostermontag"


def test_the_moons_phases_are_within_half_a_day_of_ephem() -> None:
    ways = (ephem.next_new_moon, ephem.next_first_quarter_moon, ephem.next_full_moon, ephem.next_last_quarter_moon)
    for which, found in enumerate(ways):
        at = ephem.Date("1990/1/1")
        while at < ephem.Date("2060/1/1"):
            at = found(at)
            moment = at.datetime()
            near = [(moment + timedelta(hours=h)).date() for h in (-12, 0, 12)]
            assert any(moon_phases(day.year).get(day) == PHASES[which] for day in near), moment
            at = ephem.Date(at + 1)
    assert len(moon_phases(2027)) in range(48, 51)
    # Meeus, chapter 49, examples 49.a and 49.b: new moon of 18 February 1977, last quarter of 21 January 2044.
    assert moon_phases(1977)[date(1977, 2, 18)] == "new"
    assert moon_phases(2044)[date(2044, 1, 21)] == "last"


@pytest.mark.parametrize(
    ("first", "locales"),
    [  # CLDR 46, supplemental/weekData: firstDay by territory
        (0, "en_GB de_DE de_AT de_CH fr_FR fr_BE it_IT es_ES nl_NL nn_NO nb_NO da_DK sv_SE fi_FI pl_PL cs_CZ sk_SK hu_HU"),
        (0, "ru_RU uk_UA tr_TR el_GR"),
        (6, "en_US en_CA ja_JP ko_KR he_IL hi_IN pt_BR es_MX zh_TW th_TH"), (5, "ar_EG fa_IR"),
    ],
)  # fmt: skip
def test_weeks_begin_where_a_locale_is_at_home(first: int, locales: str) -> None:
    assert {locale for locale in locales.split() if first_day_of(locale) != first} == set()


def test_names_of_weekdays_stand_in_their_order() -> None:
    assert day_names("de_DE", "short", 0) == ["Mo", "Di", "Mi", "Do", "Fr", "Sa", "So"]
    assert day_names("en_US", "narrow", 6) == list("SMTWTFS")
    assert day_names("fr_FR", "long", 0)[0] == "lundi"


# --- dates of one's own ----------------------------------------------------------------------------------------------


def test_ages_leap_days_and_what_falls_away() -> None:
    born, once = (
        Dated(month=6, day=14, year=1987, text="Ida"),
        Dated(month=6, day=14, year=2027, text="Regatta", yearly=False),
    )
    leap = Dated(month=2, day=29, year=2004, text="Runa")
    said = CalendarSaid(dates=(born, once, leap))
    assert list_dates(said, 2027)[date(2027, 6, 14)] == ["Ida (40)", "Regatta"]
    assert list_dates(said, 2028)[date(2028, 6, 14)] == ["Ida (41)"]
    assert list_dates(said, 1980) == {}
    assert list_dates(said, None)[date(2000, 2, 29)] == ["Runa 2004"]
    assert [days_of(leap, 2027, how) for how in ("before", "after", "only")] == [
        date(2027, 2, 28),
        date(2027, 3, 1),
        None,
    ]
    assert days_of(leap, 2028, "only") == date(2028, 2, 29)
    assert [d.text for d in list_fallen_away(said, [(2027, 6), (2027, 7)])] == ["Runa"]
    for bad in ({"month": 2, "day": 30}, {"month": 4, "day": 31}, {"month": 4, "day": 3, "yearly": False}):
        with pytest.raises(ValueError, match=r"no day|needs its year"):
            Dated(text="x", **bad)


def test_lists_of_dates_are_read_as_people_write_them() -> None:
    csv = "Name;Geburtstag\nIda Brandt;14.06.1987\nPer;29.02.\nno date here;x\n;\n"
    read = read_dates(csv.encode("latin-1"), "list.csv")
    assert [(d.text, d.year, d.month, d.day) for d in read.dates] == [("Ida Brandt", 1987, 6, 14), ("Per", None, 2, 29)]
    assert read.untold == ("Row 4: no date here;x",)
    plain = read_dates(b'\xef\xbb\xbf1987-06-14,"Brandt, Ida"\n--02-29,Per\n1999-13-01,nobody\n', "list.csv")
    assert [(d.text, d.year) for d in plain.dates] == [("Brandt, Ida", 1987), ("Per", None)]
    assert len(plain.untold) == 1
    ics = (  # RFC 5545, 3.6.1: an anniversary of all day, and an event that comes once
        b"BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//x//EN\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTAMP:20260101T000000Z\r\n"
        b"DTSTART;VALUE=DATE:19870614\r\nRRULE:FREQ=YEARLY\r\nSUMMARY:Ida\\, born\r\nEND:VEVENT\r\nBEGIN:VEVENT\r\nUID:2\r\n"
        b"DTSTAMP:20260101T000000Z\r\nDTSTART:20270801T180000Z\r\nSUMMARY:Regatta\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n"
    )
    assert [(d.text, d.yearly, d.day) for d in read_dates(ics, "a.ics").dates] == [
        ("Ida, born", True, 14),
        ("Regatta", False, 1),
    ]
    for bad in (b"", b"name\nIda\n", b"BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\n"):
        with pytest.raises(FileRefused, match=r"no date|cannot be read"):
            read_dates(bad, "list.csv")


@pytest.mark.parametrize(
    ("rows", "locale", "order", "wanted", "sure"),
    [
        (["06/07/1999"], "en_US", None, [(6, 7)], False),
        (["06/07/1999"], "en_GB", None, [(7, 6)], False),
        (["06/07/1999"], "en_US", "day", [(7, 6)], True),
        (["06/07/1999", "25/12/1970"], "en_US", None, [(7, 6), (12, 25)], True),
        (["06/07/1999", "12/25/1970"], "en_GB", None, [(6, 7), (12, 25)], True),
        (["06.07.1999"], "en_US", None, [(7, 6)], True),  # points part a day from its month
        (["06/06/1999"], "en_US", None, [(6, 6)], True),
    ],
)
def test_a_column_tells_whether_the_day_comes_first(
    rows: list[str], locale: str, order: str | None, wanted: list[tuple[int, int]], sure: bool
) -> None:
    data = "".join(f"{row};Ida\n" for row in rows).encode()
    read = read_dates(data, "list.csv", locale, order)  # type: ignore[arg-type]
    assert [(d.month, d.day) for d in read.dates] == wanted
    assert read.is_sure is sure


def test_dates_that_are_none_are_refused_by_their_row() -> None:
    read = read_dates(b"31/02/1999;Ida\n30/04/1999;Per\n13/13/1999;Runa\n", "list.csv")
    assert [d.text for d in read.dates] == ["Per"]
    assert read.untold == ("Row 1: 31/02/1999;Ida", "Row 3: 13/13/1999;Runa")


def events(*fields: str, zone: str = "") -> bytes:
    """An iCalendar file; each event by its fields (RFC 5545)."""
    made = ["BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:-//x//EN", *([f"X-WR-TIMEZONE:{zone}"] if zone else [])]
    for n, field in enumerate(fields):
        uid = [] if "UID:" in field else [f"UID:{n}"]
        made += ["BEGIN:VEVENT", *uid, "DTSTAMP:20260101T000000Z", *field.split("|"), "END:VEVENT"]
    return "\r\n".join([*made, "END:VCALENDAR", ""]).encode()


YEAR = (date(2027, 1, 1), date(2028, 1, 1))


def test_an_event_of_several_days_is_told_of_each() -> None:
    read = read_dates(
        events("DTSTART;VALUE=DATE:20270730|DTEND;VALUE=DATE:20270803|SUMMARY:Festival"), "a.ics", window=YEAR
    )
    assert [(d.month, d.day) for d in read.dates] == [(7, 30), (7, 31), (8, 1), (8, 2)]  # the end is the day after
    night = read_dates(events("DTSTART:20270801T200000|DTEND:20270802T000000|SUMMARY:Fires"), "a.ics")
    assert [(d.month, d.day) for d in night.dates] == [(8, 1)]


def test_an_hour_is_of_the_day_that_it_is_where_the_calendar_is_kept() -> None:
    late = "DTSTART:20270801T233000Z|SUMMARY:Late"
    assert [d.day for d in read_dates(events(late), "a.ics").dates] == [1]
    assert [d.day for d in read_dates(events(late, zone="Europe/Berlin"), "a.ics").dates] == [2]
    there = "DTSTART;TZID=America/New_York:20270801T233000|SUMMARY:There"
    assert [d.day for d in read_dates(events(there, zone="Europe/Berlin"), "a.ics").dates] == [1]


def test_what_recurs_is_told_each_time_and_what_is_cancelled_never() -> None:
    """The times are those of RFC 5545's own examples of rules (3.8.5.3), in 2027."""
    book = events(
        "DTSTART;VALUE=DATE:20270105|RRULE:FREQ=MONTHLY;BYDAY=1TU;COUNT=3|SUMMARY:Club",
        "DTSTART;VALUE=DATE:20270301|RRULE:FREQ=WEEKLY;UNTIL=20270322|EXDATE;VALUE=DATE:20270308|SUMMARY:Repairs",
        "DTSTART;VALUE=DATE:20260511|RRULE:FREQ=YEARLY;BYMONTH=5;BYDAY=2MO|SUMMARY:Open day",
        "DTSTART;VALUE=DATE:20270601|STATUS:CANCELLED|SUMMARY:Gone",
        "UID:moved|DTSTART;VALUE=DATE:20270901|RRULE:FREQ=WEEKLY;COUNT=2|SUMMARY:Talk",
        "UID:moved|RECURRENCE-ID;VALUE=DATE:20270908|DTSTART;VALUE=DATE:20270910|SUMMARY:Talk, moved",
        "UID:once|DTSTART;VALUE=DATE:20271001|RRULE:FREQ=WEEKLY;COUNT=2|SUMMARY:Choir",
        "UID:once|RECURRENCE-ID;VALUE=DATE:20271008|STATUS:CANCELLED|DTSTART;VALUE=DATE:20271008|SUMMARY:Choir",
        "UID:nobody|RECURRENCE-ID;VALUE=DATE:20271101|DTSTART;VALUE=DATE:20271102|SUMMARY:Alone",
    )
    read = read_dates(book, "a.ics", window=YEAR)
    told = {text: [(d.month, d.day) for d in read.dates if d.text == text] for text in {d.text for d in read.dates}}
    assert told == {
        "Club": [(1, 5), (2, 2), (3, 2)], "Repairs": [(3, 1), (3, 15), (3, 22)], "Open day": [(5, 10)],
        "Talk": [(9, 1)], "Talk, moved": [(9, 10)], "Choir": [(10, 1)], "Alone": [(11, 2)],
    }  # fmt: skip
    assert not any(d.yearly for d in read.dates)
    assert read.untold == ("Gone (cancelled)",)


@pytest.mark.parametrize(
    "rule",
    [
        "SECONDLY",
        "MINUTELY;INTERVAL=1",
        "DAILY;UNTIL=99991231",
        "DAILY;COUNT=999999999",
        "WEEKLY",
        "DAILY;BYSECOND=" + ",".join(str(n) for n in range(60)),
    ],
)
def test_an_event_without_end_ends(rule: str) -> None:
    for begins in ("20270101", "19010101"):
        book = events(f"DTSTART:{begins}T000000|DURATION:PT1S|RRULE:FREQ={rule}|SUMMARY:Always")
        read = read_dates(book, "a.ics", window=YEAR)
        assert 1 <= len(read.dates) <= 600
        assert rule == "WEEKLY" or (read.dates[0].month, read.dates[0].day) == (1, 1)


# --- grids -----------------------------------------------------------------------------------------------------------


def test_a_month_stands_in_its_weeks() -> None:
    said = figures(job_with(grid(neighbours="none", holidays=False)))
    assert said[0] == "January 2027"
    assert said[1:8] == ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"]
    assert said[8:] == [str(n) for n in range(1, 32)]
    full = figures(job_with(grid(neighbours="shown", weekdays="none", heading="none")))
    assert full == [str(day.day) for week in weeks(2027, 1, 0) for day in week]
    assert figures(job_with(grid(neighbours="none"), locale="de_AT"))[0] == "Jänner 2027"
    assert figures(job_with(grid(offset=1, heading="month"), locale="fr_FR"))[0] == "février"


def test_cells_lie_in_rows_and_columns_and_turn_with_the_grid() -> None:
    parts = draw_grid(grid(heading="none", weekdays="none", neighbours="shown", gap_mm=2), "2027-01", "en_GB", NOBODY)
    middles = np.array([part.centre for part in parts])
    assert len(middles) == 35
    assert np.ptp(middles.reshape(5, 7, 2)[:, :, 1], axis=1).max() < 1e-9
    steps = np.diff(middles.reshape(5, 7, 2)[0, :, 0])
    assert steps == pytest.approx((180 + 2) / 7)
    turned = draw_grid(
        grid(heading="none", weekdays="none", neighbours="shown", gap_mm=2, turn_deg=90), "2027-01", "en_GB", NOBODY
    )
    again = np.array([part.centre for part in turned])
    # A quarter turn to the left: right becomes up.
    assert again[:, 1] - 75 == pytest.approx(-(middles[:, 0] - 100))
    assert {part.turn_deg for part in turned} == {90}


def test_six_weeks_share_five_rows_and_six_rows_may_be_kept() -> None:
    may = draw_grid(
        grid(heading="none", weekdays="none", neighbours="none", weeks="five", month="2027-05"), "", "en_GB", NOBODY
    )
    assert [part.text for part in may] == [str(n) for n in range(1, 32)]
    last = {part.text: part.centre for part in may}
    assert last["31"][1] > last["24"][1]
    assert last["31"][1] - last["24"][1] < (last["24"][1] - last["17"][1])
    six = draw_grid(grid(heading="none", weekdays="none", weeks="six", month="2027-02"), "", "en_GB", NOBODY)
    rows = sorted({round(part.centre[1], 3) for part in six})
    assert rows[1] - rows[0] == pytest.approx(130 / 6, abs=0.002)


def test_holidays_week_numbers_moon_and_dates_stand_on_their_days() -> None:
    said = CalendarSaid(dates=(Dated(month=1, day=5, year=1957, text="Ida Brandt"),), country="DE", region="BY")
    job = job_with(grid(holiday_names=True, moon=True, week_numbers=True, figure="corner"), said=said, locale="de_DE")
    words = figures(job)
    assert {"Neujahr", "Heilige Drei Könige", "Ida Brandt (70)", "53", "●"} <= set(words)
    north = CalendarSaid(country="DE", region="HH")
    assert "Heilige Drei Könige" not in figures(job_with(grid(holiday_names=True), said=north, locale="de_DE"))
    red = [d.layer.colour for d in resolve_sheet(job, "month-01").drawn if d.words == "6"]
    assert grid().holiday.colour in red
    assert drawing_key(job, "month-01", job.editions[0], {}) != drawing_key(
        job.copy_with(calendar=said.copy_with(region="HH")), "month-01", job.editions[0], {}
    )


def test_rows_lists_years_and_calendars_for_any_year() -> None:
    assert figures(job_with(grid(shows="strip", weekdays="none", heading="none"))) == [str(n) for n in range(1, 32)]
    any_year = figures(job_with(grid(shows="list", perpetual=True, columns=2, heading="month"), month="2027-02"))
    assert any_year == ["February", *(str(n) for n in range(1, 30))]
    # Nothing of the year 2000, whose days a grid for any year counts by: no holiday of its, weekend, moon, week or neighbour.
    said = CalendarSaid(country="DE")
    for shows, days in (("month", 30), ("year", 366)):
        found = grid(
            shows=shows, perpetual=True, heading="none", holiday_names=True, moon=True, week_numbers=True, size_pt=5
        )
        job = job_with(found, month="2027-04", said=said, locale="de_DE")
        words = [word for word in figures(job) if word not in month_names("de_DE")]
        assert len(words) == days
        assert set(words) == {str(n) for n in range(1, 31 if shows == "month" else 32)}
        looks = {
            d.layer.colour
            for d in resolve_sheet(job, "month-01").drawn
            if isinstance(d.layer, Text) and d.words in words
        }
        assert looks == {found.day.colour}
    by_sevens = [
        d
        for d in resolve_sheet(job_with(grid(perpetual=True, heading="none")), "month-01").drawn
        if d.words in ("1", "8", "15")
    ]
    assert len({round(d.layer.centre[0], 3) for d in by_sevens}) == 1  # type: ignore[union-attr]
    year = figures(job_with(grid(shows="year", size_pt=5)))
    assert sum(word.isdigit() for word in year) == 365
    lines = [
        p
        for p in draw_grid(grid(shows="list", line=WordLine(width_mm=0.1)), "2027-01", "en_GB", NOBODY)
        if isinstance(p, FillBox)
    ]
    assert len(lines) == 31


def test_what_does_not_fit_its_day_is_a_stop_and_never_cut() -> None:
    long = CalendarSaid(
        dates=(Dated(month=1, day=5, text="The crew of the harbour festival and all of their cousins " * 3),)
    )
    assert {f.rule for f in check(resolve_sheet(job_with(grid(dates_pt=12), said=long), "month-01"))} >= {
        "dates_overset"
    }
    short = CalendarSaid(dates=(Dated(month=1, day=5, text="Ida Brandt and Per"),))
    assert not check(resolve_sheet(job_with(grid(), said=short), "month-01"))
    assert [f.rule for f in check(resolve_sheet(job_with(grid(), month=""), "month-01"))] == ["no_month"]
    assert [f.rule for f in check(resolve_sheet(job_with(grid(centre=(120, 75))), "month-01"))] == ["words_cut"]


# --- edits -----------------------------------------------------------------------------------------------------------


def test_a_templates_months_become_the_months_of_an_order(job_of) -> None:
    template = job_of("calendar-wall")
    made = months_of(template.sheets, "2026-11", 14, "de_DE")
    assert [sheet.fields["month"] for sheet in made[:4]] == ["2026-11", "2026-11", "2026-12", "2027-01"]
    assert (made[0].role, made[1].name, made[-1].name, len(made)) == ("cover", "November 2026", "Dezember 2027", 15)
    assert add_months((2026, 11), 13) == (2027, 12)
    job = template.copy_with(sheets=made, locale="de_DE")
    named = apply(job, RenameSheet(which=made[2].id, name="Our wedding month"))
    assert [s.name for s in apply(named, Say(locale="en_GB")).sheets[1:4]] == [
        "November 2026",
        "Our wedding month",
        "January 2027",
    ]
    later = apply(job, SetCalendar(first_month="2028-03", country="AT"))
    assert later.sheets[1].fields["month"] == later.sheets[0].fields["month"] == "2028-03"
    assert (later.calendar.country, apply(later, SetCalendar(leap="only")).calendar.country) == ("AT", "AT")
    swapped = apply(job, SwapSheets(first=made[3].id, second=made[4].id))
    out = [f.sheet for f in check_job(swapped) if f.rule == "month_out_of_order"]
    assert out == [made[4].id, made[3].id, made[5].id]
    assert not [f for f in check_job(job) if f.rule == "month_out_of_order"]
    with pytest.raises(EditRefused, match="are not known"):
        apply(job, SetCalendar(country="DE", region="QQ"))
    with pytest.raises(EditRefused, match="1 to 18 months"):
        months_of(template.sheets, "2026-11", 19, "en_GB")
    with pytest.raises(EditRefused, match="no sheet of a month"):
        months_of(job_of("card-portrait").sheets, "2026-11", 2, "en_GB")


def test_photos_come_to_the_month_they_were_taken_in(job_of) -> None:
    template = job_of("calendar-wall")
    job = template.copy_with(sheets=months_of(template.sheets, "2027-01", 12, "en_GB"))
    photos = tuple(
        fake_photo(n, 6000, 4000).copy_with(taken=datetime(2025, month, 3, n))
        for n, month in enumerate((7, 2, 2, 12), 1)
    )
    job = apply(apply(job, BringIn(photos=photos)), Fill(how="month"))
    held = {s.fields["month"]: job.filling(s.id).photo_in("opening-1") for s in job.sheets if s.role == "month"}
    assert held["2027-07"] == photos[0].id
    assert held["2027-02"] in {photos[1].id, photos[2].id}
    assert held["2027-12"] == photos[3].id
    assert sum(bool(photo) for photo in held.values()) == 3
    assert job.filling("cover").photo_in("opening-1") in {photos[1].id, photos[2].id}  # what is left


# --- photos in days, holes -------------------------------------------------------------------------------------------


def test_a_photo_lies_small_in_its_day_and_is_no_opening_of_the_sheet(pile: list, tmp_path: Path) -> None:
    photos = tuple(photo for _, photo in pile[:2])
    said = CalendarSaid(dates=(
        Dated(month=1, day=15, text="Ida", year=1987, photo=photos[0].id),
        Dated(month=1, day=20, text="Per", photo="f" * 16),  # a photo that has gone
        Dated(month=2, day=15, text="Ola", photo=photos[1].id),
    ))  # fmt: skip
    job = job_with(grid(figure="corner"), said=said).copy_with(pile=Pile(photos=photos))
    sheet = resolve_sheet(job, "month-01")
    found = [drawn for drawn in sheet.drawn if isinstance(drawn.layer, Opening)]
    assert [(drawn.photo.id, drawn.part_of) for drawn in found] == [(photos[0].id, "dates")]
    assert sheet.openings == []
    assert check(sheet) == []
    assert drawing_key(job, "month-01", job.editions[0], {}) != drawing_key(
        job.copy_with(calendar=said.copy_with(dates=said.dates[1:])), "month-01", job.editions[0], {}
    )
    # It lies within its day, above what is told of it: 15 January 2027 is a Friday, the fifth of the week from Monday.
    box = page_box(found[0].layer)
    days = {
        d.words: page_box(d.layer) for d in sheet.drawn if isinstance(d.layer, Text) and d.words in ("15", "Ida (40)")
    }
    assert days["15"].left <= box.left
    assert box.right <= days["15"].right + 1e-6
    assert days["15"].top - 1e-6 <= box.top
    assert box.bottom <= days["Ida (40)"].top + 1e-6
    paths = {photo.id: path for path, photo in pile}
    pixels = PhotoPixels(lambda photo: paths[photo.id])
    page = PixelGrid.for_ppi(sheet.layout, 100)
    picture, bare = (
        Painter(pixels).render(items(resolve_sheet(one, "month-01"), SHELF.asset, False, False), page)[0]
        for one in (job, job.copy_with(pile=Pile(photos=photos[1:])))
    )
    changed = np.argwhere((np.asarray(picture)[..., :3] != np.asarray(bare)[..., :3]).any(axis=2))
    (top, left), (bottom, right) = changed.min(axis=0), changed.max(axis=0)
    edges = [(side + 3) / 25.4 * 100 for side in (box.left, box.top, box.right, box.bottom)]
    assert [left, top, right + 1, bottom + 1] == pytest.approx(edges, abs=1.6)


def test_a_face_is_kept_off_a_hole_and_a_hole_through_it_is_found() -> None:
    face = KeepArea(kind="face", left=0.4, top=0.05, width=0.2, height=0.3)
    photo = fake_photo(1, 3000, 2000, found=Found(keep=(face,)))
    opening = Opening(id="o", outline=Rectangle(width_mm=120, height_mm=120), surface=Flat(centre=(75, 75)))
    layout = Layout(width_mm=150, height_mm=150, layers=(opening,), holes=(Hole(at=(75, 30), diameter_mm=8),))
    whole = layout.copy_with(holes=())
    over = first_placement(whole, opening, photo)
    assert cuts(whole, opening, photo, over) == []
    assert cuts(layout, opening, photo, over)[0].of_face > 0
    assert cuts(layout, opening, photo, first_placement(layout, opening, photo)) == []
    job = one_sheet(layout, (photo,), {"o": over})
    assert [one.rule for one in check_job(job) if one.severity in ("stop", "look")][:1] == ["keep_cut"]


def test_holes_go_along_when_a_sheet_is_turned_mirrored_or_laid_out_in_another_size() -> None:
    layout = Layout(width_mm=200, height_mm=100, layers=(), holes=(Hole(at=(50, 10), diameter_mm=6),))
    assert [rotate_sheet(layout, how).holes[0].at for how in ("left", "half", "right", "left_right", "top_bottom")] == [
        (10, 150), (150, 90), (90, 50), (150, 10), (50, 90),
    ]  # fmt: skip
    assert resize_layout(layout, 100, 50).holes[0].at == (25, 5)


@settings(max_examples=150, deadline=None)
@given(
    grid=st.fixed_dictionaries(
        {
            "width_mm": st.sampled_from([0.01, 0.5, 1.0, 7.0, 60.0, 5000.0]),
            "height_mm": st.sampled_from([0.01, 0.5, 1.0, 7.0, 60.0, 5000.0]),
            "size_pt": st.sampled_from([0.5, 14.0, 500.0]), "gap_mm": st.sampled_from([0.0, 3.0, 50.0]),
            "shows": st.sampled_from(["month", "strip", "list", "year"]), "columns": st.integers(1, 4),
            "weekdays": st.sampled_from(["none", "narrow", "long"]), "week_numbers": st.booleans(),
            "heading": st.sampled_from(["none", "month_year"]), "perpetual": st.booleans(), "moon": st.booleans(),
            "line": st.sampled_from([None, {"width_mm": 0.2}]), "weeks": st.sampled_from(["fit", "six", "five"]),
            "figure": st.sampled_from(["centre", "corner"]), "offset": st.sampled_from([0, 24, -24]),
        }
    )
)  # fmt: skip
def test_every_grid_that_is_accepted_is_measured_and_painted(grid: dict) -> None:
    try:
        made = DateGrid(id="g", centre=(50.0, 50.0), month="2027-02", dates_pt=grid["size_pt"], **grid)
    except ValidationError:
        return
    job = one_sheet(Layout(width_mm=100, height_mm=100, layers=(made,)), (), {})
    try_painting(resolve_sheet(job, job.sheets[0].id), refuse_asset)


def test_a_sheet_of_a_whole_year_is_there_once_and_shows_one_year() -> None:
    template = TEMPLATES["calendar-months"]
    for first in ("2027-01", "2027-09"):
        made = months_of(template.sheets, first, 12, "en_GB")
        assert [sheet.id for sheet in made] == [sheet.id for sheet in template.sheets]
        assert [sheet.fields["month"] for sheet in made if sheet.role == "month"] == [first]
        assert made[0].name == template.sheets[0].name
    wall = months_of(TEMPLATES["calendar-wall"].sheets, "2027-09", 12, "en_GB")
    assert sum(sheet.role == "month" for sheet in wall) == 12


ICAL = "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\n{}END:VCALENDAR\r\n"
EVENT = "BEGIN:VEVENT\r\nSUMMARY:Kite day\r\nDTSTART;VALUE=DATE:20260614\r\n{}END:VEVENT\r\n"


@pytest.mark.parametrize(
    "odd",
    ["RRULE:FREQ=YEARLY\r\nRRULE:FREQ=YEARLY\r\n", "DTSTART;VALUE=DATE:20260615\r\n", "DTSTART:no date\r\n", "RRULE:x\r\n",
     "SUMMARY:Again\r\n", "DTSTART;TZID=Nowhere/At-All:20260614T100000\r\n", "RRULE:FREQ=YEARLY;COUNT=x\r\n",
     "DTSTART;VALUE=DATE:00000000\r\n", "DTSTART;VALUE=PERIOD:x/y\r\n", "DURATION:P\r\n", "X-A;B=\"c:d\r\n"],
)  # fmt: skip
def test_an_event_that_makes_no_sense_hides_no_other(odd: str) -> None:
    data = ICAL.format(EVENT.format("") + EVENT.format(odd)).encode()
    try:
        read = read_dates(data, "dates.ics")
    except FileRefused as refused:
        assert str(refused) == "dates.ics cannot be read as iCalendar. Save it anew."
        return
    assert read.dates[0].text == "Kite day"
    assert len(read.dates) + len(read.untold) == 2


@pytest.mark.parametrize(
    "data",
    [
        b"\xff\xd8\xff\xe0" + bytes(range(256)) * 40,
        b"\0" * 500,
        b'"' + b"x" * 200_000,
        b"\xff\xfe1\0",
        b"BEGIN:VCALENDAR",
    ],
)
def test_what_is_no_list_of_dates_is_a_sentence(data: bytes) -> None:
    with pytest.raises(FileRefused) as refused:
        read_dates(data, "photo.jpg")
    assert str(refused.value).endswith(".")
