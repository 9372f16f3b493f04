"""A print file of any kind, by the reader for its kind."""

from pathlib import Path

from ..colour.output import Assets
from ..document import LabSheet
from .pdf_check import verify_pdf
from .raster import verify_raster
from .report import Report


def verify(path: Path, lab: LabSheet | None = None, assets: Assets | None = None) -> Report:
    """A file looked over: a PDF, JPEG, TIFF or PNG. Raises OSError when it is not there."""
    with path.open("rb") as file:
        start = file.read(1024)
    return (verify_pdf if b"%PDF-" in start else verify_raster)(path, lab, assets)
