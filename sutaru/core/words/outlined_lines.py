"""A line of words as outlines, straight or along a path: what marks and spines are drawn with."""

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from ..measure import mm_from_points
from .levels import base_level, levels
from .setting import _Held, _Paragraph, _pieces, _place_on_path, _row, clean
from .shaping import Glyph, Look, stretches


def outline_line(words: str, font: str, bold: bool, slant: bool, em: float) -> tuple[str, float]:
    """One line as path data with its baseline from the origin to the right, y down, and how far it advances; ``em`` in any
    unit."""
    row, wide = _line_of(words, font, bold, slant, em)
    return "".join(path for _, path in _pieces(map(_Held, row))), wide


def outline_line_along(
    words: str, font: str, bold: bool, slant: bool, em: float, track: NDArray[np.float64], begins: float, after: float = 0.0
) -> tuple[str, float]:  # fmt: skip
    """The same along a line of points (n, 2), from so far on along it; ``after``: what other words before take. Glyphs whose
    middle lies off its ends are not drawn (SVG 1.1, 10.13.3)."""
    row, wide = _line_of(words, font, bold, slant, em)
    length = float(np.hypot(*np.diff(track, axis=0).T).sum())
    moved = [replace(glyph, x=glyph.x + begins + after - length / 2) for glyph in row]
    held = [_place_on_path(g, track, length) for g in moved if 0.0 <= g.x + g.advance / 2 + length / 2 <= length]
    return "".join(path for _, path in _pieces(held)), wide


def _line_of(words: str, font: str, bold: bool, slant: bool, em: float) -> tuple[list[Glyph], float]:
    look = Look(font, 700 if bold else None, slant, em / mm_from_points(1.0), 0.0, "typed", "#000000")
    text = clean(words).replace("\n", " ")
    if not text:
        return [], 0.0
    level_of = levels(text, base_level(text))
    parts = stretches(text, [0] * len(text), [1.0] * len(text), (look,), level_of, ())
    paragraph = _Paragraph(text, 0, tuple(level_of), tuple(parts), (), look)
    row, wide, _, _ = _row(paragraph, 0, len(text))
    return row, wide
