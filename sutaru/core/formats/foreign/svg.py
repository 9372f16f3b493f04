"""SVG files as sheets: openings by class or id or by a picked fill, plain shapes as shapes, the rest as ornaments.

The tree is made plain first (``plain_svg.py``). What an ornament cannot hold (pictures, filters, masks) is drawn by librsvg
at the print's ppi and laid as an overlay. SVG 1.1 (Second Edition); lengths after CSS Values and Units 3: 96 px to the inch.
"""

import copy
import math
import re
import xml.etree.ElementTree as ET
from dataclasses import dataclass, field
from typing import Any, get_args

import numpy as np
import pyvips
from pydantic import ValidationError

from ... import limits
from ...document import (
    FillBox,
    Layer,
    Layout,
    Opening,
    Ornament,
    Overlay,
    Sheet,
)
from ...document.layers import Blend
from ...errors import FileRefused, GeometryError, describe_complaint
from ...geometry.matrices import Matrix
from ...paint.svg import SVG, XLINK, clean_svg
from ..flat.flat_picture import png_of
from ..masks import trace_drawing
from ..svg_file import SHEET, Held, affine
from .plain_svg import MARKERS, SHAPES, make_plain, parse_svg, sheet_of
from .read_result import Read, name_of
from .svg_outlines import _border, _hex, _mm, _number, _share, read_outline
from .svg_values import transform_of

PPI = 300.0
MOST_SHAPES = 80  # plain shapes that become shapes of their own; of more, a drawing is made
_OPENING = re.compile(r"(opening|photo)([-_\s\d.].*)?$", re.IGNORECASE)
_INKSCAPE = "{http://www.inkscape.org/namespaces/inkscape}label"
_INHERITED = {
    "clip-rule", "color", "fill", "fill-opacity", "fill-rule", "stroke", "stroke-dasharray", "stroke-dashoffset",
    "stroke-linecap", "stroke-linejoin", "stroke-miterlimit", "stroke-opacity", "stroke-width", "visibility", "paint-order",
    *MARKERS,
}  # fmt: skip
BLENDS = frozenset(get_args(Blend))
_OWN_EFFECTS = ("clip-path", "mask", "filter")


def read_svg(data: bytes, name: str, areas: str = "", size_mm: tuple[float, float] | None = None) -> Read:
    """An SVG as a sheet. Openings: classes, ids, labels that begin with "opening" or "photo"; with a colour, shapes of that
    fill. Raises FileRefused."""
    root = parse_svg(data, name)
    if root.get(SHEET):
        return _read_written_here(root, name)
    width, height, mm_from_user = sheet_of(root, name, size_mm)
    notes: list[str] = []
    plain = make_plain(root, notes)
    reader = _Reader(plain, (width, height), areas, notes, sum(e.tag in SHAPES for e in plain.iter()) <= MOST_SHAPES)
    reader.walk(plain, mm_from_user, {})
    layers, files = reader.layers()
    if not layers:
        raise FileRefused(f"{name} shows nothing.", "Save it anew as plain SVG.")
    layout = Layout(width_mm=width, height_mm=height, bleed_mm=0.0, layers=layers)
    if not layout.openings_by_id:
        notes.append('No shape is called "opening": name the fill of those that are, or make openings of shapes here.')
    return Read((Sheet(id="sheet", name="Sheet", layout=layout),), files, tuple(notes), areas or "names")


