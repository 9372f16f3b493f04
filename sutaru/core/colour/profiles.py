"""Colour profiles, and conversion to and from the working space: the RGB space of the job's lab sheet, 8 bits a channel.

Photos are converted from their embedded profile when they are decoded; without one, RGB is taken as sRGB (the practice
of the web and of the trade), grey as sRGB's tone curve, and CMYK as coated paper by FOGRA39. A profile that cannot be
used counts as none. Colours of a layout are sRGB. All conversions are relative colorimetric with black point
compensation (ICC.1:2022, 6.2.4 and annex D.6; W. Li et al., "Black point compensation", Adobe 2006, for the latter).
"""

import io
from functools import lru_cache
from importlib.resources import files
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageCms

from ..document.lab import Space
from ..remembering import remember

Bytes = NDArray[np.uint8]

INTENT = ImageCms.Intent.RELATIVE_COLORIMETRIC
FLAGS = ImageCms.Flags.BLACKPOINTCOMPENSATION

_FILES = {
    "srgb": "sRGB.icc", "adobe-compatible": "compatibleWithAdobeRGB1998.icc", "fogra39": "coated-fogra39.icc",
    "tr006": "coated-tr006.icc", "grey": "Gray-CIE_L.icc",
}  # fmt: skip
_COMPONENTS = {"RGB": "RGB", "GRAY": "L", "CMYK": "CMYK", "Lab": "LAB"}


def profile_path(name: str) -> Path:
    """Where a shipped profile lies: ``srgb``, ``adobe-compatible``, ``fogra39``, ``tr006`` or ``grey``."""
    return Path(str(files(__package__) / "profiles" / _FILES[name]))


@lru_cache(maxsize=8)
def profile_bytes(name: str) -> bytes:
    """The bytes of a shipped profile."""
    return profile_path(name).read_bytes()


@remember
def describe_profile(icc: bytes) -> tuple[str, str]:
    """Description and colour space (RGB, GRAY, CMYK, ...) of a profile; ("", "") when it cannot be read."""
    try:
        profile = ImageCms.ImageCmsProfile(io.BytesIO(icc))
        return ImageCms.getProfileDescription(profile).strip(), profile.profile.xcolor_space.strip()
    except (ImageCms.PyCMSError, OSError, ValueError):
        return "", ""


def is_srgb(icc: bytes) -> bool:
    """Whether a profile is sRGB by another name."""
    return _changes_nothing(icc, "srgb")


@remember
def _changes_nothing(icc: bytes, space: Space) -> bool:
    """Whether converting a spread of colours from a profile to a working space changes none by more than 1."""
    if describe_profile(icc)[1] != "RGB":
        return False
    probe = Image.new("RGB", (6, 36))
    probe.putdata([(r * 51, g * 51, b * 51) for r in range(6) for g in range(6) for b in range(6)])
    transform = _transform(icc, "RGB", space)
    through = ImageCms.applyTransform(probe, transform) if transform else None
    return through is not None and all(abs(a - b) <= 1 for a, b in zip(probe.tobytes(), through.tobytes(), strict=True))


def is_same(icc: bytes, space: Space) -> bool:
    """Whether a profile is that of a working space, be it by another name: there is nothing to convert then."""
    return icc == profile_bytes(space) or _changes_nothing(icc, space)


@remember
def _transform(icc: bytes, mode: str, target: str) -> ImageCms.ImageCmsTransform | None:
    """None when the profile cannot be used that way, a curve or table of it being missing or damaged."""
    try:
        source = ImageCms.ImageCmsProfile(io.BytesIO(icc))
        onto = ImageCms.ImageCmsProfile(io.BytesIO(profile_bytes(target)))
        return ImageCms.buildTransform(source, onto, mode, "RGB", INTENT, FLAGS)
    except (ImageCms.PyCMSError, OSError, ValueError):
        return None


def usable(icc: bytes, mode: str) -> bool:
    """Whether a profile can convert pictures of a mode (L, RGB, CMYK)."""
    return _COMPONENTS.get(describe_profile(icc)[1]) == mode and _transform(icc, mode, "srgb") is not None


def convert_to_working(image: Image.Image, icc: bytes | None, space: Space = "srgb") -> Image.Image:
    """An image of mode L, RGB, CMYK or LAB as RGB of a working space. A profile that does not fit the mode is passed over."""
    if image.mode == "LAB":
        return ImageCms.applyTransform(image, _lab_transform(space)) or image
    fits = bool(icc) and usable(icc or b"", image.mode)
    if image.mode == "L":
        return Image.fromarray(grey_table(icc if fits else None, space)[0][np.asarray(image).astype(np.uint16) * 257])
    profile = icc if icc and fits else profile_bytes("fogra39" if image.mode == "CMYK" else "srgb")
    if image.mode == "RGB" and is_same(profile, space):
        return image
    transform = _transform(profile, image.mode, space)
    assert transform is not None  # ours, or found usable
    return ImageCms.applyTransform(image, transform) or image


@lru_cache(maxsize=4)
def _lab_transform(space: Space) -> ImageCms.ImageCmsTransform:
    """From CIE L*a*b* of D50, which needs no profile of the picture's own."""
    onto = ImageCms.ImageCmsProfile(io.BytesIO(profile_bytes(space)))
    return ImageCms.buildTransform(ImageCms.createProfile("LAB", 5003), onto, "LAB", "RGB", INTENT, FLAGS)


@remember
def grey_table(icc: bytes | None, space: Space) -> Bytes:
    """What each of the 65,536 greys is in a working space, (1, 65536, 3). Without a profile they are sRGB's own.

    Each value is worked out by itself: LittleCMS would interpolate between a few dozen of them.
    """
    ramp = np.arange(65536, dtype=np.uint16)[None]
    if icc is None:
        return convert_layout(np.rint(ramp / 257).astype(np.uint8)[..., None].repeat(3, -1), space)
    source, onto = (ImageCms.ImageCmsProfile(io.BytesIO(data)) for data in (icc, profile_bytes(space)))
    exact = ImageCms.buildTransform(source, onto, "I;16", "RGB", INTENT, FLAGS | ImageCms.Flags.NOOPTIMIZE)
    return np.asarray(ImageCms.applyTransform(Image.fromarray(ramp), exact))


def convert_to_screen(rgb: Bytes, space: Space) -> Bytes:
    """Pixels (h, w, 3) of a working space as sRGB, for a screen."""
    if space == "srgb":
        return rgb
    return np.asarray(convert_to_working(Image.fromarray(rgb), profile_bytes(space)))


def convert_layout(rgb: Bytes, space: Space) -> Bytes:
    """sRGB pixels (h, w, 3) of a layout, a drawing's for one, in a working space."""
    return rgb if space == "srgb" else np.asarray(convert_to_working(Image.fromarray(rgb), None, space))


@lru_cache(maxsize=4096)
def colour_in(hex_colour: str, space: Space) -> Bytes:
    """A layout's colour #rrggbb as an array (3,) of a working space."""
    rgb = np.array([[[int(hex_colour[i : i + 2], 16) for i in (1, 3, 5)]]], np.uint8)
    values = np.array(convert_layout(rgb, space)[0, 0])
    values.flags.writeable = False
    return values
