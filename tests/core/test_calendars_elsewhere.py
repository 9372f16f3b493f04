"""Calendars where weeks run from right to left, digits are others, and a weekend is not Saturday and Sunday; against Python's
own calendar, Unicode's digits and CLDR's weekends (as published: Egypt and Israel Friday and Saturday, Iran Friday)."""

import calendar
import unicodedata
from datetime import date

import pytest

from sutaru.core.document import DateGrid, FillBox, Layout, Text
from sutaru.core.document.calendar import CalendarSaid
from sutaru.core.edits.apply import apply
from sutaru.core.edits.kinds import SetCalendar
from sutaru.core.fitting.field_values import values
from sutaru.core.words import set_words
from sutaru.core.words.calendars import day_names, month_and_year, month_names
from sutaru.core.words.date_grids import Part, draw_grid
from sutaru.core.words.fields import LOCALES
from sutaru.core.words.public_holidays import has_more_holidays, holidays_of
from tests.conftest import one_sheet

YEAR, MONTH = 2027, 3
LOOKS = {
    "day": {"colour": "#111111"}, "weekend": {"colour": "#222222"}, "sunday": {"colour": "#333333"},
    "holiday": {"colour": "#444444"},
}  # fmt: skip


def parts(locale: str, **more: object) -> tuple[Part, ...]:
    grid = DateGrid(
        id="d", centre=(100, 80), width_mm=140, height_mm=100, month="2027-03", size_pt=9, holidays=False,
        neighbours="none", **LOOKS, **more,
    )  # fmt: skip
    return draw_grid(grid, "", locale, CalendarSaid())


def days(found: tuple[Part, ...]) -> dict[int, Text]:
    """The box of each day, read by what Unicode says of its digits."""
    read = {}
    for part in found:
        if isinstance(part, Text) and part.text and all(unicodedata.decimal(letter, -1) >= 0 for letter in part.text):
            read[int("".join(str(unicodedata.decimal(letter)) for letter in part.text))] = part
    return read


@pytest.mark.parametrize(
    ("locale", "first", "zero", "rest"),
    [
        ("ar_EG", calendar.SATURDAY, "\N{ARABIC-INDIC DIGIT ZERO}", {4, 5}),
        ("fa_IR", calendar.SATURDAY, "\N{EXTENDED ARABIC-INDIC DIGIT ZERO}", {4}),
        ("he_IL", calendar.SUNDAY, "0", {4, 5}),
        ("mr_IN", calendar.SUNDAY, "\N{DEVANAGARI DIGIT ZERO}", {6}),
        ("en_GB", calendar.MONDAY, "0", {5, 6}),
    ],
)
def test_days_stand_where_a_locale_has_them(locale: str, first: int, zero: str, rest: set[int]) -> None:
    found = days(parts(locale, weekdays="none", heading="none"))
    whole = calendar.Calendar(first).monthdayscalendar(YEAR, MONTH)
    assert sorted(found) == list(range(1, 32))
    # The first day of the week is the rightmost where writing runs from right to left.
    way = -1 if locale in ("ar_EG", "fa_IR", "he_IL") else 1
    columns = sorted({round(part.centre[0], 3) for part in found.values()})[::way]
    rows = sorted({round(part.centre[1], 3) for part in found.values()})
    for n, week in enumerate(whole):
        for k, day in enumerate(week):
            if day:
                x, y = found[day].centre
                assert (round(x, 3), round(y, 3)) == (columns[k], rows[n])
    for day, part in found.items():
        assert min(part.text) >= zero
        weekday = calendar.weekday(YEAR, MONTH, day)
        wanted = "#333333" if weekday == 6 and 6 in rest else "#222222" if weekday in rest else "#111111"
        assert part.colour == wanted


