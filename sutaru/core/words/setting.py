"""Setting words: text in a box to outlines (SVG path data, mm, in the box's own plane with its origin at the centre).

Shaping by HarfBuzz, line breaks by Unicode Standard Annex 14 (uniseg). The same path feeds mask, picture and PDF.
"""

import re
from dataclasses import dataclass
from functools import lru_cache
from importlib.resources import files
from typing import Any

import uharfbuzz as hb
from fontTools.pens.svgPathPen import SVGPathPen
from fontTools.pens.transformPen import TransformPen
from fontTools.svgLib.path import parse_path
from uniseg.linebreak import line_break_units

from ..measure import mm_from_points
from ..remembering import remembered

FONT_FILES = {
    "EB Garamond": "EBGaramond12-Regular.otf",
    "EB Garamond Italic": "EBGaramond12-Italic.otf",
    "Vollkorn": "Vollkorn-Regular.ttf",
    "Lato": "Lato-Regular.ttf",
    "Lato Bold": "Lato-Bold.ttf",
    "Manrope": "Manrope-SemiBold.ttf",
    "Bebas Neue": "BebasNeue-Bold.otf",
    "Kaushan Script": "KaushanScript-Regular.otf",
}
# Controls that steer reading direction are not words (Unicode Standard Annex 9, 2.1 to 2.5), nor are other controls.
_CONTROLS = re.compile("[\u0000-\u0009\u000b-\u001f\u007f-\u009f\u200e\u200f\u202a-\u202e\u2066-\u2069]")


@dataclass(frozen=True)
class Setting:
    """Words set in a box: their outlines, the lines they fell into, whether they outgrow the box, letters not in the font."""

    path: str
    lines: tuple[str, ...]
    overset: bool
    missing: str


@dataclass(frozen=True)
class _Run:
    path: str
    advance: float  # font units
    missing: tuple[int, ...]


@lru_cache(maxsize=16)
def _font(name: str) -> tuple[Any, float, float, float]:
    """HarfBuzz font, units per em, ascender and descender (positive, downwards) in em."""
    face = hb.Face(hb.Blob((files(__package__) / "fonts" / FONT_FILES[name]).read_bytes()))
    font = hb.Font(face)
    reach = font.get_font_extents("ltr")
    return font, face.upem, reach.ascender / face.upem, -reach.descender / face.upem


@remembered(16 << 20)
def _shape(name: str, words: str) -> _Run:
    """One line shaped: path data in font units, y up, pen starting at 0."""
    font, _, _, _ = _font(name)
    buffer = hb.Buffer()
    buffer.add_str(words)
    buffer.guess_segment_properties()
    hb.shape(font, buffer)
    pen, x, missing = SVGPathPen(None, ntos=lambda v: f"{v:.2f}"), 0, []
    # A line without a letter has no places at all.
    for info, position in zip(buffer.glyph_infos or (), buffer.glyph_positions or (), strict=True):
        if info.codepoint == 0:
            missing.append(info.cluster)
        shift = (1, 0, 0, 1, x + position.x_offset, position.y_offset)
        font.draw_glyph_with_pen(info.codepoint, TransformPen(pen, shift))
        x += position.x_advance
    return _Run(pen.getCommands(), x, tuple(missing))


def _broken(name: str, words: str, width_units: float) -> list[str]:
    """Words broken into lines no wider than the box where a break allows."""
    lines: list[str] = []
    for paragraph in words.split("\n"):
        line = ""
        for unit in line_break_units(paragraph):
            if line and _shape(name, (line + unit).rstrip()).advance > width_units:
                lines.append(line.rstrip())
                line = unit
            else:
                line += unit
        lines.append(line.rstrip())
    return lines


@remembered(16 << 20)
def set_words(
    words: str, font: str, size_pt: float, leading: float, align: str, stand: str, width_mm: float, height_mm: float
) -> Setting:
    """Words set into a box of ``width_mm`` x ``height_mm`` (see the Text layer for the other parameters)."""
    words = _CONTROLS.sub("", words.replace("\r\n", "\n").replace("\r", "\n"))
    _, upem, ascent, descent = _font(font)
    em = mm_from_points(size_pt)
    unit = em / upem
    lines = _broken(font, words, width_mm / unit) if words.strip() else []
    pitch = em * leading
    block = em * (ascent + descent) + pitch * (len(lines) - 1) if lines else 0.0
    top = {"top": -height_mm / 2, "middle": -block / 2, "bottom": height_mm / 2 - block}[stand]
    pen, widest, missing = SVGPathPen(None, ntos=lambda v: f"{v:.4f}"), 0.0, set()
    for number, line in enumerate(lines):
        run = _shape(font, line)
        wide = run.advance * unit
        widest = max(widest, wide)
        missing |= {line[i] for i in run.missing}
        x = {"left": -width_mm / 2, "centre": -wide / 2, "right": width_mm / 2 - wide}[align]
        y = top + em * ascent + number * pitch
        if run.path:
            parse_path(run.path, TransformPen(pen, (unit, 0, 0, -unit, x, y)))
    # A hundredth of a millimetre is below what a box's measure can mean.
    overset = block > height_mm + 0.01 or widest > width_mm + 0.01
    return Setting(pen.getCommands(), tuple(lines), overset, "".join(sorted(missing)))


def set_line(words: str, font: str, em: float) -> tuple[str, float]:
    """One line as path data with its baseline from the origin to the right, y down, and how far it advances; ``em`` in any
    unit."""
    _, upem, _, _ = _font(font)
    run, unit = _shape(font, _CONTROLS.sub("", words)), em / upem
    pen = SVGPathPen(None, ntos=lambda v: f"{v:.4f}")
    if run.path:
        parse_path(run.path, TransformPen(pen, (unit, 0, 0, -unit, 0, 0)))
    return str(pen.getCommands()), run.advance * unit
