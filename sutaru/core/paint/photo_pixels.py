"""The photo in an opening, or a subject of it alone: whence it comes, and its pixels in a box of the page."""

import cv2
import numpy as np

from ..depths import Values, convert_to_16_bits, white
from ..document import GOES_ON, Free, Mask, Opening, Photo
from ..document.lab import Space
from ..fitting import free_subject_room, opening_from_photo, upright_from_photo
from ..geometry import outlines
from ..geometry.maps import Map, chain_maps
from ..geometry.matrices import apply, inverse
from ..mending import apply_recipe
from ..photos import Pixels
from .framing import picture_corners
from .grid import Box, PixelGrid, join, meet, slices_within
from .items import Item, Means, box_about, lay_polygons, outline_px
from .sampling import Beyond, sample
from .sharpening import sampling_box, unsharp


def photo_onto_page(layer: Opening, item: Item, onto: Map) -> Map:
    """From photo px to wherever ``onto`` leads from the opening's plane."""
    assert item.photo
    assert item.placement
    photo_onto = onto.after(opening_from_photo(layer, item.photo, item.placement))
    if item.recipe and item.recipe.upright and item.recipe.upright.changes:
        photo_onto = chain_maps(
            upright_from_photo(item.recipe.upright, item.photo.width, item.photo.height), photo_onto
        )
    return photo_onto


def photo_seen(
    box: Box, layer: Opening, item: Item, onto: Map, photo_onto: Map, grid: PixelGrid, means: Means,
    free: Free | None = None, page: Box | None = None,
) -> Values:  # fmt: skip
    """The photo in a box, as deep as the grid, mended, and sharpened where the print wants it; RGBA of one that is translucent,
    and of a subject that stands ``free``. ``page``: all that is ever painted of the page's plane, the grid's box if None; the box
    lies within it."""
    assert item.photo
    page = page or grid.box
    whole = meet(box_about(outline_px(layer, grid, onto)), page)
    if item.sharpen and whole and isinstance(layer.outline, Mask):  # it reaches beyond what is traced of it
        whole = join(whole, meet(box_about(lay_polygons([picture_corners(layer.outline)], onto)), page)) or whole
    if free:
        whole = join(whole, meet(free_box(layer, item, onto, photo_onto, grid), page))
    sharpen = item.sharpen if whole else None
    sampled, around = sampling_box(box, whole, sharpen.reach_px(grid.px_per_mm)) if sharpen and whole else (box, whole)
    pixels, beyond = means.pixels(item), _edge_extension_of(layer, item, means)
    if free:
        pixels, beyond = _subject(free, item, means), None
    elif item.photo.is_translucent:
        pixels = _multiply_by_alpha(pixels)
    seen = sample(pixels, item.photo, photo_onto, sampled, around, item.space, beyond, grid.depth)
    has_alpha = seen.shape[2] == 4
    if has_alpha and not free:
        seen = _divide_by_alpha(seen)
    colour = apply_recipe(np.ascontiguousarray(seen[..., :3]) if has_alpha else seen, item.recipe, item.photo.found)
    if sharpen:
        colour = unsharp(colour, sharpen.sigma_px(grid.px_per_mm), sharpen.amount)
    if has_alpha:
        colour = np.dstack([colour, seen[..., 3]])
    return np.ascontiguousarray(colour[slices_within(box, sampled)]) if sharpen else colour


def _multiply_by_alpha(pixels: Pixels) -> Pixels:
    """Colours times their own opacity: what is transparent has a colour as well, which must not run into its neighbours."""

    def read_multiplied(photo: Photo, least_scale: float, space: Space = "srgb", depth: int = 8) -> Values:
        image = pixels(photo, least_scale, space, depth)
        if image.shape[2] == 3:
            return image
        cover = image[..., 3:].astype(np.float32) / white(image)
        return np.dstack([np.rint(image[..., :3] * cover).astype(image.dtype), image[..., 3]])

    return read_multiplied


def _divide_by_alpha(image: Values) -> Values:
    """Colours as they are where something of them is seen."""
    top = white(image)
    cover = np.maximum(image[..., 3:].astype(np.float32), 1) / top
    return np.dstack([np.rint(np.minimum(image[..., :3] / cover, top)).astype(image.dtype), image[..., 3]])


def _subject(free: Free, item: Item, means: Means) -> Pixels:
    retouching = item.recipe.retouching if item.recipe else None
    assert retouching

    def pixels(photo: Photo, least_scale: float, space: Space = "srgb", depth: int = 8) -> Values:
        subject = means.photos.cut_out_free(photo, least_scale, space, retouching, free)
        return convert_to_16_bits(subject) if depth == 16 else subject

    return pixels


def _edge_extension_of(layer: Opening, item: Item, means: Means) -> Beyond | None:
    """How the photo goes on beyond its edges; None where it does not."""
    photo, lies = item.photo, item.placement
    if lies is None or photo is None or lies.fit not in GOES_ON:
        return None
    back = inverse(opening_from_photo(layer, photo, lies))
    x0, y0, x1, y1 = outlines.bounds([apply(back, polygon) for polygon in layer.outline.polygons()])
    # Where it goes on at all, a little more than is seen, as any interpolation reaches; in fractions of the photo.
    edges = -x0 / photo.width, -y0 / photo.height, x1 / photo.width - 1, y1 / photo.height - 1
    sides = (photo.width, photo.height) * 2
    more = [0.02 * max(sides) / side for side in sides]
    spare = [edge + by if edge > 1e-4 else 0.0 for edge, by in zip(edges, more, strict=True)]

    def extend_mirrored(image: Values) -> tuple[Values, int, int]:
        height, width = image.shape[:2]
        left, top, right, bottom = (round(e * side) for e, side in zip(spare, (width, height) * 2, strict=True))
        grown = cv2.copyMakeBorder(image, top, bottom, left, right, cv2.BORDER_REFLECT)
        return grown, left, top

    def extend_woven(image: Values) -> tuple[Values, int, int]:
        retouching = item.recipe.retouching if item.recipe else None
        return means.photos.extend_edges_of(
            image, photo, item.space, retouching, (spare[0], spare[1], spare[2], spare[3])
        )

    return extend_woven if lies.fit == "woven" else extend_mirrored


def free_box(layer: Opening, item: Item, onto: Map, photo_onto: Map, grid: PixelGrid) -> Box:
    """The box of page px that what stands free of an opening can change: as far as both the subjects and their room go."""
    assert item.photo
    sides = np.array((item.photo.width, item.photo.height))
    boxes = []
    for free in item.free_subjects:
        lines = [np.array(ring) * sides for ring in free.area.rings]
        if free.area.outside:
            lines = [np.array([(0, 0), (1, 0), (1, 1), (0, 1)]) * sides]
        soft = (free.area.soft + 0.03) * float(sides.max())
        x0, y0, x1, y1 = outlines.bounds(lines)
        about = np.array(
            [(x0 - soft, y0 - soft), (x1 + soft, y0 - soft), (x1 + soft, y1 + soft), (x0 - soft, y1 + soft)]
        )
        room = box_about(lay_polygons([free_subject_room(layer, free.down)], onto), 1.0)
        if shared := meet(box_about(lay_polygons([about], photo_onto), 2.0), room):
            boxes.append(shared)
    box_here = boxes[0] if boxes else box_about(outline_px(layer, grid, onto))
    for box in boxes[1:]:
        box_here = join(box_here, box) or box_here
    return box_here
