"""Where a painter gets pixels from: originals, or proxies when they are large enough. Decoded pictures are kept, by bytes."""

import threading
from collections import OrderedDict
from collections.abc import Callable
from typing import Generic, Protocol, TypeVar

import numpy as np
from numpy.typing import NDArray

from ..document import Photo
from ..document.lab import Space
from .reading import Source, decode, eighths

K = TypeVar("K")
V = TypeVar("V")


class Kept(Generic[K, V]):
    """Values kept by key up to a number of bytes, the least recently used let go first. Safe to share between threads."""

    def __init__(self, max_bytes: int, weigh: Callable[[V], int]) -> None:
        self._max, self._weigh, self._held = max_bytes, weigh, 0
        self._values: OrderedDict[K, V] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, key: K) -> V | None:
        """The value, now the most recently used; None when it is not kept."""
        with self._lock:
            if key in self._values:
                self._values.move_to_end(key)
                return self._values[key]
            return None

    def put(self, key: K, value: V) -> None:
        """Keeps a value unless it alone is over the limit."""
        weight = self._weigh(value)
        with self._lock:
            if key in self._values:
                self._held -= self._weigh(self._values.pop(key))
            if weight > self._max:
                return
            self._values[key] = value
            self._held += weight
            while self._held > self._max:
                _, old = self._values.popitem(last=False)
                self._held -= self._weigh(old)


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
