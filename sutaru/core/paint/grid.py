"""The pixel grid of a page: whole pixels over the bleed box, exactly as many as the lab sheet asks for."""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..document import LabSheet, Layout
from ..geometry.matrices import Matrix, scaling, translation
from ..measure import MM_PER_INCH, pixels

Box = tuple[int, int, int, int]
# A page is painted in one piece up to WHOLE px, as a 24 in spread at 300 ppi is; a larger one in bands of about BAND px, so
# that memory does not grow with it. Bands are multiples of ROWS high: what is sampled in tiles of that height comes out
# the same whatever the bands.
ROWS = 512
TILE_WIDTH = 4096
WHOLE, BAND = 34_000_000, 10_000_000


def meet(a: Box, b: Box) -> Box | None:
    """What two boxes share; None when nothing."""
    x0, y0, x1, y1 = max(a[0], b[0]), max(a[1], b[1]), min(a[2], b[2]), min(a[3], b[3])
    return (x0, y0, x1, y1) if x0 < x1 and y0 < y1 else None


def slices_within(box: Box, of: Box) -> tuple[slice, slice]:
    """Slices (rows, columns) of a box within the array of another that holds it."""
    return np.s_[box[1] - of[1] : box[3] - of[1], box[0] - of[0] : box[2] - of[0]]


def tiles(box: Box) -> Iterator[Box]:
    """A box cut at the page's own lattice of tiles, TILE_WIDTH x ROWS px."""
    for y in range(box[1] // ROWS * ROWS, box[3], ROWS):
        for x in range(box[0] // TILE_WIDTH * TILE_WIDTH, box[2], TILE_WIDTH):
            tile = meet((x, y, x + TILE_WIDTH, y + ROWS), box)
            if tile:
                yield tile


def join(a: Box | None, b: Box | None) -> Box | None:
    """The box about two boxes."""
    if a is None or b is None:
        return a or b
    return min(a[0], b[0]), min(a[1], b[1]), max(a[2], b[2]), max(a[3], b[3])


@dataclass(frozen=True)
class PixelGrid:
    """Page px: x right, y down, origin at the top left of the bleed box. ``cut_mm``: how much of the bleed is left away at the
    left, top, right and bottom.

    The bleed box is ``round(mm / 25.4 * ppi)`` px each way; page mm map onto exactly those, so that what bleeds fills
    the last pixel (this changes the scale by less than half a pixel over the whole page).
    """

    page_mm: tuple[float, float]
    bleed_mm: float
    ppi: float
    cut_mm: tuple[float, float, float, float] = (0.0, 0.0, 0.0, 0.0)
    depth: int = 8

    @classmethod
    def for_print(cls, layout: Layout, lab: LabSheet) -> "PixelGrid":
        """The grid of a page as its file for a lab has it."""
        bled = lab.bleed_sides(layout.width_mm, layout.height_mm, layout.bleed_mm)
        left, top, right, bottom = (layout.bleed_mm - side for side in bled)
        return cls((layout.width_mm, layout.height_mm), layout.bleed_mm, lab.ppi_target, (left, top, right, bottom))

    @classmethod
    def for_ppi(cls, layout: Layout, ppi: float) -> "PixelGrid":
        """The grid of a page at ``ppi``."""
        return cls((layout.width_mm, layout.height_mm), layout.bleed_mm, ppi)

    @cached_property
    def bleed_sides_mm(self) -> tuple[float, float, float, float]:
        """How far it bleeds at the left, top, right and bottom."""
        left, top, right, bottom = (self.bleed_mm - cut for cut in self.cut_mm)
        return left, top, right, bottom

    @cached_property
    def full_mm(self) -> tuple[float, float]:
        """The bleed box's width and height."""
        left, top, right, bottom = self.bleed_sides_mm
        return self.page_mm[0] + left + right, self.page_mm[1] + top + bottom

    @cached_property
    def size(self) -> tuple[int, int]:
        """Width and height in px."""
        w, h = self.full_mm
        return max(1, pixels(w, self.ppi)), max(1, pixels(h, self.ppi))

    @cached_property
    def box(self) -> Box:
        """The whole grid."""
        return (0, 0, *self.size)

    @cached_property
    def whole(self) -> Box:
        """The page with all its bleed, where some of that is left away."""
        left, top, right, bottom = (round(cut * self.px_per_mm) for cut in self.cut_mm)
        return -left, -top, self.size[0] + right, self.size[1] + bottom

    @cached_property
    def px_from_page(self) -> Matrix:
        """Page mm to page px."""
        w, h = self.full_mm
        return scaling(self.size[0] / w, self.size[1] / h) @ translation(self.bleed_sides_mm[0], self.bleed_sides_mm[1])

    @property
    def px_per_mm(self) -> float:
        """Nominal scale."""
        return self.ppi / MM_PER_INCH

    @cached_property
    def band_rows(self) -> int:
        """How high a band is, px."""
        width, height = self.size
        return height if width * height <= WHOLE else max(1, BAND // (width * ROWS)) * ROWS

    def bands(self, region: Box) -> Iterator[Box]:
        """The bands, as wide as the page, that a region touches. They depend on the page alone, never on the region."""
        high = self.band_rows
        for y in range(region[1] // high * high, region[3], high):
            band = meet((0, y, self.size[0], y + high), self.box)
            if band:
                yield band
