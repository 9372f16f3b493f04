"""Sampling a photo through a placement and a surface: the mean over each print pixel, then one interpolation.

1. The photo is decoded at the nearest size above what is needed, and averaged over whole blocks of pixels while more
   than twice too large.
2. A separable filter averages it over the width of one print pixel, which takes out what the print cannot hold.
3. One interpolation by the inverse map. Of an upright placement both are one sum of pixels (``resampling.py``); a turned one is
   warped. A slanted or bent one is warped at two to four times the print's resolution, the more the smaller its far place is
   beside its near one, and averaged down; the filter before is then that much narrower, and the picture is made twice as
   dense first, so that the warp may be a plain linear one.
"""

import math
from collections.abc import Callable, Iterator
from functools import lru_cache

import cv2
import numpy as np
from numpy.typing import NDArray

from ..depths import Values
from ..document import Photo
from ..document.lab import Space
from ..geometry.maps import Map
from ..geometry.matrices import Matrix, apply, inverse, scaling, translation
from ..photos import Pixels
from .grid import Box, slices_within, tiles
from .resampling import resample, taps
from .source_points import SourcePoints, find_source_points, lattice

# All of a photo's pixels as they go on beyond its edges, and by how many px at the left and at the top.
Beyond = Callable[[Values], tuple[Values, int, int]]
_MARGIN = 8  # source px beyond what is seen: more than any interpolation reaches
_STRIP = 1_000_000  # supersampled px warped at a time
_LONGEST = 15_000  # px of a picture's side that is warped: made twice as dense, it must stay below OpenCV's 32,767


def sample(
    pixels: Pixels, photo: Photo, px_from_photo: Map, box: Box, whole: Box | None = None, space: Space = "srgb",
    beyond: Beyond | None = None, depth: int = 8,
) -> Values:  # fmt: skip
    """The photo as seen in ``box`` (x0, y0, x1, y1 in page px): RGB of a working space, shape (y1 - y0, x1 - x0, 3), of ``depth``
    bits.

    Beyond the photo's edge its last pixels go on, or what ``beyond`` puts there. ``whole`` as for ``sample_picture``.
    """
    image = pixels(photo, min(1.0, find_source_points(px_from_photo, whole or box).stretch[0]), space, depth)
    height, width = image.shape[:2]
    across, down = photo.width / width, photo.height / height
    if beyond:
        image, left, top = beyond(image)
        return sample_picture(image, px_from_photo.after(scaling(across, down) @ translation(-left, -top)), box, whole)
    return sample_picture(image, px_from_photo.after(scaling(across, down)), box, whole)


def sample_picture(image: Values, px_from_image: Map, box: Box, whole: Box | None = None) -> Values:
    """A picture of any number of channels, (h, w) or (h, w, c), as seen in ``box``.

    ``whole`` is all of the page in which it is seen. How finely it is sampled is decided there, and the work is done in
    the page's own tiles, so that the pixels are the same however much is asked for at a time, as long as ``box`` ends
    where ``whole`` or a tile does.
    """
    seen = find_source_points(px_from_image, whole or box)
    parts = list(tiles(box))
    if len(parts) == 1:
        return _tile(image, px_from_image, box, seen)
    out = np.empty((box[3] - box[1], box[2] - box[0], *image.shape[2:]), image.dtype)
    for part in parts:
        out[slices_within(part, box)] = _tile(image, px_from_image, part, seen)
    return out


