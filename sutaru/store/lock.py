"""One process at a time works in a data folder: whoever holds the folder's lock, until it ends however it ends."""

import fcntl
import os
from pathlib import Path

from .trouble import StoreFailed


class FolderLock:
    """The lock of a data folder, held from now on. Raises StoreFailed when another process holds it."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self._file: int | None = os.open(folder / ".lock", os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o644)
        try:
            fcntl.flock(self._file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            self.release()
            raise StoreFailed(
                f"Another Sutaru is using the folder {folder}.", "Close it, or give another folder with --data."
            ) from None

    def release(self) -> None:
        """Let go of the folder."""
        if self._file is not None:
            os.close(self._file)
            self._file = None
