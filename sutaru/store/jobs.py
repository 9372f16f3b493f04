"""Jobs and their states: each edit is stored as a new state before it is acknowledged; undo and redo move the head.

A state is the name of a root part, so any of them loads without replay, and costs what changed. Edits are worked out with
nothing locked, and stored only if the head has not moved meanwhile; one that was overtaken is worked out again.
"""

import secrets
import sqlite3
import threading
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass
from itertools import takewhile

from ..core.document import Job, read_back, unpack_job
from ..core.errors import EditRefused, FileRefused, NotFound, SutaruError
from .database import Database
from .job_list import JobList
from .parts import Parts
from .photos import Photos
from .times import now

KEPT_JOBS = 64


@dataclass(frozen=True)
class Head:
    """Where a job stands. ``seq`` rises with each move of the head, undo included; undo and redo are labels, "" for none."""

    id: str
    seq: int
    number: int
    root: str
    job: Job
    undo: str
    redo: str


@dataclass(frozen=True)
class State:
    """One state that a job was in, as its history shows it."""

    number: int
    parent: int | None
    label: str
    gesture: str | None
    made: str
    named: str


Change = Callable[[Job], tuple[Job, str]]
Target = Callable[[sqlite3.Connection, int, int | None], int | None]  # where to, from the head and the tip


