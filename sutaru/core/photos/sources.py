"""Where a painter gets pixels from: originals, or proxies when they are large enough. What is asked for again and
again is held meanwhile, by bytes."""

import logging
import threading
from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Mapping
from contextlib import contextmanager
from typing import Protocol

import numpy as np

from ..depths import Values, convert_to_16_bits
from ..document import Photo
from ..document.lab import Space
from ..errors import SutaruError
from ..remembering import Kept
from .checksums import Source
from .photo_file import decode, eighths

log = logging.getLogger(__name__)


class Pixels(Protocol):
    """Gives a photo's pixels, RGB (h, w, 3), upright, in a working space, at ``least_scale`` of its size or somewhat larger; of
    ``depth`` bits, 8 or 16. RGBA (h, w, 4) of one that is translucent, its colours as they are stored."""

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
            return convert_to_16_bits(hatched) if depth == 16 else hatched


class PhotoPixels:
    """Pixels from original files, and from proxies (smaller JPEGs, upright, sRGB) where those suffice."""

    def __init__(
        self,
        original: Callable[[Photo], Source],
        proxy: Callable[[Photo], tuple[Source, float] | None] = lambda photo: None,
        names: Mapping[str, str] | None = None,
    ) -> None:
        """``names``: what photos are called, by id, where a refusal should say so: what is painted has no names."""
        self._names = names or {}
        self._original, self._proxy = original, proxy

    def __call__(self, photo: Photo, least_scale: float, space: Space = "srgb", depth: int = 8) -> Values:
        """See Pixels. Raises PhotoRefused when the file is damaged."""
        # A proxy is sRGB of 8 bits: a photo of more colours than that keeps them where the lab can print them.
        squeezed = space != "srgb" and photo.profile and "srgb" not in photo.profile.lower()
        squeezed = squeezed or (depth > 8 and photo.bits > 8) or photo.is_translucent
        name = photo.name or self._names.get(photo.id, "a photo")
        proxy = None if squeezed else self._proxy(photo)
        if proxy and proxy[1] >= least_scale:
            image: Values = decode(proxy[0], name, least_scale / proxy[1], space)
        else:
            image = decode(self._original(photo), name, least_scale, space, depth, alpha=photo.is_translucent)
        return convert_to_16_bits(image) if depth == 16 else image


class Held:
    """Pixels that stay at hand, up to a number of bytes: ``always``, or those of some photos while they are asked for again."""

    def __init__(self, pixels: Pixels, most_bytes: int, always: bool = False) -> None:
        self._pixels, self._most, self._always = pixels, most_bytes, always
        self._again: Counter[str] = Counter()
        self._lock = threading.Lock()
        self._forget()

    def _forget(self) -> None:
        self._kept: Kept[tuple[str, int, Space, int], Values] = Kept(self._most, lambda image: image.nbytes)

    @contextmanager
    def hold(self, photos: Iterable[str]) -> Iterator[None]:
        """While photos, by their ids, are asked for again and again."""
        held_here = Counter(photos)
        with self._lock:
            self._again += held_here
        try:
            yield
        finally:
            with self._lock:
                self._again -= held_here
                if not self._again and not self._always:
                    self._forget()

    def __call__(self, photo: Photo, least_scale: float, space: Space = "srgb", depth: int = 8) -> Values:
        """See Pixels. Raises what they raise."""
        if photo.id not in self._again and not self._always:
            return self._pixels(photo, least_scale, space, depth)
        key = (photo.checksum, eighths(least_scale), space, depth)  # as JPEG decoding shrinks
        image = self._kept.get(key)
        if image is None or image.shape[1] < photo.width * least_scale - 1:
            image = self._pixels(photo, least_scale, space, depth)
            self._kept.put(key, image)
        return image
