"""Where a painter gets pixels from: originals, or proxies when they are large enough. Decoded pictures are kept, by bytes."""

import logging
from collections.abc import Callable, Mapping
from typing import Protocol

import numpy as np

from ..depths import Values, deepened
from ..document import Photo
from ..document.lab import Space
from ..errors import SutaruError
from ..remembering import Kept
from .reading import Source, decode, eighths

log = logging.getLogger(__name__)


class Pixels(Protocol):
    """Gives a photo's pixels, RGB (h, w, 3), upright, in a working space, at ``least_scale`` of its size or somewhat larger; of
    ``depth`` bits, 8 or 16."""

    def __call__(self, photo: Photo, least_scale: float, space: Space = "srgb", depth: int = 8) -> Values: ...


class Forgiving:
    """Pixels for a screen: a photo that cannot be read is hatched in its place, and hides nothing else."""

    def __init__(self, pixels: Pixels) -> None:
        self._pixels = pixels

    def __call__(self, photo: Photo, least_scale: float, space: Space = "srgb", depth: int = 8) -> Values:
        """See Pixels."""
        try:
            return self._pixels(photo, least_scale, space, depth)
        except SutaruError:
            log.warning("a photo cannot be read: %s", photo.id)
            size = max(1, round(photo.height * least_scale)), max(1, round(photo.width * least_scale))
            rows, columns = np.ogrid[: size[0], : size[1]]
            stripe = max(4, max(size) // 24)
            hatched = np.where((rows + columns) // stripe % 2, 150, 210).astype(np.uint8)
            hatched = np.repeat(hatched[..., None], 3, axis=2)
            return deepened(hatched) if depth == 16 else hatched


class PhotoPixels:
    """Pixels from original files, and from proxies (smaller JPEGs, upright, sRGB) where those suffice."""

    def __init__(
        self,
        original: Callable[[Photo], Source],
        proxy: Callable[[Photo], tuple[Source, float] | None] = lambda photo: None,
        keep_bytes: int = 0,
        names: Mapping[str, str] | None = None,
    ) -> None:
        """``names``: what photos are called, by id, where a refusal should say so: what is painted has no names."""
        self._names = names or {}
        self._original, self._proxy = original, proxy
        self._kept: Kept[tuple[str, int, Space, int], Values] = Kept(keep_bytes, lambda image: image.nbytes)

    def __call__(self, photo: Photo, least_scale: float, space: Space = "srgb", depth: int = 8) -> Values:
        """See Pixels. Raises PhotoRefused when the file is damaged."""
        key = (photo.sha256, eighths(least_scale), space, depth)  # as JPEG decoding shrinks
        kept = self._kept.get(key)
        if kept is not None and kept.shape[1] >= photo.width * least_scale - 1:
            return kept
        # A proxy is sRGB of 8 bits: a photo of more colours than that keeps them where the lab can print them.
        squeezed = space != "srgb" and photo.profile and "srgb" not in photo.profile.lower()
        squeezed = squeezed or (depth > 8 and photo.bits > 8)
        name = photo.name or self._names.get(photo.id, "a photo")
        proxy = None if squeezed else self._proxy(photo)
        if proxy and proxy[1] >= least_scale:
            image: Values = decode(proxy[0], name, least_scale / proxy[1], space)
        else:
            image = decode(self._original(photo), name, least_scale, space, depth)
        if depth == 16:
            image = deepened(image)
        self._kept.put(key, image)
        return image
