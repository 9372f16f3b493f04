"""An export in parts: its files parted among the workers there are, a lost worker's done again, the same bytes whoever does them.

Workers share nothing but the folder. A file of many sheets is made from the pictures of its sheets, which are parted too.
"""

import json
from collections.abc import Iterator
from datetime import datetime
from pathlib import Path
from typing import Any

from ..core.document import Job
from ..core.press.exporting import DRAWN, SHEET, Done, Piece, finished, pieces
from ..core.press.files import sweep
from .board import Run
from .tasks import Exported, run_pieces

SHARES = 4  # for each worker, at least: so much is lost with one


def exported(run: Run, job: Job, what: Exported, edition: str) -> dict[str, Any]:
    """Exports an edition of a job, or all (``EVERY``); the manifest. Raises what exporting raises."""
    files = pieces(job, what.kind, edition)
    count = run.workers.count
    # Live layers are no one picture that could be made ahead.
    many = () if job.lab.live else (piece for piece in files if len(piece.sheets) > 1)
    pictures = [piece.picture_of(own) for piece in many for own in piece.sheets]
    if pictures and count > 1:
        run.total = SHEET * len(pictures) + DRAWN * len(pictures)
        _done(run, what, pictures, count)
    else:
        run.total = SHEET * sum(len(piece.sheets) for piece in files)
    done = _done(run, what, files, count)
    sweep(Path(what.folder))  # what a worker that was lost left behind
    made = finished(job, Path(what.folder), what.kind, done, datetime.fromisoformat(what.made))
    found: dict[str, Any] = json.loads(made.read_text("utf-8"))
    return found


def _done(run: Run, what: Exported, asked: list[Piece], count: int) -> list[Done]:
    """Pieces by all workers; what they came to, in order."""
    groups = list(_shares(asked, count))
    # With two threads where a worker has them, or where there is less to do than there are workers.
    threads = 2 if run.workers.threads > 1 or len(groups) < count else 1
    told = run.in_workers(run_pieces, [(what, group, threads) for group in groups])
    return [done for group in told for done in group]


def _shares(asked: list[Piece], count: int) -> Iterator[list[Piece]]:
    """Neighbours for one worker each time; towards the end fewer, so that all have something to do until then."""
    most = max(1, len(asked) // (count * SHARES))
    while asked:
        share = max(1, min(most, len(asked) // (2 * count)))
        yield asked[:share]
        asked = asked[share:]
