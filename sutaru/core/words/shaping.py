"""Shaping: letters of one look, script and direction to glyphs (HarfBuzz). Lengths are mm, y down, the baseline at 0."""

import unicodedata
from contextlib import suppress
from dataclasses import dataclass, replace
from typing import Any

import uharfbuzz as hb
from fontTools import unicodedata as scripts
from fontTools.misc.transform import Transform
from fontTools.pens.transformPen import TransformPen

from ..measure import mm_from_points
from ..remembering import remember
from .faces import Brought, Face, face, face_for

SMALL = 0.8  # height of made small capitals to capitals: common practice, no source
# Scripts whose letters join: letter spacing would tear them apart.
_JOINED = frozenset(("Arab", "Syrc", "Mong", "Nkoo", "Phag", "Mand", "Rohg", "Adlm", "Deva", "Beng", "Guru"))


@dataclass(frozen=True)
class Look:
    """How a run of letters looks. ``tracking``: thousandths of the size. Colours are #rrggbb."""

    font: str
    weight: int | None
    slant: bool
    size_pt: float
    tracking: float
    caps: str
    colour: str


@dataclass(frozen=True)
class Stretch:
    """Letters of a paragraph that are shaped together: from, to, and what they share."""

    start: int
    end: int
    look: Look
    face: Face
    size_mm: float
    script: str
    level: int
    language: str


@dataclass(frozen=True)
class Glyph:
    """One glyph where it stands: its font and number there, size, place and advance, mm; its colour; whether it is a space;
    the letters that it shows, none where a glyph beside it shows them together with it; where they stand in their paragraph;
    and in which line."""

    of: Face
    number: int
    size_mm: float
    x: float
    y: float
    advance: float
    colour: str
    space: bool
    letters: str
    index: int
    line: int = 0

    def draw(self, pen: Any, by: tuple[float, float, float, float, float, float]) -> None:
        """Draws its outline with a fontTools pen, y down; ``by`` carries its own origin to where it stands."""
        unit = self.size_mm / self.of.upem
        local = Transform(*by).transform((unit, 0, self.of.lean * unit, -unit, 0, 0))
        self.of.font.draw_glyph_with_pen(self.number, TransformPen(pen, local))


@dataclass(frozen=True)
class _Shaped:
    """Glyph ids with offsets and advances, in em; and which letters are missing."""

    glyphs: tuple[tuple[int, int, float, float, float], ...]  # id, cluster, dx, dy, advance
    missing: tuple[int, ...]


def apply_capitals(words: str, whose: list[int], looks: tuple[Look, ...]) -> tuple[str, list[int], list[float]]:
    """Letters as they are set (capitals made), whose look each has, and its size as a share of the look's."""
    out, letters, share = [], [], []
    for letter, look_of in zip(words, whose, strict=True):
        look, shown_letter, small = looks[look_of], letter, 1.0
        if look.caps == "capitals":
            shown_letter = letter.upper()
        elif (
            look.caps == "small"
            and letter.upper() != letter
            and not face(look.font, look.weight, look.slant).has_small_caps
        ):
            shown_letter, small = letter.upper(), SMALL
        out.append(shown_letter)
        letters += [look_of] * len(shown_letter)
        share += [small] * len(shown_letter)
    return "".join(out), letters, share


def stretches(
    words: str, whose: list[int], share: list[float], looks: tuple[Look, ...], level_of: list[int], brought: Brought
) -> list[Stretch]:  # fmt: skip
    """A paragraph's letters parted by look, font, script and level, in the order they are read."""
    parts: list[Stretch] = []
    script, held = "Zyyy", None
    kinds = _scripts(words)
    language = _language(words, kinds)
    for index, letter in enumerate(words):
        look = looks[whose[index]]
        script = kinds[index]
        first = face(look.font, look.weight, look.slant, brought)
        if held and unicodedata.category(letter)[0] == "M" and ord(letter) in held.letters:
            chosen = held  # a mark stays with its letter
        elif letter.isspace() and held and parts and parts[-1].look is look:
            chosen = held if ord(letter) in held.letters else first
        else:
            chosen = face_for(letter, first, look.weight)
        held = chosen
        size = mm_from_points(look.size_pt) * share[index]
        last = parts[-1] if parts else None
        same = last and (last.look, last.face, last.size_mm, last.script, last.level) == (
            look, chosen, size, script, level_of[index],
        )  # fmt: skip
        if same and last:
            parts[-1] = replace(last, end=index + 1)
        else:
            parts.append(Stretch(index, index + 1, look, chosen, size, script, level_of[index], language))
    return parts


