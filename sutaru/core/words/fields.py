"""Fields: what words name in braces, and what is put in their place. ``{customer}``, ``{date:d MMMM y}``, ``{studio.web}``.

A date is written as a locale writes it (CLDR, by babel): after a colon one of short, medium, long, full, or a pattern of
Unicode Technical Standard 35, part 4. A field that no one knows is left as it was typed.
"""

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date, datetime
from functools import lru_cache

from babel import Locale
from babel.core import UnknownLocaleError
from babel.dates import format_date

from ..document.job import LOCALE_NAME
from ..document.lettering import FIELD, Run

LOCALE = "en_GB"
Value = str | date  # "" is known, and not said
_LENGTHS = ("short", "medium", "long", "full")
_BETWEEN = " ·,|–"  # what stands between fields, and not alone


@dataclass(frozen=True)
class Filled:
    """Words with their fields put in, and runs where they lie then. ``unsaid``: fields that are known and not said;
    ``unknown``: fields nobody knows."""

    words: str
    runs: tuple[Run, ...]
    unsaid: tuple[str, ...]
    unknown: tuple[str, ...]


def names(words: str) -> list[str]:
    """Fields that words name, each once.

    >>> names("{customer}, {date:long} and {customer}")
    ['customer', 'date']
    """
    return list(dict.fromkeys(match[1] for match in FIELD.finditer(words)))


def fill_fields(words: str, runs: tuple[Run, ...], values: Mapping[str, Value], locale: str = LOCALE) -> Filled:
    """Words with fields put in. A line that says nothing but empty fields is left out.

    >>> fill_fields("{a}\\nto {b}", (), {"a": "", "b": date(2026, 11, 26)}).words
    'to 26 November 2026'
    """
    if "{" not in words:
        return Filled(words, runs, (), ())
    named = names(words)
    unsaid = tuple(name for name in named if name in values and values[name] == "")
    unknown = tuple(name for name in named if name not in values)
    out: list[str] = []
    came: list[int] = []  # where each letter stood, a field's all where it began
    position = 0
    for line in words.split("\n"):
        letters, froms, fields = _line(line, position, values, locale)
        position += len(line) + 1
        if fields and not letters.strip(_BETWEEN):
            continue
        if fields:
            bare = letters.strip(" ·|")
            cut = letters.index(bare) if bare else 0
            letters, froms = bare, froms[cut : cut + len(bare)]
        if out:
            out.append("\n")
            came.append(froms[0] if froms else position - len(line) - 1)
        out.append(letters)
        came += froms
    return Filled("".join(out), _move_runs(runs, came), unsaid, unknown)


def _line(line: str, start: int, values: Mapping[str, Value], locale: str) -> tuple[str, list[int], bool]:
    """A line with its fields put in, where each letter stood, and whether there was a field."""
    letters, position, any_field = "", 0, False
    froms: list[int] = []
    for match in FIELD.finditer(line):
        if match[1] not in values:
            continue
        any_field = True
        letters += line[position : match.start()]
        froms += range(start + position, start + match.start())
        text = write_value(values[match[1]], match[2] or "", locale)
        letters += text
        froms += [start + match.start()] * len(text)
        position = match.end()
    letters += line[position:]
    froms += range(start + position, start + len(line))
    return letters, froms, any_field


def _move_runs(runs: Iterable[Run], came: list[int]) -> tuple[Run, ...]:
    moved = []
    for run in runs:
        within = [n for n, position in enumerate(came) if run.start <= position < run.end]
        if within:
            moved.append(run.copy_with(start=within[0], end=within[-1] + 1))
    return tuple(moved)


def write_value(value: Value, how: str, locale: str) -> str:
    """A field's value in words."""
    if isinstance(value, str):
        return value
    day = value.date() if isinstance(value, datetime) else value
    return format_date(day, how if how in _LENGTHS or how else "long", locale=locale_of(locale))


# That are offered for dates; a job may say any other that CLDR knows.
LOCALES = (
    "ar", "bg", "ca", "cs", "cy", "da", "de_AT", "de_CH", "de_DE", "el", "en_AU", "en_CA", "en_GB", "en_IE", "en_NZ",
    "en_US", "en_ZA", "es_ES", "es_MX", "et", "eu", "fa", "fi", "fr_BE", "fr_CA", "fr_CH", "fr_FR", "ga", "gl", "he",
    "hi", "hr", "hu", "hy", "id", "is", "it_IT", "ja", "ka", "km", "ko", "lo", "lt", "lv", "mk", "mr", "ms", "mt", "my",
    "nb", "ne", "nl_BE", "nl_NL", "nn", "pl", "pt_BR", "pt_PT", "ro", "ru", "sk", "sl", "sq", "sr", "sv_SE", "th", "tr",
    "uk", "vi", "zh", "zh_Hant",
)  # fmt: skip


@lru_cache(maxsize=32)
def locale_of(name: str) -> Locale:
    """A locale by its name; British English for what is none."""
    try:
        return Locale.parse(name)
    except (UnknownLocaleError, ValueError):
        return Locale.parse(LOCALE)


def month_name(day: date, locale: str = LOCALE) -> str:
    """A month's name as it stands alone."""
    return format_date(day, "LLLL", locale=locale_of(locale))


def find_locale(name: str) -> str:
    """A locale that CLDR knows by its own name, as de_AT; "" for what is none."""
    try:
        locale = str(Locale.parse(name))
    except (UnknownLocaleError, ValueError, TypeError):
        return ""
    return locale if re.fullmatch(LOCALE_NAME, locale) else ""


def parse_value(text: str) -> Value:
    """What a person says of a field: a date where it is written as one (ISO 8601: 2026-11-26, or 2026-11 for a month)."""
    if re.fullmatch(r"\d{4}-\d\d(-\d\d)?", text):
        try:
            return date.fromisoformat(text if len(text) == 10 else f"{text}-01")
        except ValueError:
            return text
    return text
