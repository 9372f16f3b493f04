"""The rows that lie on the pages of an SQLite file, read page by page, whether or not any table still leads to them.

After "Database File Format", sqlite.org/fileformat2.html: 1.6 (b-tree pages), 2.1 (records), 1.6.1 (overflow). A page that is no
leaf, or a cell that makes no sense, is passed over.
"""

import struct
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

_LEAF_TABLE, _LEAF_INDEX = 0x0D, 0x0A
_SIZES = {0: 0, 1: 1, 2: 2, 3: 3, 4: 4, 5: 6, 6: 8, 7: 8, 8: 0, 9: 0}  # bytes of a value, by its serial type
MOST_BYTES = 256 << 20  # of one row


@dataclass(frozen=True)
class Record:
    """A row as it lies on a page. ``in_index``: on a page of an index, as the rows of a table WITHOUT ROWID are."""

    in_index: bool
    values: tuple[Any, ...]


def records(data: bytes) -> Iterator[Record]:
    """All rows on all leaf pages of a file."""
    size = int.from_bytes(data[16:18], "big")
    size = 65536 if size == 1 else size
    if data[:15] != b"SQLite format 3" or size < 512 or size & (size - 1):
        size = 4096  # the header is harmed; that is how ours are made
    reserved = data[20] if data[:15] == b"SQLite format 3" else 0
    for position in range(0, len(data) - size + 1, size):
        start = position + (100 if position == 0 else 0)
        kind = data[start]
        if kind not in (_LEAF_TABLE, _LEAF_INDEX):
            continue
        count = int.from_bytes(data[start + 3 : start + 5], "big")
        for n in range(min(count, size // 3)):
            pointer = start + 8 + 2 * n
            cell = position + int.from_bytes(data[pointer : pointer + 2], "big")
            if not start + 8 < cell < position + size:
                continue
            try:
                payload = _payload(data, cell, position + size, size, size - reserved, kind == _LEAF_INDEX)
                yield Record(kind == _LEAF_INDEX, _values(payload))
            except (ValueError, IndexError):
                continue


def _varint(data: bytes, position: int) -> tuple[int, int]:
    """A number of one to nine bytes, and where what follows begins."""
    value = 0
    for n in range(9):
        byte = data[position + n]
        if n == 8:
            return value << 8 | byte, position + 9
        value = value << 7 | byte & 0x7F
        if not byte & 0x80:
            return value, position + n + 1
    raise AssertionError("unreachable")


def _payload(data: bytes, cell: int, end: int, page: int, usable: int, in_index: bool) -> bytes:
    """The bytes of a cell's record, those on overflow pages included."""
    length, position = _varint(data, cell)
    if not in_index:
        _, position = _varint(data, position)  # its rowid
    most = (usable - 12) * 64 // 255 - 23 if in_index else usable - 35
    if not 0 < length <= MOST_BYTES:
        raise ValueError("no length")
    if length <= most:
        if position + length > end:
            raise ValueError("beyond its page")
        return data[position : position + length]
    least = (usable - 12) * 32 // 255 - 23
    here = least + (length - least) % (usable - 4)
    here = here if here <= most else least
    payload = bytearray(data[position : position + here])
    following = int.from_bytes(data[position + here : position + here + 4], "big")
    for _ in range(length // (usable - 4) + 2):
        if len(payload) >= length:
            return bytes(payload[:length])
        start = (following - 1) * page
        if following <= 0 or start + page > len(data):
            raise ValueError("no such page")
        payload += data[start + 4 : start + usable]
        following = int.from_bytes(data[start : start + 4], "big")
    if len(payload) < length:
        raise ValueError("ends early")
    return bytes(payload[:length])


def _values(payload: bytes) -> tuple[Any, ...]:
    head, position = _varint(payload, 0)
    if not 1 < head <= len(payload):
        raise ValueError("no header")
    types: list[int] = []
    while position < head:
        kind, position = _varint(payload, position)
        types.append(kind)
    values: list[Any] = []
    for kind in types:
        size = _SIZES[kind] if kind in _SIZES else (kind - 12) // 2
        raw = payload[position : position + size]
        if kind in (10, 11) or len(raw) < size:
            raise ValueError("no value")
        position += size
        if kind == 0:
            values.append(None)
        elif kind in (8, 9):
            values.append(kind - 8)
        elif kind == 7:
            values.append(struct.unpack(">d", raw)[0])
        elif kind < 7:
            values.append(int.from_bytes(raw, "big", signed=True))
        else:
            values.append(raw.decode("utf-8") if kind % 2 else raw)
    return tuple(values)
