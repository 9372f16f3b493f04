"""The demo: forty-eight photographs of the Skerry Sands kite festival and three old ones that want mending; finished jobs,
calendars, a book, and some half done.

Made at the first start, the same each time; photo files stay in ``<data>/demo-photos`` to be brought in by hand, and in
``<data>/demo-files`` a flat picture of a template, a lab's blank, and a list of thirty families for the thank-you card.
"""

import os
import shutil
import sys
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from ..core.books.book import begin_empty_book, plan_of
from ..core.books.contact import contact_job
from ..core.books.plan import Wishes
from ..core.document import Book, Dated, Job, Photo, StudioCard, Template
from ..core.edits.apply import apply, label
from ..core.edits.calendars import months_of
from ..core.edits.kinds import (
    AddEdition,
    AddPages,
    BringIn,
    Edit,
    Fill,
    LayBook,
    Place,
    Put,
    Rename,
    SetCalendar,
    SetCopies,
    SpanOver,
    Write,
)
from ..core.fitting import cost
from ..core.formats.masks import trace_drawing
from ..core.formats.shelf import Shelf, read_shelf
from ..core.photos import PhotoPixels
from ..shelf import FOLDER
from ..store import Card, Database, Jobs, Parts, Photos
from ..work.tasks import look_at, prepare_worker, take_in
from ..work.watch_rules import Rule, write_rule
from .mending import FAULTY, TEMPLATE, half_mended, stand_before_edge
from .orders import make_orders
from .photographs import VIEWS, frame_photograph
from .scenes import picture

FIRST = datetime(2026, 6, 19, 9, 30)
# Minutes after the first photo of a day: on the beach, in the workshop, at the flights and stalls, late in the afternoon; and of
# the last evening, at dusk, then among lanterns.
DAY = (0, 4, 9, 13, 95, 99, 104, 108, 270, 273, 281, 290, 296, 425, 430, 436)
EVENING = (700, 705, 709, 716, 722, 790, 794, 799, 805, 812)
LARGE, MIDDLE, SMALL, TINY = (6000, 4000), (4896, 3264), (3000, 2000), (900, 600)
_UNDO = {6: Image.Transpose.ROTATE_90, 8: Image.Transpose.ROTATE_270, 3: Image.Transpose.ROTATE_180}


@dataclass(frozen=True)
class Shot:
    """One photograph to make: width and height are upright; ``orientation`` is how the camera stored it."""

    name: str
    scene: str
    seed: int
    width: int
    height: int
    taken: datetime
    orientation: int = 1
    worked: bool = False


def shots() -> Iterator[Shot]:
    """All photographs of the demo, in the order they were taken: on three days, the last until late."""
    day = [
        "beach", "kite", "dunes", "beach", "workshop", "maker", "kite", "makers",
        "watchers", "detail", "stalls", "flier", "children", "maker", "kite", "watchers",
    ]  # fmt: skip
    for n in range(48):
        scene = day[n % 16] if n < 38 else "dusk" if n < 43 else "lanterns"
        w, h = (LARGE, MIDDLE, LARGE, SMALL)[n % 4]
        orientation, worked = 1, n % 11 == 7
        if scene in ("kite", "maker") or n in (12, 26, 43):
            w, h = h, w
            orientation = (6, 8, 1)[n % 3]
        if n in (4, 21, 36):
            w = h = 3600
        if n in (8, 32):
            w, h = 7200, 2400
        if n in (19, 34):
            w, h = TINY
            orientation = 1
        yield Shot(f"skerry-{n + 1:03d}.jpg", scene, n, w, h, _capture_time(n), orientation, worked)


