"""Functions that run over every pixel, compiled for the processor that they run on."""

from collections.abc import Callable, Sequence
from typing import ParamSpec, TypeVar

import numba
from numba import njit

P = ParamSpec("P")
R = TypeVar("R")
numba.config.SLP_VECTORIZE = 1  # numbers side by side, as of a pixel, are worked out at once


def compiled(*signatures: object) -> Callable[[Callable[P, R]], Callable[P, R]]:
    """Compiles a function by numba, for these signatures at once, or for what it is called with; other threads go on meanwhile.

    What was compiled is kept beside its source, or in the user's cache; where neither can be written to it is compiled anew by
    each process.
    """

    def around(work: Callable[P, R]) -> Callable[P, R]:
        asked: Sequence[object] | None = list(signatures) or None
        try:
            return njit(asked, nogil=True, cache=True)(work)
        except RuntimeError:  # "no locator available"
            return njit(asked, nogil=True)(work)

    return around
