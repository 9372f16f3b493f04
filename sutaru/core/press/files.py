"""Files written whole or not at all: a temporary file beside the target, flushed, checked, then moved into place."""

import hashlib
import io
import os
import platform
import tempfile
from collections import deque
from collections.abc import Callable, Iterator
from concurrent.futures import Future, ThreadPoolExecutor
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, BinaryIO

if TYPE_CHECKING:
    from _typeshed import ReadableBuffer

PREFIX = ".unfinished-"
_HOST = hashlib.sha256(platform.node().encode()).hexdigest()[:8]  # a folder may be used by several machines
_IN_HAND = 16  # parts of a file that may wait to be summed, 1 MB each at most


@contextmanager
def write_whole(
    target: Path, check: Callable[[Path], None] = lambda path: None, lasting: bool = True
) -> Iterator[BinaryIO]:
    """A binary file to write; it becomes ``target`` when the block ends and ``check`` raises nothing. Else the old one stands.
    ``lasting``: it is on the disk then, whatever happens to the machine."""
    handle, name = tempfile.mkstemp(prefix=prefix_of_process(), suffix=target.suffix, dir=target.parent)
    unfinished = Path(name)
    try:
        with os.fdopen(handle, "w+b") as file:
            yield file
            file.flush()
            if lasting:
                os.fsync(file.fileno())
        check(unfinished)
        unfinished.chmod(0o644)
        os.replace(unfinished, target)
    except BaseException:
        unfinished.unlink(missing_ok=True)
        raise


class Followed(io.BufferedWriter):
    """Writes on to a file, from its start to its end, and works out the SHA-256 of that beside, in a thread of its own. The file
    stays open when this is closed."""

    def __init__(self, file: BinaryIO) -> None:
        self._sum = _Summed(file)
        super().__init__(self._sum, 1 << 20)

    def digest(self) -> bytes:
        """The SHA-256 of all that was written until now."""
        self.flush()
        return self._sum.digest()


class _Summed(io.RawIOBase):
    def __init__(self, file: BinaryIO) -> None:
        self._file, self._sha256 = file, hashlib.sha256()
        self._thread = ThreadPoolExecutor(1)
        self._waiting = deque[Future[None]]()

    def writable(self) -> bool:
        return True

    def write(self, data: "ReadableBuffer", /) -> int:
        part = bytes(data)  # what was given may change once this returns
        self._waiting.append(self._thread.submit(self._sha256.update, part))  # while the disk takes it
        if len(self._waiting) > _IN_HAND:
            self._waiting.popleft().result()
        left = memoryview(part)
        while left:
            left = left[self._file.write(left) :]
        return len(part)

    def digest(self) -> bytes:
        """Of what was given."""
        while self._waiting:
            self._waiting.popleft().result()
        return self._sha256.digest()

    def close(self) -> None:
        self._thread.shutdown()
        super().close()


def prefix_of_process() -> str:
    """How files begin that this process has not finished yet."""
    return f"{PREFIX}{_HOST}-{os.getpid()}-"


def sweep_orphans(folder: Path) -> None:
    """Delete what processes of this machine that are no more left unfinished in a folder; others may still be at work there."""
    for path in folder.glob(f"{PREFIX}{_HOST}-*"):
        process = path.name.removeprefix(f"{PREFIX}{_HOST}-").partition("-")[0]
        if process.isdecimal() and not _is_running(int(process)):
            path.unlink(missing_ok=True)


def _is_running(process: int) -> bool:
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    except PermissionError:
        pass  # somebody else's
    return True


def sweep(folder: Path) -> int:
    """Deletes what a killed process left unfinished under a folder. Returns how many files."""
    left = list(folder.rglob(PREFIX + "*"))
    for path in left:
        path.unlink(missing_ok=True)
    return len(left)
