"""Raster print files: JPEG (4:4:4), PNG and TIFF with embedded profile and density, read back and checked."""

import io
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PIL import Image, TiffImagePlugin

from ..colour.profiles import from_working, profile_bytes
from ..errors import ExportFailed
from .files import whole

Bytes = NDArray[np.uint8]
SUFFIX = {"jpeg": "jpg", "png": "png", "tiff": "tif", "pdf": "pdf"}


def write(target: Path, kind: str, rgb: Bytes, alpha: Bytes | None, ppi: int, profile: str, quality: int) -> None:
    """Writes a page. ``kind`` is jpeg, png or tiff; alpha (h, w) only with png. Raises ExportFailed when it reads back wrong."""
    image = from_working(Image.fromarray(rgb), profile)
    if alpha is not None:
        image = image.copy()  # a converted picture may share its pixels
        image.putalpha(Image.fromarray(alpha))
    icc = profile_bytes(profile)
    with whole(target, lambda path: _check(path, image.size, ppi)) as file:
        if kind == "jpeg":
            exif = Image.Exif()
            # Resolution in EXIF agrees with JFIF's (tags 0x011A, 0x011B, 0x0128 = inch).
            exif[0x011A] = exif[0x011B] = TiffImagePlugin.IFDRational(ppi)
            exif[0x0128] = 2
            image.save(file, "JPEG", quality=quality, subsampling="4:4:4", dpi=(ppi, ppi), icc_profile=icc, exif=exif)
        elif kind == "png":
            image.save(file, "PNG", dpi=(ppi, ppi), icc_profile=icc, compress_level=4)
        elif kind == "tiff":
            image.save(file, "TIFF", dpi=(ppi, ppi), icc_profile=icc, compression="tiff_lzw")
        else:
            raise ValueError(kind)


def _check(path: Path, size: tuple[int, int], ppi: int) -> None:
    """Opens what was written. Its header must say what was asked for."""
    with Image.open(path) as written:
        density = written.info.get("dpi", (0, 0))
        # PNG keeps whole pixels a metre: 300 ppi reads back as 299.9994.
        if (
            written.size != size
            or any(abs(float(d) - ppi) > 0.02 for d in density)
            or "icc_profile" not in written.info
        ):
            raise ExportFailed(
                f"{path.suffix[1:].upper()} file did not read back as written.", "Free some disk space and try again."
            )


def jpeg_bytes(rgb: Bytes, quality: int, subsampling: str = "4:4:4") -> bytes:
    """A JPEG in memory, without profile or density: for the screen and inside a PDF."""
    out = io.BytesIO()
    Image.fromarray(rgb).save(out, "JPEG", quality=quality, subsampling=subsampling)
    return out.getvalue()
