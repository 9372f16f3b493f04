"""Print files read back: held against the standard they name and the lab sheet they are for, each defect told with its place.

Structurally checked: what is said here is no certificate.
"""

from pathlib import Path

from ..colour.output import Assets
from ..document import LabSheet
from .pdf import verify_pdf
from .raster import verify_raster
from .report import Defect, Report

__all__ = ["Defect", "Report", "verify", "verify_pdf", "verify_raster"]


def verify(path: Path, lab: LabSheet | None = None, assets: Assets | None = None) -> Report:
    """A file looked over: a PDF, JPEG, TIFF or PNG. Raises OSError when it is not there."""
    with path.open("rb") as file:
        start = file.read(1024)
    return (verify_pdf if b"%PDF-" in start else verify_raster)(path, lab, assets)
