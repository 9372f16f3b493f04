"""The tables ``part`` and ``asset``: parts of jobs, each stored once under the hash of its content; drawings and masks."""

import sqlite3
import threading
import zlib
from collections import OrderedDict
from collections.abc import Iterable, Iterator, MutableMapping
from hashlib import sha256

from ..core.document import Frozen
from ..core.errors import FileRefused, NotFound
from .database import Database

KEPT_BYTES = 6 << 20  # of stored JSON; as objects about ten times that
KEPT_ASSET_BYTES = 32 << 20


class KeptParts(MutableMapping[str, Frozen]):
    """Parts as objects, so that states and jobs share them; bounded by their stored size, the longest unused let go."""

    def __init__(self, most: int = KEPT_BYTES) -> None:
        self._most, self._held = most, 0
        self._values: OrderedDict[str, tuple[Frozen, int]] = OrderedDict()
        self._lock = threading.RLock()

    def __getitem__(self, name: str) -> Frozen:
        with self._lock:
            self._values.move_to_end(name)
            return self._values[name][0]

    def __setitem__(self, name: str, part: Frozen) -> None:
        weight = len(part.pack())
        with self._lock:
            self.pop(name, None)
            self._values[name] = part, weight
            self._held += weight
            while self._held > self._most and len(self._values) > 1:
                self._held -= self._values.popitem(last=False)[1][1]

    def __delitem__(self, name: str) -> None:
        with self._lock:
            self._held -= self._values.pop(name)[1]

    def __iter__(self) -> Iterator[str]:
        with self._lock:
            return iter(list(self._values))

    def __len__(self) -> int:
        return len(self._values)


class Parts:
    """What is stored under its content's name."""

    def __init__(self, database: Database) -> None:
        self._db = database
        self.kept = KeptParts()
        self._assets: OrderedDict[str, bytes] = OrderedDict()

    def fetch(self, name: str) -> bytes:
        """A stored part's JSON. Raises FileRefused when it is not there."""
        with self._db.reading() as db:
            row = db.execute("SELECT data FROM part WHERE name = :name", {"name": name}).fetchone()
        if row is None:
            raise FileRefused("A part of this job is missing on the disk.", "Go back to an earlier state of it.")
        try:
            return zlib.decompress(row["data"])
        except zlib.error:
            raise FileRefused(
                "A part of this job is damaged on the disk.", "Go back to an earlier state of it."
            ) from None

    @staticmethod
    def pack(parts: Iterable[Frozen]) -> list[tuple[str, bytes]]:
        """Parts ready to be stored: worked out before the database is held up."""
        return [(part.digest, zlib.compress(part.pack(), 6)) for part in parts]

    @staticmethod
    def add(db: sqlite3.Connection, packed: list[tuple[str, bytes]]) -> None:
        """Stores those that are not there yet."""
        db.executemany("INSERT OR IGNORE INTO part (name, data) VALUES (?, ?)", packed)

    def add_assets(self, files: Iterable[bytes]) -> None:
        """Stores drawings and masks under their sha256."""
        rows = [(sha256(content).hexdigest(), content) for content in files]
        if rows:
            with self._db.transaction() as db:
                db.executemany("INSERT OR IGNORE INTO asset (sha256, data) VALUES (?, ?)", rows)

    def has_asset(self, name: str) -> bool:
        """Whether a file of this sha256 is kept."""
        if name in self._assets:
            return True
        with self._db.reading() as db:
            return db.execute("SELECT 1 FROM asset WHERE sha256 = :name", {"name": name}).fetchone() is not None

    def asset(self, name: str) -> bytes:
        """A drawing or mask by its sha256. Raises NotFound."""
        content = self._assets.get(name)
        if content is None:
            with self._db.reading() as db:
                row = db.execute("SELECT data FROM asset WHERE sha256 = :name", {"name": name}).fetchone()
            if row is None:
                raise NotFound("A drawing or mask of this sheet is missing.", "Bring it in again.")
            content = bytes(row["data"])
            self._assets[name] = content
            while sum(map(len, self._assets.values())) > KEPT_ASSET_BYTES and len(self._assets) > 1:
                self._assets.popitem(last=False)
        return content
