"""Pages of several PDFs as one file: what a printer takes as one job, fronts and backs in turn."""

import io
from collections.abc import Sequence
from pathlib import Path

import pikepdf

from ..errors import ExportFailed


def joined(paths: Sequence[Path]) -> bytes:
    """All pages of PDFs, in order, as one PDF that is meant for the press the first one is meant for. One is given as it is.

    Raises ExportFailed when one of them cannot be read, and OSError when it is not there.
    """
    if len(paths) == 1:
        return paths[0].read_bytes()
    with pikepdf.new() as pdf:
        for path in paths:
            try:
                with pikepdf.open(path) as part:
                    pdf.pages.extend(part.pages)
                    intents = part.Root.get("/OutputIntents")
                    if intents is not None and "/OutputIntents" not in pdf.Root:
                        pdf.Root.OutputIntents = pdf.copy_foreign(part.make_indirect(intents))
            except pikepdf.PdfError:
                raise ExportFailed(f"{path.name} cannot be read any more.", "Export it again.") from None
        data = io.BytesIO()
        pdf.save(data, deterministic_id=True)
        return data.getvalue()