def _scripts(words: str) -> list[str]:
    """The script of each letter, common ones as those before them, leading ones as those after (UAX 24, 5.1)."""
    scripts_of = [scripts.script(letter) for letter in words]
    before = next((s for s in scripts_of if s not in ("Zyyy", "Zinh")), "Latn")
    for index, script in enumerate(scripts_of):
        if script in ("Zyyy", "Zinh"):
            scripts_of[index] = before
        before = scripts_of[index]
    return scripts_of


def _language(words: str, kinds: list[str]) -> str:
    """Whose forms a paragraph's Chinese characters take (a BCP 47 tag), by what stands beside them or by the national sets that
    have them all; "" where there are none, or all of them are Japanese as well."""
    if "Hani" not in kinds:
        return ""
    if "Hira" in kinds or "Kana" in kinds:
        return "ja"
    if "Hang" in kinds:
        return "ko"
    characters = "".join(letter for letter, kind in zip(words, kinds, strict=True) if kind == "Hani")
    for language, encoding in (("ja", "euc_jp"), ("zh-Hans", "gb2312"), ("zh-Hant", "big5")):
        with suppress(UnicodeEncodeError):
            characters.encode(encoding)
            return language
    return ""


@remember
def _shape(
    words: str, start: int, end: int, of: Face, script: str, language: str, level: int, plain: bool, small: bool
) -> _Shaped:  # fmt: skip
    """``words[start:end]`` shaped in their context."""
    buffer = hb.Buffer()
    buffer.add_codepoints([ord(letter) for letter in words], start, end - start)
    buffer.direction = "rtl" if level % 2 else "ltr"
    buffer.script = script
    if language:
        buffer.language = language
    buffer.guess_segment_properties()
    features: dict[str, bool | int] = {"liga": False, "clig": False, "calt": False} if plain else {}
    if small:
        features["smcp"] = True
    hb.shape(of.font, buffer, features)
    glyphs, missing = [], []
    for info, place in zip(buffer.glyph_infos or (), buffer.glyph_positions or (), strict=True):
        if info.codepoint == 0:
            missing.append(info.cluster)
        glyphs.append(
            (info.codepoint, info.cluster, place.x_offset / of.upem, place.y_offset / of.upem, place.x_advance / of.upem)
        )  # fmt: skip
    return _Shaped(tuple(glyphs), tuple(missing))


def glyphs_of(words: str, part: Stretch, start: int, end: int) -> tuple[list[Glyph], float, set[str]]:
    """The glyphs of a stretch's letters from ``start`` to ``end``, from left to right from x = 0; how far they advance, and
    letters that are missing."""
    track = part.look.tracking / 1000 * part.size_mm if part.script not in _JOINED else 0.0
    small = part.look.caps == "small" and part.face.has_small_caps
    # Only the words nearby can matter: what is remembered serves wherever they stand.
    near, far = max(0, start - 3), min(len(words), end + 3)
    shaped = _shape(
        words[near:far], start - near, end - near, part.face, part.script, part.language, part.level, track != 0, small
    )  # fmt: skip
    glyphs, x = [], 0.0
    last = len(shaped.glyphs) - 1
    clusters = sorted({cluster for _, cluster, *_ in shaped.glyphs})
    ends_at = dict(zip(clusters, [*clusters[1:], end - near], strict=True))
    for n, (glyph, cluster, dx, dy, advance) in enumerate(shaped.glyphs):
        wide = advance * part.size_mm
        begins = n == 0 or shaped.glyphs[n - 1][1] != cluster
        ends = n == last or shaped.glyphs[n + 1][1] != cluster
        glyphs.append(
            Glyph(
                part.face, glyph, part.size_mm, x + dx * part.size_mm, -dy * part.size_mm, wide, part.look.colour,
                words[near + cluster] in " \u00a0\u3000", words[near + cluster : near + ends_at[cluster]] if begins else "",
                near + cluster,
            )
        )  # fmt: skip
        x += wide + (track if ends else 0.0)
    return glyphs, x, {words[near + index] for index in shaped.missing}