def _read_written_here(root: ET.Element, name: str) -> Read:
    """A sheet that was written here: layers as they were, and what was drawn since as it is drawn."""
    notes: list[str] = []
    try:
        held = Held(root)
        width, height = float(held.fields["width_mm"]), float(held.fields["height_mm"])
    except (ValueError, KeyError, TypeError):
        raise FileRefused(f"{name} says something of itself that cannot be read.", "Write it anew.") from None
    files = dict(held.files)

    def read_drawn(element: ET.Element) -> tuple[Layer, ...]:
        notes.append(f"{element.get('id', 'A part')} was changed elsewhere and was read as it is drawn.")
        plain = make_plain(_extract_element(root, element), notes)
        reader = _Reader(plain, (width, height), "", notes, True)
        reader.walk(plain, np.eye(3), {})
        layers, more = reader.layers()
        files.update(more)
        return tuple(layer.copy_with(id=f"{layer.id}-{len(notes)}") for layer in layers)

    def read_children(parent: ET.Element) -> tuple[Layer, ...]:
        layers: list[Layer] = []
        for element in parent:
            if element.tag not in SHAPES and element.tag not in (SVG + "g", SVG + "image", SVG + "text", SVG + "use"):
                continue
            group = held.group(element, read_children(element)) if element.get("class") == "group" else None
            layer = group or held.layer(element)
            layers += [layer] if layer is not None else read_drawn(element)
        return tuple(layers)

    try:
        layout = Layout.model_validate({**held.fields, "layers": read_children(root)})
    except ValidationError as error:
        raise FileRefused(f"{name} cannot be read: {describe_complaint(error.errors()[0])}", "Write it anew.") from None
    missing = sorted(a for leaf in layout.leaves if (a := getattr(leaf, "asset", None)) and a not in files)
    if missing:
        raise FileRefused(f"{name} names a drawing that is not in it.", "Write it anew.")
    return Read((Sheet(id="sheet", name="Sheet", layout=layout),), files, tuple(notes), "names")


def _extract_element(root: ET.Element, element: ET.Element) -> ET.Element:
    """One part of a file as a file of its own, with the definitions it may refer to."""
    alone = ET.Element(SVG + "svg")
    alone.extend(root.findall(SVG + "defs") + root.findall(SVG + "style"))
    alone.append(element)
    return alone


@dataclass
class _Art:
    """Consecutive parts of a drawing: each element under its map to page mm and what it inherits."""

    parts: list[tuple[ET.Element, Matrix, dict[str, str]]] = field(default_factory=list)
    blend: str = "normal"


