"""Photo files, content-addressed: ``photos/ab/<checksum>``, with a proxy and a thumbnail beside them. The table ``photo``."""

import os
import re
import sqlite3
import threading
from collections.abc import Iterable
from dataclasses import dataclass, replace
from pathlib import Path

from ..core.document import Found, Job, Photo
from ..core.document.photo import UNSAID
from ..core.errors import NotFound
from ..core.photos.checksums import checksum_before
from ..core.remembering import Kept
from .database import Database

_CHECKSUM = re.compile(r"[0-9a-f]{64}")


KEPT_BYTES = 6 << 20  # of stored JSON: some five thousand photos; as objects about ten times that


@dataclass(frozen=True, slots=True)
class Known:
    """What is known of a photo: its facts with what was found in it, its proxy's width in px, the bytes of both as stored."""

    photo: Photo
    proxy_width: int
    stored_bytes: int


class Photos:
    """Where photo files lie, and what is known of them."""

    def __init__(self, database: Database, folder: Path) -> None:
        self._db, self._folder = database, folder
        self.incoming = folder / "incoming"
        self.incoming.mkdir(parents=True, exist_ok=True)
        for left in self.incoming.iterdir():  # uploads that a killed process left
            left.unlink()
        self._kept: Kept[str, Known] = Kept(KEPT_BYTES, lambda known: known.stored_bytes)  # by id
        with database.reading() as db:
            self._before = {row["checksum"] for row in db.execute("SELECT checksum FROM before")}
        self._lock = threading.Lock()
        self.found_count = 0  # rises with every photo looked at: what was joined before is old then

    def path(self, checksum: str, kind: str = "original") -> Path:
        """Path of the original, ``proxy`` or ``thumb``. Raises NotFound unless ``checksum`` is one."""
        if not _CHECKSUM.fullmatch(checksum):
            raise NotFound("This photo was not found.")
        suffix = {"original": "", "proxy": ".proxy.jpg", "thumb": ".thumb.jpg"}[kind]
        return self._folder / checksum[:2] / (checksum + suffix)

    def facts(self, ids: Iterable[str]) -> dict[str, Photo]:
        """What is known of photos, by id; those that were never brought in are left out."""
        return {identity: known.photo for identity, known in self._fetch(ids).items()}

    def _fetch(self, ids: Iterable[str]) -> dict[str, Known]:
        wanted = list(dict.fromkeys(ids))
        known = {identity: entry for identity in wanted if (entry := self._kept.get(identity)) is not None}
        missing = [identity for identity in wanted if identity not in known]
        for start in range(0, len(missing), 500):
            some = missing[start : start + 500]
            # Held while it is read: what is recorded meanwhile takes its place afterwards, not before.
            with self._lock, self._db.reading() as db:
                rows = db.execute(
                    f"""
                    SELECT photo, proxy_width, found FROM photo
                    WHERE substr(checksum, 1, 16) IN ({", ".join("?" * len(some))})
                    """,
                    some,
                )
                for row in rows:
                    photo = Photo.model_validate_json(row["photo"])
                    facts = Found.model_validate_json(row["found"]) if row["found"] else None
                    size = len(row["photo"]) + len(row["found"] or "")
                    known[photo.id] = Known(photo.copy_with(found=facts), row["proxy_width"], size)
                    self._kept.put(photo.id, known[photo.id])
        return {identity: known[identity] for identity in wanted if identity in known}

    def find_known(self, checksum: str) -> tuple[Photo, int] | None:
        """The photo and its proxy's width in px; None when its file was never brought in."""
        entry = self._fetch([checksum[:16]]).get(checksum[:16])
        return (
            (entry.photo, entry.proxy_width)
            if entry and entry.photo.checksum == checksum and entry.proxy_width
            else None
        )

    @staticmethod
    def note(db: sqlite3.Connection, photos: Iterable[Photo]) -> None:
        """Records facts of photos that are not known yet, within the transaction that stores a job with them."""
        db.executemany(
            "INSERT OR IGNORE INTO photo (checksum, photo, proxy_width, found) VALUES (:checksum, :photo, 0, :found)",
            [{"checksum": p.checksum, "photo": _pack_facts(p), "found": _json(p.found)} for p in photos],
        )

    def find_by_earlier_checksum(self, photo: Photo, upload: Path) -> Photo:
        """The photo by the checksum under which its file is here, where it came before BLAKE3."""
        if not self._before or (old := checksum_before(upload)) not in self._before:
            return photo
        return photo.copy_with(id=old[:16], checksum=old)

    def keep(self, photo: Photo, upload: Path, proxy: bytes, thumb: bytes, proxy_width: int) -> None:
        """Files an upload under its checksum, with its proxy and thumbnail, and records it."""
        target = self.path(photo.checksum)
        target.parent.mkdir(exist_ok=True)
        for kind, data in (("proxy", proxy), ("thumb", thumb)):
            unfinished = upload.with_name(f"{upload.name}.{kind}")
            unfinished.write_bytes(data)  # made anew if lost, so not worth a flush
            os.replace(unfinished, self.path(photo.checksum, kind))
        with upload.open("rb") as file:
            os.fsync(file.fileno())
        os.replace(upload, target)
        self._record(photo, proxy_width)

    def take_up(self, photo: Photo, proxy: bytes, thumb: bytes, proxy_width: int) -> None:
        """Records a photo whose original lies in its place already."""
        for kind, data in (("proxy", proxy), ("thumb", thumb)):
            unfinished = self.incoming / f"{photo.checksum}.{kind}"
            unfinished.write_bytes(data)
            os.replace(unfinished, self.path(photo.checksum, kind))
        self._record(photo, proxy_width)

    def _record(self, photo: Photo, proxy_width: int) -> None:
        with self._db.transaction() as db:
            db.execute(
                """
                INSERT INTO photo (checksum, photo, proxy_width) VALUES (:checksum, :photo, :width)
                ON CONFLICT (checksum) DO UPDATE SET proxy_width = excluded.proxy_width
                """,
                {"checksum": photo.checksum, "photo": _pack_facts(photo), "width": proxy_width},
            )
        with self._lock:
            if known := self._kept.get(photo.id):
                self._kept.put(photo.id, replace(known, proxy_width=proxy_width))

    def get_found(self, checksum: str) -> Found | None:
        """What the machine found in a photo; None until it has looked."""
        photo = self.facts([checksum[:16]]).get(checksum[:16])
        return photo.found if photo else None

    def has_file(self, checksum: str) -> bool:
        """Whether a photo's file was brought in."""
        return self.find_known(checksum) is not None

    def keep_found(self, checksum: str, facts: Found) -> None:
        """Records what the machine found in a photo."""
        stored = facts.model_dump_json()
        with self._db.transaction() as db:
            db.execute(
                "UPDATE photo SET found = :found WHERE checksum = :checksum", {"checksum": checksum, "found": stored}
            )
        with self._lock:
            if known := self._kept.get(checksum[:16]):
                size = known.stored_bytes + len(stored)
                self._kept.put(known.photo.id, Known(known.photo.copy_with(found=facts), known.proxy_width, size))
            self.found_count += 1

    def unseen(self) -> list[str]:
        """Checksums of the photos that are here and that the machine has not looked at, the first brought in first."""
        with self._db.reading() as db:
            rows = db.execute("SELECT checksum FROM photo WHERE found IS NULL AND proxy_width > 0 ORDER BY rowid")
            return [row["checksum"] for row in rows]

    def add_found(self, job: Job) -> Job:
        """The job with what has been found in its photos since it was stored. A fact, not an edit: nothing to undo."""
        blind = [photo.id for photo in job.photos if photo.found is None]
        seen = {identity: p.found for identity, p in self.facts(blind).items() if p.found is not None}
        if not seen:
            return job
        photos = tuple(p.copy_with(found=seen[p.id]) if p.id in seen else p for p in job.photos)
        return job.copy_with(pile=type(job.pile).model_construct(photos=photos))  # stored as it was

    def proxy(self, photo: Photo) -> tuple[Path, float] | None:
        """Path of a photo's proxy and its share of the full size, for painting."""
        known = self.find_known(photo.checksum)
        path = self.path(photo.checksum, "proxy")
        return (path, known[1] / photo.width) if known and path.exists() else None


def _pack_facts(photo: Photo) -> str:
    """The facts of a photo as they are stored: nothing of what is said of it in one job but a name to call it by."""
    return photo.copy_with(found=None, **UNSAID).model_dump_json()


def _json(facts: Found | None) -> str | None:
    return facts.model_dump_json() if facts else None
