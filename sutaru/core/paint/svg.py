"""SVG drawings from outside: read into a tree of what is known to be drawn here, and drawn from that tree alone.

What is kept: plain shapes, groups, gradients, clips and markers, by SVG 1.1 (Second Edition) presentation attributes. What
would be drawn otherwise than meant is refused when the drawing is read. The tree is never joined from strings.
"""

import copy
import math
import re
import time
import xml.etree.ElementTree as ET

import numpy as np
import pyvips
from numpy.typing import NDArray

from .. import limits
from ..errors import FileRefused
from ..geometry.matrices import Matrix
from ..remembering import remember
from .grid import Box

SVG, XLINK = "{http://www.w3.org/2000/svg}", "{http://www.w3.org/1999/xlink}"
MAX_ELEMENTS, MAX_DEPTH = 20_000, 60
_SAMPLES = 64, 192  # px along the sides of the two pictures by which a drawing's time is told
_ALWAYS = 512 * 512  # px: so much is drawn whatever it costs
SHAPES = {"path", "rect", "circle", "ellipse", "line", "polyline", "polygon"}
DRAWN = {*SHAPES, "g", "defs", "linearGradient", "radialGradient", "stop", "clipPath", "marker", "use", "title",
         "desc"}  # fmt: skip
PRESENTATION = {
    "clip-path", "clip-rule", "color", "display", "fill", "fill-opacity", "fill-rule", "marker-end", "marker-mid",
    "marker-start", "opacity", "paint-order", "stop-color",
    "stop-opacity", "stroke", "stroke-dasharray", "stroke-dashoffset", "stroke-linecap", "stroke-linejoin",
    "stroke-miterlimit", "stroke-opacity", "stroke-width", "visibility",
}  # fmt: skip
OWN = {
    "id", "transform", "d", "points", "x", "y", "width", "height", "cx", "cy", "r", "rx", "ry", "x1", "y1", "x2", "y2",
    "fx", "fy", "offset", "gradientUnits", "gradientTransform", "spreadMethod", "clipPathUnits", "pathLength", "href",
}  # fmt: skip
MARKER = {
    "viewBox",
    "preserveAspectRatio",
    "refX",
    "refY",
    "markerWidth",
    "markerHeight",
    "markerUnits",
    "orient",
    "overflow",
}
LENGTHS = {"x", "y", "width", "height", "cx", "cy", "r", "rx", "ry", "x1", "y1", "x2", "y2", "stroke-width"}
# What other programs write that changes nothing of plain shapes: text and how finely to draw.
HARMLESS = re.compile(
    r"-.*|font.*|text-.*|line-.*|letter-.*|word-.*|writing-mode|direction|dominant-baseline|baseline-shift|white-space"
    r"|cursor|pointer-events|shape-rendering|color-rendering|image-rendering|color-interpolation.*|color-profile"
    r"|solid-.*|enable-background|overflow|class|style|version|baseProfile|preserveAspectRatio|type|role|focusable"
    r"|tabindex|viewBox|vector-effect|isolation|mix-blend-mode|aria-.*|data-.*|lang|space|base"
)
PLAIN = {"vector-effect": "none", "isolation": "auto", "mix-blend-mode": "normal"}
LOCAL_URL = re.compile(r"url\(\s*['\"]?#[\w.:-]+['\"]?\s*\)")


def is_svg(data: bytes) -> bool:
    """Whether a file's first 64 kB begin an SVG, whatever prefix its elements have."""
    head = data[:65536]
    text = head.decode("utf-16", "ignore") if head[:2] in (b"\xff\xfe", b"\xfe\xff") else head.decode("latin-1")
    begins = text.lstrip("\ufeff\u00ef\u00bb\u00bf \t\r\n").startswith("<")
    return begins and re.search(r"<([\w.-]+:)?svg[\s>/]", text) is not None


