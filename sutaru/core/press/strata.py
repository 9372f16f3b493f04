"""What a page in a PDF is made of, bottom to top: pictures, and words, ornaments and plain shapes that stay vectors.

Flat, what nothing but vectors lies over stays vector, and all else is one picture. Live, every layer lies for itself: its soft
edge as a mask, its blending as the reader's own, so that whoever prints may still reach it, and words stay words wherever they
lie.
"""

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace

from ..document import Background, FillBox, Ornament, Text
from ..paint.grid import ROWS, Box, PixelGrid, meet
from ..paint.items import Item
from ..paint.layers import extent
from ..paint.page import Painted, Painter
from .drawings import is_plain


@dataclass(frozen=True)
class Picture:
    """Layers as one picture in a box of the page's px, which begins at a whole number of ROWS. ``clear``: to be seen through
    where its bands are."""

    bands: Iterable[Painted]
    box: Box
    clear: bool = False
    blend: str = "normal"


Stratum = Picture | Item


def strata(
    layers: list[Item], live: bool, painter: Painter, grid: PixelGrid,
    step: Callable[[int, int], None] = lambda done, total: None,
) -> tuple[Stratum, ...]:  # fmt: skip
    """What a page's items are laid down as. Bands are painted as they are taken; ``step`` is told of progress."""
    if not live:
        below, over = split(layers, grid)
        return Picture(painter.bands(below, grid, step=step), grid.box), *over
    parts: list[Stratum] = []
    grounds = next((n for n, item in enumerate(layers) if not isinstance(item.layer, Background)), len(layers))
    if grounds:
        parts.append(Picture(painter.bands(layers[:grounds], grid), grid.box))
    for n, item in enumerate(layers[grounds:], 1):
        for part in _separate_shadow(item):
            if _is_vector(part) and not part.shadow_only:
                parts.append(part)
            elif (box := meet(extent(part, grid) or (0, 0, 0, 0), grid.box)) is not None:
                box = box[0], box[1] // ROWS * ROWS, box[2], box[3]
                report = _report_step(step, n, len(layers) - grounds)
                bands = painter.bands([part], grid, box, transparent=True, step=report)
                parts.append(Picture(bands, box, True, part.layer.blend))
    return tuple(parts)


def split(layers: list[Item], grid: PixelGrid) -> tuple[list[Item], list[Item]]:
    """Layers to paint, and those that can stay vector above them: what hides what it covers, and over which nothing lies that
    is painted. Where a layer blends, only what it lies over becomes pixels."""
    below: list[Item] = []
    over: list[Item] = []
    painted: list[Box] = []
    for item in reversed(layers):
        for part in reversed(list(_separate_shadow(item))):
            box = extent(part, grid)
            stays = _is_vector(part) and not part.shadow_only and _is_alone(part)
            if stays and (box is None or not any(meet(box, other) for other in painted)):
                over.append(part)
                continue
            below.append(part)
            if box is not None:
                painted.append(box)
    return below[::-1], over[::-1]


def _is_vector(item: Item) -> bool:
    layer = item.layer
    if isinstance(layer, Ornament):
        return is_plain(layer, item.asset)
    if isinstance(layer, FillBox):
        # One that another begins where it ends is painted on under that: as two vectors they would let light through between.
        return not (layer.gradient or layer.texture or item.over)
    return isinstance(layer, Text) and not layer.shadow


def _is_alone(item: Item) -> bool:
    """Whether it hides what it covers."""
    return item.layer.opacity == 1.0 and item.layer.blend == "normal"


def _separate_shadow(item: Item) -> Iterator[Item]:
    """Words whose shadow is a picture, and they themselves, where the two need not fade as one."""
    layer = item.layer
    if isinstance(layer, Text) and layer.shadow and _is_alone(item):
        yield replace(item, shadow_only=True)
        yield replace(item, layer=layer.copy_with(shadow=None))
    else:
        yield item


def _report_step(step: Callable[[int, int], None], n: int, of: int) -> Callable[[int, int], None]:
    return lambda done, total: step((n - 1) * 100 + 100 * done // max(1, total), of * 100)
