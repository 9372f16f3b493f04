"""Painting a page. One function for preview, proof and export: they differ only in region, ppi and what is to be seen.

The same pixels come out whatever the region, however high the bands and however many threads: what is sampled is sampled
in fixed tiles of the page's own grid, everything else depends on the place alone, and layers are laid down in order.
"""

from collections import Counter, deque
from collections.abc import Callable, Iterator
from concurrent.futures import Executor, Future
from dataclasses import dataclass

import numpy as np

from ..depths import Bytes, Values, match_depth
from ..mending import Retoucher
from ..photos import Held, Pixels
from ..remembering import Kept
from .blending import composite, fill
from .grid import Box, PixelGrid, join, meet, slices_within
from .items import Item, Means, Patch
from .layers import extent, patches

RETOUCHED_BYTES = 150_000_000
HELD_BYTES = 100_000_000  # of photos that are seen more than once on a page, or in several of its bands
Key = tuple[Item, PixelGrid, Box]


@dataclass(frozen=True)
class Painted:
    """A band of a page: RGB (h, w, 3) of the working space in its box, as deep as its grid; and its alpha (h, w) when it can be
    seen through."""

    box: Box
    rgb: Values
    alpha: Bytes | None


def _nbytes(patches: list[Patch]) -> int:
    return sum(patch.nbytes for patch in patches) + 1


class Painter:
    """What painting needs besides the page: where pixels come from, threads to paint layers ahead in, room to keep patches."""

    def __init__(
        self,
        pixels: Pixels,
        threads: Executor | None = None,
        patches_kept: Kept[Key, list[Patch]] | None = None,
        ahead: int = 4,
    ) -> None:
        # A page in a page is painted by the thread that needs it: none waits for another of the same few.
        self.pixels, self._held = pixels, Held(pixels, HELD_BYTES)
        self._means = Means(
            Retoucher(self._held, RETOUCHED_BYTES), lambda inner, grid: Painter(pixels).render(list(inner), grid)[0]
        )
        self.threads, self._kept, self._ahead = threads, patches_kept, ahead

    @staticmethod
    def room(max_bytes: int) -> Kept[Key, list[Patch]]:
        """Room to keep patches of layers that do not change."""
        return Kept(max_bytes, _nbytes)

    def _patches(self, item: Item, grid: PixelGrid, cell: Box) -> list[Patch]:
        key = (item, grid, cell)
        patches_here = self._kept.get(key) if self._kept else None
        if patches_here is None:
            patches_here = patches(item, grid, cell, self._means)
            if self._kept:
                self._kept.put(key, patches_here)
        return patches_here

    def _paint_in_order(self, layers: list[Item], grid: PixelGrid, cell: Box) -> Iterator[list[Patch]]:
        """Patches of each layer, bottom to top; those to come are painted meanwhile, a few ahead."""
        if self.threads is None:
            yield from (self._patches(item, grid, cell) for item in layers)
            return
        waiting: deque[Future[list[Patch]]] = deque()
        todo = iter(layers)
        try:
            while True:
                while len(waiting) < self._ahead and (item := next(todo, None)) is not None:
                    waiting.append(self.threads.submit(self._patches, item, grid, cell))
                if not waiting:
                    return
                yield waiting.popleft().result()
        finally:
            for future in waiting:
                future.cancel()

    def bands(
        self,
        layers: list[Item],
        grid: PixelGrid,
        region: Box | None = None,
        transparent: bool = False,
        step: Callable[[int, int], None] = lambda done, total: None,
    ) -> Iterator[Painted]:
        """A region (default: the whole page) band by band, top to bottom, so that a page never stands whole in memory.

        What no layer covers is white, or nothing when ``transparent``. ``step`` is told of progress and may raise to
        stop. Raises PhotoRefused when a photo's file is damaged.
        """
        region = region or grid.box
        extents = {item: extent(item, grid) for item in layers}
        work = []
        for band in grid.bands(region):
            if part := meet(band, region):
                work.append((band, part, [i for i in layers if (box := extents[i]) and meet(box, part)]))
        total, done = sum(len(seen) for _, _, seen in work), 0
        uses = Counter(item.photo.id for _, _, seen in work for item in seen if item.photo)
        with self._held.hold(photo for photo, count in uses.items() if count > 1):
            for band, part, seen in work:
                painted: Painted | None = None
                for bands in self._paint_in_order(seen, grid, band):
                    # Only now, so that the first photos are read meanwhile.
                    painted = painted or _blank_part(part, grid.depth, transparent)
                    for patch in bands:
                        _lay(painted.rgb, painted.alpha, patch, part)
                    done += 1
                    step(done, total)
                yield painted or _blank_part(part, grid.depth, transparent)

    def render(
        self, layers: list[Item], grid: PixelGrid, region: Box | None = None, transparent: bool = False
    ) -> tuple[Values, Bytes | None]:
        """RGB (h, w, 3) of a region (default: the whole page) and, when ``transparent``, its alpha (h, w); see ``bands``."""
        bands = list(self.bands(layers, grid, region, transparent))
        if len(bands) == 1:
            return bands[0].rgb, bands[0].alpha
        alpha = [band.alpha for band in bands if band.alpha is not None]
        return np.concatenate([band.rgb for band in bands]), np.concatenate(alpha) if alpha else None


