"""Which reader takes a file: by what it begins with, never by its name."""

from ...errors import FileRefused
from ...paint.svg import is_svg
from ..flat.flat_picture import png_of, read_flat, read_picture
from .openraster import read_openraster
from .pdf_import import read_pdf
from .read_result import Read, make_guide_sheet, name_of, read_result_of
from .svg import read_svg

SUFFIXES = (".png", ".jpg", ".jpeg", ".tif", ".tiff", ".webp", ".svg", ".ora", ".pdf")


def read_foreign(
    data: bytes, name: str, areas: str = "", guide: bool = False, size_mm: tuple[float, float] | None = None
) -> Read:
    """What a file shows, as sheets. Raises FileRefused with a plain sentence.

    ``areas``: what its openings are, "holes", "flat", a colour #rrggbb or "none" yet; "" lets the reader find out. ``guide``:
    it is laid as a guide to draw on instead. ``size_mm``: the sheet's size, else as the file says.
    """
    if data.startswith(b"%PDF-"):
        return read_pdf(data, name, areas, guide)
    if data.startswith(b"PK"):
        return read_openraster(data, name, areas)
    if is_svg(data):
        return read_svg(data, name, areas, size_mm)
    pixels, profile = read_picture(data, name)
    size = size_mm or profile
    if guide:
        png = png_of(pixels)
        sheet = make_guide_sheet("sheet", "Sheet", size, 0.0, (0.0, 0.0, *size), png)
        return Read((sheet,), {name_of(png): png}, how="guide")
    try:
        picture = read_flat(pixels, size, areas)
    except FileRefused as error:
        if not error.sentence.startswith("No opening"):
            raise
        raise FileRefused(error.sentence, f"{error.remedy} Or lay it as a guide.") from None
    return read_result_of(picture, pixels.shape[1::-1])
