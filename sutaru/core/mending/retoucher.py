"""A photo's pixels after its touches, at whatever size it was decoded: RGB of its working space. Touches are worked out in 8
bits; what none of them changes stays as deep as it came.

A touch is worked out in the box that it can change, in strips where that is large, from what the touches before it left.
"""

import math

import cv2
import numpy as np
from numpy.typing import NDArray

from ..depths import Bytes, Values, convert_to_8_bits, convert_to_16_bits, white
from ..document import Adjust, Cover, Eye, Free, Photo, Retouching, Stroke
from ..document.lab import Space
from ..photos import Pixels
from ..remembering import Kept
from .areas import Box, Size, coverage, extent, grow_box
from .cutout import cut_out_subject
from .edge_extension import SMALL_PX, Edges, Strip, added_px, extend_edges, plan_bytes, plan_strips, shrink_for_planning
from .eyes import pupil_stroke, remove_flash
from .healing import continue_values, membrane
from .local_adjustments import adjust_area, reach

Floats = NDArray[np.float32]
_RING = 2  # px around what is covered, which say what it runs over into
# Half the width, px, at which an area's edge is placed well enough: what has a source must meet it closely, what only runs
# on need not. And how much finer it is worked out at most.
_HALF_PX, _FINEST, _FINE_PX = {"heal": 12.0, "fill": 1.0}, 8, 1_000_000
_PLANS_BYTES = 4_000_000
_SEEN = 1 / 512  # less of a touch than this changes no pixel


class Retoucher:
    """Pixels of photos with their touches done. What was worked out last is kept, up to a number of bytes, so that one touch
    more costs one touch."""

    def __init__(self, pixels: Pixels, keep_bytes: int) -> None:
        self._pixels = pixels
        self._kept: Kept[tuple[str, tuple[int, ...], Space, str], Bytes] = Kept(keep_bytes, lambda image: image.nbytes)
        self._plans: Kept[tuple[str, Space, str], tuple[Strip, ...]] = Kept(_PLANS_BYTES, plan_bytes)

    def __call__(
        self, photo: Photo, least_scale: float, space: Space, retouching: Retouching | None, depth: int = 8
    ) -> Values:
        """See Pixels. Raises PhotoRefused when the file is damaged."""
        image = self._pixels(photo, least_scale, space, depth)
        if retouching is None or not retouching.pixel_touches:
            return image
        if image.shape[2] == 4:
            return np.dstack(
                [self._retouch(np.ascontiguousarray(image[..., :3]), photo, space, retouching), image[..., 3]]
            )
        return self._retouch(image, photo, space, retouching)

    def _retouch(self, image: Values, photo: Photo, space: Space, retouching: Retouching) -> Values:
        flat = convert_to_8_bits(image)
        pixels = self._apply_touches(flat, photo, space, retouching)
        if image.dtype == np.uint8:
            return pixels
        return np.where((pixels != flat).any(axis=-1, keepdims=True), convert_to_16_bits(pixels), image)

    def _apply_touches(self, image: Bytes, photo: Photo, space: Space, retouching: Retouching) -> Bytes:
        names = [(photo.checksum, image.shape, space, stage) for stage in retouching.stages]
        for done in range(len(names), 0, -1):
            if (before := self._kept.get(names[done - 1])) is not None:
                break
        else:
            done, before = 0, image
        if done == len(names):
            return before
        pixels = before.copy()
        for touch in retouching.pixel_touches[done:]:
            apply_touch(pixels, touch)
        self._kept.put(names[-1], pixels)
        return pixels

    def cut_out_free(
        self, photo: Photo, least_scale: float, space: Space, retouching: Retouching, touch: Free
    ) -> Bytes:
        """RGBA (h, w, 4) of a subject that stands free, of 8 bits, once all touches are done. Raises PhotoRefused."""
        image = convert_to_8_bits(self(photo, least_scale, space, retouching))
        name = photo.checksum, image.shape, space, touch.digest + (retouching.stages or ("",))[-1]
        cut_out = self._kept.get(name)
        if cut_out is None:
            cut_out = cut_out_subject(np.ascontiguousarray(image[..., :3]), touch)
            if image.shape[2] == 4:
                cut_out[..., 3] = cv2.multiply(cut_out[..., 3], image[..., 3], scale=1 / 255)
            self._kept.put(name, cut_out)
        return cut_out

    def extend_edges_of(
        self, image: Values, photo: Photo, space: Space, retouching: Retouching | None, edges: Edges
    ) -> tuple[Values, int, int]:  # fmt: skip
        """An image, all of a photo as it is retouched, that goes on beyond its edges with its own texture, there in 8 bits; and
        by how many px at its left and top. Raises PhotoRefused."""
        if image.shape[2] == 4:
            grown, left, top = self.extend_edges_of(
                np.ascontiguousarray(image[..., :3]), photo, space, retouching, edges
            )
            cover = np.full(grown.shape[:2], white(image), image.dtype)
            cover[top : top + image.shape[0], left : left + image.shape[1]] = image[..., 3]
            return np.dstack([grown, cover]), left, top
        stage = (retouching.stages or ("",))[-1] if retouching else ""
        which = f"{stage} {edges} {[area.digest for area in photo.keep_areas]}"
        strips = self._plans.get((photo.checksum, space, which))
        if strips is None:
            seen = convert_to_8_bits(
                self(photo, min(1.0, SMALL_PX / max(photo.width, photo.height)), space, retouching)
            )[..., :3]
            spare = [(a.left, a.top, a.left + a.width, a.top + a.height) for a in photo.keep_areas]
            strips = plan_strips(shrink_for_planning(seen), edges, spare)
            self._plans.put((photo.checksum, space, which), strips)
        name = photo.checksum, image.shape, space, which
        extended = self._kept.get(name)
        if extended is None:
            extended = extend_edges(convert_to_8_bits(image), strips)
            self._kept.put(name, extended)
        left, top = added_px(strips, image.shape[1], image.shape[0])
        if image.dtype == np.uint8:
            return extended, left, top
        deep = convert_to_16_bits(extended)
        deep[top : top + image.shape[0], left : left + image.shape[1]] = image
        return deep, left, top


