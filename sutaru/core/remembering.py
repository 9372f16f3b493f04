"""Answers that are worth keeping, by what they were worked out from. Every store here is bounded in bytes, not in number."""

import threading
from collections import OrderedDict
from collections.abc import Callable
from enum import Enum
from functools import wraps
from types import FunctionType, ModuleType
from typing import Any, Generic, ParamSpec, TypeVar

import numpy as np

K = TypeVar("K")
V = TypeVar("V")
P = ParamSpec("P")

_OBJECT = 100  # bytes that any value takes, about
REMEMBERED_BYTES = 192 << 20


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


_answers: Kept[tuple[Any, ...], tuple[Any, int]] = Kept(REMEMBERED_BYTES, lambda entry: entry[1])


def remember(work: Callable[P, V]) -> Callable[P, V]:
    """A pure function that remembers its answers. All such functions share one store: together with what was asked their answers
    take up to ``REMEMBERED_BYTES``.

    What is asked must be hashable and is given by position (TypeError otherwise). An error is not remembered.

    >>> @remember
    ... def thrice(word: str) -> str:
    ...     print("working")
    ...     return 3 * word
    >>> thrice("la"), thrice("la")
    working
    ('lalala', 'lalala')
    """

    @wraps(work)
    def answer(*args: P.args, **named: P.kwargs) -> V:
        if named:
            raise TypeError(f"{work.__name__} is asked by position")
        key = (work, *args)
        held = _answers.get(key)
        if held is None:
            answer_value = work(*args, **named)
            held = answer_value, weigh(args) + weigh(answer_value)
            _answers.put(key, held)
        answered: V = held[0]
        return answered

    return answer


def weigh(value: Any) -> int:
    """About how many bytes a value takes, its parts included; what stands in it twice counts once."""
    seen: set[int] = set()
    weight, left = 0, [value]
    while left:
        part = left.pop()
        if part is None or isinstance(part, bool | int | float | Enum) or id(part) in seen:
            continue
        seen.add(id(part))
        weight += _OBJECT
        if isinstance(part, np.ndarray):
            weight += part.nbytes
        elif isinstance(part, str | bytes):
            weight += len(part)
        elif isinstance(part, tuple | list | set | frozenset):
            left.extend(part)
        elif isinstance(part, dict):
            left.extend(part.values())
        elif not isinstance(part, type | ModuleType | FunctionType):
            left.extend(getattr(part, "__dict__", {}).values())
    return weight
