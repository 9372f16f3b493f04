"""Reading a flat picture of a template: its holes, or areas of one colour, become openings; the rest lies over the photos."""

import hashlib
import io
from dataclasses import dataclass
from typing import Literal

import numpy as np
import pyvips
from numpy.typing import NDArray
from PIL import Image, ImageCms, ImageOps

from ... import limits
from ...document import Background, Layout, Overlay
from ...errors import FileRefused
from ...fitting.reading_order import reading_order
from .areas import Coverage, colour_of, grain_of, hex_of, is_flat, regions, unmix_colour
from .shapes import Found, Understood, recognise_shape

ROUGH, FAR = (
    1.5,
    16.0,
)  # of 255: how a picture that was a JPEG is known (measured: 2 to 8, and 2 to 13, at qualities 60 to 95)
Areas = Literal["holes", "flat"] | str  # or one colour, #rrggbb


@dataclass(frozen=True)
class FlatRead:
    """What was understood of a picture: the layout, the files it names, the openings as found, what could not be told."""

    layout: Layout
    files: dict[str, bytes]
    openings: tuple[Understood, ...]
    notes: tuple[str, ...] = ()
    areas: str = "holes"


def png_of(rgba: NDArray[np.uint8]) -> bytes:
    """RGBA (h, w, 4) as a PNG."""
    height, width = rgba.shape[:2]
    image = pyvips.Image.new_from_memory(np.ascontiguousarray(rgba).data, width, height, 4, "uchar")
    # Measured on 12 megapixels beside OpenCV's: a quarter of its time, and smaller.
    return bytes(image.copy(interpretation="srgb").pngsave_buffer(compression=2, filter="sub"))


def read_picture(data: bytes, name: str) -> tuple[NDArray[np.uint8], tuple[float, float]]:
    """A picture's pixels as RGBA in sRGB, upright, and its size in mm: by its density, or else at 300 ppi.

    Raises FileRefused when it is no picture that can be read, or has too many pixels.
    """
    try:
        with Image.open(io.BytesIO(data), formats=("PNG", "JPEG", "TIFF", "WEBP")) as picture:
            if picture.width * picture.height > limits.OVERLAY_PIXELS:
                most = limits.OVERLAY_PIXELS // 1_000_000
                raise FileRefused(f"{name} has more than {most} megapixels.", "Make it smaller.")
            density = picture.info.get("dpi") or (300, 300)
            profile = picture.info.get("icc_profile")
            upright = ImageOps.exif_transpose(picture)
            has_alpha = upright.mode in ("RGBA", "LA", "PA") or "transparency" in upright.info
            alpha = np.asarray(upright.convert("RGBA").getchannel("A")) if has_alpha else None
            rgb = np.asarray(_convert_to_srgb(upright, profile))
    except (OSError, SyntaxError, ValueError, ImageCms.PyCMSError, Image.DecompressionBombError):
        raise FileRefused(f"{name} is not a picture that can be read.", "Save it anew as PNG or JPEG.") from None
    height, width = rgb.shape[:2]
    opaque = np.full((height, width), 255, np.uint8) if alpha is None else alpha
    ppi = [float(d) if 30 <= float(d) <= 2400 else 300.0 for d in density[:2]]
    return np.dstack([rgb, opaque]), (round(width / ppi[0] * 25.4, 3), round(height / ppi[1] * 25.4, 3))


def _convert_to_srgb(picture: Image.Image, profile: bytes | None) -> Image.Image:
    if picture.mode not in ("RGB", "CMYK", "L"):
        picture, profile = picture.convert("RGB"), profile if picture.mode in ("RGBA", "RGB") else None
    if profile:
        source = ImageCms.ImageCmsProfile(io.BytesIO(profile))
        changed = ImageCms.profileToProfile(picture, source, ImageCms.createProfile("sRGB"), outputMode="RGB")
        if changed is not None:
            return changed
    return picture.convert("RGB")


