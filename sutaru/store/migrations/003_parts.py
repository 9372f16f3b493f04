"""Jobs as parts: every stored revision is brought to the second shape of the document, and kept as the name of its root."""

import json
import sqlite3
import zlib

from ...core.document import Job, Photo, parts
from ...core.formats.upgrading import upgrade_job

TABLES = """
CREATE TABLE part (
  name TEXT PRIMARY KEY,
  data BLOB NOT NULL
) WITHOUT ROWID;

CREATE TABLE asset (
  sha256 TEXT PRIMARY KEY,
  data   BLOB NOT NULL
);

CREATE TABLE state (
  job     TEXT NOT NULL REFERENCES job (id),
  number  INTEGER NOT NULL,
  parent  INTEGER,
  root    TEXT NOT NULL REFERENCES part (name),
  label   TEXT NOT NULL,
  gesture TEXT,
  made    TEXT NOT NULL,
  named   TEXT NOT NULL DEFAULT '',
  token   TEXT,
  PRIMARY KEY (job, number),
  FOREIGN KEY (job, parent) REFERENCES state (job, number)
) WITHOUT ROWID;

CREATE INDEX state_by_parent ON state (job, parent);
CREATE UNIQUE INDEX state_by_token ON state (job, token) WHERE token IS NOT NULL;
CREATE INDEX photo_by_id ON photo (substr(sha256, 1, 16));

CREATE TABLE in_pile (
  job   TEXT NOT NULL REFERENCES job (id),
  photo TEXT NOT NULL,
  name  TEXT NOT NULL,
  PRIMARY KEY (job, photo)
) WITHOUT ROWID;

CREATE TABLE task (
  id      TEXT PRIMARY KEY,
  kind    TEXT NOT NULL,
  job     TEXT NOT NULL REFERENCES job (id),
  asked   TEXT NOT NULL,
  state   TEXT NOT NULL CHECK (state IN ('queued', 'running', 'done', 'failed', 'stopped')),
  message TEXT NOT NULL DEFAULT '',
  outcome TEXT,
  made    TEXT NOT NULL,
  ended   TEXT
);

CREATE INDEX task_by_job ON task (job, made);

ALTER TABLE job ADD COLUMN seq INTEGER NOT NULL DEFAULT 1;
ALTER TABLE job ADD COLUMN order_number TEXT NOT NULL DEFAULT '';
ALTER TABLE job ADD COLUMN put_away TEXT;
ALTER TABLE job ADD COLUMN deleted TEXT;
ALTER TABLE job ADD COLUMN card TEXT;
CREATE INDEX job_by_change ON job (changed);
"""
OLD = """
INSERT INTO task (id, kind, job, asked, state, message, outcome, made, ended)
SELECT id, 'export', job, json_object('revision', revision, 'lab', lab, 'format', format, 'transparent', json('false')),
       state, message, manifest, made, made
FROM export;
DROP TABLE export;
DROP TABLE revision;
"""


def up(db: sqlite3.Connection) -> None:
    """Makes the tables and carries everything over; the caller's transaction holds it all."""
    for statement in TABLES.split(";"):
        if statement.strip():
            db.execute(statement)
    for row in db.execute("SELECT id, head FROM job").fetchall():
        _carry(db, row["id"], row["head"])
    for statement in OLD.split(";"):
        if statement.strip():
            db.execute(statement)


def _carry(db: sqlite3.Connection, job_id: str, head: int) -> None:
    numbers = [
        row["number"]
        for row in db.execute("SELECT number FROM revision WHERE job = :job ORDER BY number", {"job": job_id})
    ]
    for number in numbers:
        row = db.execute(
            "SELECT parent, label, gesture, made, document FROM revision WHERE job = :job AND number = :number",
            {"job": job_id, "number": number},
        ).fetchone()
        data, files = upgrade_job(json.loads(zlib.decompress(row["document"])))
        job = Job.model_validate(data)
        for name, content in files.items():
            db.execute(
                "INSERT OR IGNORE INTO asset (sha256, data) VALUES (:name, :data)", {"name": name, "data": content}
            )
        for photo in job.photos:
            _fact(db, photo)
            if number == head:
                db.execute(
                    "INSERT INTO in_pile (job, photo, name) VALUES (:job, :photo, :name)",
                    {"job": job_id, "photo": photo.id, "name": photo.name.lower()},
                )
        for part in parts(job):
            db.execute(
                "INSERT OR IGNORE INTO part (name, data) VALUES (:name, :data)",
                {"name": part.digest, "data": zlib.compress(part.pack())},
            )
        db.execute(
            """
            INSERT INTO state (job, number, parent, root, label, gesture, made)
            VALUES (:job, :number, :parent, :root, :label, :gesture, :made)
            """,
            {
                "job": job_id, "number": number, "parent": row["parent"], "root": job.digest, "label": row["label"],
                "gesture": row["gesture"], "made": row["made"],
            },
        )  # fmt: skip


def _fact(db: sqlite3.Connection, photo: Photo) -> None:
    plain = photo.copy_with(found=None, marked=None, already_worked=False)
    db.execute(
        "INSERT OR IGNORE INTO photo (sha256, photo, proxy_width, found) VALUES (:sha, :photo, 0, :found)",
        {
            "sha": photo.checksum, "photo": plain.model_dump_json(),
            "found": photo.found.model_dump_json() if photo.found else None,
        },
    )  # fmt: skip
