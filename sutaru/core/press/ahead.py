"""Work done ahead: what is painted next is painted while what came before is encoded."""

import queue
import threading
from collections.abc import Iterable, Iterator
from typing import TypeVar

T = TypeVar("T")
_PAUSE_S = 0.2


def ahead(items: Iterable[T], count: int = 1) -> Iterator[T]:
    """The same items in the same order, made by a thread of their own, up to ``count`` ahead of who takes them.

    What making raises is raised where it is taken. When nobody takes any more the thread ends at its next item.
    """
    waiting: queue.Queue[tuple[str, object]] = queue.Queue(count)
    over = threading.Event()

    def put(kind: str, item: object) -> bool:
        while not over.is_set():
            try:
                waiting.put((kind, item), timeout=_PAUSE_S)
                return True
            except queue.Full:
                continue
        return False

    def make() -> None:
        try:
            for item in items:
                if not put("item", item):
                    return
            put("end", None)
        except BaseException as error:
            put("error", error)

    maker = threading.Thread(target=make, name="ahead", daemon=True)
    maker.start()
    try:
        while True:
            kind, item = waiting.get()
            if kind == "error":
                assert isinstance(item, BaseException)
                raise item
            if kind == "end":
                return
            yield item  # type: ignore[misc]
    finally:
        over.set()
        maker.join()
