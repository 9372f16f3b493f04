"""A pile of photos and a book for them, known by their numbers alone: no pixels are needed to lay a book out."""

import random
from datetime import datetime, timedelta

from sutaru.core.books.book import begin_empty_book
from sutaru.core.document import Book, Found, Job, KeepArea, Photo, Pile
from tests.conftest import CARD, LABS, SHELF

BINDERY = LABS["gullwing-300"].bindery
assert BINDERY is not None
SHAPES = [*[(6000, 4000)] * 5, *[(4000, 6000)] * 3, (4608, 3456), (3456, 4608), (4000, 4000), (9000, 3000)]


def one(n: int, size: tuple[int, int] = (6000, 4000), taken: datetime | None = None, **more: object) -> Photo:
    """A photo by its number."""
    sha = f"{n:064x}"
    found = {"found": Found(likeness=f"{random.Random(n).getrandbits(64):016x}", detail=1.0), **more}
    return Photo.model_validate(
        {"id": f"{n:016x}", "checksum": sha, "name": f"photo-{n:03d}.jpg", "format": "JPEG", "size_bytes": 1,
         "width": size[0], "height": size[1], "taken": taken, **found}
    )  # fmt: skip


def photos(count: int, seed: int = 1) -> tuple[Photo, ...]:
    """Photos of two days, of many shapes, half of them with a face somewhere."""
    rng, time, found = random.Random(seed), datetime(2026, 6, 19, 9), []
    for n in range(count):
        time += timedelta(seconds=rng.choice([30, 60, 90, 240, 1500]) + (16 * 3600 if n == count // 2 else 0))
        side = rng.uniform(0.08, 0.3)
        face = KeepArea(
            kind="face",
            left=rng.uniform(0, 1 - side),
            top=rng.uniform(0, 1 - side),
            width=side * 0.8,
            height=side,
        )
        known = Found(
            keep=(face,) if rng.random() < 0.5 else (), likeness=f"{rng.getrandbits(64):016x}", detail=1 + rng.random()
        )
        found.append(one(n + 1, rng.choice(SHAPES), time, found=known, stars=5 if rng.random() < 0.05 else 0))
    return tuple(found)


def bound_in(binding: str = "hard", paper: int = 1, size: str = "square-12") -> Book:
    return Book(
        size=next(s for s in BINDERY.sizes if s.id == size),
        paper=BINDERY.papers[paper],
        binding=next(b for b in BINDERY.bindings if b.id == binding),
    )


def book(
    pile: tuple[Photo, ...] = (), pages: int = 40, theme: str = "shoreline", binding: str = "hard", **more: str
) -> Job:
    lab = LABS["gullwing-300"]
    job = begin_empty_book(
        "Book", lab, bound_in(binding), SHELF.themes[theme], pages, title="Skerry Sands", studio=CARD, **more
    )
    return job.copy_with(pile=Pile(photos=pile))


def busiest(job: Job) -> int:
    """Which sheet of a book has most openings."""
    counts = [len(sheet.layout.openings_by_id) if sheet.role == "spread" else 0 for sheet in job.sheets]
    return counts.index(max(counts))
