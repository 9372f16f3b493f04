"""All that a running application holds: stores, workers, painter, shelf. Made once; routers get it by ``Depends``."""

import json
import threading
from collections import OrderedDict
from concurrent.futures import Future, ThreadPoolExecutor
from datetime import datetime
from pathlib import Path
from typing import Annotated

import cv2
from fastapi import Depends, Request

from ..core.checks import check, echoes, ledger
from ..core.document import Format, Job, Template
from ..core.errors import NotFound, Stopped, SutaruError
from ..core.formats import read_labs, read_templates
from ..core.paint import Grid, LivePage, Painter, items
from ..core.photos import PhotoPixels
from ..core.press import sweep
from ..core.press.raster import jpeg_bytes
from ..shelf import FOLDER
from ..store import Database, Export, Exports, Head, Jobs, Photos
from ..work.executor import Workers
from ..work.tasks import PROGRESS, STOP, run_export
from .events import Events
from .finder import Finder
from .models import JobCard, JobState

LIVE_PAGES = 12
DECODED_BYTES, PATCH_BYTES = 400 << 20, 300 << 20


class Studio:
    """The application behind its interface."""

    def __init__(self, data: Path, scheduler: str | None = None) -> None:
        data.mkdir(parents=True, exist_ok=True)
        self.database = Database(data / "sutaru.sqlite3")
        self.photos = Photos(self.database, data / "photos")
        self.jobs = Jobs(self.database, self.photos.informed)
        self.exports = Exports(self.database)
        self.export_folder = data / "exports"
        self.export_folder.mkdir(exist_ok=True)
        sweep(self.export_folder)
        self.templates = read_templates(FOLDER)
        self.labs = read_labs(FOLDER)
        self.workers = Workers(scheduler)
        self.events = Events()
        self.finder = Finder(self.photos, self.workers, lambda: self.events.say("found", ""))
        self._threads = ThreadPoolExecutor(2, "paint")
        cv2.setNumThreads(1)
        self.pixels = PhotoPixels(lambda photo: self.photos.path(photo.sha256), self.photos.proxy, DECODED_BYTES)
        self._painter = Painter(self.pixels, self._threads, kept=Painter.room(PATCH_BYTES))
        self._live: OrderedDict[tuple[str, str, Grid, bool], tuple[LivePage, threading.Lock]] = OrderedDict()
        self._live_lock = threading.Lock()
        self.cards: dict[str, JobCard] = {}  # how jobs were last listed
        self._running: dict[str, Future[str]] = {}

    def template(self, identity: str) -> Template:
        """A template of the shelf. Raises NotFound."""
        if identity not in self.templates:
            raise NotFound("There is no such template.", "Choose one on the shelf.")
        return self.templates[identity]

    def state(self, head: Head) -> JobState:
        """A job with all that is measured of it, as the bench shows it."""
        findings = check(head.job)
        return JobState(
            id=head.id, revision=head.revision, undo=head.undo, redo=head.redo, job=head.job,
            ledger=ledger(head.job, findings), findings=findings, echoes=echoes(head.job),
            unseen=sum(photo.found is None for photo in head.job.photos),
        )  # fmt: skip

    def picture(self, key: str, job: Job, page_id: str, width: int, notes: bool = False, mending: bool = True) -> bytes:
        """A page as JPEG, ``width`` px wide. ``key`` names the document, so that only what changed is painted anew."""
        page = next((page for page in job.pages if page.id == page_id), None)
        if page is None:
            raise NotFound("There is no such page.")
        grid = Grid.of(page, width * 25.4 / (page.width_mm + 2 * page.bleed_mm))
        with self._live_lock:
            live = self._live.setdefault((key, page_id, grid, notes), (LivePage(self._painter, grid), threading.Lock()))
            self._live.move_to_end((key, page_id, grid, notes))
            while len(self._live) > LIVE_PAGES:
                self._live.popitem(last=False)
        with live[1]:
            rgb = live[0].picture(items(job, page, bench=True, notes=notes, mending=mending))
        return jpeg_bytes(rgb, 90, "444" if width <= 700 else "420")

    def start_export(self, identity: str, lab: str, format: Format | None, transparent: bool) -> Export:
        """Queues an export of a job's head. Raises NotFound."""
        head = self.jobs.head(identity)
        if lab not in self.labs:
            raise NotFound("There is no such lab sheet.")
        job = head.job.having(lab=self.labs[lab]) if lab != head.job.lab.id else head.job
        export = self.exports.add(identity, head.revision, lab, format or job.lab.format)
        originals = {photo.sha256: str(self.photos.path(photo.sha256)) for photo in job.photos}
        folder = self.folder(export)
        folder.mkdir(parents=True)
        future = self.workers.submit(
            run_export, job.model_dump_json(), originals, str(folder), format, transparent,
            datetime.now().astimezone().isoformat(timespec="seconds"),
        )  # fmt: skip
        self._running[export.id] = future
        future.add_done_callback(lambda done: self._ended(export.id, done))
        self.exports.end(export.id, "running")
        self.events.say("export", export.id)
        threading.Thread(target=self._watch, args=(export.id, future), daemon=True).start()
        return self.exports.get(export.id)

    def folder(self, export: Export) -> Path:
        """Where an export's files lie."""
        return self.export_folder / export.id

    def _watch(self, identity: str, future: "Future[str]") -> None:
        """Says so whenever a running export has got further."""
        last = None
        while not future.done():
            progress = self.progress(identity)
            if progress != last:
                last = progress
                self.events.say("export", identity)
            try:
                future.exception(timeout=0.2)
            except TimeoutError:
                continue
            except BaseException:
                return

    def progress(self, identity: str) -> dict[str, str | int] | None:
        """Stage, done and total of a running export; None when it has not begun or has ended."""
        try:
            found: dict[str, str | int] = json.loads((self.export_folder / identity / PROGRESS).read_text())
            return found
        except (OSError, ValueError):
            return None

    def stop_export(self, identity: str) -> Export:
        """Asks a running export to stop. One that has ended stays as it is."""
        export = self.exports.get(identity)
        if export.state in ("queued", "running"):
            future = self._running.get(identity)
            if future is None or not future.cancel():
                (self.folder(export) / STOP).touch()
        return self.exports.get(identity)

    def _ended(self, identity: str, future: "Future[str]") -> None:
        self._running.pop(identity, None)
        folder = self.export_folder / identity
        try:
            if future.cancelled():
                raise Stopped("The export was stopped.")
            self.exports.end(identity, "done", manifest=future.result())
        except Stopped as stopped:
            self._discard(folder)
            self.exports.end(identity, "stopped", str(stopped))
        except SutaruError as error:
            self._discard(folder)
            self.exports.end(identity, "failed", str(error))
        except Exception as error:
            self._discard(folder)
            what = str(error) or type(error).__name__
            self.exports.end(identity, "failed", f"The export failed unexpectedly ({what}). Export again.")
        self.events.say("export", identity)

    @staticmethod
    def _discard(folder: Path) -> None:
        for path in folder.glob("*"):
            path.unlink(missing_ok=True)
        for path in folder.glob(".*"):
            path.unlink(missing_ok=True)

    def close(self) -> None:
        """Stops the workers and closes the database."""
        for identity in list(self._running):
            (self.export_folder / identity / STOP).touch()
        self.finder.close()
        self.workers.close()
        self._threads.shutdown()
        self.database.close()


def studio(request: Request) -> Studio:
    """The studio of the application that serves a request."""
    made: Studio = request.app.state.studio
    return made


InStudio = Annotated[Studio, Depends(studio)]
