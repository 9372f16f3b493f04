"""Watched folders: photos that are laid into one become a job by its rule; exported when in order, else it waits for a person.

WATCHED/post-cards/rule.json              what is made of each folder beside it
WATCHED/post-cards/Brandvik/*.jpg         a customer's photos: taken once nothing in it has changed for a while
WATCHED/post-cards/taken/Brandvik         where they lie then, with ``job.json``, which says what became of them
WATCHED/post-cards/print/Brandvik         what was exported
"""

import json
import logging
import os
import secrets
import shutil
import threading
import time
from collections.abc import Callable
from pathlib import Path
from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError

from ..core.document import FileKind, Job
from ..core.document.base import Frozen
from ..core.edits import Fill
from ..core.errors import ExportRefused, FileRefused, NotFound, Stopped, SutaruError, in_words
from ..core.limits import PHOTO_BYTES
from ..core.photos import plain
from ..core.press import whole
from ..store.laid_in import folder_key
from ..work.tasks import take_in
from .models import EditRequest, ExportRequest
from .photos import brought_in
from .studio import Studio

log = logging.getLogger("sutaru.watcher")
RULE, TOLD = "rule.json", "job.json"
RULE_BYTES = 100_000
TAKEN, PRINT, WRONG = "taken", "print", "rule.wrong.txt"
LOOK_S, SETTLED_S, MOST_PHOTOS = 1.0, 3.0, 5000
_STUCK = {
    True: "A file in it cannot be read or written: see who may, and how much room there is.",
    False: "This failed in a way that nobody foresaw; what went wrong is in sutaru.log.",
}


class Rule(Frozen):
    """What is made of each folder that is laid in: a job from a template for a lab sheet, called as the folder; filled; exported
    when nothing stops it. ``format``: else as the lab sheet says."""

    template: Annotated[str, Field(min_length=1, max_length=64)]
    lab: Annotated[str, Field(min_length=1, max_length=64)] = "gullwing-300"
    fill: Literal["best", "order"] = "best"
    export: bool = True
    format: FileKind | None = None


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
            self._studio.template(rule.template)
            self._studio.lab(rule.lab)
        except SutaruError as error:
            if said_in(wrong) != str(error):
                with whole(wrong) as file:
                    file.write(str(error).encode())
                self._say(path.parent)
            for own in laid_in(path.parent):
                self._settled(own)  # is seen to lie there
            return
        if wrong.exists():
            wrong.unlink()
            self._say(path.parent)
        for own in laid_in(path.parent):
            self._tried(own, rule)

    def _tried(self, folder: Path, rule: Rule) -> None:
        """Takes a folder once it has settled. One that cannot be taken says why, keeps no other waiting, and is tried again."""
        try:
            if not self._settled(folder):
                return
            self._take(folder, rule)
            self.stuck.pop(folder, None)
        except Stopped:
            raise
        except Exception as error:
            said = str(error) if isinstance(error, SutaruError) else _STUCK[isinstance(error, OSError)]
            if self.stuck.get(folder) != said:
                log.exception("a watched folder could not be taken in")
            self.stuck[folder] = said
        self._seen.pop(folder, None)
        self._say(folder.parent)

    def _say(self, watched: Path) -> None:
        self._studio.events.say("watched", shown_name(watched))

    def _settled(self, folder: Path) -> bool:
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
        key, job, refused = folder_key(folder), self._begun(folder, rule), list[str]()
        told = {"job": job, "refused": refused, **self._worked(job, folder, rule, refused)}
        target = _free(_own_folder(folder.parent / TAKEN) / folder.name)
        with whole(folder / TOLD) as file:
            file.write(json.dumps(told, indent=1, ensure_ascii=False).encode("utf-8", "replace"))
        folder.rename(target)
        self._studio.laid_in.end(key)

    def _begun(self, folder: Path, rule: Rule) -> str:
        """The folder's job: its id is written down before it is made, so that it is made once."""
        studio = self._studio
        identity = studio.laid_in.begin(folder)
        try:
            studio.jobs.head(identity)
        except NotFound:
            template, lab = studio.template(rule.template), studio.lab(rule.lab)
            name = plain(shown_name(folder))[:120]
            job = Job(
                name=name, customer=name, template=template.id, product=template.product, sheets=template.sheets, lab=lab,
                revision=template.revision, studio=studio.card.taken(), without_samples=True,
            )  # fmt: skip
            studio.jobs.create(job, "begin from a watched folder", identity)
            studio.events.say("shelf", identity)
            self._say(folder.parent)
        return identity

    def _worked(self, job: str, folder: Path, rule: Rule, refused: list[str]) -> dict[str, Any]:
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
                self._ended(answer["task"]["id"])
        except SutaruError as error:
            refused.append(str(error))
        if not rule.export:
            return {"state": "waits", "why": "Its rule says so."}
        try:
            task = studio.export(job, ExportRequest(lab=rule.lab, edition="*", format=rule.format, transparent=False))
        except ExportRefused as error:
            return {"state": "waits", "why": str(error)}
        done = self._ended(task.id)
        if done.state != "done" or done.outcome is None:
            return {"state": "waits", "why": done.message}
        out = _own_folder(_own_folder(folder.parent / PRINT) / folder.name)
        for name in ("manifest.json", *(entry["file"] for entry in done.outcome["files"])):
            with (studio.board.folder(task) / name).open("rb") as source, whole(out / name) as file:
                shutil.copyfileobj(source, file)
        return {"state": "exported", "files": [entry["file"] for entry in done.outcome["files"]]}

    def _bring(self, job: str, path: Path) -> None:
        studio, called = self._studio, plain(path.name)
        if path.stat().st_size > PHOTO_BYTES:
            raise FileRefused(f"{called} is too large.", "Save it smaller.")
        upload = studio.photos.incoming / f"watched-{secrets.token_hex(8)}"
        try:
            shutil.copyfile(path, upload)
            with studio.finder.importing(job):
                read = studio.door.photo(called, take_in, str(upload), called)
            brought_in(studio, job, upload, read, "watched")
        finally:
            upload.unlink(missing_ok=True)

    def _ended(self, task: str) -> Any:
        while (found := self._studio.board.tasks.get(task)).state in ("queued", "running"):
            if self._over.wait(0.2):
                raise Stopped("The application was closed.")
        return found

    def close(self) -> None:
        """Waits for the thread, which ends when the studio is left; what it was at is taken up at the next start."""
        self._thread.join(timeout=30)


