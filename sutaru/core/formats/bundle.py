"""The job bundle, ``.sutaru``: an open zip of ``job.json`` (the Job model's JSON) and ``photos/<sha256>.<ext>``.

Photos are stored, not compressed again. A bundle is written whole or not at all.
"""

import hashlib
import zipfile
from collections.abc import Callable
from pathlib import Path

from pydantic import ValidationError

from ..document import Job, Photo
from ..errors import FileRefused
from ..photos import EXTENSIONS, MAX_BYTES, Source
from ..press.files import whole
from .shelf import plainly

JOB = "job.json"
MAX_JOB_BYTES = 64 * 1024 * 1024


def member(photo: Photo) -> str:
    """Name of a photo's file within a bundle."""
    return f"photos/{photo.sha256}.{EXTENSIONS[photo.format]}"


def write_bundle(target: Path, job: Job, original: Callable[[Photo], Source]) -> None:
    """Writes a job and its photos. ``original`` gives each photo's file as bytes or path."""
    with whole(target, lambda path: Bundle(path).close()) as file, zipfile.ZipFile(file, "w") as bundle:
        bundle.writestr(
            zipfile.ZipInfo(JOB, (2026, 1, 1, 0, 0, 0)), job.model_dump_json(indent=1), zipfile.ZIP_DEFLATED
        )
        for photo in job.photos:
            source = original(photo)
            if isinstance(source, bytes):
                bundle.writestr(zipfile.ZipInfo(member(photo), (2026, 1, 1, 0, 0, 0)), source, zipfile.ZIP_STORED)
            else:
                bundle.write(source, member(photo), zipfile.ZIP_STORED)


class Bundle:
    """An open bundle. Raises FileRefused when the file is not one. Only names that the job itself lists are ever read."""

    def __init__(self, path: Path) -> None:
        self._path = path
        if not path.is_file():
            raise FileRefused(f"There is no file {path.name}.", "Give the path of a .sutaru bundle.")
        try:
            self._zip = zipfile.ZipFile(path)
            info = self._zip.getinfo(JOB)
            if info.file_size > MAX_JOB_BYTES:
                raise FileRefused(f"The job in {path.name} is too large to be one.")
            self.job = Job.model_validate_json(self._zip.read(JOB))
        except (zipfile.BadZipFile, KeyError, OSError, EOFError):
            raise FileRefused(f"{path.name} is not a Sutaru bundle.", "Make one with: sutaru fill.") from None
        except ValidationError as error:
            raise FileRefused(f"The job in {path.name} is not valid: {plainly(error)}.") from None
        names = set(self._zip.namelist())
        for photo in self.job.photos:
            if member(photo) not in names:
                raise FileRefused(
                    f"{path.name} lacks the file of the photo {photo.name}.", "Bring that photo in again."
                )

    def original(self, photo: Photo) -> bytes:
        """A photo's file. Raises FileRefused when it is not what the job says it is."""
        info = self._zip.getinfo(member(photo))
        if info.file_size != photo.size_bytes or info.file_size > MAX_BYTES:
            raise FileRefused(f"The photo {photo.name} in {self._path.name} has another size than the job says.")
        try:
            with zipfile.ZipFile(self._path) as own:  # a handle of its own: painters read from several threads
                data = own.read(info)
        except (zipfile.BadZipFile, OSError, EOFError):
            raise FileRefused(f"The photo {photo.name} in {self._path.name} is damaged.") from None
        if hashlib.sha256(data).hexdigest() != photo.sha256:
            raise FileRefused(f"The photo {photo.name} in {self._path.name} is not the one that was brought in.")
        return data

    def close(self) -> None:
        """Lets go of the file."""
        self._zip.close()
