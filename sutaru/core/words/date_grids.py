"""Date grids: a month, a strip or list of its days, or a year, worked out as boxes of words and ruled lines.

Goes in: the grid as its layout has it, and which month. Comes out: layers as any others, in the page's own space, so that
measuring, painting, checks and writers know nothing of calendars.
"""

from dataclasses import dataclass
from datetime import date, timedelta

from ..document import DateGrid, FillBox, Flat, Opening, Rectangle, Text
from ..document.calendar import CalendarSaid
from ..geometry.matrices import apply
from ..measure import mm_from_points
from ..remembering import remember
from .calendars import (
    LEAP_YEAR,
    SUNDAY,
    add_months,
    day_names,
    first_day_of,
    is_right_to_left,
    list_dates,
    locale_weekend,
    month_and_year,
    month_names,
    moon_phases,
    photos_on,
    week_number,
    weeks,
    write_digits,
)
from .fields import locale_of

Part = Text | FillBox | Opening  # an opening shows the photo that its name says
_MOON = {"new": "●", "first": "◐", "full": "○", "last": "◑"}
_DAYS = {"monday": 0, "sunday": 6, "saturday": 5}
_LEAST_MM = 0.05  # of a box: words that find no room in one are a finding, not an error
FAINT = 0.38  # opacity of days of neighbouring months
_OPPOSITE = {"left": "right", "right": "left"}
_SMALLEST = 0.75  # how far the words of dates are made smaller before they count as falling out of their cell


@dataclass(frozen=True)
class _Cell:
    """A box in the grid's own plane, mm: its middle and size, which stay above nothing however small the grid is."""

    x: float
    y: float
    w: float
    h: float

    def __post_init__(self) -> None:
        object.__setattr__(self, "w", max(_LEAST_MM, self.w))
        object.__setattr__(self, "h", max(_LEAST_MM, self.h))

    def inset(self, by: float) -> "_Cell":
        return _Cell(self.x, self.y, self.w - 2 * by, self.h - 2 * by)