def _tile(image: Values, px_from_image: Map, box: Box, seen: SourcePoints) -> Values:
    """``seen`` is whence the whole that the tile is part of comes."""
    most, least = seen.stretch
    # Less than half a pixel of the page: its mean is all that could be seen of it.
    if most * max(image.shape[:2]) < 0.5:
        mean = np.rint(image.mean(axis=(0, 1))).astype(image.dtype)
        return np.broadcast_to(mean, (box[3] - box[1], box[2] - box[0], *image.shape[2:])).copy()
    if px_from_image.matrix is None:
        return _warp_bent(image, seen, box)
    image, part_from_image = _part(image, apply(inverse(px_from_image.matrix), lattice(box)), most)
    matrix = px_from_image.matrix @ inverse(part_from_image)
    ratio = most / float(part_from_image[0, 0])
    if np.all(matrix[2, :2] == 0.0):
        flat = matrix / matrix[2, 2]
        if ratio < 1 and _tiny(flat[0, 1], flat[1, 0], flat):
            return _sample_upright(image, flat, box)
        if ratio < 1 and _tiny(flat[0, 0], flat[1, 1], flat):
            # A quarter turn: the same, with the picture's x and y exchanged.
            return _sample_upright(cv2.transpose(image), flat[:, [1, 0, 2]], box)
        oversample = 1
    else:
        oversample = _oversampling(most / least)
    # Finer samples are averaged over the print pixel afterwards: what goes before is only as wide as they are apart.
    return _warp_projective(_smooth(image, ratio * oversample), matrix, box, oversample, ratio * oversample)


def _oversampling(unevenness: float) -> int:
    """How many times the print's resolution a warp is made at, its far place being that much smaller than its near one."""
    return max(2, math.ceil(min(4.0, unevenness - 1e-6)))


def _smooth(image: Values, ratio: float) -> Values:
    """The picture averaged over one print pixel, 1 / ratio of its own wide."""
    if ratio >= 1:
        return image
    kernel = _average(round(ratio, 4))
    return cv2.sepFilter2D(image, -1, kernel, kernel, borderType=cv2.BORDER_REPLICATE)


def _tiny(first: float, second: float, matrix: Matrix) -> bool:
    """Whether two entries move nothing by as much as a thousandth of a pixel over any picture that can be."""
    return bool(max(abs(first), abs(second)) < 1e-8 * np.abs(matrix[:2, :2]).max())


@lru_cache(maxsize=1024)
def _average(ratio: float) -> NDArray[np.float32]:
    """Weights that average the picture over one target pixel, 1 / ratio source px wide."""
    weights = taps(0, 1, ratio, 0.5 - ratio / 2)  # about the middle of a pixel
    return weights.weights[0, : 1 - 2 * int(weights.first[0])]


def _interpolation(ratio: float) -> int:
    """OpenCV's flag. Well above the print's resolution a cubic is as good as a wider kernel, and far faster."""
    return cv2.INTER_CUBIC if ratio < 0.8 or ratio > 4 else cv2.INTER_LANCZOS4


def _part(image: Values, seen: NDArray[np.float64], ratio: float) -> tuple[Values, Matrix]:
    """The part of the image that is seen, averaged over n x n blocks while it is at least 2n times too large.

    Over more, where a tile far off sees so much that a warp could not take it. Also the map to it from the image.
    """
    height, width = image.shape[:2]
    reach = np.minimum(seen.max(axis=0), (width, height)) - np.maximum(seen.min(axis=0), 0)
    blocks = max(1, math.floor(0.5 / ratio + 1e-9), math.ceil(float(reach.max()) / _LONGEST))
    margin = _MARGIN * blocks
    x0, y0 = (int(v) for v in np.floor(seen.min(axis=0)) - margin)
    x1, y1 = (int(v) for v in np.ceil(seen.max(axis=0)) + margin)
    x0, y0 = max(0, min(x0, width - 1)) // blocks * blocks, max(0, min(y0, height - 1)) // blocks * blocks
    x1, y1 = max(x0 + 1, min(x1, width)), max(y0 + 1, min(y1, height))
    part: Values = image[y0:y1, x0:x1]
    if blocks > 1:
        more = -(x1 - x0) % blocks, -(y1 - y0) % blocks
        part = cv2.copyMakeBorder(part, 0, more[1], 0, more[0], cv2.BORDER_REPLICATE)
        size = part.shape[1] // blocks, part.shape[0] // blocks
        part = cv2.resize(part, size, interpolation=cv2.INTER_AREA)
    return part, scaling(1 / blocks, 1 / blocks) @ translation(-x0, -y0)


