"""Raster print files: JPEG (4:4:4), PNG and TIFF (of 8 or 16 bits) with embedded profile and density, read back and checked.

A page comes as bands, top to bottom, in the working space, and never stands whole in memory; each is brought to the colour
of the file as it is written.
"""

import struct
import tempfile
from collections import deque
from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import Executor, Future
from pathlib import Path
from typing import Any, BinaryIO, TypeVar

import numpy as np
import pyvips
import simplejpeg
from numpy.typing import NDArray
from PIL import Image, TiffImagePlugin

from ..colour.output import Mode, Output
from ..errors import ExportFailed
from ..paint.grid import ROWS
from ..paint.page import Painted
from .file_metadata import NOTHING, About
from .files import prefix_of_process, write_whole

Bytes = NDArray[np.uint8]
S = TypeVar("S")
_AT_ONCE = 4  # strips of a page
_ICC_CHUNK = 65_519  # bytes of a profile in one segment
_PHOTOMETRIC: dict[Mode, int] = {"RGB": 2, "CMYK": 5, "L": 1}  # TIFF 6.0, tag 262
MCU = 8  # px each way of the least unit of a JPEG without subsampling


def write(
    target: Path, kind: str, bands: Iterable[Painted], size: tuple[int, int], ppi: int, output: Output, quality: int,
    about: About = NOTHING, threads: Executor | None = None, depth: int = 8,
) -> None:  # fmt: skip
    """Writes a page of ``size`` px. ``kind`` is jpeg, png or tiff; bands with alpha only with png, which has no inks; of
    ``depth`` 16 only with tiff.

    Raises ExportFailed when it does not read back as written, and what ``bands`` raises.
    """
    with write_whole(target, lambda path: _check(path, size, ppi, output, depth)) as file:
        if kind == "jpeg":
            parts = jpeg_of_bands(bands, size, quality, output, threads)
            file.write(_add_facts(next(parts), ppi, output.icc, about))
            for part in parts:
                file.write(part)
        else:
            _write_through_libvips(file, target, kind, bands, size, ppi, output, about, depth)


