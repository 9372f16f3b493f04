"""Sampling a photo through a placement and a surface: the mean over each print pixel, then one interpolation.

1. The photo is decoded at the nearest size above what is needed, and averaged over whole blocks of pixels while more
   than twice too large.
2. A separable filter averages it over the width of one print pixel, which takes out what the print cannot hold.
3. One interpolation by the inverse map. For an upright placement the filter also carries the sub-pixel shift, so that a
   plain resize finishes the job; a turned one is warped. A slanted or bent one is warped at two to four times the
   print's resolution, the more the smaller its far place is beside its near one, and averaged down; the filter before
   is then that much narrower.
"""

import math
from functools import lru_cache

import cv2
import numpy as np
from numpy.typing import NDArray

from ..document import Photo
from ..geometry.maps import Map
from ..geometry.matrices import Matrix, apply, inverse, scaling, stretch, translation
from ..photos import Pixels

Box = tuple[int, int, int, int]
Bytes = NDArray[np.uint8]

_MARGIN = 8  # source px beyond what is seen: more than any interpolation reaches
_STRIP = 4_000_000  # supersampled px warped at a time


def sample(pixels: Pixels, photo: Photo, px_from_photo: Map, box: Box) -> Bytes:
    """The photo as seen in ``box`` (x0, y0, x1, y1 in page px): RGB, shape (y1 - y0, x1 - x0, 3).

    Beyond the photo's edge its last pixels go on.
    """
    at = px_from_photo.inverse(_lattice(box))
    image = pixels(photo, min(1.0, float(px_from_photo.stretch(at)[0].max())))
    height, width = image.shape[:2]
    return sample_picture(image, px_from_photo.after(scaling(photo.width / width, photo.height / height)), box)


def sample_picture(image: Bytes, px_from_image: Map, box: Box) -> Bytes:
    """A picture of any number of channels, (h, w) or (h, w, c), as seen in ``box``."""
    seen = px_from_image.inverse(_lattice(box))
    most, least = px_from_image.stretch(seen)
    image, part_from_image = _part(image, seen, float(most.max()))
    if px_from_image.matrix is None:
        return _bent(image, px_from_image.after(inverse(part_from_image)), box, float(most.max() / least.min()))
    matrix = px_from_image.matrix @ inverse(part_from_image)
    ratio = float(stretch(matrix, apply(inverse(matrix), _lattice(box)))[0].max())
    if np.all(matrix[2, :2] == 0.0):
        flat = matrix / matrix[2, 2]
        if ratio < 1 and _tiny(flat[0, 1], flat[1, 0], flat):
            return _upright(image, flat, box)
        if ratio < 1 and _tiny(flat[0, 0], flat[1, 1], flat):
            # A quarter turn: the same, with the picture's x and y exchanged.
            return _upright(cv2.transpose(image).astype(np.uint8, copy=False), flat[:, [1, 0, 2]], box)
        oversample = 1
    else:
        oversample = _finer(float(most.max() / least.min()))
    # Finer samples are averaged over the print pixel afterwards: what goes before is only as wide as they are apart.
    return _warped(_smoothed(image, ratio * oversample), matrix, box, oversample, ratio * oversample)


def _finer(unevenness: float) -> int:
    """How many times the print's resolution a warp is made at, its far place being that much smaller than its near one."""
    return max(2, math.ceil(min(4.0, unevenness - 1e-6)))


def _smoothed(image: Bytes, ratio: float) -> Bytes:
    """The picture averaged over one print pixel, 1 / ratio of its own wide."""
    if ratio >= 1:
        return image
    kernel = _average(round(ratio, 4), 0.0)
    return cv2.sepFilter2D(image, -1, kernel, kernel, borderType=cv2.BORDER_REPLICATE).astype(np.uint8, copy=False)


def _lattice(box: Box, side: int = 9) -> NDArray[np.float64]:
    x0, y0, x1, y1 = box
    xs, ys = np.meshgrid(np.linspace(x0, x1, side), np.linspace(y0, y1, side))
    return np.stack([xs.ravel(), ys.ravel()], axis=-1)


def _tiny(first: float, second: float, matrix: Matrix) -> bool:
    """Whether two entries move nothing by as much as a thousandth of a pixel over any picture that can be."""
    return bool(max(abs(first), abs(second)) < 1e-8 * np.abs(matrix[:2, :2]).max())


@lru_cache(maxsize=1024)
def _average(ratio: float, shift: float) -> NDArray[np.float32]:
    """Taps that average the picture over one target pixel, 1 / ratio source px wide, ``shift`` px off centre.

    The picture between its pixels is taken as the cubic through them (R. Keys, "Cubic convolution interpolation for
    digital image processing", 1981, with a = -0.75, as OpenCV's own), so the taps are that cubic averaged over the width.
    """
    # The cubic's outermost half pixel weighs nothing that can be measured.
    reach = math.floor(1.5 + 0.5 / ratio + abs(shift))
    at = np.arange(-reach, reach + 1) - shift
    within = (np.arange(64) + 0.5) / 64 - 0.5
    x = np.abs(at[:, None] - within / ratio)
    near, far = (1.25 * x - 2.25) * x * x + 1, -0.75 * (((x - 5) * x + 8) * x - 4)
    taps = np.where(x <= 1, near, np.where(x < 2, far, 0.0)).mean(axis=1)
    return (taps / taps.sum()).astype(np.float32)


