"""Looks at photos in the background, once each: after they came in, when no import is running, or when a filling waits."""

import logging
import threading
import time
from collections import Counter, OrderedDict
from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import Future
from contextlib import contextmanager
from pathlib import Path

from pebble import ProcessExpired

from ..core.document import Found
from ..core.errors import SutaruError
from ..core.limits import PHOTO_SECONDS
from ..store import Photos
from ..work.executor import Workers
from ..work.tasks import look_at

log = logging.getLogger("sutaru.finder")
AGAIN_S = 6.0
AT_ONCE = 4  # two at work, and the next two at hand, so that no worker waits for this thread


class Finder:
    """A queue of photos to look at, and one thread that hands them to the workers."""

    def __init__(self, photos: Photos, workers: Workers, say: Callable[[list[str]], None]) -> None:
        """``say`` is told the ids of photos that were looked at, a few times a second at most."""
        self._photos, self._workers, self._say = photos, workers, say
        self._change = threading.Condition()
        self._waiting: OrderedDict[str, None] = OrderedDict.fromkeys(photos.unseen())
        self._urgent: set[str] = set()
        self._running: set[str] = set()
        self._importing: Counter[str] = Counter()  # photos being taken in, by job
        self._later: dict[str, float] = {}  # looked at, but the disk did not take it: when to look again
        self._ended: set[str] = set()  # whose worker ended once, whyever: it may have been nothing of theirs
        self._closed = False
        self._said = 0.0
        self._news: list[str] = []
        self._thread = threading.Thread(target=self._run, name="finder", daemon=True)
        self._thread.start()

    def add(self, checksum: str) -> None:
        """Queues a photo, unless it was looked at already."""
        if self._photos.get_found(checksum) is None:
            with self._change:
                self._waiting.setdefault(checksum)
                self._change.notify_all()

    @contextmanager
    def pause_for_import(self, job: str) -> Iterator[None]:
        """While a photo is taken into a job: looking gives way to that."""
        with self._change:
            self._importing[job] += 1
        try:
            yield
        finally:
            with self._change:
                self._importing -= Counter([job])
                self._change.notify_all()

    def imports_into(self, job: str) -> bool:
        """Whether photos are being taken into a job now."""
        with self._change:
            return job in self._importing

    def awaits(self, checksum: str) -> bool:
        """Whether a photo is yet to be looked at, and will be."""
        with self._change:
            return checksum in self._waiting or checksum in self._running

    def wait_for(self, shas: Iterable[str], tell: Callable[[int, int], None]) -> None:
        """Waits until photos have been looked at, before all others. ``tell`` is told of progress and may raise to stop.

        A photo that cannot be looked at is not waited for.
        """
        with self._change:
            wanted = set(shas) & (self._waiting.keys() | self._running)
            self._urgent |= wanted
            self._change.notify_all()
        try:
            while True:
                with self._change:
                    left = wanted & (self._waiting.keys() | self._running)
                tell(len(wanted) - len(left), len(wanted))
                if not left or self._closed:
                    return
                with self._change:
                    self._change.wait(0.3)
        finally:
            with self._change:
                self._urgent -= wanted

    def _next(self) -> str | None:
        """The photo to look at now. Called under the lock."""
        if len(self._running) >= AT_ONCE:
            return None
        urgent = next((sha for sha in self._waiting if sha in self._urgent), None)
        return urgent or (next(iter(self._waiting), None) if not self._importing else None)

    def _run(self) -> None:
        while True:
            with self._change:
                self._change.wait_for(lambda: self._closed or self._next() is not None, timeout=AGAIN_S / 2)
                if self._closed:
                    return
                for late in [sha for sha, due in self._later.items() if due < time.monotonic()]:
                    del self._later[late]
                    self._waiting.setdefault(late)
                sha = self._next()
                if sha is None:
                    continue
                del self._waiting[sha]
                self._running.add(sha)
            try:
                future = self._workers.submit("photos", look_at, str(self._proxy(sha)), seconds=PHOTO_SECONDS)
            except Exception:
                self._finish_photo(sha)  # looked at again at the next start
                continue
            future.add_done_callback(lambda done, sha=sha: self._keep(sha, done))  # type: ignore[misc]

    def _proxy(self, sha: str) -> Path:
        return self._photos.path(sha, "proxy")

    def _keep(self, sha: str, done: "Future[Found]") -> None:
        try:
            if not self._closed and not done.cancelled():
                if error := done.exception():
                    log.warning("a photo could not be looked at", exc_info=error)
                    if isinstance(error, ProcessExpired) and sha not in self._ended:
                        with self._change:
                            self._ended.add(sha)
                            self._waiting.setdefault(sha)
                        return
                # One that cannot be looked at counts as one in which there is nothing: nobody waits for it for ever.
                self._photos.keep_found(sha, Found() if error else done.result())
                with self._change:
                    self._news.append(sha[:16])
        except (SutaruError, OSError):
            with self._change:  # the disk takes nothing now
                self._later[sha] = time.monotonic() + AGAIN_S
        finally:
            self._finish_photo(sha)

    def _finish_photo(self, sha: str) -> None:
        news: list[str] = []
        with self._change:
            self._running.discard(sha)
            self._urgent.discard(sha)
            idle = not self._waiting and not self._running
            if not self._closed and self._news and (idle or time.monotonic() - self._said > 0.5):
                self._said, news, self._news = time.monotonic(), self._news, []
            self._change.notify_all()
        if news:
            self._say(news)

    def close(self) -> None:
        """Ends the thread; what was not looked at is taken up at the next start."""
        with self._change:
            self._closed = True
            self._change.notify_all()
        self._thread.join()
