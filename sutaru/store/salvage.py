"""What can still be read of a damaged database, saved into a sound one.

A table is read in ranges of its key; a range that cannot be read is halved, so that only what lies on damaged pages is missed.
Then all pages are gone through for rows that no table leads to any more. Parts, drawings and photos are believed only when
their content fits their name.
"""

import hashlib
import json
import shutil
import sqlite3
import time
import zlib
from collections.abc import Callable, Iterator
from contextlib import closing
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from pydantic import BaseModel, ValidationError

from ..core.books.plan import LayoutStyle
from ..core.document import LabSheet, Photo, Recipe, StudioCard, Template, name_of
from ..core.ordering import Order
from .pages import records

SECONDS = 600.0  # that reading a damaged database may take
FAILURES = 60_000  # ranges of one table that cannot be read, before the rest of it is given up
_JOB_COLUMNS = 7  # of a job's row at first
ERRORS = (sqlite3.Error, UnicodeDecodeError)  # what is said of damage may name what is damaged
_HEX = "0123456789abcdef"
Row = dict[str, Any]


@dataclass
class Saved:
    """How many rows of each table could be read, and the ids of jobs that are known of but of which no state could be."""

    read: dict[str, int] = field(default_factory=dict)
    lost_jobs: list[str] = field(default_factory=list)


def open_damaged(path: Path, scratch: Path, like: Path | None) -> sqlite3.Connection | None:
    """A copy of a damaged database in ``scratch``, opened; None when not even its tables are known.

    ``like``: a sound database of the same making, whose first page says where tables begin when that page is damaged.
    """
    scratch.mkdir(parents=True, exist_ok=True)
    copy = scratch / "read.sqlite3"
    for suffix in ("", "-wal"):
        copy.with_name(copy.name + suffix).unlink(missing_ok=True)
        if (source := path.with_name(path.name + suffix)).exists():
            shutil.copyfile(source, copy.with_name(copy.name + suffix))
    opened = _open_database(copy)
    if opened is None and like is not None:
        _borrow_first_page(copy, like)
        opened = _open_database(copy)
    return opened


def _open_database(path: Path) -> sqlite3.Connection | None:
    db = sqlite3.connect(path, isolation_level=None)
    db.row_factory = sqlite3.Row
    db.text_factory = lambda data: data.decode("utf-8", "replace")
    end = time.monotonic() + SECONDS
    db.set_progress_handler(lambda: int(time.monotonic() > end), 200_000)
    try:
        db.execute("PRAGMA query_only = ON")
        tables = {row["name"] for row in db.execute("SELECT name FROM sqlite_schema WHERE type = 'table'")}
    except ERRORS:
        db.close()
        return None
    if not {"job", "state", "part"} <= tables:
        db.close()
        return None
    return db


def _borrow_first_page(path: Path, like: Path) -> None:
    """Puts a sound database's first page (its header and schema) into a damaged one. What the header says of the file's size is
    marked as not to be believed (SQLite file format, 1.3.7 and 1.3.19)."""
    with like.open("rb") as file:
        header = file.read(100)
        size = int.from_bytes(header[16:18], "big")
        page = bytearray(header + file.read((65536 if size == 1 else size) - 100))
    page[92:96] = bytes(4)  # "version-valid-for" unlike the change counter
    page[24:28] = b"\0\0\0\1"
    with path.open("r+b") as file:
        file.write(page)
    path.with_name(path.name + "-wal").unlink(missing_ok=True)


def save(source: sqlite3.Connection | None, pages: bytes, target: sqlite3.Connection) -> Saved:
    """Save all rows that can be read into a database of this version; what is there already stays, unless it is older.

    ``source``: the damaged database, where it can be opened at all; ``pages``: its file. The caller holds a transaction on
    ``target``, with foreign keys deferred.
    """
    saved = Saved()
    loose = _loose_rows(pages, target)
    for table, keep in _TABLES.items():
        count = 0
        for row in (*(_readable(source, table) if source else ()), *loose.get(table, ())):
            fits = _FITS.get(table)
            if fits is None or fits(row):
                count += 1
                keep(target, table, row)
        saved.read[table] = count
    known = _list_known_jobs(source) if source else set()
    known |= {str(row["job"]) for row in (*loose["state"], *loose["in_pile"])}
    saved.lost_jobs = _mend_jobs(target, known)
    return saved