def _blank_part(part: Box, depth: int, transparent: bool) -> Painted:
    """A part of a page with nothing on it: white, or nothing where it is transparent."""
    shape, kind = (part[3] - part[1], part[2] - part[0]), np.uint16 if depth == 16 else np.uint8
    if transparent:
        return Painted(part, np.zeros((*shape, 3), kind), np.zeros(shape, np.uint8))
    return Painted(part, np.full((*shape, 3), np.iinfo(kind).max, kind), None)


def _lay(rgb: Values, alpha: Bytes | None, patch: Patch, part: Box) -> None:
    box = meet(patch.box, part)
    if box is None:
        return
    onto, whence = slices_within(box, part), slices_within(box, patch.box)
    colour = match_depth(patch.colour if patch.colour.ndim == 1 else patch.colour[whence], rgb)
    if patch.alpha is None and patch.blend == "normal":
        if colour.ndim == 3:
            rgb[onto] = colour
        else:
            fill(rgb[onto], colour)
        if alpha is not None:
            alpha[onto] = 255
        return
    cover = np.full((box[3] - box[1], box[2] - box[0]), 255, np.uint8) if patch.alpha is None else patch.alpha[whence]
    composite(rgb[onto], None if alpha is None else alpha[onto], colour, cover, patch.blend)


def changed_box(before: list[Item], after: list[Item], grid: PixelGrid) -> Box | None:
    """The box in which two states of a page can differ; None when they are the same."""
    if before == after:
        return None
    differ: Box | None = None
    if len(before) != len(after):
        # Layers came or went: whatever is not in both.
        for item in [i for i in before if i not in after] + [i for i in after if i not in before]:
            differ = join(differ, extent(item, grid))
        return differ or grid.box
    for old, new in zip(before, after, strict=True):
        if old != new:
            differ = join(differ, join(extent(old, grid), extent(new, grid)))
    return differ


class LivePage:
    """A page's picture that is kept up to date: after an edit only the box that changed is painted again."""

    def __init__(self, painter: Painter, grid: PixelGrid) -> None:
        self._painter, self._grid = painter, grid
        self._layers: list[Item] | None = None
        self._rgb: Values | None = None

    @property
    def nbytes(self) -> int:
        """What its picture takes, once there is one."""
        width, height = self._grid.size
        return 3 * width * height

    def picture(self, layers: list[Item]) -> Values:
        """RGB of the whole page. The array is not written to again."""
        if self._rgb is None or self._layers is None:
            self._rgb, _ = self._painter.render(layers, self._grid)
        else:
            box = changed_box(self._layers, layers, self._grid)
            if box:
                part, _ = self._painter.render(layers, self._grid, box)
                fresh = self._rgb.copy()
                fresh[box[1] : box[3], box[0] : box[2]] = part
                self._rgb = fresh
        self._layers = layers
        return self._rgb
