"""Fonts embedded in a PDF: each face once, with the glyphs that are used; words stay words, each glyph where it was set.

Composite fonts whose character codes are the glyphs' own numbers (ISO 32000-1, 9.7: CIDFontType2 with TrueType outlines,
CIDFontType0 with CFF), subset by fontTools. What has neither kind of outlines is drawn as outlines.
"""

import hashlib
import io
from collections.abc import Callable, Iterable, Sequence
from itertools import chain, groupby
from typing import Any
from unicodedata import bidirectional, normalize

import numpy as np
import pikepdf
from fontTools import subset
from fontTools.ttLib import TTFont
from fontTools.varLib import instancer
from pikepdf import Array, Dictionary, Name, Stream, String

from ..geometry.matrices import Matrix
from ..words import Face, Letter, Word

BOM = "\ufeff"  # begins text in UTF-16 (ISO 32000-1, 7.9.2.2)


class Fonts:
    """The fonts of a document that is being made."""

    def __init__(self, pdf: pikepdf.Pdf) -> None:
        self._pdf = pdf
        self._used: dict[str, tuple[Any, Face, set[int]]] = {}
        self._said: dict[str, dict[int, str]] = {}  # what each glyph shows where it stands alone, by face

    def has(self, words: Sequence[Word]) -> bool:
        """Whether all of these can be embedded."""
        return all(_outlines(letter.of) for word in words for letter in word.glyphs)

    def operators(
        self, words: Sequence[Word], points_from_box: Matrix, resources: Any, colour: Callable[[str], list[str]],
        after: Callable[[str], list[str]],
    ) -> list[str]:  # fmt: skip
        """What shows words, one run of a colour after another. ``colour`` gives what chooses a colour, ``after`` what ends it."""
        content: list[str] = []
        for colour_here, run in groupby(words, lambda word: word.colour):
            content += [*colour(colour_here), "BT"]
            held = ""
            for glyphs, text in chain.from_iterable(map(self._spans, run)):
                if text is not None:
                    content.append(f"/Span <</ActualText <{(BOM + text).encode('utf-16-be').hex()}>>> BDC")
                for glyph in glyphs:
                    name = self._name(glyph, resources)
                    if name != held:
                        content.append(f"{name} 1 Tf")
                        held = name
                    a, b, c, d, e, f = glyph.box_from_em
                    onto = points_from_box @ np.array([[a, c, e], [b, d, f], [0.0, 0.0, 1.0]])
                    place = " ".join(f"{v:.5f}" for v in (*onto[:2, 0], *onto[:2, 1], *onto[:2, 2]))
                    content.append(f"{place} Tm <{glyph.number:04x}> Tj")
                if text is not None:
                    content.append("EMC")
            content += ["ET", *after(colour_here)]
        return content

    def _spans(self, word: Word) -> Iterable[tuple[Sequence[Letter], str | None]]:
        """A word's glyphs, parted by what must be said beside them (ISO 32000-1, 14.9.4): nothing where each glyph shows letters
        of its own, the same ones everywhere. Words from right to left are said letter by letter: readers turn them themselves."""
        clusters = _clusters(word)
        plain = [len(cluster) == 1 and self._shows(cluster[0]) for cluster in clusters]
        if all(plain):
            yield word.glyphs, None
        elif not any(bidirectional(letter) in ("R", "AL") for letter in word.letters):
            yield word.glyphs, word.letters
        else:
            for cluster, alone in zip(clusters, plain, strict=True):
                *marks, base = cluster
                yield [base], None if alone else cluster[0].letters
                for mark in marks:
                    yield [mark], ""

    def _shows(self, glyph: Letter) -> bool:
        """Whether a glyph that stands alone shows what it shows elsewhere; where it is the first time, it does from now on."""
        text_of_glyph = self._said.setdefault(glyph.of.name, {})
        return text_of_glyph.setdefault(glyph.number, glyph.letters) == glyph.letters

    def _name(self, letter: Letter, resources: Any) -> str:
        key = letter.of.name
        if key not in self._used:
            self._used[key] = self._pdf.make_indirect(Dictionary(Type=Name.Font)), letter.of, set()
        font, _, glyphs = self._used[key]
        glyphs.add(letter.number)
        name = f"/F{list(self._used).index(key)}"
        if "/Font" not in resources:
            resources.Font = Dictionary()
        resources.Font[name] = font
        return name

    def finish(self) -> None:
        """Puts the fonts in, now that it is known which of their glyphs are used."""
        for font, face, glyphs in self._used.values():
            self._fill(font, face, sorted(glyphs))

    def _fill(self, font: Any, face: Face, glyphs: list[int]) -> None:
        with _open_face(face) as whole:
            order, cmap = whole.getGlyphOrder(), whole.getBestCmap()
            widths = {n: whole["hmtx"][order[n]][0] * 1000 / face.upem for n in glyphs}
            head, name = whole["head"], whole["name"].getDebugName(6) or "Font"
            box = [round(v * 1000 / face.upem) for v in (head.xMin, head.yMin, head.xMax, head.yMax)]
            data, kind = _subset(whole, glyphs)
        tag = hashlib.sha256(f"{face.name} {glyphs}".encode()).hexdigest()
        called = "".join(chr(ord("A") + int(digit, 16)) for digit in tag[:6]) + "+" + name.replace(" ", "")
        stream = Stream(self._pdf, data)
        descriptor = Dictionary(
            Type=Name.FontDescriptor, FontName=Name(f"/{called}"), Flags=4, FontBBox=box, ItalicAngle=0,
            Ascent=round(face.ascent * 1000), Descent=-round(face.descent * 1000), CapHeight=round(face.ascent * 700), StemV=80,
        )  # fmt: skip
        if kind == "glyf":
            stream.Length1 = len(data)
            descriptor.FontFile2 = stream
        else:
            stream.Subtype = Name.CIDFontType0C
            descriptor.FontFile3 = stream
        spaced = Array([part for n in glyphs for part in (n, Array([round(widths[n], 3)]))])
        held = Dictionary(
            Type=Name.Font, Subtype=Name.CIDFontType2 if kind == "glyf" else Name.CIDFontType0, BaseFont=Name(f"/{called}"),
            CIDSystemInfo=Dictionary(Registry=String("Adobe"), Ordering=String("Identity"), Supplement=0),
            FontDescriptor=self._pdf.make_indirect(descriptor), W=spaced, DW=1000,
        )  # fmt: skip
        if kind == "glyf":
            held.CIDToGIDMap = Name.Identity
        font.Subtype, font.BaseFont, font.Encoding = Name.Type0, Name(f"/{called}"), Name("/Identity-H")
        font.DescendantFonts = Array([self._pdf.make_indirect(held)])
        letters_of_glyph = {order.index(glyph): _letters(code) for code, glyph in sorted(cmap.items(), reverse=True)}
        text_of_glyph = self._said.get(face.name, {})
        font.ToUnicode = Stream(
            self._pdf,
            _write_to_unicode(
                {n: letters for n in glyphs if (letters := text_of_glyph.get(n) or letters_of_glyph.get(n))}
            ),
        )


