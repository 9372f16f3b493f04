"""A list of 1,000 customers matched with a pile of 5,000 photos, and made into editions."""

import time
from hashlib import sha256

from sutaru.core.document import Job, Photo
from sutaru.core.edits.apply import apply
from sutaru.core.edits.kinds import BringIn, TakeList
from sutaru.core.edits.lists import apply_list
from sutaru.core.formats.shelf import read_shelf
from sutaru.core.lists import Table, match_columns
from sutaru.shelf import FOLDER

ROWS, PHOTOS = 1000, 5000


def pile_of(count: int) -> tuple[Photo, ...]:
    """Photos that are known by their facts only."""
    names = [sha256(b"%d" % n).hexdigest() for n in range(count)]
    return tuple(
        Photo(
            id=name[:16],
            checksum=name,
            name=f"DSC_{n:05d}.jpg",
            format="JPEG",
            size_bytes=9_000_000,
            width=6000,
            height=4000,
        )
        for n, name in enumerate(names)
    )


def rows() -> list[tuple[str, str, str, str]]:
    """Rows for docs/measurements.md."""
    shelf = read_shelf(FOLDER)
    template = shelf.templates["album-spread-6"]
    job = Job(
        name="List",
        template=template.id,
        product=template.product,
        sheets=template.sheets,
        lab=shelf.labs["gullwing-300"],
    )
    job = apply(job, BringIn(photos=pile_of(PHOTOS)))
    columns = ("who", "copies", "note", *(f"p{n}" for n in range(1, 7)), "more")
    lines = tuple(
        (f"Family {n}", "1", "by post", *(f"DSC_{(n * 6 + k) % PHOTOS:05d}.jpg" for k in range(6)), "nothing")
        for n in range(ROWS)
    )
    table = Table(columns=columns, rows=lines)
    since = time.perf_counter()
    meanings = match_columns(job, table)
    between = time.perf_counter()
    _, done = apply_list(job, TakeList(table=table, meanings=meanings))
    until = time.perf_counter()
    assert len(done) == ROWS
    return [
        ("A list of 1,000 rows of 10 columns matched with 5,000 photos", f"{between - since:.2f} s", "", "1 s"),
        ("  made into as many editions", f"{until - between:.2f} s", "", ""),
    ]


if __name__ == "__main__":
    for row in rows():
        print("| " + " | ".join(row) + " |")
