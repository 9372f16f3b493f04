"""An export in parts: its files parted among the workers there are, a lost worker's done again, the same bytes whoever does them.

Workers share nothing but the folder. A file of many sheets is made from the pictures of its sheets, which are parted too.
"""

import json
from collections.abc import Iterator
from datetime import datetime
from pathlib import Path
from typing import Any

from ..core.document import Job
from ..core.press.exporting import DRAWN, SHEET, Done, Piece, pieces, write_manifest
from ..core.press.files import sweep
from .board import Run
from .tasks import Exported, run_pieces

SHARES = 4  # for each worker, at least: so much is lost with one


def export_job(run: Run, job: Job, what: Exported, edition: str) -> dict[str, Any]:
    """Exports an edition of a job, or all (``EVERY``); the manifest. Raises what exporting raises."""
    files, count = pieces(job, what.kind, edition), run.workers.count
    if count > 1 and not job.lab.has_live_layers:  # live layers are no one picture that could be made ahead
        files = [piece.copy_with(ahead=len(piece.sheets) > 1) for piece in files]
    pictures = [piece.picture_of(sheet) for piece in files if piece.ahead for sheet in piece.sheets]
    run.total = SHEET * sum(len(piece.sheets) for piece in files) + DRAWN * len(pictures)
    done = _collect_done(run, what, pictures, files)
    sweep(Path(what.folder))  # what a worker that was lost left behind
    manifest_path = write_manifest(job, Path(what.folder), what.kind, done, datetime.fromisoformat(what.made))
    manifest: dict[str, Any] = json.loads(manifest_path.read_text("utf-8"))
    return manifest


def _collect_done(run: Run, what: Exported, pictures: list[Piece], files: list[Piece]) -> list[Done]:
    """Pieces by all workers; what the files came to, in order. Files come last: they are put together while the last of their
    pictures are made."""
    count = run.workers.count
    groups = [*_share_out(pictures, count), *_share_out(files, count)]
    # With two threads where a worker has them, or where there is less to do than there are workers.
    threads = 2 if run.workers.threads > 1 or len(groups) < count else 1
    groups_done = run.run_in_workers(run_pieces, [(what, group, threads) for group in groups])
    done = [entry for group in groups_done for entry in group]
    ahead = {piece.file: entry for piece, entry in zip(pictures, done, strict=False)}
    return [_add_findings(piece, entry, ahead) for piece, entry in zip(files, done[len(pictures) :], strict=True)]


def _add_findings(piece: Piece, written: Done, ahead: dict[str, Done]) -> Done:
    """A file, with what was found on sheets whose pictures others made; one whose picture did not come was looked at twice."""
    pictures_ahead = [ahead[piece.picture_of(sheet).file] for sheet in piece.sheets if piece.ahead]
    return written.copy_with(
        findings=tuple(dict.fromkeys(finding for part in [*pictures_ahead, written] for finding in part.findings))
    )


def _share_out(pieces: list[Piece], count: int) -> Iterator[list[Piece]]:
    """Neighbours for one worker each time; towards the end fewer, so that all have something to do until then."""
    most = max(1, len(pieces) // (count * SHARES))
    while pieces:
        share = max(1, min(most, len(pieces) // (2 * count)))
        yield pieces[:share]
        pieces = pieces[share:]
