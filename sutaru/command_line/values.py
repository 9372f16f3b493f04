"""Values that the command line reads, each by a function that refuses what is none."""

import argparse
from collections.abc import Callable

_UNITS_MM = {"mm": 1.0, "cm": 10.0, "in": 25.4}


def number_between(low: float, high: float) -> Callable[[str], float]:
    """Reads a number from ``low`` to ``high``."""

    def read(text: str) -> float:
        try:
            value = float(text.replace(",", "."))
        except ValueError:
            value = float("nan")
        if not low <= value <= high:  # nan is neither
            raise argparse.ArgumentTypeError(f"{text!r} is no number from {low:g} to {high:g}")
        return value

    return read


def count_between(low: int, high: int) -> Callable[[str], int]:
    """Reads a whole number from ``low`` to ``high``."""

    def read(text: str) -> int:
        if not text.strip().removeprefix("-").isdecimal() or len(text) > 12 or not low <= int(text) <= high:
            raise argparse.ArgumentTypeError(f"{text!r} is no whole number from {low} to {high}")
        return int(text)

    return read


def text_up_to(most: int) -> Callable[[str], str]:
    """Reads words of at most so many letters."""

    def read(text: str) -> str:
        if len(text) > most or not text.isprintable():
            raise argparse.ArgumentTypeError(f"this is longer than {most} letters, or cannot be printed")
        return text

    return read


def read_month(text: str) -> str:
    """Reads a month as 2027-01."""
    import re

    if not re.fullmatch(r"[12]\d{3}-(0[1-9]|1[0-2])", text, re.ASCII):
        raise argparse.ArgumentTypeError(f"{text!r} is no month from 1000 to 2999, as 2027-01")
    return text


def read_country(text: str) -> str:
    """Reads a country by its two letters; "" for none."""
    import babel

    if not text:
        return ""
    if text.upper() not in babel.Locale("en").territories or len(text) != 2:
        raise argparse.ArgumentTypeError(f"{text!r} is no country: write two letters, as GB or DE")
    return text.upper()


def read_key(text: str) -> str:
    """Reads an idempotency key."""
    import re

    if not re.fullmatch(r"[0-9a-f]{16,64}", text):
        raise argparse.ArgumentTypeError(f"{text!r} is no key: write 16 to 64 of the letters 0 to 9 and a to f")
    return text


def read_areas(text: str) -> str:
    """Reads what of a flat picture becomes an opening."""
    if text not in ("holes", "flat", "none") and not (text.startswith("#") and len(text) == 7):
        raise argparse.ArgumentTypeError(f"{text!r} is none of: holes, flat, none, a colour like #ffffff")
    return text.lower()


def read_size_mm(text: str) -> tuple[float, float]:
    """A size as people write it: ``10x10in``, ``297x420mm``, ``20,5 x 30 cm``.

    >>> read_size_mm("10x8in")
    (254.0, 203.2)
    """
    import re

    match = re.fullmatch(r"\s*(\d+(?:[.,]\d+)?)\s*[x×*]\s*(\d+(?:[.,]\d+)?)\s*(mm|cm|in)\s*", text)
    if not match:
        raise argparse.ArgumentTypeError(f"{text!r} is no size: write it like 10x8in or 297x420mm")
    unit = _UNITS_MM[match[3]]
    width, height = (round(float(side.replace(",", ".")) * unit, 6) for side in match.groups()[:2])
    if not (1 <= width <= 5000 and 1 <= height <= 5000):
        raise argparse.ArgumentTypeError(f"{text!r} is no size of a sheet: its sides are 1 mm to 5 m")
    return width, height
