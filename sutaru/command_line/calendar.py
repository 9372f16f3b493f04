"""``sutaru calendar``: months, names and holidays of a place, dates of the customer's own, photos."""

import argparse
import sys
from pathlib import Path

from ..core.document import Job
from ..core.edits.apply import apply
from ..core.edits.calendars import months_of
from ..core.edits.kinds import BringIn, Fill, Say, SetCalendar
from ..core.formats.bundle import write_bundle
from ..core.formats.dates_file import read_dates
from ..core.words.calendars import add_months, list_fallen_away, window_of
from ..scripting.labs import find_lab
from ..scripting.photos import read_photos
from ..scripting.shelf import find_template
from .job_names import name_job
from .screen import show_refused


def calendar(args: argparse.Namespace) -> int:
    """Makes a calendar's bundle; 1 when photos cannot be read or dates fall away, which are named."""
    template, asset = find_template(args.template)
    lab = find_lab(args.lab)
    job = Job(name=name_job(args.out, template.name), template=template.id, product=template.product,
              sheets=template.sheets, lab=lab, without_samples=True)  # fmt: skip
    job = apply(job, Say(locale=args.locale))
    job = job.copy_with(sheets=months_of(job.sheets, args.first, args.months, job.locale))
    begins = int(args.first[:4]), int(args.first[5:7])
    window = window_of([begins, add_months(begins, max(args.months, 12) - 1)])
    read = None
    if args.dates:
        path = Path(args.dates)
        read = read_dates(path.read_bytes(), path.name, args.locale, args.date_order, window)
    job = apply(
        job,
        SetCalendar(
            country=args.country,
            region=args.region,
            more_holidays=args.more_holidays,
            leap=args.leap,
            dates=read.dates if read else (),
        ),
    )
    photos, originals, refused = read_photos(args.photos)
    if photos:
        job = apply(job, BringIn(photos=photos))
        job = apply(job, Fill(how="month" if args.by_month else "best"))
    write_bundle(Path(args.out), job, lambda photo: originals[photo.id], asset)
    shown: list[tuple[int, int]] = []
    for sheet in job.sheets:
        if sheet.role == "month":
            first = int(sheet.fields["month"][:4]), int(sheet.fields["month"][5:7])
            shown += [add_months(first, n) for n in range(12 if sheet.layout.shows_year else 1)]
    away = list_fallen_away(job.calendar, shown) if job.calendar else []
    for untold in read.untold if read else ():
        print(f"sutaru: not told: {untold}", file=sys.stderr)
    for dated in away:
        print(
            f"sutaru: falls in none of these months: {dated.text} ({dated.month:02d}-{dated.day:02d})", file=sys.stderr
        )
    if read and not read.is_sure:
        other = {"day": "month", "month": "day"}[read.order or "day"]
        print(
            f"sutaru: dates like 06/07/1999 are read with the {read.order} first, as {args.locale} writes them; "
            f"--date-order {other} reads them the other way",
            file=sys.stderr,
        )
    filled = sum(len(filling.placements) for filling in job.editions[0].fillings.values())
    suffix = f", {len(read.dates)} dates of which {len(away)} fall away" if read else ""
    print(f"{args.out}: {len(shown)} months from {args.first}, {filled} openings filled{suffix}")
    return 1 if show_refused(refused) or away or (read and read.untold) else 0