def _interpolation(ratio: float) -> int:
    """OpenCV's flag. Well above the print's resolution a cubic is as good as a wider kernel, and far faster."""
    return cv2.INTER_CUBIC if ratio < 0.8 or ratio > 4 else cv2.INTER_LANCZOS4


def _part(image: Bytes, seen: NDArray[np.float64], ratio: float) -> tuple[Bytes, Matrix]:
    """The part of the image that is seen, averaged over n x n blocks while it is at least 2n times too large.

    Also the map to it from the image.
    """
    height, width = image.shape[:2]
    blocks = max(1, math.floor(0.5 / ratio + 1e-9))
    margin = _MARGIN * blocks
    x0, y0 = (int(v) for v in np.floor(seen.min(axis=0)) - margin)
    x1, y1 = (int(v) for v in np.ceil(seen.max(axis=0)) + margin)
    x0, y0 = max(0, min(x0, width - 1)) // blocks * blocks, max(0, min(y0, height - 1)) // blocks * blocks
    x1, y1 = max(x0 + 1, min(x1, width)), max(y0 + 1, min(y1, height))
    part: Bytes = image[y0:y1, x0:x1]
    if blocks > 1:
        more = -(x1 - x0) % blocks, -(y1 - y0) % blocks
        part = cv2.copyMakeBorder(part, 0, more[1], 0, more[0], cv2.BORDER_REPLICATE).astype(np.uint8, copy=False)
        size = part.shape[1] // blocks, part.shape[0] // blocks
        part = cv2.resize(part, size, interpolation=cv2.INTER_AREA).astype(np.uint8, copy=False)
    return part, scaling(1 / blocks, 1 / blocks) @ translation(-x0, -y0)


def _upright(image: Bytes, px_from_image: Matrix, box: Box) -> Bytes:
    """Scale (below 1) and shift only, either possibly mirrored."""
    (sx, _, tx), (_, sy, ty) = px_from_image[0], px_from_image[1]
    if sx < 0:
        image, sx, tx = image[:, ::-1], -sx, tx + sx * image.shape[1]
    if sy < 0:
        image, sy, ty = image[::-1], -sy, ty + sy * image.shape[0]
    spare = 2  # target px on each side, so that no pixel of the box leans on the border of what is resized
    xs, ys = _window(box[0] - spare, box[2] + spare, sx, tx), _window(box[1] - spare, box[3] + spare, sy, ty)
    part = _padded(image, xs[0], ys[0], xs[1], ys[1])
    filtered = cv2.sepFilter2D(part, -1, xs[2], ys[2], borderType=cv2.BORDER_REPLICATE)
    m, n = len(xs[2]) // 2, len(ys[2]) // 2
    inner = filtered[n : part.shape[0] - n, m : part.shape[1] - m]
    resized = cv2.resize(inner, None, fx=sx, fy=sy, interpolation=_interpolation(min(sx, sy)))
    height, width = box[3] - box[1], box[2] - box[0]
    return resized[spare : spare + height, spare : spare + width].astype(np.uint8, copy=False)


def _window(first: int, last: int, scale: float, shift: float) -> tuple[int, int, NDArray[np.float32]]:
    """Source indices [start, end) and filter taps so that a plain resize by ``scale`` gives target px first to last.

    OpenCV's resize takes target px x from source position (x + 0.5) / scale - 0.5. Where that should begin,
    to the nearest whole px, is the start; the rest goes into the filter.
    """
    begin = (first - shift) / scale
    start = round(begin)
    taps = _average(round(scale, 6), round(begin - start, 3))
    count = math.ceil((last - first) / scale) + 1
    reach = len(taps) // 2
    return start - reach, start + count + reach, taps


def _padded(image: Bytes, x0: int, y0: int, x1: int, y1: int) -> Bytes:
    """image[y0:y1, x0:x1], its last pixels going on beyond its edges."""
    height, width = image.shape[:2]
    inner = image[max(0, y0) : max(1, min(height, y1)), max(0, x0) : max(1, min(width, x1))]
    if inner.size == 0:
        inner = image[np.clip(y0, 0, height - 1) :, np.clip(x0, 0, width - 1) :][:1, :1]
    edges = max(0, -y0), max(0, y1 - height), max(0, -x0), max(0, x1 - width)
    if not any(edges):
        return np.ascontiguousarray(inner)
    return cv2.copyMakeBorder(inner, *edges, cv2.BORDER_REPLICATE).astype(np.uint8, copy=False)


