"""Vectors to pixels: coverage masks of paths, strokes, and SVG drawings, by librsvg through pyvips.

Curves are flattened first (librsvg's own flattening is coarser); only the box that is asked for is rendered.
Coordinates are page px: the page's pixel grid, its origin at the top left of the bleed box.
"""

import re
import xml.etree.ElementTree as ET
from functools import lru_cache

import numpy as np
import pyvips
from numpy.typing import NDArray

from ..errors import FileRefused
from ..geometry.matrices import Matrix, Points, apply
from ..geometry.outlines import flatten
from .blending import Bytes
from .grid import Box

_SVG = "{http://www.w3.org/2000/svg}"
_DRAWN = {
    "svg", "g", "defs", "path", "rect", "circle", "ellipse", "line", "polyline", "polygon", "linearGradient",
    "radialGradient", "stop", "clipPath", "use", "title", "desc",
}  # fmt: skip
_SAFE_URL = re.compile(r"url\(\s*#[\w-]+\s*\)")


def transformed(path_data: str, px_from_path: Matrix, scale: float) -> list[Points]:
    """Polygons of a path in px, flattened to 0.02 px at ``scale`` px per path unit."""
    return [apply(px_from_path, polygon) for polygon in flatten(path_data, 0.02 / scale)]


def _path(polygons: list[Points], x: float, y: float) -> str:
    return "".join("M" + " ".join(f"{px:.3f},{py:.3f}" for px, py in (p - (x, y)).tolist()) + "Z" for p in polygons)


def _alpha(body: str, width: int, height: int) -> Bytes:
    svg = f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}" height="{height}">{body}</svg>'
    return np.ascontiguousarray(pyvips.Image.svgload_buffer(svg.encode(), unlimited=True)[3].numpy())


def coverage(polygons: list[Points], box: Box) -> Bytes:
    """Share of each pixel of ``box`` (x0, y0, x1, y1) that the polygons cover, 0 to 255, non-zero winding."""
    x0, y0, x1, y1 = box
    return _alpha(f'<path d="{_path(polygons, x0, y0)}"/>', x1 - x0, y1 - y0)


def rectangle_coverage(left: float, top: float, right: float, bottom: float, box: Box) -> Bytes:
    """Exact coverage of an upright rectangle: the outer product of its coverage along x and along y."""
    x0, y0, x1, y1 = box

    def along(low: float, high: float, start: int, end: int) -> NDArray[np.float32]:
        at = np.arange(start, end, dtype=np.float64)
        return np.clip(np.minimum(at + 1, high) - np.maximum(at, low), 0.0, 1.0).astype(np.float32)

    down, across = along(top, bottom, y0, y1), along(left, right, x0, x1)
    mask = np.empty((y1 - y0, x1 - x0), np.uint8)
    whole = np.rint(across * 255).astype(np.uint8)
    mask[:] = whole
    for row in np.flatnonzero(down < 1):
        mask[row] = np.rint(across * down[row] * 255)
    return mask


@lru_cache(maxsize=256)
def cleaned_svg(svg: str | bytes) -> bytes:
    """An SVG drawing from outside, made safe. Raises FileRefused.

    Only plain drawing elements stay. Scripts, styles, text (it would need fonts of this machine), pictures, foreign
    content, event handlers and every reference outside the drawing are refused or dropped.
    """
    if isinstance(svg, bytes):
        svg = svg.decode("utf-8", "replace")
    if "<!DOCTYPE" in svg or "<!ENTITY" in svg:
        raise FileRefused("This SVG declares a document type.", "Save it as plain SVG.")
    try:
        root = ET.fromstring(svg)
    except ET.ParseError as error:
        raise FileRefused(f"This SVG is not well-formed ({error}).", "Save it again as plain SVG.") from None
    if root.tag != _SVG + "svg" or "viewBox" not in root.attrib:
        raise FileRefused("This is not an SVG with a viewBox.", "Save it as plain SVG with a viewBox.")
    for element in root.iter():
        for child in list(element):
            if not isinstance(child.tag, str) or not child.tag.startswith(_SVG):
                element.remove(child)
            elif child.tag.removeprefix(_SVG) not in _DRAWN:
                raise FileRefused(
                    f"This SVG holds a <{child.tag.removeprefix(_SVG)}>, which is not drawn here.",
                    "Turn text into paths and leave pictures and styles out.",
                )
        for key, value in list(element.attrib.items()):
            local = key.rsplit("}", 1)[-1].lower()
            outside = "url(" in value and not _SAFE_URL.fullmatch(value.strip())
            if local.startswith("on") or outside or (local == "href" and not value.startswith("#")) or local == "style":
                del element.attrib[key]
    ET.register_namespace("", _SVG[1:-1])
    return ET.tostring(root)


def drawing(svg: bytes, colour: str, px_from_box: Matrix, width: float, height: float, box: Box) -> NDArray[np.uint8]:
    """An SVG drawn into ``box`` as straight RGBA, shape (h, w, 4).

    The drawing fills a ``width`` x ``height`` box centred on the origin of the plane that ``px_from_box`` (affine) maps.
    """
    x0, y0, x1, y1 = box
    root = ET.fromstring(cleaned_svg(svg))
    left, top, wide, high = (float(v) for v in root.attrib["viewBox"].replace(",", " ").split())
    for name in ("width", "height", "x", "y"):
        root.attrib.pop(name, None)
    (a, c, e), (b, d, f) = px_from_box[0], px_from_box[1]
    kx, ky = width / wide, height / high
    # One affine map from the drawing's own units straight to the pixels of this box.
    matrix = (a * kx, b * kx, c * ky, d * ky)
    tx = e - x0 + a * (-width / 2 - left * kx) + c * (-height / 2 - top * ky)
    ty = f - y0 + b * (-width / 2 - left * kx) + d * (-height / 2 - top * ky)
    inner = "".join(ET.tostring(child, encoding="unicode") for child in root)
    attributes = " ".join(
        f'{key}="{value}"' for key, value in root.attrib.items() if key in ("fill", "stroke", "stroke-width", "opacity")
    )
    placed = ",".join(f"{v:.12g}" for v in (*matrix, tx, ty))
    whole = (
        f'<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="{x1 - x0}" '
        f'height="{y1 - y0}" color="{colour}"><g transform="matrix({placed})" {attributes}>{inner}</g></svg>'
    )
    try:
        return np.ascontiguousarray(pyvips.Image.svgload_buffer(whole.encode(), unlimited=True).numpy())
    except pyvips.Error as error:
        raise FileRefused(f"An ornament's SVG cannot be drawn ({error}).") from None