def read_flat(
    rgba: NDArray[np.uint8], size_mm: tuple[float, float], areas: Areas = "", tolerance: int = 10
) -> FlatRead:
    """The template in a flat picture, (h, w, 4), as a sheet of ``size_mm``.

    ``areas``: "holes" (transparent ones), "flat" (areas of one colour, found by themselves), a colour "#rrggbb", "none" where the
    picture is kept whole as the frame of openings that are still to be drawn on it, or "" for holes where there are any.
    ``tolerance``: how far a value may be off the colour, of 255.
    Raises FileRefused when no opening is found.
    """
    if areas == "none":
        return _keep_picture_whole(rgba, size_mm)
    height, width = rgba.shape[:2]
    notes: list[str] = []
    holes = bool((rgba[..., 3] < 128).any())
    colour = (0, 0, 0)
    if areas == "holes" or (not areas and holes):
        cover: Coverage = np.float32(1.0) - rgba[..., 3].astype(np.float32) / np.float32(255)
        over, source_kind = rgba, "holes"
        if not holes:
            raise FileRefused("This picture has no transparent holes.", "Read it by areas of flat colour.")
    else:
        colour, others = colour_of(areas, rgba, tolerance)
        rough, away = grain_of(rgba, colour)
        was_jpeg = rough > ROUGH and away <= FAR  # what is further off is a shadow that passes through the colour
        if was_jpeg:
            tolerance = max(tolerance, round(1.5 * away) + 6)
        cover, over = unmix_colour(rgba, colour, tolerance, was_jpeg)
        source_kind = hex_of(colour)
        notes += [
            f"Areas of {other} were left as they are: read it by that colour if they are meant." for other in others
        ]
    mm = size_mm[0] / width, size_mm[1] / height
    areas_found = regions(cover, source_kind == "holes")
    if source_kind != "holes":
        areas_found = [(part, origin) for part, origin in areas_found if is_flat(rgba, part, origin, colour, tolerance)]
    shapes = [recognise_shape(part, origin, mm) for part, origin in areas_found]
    if not shapes:
        raise FileRefused(
            "No opening was found in this picture.", "Name the colour of its areas, or draw them in the workshop."
        )
    return _make_layout(shapes, over, size_mm, notes, source_kind)


def _keep_picture_whole(rgba: NDArray[np.uint8], size_mm: tuple[float, float]) -> FlatRead:
    """A sheet with the picture on its ground: openings are drawn above it."""
    png = png_of(rgba)
    frame = _overlay(png, size_mm).copy_with(id="frame", name="The picture")
    layers = (Background(id="background", name="Background"), frame)
    layout = Layout(width_mm=size_mm[0], height_mm=size_mm[1], bleed_mm=0.0, layers=layers)
    return FlatRead(
        layout, {frame.asset: png}, (), ("A flat picture has no bleed: what lies at its edge ends there.",), "none"
    )


def _overlay(png: bytes, size_mm: tuple[float, float]) -> Overlay:
    return Overlay(
        id="overlay", name="What was drawn", asset=hashlib.sha256(png).hexdigest(), centre=(size_mm[0] / 2, size_mm[1] / 2),
        width_mm=size_mm[0], height_mm=size_mm[1], content_locked=True, place_locked=True,
    )  # fmt: skip


def _make_layout(
    shapes: list[Found], over: NDArray[np.uint8], size_mm: tuple[float, float], notes: list[str], source_kind: str
) -> FlatRead:
    png = png_of(over)
    overlay = _overlay(png, size_mm)
    bare = Layout(
        width_mm=size_mm[0], height_mm=size_mm[1], bleed_mm=0.0,
        layers=tuple(f.opening.copy_with(id=f"found-{n}") for n, f in enumerate(shapes)),
    )  # fmt: skip
    order = [int(opening.id.split("-")[1]) for opening in reading_order(bare)]
    openings = tuple(shapes[n].opening.copy_with(id=f"opening-{number}") for number, n in enumerate(order, 1))
    files = {overlay.asset: png}
    for shape in shapes:
        files |= shape.files
    layout = bare.copy_with(layers=(Background(id="background", name="Background"), *openings, overlay))
    masks = sum(shapes[n].understood.kind == "mask" for n in order)
    if masks:
        notes.append(f"{masks} of {len(shapes)} openings are of no plain shape and became masks.")
    notes.append("A flat picture has no bleed: what lies at its edge ends there.")
    return FlatRead(layout, files, tuple(shapes[n].understood for n in order), tuple(notes), source_kind)
