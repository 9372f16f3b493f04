"""The board of long work: each task in a thread of its own lane, its progress, its stop, how it ended, and running it again.

A task's thread may wait for things of the server and hand work to a worker process; the board alone records how it stands.
"""

import json
import logging
import shutil
import threading
import time
from collections import deque
from collections.abc import Callable, Sequence
from concurrent.futures import FIRST_COMPLETED, BrokenExecutor, Future, ThreadPoolExecutor, wait
from functools import partial
from pathlib import Path
from typing import Any, TypeVar

from pebble import ProcessExpired

from ..core.errors import Stopped, SutaruError
from ..store import Task, Tasks, explain_failure
from ..store.tasks import Kind
from .executor import Closing, Workers
from .tasks import PROGRESS, STOP

T = TypeVar("T")
log = logging.getLogger("sutaru.board")
AT_ONCE = 2  # tasks of a kind
PATIENCE_S = 1.5  # that a worker which was asked to stop is given
AGAIN_S = 3.0
LOST = 3  # workers that one task may lose
Progress = dict[str, Any]


class Run:
    """One task at work: what its thread is given to tell of progress, hear of a stop, and use a worker."""

    def __init__(self, task: Task, folder: Path, workers: Workers, say: Callable[[], None]) -> None:
        self.task, self.folder = task, folder
        self.workers, self._say = workers, say
        self._stop = threading.Event()
        self.progress: Progress | None = None
        self.total = 0  # of work of which not all has been begun
        self._asked: float | None = None

    def stop(self) -> None:
        """Asks it to stop."""
        self._stop.set()

    @property
    def is_stopping(self) -> bool:
        """Whether it was asked to."""
        return self._stop.is_set()

    def tell(self, stage: str, done: int, total: int) -> None:
        """Says how far it has got. Raises Stopped when it was asked to stop."""
        if self.is_stopping:
            raise Stopped("It was stopped.")
        now = {"stage": stage, "done": done, "total": total}
        if now != self.progress:
            self.progress = now
            self._say()

    def run_in_worker(self, work: Callable[..., T], *args: Any) -> T:
        """Does work in a worker process, whose progress file in the task's folder is passed on. Raises what it raises."""
        return self._collect_results([partial(self.workers.submit, "long", work, *args)], [PROGRESS], 0)[0]

    def run_in_workers(self, work: Callable[..., T], argument_sets: Sequence[tuple[Any, ...]]) -> list[T]:
        """Does the same work on many things, as many at once as there are workers, so that other work comes in between;
        ``work`` is given the name of its file for progress last. What a lost worker had is done again."""
        news = [f"{PROGRESS}-{n}" for n in range(len(argument_sets))]
        begin = [
            partial(self.workers.submit, "long", work, *args, name)
            for args, name in zip(argument_sets, news, strict=True)
        ]
        try:
            return self._collect_results(begin, news, LOST)
        finally:
            for name in news:
                (self.folder / name).unlink(missing_ok=True)

    def _collect_results(
        self, begin: "Sequence[Callable[[], Future[T]]]", news: Sequence[str], may_lose: int
    ) -> list[T]:
        """What pieces of work come to, their progress passed on; begins what lost its worker again."""
        waiting, going, results = deque(range(len(begin))), dict[int, Future[T]](), dict[int, T]()
        try:
            while waiting or going:
                while waiting and not self.is_stopping and len(going) < self.workers.count:
                    n = waiting.popleft()
                    going[n] = begin[n]()
                wait(going.values(), 0.25, FIRST_COMPLETED)
                for n in [n for n, future in going.items() if future.done()]:
                    try:
                        results[n] = going.pop(n).result()
                    except (ProcessExpired, BrokenExecutor):
                        if may_lose == 0 or self.is_stopping:
                            raise
                        may_lose -= 1
                        waiting.append(n)
                if self.is_stopping and going:
                    self._end_by_asking(list(going.values()))
                elif not self.is_stopping:
                    self._pass_on(news)
                elif waiting:
                    raise Stopped("It was stopped.")
        finally:
            for future in going.values():
                future.cancel()
        return [results[n] for n in range(len(begin))]

    def _end_by_asking(self, going: "list[Future[T]]") -> None:
        """Asks workers to stop; one that does not hear of it in time is ended. Raises Stopped when they are to be waited for no
        longer."""
        if self._asked is None:
            self._asked = time.monotonic()
            (self.folder / STOP).touch()
        if not any(future.running() for future in going) or time.monotonic() - self._asked > PATIENCE_S:
            raise Stopped("It was stopped.")

    def _pass_on(self, news: Sequence[str]) -> None:
        """Says how far all of it has got together, and what was begun last."""
        news_read = [progress for name in news if (progress := _read(self.folder / name))]
        if news_read:
            now = {"stage": news_read[-1]["stage"], "done": sum(progress["done"] for progress in news_read),
                   "total": max(self.total, sum(progress["total"] for progress in news_read))}  # fmt: skip
            if now != self.progress:
                self.progress = now
                self._say()


