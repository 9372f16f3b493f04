"""Calendars: dates of one's own, and whose holidays count."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from .base import Frozen

MonthName = Annotated[str, Field(pattern=r"^([12]\d{3}-(0[1-9]|1[0-2]))?$", description="a month as 2027-01")]
_DAYS = (31, 29, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31)


class Dated(Frozen):
    """A date of one's own: a birthday, an anniversary. ``year`` is when it first was, if that is known; unless it comes
    ``yearly`` it is on that one day. ``photo``: shown small in its day, "" for none."""

    month: Annotated[int, Field(ge=1, le=12)]
    day: Annotated[int, Field(ge=1, le=31)]
    text: Annotated[str, Field(min_length=1, max_length=200)]
    year: Annotated[int | None, Field(ge=1, le=9999)] = None
    yearly: bool = True
    photo: Annotated[str, Field(pattern=r"^([0-9a-f]{16})?$", exclude_if=lambda photo: not photo)] = ""

    @model_validator(mode="after")
    def _is_a_day(self) -> "Dated":
        if self.day > _DAYS[self.month - 1]:
            raise ValueError(f"There is no day {self.day} in that month.")
        if not self.yearly and self.year is None:
            raise ValueError("A date that comes once needs its year.")
        return self


class CalendarSaid(Frozen):
    """What the calendars of a job show besides days: dates of one's own, and the holidays of a country and region (ISO 3166).

    ``leap``: where what falls on 29 February stands in other years. ``more_holidays``: days as well that many places or people
    there keep although the law does not have all keep them.
    """

    dates: Annotated[tuple[Dated, ...], Field(max_length=5000)] = ()
    leap: Literal["before", "after", "only"] = "before"
    country: Annotated[str, Field(pattern=r"^([A-Z]{2})?$")] = ""
    region: Annotated[str, Field(max_length=10)] = ""
    more_holidays: Annotated[bool, Field(exclude_if=lambda more: not more)] = False
