"""What is round a photo: its shadow, border and mat, and where between them the photo shows, by outline or by mask."""

from dataclasses import dataclass

import cv2
import numpy as np

from ..colour.profiles import colour_in
from ..depths import Bytes
from ..document import FillBox, Mask, Mat, Opening
from ..fitting import opening_from_photo, window
from ..geometry import outlines
from ..geometry.maps import Map
from ..geometry.matrices import Points, apply, rotation, scaling, translation
from .grid import Box, PixelGrid, meet, slices_within
from .items import Item, Patch, box_about, is_upright, lay_polygons, outline_px, paint_coverage, upright_coverage
from .masks import mask_pixels
from .sampling import sample_picture
from .shadows import shadow_patches
from .vectors import coverage

_SEEN = 8  # px about a bevel's edge that tell which way it faces


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


def paint_frame(
    layer: Opening, item: Item, onto: Map, grid: PixelGrid, cell: Box, at_source: bool = True, shadow: bool = True,
    page: Box | None = None,
) -> Frame:  # fmt: skip
    """Shadow, border and mat wherever ``onto`` (opening mm to page px) lays the opening; nothing off the cell.

    Each lies under the next, so that no seam shows between them. ``at_source``: where it lies by itself, not its echo.
    ``page``: all that is ever painted of the page's plane, the grid's box if None.
    """
    outer, inner, mat = edges_px(layer, item, grid, onto)
    shadows: list[Patch] = []
    if layer.shadow and shadow:
        corners = _corners(shape_mm(layer, item, grid), onto)
        shadows = shadow_patches(layer.shadow, item.light_deg, item.space, outer, corners, grid, cell)
    box = meet(box_about(outer), cell) if outer else None
    if box is None:
        return Frame(tuple(shadows), (), None, None)
    turned_whole = item.placement and item.placement.fit == "whole" and item.placement.turn_deg % 90 != 0
    straight = at_source and is_upright(layer) and not turned_whole

    def cover(polygons: list[Points], box: Box) -> Bytes | None:
        return upright_coverage(polygons, box) if straight else coverage(polygons, box)

    def close_edge(alpha: Bytes | None, box: Box) -> Bytes | None:
        return close_coverage(alpha, box, item.over, grid) if at_source else alpha

    under, hole = [], outer
    if layer.border and inner is not None:
        under.append(Patch(box, colour_in(layer.border.colour, item.space), close_edge(cover(outer, box), box)))
        hole = inner
    if layer.mat and (around := meet(box_about(hole), cell) if hole else None):
        board = cover(hole, around)
        board = close_edge(board, around) if hole is outer else board
        under.append(Patch(around, colour_in(layer.mat.colour, item.space), board))
        if mat[0] and layer.mat.bevel_mm > 0 and (ring := meet(box_about(mat[0]), cell)):
            under.append(Patch(ring, *_bevel(layer.mat, item, mat[0], ring)))
        hole = mat[1]
    mask = layer.outline if isinstance(layer.outline, Mask) else None
    if mask and hole is outer:
        # Nothing else has an edge there: the mask alone says where the photo ends, softly where it does.
        cut = _window_mm(layer, item)
        hole = lay_polygons([picture_corners(mask) if cut is None else cut], onto)
    box = meet(box_about(hole), cell) if hole else None
    if box is None:
        return Frame(tuple(shadows), tuple(under), None, None)
    alpha = cover(hole, box)
    if mask:
        whole = meet(box_about(lay_polygons([picture_corners(mask)], onto)), page or grid.box)
        alpha = multiply_coverage(_mask(mask, item.asset, onto, box, whole), alpha)
    elif hole is outer:
        alpha = close_edge(alpha, box)
    return Frame(tuple(shadows), tuple(under), box, alpha)


def shape_mm(layer: Opening, item: Item | None, grid: PixelGrid) -> list[Points]:
    """What shows of an opening, mm in its plane: its outline, cut to a placement's window or to a photo shown whole."""
    base = list(layer.outline.polygons(0.02 / grid.px_per_mm))
    cut = _window_mm(layer, item)
    return base if cut is None else outlines.common(base, [cut])


def _window_mm(layer: Opening, item: Item | None) -> Points | None:
    """What a placement cuts out of its opening; None for nothing."""
    if item is None or item.photo is None or item.placement is None:
        return None
    if item.placement.fit == "whole":
        w, h = item.photo.width, item.photo.height
        corners = [(0.0, 0.0), (w, 0.0), (w, h), (0.0, h)]
        return apply(opening_from_photo(layer, item.photo, item.placement), corners)
    return None if item.placement.ratio is None else window(layer, item.placement.ratio)


