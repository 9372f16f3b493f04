"""Work that takes longer than a request: fillings of many openings, exports, plans of books."""

from datetime import datetime
from typing import Annotated, Any

from fastapi import Depends, Request

from ..core.document import Job
from ..core.edits.apply import label
from ..core.edits.job_edits import choose_what_to_fill
from ..core.edits.kinds import Fill, Lay
from ..core.errors import EditRefused, ExportRefused, NotFound
from ..core.formats.bundle import job_assets
from ..core.press.exporting import EVERY
from ..store import Task
from ..work.board import Board, Run
from ..work.exports import export_job
from ..work.tasks import Exported, run_fill, run_plan, run_print_sheets
from .catalogue import Catalogue
from .editor import Editor
from .events import Events
from .finder import Finder
from .models.books import PlanRequest
from .models.job_heads import ExportRequest, ProgressOf, TaskState
from .stores import Stores

KEPT_PLANS = 3  # of a job: others are looked at no more
PAIRS_AT_ONCE = 20_000  # openings times photos that are chosen from within a request


class LongWork:
    """Begins long work, each a task on the board."""

    def __init__(
        self, stores: Stores, catalogue: Catalogue, editor: Editor, board: Board, finder: Finder, events: Events
    ) -> None:
        self._stores, self._catalogue, self._editor = stores, catalogue, editor
        self._board, self._finder, self._events = board, finder, events

    def state(self, task: Task) -> TaskState:
        """A task as the screens show it."""
        progress = self._board.progress(task.id)
        return TaskState(**vars(task), progress=ProgressOf.model_validate(progress) if progress else None)

    def list_of_job(self, job: str) -> list[TaskState]:
        """Long work of a job, the newest first."""
        return [self.state(task) for task in self._board.tasks.list_of_job(job)]

    def get(self, identity: str) -> TaskState:
        """How one task stands. Raises NotFound."""
        return self.state(self._board.tasks.get(identity))

    def stop(self, identity: str) -> TaskState:
        """Stops a task; what it had written is deleted. Raises NotFound."""
        return self.state(self._board.stop(identity))

    def is_long(self, job: Job, edit: Fill) -> bool:
        if job.making is not None:
            return False
        choice = choose_what_to_fill(job, edit)
        pairs = len(choice.places) * len(choice.photos)
        return pairs > PAIRS_AT_ONCE or any(self._finder.awaits(photo.checksum) for photo in choice.photos)

    def fill(self, job: str, edit: Fill) -> Task:
        """Fills in the background: first all photos are looked at, then a worker chooses."""

        def work(run: Run) -> dict[str, Any]:
            self._finder.wait_for(
                [photo.checksum for photo in choose_what_to_fill(self._stores.jobs.head(job).job, edit).photos],
                lambda done, total: run.tell("looking at photos", done, total),
            )
            head = self._stores.jobs.head(job)
            if self._pairs(head.job, edit) > PAIRS_AT_ONCE:
                chosen = run.run_in_worker(
                    run_fill, head.job.model_dump_json(), edit.model_dump_json(), str(run.folder)
                )
                laid = Lay.model_validate_json(chosen)
                head = self._stores.jobs.edit(job, self._editor.change(job, laid, label(head.job, edit)))
            else:
                head = self._stores.jobs.edit(job, self._editor.change(job, edit))
            self._events.say("job", job, seq=head.seq)
            return {"number": head.number}

        return self._board.start("fill", job, edit.model_dump(mode="json"), work)

    @staticmethod
    def _pairs(job: Job, edit: Fill) -> int:
        choice = choose_what_to_fill(job, edit)
        return len(choice.places) * len(choice.photos)

    def export(self, identity: str, request: ExportRequest, number: int | None = None) -> Task:
        """Begins an export of a job as it stands, or as it was in a state. Raises NotFound, and ExportRefused while there
        are stops that nobody accepted."""
        lab = self._catalogue.lab(request.lab)
        head = self._stores.jobs.head(identity)
        number = number or head.number
        job = self._stores.jobs.get_state(identity, number)
        job = job.copy_with(lab=lab) if lab.id != job.lab.id else job
        if request.edition not in ("", EVERY) and all(edition.id != request.edition for edition in job.editions):
            raise NotFound("This edition was not found in this job.", "Choose another.")
        self._refuse_stops(identity, job, request.edition)
        kind = "pdf" if request.sheets else request.format or job.lab.format
        task_request = {**request.model_dump(mode="json"), "format": kind, "number": number}

        def work(run: Run) -> dict[str, Any]:
            self._wait_until_looked_at(run, identity, job, request.edition)
            originals = {photo.checksum: str(self._stores.photos.path(photo.checksum)) for photo in job.photos}
            assets = {name: self._stores.parts.asset(name) for name in job_assets(job)}
            made_at, many = datetime.now().astimezone(), request.edition == EVERY
            what = Exported(
                job.model_dump_json(), originals, assets, str(run.folder), kind, made_at.isoformat(timespec="seconds"),
                request.transparent, many,
            )  # fmt: skip
            if request.sheets:
                return run.run_in_worker(run_print_sheets, what, request.edition, request.sheets.model_dump_json())
            return export_job(run, job, what, request.edition)

        return self._board.start("export", identity, task_request, work)

    def _refuse_stops(self, identity: str, job: Job, edition: str) -> int:
        """Raises ExportRefused while there are stops that nobody accepted; how many openings are still being checked."""
        chosen = [entry.id for entry in job.editions] if edition == EVERY else [edition]
        keys = [
            key
            for entry in chosen
            for key, sheet in zip(self._stores.sheets.keys(identity, job, entry), job.sheets, strict=True)
            if sheet in job.sheets_of(job.edition(entry))
        ]
        counts = [counted for key in keys if (counted := self._stores.sheets.counts(key, now=True))]
        if stops := sum(count[2] for count in counts):
            raise ExportRefused.for_stops(stops)
        return sum(count[4] for count in counts)

    def _wait_until_looked_at(self, run: Run, identity: str, job: Job, edition: str) -> None:
        """Waits until all photos that lie on a job's sheets were looked at, then looks for stops once more.

        Raises ExportRefused, and Stopped.
        """
        laid = {photo for filled in job.editions for filling in filled.fillings.values() for photo in filling.photos()}
        unseen = [photo.checksum for photo in job.photos if photo.id in laid and not photo.is_looked_at]
        if unseen:
            self._finder.wait_for(unseen, lambda done, total: run.tell("looking at photos", done, total))
            self._refuse_stops(identity, self._stores.photos.add_found(job), edition)

    def plan(self, identity: str, request: PlanRequest) -> Task:
        """Begins to plan a book as it stands, once all its photos were looked at; earlier plans of it are stopped, and but for
        a few forgotten. Raises EditRefused when it is no book."""
        if self._stores.jobs.head(identity).job.book is None:
            raise EditRefused("This job is no book.", "Begin a book from its first step.")
        earlier = [task for task in self._board.tasks.list_of_job(identity) if task.kind == "plan"]
        for n, task in enumerate(earlier):
            if task.state in ("queued", "running"):
                self._board.stop(task.id)
            elif n >= KEPT_PLANS:
                self._board.forget(task)

        def work(run: Run) -> dict[str, Any]:
            self._finder.wait_for(
                [photo.checksum for photo in self._stores.jobs.head(identity).job.photos if not photo.aside],
                lambda done, total: run.tell("looking at photos", done, total),
            )
            job = self._stores.jobs.head(identity).job
            return run.run_in_worker(
                run_plan, job.model_dump_json(), request.wishes.model_dump_json(), request.edition, request.sheets,
                str(run.folder),
            )  # fmt: skip

        return self._board.start("plan", identity, request.model_dump(mode="json"), work)

    def run_again(self, identity: str) -> Task:
        """Runs a task that has ended once more, with what was asked then. Raises NotFound, EditRefused."""
        task = self._board.tasks.get(identity)
        if task.kind == "fill":
            return self.fill(task.job, Fill.model_validate(task.asked))
        if task.kind == "plan":
            return self.plan(task.job, PlanRequest.model_validate(task.asked))
        fields = {k: v for k, v in task.asked.items() if k in ExportRequest.model_fields}
        return self.export(task.job, ExportRequest.model_validate(fields))


def get_long_work(request: Request) -> LongWork:
    """The long work of the application that serves a request."""
    work: LongWork = request.app.state.studio.long_work
    return work


InLongWork = Annotated[LongWork, Depends(get_long_work)]
