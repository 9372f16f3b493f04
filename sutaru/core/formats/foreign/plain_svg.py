"""An SVG tree made plain: only what can be drawn, style sheets and styles as attributes, uses put in, words as outlines.

Nothing outside the file is ever looked up. What is dropped is said in ``notes``.
"""

import math
import re
import xml.etree.ElementTree as ET
from typing import Any

import cssselect2
import numpy as np
import tinycss2
from numpy.typing import NDArray

from ...errors import FileRefused, GeometryError
from ...geometry import outlines
from ...geometry.matrices import Matrix, scaling, translation
from ...geometry.svg_transforms import numbers
from ...paint.svg import MAX_DEPTH, MAX_ELEMENTS, SVG, XLINK
from ...words import families, outline_line, outline_line_along
from ..svg_file import affine
from .svg_values import _is_for_us, path_of, transform_of, units

MARKERS = ("marker-start", "marker-mid", "marker-end")
SHAPES = {SVG + name for name in ("path", "rect", "circle", "ellipse", "line", "polyline", "polygon")}
_GROUPS = {SVG + name for name in ("svg", "g", "a", "switch", "symbol")}
_KEPT = {SVG + name for name in (
    "defs", "linearGradient", "radialGradient", "stop", "clipPath", "mask", "pattern", "filter", "image", "marker",
)}  # fmt: skip
_DROPPED = {
    "script": "A script was left out.",
    "foreignObject": "What another language draws was left out.",
    "animate": "Movement was left out.", "animateTransform": "Movement was left out.", "set": "Movement was left out.",
}  # fmt: skip
# CSS Values and Units Module Level 3, 5.2: absolute lengths, in px of 1/96 in.
_STYLED = re.compile(
    r"(fill|stroke|clip|stop|font|text|opacity|color|display|visibility|mask|marker|filter|letter|flood|mix-blend)[\w-]*"
    r"|direction|paint-order|overflow"
)
_FONTS = {"serif": "EB Garamond", "cursive": "Kaushan Script", "fantasy": "Bebas Neue"}


def parse_svg(data: bytes, name: str) -> ET.Element:
    """A file's tree. Raises FileRefused."""
    encoding = "utf-16" if data[:2] in (b"\xff\xfe", b"\xfe\xff") else "utf-8"
    text = re.sub(r"<!DOCTYPE[^>\[]*>", "", data.decode(encoding, "replace"), count=1)
    if "<!DOCTYPE" in text or "<!ENTITY" in text:
        raise FileRefused(f"{name} declares entities of its own.", "Save it as plain SVG.")
    try:
        root = ET.fromstring(re.sub(r"^\s*<\?xml[^>]*\?>", "", text.lstrip("\ufeff")))
    except (ET.ParseError, ValueError, RecursionError) as error:
        raise FileRefused(f"{name} is not well-formed ({error}).", "Save it again as plain SVG.") from None
    if root.tag != SVG + "svg":
        raise FileRefused(f"{name} is not an SVG.", "Save it as plain SVG.")
    if sum(1 for _ in root.iter()) > MAX_ELEMENTS:
        raise FileRefused(f"{name} has more than {MAX_ELEMENTS:,} parts.", "Make it simpler.")
    return root


def sheet_of(root: ET.Element, name: str, size_mm: tuple[float, float] | None) -> tuple[float, float, Matrix]:
    """Width and height of the sheet, mm, and the map from the file's user units to page mm."""
    box = numbers(root.get("viewBox", "").replace(",", " "))
    lengths = [root.get(side, "") for side in ("width", "height")]
    px = [0.0 if length.strip().endswith("%") else units(length) for length in lengths]
    if len(box) != 4 or min(box[2:]) <= 0 or not all(map(math.isfinite, box)):
        if min(px) <= 0:
            raise FileRefused(f"{name} does not say how large it is.", "Save it with a width and a height.")
        box = [0.0, 0.0, *px]
    if px[0] <= 0 and px[1] <= 0:
        px = box[2:]
    elif min(px) <= 0:
        px = [px[0] or px[1] * box[2] / box[3], px[1] or px[0] * box[3] / box[2]]
    width, height = size_mm or (round(px[0] / 96 * 25.4, 6), round(px[1] / 96 * 25.4, 6))
    if not (1 <= width <= 5000 and 1 <= height <= 5000):
        raise FileRefused(f"{name} is {width:g} x {height:g} mm.", "Say another size: 1 mm to 5 m each way.")
    return width, height, _fit_view_box(box, (width, height), root.get("preserveAspectRatio", ""))