def _sample_upright(image: Values, px_from_image: Matrix, box: Box) -> Values:
    """Scale (below 1) and shift only, either possibly mirrored."""
    (sx, _, tx), (_, sy, ty) = px_from_image[0], px_from_image[1]
    return resample(image, taps(box[0], box[2], sx, tx), taps(box[1], box[3], sy, ty))


def _warp_projective(image: Values, px_from_image: Matrix, box: Box, oversample: int, ratio: float) -> Values:
    """Warp by the inverse map, the mean of ``oversample`` squared samples a pixel."""
    x0, y0, x1, y1 = box
    # Matrices speak of positions; OpenCV of pixel centres, hence the halves.
    if oversample == 1:
        centred = translation(-0.5 - x0, -0.5 - y0) @ px_from_image @ translation(0.5, 0.5)
        return cv2.warpPerspective(
            image, centred, (x1 - x0, y1 - y0), flags=_interpolation(ratio), borderMode=cv2.BORDER_REPLICATE
        )
    out = np.empty((y1 - y0, x1 - x0, *image.shape[2:]), image.dtype)
    for top, bottom in _strips(box, oversample):
        seen = apply(inverse(px_from_image), lattice((x0, y0 + top, x1, y0 + bottom)))
        dense, dense_from_image = _enlarge_part(image, seen)
        fine_from_image = scaling(oversample, oversample) @ translation(-x0, -y0 - top) @ px_from_image
        centred = translation(-0.5, -0.5) @ fine_from_image @ inverse(dense_from_image) @ translation(0.5, 0.5)
        size = ((x1 - x0) * oversample, (bottom - top) * oversample)
        warped = cv2.warpPerspective(dense, centred, size, flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
        out[top:bottom] = cv2.resize(warped, (x1 - x0, bottom - top), interpolation=cv2.INTER_AREA)
    return out


def _strips(box: Box, oversample: int) -> Iterator[tuple[int, int]]:
    """Rows [top, bottom) of a box, a few at a time."""
    height = box[3] - box[1]
    rows = max(1, _STRIP // ((box[2] - box[0]) * oversample**2))
    for top in range(0, height, rows):
        yield top, min(height, top + rows)


def _enlarge_part(image: Values, seen: NDArray[np.float64]) -> tuple[Values, Matrix]:
    """The part of a picture about the points seen, twice as dense; and the map to it from the picture.

    Between so dense pixels a straight line is as good as a cubic between the picture's own, and far faster.
    """
    height, width = image.shape[:2]
    x0, y0 = (int(v) for v in np.floor(seen.min(axis=0)) - 4)
    x1, y1 = (int(v) for v in np.ceil(seen.max(axis=0)) + 4)
    x0, y0 = max(0, min(x0, width - 1)), max(0, min(y0, height - 1))
    part = image[y0 : max(y0 + 1, y1), x0 : max(x0 + 1, x1)]
    dense = cv2.resize(part, None, fx=2, fy=2, interpolation=cv2.INTER_CUBIC)
    return dense, scaling(2, 2) @ translation(-x0, -y0)


def _warp_bent(image: Values, seen: SourcePoints, box: Box) -> Values:
    """Warp by the inverse of any map, the mean of finer samples where its far place is smaller than its near one."""
    x0, y0, x1, y1 = box
    most, least = seen.stretch
    finer = _oversampling(most / least)
    image, part_from_image = _part(image, seen.restrict_to(box).points.reshape(-1, 2), most)
    image = _smooth(image, most / float(part_from_image[0, 0]) * finer)
    out = np.empty((y1 - y0, x1 - x0, *image.shape[2:]), image.dtype)
    for top, bottom in _strips(box, finer):
        some = seen.restrict_to((x0, y0 + top, x1, y0 + bottom))
        dense, dense_from_image = _enlarge_part(image, apply(part_from_image, some.points).reshape(-1, 2))
        onto = translation(-0.5, -0.5) @ dense_from_image @ part_from_image
        points = some.spread(onto, x1 - x0, bottom - top, finer)
        warped = cv2.remap(dense, points, None, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)  # type: ignore[call-overload]
        out[top:bottom] = cv2.resize(warped, (x1 - x0, bottom - top), interpolation=cv2.INTER_AREA)
    return out
