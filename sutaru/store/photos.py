"""Photo files, content-addressed: ``photos/ab/<sha256>``, with a proxy and a thumbnail beside them. The table ``photo``."""

import os
import re
from pathlib import Path

from ..core.document import Found, Job, Photo
from ..core.errors import NotFound
from .database import Database

_SHA256 = re.compile(r"[0-9a-f]{64}")


class Photos:
    """Where photo files lie, and what is known of them."""

    def __init__(self, database: Database, folder: Path) -> None:
        self._db, self._folder = database, folder
        self.incoming = folder / "incoming"
        self.incoming.mkdir(parents=True, exist_ok=True)
        for left in self.incoming.iterdir():  # uploads that a killed process left
            left.unlink()
        self._known: dict[str, tuple[Photo, int]] = {}
        self._found: dict[str, Found] = {}
        self._unseen = set(self.unseen())  # asked of every photo of a pile, at every edit

    def path(self, sha256: str, kind: str = "original") -> Path:
        """Path of the original, ``proxy`` or ``thumb``. Raises NotFound unless ``sha256`` is one."""
        if not _SHA256.fullmatch(sha256):
            raise NotFound("There is no such photo.")
        suffix = {"original": "", "proxy": ".proxy.jpg", "thumb": ".thumb.jpg"}[kind]
        return self._folder / sha256[:2] / (sha256 + suffix)

    def known(self, sha256: str) -> tuple[Photo, int] | None:
        """The photo and its proxy's width in px; None when it was never brought in."""
        if sha256 not in self._known:
            with self._db.reading() as db:
                row = db.execute("SELECT photo, proxy_width FROM photo WHERE sha256 = :sha", {"sha": sha256}).fetchone()
            if row is None:
                return None
            self._known[sha256] = Photo.model_validate_json(row["photo"]), row["proxy_width"]
        return self._known[sha256]

    def keep(self, photo: Photo, upload: Path, proxy: bytes, thumb: bytes, proxy_width: int) -> None:
        """Files an upload under its sha256, with its proxy and thumbnail, and records it."""
        target = self.path(photo.sha256)
        target.parent.mkdir(exist_ok=True)
        for kind, data in (("proxy", proxy), ("thumb", thumb)):
            unfinished = upload.with_name(f"{upload.name}.{kind}")
            unfinished.write_bytes(data)  # made anew if lost, so not worth a flush
            os.replace(unfinished, self.path(photo.sha256, kind))
        with upload.open("rb") as file:
            os.fsync(file.fileno())
        os.replace(upload, target)
        with self._db.transaction() as db:
            db.execute(
                """
                INSERT INTO photo (sha256, photo, proxy_width) VALUES (:sha, :photo, :width)
                ON CONFLICT (sha256) DO UPDATE SET proxy_width = excluded.proxy_width
                """,
                {"sha": photo.sha256, "photo": photo.model_dump_json(), "width": proxy_width},
            )
        self._known[photo.sha256] = photo, proxy_width
        if self.found(photo.sha256) is None:
            self._unseen.add(photo.sha256)

    def found(self, sha256: str) -> Found | None:
        """What the machine found in a photo; None until it has looked."""
        if sha256 in self._unseen:
            return None
        if sha256 not in self._found:
            with self._db.reading() as db:
                row = db.execute("SELECT found FROM photo WHERE sha256 = :sha", {"sha": sha256}).fetchone()
            if row is None or row["found"] is None:
                return None
            self._found[sha256] = Found.model_validate_json(row["found"])
        return self._found[sha256]

    def keep_found(self, sha256: str, found: Found) -> None:
        """Records what the machine found in a photo."""
        with self._db.transaction() as db:
            db.execute(
                "UPDATE photo SET found = :found WHERE sha256 = :sha", {"sha": sha256, "found": found.model_dump_json()}
            )
        self._found[sha256] = found
        self._unseen.discard(sha256)

    def unseen(self) -> list[str]:
        """sha256 of the photos that the machine has not looked at, the first brought in first."""
        with self._db.reading() as db:
            return [row["sha256"] for row in db.execute("SELECT sha256 FROM photo WHERE found IS NULL ORDER BY rowid")]

    def informed(self, job: Job) -> Job:
        """The job with what has been found in its photos since it was stored. A fact, not an edit: nothing to undo."""
        news = {p.id: found for p in job.photos if p.found is None and (found := self.found(p.sha256))}
        if not news:
            return job
        return job.having(photos=tuple(p.having(found=news[p.id]) if p.id in news else p for p in job.photos))

    def proxy(self, photo: Photo) -> tuple[Path, float] | None:
        """Path of a photo's proxy and its share of the full size, for painting."""
        known = self.known(photo.sha256)
        path = self.path(photo.sha256, "proxy")
        return (path, known[1] / photo.width) if known and path.exists() else None