class Jobs(JobList):
    """The tables ``job``, ``state`` and ``in_pile``."""

    def __init__(self, database: Database, parts: Parts, photos: Photos) -> None:
        super().__init__(database)
        self._parts, self._photos = parts, photos
        self._loaded: OrderedDict[str, tuple[int, Job]] = OrderedDict()  # by root, with what was known of photos then
        self._lock = threading.Lock()

    # States

    def create(self, job: Job, label: str = "start the job", identity: str = "") -> str:
        """Stores a new job; its id, which is made up unless it is given."""
        identity, stamp = identity or secrets.token_hex(6), now()
        job, fresh = read_back(job, None)
        packed = Parts.pack(fresh)
        with self._db.transaction() as db:
            db.execute(
                """
                INSERT INTO job (id, name, customer, order_number, template, head, tip, created, changed, making)
                VALUES (:id, :name, :customer, :number, :template, 1, 1, :stamp, :stamp, :making)
                """,
                {"id": identity, "name": job.name, "customer": job.customer, "number": job.order_number,
                 "template": job.template, "stamp": stamp, "making": job.making is not None},
            )  # fmt: skip
            self._insert(db, identity, 1, None, label, None, stamp, job, None, packed)
        self._add_facts(job)
        return identity

    def _insert(
        self, db: sqlite3.Connection, identity: str, number: int, parent: int | None, label: str, gesture: str | None,
        stamp: str, job: Job, before: Job | None, packed: list[tuple[str, bytes]], token: str | None = None,
    ) -> None:  # fmt: skip
        Parts.add(db, packed)
        if before is None or job.pile is not before.pile:
            self._keep_pile(db, identity, job, before)
        db.execute(
            """
            INSERT INTO state (job, number, parent, root, label, gesture, made, token)
            VALUES (:job, :number, :parent, :root, :label, :gesture, :made, :token)
            """,
            {"job": identity, "number": number, "parent": parent, "root": job.digest, "label": label,
             "gesture": gesture, "made": stamp, "token": token},
        )  # fmt: skip

    def _keep_pile(self, db: sqlite3.Connection, identity: str, job: Job, before: Job | None) -> None:
        """Records facts of photos that are new, and which photos a search finds the job by."""
        old = before.pile.by_id if before else {}
        fresh = [photo for photo in job.photos if photo.id not in old]
        self._photos.note(db, fresh)
        db.executemany(
            "INSERT OR IGNORE INTO in_pile (job, photo, name) VALUES (:job, :photo, :name)",
            [{"job": identity, "photo": photo.id, "name": photo.name.lower()} for photo in fresh],
        )
        db.executemany(
            "DELETE FROM in_pile WHERE job = :job AND photo = :photo",
            [{"job": identity, "photo": photo} for photo in old.keys() - job.pile.by_id.keys()],
        )

    def _add_facts(self, job: Job) -> Job:
        """The job with what is known of its photos by now, kept at hand."""
        count = self._photos.found_count  # before looking: what is found meanwhile is looked up the next time
        job = self._photos.add_found(job)
        with self._lock:
            self._loaded[job.digest] = count, job
            self._loaded.move_to_end(job.digest)
            while len(self._loaded) > KEPT_JOBS:
                self._loaded.popitem(last=False)
        return job

    def _load(self, root: str) -> Job:
        with self._lock:
            known, job = self._loaded.get(root, (-1, None))
        if job is None:
            try:
                job = unpack_job(root, self._parts.fetch, self._photos.facts, self._parts.kept)
            except (ValueError, KeyError, TypeError) as error:
                raise FileRefused(
                    "A part of this job cannot be understood.", "Go back to an earlier state of it."
                ) from error
        elif known == self._photos.found_count:
            return job
        return self._add_facts(job)

    def find_in_memory(self, root: str) -> Job | None:
        """A state by its root, if it is in memory."""
        with self._lock:
            return self._loaded.get(root, (0, None))[1]

    def get_state(self, identity: str, number: int) -> Job:
        """The job as it was in a state. Raises NotFound."""
        with self._db.reading() as db:
            row = db.execute(
                "SELECT root FROM state WHERE job = :job AND number = :number", {"job": identity, "number": number}
            ).fetchone()
        if row is None:
            raise NotFound("This job, or this state of it, does not exist.", "Choose a job on the shelf.")
        return self._load(row["root"])

    def head(self, identity: str) -> Head:
        """Where the job stands. Raises NotFound."""
        with self._db.reading() as db:
            return self._head(db, identity)

    def _head(self, db: sqlite3.Connection, identity: str) -> Head:
        row = db.execute(
            """
            SELECT job.head, job.seq, job.tip, here.parent, here.label, here.root
            FROM job JOIN state AS here ON here.job = job.id AND here.number = job.head
            WHERE job.id = :id
            """,
            {"id": identity},
        ).fetchone()
        if row is None:
            raise NotFound("This job was not found.", "It may have been deleted: look under Deleted on the shelf.")
        undo = row["label"] if row["parent"] is not None else ""
        job = self._load(row["root"])
        undone = _list_undone(db, identity, row["head"], row["tip"])
        redo = undone[0]["label"] if undone else ""
        return Head(identity, row["seq"], row["head"], row["root"], job, undo, redo)

    def edit(self, identity: str, change: Change, gesture: str | None = None, token: str | None = None) -> Head:
        """Stores the state that ``change`` makes of the job's head; it returns the new job and a label.

        An edit whose ``token`` was stored before is not done again: its answer got lost, not the edit.

        ``change`` runs with nothing locked, and again when another change came first. Edits of one ``gesture`` (a run of
        key presses, one import) are undone together. Raises what ``change`` raises; then nothing has changed.
        """
        while True:
            head_now = self.head(identity)
            if token and self._has(identity, token):
                return head_now
            job, label = change(head_now.job)
            if job is head_now.job or job.digest == head_now.root:
                if self._seq(identity) == head_now.seq:
                    return head_now
                continue  # nothing to change on what was there: it may be another matter on what is there now
            job, fresh = read_back(job, head_now.job)
            packed = Parts.pack(fresh)
            stamp = now()
            with self._db.transaction() as db:
                seq, number = db.execute(
                    "SELECT seq, (SELECT max(number) + 1 FROM state WHERE job = :id) FROM job WHERE id = :id",
                    {"id": identity},
                ).fetchone()
                if seq != head_now.seq:
                    continue  # overtaken: worked out again on what is there now
                self._insert(
                    db, identity, number, head_now.number, label, gesture, stamp, job, head_now.job, packed, token
                )
                self._move_head(db, identity, number, job, stamp, tip=number)
            return Head(identity, seq + 1, number, job.digest, self._add_facts(job), label, "")

    def _seq(self, identity: str) -> int:
        with self._db.reading() as db:
            return int(db.execute("SELECT seq FROM job WHERE id = :id", {"id": identity}).fetchone()["seq"])

    def _has(self, identity: str, token: str) -> bool:
        with self._db.reading() as db:
            row = db.execute(
                "SELECT 1 FROM state WHERE job = :job AND token = :token", {"job": identity, "token": token}
            ).fetchone()
        return row is not None

    @staticmethod
    def _move_head(
        db: sqlite3.Connection, identity: str, number: int, job: Job, stamp: str, tip: int | None
    ) -> None:  # fmt: skip
        db.execute(
            """
            UPDATE job SET head = :head, tip = :tip, seq = seq + 1, name = :name, customer = :customer, order_number = :order,
                           changed = :stamp
            WHERE id = :id
            """,
            {"head": number, "tip": tip, "name": job.name, "customer": job.customer, "order": job.order_number,
             "stamp": stamp, "id": identity},
        )  # fmt: skip

    def undo(self, identity: str, seq: int | None = None) -> Head:
        """Takes back the last edit, or the whole gesture it belongs to. Raises EditRefused when there is none, or when
        the job is not any more as it was at ``seq``."""

        def target(db: sqlite3.Connection, head: int, tip: int | None) -> int | None:
            number: int | None = db.execute(
                """
                WITH RECURSIVE back (number, parent, gesture) AS (
                  SELECT number, parent, gesture FROM state WHERE job = :job AND number = :head
                  UNION ALL
                  SELECT s.number, s.parent, s.gesture FROM state AS s JOIN back ON s.number = back.parent
                  WHERE s.job = :job AND s.gesture = back.gesture
                )
                SELECT min(parent) FROM back
                """,
                {"job": identity, "head": head},
            ).fetchone()[0]
            return number

        return self._move(identity, "There is nothing to undo.", target, seq)

    def redo(self, identity: str, seq: int | None = None) -> Head:
        """Brings back what was undone last, with its whole gesture. Raises EditRefused as ``undo`` does."""

        def target(db: sqlite3.Connection, head: int, tip: int | None) -> int | None:
            undone = _list_undone(db, identity, head, tip)
            if not undone:
                return None
            gesture = undone[0]["gesture"]
            same = takewhile(lambda state: gesture is not None and state["gesture"] == gesture, undone[1:])
            return int([undone[0], *same][-1]["number"])

        return self._move(identity, "There is nothing to redo.", target, seq)

    def go_to(self, identity: str, number: int) -> Head:
        """Goes to any state the job was ever in. What was done since stays in the history. Raises NotFound."""
        self.get_state(identity, number)
        return self._move(identity, "This state of the job was not found.", lambda db, head, tip: number)

    def _move(self, identity: str, nothing: str, target_of: Target, as_of: int | None = None) -> Head:
        """Moves the head. What was in front of it can be redone from wherever leads there; else nothing was undone."""
        while True:
            head_now = self.head(identity)
            if as_of is not None and head_now.seq != as_of:
                raise EditRefused("The job was changed meanwhile.", "Look at it as it is now, and try again.")
            with self._db.reading() as db:
                tip = db.execute("SELECT tip FROM job WHERE id = :id", {"id": identity}).fetchone()["tip"]
                target = target_of(db, head_now.number, tip)
            if target is None:
                raise EditRefused(nothing)
            if target == head_now.number:
                return head_now
            job = self.get_state(identity, target)
            with self._db.transaction() as db:
                seq = db.execute("SELECT seq FROM job WHERE id = :id", {"id": identity}).fetchone()["seq"]
                if seq != head_now.seq:
                    continue
                tip = _tip(db, identity, head_now.number, tip)
                self._move_head(
                    db, identity, target, job, now(), tip if _leads_to(db, identity, target, tip) else target
                )
                if job.pile is not head_now.job.pile:
                    self._keep_pile(db, identity, job, head_now.job)
                return self._head(db, identity)

    def last_good(self, identity: str, works: Callable[[Job], object]) -> Head:
        """Goes to the newest state that can be read, and that ``works`` has nothing against: of those that led to where
        the job stands, else of the others. What came after stays in the history. Raises NotFound, and FileRefused when
        there is none."""
        self.get_listed(identity)
        with self._db.reading() as db:
            rows = db.execute("SELECT number FROM state WHERE job = :job", {"job": identity}).fetchall()
        line = self.line(identity)
        for number in sorted((row["number"] for row in rows), key=lambda n: (n in line, n), reverse=True):
            try:
                job = self.get_state(identity, number)
                works(job)
            except SutaruError:
                continue
            with self._db.transaction() as db:
                self._move_head(db, identity, number, job, now(), tip=number)
                self._keep_pile(db, identity, job, None)
            return self.head(identity)
        raise FileRefused("No state of this job can be read any more.", "Bring in a bundle of it, if there is one.")

    def history(self, identity: str, limit: int = 200, before: int = 2**53) -> list[State]:
        """States of a job, the newest first, those with numbers below ``before``."""
        with self._db.reading() as db:
            rows = db.execute(
                """
                SELECT number, parent, label, gesture, made, named FROM state
                WHERE job = :job AND number < :before ORDER BY number DESC LIMIT :limit
                """,
                {"job": identity, "before": before, "limit": limit},
            ).fetchall()
        return [State(**dict(row)) for row in rows]

    def line(self, identity: str) -> set[int]:
        """Numbers of the states that led to where the job stands, that one included."""
        with self._db.reading() as db:
            rows = db.execute(
                """
                WITH RECURSIVE back (number, parent) AS (
                  SELECT number, parent FROM state WHERE job = :job AND number = (SELECT head FROM job WHERE id = :job)
                  UNION ALL
                  SELECT s.number, s.parent FROM state AS s JOIN back ON s.number = back.parent WHERE s.job = :job
                )
                SELECT number FROM back
                """,
                {"job": identity},
            ).fetchall()
        return {row["number"] for row in rows}

    def name_state(self, identity: str, number: int, name: str) -> None:
        """Gives a state a name, or takes it away with "". Raises NotFound."""
        with self._db.transaction() as db:
            done = db.execute(
                "UPDATE state SET named = :name WHERE job = :job AND number = :number",
                {"name": name, "job": identity, "number": number},
            )
            if done.rowcount == 0:
                raise NotFound("This job, or this state of it, does not exist.", "Choose one of the history.")


