"""A sheet as SVG in real units, for any program; and back. Every layer is drawn as what it is, and says what it is.

Each layer's element holds the layer as JSON and a hash of what is drawn. Read back, a layer whose drawing still has that
hash is taken as it was, one that was changed elsewhere is read as it is drawn now.
"""

import base64
import hashlib
import json
import re
import xml.etree.ElementTree as ET
from collections.abc import Callable
from typing import Any

from pydantic import ConfigDict, TypeAdapter, ValidationError

from ..document import (
    Background,
    CalendarSaid,
    DateGrid,
    Echo,
    FillBox,
    Gradient,
    Group,
    GuideNote,
    Layer,
    Layout,
    Leaf,
    Mask,
    Opening,
    Ornament,
    Overlay,
    PagePicture,
    Shaped,
    StudioCard,
    Text,
)
from ..document.studio import resolve_colours
from ..fitting.resolving import SAMPLE_MONTH
from ..geometry import outlines
from ..geometry.matrices import Matrix, rotation
from ..measure import mm_from_points
from ..paint import Assets
from ..paint.items import lay_polygons
from ..paint.svg import SVG, XLINK, clean_svg
from ..words import apply_styles, set_text
from ..words.date_grids import draw_grid
from ..words.fields import LOCALE

SHEET, LAYER, DRAWN, HELD = "data-sutaru-sheet", "data-sutaru-layer", "data-sutaru-drawn", "data-sutaru-files"
_LAYER: TypeAdapter[Layer] = TypeAdapter(Layer, config=ConfigDict(defer_build=True))


def write_svg(layout: Layout, asset: Assets) -> bytes:
    """A sheet without photos as SVG. Raises what ``asset`` raises."""
    for prefix, space in (("", SVG), ("xlink", XLINK)):
        ET.register_namespace(prefix, space[1:-1])
    bleed = layout.bleed_mm
    width, height = layout.width_mm + 2 * bleed, layout.height_mm + 2 * bleed
    fields = {name: value for name, value in layout.model_dump(mode="json").items() if name != "layers"}
    root = ET.Element(SVG + "svg", {
        "width": f"{width:.12g}mm", "height": f"{height:.12g}mm",
        "viewBox": f"{-bleed:.12g} {-bleed:.12g} {width:.12g} {height:.12g}", SHEET: _json(fields),
    })  # fmt: skip
    writer = _Writer(layout, asset)
    writer.layers(layout.layers, root)
    held = {name: base64.b64encode(data).decode() for name, data in writer.held.items()}
    if held:
        root.insert(0, ET.Element(SVG + "metadata", {HELD: _json(held)}))
    return b'<?xml version="1.0" encoding="UTF-8"?>\n' + ET.tostring(root)


def _json(value: Any) -> str:
    return json.dumps(value, ensure_ascii=False, separators=(",", ":"))


def drawing_hash(element: ET.Element) -> str:
    """A name for what an element draws, whatever order its attributes are written in."""
    text = ET.canonicalize(ET.tostring(element), strip_text=True, rewrite_prefixes=True, exclude_attrs={DRAWN})
    return hashlib.sha256(text.encode()).hexdigest()[:20]


