"""Openings as patches: the photo behind its outline or mask, in its border and mat; and echoes, which show it again."""

import math
from collections.abc import Hashable
from dataclasses import dataclass, replace
from functools import lru_cache

import cv2
import numpy as np
from numpy.typing import NDArray

from ..document import Echo, Mask, Mat, Opening
from ..fitting import opening_from_photo, window
from ..geometry import outlines
from ..geometry.maps import Map
from ..geometry.matrices import Points, apply, rotation, scaling, translation
from ..mending import mended
from ..photos import Kept, Pixels
from .blending import Bytes, composite
from .grid import Box, Grid, join, meet
from .items import Item, Patch, box_about, is_upright, laid, outline_px, px_from_layer, rgb_of, upright_cover
from .masks import mask_pixels
from .sampling import sample, sample_picture
from .shadows import shadow_patches, shadow_reach
from .vectors import coverage
from .whence import plane_of

EMPTY = (226, 226, 226)  # an opening without a photo, on the bench only


@lru_cache(maxsize=4096)
def opening_extent(layer: Opening, grid: Grid) -> Box:
    """The box that an opening can change."""
    grow = 1.0 + (shadow_reach(layer.shadow, grid) if layer.shadow else 0.0)
    return box_about(_edges(layer, None, grid, px_from_layer(layer, grid))[0], grow)


def opening_patches(layer: Opening, item: Item, grid: Grid, cell: Box, pixels: Pixels) -> list[Patch]:
    """Shadow first, then what frames the photo, then the photo."""
    onto = px_from_layer(layer, grid)
    if not (item.photo and item.placement):
        polygons = outline_px(layer, grid, onto)
        empty = meet(box_about(polygons), cell)
        return [Patch(empty, np.array(EMPTY, np.uint8), coverage(polygons, empty))] if empty else []
    frame = _frame(layer, item, onto, grid, cell)
    framed = _filled(frame, layer, item, onto, pixels)
    if layer.opacity == 1.0 and layer.blend == "normal":
        return _in_view([*frame.shadows, *framed])
    # What fades, or blends, does so as one.
    return [*frame.shadows, *([_together(framed)] if framed else [])]


def _within(box: Box, of: Box) -> tuple[slice, slice]:
    """Slices of a box within the array of another."""
    return np.s_[box[1] - of[1] : box[3] - of[1], box[0] - of[0] : box[2] - of[0]]


def _together(patches: list[Patch]) -> Patch:
    """Patches laid on one another, as one."""
    box = patches[0].box
    for patch in patches[1:]:
        box = join(box, patch.box) or box
    shape = box[3] - box[1], box[2] - box[0]
    colour, alpha = np.zeros((*shape, 3), np.uint8), np.zeros(shape, np.uint8)
    for patch in patches:
        at = _within(patch.box, box)
        cover = patch.alpha if patch.alpha is not None else np.full(alpha[at].shape, 255, np.uint8)
        composite(colour[at], alpha[at], patch.colour, cover)
    return Patch(box, colour, alpha)


def _corners(shape: list[Points], onto: Map) -> Points:
    """Where the four corners of the box about a shape come to lie."""
    x0, y0, x1, y1 = outlines.bounds(shape)
    return onto.apply([(x0, y0), (x1, y0), (x1, y1), (x0, y1)])


def _shape(layer: Opening, item: Item | None, grid: Grid) -> list[Points]:
    """What shows of an opening, mm in its plane: its outline, cut to a placement's window or to a photo shown whole."""
    base = list(layer.outline.polygons(0.02 / grid.px_per_mm))
    if item is None or item.photo is None or item.placement is None:
        return base
    if item.placement.fit == "whole":
        w, h = item.photo.width, item.photo.height
        corners = [(0.0, 0.0), (w, 0.0), (w, h), (0.0, h)]
        return outlines.common(base, [apply(opening_from_photo(layer, item.photo, item.placement), corners)])
    if item.placement.ratio is not None:
        return outlines.common(base, [window(layer, item.placement.ratio)])
    return base


