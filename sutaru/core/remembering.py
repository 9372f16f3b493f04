"""Answers that are worth keeping, by what they were worked out from. Every store here is bounded in bytes, not in number."""

import threading
from collections import OrderedDict
from collections.abc import Callable
from functools import wraps
from typing import Any, Generic, ParamSpec, TypeVar

import numpy as np

K = TypeVar("K")
V = TypeVar("V")
P = ParamSpec("P")

_OBJECT = 100  # bytes that any value takes, about
budgets: list[int] = []  # of all functions that remember, bytes


class Kept(Generic[K, V]):
    """Values kept by key up to a number of bytes, the least recently used let go first. Safe to share between threads."""

    def __init__(self, max_bytes: int, weigh: Callable[[V], int]) -> None:
        self._max, self._weigh, self._held = max_bytes, weigh, 0
        self._values: OrderedDict[K, V] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, key: K) -> V | None:
        """The value, now the most recently used; None when it is not kept."""
        with self._lock:
            if key in self._values:
                self._values.move_to_end(key)
                return self._values[key]
            return None

    def put(self, key: K, value: V) -> None:
        """Keeps a value unless it alone is over the limit."""
        weight = self._weigh(value)
        with self._lock:
            if key in self._values:
                self._held -= self._weigh(self._values.pop(key))
            if weight > self._max:
                return
            self._values[key] = value
            self._held += weight
            while self._held > self._max:
                _, old = self._values.popitem(last=False)
                self._held -= self._weigh(old)


def remembered(max_bytes: int) -> Callable[[Callable[P, V]], Callable[P, V]]:
    """A pure function that remembers its answers, up to ``max_bytes`` of them together with what was asked.

    What is asked must be hashable and is given by position (TypeError otherwise). An error is not remembered.

    >>> @remembered(1000)
    ... def thrice(word: str) -> str:
    ...     print("working")
    ...     return 3 * word
    >>> thrice("la"), thrice("la")
    working
    ('lalala', 'lalala')
    """

    budgets.append(max_bytes)

    def around(work: Callable[P, V]) -> Callable[P, V]:
        kept: Kept[tuple[Any, ...], tuple[V, int]] = Kept(max_bytes, lambda entry: entry[1])

        @wraps(work)
        def answer(*asked: P.args, **named: P.kwargs) -> V:
            if named:
                raise TypeError(f"{work.__name__} is asked by position")
            held = kept.get(asked)
            if held is None:
                made = work(*asked, **named)
                held = made, sum(_weight(part) for part in asked if isinstance(part, str | bytes)) + _weight(made)
                kept.put(asked, held)
            return held[0]

        return answer

    return around


def _weight(value: Any) -> int:
    """About how many bytes a value takes, its parts included."""
    if isinstance(value, np.ndarray):
        return _OBJECT + value.nbytes
    if isinstance(value, str | bytes):
        return _OBJECT + len(value)
    if isinstance(value, tuple | list):
        return _OBJECT + sum(_weight(part) for part in value)
    return _OBJECT + sum(_weight(part) for part in getattr(value, "__dict__", {}).values())
