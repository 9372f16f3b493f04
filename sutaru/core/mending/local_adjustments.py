"""An area of a photo made lighter, warmer, more saturated, sharper or softer; its edges following the photo's own where that
is wished (a guided filter: K. He, J. Sun and X. Tang, "Guided Image Filtering", TPAMI 35, 2013, worked out on a smaller
picture as in K. He and J. Sun, "Fast Guided Filter", 2015)."""

from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from ..document import Adjust, Cut, Stroke, WhiteBalance
from .areas import Area, Box, Floats, Size, coverage, extent, grow_box
from .tone import gains, light, value

Bytes = NDArray[np.uint8]
_STRIP = 200_000  # px at a time: what is worked out of them stays near the processor
_GUIDED_PX = 900  # longer side of the picture on which edges are followed
_GUIDE_REACH = 0.02  # of the longer side
_GUIDE_NOISE = 0.0008  # variance of lightness, 0 to 1, that counts as an edge
# Colours that an area's middle is told by; how far another is, in CIE Lab, that counts as the same, and as another.
_COLOURS, _SAME, _OTHER = 4, 10.0, 28.0
# Of the longer side: what is made sharper, and what is made softer at its strongest.
_SHARP_SIGMA, _SOFT_SIGMA = 0.0004, 0.003
_LIGHTNESS = np.array([0.3, 0.59, 0.11], np.float32)  # as blending has it
_LUMA = np.array([0.2126, 0.7152, 0.0722], np.float32)
_LIGHT_OF = light(np.arange(256) / 255)


