"""What goes wrong with a disk or a database, as one plain sentence."""

import errno
import sqlite3
from pathlib import Path

from ..core.errors import SutaruError


class StoreFailed(SutaruError):
    """The disk or the database cannot do what is asked of it now."""

    code = "store_failed"


def explain_failure(error: Exception, folder: Path) -> StoreFailed | None:
    """An error of the disk or the database as a sentence; None when it is neither."""
    sentence = str(error).lower()
    if isinstance(error, OSError) and not isinstance(error, ConnectionError):
        number = error.errno
        full, fixed = number in (errno.ENOSPC, errno.EDQUOT), number in (errno.EROFS, errno.EACCES, errno.EPERM)
    elif isinstance(error, sqlite3.Error):
        full, fixed = "full" in sentence, "readonly" in sentence or "unable to open" in sentence
    else:
        return None
    if full:
        return StoreFailed("The disk is full, so this was not kept.", "Make room; then go on where you were.")
    if fixed:
        return StoreFailed(f"The folder {folder} cannot be written to.", "Give Sutaru the right to write there.")
    if isinstance(error, sqlite3.DatabaseError) and ("malformed" in sentence or "not a database" in sentence):
        return StoreFailed(f"The database in {folder} is damaged.", "See what can be saved: sutaru doctor.")
    if isinstance(error, sqlite3.Error) or (isinstance(error, OSError) and error.errno == errno.EIO):
        return StoreFailed(f"The disk did not do what was asked ({error}), so this was not kept.", "Try again.")
    return None
