"""``sutaru book``: a book's bundle, laid out in a theme, or on a template's own sheets in turn."""

import argparse
import json
import sys
from itertools import count
from pathlib import Path
from typing import Any

from ..core.arranging.sizing import resize_layout
from ..core.books.binding import pages_of, spine_of
from ..core.books.book import begin_empty_book, plan_of
from ..core.books.plan import Wishes
from ..core.books.planning import pages_for
from ..core.document import Book, Job, LabSheet, Photo, Pile, Sheet
from ..core.edits.apply import apply
from ..core.edits.kinds import BringIn, Fill, LayBook
from ..core.errors import NotFound
from ..core.formats.bundle import write_bundle
from ..core.formats.shelf import Shelf, read_shelf
from ..core.paint import Assets
from ..scripting.labs import find_lab, find_size
from ..scripting.photos import read_photos
from ..scripting.shelf import find_template, open_job
from ..shelf import FOLDER
from .job_names import name_job
from .screen import show_refused


def book(args: argparse.Namespace) -> int:
    """Makes a book's bundle and says what lies on which page, and what was laid aside and why; 1 when photos cannot be read."""
    shelf = read_shelf(FOLDER)
    lab = find_lab(args.lab)
    photos, originals, refused = read_photos(args.photos)
    if args.look in shelf.themes:
        job, aside, asset = _make_themed_book(args, shelf, lab, photos)
    else:
        job, aside, asset = _make_book_on_template(args, lab, photos)
    write_bundle(Path(args.out), job, lambda photo: originals[photo.id], asset)
    report = _describe_book(job, aside)
    if args.json:
        print(json.dumps(report, indent=1, ensure_ascii=False))
    else:
        for entry in report["sheets"]:
            print(f"{entry['name']}: {', '.join(entry['photos']) or 'empty'}")
        for entry in report["aside"]:
            than = f" than {entry['like']}" if entry["like"] else ""
            print(f"not laid: {entry['photo']}: {entry['why']}{than}")
        spine = f", spine {report['spine_mm']:g} mm" if report["spine_mm"] else ""
        print(
            f"{args.out}: {report['pages']} pages{spine}, {report['laid']} photos laid, {len(report['aside'])} laid aside"
        )
    return show_refused(refused)


def resize(args: argparse.Namespace) -> int:
    """Makes a book's bundle in another size of its lab, and says which sheets were fitted as they were."""
    with open_job(args.job) as job:
        fitted = job.resize_book(*args.size)
        job.rename(args.name or name_job(args.out, job.job.name))
        job.save(args.out)
    if args.json:
        print(json.dumps({"file": args.out, "fitted": list(fitted)}, ensure_ascii=False))
        return 0
    for name in fitted:
        print(f"{name}: fitted as it was, not composed anew")
    print(f"{args.out}: {pages_of(job.job)} pages")
    return 0


def _put_into_pile(job: Job, photos: tuple[Photo, ...], order: str) -> Job:
    return job.copy_with(pile=Pile(photos=photos)) if order == "given" else apply(job, BringIn(photos=photos))


def _make_themed_book(
    args: argparse.Namespace, shelf: Shelf, lab: LabSheet, photos: tuple[Photo, ...]
) -> tuple[Job, list[dict[str, str]], Assets]:
    if lab.bindery is None:
        raise NotFound(f"{lab.name} binds no books.", "Choose another lab sheet.")
    theme, bindery = shelf.themes[args.look], lab.bindery
    book = Book(
        size=find_size(lab, *args.size) if args.size else bindery.sizes[0],
        paper=_find_named(bindery.papers, args.paper, "paper"),
        binding=_find_named(bindery.bindings, args.binding, "binding"),
    )  # fmt: skip
    wishes = Wishes(
        pages=args.pages, photos=args.photos_laid, per_page=args.per_page, cropping=args.cropping, white=args.white,
        lively=args.lively, bleeds=args.bleeds,
        chapters=args.chapters, likes=args.keep_likes, spoilt=args.keep_spoilt, order="time" if args.order == "time" else "pile",
    )  # fmt: skip
    name = name_job(args.out, theme.name)
    pages = pages_for(book.binding, wishes, len(photos))
    job = begin_empty_book(name, lab, book, theme, pages, args.title or name, args.locale)
    job = _put_into_pile(job, photos, args.order)
    plan = plan_of(job, wishes)
    job = apply(job, LayBook(plan=plan, theme=theme))
    names = {photo.id: photo.name for photo in photos}
    aside = [
        {"photo": names[laid_aside.photo], "like": names.get(laid_aside.like, ""), "why": laid_aside.why}
        for laid_aside in plan.aside
    ]
    return job, aside, shelf.asset