def _edges(
    layer: Opening, item: Item | None, grid: Grid, onto: Map
) -> tuple[list[Points], list[Points] | None, list[list[Points]]]:
    """In px: the outer edge of all that shows; the inner edge of the border, if any; both edges of the mat's bevel.

    ``item`` None: of all that could show.
    """
    base = _shape(layer, item, grid)
    outer, inner = base, None
    if layer.border:
        wide = layer.border.width_mm
        out, within = {"inside": (0.0, wide), "centred": (wide / 2, wide / 2), "outside": (wide, 0.0)}[
            layer.border.side
        ]
        outer = outlines.grown(base, out) if out else base
        inner = outlines.grown(base, -within) if within else base
    mat = []
    if layer.mat:
        start = inner if inner is not None else base
        mat = [
            outlines.grown(start, -layer.mat.width_mm),
            outlines.grown(start, -layer.mat.width_mm - layer.mat.bevel_mm),
        ]
    placed = [laid(edge, onto) if edge else [] for edge in (outer, inner or [], *mat)]
    return placed[0], None if inner is None else placed[1], placed[2:]


@dataclass(frozen=True)
class Frame:
    """What is round a photo, and does not change with how the photo lies: patches below it, and where it shows."""

    shadows: tuple[Patch, ...]
    under: tuple[Patch, ...]
    box: Box | None
    alpha: Bytes | None

    @property
    def nbytes(self) -> int:
        """Bytes it holds."""
        masks = sum(patch.nbytes for patch in (*self.shadows, *self.under))
        return masks + (0 if self.alpha is None else self.alpha.nbytes) + 1000


# Frames as they were last: while a photo is fitted nothing of its frame changes.
_frames: Kept[Hashable, Frame] = Kept(48_000_000, lambda frame: frame.nbytes)


def _frame(
    layer: Opening, item: Item, onto: Map, grid: Grid, cell: Box, echo: Echo | None = None, shadow: bool = True
) -> Frame:
    """Shadow, border and mat, bottom to top, wherever ``onto`` (opening mm to page px) lays the opening; nothing off the cell.

    Each lies under the next, so that no seam shows between them. ``echo``: for whom it is laid elsewhere.
    """
    placement, photo = item.placement, item.photo
    assert placement
    assert photo
    cut = (placement, photo.width, photo.height) if placement.fit == "whole" else placement.ratio
    key = (layer, item.light_deg, cut, grid, cell, echo, shadow)
    found = _frames.get(key)
    if found is None:
        found = _made(layer, item, onto, grid, cell, echo is None, shadow)
        _frames.put(key, found)
    return found


def _made(layer: Opening, item: Item, onto: Map, grid: Grid, cell: Box, own: bool, shadow: bool) -> Frame:
    outer, inner, mat = _edges(layer, item, grid, onto)
    shadows: list[Patch] = []
    if layer.shadow and shadow:
        corners = _corners(_shape(layer, item, grid), onto)
        shadows = shadow_patches(layer.shadow, item.light_deg, outer, corners, grid, cell)
    box = meet(box_about(outer), cell) if outer else None
    if box is None:
        return Frame(tuple(shadows), (), None, None)
    turned_whole = item.placement and item.placement.fit == "whole" and item.placement.turn_deg % 90 != 0
    straight = own and is_upright(layer) and not turned_whole

    def cover(polygons: list[Points], box: Box) -> Bytes | None:
        return upright_cover(polygons, box) if straight else coverage(polygons, box)

    under, hole = [], outer
    if layer.border and inner is not None:
        under.append(Patch(box, rgb_of(layer.border.colour), cover(outer, box)))
        hole = inner
    if layer.mat and (around := meet(box_about(hole), cell) if hole else None):
        under.append(Patch(around, rgb_of(layer.mat.colour), cover(hole, around)))
        if mat[0] and layer.mat.bevel_mm > 0 and (ring := meet(box_about(mat[0]), cell)):
            under.append(Patch(ring, *_bevel(layer.mat, item.light_deg, mat[0], ring)))
        hole = mat[1]
    box = meet(box_about(hole), cell) if hole else None
    alpha = cover(hole, box) if box else None
    if box and isinstance(layer.outline, Mask):
        alpha = _times(_mask(layer.outline, item.asset, onto, box), alpha)
    return Frame(tuple(shadows), tuple(under), box, alpha)