class _Writer:
    def __init__(self, layout: Layout, asset: Assets) -> None:
        self._layout, self._asset = layout, asset
        self._colours = {**layout.named_colours, **StudioCard().colours}
        self.held: dict[str, bytes] = {}  # files that are not in the drawing as they are

    def _resolve_layer(self, layer: Leaf) -> Leaf:
        """A layer as it looks: its named style and colours put in."""
        shown = apply_styles(layer, self._layout.styles) if isinstance(layer, Text) else layer
        return resolve_colours(shown, self._colours)

    def layers(self, layers: tuple[Layer, ...], onto: ET.Element) -> None:
        """All layers of a stack, bottom to top."""
        for layer in layers:
            fields = layer.model_dump(mode="json")
            fields.pop("layers", None)
            element = ET.SubElement(onto, SVG + "g", {"id": layer.id, "class": layer.kind, LAYER: _json(fields)})
            if layer.name:
                ET.SubElement(element, SVG + "title").text = layer.name
            if not layer.visible:
                element.set("display", "none")
            if isinstance(layer, Group):
                self.layers(layer.layers, element)
                continue
            if layer.opacity < 1:
                element.set("opacity", f"{layer.opacity:.6g}")
            if layer.blend != "normal":
                element.set("style", f"mix-blend-mode:{layer.blend}")
            _DRAWING[type(layer)](self, self._resolve_layer(layer), element)
            element.set(DRAWN, drawing_hash(element))

    def _background(self, layer: Background, onto: ET.Element) -> None:
        bleed = self._layout.bleed_mm
        wide, high = self._layout.width_mm + 2 * bleed, self._layout.height_mm + 2 * bleed
        fill = self._paint(layer.id, layer.colour, layer.gradient, (-bleed, -bleed, wide - bleed, high - bleed), onto)
        ET.SubElement(onto, SVG + "rect", {
            "x": f"{-bleed:.12g}", "y": f"{-bleed:.12g}", "width": f"{wide:.12g}", "height": f"{high:.12g}", "fill": fill,
        })  # fmt: skip
        if layer.asset:
            self.held[layer.asset] = self._asset(layer.asset)

    def _opening(self, layer: Opening, onto: ET.Element) -> None:
        path = self._outline(layer)
        paint = {"fill": "#d8d8d8"}
        if layer.border:
            paint |= {"stroke": layer.border.colour, "stroke-width": f"{layer.border.width_mm:.6g}"}
        ET.SubElement(onto, SVG + "path", {"d": path, **paint})

    def _fill(self, layer: FillBox, onto: ET.Element) -> None:
        path = self._outline(layer)
        box = outlines.bounds(list(outlines.flatten(path, 0.01)))
        ET.SubElement(onto, SVG + "path", {
            "d": path, "fill": self._paint(layer.id, layer.colour, layer.gradient, box, onto),
        })  # fmt: skip

    def _outline(self, layer: Shaped) -> str:
        """The outline on the page: curves kept where the surface is flat."""
        if isinstance(layer.outline, Mask):
            self.held[layer.outline.asset] = self._asset(layer.outline.asset)
        onto = layer.surface.page_from_opening(layer.outline)
        if layer.surface.kind == "flat" and onto.matrix is not None:
            return outlines.map_path(layer.outline.path_data(), onto.matrix)
        return "".join(
            outlines.polygon(p.round(4).tolist()) for p in lay_polygons(layer.outline.polygons(0.005), onto)
        )  # fmt: skip

    def _paint(
        self, identity: str, colour: str, gradient: Gradient | None, box: tuple[float, float, float, float], onto: ET.Element
    ) -> str:  # fmt: skip
        """A colour, or a gradient across a box, as a fill."""
        if gradient is None:
            return colour
        x0, y0, x1, y1 = box
        name = f"{identity}-gradient"
        if gradient.shape == "linear":
            w, h = x1 - x0, y1 - y0
            along = (rotation(gradient.turn_deg) @ [1.0, 0.0, 1.0]).tolist()
            reach = (w * abs(along[0]) + h * abs(along[1])) / 2
            cx, cy = (x0 + x1) / 2, (y0 + y1) / 2
            fields = {"x1": cx - along[0] * reach, "y1": cy - along[1] * reach,
                      "x2": cx + along[0] * reach, "y2": cy + along[1] * reach}  # fmt: skip
        else:
            cx, cy = gradient.centre[0] * (x1 - x0), gradient.centre[1] * (y1 - y0)
            far = max(cx, x1 - x0 - cx) ** 2 + max(cy, y1 - y0 - cy) ** 2
            fields = {"cx": x0 + cx, "cy": y0 + cy, "r": far**0.5}
        element = ET.SubElement(onto, SVG + f"{gradient.shape}Gradient", {
            "id": name, "gradientUnits": "userSpaceOnUse", **{k: f"{v:.9g}" for k, v in fields.items()},
        })  # fmt: skip
        for stop in sorted(gradient.stops, key=lambda colour_stop: colour_stop.at):
            ET.SubElement(element, SVG + "stop", {"offset": f"{stop.at:.6g}", "stop-color": stop.colour})
        return f"url(#{name})"

    def _text(self, layer: Text, onto: ET.Element) -> None:
        setting = set_text(layer, layer.text)
        words = ET.SubElement(onto, SVG + "text", {
            "display": "none", "font-family": layer.font, "font-size": f"{mm_from_points(layer.size_pt):.6g}",
            "fill": layer.colour, "transform": affine(layer.page_from_box),
        })  # fmt: skip
        words.text = layer.text
        for colour, path in setting.pieces:
            ET.SubElement(onto, SVG + "path", {
                "d": path, "fill": colour, "transform": affine(layer.page_from_box),
            })  # fmt: skip

    def _dates(self, layer: DateGrid, onto: ET.Element) -> None:
        for part in draw_grid(layer, SAMPLE_MONTH, LOCALE, CalendarSaid()):
            group = ET.SubElement(onto, SVG + "g")
            _DRAWING[type(part)](self, part, group)

    def _page(self, layer: PagePicture, onto: ET.Element) -> None:
        ET.SubElement(
            onto,
            SVG + "path",
            {"d": self._outline(layer), "fill": "#e8e8e8", "stroke": "#808080", "stroke-width": "0.3"},
        )

    def _note(self, layer: GuideNote, onto: ET.Element) -> None:
        onto.set("display", "none")
        ET.SubElement(onto, SVG + "text", {"transform": affine(layer.page_from_box)}).text = layer.text

    def _echo(self, layer: Echo, onto: ET.Element) -> None:
        onto.set("display", "none")

    def _ornament(self, layer: Ornament, onto: ET.Element) -> None:
        data = self._asset(layer.asset)
        self.held[layer.asset] = data
        tree = ET.fromstring(clean_svg(data))
        left, top, wide, high = (float(v) for v in tree.get("viewBox", "0 0 1 1").split())
        _prefix_ids(tree, layer.id)
        kx, ky = layer.width_mm / wide, layer.height_mm / high
        lies = layer.page_from_box @ [[kx, 0, -layer.width_mm / 2 - left * kx],
                                      [0, ky, -layer.height_mm / 2 - top * ky], [0, 0, 1]]  # fmt: skip
        fields = {k: v for k, v in tree.attrib.items() if k != "viewBox"}
        drawing = ET.SubElement(onto, SVG + "g", {**fields, "color": layer.colour, "transform": affine(lies)})
        drawing.extend(list(tree))

    def _overlay(self, layer: Overlay, onto: ET.Element) -> None:
        data = self._asset(layer.asset)
        if layer.guide:
            self.held[layer.asset] = data
            onto.set("display", "none")
            return
        kind = "png" if data.startswith(b"\x89PNG") else "jpeg"
        ET.SubElement(onto, SVG + "image", {
            "href": f"data:image/{kind};base64,{base64.b64encode(data).decode()}", "preserveAspectRatio": "none",
            "x": f"{-layer.width_mm / 2:.12g}", "y": f"{-layer.height_mm / 2:.12g}", "width": f"{layer.width_mm:.12g}",
            "height": f"{layer.height_mm:.12g}", "transform": affine(layer.page_from_box),
        })  # fmt: skip


