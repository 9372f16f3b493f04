"""Chapters of a book: where its photos part into events of their own, and what each is called."""

from collections.abc import Sequence
from datetime import datetime
from itertools import pairwise

from babel import Locale
from babel.dates import format_date, format_time, get_period_id

from ..document import Photo
from ..words.fields import locale_of
from .photo_choice import DAY_S, breaks

MOST = 12
_EVENT = 0.5  # how surely an event ends, that a chapter may begin there
_DAY_SHARE = 0.5  # of the photos that a chapter has at least, where a day begins with it


def chapter_starts(photos: Sequence[Photo], fewest: int) -> list[int]:
    """Choose where chapters begin: at the surest ends of events, the first at 0; none where all is one event.

    ``photos``: in order of capture; ``fewest``: how many photos a chapter has at least, a day of its own half as many.
    """
    sure = breaks(photos)
    pauses = [0.0, *(_pause(earlier, later) for earlier, later in pairwise(photos))]
    starts = {0, len(photos)}
    for index in sorted(range(1, len(photos)), key=lambda n: (-sure[n], -pauses[n], n)):
        least = fewest * _DAY_SHARE if pauses[index] >= DAY_S else fewest
        if sure[index] >= _EVENT and len(starts) <= MOST and all(abs(index - other) >= least for other in starts):
            starts.add(index)
    return sorted(starts - {len(photos)}) if len(starts) > 2 else []


def _pause(earlier: Photo, later: Photo) -> float:
    if earlier.taken is None or later.taken is None:
        return 0.0
    return (later.taken.replace(tzinfo=None) - earlier.taken.replace(tzinfo=None)).total_seconds()


def name_chapters(times: Sequence[datetime], locale: str) -> list[str]:
    """Name chapters by when each begins: a day's first by the date where the book has several days, later ones by the time of
    day ("Afternoon"), or by the clock where that was said of the day already. In the words of the Unicode CLDR, as Babel has
    them.

    >>> name_chapters([datetime(2026, 6, 19, 9), datetime(2026, 6, 19, 14), datetime(2026, 6, 20, 8)], "en_GB")
    ['Friday 19 June', 'Afternoon', 'Saturday 20 June']
    >>> name_chapters([datetime(2026, 6, 19, 9), datetime(2026, 6, 19, 14)], "de_DE")
    ['Morgen', 'Nachmittag']
    """
    known = locale_of(locale)
    several = len({time.date() for time in times}) > 1
    names: list[str] = []
    parts: set[tuple[object, str]] = set()
    days: set[object] = set()
    for time in times:
        day, part = time.date(), _part_of_day(time, known)
        if several and day not in days:
            name = format_date(day, _day_pattern(known), locale=known)
        elif part and (day, part) not in parts:
            name = part
        else:
            name = format_time(time.time(), "short", locale=known)
        names.append(name[:1].upper() + name[1:])
        days.add(day)
        parts.add((day, part))
    return names


def _day_pattern(locale: Locale) -> str:
    """Weekday, day and month as a language writes them, the weekday in full."""
    skeletons = locale.datetime_skeletons
    pattern = str(getattr(skeletons.get("MMMMEd") or skeletons.get("MMMEd"), "pattern", "EEEE d MMMM"))
    return pattern.replace("ccc", "cccc").replace("E", "EEEE") if "EE" not in pattern else pattern


def _part_of_day(time: datetime, locale: Locale) -> str:
    """What a language calls the time of day; "" where it has no word for it."""
    period = get_period_id(time.replace(tzinfo=None), locale=locale)
    for context in ("stand-alone", "format"):
        for width in ("wide", "abbreviated"):
            words = locale.day_periods.get(context, {}).get(width, {})
            if period not in ("am", "pm") and words.get(period):
                return str(words[period])
    return ""
