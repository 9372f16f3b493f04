"""Profiles of pictures that tell their colours otherwise than by ICC: by EXIF, by chunks of a PNG, by a HEIC's nclx.

Exif 2.32 (CIPA DC-008): ColorSpace 0xFFFF with the interoperability index R03 is Adobe RGB (DCF option file). PNG, third
edition (W3C 2025): cICP goes before sRGB, gAMA and cHRM. The codes of cICP and nclx are those of ITU-T H.273.
"""

import struct
from typing import Any

import imagecodecs
import numpy as np
from PIL import ExifTags, Image

from ..colour.profiles import profile_bytes
from ..remembering import remember

_D65 = (0.3127, 0.3290)
# H.273, table 2: red, green, blue.
_PRIMARIES = {
    1: (0.640, 0.330, 0.300, 0.600, 0.150, 0.060),  # BT.709, sRGB
    5: (0.640, 0.330, 0.290, 0.600, 0.150, 0.060),  # BT.601 of 625 lines
    6: (0.630, 0.340, 0.310, 0.595, 0.155, 0.070),  # BT.601 of 525 lines
    9: (0.708, 0.292, 0.170, 0.797, 0.131, 0.046),  # BT.2020
    12: (0.680, 0.320, 0.265, 0.690, 0.150, 0.060),  # Display P3
}
_SRGB_CURVE, _LINEAR = 13, 8
_GAMMAS = {4: 2.2, 5: 2.8}
_CAMERA = {1, 6, 14, 15}  # BT.709's curve and its like: what is graded for a screen is shown by sRGB's
_HDR = {16, 18}  # PQ and HLG: no print shows them without a choice of tone that is not ours


def read_stated_profile(picture: Image.Image) -> tuple[bytes | None, str]:
    """A picture's profile as ICC, None for sRGB or where it tells none; and why its colours cannot be used, or ""."""
    icc = picture.info.get("icc_profile")
    codes = _codes(picture)
    if codes and (not icc or picture.format == "PNG"):
        return _profile_of_codes(*codes)
    if icc:
        return icc, ""
    if picture.format == "PNG" and "srgb" not in picture.info and "gamma" in picture.info:
        return _profile_of_gamma(picture.info["gamma"], picture.info.get("chromaticity"))
    return (profile_bytes("adobe-compatible") if picture.format in ("JPEG", "MPO") and _is_adobe(picture) else None), ""


def _is_adobe(picture: Image.Image) -> bool:
    try:
        exif = picture.getexif()
        space = exif.get_ifd(ExifTags.IFD.Exif).get(ExifTags.Base.ColorSpace)
        index = str(exif.get_ifd(ExifTags.IFD.Interop).get(1, "")).strip("\0 ")
    except Exception:
        return False  # a broken EXIF block tells nothing
    return (index == "R03" and space in (None, 0xFFFF)) or space == 2


def _codes(picture: Image.Image) -> tuple[int, int] | None:
    """Codes of the primaries and of the curve."""
    nclx = picture.info.get("nclx_profile")
    if isinstance(nclx, dict):
        return int(nclx.get("color_primaries", 2)), int(nclx.get("transfer_characteristics", 2))
    if picture.format == "PNG" and (chunk := _png_chunk(picture, b"cICP")) and len(chunk) >= 2:
        return chunk[0], chunk[1]
    return None


def _png_chunk(picture: Image.Image, name: bytes) -> bytes | None:
    """A chunk's data, of those before the pixels."""
    file: Any = getattr(picture, "fp", None)
    if file is None:
        return None
    place = file.tell()
    try:
        file.seek(8)
        while len(head := file.read(8)) == 8:
            size, kind = struct.unpack(">I4s", head)
            if kind == name:
                return bytes(file.read(min(size, 64)))
            if kind in (b"IDAT", b"IEND"):
                return None
            file.seek(size + 4, 1)
        return None
    finally:
        file.seek(place)


def _profile_of_codes(primaries: int, curve: int) -> tuple[bytes | None, str]:
    if primaries == 2 or curve == 2:  # "unspecified"
        return None, ""
    if curve in _HDR:
        return None, "PQ" if curve == 16 else "HLG"
    if primaries not in _PRIMARIES or curve not in {_SRGB_CURVE, _LINEAR, *_GAMMAS, *_CAMERA}:
        return None, f"code {primaries}/{curve} of H.273"
    if primaries == 1 and curve in {_SRGB_CURVE, *_CAMERA}:
        return None, ""  # sRGB, as without
    gamma = 1.0 if curve == _LINEAR else _GAMMAS.get(curve, 0.0)
    return _make_profile(_D65, _PRIMARIES[primaries], gamma), ""


def _profile_of_gamma(gamma: float, chromaticity: tuple[float, ...] | None) -> tuple[bytes | None, str]:
    """``gamma`` as a PNG states it: that of the file, 0.45455 for one meant for a screen."""
    if not 0.2 <= gamma <= 1.05:
        return None, f"a gamma of {gamma:g}"
    white, primaries = _D65, _PRIMARIES[1]
    if chromaticity and len(chromaticity) == 8 and all(0 < value < 1 for value in chromaticity):
        white, primaries = (chromaticity[0], chromaticity[1]), tuple(chromaticity[2:8])  # type: ignore[assignment]
    if np.allclose((*white, *primaries), (*_D65, *_PRIMARIES[1]), atol=0.002) and abs(gamma - 0.45455) < 0.002:
        return None, ""
    try:
        return _make_profile(white, primaries, 1 / gamma), ""
    except imagecodecs.CmsError:  # primaries on one line, for one
        return None, "primaries that span no colours"


@remember
def _make_profile(white: tuple[float, float], primaries: tuple[float, ...], gamma: float) -> bytes:
    """A matrix profile. ``gamma`` 0 is sRGB's own curve (IEC 61966-2-1)."""
    values = np.linspace(0.0, 1.0, 4096)
    curve = (
        values**gamma if gamma else np.where(values <= 0.04045, values / 12.92, ((values + 0.055) / 1.055) ** 2.4)
    )  # fmt: skip
    points = [*primaries[0:2], 1.0, *primaries[2:4], 1.0, *primaries[4:6], 1.0]
    profile: bytes = imagecodecs.cms_profile(
        "rgb", whitepoint=[*white, 1.0], primaries=points, transferfunction=curve.astype(np.float32)
    )
    return profile
