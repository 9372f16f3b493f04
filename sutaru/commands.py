"""What the commands do. Each takes the parsed arguments and gives the exit code."""

import argparse
import hashlib
import json
import sys
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from datetime import datetime
from pathlib import Path

from .core.books.contact import contact_job
from .core.checks import check_job
from .core.colour.output import read_profile
from .core.colour.profiles import profile_bytes
from .core.document import Edition, Found, Frozen, Job, LabSheet, Photo, Pile, Press, Template
from .core.document.job import SheetList
from .core.edits import Accept, BringIn, ChooseLab, Fill, FindingName, apply, by_first_photo
from .core.errors import NotFound, PhotoRefused, SutaruError
from .core.fitting import resolved
from .core.formats import Bundle, read_shelf, write_bundle
from .core.paint import Assets, Painter, PixelGrid, items, no_assets
from .core.photos import LOOK_SIDE, PhotoPixels, decode, examine, look
from .core.press import EVERY, whole
from .core.press import export as export_job
from .shelf import FOLDER, sample_ids
from .templating import Opened, template_of

MARK = {"stop": "■", "look": "▲", "note": "·"}


def _lab(labs: dict[str, LabSheet], identity: str) -> LabSheet:
    if identity not in labs:
        raise NotFound(f"There is no lab sheet {identity}.", f"Choose one of: {', '.join(labs)}.")
    return labs[identity]


def job_name(out: str, otherwise: str) -> str:
    """What a job is called that is written to a file: as the file, without what cannot be printed."""
    stem = Path(out.encode("utf-8", "replace").decode()).stem
    return "".join(letter for letter in stem if letter.isprintable()).strip()[:120] or otherwise


def taken_in(names: list[str]) -> tuple[tuple[Photo, ...], dict[str, Path], int]:
    """Photos of files, looked at; where each lies; how many cannot be read, which are named and left out.

    Raises PhotoRefused when none of them can.
    """
    paths = [Path(name) for name in names]
    with ThreadPoolExecutor(2) as threads:
        read = list(threads.map(_taken_in, paths))
    refused = [one for one in read if isinstance(one, SutaruError)]
    if len(read) == len(refused) == 1:
        raise refused[0]
    for error in refused:
        print(f"sutaru: {error}", file=sys.stderr)
    originals = {one.id: path for one, path in zip(read, paths, strict=True) if isinstance(one, Photo)}
    photos = tuple(one for one in read if isinstance(one, Photo))
    if read and not photos:
        raise PhotoRefused("None of these photos can be read.", "Give at least one that can.")
    return photos, originals, len(refused)


def fill(args: argparse.Namespace) -> int:
    """Makes a bundle from a template and photos; 1 when some of them cannot be read, which are named and left out."""
    template, asset = template_of(args.template)
    lab = _lab(read_shelf(FOLDER).labs, args.lab)
    photos, originals, refused = taken_in(args.photos)
    job = Job(name=job_name(args.out, template.name), template=template.id, product=template.product,
              sheets=template.sheets, lab=lab, without_samples=True)  # fmt: skip
    job = apply(job, BringIn(photos=photos))
    job = by_first_photo(job.having(variants=(template.id,)), _variants_of(template))
    openings = sum(len(sheet.layout.openings_to_fill) for sheet in job.sheets)
    if openings:
        job = apply(job, Fill())
    write_bundle(Path(args.out), job, lambda photo: originals[photo.id], asset)
    filled = sum(len(filling.placements) for filling in job.editions[0].fillings.values())
    print(f"{args.out}: {filled} of {openings} openings filled")
    return 1 if refused else 0


def _variants_of(template: Template) -> list[Template]:
    """A template of the shelf and its variants, of which the first photo chooses; of a file the template alone."""
    known = read_shelf(FOLDER).templates
    if template.id not in known:
        return [template]
    return [one for one in known.values() if one.group == template.group]


def contact(args: argparse.Namespace) -> int:
    """Makes a contact sheet's bundle; 1 when some photos cannot be read, which are named and left out."""
    photos, originals, refused = taken_in(args.photos)
    lab = _lab(read_shelf(FOLDER).labs, args.lab)
    width, height = args.sheet
    job = contact_job(job_name(args.out, "Contact sheet"), photos, lab, width, height, args.columns)
    write_bundle(Path(args.out), job, lambda photo: originals[photo.id], no_assets)
    print(f"{args.out}: {len(photos)} photos on {len(job.sheets)} sheet{'s' if len(job.sheets) != 1 else ''}")
    return 1 if refused else 0