def _loose_rows(pages: bytes, target: sqlite3.Connection) -> dict[str, list[Row]]:
    """Rows that lie on the pages of a file, by the tables whose they can be."""
    shapes = {}
    for table in _TABLES:
        columns = [entry[1] for entry in target.execute(f"PRAGMA table_info({table})")]
        sql = target.execute("SELECT sql FROM sqlite_schema WHERE name = ?", [table]).fetchone()[0]
        shapes[table] = columns, "WITHOUT ROWID" in sql
    rows: dict[str, list[Row]] = {table: [] for table in _TABLES}
    for record in records(pages):
        for table, (columns, in_index) in shapes.items():
            count = len(record.values)
            # Columns that a table was given later are not stored in rows of before.
            enough = count == len(columns) or (table == "job" and _JOB_COLUMNS <= count <= len(columns))
            if in_index != record.in_index or not enough or table not in _FITS:
                continue
            row = dict(zip(columns, record.values, strict=False))
            try:
                if _FITS[table](row):
                    rows[table].append(row)
            except (TypeError, KeyError, ValueError):
                continue
    return rows


# --- Reading ---------------------------------------------------------------------------------------------------------


def _readable(db: sqlite3.Connection, table: str) -> Iterator[Row]:
    """The rows of a table that can be read."""
    try:
        columns = {row["name"]: row["pk"] for row in db.execute(f"PRAGMA table_info({table})")}
        without_rowid = "WITHOUT ROWID" in str(
            db.execute("SELECT sql FROM sqlite_schema WHERE name = ?", [table]).fetchone()["sql"]
        )
    except (*ERRORS, TypeError):
        return
    if not columns:
        return
    key = min((name for name, pk in columns.items() if pk), key=lambda name: columns[name], default="rowid")
    ranges = _rows_by_text(db, table, key) if without_rowid else _rows_by_number(db, table)
    for row in ranges:
        yield {("checksum" if name == "sha256" and table == "photo" else name): row[name] for name in row.keys()}  # noqa: SIM118


def _rows_by_number(db: sqlite3.Connection, table: str) -> Iterator[sqlite3.Row]:
    """Rows by their numbers, in ranges."""
    left, todo = FAILURES, [(-1, 1 << 40)]
    while todo:
        low, high = todo.pop()
        try:
            yield from db.execute(
                f"SELECT * FROM {table} NOT INDEXED WHERE rowid BETWEEN ? AND ?", [low, high]
            ).fetchall()
        except ERRORS:
            left -= 1
            if left <= 0:
                return
            if low < high:
                middle = (low + high) // 2
                todo += [(middle + 1, high), (low, middle)]


def _rows_by_text(db: sqlite3.Connection, table: str, key: str) -> Iterator[sqlite3.Row]:
    """Rows by their keys, which are words of hexadecimal digits, or letters: by how these begin."""
    left, todo = FAILURES, [""]
    while todo:
        start = todo.pop()
        try:
            yield from db.execute(
                f"SELECT * FROM {table} WHERE {key} >= ? AND {key} < ?", [start, start + "\U0010ffff"]
            ).fetchall()
            continue
        except ERRORS:
            left -= 1
        if left <= 0:
            return
        if len(start) < 12:
            todo += [start + digit for digit in (*_HEX, *("ghijklmnopqrstuvwxyz-" if "template" in table else ""))]
        else:
            yield from _rows_from_both_ends(db, table, key, start)


def _rows_from_both_ends(db: sqlite3.Connection, table: str, key: str, start: str) -> Iterator[sqlite3.Row]:
    """Rows that begin alike, from the first and from the last on, as far as they can be read."""
    seen: set[tuple[Any, ...]] = set()
    for way in ("ASC", "DESC"):
        try:
            second = ", number" if table == "state" else ", photo" if table == "in_pile" else ""
            order = f"{key} {way}{second + ' ' + way if second else ''}"
            for row in db.execute(
                f"SELECT * FROM {table} WHERE {key} >= ? AND {key} < ? ORDER BY {order}", [start, start + "\U0010ffff"]
            ):
                if tuple(row) not in seen:
                    seen.add(tuple(row))
                    yield row
        except ERRORS:
            continue


