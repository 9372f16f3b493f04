"""Pictures that run off the paper: over a whole page, from an edge of it, over the gutter with a column beside, over both pages.

Each is a rule of its own: where the picture lies for its own ratio, and whether a photo may lie so. A picture that runs off
loses little of itself; nothing that must stay visible comes near the trim or the gutter; and it has the lab's pixels.
"""

from dataclasses import dataclass

from ..document import Photo
from ..measure import MM_PER_INCH
from .plan import ACROSS, BLEED, EDGE, SPREAD, WIDE, Block
from .trees import Rect

HARDLY_CUT = 0.08  # share of a photo that running off may cost
CLEAR = 0.04  # of a photo's sides: what must be kept stays so far off the trim
_PANORAMA = 1.8  # from this ratio on a photo may run across a spread within its margins
_COLUMN_MM, _COLUMN = 55.0, 0.62  # how wide the column beside a wide picture is at least; and at most, of a page
_FROM_GUTTER_MM = 4.0  # beside what the binding takes: what must be kept stays so far off
_LEAST_WIDE = 1.12  # of a page's width: a picture over the gutter reaches well into the other page
_EDGE_LEAST, _EDGE_MOST = 0.5, 0.86  # of a page, along the side that a picture at its edge leaves free


@dataclass(frozen=True)
class Bleeds:
    """Where pictures run off the pages of a book, mm. ``page``: a page's size; ``gutter``: how much of each page the binding
    takes from what is seen; ``column_gap``: between a wide picture and the column beside it."""

    page: tuple[float, float]
    bleed: float
    gutter: float
    margin: float
    column_gap: float
    ppi_least: float

    def rect(self, shape: str, side: str, ratio: float) -> Rect:
        """Where a picture of a ratio lies, from the left page's top left where ``side`` is "left", else from the right one's:
        left, top, width, height."""
        width, height, out = *self.page, self.bleed
        left = side == "left"
        if shape == WIDE:
            wide, full = self._wide(ratio), height + 2 * out
            return (-out if left else width + out - wide, -out, wide, full)
        if shape == SPREAD:
            return -out, -out, 2 * (width + out), height + 2 * out
        if shape == EDGE and ratio < width / height:
            wide = (height + 2 * out) * ratio
            return (-out if left else width + out - wide, -out, wide, height + 2 * out)
        if shape == EDGE:
            return (-out if left else 0.0, -out, width + out, (width + out) / ratio)
        return (-out if left else 0.0, -out, width + out, height + 2 * out)

    def column(self, ratio: float, room: Rect) -> Block:
        """The part of the other page's room that the column beside a wide picture fills."""
        free = self._column_mm(ratio)
        return Block(width=min(1.0, round(free / room[2], 4)), side="outer")

    def may(self, shape: str, photo: Photo, side: str = "left") -> bool:
        """Whether a photo may lie so. ``side``: from which page a wide picture comes over the gutter."""
        return self._RULES[shape](self, photo, photo.width / photo.height, side)

    def _column_mm(self, ratio: float) -> float:
        return 2 * self.page[0] + self.bleed - self._wide(ratio) - self.column_gap - self.margin

    def _wide(self, ratio: float) -> float:
        return (self.page[1] + 2 * self.bleed) * ratio

    def _may_fill(self, photo: Photo, ratio: float, side: str) -> bool:
        _, _, wide, high = self.rect(BLEED, "left", ratio)
        return self._is_hardly_cut(ratio, wide / high) and self._prints(photo, wide, high) and _is_clear(photo)

    def _may_lie_at_edge(self, photo: Photo, ratio: float, side: str) -> bool:
        _, _, wide, high = self.rect(EDGE, "left", ratio)
        share = wide / self.page[0] if ratio < self.page[0] / self.page[1] else high / self.page[1]
        return _EDGE_LEAST <= share <= _EDGE_MOST and self._prints(photo, wide, high) and _is_clear(photo)

    def _may_run_wide(self, photo: Photo, ratio: float, side: str) -> bool:
        wide, high = self._wide(ratio), self.page[1] + 2 * self.bleed
        if wide < _LEAST_WIDE * self.page[0] or not _COLUMN_MM <= self._column_mm(ratio) <= _COLUMN * self.page[0]:
            return False
        outer = (self.page[0] + self.bleed) / wide
        fold = outer if side == "left" else 1 - outer
        return self._prints(photo, wide, high) and _is_clear(photo) and self._is_clear_of(photo, fold, wide)

    def _may_fill_spread(self, photo: Photo, ratio: float, side: str) -> bool:
        _, _, wide, high = self.rect(SPREAD, "left", ratio)
        whole = self._is_hardly_cut(ratio, wide / high) and self._prints(photo, wide, high)
        return whole and _is_clear(photo) and self._is_clear_of(photo, 0.5, wide)

    def _may_run_across(self, photo: Photo, ratio: float, side: str) -> bool:
        return ratio >= _PANORAMA and self._is_clear_of(photo, 0.5, 2 * self.page[0])

    def _is_hardly_cut(self, ratio: float, shape: float) -> bool:
        return 1 - min(shape / ratio, ratio / shape) <= HARDLY_CUT

    def _prints(self, photo: Photo, wide: float, high: float) -> bool:
        return max(wide * self.ppi_least / photo.width, high * self.ppi_least / photo.height) <= MM_PER_INCH

    def _is_clear_of(self, photo: Photo, fold: float, wide: float) -> bool:
        """Whether nothing that must be kept comes near a fold, a share of the photo's width."""
        near = (self.gutter + _FROM_GUTTER_MM) / wide
        return all(
            area.left > fold + near or area.left + area.width < fold - near
            for area in photo.keep_areas
        )  # fmt: skip

    _RULES = {
        BLEED: _may_fill, EDGE: _may_lie_at_edge, WIDE: _may_run_wide, SPREAD: _may_fill_spread, ACROSS: _may_run_across,
    }  # fmt: skip


def _is_clear(photo: Photo) -> bool:
    """Whether what must be kept stays off the edges."""
    return all(
        area.left > CLEAR and area.top > CLEAR and area.left + area.width < 1 - CLEAR
        and area.top + area.height < 1 - CLEAR
        for area in photo.keep_areas
    )  # fmt: skip
