"""The job bundle, ``.sutaru``: an open zip of ``job.json``, ``photos/<checksum>.<ext>`` and ``assets/<sha256>``.

``job.json`` is the Job model's JSON, of this or any earlier version. Photos are stored, not compressed again. A bundle is
written whole or not at all.
"""

import hashlib
import json
import lzma
import os
import struct
import zipfile
import zlib
from collections.abc import Callable, Iterable
from pathlib import Path

from pydantic import ValidationError

from .. import limits
from ..document import Background, FillBox, Job, LabSheet, Mask, Opening, Ornament, Overlay, Photo, Sheet, StudioCard
from ..errors import FileRefused
from ..paint import Assets, refuse_asset
from ..photos import EXTENSIONS, Source
from ..photos.checksums import is_of
from ..press.files import write_whole
from .shelf import describe_invalid
from .upgrading import upgrade_job

JOB = "job.json"
# Of the header before each file of a zip, the lengths of its name and of what else follows it (PKWARE, APPNOTE.TXT, 4.3.7).
_LOCAL_HEADER = struct.Struct("<26xHH")
MADE = (2026, 1, 1, 0, 0, 0)
# Whatever a zip that is damaged, encrypted or oddly packed makes the standard library raise.
DAMAGED = (zipfile.BadZipFile, KeyError, OSError, EOFError, ValueError, RuntimeError, RecursionError, OverflowError,
           struct.error, zlib.error, lzma.LZMAError)  # fmt: skip


def member(photo: Photo) -> str:
    """Name of a photo's file within a bundle."""
    return f"photos/{photo.checksum}.{EXTENSIONS[photo.format]}"


def asset_names(sheets: Iterable[Sheet], studio: StudioCard | None = None) -> set[str]:
    """sha256 of every drawing, mask, picture and font that sheets name, and of the studio card's logo."""
    names = {studio.logo} if studio and studio.logo else set()
    for sheet in sheets:
        names |= set(sheet.layout.fonts.values())
        for layer in sheet.layout.leaves:
            if isinstance(layer, Ornament | Overlay | Background) and layer.asset:
                names.add(layer.asset)
            elif isinstance(layer, Opening | FillBox) and isinstance(layer.outline, Mask):
                names.add(layer.outline.asset)
    return names


def job_assets(job: Job) -> set[str]:
    """sha256 of every file that a job names: those of its sheets and its studio card, and its lab's own press profile."""
    return asset_names(job.sheets, job.studio) | _own_profiles(job.lab)


def _own_profiles(lab: LabSheet) -> set[str]:
    return {lab.press.profile} if lab.press and len(lab.press.profile) == 64 else set()


def list_added_assets(before: Job, after: Job) -> set[str]:
    """sha256 of the files that a state names and the one before it did not. Costs what was changed, not what there is."""
    old = {id(sheet.layout) for sheet in before.sheets}
    fresh = [sheet for sheet in after.sheets if id(sheet.layout) not in old]
    names = asset_names(fresh, after.studio if after.studio is not before.studio else None)
    names -= asset_names(before.sheets_by_id[sheet.id] for sheet in fresh if sheet.id in before.sheets_by_id)
    if after.lab is not before.lab:
        names |= _own_profiles(after.lab)
    return names - job_assets(before) if names else names


