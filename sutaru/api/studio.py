"""All that a running application holds: stores, workers, tasks, sheets, shelf. Made once; routers get it by ``Depends``."""

import logging
import shutil
import sqlite3
import threading
from collections.abc import Callable
from datetime import date, datetime
from functools import cached_property
from pathlib import Path
from typing import Annotated, Any

from fastapi import Depends, Request

from ..core.books.book import begin_empty_book
from ..core.checks import Measured
from ..core.checks.trial_paint import refuse_failures
from ..core.document import Book, Job, LabSheet, Template, Theme
from ..core.edits.apply import apply, label
from ..core.edits.job_edits import choose_what_to_fill
from ..core.edits.kinds import Accept, Edit, Fill, Lay
from ..core.errors import EditRefused, ExportRefused, NotFound, SutaruError
from ..core.fitting import resolve_sheet
from ..core.formats.bundle import job_assets, list_added_assets
from ..core.formats.shelf import Shelf, read_shelf
from ..core.limits import PICTURES_AT_ONCE
from ..core.photos import Held, PhotoPixels
from ..core.press.exporting import EVERY
from ..shelf import FOLDER
from ..store import (
    Card,
    Database,
    Head,
    Jobs,
    LabSheets,
    LaidInFolders,
    Orders,
    Parts,
    Photos,
    Pictures,
    Recipes,
    Task,
    Tasks,
    Templates,
)
from ..work.board import Board, Run
from ..work.executor import Workers
from ..work.exports import export_job
from ..work.safe_reading import Door
from ..work.tasks import Exported, load_compiled, run_fill, run_plan, run_print_sheets
from .events import Events
from .finder import Finder
from .job_answers import Heads
from .models.books import PlanRequest
from .models.job_heads import EditRequest, ExportRequest, Known, ProgressOf, TaskState
from .models.new_jobs import NewBook
from .order_desk import LAB_ADDRESS, PRINTER_ADDRESS, Desk
from .sheets import Sheets
from .tiles import Tiles
from .turns import Turns

log = logging.getLogger("sutaru.studio")
DECODED_BYTES = 120 << 20
TRIED_AT_ONCE = 12  # sheets that one edit changes: what it does to more is the same again
KEPT_PLANS = 3  # of a job: others are looked at no more
PAIRS_AT_ONCE = 20_000  # openings times photos that are chosen from within a request


