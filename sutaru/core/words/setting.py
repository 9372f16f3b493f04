"""Setting words: text in a box to outlines (SVG path data, mm, in the box's own plane with its origin at the centre).

Line breaks by Unicode Standard Annex 14, and by dictionaries where words stand without spaces (ICU); directions by Annex 9;
shaping by HarfBuzz. The same paths feed mask, picture and PDF. Words may run along an arc or a path: each glyph is then
carried there whole, none is bent.
"""

import math
import re
from collections.abc import Iterable
from dataclasses import dataclass, replace
from itertools import accumulate, groupby

import numpy as np
from fontTools.misc.transform import Transform
from fontTools.pens.svgPathPen import SVGPathPen
from icu4py.breakers import LineBreaker
from numpy.typing import NDArray

from ..geometry import outlines
from ..measure import mm_from_points
from ..remembering import remember
from .faces import Brought, Face, face
from .levels import base_level, levels, visual_runs
from .shaping import Glyph, Look, Stretch, apply_capitals, glyphs_of, stretches

# Controls that steer reading direction are not words (Unicode Standard Annex 9, 2.1 to 2.5), nor are other controls.
CONTROLS = re.compile("[\u0000-\u0009\u000b-\u001f\u007f-\u009f\u200e\u200f\u202a-\u202e\u2066-\u2069]")
STEP_PT = 0.25  # sizes that words are fitted to their box in
_ROUNDING_MM = 0.01  # below what a box's measure can mean


@dataclass(frozen=True)
class Box:
    """Where words are set: see the Text layer for what each field means. ``fit_pt`` (0, 0): as large as their looks say."""

    width_mm: float
    height_mm: float
    leading: float
    align: str
    stand: str
    paragraph_pt: float = 0.0
    inset_mm: float = 0.0
    fit_pt: tuple[float, float] = (0.0, 0.0)
    bend_deg: float = 0.0
    along: str = ""


@dataclass(frozen=True)
class Letter:
    """A glyph as it stands: its font, its number there, and what carries its em (y up) to the box (mm, y down): a, b, c, d, e, f
    as SVG and PDF write a matrix. ``letters``: what it shows; nothing where a glyph beside it shows them together with it."""

    of: Face
    number: int
    box_from_em: tuple[float, float, float, float, float, float]
    letters: str


@dataclass(frozen=True)
class Word:
    """A word, or as much of it as stands in one line in one colour; or the space between two. Its letters in the order that they
    are read, its glyphs from left to right."""

    colour: str
    letters: str
    glyphs: tuple[Letter, ...]


@dataclass(frozen=True)
class Setting:
    """Words set in a box: their outlines by colour, the lines they fell into, whether they outgrow the box, letters that no
    font has, the size of the box's own look, which may have been fitted, and Latin letters that another font lent."""

    pieces: tuple[tuple[str, str], ...]  # colour, path
    lines: tuple[str, ...]
    overset: bool
    missing: str
    size_pt: float
    borrowed: str = ""
    words: tuple[Word, ...] = ()

    @property
    def path(self) -> str:
        """All outlines as one path."""
        return "".join(path for _, path in self.pieces)


@dataclass(frozen=True)
class _Paragraph:
    """A paragraph as letters that are set, parted into stretches; and where it may be broken, with each unit's width."""

    words: str
    base: int
    level_of: tuple[int, ...]
    parts: tuple[Stretch, ...]
    units: tuple[tuple[int, int, float, float], ...]  # from, to, width, width without the space at its end
    look: Look  # of its first letter, or of the box


@dataclass(frozen=True)
class _Held:
    """A glyph where it stands, turned about the middle of its baseline; ``at`` is where its origin comes to lie then."""

    glyph: Glyph
    at: tuple[float, float] | None = None
    turn: float = 0.0

    @property
    def carrying_matrix(self) -> tuple[float, float, float, float, float, float]:
        """What carries the glyph's own plane there."""
        cos, sin = math.cos(self.turn), math.sin(self.turn)
        return cos, sin, -sin, cos, *(self.at or (self.glyph.x, self.glyph.y))


@dataclass(frozen=True)
class _Laid:
    glyphs: tuple[_Held, ...]
    lines: tuple[str, ...]
    overset: bool
    missing: frozenset[str]
    borrowed: frozenset[str]


@dataclass(frozen=True)
class _Line:
    paragraph: int
    start: int
    end: int
    last: bool  # of its paragraph


