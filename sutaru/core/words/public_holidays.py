"""Public holidays of countries and their regions, by the package ``holidays``; loaded by calendars that show them."""

from datetime import date
from functools import lru_cache

import holidays
from babel import Locale
from babel.core import get_global

from .fields import locale_of


@lru_cache(maxsize=64)
def holidays_of(country: str, region: str, year: int, locale: str, more: bool = False) -> dict[date, str]:
    """Public holidays of a country and region, in the locale's language where it is known; ``more``: those as well that many
    keep although the law does not have all keep them. Nothing for no country."""
    if not country:
        return {}
    categories = {"public", *(_KEPT_BY_MANY & _categories(country) if more else ())}
    language = _language(country, locale_of(locale))
    try:
        days = holidays.country_holidays(
            country, subdiv=region or None, years=year, language=language, categories=categories
        )
    except NotImplementedError:  # a region that is not known
        return {}
    return {day: name.split(";")[0].strip() for day, name in days.items() if day.year == year}


# Kinds of holidays by the package ``holidays``: kept where a town is Catholic, by custom, by who wants to.
_KEPT_BY_MANY = frozenset(("catholic", "protestant", "optional", "de_facto", "unofficial"))


def has_more_holidays(country: str) -> bool:
    """Whether a country has days that many keep although the law does not have all keep them."""
    return bool(country and _KEPT_BY_MANY & _categories(country))


def _categories(country: str) -> frozenset[str]:
    return frozenset(holidays.country_holidays(country).supported_categories)


def _language(country: str, locale: Locale) -> str | None:
    """Which of the languages that a country's holidays are told in comes nearest to a locale; None for none."""
    languages = holidays.list_localized_countries(include_aliases=False).get(country, [])
    spoken = {"nb": "no", "nn": "no"}.get(locale.language, locale.language)
    likely = get_global("likely_subtags").get(str(locale), "").split("_")
    wanted = (str(locale), f"{spoken}_{likely[-1]}", f"{spoken}_{country}", spoken)
    exact = next((language for language in wanted if language in languages), None)
    return exact or next((language for language in languages if language.split("_")[0] == spoken), None)


def is_known_country(country: str, region: str = "") -> bool:
    """Whether holidays of a country, and of a region of it, are known."""
    known = holidays.list_supported_countries(include_aliases=False)
    return country in known and (not region or region in known[country])


@lru_cache(maxsize=1)
def countries() -> dict[str, dict[str, str]]:
    """Countries whose holidays are known, with their regions: names by code, by name; the code where none is known.

    >>> countries()["DE"]["SH"]
    'Schleswig-Holstein'
    """
    known = holidays.list_supported_countries(include_aliases=False)
    return {country: _regions(country) for country in sorted(known) if len(country) == 2}


def _regions(country: str) -> dict[str, str]:
    aliases = holidays.country_holidays(country).get_subdivision_aliases()
    named = {code: names[0] if names else code for code, names in aliases.items()}
    return dict(sorted(named.items(), key=lambda entry: entry[1]))
