"""Where long work runs: one ``concurrent.futures.Executor``. Local processes, or Dask's when a scheduler is given."""

import multiprocessing
import os
import threading
from collections.abc import Callable
from concurrent.futures import BrokenExecutor, Executor, Future, ProcessPoolExecutor
from typing import Any, TypeVar

from .tasks import prepare_worker

T = TypeVar("T")


def _local() -> ProcessPoolExecutor:
    # Fresh processes, not forks: the parent has threads.
    return ProcessPoolExecutor(
        max(2, (os.cpu_count() or 2)), mp_context=multiprocessing.get_context("spawn"), initializer=prepare_worker
    )


class Workers:
    """Submits work; a pool whose process was killed is replaced, and the work that it held fails with a plain sentence."""

    def __init__(self, scheduler: str | None = None) -> None:
        self._lock = threading.Lock()
        if scheduler:
            from distributed import Client

            self._client: Any = Client(scheduler)
            self._executor: Executor = self._client.get_executor()
        else:
            self._client = None
            self._executor = _local()

    def submit(self, work: Callable[..., T], *args: Any) -> "Future[T]":
        """Queues ``work(*args)``; both must be picklable."""
        with self._lock:
            try:
                return self._executor.submit(work, *args)
            except BrokenExecutor:
                self._executor = _local()
                return self._executor.submit(work, *args)

    def close(self) -> None:
        """Lets running work end; queued work is dropped."""
        if self._client:
            self._executor.shutdown(wait=True)
            self._client.close()
        else:
            self._executor.shutdown(wait=True, cancel_futures=True)