def _find_named(those: Any, identity: str | None, what: str) -> Any:
    if identity is None:
        return those[0]
    entry = next((entry for entry in those if entry.id == identity), None)
    if entry is None:
        raise NotFound(f"There is no {what} {identity}.", f"Choose one of: {', '.join(entry.id for entry in those)}.")
    return entry


def _make_book_on_template(
    args: argparse.Namespace, lab: LabSheet, photos: tuple[Photo, ...]
) -> tuple[Job, list[dict[str, str]], Assets]:
    """A template's sheets again and again, until all photos have a place, filled in order."""
    template, asset = find_template(args.look)
    inner = [sheet for sheet in template.sheets if sheet.role != "cover"] or list(template.sheets)
    places = sum(len(sheet.layout.openings_by_id) for sheet in inner)
    if not places:
        raise NotFound(f"The template {template.name} has no openings.", "Choose another, or a theme.")
    sheets: list[Sheet] = [sheet for sheet in template.sheets if sheet.role == "cover"]
    room = sum(len(sheet.layout.openings_by_id) for sheet in sheets)
    for n in count():
        had = sum(2 if sheet.role == "spread" else 1 for sheet in sheets if sheet.role != "cover")
        if had >= args.pages if args.pages else room >= len(photos):
            break
        like = inner[n % len(inner)]
        sheets.append(like.copy_with(id=f"{like.id}-{n + 1}", name=f"{like.name} {n + 1}"))
        room += len(like.layout.openings_by_id)
    if args.size:
        sheets = [
            sheet.copy_with(
                layout=resize_layout(sheet.layout, args.size[0] * (2 if sheet.role == "spread" else 1), args.size[1])
            )
            for sheet in sheets
        ]
    job = Job(
        name=name_job(args.out, template.name), template=template.id, product=template.product, lab=lab,
        sheets=tuple(sheets), locale=args.locale, without_samples=True,
        fields={"title": args.title} if args.title else {},
    )  # fmt: skip
    job = _put_into_pile(job, photos, args.order)
    return apply(job, Fill(how="order")), [], asset


def _describe_book(job: Job, aside: list[dict[str, str]]) -> dict[str, Any]:
    edition, known = job.editions[0], job.pile.by_id
    sheets = []
    laid: set[str] = set()
    for sheet in job.sheets:
        filling = edition.filling(sheet.id)
        photos_shown = [held for opening in sheet.layout.openings_by_id if (held := filling.photo_in(opening))]
        laid |= set(photos_shown)
        sheets.append({"name": sheet.name, "role": sheet.role, "photos": [known[held].name for held in photos_shown]})
    spine_mm = next((spine_of(sheet.layout) for sheet in job.sheets if sheet.role == "cover"), None)
    spine = round(spine_mm[1] - spine_mm[0], 2) if spine_mm else 0.0
    unused = [photo.name for photo in job.photos if photo.id not in laid and not photo.aside]
    if unused:
        print(f"sutaru: not laid: {', '.join(unused)}", file=sys.stderr)
    return {
        "pages": pages_of(job),
        "spine_mm": spine,
        "laid": len(laid),
        "sheets": sheets,
        "aside": aside,
        "unused": unused,
    }
