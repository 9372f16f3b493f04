"""Where long work runs: local processes in two lanes, by Pebble, or Dask's executor with a scheduler.

Photos coming in and being looked at have a lane of their own, so that no export holds them up. A local process that dies,
or is over its time, fails its own work alone and is replaced.
"""

import multiprocessing
import os
import signal
import threading
from collections.abc import Callable
from concurrent.futures import BrokenExecutor, Future
from typing import Any, Literal, TypeVar

from pebble import ProcessExpired, ProcessPool

from ..core.errors import SutaruError
from ..core.limits import READING_BYTES
from . import room
from .tasks import prepare_worker, run_in_cluster

T = TypeVar("T")
Lane = Literal["photos", "long"]


BUSY = 3.0
LOCAL = max(2, os.cpu_count() or 2)  # processes a lane
# Of a cluster: fifty times a second is how often each of its processes asks itself otherwise whether it is late.
CALM = {"distributed.admin.tick.interval": "500ms"}
OVERTIME = -signal.SIGPROF  # the exit code of a worker that took too much processor time


class Closing(Exception):
    """The server is ending: nothing more is begun."""


def _limit_time(seconds: float, work: Callable[..., T], *args: Any) -> T:
    """Does work in a worker, which ends when that takes more processor time: no decoder can be asked to stop. A worker whose
    memory is used up by what came before ends as well, and a fresh one does it."""
    room.end_when_short()
    signal.setitimer(signal.ITIMER_PROF, seconds)
    try:
        return room.limit_memory(work, *args)
    finally:
        signal.setitimer(signal.ITIMER_PROF, 0)


def _schedule_again(schedule: "Callable[[], Future[T]]", times: int) -> "Future[T]":
    """A future of work that is scheduled again when its worker ended because others had used up its memory, or was killed."""
    given: Future[T] = Future()

    def begin(left: int, killed: int) -> None:
        try:
            schedule().add_done_callback(lambda done: settle(done, left, killed))
        except Exception as error:  # the pool is closed
            given.set_exception(error)

    def settle(done: "Future[T]", left: int, killed: int) -> None:
        if done.cancelled():
            given.cancel()
            return
        error = done.exception()
        code = error.exitcode if isinstance(error, ProcessExpired) else None
        if left and code == room.SHORT:
            begin(left - 1, killed)
        elif killed and (code == -signal.SIGKILL or isinstance(error, BrokenExecutor)):
            begin(
                left, killed - 1
            )  # somebody ended it, or the machine for want of memory: it may have been none of its own
        elif error:
            given.set_exception(error)
        else:
            given.set_result(done.result())

    begin(times, 1)
    return given


class _Pool(ProcessPool):
    """A pool whose workers are ended before what they hear by: one that has only begun would report that it is gone."""

    def _stop_pool(self) -> None:
        if self._pool_manager_loop is not None:
            self._pool_manager_loop.join()  # it begins no more of them
        self._pool_manager.worker_manager.force_stop_workers()  # type: ignore[no-untyped-call]
        super()._stop_pool()  # type: ignore[no-untyped-call]


def _local(lane: Lane) -> ProcessPool:
    # Fresh processes, not forks: the parent has threads. They are started when the first work comes.
    return _Pool(
        max_workers=LOCAL,
        context=multiprocessing.get_context("spawn"),
        initializer=prepare_worker,
        initargs=(os.getpid(), READING_BYTES if lane == "photos" else 0, lane == "long"),
    )


class Workers:
    """Submits work to the lanes."""

    def __init__(self, scheduler: str | None = None) -> None:
        self._lock = threading.Lock()
        self._cluster: Any = None
        self._shared: Any = None
        self._pools: dict[Lane, ProcessPool] = {}
        self._closed = False
        if scheduler:
            try:
                import dask
                from distributed import Client
            except ImportError:
                raise SutaruError("Dask is not installed.", "Install the extra: pip install .[cluster]") from None
            dask.config.set(CALM)

            try:
                self._cluster = Client(scheduler, timeout=10)
            except (OSError, ValueError) as error:
                raise SutaruError(
                    f"No scheduler answers at {scheduler}.", "Start it, or leave --scheduler away."
                ) from error
            self._shared = self._cluster.get_executor()

    @property
    def count(self) -> int:
        """How many workers there are, at least."""
        return max(1, len(self._threads())) if self._cluster else LOCAL

    @property
    def threads(self) -> int:
        """How many threads each may work with, at least. On this machine one: there is a worker for each processor."""
        return min(self._threads(), default=1) if self._cluster else 1

    def _threads(self) -> list[int]:
        """Of each worker of the cluster."""
        return [worker["nthreads"] for worker in self._cluster.scheduler_info()["workers"].values()]

    @property
    def is_shared(self) -> bool:
        """Whether work goes to a cluster."""
        return self._shared is not None

    def submit(self, lane: Lane, work: Callable[..., T], *args: Any, seconds: float | None = None) -> "Future[T]":
        """Queues ``work(*args)`` in a lane; both must be picklable.

        ``seconds``: how much processor time it may take, and three times as much by the clock, the machine being busy (on
        this machine; a cluster sees to its own): the future then has a TimeoutError, or ProcessExpired by ``OVERTIME``.
        Cancelling the future ends the work even while it runs.
        """
        if self._shared:
            return self._shared.submit(run_in_cluster, work, *args)  # type: ignore[no-any-return]
        if seconds is None:
            return self._pool(lane).schedule(work, args=args)

        def schedule() -> "Future[T]":
            return self._pool(lane).schedule(_limit_time, args=(seconds, work, *args), timeout=BUSY * seconds)

        return _schedule_again(schedule, LOCAL + 1)  # each of the workers may be short of memory, the next one is not

    def _pool(self, lane: Lane) -> ProcessPool:
        """The pool of a lane, a new one where that is broken. Raises Closing when the server ends."""
        with self._lock:
            if self._closed:
                raise Closing("closed")
            pool = self._pools.get(lane)
            if pool is None or not pool.active:
                pool = self._pools[lane] = _local(lane)
            return pool

    def close(self) -> None:
        """Ends all work at once; what was under way is done again when it is asked for again."""
        with self._lock:
            self._closed = True
            pools = list(self._pools.values())
        if self._cluster:
            self._shared.shutdown(wait=True)
            self._cluster.close()
        for pool in pools:
            pool.stop()  # type: ignore[no-untyped-call]
        for pool in pools:
            pool.join(timeout=3)
