"""A JPEG, TIFF or PNG held against a lab sheet: whole, of a format of the lab, dense and coloured as it wants.

Sources: JFIF 1.02 and Exif 2.32 (density in both), TIFF 6.0, PNG (ISO/IEC 15948), ICC.1:2022 annex B.
"""

import io
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
from PIL import ExifTags, Image

from ..colour.output import Assets, Output, output_of
from ..colour.profiles import describe_profile
from ..document import LabSheet
from ..measure import MM_PER_INCH, pixels
from .report import Defect, Report, Severity

KINDS = {"JPEG": "jpeg", "TIFF": "tiff", "PNG": "png", "MPO": "jpeg"}
_NAMES = {"jpeg": "JPEG", "tiff": "TIFF", "png": "PNG", "pdf": "PDF"}


def _make_defect(rule: str, sentence: str, severity: Severity = "stop") -> Defect:
    return Defect(rule=rule, severity=severity, sentence=sentence)


def verify_raster(path: Path, lab: LabSheet | None = None, assets: Assets | None = None) -> Report:
    """A picture file looked over, and held against a lab sheet where one is given."""
    held = (lab.name,) if lab else ()
    try:
        with Image.open(path, formats=("JPEG", "TIFF", "PNG")) as picture:
            kind: Any = KINDS[str(picture.format)]
            defects = [*_check_picture(picture, path)]
            if lab:
                defects += _check_for_lab(picture, kind, lab, output_of(lab, assets or _none, rgb=kind == "png"))
            try:
                picture.load()
                defects += _ink(picture, lab)
            except (OSError, SyntaxError, ValueError):
                defects.append(_make_defect("damaged", "Its pixels end early or do not decode."))
    except (OSError, SyntaxError, ValueError):
        broken = _make_defect("damaged", "It cannot be read as a PDF, JPEG, TIFF or PNG. Ask for it anew.")
        return Report(file=path.name, kind="other", checked=held, defects=(broken,))
    return Report(file=path.name, kind=kind, pages=1, checked=held, defects=tuple(defects))


def _none(name: str) -> bytes:
    raise KeyError(name)


def _check_picture(picture: Any, path: Path) -> Iterator[Defect]:
    icc, exif = picture.info.get("icc_profile"), picture.getexif()
    if not icc:
        yield _make_defect("profile", "It carries no profile: nobody knows which colours are meant.", "look")
    elif not describe_profile(icc)[1]:
        yield _make_defect("profile", "Its profile is damaged.")
    if int(exif.get(0x0112, 1) or 1) != 1 and picture.format != "TIFF":
        yield _make_defect("orientation", "It is stored turned: a printer may print it so.")
    if exif.get_ifd(ExifTags.IFD.GPSInfo):
        yield _make_defect("place", "It tells the place where it was taken.", "look")
    if picture.mode in ("RGBA", "LA", "PA") or "transparency" in picture.info:
        yield _make_defect("alpha", "It can be seen through in places.", "look")
    if picture.mode == "P":
        yield _make_defect("palette", "It has a palette of few colours.")
    plain, exact = picture.info.get("jfif_density"), _exif_density(exif)
    if plain and exact and picture.info.get("jfif_unit") == 1 and any(abs(a - exact) > 0.5 for a in plain):
        yield _make_defect("two_densities", f"It says both {plain[0]} and {exact:g} ppi.")


def _exif_density(exif: Any) -> float:
    try:
        return float(exif.get(0x011A, 0)) * (1 if int(exif.get(0x0128, 2)) == 2 else MM_PER_INCH / 10)
    except (TypeError, ValueError, ZeroDivisionError):
        return 0.0


def _check_for_lab(picture: Any, kind: str, lab: LabSheet, output: Output) -> Iterator[Defect]:
    if kind != lab.format:
        yield _make_defect("format", f"{lab.name} wants {_NAMES[lab.format]}, not {_NAMES[kind]}.")
    density = [float(v) for v in picture.info.get("dpi", (0.0, 0.0))]
    if any(abs(v - lab.ppi_target) > 0.5 for v in density):
        yield _make_defect("density", f"It says {density[0]:.0f} ppi; {lab.name} wants {lab.ppi_target}.")
    sizes = set()
    for b in lab.blanks:
        for wide, high in ((b.width_mm, b.height_mm), (b.height_mm, b.width_mm)):
            left, top, right, bottom = lab.bleed_sides(wide, high, b.bleed_mm)
            sizes.add((pixels(wide + left + right, lab.ppi_target), pixels(high + top + bottom, lab.ppi_target)))
    fits = any(abs(picture.width - w) <= 1 and abs(picture.height - h) <= 1 for w, h in sizes)
    if sizes and not fits and not lab.any_size:
        severity: Severity = "look" if lab.bindery else "stop"  # covers are as wide as their spine
        yield _make_defect(
            "size",
            f"{picture.width} x {picture.height} px is not a size of {lab.name} (with bleed).",
            severity,
        )
    icc = picture.info.get("icc_profile")
    if icc and icc != output.icc:
        yield _make_defect(
            "press",
            f"Its colours are {describe_profile(icc)[0] or 'of another profile'}; {lab.name} wants {output.name}.",
        )
    mode = "L" if picture.mode.startswith("I;16") else picture.mode
    if mode != output.mode and not (output.mode == "RGB" and mode in ("RGBA", "P")):
        yield _make_defect("mode", f"It is {mode}; {lab.name} wants {output.mode}.")
    if kind == "tiff" and (bits := max(picture.tag_v2.get(258, (1,)))) != lab.tiff_bits:
        yield _make_defect("bits", f"Its channels have {bits} bits; {lab.name} wants {lab.tiff_bits}.")
    if kind == "jpeg" and (quality := quality_of(picture)) < lab.jpeg_quality - 3:
        yield _make_defect(
            "quality", f"It was saved at a quality of about {quality}; {lab.name} wants {lab.jpeg_quality}."
        )


def _ink(picture: Image.Image, lab: LabSheet | None) -> Iterator[Defect]:
    """No more ink than the press takes, but for a thousandth of all places."""
    if picture.mode != "CMYK" or lab is None or lab.press is None:
        return
    counts = np.zeros(4 * 255 + 1, np.int64)
    for top in range(0, picture.height, 512):
        strip = np.asarray(picture.crop((0, top, picture.width, min(picture.height, top + 512))))
        counts += np.bincount(strip.sum(-1, dtype=np.uint16).ravel(), minlength=len(counts))
    most = int(np.searchsorted(np.cumsum(counts), 0.999 * counts.sum())) / 2.55
    if most > lab.press.ink_limit + 1:
        yield _make_defect("ink", f"It takes {most:.0f} % of ink; the press takes {lab.press.ink_limit}.", "look")


def quality_of(picture: Any) -> int:
    """About the quality a JPEG was saved at, 1 to 100, by its first table against that of ITU-T T.81, annex K, scaled as the
    Independent JPEG Group's library does (jcparam.c, from memory)."""
    table = picture.quantization[0]
    scale = 100.0 * sum(table) / 3_688  # what annex K's luminance table adds up to, at a scale of 100
    return max(1, min(100, round(100 - scale / 2 if scale <= 100 else 5000 / scale)))


def is_picture(data: bytes) -> bool:
    """Whether bytes begin as a JPEG, TIFF or PNG does."""
    return io.BytesIO(data).read(4) in (b"\x89PNG", b"II*\0", b"MM\0*") or data[:2] == b"\xff\xd8"