def _filled(frame: Frame, layer: Opening, item: Item, onto: Map, pixels: Pixels) -> list[Patch]:
    """Border, mat and photo, bottom to top."""
    if frame.box is None or not (item.photo and item.placement):
        return list(frame.under)
    photo_onto = onto.after(opening_from_photo(layer, item.photo, item.placement))
    colour = mended(sample(pixels, item.photo, photo_onto, frame.box), item.recipe, item.photo.found)
    return [*frame.under, Patch(frame.box, colour, frame.alpha)]


def _times(mask: Bytes, alpha: Bytes | None) -> Bytes:
    return mask if alpha is None else cv2.multiply(mask, alpha, scale=1 / 255).astype(np.uint8, copy=False)


def _mask(outline: Mask, png: bytes, onto: Map, box: Box) -> Bytes:
    """A mask picture where its opening lies."""
    picture = mask_pixels(png, outline.by)
    height, width = picture.shape
    opening_from_mask = scaling(outline.width_mm / width, outline.height_mm / height) @ translation(
        -width / 2, -height / 2
    )
    return sample_picture(picture, onto.after(opening_from_mask), box)


def _bevel(mat: Mat, light_deg: float, edge: list[Points], box: Box) -> tuple[Bytes, Bytes]:
    """The mat's cut edge: lit where it faces the light, dim where it turns away."""
    board = coverage(edge, box)
    soft = cv2.GaussianBlur(board, (0, 0), 2.0, borderType=cv2.BORDER_CONSTANT).astype(np.float32)
    gx, gy = cv2.Sobel(soft, cv2.CV_32F, 1, 0), cv2.Sobel(soft, cv2.CV_32F, 0, 1)
    towards = rotation(light_deg) @ np.array([1.0, 0.0, 1.0])
    faces = (gx * towards[0] + gy * towards[1]) / np.maximum(np.hypot(gx, gy), 1e-3)
    lit = np.clip(rgb_of(mat.colour).astype(np.float32) * (0.9 + 0.18 * faces[..., None]), 0, 255)
    return lit.astype(np.uint8), board


def _source_map(layer: Echo, item: Item, grid: Grid) -> tuple[Opening, Map]:
    assert item.source is not None
    return item.source, layer.page_from_source(item.source).then(grid.px_from_page)


def _blur(layer: Echo, grid: Grid) -> tuple[float, int]:
    """Standard deviation and reach of an echo's softness, px."""
    sigma = layer.soften_mm * grid.px_per_mm / 2
    return sigma, math.ceil(3 * sigma) if sigma > 0.1 else 0


@lru_cache(maxsize=512)
def echo_extent(layer: Echo, item: Item, grid: Grid) -> Box:
    """The box that an echo can change."""
    source, onto = _source_map(layer, item, grid)
    return box_about(_edges(source, None, grid, onto)[0], 1.0 + _blur(layer, grid)[1])


