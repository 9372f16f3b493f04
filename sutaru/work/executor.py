"""Where long work runs: ``concurrent.futures`` executors. Local processes in two lanes, or Dask's with a scheduler.

Photos coming in and being looked at have a lane of their own, so that no export holds them up.
"""

import multiprocessing
import os
import threading
from collections.abc import Callable
from concurrent.futures import BrokenExecutor, Executor, Future, ProcessPoolExecutor
from typing import Any, Literal, TypeVar

from .tasks import prepare_worker

T = TypeVar("T")
Lane = Literal["photos", "long"]


def _local() -> ProcessPoolExecutor:
    # Fresh processes, not forks: the parent has threads. Each is started when it is first needed.
    return ProcessPoolExecutor(
        max(2, (os.cpu_count() or 2)),
        mp_context=multiprocessing.get_context("spawn"),
        initializer=prepare_worker,
        initargs=(os.getpid(),),
    )


class Workers:
    """Submits work; a pool whose process was killed is replaced, and the work that it held fails with a plain sentence."""

    def __init__(self, scheduler: str | None = None) -> None:
        self._lock = threading.Lock()
        self._client: Any = None
        if scheduler:
            from distributed import Client

            self._client = Client(scheduler)
            shared = self._client.get_executor()
            self._lanes: dict[Lane, Executor] = {"photos": shared, "long": shared}
        else:
            self._lanes = {"photos": _local(), "long": _local()}

    def submit(self, lane: Lane, work: Callable[..., T], *args: Any) -> "Future[T]":
        """Queues ``work(*args)`` in a lane; both must be picklable."""
        with self._lock:
            try:
                return self._lanes[lane].submit(work, *args)
            except BrokenExecutor:
                self._lanes[lane] = _local()
                return self._lanes[lane].submit(work, *args)

    def close(self) -> None:
        """Lets running work end; queued work is dropped."""
        if self._client:
            self._lanes["long"].shutdown(wait=True)
            self._client.close()
            return
        for executor in self._lanes.values():
            executor.shutdown(wait=False, cancel_futures=True)
        for executor in self._lanes.values():
            executor.shutdown(wait=True, cancel_futures=True)
