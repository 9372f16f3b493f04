"""What is kept: jobs with all their revisions, photo files by their content, exports."""

from .database import Database
from .exports import Export, Exports
from .jobs import Head, Jobs, Listed
from .photos import Photos

__all__ = ["Database", "Export", "Exports", "Head", "Jobs", "Listed", "Photos"]