def _tip(db: sqlite3.Connection, identity: str, head: int, tip: int | None) -> int:
    """Up to where can be redone. Jobs of before went to the newest state that came of the head."""
    while tip is None:
        newest = db.execute(
            "SELECT max(number) FROM state WHERE job = :job AND parent = :head", {"job": identity, "head": head}
        ).fetchone()[0]
        if newest is None:
            return head
        head = newest
    return tip


def _list_undone(db: sqlite3.Connection, identity: str, head: int, tip: int | None) -> list[sqlite3.Row]:
    """The states that lead from the head to where can be redone, the next one first."""
    tip = _tip(db, identity, head, tip)
    if tip <= head:
        return []
    rows = db.execute(
        """
        WITH RECURSIVE up (number, parent, label, gesture) AS (
          SELECT number, parent, label, gesture FROM state WHERE job = :job AND number = :tip
          UNION ALL
          SELECT s.number, s.parent, s.label, s.gesture FROM state AS s JOIN up ON s.number = up.parent
          WHERE s.job = :job AND s.number > :head
        )
        SELECT number, parent, label, gesture FROM up ORDER BY number
        """,
        {"job": identity, "tip": tip, "head": head},
    ).fetchall()
    return rows if rows and rows[0]["parent"] == head else []


def _leads_to(db: sqlite3.Connection, identity: str, number: int, tip: int) -> bool:
    """Whether a state came of another one, or is it."""
    return number == tip or bool(_list_undone(db, identity, number, tip))
