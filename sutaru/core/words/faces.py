"""Families of fonts and their faces: those that ship (families.json), and those that a document brings along.

A face is chosen by family, weight and slant; where a family has no slanted face an upright one leans, where it lacks a
weight the nearest stands in. Letters a face does not have are taken from the fallback families, in their order.
"""

import io
import json
import math
from dataclasses import dataclass, field
from functools import cache, lru_cache
from importlib.resources import files
from pathlib import Path
from typing import Any, Literal

import uharfbuzz as hb
from fontTools.pens.basePen import NullPen
from fontTools.ttLib import TTFont

from .. import limits
from ..errors import FileRefused

FOLDER = Path(str(files(__package__) / "fonts"))
LEAN = math.tan(math.radians(12))  # of letters that lean for want of a slanted face: common practice, no source
Kind = Literal["serif", "sans", "script", "hand", "display", "fallback"]


@dataclass(frozen=True)
class FontFile:
    """A font that a document brings along: the family's name there, the sha256 of its file, and the file."""

    name: str
    digest: str
    data: bytes = field(compare=False, repr=False)


Brought = tuple[FontFile, ...]
# Names under which documents of earlier versions know a face.
_ONCE = {"EB Garamond Italic": ("EB Garamond", None, True), "Lato Bold": ("Lato", 700, False)}


@dataclass(frozen=True)
class FaceFile:
    """A font file of a family."""

    file: str
    weight: int
    slant: bool


@dataclass(frozen=True)
class Family:
    """A family that ships. Its first face is its own: what it looks like when no weight is said."""

    name: str
    kind: Kind
    licence: str
    faces: tuple[FaceFile, ...]


@dataclass(frozen=True)
class Face:
    """A font with what shaping needs of it: lengths in em, descent downwards. ``lean``: how far letters lean, as a tangent."""

    name: str
    font: Any
    upem: int
    ascent: float
    descent: float
    letters: frozenset[int]
    has_small_caps: bool
    lean: float = 0.0

    def __hash__(self) -> int:
        return hash((self.name, self.lean))


@cache
def families() -> dict[str, Family]:
    """All families that ship, by name."""
    families_here = {}
    for row in json.loads((FOLDER / "families.json").read_text("utf-8")):
        faces = tuple(FaceFile(**face) for face in row["faces"])
        families_here[row["name"]] = Family(row["name"], row["kind"], row["licence"], faces)
    return families_here


def is_known(font: str) -> bool:
    """Whether a family of that name ships."""
    return font in families() or font in _ONCE


@lru_cache(maxsize=64)
def face(font: str, weight: int | None, slant: bool, brought: Brought = ()) -> Face:
    """The face for a family's name, weight and slant; Lato's where there is no such family."""
    for brought_font in brought:
        if brought_font.name == font:
            opened = _open_font(f"{brought_font.name} {brought_font.digest[:16]}", brought_font.data)
            return _slant_face(opened) if slant else opened
    if font in _ONCE:
        font, heavy, leans = _ONCE[font]
        weight, slant = weight or heavy, slant or leans
    held = nearest(font, weight, slant)
    face = _open_shipped(held.file)
    return _slant_face(face) if slant and not held.slant else face


def nearest(font: str, weight: int | None, slant: bool) -> FaceFile:
    """The file that comes nearest to a weight and slant in a family that ships, or in Lato."""
    family = families().get(font) or families()["Lato"]
    wanted = weight or family.faces[0].weight
    return min(family.faces, key=lambda f: (f.slant != slant, abs(f.weight - wanted), -f.weight))


def face_for(letter: str, first: Face, weight: int | None) -> Face:
    """The face that has a letter: the first if it does, or else a fallback; the first again where none does."""
    code = ord(letter)
    if code in first.letters:
        return first
    for family in families().values():
        if family.kind == "fallback":
            other = face(family.name, weight, False)
            if code in other.letters:
                return other
    return first


@lru_cache(maxsize=64)
def _open_shipped(file: str) -> Face:
    return _open_font(file, (FOLDER / file).read_bytes())


def _open_font(name: str, data: bytes) -> Face:
    source = hb.Face(hb.Blob(data))
    font = hb.Font(source)
    reach = font.get_font_extents("ltr")
    substitutes = source.get_table_script_tags("GSUB") if source.has_layout_substitution else []
    small = any("smcp" in source.get_language_feature_tags("GSUB", n) for n in range(len(substitutes)))
    em = source.upem
    return Face(name, font, em, reach.ascender / em, -reach.descender / em, frozenset(source.unicodes), small)


def font_family(data: bytes) -> str:
    """The family of a font file brought in: its name and, where it is not regular, its style. Raises FileRefused."""
    if len(data) > limits.FONT_BYTES:
        raise FileRefused(f"This font is larger than {limits.FONT_BYTES // limits.MB} MB.", "Bring in a smaller one.")
    try:
        with TTFont(io.BytesIO(data), lazy=True) as table:
            names = table["name"]
            family = names.getDebugName(16) or names.getDebugName(1) or ""
            style = names.getDebugName(17) or names.getDebugName(2) or ""
            restricted = bool(table["OS/2"].fsType & 0x2) if "OS/2" in table else False
            outlines = "glyf" in table or "CFF " in table or "CFF2" in table
            table.getBestCmap()
        opened = _open_font("", data)
        opened.font.draw_glyph_with_pen(opened.font.get_nominal_glyph(min(opened.letters)) or 0, NullPen())
    except FileRefused:
        raise
    except Exception as error:
        raise FileRefused("This font cannot be read.", "Bring in another file of it.") from error
    if restricted:  # OpenType, OS/2: fsType bit 1, "restricted licence embedding"
        raise FileRefused("This font's licence does not allow it to be embedded.", "Choose another font.")
    if not outlines or not opened.letters:
        raise FileRefused("This font has no outlines.", "Bring in a TTF or OTF with outlines.")
    name = "".join(
        letter for letter in f"{family} {style if style.lower() != 'regular' else ''}" if letter.isprintable()
    )
    return " ".join(name.split())[:80] or "A font"


def _slant_face(upright: Face) -> Face:
    fields = {name: getattr(upright, name) for name in upright.__dataclass_fields__}
    return Face(**{**fields, "lean": LEAN})
