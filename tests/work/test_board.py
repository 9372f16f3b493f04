"""The board of long work: lanes, progress, stopping, how work ends, and running it again."""

import errno
import os
import signal
import threading
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from sutaru.api import long_work as long_work_module
from sutaru.api.app import create_app
from sutaru.core.document import Job
from sutaru.core.errors import EditRefused
from sutaru.core.formats.shelf import read_shelf
from sutaru.shelf import FOLDER
from sutaru.store import Database, Jobs, Parts, Photos, Task, Tasks
from sutaru.work.board import AT_ONCE, Board, Run
from sutaru.work.executor import Workers
from sutaru.work.tasks import _progress_writer
from tests.api.asking import Pile, bring, ended, head, start, state


class Told:
    """A board over a store, and what it said."""

    def __init__(self, folder: Path) -> None:
        self.database = Database(folder / "sutaru.sqlite3")
        shelf = read_shelf(FOLDER)
        template = shelf.templates["collage-shore"]
        jobs = Jobs(self.database, Parts(self.database), Photos(self.database, folder / "photos"))
        job = Job(
            name="x", template=template.id, product="collage", sheets=template.sheets, lab=shelf.labs["gullwing-300"]
        )
        self.job = jobs.create(job)
        self.workers = Workers()
        self.said: list[tuple[str, Any]] = []
        self.tasks = Tasks(self.database)
        self.board = Board(self.tasks, folder / "tasks", self.workers, self._say)

    def _say(self, task: Task) -> None:
        self.said.append((self.tasks.get(task.id).state, self.board.progress(task.id)))

    def start(self, kind: Any, work: Callable[[Run], dict[str, Any]]) -> Task:
        return self.board.start(kind, self.job, {}, work)

    def ended(self, task: Task) -> Task:
        end = time.monotonic() + 60
        while (found := self.tasks.get(task.id)).state in ("queued", "running"):
            assert time.monotonic() < end, "the task did not end"
            time.sleep(0.01)
        return found

    def close(self) -> None:
        self.board.close()
        self.workers.close()
        self.database.close()


@pytest.fixture
def told(tmp_path: Path) -> Iterator[Told]:
    found = Told(tmp_path)
    yield found
    found.close()


def test_exports_never_hold_up_a_filling(told: Told) -> None:
    go_on = threading.Event()

    def long(run: Run) -> dict[str, Any]:
        assert go_on.wait(60)
        return {}

    exports = [told.start("export", long) for _ in range(AT_ONCE + 1)]
    filling = told.start("fill", lambda run: {"number": 3})
    assert told.ended(filling).outcome == {"number": 3}
    states = sorted(told.tasks.get(task.id).state for task in exports)
    assert states == ["queued", *["running"] * AT_ONCE]
    go_on.set()
    assert {told.ended(task).state for task in exports} == {"done"}


def test_progress_is_told_once_each(told: Told) -> None:
    def work(run: Run) -> dict[str, Any]:
        for n in (1, 1, 2):
            run.tell("sheet", n, 2)
        return {}

    told.ended(told.start("export", work))
    steps = [progress["done"] for state, progress in told.said if progress]
    assert steps == [1, 2]


def test_a_stop_reaches_work_that_waits_and_work_that_runs(told: Told) -> None:
    began, go_on = threading.Event(), threading.Event()

    def work(run: Run) -> dict[str, Any]:
        (run.folder / "half.jpg").write_bytes(b"half")
        began.set()
        go_on.wait(60)
        run.tell("sheet", 1, 2)
        return {}

    running = [told.start("export", work) for _ in range(AT_ONCE)]
    queued = told.start("export", work)
    assert began.wait(60)
    assert told.board.stop(queued.id).state == "stopped"
    for task in running:
        told.board.stop(task.id)
    go_on.set()
    for task in (*running, queued):
        assert (told.ended(task).state, told.ended(task).message) == ("stopped", "It was stopped.")
        assert not told.board.folder(task).exists()
    assert told.board.stop(queued.id).state == "stopped"  # once more changes nothing


