"""Watched folders on the screen: their rules, what lies in them, what became of what was taken."""

import json
from datetime import UTC, datetime
from pathlib import Path
from typing import Annotated, Literal

from fastapi import APIRouter, Depends, Request
from pydantic import StringConstraints

from ..core.errors import EditRefused, NotFound, SutaruError
from ..core.press.exporting import plain_file_name
from ..work.watch_rules import (
    RULE,
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
    write_rule,
)  # fmt: skip
from .messages import Message
from .studio import InStudio, Studio
from .watcher import Watcher

router = APIRouter(prefix="/api/watched", tags=["watched folders"])
MOST, SHOWN = 100, 50  # watched folders; customers of each that were taken, the last first


class LaidIn(Message):
    """A customer's folder that was laid in. ``begun``: its job is being made. ``stuck``: why it could not be when it was tried
    last."""

    name: str
    photos: int
    begun: bool
    stuck: str = ""


class Taken(Message):
    """What became of a customer's folder: exported as so many ``files``; or waiting for a person, and ``why``, until one has
    exported it (``since``); or its job was deleted (``gone``). ``refused``: what could not be brought in or done. ``when``: it
    was taken. ``picture``: the state whose first sheet shows the job, "" where there is none."""

    name: str
    job: Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{12}$")]
    state: Literal["exported", "waits", "since", "gone"]
    why: str = ""
    refused: list[str] = []
    files: int = 0
    when: datetime
    picture: str = ""


class WatchedFolder(Message):
    """A watched folder; ``wrong``: what its rule lacks, nothing is taken until it is mended. ``count``: how many were taken."""

    name: str
    rule: Rule | None
    wrong: str
    laid: list[LaidIn]
    taken: list[Taken]
    count: int


class Watched(Message):
    """All watched folders, and the folder that they lie in."""

    folder: str
    folders: list[WatchedFolder]


class NewWatched(Message):
    """A watched folder to be made."""

    name: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=60)]
    rule: Rule


def watcher(request: Request) -> Watcher:
    """The application's watcher."""
    watcher: Watcher = request.app.state.watcher
    return watcher


InWatcher = Annotated[Watcher, Depends(watcher)]


@router.get("")
def list_watched(studio: InStudio, watcher: InWatcher) -> Watched:
    """All of them, by name."""
    folders = [_folder(studio, watcher, rule.parent) for rule in rules_in(watcher.folder)]
    return Watched(folder=str(watcher.folder), folders=folders)


@router.post("", status_code=201)
def make(studio: InStudio, watcher: InWatcher, request: NewWatched) -> Watched:
    """Makes one; its name becomes that of its folder, in plain letters. All there are then."""
    folder = watcher.folder / (plain_file_name(request.name) or "watched")
    names = [rule.parent.name.casefold() for rule in rules_in(watcher.folder)]
    if folder.name.casefold() in names:
        raise EditRefused(
            f"There is a watched folder {folder.name} already.", "Choose another name, or alter its rule."
        )
    if len(names) >= MOST:
        raise EditRefused(f"There are {MOST} watched folders at most.", "Let one be watched no longer first.")
    return _describe_watched(studio, watcher, folder, request.rule)


@router.put("/{name}")
def alter(studio: InStudio, watcher: InWatcher, name: str, rule: Rule) -> Watched:
    """Another rule for what is laid in from now on. All there are then."""
    return _describe_watched(studio, watcher, _find_watched(watcher, name), rule)


@router.delete("/{name}")
def leave(studio: InStudio, watcher: InWatcher, name: str) -> Watched:
    """Watches one no longer; all that lies in it stays. All there are then."""
    folder = _find_watched(watcher, name)
    for path in (folder / RULE, folder / WRONG):
        path.unlink(missing_ok=True)
    studio.events.say("watched", name)
    return list_watched(studio, watcher)


def _find_watched(watcher: Watcher, name: str) -> Path:
    """The folder of that name among those that are watched: no name leads elsewhere."""
    folder = next((rule.parent for rule in rules_in(watcher.folder) if displayable_name(rule.parent) == name), None)
    if folder is None:
        raise NotFound("This watched folder was not found.", "Load the list again.")
    return folder


def _describe_watched(studio: Studio, watcher: Watcher, folder: Path, rule: Rule) -> Watched:
    studio.catalogue.template(rule.template)
    studio.catalogue.lab(rule.lab)
    write_rule(folder, rule)
    studio.events.say("watched", folder.name)
    return list_watched(studio, watcher)


def _folder(studio: Studio, watcher: Watcher, folder: Path) -> WatchedFolder:
    try:
        rule, wrong = read_rule(folder / RULE), ""
    except SutaruError as error:
        rule, wrong = None, str(error)
    laid = (_describe_folder(studio, path, watcher.stuck.get(path, "")) for path in list_waiting(folder))
    outcomes = [(seconds, path) for path in folder.glob(f"{TAKEN}/*/{TOLD}") if (seconds := _time_taken(path))]
    latest = (
        _describe_taken(studio, path, datetime.fromtimestamp(seconds, UTC))
        for seconds, path in sorted(outcomes, reverse=True)[:SHOWN]
    )
    return WatchedFolder(
        name=displayable_name(folder), rule=rule, wrong=read_words(folder / WRONG) or wrong, laid=[*filter(None, laid)],
        taken=[*filter(None, latest)], count=len(outcomes),
    )  # fmt: skip


# Folders come, are taken, and are carried off while they are looked at.


def _time_taken(path: Path) -> float:
    try:
        return path.stat().st_mtime
    except OSError:
        return 0.0


def _describe_folder(studio: Studio, folder: Path, stuck: str) -> LaidIn | None:
    try:
        begun = studio.laid_in.job_of(folder) is not None
        return LaidIn(name=displayable_name(folder), photos=len(photos_of(folder)), begun=begun, stuck=stuck)
    except OSError:
        return None


def _describe_taken(studio: Studio, path: Path, when: datetime) -> Taken | None:
    """What was written of a folder when it was taken, and what became of it since; None when somebody wrote over it."""
    try:
        outcome = json.loads(path.read_text("utf-8"))
        taken = Taken.model_validate(
            {**outcome, "name": displayable_name(path.parent), "files": len(outcome.get("files", ())), "when": when}
        )
    except (OSError, ValueError, AttributeError, TypeError):
        return None
    try:
        listed = studio.jobs.get_listed(taken.job)
    except NotFound:
        listed = None
    if listed is None or listed.deleted is not None:
        return taken.model_copy(update={"state": "gone"})
    taken = taken.model_copy(update={"picture": listed.root})
    tasks = studio.board.tasks.list_of_job(taken.job) if taken.state == "waits" else []
    since = any((task.kind, task.state) == ("export", "done") for task in tasks)
    return taken.model_copy(update={"state": "since"}) if since else taken
