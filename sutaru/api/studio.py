"""All that a running application holds: stores, workers, tasks, sheets, shelf. Made once; routers get it by ``Depends``."""

import logging
import shutil
import sqlite3
import threading
from datetime import date
from pathlib import Path
from typing import Annotated

from fastapi import Depends, Request

from ..core.books.plan import LayoutStyle
from ..core.document import Job, Recipe
from ..core.edits.kinds import Fill
from ..core.errors import NotFound, SutaruError
from ..core.limits import PICTURES_AT_ONCE
from ..core.photos import Held, PhotoPixels
from ..store import (
    Card,
    Database,
    Jobs,
    LabSheets,
    LaidInFolders,
    Named,
    Orders,
    Parts,
    Photos,
    Pictures,
    ProofLinks,
    Task,
    Tasks,
    Templates,
)
from ..work.board import Board
from ..work.executor import Workers
from ..work.safe_reading import Door
from ..work.tasks import load_compiled
from .catalogue import Catalogue
from .editor import Editor
from .events import Events
from .finder import Finder
from .job_answers import Heads
from .long_work import LongWork
from .models.job_heads import EditRequest
from .order_desk import LAB_ADDRESS, PRINTER_ADDRESS, Desk
from .sheets import Sheets
from .stores import Stores
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
        self.recipes = Named(self.database, "recipe", Recipe, "recipe")
        self.layout_styles = Named(self.database, "layout_style", LayoutStyle, "style")
        self.proof_links = ProofLinks(self.database)
        self.public_url = ""  # under which customers reach it; else the address that the studio's own browser has
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
        self.stores = Stores(self.jobs, self.photos, self.parts, self.sheets)
        self.catalogue = Catalogue(self.templates, self.lab_sheets, self.parts, self.card)
        self.heads = Heads(self.jobs, self.sheets, self.catalogue.newer_revision)
        self.editor = Editor(self.stores, self.heads, self.events)
        self.board = Board(Tasks(self.database), data / "exports", self.workers, self._publish_task)
        self.long_work = LongWork(self.stores, self.catalogue, self.editor, self.board, self.finder, self.events)
        self.orders = Orders(self.database, data / "orders")
        self.desk, self.printer = Desk(lab, self.orders, self.events), printer
        self._sweep()
        self.leaving = threading.Event()
        self._keeper = threading.Thread(target=self._keep_copies, name="keeper", daemon=True)
        self._keeper.start()
        self._ahead = threading.Thread(target=self._load_ahead, name="ahead", daemon=True)
        self._ahead.start()

    def _load_ahead(self) -> None:
        """Loads what the first request, and the first picture, would wait for."""
        try:
            self.catalogue.shelf  # noqa: B018
        except Exception:  # whoever asks for it next hears why; after the end nobody does
            if not self.leaving.is_set():
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

    def edit(self, job: str, request: EditRequest) -> bytes:
        """Applies an edit: the answer, once it is stored. A long filling up becomes a task instead."""
        edit = request.edit
        if isinstance(edit, Fill):
            head = self.jobs.head(job)
            if self.long_work.is_long(head.job, edit):
                return self.heads.answer(head, request, self.long_work.state(self.long_work.fill(job, edit)))
        return self.editor.announce_head(self.editor.edit(job, edit, request.gesture, request.token), request)

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
