"""Jobs and their revisions: each edit is stored as a new revision before it is acknowledged; undo and redo move the head."""

import secrets
import threading
import zlib
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime

from ..core.document import Job
from ..core.errors import EditRefused, NotFound
from .database import Database


@dataclass(frozen=True)
class Listed:
    """A job as a list shows it."""

    id: str
    name: str
    customer: str
    template: str
    head: int
    created: str
    changed: str


@dataclass(frozen=True)
class Head:
    """Where a job stands: its revision, its document, what undo would take back and redo bring again ("" for nothing)."""

    id: str
    revision: int
    job: Job
    undo: str
    redo: str


def now() -> str:
    """The time, UTC, ISO 8601."""
    return datetime.now(UTC).isoformat(timespec="milliseconds")


class Jobs:
    """The tables ``job`` and ``revision``."""

    def __init__(self, database: Database, informed: Callable[[Job], Job] = lambda job: job) -> None:
        """``informed`` adds to a job what has become known of its photos since it was stored."""
        self._db, self._informed = database, informed
        self._documents: OrderedDict[tuple[str, int], Job] = OrderedDict()
        self._lock = threading.Lock()

    def all(self) -> list[Listed]:
        """Jobs, the last changed first."""
        with self._db.reading() as db:
            rows = db.execute(
                "SELECT id, name, customer, template, head, created, changed FROM job ORDER BY changed DESC, id"
            ).fetchall()
        return [Listed(**dict(row)) for row in rows]

    def create(self, job: Job, label: str = "start the job") -> str:
        """Stores a new job; its id."""
        identity = secrets.token_hex(6)
        stamp = now()
        with self._db.transaction() as db:
            db.execute(
                """
                INSERT INTO job (id, name, customer, template, head, created, changed)
                VALUES (:id, :name, :customer, :template, 1, :stamp, :stamp)
                """,
                {"id": identity, "name": job.name, "customer": job.customer, "template": job.template, "stamp": stamp},
            )
            self._insert(db, identity, 1, None, label, None, stamp, job)
        return identity

    def _insert(
        self,
        db: object,
        identity: str,
        number: int,
        parent: int | None,
        label: str,
        gesture: str | None,
        stamp: str,
        job: Job,
    ) -> None:
        db.execute(  # type: ignore[attr-defined]
            """
            INSERT INTO revision (job, number, parent, label, gesture, made, document)
            VALUES (:job, :number, :parent, :label, :gesture, :made, :document)
            """,
            {
                "job": identity, "number": number, "parent": parent, "label": label, "gesture": gesture, "made": stamp,
                "document": zlib.compress(job.model_dump_json().encode(), 1),
            },
        )  # fmt: skip
        self._keep(identity, number, job)

    def _keep(self, identity: str, number: int, job: Job) -> None:
        with self._lock:
            self._documents[identity, number] = job
            while len(self._documents) > 64:
                self._documents.popitem(last=False)

    def revision(self, identity: str, number: int) -> Job:
        """The document at a revision. Raises NotFound."""
        with self._lock:
            if (identity, number) in self._documents:
                self._documents.move_to_end((identity, number))
                return self._documents[identity, number]
        with self._db.reading() as db:
            row = db.execute(
                "SELECT document FROM revision WHERE job = :job AND number = :number",
                {"job": identity, "number": number},
            ).fetchone()
        if row is None:
            raise NotFound("This job, or this state of it, does not exist.", "Choose a job on the shelf.")
        job = Job.model_validate_json(zlib.decompress(row["document"]))
        self._keep(identity, number, job)
        return job

    def head(self, identity: str) -> Head:
        """Where the job stands. Raises NotFound."""
        with self._db.reading() as db:
            row = db.execute(
                """
                SELECT job.head, here.parent, here.label,
                       (SELECT label FROM revision AS next WHERE next.job = job.id AND next.parent = job.head
                        ORDER BY next.number DESC LIMIT 1) AS redo
                FROM job JOIN revision AS here ON here.job = job.id AND here.number = job.head
                WHERE job.id = :id
                """,
                {"id": identity},
            ).fetchone()
        if row is None:
            raise NotFound("There is no such job.", "Choose a job on the shelf.")
        undo = row["label"] if row["parent"] is not None else ""
        job = self._informed(self.revision(identity, row["head"]))
        return Head(identity, row["head"], job, undo, row["redo"] or "")

    def edit(self, identity: str, change: Callable[[Job], tuple[Job, str]], gesture: str | None = None) -> Head:
        """Stores the revision that ``change`` makes of the job's head; it returns the new document and a label.

        Edits of one ``gesture`` (a run of key presses, one import) are undone together. Raises what ``change`` raises;
        then nothing has changed.
        """
        with self._db.transaction() as db:
            here = self.head(identity)
            job, label = change(here.job)
            if job == here.job:
                return here
            number = db.execute("SELECT max(number) + 1 FROM revision WHERE job = :job", {"job": identity}).fetchone()[
                0
            ]
            stamp = now()
            self._insert(db, identity, number, here.revision, label, gesture, stamp, job)
            db.execute(
                """
                UPDATE job SET head = :head, name = :name, customer = :customer, changed = :stamp WHERE id = :id
                """,
                {"head": number, "name": job.name, "customer": job.customer, "stamp": stamp, "id": identity},
            )
        return Head(identity, number, job, label, "")

    def undo(self, identity: str) -> Head:
        """Takes back the last edit, or the whole gesture it belongs to. Raises EditRefused when there is none."""
        return self._move(
            identity, "There is nothing to undo.",
            """
            WITH RECURSIVE back (number, parent, gesture) AS (
              SELECT number, parent, gesture FROM revision WHERE job = :job AND number = :head
              UNION ALL
              SELECT r.number, r.parent, r.gesture FROM revision AS r JOIN back ON r.number = back.parent
              WHERE r.job = :job AND r.gesture = back.gesture
            )
            SELECT min(parent) FROM back
            """,
        )  # fmt: skip

    def redo(self, identity: str) -> Head:
        """Brings back what was undone last, with its whole gesture. Raises EditRefused when there is nothing."""
        return self._move(
            identity, "There is nothing to redo.",
            """
            WITH RECURSIVE next (number, gesture) AS (
              SELECT number, gesture FROM revision WHERE job = :job
              AND number = (SELECT max(number) FROM revision WHERE job = :job AND parent = :head)
              UNION ALL
              SELECT r.number, r.gesture FROM revision AS r JOIN next ON r.parent = next.number
              WHERE r.job = :job AND r.gesture = next.gesture
            )
            SELECT max(number) FROM next
            """,
        )  # fmt: skip

    def _move(self, identity: str, nothing: str, sql: str) -> Head:
        with self._db.transaction() as db:
            here = self.head(identity)
            target = db.execute(sql, {"job": identity, "head": here.revision}).fetchone()[0]
            if target is None:
                raise EditRefused(nothing)
            job = self.revision(identity, target)
            db.execute(
                "UPDATE job SET head = :head, name = :name, customer = :customer, changed = :stamp WHERE id = :id",
                {"head": target, "name": job.name, "customer": job.customer, "stamp": now(), "id": identity},
            )
            return self.head(identity)
