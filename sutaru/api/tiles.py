"""Photos by tiles, so that a part of one is seen pixel for pixel without the rest."""

import math
import threading

import cv2
import numpy as np
from numpy.typing import NDArray

from ..core.document import Photo, Recipe, Retouching
from ..core.errors import NotFound
from ..core.fitting import upright_from_photo
from ..core.geometry.maps import Map, Projective, chain_maps
from ..core.geometry.matrices import scaling
from ..core.mending import Retoucher, apply_recipe
from ..core.paint.sampling import sample_picture
from ..core.photos import Pixels

TILE = 512  # px of a tile's side
LEVELS = 8
RETOUCHED_BYTES = 100 << 20
WHOLE_PIXELS = 120_000_000  # of a photo at once: a larger one is seen a little less than pixel for pixel


class Tiles:
    """Photos by tiles of 512 px, each level half the size of the one below; level 0 is the photo pixel for pixel."""

    def __init__(self, pixels: Pixels) -> None:
        self._retoucher = Retoucher(pixels, RETOUCHED_BYTES)
        self._lock = threading.Lock()  # many tiles of one photo are asked for at once: it is decoded once

    def read_whole(self, photo: Photo, scale: float, retouching: Retouching | None) -> NDArray[np.uint8]:
        """All of a photo at a scale or somewhat larger, retouched, sRGB. Raises PhotoRefused."""
        with self._lock:
            return self._retoucher(
                photo, min(scale, math.sqrt(WHOLE_PIXELS / (photo.width * photo.height))), "srgb", retouching
            )

    def tile(self, photo: Photo, level: int, x: int, y: int, recipe: Recipe) -> NDArray[np.uint8]:
        """A tile of a photo, mended. Raises NotFound off the photo, PhotoRefused."""
        step = TILE << level
        left, top = x * step, y * step
        right, bottom = min(photo.width, left + step), min(photo.height, top + step)
        if left >= right or top >= bottom:
            raise NotFound("This part of the photo does not exist.")
        image = self.read_whole(photo, 1 / (1 << level), recipe.retouching)
        across, down = image.shape[1] / photo.width, image.shape[0] / photo.height
        x0, y0 = round(left * across), round(top * down)
        part = image[y0 : max(y0 + 1, round(bottom * down)), x0 : max(x0 + 1, round(right * across))]
        size = -(-(right - left) >> level), -(-(bottom - top) >> level)
        if part.shape[1::-1] != size:
            how = cv2.INTER_AREA if part.shape[1] > size[0] else cv2.INTER_LINEAR
            part = np.asarray(cv2.resize(part, size, interpolation=how), np.uint8)
        return apply_recipe(part, recipe, photo.found)

    def picture(self, photo: Photo, longer: int, recipe: Recipe) -> NDArray[np.uint8]:
        """All of a photo, mended and upright, so many px along its longer side. Raises PhotoRefused."""
        share = min(1.0, longer / max(photo.width, photo.height))
        image = self.read_whole(photo, share, recipe.retouching)
        size = max(1, round(photo.width * share)), max(1, round(photo.height * share))
        onto: Map = Projective(scaling(size[0] / photo.width, size[1] / photo.height))
        if recipe.upright and recipe.upright.changes:
            onto = chain_maps(upright_from_photo(recipe.upright, photo.width, photo.height), onto)
        onto = onto.after(scaling(photo.width / image.shape[1], photo.height / image.shape[0]))
        return apply_recipe(sample_picture(image, onto, (0, 0, *size)), recipe, photo.found)
