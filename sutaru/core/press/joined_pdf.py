"""Several PDFs as one: what a printer takes as one job, fronts and backs in turn."""

import io
from collections.abc import Sequence
from contextlib import ExitStack
from pathlib import Path

import pikepdf

from ..errors import ExportFailed


def join_pdfs(paths: Sequence[Path]) -> bytes:
    """Join the pages of PDFs, in order, into one PDF for the press that the first one is meant for. One alone stays as it is.

    Raises ExportFailed when one of them cannot be read, and OSError when it is not there.
    """
    if len(paths) == 1:
        return paths[0].read_bytes()
    with ExitStack() as opened, pikepdf.new() as pdf:
        for path in paths:
            try:
                part = opened.enter_context(pikepdf.open(path))  # open until all is written: its pictures are read then
            except pikepdf.PdfError:
                raise ExportFailed(f"{path.name} cannot be read any more.", "Export it again.") from None
            pdf.pages.extend(part.pages)
            intents = part.Root.get("/OutputIntents")
            if intents is not None and "/OutputIntents" not in pdf.Root:
                pdf.Root.OutputIntents = pdf.copy_foreign(part.make_indirect(intents))
        data = io.BytesIO()
        pdf.save(data, deterministic_id=True)
        return data.getvalue()
