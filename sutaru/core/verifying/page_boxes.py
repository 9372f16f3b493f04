"""The boxes of a PDF page (ISO 32000-1, 14.11.2)."""

from collections.abc import Iterator

import pikepdf

from ..measure import mm_from_points


def boxes_mm(page: pikepdf.Page) -> Iterator[tuple[str, tuple[float, ...]]]:
    """The boxes that a page says itself, or is given by what it hangs on: left, bottom, right, top, mm."""
    for name in ("MediaBox", "CropBox", "BleedBox", "TrimBox", "ArtBox"):
        box = page.obj.get(f"/{name}")
        if box is None and name in ("MediaBox", "CropBox"):
            box = page.mediabox if name == "MediaBox" else None
        if box is not None:
            x0, y0, x1, y1 = (float(v) for v in box)
            yield name, tuple(mm_from_points(v) for v in (min(x0, x1), min(y0, y1), max(x0, x1), max(y0, y1)))
