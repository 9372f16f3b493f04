"""``sutaru export``: the print files of a job. What only some exports need is loaded by them."""

import argparse
import hashlib
import sys
from concurrent.futures import ThreadPoolExecutor
from datetime import datetime
from pathlib import Path

from ..core.checks import Finding, check_job
from ..core.document import Edition, Job, LabSheet, Press
from ..core.errors import NotFound
from ..core.formats.bundle import Bundle
from ..core.paint import Assets
from ..core.press.exporting import EVERY
from ..core.press.exporting import export as export_job
from ..scripting.labs import find_lab
from ..scripting.photos import look_at_photos, painter_of
from .screen import MARK, show_progress


def export(args: argparse.Namespace) -> int:
    """Writes the print files; with ``--edition all`` those of every edition."""
    bundle = Bundle(Path(args.job))
    lab, brought = _choose_lab(bundle.job, args)
    job = look_at_photos(bundle.job, bundle.original)
    if lab != job.lab:
        from ..core.edits.apply import apply
        from ..core.edits.kinds import ChooseLab

        job = apply(job, ChooseLab(lab=lab))
    editions = _choose_editions(job, args.edition)

    def asset(name: str) -> bytes:
        return brought[name] if name in brought else bundle.asset(name)

    accepted = bool(args.accepted_by and args.reason)
    for edition in editions if accepted else ():
        job = _accept(job, edition.id, _show_stops(job, edition.id, asset), args.accepted_by, args.reason)
    with ThreadPoolExecutor(2) as threads, ThreadPoolExecutor(1) as checker:
        # Nothing waits for what is found: it is shown while the first photos are read.
        shown = [checker.submit(_show_stops, job, edition.id, asset) for edition in editions if not accepted]
        painter = painter_of(bundle.original, threads)
        which = EVERY if args.edition == "all" else editions[0].id
        written = export_job(
            job, Path(args.out), painter.pixels, datetime.now().astimezone(), args.format, args.transparent, painter,
            show_progress, asset, which,
        )  # fmt: skip
    for line in shown:
        line.result()
    for path in written:
        print(path)
    return 0


def _show_stops(job: Job, edition: str, asset: Assets) -> list[Finding]:
    """The stops of an edition, shown."""
    stops = [finding for finding in check_job(job, edition, fonts=asset) if finding.severity == "stop"]
    for finding in stops:
        print(f"{MARK['stop']} {finding.sentence}", file=sys.stderr)
    return stops


def _choose_lab(job: Job, args: argparse.Namespace) -> tuple[LabSheet, dict[str, bytes]]:
    """The lab sheet as the command line asks for it, and the lab's own profile where it gives one as a file."""
    lab = find_lab(args.lab) if args.lab else job.lab
    brought: dict[str, bytes] = {}
    press = lab.press
    if args.profile:
        name = args.profile
        if name not in ("fogra39", "tr006", "grey"):
            path = Path(name)
            if not path.is_file():
                raise NotFound(f"There is no press {name}.", "Choose fogra39, tr006, grey, or the path of an ICC file.")
            data = path.read_bytes()
            from ..core.colour.output import read_profile

            read_profile(data, path.name)
            name = hashlib.sha256(data).hexdigest()
            brought[name] = data
        press = (press or Press()).copy_with(profile=name)
    if args.standard == "x4" and press is None:
        raise NotFound("PDF/X-4 is made for a press.", "Name it with --profile.")
    rules = lab.pdf.copy_with(x4=args.standard == "x4") if args.standard else lab.pdf
    if args.live and (args.format or lab.format) != "pdf":
        raise NotFound("Only in a PDF can layers stay live.", "Add --format pdf.")
    if args.live:
        rules = rules.copy_with(live=True)
    if args.live and press and press.convert:
        raise NotFound("Layers stay live only in RGB: inks blend otherwise.", "Leave out --live, or the press.")
    if args.bits == 16 and (args.format or lab.format) != "tiff":
        raise NotFound("Only a TIFF can have 16 bits a channel.", "Add --format tiff.")
    bits, sharpen = args.bits or lab.tiff_bits, args.sharpen or lab.sharpen
    return lab.copy_with(press=press, pdf=rules, sharpen=sharpen, tiff_bits=bits), brought


def _choose_editions(job: Job, named: str) -> list[Edition]:
    if named == "all":
        return list(job.editions)
    editions = [edition for edition in job.editions if named in ("", edition.id, edition.name)][:1]
    if not editions:
        raise NotFound(
            f"There is no edition {named}.", f"Choose one of: {', '.join(e.name or e.id for e in job.editions)}."
        )
    return editions


def _accept(job: Job, edition: str, stops: list[Finding], name: str, reason: str) -> Job:
    """The job with its stops accepted."""
    from ..core.edits.apply import apply
    from ..core.edits.kinds import Accept, FindingName

    for finding in stops:
        named = FindingName(rule=finding.rule, layer=finding.layer, sentence=finding.sentence)
        job = apply(job, Accept(sheet=finding.sheet, edition=edition, findings=(named,), name=name, reason=reason))
    return job