class _Reader:
    """Takes a plain tree apart in painting order. ``shapes``: plain shapes become shapes of their own."""

    def __init__(
        self, root: ET.Element, size: tuple[float, float], areas: str, notes: list[str], shapes: bool
    ) -> None:  # fmt: skip
        self._size, self._areas, self._notes, self._shapes = size, areas, notes, shapes
        self._by_id = {e.get("id"): e for e in root.iter() if e.get("id")}
        self._pieces: list[_Art | Layer] = []
        self._count = 0

    def _is_opening(self, element: ET.Element, inherited: dict[str, str]) -> bool:
        names = [*element.get("class", "").split(), element.get("id", ""), element.get(_INKSCAPE, "")]
        if any(_OPENING.match(name) for name in names if name):
            return True
        return (
            self._areas.startswith("#") and _hex(_own_style(element, inherited).get("fill", "#000000")) == self._areas
        )

    def _holds_opening(self, element: ET.Element, inherited: dict[str, str]) -> bool:
        style = _inherited_style(element, inherited)
        if (element.tag in SHAPES or element.tag == SVG + "g") and self._is_opening(element, inherited):
            return True
        return any(self._holds_opening(child, style) for child in element)

    def walk(self, element: ET.Element, ctm: Matrix, inherited: dict[str, str], meant: bool = False) -> None:
        """Takes the parts below an element in the order they are painted. ``meant``: its shapes are openings."""
        for child in element:
            if child.tag == SVG + "defs" or child.get("display") == "none":
                continue
            here = ctm @ transform_of(child)
            opening = meant or self._is_opening(child, inherited)
            blend = child.get("mix-blend-mode", "normal")
            if blend != "normal" and not opening and not self._holds_opening(child, inherited):
                plainly_laid = copy.deepcopy(child)
                del plainly_laid.attrib["mix-blend-mode"]
                self._pieces.append(_Art([(plainly_laid, ctm, inherited)], blend if blend in BLENDS else "normal"))
                continue
            if child.tag == SVG + "g":
                faint = (
                    any(child.get(key, "none") != "none" for key in _OWN_EFFECTS) or _number(child, "opacity", 1) < 1
                )
                holds = opening or self._holds_opening(child, inherited)
                if faint and not holds:
                    self._art(child, ctm, inherited)
                    continue
                if faint:
                    self._notes.append("A group with openings in it is clipped or faint: its parts were laid plainly.")
                self.walk(child, here, _inherited_style(child, inherited), opening)
            elif child.tag in SHAPES and opening:
                self._opening(child, here, inherited)
            elif self._shapes and child.tag in SHAPES and (shape := self._shape(child, here, inherited)) is not None:
                self._pieces.append(shape)
            else:
                self._art(child, ctm, inherited)

    def _art(self, element: ET.Element, ctm: Matrix, inherited: dict[str, str]) -> None:
        last = self._pieces[-1] if self._pieces else None
        if not isinstance(last, _Art) or last.blend != "normal":
            last = _Art()
            self._pieces.append(last)
        last.parts.append((element, ctm, inherited))

    def _id(self, stem: str) -> str:
        self._count += 1
        return f"{stem}-{self._count}"

    def _opening(self, element: ET.Element, ctm: Matrix, inherited: dict[str, str]) -> None:
        style = _own_style(element, inherited)
        try:
            outline, surface = read_outline(element, ctm, style)
            border = _border(style, ctm)
            called = element.get(_INKSCAPE) or element.get("id") or ""
            self._pieces.append(Opening(id=self._id("opening"), name=(_OPENING.match(called) and "") or called[:120],
                                        outline=outline, surface=surface, border=border))  # fmt: skip
        except (ValueError, GeometryError):
            self._notes.append(f"The opening {element.get('id', 'without a name')} encloses nothing and was left out.")
        if any(element.get(key, "none") != "none" for key in _OWN_EFFECTS):
            self._notes.append("An opening that is clipped or masked was taken whole.")

    def _shape(self, element: ET.Element, ctm: Matrix, inherited: dict[str, str]) -> FillBox | None:
        """A plain shape of one colour, without a line; None when it is anything else."""
        style = _own_style(element, inherited)
        colour = _hex(style.get("fill", "#000000"))
        if "data-words" in element.attrib or any(style.get(key, "none") != "none" for key in MARKERS):
            return None  # letters belong together
        if colour is None or style.get("stroke", "none") != "none" or style.get("visibility", "visible") != "visible":
            return None
        if element.tag in (SVG + "line", SVG + "polyline") or any(style.get(k, "none") != "none" for k in _OWN_EFFECTS):
            return None
        opacity = _share(style.get("opacity")) * _share(style.get("fill-opacity"))
        try:
            outline, surface = read_outline(element, ctm, style)
            return FillBox(id=self._id("shape"), name=element.get(_INKSCAPE, "")[:120], outline=outline, surface=surface,
                           colour=colour, opacity=round(opacity, 6))  # fmt: skip
        except (ValueError, GeometryError):
            return None

    def layers(self) -> tuple[tuple[Layer, ...], dict[str, bytes]]:
        """All as layers bottom to top, and the files they name."""
        layers: list[Layer] = []
        files: dict[str, bytes] = {}
        for piece in self._pieces:
            if isinstance(piece, _Art):
                layer, asset = self._make_drawing(piece)
                if layer is not None:
                    layers.append(layer)
                    files[name_of(asset)] = asset
            else:
                layers.append(piece)
        return tuple(layers), files

    def _make_drawing(self, art: _Art) -> tuple[Layer | None, bytes]:
        """Parts as an ornament cut to what it shows, or as an overlay when an ornament cannot hold them."""
        whole = (0.0, 0.0, *self._size)
        box = _visible_box(self._svg(art, whole), whole)
        if box is None:
            return None, b""
        text = self._svg(art, box)
        x0, y0, x1, y1 = box
        place: dict[str, Any] = {
            "centre": ((x0 + x1) / 2, (y0 + y1) / 2), "width_mm": x1 - x0, "height_mm": y1 - y0, "blend": art.blend,
        }  # fmt: skip
        try:
            if len(text) > limits.DRAWING_BYTES:
                raise FileRefused("It is too large.")
            clean = clean_svg(text)
            return Ornament(id=self._id("drawing"), asset=name_of(clean), traced=trace_drawing(clean), **place), clean
        except FileRefused as refused:
            self._notes.append(f"A part was laid as a picture: {refused.sentence[0].lower()}{refused.sentence[1:]}")
            x0, y0, x1, y1 = _align_to_pixels(box)
            png = png_of(_render_svg(self._svg(art, (x0, y0, x1, y1)), x1 - x0, y1 - y0, PPI))
            place |= {"centre": ((x0 + x1) / 2, (y0 + y1) / 2), "width_mm": x1 - x0, "height_mm": y1 - y0}
            return Overlay(id=self._id("picture"), asset=name_of(png), **place), png

    def _svg(self, art: _Art, box: tuple[float, float, float, float]) -> bytes:
        x0, y0, x1, y1 = box
        root = ET.Element(SVG + "svg", {"viewBox": f"{x0:.9g} {y0:.9g} {x1 - x0:.9g} {y1 - y0:.9g}"})
        defs = ET.SubElement(root, SVG + "defs")
        for element, ctm, inherited in art.parts:
            group = ET.SubElement(root, SVG + "g", {**inherited, "transform": affine(ctm)})
            group.append(copy.deepcopy(element))
        needed, taken = list(_references(root)), set[str]()
        while needed:
            identity = needed.pop()
            if identity in taken or identity not in self._by_id:
                continue
            taken.add(identity)
            part = copy.deepcopy(self._by_id[identity])
            defs.append(part)
            needed += _references(part)
        if not len(defs):
            root.remove(defs)
        for holder in root.iter():  # librsvg takes it from a style alone
            if blend := holder.attrib.pop("mix-blend-mode", None):
                holder.set("style", f"mix-blend-mode:{blend}")
        return ET.tostring(root)