@pytest.mark.parametrize(
    ("locale", "title"),
    [
        ("ar_EG", "مارس ٢٠٢٧"),
        ("he_IL", "מרץ 2027"),
        ("ja_JP", "2027年3月"),
        ("zh_CN", "2027年3月"),
        ("en_GB", "March 2027"),
    ],
)
def test_a_month_with_its_year_is_in_the_locales_order(locale: str, title: str) -> None:
    assert title in {part.text for part in parts(locale, heading="month_year") if isinstance(part, Text)}


def test_what_stands_beside_days_is_mirrored_too() -> None:
    for shows in ("month", "list", "strip", "year"):
        more = {"shows": shows, "line": {"width_mm": 0.2}, "gap_mm": 0, "week_numbers": True, "first_day": "monday"}
        (plain, mirrored) = (parts(locale, **more) for locale in ("en_GB", "he_IL"))
        assert len(plain) == len(mirrored)
        for one, other in zip(plain, mirrored, strict=True):
            centres = [p.surface.centre if isinstance(p, FillBox) else p.centre for p in (one, other)]  # type: ignore[union-attr]
            assert centres[0][0] + centres[1][0] == pytest.approx(200)
            assert centres[0][1] == pytest.approx(centres[1][1])
            if isinstance(one, Text) and isinstance(other, Text):
                assert {"left": "right", "right": "left"}.get(one.align, one.align) == other.align


def test_a_year_in_words_is_in_the_locales_digits() -> None:
    sheet = one_sheet(Layout(width_mm=100, height_mm=100, layers=())).sheets[0].copy_with(fields={"month": "2027-03"})
    for locale, year in (("ar_EG", "٢٠٢٧"), ("en_GB", "2027")):
        job = one_sheet(Layout(width_mm=100, height_mm=100, layers=())).copy_with(sheets=(sheet,), locale=locale)
        assert values(job, sheet, job.editions[0])["year"] == year


@pytest.mark.parametrize("locale", LOCALES)
def test_every_locale_that_is_offered_can_be_printed(locale: str) -> None:
    countries = {"ja": "JP", "ko": "KR", "zh": "CN", "th": "TH", "he": "IL", "hi": "IN"}
    names = [
        *(name for width in ("narrow", "short", "long") for name in day_names(locale, width, 0)),
        *month_names(locale), *month_names(locale, "abbreviated"), month_and_year(2027, 4, locale),
        *holidays_of(countries.get(locale, ""), "", 2027, locale).values(),
    ]  # fmt: skip
    assert set_words("\n".join(names), "Lato", 10, 1.2, "left", "top", 400, 4000).missing == ""


def test_days_that_many_towns_keep_are_told_when_they_are_asked_for() -> None:
    # Bavaria keeps Assumption Day where most are Catholic: Bayerisches Feiertagsgesetz, article 1 (1) no. 2 (as remembered).
    day = date(2027, 8, 15)
    assert day not in holidays_of("DE", "BY", 2027, "de_DE")
    assert holidays_of("DE", "BY", 2027, "de_DE", True)[day] == "Mariä Himmelfahrt"
    assert has_more_holidays("DE")
    assert not has_more_holidays("JP")
    job = one_sheet(Layout(width_mm=100, height_mm=100, layers=()))
    job = apply(job, SetCalendar(country="DE", region="BY", more_holidays=True))
    assert job.calendar is not None
    assert job.calendar.more_holidays
    moved = apply(job, SetCalendar(country="JP"))
    assert moved.calendar is not None
    assert not moved.calendar.more_holidays  # none are known there
    assert "more" not in CalendarSaid(country="DE").pack().decode()  # stored as before where nobody asks


def test_holidays_are_told_in_the_writing_of_a_locale() -> None:
    labour = date(2027, 5, 1)
    assert holidays_of("TW", "", 2027, "zh_Hant")[labour] == "勞動節"
    assert holidays_of("TW", "", 2027, "zh")[labour] == "劳动节"
    assert holidays_of("NO", "", 2027, "nb")[labour] == "Arbeidernes dag"
