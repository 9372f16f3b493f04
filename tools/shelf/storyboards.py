"""Storyboards: several photos on one print, on a grid with one gap, some with a line of words."""

from typing import Any

from sutaru.core.measure import inch

from .grids import Split, across, down, even
from .palettes import BLUSH, BOLD, CHALK, LINEN, NIGHT, SAGE, SLATE, TIDE, Look
from .parts import Layer, at, fill, ground, sheet, template, words

# Name, occasion, sizes in inches, how it is parted, its look, its line of words (or none), where that stands.
DESIGNS: tuple[tuple[str, str, str, tuple[tuple[float, float], ...], Split, Look, str, str], ...] = (
    ("three-tall", "Three tall", "portrait", ((10, 8), (20, 16)), across(1, 1, 1), CHALK, "", ""),
    ("wide-over-two", "Wide over two", "everyday", ((8, 10), (16, 20)), down(1.35, (1, across(1, 1))), LINEN, "", ""),
    ("tall-and-two", "Tall and two", "portrait", ((10, 8), (14, 11)), across(1.45, (1, down(1, 1))), SAGE, "", ""),
    ("four-even", "Four even", "everyday", ((8, 8), (12, 12)), even(2, 2), CHALK, "", ""),
    ("strip-below", "One and a strip", "family", ((10, 8), (16, 12)), down(2.6, (1, across(1, 1, 1))), LINEN, "Skerry Sands", "below"),
    ("ladder", "Ladder", "family", ((8, 12), (16, 24)), down((1, across(1.6, 1)), (1, across(1, 1.6)), (1, across(1.6, 1))), TIDE, "", ""),
    ("stagger", "Stagger", "holiday", ((12, 12), (20, 20)), across((1, down(1.7, 1)), (1, down(1, 1.7)), (1, down(1.7, 1))), SLATE, "", ""),
    ("hero-band", "Band between", "festival", ((12, 12),), down((1, across(1, 1, 1, 1)), 2.3, (1, across(1, 1, 1, 1))), CHALK, "", ""),
    ("nine-even", "Nine even", "everyday", ((12, 12), (20, 20)), even(3, 3), NIGHT, "", ""),
    ("column-left", "Column beside one", "wedding", ((14, 11), (20, 16)), across((1, down(1, 1, 1)), 2.6), BLUSH, "", ""),
    ("frame-of-five", "Two, one, two", "family", ((16, 10),), across((1, down(1, 1)), 2.2, (1, down(1, 1))), LINEN, "", ""),
    ("film", "Contact strip", "festival", ((6, 18),), down(1, 1, 1, 1), SLATE, "", ""),
    ("twelve-even", "Twelve even", "year", ((16, 12), (24, 18)), even(4, 3), CHALK, "Twelve months", "below"),
    ("title-column", "Words beside three", "wedding", ((12, 8),), down(1.4, (1, across(1, 1))), BLUSH, "Maren\n& Ola", "left"),
    ("title-top", "Words over five", "family", ((11, 14),), down(1.7, (1, across(1, 1)), (1, across(1, 1))), SAGE, "Our summer by the sea", "above"),
    ("poster-six", "Poster of six", "festival", ((12, 18), (16, 24)), down(1.6, (1, across(1, 1)), (1, across(1, 1, 1))), BOLD, "Kite festival", "below"),
    ("sixteen", "Sixteen", "school", ((16, 20),), even(4, 4), TIDE, "Class of the dunes", "below"),
)  # fmt: skip


def make_storyboards() -> list[Layer]:
    """Every design in each of its sizes."""
    return [_make(design, size) for design in DESIGNS for size in design[3]]


def _make(design: Any, size: tuple[float, float]) -> Layer:
    name, called, occasion, _, split, look, said, place = design
    w, h = inch(size[0]), inch(size[1])
    short = min(w, h)
    margin, gap = round(short * 0.055, 1), round(max(2.4, short * 0.012), 1)
    room, text_size = _room(w, h, margin, place), short * 0.13
    layers = [ground("swatch Paper"), *[
        at(f"opening-{n}", *box) for n, box in enumerate(split.boxes(room, gap), 1)
    ]]  # fmt: skip
    if said:
        layers += _line(said, look, w, h, margin, room, place, text_size)
    label = f"{size[0]:g}x{size[1]:g}".replace(".", "-")
    return template(
        f"storyboard-{name}-{label}", called, "collage", occasion, f"{size[0]:g} x {size[1]:g} in print.",
        sheet("print", "Print", w, h, layers, swatches=look.swatches),
        tags=("storyboard", *(("square",) if w == h else ())),
    )  # fmt: skip


def _room(w: float, h: float, margin: float, place: str) -> tuple[float, float, float, float]:
    band = min(w, h) * 0.15
    if place == "below":
        return margin, margin, w - 2 * margin, h - 2 * margin - band
    if place == "above":
        return margin, margin + band, w - 2 * margin, h - 2 * margin - band
    if place == "left":
        side = w * 0.34
        return side, margin, w - side - margin, h - 2 * margin
    return margin, margin, w - 2 * margin, h - 2 * margin


def _line(said: str, look: Look, w: float, h: float, margin: float, room: Any, place: str, size: float) -> list[Layer]:
    points = size * 0.58 / 0.3528  # mm of capital height to points
    if place == "left":
        return [
            words("title", said, room[0] / 2 + margin * 0.1, h * 0.45, room[0] - margin * 1.6, h * 0.3, points * 0.66, colour="swatch Main", **look.title),
            fill("rule", room[0] / 2 - 9, h * 0.62, 18, 0.5, "swatch Main"),
            words("place", "Skerry Sands\n14 June 2026", room[0] / 2, h * 0.71, room[0] - margin * 1.6, h * 0.1, points * 0.22, font=look.plain, colour="swatch Ink"),
        ]  # fmt: skip
    y = margin + size * 0.35 if place == "above" else h - margin - size * 0.36
    return [words("title", said, w / 2, y, w - 2 * margin, size * 0.86, points, colour="swatch Main", **look.title)]