def _clusters(word: Word) -> list[list[Letter]]:
    """Glyphs that show the same letters together."""
    clusters: list[list[Letter]] = []
    for glyph in word.glyphs:
        if glyph.letters or not clusters:
            clusters.append([glyph])
        else:
            clusters[-1].append(glyph)
    return clusters


def _data(face: Face) -> bytes:
    return bytes(face.font.face.blob.data)


def _open_face(face: Face) -> TTFont:
    return TTFont(io.BytesIO(_data(face)), lazy=True, recalcTimestamp=False)


def _outlines(face: Face) -> bool:
    tables = face.font.face.table_tags
    return "glyf" in tables or "CFF " in tables


def _subset(font: TTFont, glyphs: list[int]) -> tuple[bytes, str]:
    """A font program with these glyphs alone, under their own numbers, and what kind of outlines it has."""
    if "fvar" in font:
        font = instancer.instantiateVariableFont(font, {axis.axisTag: None for axis in font["fvar"].axes})
    options = subset.Options()
    options.retain_gids = options.notdef_outline = True
    options.hinting = options.glyph_names = False
    options.layout_features, options.name_IDs, options.recalc_timestamp = [], [], False
    options.drop_tables += ["GSUB", "GPOS", "GDEF", "OS/2", "DSIG", "post", "cmap", "name", "STAT", "gasp"]
    cutter = subset.Subsetter(options)
    cutter.populate(gids=[0, *glyphs])
    cutter.subset(font)
    if "glyf" in font:
        out = io.BytesIO()
        font.save(out, reorderTables=None)
        return out.getvalue(), "glyf"
    _number_by_place(font["CFF "].cff.topDictIndex[0])
    return font["CFF "].compile(font), "cff"


def _number_by_place(top: Any) -> None:
    """Numbers glyphs by their place, as they are asked for, where a font has numbers of its own for them (CID-keyed CFF)."""
    if not hasattr(top, "ROS"):
        return
    names = [".notdef", *(f"cid{n:05d}" for n in range(1, len(top.charset)))]
    held = top.CharStrings.charStrings
    top.CharStrings.charStrings = {new: held[old] for new, old in zip(names, top.charset, strict=True)}
    top.charset = names


def _write_to_unicode(text_of_glyph: dict[int, str]) -> bytes:
    """Which letters each glyph shows (ISO 32000-1, 9.10.3), so that words can be found and copied."""
    rows = [f"<{glyph:04x}> <{letters.encode('utf-16-be').hex()}>" for glyph, letters in sorted(text_of_glyph.items())]
    parts = [rows[start : start + 100] for start in range(0, len(rows), 100)]
    body = "\n".join(f"{len(part)} beginbfchar\n" + "\n".join(part) + "\nendbfchar" for part in parts)
    return (
        "/CIDInit /ProcSet findresource begin\n12 dict begin\nbegincmap\n/CIDSystemInfo <</Registry (Adobe) /Ordering (UCS) "
        "/Supplement 0>> def\n/CMapName /Adobe-Identity-UCS def\n/CMapType 2 def\n1 begincodespacerange\n<0000> <ffff>\n"
        f"endcodespacerange\n{body}\nendcmap\nCMapName currentdict /CMap defineresource pop\nend\nend"
    ).encode()


def _letters(code: int) -> str:
    """What a glyph's code stands for: a ligature for its letters (Unicode, Alphabetic Presentation Forms)."""
    return normalize("NFKC", chr(code)) if 0xFB00 <= code <= 0xFB4F else chr(code)