def retouch_image(image: Bytes, retouching: Retouching) -> Bytes:
    """An image (h, w, 3), all of a photo, with its touches done."""
    pixels = image.copy()
    for touch in retouching.pixel_touches:
        apply_touch(pixels, touch)
    return pixels


def reach_of(touch: Cover | Adjust | Eye, size: Size) -> Box | None:
    """The box that a touch can change; None when it lies off the photo."""
    if isinstance(touch, Eye):
        return extent(pupil_stroke(touch), size)
    return reach(touch, size) if isinstance(touch, Adjust) else extent(touch.area, size)


def apply_touch(image: Bytes, touch: Cover | Adjust | Eye) -> None:
    """Does one touch on an image (h, w, 3), all of a photo, in place."""
    size = Size(image.shape[1], image.shape[0])
    box = reach_of(touch, size)
    if box is None:
        return
    if isinstance(touch, Cover):
        _cover_area(image, touch, size, box)
    elif isinstance(touch, Adjust):
        adjust_area(image, touch, size, box)
    else:
        remove_flash(image, touch, size, box)


def _cover_area(image: Bytes, touch: Cover, size: Size, box: Box) -> None:
    wide = grow_box(box, _RING, size)
    share = coverage(touch.area, size, wide)
    changed = share > _SEEN
    if not changed.any():
        return
    x0, y0, x1, y1 = wide
    part = image[y0:y1, x0:x1]
    now = part.astype(np.float32)
    finer = 1 if touch.how == "clone" else _oversampling(touch, size, wide)
    if finer == 1:
        now += (_fresh(image, now, touch, size, wide, share) - now) * share[..., None]
    else:
        # So small that it matters where between two pixels its edge runs: worked out finer, and brought back.
        fine = Size(size.width * finer, size.height * finer)
        within = x0 * finer, y0 * finer, x1 * finer, y1 * finer
        large = cv2.resize(now, ((x1 - x0) * finer, (y1 - y0) * finer), interpolation=cv2.INTER_CUBIC).astype(
            np.float32
        )
        share = coverage(touch.area, fine, within)
        more = (_fresh(image, large, touch, size, wide, share, finer) - large) * share[..., None]
        now += cv2.resize(more, (x1 - x0, y1 - y0), interpolation=cv2.INTER_AREA) * np.float32(touch.strength / 100)
        changed = np.ones(changed.shape, np.bool_)
    np.clip(now, 0, 255, out=now)
    part[changed] = np.rint(now[changed]).astype(np.uint8)


