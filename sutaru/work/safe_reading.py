"""The one door for files from outside: read in a worker, within limits of time and memory; any failure is a sentence.

The sentence names the file and says what to do. What went wrong beneath it goes to the log.
"""

import logging
import signal
from collections.abc import Callable
from concurrent.futures import BrokenExecutor, CancelledError
from typing import Any, TypeVar

from pebble import ProcessExpired

from ..core.errors import FileRefused, PhotoRefused, SutaruError
from ..core.limits import ASSET_SECONDS, BUNDLE_SECONDS, PHOTO_SECONDS
from .executor import OVERTIME, Closing, Workers

T = TypeVar("T")
log = logging.getLogger("sutaru.door")


class Door:
    """Reads photos, drawings, masks and bundles."""

    def __init__(self, workers: Workers) -> None:
        self._workers = workers

    def photo(self, name: str, work: Callable[..., T], *args: Any) -> T:
        """What ``work(*args)`` makes of a photo called ``name``. Raises PhotoRefused, and FileRefused when it is a bundle's."""
        return self._read(
            name, PHOTO_SECONDS, PhotoRefused, "Save it anew as a plain JPEG and bring that in.", work, *args
        )

    def asset(self, name: str, work: Callable[..., T], *args: Any) -> T:
        """The same for a drawing or a mask. Raises FileRefused."""
        return self._read(name, ASSET_SECONDS, FileRefused, "Make it simpler and bring it in again.", work, *args)

    def bundle(self, name: str, work: Callable[..., T], *args: Any) -> T:
        """The same for what a bundle says. Raises FileRefused."""
        return self._read(name, BUNDLE_SECONDS, FileRefused, "Ask for it to be made anew.", work, *args)

    def _read(
        self, name: str, seconds: float, refused: type[SutaruError], remedy: str, work: Callable[..., T], *args: Any
    ) -> T:
        try:
            return self._workers.submit("photos", work, *args, seconds=seconds).result()
        except Exception as error:
            raise refusal(error, name, seconds, refused, remedy) from error


def refusal(
    error: BaseException, name: str, seconds: float, refused: type[SutaruError], remedy: str
) -> SutaruError:  # fmt: skip
    """What is said of a file whose reading ended with an error."""
    if isinstance(error, SutaruError):
        log.info("refused: %s (%s)", error.code, error.sentence.replace(name, "a file"))
        return error
    if isinstance(error, TimeoutError) or (isinstance(error, ProcessExpired) and error.exitcode == OVERTIME):
        log.warning("refused: over %g s", seconds)
        return refused(f"{name} takes longer than {seconds:g} s to read.", remedy)
    if isinstance(error, MemoryError):
        log.warning("refused: over its memory")
        return refused(f"{name} needs more memory to read than any one file gets.", remedy)
    if isinstance(error, ProcessExpired) and error.exitcode == -signal.SIGKILL:
        log.warning("refused: the worker was killed")
        return refused(
            f"{name} was not read: the program that reads was killed twice.", "Bring it in again, or a smaller one."
        )
    if isinstance(error, ProcessExpired):
        log.warning("refused: the worker ended (%s)", error.exitcode)
        return refused(f"{name} cannot be read: reading it ended the program that reads.", remedy)
    if isinstance(error, Closing):
        return refused(f"{name} was not read: the server is ending.", "Bring it in again.")
    if isinstance(error, BrokenExecutor | CancelledError):
        log.warning("refused: the workers ended")
        return refused(f"{name} was not read: the program that reads was ended.", "Bring it in again.")
    log.error("refused: unexpected", exc_info=error)
    return refused(f"{name} cannot be read.", remedy)