def echo_patches(layer: Echo, item: Item, grid: Grid, cell: Box, pixels: Pixels) -> list[Patch]:
    """The source with its frame once more: softened, darkened, and fading with the distance from the floor."""
    source, onto = _source_map(layer, item, grid)
    sigma, reach = _blur(layer, grid)
    wide = meet(box_about(_edges(source, None, grid, onto)[0], reach), cell)
    if wide is None:
        return []
    # Beyond the cell lies what is softened into it.
    room = (cell[0] - reach, cell[1] - reach, cell[2] + reach, cell[3] + reach)
    frame = _frame(source, item, onto, grid, room, layer, shadow=False)
    framed = _filled(frame, source, item, onto, pixels)
    if not framed:
        return []
    patch = _together(framed)
    height, width = wide[3] - wide[1], wide[2] - wide[0]
    around = (patch.box[1] - wide[1] + reach, patch.box[0] - wide[0] + reach)
    colour = np.zeros((height + 2 * reach, width + 2 * reach, 3), np.float32)
    alpha = np.zeros(colour.shape[:2], np.float32)
    onto_rows = np.s_[
        around[0] : around[0] + patch.box[3] - patch.box[1], around[1] : around[1] + patch.box[2] - patch.box[0]
    ]
    cover = np.full(alpha[onto_rows].shape, 255, np.uint8) if patch.alpha is None else patch.alpha
    alpha[onto_rows] = cover
    colour[onto_rows] = patch.colour.astype(np.float32) * (cover[..., None] / np.float32(255))
    if reach:
        colour = cv2.GaussianBlur(colour, (0, 0), sigma, borderType=cv2.BORDER_CONSTANT).astype(np.float32, copy=False)
        alpha = cv2.GaussianBlur(alpha, (0, 0), sigma, borderType=cv2.BORDER_CONSTANT).astype(np.float32, copy=False)
    inner = np.s_[reach : reach + height, reach : reach + width]
    colour, alpha = colour[inner], alpha[inner]
    straight = colour * (np.float32(255) / np.maximum(alpha, np.float32(0.5)))[..., None] * np.float32(1 - layer.darken)
    seen = alpha * _fading(layer, source, onto, wide)
    return [Patch(wide, np.clip(np.rint(straight), 0, 255).astype(np.uint8), np.rint(seen).astype(np.uint8))]


def _fading(layer: Echo, source: Opening, onto: Map, box: Box) -> NDArray[np.float32] | np.float32:
    """How much of a reflection is left at each px: all at the floor, nothing ``reach`` times the source's height away."""
    if layer.how == "repeat":
        return np.float32(1)
    _, top, _, bottom = outlines.bounds(source.outline.polygons())
    y = plane_of(onto, box)[1]
    away = (np.float32(bottom) - y) / np.float32(bottom - top)
    return np.clip(1 - away / np.float32(layer.reach), 0, 1).astype(np.float32)


def _in_view(patches: list[Patch]) -> list[Patch]:
    """Patches cut to what the opaque middle of the topmost leaves to be seen, and that middle, which is laid by copying."""
    if not patches or (core := _opaque_core(patches[-1])) is None:
        return patches
    around = [_part(patch, box) for patch in patches for box in _around(patch.box, core)]
    middle = replace(_part(patches[-1], core), alpha=None)
    return [*(part for part in around if part.alpha is None or part.alpha.any()), middle]


def _opaque_core(patch: Patch) -> Box | None:
    """A box in the middle of a patch that is wholly opaque: all but its edges, or somewhat less where those are not upright."""
    if patch.alpha is None:
        return patch.box
    middle = patch.alpha.shape[0] // 2, patch.alpha.shape[1] // 2
    rows, columns = np.flatnonzero(patch.alpha[:, middle[1]] == 255), np.flatnonzero(patch.alpha[middle[0]] == 255)
    if not (len(rows) and len(columns)):
        return None
    top, bottom, left, right = rows[0], rows[-1] + 1, columns[0], columns[-1] + 1
    for inset in (0.0, 0.03, 0.06, 0.1, 0.15, 0.2):
        dx, dy = round(inset * (right - left)), round(inset * (bottom - top))
        if (patch.alpha[top + dy : bottom - dy, left + dx : right - dx] == 255).all():
            x0, y0 = patch.box[:2]
            return x0 + int(left) + dx, y0 + int(top) + dy, x0 + int(right) - dx, y0 + int(bottom) - dy
    return None


def _around(box: Box, core: Box) -> list[Box]:
    """The up to four boxes that a box is made of, but for a core."""
    x0, y0, x1, y1 = box
    inner = meet(box, core)
    if inner is None:
        return [box]
    left, top, right, bottom = inner
    strips = [(x0, y0, x1, top), (x0, bottom, x1, y1), (x0, top, left, bottom), (right, top, x1, bottom)]
    return [strip for strip in strips if meet(strip, box)]


def _part(patch: Patch, box: Box) -> Patch:
    """What of a patch lies in a box within its own."""
    at = _within(box, patch.box)
    colour = patch.colour if patch.colour.ndim == 1 else patch.colour[at]
    return replace(patch, box=box, colour=colour, alpha=None if patch.alpha is None else patch.alpha[at])
