"""Pictures of jobs as they were shown last, as files: a shelf of many jobs stands at once after a restart.

A picture is named by the state that it shows, so it is never wrong. They are worth no more than the time to paint them again: the
oldest go, and one that cannot be written or read is painted.
"""

import logging
import os
import re
import secrets
import threading
from contextlib import suppress
from pathlib import Path

log = logging.getLogger("sutaru.store")
MOST = 2000
_ROOT = re.compile(r"[0-9a-f]{32}")


class Pictures:
    """The folder of them."""

    def __init__(self, folder: Path, most: int = MOST) -> None:
        self._folder, self._most = folder, most
        self._writing = threading.Lock()

    def get(self, root: str, width: int) -> bytes | None:
        """The JPEG of a state, so many px wide; None when it is not here."""
        if not _ROOT.fullmatch(root):
            return None
        path = self._path(root, width)
        try:
            data = path.read_bytes()
            os.utime(path)  # the ones that are looked at stay
        except OSError:
            return None
        return data if data.endswith(b"\xff\xd9") else None  # whole

    def put(self, root: str, width: int, jpeg: bytes) -> None:
        """Keeps the picture of a state."""
        unfinished = self._folder / f"{secrets.token_hex(6)}.part"
        try:
            with self._writing:
                self._folder.mkdir(exist_ok=True)
                unfinished.write_bytes(jpeg)
                unfinished.replace(self._path(root, width))
                self._tidy()
        except OSError:
            log.warning("the picture of a job cannot be kept", exc_info=True)
            with suppress(OSError):
                unfinished.unlink(missing_ok=True)

    def _path(self, root: str, width: int) -> Path:
        return self._folder / f"{root}-{width}.jpg"

    def _tidy(self) -> None:
        """Deletes those that were not looked at for longest, a tenth of them at a time."""
        names = os.listdir(self._folder)
        if len(names) > self._most:
            paths = sorted((self._folder / name for name in names), key=lambda path: path.stat().st_mtime)
            for path in paths[: len(names) - self._most + self._most // 10]:
                path.unlink()