def _capture_time(n: int) -> datetime:
    """When the n-th photograph of the three days was taken."""
    minutes = DAY[n % 16] if n < 38 else EVENING[n - 38]
    return FIRST + timedelta(days=min(n // 16, 2), minutes=minutes)


def faulty_shots() -> Iterator[Shot]:
    """The three that want mending."""
    for n, name in enumerate(FAULTY):
        w, h = SMALL if name == "scan-with-dust.jpg" else MIDDLE[::-1]
        yield Shot(name, "", n, w, h, FIRST + timedelta(days=3, minutes=n))


def _expose(shot: Shot, size: tuple[int, int]) -> NDArray[np.uint8]:
    if shot.name in FAULTY:
        return FAULTY[shot.name](size)
    if shot.scene in VIEWS and not shot.worked:
        return frame_photograph(shot.scene, shot.seed, *size)
    return picture(shot.scene, shot.seed, *size, shot.worked)


def shoot(folder: str, shot: Shot) -> str:
    """Makes one photograph's file; its path."""
    path = Path(folder) / shot.name
    if not path.exists():
        size = shot.width, shot.height
        image = Image.fromarray(_expose(shot, size))
        if shot.orientation in _UNDO:
            image = image.transpose(_UNDO[shot.orientation])
        exif = Image.Exif()
        exif[0x010F], exif[0x0110], exif[0x0112] = "Marram Studio", "Scene generator", shot.orientation
        exif.get_ifd(0x8769)[0x9003] = shot.taken.strftime("%Y:%m:%d %H:%M:%S")
        unfinished = path.with_suffix(".part")
        image.save(unfinished, "JPEG", quality=90, exif=exif)
        unfinished.replace(path)
    return str(path)


def _bring(folder: str, incoming: str, shot: Shot) -> tuple[str, Photo, bytes, bytes, int]:
    path = Path(shoot(folder, shot))
    upload = Path(incoming) / f"demo-{shot.name}"
    upload.write_bytes(path.read_bytes())
    photo, proxy, thumb, width = take_in(str(upload), shot.name)
    upload.with_suffix(".look").write_bytes(proxy)
    photo = photo.copy_with(found=look_at(str(upload.with_suffix(".look"))), already_worked=shot.worked)
    upload.with_suffix(".look").unlink()
    return str(upload), photo, proxy, thumb, width


def make_demo(data: Path, count: int = 48) -> None:
    """Makes the demo in a data folder, with progress on stderr, unless it has jobs already."""
    database = Database(data / "sutaru.sqlite3")
    try:
        parts, photos = Parts(database), Photos(database, data / "photos")
        jobs = Jobs(database, parts, photos)
        if jobs.search()[1]:
            return
        folder = data / "demo-photos"
        folder.mkdir(exist_ok=True)
        todo = [*list(shots())[:count], *faulty_shots()]
        pile: list[Photo] = []
        with ProcessPoolExecutor(2, initializer=prepare_worker, initargs=(os.getpid(),)) as pool:
            work = [pool.submit(_bring, str(folder), str(photos.incoming), shot) for shot in todo]
            for n, future in enumerate(work, 1):
                upload, photo, proxy, thumb, width = future.result()
                photos.keep(photo.copy_with(already_worked=False), Path(upload), proxy, thumb, width)
                if photo.found:
                    photos.keep_found(photo.checksum, photo.found)
                pile.append(photo)
                print(f"\r  Making the demo: {n} of {len(todo)} photos", end="", file=sys.stderr, flush=True)
        print(file=sys.stderr)
        pile, faulty = pile[:-3], pile[-3:]
        shelf = read_shelf(FOLDER)
        parts.add_assets(shelf.files.values())
        card = StudioCard(name="Marram Studio", address="2 Harbour Row, Skerry Sands", web="marram-studio.example",
                          phone="0555 0142", mail="bench@marram-studio.example", **_logo(shelf))  # fmt: skip
        Card(database).keep(card)
        shutil.copytree(FILES, data / "demo-files", dirs_exist_ok=True)
        contact = contact_job("The festival's photos, contact sheet", pile, shelf.labs["gullwing-300"], 210, 297, 6)
        jobs.create(apply(contact, Rename(name=contact.name, customer="Marram Studio")))
        pixels = PhotoPixels(lambda photo: photos.path(photo.checksum))
        thanks = _jobs(jobs, shelf, pile, card, pixels)
        _add_mending_job(jobs, shelf, faulty, card, pixels)
        _calendars(jobs, shelf, pile, card)
        _books(jobs, shelf, pile, card)
        make_orders(data, database, photos, parts.asset, thanks, jobs.head(thanks).job)
        _lay_in(data / "watched" / "post-cards", str(folder))
    finally:
        database.close()


FILES = Path(__file__).parent / "files"


def _lay_in(watched: Path, folder: str) -> None:
    """Two customers' photos in a watched folder: taken once the application runs. One of them lacks a photo."""
    write_rule(watched, Rule(template="postcard-two"))
    every = list(shots())
    for customer, numbers in (("Thessaly Moor", (1, 7)), ("Ola Brandvik", (17,))):
        (watched / customer).mkdir(exist_ok=True)
        for shot in (every[number - 1] for number in numbers):
            shutil.copyfile(shoot(folder, shot), watched / customer / shot.name)


def _logo(shelf: Shelf) -> dict[str, str]:
    kite = next(piece for piece in shelf.ornaments if (piece.kind, piece.name) == ("kites", "rokkaku"))
    return {"logo": kite.asset, "traced": trace_drawing(shelf.asset(kite.asset))}


def _jobs(jobs: Jobs, shelf: Shelf, pile: list[Photo], studio: StudioCard, pixels: PhotoPixels) -> str:
    """Jobs at work; the finished card's id."""
    templates, labs = shelf.templates, shelf.labs
    orders = iter(range(2041, 2100))
    large = [photo for photo in pile if photo.width * photo.height > 5_000_000]

    def start(template: Template, name: str, customer: str, photos: list[Photo], lab: str = "gullwing-300") -> str:
        job = Job(
            name=name,
            customer=customer,
            order_number=f"S-{next(orders)}",
            template=template.id,
            product=template.product,
            sheets=template.sheets,
            lab=labs[lab],
            studio=studio,
        )
        identity = jobs.create(job)
        _do(jobs, identity, BringIn(photos=tuple(photos)))
        return identity

    card = templates["card-portrait"]
    opening = next(iter(card.walk_openings()))
    outside = card.sheets[0].layout
    best = sorted(large, key=lambda photo: cost(outside, opening, photo, labs["gullwing-300"]))[:6]
    rest = [photo for photo in pile if photo not in best]  # the list of families names photos of the whole day
    thanks = start(card, "Thank-you card", "Ola Brandvik", [*best, *rest])
    kite = next((p for p in best if p.name in ("skerry-007.jpg", "skerry-023.jpg", "skerry-002.jpg")), best[0])
    _do(jobs, thanks, Put(sheet="outside", opening=opening.id, photo=kite.id))
    _do(jobs, thanks, Write(sheet="inside", layer="greeting", text="Thank you for three days of wind"))
    _do(jobs, thanks, Write(sheet="inside", layer="names", text="Ola, Maren and little Runa"))

    for edition, name, greeting, names, photo in (
        ("parish", "Parish Council", "Thank you for the wind, and the tents", "The kite club", best[1 % len(best)]),
        ("makers", "The makers", "Thank you for every knot", "All of us at the north dune", best[2 % len(best)]),
    ):
        _do(jobs, thanks, AddEdition(id=edition, name=name, like="first"))
        _do(jobs, thanks, Put(sheet="outside", edition=edition, opening=opening.id, photo=photo.id))
        _do(jobs, thanks, Write(sheet="inside", edition=edition, layer="greeting", text=greeting))
        _do(jobs, thanks, Write(sheet="inside", edition=edition, layer="names", text=names))
        _do(jobs, thanks, SetCopies(edition=edition, copies=25))

    wall = start(templates["mockup-wall"], "Two frames for the hall", "Thessaly Moor", large[:8], "saltmarsh-250")
    _do(jobs, wall, Fill())

    table = start(templates["mockup-table"], "For the festival stall", "Marram Studio", large, "saltmarsh-250")
    by_name = {photo.name: photo for photo in pile}
    for opening_id, name in (("banner", "skerry-009.jpg"), ("print", "skerry-006.jpg"), ("mug", "skerry-004.jpg")):
        shown = by_name.get(name, large[0])
        _do(jobs, table, Put(sheet="table-view", opening=opening_id, photo=shown.id))

    panels = start(
        templates["collage-triptych"], "From dune to pier", "Skerry Sands Parish Council", pile, "saltmarsh-250"
    )
    view = max(pile, key=lambda photo: photo.width / photo.height)
    _do(jobs, panels, SpanOver(sheet="print", openings=("panel-1", "panel-2", "panel-3"), photo=view.id))
    _do(jobs, panels, Fill(how="order"))
    _do(jobs, panels, Write(sheet="print", layer="line", text="Skerry Sands, from the north dune to the pier"))
    if portrait := by_name.get("skerry-030.jpg"):  # a small demo has fewer photos
        for edit in stand_before_edge(portrait, pixels(portrait, 0.2), "print", "small-4"):
            _do(jobs, panels, edit)

    spread = start(templates["album-spread-18"], "Festival album, first spread", "Skerry Sands Kite Society", pile)
    for n, (layer, photo) in enumerate(zip(templates["album-spread-18"].walk_openings(), pile, strict=False)):
        if n in (0, 3, 4, 7, 9, 13):
            _do(jobs, spread, Put(sheet="spread", opening=layer.id, photo=photo.id))
    _do(
        jobs,
        spread,
        Place(sheet="spread", opening="opening-8", centre=(0.5, 0.45), zoom=1.3, turn_deg=1.5, mirror=False),
    )
    return thanks


def _add_mending_job(jobs: Jobs, shelf: Shelf, faulty: list[Photo], studio: StudioCard, pixels: PhotoPixels) -> None:
    """Prints from an old album that want mending, half done."""
    template = shelf.templates[TEMPLATE]
    job = Job(
        name="From the old album", customer="Thessaly Moor", order_number="S-2046-B", template=template.id,
        product=template.product, sheets=template.sheets, lab=shelf.labs["saltmarsh-250"], studio=studio,
    )  # fmt: skip
    identity = jobs.create(job)
    _do(jobs, identity, BringIn(photos=tuple(faulty)))
    for edit in half_mended(job, {p.name: p for p in faulty}, lambda photo: pixels(photo, 0.5)):
        _do(jobs, identity, edit)


def _calendars(jobs: Jobs, shelf: Shelf, pile: list[Photo], studio: StudioCard) -> None:
    """One calendar for the kite club, in English, and one for a family by the sea further south, in German."""
    large = [p for p in pile if p.width * p.height > 5_000_000 and p.width > 1.2 * p.height] or pile
    for order, template, name, customer, locale, country, region, dates in (
        ("S-2046", "calendar-desk", "The kite club's year", "Skerry Sands Kite Society", "en_GB", "GB", "SCT", CLUB),
        ("S-2047", "calendar-wall", "Familienkalender Holm", "Familie Holm", "de_DE", "DE", "SH", FAMILY),
    ):
        entry = shelf.templates[template]
        job = Job(
            name=name, customer=customer, order_number=order, template=entry.id, product=entry.product, locale=locale,
            sheets=months_of(entry.sheets, "2027-01", 12, locale), lab=shelf.labs["gullwing-300"], studio=studio,
            without_samples=True,
        )  # fmt: skip
        identity = jobs.create(job)
        _do(jobs, identity, BringIn(photos=tuple(large)))
        _do(jobs, identity, SetCalendar(dates=dates, country=country, region=region))
        _do(jobs, identity, Fill())
        if locale == "de_DE":
            _do(jobs, identity, Write(sheet="cover", layer="title", text="Ein Jahr voller Wind"))


def _books(jobs: Jobs, shelf: Shelf, pile: list[Photo], studio: StudioCard) -> None:
    """The festival's book, finished; and one half done, of pages that nobody has filled yet."""
    lab = shelf.labs["gullwing-300"]
    assert lab.bindery is not None, "the demo's lab binds books"
    sizes, bindings = ({entry.id: entry for entry in those} for those in (lab.bindery.sizes, lab.bindery.bindings))
    large = [photo for photo in pile if photo.width * photo.height > 5_000_000]
    for order, name, customer, theme, size, photos, pages, more in (
        (
            "S-2048",
            "Skerry Sands, three days of wind",
            "Skerry Sands Kite Society",
            "dune-grass",
            "square-10",
            large,
            32,
            0,
        ),
        ("S-2049", "Lanterns over the bay", "Thessaly Moor", "lantern-night", "square-8", pile[-30:], 28, 32),
    ):
        book = Book(size=sizes[size], paper=lab.bindery.papers[1], binding=bindings["hard"])
        job = begin_empty_book(name, lab, book, shelf.themes[theme], pages, studio=studio)
        identity = jobs.create(job.copy_with(customer=customer, order_number=order))
        _do(jobs, identity, BringIn(photos=tuple(photos)))
        plan = plan_of(jobs.head(identity).job, Wishes(pages=pages, lively=0.5, chapters=not more))
        _do(jobs, identity, LayBook(plan=plan, theme=shelf.themes[theme]))
        if more:
            _do(jobs, identity, AddPages(count=more, theme=shelf.themes[theme]))


CLUB = (
    Dated(month=1, day=9, text="Repair evening", year=2027, yearly=False),
    Dated(month=4, day=24, text="Ola", year=1986),
    Dated(month=8, day=14, text="Kite festival", year=2027, yearly=False),
    Dated(month=8, day=15, text="Lantern night", year=2027, yearly=False),
)
FAMILY = (
    Dated(month=2, day=29, text="Oma Runa", year=1944),
    Dated(month=3, day=18, text="Per"),
    Dated(month=6, day=14, text="Ida", year=1987),
    Dated(month=9, day=3, text="Hochzeitstag", year=2012),
)


def _do(jobs: Jobs, identity: str, edit: Edit) -> None:
    jobs.edit(identity, lambda job: (apply(job, edit), label(job, edit)))