@remember
def clean_svg(svg: str | bytes) -> bytes:
    """An SVG drawing from outside, made safe: the tree of what is drawn here, as SVG again. Raises FileRefused."""
    return ET.tostring(_read(svg))


def _read(svg: str | bytes) -> ET.Element:
    text = svg.decode("utf-8", "replace") if isinstance(svg, bytes) else svg
    if "<!DOCTYPE" in text or "<!ENTITY" in text:
        raise FileRefused("This SVG declares a document type.", "Save it as plain SVG.")
    try:
        root = ET.fromstring(text)
    except ET.ParseError as error:
        raise FileRefused(f"This SVG is not well-formed ({error}).", "Save it again as plain SVG.") from None
    if root.tag != SVG + "svg":
        raise FileRefused("This is not an SVG.", "Save it as plain SVG.")
    if sum(1 for _ in root.iter()) > MAX_ELEMENTS:
        raise FileRefused(f"This SVG has more than {MAX_ELEMENTS:,} parts.", "Make it simpler.")
    for prefix, space in (("", SVG), ("xlink", XLINK)):
        ET.register_namespace(prefix, space[1:-1])
    left, top, width, height = _view_box(root)
    clean = ET.Element(SVG + "svg", {"viewBox": f"{left:.9g} {top:.9g} {width:.9g} {height:.9g}"})
    clean.attrib |= _attributes(root, "svg")
    _children(root, clean, 1)
    return clean


def _view_box(root: ET.Element) -> tuple[float, float, float, float]:
    box_text = root.get("viewBox")
    if box_text is None:
        raise FileRefused("This SVG has no viewBox.", "Save it as plain SVG with a viewBox.")
    try:
        left, top, width, height = (float(v) for v in box_text.replace(",", " ").split())
    except ValueError:
        raise FileRefused("The viewBox of this SVG is not four numbers.", "Save it again as plain SVG.") from None
    if not all(map(math.isfinite, (left, top, width, height))) or min(width, height) <= 0:
        raise FileRefused("The viewBox of this SVG is empty.", "Draw something and save it again.")
    return left, top, width, height


def _children(source: ET.Element, onto: ET.Element, depth: int) -> None:
    if depth > MAX_DEPTH:
        raise FileRefused(f"The groups of this SVG lie more than {MAX_DEPTH} deep in each other.", "Take some apart.")
    for child in source:
        if not isinstance(child.tag, str) or not child.tag.startswith(SVG):
            continue  # a comment, or what some program keeps for itself
        name = child.tag.removeprefix(SVG)
        if name == "metadata":
            continue
        if name not in DRAWN:
            raise FileRefused(
                f"This SVG holds a <{name}>, which is not drawn here.",
                "Turn text into paths and leave pictures, filters and style sheets out.",
            )
        fresh = ET.SubElement(onto, child.tag, _attributes(child, name))
        _children(child, fresh, depth + 1)


def _attributes(element: ET.Element, name: str) -> dict[str, str]:
    """What is kept of an element's attributes. A declaration of its ``style`` counts before the attribute of its name."""
    attributes: dict[str, str] = {}
    for key, value in element.attrib.items():
        if key.startswith("{") and not key.startswith((SVG, XLINK)):
            continue
        local = key.rsplit("}", 1)[-1]
        if name == "svg" and local in ("width", "height", "x", "y", "id", "color"):
            continue  # it is laid into the ornament's own box, in the ornament's colour
        attributes |= _keep_attribute(name, local, value.strip(), key)
    for declaration in element.get("style", "").split(";"):
        local, _, value = declaration.partition(":")
        if value:
            attributes |= _keep_attribute(name, local.strip(), value.replace("!important", "").strip(), local.strip())
    return attributes


