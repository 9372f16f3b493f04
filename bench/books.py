"""Whole books: how long one takes to be laid out, and what a plain script would make of the same photos.

The plain script: photos by time, pages of two fixed layouts in turn, each photo cropped about its middle to its opening.
"""

import multiprocessing
import tempfile
import time
from concurrent.futures import ProcessPoolExecutor
from itertools import islice, pairwise
from pathlib import Path
from statistics import median

from PIL import Image

from sutaru.core.arranging.aligning import page_box
from sutaru.core.books.book import plan_of
from sutaru.core.books.layout_suggestions import suggestions
from sutaru.core.books.photo_choice import photo_worth
from sutaru.core.books.plan import Wishes
from sutaru.core.document import Flat, Job, Layout, Opening, Photo, Placement
from sutaru.core.document.shapes import Rectangle
from sutaru.core.edits.apply import apply
from sutaru.core.edits.kinds import ComposeSheet, LayBook
from sutaru.core.fitting import crop_share, cuts
from sutaru.demo.scenes import SCENES, picture
from sutaru.work.tasks import look_at
from tests.conftest import SHELF
from tests.core.booked import book, photos

LONG_MIN = 20.0  # a pause of so many minutes parts two events


def laid_out(count: int, pages: int, cropping: float = 0.1) -> dict[str, float]:
    """Seconds for a plan and its sheets; faces cut, mean share cropped, photos left over, pages torn: those within which an event
    ends; and what its spreads look like (``looks_of``)."""
    pile = photos(count)
    job = book(pile, pages=min(pages, 220))
    wishes = Wishes(pages=pages, cropping=cropping)
    start = time.perf_counter()
    plan = plan_of(job, wishes)
    done = apply(job, LayBook(plan=plan, theme=SHELF.themes["shoreline"]))
    seconds = time.perf_counter() - start
    own, known = done.editions[0], done.pile.by_id
    shares, lost, laid = [], 0, set()
    for sheet in done.sheets[1:]:
        for identity, placement in own.filling(sheet.id).placements.items():
            opening, photo = sheet.layout.openings_by_id[identity], known[placement.photo]
            shares.append(crop_share(opening, photo, placement))
            lost += any(
                c.area.kind == "face" and c.of_face > 0.1 for c in cuts(sheet.layout, opening, photo, placement)
            )
            laid.add(photo.id)
    spans = [_minutes([known[p] for p in page.photos]) for page in plan.pages if page.photos]
    return {
        "seconds": seconds, "faces cut": lost, "cropped": sum(shares) / len(shares),
        "most cropped": max(shares), "left over": count - len(laid) - len(plan.aside),
        "torn": sum(span >= LONG_MIN for span in spans), **looks_of(done),
    }  # fmt: skip