def _fit_view_box(box: list[float], size: tuple[float, float], how: str) -> Matrix:
    """From a view box to a viewport (SVG 1.1, 7.8)."""
    kx, ky = size[0] / box[2], size[1] / box[3]
    if "none" not in how:
        kx = ky = max(kx, ky) if "slice" in how else min(kx, ky)
    place = {"Min": 0.0, "Mid": 0.5, "Max": 1.0}
    x = next((place[k] for k in place if f"x{k}" in how), 0.5)
    y = next((place[k] for k in place if f"Y{k}" in how), 0.5)
    shift = translation((size[0] - box[2] * kx) * x, (size[1] - box[3] * ky) * y)
    return shift @ scaling(kx, ky) @ translation(-box[0], -box[1])


def make_plain(root: ET.Element, notes: list[str]) -> ET.Element:
    """The tree made plain."""
    _apply_styles(root, notes)
    by_id = {e.get("id"): e for e in root.iter() if e.get("id")}
    plain = ET.Element(SVG + "svg")
    left = [MAX_ELEMENTS]
    for key, value in root.attrib.items():
        if _STYLED.fullmatch(key):
            plain.set(key, value)
    whole = ET.SubElement(plain, SVG + "g", dict(plain.attrib))
    plain.attrib.clear()
    _Plain(by_id, notes, left).children(root, whole, {}, 0, ())
    return plain


def _apply_styles(root: ET.Element, notes: list[str]) -> None:
    """Style sheets as attributes, by specificity (Selectors Level 4); a style attribute counts before them, and what is
    important before what is not (CSS Cascading and Inheritance Level 4, 6.1)."""
    matcher = cssselect2.Matcher()
    sheet = "\n".join(e.text or "" for e in root.iter(SVG + "style"))
    for rule in tinycss2.parse_stylesheet(sheet, skip_comments=True, skip_whitespace=True):
        if rule.type != "qualified-rule":
            notes.append("A rule of its style sheet was left out.")
            continue
        declarations = _declarations(tinycss2.serialize(rule.content))
        try:
            for selector in cssselect2.compile_selector_list(rule.prelude):
                matcher.add_selector(selector, declarations)
        except cssselect2.SelectorError:
            notes.append(f"A rule of its style sheet ({tinycss2.serialize(rule.prelude).strip()[:40]}) was left out.")
    for wrapper in cssselect2.ElementWrapper.from_xml_root(root).iter_subtree():
        element = wrapper.etree_element
        pseudo_free = [style for _, _, pseudo, style in matcher.match(wrapper) if pseudo is None]
        pseudo_free.append(_declarations(element.attrib.pop("style", "")))
        for important in (False, True):
            for declarations in pseudo_free:
                _set_attributes(
                    element, {key: value for (key, matters), value in declarations.items() if matters == important}
                )


def _declarations(body: str) -> dict[tuple[str, bool], str]:
    """What is said, by its name and whether it is important."""
    declarations = {}
    for declaration in tinycss2.parse_blocks_contents(body, skip_comments=True, skip_whitespace=True):
        if declaration.type == "declaration":
            declarations[declaration.lower_name, bool(declaration.important)] = tinycss2.serialize(
                declaration.value
            ).strip()
    return declarations