def _warped(image: Bytes, px_from_image: Matrix, box: Box, oversample: int, ratio: float) -> Bytes:
    """Warp by the inverse map, the mean of ``oversample`` squared samples a pixel."""
    x0, y0, x1, y1 = box
    out = np.empty((y1 - y0, x1 - x0, *image.shape[2:]), np.uint8)
    rows = max(1, _STRIP // ((x1 - x0) * oversample**2))
    for top in range(y0, y1, rows):
        bottom = min(y1, top + rows)
        # Matrices speak of positions; OpenCV of pixel centres, hence the halves.
        fine_from_image = scaling(oversample, oversample) @ translation(-x0, -top) @ px_from_image
        centred = translation(-0.5, -0.5) @ fine_from_image @ translation(0.5, 0.5)
        size = ((x1 - x0) * oversample, (bottom - top) * oversample)
        flags = _interpolation(ratio) if oversample == 1 else cv2.INTER_CUBIC
        warped = cv2.warpPerspective(image, centred, size, flags=flags, borderMode=cv2.BORDER_REPLICATE)
        if oversample > 1:
            warped = cv2.resize(warped, (x1 - x0, bottom - top), interpolation=cv2.INTER_AREA)
        out[top - y0 : bottom - y0] = warped
    return out


_NODE_ERROR = 0.02  # target px that interpolating an inverse map between its nodes may be off


def _nodes(onto: Map, box: Box, most: float) -> tuple[NDArray[np.float32], int]:
    """The inverse map at the middles of squares of the box, and of one more row of them all round; the squares' side, px.

    The squares are made small enough that interpolating between their middles is as good as the map itself.
    """
    x0, y0, x1, y1 = box
    # About forty squares a side are nearly always enough.
    spacing = 2 ** min(5, max(1, math.floor(math.log2(max(x1 - x0, y1 - y0) / 40 + 1e-9))))
    while True:
        nx, ny = -(-(x1 - x0) // spacing), -(-(y1 - y0) // spacing)
        xs = x0 + (np.arange(-1, nx + 1) + 0.5) * spacing
        ys = y0 + (np.arange(-1, ny + 1) + 0.5) * spacing
        at = onto.inverse(np.stack(np.meshgrid(xs, ys), axis=-1))
        if spacing == 2:
            return at.astype(np.float32), spacing
        # Between four nodes, where linear interpolation is furthest off: every few squares are enough to know.
        every = max(1, round(math.sqrt(nx * ny / 400)))
        mx, my = np.meshgrid((xs[:-1] + spacing / 2)[::every], (ys[:-1] + spacing / 2)[::every])
        between = (at[:-1, :-1] + at[1:, :-1] + at[:-1, 1:] + at[1:, 1:])[::every, ::every] / 4
        error = np.hypot(*np.moveaxis(onto.inverse(np.stack([mx, my], axis=-1)) - between, -1, 0)) * most
        if np.quantile(error, 0.98) <= _NODE_ERROR:
            return at.astype(np.float32), spacing
        spacing //= 2


def _inverse_rows(
    nodes: NDArray[np.float32], spacing: int, width: int, first: int, last: int, finer: int
) -> NDArray[np.float32]:
    """The inverse map at every pixel of rows [first, last) of the box, ``finer`` times as dense; shape (h, w, 2)."""
    r0, r1 = first // spacing, -(-last // spacing)
    some = nodes[r0 : r1 + 2]
    size = some.shape[1] * spacing * finer, some.shape[0] * spacing * finer
    whole = cv2.resize(some, size, interpolation=cv2.INTER_LINEAR)
    top = (spacing + first - r0 * spacing) * finer
    return np.asarray(
        whole[top : top + (last - first) * finer, spacing * finer : (spacing + width) * finer], np.float32
    )


def plane_of(onto: Map, box: Box) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
    """Whence each pixel of a box comes: x and y in the plane that ``onto`` maps to px, each (h, w)."""
    most = float(onto.stretch(onto.inverse(_lattice(box)))[0].max())
    nodes, spacing = _nodes(onto, box, most)
    whence = _inverse_rows(nodes, spacing, box[2] - box[0], 0, box[3] - box[1], 1)
    return whence[..., 0], whence[..., 1]


def _bent(image: Bytes, px_from_image: Map, box: Box, unevenness: float) -> Bytes:
    """Warp by the inverse of any map, the mean of finer samples where its far place is smaller than its near one."""
    x0, y0, x1, y1 = box
    most = float(px_from_image.stretch(px_from_image.inverse(_lattice(box)))[0].max())
    finer = _finer(unevenness)
    image = _smoothed(image, most * finer)
    nodes, spacing = _nodes(px_from_image, box, most)
    out = np.empty((y1 - y0, x1 - x0, *image.shape[2:]), np.uint8)
    rows = max(spacing, _STRIP // ((x1 - x0) * finer**2) // spacing * spacing)
    for top in range(0, y1 - y0, rows):
        bottom = min(y1 - y0, top + rows)
        whence = _inverse_rows(nodes, spacing, x1 - x0, top, bottom, finer) - np.float32(0.5)
        warped = cv2.remap(image, whence[..., 0], whence[..., 1], cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE)
        out[top:bottom] = cv2.resize(warped, (x1 - x0, bottom - top), interpolation=cv2.INTER_AREA)
    return out
