"""Words on the page: the fonts there are, fields put in, line breaking, directions, shaping, outlines."""

from typing import Any

from ..document import GuideNote, Text
from ..document.lettering import RUN_FIELDS, STYLED, Run, TextStyle
from .faces import FOLDER, Brought, Face, Family, FontFile, face, families, is_known
from .outlined_lines import outline_line, outline_line_along
from .setting import Box, Letter, Setting, Word, set_in_box, set_words
from .shaping import Look

__all__ = [
    "FOLDER",
    "Brought",
    "Face",
    "Family",
    "FontFile",
    "Letter",
    "Setting",
    "Word",
    "apply_styles",
    "face",
    "families",
    "is_known",
    "outline_line",
    "outline_line_along",
    "set_note",
    "set_text",
    "set_words",
]  # fmt: skip


def apply_styles(layer: Text, styles: dict[str, TextStyle]) -> Text:
    """A text layer as its named style says, and its runs as theirs do."""
    fields: dict[str, Any] = {}
    if style := styles.get(layer.style):
        fields |= {name: getattr(style, name) for name in STYLED if name not in layer.own}
    if any(run.style for run in layer.runs):
        fields["runs"] = tuple(_run(run, styles) for run in layer.runs)
    return layer.copy_with(**fields) if fields else layer


def _run(run: Run, styles: dict[str, TextStyle]) -> Run:
    style = styles.get(run.style)
    if style is None:
        return run
    return run.copy_with(**{name: getattr(style, name) for name in RUN_FIELDS} | run.look_fields)


def set_text(layer: Text, words: str, runs: tuple[Run, ...] | None = None, brought: Brought = ()) -> Setting:
    """The words of a text layer, set; ``runs`` as they lie in these words, the layer's own unless given."""
    base = Look(layer.font, layer.weight, layer.slant, layer.size_pt, layer.tracking, layer.caps, layer.colour)
    looks, whose = [base], [0] * len(words)
    for run in layer.runs if runs is None else runs:
        fields = run.look_fields
        look = Look(
            fields.get("font", base.font), fields.get("weight", base.weight), fields.get("slant", base.slant),
            fields.get("size_pt", base.size_pt), fields.get("tracking", base.tracking), fields.get("caps", base.caps),
            fields.get("colour", base.colour),
        )  # fmt: skip
        looks.append(look)
        for index in range(run.start, min(run.end, len(words))):
            whose[index] = len(looks) - 1
    box = Box(
        layer.width_mm, layer.height_mm, layer.leading, layer.align, layer.stand, layer.paragraph_pt, layer.inset_mm,
        layer.fit_pt or (0.0, 0.0), layer.bend_deg, layer.along,
    )  # fmt: skip
    return set_in_box(words, tuple(whose), tuple(looks), box, brought)


def set_note(layer: GuideNote) -> Setting:
    """A guide note, set."""
    return set_words(layer.text, "Manrope", layer.size_pt, 1.3, "centre", "middle", layer.width_mm, layer.height_mm)