def _list_known_jobs(db: sqlite3.Connection) -> set[str]:
    """Ids of jobs that anything still tells of: the index of ids, states, piles."""
    ids: set[str] = set()
    for sql in (
        "SELECT id FROM job INDEXED BY sqlite_autoindex_job_1 WHERE id > ''",
        "SELECT id FROM job NOT INDEXED",
        "SELECT DISTINCT job AS id FROM state",
        "SELECT DISTINCT job AS id FROM in_pile",
    ):
        try:
            for row in db.execute(sql):
                ids.add(row["id"])
        except ERRORS:
            continue
    return {identity for identity in ids if isinstance(identity, str) and _is_hex(identity, 12)}


# --- What fits its name ----------------------------------------------------------------------------------------------


def _is_hex(value: object, letters: int) -> bool:
    return isinstance(value, str) and len(value) == letters and not set(value) - set(_HEX)


def _is_whole_part(row: Row) -> bool:
    try:
        return bool(name_of(zlib.decompress(row["data"])) == row["name"])
    except (zlib.error, TypeError):
        return False


def _is_whole_asset(row: Row) -> bool:
    return isinstance(row["data"], bytes) and hashlib.sha256(row["data"]).hexdigest() == row["sha256"]


def _is_whole_photo(row: Row) -> bool:
    try:
        return bool(Photo.model_validate_json(row["photo"]).checksum == row["checksum"])
    except (ValidationError, TypeError):
        return False


def _is_whole_state(row: Row) -> bool:
    numbers = isinstance(row["number"], int) and (row["parent"] is None or isinstance(row["parent"], int))
    return numbers and _is_hex(row["job"], 12) and _is_hex(row["root"], 32) and isinstance(row["label"], str)


def _is_whole_job(row: Row) -> bool:
    texts = all(isinstance(row.get(name), str) for name in ("name", "customer", "template", "created", "changed"))
    return texts and _is_hex(row["id"], 12) and isinstance(row["head"], int) and isinstance(row.get("seq", 1), int)


def _is_json(*names: str) -> Callable[[Row], bool]:
    def fits(row: Row) -> bool:
        try:
            for name in names:
                if row[name] is not None:
                    json.loads(row[name])
        except (ValueError, TypeError):
            return False
        return True

    return fits


def _is_model(model: type[BaseModel]) -> Callable[[Row], bool]:
    def fits(row: Row) -> bool:
        try:
            model.model_validate_json(row["document"])
        except (ValidationError, TypeError):
            return False
        return True

    return fits


_FITS: dict[str, Callable[[Row], bool]] = {
    "part": _is_whole_part, "asset": _is_whole_asset, "photo": _is_whole_photo, "state": _is_whole_state, "job": _is_whole_job,
    "in_pile": lambda row: _is_hex(row["job"], 12) and _is_hex(row["photo"], 16),
    "before": lambda row: _is_hex(row["checksum"], 64),
    "task": _is_json("asked", "outcome"), "template": _is_model(Template), "studio_card": _is_model(StudioCard),
    "print_order": _is_model(Order), "lab_sheet": _is_model(LabSheet), "recipe": _is_model(Recipe),
    "layout_style": _is_model(LayoutStyle),
}  # fmt: skip


# --- Keeping ---------------------------------------------------------------------------------------------------------


def _insert(db: sqlite3.Connection, table: str, row: Row, otherwise: str = "IGNORE") -> int:
    known = {entry[1] for entry in db.execute(f"PRAGMA table_info({table})")}
    names = [name for name in row if name in known]
    marks = ", ".join("?" * len(names))
    try:
        done = db.execute(
            f"INSERT OR {otherwise} INTO {table} ({', '.join(names)}) VALUES ({marks})", [row[name] for name in names]
        )
    except ERRORS:  # a value that the table does not take
        return 0
    return max(0, done.rowcount)


def _replace_older(db: sqlite3.Connection, table: str, row: Row) -> int:
    """Kept in place of what is there: the damaged database went on after its copy was made."""
    return _insert(db, table, row, "REPLACE")