def _write_through_libvips(
    file: BinaryIO, target: Path, kind: str, bands: Iterable[Painted], size: tuple[int, int], ppi: int, output: Output,
    about: About, depth: int,
) -> None:  # fmt: skip
    """The bands are put down beside the target as a plain TIFF, which libvips reads again a few rows at a time."""
    with open_spool(target) as plain:
        for n, band in enumerate(bands):
            pixels = output.convert(band.rgb) if band.alpha is None else np.dstack([band.rgb, band.alpha])
            if n == 0:
                plain.write(_tiff_header(size, pixels.shape[2], output.mode, depth // 8))
            plain.write(np.ascontiguousarray(pixels).data)
        plain.flush()
        page = pyvips.Image.tiffload(plain.name, access="sequential").copy(xres=ppi / 25.4, yres=ppi / 25.4)
        page.set_type(pyvips.GValue.blob_type, "icc-profile-data", output.icc)
        page.set_type(pyvips.GValue.blob_type, "xmp-data", about.xmp())
        sink = pyvips.Target.new_to_descriptor(file.fileno())
        if kind == "png":
            page.pngsave_target(sink, compression=4, filter="sub")
        elif kind == "tiff":
            page.tiffsave_target(sink, compression="lzw", predictor="horizontal", resunit="inch")
        else:
            raise ValueError(kind)


def _tiff_header(size: tuple[int, int], channels: int, mode: Mode, each: int) -> bytes:
    """All of a TIFF but its pixels, which follow row by row: RGB, RGBA, grey or inks, ``each`` of 1 or 2 bytes, not compressed
    (TIFF 6.0, sections 2, 8 and 16)."""
    width, height = size
    rows = 16
    strips, row = -(-height // rows), width * channels * each
    counts = [min(rows, height - n * rows) * row for n in range(strips)]
    entries = {
        256: (4, [width]), 257: (4, [height]), 258: (3, [8 * each] * channels), 259: (3, [1]), 262: (3, [_PHOTOMETRIC[mode]]),
        273: (4, [0] * strips), 277: (3, [channels]), 278: (4, [rows]), 279: (4, counts), 284: (3, [1]),
        **({338: (3, [2])} if channels == 4 and mode == "RGB" else {}),
    }  # fmt: skip
    beside = 8 + 2 + 12 * len(entries) + 4
    pixels = beside + sum(len(values) * (4 if kind == 4 else 2) for kind, values in entries.values() if len(values) > 1)
    entries[273] = (4, [pixels + n * rows * row for n in range(strips)])
    table, after = b"", b""
    for tag, (kind, values) in entries.items():
        packed = struct.pack(f"<{len(values)}{'I' if kind == 4 else 'H'}", *values)
        if len(packed) > 4:
            packed, after = struct.pack("<I", beside + len(after)), after + packed
        table += struct.pack("<HHI", tag, kind, len(values)) + packed.ljust(4, b"\0")
    head = b"II*\0" + struct.pack("<IH", 8, len(entries)) + table + b"\0\0\0\0" + after
    return head.ljust(pixels, b"\0")


def open_spool(target: Path) -> Any:
    """A file beside a target that is gone when it is closed; swept when its process is killed."""
    return tempfile.NamedTemporaryFile(prefix=prefix_of_process(), suffix=".raw", dir=target.parent)


def _check(path: Path, size: tuple[int, int], ppi: int, output: Output, depth: int) -> None:
    """Opens what was written. Its header must say what was asked for."""
    with Image.open(path) as written:
        density = written.info.get("dpi", (0, 0))
        # PNG keeps whole pixels a metre: 300 ppi reads back as 299.9994.
        if (
            written.size != size
            or any(abs(float(d) - ppi) > 0.02 for d in density)
            or written.info.get("icc_profile") != output.icc
            or (output.mode != "RGB" and written.mode.replace("I;16", "L") != output.mode)
            or (path.suffix == ".tif" and set(written.tag_v2[258]) != {depth})  # type: ignore[attr-defined]
        ):
            raise ExportFailed(
                f"{path.suffix[1:].upper()} file did not read back as written.", "Free some disk space and try again."
            )


def jpeg_bytes(rgb: Bytes, quality: int, subsampling: str = "444") -> bytes:
    """A JPEG in memory, without profile or density: for the screen."""
    return bytes(simplejpeg.encode_jpeg(np.ascontiguousarray(rgb), quality, "RGB", subsampling))


def _encode_strip(pixels: Bytes, quality: int) -> bytes:
    """A strip of RGB, grey, or inks; these last are written as YCCK, upside down, as readers of JPEG expect them."""
    if pixels.shape[2] == 4:
        return bytes(simplejpeg.encode_jpeg(255 - pixels, quality, "CMYK", "444"))
    if pixels.shape[2] == 1:
        return bytes(simplejpeg.encode_jpeg(np.ascontiguousarray(pixels), quality, "GRAY", "Gray"))
    return jpeg_bytes(pixels, quality)


def jpeg_of_bands(
    bands: Iterable[Painted], size: tuple[int, int], quality: int, output: Output | None = None,
    threads: Executor | None = None,
) -> Iterator[bytes]:  # fmt: skip
    """A JPEG (4:4:4) of a page of bands: its header first, then its data in pieces. ``output``: its colour, else as painted.
    ``threads``: strips are converted and encoded by several at once.

    Strips of the page are encoded by themselves and meet at restart markers (ITU-T T.81, E.1.4: at a restart interval's
    end prediction begins anew), so that the pixels are those of one encoding of the whole. Bands must be a multiple of
    ROWS high, but for the last. Raises ExportFailed when the page is too large for a JPEG.
    """
    width, height = size
    if max(size) > 65_500:
        raise ExportFailed(f"A JPEG cannot be {width} x {height} px.", "Choose TIFF or PNG.")
    across = -(-width // MCU)
    # At most 65,535 units an interval; a power of two of them divides every band.
    rows = min(ROWS // MCU, 1 << ((65_535 // across).bit_length() - 1))

    def strip(pixels: Bytes) -> tuple[bytes, bytes]:
        return _split_jpeg(_encode_strip(output.convert(pixels) if output else pixels, quality))

    strips = (band.rgb[top : top + rows * MCU] for band in bands for top in range(0, len(band.rgb), rows * MCU))
    head = b""
    for n, (strip_size, data) in enumerate(_map_in_order(strip, strips, threads)):
        if not head:
            head = strip_size
            yield _page_header(head, height, rows * across)
        elif _page_header(strip_size, height, 0) != _page_header(head, height, 0):
            raise ExportFailed("The JPEG encoder wrote strips that do not belong together.")
        else:
            yield bytes((0xFF, 0xD0 + (n - 1) % 8))
        yield data
    yield b"\xff\xd9"


def _map_in_order(work: Callable[[Bytes], S], given: Iterable[Bytes], threads: Executor | None) -> Iterator[S]:
    """What ``work`` makes of each, in order; a few at once where there are threads."""
    if threads is None:
        yield from map(work, given)
        return
    waiting: deque[Future[S]] = deque()
    try:
        for entry in given:
            waiting.append(threads.submit(work, entry))
            if len(waiting) > _AT_ONCE:
                yield waiting.popleft().result()
        while waiting:
            yield waiting.popleft().result()
    finally:
        for future in waiting:
            future.cancel()


def _segments(jpeg: bytes) -> Iterator[tuple[int, int]]:
    """Marker and place of each segment up to the scan's header (T.81, B.1.1)."""
    position = 2
    while True:
        marker = jpeg[position + 1]
        yield marker, position
        if marker == 0xDA:
            return
        position += 2 + int.from_bytes(jpeg[position + 2 : position + 4], "big")


def _split_jpeg(jpeg: bytes) -> tuple[bytes, bytes]:
    """A JPEG's headers, those of its one scan included, and the scan's data without the marker that ends it."""
    *_, (_, scan) = _segments(jpeg)
    data = scan + 2 + int.from_bytes(jpeg[scan + 2 : scan + 4], "big")
    return jpeg[:data], jpeg[data:-2]


def _page_header(head: bytes, height: int, interval: int) -> bytes:
    """A strip's headers as those of the page: its height, and its restart interval in units."""
    segments = dict(_segments(head))
    frame, scan = segments[0xC0], segments[0xDA]
    tall = head[: frame + 5] + struct.pack(">H", height) + head[frame + 7 : scan]
    return tall + (b"\xff\xdd\0\4" + struct.pack(">H", interval)) + head[scan:]


def _add_facts(head: bytes, ppi: int, icc: bytes, about: About) -> bytes:
    """A JPEG's headers with its density, in JFIF (APP0; inks have none) and in EXIF (APP1) alike, what it is (XMP, APP1), and its
    profile (APP2; ICC.1:2022, B.4)."""
    exif = Image.Exif()
    exif[0x011A] = exif[0x011B] = TiffImagePlugin.IFDRational(ppi)
    exif[0x0128] = 2  # per inch
    if about.title:
        exif[0x010E], exif[0x0131] = about.title.encode("ascii", "replace").decode(), "Sutaru"
    start, end = 2, 4 + int.from_bytes(head[4:6], "big")
    first = head[start:end]
    if first[4:9] == b"JFIF\0":
        first = first[:11] + b"\1" + ppi.to_bytes(2, "big") * 2 + first[16:18]
    elif first[4:9] != b"Adobe":
        raise ExportFailed("The JPEG encoder wrote a file that is neither JFIF nor Adobe's.")
    chunks = [icc[start : start + _ICC_CHUNK] for start in range(0, len(icc), _ICC_CHUNK)]
    segments = [(b"\xff\xe1", exif.tobytes())]
    if about.title:
        segments.append((b"\xff\xe1", b"http://ns.adobe.com/xap/1.0/\0" + about.xmp()))
    for n, chunk in enumerate(chunks):
        segments.append((b"\xff\xe2", b"ICC_PROFILE\0" + bytes((n + 1, len(chunks))) + chunk))
    parts = [marker + (len(body) + 2).to_bytes(2, "big") + body for marker, body in segments]
    return b"".join((head[:2], first, *parts, head[end:]))