def edges_px(
    layer: Opening, item: Item | None, grid: PixelGrid, onto: Map
) -> tuple[list[Points], list[Points] | None, list[list[Points]]]:
    """In px: the outer edge of all that shows; the inner edge of the border, if any; both edges of the mat's bevel.

    ``item`` None: of all that could show.
    """
    base = shape_mm(layer, item, grid)
    outer, inner = base, None
    if layer.border:
        out, within = layer.border.beyond_mm, layer.border.within_mm
        outer = outlines.grow_polygons(base, out) if out else base
        inner = outlines.grow_polygons(base, -within) if within else base
    mat = []
    if layer.mat:
        start = inner if inner is not None else base
        mat = [
            outlines.grow_polygons(start, -layer.mat.width_mm),
            outlines.grow_polygons(start, -layer.mat.width_mm - layer.mat.bevel_mm),
        ]
    placed = [lay_polygons(edge, onto) if edge else [] for edge in (outer, inner or [], *mat)]
    return placed[0], None if inner is None else placed[1], placed[2:]


def close_coverage(alpha: Bytes | None, box: Box, over: tuple[Opening | FillBox, ...], grid: PixelGrid) -> Bytes | None:
    """Coverage (h, w) of an edge, full where a layer above begins on the very same line.

    Two edges that share a pixel cover half of it each; laid one after the other a quarter of what is below would still
    show between them, as a hairline. The lower one takes what the upper one covers of the pixel as well.
    """
    if alpha is None:
        return None
    for layer in over:
        polygons = outline_px(layer, grid)
        shared = meet(box_about(polygons), box)
        if shared is None:
            continue
        other = paint_coverage(layer, polygons, shared)
        part = alpha[slices_within(shared, box)]
        both = part.astype(np.uint16) + (255 if other is None else other)
        edge = (part > 0) & (both > part)
        # Each is rounded, and slanted edges are known to within some hundredths only.
        part[edge] = np.where(both[edge] >= 235, 255, both[edge])
    return alpha


def _corners(shape: list[Points], onto: Map) -> Points:
    """Where the four corners of the box about a shape come to lie."""
    x0, y0, x1, y1 = outlines.bounds(shape)
    return onto.apply([(x0, y0), (x1, y0), (x1, y1), (x0, y1)])


def multiply_coverage(mask: Bytes, alpha: Bytes | None) -> Bytes:
    """What two coverages (h, w) leave together; ``alpha`` None covers all."""
    return mask if alpha is None else cv2.multiply(mask, alpha, scale=1 / 255).astype(np.uint8, copy=False)


def picture_corners(outline: Mask) -> Points:
    x, y = outline.width_mm / 2, outline.height_mm / 2
    return np.array([(-x, -y), (x, -y), (x, y), (-x, y)], np.float64)


def _mask(outline: Mask, png: bytes, onto: Map, box: Box, whole: Box | None) -> Bytes:
    """A mask picture where its opening lies."""
    picture = mask_pixels(png, outline.by)
    if outline.mirrored or outline.quarters:
        picture = np.ascontiguousarray(np.rot90(picture[:, ::-1] if outline.mirrored else picture, outline.quarters))
    height, width = picture.shape
    opening_from_mask = scaling(outline.width_mm / width, outline.height_mm / height) @ translation(
        -width / 2, -height / 2
    )
    return sample_picture(picture, onto.after(opening_from_mask), box, whole)


def _bevel(mat: Mat, item: Item, edge: list[Points], box: Box) -> tuple[Bytes, Bytes]:
    """The mat's cut edge: lit where it faces the light, dim where it turns away."""
    # Which way it faces is seen in its softened picture, so somewhat beyond the box is needed as well.
    wide = (box[0] - _SEEN, box[1] - _SEEN, box[2] + _SEEN, box[3] + _SEEN)
    board = coverage(edge, wide)
    soft = cv2.GaussianBlur(board, (0, 0), 2.0, borderType=cv2.BORDER_CONSTANT).astype(np.float32)
    inner = slices_within(box, wide)
    gx, gy = cv2.Sobel(soft, cv2.CV_32F, 1, 0)[inner], cv2.Sobel(soft, cv2.CV_32F, 0, 1)[inner]
    towards = rotation(item.light_deg) @ np.array([1.0, 0.0, 1.0])
    faces = (gx * towards[0] + gy * towards[1]) / np.maximum(np.hypot(gx, gy), 1e-3)
    lit = np.clip(colour_in(mat.colour, item.space).astype(np.float32) * (0.9 + 0.18 * faces[..., None]), 0, 255)
    return lit.astype(np.uint8), np.ascontiguousarray(board[inner])