def _read(path: Path) -> Progress | None:
    try:
        progress: Progress = json.loads(path.read_text())
        return progress
    except (OSError, ValueError):
        return None


Work = Callable[[Run], dict[str, Any]]


class Board:
    """Starts tasks and keeps account of them."""

    def __init__(self, tasks: Tasks, folder: Path, workers: Workers, say: Callable[[Task], None]) -> None:
        self.tasks = tasks
        self._folder, self._workers, self._say = folder, workers, say
        self._lanes: dict[str, ThreadPoolExecutor] = {}
        self._runs: dict[str, tuple[Run, Future[None]]] = {}
        self._lock = threading.Lock()
        self._closed = False
        folder.mkdir(exist_ok=True)

    def folder(self, task: Task) -> Path:
        """Where a task's files lie."""
        return self._folder / task.id

    def start(self, kind: Kind, job: str, request: dict[str, Any], work: Work) -> Task:
        """Queues a task in the lane of its kind. ``work`` returns its outcome."""
        task = self.tasks.add(kind, job, request)
        folder = self.folder(task)
        folder.mkdir(parents=True)
        run = Run(task, folder, self._workers, lambda: self._say(task))
        with self._lock:
            lane = self._lanes.setdefault(kind, ThreadPoolExecutor(AT_ONCE, f"task-{kind}"))
            future = lane.submit(self._do, run, work)
            self._runs[task.id] = run, future
        future.add_done_callback(lambda done: self._drop_run(run, done))
        self._say(task)
        return task

    def _drop_run(self, run: Run, future: "Future[None]") -> None:
        if future.cancelled():
            self._end(run, "stopped", "It was stopped.")

    def _do(self, run: Run, work: Work) -> None:
        try:
            if run.is_stopping:
                raise Stopped("It was stopped.")
            self.tasks.begin(run.task.id)
            self._say(run.task)
            outcome = work(run)
        except Stopped as stopped:
            self._end(run, "stopped", str(stopped))
        except SutaruError as error:
            self._end(run, "failed", str(error))
        except (BrokenExecutor, ProcessExpired, Closing):
            self._end(run, "failed", "The worker process that did this ended. Run it again.")
        except Exception as error:
            log.error("a task failed: %s", run.task.kind, exc_info=error)
            self._end(run, "failed", str(explain_failure(error, run.folder.parent) or _unforeseen(error)))
        else:
            self._end(run, "done", "", outcome)

    def _end(self, run: Run, state: Any, message: str, outcome: dict[str, Any] | None = None) -> None:
        if state != "done":
            shutil.rmtree(run.folder, ignore_errors=True)
        else:
            for name in (PROGRESS, STOP):
                (run.folder / name).unlink(missing_ok=True)
        with self._lock:
            self._runs.pop(run.task.id, None)
        self._record(run, state, message, outcome)

    def _record(self, run: Run, state: Any, message: str, outcome: dict[str, Any] | None) -> None:
        try:
            self.tasks.end(run.task.id, state, message, outcome)
        except (SutaruError, OSError):
            if not self._closed:  # the disk takes nothing now; at the next start it is told as ended
                again = threading.Timer(AGAIN_S, self._record, (run, state, message, outcome))
                again.daemon = True
                again.start()
            return
        self._say(run.task)

    def progress(self, identity: str) -> Progress | None:
        """Stage, done and total of a running task; None when it has not begun or has ended."""
        with self._lock:
            run = self._runs.get(identity)
        return run[0].progress if run else None

    def stop(self, identity: str) -> Task:
        """Asks a task to stop. One that has ended stays as it is; one that nothing runs any more has failed."""
        with self._lock:
            run = self._runs.get(identity)
        if run:
            run[0].stop()
            run[1].cancel()
        elif self.tasks.get(identity).state in ("queued", "running"):
            self.tasks.end(identity, "failed", "Nothing was doing this any more. Run it again.")
        return self.tasks.get(identity)

    def forget(self, task: Task) -> None:
        """Forgets work that has ended, with its files."""
        if task.state not in ("queued", "running"):
            self.tasks.forget(task.id)
            shutil.rmtree(self.folder(task), ignore_errors=True)

    def leave(self) -> None:
        """Asks all tasks to stop, without waiting."""
        self._closed = True
        for run, _ in list(self._runs.values()):
            run.stop()

    def close(self) -> None:
        """Asks all tasks to stop and waits until they have."""
        self.leave()
        with self._lock:
            futures, lanes = [future for _, future in self._runs.values()], list(self._lanes.values())
        for future in futures:
            future.cancel()
        for lane in lanes:
            lane.shutdown(wait=True, cancel_futures=True)


def _unforeseen(error: Exception) -> str:
    """What is said of work that failed in a way that has no sentence of its own."""
    if isinstance(error, MemoryError):
        return "This needs more memory than there is now. Run it again when less is going on."
    return "This failed in a way that nobody foresaw. Run it again; what went wrong is in sutaru.log."
