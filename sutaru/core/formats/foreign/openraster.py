"""OpenRaster files: layers with names, places, opacity, operators and groups become overlays; those named so, openings.

After the OpenRaster file layout and layer stack specifications, version 0.0.5.
"""

import io
import re
import xml.etree.ElementTree as ET
import zipfile
import zlib
from typing import get_args

import numpy as np
from PIL import Image

from ... import limits
from ...document import Group, Layer, Layout, Opening, Overlay, Sheet
from ...document.layers import Blend
from ...document.layout import DEEPEST
from ...errors import FileRefused
from ..flat.areas import regions
from ..flat.shapes import recognise_shape
from .read_result import Read, name_of, pixels_of

MOST_LAYERS = 300
OPENING = re.compile(r"(opening|photo)\b", re.IGNORECASE)
_BLENDS = {f"svg:{name}": name for name in get_args(Blend)} | {"svg:src-over": "normal"}
_FLAT = 6  # values off one colour that a flat layer may be


def read_openraster(data: bytes, name: str, areas: str = "") -> Read:
    """Its layers as a sheet. Openings are layers called "opening ..." or "photo ..."; with ``areas`` "flat", all that
    have one colour; with a colour, those of that colour. Raises FileRefused."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            if packed.read("mimetype").strip() != b"image/openraster":
                raise KeyError("mimetype")
            if packed.getinfo("stack.xml").file_size > 4 << 20:
                raise FileRefused(f"{name} says too much of its layers.", "Save it with fewer.")
            text = packed.read("stack.xml")
            if b"<!" in text.replace(b"<!--", b""):
                raise FileRefused(f"The list of layers of {name} declares a document type.", "Save it anew.")
            return _Stack(packed, ET.fromstring(text), name, areas).read()
    except FileRefused:
        raise
    except (KeyError, OSError, ValueError, RuntimeError, NotImplementedError, zipfile.BadZipFile, zlib.error,
            ET.ParseError, EOFError, SyntaxError, Image.DecompressionBombError) as error:  # fmt: skip
        raise FileRefused(f"{name} is not an OpenRaster file that can be read.", "Save it anew.") from error


class _Stack:
    def __init__(self, packed: zipfile.ZipFile, image: ET.Element, name: str, areas: str) -> None:
        self._packed, self._image, self._name, self._areas = packed, image, name, areas
        self._files: dict[str, bytes] = {}
        self._notes: list[str] = []
        self._count = 0
        wide, high = int(image.get("w", "0")), int(image.get("h", "0"))
        if not (0 < wide <= 60_000 and 0 < high <= 60_000):
            raise FileRefused(f"{name} does not say how large it is.", "Save it anew.")
        ppi = [float(image.get(key, "0") or 0) for key in ("xres", "yres")]
        self._mm = tuple(25.4 / (value if 30 <= value <= 2400 else 300.0) for value in ppi)
        self._size = wide * self._mm[0], high * self._mm[1]

    def read(self) -> Read:
        stack = self._image.find("stack")
        layers = self._layers(stack, 0, 1.0) if stack is not None else ()
        if not layers:
            raise FileRefused(f"{self._name} has no layers.", "Save it anew.")
        width, height = (round(side, 6) for side in self._size)
        layout = Layout(width_mm=width, height_mm=height, bleed_mm=0.0, layers=layers)
        count = len(layout.openings_by_id)
        if not count:
            self._notes.append('No layer is called "opening": name those that are, or draw openings in the workshop.')
        return Read((Sheet(id="sheet", name="Sheet", layout=layout),), self._files, tuple(self._notes),
                    "flat layers" if self._areas else "names")  # fmt: skip

    def _layers(self, stack: ET.Element, depth: int, opacity: float) -> tuple[Layer, ...]:
        """Layers of a stack, bottom to top: a file lists the uppermost first."""
        layers: list[Layer] = []
        for element in reversed(list(stack)):
            if element.tag not in ("stack", "layer"):
                continue
            self._count += 1
            if self._count > MOST_LAYERS:
                raise FileRefused(f"{self._name} has more than {MOST_LAYERS} layers.", "Merge some of them.")
            if element.tag == "layer":
                layers += self._layer(element, opacity)
                continue
            opacity_here = opacity * _opacity(element)
            if element.get("composite-op", "svg:src-over") != "svg:src-over":
                self._notes.append(
                    f"The group {_layer_name(element)} is laid by an operator of its own: it is laid plainly."
                )
            if opacity_here < opacity:
                self._notes.append(f"The group {_layer_name(element)} is faint: each of its layers became so.")
            inner = self._layers(element, depth + 1, opacity_here)
            if depth + 1 >= DEEPEST:
                layers += inner
            else:
                layers.append(Group(id=self._id("group"), name=_layer_name(element)[:120], layers=inner,
                                   visible=element.get("visibility", "visible") != "hidden"))  # fmt: skip
        return tuple(layers)

    def _id(self, stem: str) -> str:
        return f"{stem}-{self._count}"

    def _layer(self, element: ET.Element, opacity: float) -> list[Layer]:
        called, source = _layer_name(element), element.get("src", "")
        if not source.lower().endswith(".png"):
            self._notes.append(f"The layer {called} is no PNG and was left out.")
            return []
        if self._packed.getinfo(source).file_size > limits.OVERLAY_BYTES:
            raise FileRefused(f"The layer {called} of {self._name} is too large.", "Make it smaller.")
        data = self._packed.read(source)
        with Image.open(io.BytesIO(data), formats=("PNG",)) as picture:
            wide, high = picture.size
        if wide * high > limits.OVERLAY_PIXELS:
            raise FileRefused(f"The layer {called} of {self._name} has too many pixels.", "Make it smaller.")
        x, y = (int(float(element.get(key, "0"))) for key in ("x", "y"))
        visible = element.get("visibility", "visible") != "hidden"
        if openings := self._openings(called, data, x, y, visible):
            return openings
        operator = element.get("composite-op", "svg:src-over")
        if operator not in _BLENDS:
            self._notes.append(
                f"The layer {called} is laid by {operator}, which is not known here: it is laid plainly."
            )
        mx, my = self._mm
        self._files[name_of(data)] = data
        # Lengths keep nine digits, so that a pixel of the file is a pixel of the sheet.
        return [Overlay(
            id=self._id("layer"), name=called[:120], asset=name_of(data), visible=visible,
            opacity=round(opacity * _opacity(element), 6), blend=_BLENDS.get(operator, "normal"),
            centre=(round((x + wide / 2) * mx, 9), round((y + high / 2) * my, 9)),
            width_mm=round(wide * mx, 9), height_mm=round(high * my, 9),
        )]  # fmt: skip

    def _openings(self, called: str, data: bytes, x: int, y: int, visible: bool) -> list[Layer]:
        named = OPENING.match(called)
        if not named and not self._areas:
            return []
        pixels = pixels_of(data)
        opaque = pixels[..., 3] > 127
        if not opaque.any():
            return []
        if not named:
            colours = pixels[opaque][:, :3].astype(np.int16)
            middle = np.median(colours, axis=0)
            meant = self._areas in ("flat", "#" + bytes(int(v) for v in middle).hex())
            if not meant or np.abs(colours - middle).max() > _FLAT:
                return []
        cover = np.pad(pixels[..., 3].astype(np.float32) / np.float32(255), 2)
        layers: list[Layer] = []
        for part, origin in regions(cover, True):
            shape = recognise_shape(part, (origin[0] + x - 2, origin[1] + y - 2), (self._mm[0], self._mm[1]))
            self._files |= shape.files
            opening: Opening = shape.opening
            layers.append(
                opening.copy_with(id=f"opening-{self._count}-{len(layers) + 1}", name=called[:120], visible=visible)
            )
        return layers


def _layer_name(element: ET.Element) -> str:
    return element.get("name", "").strip() or "without a name"


def _opacity(element: ET.Element) -> float:
    return min(1.0, max(0.0, float(element.get("opacity", "1"))))
