"""What backgrounds and shapes are made of: a colour, a gradient, a texture worked into either; or a picture over the sheet."""

from typing import cast

import numpy as np

from ..colour.profiles import colour_in, convert_layout
from ..colour.shifting import shift_colour, shift_pixels
from ..depths import Bytes, Values, convert_to_16_bits, match_depth
from ..document import Background, FillBox, Gradient, Shift
from ..document.lab import Space
from ..geometry.maps import Projective
from ..geometry.matrices import Matrix, scaling, translation
from .gradients import paint_gradient
from .grid import Box, PixelGrid
from .masks import overlay_pixels
from .sampling import sample_picture
from .textures import strength


def ground(layer: Background | FillBox, whole: Box, box: Box, grid: PixelGrid, space: Space) -> Values:
    """A layer's ground in ``box`` of the ``whole`` it fills, both page px: one colour (3,), or RGB (h, w, 3)."""
    colour = colour_in(shift_colour(layer.colour, layer.shift), space)
    values = colour if grid.depth == 8 else convert_to_16_bits(colour)
    if layer.gradient:
        values = paint_gradient(_shift_gradient(layer.gradient, layer.shift), whole, box, space, grid.depth)
    if layer.texture is None:
        return values
    background = isinstance(layer, Background)
    x0, y0, x1, y1 = whole
    left, top = (side * grid.px_per_mm for side in grid.bleed_sides_mm[:2])
    origin = (left, top) if background else ((x0 + x1) / 2, (y0 + y1) / 2)
    share = strength(layer.texture, origin, grid.px_per_mm, box)[..., None]
    second = match_depth(colour_in(shift_colour(layer.texture.colour, layer.shift), space), values).astype(np.float32)
    below = values.astype(np.float32)
    return np.rint(below + (second - below) * share).astype(values.dtype)


def _shift_gradient(gradient: Gradient, shift: Shift | None) -> Gradient:
    if shift is None:
        return gradient
    return gradient.copy_with(
        stops=tuple(stop.copy_with(colour=shift_colour(stop.colour, shift)) for stop in gradient.stops)
    )


def backdrop(data: bytes, shift: Shift | None, grid: PixelGrid, box: Box, space: Space) -> Bytes:
    """A picture that covers the page out to its bleed, as seen in ``box``: RGB (h, w, 3), on white where it is clear."""
    height, width = overlay_pixels(data).shape[:2]
    wide, high = (side + 2 * grid.bleed_mm for side in grid.page_mm)
    k = max(wide / width, high / height)
    middle = translation(grid.page_mm[0] / 2, grid.page_mm[1] / 2)
    rgb, alpha = picture_seen(data, width * k, height * k, grid.px_from_page @ middle, box, grid.box)
    if shift is not None:
        rgb = shift_pixels(rgb, shift)
    if (alpha < 255).any():
        strong = alpha[..., None].astype(np.uint16)
        rgb = ((rgb * strong + 255 * (255 - strong) + 127) // 255).astype(np.uint8)
    return convert_layout(rgb, space)


def picture_seen(
    data: bytes, wide: float, high: float, px_from_box: Matrix, box: Box, whole: Box | None
) -> tuple[Bytes, Bytes]:
    """A picture ``wide`` x ``high`` mm about the origin of its box, as seen in ``box`` (page px): RGB (h, w, 3), alpha (h, w)."""
    picture = overlay_pixels(data)
    height, width = picture.shape[:2]
    box_from_picture = scaling(wide / width, high / height) @ translation(-width / 2, -height / 2)
    seen = sample_picture(picture, Projective(px_from_box @ box_from_picture), box, cast(Box, whole))
    # Averaged as light that comes through, so that what is transparent colours nothing; then as colour again.
    strong = np.maximum(seen[..., 3:].astype(np.uint16), 1)
    rgb = np.minimum((seen[..., :3].astype(np.uint16) * 255 + strong // 2) // strong, 255).astype(np.uint8)
    return np.ascontiguousarray(rgb), np.ascontiguousarray(seen[..., 3])
