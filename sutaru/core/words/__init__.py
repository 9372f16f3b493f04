"""Words on the page: fonts that ship with the application, line breaking, shaping, outlines."""

from ..document import GuideNote, Text
from .setting import FONT_FILES, Setting, set_words

__all__ = ["FONT_FILES", "Setting", "set_note", "set_text", "set_words"]


def set_text(layer: Text, words: str) -> Setting:
    """The words of a text layer, set."""
    return set_words(
        words, layer.font, layer.size_pt, layer.leading, layer.align, layer.stand, layer.width_mm, layer.height_mm
    )


def set_note(layer: GuideNote) -> Setting:
    """A guide note, set."""
    return set_words(layer.text, "Manrope", layer.size_pt, 1.3, "centre", "middle", layer.width_mm, layer.height_mm)