def looks_of(job: Job) -> dict[str, float]:
    """Of a book's spreads: the share of top and bottom edges that agree across the fold, those with a photo twice the median in
    size, those where that is among the best third, and designs found again within four spreads."""
    own, known, agree, edges, heroes, best, again = job.editions[0], job.pile.by_id, 0, 0, 0, 0, 0
    third = sorted(photo_worth(photo) for photo in job.photos)[-len(job.photos) // 3]
    before: list[list[float]] = []
    spreads = [sheet for sheet in job.sheets if sheet.role == "spread"]
    for sheet in spreads:
        filling, boxes = own.filling(sheet.id), {o.id: page_box(o) for o in sheet.layout.openings()}
        middle = sheet.layout.width_mm / 2
        sides = [[b for b in boxes.values() if ((b.left + b.right) / 2 > middle) == right] for right in (False, True)]
        if all(sides) and min(b.top for side in sides for b in side) >= 0:
            tops, feet = ([min(b.top for b in side) for side in sides], [max(b.bottom for b in side) for side in sides])
            agree += (abs(tops[0] - tops[1]) < 0.05) + (abs(feet[0] - feet[1]) < 0.05)
            edges += 2
        areas = sorted(((b.right - b.left) * (b.bottom - b.top), key) for key, b in boxes.items())
        if len(areas) < 3 or areas[-1][0] >= 2 * median(area for area, _ in areas):
            heroes += 1
            best += bool(areas) and photo_worth(known[filling.photo_in(areas[-1][1])]) >= third
        design = sorted(round(v, 1) for b in boxes.values() for v in (b.left, b.top, b.right, b.bottom))
        again += design in before[-3:]
        before.append(design)
    return {"agree": agree / max(1, edges), "heroes": heroes, "best": best, "spreads": len(spreads), "again": again}


def recomposed(count: int, pages: int) -> dict[str, float]:
    """Milliseconds in which each spread of a book is composed anew, a photo of it taken out: the median, and of 95 in 100; and in
    which its layouts are drawn up."""
    job = book(photos(count), pages=pages)
    job = apply(job, LayBook(plan=plan_of(job, Wishes(pages=pages)), theme=SHELF.themes["shoreline"]))
    edition, taken, offered = job.editions[0], [], []
    for sheet in job.sheets:
        held = list(edition.filling(sheet.id).photos())
        if sheet.role != "spread" or len(held) < 2:
            continue
        start = time.perf_counter()
        apply(job, ComposeSheet(sheet=sheet.id, remove=(held[0],)))
        taken.append(1000 * (time.perf_counter() - start))
        start = time.perf_counter()
        suggestions(job, sheet, edition)
        offered.append(1000 * (time.perf_counter() - start))
    most, drawn = (sorted(times)[int(0.95 * len(times))] for times in (taken, offered))
    return {"median": median(taken), "p95": most, "offered p95": drawn}


def looked_at_and_laid_out(count: int, pages: int) -> float:
    """Seconds from photos that are in, but not looked at, to a book of them: looked at in two processes, as the server does."""
    with tempfile.TemporaryDirectory() as folder:
        proxies = []
        for n in range(count):
            path = Path(folder) / f"{n}.jpg"
            size = (1500, 1000) if n % 3 else (1000, 1500)
            Image.fromarray(picture(list(SCENES)[n % len(SCENES)], n, *size)).save(path, quality=88)
            proxies.append(str(path))
        pile = photos(count)
        with ProcessPoolExecutor(2, multiprocessing.get_context("spawn")) as pool:
            list(pool.map(look_at, proxies[:2]))  # the server's workers have their network by now
            start = time.perf_counter()
            found = pool.map(look_at, proxies, chunksize=4)
            known = [photo.copy_with(found=one) for photo, one in zip(pile, found, strict=True)]
            job = book(tuple(known), pages=pages)
            apply(job, LayBook(plan=plan_of(job, Wishes(pages=pages, likes=True)), theme=SHELF.themes["shoreline"]))
            return time.perf_counter() - start


def _minutes(page: list[Photo]) -> float:
    """The longest pause between two photos of a page."""
    times = sorted(photo.taken for photo in page if photo.taken)
    return max(((later - earlier).total_seconds() / 60 for earlier, later in pairwise(times)), default=0.0)


def plain_script(count: int, pages: int) -> dict[str, float]:
    """The same figures for the plain script."""
    pile = iter(photos(count))
    each = -(-count // pages)
    layout = Layout(width_mm=304.8, height_mm=304.8, safe_mm=6, layers=())
    columns, rows = (2, -(-each // 2))
    wide, high = (304.8 - 40 - 4) / columns, (304.8 - 40 - 4 * (rows - 1)) / rows
    shares, lost, spans = [], 0, []
    while page := list(islice(pile, each)):
        for n, photo in enumerate(page):
            centre = 20 + wide / 2 + (n % 2) * (wide + 4), 20 + high / 2 + (n // 2) * (high + 4)
            opening = Opening(id="o", outline=Rectangle(width_mm=wide, height_mm=high), surface=Flat(centre=centre))
            lies = Placement(photo=photo.id)
            shares.append(crop_share(opening, photo, lies))
            lost += any(c.area.kind == "face" and c.of_face > 0.1 for c in cuts(layout, opening, photo, lies))
        spans.append(_minutes(page))
    return {
        "faces cut": lost,
        "cropped": sum(shares) / len(shares),
        "left over": 0,
        "torn": sum(span >= LONG_MIN for span in spans),
    }