class Studio:
    """The application behind its interface."""

    def __init__(
        self, data: Path, scheduler: str | None = None, lab: str = LAB_ADDRESS, printer: str = PRINTER_ADDRESS
    ) -> None:
        """``scheduler``: where Dask's is, else work runs here. ``lab``: where orders go. ``printer``: where print sheets do."""
        self.database = Database(data / "sutaru.sqlite3")
        self.parts = Parts(self.database)
        self.photos = Photos(self.database, data / "photos")
        self.pictures = Pictures(data / "pictures")
        self.jobs = Jobs(self.database, self.parts, self.photos)
        self.templates = Templates(self.database)
        self.card = Card(self.database)
        self.lab_sheets = LabSheets(self.database)
        self.recipes = Recipes(self.database)
        self.laid_in = LaidInFolders(self.database)
        self.sample_books: dict[str, Job] = {}  # by theme, to be looked at before one is chosen
        self.workers = Workers(scheduler)
        self.door = Door(self.workers)
        self.events = Events()
        self.finder = Finder(self.photos, self.workers, lambda ids: self.events.say("found", "", ids=ids))
        files = PhotoPixels(lambda photo: self.photos.path(photo.checksum), self.photos.proxy)
        pixels = Held(files, DECODED_BYTES, always=True)
        self.tiles = Tiles(pixels)
        self.turns, self.tile_turns = Turns(PICTURES_AT_ONCE), Turns(2 * PICTURES_AT_ONCE)
        self.sheets = Sheets(pixels, self.parts.asset, lambda job: self.events.say("measured", job))
        self.heads = Heads(self.jobs, self.sheets, self.newer_revision)
        self.board = Board(Tasks(self.database), data / "exports", self.workers, self._publish_task)
        self.orders = Orders(self.database, data / "orders")
        self.desk, self.printer = Desk(lab, self.orders, self.events), printer
        self._sweep()
        self.leaving = threading.Event()
        self._keeper = threading.Thread(target=self._keep_copies, name="keeper", daemon=True)
        self._keeper.start()
        self._ahead = threading.Thread(target=self._load_ahead, name="ahead", daemon=True)
        self._ahead.start()

    @cached_property
    def shelf(self) -> Shelf:
        """What ships: read when it is first asked for, so that the server answers before."""
        shelf = read_shelf(FOLDER)
        self.parts.add_assets(shelf.files.values())
        return shelf

    def _load_ahead(self) -> None:
        """Loads what the first request, and the first picture, would wait for."""
        try:
            self.shelf  # noqa: B018
        except Exception:  # whoever asks for it next hears why
            log.exception("the shelf cannot be read ahead")
        load_compiled()

    def _sweep(self) -> None:
        """Deletes what unfinished tasks of an earlier run left."""
        states_kept = {"done"}
        for folder in (self.database.folder / "exports").iterdir():
            try:
                if self.board.tasks.get(folder.name).state in states_kept:
                    continue
            except NotFound:
                pass
            shutil.rmtree(folder, ignore_errors=True)

    def _publish_task(self, task: Task) -> None:
        self.events.say("task", task.job, task=task.id)

    def template(self, identity: str) -> Template:
        """A template of the shelf, or of the studio's own as it was kept last. Raises NotFound."""
        return self.shelf.templates.get(identity) or self.templates.get(identity)

    def newer_revision(self, job: Job) -> int:
        """The newest revision of the template that a job began from; 0 when the job has that."""
        newest = (
            0 if job.making or job.template in self.shelf.templates else self.templates.newest_revision(job.template)
        )
        return newest if newest > job.revision else 0

    def lab(self, identity: str) -> LabSheet:
        """A lab sheet. Raises NotFound."""
        if identity not in (labs := self.labs):
            raise NotFound("There is no such lab sheet.", "Choose one of the list.")
        return labs[identity]

    @property
    def labs(self) -> dict[str, LabSheet]:
        """All lab sheets: those of the shelf, and those taken from the lab, as they were taken last."""
        return {**self.shelf.labs, **self.lab_sheets.list_all()}

    def theme(self, identity: str) -> Theme:
        """A theme of the shelf. Raises NotFound."""
        if identity not in self.shelf.themes:
            raise NotFound("There is no such theme.", "Choose one of the list.")
        return self.shelf.themes[identity]

    def begin_book(self, name: str, lab: LabSheet, request: NewBook, locale: str) -> Job:
        """A job that is a book from nothing. Raises NotFound for what the lab does not bind."""
        if lab.bindery is None:
            raise NotFound(f"{lab.name} binds no books.", "Choose another lab sheet.")
        size = next((entry for entry in lab.bindery.sizes if entry.id == request.size), None)
        paper = next((entry for entry in lab.bindery.papers if entry.id == request.paper), None)
        binding = next((entry for entry in lab.bindery.bindings if entry.id == request.binding), None)
        if size is None or paper is None or binding is None:
            raise NotFound(f"{lab.name} does not bind this.", "Choose a size, a paper and a binding of its list.")
        book = Book(size=size, paper=paper, binding=binding)
        return begin_empty_book(
            name, lab, book, self.theme(request.theme), request.pages, request.title, locale, self.card.get_written()
        )

    # Edits

    def edit(self, job: str, request: EditRequest) -> bytes:
        """Applies an edit: the answer, once it is stored. A long filling up becomes a task instead."""
        edit = request.edit
        if isinstance(edit, Fill):
            head = self.jobs.head(job)
            if self._is_long(head.job, edit):
                return self.heads.answer(head, request, self.state(self._fill(job, edit)))
        return self.announce_head(self.jobs.edit(job, self._change(job, edit), request.gesture, request.token), request)

    def _change(self, where: str, edit: Edit, label_text: str | None = None) -> Callable[[Job], tuple[Job, str]]:
        def change(before: Job) -> tuple[Job, str]:
            with refuse_failures("This"):
                after = apply(before, edit)
                self._check_files(before, after)
                if isinstance(edit, Accept):
                    self._check_finding_stands(where, before, edit)
                self._try_out(where, before, after)
            return after, label_text or label(before, edit)

        return change

    def _check_files(self, before: Job, after: Job) -> None:
        """Refuses what names a photo or a file that was never brought in: it could be neither shown nor printed."""
        if after.pile is not before.pile:
            old = before.pile.by_id
            for photo in after.photos:
                if photo.id not in old and not self.photos.has_file(photo.checksum):
                    raise EditRefused(f"The file of {photo.name} is not here.", "Bring the photo in from its file.")
        for name in sorted(list_added_assets(before, after)):
            if not self.parts.has_asset(name):
                raise EditRefused("A file that this names is not here.", "Bring the file in first, then try again.")

    def _check_finding_stands(self, where: str, job: Job, edit: Accept) -> None:
        """Refuses to let pass what is found otherwise by now: that would let nothing pass, and nobody would know."""
        keys = dict(zip(job.sheets_by_id, self.sheets.keys(where, job, edit.edition), strict=True))
        findings = Measured.model_validate_json(self.sheets.measure(keys[edit.sheet])).findings
        standing = {(finding.rule, finding.layer, finding.sentence) for finding in findings}
        if any((named.rule, named.layer, named.sentence) not in standing for named in edit.findings):
            raise EditRefused("This is found otherwise by now.", "Look at it as it stands, and accept that.")

    def _try_out(self, where: str, before: Job, after: Job) -> None:
        """What cannot be shown, measured and painted is refused before it is stored."""
        known, most = {edition.id: edition for edition in before.editions}, TRIED_AT_ONCE
        for edition in after.editions:
            was = known.get(edition.id)
            keys: list[str] = []
            for index, sheet in enumerate(after.sheets):
                old = before.sheets_by_id.get(sheet.id)
                same = old is not None and old.layout is sheet.layout
                if most <= 0 or (same and was and was.filling(sheet.id) is edition.filling(sheet.id)):
                    continue
                keys = keys or self.sheets.keys(where, after, edition.id)
                self.sheets.try_out(
                    keys[index],
                    resolve_sheet(before, sheet.id, was.id, fonts=self.parts.asset) if old and was else None,
                )
                most -= 1

    def last_good(self, identity: str) -> str:
        """Takes a job back to its newest state that works. Raises NotFound, FileRefused."""

        def works(job: Job) -> None:
            with refuse_failures("This"):
                for edition in job.editions:
                    for key in self.sheets.keys(identity, job, edition.id):
                        self.sheets.try_out(key, None)

        head = self.jobs.last_good(identity, works)
        self.events.say("job", identity, seq=head.seq)
        return identity

    def announce_head(self, head: Head, known: Known) -> bytes:
        """The answer to whatever moved a job's head, which everybody is told of."""
        self.events.say("job", head.id, seq=head.seq)
        return self.heads.answer(head, known)

    def _is_long(self, job: Job, edit: Fill) -> bool:
        if job.making is not None:
            return False
        choice = choose_what_to_fill(job, edit)
        pairs = len(choice.places) * len(choice.photos)
        return pairs > PAIRS_AT_ONCE or any(self.finder.awaits(photo.checksum) for photo in choice.photos)

    def _fill(self, job: str, edit: Fill) -> Task:
        """Fills in the background: first all photos are looked at, then a worker chooses."""

        def work(run: Run) -> dict[str, Any]:
            self.finder.wait_for(
                [photo.checksum for photo in choose_what_to_fill(self.jobs.head(job).job, edit).photos],
                lambda done, total: run.tell("looking at photos", done, total),
            )
            head = self.jobs.head(job)
            if self._pairs(head.job, edit) > PAIRS_AT_ONCE:
                chosen = run.run_in_worker(
                    run_fill, head.job.model_dump_json(), edit.model_dump_json(), str(run.folder)
                )
                laid = Lay.model_validate_json(chosen)
                head = self.jobs.edit(job, self._change(job, laid, label(head.job, edit)))
            else:
                head = self.jobs.edit(job, self._change(job, edit))
            self.events.say("job", job, seq=head.seq)
            return {"number": head.number}

        return self.board.start("fill", job, edit.model_dump(mode="json"), work)

    @staticmethod
    def _pairs(job: Job, edit: Fill) -> int:
        choice = choose_what_to_fill(job, edit)
        return len(choice.places) * len(choice.photos)

    # Tasks

    def state(self, task: Task) -> TaskState:
        """A task as the screens show it."""
        progress = self.board.progress(task.id)
        return TaskState(**vars(task), progress=ProgressOf.model_validate(progress) if progress else None)

    def export(self, identity: str, request: ExportRequest, number: int | None = None) -> Task:
        """Begins an export of a job as it stands, or as it was in a state. Raises NotFound, and ExportRefused while there
        are stops that nobody accepted."""
        lab = self.lab(request.lab)
        head = self.jobs.head(identity)
        number = number or head.number
        job = self.jobs.get_state(identity, number)
        job = job.copy_with(lab=lab) if lab.id != job.lab.id else job
        if request.edition not in ("", EVERY) and all(edition.id != request.edition for edition in job.editions):
            raise NotFound("There is no such edition in this job.", "Choose another.")
        self._refuse_stops(identity, job, request.edition)
        kind = "pdf" if request.sheets else request.format or job.lab.format
        task_request = {**request.model_dump(mode="json"), "format": kind, "number": number}

        def work(run: Run) -> dict[str, Any]:
            self._wait_until_looked_at(run, identity, job, request.edition)
            originals = {photo.checksum: str(self.photos.path(photo.checksum)) for photo in job.photos}
            assets = {name: self.parts.asset(name) for name in job_assets(job)}
            made_at, many = datetime.now().astimezone(), request.edition == EVERY
            what = Exported(
                job.model_dump_json(), originals, assets, str(run.folder), kind, made_at.isoformat(timespec="seconds"),
                request.transparent, many,
            )  # fmt: skip
            if request.sheets:
                return run.run_in_worker(run_print_sheets, what, request.edition, request.sheets.model_dump_json())
            return export_job(run, job, what, request.edition)

        return self.board.start("export", identity, task_request, work)

    def _refuse_stops(self, identity: str, job: Job, edition: str) -> int:
        """Raises ExportRefused while there are stops that nobody accepted; how many openings are still being checked."""
        chosen = [entry.id for entry in job.editions] if edition == EVERY else [edition]
        keys = [
            key
            for entry in chosen
            for key, sheet in zip(self.sheets.keys(identity, job, entry), job.sheets, strict=True)
            if sheet in job.sheets_of(job.edition(entry))
        ]
        counts = [counted for key in keys if (counted := self.sheets.counts(key, now=True))]
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
            self.finder.wait_for(unseen, lambda done, total: run.tell("looking at photos", done, total))
            self._refuse_stops(identity, self.photos.add_found(job), edition)

    def plan(self, identity: str, request: PlanRequest) -> Task:
        """Begins to plan a book as it stands, once all its photos were looked at; earlier plans of it are stopped, and but for
        a few forgotten. Raises EditRefused when it is no book."""
        if self.jobs.head(identity).job.book is None:
            raise EditRefused("This job is no book.", "Begin a book from its first step.")
        earlier = [task for task in self.board.tasks.list_of_job(identity) if task.kind == "plan"]
        for n, task in enumerate(earlier):
            if task.state in ("queued", "running"):
                self.board.stop(task.id)
            elif n >= KEPT_PLANS:
                self.board.forget(task)

        def work(run: Run) -> dict[str, Any]:
            self.finder.wait_for(
                [photo.checksum for photo in self.jobs.head(identity).job.photos if not photo.aside],
                lambda done, total: run.tell("looking at photos", done, total),
            )
            job = self.jobs.head(identity).job
            return run.run_in_worker(
                run_plan, job.model_dump_json(), request.wishes.model_dump_json(), request.edition, request.sheets,
                str(run.folder),
            )  # fmt: skip

        return self.board.start("plan", identity, request.model_dump(mode="json"), work)

    def run_again(self, identity: str) -> Task:
        """Runs a task that has ended once more, with what was asked then. Raises NotFound, EditRefused."""
        task = self.board.tasks.get(identity)
        if task.kind == "fill":
            return self._fill(task.job, Fill.model_validate(task.asked))
        if task.kind == "plan":
            return self.plan(task.job, PlanRequest.model_validate(task.asked))
        fields = {k: v for k, v in task.asked.items() if k in ExportRequest.model_fields}
        return self.export(task.job, ExportRequest.model_validate(fields))

    def leave(self) -> None:
        """Asks all work to stop, and waits for none of it: what ``close`` begins with. May be called from a signal."""
        self.events.closed = True
        self.leaving.set()
        self.board.leave()
        self.desk.close()

    def _keep_copies(self) -> None:
        """A copy of the database after every hour with changes, while the studio is open; the newest of each day stays."""
        while True:
            try:
                self.database.keep_copy(date.today())
            except (SutaruError, OSError, sqlite3.Error):
                log.exception("the day's copy of the database could not be made")
            if self.leaving.wait(3600):
                return

    def close(self) -> None:
        """Stops all work and closes the database."""
        self.leave()
        self._keeper.join()
        self._ahead.join(timeout=2)  # it may be compiling, for the first time on this machine
        self.board.close()
        self.finder.close()
        self.workers.close()
        self.sheets.close()
        self.database.close()


def get_studio(request: Request) -> Studio:
    """The studio of the application that serves a request."""
    studio: Studio = request.app.state.studio
    return studio


InStudio = Annotated[Studio, Depends(get_studio)]
