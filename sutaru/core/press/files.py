"""Files written whole or not at all: a temporary file beside the target, flushed, checked, then moved into place."""

import os
import tempfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import BinaryIO

PREFIX = ".unfinished-"


@contextmanager
def whole(target: Path, check: Callable[[Path], None] = lambda path: None) -> Iterator[BinaryIO]:
    """A binary file to write; it becomes ``target`` when the block ends and ``check`` raises nothing. Else the old one stands."""
    handle, name = tempfile.mkstemp(prefix=PREFIX, suffix=target.suffix, dir=target.parent)
    unfinished = Path(name)
    try:
        with os.fdopen(handle, "w+b") as file:
            yield file
            file.flush()
            os.fsync(file.fileno())
        check(unfinished)
        unfinished.chmod(0o644)
        os.replace(unfinished, target)
    except BaseException:
        unfinished.unlink(missing_ok=True)
        raise


def sweep(folder: Path) -> int:
    """Deletes what a killed process left unfinished under a folder. Returns how many files."""
    left = list(folder.rglob(PREFIX + "*"))
    for path in left:
        path.unlink(missing_ok=True)
    return len(left)
