"""Shapes of an SVG as outlines and borders of layers."""

import re
import xml.etree.ElementTree as ET
from typing import Any

import numpy as np
from PIL import ImageColor

from ...document import (
    Border,
    Ellipse,
    Flat,
    Path,
    Rectangle,
)
from ...geometry import outlines
from ...geometry.matrices import Matrix
from ...geometry.svg_transforms import numbers
from ...paint.svg import SVG
from .svg_values import corner_radii, path_of, radii, units


def _number(element: ET.Element, key: str, otherwise: float) -> float:
    figures = numbers(element.get(key, ""))
    return figures[0] if figures else otherwise


def _share(text: str | None) -> float:
    figures = numbers(text or "1")
    value = (figures[0] if figures else 1.0) / (100 if text and text.strip().endswith("%") else 1)
    return min(1.0, max(0.0, value))


def _hex(colour: str) -> str | None:
    """A colour as #rrggbb; None for none, a gradient, or what is no colour."""
    try:
        rgb = ImageColor.getrgb(colour.strip())
    except ValueError:
        return None
    return "#" + bytes(rgb[:3]).hex() if len(rgb) == 3 or rgb[3] == 255 else None


def _border(style: dict[str, str], ctm: Matrix) -> Border | None:
    colour = _hex(style.get("stroke", "none"))
    width = units(style.get("stroke-width", "1")) * float(abs(np.linalg.det(ctm[:2, :2])) ** 0.5)
    return Border(width_mm=min(100.0, round(width, 6)), colour=colour, side="centred") if colour and width > 0 else None


def read_outline(element: ET.Element, ctm: Matrix, style: dict[str, str]) -> tuple[Any, Flat]:
    """A shape's outline in its own plane and how it lies on the page, mm. Exact where it is a rectangle or an ellipse that is
    not skewed. Raises ValueError and GeometryError when it encloses nothing."""
    linear = ctm[:2, :2]
    kx, ky = float(np.hypot(*linear[:, 0])), float(np.hypot(*linear[:, 1]))
    upright = abs(float(linear[:, 0] @ linear[:, 1])) < 1e-9 * max(kx * ky, 1e-30) and np.linalg.det(linear) > 0
    turn = -float(np.degrees(np.arctan2(linear[1, 0], linear[0, 0])))
    name = element.tag.removeprefix(SVG)
    get = {key: units(style.get(key, "0")) for key in ("x", "y", "width", "height", "cx", "cy", "r")}
    if name == "rect":
        rounding = corner_radii(style)
        middle = ctm @ (get["x"] + get["width"] / 2, get["y"] + get["height"] / 2, 1.0)
        r = min(rounding[0], get["width"] / 2) * kx, min(rounding[1], get["height"] / 2) * ky
        if upright and abs(r[0] - r[1]) < 1e-6:
            return (
                Rectangle(width_mm=_mm(get["width"] * kx), height_mm=_mm(get["height"] * ky), radius_mm=_mm(r[0])),
                Flat(centre=(_mm(middle[0]), _mm(middle[1])), turn_deg=_mm(turn)),
            )
    if name in ("circle", "ellipse"):
        rx, ry = radii(name, style)
        middle = ctm @ (get["cx"], get["cy"], 1.0)
        if upright:
            return (
                Ellipse(width_mm=_mm(2 * rx * kx), height_mm=_mm(2 * ry * ky)),
                Flat(centre=(_mm(middle[0]), _mm(middle[1])), turn_deg=_mm(turn)),
            )
    return _path(outlines.map_path(path_of(element, style), ctm), style)


def _path(d: str, style: dict[str, str]) -> tuple[Any, Flat]:
    """Path data on the page about its own middle; a rectangle drawn as four lines is one again."""
    polygons = outlines.flatten(d, 0.005)
    rule: Any = "evenodd" if style.get("fill-rule") == "evenodd" else "nonzero"
    if not re.search("[CcQqAaSsTt]", d) and len(polygons) == 1 and (rectangle := _rectangle(polygons[0])) is not None:
        return rectangle
    x0, y0, x1, y1 = outlines.bounds(polygons)
    x, y = _mm((x0 + x1) / 2), _mm((y0 + y1) / 2)
    moved = outlines.map_path(d, np.array([[1.0, 0, -x], [0, 1, -y], [0, 0, 1]]))
    return Path(d=moved, rule=rule), Flat(centre=(x, y))


def _rectangle(points: Any) -> tuple[Rectangle, Flat] | None:
    if len(points) == 5 and np.allclose(points[0], points[4]):
        points = points[:4]
    if len(points) != 4:
        return None
    a, b = points[1] - points[0], points[3] - points[0]
    wide, high = float(np.hypot(*a)), float(np.hypot(*b))
    if min(wide, high) <= 0 or abs(a @ b) > 1e-5 * wide * high:
        return None
    if not np.allclose(points[2], points[0] + a + b, atol=1e-4) or a[0] * b[1] - a[1] * b[0] <= 0:
        return None
    turn = -float(np.degrees(np.arctan2(a[1], a[0])))
    if abs(turn) % 90 < 1e-6 and round(abs(turn) / 90) % 2:
        wide, high, turn = high, wide, 0.0
    middle = points.mean(axis=0)
    turn = 0.0 if abs(turn) % 180 < 1e-6 else _mm(turn)
    return Rectangle(width_mm=_mm(wide), height_mm=_mm(high)), Flat(
        centre=(_mm(middle[0]), _mm(middle[1])), turn_deg=turn
    )


def _mm(value: float) -> float:
    return round(float(value), 6) + 0.0