def clean(words: str) -> str:
    """Words as they are set: line ends made one, controls left out; as many letters as before where there are none."""
    return CONTROLS.sub("", words.replace("\r\n", "\n").replace("\r", "\n"))


def set_words(
    words: str, font: str, size_pt: float, leading: float, align: str, stand: str, width: float, height: float
) -> Setting:
    """Plain words in one look, in black: a note, a number."""
    look = Look(font, None, False, size_pt, 0.0, "typed", "#000000")
    return set_in_box(words, (0,) * len(words), (look,), Box(width, height, leading, align, stand), ())


@remember
def set_in_box(words: str, whose: tuple[int, ...], looks: tuple[Look, ...], box: Box, brought: Brought) -> Setting:
    """Words set into a box. ``whose``: which of ``looks`` each letter has; the first is the box's own."""
    words = re.sub("\r(?!\n)", "\n", words)
    letters_kept = [(letter, look) for letter, look in zip(words, whose, strict=True) if not CONTROLS.match(letter)]
    words, whose = "".join(letter for letter, _ in letters_kept), tuple(look for _, look in letters_kept)
    size_pt, (least, most) = looks[0].size_pt, box.fit_pt
    if not most or not words.strip():
        return _draw_glyphs(_lay_glyphs(words, whose, looks, box, brought, 1.0), size_pt)
    # The largest of the steps that fits; where none does the least, which then outgrows its box.
    low, high = 0, max(0, math.floor((most - least) / STEP_PT + 1e-9))
    best = _lay_glyphs(words, whose, looks, box, brought, least / size_pt)
    while low < high and not best.overset:
        middle = (low + high + 1) // 2
        tried = _lay_glyphs(words, whose, looks, box, brought, (least + middle * STEP_PT) / size_pt)
        if tried.overset:
            high = middle - 1
        else:
            low, best = middle, tried
    return _draw_glyphs(best, least + low * STEP_PT)


def _draw_glyphs(laid: "_Laid", size_pt: float) -> Setting:
    missing, borrowed = ("".join(sorted(letters)) for letters in (laid.missing, laid.borrowed - laid.missing))
    return Setting(_pieces(laid.glyphs), laid.lines, laid.overset, missing, size_pt, borrowed, _words(laid.glyphs))


def _words(glyphs: Iterable[_Held]) -> tuple[Word, ...]:
    words = []
    for (colour, _, _), held in groupby(glyphs, lambda h: (h.glyph.colour, h.glyph.line, h.glyph.space)):
        row = tuple(held)
        letters = "".join(h.glyph.letters for h in sorted(row, key=lambda h: h.glyph.index))
        words.append(Word(colour, letters, tuple(map(_letter, row))))
    return tuple(words)


def _letter(held: _Held) -> Letter:
    glyph, size = held.glyph, held.glyph.size_mm
    onto = Transform(*held.carrying_matrix).transform((size, 0, glyph.of.lean * size, -size, 0, 0))
    return Letter(glyph.of, glyph.number, (onto.xx, onto.xy, onto.yx, onto.yy, onto.dx, onto.dy), glyph.letters)


def _lay_glyphs(
    words: str, whose: tuple[int, ...], looks: tuple[Look, ...], box: Box, brought: Brought, factor: float
) -> "_Laid":  # fmt: skip
    """Where each glyph comes to stand; ``factor``: how much larger all sizes are than they say."""
    if factor != 1.0:
        looks = tuple(replace(look, size_pt=look.size_pt * factor) for look in looks)
    track = outlines.line_along(box.along) if box.along else None
    inset = 0.0 if box.along else box.inset_mm
    width = float(np.hypot(*np.diff(track, axis=0).T).sum()) if track is not None else box.width_mm - 2 * inset
    paragraphs = _paragraphs(words, whose, looks, brought) if words.strip() else []
    lines = _broken(paragraphs, width if track is None else math.inf)  # along a path a line is one line
    glyphs, top, bottom, widest, missing = _place_lines(paragraphs, lines, box, brought, width)
    height = box.height_mm - 2 * inset
    block = bottom - top
    shift = {"top": -height / 2, "middle": -block / 2, "bottom": height / 2 - block}[box.stand] - top
    if track is not None:
        held = [_place_on_path(glyph, track, width) for glyph in glyphs]
    else:
        standing = [replace(glyph, y=glyph.y + shift) for glyph in glyphs]
        held = [_bend_glyph(g, box.width_mm, box.bend_deg) if box.bend_deg else _Held(g) for g in standing]
    tall = track is None and not box.bend_deg and block > height + _ROUNDING_MM
    overset = bool(lines) and (tall or widest > width + _ROUNDING_MM)
    texts = tuple(paragraphs[line.paragraph].words[line.start : line.end].rstrip() for line in lines)
    borrowed = {
        paragraph.words[index]
        for paragraph in paragraphs
        for part in paragraph.parts
        if part.script == "Latn"
        and part.face.name != face(part.look.font, part.look.weight, part.look.slant, brought).name
        for index in range(part.start, part.end)
        if paragraph.words[index].isalnum()
    }
    return _Laid(tuple(held), texts, overset, frozenset(missing), frozenset(borrowed))


