"""A press simulated on a screen: what its inks and its paper make of a page, what it cannot reach, how much ink it takes.

A page goes through the lab's own conversion into inks, and from there back to what is seen: with the paper's own white
(absolute colorimetric) or with white as the screen's. Views are sRGB pictures; figures are of one place.
"""

import io
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageCms, ImageFilter

from ..document.base import Frozen
from ..document.lab import Space
from ..document.press import Press
from ..remembering import Kept, remember
from .difference import ciede2000
from .inks import NO_LIMIT
from .output import INTENTS, Assets, Mode, Output, press_bytes
from .profiles import Bytes, convert_to_screen, describe_profile, profile_bytes

View = Literal["paper", "press", "reach", "ink", "cyan", "magenta", "yellow", "black"]
VIEWS: tuple[View, ...] = ("paper", "press", "reach", "ink", "cyan", "magenta", "yellow", "black")
PLATES = ("cyan", "magenta", "yellow", "black")
NOTICED = 3.0  # a difference that is seen side by side (common practice, no source)
_FAR = 15.0  # as far as the scale of the view goes
_MARK = np.array([0, 190, 190], np.float32)  # what is out of reach or over the limit is covered with


class Figures(Frozen):
    """One place of a page in figures. ``rgb``: of the working space. ``lab``: as it will be printed, CIE L*a*b* under D50 on
    the press's paper. ``inks``: percent of each. ``moved``: CIEDE2000 between what is meant and what will be printed."""

    rgb: tuple[int, int, int]
    lab: tuple[float, float, float]
    inks: tuple[float, ...] = ()
    ink_sum: float = 0.0
    moved: float = 0.0


class Proof:
    """A lab's press, to be seen on a screen."""

    def __init__(self, space: Space, press: Press, assets: Assets) -> None:
        self._space, self._press = space, press
        self._icc = press_bytes(press, assets)
        self._mode: Mode = {"CMYK": "CMYK", "GRAY": "L"}.get(describe_profile(self._icc)[1], "RGB")  # type: ignore[assignment]
        # As files are written; and as the profile alone would have it, to see where there would be too much ink.
        most = float(press.ink_limit) if self._mode == "CMYK" else NO_LIMIT
        self._output = Output(space, self._icc, self._mode, press.intent, press.black_point, most)
        self._unlimited = Output(space, self._icc, self._mode, press.intent, press.black_point)

    @property
    def views(self) -> tuple[View, ...]:
        """What there is to be seen: plates and ink sums only of a press with inks."""
        return VIEWS if self._mode == "CMYK" else ("paper", "press", "reach")

    def view(self, rgb: Bytes, view: View) -> Bytes:
        """A page's pixels (h, w, 3) of the working space as one of the views, sRGB.

        What is seen of the press is worked out for every fifth level of each channel, and between them in straight lines
        (within 1 of 255 on average); plates and ink sums are exact.
        """
        if view in ("paper", "press", "reach"):
            return np.asarray(Image.fromarray(rgb).filter(_table(self, view)))
        if view == "ink":
            inks = self._unlimited.convert(rgb)
            over = inks.sum(-1, dtype=np.uint16).astype(np.float32) / np.float32(2.55) - self._press.ink_limit
            return _mark_picture(convert_to_screen(rgb, self._space), np.where(over > 0, 0.35 + over / 80, 0.0))
        inks = self._output.convert(rgb)
        plate = cv2.bitwise_not(np.ascontiguousarray(inks[..., PLATES.index(view)]))
        return np.asarray(cv2.cvtColor(plate, cv2.COLOR_GRAY2RGB), np.uint8)

    def paint_exactly(self, rgb: Bytes, view: View) -> Bytes:
        """The same, each pixel worked out by itself."""
        if view in ("paper", "press"):
            return self._show_inks(self._output.convert(rgb), view == "paper")
        if view == "reach":
            moved = self.colour_shift(rgb)
            share = np.where(moved > NOTICED, 0.1 + 0.9 * (moved - NOTICED) / (_FAR - NOTICED), 0.0)
            return _mark_picture(self._show_inks(self._output.convert(rgb), False), share.astype(np.float32))
        return self.view(rgb, view)

    def colour_shift(self, rgb: Bytes) -> NDArray[np.float64]:
        """How far each pixel is printed from what it is meant to be, CIEDE2000 (relative to the paper's white), (h, w)."""
        return self._difference(rgb, self._output.convert(rgb))

    def figures(self, rgb: Bytes) -> Figures:
        """One pixel, (3,), in figures."""
        pixel = np.asarray(rgb, np.uint8).reshape(1, 1, 3)
        inks = self._output.convert(pixel)
        lab = _lab(ImageCms.applyTransform(_image(inks, self._mode), _lab_transform(self._icc, self._mode, True)))[0, 0]
        shares = tuple(round(v / 2.55, 1) for v in inks[0, 0].tolist()) if self._mode == "CMYK" else ()
        r, g, b = pixel[0, 0].tolist()
        light, a, blue = (round(float(v), 1) for v in lab)
        return Figures(
            rgb=(r, g, b), lab=(light, a, blue), inks=shares, ink_sum=round(sum(shares), 1),
            moved=round(float(self._difference(pixel, inks)[0, 0]), 1),
        )  # fmt: skip

    def _difference(self, rgb: Bytes, inks: Bytes) -> NDArray[np.float64]:
        """Between what is meant, its black as dark as the press's where that is asked for, and what will be printed."""
        meant = _lab(
            ImageCms.applyTransform(Image.fromarray(rgb), _lab_transform(profile_bytes(self._space), "RGB", False))
        )
        printed = _lab(ImageCms.applyTransform(_image(inks, self._mode), _lab_transform(self._icc, self._mode, False)))
        if self._press.black_point and self._press.intent != "absolute":
            darkest = self._output.convert(np.zeros((1, 1, 3), np.uint8))
            black = _lab(
                ImageCms.applyTransform(_image(darkest, self._mode), _lab_transform(self._icc, self._mode, False))
            )
            meant = _compensate_black(meant, black[0, 0])
        return ciede2000(meant, printed)

    def _show_inks(self, inks: Bytes, paper: bool) -> Bytes:
        onto = _screen_transform(self._icc, self._mode, paper)
        return np.asarray(ImageCms.applyTransform(_image(inks, self._mode), onto))

    @property
    def key(self) -> tuple[object, ...]:
        """All that decides what is seen."""
        press = self._press
        return self._space, self._icc, self._mode, press.intent, press.black_point, press.ink_limit