def _keep_attribute(name: str, local: str, value: str, key: str) -> dict[str, str]:
    if local.lower().startswith("on"):
        return {}
    if local in PLAIN and value != PLAIN[local]:
        raise FileRefused(f"This SVG asks for {local}: {value}, which is not drawn here.", "Save it without.")
    if local == "href":
        return {key: value} if value.startswith("#") else {}
    if local in PRESENTATION | OWN or (name == "marker" and local in MARKER):
        if "url(" in value and not LOCAL_URL.fullmatch(value):
            return {}  # something outside the drawing
        if local in LENGTHS and value.endswith("%") and not name.endswith("Gradient"):
            raise FileRefused("This SVG gives lengths as percentages.", "Save it with lengths in its own units.")
        return {local: value}
    if HARMLESS.fullmatch(local) or value == "none":
        return {}
    raise FileRefused(f"This SVG asks for {local}, which is not drawn here.", "Save it without.")


def drawing_ratio(svg: bytes) -> float:
    """Width / height of a drawing. Raises FileRefused."""
    _, _, width, height = _view_box(ET.fromstring(svg))
    return width / height


def drawing(svg: bytes, colour: str, px_from_box: Matrix, width: float, height: float, box: Box) -> NDArray[np.uint8]:
    """An SVG drawn into ``box`` as straight RGBA, shape (h, w, 4). Raises FileRefused.

    The drawing fills a ``width`` x ``height`` box centred on the origin of the plane that ``px_from_box`` (affine) maps.
    """
    x0, y0, x1, y1 = box
    pixels = (x1 - x0) * (y1 - y0)
    if pixels > _ALWAYS and seconds_per_pixel(svg) * pixels > limits.DRAWING_SECONDS:
        raise FileRefused(
            f"An ornament takes longer than {limits.DRAWING_SECONDS:g} s to draw.", "Make it simpler, or take it away."
        )
    return _draw_box(svg, colour, px_from_box, width, height, box)


@remember
def seconds_per_pixel(svg: bytes) -> float:
    """What each pixel of a drawing costs, about: librsvg cannot be asked to stop, so that is known before it begins. By two
    sizes, since reading the drawing costs the same at any; of wall and processor time the lesser, the machine being busy."""

    def time_drawing(side: int) -> float:
        wall, cpu = time.perf_counter(), time.process_time()
        place = np.array([[side, 0, side / 2], [0, side, side / 2], [0, 0, 1.0]])
        _draw_box(svg, "#000000", place, 1.0, 1.0, (0, 0, side, side))
        return min(time.perf_counter() - wall, time.process_time() - cpu)

    return max(0.0, (time_drawing(_SAMPLES[1]) - time_drawing(_SAMPLES[0])) / (_SAMPLES[1] ** 2 - _SAMPLES[0] ** 2))


def _draw_box(svg: bytes, colour: str, px_from_box: Matrix, width: float, height: float, box: Box) -> NDArray[np.uint8]:
    x0, y0, x1, y1 = box
    root = copy.deepcopy(_read(svg))
    left, top, wide, high = _view_box(root)
    (a, c, e), (b, d, f) = px_from_box[0], px_from_box[1]
    kx, ky = width / wide, height / high
    # One affine map from the drawing's own units straight to the pixels of this box.
    tx = e - x0 + a * (-width / 2 - left * kx) + c * (-height / 2 - top * ky)
    ty = f - y0 + b * (-width / 2 - left * kx) + d * (-height / 2 - top * ky)
    placed = ",".join(f"{v:.12g}" for v in (a * kx, b * kx, c * ky, d * ky, tx, ty))
    whole = ET.Element(SVG + "svg", {"width": str(x1 - x0), "height": str(y1 - y0), "color": colour})
    group = ET.SubElement(whole, SVG + "g", {k: v for k, v in root.attrib.items() if k in PRESENTATION})
    inner = ET.SubElement(group, SVG + "g", {"transform": f"matrix({placed})"})
    inner.extend(root)
    try:
        return np.ascontiguousarray(pyvips.Image.svgload_buffer(ET.tostring(whole), unlimited=True).numpy())
    except pyvips.Error as error:
        raise FileRefused(f"An ornament's SVG cannot be drawn ({error}).") from None
