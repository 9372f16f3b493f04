"""What can be wrong with words."""

import numpy as np
import shapely

from ..document import Background, Echo, Text
from ..fitting import Resolved
from ..geometry import outlines
from ..geometry.matrices import apply
from ..words import is_known, set_text
from .finding import Findings, finding_of, texts_of
from .frames import frame_of


def sample_words(sheet: Resolved) -> Findings:
    """No words that came with the template are left in."""
    for drawn, layer in texts_of(sheet):
        if layer.sample and not drawn.own_words and drawn.words:
            words = " ".join(layer.text.split())
            sentence = f"“{words[:40]}” is still the template's sample text."
            yield finding_of(sheet, "sample_words", "stop", layer.id, sentence)


_SAID_OF = {"mail": "mail address", "web": "web address"}


def empty_words(sheet: Resolved) -> Findings:
    """Where the template shows sample words something is written."""
    for drawn, layer in texts_of(sheet):
        if layer.sample and not drawn.own_words and not drawn.words and layer.text:
            yield finding_of(
                sheet, "empty_words", "look", layer.id, f"Nothing is written in {layer.name or 'a box of words'} yet."
            )


def fields_said(sheet: Resolved) -> Findings:
    """All that words name in braces is said: by the studio card, the job, the sheet or its photos."""
    for drawn, layer in texts_of(sheet):
        called = layer.name or "words here"
        card = [name[7:] for name in drawn.unsaid if name.startswith("studio.")]
        if card:
            what = " and ".join(_SAID_OF.get(name, name) for name in card)
            sentence = f"The studio card says no {what}, which {called} would show."
            yield finding_of(sheet, "studio_card", "look", layer.id, sentence)
        other = [f"{{{name}}}" for name in drawn.unsaid if not name.startswith("studio.")]
        if other:
            sentence = f"Nothing is said of {' and '.join(other)}, which {called} would show."
            yield finding_of(sheet, "field_unsaid", "look", layer.id, sentence)
        if drawn.unknown:
            named = " and ".join(f"{{{name}}}" for name in drawn.unknown)
            sentence = f"{called[0].upper()}{called[1:]} names {named}, which nobody knows: it prints as it stands."
            yield finding_of(sheet, "field_unknown", "look", layer.id, sentence)


def words_cut(sheet: Resolved) -> Findings:
    """All words lie within the trim, clear of it by the safe distance."""
    layout = sheet.layout
    for drawn, layer in texts_of(sheet):
        path = set_text(layer, drawn.words, drawn.runs, drawn.brought).path
        if not path:
            continue
        left, top, right, bottom = outlines.bounds(
            [apply(layer.page_from_box, p) for p in outlines.flatten(path, 0.05)]
        )
        inside = min(left, top, layout.width_mm - right, layout.height_mm - bottom)
        called = f"“{' '.join(drawn.words.split())[:30]}”"
        if inside < -0.01:
            sentence = f"{called} reaches {-inside:.1f} mm over the trim: it will be cut off."
            yield finding_of(sheet, "words_cut", "stop", layer.id, sentence, measured=round(inside, 3), limit=0.0)
        elif inside < layout.safe_mm - 0.01:
            sentence = f"{called} lies {inside:.1f} mm from the trim. Keep words {layout.safe_mm:g} mm inside."
            limit = layout.safe_mm
            yield finding_of(sheet, "words_cut", "look", layer.id, sentence, measured=round(inside, 3), limit=limit)


def words_overset(sheet: Resolved) -> Findings:
    """All words fit their boxes, in letters their fonts have."""
    for drawn, layer in texts_of(sheet):
        setting = set_text(layer, drawn.words, drawn.runs, drawn.brought)
        called = layer.name or layer.id
        if setting.overset:
            sentence = f"The words of {called} do not fit their box: shorten them."
            yield finding_of(sheet, "words_overset", "stop", layer.id, sentence)
        if setting.missing:
            sentence = f"No font here has a letter for {' '.join(setting.missing)} in {called}."
            yield finding_of(sheet, "words_overset", "stop", layer.id, sentence)
        if setting.borrowed:
            sentence = f"{layer.font} has no {' '.join(setting.borrowed)}: another font lends it in {called}."
            yield finding_of(sheet, "letters_lent", "look", layer.id, sentence)
        brought = {font.name for font in drawn.brought}
        for font in dict.fromkeys((layer.font, *(run.font for run in drawn.runs if run.font))):
            if not is_known(font) and font not in brought:
                sentence = f"The font {font} of {called} is not here: Lato stands in for it."
                yield finding_of(sheet, "font_missing", "stop", layer.id, sentence)


def words_in_picture(sheet: Resolved) -> Findings:
    """In a PDF words are words: none lies under a layer that blends with what is below it."""
    if sheet.lab.format != "pdf" or sheet.lab.has_live_layers:
        return
    below: list[tuple[str, shapely.Geometry]] = []
    for drawn in sheet.drawn:
        layer = drawn.layer
        if not layer.visible or isinstance(layer, Background | Echo):
            continue
        area = shapely.box(*outlines.bounds([np.array(frame_of(layer))]))
        if layer.blend != "normal":
            words = [word for word, box in below if box.intersects(area)]
            if words:
                more = f" and {len(words) - 1} more" if len(words) > 1 else ""
                sentence = (
                    f"In a PDF {words[0]}{more} is printed as pixels, since {layer.name or 'a layer'} blends over it. "
                    f"Move the text above it to keep it sharp."
                )
                yield finding_of(sheet, "words_in_picture", "look", layer.id, sentence)
        if isinstance(layer, Text) and drawn.words:
            below.append((f"“{' '.join(drawn.words.split())[:30]}”", area))
