"""What was understood of a file of another program."""

import hashlib
import io
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from ...checks.ledger import places
from ...document import Layout, Overlay, Sheet
from ..flat.flat_picture import FlatRead


@dataclass(frozen=True)
class Read:
    """Sheets, the files they name by sha256, what could not be read (sentences), and how openings were found."""

    sheets: tuple[Sheet, ...]
    files: dict[str, bytes] = field(default_factory=dict)
    notes: tuple[str, ...] = ()
    how: str = ""
    found: tuple[tuple[str, list[list[float]]], ...] = ()

    @property
    def outlines(self) -> list[tuple[str, list[list[float]]]]:
        """Each opening's kind and its outline on the page, mm, by number; of a flat picture as it was found in it."""
        if self.found:
            return list(self.found)
        layouts = [sheet.layout for sheet in self.sheets]
        kinds = {
            o.id: "corners" if o.surface.kind == "corners" else o.outline.kind
            for layout in layouts
            for o in layout.openings()
        }
        return [
            (kinds[shape.opening], [list(p) for p in shape.shape])
            for layout in layouts
            for shape in places(layout).openings
        ]

    @property
    def openings(self) -> int:
        """How many there are on all sheets."""
        return sum(len(sheet.layout.openings_by_id) for sheet in self.sheets)


def name_of(data: bytes) -> str:
    """The name a file is held by."""
    return hashlib.sha256(data).hexdigest()


def make_guide_sheet(sheet: str, name: str, size_mm: tuple[float, float], bleed_mm: float, box: tuple[float, float, float, float],
             png: bytes) -> Sheet:  # fmt: skip
    """A sheet of a size with a picture to lay things on, over ``box`` (left, top, right, bottom, page mm): never printed."""
    left, top, right, bottom = box
    guide = Overlay(
        id="blank", name="The blank", asset=name_of(png), centre=((left + right) / 2, (top + bottom) / 2),
        width_mm=right - left, height_mm=bottom - top, guide=True, place_locked=True, content_locked=True,
    )  # fmt: skip
    layout = Layout(width_mm=size_mm[0], height_mm=size_mm[1], bleed_mm=bleed_mm, layers=(guide,))
    return Sheet(id=sheet, name=name, layout=layout)


def pixels_of(png: bytes) -> NDArray[np.uint8]:
    """A PNG's pixels, RGBA (h, w, 4)."""
    with Image.open(io.BytesIO(png), formats=("PNG",)) as picture:
        return np.asarray(picture.convert("RGBA"))


def read_result_of(flat: FlatRead, size_px: tuple[int, ...], notes: tuple[str, ...] = ()) -> Read:
    """A flat picture of a size as it was read."""
    scale = np.array([flat.layout.width_mm / size_px[0], flat.layout.height_mm / size_px[1]])
    kinds = tuple((shape.kind, (shape.outline * scale).round(4).tolist()) for shape in flat.openings)
    sheet = Sheet(id="sheet", name="Sheet", layout=flat.layout)
    return Read((sheet,), flat.files, (*flat.notes, *notes), flat.areas, kinds)