def adjust_area(image: Bytes, touch: Adjust, size: Size, box: Box) -> None:
    """Does an adjustment in place, on an image (h, w, 3), all of a photo."""
    edges = _Edges(image, touch.area, size, touch.edges) if touch.edges > 0 else None
    around = round(4 * _SOFT_SIGMA * size.longer_side) + 2 if touch.sharpness else 0
    whole = grow_box(box, around, size)
    # A strip must not see what the strip above it has become.
    before = image[whole[1] : whole[3], whole[0] : whole[2]]
    before = before.copy() if around else before
    rows = max(16, _STRIP // max(1, box[2] - box[0]), 6 * around)
    for top in range(box[1], box[3], rows):
        strip = box[0], top, box[2], min(box[3], top + rows)
        share = edges.share(image, strip) if edges else coverage(touch.area, size, strip)
        share *= np.float32(touch.strength / 100)
        if not (share > 0).any():
            continue
        was = before[strip[1] - whole[1] : strip[3] - whole[1], strip[0] - whole[0] : strip[2] - whole[0]]
        fresh = _tone_part(
            _sharpen_strip(before, whole, strip, touch.sharpness, size, around) if around else was, touch
        )
        mixed = cv2.blendLinear(fresh, was.astype(np.float32), share, 1 - share)
        image[strip[1] : strip[3], strip[0] : strip[2]] = cv2.convertScaleAbs(
            np.maximum(mixed, 0) if around or touch.saturation > 0 else mixed
        )


def reach(touch: Adjust, size: Size) -> Box | None:
    """The box that an adjustment can change: where edges are followed, a little more than its area."""
    box = extent(touch.area, size)
    return grow_box(box, round(_GUIDE_REACH * size.longer_side), size) if box and touch.edges > 0 else box


def _tone_part(part: NDArray[Any], touch: Adjust) -> Floats:
    """Values 0 to 255 lighter, warmer and more saturated."""
    if touch.light or touch.warmth:
        factors = gains(WhiteBalance(warmth=touch.warmth)) * 2.0**touch.light
        table = value(np.minimum(_LIGHT_OF[:, None] * factors, 1.0)).astype(np.float32) * np.float32(255)
        whole = part if part.dtype == np.uint8 else cv2.convertScaleAbs(np.maximum(part, 0))
        part = cv2.LUT(whole, table[None])
    if touch.saturation:
        more = np.float32(1 + touch.saturation / 100)
        onto = np.eye(3, dtype=np.float32) * more + np.tile(_LUMA, (3, 1)) * (1 - more)
        part = cv2.transform(part.astype(np.float32, copy=False), onto)
    return (
        _colour_part(part.astype(np.float32, copy=False), touch)
        if touch.colour
        else part.astype(np.float32, copy=False)
    )


def _colour_part(part: Floats, touch: Adjust) -> Floats:
    """Values 0 to 255 in a colour, their own lightness kept: "color" of W3C Compositing and Blending Level 1, section 10.2; or
    that colour alone, as flat as is wished."""
    colour = np.array([int((touch.colour or "#000000")[n : n + 2], 16) for n in (1, 3, 5)], np.float32)
    lightness = cv2.transform(part, _LIGHTNESS[None])[..., None]
    coloured = colour + (lightness - float(colour @ _LIGHTNESS))
    low, high = coloured.min(axis=-1, keepdims=True), coloured.max(axis=-1, keepdims=True)
    with np.errstate(divide="ignore", invalid="ignore"):
        coloured = np.where(low < 0, lightness + (coloured - lightness) * lightness / (lightness - low), coloured)
        coloured = np.where(
            high > 255, lightness + (coloured - lightness) * (255 - lightness) / (high - lightness), coloured
        )
    return np.asarray(coloured + (colour - coloured) * np.float32(touch.flat), np.float32)


def _sharpen_strip(before: Bytes, whole: Box, strip: Box, amount: float, size: Size, around: int) -> Floats:
    """A strip sharper or softer, which takes what lies around it."""
    about = grow_box(strip, around, size)
    part = before[about[1] - whole[1] : about[3] - whole[1], about[0] - whole[0] : about[2] - whole[0]].astype(
        np.float32
    )
    inner = np.s_[strip[1] - about[1] : strip[3] - about[1], strip[0] - about[0] : strip[2] - about[0]]
    return np.ascontiguousarray(_blur_part(part, amount, size)[inner])


def _blur_part(part: Floats, amount: float, size: Size) -> Floats:
    if amount > 0:
        blurred = cv2.GaussianBlur(part, (0, 0), max(0.3, _SHARP_SIGMA * size.longer_side))
        return (part + (part - blurred) * np.float32(2 * amount / 100)).astype(np.float32, copy=False)
    sigma = max(0.05, _SOFT_SIGMA * size.longer_side * -amount / 100)
    # What is blurred far is as well blurred small: its finest detail is gone.
    fewer = max(1, int(sigma / 2.5))
    height, width = part.shape[:2]
    small = (
        cv2.resize(part, (-(-width // fewer), -(-height // fewer)), interpolation=cv2.INTER_AREA) if fewer > 1 else part
    )
    blurred = cv2.GaussianBlur(small, (0, 0), sigma / fewer)
    if fewer > 1:
        blurred = cv2.resize(blurred, (width, height), interpolation=cv2.INTER_LINEAR)
    return blurred.astype(np.float32, copy=False)


class _Edges:
    """An area that keeps to what its middle is like: the more another colour, the less; and its edge follows the photo's."""

    def __init__(self, image: Bytes, area: Area, size: Size, closely: float) -> None:
        self._area, self._size, self._closely = area, size, np.float32(closely)
        scale = min(1.0, _GUIDED_PX / size.longer_side)
        small = Size(max(1, round(size.width * scale)), max(1, round(size.height * scale)))
        seen = cv2.resize(image, (small.width, small.height), interpolation=cv2.INTER_AREA)
        guide = self._lightness(seen)
        share = coverage(area, small, small.box)
        if not isinstance(area, Cut):  # cut out as it is, whatever its colours are
            share *= _alike(seen, area, small, share)
        side = 2 * max(1, round(_GUIDE_REACH * small.longer_side)) + 1

        def mean(of: NDArray[Any]) -> Floats:
            return cv2.blur(of, (side, side)).astype(np.float32, copy=False)

        m, s = mean(guide), mean(share)
        slope = (mean(guide * share) - m * s) / (mean(guide * guide) - m * m + np.float32(_GUIDE_NOISE))
        self._slope, self._base = mean(slope), mean(s - slope * m)
        self._onto = np.array([[small.width / size.width, 0, 0], [0, small.height / size.height, 0]])

    @staticmethod
    def _lightness(image: NDArray[Any]) -> Floats:
        return (image.astype(np.float32) @ (_LUMA / 255)).astype(np.float32)

    def share(self, image: Bytes, box: Box) -> Floats:
        """How far the area covers the pixels of a box."""
        x0, y0, x1, y1 = box
        onto = self._onto.copy()
        onto[:, 2] = onto[:, :2] @ (x0 + 0.5, y0 + 0.5) - 0.5
        flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
        slope, base = (
            cv2.warpAffine(field, onto, (x1 - x0, y1 - y0), flags=flags, borderMode=cv2.BORDER_REPLICATE)
            for field in (self._slope, self._base)
        )
        plain = coverage(self._area, self._size, box)
        follows = np.clip(slope * self._lightness(image[y0:y1, x0:x1]) + base, 0, 1)
        return (plain + (follows - plain) * self._closely).astype(np.float32)


def _alike(seen: NDArray[Any], area: Area, size: Size, share: Floats) -> Floats:
    """How like the middle of an area each pixel is, 0 to 1: under the middle of the brush, or well within a drawn area."""
    if isinstance(area, Stroke):
        middle = (
            coverage(
                area.copy_with(radius=max(area.radius * 0.25, 1.5 / size.longer_side), soft=0.0, pressed=()),
                size,
                size.box,
            )
            > 0.5
        )
    else:
        middle = share > 0.9
    lab = cv2.cvtColor(np.ascontiguousarray(seen, np.uint8).astype(np.float32) / 255, cv2.COLOR_RGB2LAB)
    some = lab[middle]
    if len(some) == 0:
        return np.ones(share.shape, np.float32)
    some = np.ascontiguousarray(some[:: max(1, len(some) // 2000)])
    count = min(_COLOURS, len(some))
    ends = cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_MAX_ITER, 20, 0.5
    cv2.setRNGSeed(1)
    _, _, centres = cv2.kmeans(some, count, np.zeros((len(some), 1), np.int32), ends, 2, cv2.KMEANS_PP_CENTERS)
    away = np.full(share.shape, np.inf, np.float32)
    for centre in centres:
        np.minimum(away, np.linalg.norm(lab - centre, axis=2), out=away)
    t = np.clip((_OTHER - away) / (_OTHER - _SAME), 0.0, 1.0)
    return (t * t * (3 - 2 * t)).astype(np.float32)
