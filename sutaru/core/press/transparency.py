"""How far a picture of a PDF can be seen through, packed as its bands go by."""

import zlib
from collections.abc import Iterable, Iterator

import cv2
import numpy as np

from ..depths import Bytes
from ..paint.page import Painted

_WIDE = 16  # px about a soft edge within which what is behind it takes its colour: more than a JPEG's block


class Cover:
    """The alpha of bands that go by, packed; the bands go on without it."""

    def __init__(self) -> None:
        self._packer, self._parts = zlib.compressobj(6), list[bytes]()

    def read_bands(self, bands: Iterable[Painted]) -> Iterator[Painted]:
        """The bands, their colours going on behind what hides them, so that a JPEG makes no rings about their edges."""
        for band in bands:
            assert band.alpha is not None, "a clear picture is painted transparent"
            self._parts.append(self._packer.compress(np.ascontiguousarray(band.alpha).data))
            yield Painted(band.box, _extend_colours(band.rgb, band.alpha), None)

    def data(self) -> Iterator[bytes]:
        """All of it, once the bands have gone by."""
        yield from self._parts
        yield self._packer.flush()


def _extend_colours(rgb: Bytes, alpha: Bytes) -> Bytes:
    """Colours with those near them where nothing is seen."""
    hidden = alpha == 0
    if not hidden.any() or hidden.all():
        return rgb
    size = max(1, rgb.shape[1] // _WIDE), max(1, rgb.shape[0] // _WIDE)
    strong = alpha.astype(np.float32) / np.float32(255)
    small = [cv2.resize(layer, size, interpolation=cv2.INTER_AREA) for layer in (rgb * strong[..., None], strong)]
    small = [cv2.blur(layer, (3, 3), borderType=cv2.BORDER_REPLICATE) for layer in small]
    share = small[1].reshape(size[1], size[0], 1)
    colours = np.where(share > 0, small[0].reshape(size[1], size[0], 3) / np.maximum(share, 1e-6), 255)
    near = cv2.resize(
        np.clip(np.rint(colours), 0, 255).astype(np.uint8), rgb.shape[1::-1], interpolation=cv2.INTER_LINEAR
    )
    return np.where(hidden[..., None], near, rgb)
