"""Watched folders: photos that are laid into one become a job by its rule; exported when in order, else it waits for a person.
``work/watch_rules.py`` says what lies where in them."""

import json
import logging
import secrets
import shutil
import threading
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from ..core.document import Job
from ..core.edits.kinds import Fill
from ..core.errors import ExportRefused, FileRefused, NotFound, Stopped, SutaruError
from ..core.limits import PHOTO_BYTES
from ..core.photos import plain_name
from ..core.press.files import write_whole
from ..store.watched_folders import folder_key
from ..work.tasks import take_in
from ..work.watch_rules import (
    PRINT,
    TAKEN,
    TOLD,
    WRONG,
    Rule,
    displayable_name,
    list_waiting,
    photos_of,
    read_rule,
    read_words,
    rules_in,
)  # fmt: skip
from .models.job_heads import EditRequest, ExportRequest
from .photos import keep_upload
from .studio import Studio

log = logging.getLogger("sutaru.watcher")
LOOK_S, SETTLED_S, MOST_PHOTOS = 1.0, 3.0, 5000
_STUCK = {
    True: "A file in it cannot be read or written: see who may, and how much room there is.",
    False: "This failed in a way that nobody foresaw; what went wrong is in sutaru.log.",
}


class Watcher:
    """A thread that looks into the watched folders that lie in ``folder``, which need not be there yet."""

    def __init__(self, studio: Studio, folder: Path) -> None:
        self._studio, self.folder = studio, folder.absolute()
        self._seen: dict[Path, tuple[float, object]] = {}
        self.stuck: dict[Path, str] = {}  # why a customer's folder could not be taken when it was tried last
        self._failed: dict[Path, str] = {}  # what went wrong with a watched folder last, so that it is told once
        self._over = studio.leaving
        self._thread = threading.Thread(target=self._run, name="watcher", daemon=True)
        self._thread.start()

    def _run(self) -> None:
        while not self._over.wait(LOOK_S):
            for rule in rules_in(self.folder):
                try:
                    self._look(rule)
                    self._failed.pop(rule, None)
                except Stopped:
                    return
                except Exception as error:
                    if self._failed.get(rule) != repr(error):
                        log.exception("a watched folder could not be looked into")
                    self._failed[rule] = repr(error)

    def _look(self, path: Path) -> None:
        wrong = path.with_name(WRONG)
        try:
            rule = read_rule(path)
            self._studio.catalogue.template(rule.template)
            self._studio.catalogue.lab(rule.lab)
        except SutaruError as error:
            if read_words(wrong) != str(error):
                with write_whole(wrong) as file:
                    file.write(str(error).encode())
                self._say(path.parent)
            for waiting_folder in list_waiting(path.parent):
                self._is_settled(waiting_folder)  # is seen to lie there
            return
        if wrong.exists():
            wrong.unlink()
            self._say(path.parent)
        for waiting_folder in list_waiting(path.parent):
            self._try_folder(waiting_folder, rule)

    def _try_folder(self, folder: Path, rule: Rule) -> None:
        """Takes a folder once it has settled. One that cannot be taken says why, keeps no other waiting, and is tried again."""
        try:
            if not self._is_settled(folder):
                return
            self._take(folder, rule)
            self.stuck.pop(folder, None)
        except Stopped:
            raise
        except Exception as error:
            sentence = str(error) if isinstance(error, SutaruError) else _STUCK[isinstance(error, OSError)]
            if self.stuck.get(folder) != sentence:
                log.exception("a watched folder could not be taken in")
            self.stuck[folder] = sentence
        self._seen.pop(folder, None)
        self._say(folder.parent)

    def _say(self, watched: Path) -> None:
        self._studio.events.say("watched", displayable_name(watched))

    def _is_settled(self, folder: Path) -> bool:
        """Whether nothing in a folder has changed for a while."""
        files = photos_of(folder)
        now = [(path.name, path.stat().st_size, path.stat().st_mtime_ns) for path in files]
        since, before = self._seen.get(folder, (0.0, None))
        if now != before:
            self._seen[folder] = time.monotonic(), now
            self._say(folder.parent)
            return False
        return bool(now) and time.monotonic() - since >= SETTLED_S

    def _take(self, folder: Path, rule: Rule) -> None:
        """Makes a job of a folder. Taken up again where it was when the application ended meanwhile."""
        log.info("a watched folder is taken in")
        key, job, refused = folder_key(folder), self._begin_job(folder, rule), list[str]()
        outcome = {"job": job, "refused": refused, **self._work_on_job(job, folder, rule, refused)}
        target = _free_path(_make_own_folder(folder.parent / TAKEN) / folder.name)
        with write_whole(folder / TOLD) as file:
            file.write(json.dumps(outcome, indent=1, ensure_ascii=False).encode("utf-8", "replace"))
        folder.rename(target)
        self._studio.laid_in.end(key)

    def _begin_job(self, folder: Path, rule: Rule) -> str:
        """The folder's job: its id is written down before it is made, so that it is made once."""
        studio = self._studio
        identity = studio.laid_in.begin(folder)
        try:
            studio.jobs.head(identity)
        except NotFound:
            template, lab = studio.catalogue.template(rule.template), studio.catalogue.lab(rule.lab)
            name = plain_name(displayable_name(folder))[:120]
            job = Job(
                name=name, customer=name, template=template.id, product=template.product, sheets=template.sheets, lab=lab,
                revision=template.revision, studio=studio.card.get_written(), without_samples=True,
            )  # fmt: skip
            studio.jobs.create(job, "begin from a watched folder", identity)
            studio.events.say("shelf", identity)
            self._say(folder.parent)
        return identity

    def _work_on_job(self, job: str, folder: Path, rule: Rule, refused: list[str]) -> dict[str, Any]:
        studio = self._studio
        for path in photos_of(folder)[:MOST_PHOTOS]:
            if self._over.is_set():
                raise Stopped("The application was closed.")
            try:
                self._bring(job, path)
            except SutaruError as error:
                refused.append(str(error))
        if not studio.jobs.head(job).job.photos:
            return {"state": "waits", "why": "None of its photos can be read."}
        try:
            edit = EditRequest.model_validate({"edit": Fill(how=rule.fill).model_dump(mode="json")})
            answer = json.loads(studio.edit(job, edit))
            if answer.get("task"):
                self._wait_for_task(answer["task"]["id"])
        except SutaruError as error:
            refused.append(str(error))
        if not rule.export:
            return {"state": "waits", "why": "Its rule says so."}
        try:
            task = studio.long_work.export(
                job, ExportRequest(lab=rule.lab, edition="*", format=rule.format, transparent=False)
            )
        except ExportRefused as error:
            return {"state": "waits", "why": str(error)}
        done = self._wait_for_task(task.id)
        if done.state != "done" or done.outcome is None:
            return {"state": "waits", "why": done.message}
        out = _make_own_folder(_make_own_folder(folder.parent / PRINT) / folder.name)
        for name in ("manifest.json", *(entry["file"] for entry in done.outcome["files"])):
            with (studio.board.folder(task) / name).open("rb") as source, write_whole(out / name) as file:
                shutil.copyfileobj(source, file)
        return {"state": "exported", "files": [entry["file"] for entry in done.outcome["files"]]}

    def _bring(self, job: str, path: Path) -> None:
        studio, called = self._studio, plain_name(path.name)
        if path.stat().st_size > PHOTO_BYTES:
            raise FileRefused(f"{called} is too large.", "Save it smaller.")
        upload = studio.photos.incoming / f"watched-{secrets.token_hex(8)}"
        try:
            shutil.copyfile(path, upload)
            with studio.finder.pause_for_import(job):
                read = studio.door.photo(called, take_in, str(upload), called)
            keep_upload(studio, job, upload, read, "watched")
        finally:
            upload.unlink(missing_ok=True)

    def _wait_for_task(self, task: str) -> Any:
        while (state := self._studio.board.tasks.get(task)).state in ("queued", "running"):
            if self._over.wait(0.2):
                raise Stopped("The application was closed.")
        return state

    def close(self) -> None:
        """Waits for the thread, which ends when the studio is left; what it was at is taken up at the next start."""
        self._thread.join(timeout=30)


def _make_own_folder(path: Path) -> Path:
    """A folder of ours, made where it is not there. Raises FileRefused where a link stands in its place."""
    if path.is_symlink():
        raise FileRefused(f"{displayable_name(path)} is a link.", "Put a folder in its place.")
    path.mkdir(parents=True, exist_ok=True)
    return path


def _free_path(path: Path) -> Path:
    names: Callable[[int], Path] = lambda n: path if n == 1 else path.with_name(f"{path.name}-{n}")  # noqa: E731
    return next(free for n in range(1, 10_000) if not (free := names(n)).exists())
