"""What glibc does with the memory that arrays leave: keeps it for the next ones, or gives it back to the system at once.

Memory that comes from the system anew is filled with zeros first, page by page (mallopt(3)). Where there is no glibc nothing
is done.
"""

import ctypes
from contextlib import suppress

_TRIM, _MMAP, _ARENAS = -1, -3, -8  # M_TRIM_THRESHOLD, M_MMAP_THRESHOLD, M_ARENA_MAX


def keep() -> None:
    """Has it keep what is let go, as it would by itself in time, whatever the environment says, for the rest of this process."""
    _set_limit(_MMAP, 32 << 20)  # the most it comes to by itself
    _set_limit(_TRIM, 64 << 20)


def give_back() -> None:
    """Has it give back what large arrays leave, for the rest of this process. By itself it soon keeps that, in pieces that the
    next array may not fit: up to a third more for the bands of a poster."""
    _set_limit(_MMAP, 8 << 20)


def share_arenas() -> None:
    """For a process of many threads that runs for days, before any of them: they take memory from two places, not each from one
    of its own that keeps what its largest hour took, and large arrays are given back at once."""
    _set_limit(_ARENAS, 2)
    _set_limit(_MMAP, 2 << 20)


def _set_limit(what: int, size: int) -> None:
    with suppress(AttributeError, OSError, TypeError):
        ctypes.CDLL(None).mallopt(what, size)