def _taken_in(path: Path) -> Photo | SutaruError:
    """A photo examined and looked at, or why it cannot be."""
    try:
        if not path.is_file():
            raise NotFound(f"There is no file {path}.")
        photo = examine(path, path.name)
        return photo.having(sample=photo.checksum in sample_ids(), found=_seen(path, photo))
    except SutaruError as error:
        return error
    except Exception:  # whatever a decoder makes of a file that was harmed
        return PhotoRefused(f"{path.name} cannot be read.", "Save it anew as a plain JPEG.")


def looked_at(job: Job, original: Callable[[Photo], bytes]) -> Job:
    """The job with its laid photos looked at, where nobody had looked before the bundle was written: without that a face that
    is cut would pass. Raises PhotoRefused."""
    laid = {photo for own in job.editions for filling in own.fillings.values() for photo in filling.photos()}
    unseen = [photo for photo in job.photos if photo.id in laid and not photo.is_looked_at]
    if not unseen:
        return job
    found = {photo.id: _seen(original(photo), photo) for photo in unseen}
    photos = tuple(photo.having(found=found[photo.id]) if photo.id in found else photo for photo in job.photos)
    return job.having(pile=Pile(photos=photos))


def _seen(path: Path | bytes, photo: Photo) -> Found:
    """What is found in a photo. A file that ends early is refused now, not at the press."""
    return look(decode(path, photo.name, min(1.0, LOOK_SIDE / max(photo.width, photo.height))))


def check(args: argparse.Namespace) -> int:
    """Prints the findings; 1 when one is a stop."""
    opened = Opened(args.job)
    findings = check_job(looked_at(opened.job, opened.original), fonts=opened.asset)
    if args.json:
        told = [{("page" if k == "sheet" else k): v for k, v in finding.model_dump().items()} for finding in findings]
        print(json.dumps(told, indent=1, ensure_ascii=False))  # "page": scripts know it by that name
    else:
        for finding in findings:
            print(f"{MARK[finding.severity]} {finding.severity:<4}  {finding.sheet}: {finding.sentence}")
        if not findings:
            print("In order.")
    return 1 if any(finding.severity == "stop" for finding in findings) else 0


def _painting(bundle: Bundle | Opened, threads: ThreadPoolExecutor) -> Painter:
    return Painter(PhotoPixels(bundle.original), threads)


def _asked_lab(job: Job, args: argparse.Namespace) -> tuple[LabSheet, dict[str, bytes]]:
    """The lab sheet as the command line asks for it, and the lab's own profile where it gives one as a file."""
    lab = _lab(read_shelf(FOLDER).labs, args.lab) if args.lab else job.lab
    own: dict[str, bytes] = {}
    press = lab.press
    if args.profile:
        name = args.profile
        if name not in ("fogra39", "tr006", "grey"):
            path = Path(name)
            if not path.is_file():
                raise NotFound(f"There is no press {name}.", "Choose fogra39, tr006, grey, or the path of an ICC file.")
            data = path.read_bytes()
            read_profile(data, path.name)
            name = hashlib.sha256(data).hexdigest()
            own[name] = data
        press = (press or Press()).having(profile=name)
    if args.standard == "x4" and press is None:
        raise NotFound("PDF/X-4 is made for a press.", "Name it with --profile.")
    rules = lab.pdf.having(x4=args.standard == "x4") if args.standard else lab.pdf
    if args.live and (args.format or lab.format) != "pdf":
        raise NotFound("Only in a PDF can layers stay live.", "Add --format pdf.")
    if args.live:
        rules = rules.having(live=True)
    if args.live and press and press.convert:
        raise NotFound("Layers stay live only in RGB: inks blend otherwise.", "Leave out --live, or the press.")
    if args.bits == 16 and (args.format or lab.format) != "tiff":
        raise NotFound("Only a TIFF can have 16 bits a channel.", "Add --format tiff.")
    bits, sharpen = args.bits or lab.tiff_bits, args.sharpen or lab.sharpen
    return lab.having(press=press, pdf=rules, sharpen=sharpen, tiff_bits=bits), own


def _asked_editions(job: Job, named: str) -> list[Edition]:
    if named == "all":
        return list(job.editions)
    found = [edition for edition in job.editions if named in ("", edition.id, edition.name)][:1]
    if not found:
        raise NotFound(
            f"There is no edition {named}.", f"Choose one of: {', '.join(e.name or e.id for e in job.editions)}."
        )
    return found