def _set_attributes(element: ET.Element, style: dict[str, str]) -> None:
    for key, value in style.items():
        for name in MARKERS if key == "marker" else (key,):
            if _STYLED.fullmatch(name):
                element.set(name, value)


class _Plain:
    def __init__(self, by_id: dict[Any, ET.Element], notes: list[str], left: list[int]) -> None:
        self._by_id, self._notes, self._left = by_id, notes, left

    def _note(self, sentence: str) -> None:
        if sentence not in self._notes:
            self._notes.append(sentence)

    def children(
        self, source: ET.Element, onto: ET.Element, style: dict[str, str], depth: int, within: tuple[str, ...]
    ) -> None:
        """What of an element's children can be drawn. ``said``: what words inherit; ``within``: uses it lies in."""
        if depth > MAX_DEPTH:
            raise FileRefused(
                f"The groups of this SVG lie more than {MAX_DEPTH} deep in each other.", "Take some apart."
            )
        for child in source:
            if not isinstance(child.tag, str) or not child.tag.startswith(SVG):
                continue
            self._left[0] -= 1
            if self._left[0] < 0:
                raise FileRefused(f"This SVG has more than {MAX_ELEMENTS:,} parts.", "Make it simpler.")
            name = child.tag.removeprefix(SVG)
            if not _is_for_us(child):
                continue
            here = {
                **style,
                **{k: v for k, v in child.attrib.items() if re.match("font|text-|letter|fill|color|xml", k)},
            }
            if name in _DROPPED:
                self._note(_DROPPED[name])
            elif name == "use":
                self._use(child, onto, here, depth, within)
            elif child.tag in _GROUPS - {SVG + "symbol"}:
                group = ET.SubElement(onto, SVG + "g", self._attributes(child))
                if name == "svg":
                    group.set("transform", affine(_viewport(child)))
                holder = (
                    child
                    if name != "switch"
                    else _only_child([alternative for alternative in child if _is_for_us(alternative)][:1])
                )
                self.children(holder, group, here, depth + 1, within)
            elif name == "text":
                self._words(child, onto, here)
            elif child.tag in SHAPES:
                ET.SubElement(onto, child.tag, self._attributes(child))
            elif child.tag in _KEPT or name.startswith("fe"):
                if name == "image" and not self._is_embedded(child):
                    continue
                self.children(child, ET.SubElement(onto, child.tag, self._attributes(child)), here, depth + 1, within)
            elif name not in ("style", "metadata", "title", "desc", "symbol"):
                self._note(f"A <{name}> was left out.")

    def _is_embedded(self, image: ET.Element) -> bool:
        source = image.get("href") or image.get(XLINK + "href") or ""
        if re.match(r"data:image/(png|jpe?g|webp)[;,]", source):
            return True
        self._note("A picture outside the file was left out: embed it, and bring the file in again.")
        return False

    def _attributes(self, element: ET.Element) -> dict[str, str]:
        attributes = {}
        for key, value in element.attrib.items():
            local = key.rsplit("}", 1)[-1].lower()
            if local.startswith("on") or (local in ("base", "width", "height") and element.tag == SVG + "svg"):
                continue
            if local == "href" and not value.startswith(("#", "data:image/")):
                continue
            if "url(" in value and not re.fullmatch(r"url\(\s*['\"]?#[\w.:-]+['\"]?\s*\)(\s.*)?", value):
                self._note("A reference to something outside the file was left out.")
                continue
            attributes[key] = value
        return attributes

    def _use(
        self, use: ET.Element, onto: ET.Element, style: dict[str, str], depth: int, within: tuple[str, ...]
    ) -> None:
        wanted = (use.get("href") or use.get(XLINK + "href") or "").removeprefix("#")
        target = self._by_id.get(wanted)
        if target is None or wanted in within:
            self._note("A part used again was not found, or uses itself: it was left out.")
            return
        fields = self._attributes(use)
        for key in ("href", XLINK + "href", "x", "y", "width", "height"):
            fields.pop(key, None)
        offset = transform_of(use) @ translation(units(use.get("x", "0")), units(use.get("y", "0")))
        if target.tag == SVG + "symbol":
            box = numbers(target.get("viewBox", ""))
            if len(box) == 4 and min(box[2:]) > 0:
                size = units(use.get("width", "") or str(box[2])), units(use.get("height", "") or str(box[3]))
                offset = offset @ _fit_view_box(box, size, target.get("preserveAspectRatio", ""))
            target = ET.Element(SVG + "g", {k: v for k, v in target.attrib.items() if k not in ("id", "viewBox")})
            target.extend(list(self._by_id[wanted]))
        group = ET.SubElement(onto, SVG + "g", {**fields, "transform": affine(offset)})
        self.children(_only_child([target]), group, style, depth + 1, (*within, wanted))

    def _words(self, text: ET.Element, onto: ET.Element, properties: dict[str, str]) -> None:
        """Words as outlines, one path a piece, in our own fonts."""
        fields = {
            k: v for k, v in self._attributes(text).items() if not re.match("x$|y$|dx|dy|font|text|letter|xml", k)
        }
        group = ET.SubElement(onto, SVG + "g", fields)
        pen = [0.0, 0.0]
        for chunk in _chunks(text, properties):
            pieces, wide = [], 0.0
            track = self._track(chunk)
            for words, style in chunk.pieces:
                size = units(style.get("font-size", "16"))
                if chunk.along is not None:
                    path, advance = (
                        outline_line_along(words, *self._font(style), size, *track, wide) if track else ("", 0.0)
                    )
                else:
                    path, advance = outline_line(words, *self._font(style), size)
                pieces.append((path, 0.0 if track else wide, style))
                wide += advance
            if track:
                for path, _, style in pieces:
                    self._outline_letters(group, path, style, "")
                continue
            x = pen[0] if chunk.x is None else chunk.x
            y = pen[1] if chunk.y is None else chunk.y
            x, y = x + chunk.dx, y + chunk.dy
            anchor = chunk.pieces[0][1].get("text-anchor", "start") if chunk.pieces else "start"
            start = x - {"middle": wide / 2, "end": wide}.get(anchor, 0.0)
            for path, along, style in pieces:
                self._outline_letters(group, path, style, f"translate({start + along:.6g},{y:.6g})")
            pen = [start + wide, y]

    def _outline_letters(self, group: ET.Element, path: str, style: dict[str, str], transform: str) -> None:
        if path:
            paint = {k: v for k, v in style.items() if re.match(r"fill|stroke|opacity|paint-order|visibility", k)}
            placed = {"transform": transform} if transform else {}
            ET.SubElement(group, SVG + "path", {**paint, "data-words": "", "d": path, **placed})

    def _track(self, chunk: "_Chunk") -> tuple[NDArray[np.float64], float] | None:
        """The line that a textPath runs along, and how far along it its words begin; None without one."""
        along = chunk.along
        if along is None:
            return None
        target = self._by_id.get((along.get("href") or along.get(XLINK + "href") or "").removeprefix("#"))
        if target is None or target.tag not in SHAPES:
            self._note("Words along a path that is not in the file were left out.")
            return None
        try:
            line = outlines.line_along(outlines.map_path(path_of(target, dict(target.attrib)), transform_of(target)))
        except GeometryError:
            self._note("Words along a path that is none were left out.")
            return None
        offset = along.get("startOffset", "0").strip()
        length = float(np.hypot(*np.diff(line, axis=0).T).sum())
        begins = float(numbers(offset)[0]) / 100 * length if offset.endswith("%") else units(offset)
        wide = sum(
            outline_line(words, *self._font(style), units(style.get("font-size", "16")))[1]
            for words, style in chunk.pieces
        )
        anchor = chunk.pieces[0][1].get("text-anchor", "start")
        return line, begins - {"middle": wide / 2, "end": wide}.get(anchor, 0.0)

    def _font(self, style: dict[str, str]) -> tuple[str, bool, bool]:
        """Family, whether bold, whether slanted."""
        weight, slant = style.get("font-weight", "normal"), style.get("font-style", "normal")
        heavy = weight in ("bold", "bolder") or (weight.isdecimal() and int(weight) >= 600)
        families_named = [
            family.strip(" '\"") for family in style.get("font-family", "").split(",") if family.strip(" '\"")
        ]
        known = {name.lower(): name for name in families()}
        for family in families_named:
            if family.lower() in known:
                return known[family.lower()], heavy, slant != "normal"
        generic = next((_FONTS[family.lower()] for family in families_named if family.lower() in _FONTS), "Lato")
        self._note(f"Words in {families_named[0] if families_named else 'no named font'} were set in {generic}.")
        return generic, heavy, slant != "normal"


