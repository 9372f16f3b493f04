"""Ornaments as vectors: an SVG drawing of plain shapes as PDF path operators (ISO 32000-1, 8.5). One that needs more than plain
shapes in one colour each (gradients, clips, what can be seen through) stays a picture.
"""

import math
import xml.etree.ElementTree as ET
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from fontTools.svgLib.path import parse_path
from fontTools.svgLib.path.shapes import PathBuilder
from PIL import ImageColor

from ..document import Ornament
from ..geometry.matrices import Matrix, scaling, translation
from ..geometry.svg_transforms import matrix_of
from ..paint.svg import PRESENTATION, SHAPES, SVG, clean_svg
from ..remembering import remember
from .operators import Operators

_PLAIN = {
    "fill": "#000000", "stroke": "none", "fill-rule": "nonzero", "stroke-width": "1", "stroke-linecap": "butt",
    "stroke-linejoin": "miter", "stroke-miterlimit": "4", "stroke-dasharray": "none", "stroke-dashoffset": "0",
}  # fmt: skip
_INHERITED = {*_PLAIN, "visibility"}
_CAPS, _JOINS = {"butt": 0, "round": 1, "square": 2}, {"miter": 0, "round": 1, "bevel": 2}
_ONE = ("opacity", "fill-opacity", "stroke-opacity")


class _NotPlain(Exception):
    """A drawing that is more than plain shapes."""


@dataclass(frozen=True)
class Shape:
    """A shape of a drawing: path data and the map from it to the drawing's units; "" for no fill or no stroke."""

    path: str
    matrix: tuple[float, float, float, float, float, float]
    fill: str
    even_odd: bool
    stroke: str
    width: float
    cap: int
    join: int
    miter: float
    dashes: tuple[float, ...]
    offset: float


_MARKERS = ("marker-start", "marker-mid", "marker-end")


@remember
def shapes(svg: bytes, colour: str) -> tuple[tuple[float, float, float, float], tuple[Shape, ...]] | None:
    """A drawing's view box and its shapes, ``colour`` standing in for ``currentColor``; None where it is not plain."""
    root = ET.fromstring(clean_svg(svg))
    left, top, wide, high = (float(v) for v in root.get("viewBox", "").split())
    try:
        return (left, top, wide, high), tuple(_walk_shapes(root, dict(_PLAIN), np.eye(3), colour))
    except (_NotPlain, ValueError):
        return None


def _walk_shapes(element: ET.Element, style: dict[str, str], matrix: Matrix, colour: str) -> Iterator[Shape]:
    name = element.tag.removeprefix(SVG)
    stated = {key: value for key, value in element.attrib.items() if key in PRESENTATION}
    if stated.get("display") == "none" or name in ("title", "desc"):
        return
    if any(float(stated.get(key, "1")) < 1 for key in _ONE) or stated.get("clip-path", "none") != "none":
        raise _NotPlain
    if any(stated.get(key, "none") != "none" for key in _MARKERS) or stated.get("paint-order", "normal") != "normal":
        raise _NotPlain
    if "color" in stated or name not in (*SHAPES, "g", "svg", "defs"):
        raise _NotPlain
    if name == "defs":
        if len(element):
            raise _NotPlain
        return
    style = style | {key: value for key, value in stated.items() if key in _INHERITED and value != "inherit"}
    matrix = matrix @ matrix_of(element.get("transform", ""))
    if name in SHAPES:
        if style.get("visibility", "visible") == "visible":
            yield from _shape(element, style, matrix, colour)
        return
    for child in element:
        yield from _walk_shapes(child, style, matrix, colour)


