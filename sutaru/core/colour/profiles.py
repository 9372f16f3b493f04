"""Colour profiles and conversion to the working space, which is sRGB (IEC 61966-2-1), 8 bits a channel.

Photos are converted from their embedded profile when they are decoded; without one, RGB is taken as sRGB (the practice
of the web and of the trade), grey as sRGB's tone curve, and CMYK as coated paper by FOGRA39.
"""

import io
from functools import lru_cache
from importlib.resources import files

from PIL import Image, ImageCms

INTENT = ImageCms.Intent.RELATIVE_COLORIMETRIC
FLAGS = ImageCms.Flags.BLACKPOINTCOMPENSATION

_FILES = {"srgb": "sRGB.icc", "adobe-compatible": "compatibleWithAdobeRGB1998.icc", "fogra39": "coated-fogra39.icc"}
_COMPONENTS = {"RGB": "RGB", "GRAY": "L", "CMYK": "CMYK", "Lab": "LAB"}


@lru_cache(maxsize=8)
def profile_bytes(name: str) -> bytes:
    """The bytes of a shipped profile: ``srgb``, ``adobe-compatible`` or ``fogra39``."""
    return (files(__package__) / "profiles" / _FILES[name]).read_bytes()


@lru_cache(maxsize=64)
def described(icc: bytes) -> tuple[str, str]:
    """Description and colour space (RGB, GRAY, CMYK, ...) of a profile; ("", "") when it cannot be read."""
    try:
        profile = ImageCms.ImageCmsProfile(io.BytesIO(icc))
        return ImageCms.getProfileDescription(profile).strip(), profile.profile.xcolor_space.strip()
    except (ImageCms.PyCMSError, OSError, ValueError):
        return "", ""


@lru_cache(maxsize=64)
def is_srgb(icc: bytes) -> bool:
    """Whether a profile is sRGB by another name: converting a spread of colours through it changes none by more than 1."""
    if described(icc)[1] != "RGB":
        return False
    probe = Image.new("RGB", (6, 36))
    probe.putdata([(r * 51, g * 51, b * 51) for r in range(6) for g in range(6) for b in range(6)])
    through = ImageCms.applyTransform(probe, _transform(icc, "RGB", "srgb")) or probe
    return all(abs(a - b) <= 1 for a, b in zip(probe.tobytes(), through.tobytes(), strict=True))


@lru_cache(maxsize=64)
def _transform(icc: bytes, mode: str, target: str) -> ImageCms.ImageCmsTransform:
    source = ImageCms.ImageCmsProfile(io.BytesIO(icc))
    onto = ImageCms.ImageCmsProfile(io.BytesIO(profile_bytes(target)))
    return ImageCms.buildTransform(source, onto, mode, "RGB", INTENT, FLAGS)


def to_working(image: Image.Image, icc: bytes | None) -> Image.Image:
    """An image of mode L, RGB or CMYK as sRGB RGB. A profile that does not fit the mode is passed over."""
    if icc and _COMPONENTS.get(described(icc)[1]) == image.mode:
        if image.mode == "RGB" and is_srgb(icc):
            return image
        return ImageCms.applyTransform(image, _transform(icc, image.mode, "srgb")) or image
    if image.mode == "CMYK":
        return ImageCms.applyTransform(image, _transform(profile_bytes("fogra39"), "CMYK", "srgb")) or image
    return image if image.mode == "RGB" else image.convert("RGB")


def from_working(image: Image.Image, target: str) -> Image.Image:
    """A working-space RGB image in the named output profile, relative colorimetric with black point compensation."""
    if target == "srgb":
        return image
    return ImageCms.applyTransform(image, _transform(profile_bytes("srgb"), "RGB", target)) or image