def export(args: argparse.Namespace) -> int:
    """Writes the print files; with ``--edition all`` those of every edition."""
    bundle = Bundle(Path(args.job))
    lab, own = _asked_lab(bundle.job, args)
    job = looked_at(bundle.job, bundle.original)
    job = apply(job, ChooseLab(lab=lab)) if lab != job.lab else job
    editions = _asked_editions(job, args.edition)
    show = sys.stderr.isatty()

    def asset(name: str) -> bytes:
        return own[name] if name in own else bundle.asset(name)

    def progress(stage: str, done: int, total: int) -> None:
        if show:
            print(f"\r{done * 100 // total:3d} % {stage:<40}", end="\n" if done == total else "", file=sys.stderr)

    for edition in editions:
        found = check_job(job, edition.id, fonts=asset)
        stops = [finding for finding in found if finding.severity == "stop"]
        for finding in stops:
            print(f"{MARK['stop']} {finding.sentence}", file=sys.stderr)
        for finding in stops if args.accepted_by and args.reason else ():
            named = FindingName(rule=finding.rule, layer=finding.layer, sentence=finding.sentence)
            said = {"name": args.accepted_by, "reason": args.reason}
            job = apply(job, Accept(sheet=finding.sheet, edition=edition.id, findings=(named,), **said))
    with ThreadPoolExecutor(2) as threads:
        painter = _painting(bundle, threads)
        which = EVERY if args.edition == "all" else editions[0].id
        written = export_job(
            job, Path(args.out), painter.pixels, datetime.now().astimezone(), args.format, args.transparent, painter, progress,
            asset, which,
        )  # fmt: skip
    for path in written:
        print(path)
    return 0


def render(args: argparse.Namespace) -> int:
    """Writes one page as the bench shows it."""
    from PIL import Image

    bundle = Opened(args.job)
    sheets = bundle.job.sheets
    if not 1 <= args.page <= len(sheets):
        raise NotFound(f"There is no page {args.page}.", f"This job has pages 1 to {len(sheets)}.")
    sheet = sheets[args.page - 1]
    with ThreadPoolExecutor(2) as threads:
        rgb, _ = _painting(bundle, threads).render(
            items(resolved(bundle.job, sheet.id, fonts=bundle.asset), bundle.asset, bench=True, notes=True),
            PixelGrid.of(sheet.layout, args.ppi),
        )
    with whole(Path(args.out)) as file:
        icc = profile_bytes(bundle.job.lab.profile)
        Image.fromarray(rgb).save(file, "PNG", dpi=(args.ppi, args.ppi), icc_profile=icc)
    return 0


def serve(args: argparse.Namespace) -> int:
    """Starts the application."""
    from .api.serve import run

    return run(args.host, args.port, Path(args.data), args.demo, args.lab, args.scheduler,
               Path(args.watch) if args.watch else None, args.printer)  # fmt: skip


def doctor(args: argparse.Namespace) -> int:
    """Looks a data folder over, and mends it when asked to."""
    from .core.checks.trying import refusing, tried
    from .store.doctor import Doctor
    from .work.tasks import take_in

    folder = Path(args.data)
    if not folder.is_dir():
        raise NotFound(f"There is no folder {folder}.", "Give the data folder with --data.")

    def works(job: Job, asset: Assets) -> None:
        with refusing("This"):
            for edition in job.editions:
                for sheet in job.sheets:
                    tried(resolved(job, sheet.id, edition.id, fonts=asset), asset)

    wrong = mended = 0
    shelf = read_shelf(FOLDER)
    shipped: list[Frozen] = list(shelf.labs.values())
    for template in shelf.templates.values():
        shipped += [*(sheet.layout for sheet in template.sheets), SheetList(sheets=template.sheets)]
    made = Doctor(folder, works, lambda path: take_in(str(path), path.name), shipped)
    for complaint in made.look(args.repair):
        wrong, mended = wrong + (not complaint.mended), mended + complaint.mended
        print(f"{'✓' if complaint.mended else MARK['stop']} {complaint.sentence} {complaint.remedy}")
    if made.aside.exists():
        print(f"What was replaced or moved lies in {made.aside}. Delete it when nothing of it is missed.")
    print(f"{wrong} to look after." if wrong else f"{mended} mended." if mended else "Nothing is wrong.")
    return 1 if wrong else 0
