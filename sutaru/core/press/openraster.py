"""A sheet as OpenRaster, every layer whole: each photo warped and clipped on a layer of its own, to go on with elsewhere.

After the OpenRaster file layout and layer stack specifications, version 0.0.5. Operators are named as the
specification names them. Laid on one another the layers are what is printed, within rounding.
"""

import xml.etree.ElementTree as ET
import zipfile
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import cv2
import numpy as np
import pyvips
from numpy.typing import NDArray

from ..colour.profiles import profile_bytes
from ..document import Background, Group, Layer, Layout, Leaf, Opening
from ..document.lab import Space
from ..errors import ExportFailed
from ..paint import Item, Painter, PixelGrid, extent
from .files import write_whole

_THUMBNAIL = 256  # px at most, says the specification


def write(
    target: Path, layout: Layout, layers: list[Item], painter: Painter, grid: PixelGrid, profile: Space,
    transparent: bool = False, step: Callable[[int, int], None] = lambda done, total: None,
) -> None:  # fmt: skip
    """Writes a sheet's items, as ``items`` gives them. Raises ExportFailed when it does not read back, and what painting does."""
    icc = profile_bytes(profile)
    width, height = grid.size
    image = ET.Element("image", {
        "version": "0.0.5", "w": str(width), "h": str(height), "xres": f"{grid.ppi:g}", "yres": f"{grid.ppi:g}",
    })  # fmt: skip
    stack = ET.SubElement(image, "stack")
    by_id = {item.layer.id: item for item in layers}
    with write_whole(target, _check) as file, zipfile.ZipFile(file, "w", zipfile.ZIP_STORED) as packed:
        packed.writestr("mimetype", "image/openraster")
        merged, alpha = painter.render(layers, grid, transparent=transparent)
        seen = np.dstack([merged, alpha]) if alpha is not None else merged
        packed.writestr("mergedimage.png", _png(seen, icc, grid.ppi))
        packed.writestr("Thumbnails/thumbnail.png", _png(_shrink_thumbnail(seen), None, grid.ppi))
        step(1, len(layers) + 1)
        writer = _Stack(packed, painter, grid, icc, by_id, step)
        if not transparent and not any(isinstance(item.layer, Background) for item in layers):
            paper = np.full((height, width, 3), 255, np.uint8)
            writer.add_layer(stack, "Paper", paper, (0, 0), {})
        writer.layers(layout.layers, stack)
        # The file lists the uppermost first.
        for element in image.iter("stack"):
            element[:] = list(element)[::-1]
        packed.writestr("stack.xml", b'<?xml version="1.0" encoding="UTF-8"?>\n' + ET.tostring(image))


class _Stack:
    def __init__(
        self, packed: zipfile.ZipFile, painter: Painter, grid: PixelGrid, icc: bytes, by_id: dict[str, Item],
        step: Callable[[int, int], None],
    ) -> None:  # fmt: skip
        self._packed, self._painter, self._grid, self._icc = packed, painter, grid, icc
        self._by_id, self._step, self._count = by_id, step, 0

    def layers(self, layers: tuple[Layer, ...], onto: ET.Element) -> None:
        """Layers of a sheet's tree, bottom to top."""
        for layer in layers:
            if isinstance(layer, Group):
                inner = ET.Element("stack", {"name": layer.name or "Group"})
                self.layers(layer.layers, inner)
                if len(inner):
                    onto.append(inner)
            elif layer.id in self._by_id:
                self._layer(self._by_id[layer.id], onto)

    def _layer(self, item: Item, onto: ET.Element) -> None:
        layer = item.layer
        # What is made of one piece stays opaque here, and the stack says how faint it lies.
        apart = not isinstance(layer, Opening)
        shown = replace(item, layer=layer.copy_with(opacity=1.0 if apart else layer.opacity, blend="normal"))
        box = extent(shown, self._grid)
        if box is None:
            return
        rgb, alpha = self._painter.render([shown], self._grid, box, transparent=True)
        assert alpha is not None
        fields = {"opacity": f"{layer.opacity:g}"} if apart and layer.opacity < 1 else {}
        if layer.blend != "normal":
            fields["composite-op"] = f"svg:{layer.blend}"
        self.add_layer(onto, _layer_name(layer, item.number), np.dstack([rgb, alpha]), (box[0], box[1]), fields)
        self._step(self._count + 1, len(self._by_id) + 1)

    def add_layer(
        self, onto: ET.Element, name: str, pixels: NDArray[np.uint8], origin: tuple[int, int], fields: dict[str, str]
    ) -> None:
        """One layer's picture into the file."""
        self._count += 1
        source = f"data/layer{self._count:03d}.png"
        self._packed.writestr(source, _png(pixels, self._icc, self._grid.ppi))
        place = {"x": str(origin[0]), "y": str(origin[1])}
        ET.SubElement(onto, "layer", {"name": name, "src": source, **place, "visibility": "visible", **fields})


def _layer_name(layer: Leaf, number: int) -> str:
    return layer.name or (f"{layer.kind} {number}" if number else layer.id)


def _shrink_thumbnail(pixels: NDArray[np.uint8]) -> NDArray[np.uint8]:
    k = min(1.0, _THUMBNAIL / max(pixels.shape[:2]))
    size = max(1, round(pixels.shape[1] * k)), max(1, round(pixels.shape[0] * k))
    return np.asarray(cv2.resize(pixels, size, interpolation=cv2.INTER_AREA), np.uint8)


def _png(pixels: NDArray[np.uint8], icc: bytes | None, ppi: float) -> bytes:
    height, width, channels = pixels.shape
    image = pyvips.Image.new_from_memory(np.ascontiguousarray(pixels).data, width, height, channels, "uchar")
    image = image.copy(interpretation="srgb", xres=ppi / 25.4, yres=ppi / 25.4)
    if icc:
        image.set_type(pyvips.GValue.blob_type, "icc-profile-data", icc)
    return bytes(image.pngsave_buffer(compression=3, filter="sub"))


def _check(path: Path) -> None:
    with zipfile.ZipFile(path) as packed:
        if packed.testzip() is not None or packed.namelist()[0] != "mimetype":
            raise ExportFailed(
                "An OpenRaster file did not read back as written.", "Free some disk space and try again."
            )