class _Chunk:
    """Words that are placed together: where they begin, if said, and each piece with its style."""

    def __init__(self, x: float | None, y: float | None, dx: float, dy: float) -> None:
        self.x, self.y, self.dx, self.dy = x, y, dx, dy
        self.along: ET.Element | None = None  # the textPath that they lie in
        self.pieces: list[tuple[str, dict[str, str]]] = []


def _chunks(text: ET.Element, properties: dict[str, str]) -> list[_Chunk]:
    def first(element: ET.Element, key: str) -> float | None:
        words = re.split(r"[\s,]+", element.get(key, "").strip())
        return units(words[0]) if words[0] else None

    chunks = [
        _Chunk(first(text, "x") or 0.0, first(text, "y") or 0.0, first(text, "dx") or 0.0, first(text, "dy") or 0.0)
    ]

    def take(words: str | None, style: dict[str, str]) -> None:
        text_here = re.sub(r"[\n\t\r]+", " ", words or "")
        if style.get("{http://www.w3.org/XML/1998/namespace}space") != "preserve":
            text_here = re.sub(" +", " ", text_here)
            if not chunks[-1].pieces:
                text_here = text_here.lstrip(" ")
        if text_here:
            chunks[-1].pieces.append((text_here, style))

    def walk(element: ET.Element, style: dict[str, str]) -> None:
        take(element.text, style)
        for child in element:
            if child.tag == SVG + "tspan":
                x, y, dx, dy = (first(child, key) for key in ("x", "y", "dx", "dy"))
                if any(value is not None for value in (x, y, dx, dy)):
                    chunks.append(_Chunk(x, y, dx or 0.0, dy or 0.0))
                walk(child, {**style, **child.attrib})
            elif child.tag == SVG + "textPath" and _is_for_us(child):
                chunks.append(_Chunk(None, None, 0.0, 0.0))
                chunks[-1].along = child
                walk(child, {**style, **child.attrib})
                chunks.append(_Chunk(None, None, 0.0, 0.0))
            take(child.tail, style)

    walk(text, properties)
    for chunk in chunks:
        if chunk.pieces:
            words, style = chunk.pieces[-1]
            chunk.pieces[-1] = (words.rstrip(" "), style) if chunk is chunks[-1] else chunk.pieces[-1]
    return [chunk for chunk in chunks if chunk.pieces]


def _only_child(children: list[ET.Element]) -> ET.Element:
    holder = ET.Element(SVG + "g")
    holder.extend(children)
    return holder


def _viewport(inner: ET.Element) -> Matrix:
    box = numbers(inner.get("viewBox", ""))
    offset = translation(units(inner.get("x", "0")), units(inner.get("y", "0")))
    size = units(inner.get("width", "")), units(inner.get("height", ""))
    if len(box) == 4 and min(box[2:]) > 0 and min(size) > 0:
        return offset @ _fit_view_box(box, size, inner.get("preserveAspectRatio", ""))
    return offset
