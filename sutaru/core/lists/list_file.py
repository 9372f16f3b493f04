"""A list of customers from a file: CSV (comma, semicolon or tab) or XLSX (its first sheet, by openpyxl).

The first row names the columns. Cells come as people see them: a number without a needless ".0", a date as 2026-11-26.
"""

import csv
import io
import zipfile
from datetime import date, datetime
from typing import Annotated, Any

from pydantic import Field

from ..document.base import Frozen
from ..errors import FileRefused

MOST_BYTES, MOST_ROWS, MOST_COLUMNS, MOST_LETTERS = 4_000_000, 1000, 60, 5000
_MOST_UNPACKED = 60_000_000  # of an XLSX, which is a zip
Cell = Annotated[str, Field(max_length=MOST_LETTERS)]


class Table(Frozen):
    """Columns by their names, and rows of as many cells."""

    columns: Annotated[tuple[Cell, ...], Field(min_length=1, max_length=MOST_COLUMNS)]
    rows: Annotated[tuple[tuple[Cell, ...], ...], Field(min_length=1, max_length=MOST_ROWS)]


def read_list(data: bytes, name: str) -> Table:
    """The table in a file. Raises FileRefused with a plain sentence."""
    if len(data) > MOST_BYTES:
        raise FileRefused(f"{name} is larger than {MOST_BYTES // 1_000_000} MB.", "Bring in a shorter list.")
    rows = _read_xlsx(data, name) if data[:2] == b"PK" else _read_csv(data)
    while rows and not any(rows[0]):
        rows.pop(0)
    rows_kept = [row for row in rows[1:] if any(row)]
    if not rows_kept:
        raise FileRefused(
            f"There are no rows in {name}.",
            "Bring in a CSV or XLSX whose first row names its columns, then a row a customer.",
        )
    wide = max((n for row in rows for n, cell in enumerate(row, 1) if cell), default=0)
    if wide > MOST_COLUMNS or len(rows_kept) > MOST_ROWS:
        raise FileRefused(
            f"{name} has {len(rows_kept):,} rows and {wide} columns; {MOST_ROWS:,} and {MOST_COLUMNS} are the most.",
            "Bring in a shorter list.",
        )

    def fill_row(row: list[str]) -> tuple[str, ...]:
        return tuple(cell[:MOST_LETTERS] for cell in (*row, *[""] * wide)[:wide])

    heading = fill_row(rows[0])
    columns = tuple(cell or f"Column {n}" for n, cell in enumerate(heading, 1))
    return Table(columns=columns, rows=tuple(fill_row(row) for row in rows_kept))


def _read_csv(data: bytes) -> list[list[str]]:
    text = ""
    for code in ("utf-8-sig", "utf-16" if data[:2] in (b"\xff\xfe", b"\xfe\xff") else "utf-8-sig", "cp1252", "latin-1"):
        try:
            text = data.decode(code)
            break
        except UnicodeDecodeError:
            continue
    first = text.lstrip("\n\r").split("\n", 1)[0]
    mark = max(";\t,", key=first.count)
    try:
        return [[cell.strip() for cell in row] for row in csv.reader(io.StringIO(text), delimiter=mark)]
    except csv.Error as error:
        raise FileRefused(f"This list cannot be read: {error}.", "Save it anew as CSV.") from None


def _read_xlsx(data: bytes, name: str) -> list[list[str]]:
    import openpyxl  # here, since few lists are XLSX, and it takes a while

    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            if sum(entry.file_size for entry in packed.infolist()) > _MOST_UNPACKED:
                raise FileRefused(f"{name} is too large when it is unpacked.", "Save the list alone, as CSV.")
        book = openpyxl.load_workbook(io.BytesIO(data), read_only=True, data_only=True)
        sheet = book.worksheets[0]
        rows = sheet.iter_rows(max_row=MOST_ROWS + 20, max_col=MOST_COLUMNS + 1, values_only=True)
        return [[_cell_text(value) for value in row] for row in rows]
    except FileRefused:
        raise
    except Exception as error:  # openpyxl raises many kinds for a damaged file
        raise FileRefused(f"{name} cannot be read as XLSX.", "Save it as CSV.") from error


def _cell_text(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, datetime):
        return value.date().isoformat() if not (value.hour or value.minute or value.second) else value.isoformat(" ")
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, float) and value.is_integer():
        return str(int(value))
    return str(value).strip()