def _shape(element: ET.Element, style: dict[str, str], matrix: Matrix, colour: str) -> Iterator[Shape]:
    bare = ET.Element(element.tag, {k: v for k, v in element.attrib.items() if k != "transform"})
    builder = PathBuilder()
    if not builder.add_path_from_element(bare) or not builder.paths:
        return
    fill, stroke = _colour(style["fill"], colour), _colour(style["stroke"], colour)
    if element.tag.removeprefix(SVG) == "line":
        fill = ""
    (a, c, e), (b, d, f) = matrix[0].tolist(), matrix[1].tolist()
    scale = math.sqrt(abs(a * d - b * c))
    if stroke and not (math.isclose(math.hypot(a, b), scale, rel_tol=1e-6) and abs(a * c + b * d) < 1e-6 * scale**2):
        raise _NotPlain  # a pen that is no circle
    dashes = [] if style["stroke-dasharray"] == "none" else [
        float(v) * scale for v in style["stroke-dasharray"].replace(",", " ").split()
    ]  # fmt: skip
    if len(dashes) % 2:
        dashes *= 2
    yield Shape(
        builder.paths[0], (a, b, c, d, e, f), fill, style["fill-rule"] == "evenodd", stroke, float(style["stroke-width"]) * scale,
        _CAPS[style["stroke-linecap"]], _JOINS.get(style["stroke-linejoin"], 0), float(style["stroke-miterlimit"]),
        tuple(dashes) if any(dashes) else (), float(style["stroke-dashoffset"]) * scale,
    )  # fmt: skip


def _colour(text: str, current: str) -> str:
    if text == "none" or text == "transparent":
        return ""
    if text.lower() == "currentcolor":
        return current
    if "url(" in text:
        raise _NotPlain
    rgb = ImageColor.getrgb(text)
    if len(rgb) > 3:
        raise _NotPlain
    return "#{:02x}{:02x}{:02x}".format(*rgb[:3])


def is_plain(layer: Ornament, svg: bytes) -> bool:
    """Whether an ornament can be drawn as vectors: it is of plain shapes."""
    return _fit_drawing(layer, svg) is not None


def _fit_drawing(layer: Ornament, svg: bytes) -> tuple[Matrix, tuple[Shape, ...]] | None:
    """The map from a drawing's units to the page, and its shapes."""
    shapes_read = shapes(svg, layer.colour)
    if shapes_read is None:
        return None
    (left, top, wide, high), shapes_here = shapes_read
    kx, ky = layer.width_mm / wide, layer.height_mm / high
    if any(shape.stroke for shape in shapes_here) and not math.isclose(kx, ky, rel_tol=1e-3):
        return None
    into_box = translation(-layer.width_mm / 2, -layer.height_mm / 2) @ scaling(kx, ky) @ translation(-left, -top)
    return layer.page_from_box @ into_box, shapes_here


def operators(layer: Ornament, svg: bytes, points_from_page: Matrix, fill, stroke) -> list[str]:  # type: ignore[no-untyped-def]
    """What paints an ornament. ``fill`` and ``stroke`` give the operator that chooses a colour."""
    fitted = _fit_drawing(layer, svg)
    assert fitted is not None, "only those are drawn that are plain"
    page_from_drawing, drawn = fitted
    whole = points_from_page @ page_from_drawing
    k = math.sqrt(abs(float(np.linalg.det(whole[:2, :2]))))
    content = ["q"]
    for shape in drawn:
        a, b, c, d, e, f = shape.matrix
        pen = Operators(whole @ np.array([[a, c, e], [b, d, f], [0.0, 0.0, 1.0]]))
        parse_path(shape.path, pen)
        if not pen.parts or not (shape.fill or shape.stroke):
            continue
        if shape.fill:
            content += [fill(shape.fill), *pen.parts, "f*" if shape.even_odd else "f"]
        if shape.stroke and shape.width > 0:
            dashes = " ".join(f"{dash * k:.4f}" for dash in shape.dashes)
            content.append(f"{shape.width * k:.4f} w {shape.cap} J {shape.join} j {max(1.0, shape.miter):.4f} M")
            content.append(f"[{dashes}] {shape.offset * k:.4f} d")
            content += [stroke(shape.stroke), *pen.parts, "S"]
    return [*content, "Q"]
