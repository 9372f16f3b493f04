"""Where a painter gets pixels from: originals, or proxies when they are large enough. Decoded pictures are kept, by bytes."""

from collections.abc import Callable
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from ..document import Photo
from ..document.lab import Space
from ..remembering import Kept
from .reading import Source, decode, eighths


class Pixels(Protocol):
    """Gives a photo's pixels, RGB (h, w, 3), upright, in a working space, at ``least_scale`` of its size or somewhat larger."""

    def __call__(self, photo: Photo, least_scale: float, space: Space = "srgb") -> NDArray[np.uint8]: ...


class PhotoPixels:
    """Pixels from original files, and from proxies (smaller JPEGs, upright, sRGB) where those suffice."""

    def __init__(
        self,
        original: Callable[[Photo], Source],
        proxy: Callable[[Photo], tuple[Source, float] | None] = lambda photo: None,
        keep_bytes: int = 0,
    ) -> None:
        self._original, self._proxy = original, proxy
        self._kept: Kept[tuple[str, int, Space], NDArray[np.uint8]] = Kept(keep_bytes, lambda image: image.nbytes)

    def __call__(self, photo: Photo, least_scale: float, space: Space = "srgb") -> NDArray[np.uint8]:
        """See Pixels. Raises PhotoRefused when the file is damaged."""
        key = (photo.sha256, eighths(least_scale), space)  # as JPEG decoding shrinks
        kept = self._kept.get(key)
        if kept is not None and kept.shape[1] >= photo.width * least_scale - 1:
            return kept
        # A proxy is sRGB: a photo of more colours than that keeps them where the lab can print them.
        squeezed = space != "srgb" and photo.profile and "srgb" not in photo.profile.lower()
        proxy = None if squeezed else self._proxy(photo)
        if proxy and proxy[1] >= least_scale:
            image = decode(proxy[0], photo.name, least_scale / proxy[1], space)
        else:
            image = decode(self._original(photo), photo.name, least_scale, space)
        self._kept.put(key, image)
        return image