def _paragraphs(words: str, whose: tuple[int, ...], looks: tuple[Look, ...], brought: Brought) -> list[_Paragraph]:
    paragraphs, position = [], 0
    for raw in words.split("\n"):
        looks_here = list(whose[position : position + len(raw)])
        # A paragraph without a letter is as high as the break at its end would be.
        look = looks[looks_here[0] if looks_here else whose[position] if position < len(whose) else 0]
        position += len(raw) + 1
        text, looks_here, share = apply_capitals(raw, looks_here, looks)
        base = base_level(text)
        level_of = levels(text, base)
        parts = stretches(text, looks_here, share, looks, level_of, brought)
        units, start = [], 0
        for end in _breaks(text):
            bare = start + len(text[start:end].rstrip())
            units.append(
                (start, end, _measure_width(text, parts, start, end), _measure_width(text, parts, start, bare))
            )
            start = end
        paragraphs.append(_Paragraph(text, base, tuple(level_of), tuple(parts), tuple(units), look))
    return paragraphs


@remember
def _breaks(words: str) -> tuple[int, ...]:
    """Where a paragraph may be broken (before which letters), and its end."""
    return tuple(accumulate(map(len, LineBreaker(words, "en")))) if words else ()


def _measure_width(words: str, parts: list[Stretch], start: int, end: int) -> float:
    """How wide letters are, each stretch by itself."""
    wide = 0.0
    for part in parts:
        first, last = max(start, part.start), min(end, part.end)
        if first < last:
            wide += glyphs_of(words, part, first, last)[1]
    return wide


def _broken(paragraphs: list[_Paragraph], width: float) -> list[_Line]:
    """Paragraphs broken into lines no wider than the box where a break allows."""
    lines: list[_Line] = []
    for n, paragraph in enumerate(paragraphs):
        start, end, held = 0, 0, 0.0
        for first, last, wide, bare in paragraph.units:
            if end > start and held + bare > width + _ROUNDING_MM:
                lines.append(_Line(n, start, end, False))
                start, held = first, 0.0
            held, end = held + wide, last
        lines.append(_Line(n, start, end, True))
    return lines


def _place_lines(
    paragraphs: list[_Paragraph], lines: list[_Line], box: Box, brought: Brought, width: float
) -> tuple[list[Glyph], float, float, float, set[str]]:
    """Glyphs of all lines, x from the middle, the first baseline at 0; the block's top and bottom, its widest line."""
    glyphs: list[Glyph] = []
    missing: set[str] = set()
    baseline, top, bottom, widest = 0.0, 0.0, 0.0, 0.0
    for number, line in enumerate(lines):
        paragraph = paragraphs[line.paragraph]
        text = paragraph.words[line.start : line.end]
        end = line.start + len(text.rstrip())
        row, wide, spaces, lost = _row(paragraph, line.start, end)
        missing |= lost
        above, below, pitch = _heights(paragraph, line, box, brought)
        if number:
            baseline += pitch
            if line.start == 0:
                baseline += mm_from_points(box.paragraph_pt)
        else:
            top = -above
        bottom = baseline + below
        widest = max(widest, wide)
        gap = 0.0
        if box.align == "justified" and not line.last and spaces and wide < width:
            gap, wide = (width - wide) / spaces, width
        starts_right = paragraph.base == 1
        side = box.align if box.align != "justified" else "right" if starts_right else "left"
        x = {"left": -width / 2, "centre": -wide / 2, "right": width / 2 - wide}[side]
        for glyph in row:
            glyphs.append(replace(glyph, x=glyph.x + x, y=glyph.y + baseline, line=number))
            if gap and glyph.space:
                x += gap
    return glyphs, top, bottom, widest, missing


