"""Work done ahead: what is painted next is painted while what came before is encoded."""

import queue
import threading
from collections.abc import Callable, Iterable, Iterator
from typing import TypeVar

T = TypeVar("T")


def prefetch(items: Iterable[T], count: int = 1, heavy: Callable[[T], bool] = lambda item: True) -> Iterator[T]:
    """The same items in the same order, made by a thread of their own, up to ``count`` ``heavy`` ones ahead of who takes them.

    What making raises is raised where it is taken. When nobody takes any more the thread ends at its next item.
    """
    results: queue.SimpleQueue[tuple[str, object]] = queue.SimpleQueue()
    room, over = threading.Semaphore(count), threading.Event()

    def make() -> None:
        try:
            source = iter(items)
            while room.acquire() and not over.is_set():
                item = next(source)
                results.put(("item", item))
                if not heavy(item):
                    room.release()
        except StopIteration:
            results.put(("end", None))
        except BaseException as error:
            results.put(("error", error))

    maker = threading.Thread(target=make, name="ahead", daemon=True)
    maker.start()
    try:
        while True:
            kind, item = results.get()
            if kind == "error":
                assert isinstance(item, BaseException)
                raise item
            if kind == "end":
                return
            if heavy(item):  # type: ignore[arg-type]
                room.release()
            yield item  # type: ignore[misc]
    finally:
        over.set()
        room.release()
        maker.join()
