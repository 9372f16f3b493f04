"""Looks a data folder over, and mends what can be mended: the database, the states of jobs, the files of photos.

Nothing that a person brought in is ever deleted. What is replaced, or belongs to nothing, is moved to a dated folder
(``repair-2026-11-26T14-02-11``), and what was kept, moved and lost is told.
"""

import re
import shutil
import sqlite3
from collections.abc import Callable, Iterator, Sequence
from contextlib import closing
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from tempfile import TemporaryDirectory

from ..core.document import Frozen, Job, Photo
from ..core.errors import SutaruError
from ..core.paint import Assets
from ..core.photos.checksums import checksum_before
from .copies import NAME, day_copies, day_of, is_sound, is_undamaged
from .database import Database, is_of_earlier_version
from .jobs import Jobs
from .lock import FolderLock
from .parts import Parts
from .photos import Photos
from .salvage import count_jobs, open_damaged, save

_ORIGINAL = re.compile(r"[0-9a-f]{64}")
_BESIDE = re.compile(r"([0-9a-f]{64})\.(proxy|thumb)\.jpg")
ReadPhoto = Callable[
    [Path], tuple[Photo, bytes, bytes, int]
]  # a file's photo, proxy, thumbnail, the proxy's width in px


@dataclass(frozen=True)
class Complaint:
    """Something wrong, what was or can be done about it, and whether it is mended."""

    sentence: str
    remedy: str
    mended: bool = False