def _references(element: ET.Element) -> list[str]:
    names = []
    for child in element.iter():
        for key, value in child.attrib.items():
            names += re.findall(r"url\(\s*['\"]?#([\w.:-]+)", value)
            if key in ("href", XLINK + "href") and value.startswith("#"):
                names.append(value[1:])
    return names


def _inherited_style(element: ET.Element, inherited: dict[str, str]) -> dict[str, str]:
    return {**inherited, **{k: v for k, v in element.attrib.items() if k in _INHERITED}}


def _own_style(element: ET.Element, inherited: dict[str, str]) -> dict[str, str]:
    return {**inherited, **element.attrib}


def _render_svg(svg: bytes, width_mm: float, height_mm: float, ppi: float) -> Any:
    """A drawing as librsvg draws it, RGBA."""
    k = min(ppi / 25.4, (limits.OVERLAY_PIXELS / 2 / (width_mm * height_mm)) ** 0.5)
    size = max(1, round(width_mm * k)), max(1, round(height_mm * k))
    root = ET.fromstring(svg)
    root.attrib |= {"width": str(size[0]), "height": str(size[1]), "preserveAspectRatio": "none"}
    try:
        return np.ascontiguousarray(pyvips.Image.svgload_buffer(ET.tostring(root), unlimited=True).numpy())
    except pyvips.Error as error:
        raise FileRefused(f"A part of this SVG cannot be drawn ({error}).", "Save it as plain SVG.") from None


def _align_to_pixels(box: tuple[float, float, float, float]) -> tuple[float, float, float, float]:
    """A box out to whole pixels of the print, so that each pixel of its picture is one of the page."""
    px = 25.4 / PPI
    x0, y0, x1, y1 = box
    return math.floor(x0 / px) * px, math.floor(y0 / px) * px, math.ceil(x1 / px) * px, math.ceil(y1 / px) * px


def _visible_box(svg: bytes, box: tuple[float, float, float, float]) -> tuple[float, float, float, float] | None:
    """The box about what a drawing shows, with a little room; None when it shows nothing."""
    x0, y0, x1, y1 = box
    alpha = _render_svg(svg, x1 - x0, y1 - y0, min(PPI, 1400 / max(x1 - x0, y1 - y0) * 25.4))[..., 3]
    rows, columns = np.flatnonzero(alpha.max(axis=1)), np.flatnonzero(alpha.max(axis=0))
    if not len(rows):
        return None
    k = (x1 - x0) / alpha.shape[1], (y1 - y0) / alpha.shape[0]
    left, right = max(x0, x0 + (columns[0] - 1) * k[0]), min(x1, x0 + (columns[-1] + 2) * k[0])
    top, bottom = max(y0, y0 + (rows[0] - 1) * k[1]), min(y1, y0 + (rows[-1] + 2) * k[1])
    return _mm(left), _mm(top), _mm(right), _mm(bottom)