def _oversampling(touch: Cover, size: Size, box: Box) -> int:
    """How many times finer a touch is worked out: its narrowest half is some pixels wide then."""
    area = touch.area
    across = (
        2 * area.radius * size.longer_side
        if isinstance(area, Stroke)
        else float(np.ptp(size.px(area.points), axis=0).min())
    )
    most = min(_FINEST, math.isqrt(_FINE_PX // ((box[2] - box[0]) * (box[3] - box[1]))))
    return max(1, min(most, math.ceil(2 * _HALF_PX[touch.how] / max(across, 0.1))))


def _fresh(image: Bytes, now: Floats, touch: Cover, size: Size, about: Box, share: Floats, finer: int = 1) -> Floats:
    """What comes to lie in a box, worked out ``finer`` than the image is; by the touch's strength."""
    unknown = share > _SEEN
    if touch.how == "fill":
        fresh = continue_values(now, unknown)
    else:
        fresh = source(image, touch, size, about, finer)
        if touch.how == "heal":
            fresh += membrane(now - fresh, unknown)
    return fresh if touch.strength == 100 or finer > 1 else now + (fresh - now) * np.float32(touch.strength / 100)


def source_map(touch: Cover, size: Size) -> NDArray[np.float64]:
    """Whence each place comes: an affine matrix (2, 3), px to px."""
    ax, ay = size.px(touch.area.points[:1])[0]
    turn, k = math.radians(touch.turn_deg), touch.scale
    # The source is seen mirrored, then turned counter-clockwise, so it is fetched from where a turn back leads.
    linear = np.array([[math.cos(turn), -math.sin(turn)], [math.sin(turn), math.cos(turn)]]) / k
    if touch.mirror:
        linear = np.diag([-1.0, 1.0]) @ linear
    shift = np.array(touch.shift) * (size.width, size.height)
    return np.column_stack([linear, np.array([ax, ay]) + shift - linear @ (ax, ay)])


def source(image: Bytes, touch: Cover, size: Size, box: Box, finer: int = 1) -> Floats:
    """What the pixels of a box are covered with, or ``finer`` times as many. Beyond the photo's edge lies the photo mirrored."""
    onto = source_map(touch, size)
    x0, y0, x1, y1 = box
    corners = np.array([(x0, y0), (x1, y0), (x1, y1), (x0, y1)], np.float64) @ onto[:, :2].T + onto[:, 2]
    low = np.floor(corners.min(axis=0)).astype(int) - 4
    high = np.ceil(corners.max(axis=0)).astype(int) + 4
    rows = _reflect_indices(np.arange(low[1], high[1]), size.height)
    columns = _reflect_indices(np.arange(low[0], high[0]), size.width)
    if low.min() >= 0 and high[0] <= size.width and high[1] <= size.height:
        part = image[low[1] : high[1], low[0] : high[0]]
    else:
        part = image[rows[:, None], columns[None, :]]
    # Middles of pixels lie at halves.
    linear = onto[:, :2] / finer
    move = onto[:, :2] @ (x0, y0) + linear @ (0.5, 0.5) + onto[:, 2] - low - 0.5
    whole = np.rint(move)
    if finer == 1 and np.allclose(linear, np.eye(2), atol=1e-9) and np.abs(move - whole).max() < 0.02:
        left, top = int(whole[0]), int(whole[1])
        return part[top : top + y1 - y0, left : left + x1 - x0].astype(np.float32)
    flags = cv2.INTER_CUBIC | cv2.WARP_INVERSE_MAP
    wide = (x1 - x0) * finer, (y1 - y0) * finer
    warped = cv2.warpAffine(
        part.astype(np.float32), np.column_stack([linear, move]), wide, flags=flags, borderMode=cv2.BORDER_REPLICATE
    )
    return warped.astype(np.float32, copy=False)


def _reflect_indices(indices: NDArray[np.int64], side: int) -> NDArray[np.int64]:
    """Rows or columns beyond the edge, as in a mirror that stands there."""
    around = np.mod(indices, 2 * side)
    return np.where(around < side, around, 2 * side - 1 - around)