class _Drawing:
    """Collects a grid's parts."""

    def __init__(self, grid: DateGrid, locale: str, calendar: CalendarSaid) -> None:
        self.grid, self.locale, self.said = grid, locale, calendar
        self.parts: list[Part] = []
        self.photos: dict[date, str] = {}
        self.em = mm_from_points(grid.size_pt)
        self.first_day = _DAYS.get(grid.first_day, -1) if grid.first_day != "locale" else first_day_of(locale)
        self.weekend = locale_weekend(locale_of(locale))
        self._is_mirrored = is_right_to_left(locale)
        self._plain = Text(
            id="a", centre=(0.0, 0.0), width_mm=1.0, height_mm=1.0, text="", sample=False, font=grid.font, weight=grid.weight,
            size_pt=grid.size_pt, leading=1.15, colour=grid.day.colour, turn_deg=grid.turn_deg, opacity=grid.opacity,
            blend=grid.blend, visible=grid.visible, name=grid.name or "the dates",
        )  # fmt: skip

    def _id(self) -> str:
        return f"{self.grid.id[:54]}-part-{len(self.parts)}"

    def _centre(self, cell: _Cell) -> tuple[float, float]:
        """Where a cell lies on the page: all is mirrored where weeks run from right to left."""
        x, y = apply(self.grid.page_from_box, [(-cell.x if self._is_mirrored else cell.x, cell.y)])[0].tolist()
        return x, y

    def words(self, text: str, cell: _Cell, **look: object) -> None:
        """A box of words over a cell."""
        place = {"id": self._id(), "text": text, "centre": self._centre(cell), "width_mm": cell.w, "height_mm": cell.h}
        if self._is_mirrored and look.get("align") in _OPPOSITE:
            look["align"] = _OPPOSITE[str(look["align"])]
        self.parts.append(self._plain.copy_with(**place, **look))

    def photo(self, photo: str, cell: _Cell) -> None:
        """A photo over a cell."""
        self.parts.append(
            Opening(
                id=self._id(), name=photo, outline=Rectangle(width_mm=cell.w, height_mm=cell.h), visible=self.grid.visible,
                surface=Flat(centre=self._centre(cell), turn_deg=self.grid.turn_deg), opacity=self.grid.opacity,
                blend=self.grid.blend, place_locked=True, content_locked=True,
            )
        )  # fmt: skip

    def rule(self, cell: _Cell, across: bool) -> None:
        """A ruled line through a cell's middle."""
        line = self.grid.line
        if line is None:
            return
        size = (cell.w, line.width_mm) if across else (line.width_mm, cell.h)
        self.parts.append(
            FillBox(
                id=self._id(), outline=Rectangle(width_mm=size[0], height_mm=size[1]), colour=line.colour,
                surface=Flat(centre=self._centre(cell), turn_deg=self.grid.turn_deg), opacity=self.grid.opacity,
                blend=self.grid.blend, visible=self.grid.visible,
            )
        )  # fmt: skip

    def _heading(self, box: _Cell, top: float, year: int, month: int, size_pt: float, heading: str) -> float:
        """What the month is called, at the top of its box; where what comes below begins."""
        if heading == "none":
            return top
        title, high = self.grid.title, 2.4 * mm_from_points(size_pt)
        with_year = heading == "month_year" and not self.grid.perpetual
        text = month_and_year(year, month, self.locale) if with_year else month_names(self.locale)[month - 1]
        cell = _Cell(box.x, top + high / 2, box.w, high)
        look = {"colour": title.colour, "weight": title.weight or self.grid.weight}
        self.words(text, cell, size_pt=1.35 * size_pt, stand="middle", **look)
        return top + high

    # --- a month ------------------------------------------------------------------------------------------------------

    def month(self, box: _Cell, year: int, month: int, size_pt: float, heading: str) -> None:
        """A month's weeks in a box: what it is called, names of weekdays, days, ruled lines."""
        grid, em = self.grid, mm_from_points(size_pt)
        top, left = box.y - box.h / 2, box.x - box.w / 2
        top = self._heading(box, top, year, month, size_pt, heading)
        whole = _rows_of_seven(year, month) if grid.perpetual else weeks(year, month, self.first_day)
        rows = (
            6
            if grid.weeks == "six" or heading == "year"
            else 5
            if grid.weeks == "five" and len(whole) > 4
            else len(whole)
        )
        numbered = grid.week_numbers and not grid.perpetual
        margin = 1.8 * em if numbered else 0.0
        column = (box.w - margin + grid.gap_mm) / 7
        if grid.weekdays != "none" and not grid.perpetual:
            high = 1.5 * em
            for n, name in enumerate(day_names(self.locale, grid.weekdays, self.first_day)):
                cell = _Cell(
                    left + margin + column * n + (column - grid.gap_mm) / 2, top + high / 2, column - grid.gap_mm, high
                )
                self.words(
                    name, cell, size_pt=0.72 * size_pt, stand="middle", **self._look((self.first_day + n) % 7, False)
                )
            top += high
        bottom = box.y + box.h / 2
        row = (bottom - top + grid.gap_mm) / rows
        named = grid.holidays and not grid.perpetual
        holidays = self._holidays(year) if named else {}
        dates = list_dates(self.said, None if grid.perpetual else year) if grid.dates else {}
        self.photos = photos_on(self.said, None if grid.perpetual else year) if grid.dates else {}
        moons = moon_phases(year) if grid.moon and not grid.perpetual else {}
        for n, week in enumerate(whole):
            row_here = min(n, rows - 1)  # of six weeks in five rows the last two share theirs
            y = top + row * row_here + (row - grid.gap_mm) / 2
            if numbered and n == row_here:
                beside = _Cell(left + margin / 2, y, margin, row - grid.gap_mm)
                number = write_digits(week_number(week), self.locale)
                self.words(number, beside, size_pt=0.6 * size_pt, stand="middle", opacity=0.6 * grid.opacity)
            for k, day in enumerate(week):
                if n > row_here and day.month != month:
                    continue
                x = left + margin + column * k + (column - grid.gap_mm) / 2
                cell = _Cell(x, y, column - grid.gap_mm, row - grid.gap_mm)
                shared = len(whole) > rows and row_here == rows - 1 and (n > row_here or whole[n + 1][k].month == month)
                if shared:  # the upper left half and the lower right half of the cell
                    shift = -0.25 if n == row_here else 0.25
                    cell = _Cell(x + shift * cell.w * 0.9, y + shift * cell.h, cell.w * 0.55, cell.h / 2)
                self.day(day, cell, month, size_pt, holidays, dates, moons, bare=heading == "year")
        if grid.line and grid.gap_mm == 0:
            high = bottom - top
            for n in range(rows + 1):
                self.rule(_Cell(left + margin + (box.w - margin) / 2, top + row * n, box.w - margin, 0), True)
            for k in range(8):
                self.rule(_Cell(left + margin + column * k, top + high / 2, 0, high), False)

    def _look(self, weekday: int, holiday: bool) -> dict[str, object]:
        grid = self.grid
        look = grid.holiday if holiday else grid.weekend if weekday in self.weekend else grid.day
        if weekday == SUNDAY and SUNDAY in self.weekend and not holiday and grid.sunday:
            look = grid.sunday
        return {"colour": look.colour, "weight": look.weight or grid.weight}

    def day(
        self, day: date, cell: _Cell, month: int, size_pt: float, holidays: dict[date, str], dates: dict[date, list[str]],
        moons: dict[date, str], bare: bool,
    ) -> None:  # fmt: skip
        """A day's figure, and what is told of it."""
        grid = self.grid
        left_out = grid.perpetual or grid.neighbours == "none" or (bare and grid.neighbours == "faint")
        if day.month != month and left_out:
            return
        faint = {"opacity": FAINT * grid.opacity} if day.month != month and grid.neighbours == "faint" else {}
        plain = {"colour": grid.day.colour, "weight": grid.day.weight or grid.weight}
        day_look = plain if grid.perpetual else self._look(day.weekday(), day in holidays and day.month == month)
        look = {**day_look, **faint}
        lines = [] if bare or day.month != month else dates.get(day, [])
        if not bare and grid.holiday_names and day.month == month and day in holidays:
            lines = [holidays[day], *lines]
        pad = 0.25 * mm_from_points(size_pt)
        inner = cell.inset(min(pad, cell.w / 6, cell.h / 6))
        corner = grid.figure == "corner" and not bare
        self.words(write_digits(day.day, self.locale), inner, size_pt=size_pt, align="left" if corner else "centre",
                   stand="top" if corner or lines else "middle", **look)  # fmt: skip
        if day in moons and day.month == month and not bare:
            self.words(_MOON[moons[day]], inner, size_pt=0.6 * size_pt, align="right", stand="top", **look)
        if not bare and day.month == month and day in self.photos:
            # Beside the figure, in the upper part of the cell; what is told of the day stands below it.
            side = min(0.55 * inner.h, 0.55 * inner.w)
            self.photo(
                self.photos[day], _Cell(inner.x + inner.w / 2 - side / 2, inner.y - inner.h / 2 + side / 2, side, side)
            )
        if lines:
            used = 1.25 * mm_from_points(size_pt)
            if day in self.photos:
                used = max(used, 0.6 * min(inner.h, inner.w))
            left = max(0.5, inner.h - used)
            below = _Cell(inner.x, inner.y + inner.h / 2 - left / 2, inner.w, left)
            self.words("\n".join(lines), below, size_pt=grid.dates_pt, fit_pt=(_SMALLEST * grid.dates_pt, grid.dates_pt),
                       align="left" if corner else "centre", stand="top", leading=1.05, **look)  # fmt: skip

    # --- a row or a column of days ----------------------------------------------------------------------------------------

    def _holidays(self, year: int) -> dict[date, str]:
        from .public_holidays import holidays_of

        calendar = self.said
        return holidays_of(calendar.country, calendar.region, year, self.locale, calendar.more_holidays)

    def days(self, box: _Cell, year: int, month: int, upright: bool) -> None:
        """All days of a month in a row, or one below the other with room to write."""
        grid, em = self.grid, self.em
        top, left = box.y - box.h / 2, box.x - box.w / 2
        top = self._heading(box, top, year, month, grid.size_pt, grid.heading)
        count = [day for week in weeks(year, month, 0) for day in week if day.month == month]
        named = grid.weekdays != "none" and not grid.perpetual
        names = day_names(self.locale, grid.weekdays, 0) if named and grid.weekdays != "none" else []
        holidays = self._holidays(year) if grid.holidays and not grid.perpetual else {}
        dates = list_dates(self.said, None if grid.perpetual else year) if grid.dates else {}
        high, n_days = box.y + box.h / 2 - top, len(count)
        tall_count = -(-n_days // grid.columns)  # days in a column
        gap = 1.5 * em if grid.columns > 1 else 0.0
        part = (box.w + gap) / grid.columns - gap
        for n, day in enumerate(count):
            look = {} if grid.perpetual else self._look(day.weekday(), day in holidays)
            if not upright:
                wide = box.w / n_days
                x = left + wide * (n + 0.5)
                if names:
                    self.words(names[day.weekday()], _Cell(x, top + 0.6 * em, wide, 1.2 * em), size_pt=0.6 * grid.size_pt,
                               stand="middle", **look)  # fmt: skip
                self.words(
                    write_digits(day.day, self.locale),
                    _Cell(x, top + high / 2 + (0.6 * em if names else 0), wide, high),
                    stand="middle",
                    **look,
                )
                continue
            tall, column = high / tall_count, n // tall_count
            y, figure, named_w = top + tall * (n % tall_count + 0.5), 1.9 * em, 2.4 * em if names else 0.0
            start_x = left + column * (part + gap)
            self.words(
                write_digits(day.day, self.locale),
                _Cell(start_x + figure / 2, y, figure, tall),
                stand="middle",
                align="right",
                **look,
            )
            if names:
                named_at = _Cell(start_x + figure + named_w / 2 + 0.4 * em, y, named_w, tall)
                self.words(names[day.weekday()], named_at, stand="middle", align="left",
                           size_pt=0.75 * grid.size_pt, **look)  # fmt: skip
            lines = [*([holidays[day]] if grid.holiday_names and day in holidays else []), *dates.get(day, [])]
            if lines:
                start = figure + named_w + 0.9 * em
                cell = _Cell(start_x + start + (part - start) / 2, y, max(0.5, part - start), tall)
                self.words(", ".join(lines), cell, size_pt=grid.dates_pt, fit_pt=(_SMALLEST * grid.dates_pt, grid.dates_pt),
                           stand="middle", align="left", **look)  # fmt: skip
            self.rule(_Cell(start_x + part / 2, top + tall * (n % tall_count + 1), part, 0), True)

    def year(self, box: _Cell, year: int) -> None:
        """Twelve months, in as many columns as suit the box."""
        grid, em = self.grid, self.em
        columns = min((1, 2, 3, 4, 6, 12), key=lambda n: abs((box.w / n) / (box.h / (12 / n)) - 1.05))
        rows = 12 // columns
        gap = max(grid.gap_mm, 1.2 * em)
        wide, high = (box.w + gap) / columns, (box.h + gap) / rows
        for n in range(12):
            cell = _Cell(
                box.x - box.w / 2 + wide * (n % columns) + (wide - gap) / 2,
                box.y - box.h / 2 + high * (n // columns) + (high - gap) / 2, wide - gap, high - gap,
            )  # fmt: skip
            month = add_months((year, 1), n)
            self.month(cell, *month, grid.size_pt, "year")


def _rows_of_seven(year: int, month: int) -> list[list[date]]:
    """A month's days by sevens, from its first on, for any year: no day of it is one of the week. The last row goes on."""
    first = date(year, month, 1)
    after_it = add_months((year, month), 1)
    count = (date(*after_it, 1) - first).days
    return [[first + timedelta(n + k) for k in range(7)] for n in range(0, count, 7)]


def month_of(grid: DateGrid, sheet_month: str) -> tuple[int, int] | None:
    """The year and month that a grid shows: its own, or its sheet's; None when neither says one."""
    month = grid.month or sheet_month
    if not month:
        return None
    return add_months((int(month[:4]), int(month[5:7])), grid.offset)


@remember
def draw_grid(grid: DateGrid, sheet_month: str, locale: str, calendar: CalendarSaid) -> tuple[Part, ...]:
    """A grid as the layers it is made of, bottom to top; nothing where no month is said."""
    month_here = month_of(grid, sheet_month)
    if month_here is None:
        return ()
    year, month = (LEAP_YEAR, month_here[1]) if grid.perpetual else month_here
    drawing = _Drawing(grid, locale, calendar)
    box = _Cell(0.0, 0.0, grid.width_mm, grid.height_mm)
    if grid.shows == "year":
        drawing.year(box, year)
    elif grid.shows == "month":
        drawing.month(box, year, month, grid.size_pt, grid.heading)
    else:
        drawing.days(box, year, month, upright=grid.shows == "list")
    return tuple(drawing.parts)