def write_rule(folder: Path, rule: Rule) -> None:
    """Makes a watched folder, or gives one another rule."""
    folder.mkdir(parents=True, exist_ok=True)
    with whole(folder / RULE) as file:
        file.write(rule.model_dump_json(indent=1).encode())


def rules_in(folder: Path) -> list[Path]:
    """The rules of the watched folders that lie in a folder, in order of their names; none while its disk is away."""
    try:
        found = sorted(folder.glob(f"*/{RULE}"))
        return [path for path in found if _lies_in(path.parent, folder) and _lies_in(path, folder)]
    except OSError:
        return []


def laid_in(watched: Path) -> list[Path]:
    """The folders that were laid into a watched one, and are not taken yet."""
    return [
        own
        for own in sorted(watched.iterdir())
        if own.is_dir() and not own.is_symlink() and own.name not in (TAKEN, PRINT) and not own.name.startswith(".")
    ]


def photos_of(folder: Path) -> list[Path]:
    """What lies in a customer's folder."""
    return sorted(
        path
        for path in folder.iterdir()
        if path.is_file() and not path.is_symlink() and not path.name.startswith(".") and path.name != TOLD
    )


def read_rule(path: Path) -> Rule:
    """A watched folder's rule. Raises FileRefused with a sentence when it is none."""
    try:
        with path.open("rb") as file:
            data = file.read(RULE_BYTES + 1)
    except OSError as error:
        raise FileRefused(f"{RULE} cannot be read: {error.strerror}.", "See who may read it.") from None
    try:
        if len(data) > RULE_BYTES:
            raise FileRefused(f"{RULE} is too large to be a rule.", "Write it anew.")
        return Rule.model_validate_json(data)
    except ValidationError as error:
        first = error.errors()[0]
        if not first["loc"]:
            raise FileRefused(f"{RULE} cannot be read: it is not a rule in JSON.", "Write it anew.") from None
        raise FileRefused(in_words(first)) from None


def said_in(path: Path) -> str:
    """What stands in a file of words; nothing where there is none."""
    try:
        return path.read_text("utf-8", "replace")
    except OSError:
        return ""


def shown_name(path: Path) -> str:
    """A file's name as it can be shown: one that is no UTF-8 with a mark for what is none."""
    return os.fsencode(path.name).decode("utf-8", "replace")


def _lies_in(path: Path, folder: Path) -> bool:
    """Whether what a path leads to lies in a folder; a link may lead elsewhere."""
    return not path.is_symlink() or path.resolve().is_relative_to(folder.resolve())


def _own_folder(path: Path) -> Path:
    """A folder of ours, made where it is not there. Raises FileRefused where a link stands in its place."""
    if path.is_symlink():
        raise FileRefused(f"{shown_name(path)} is a link.", "Put a folder in its place.")
    path.mkdir(parents=True, exist_ok=True)
    return path


def _free(path: Path) -> Path:
    names: Callable[[int], Path] = lambda n: path if n == 1 else path.with_name(f"{path.name}-{n}")  # noqa: E731
    return next(found for n in range(1, 10_000) if not (found := names(n)).exists())
