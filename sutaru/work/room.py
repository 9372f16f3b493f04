"""The memory of a process that reads files from outside: how much it may have, and what happens when it is used up.

A process that has read many files keeps pieces of memory that no other file fits into, so that the limit is met by a file that
is no larger than others. Such a process ends, and what it was given is done in a fresh one; only what is too much for a fresh
one is too much.
"""

import os
import resource
from collections.abc import Callable
from pathlib import Path
from typing import Any, TypeVar

import cv2
import pyvips

T = TypeVar("T")
SHORT = 83  # the exit code of a process whose memory is used up by what it did before
_LEAST_LEFT = 0.5  # of the room that a fresh process has: with less it takes on nothing more
_SURE_LEFT = (
    0.75  # with less a file that is refused is tried in a fresh process (beside one that reads usual photos: 0.8)
)
_most, _fresh, _done = 0, 0, 0


def limit(most_bytes: int) -> None:
    """Limits what this process may allocate: beyond it a MemoryError meets the work, not the machine."""
    global _most, _fresh
    resource.setrlimit(resource.RLIMIT_DATA, (most_bytes, most_bytes))
    _most, _fresh = most_bytes, _used_bytes()


def _used_bytes() -> int:
    """Bytes that count against the limit (proc(5), statm: data and stack, in pages)."""
    return int(Path("/proc/self/statm").read_text().split()[5]) * resource.getpagesize()


def _share_left() -> float:
    """Share of the room that a fresh process has which is still there."""
    return (_most - _used_bytes()) / (_most - _fresh)


def end_when_short() -> None:
    """Ends this process when too little is left of its memory to take on more work."""
    if _most and _done and _share_left() < _LEAST_LEFT:
        os._exit(SHORT)


def limit_memory(work: Callable[..., T], *args: Any) -> T:
    """Does work. Raises MemoryError when that is too much for a process that did nothing before; one that did ends.

    So does one whose memory is partly used up when a file is refused, whatever for: decoders call a file damaged that they
    found no memory for.
    """
    global _done
    try:
        return work(*args)
    except Exception as error:
        short = is_of_memory(error)
        if _most and _done and (short or _share_left() < _SURE_LEFT):
            os._exit(SHORT)
        if short:
            raise MemoryError from error
        raise
    finally:
        _done += 1


def is_of_memory(error: BaseException | None) -> bool:
    """Whether an error, or one that it came of, says that there was no memory."""
    while error is not None:
        sentence = str(error).lower()
        if isinstance(error, MemoryError) or (isinstance(error, cv2.error) and error.code == cv2.Error.STS_NO_MEM):
            return True
        if isinstance(error, pyvips.Error) and ("out of memory" in sentence or "unable to allocate" in sentence):
            return True
        error = error.__cause__ or error.__context__
    return False