_STEP = 5  # levels between two for which a view is worked out
_tables: Kept[tuple[object, ...], ImageFilter.Color3DLUT] = Kept(16, lambda table: 1)


def _table(proof: Proof, view: View) -> ImageFilter.Color3DLUT:
    """A view of every fifth level of red, green and blue, to be read between them."""
    key = (*proof.key, view)
    table = _tables.get(key)
    if table is None:
        levels = np.arange(0, 256, _STEP, dtype=np.uint8)
        blue, green, red = np.meshgrid(levels, levels, levels, indexing="ij")  # red runs first
        grid = np.stack([red, green, blue], axis=-1).reshape(len(levels), -1, 3)
        seen = proof.paint_exactly(grid, view).astype(np.float32) / 255
        table = ImageFilter.Color3DLUT(len(levels), seen.ravel().tolist())
        _tables.put(key, table)
    return table


def _mark_picture(picture: Bytes, share: NDArray[np.float32]) -> Bytes:
    """A picture, greyed, marked by how far over something is, 0 not at all to 1 wholly."""
    grey = cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY)
    pale = np.asarray(cv2.convertScaleAbs(grey, alpha=0.7, beta=60), np.uint8)
    marked: Bytes = np.repeat(pale[..., None], 3, axis=-1)
    over = share > 0
    if over.any():
        cover = np.clip(0.3 + 0.7 * share[over], 0, 1)[:, None]
        marked[over] = np.rint(marked[over] * (1 - cover) + _MARK * cover).astype(np.uint8)
    return marked


def _image(pixels: Bytes, mode: Mode) -> Image.Image:
    return Image.fromarray(pixels if pixels.shape[-1] > 1 else pixels[..., 0], None if mode != "CMYK" else "CMYK")


@remember
def _screen_transform(icc: bytes, mode: Mode, paper: bool) -> ImageCms.ImageCmsTransform:
    """From inks to sRGB, black as the screen's own unless the paper is simulated, and with it its black."""
    press, screen = (ImageCms.ImageCmsProfile(io.BytesIO(data)) for data in (icc, profile_bytes("srgb")))
    intent = INTENTS["absolute" if paper else "relative"]
    flags = ImageCms.Flags.NONE if paper else ImageCms.Flags.BLACKPOINTCOMPENSATION
    return ImageCms.buildTransform(press, screen, mode, "RGB", intent, flags)


@remember
def _lab_transform(icc: bytes, mode: Mode, paper: bool) -> ImageCms.ImageCmsTransform:
    intent = INTENTS["absolute" if paper else "relative"]
    source = ImageCms.ImageCmsProfile(io.BytesIO(icc))
    return ImageCms.buildTransform(source, ImageCms.createProfile("LAB"), mode, "LAB", intent, ImageCms.Flags.NONE)


def _lab(image: Image.Image | None) -> NDArray[np.float64]:
    """Pillow's 8-bit LAB as CIE L*a*b*: L in 255 steps of 100/255, a and b in whole steps, as two's complement."""
    stored = np.asarray(image)
    lab: NDArray[np.float64] = np.dstack(
        [stored[..., 0] * (100 / 255), stored[..., 1:].astype(np.int8).astype(np.float64)]
    )
    return lab


def _compensate_black(lab: NDArray[np.float64], black: NDArray[np.float64]) -> NDArray[np.float64]:
    """Colours with their black brought to a press's, white staying: what black point compensation means (W. Li et al., "Black
    point compensation", Adobe 2006). CIE L*a*b* under any one illuminant."""
    white_y, black_y = 1.0, float(_xyz(black)[1])
    scaled = _xyz(lab) * (white_y - black_y) + black_y
    return _lab_from_xyz(scaled)


def _xyz(lab: NDArray[np.float64]) -> NDArray[np.float64]:
    """L*a*b* as X, Y and Z, each a share of the white's (CIE 15)."""
    fy = (lab[..., 0] + 16) / 116
    f = np.stack([fy + lab[..., 1] / 500, fy, fy - lab[..., 2] / 200], axis=-1)
    xyz: NDArray[np.float64] = np.where(f > 6 / 29, f**3, 3 * (6 / 29) ** 2 * (f - 4 / 29))
    return xyz


def _lab_from_xyz(xyz: NDArray[np.float64]) -> NDArray[np.float64]:
    f = np.where(xyz > (6 / 29) ** 3, np.cbrt(xyz), xyz / (3 * (6 / 29) ** 2) + 4 / 29)
    return np.stack([116 * f[..., 1] - 16, 500 * (f[..., 0] - f[..., 1]), 200 * (f[..., 1] - f[..., 2])], axis=-1)
