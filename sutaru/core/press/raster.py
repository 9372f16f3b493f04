"""Raster print files: JPEG (4:4:4), PNG and TIFF with embedded profile and density, read back and checked."""

from pathlib import Path

import numpy as np
import simplejpeg
from numpy.typing import NDArray
from PIL import Image, TiffImagePlugin

from ..colour.profiles import from_working, profile_bytes
from ..errors import ExportFailed
from .files import whole

Bytes = NDArray[np.uint8]
SUFFIX = {"jpeg": "jpg", "png": "png", "tiff": "tif", "pdf": "pdf"}


def write(target: Path, kind: str, rgb: Bytes, alpha: Bytes | None, ppi: int, profile: str, quality: int) -> None:
    """Writes a page. ``kind`` is jpeg, png or tiff; alpha (h, w) only with png. Raises ExportFailed when it reads back wrong."""
    if profile != "srgb":
        rgb = np.asarray(from_working(Image.fromarray(rgb), profile))
    size = (rgb.shape[1], rgb.shape[0])
    icc = profile_bytes(profile)
    with whole(target, lambda path: _check(path, size, ppi)) as file:
        if kind == "jpeg":
            file.write(_with_facts(jpeg_bytes(rgb, quality), ppi, icc))
        elif kind == "png":
            image = Image.fromarray(rgb if alpha is None else np.dstack([rgb, alpha]))
            image.save(file, "PNG", dpi=(ppi, ppi), icc_profile=icc, compress_level=4)
        elif kind == "tiff":
            Image.fromarray(rgb).save(file, "TIFF", dpi=(ppi, ppi), icc_profile=icc, compression="tiff_lzw")
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


def jpeg_bytes(rgb: Bytes, quality: int, subsampling: str = "444") -> bytes:
    """A JPEG in memory, without profile or density: for the screen and inside a PDF."""
    return bytes(simplejpeg.encode_jpeg(np.ascontiguousarray(rgb), quality, "RGB", subsampling))


def _with_facts(jpeg: bytes, ppi: int, icc: bytes) -> bytes:
    """A JPEG with its density, in JFIF (APP0) and in EXIF (APP1) alike, and its profile (APP2; ICC.1:2022, annex B.4)."""
    exif = Image.Exif()
    exif[0x011A] = exif[0x011B] = TiffImagePlugin.IFDRational(ppi)
    exif[0x0128] = 2  # per inch
    if jpeg[6:11] != b"JFIF\0" or len(icc) > 65_519:
        raise ExportFailed("The JPEG encoder wrote a file that is not JFIF.")
    app0 = jpeg[:13] + b"\1" + ppi.to_bytes(2, "big") * 2 + jpeg[18:20]
    segments = ((b"\xff\xe1", exif.tobytes()), (b"\xff\xe2", b"ICC_PROFILE\0\1\1" + icc))
    parts = [marker + (len(body) + 2).to_bytes(2, "big") + body for marker, body in segments]
    return b"".join((app0, *parts, jpeg[20:]))
