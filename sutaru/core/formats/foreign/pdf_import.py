"""PDF pages: their boxes give the sheet's size and bleed (ISO 32000-1, 14.11.2), their picture is a guide or a flat picture.

Rasterised by PDFium at the print's ppi, as far as the budget of pixels goes.
"""

import io
import math

import numpy as np
import pikepdf
import pypdfium2
from numpy.typing import NDArray

from ... import limits
from ...document import Sheet
from ...errors import FileRefused
from ...measure import mm_from_points
from ..flat.flat_picture import png_of, read_flat
from .read_result import Read, make_guide_sheet, name_of, read_result_of

PPI = 300.0
MOST_PAGES = 24
Rect = tuple[float, float, float, float]


def read_pdf(data: bytes, name: str, areas: str, guide: bool) -> Read:
    """Pages as sheets: as guides, all of them; else the first as a flat picture. Raises FileRefused."""
    try:
        document = pypdfium2.PdfDocument(data)
        count = len(document)
    except pypdfium2.PdfiumError:
        raise FileRefused(f"{name} is not a PDF that can be read.", "Save it anew, without a password.") from None
    if not count:
        raise FileRefused(f"{name} has no pages.", "Save it anew.")
    try:
        units = _read_user_units(data)
        if not guide:
            return _flat(document[0], units.get(0, 1.0), areas, count)
        sheets, files = [], {}
        for n in range(min(count, MOST_PAGES)):
            sheet, png = _guide(document[n], units.get(n, 1.0), n, MOST_PAGES if count > 1 else 1)
            sheets.append(sheet)
            files[name_of(png)] = png
    except pypdfium2.PdfiumError as error:
        raise FileRefused(f"A page of {name} cannot be drawn ({error}).", "Save it anew.") from None
    finally:
        document.close()
    notes = [f"Only the first {MOST_PAGES} of {count} pages were taken."] if count > MOST_PAGES else []
    return Read(tuple(sheets), files, tuple(notes), "guide")


def _read_user_units(data: bytes) -> dict[int, float]:
    """How many points a unit is, of pages where it is not one (ISO 32000-1, table 30: UserUnit), which PDFium passes over."""
    try:
        with pikepdf.open(io.BytesIO(data)) as pdf:
            units_by_page = {n: float(page.obj.get("/UserUnit", 1)) for n, page in enumerate(pdf.pages[:MOST_PAGES])}
    except (pikepdf.PdfError, TypeError, ValueError):
        return {}
    return {n: unit for n, unit in units_by_page.items() if unit > 0 and math.isfinite(unit)}


def _guide(page: pypdfium2.PdfPage, unit: float, n: int, of: int) -> tuple[Sheet, bytes]:
    seen, trim, bleed = _boxes(page)
    size = _mm(trim[2] - trim[0], unit), _mm(trim[3] - trim[1], unit)
    margins = [trim[0] - bleed[0], trim[1] - bleed[1], bleed[2] - trim[2], bleed[3] - trim[3]]
    png = png_of(_render_page(page, seen, unit))
    box = tuple(_mm(edge - trim[k % 2], unit) for k, edge in enumerate(seen))
    named = "Sheet" if of == 1 else f"Page {n + 1}"
    return make_guide_sheet(
        f"sheet-{n + 1}" if n else "sheet", named, size, min(50.0, max(0.0, _mm(min(margins), unit))),
        (box[0], box[1], box[2], box[3]), png,
    ), png  # fmt: skip


def _flat(page: pypdfium2.PdfPage, unit: float, areas: str, count: int) -> Read:
    seen, trim, _ = _boxes(page)
    pixels = _render_page(page, seen, unit)
    k = pixels.shape[1] / (seen[2] - seen[0]), pixels.shape[0] / (seen[3] - seen[1])
    x0, y0, x1, y1 = (round((edge - seen[n % 2]) * k[n % 2]) for n, edge in enumerate(trim))
    part = np.ascontiguousarray(pixels[max(0, y0) : y1, max(0, x0) : x1])
    picture = read_flat(part, (_mm(trim[2] - trim[0], unit), _mm(trim[3] - trim[1], unit)), areas)
    notes = (f"Only the first of {count} pages was read.",) if count > 1 else ()
    return read_result_of(picture, part.shape[1::-1], notes)


def _mm(length: float, unit: float) -> float:
    """A length of a page in mm. ``unit``: points to its unit."""
    return round(mm_from_points(length * unit), 3)


def _boxes(page: pypdfium2.PdfPage) -> tuple[Rect, Rect, Rect]:
    """What is seen, trim and bleed of a page as it is looked at: points, origin at the top left of what is seen, y down."""
    crop = page.get_cropbox() or page.get_mediabox()
    turned = page.get_rotation() // 90 % 4

    def turn_box(box: Rect) -> Rect:
        x0, y0, x1, y1 = (min(max(edge, crop[k % 2]), crop[k % 2 + 2]) - crop[k % 2] for k, edge in enumerate(box))
        wide, high = crop[2] - crop[0], crop[3] - crop[1]
        left, top, right, bottom = x0, high - y1, x1, high - y0
        for _ in range(turned):  # each a quarter clockwise
            left, top, right, bottom = high - bottom, left, high - top, right
            wide, high = high, wide
        return left, top, right, bottom

    trim, bleed = turn_box(page.get_trimbox()), turn_box(page.get_bleedbox())
    seen = turn_box(crop)
    if min(trim[2] - trim[0], trim[3] - trim[1]) <= 0:
        trim = seen
    around = min(bleed[0], trim[0]), min(bleed[1], trim[1]), max(bleed[2], trim[2]), max(bleed[3], trim[3])
    return seen, trim, around


def _render_page(page: pypdfium2.PdfPage, seen: Rect, unit: float) -> NDArray[np.uint8]:
    """The page on white, RGBA."""
    wide, high = seen[2] - seen[0], seen[3] - seen[1]
    scale = min(PPI / 72 * unit, (limits.OVERLAY_PIXELS / 2 / max(wide * high, 1e-6)) ** 0.5)
    if min(wide, high) * scale < 1:
        raise FileRefused("A page of this PDF is too small to be seen.", "Save it anew.")
    bitmap = page.render(scale=scale, rev_byteorder=True)
    pixels = bitmap.to_numpy()
    rgba = np.full((*pixels.shape[:2], 4), 255, np.uint8)
    rgba[..., :3] = pixels[..., :3] if pixels.ndim == 3 else pixels[..., None]
    return rgba