def _count(folder: str) -> dict[str, Any]:
    """In a worker: goes on until it is stopped."""
    tell = _progress_writer(Path(folder))
    for n in range(10_000):
        tell("counting", n, 10_000)
        time.sleep(0.005)
    return {}


def _end(at_once: bool) -> dict[str, Any]:
    """In a worker: dies as when memory has run out, or does its work."""
    if at_once:
        os.kill(os.getpid(), signal.SIGKILL)
    return {"files": []}


def test_a_stop_reaches_a_worker(told: Told) -> None:
    task = told.start("export", lambda run: run.run_in_worker(_count, str(run.folder)))
    end = time.monotonic() + 60
    while not told.board.progress(task.id):
        assert time.monotonic() < end
        time.sleep(0.01)
    told.board.stop(task.id)
    assert told.ended(task).state == "stopped"


def test_a_worker_that_died_fails_its_task_and_the_next_one_runs(told: Told) -> None:
    task = told.start("export", lambda run: run.run_in_worker(_end, True))
    failed = told.ended(task)
    assert (failed.state, failed.message) == ("failed", "The worker process that did this ended. Run it again.")
    assert told.ended(told.start("export", lambda run: run.run_in_worker(_end, False))).outcome == {"files": []}


@pytest.mark.parametrize(
    ("error", "message"),
    [
        (EditRefused("No opening is empty."), "No opening is empty."),
        (
            ValueError("odd"),
            "This failed in a way that nobody foresaw. Run it again; what went wrong is in sutaru.log.",
        ),
        (MemoryError(), "This needs more memory than there is now. Run it again when less is going on."),
        (OSError(errno.ENOSPC, "odd"), "The disk is full, so this was not kept. Make room; then go on where you were."),
    ],
)
def test_what_goes_wrong_is_said(told: Told, error: Exception, message: str, caplog: pytest.LogCaptureFixture) -> None:
    def work(run: Run) -> dict[str, Any]:
        raise error

    failed = told.ended(told.start("fill", work))
    assert (failed.state, failed.message) == ("failed", message)
    assert ("odd" in caplog.text) == isinstance(error, ValueError | OSError)  # that goes to the log


def test_a_long_filling_is_chosen_in_a_worker_and_laid_on_the_job_as_it_is_then(
    tmp_path: Path, pile: Pile, monkeypatch: pytest.MonkeyPatch
) -> None:
    """What a hand did while it was chosen stays; it is one step to undo; it can be run again."""
    monkeypatch.setattr(long_work_module, "PAIRS_AT_ONCE", 10)
    with TestClient(create_app(tmp_path), base_url="http://localhost") as client:
        job = start(client, "album-spread-18")
        for path, _ in pile:
            bring(client, job, path)
        photo = state(client, job)["photos"][3]["id"]
        studio = client.app.state.studio  # type: ignore[attr-defined]
        chosen, laid = threading.Event(), threading.Event()
        real = Run.run_in_worker

        def late(run: Run, work: Callable[..., Any], *args: Any) -> Any:
            found = real(run, work, *args)
            chosen.set()
            assert laid.wait(60)
            return found

        monkeypatch.setattr(Run, "run_in_worker", late)
        task = client.post(f"/api/jobs/{job}/edits", json={"edit": {"op": "fill"}}).json()["task"]
        assert chosen.wait(60)
        put = {"op": "put", "sheet": "spread", "opening": "opening-7", "photo": photo}
        assert client.post(f"/api/jobs/{job}/edits", json={"edit": put}).status_code == 200
        laid.set()
        done = ended(client, task["id"])
        assert (done["kind"], done["state"]) == ("fill", "done")
        assert done["outcome"]["number"] == head(client, job)["number"]
        after = state(client, job)
        assert len(after["placements"]["spread"]) == 18
        assert after["placements"]["spread"]["opening-7"]["photo"] == photo
        assert after["undo"] == "fill all openings"
        client.post(f"/api/jobs/{job}/undo", json={})
        assert list(state(client, job)["placements"]["spread"]) == ["opening-7"]
        again = client.post(f"/api/tasks/{task['id']}/again").json()
        assert ended(client, again["id"])["state"] == "done"
        assert studio.board.progress(again["id"]) is None