def _row(paragraph: _Paragraph, start: int, end: int) -> tuple[list[Glyph], float, int, set[str]]:
    """A line's glyphs from left to right from x = 0, its width, how many spaces it has, letters that are missing."""
    # Space at the end of a line takes the direction of its paragraph (rule L1); here it is left out.
    runs = visual_runs(list(paragraph.level_of[start:end]))
    row: list[Glyph] = []
    missing: set[str] = set()
    x, trailing = 0.0, 0.0
    for first, last, level in runs:
        held = [
            (max(part.start, start + first), min(part.end, start + last), part)
            for part in paragraph.parts
            if part.start < start + last and part.end > start + first
        ]
        for a, b, part in reversed(held) if level % 2 else held:
            glyphs, wide, lost = glyphs_of(paragraph.words, part, a, b)
            row += [replace(glyph, x=glyph.x + x) for glyph in glyphs]
            x, missing = x + wide, missing | lost
            trailing = wide - sum(glyph.advance for glyph in glyphs)
            trailing = trailing / max(1, b - a)
    # Letter spacing stands between letters, not after the last.
    return row, x - trailing, sum(glyph.space for glyph in row), missing


def _heights(paragraph: _Paragraph, line: _Line, box: Box, brought: Brought) -> tuple[float, float, float]:
    """How far a line reaches above and below its baseline, and from the baseline before, mm."""
    looks = {part.look: part for part in paragraph.parts if part.start < line.end and part.end > line.start}
    looks_here = list(looks) or [paragraph.look]
    above = below = pitch = 0.0
    for look in looks_here:
        first, size = face(look.font, look.weight, look.slant, brought), mm_from_points(look.size_pt)
        above, below = max(above, first.ascent * size), max(below, first.descent * size)
        pitch = max(pitch, size * box.leading)
    for part in paragraph.parts:
        if part.start < line.end and part.end > line.start:
            first = face(part.look.font, part.look.weight, part.look.slant, brought)
            if part.face.name != first.name:  # a fallback has its own height
                tall = (part.face.ascent + part.face.descent) * part.size_mm
                above, pitch = max(above, part.face.ascent * part.size_mm), max(pitch, tall)
                below = max(below, part.face.descent * part.size_mm)
    return above, below, pitch


def _bend_glyph(glyph: Glyph, width: float, bend_deg: float) -> _Held:
    """Carried onto the arc that the box's middle line is bent to: its ends down, or up below 0."""
    radius = width / math.radians(bend_deg)
    middle = glyph.x + glyph.advance / 2
    turn = middle / radius
    reach = radius - glyph.y
    place = reach * math.sin(turn), radius - reach * math.cos(turn)
    return _turn_glyph(glyph, place, turn)


def _place_on_path(glyph: Glyph, track: NDArray[np.float64], length: float) -> _Held:
    """Carried onto a path: x from its middle becomes a way along it, y a distance off it."""
    steps = np.hypot(*np.diff(track, axis=0).T)
    way = np.concatenate([[0.0], np.cumsum(steps)])
    s = float(np.clip(glyph.x + glyph.advance / 2 + length / 2, 0.0, length))
    n = int(np.clip(np.searchsorted(way, s, side="right") - 1, 0, len(steps) - 1))
    while steps[n] < 1e-9 and n + 1 < len(steps):
        n += 1
    (ax, ay), (bx, by) = track[n].tolist(), track[n + 1].tolist()
    turn = math.atan2(by - ay, bx - ax)
    share = (s - way[n]) / max(1e-9, float(steps[n]))
    x, y = ax + (bx - ax) * share, ay + (by - ay) * share
    return _turn_glyph(glyph, (x - glyph.y * math.sin(turn), y + glyph.y * math.cos(turn)), turn)


def _turn_glyph(glyph: Glyph, place: tuple[float, float], turn: float) -> _Held:
    """``at``: where the middle of its baseline comes to lie."""
    half = glyph.advance / 2
    return _Held(glyph, (place[0] - math.cos(turn) * half, place[1] - math.sin(turn) * half), turn)


def _pieces(glyphs: Iterable[_Held]) -> tuple[tuple[str, str], ...]:
    """Outlines by colour, in the order that colours appear."""
    pens: dict[str, SVGPathPen] = {}
    for held in glyphs:
        if not held.glyph.space:
            pen = pens.setdefault(held.glyph.colour, SVGPathPen(None, ntos=lambda v: f"{v:.4f}"))
            held.glyph.draw(pen, held.carrying_matrix)
    return tuple((colour, path) for colour, pen in pens.items() if (path := str(pen.getCommands())))