def write_bundle(target: Path, job: Job, original: Callable[[Photo], Source], asset: Assets) -> None:
    """Writes a job with its photos and assets. ``original`` gives each photo's file as bytes or path."""
    with write_whole(target, lambda path: Bundle(path).close()) as file, zipfile.ZipFile(file, "w") as bundle:
        bundle.writestr(zipfile.ZipInfo(JOB, MADE), job.model_dump_json(indent=1), zipfile.ZIP_DEFLATED)
        for name in sorted(job_assets(job)):
            bundle.writestr(zipfile.ZipInfo(f"assets/{name}", MADE), asset(name), zipfile.ZIP_DEFLATED)
        for photo in job.photos:
            source = original(photo)
            if isinstance(source, bytes):
                bundle.writestr(zipfile.ZipInfo(member(photo), MADE), source, zipfile.ZIP_STORED)
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
            if info.file_size > limits.JOB_BYTES:
                raise FileRefused(f"The job in {path.name} is too large to be one.")
            data, self._files = upgrade_job(parse_object(self._zip.read(JOB)))
            self.job = Job.model_validate(data)
        except ValidationError as error:
            raise FileRefused(f"The job in {path.name} is not valid: {describe_invalid(error)}.") from None
        except DAMAGED:
            raise FileRefused(f"{path.name} is not a Sutaru bundle.", "Make one with: sutaru fill.") from None
        names = set(self._zip.namelist())
        for photo in self.job.photos:
            if member(photo) not in names:
                raise FileRefused(
                    f"{path.name} lacks the file of the photo {photo.name}.", "Bring that photo in again."
                )

    def original(self, photo: Photo) -> bytes:
        """A photo's file. Raises FileRefused when it is not what the job says it is."""
        info = self._zip.getinfo(member(photo))
        if info.file_size != photo.size_bytes or info.file_size > limits.PHOTO_BYTES:
            raise FileRefused(f"The photo {photo.name} in {self._path.name} has another size than the job says.")
        data = self._read_stored(info) or self._read(info, f"The photo {photo.name}")
        if not is_of(photo.checksum, data):
            raise FileRefused(f"The photo {photo.name} in {self._path.name} is not the one that was brought in.")
        return data

    def extract(self, photo: Photo, target: Path) -> None:
        """Writes a photo's file. Raises FileRefused when it is not the one that the job names."""
        info = self._zip.getinfo(member(photo))
        left = limits.PHOTO_BYTES
        try:
            with self._zip.open(info) as packed, target.open("wb") as file:
                while data := packed.read(1 << 20):
                    left -= len(data)
                    if left < 0:
                        raise FileRefused(f"The photo {photo.name} in {self._path.name} is too large.")
                    file.write(data)
        except DAMAGED:
            raise FileRefused(f"The photo {photo.name} in {self._path.name} is damaged.") from None
        if not is_of(photo.checksum, target):
            raise FileRefused(f"The photo {photo.name} in {self._path.name} is not the one that was brought in.")

    def asset(self, name: str) -> bytes:
        """A drawing or mask by its sha256. Raises FileRefused when it is missing, too large or another."""
        if name in self._files:
            return self._files[name]
        try:
            info = self._zip.getinfo(f"assets/{name}")
        except KeyError:
            return refuse_asset(name)
        if info.file_size > limits.OVERLAY_BYTES:
            raise FileRefused(f"A picture in {self._path.name} is larger than {limits.OVERLAY_BYTES // limits.MB} MB.")
        data = self._read(info, "A drawing")
        if hashlib.sha256(data).hexdigest() != name:
            raise FileRefused(f"A drawing in {self._path.name} is not the one that the job names.")
        return data

    def _read_stored(self, info: zipfile.ZipInfo) -> bytes:
        """A file that lies in the bundle as it is, whose checksum the caller holds it against: the zip's own is not worked out as
        well. Nothing when it does not."""
        if info.compress_type != zipfile.ZIP_STORED or info.flag_bits & 1:
            return b""
        with self._path.open("rb") as file:
            file.seek(info.header_offset)
            head = file.read(_LOCAL_HEADER.size)
            if len(head) < _LOCAL_HEADER.size:
                return b""
            name, extra = _LOCAL_HEADER.unpack(head)
            file.seek(name + extra, os.SEEK_CUR)
            return file.read(info.file_size)

    def _read(self, info: zipfile.ZipInfo, what: str) -> bytes:
        try:
            with zipfile.ZipFile(self._path) as archive:  # a handle of its own: painters read from several threads
                return archive.read(info)
        except DAMAGED:
            raise FileRefused(f"{what} in {self._path.name} is damaged.") from None

    def close(self) -> None:
        """Lets go of the file."""
        self._zip.close()


def parse_object(data: bytes) -> dict[str, object]:
    data_read = json.loads(data)
    if not isinstance(data_read, dict):
        raise json.JSONDecodeError("not an object", "", 0)
    return data_read