def _replace_older_job(db: sqlite3.Connection, table: str, row: Row) -> int:
    here = db.execute("SELECT seq FROM job WHERE id = ?", [row["id"]]).fetchone()
    return _insert(db, table, row, "REPLACE") if here is None or here[0] < row.get("seq", 1) else 0


def _better_photo(db: sqlite3.Connection, table: str, row: Row) -> int:
    here = db.execute("SELECT proxy_width, found FROM photo WHERE checksum = ?", [row["checksum"]]).fetchone()
    less = here is not None and (here[0] or 0) >= (row["proxy_width"] or 0) and (here[1] or not row["found"])
    return 0 if less else _insert(db, table, row, "REPLACE")


_TABLES: dict[str, Callable[[sqlite3.Connection, str, Row], int]] = {
    "part": _insert, "asset": _insert, "photo": _better_photo, "before": _insert, "job": _replace_older_job, "state": _insert,
    "in_pile": _insert, "task": _replace_older, "template": _insert, "template_away": _insert, "favourite": _insert,
    "studio_card": _replace_older,
    "print_order": _replace_older, "lab_sheet": _replace_older, "recipe": _replace_older,
    "layout_style": _replace_older, "proof_link": _insert,
}  # fmt: skip


# --- Putting together ------------------------------------------------------------------------------------------------


def _mend_jobs(db: sqlite3.Connection, known: set[str]) -> list[str]:
    """Has each job stand at a state that is there, makes a row for those that have states and none, and takes away what tells of
    jobs that are not there; ids of jobs that are known of and lost."""
    db.execute("DELETE FROM state WHERE root NOT IN (SELECT name FROM part)")
    db.execute(
        """
        UPDATE state SET parent = NULL WHERE parent IS NOT NULL
        AND NOT EXISTS (SELECT 1 FROM state AS p WHERE p.job = state.job AND p.number = state.parent)
        """
    )
    missing = db.execute("SELECT DISTINCT job FROM state WHERE job NOT IN (SELECT id FROM job)").fetchall()
    for (identity,) in missing:
        _make_row(db, identity)
    db.execute(
        """
        UPDATE job SET head = (SELECT max(number) FROM state WHERE state.job = job.id), seq = seq + 1
        WHERE NOT EXISTS (SELECT 1 FROM state WHERE state.job = job.id AND state.number = job.head)
          AND EXISTS (SELECT 1 FROM state WHERE state.job = job.id)
        """
    )
    gone = {identity for (identity,) in db.execute("SELECT id FROM job WHERE id NOT IN (SELECT job FROM state)")}
    db.executemany("DELETE FROM job WHERE id = ?", [(identity,) for identity in gone])
    for table in ("in_pile", "task"):
        db.execute(f"DELETE FROM {table} WHERE job NOT IN (SELECT id FROM job)")
    job_ids = {identity for (identity,) in db.execute("SELECT id FROM job")}
    return sorted((known | gone) - job_ids)


def _make_row(db: sqlite3.Connection, identity: str) -> None:
    """A job's row out of its newest state, when the row itself could not be read."""
    number, made_at, data = db.execute(
        """
        SELECT number, made, data FROM state JOIN part ON part.name = state.root
        WHERE job = ? ORDER BY number DESC LIMIT 1
        """,
        [identity],
    ).fetchone()
    fields = json.loads(zlib.decompress(data))
    db.execute(
        """
        INSERT INTO job (id, name, customer, order_number, template, head, created, changed, making)
        VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)
        """,
        [identity, fields.get("name", identity), fields.get("customer", ""), fields.get("order_number", ""),
         fields.get("template", ""), number, made_at, made_at, bool(fields.get("making"))],
    )  # fmt: skip


def count_jobs(path: Path) -> int:
    """How many jobs a sound database holds that nobody writes to; 0 when it cannot be read."""
    try:
        with closing(sqlite3.connect(f"{path.absolute().as_uri()}?immutable=1", uri=True)) as db:
            return int(db.execute("SELECT count(*) FROM job").fetchone()[0])
    except ERRORS:
        return 0
