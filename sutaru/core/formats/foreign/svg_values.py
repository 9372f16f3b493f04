"""Values of an SVG: lengths, transforms, shapes as paths, and what is meant for a reader of English."""

import re
import xml.etree.ElementTree as ET

from ...geometry import outlines
from ...geometry.matrices import Matrix
from ...geometry.svg_transforms import matrix_of, numbers
from ...paint.svg import SVG

_PX = {"px": 1.0, "": 1.0, "in": 96.0, "cm": 96 / 2.54, "mm": 96 / 25.4, "q": 96 / 101.6, "pt": 96 / 72, "pc": 16.0}


_LENGTH = re.compile(r"\s*([-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?)\s*([a-zA-Z%]*)\s*")


def units(text: str, em: float = 16.0) -> float:
    """A length in px (user units); a percentage or what is no length counts as 0."""
    match = _LENGTH.fullmatch(text or "0")
    if not match:
        return 0.0
    unit = match[2].lower()
    return float(match[1]) * (em if unit == "em" else em / 2 if unit == "ex" else _PX.get(unit, 0.0))


def transform_of(element: ET.Element) -> Matrix:
    """An element's own transform."""
    return matrix_of(element.get("transform", ""))


def path_of(element: ET.Element, style: dict[str, str]) -> str:
    """A shape as path data in its own units."""
    name = element.tag.removeprefix(SVG)
    if name == "path":
        return style.get("d", "")
    if name in ("polygon", "polyline"):
        points = numbers(style.get("points", ""))
        return outlines.polygon(list(zip(points[::2], points[1::2], strict=False))) if len(points) >= 6 else ""
    get = {key: units(style.get(key, "0")) for key in ("x", "y", "width", "height", "cx", "cy", "r")}
    if name == "rect":
        x, y, w, h = get["x"], get["y"], get["width"], get["height"]
        rh, rv = corner_radii(style)
        rh, rv = min(rh, w / 2), min(rv, h / 2)
        if rh <= 0 or rv <= 0:
            return f"M{x} {y}H{x + w}V{y + h}H{x}Z"
        arc = f"A{rh} {rv} 0 0 1"
        return (f"M{x + rh} {y}H{x + w - rh}{arc} {x + w} {y + rv}V{y + h - rv}{arc} {x + w - rh} {y + h}"
                f"H{x + rh}{arc} {x} {y + h - rv}V{y + rv}{arc} {x + rh} {y}Z")  # fmt: skip
    if name in ("circle", "ellipse"):
        rx, ry = radii(name, style)
        x, y = get["cx"], get["cy"]
        return f"M{x - rx} {y}A{rx} {ry} 0 0 1 {x + rx} {y}A{rx} {ry} 0 0 1 {x - rx} {y}Z"
    return ""


def corner_radii(style: dict[str, str]) -> tuple[float, float]:
    """A rectangle's rounding: where one is not said, it is as the other (SVG 1.1, 9.2)."""
    rx, ry = style.get("rx"), style.get("ry")
    return units(rx if rx is not None else ry or "0"), units(ry if ry is not None else rx or "0")


def radii(name: str, style: dict[str, str]) -> tuple[float, float]:
    keys = ("r", "r") if name == "circle" else ("rx", "ry")
    return units(style.get(keys[0], "0")), units(style.get(keys[1], "0"))


def _is_for_us(element: ET.Element) -> bool:
    """Whether an element's conditions hold (SVG 1.1, 5.8): it asks for no extension, and for English where it asks for a
    language."""
    if element.get("requiredExtensions") is not None:
        return False
    languages = element.get("systemLanguage")
    return languages is None or any(language.strip().split("-")[0].lower() == "en" for language in languages.split(","))
