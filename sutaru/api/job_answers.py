"""Answers about a job: where it stands, and those of its parts that the asker does not have yet.

Parts are written out as they are stored, so an answer costs what is new in it, however large the job is.
"""

import json
from collections import defaultdict
from collections.abc import Callable

from ..core.document import Edition, Filling, Frozen, Job, LabSheet, Layout, Pile, PileChunk, Retouching, Sheet
from ..core.document.job import SheetList
from ..core.document.parts import new_parts
from ..core.document.photo import EarlierPile
from ..core.errors import NotFound
from ..store import Head, Jobs
from .models.job_heads import Known, TaskState
from .sheets import Sheets

MOST_PARTS = 8  # what one edit by hand changes
KINDS: dict[type[Frozen], str] = {
    SheetList: "sheets", Edition: "editions", Filling: "fillings", Retouching: "retouchings",
    Layout: "layouts", Pile: "piles", EarlierPile: "piles", PileChunk: "chunks", LabSheet: "labs",
}  # fmt: skip


class Heads:
    """Writes answers about jobs."""

    def __init__(self, jobs: Jobs, sheets: Sheets, newer: Callable[[Job], int]) -> None:
        self._jobs, self._sheets, self._newer = jobs, sheets, newer

    def answer(self, head: Head, known: Known, task: TaskState | None = None) -> bytes:
        """The head as JSON (JobHead). Raises NotFound when there is no such edition."""
        job = head.job
        try:
            edition = job.edition(known.edition)
        except KeyError:
            raise NotFound("This edition was not found in this job.", "Choose another.") from None
        sheets = job.sheets_of(edition)
        view = job.sheets_by_id.get(known.view)
        view = view if view in sheets else sheets[0]
        keys = self._sheets.keys(head.id, job, edition.id)
        key = keys[job.sheets.index(view)]
        counts = [self._sheets.counts(k, now=k == key or len(keys) <= 3) for k in keys]
        self._sheets.measure_soon([k for k, count in zip(keys, counts, strict=True) if count is None])
        marks = [
            {"key": k, "ratio": _ratio(sheet.layout), "counts": count}
            for k, sheet, count in zip(keys, job.sheets, counts, strict=True)
        ]
        parts = self._parts(job, self._find_asked_state(known.have), edition, view)
        places = [view.layout] if any(part.digest == view.layout.digest for part in parts) else []
        small = {
            "id": head.id, "seq": head.seq, "number": head.number, "root": head.root, "undo": head.undo,
            "redo": head.redo, "edition": edition.id, "marks": marks,
            "newer": self._newer(job), "unseen": sum(photo.found is None for photo in job.photos),
        }  # fmt: skip
        raw = {
            "job": job.pack(),
            "parts": _write_by_kind(parts),
            "measured": b'{"%s":%s}' % (key.encode(), self._sheets.measure(key)),
            "places": _object({layout.digest: self._sheets.places(layout) for layout in places}),
            "task": task.model_dump_json().encode() if task else b"null",
        }
        body = json.dumps(small, separators=(",", ":")).encode()[:-1]
        return body + b"".join(b',"%s":%s' % (name.encode(), data) for name, data in raw.items()) + b"}"

    def _find_asked_state(self, have: str) -> Job | None:
        """The state that the asker has, when it is at hand: reading it anew would cost more than sending parts twice."""
        return self._jobs.find_in_memory(have) if have else None

    @staticmethod
    def _parts(job: Job, before: Job | None, edition: Edition, view: Sheet) -> list[Frozen]:
        """What is new to the asker; of many layouts and fillings only those of the sheet in view, as of a first answer."""
        filling = edition.filling(view.id)
        if before is None:
            return [job.sheet_list, job.lab, *job.pile.chunks, job.pile, edition, view.layout, filling]
        parts_new = [part for part in new_parts(job, before) if not isinstance(part, Job)]
        if len(parts_new) <= MOST_PARTS:
            return parts_new
        return [
            part
            for part in parts_new
            if not isinstance(part, Layout | Filling) or part.digest in (view.layout.digest, filling.digest)
        ]


def _ratio(layout: Layout) -> float:
    """Width over height of a sheet's picture, its bleed included."""
    return round((layout.width_mm + 2 * layout.bleed_mm) / (layout.height_mm + 2 * layout.bleed_mm), 3)


def _write_by_kind(parts: list[Frozen]) -> bytes:
    parts_by_kind: dict[str, dict[str, bytes]] = defaultdict(dict)
    for part in parts:
        parts_by_kind[KINDS[type(part)]][part.digest] = part.pack()
    return _object({kind: _object(entries) for kind, entries in parts_by_kind.items()})


def _object(entries: dict[str, bytes]) -> bytes:
    return b"{" + b",".join(b'"%s":%s' % (name.encode(), data) for name, data in entries.items()) + b"}"