class Doctor:
    """Looks one data folder over; nobody else works in it meanwhile.

    ``works`` raises when a job, with these assets, cannot be shown. ``read_photo`` reads an original anew whose row was lost.
    ``shipped``: parts that jobs have in common with what ships (layouts, lab sheets): they are never lost.
    """

    def __init__(
        self,
        folder: Path,
        works: Callable[[Job, Assets], object],
        read_photo: ReadPhoto,
        shipped: Sequence[Frozen] = (),
    ) -> None:
        self._folder, self._works, self._read_photo, self._shipped = folder, works, read_photo, shipped
        stamp = datetime.now().isoformat(timespec="seconds").replace(":", "-")
        self.aside = folder / f"repair-{stamp}"  # made when something is moved there
        self.moved = 0
        self._scratch: TemporaryDirectory[str] | None = None

    def look(self, repair: bool) -> Iterator[Complaint]:
        """What is wrong. With ``repair`` it is mended as it is told. Raises StoreFailed when the folder is in use, or cannot be
        read at all."""
        if not (self._folder / NAME).exists():
            yield from self._replace_missing(repair)
            if not repair or not (self._folder / NAME).exists():
                return
        lock = FolderLock(self._folder)
        try:
            if not self._is_sound():
                yield from self._check_damage(repair)
                if not repair or not self._is_sound():
                    return
            database = Database(self._folder / NAME, lock) if repair else self._open_unchanged(lock)
            try:
                if repair:
                    database.keep_copy_before_repair()
                photos, parts = Photos(database, self._folder / "photos"), Parts(database)
                yield from self._files(database, photos, repair)
                yield from self._jobs(database, Jobs(database, parts, photos), parts.asset, repair)
            finally:
                database.close()
                if self._scratch:
                    self._scratch.cleanup()
        finally:
            lock.release()

    # --- The database ------------------------------------------------------------------------------------------------

    def _is_sound(self) -> bool:
        """Whether the database is without damage, what its log holds included. Nothing stays beside it that was not there."""
        path = self._folder / NAME
        beside = [path.with_name(NAME + suffix) for suffix in ("-wal", "-shm")]
        before = {path for path in beside if path.exists()}
        try:
            with closing(sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True)) as db:
                return is_undamaged(db)
        except (sqlite3.Error, UnicodeDecodeError):
            return False
        finally:
            for beside_path in set(beside) - before:
                beside_path.unlink(missing_ok=True)

    def _open_unchanged(self, lock: FolderLock) -> Database:
        """The database to be looked at: one of an earlier version by a copy, so that a look brings nothing up to date."""
        path = self._folder / NAME
        if not is_of_earlier_version(path):
            return Database(path, lock)
        self._scratch = TemporaryDirectory()
        copy = Path(self._scratch.name) / NAME
        for suffix in ("", "-wal"):
            if (beside := path.with_name(NAME + suffix)).exists():
                shutil.copyfile(beside, copy.with_name(copy.name + suffix))
        return Database(copy, lock)

    def _copies(self) -> list[Path]:
        """Sound copies of days, the one with most jobs first, of several the newest."""
        return sorted(filter(is_sound, day_copies(self._folder)), key=count_jobs, reverse=True)

    def _replace_missing(self, repair: bool) -> Iterator[Complaint]:
        copies = self._copies()
        if not copies:
            yield Complaint(
                f"There is no database in {self._folder}.", "Give the folder that Sutaru was started with by --data."
            )
            return
        day = day_of(copies[0])
        if not repair:
            yield Complaint("The database is missing.", f"With --repair the copy of {day} takes its place.")
            return
        lock = FolderLock(self._folder)
        try:
            self._put_in_place(copies[0])
        finally:
            lock.release()
        yield Complaint(
            "The database was missing.", f"The copy of {day} took its place; later changes are lost.", mended=True
        )

    def _check_damage(self, repair: bool) -> Iterator[Complaint]:
        copies = self._copies()
        whence = f"the copy of {day_of(copies[0])}" if copies else "nothing else, for there is no sound copy"
        if not repair:
            yield Complaint(
                "The database is damaged.", f"With --repair what can be read of it is put together with {whence}."
            )
            return
        self.aside.mkdir(exist_ok=True)  # of a copy that took the place of a missing database
        target, unfinished = self._folder / NAME, self.aside / "mended.sqlite3"
        if copies:
            shutil.copyfile(copies[0], unfinished)
        scratch = self.aside / "scratch"
        with closing(Database(unfinished)) as fresh:
            source = open_damaged(target, scratch, copies[0] if copies else None)
            with fresh.transaction() as db:
                db.execute("PRAGMA defer_foreign_keys = ON")
                Parts.add(db, Parts.pack(self._shipped))
                saved = save(source, target.read_bytes(), db)
                if source is not None:
                    source.close()
                jobs = db.execute("SELECT count(*) FROM job").fetchone()[0]
        shutil.rmtree(scratch, ignore_errors=True)
        if not jobs:
            unfinished.unlink()
            yield Complaint(
                "The database is damaged, no job can be read of it, and there is no sound copy.",
                "Put back a copy of the whole folder, or begin with another by --data. Nothing was changed.",
            )
            return
        self._put_in_place(unfinished)
        whence = f" and of the copy of {day_of(copies[0])}" if copies else ""
        yield Complaint(
            "The database was damaged.",
            f"It was put together anew of what can be read of it{whence}: {jobs} jobs.",
            mended=True,
        )
        if not saved.read["state"]:
            yield Complaint(
                "No state of a job can be read of the damaged database: what was done after its copy was made is lost.",
                "Bring in bundles of the jobs that are missing, if there are any.",
            )
        for identity in saved.lost_jobs:
            yield Complaint(
                f"The job {identity} is lost: nothing of it can be read, and no copy holds it.",
                "Bring in a bundle of it, if there is one.",
            )

    def _put_in_place(self, sound: Path) -> None:
        """Puts a database in place of the one that is there, which is moved aside with its log."""
        target = self._folder / NAME
        unfinished = target.with_name(NAME + ".part")
        shutil.copyfile(sound, unfinished)
        if not is_sound(unfinished):
            unfinished.unlink()
            raise SutaruError("What was put together is not sound.", "Nothing was changed. Put back a copy by hand.")
        self.aside.mkdir(exist_ok=True)
        if target.exists():  # as a copy first: at no moment is there no database
            shutil.copyfile(target, self.aside / NAME)
        for suffix in ("-wal", "-shm", "-journal"):  # SQLite would lay what is in them over the sound database
            if (beside := target.with_name(NAME + suffix)).exists():
                beside.replace(self.aside / beside.name)
        unfinished.replace(target)
        if sound.parent == self.aside:
            for suffix in ("", "-wal", "-shm"):
                sound.with_name(sound.name + suffix).unlink(missing_ok=True)
            (self.aside / ".lock").unlink(missing_ok=True)

    # --- Jobs --------------------------------------------------------------------------------------------------------

    def _jobs(self, database: Database, jobs: Jobs, asset: Assets, repair: bool) -> Iterator[Complaint]:
        def works(job: Job) -> object:
            return self._works(job, asset)

        for identity, name in jobs.list_all():
            try:
                works(jobs.head(identity).job)
            except SutaruError as error:
                if not repair:
                    yield Complaint(f"The job {name} ({identity}) cannot be shown: {error.sentence}",
                                    "With --repair it goes back to its last good state.")  # fmt: skip
                    continue
                day = self._bring_back(database, identity)
                try:
                    head = jobs.last_good(identity, works)
                    whence = f", of which the copy of {day} had what was missing" if day else ""
                    yield Complaint(f"The job {name} ({identity}) could not be shown.",
                                    f"It went back to its state {head.number}{whence}.", mended=True)  # fmt: skip
                except SutaruError:
                    yield Complaint(f"The job {name} ({identity}): No state of this job can be read any more.",
                                    "Bring in a bundle of it, if there is one.")  # fmt: skip

    def _bring_back(self, database: Database, job: str) -> str:
        """Brings states of a job, and parts of any, back from sound copies where they are missing; the day of the first copy that
        had some, or "". A part is what its name says, and a state never changes: whatever copy has them has the same."""
        sentence = ""
        for copy in self._copies():
            address = f"{copy.absolute().as_uri()}?immutable=1"
            with closing(sqlite3.connect(address, uri=True)) as source, database.transaction() as db:
                db.execute("PRAGMA defer_foreign_keys = ON")
                before = db.total_changes
                part_names = {name for (name,) in db.execute("SELECT name FROM part")}
                missing = [name for (name,) in source.execute("SELECT name FROM part") if name not in part_names]
                for name in missing:
                    rows = source.execute("SELECT name, data FROM part WHERE name = ?", [name])
                    db.executemany("INSERT INTO part (name, data) VALUES (?, ?)", rows)
                states = source.execute(
                    """
                    SELECT job, number, parent, root, label, gesture, made, named, token FROM state
                    WHERE job = ? ORDER BY number
                    """,
                    [job],
                )
                db.executemany("INSERT OR IGNORE INTO state VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)", states)
                if db.total_changes > before:
                    sentence = sentence or day_of(copy)
        return sentence

    # --- Files -------------------------------------------------------------------------------------------------------

    def _files(self, database: Database, photos: Photos, repair: bool) -> Iterator[Complaint]:
        with database.reading() as db:
            known = {row["checksum"] for row in db.execute("SELECT checksum FROM photo WHERE proxy_width > 0")}
        folder = self._folder / "photos"
        originals = [path for path in sorted(folder.glob("[0-9a-f][0-9a-f]/*")) if path.name not in known]
        for path in originals:
            beside = _BESIDE.fullmatch(path.name)
            if beside and (beside[1] in known or path.with_name(beside[1]).exists()):
                continue  # goes with its original
            if not repair:
                what = "taken up again" if _ORIGINAL.fullmatch(path.name) else "moved aside"
                yield Complaint(f"The file {path.name[:24]} belongs to no photo.", f"With --repair it is {what}.")
            elif _ORIGINAL.fullmatch(path.name) and self._take_up(photos, path):
                known.add(path.name)
                yield Complaint(
                    f"The file {path.name[:24]} belonged to no photo.", "It was taken up again.", mended=True
                )
            else:
                self._move_aside(path)
                yield Complaint(
                    f"The file {path.name[:24]} belongs to no photo.",
                    f"It was moved to {self.aside.name}.",
                    mended=True,
                )
        for checksum in sorted(known):
            if not photos.path(checksum).exists():
                yield Complaint(
                    f"The original of the photo {checksum[:16]} is lost.", "Bring that photo in again from its file."
                )

    def _take_up(self, photos: Photos, path: Path) -> bool:
        """Whether an original whose row was lost is a photo again."""
        try:
            photo, proxy, thumb, width = self._read_photo(path)
        except Exception:  # whatever a decoder makes of a file that was harmed
            return False
        if photo.checksum != path.name:
            if checksum_before(path) != path.name:
                return False
            photo = photo.copy_with(id=path.name[:16], checksum=path.name)  # it came before BLAKE3
        photos.take_up(photo, proxy, thumb, width)
        return True

    def _move_aside(self, path: Path) -> None:
        target = self.aside / "photos" / path.parent.name
        target.mkdir(parents=True, exist_ok=True)
        path.replace(target / path.name)
        self.moved += 1