_DRAWING: dict[type, Callable[[_Writer, Any, ET.Element], None]] = {
    Background: _Writer._background, Opening: _Writer._opening, FillBox: _Writer._fill, Text: _Writer._text,
    DateGrid: _Writer._dates, GuideNote: _Writer._note, PagePicture: _Writer._page, Echo: _Writer._echo,
    Ornament: _Writer._ornament, Overlay: _Writer._overlay,
}  # fmt: skip


def affine(matrix: Matrix) -> str:
    """A map as an SVG transform."""
    (a, c, e), (b, d, f) = matrix[0], matrix[1]
    return f"matrix({a:.12g},{b:.12g},{c:.12g},{d:.12g},{e:.12g},{f:.12g})"


def _prefix_ids(tree: ET.Element, prefix: str) -> None:
    """Ids of a drawing that no other drawing on the sheet has."""
    for element in tree.iter():
        for key, value in list(element.attrib.items()):
            if key == "id":
                element.set(key, f"{prefix}-{value}")
            elif key in ("href", XLINK + "href") and value.startswith("#"):
                element.set(key, f"#{prefix}-{value[1:]}")
            elif "url(" in value:
                element.set(key, re.sub(r"#([\w:.-]+)", rf"#{prefix}-\1", value))


class Held:
    """What a written sheet says of itself: its own fields, and the files it carries."""

    def __init__(self, root: ET.Element) -> None:
        self.fields: dict[str, Any] = json.loads(root.get(SHEET, "{}"))
        self.files: dict[str, bytes] = {}
        for element in root.iter(SVG + "metadata"):
            for data in json.loads(element.get(HELD, "{}")).values():
                content = base64.b64decode(data)
                self.files[hashlib.sha256(content).hexdigest()] = content
        for element in root.iter(SVG + "image"):
            source = element.get("href") or element.get(XLINK + "href") or ""
            if ";base64," in source:
                content = base64.b64decode(source.partition(";base64,")[2])
                self.files[hashlib.sha256(content).hexdigest()] = content

    @staticmethod
    def layer(element: ET.Element) -> Layer | None:
        """The layer an element was written from, its drawing unchanged since; None when it was changed, or never was one."""
        if element.get(DRAWN) != drawing_hash(element):
            return None
        try:
            return _LAYER.validate_python(json.loads(element.get(LAYER, "")))
        except (ValueError, ValidationError):
            return None

    @staticmethod
    def group(element: ET.Element, layers: tuple[Layer, ...]) -> Group | None:
        """The group an element was written from, with what lies in it now."""
        try:
            fields = json.loads(element.get(LAYER, ""))
            return Group.model_validate({**fields, "layers": layers}) if fields.get("kind") == "group" else None
        except (ValueError, ValidationError, AttributeError):
            return None
