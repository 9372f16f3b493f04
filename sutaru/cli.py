"""The command line: the same job as in the browser, on bundles. Errors go to stderr in one sentence, exit code 2."""

import argparse
import json
import sys
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from datetime import datetime
from pathlib import Path

from .core.checks import check
from .core.document import Found, Job, LabSheet, Photo
from .core.edits import BringIn, ChooseLab, Fill, apply
from .core.errors import NotFound, SutaruError
from .core.formats import Bundle, read_labs, read_templates, write_bundle
from .core.paint import Grid, Painter, items
from .core.photos import LOOK_SIDE, PhotoPixels, decode, examine, look
from .core.press import export, whole
from .shelf import FOLDER, sample_ids

MARK = {"stop": "■", "look": "▲", "note": "·"}


def _lab(identity: str) -> LabSheet:
    labs = read_labs(FOLDER)
    if identity not in labs:
        raise NotFound(f"There is no lab sheet {identity}.", f"Choose one of: {', '.join(labs)}.")
    return labs[identity]


def shelf(args: argparse.Namespace) -> int:
    """Lists the templates."""
    rows = [
        {
            "id": t.id, "name": t.name, "product": t.product, "trim_mm": [t.pages[0].width_mm, t.pages[0].height_mm],
            "openings": [len(page.openings()) for page in t.pages],
        }
        for t in read_templates(FOLDER).values()
    ]  # fmt: skip
    if args.json:
        print(json.dumps(rows, indent=1))
        return 0
    for row in rows:
        size = " x ".join(f"{side:g}" for side in row["trim_mm"])
        openings = " + ".join(map(str, row["openings"]))
        print(f"{row['id']:<18} {row['product']:<8} {size:>15} mm  {openings} openings")
    return 0


def fill(args: argparse.Namespace) -> int:
    """Makes a bundle from a template and photos."""
    templates = read_templates(FOLDER)
    if args.template not in templates:
        raise NotFound(f"There is no template {args.template}.", f"Choose one of: {', '.join(templates)}.")
    template, lab = templates[args.template], _lab(args.lab)
    paths: dict[str, Path] = {}
    photos: list[Photo] = []
    for name in args.photos:
        path = Path(name)
        if not path.is_file():
            raise NotFound(f"There is no file {name}.")
        photo = examine(path, path.name)
        paths[photo.id] = path
        photos.append(photo.having(sample=photo.sha256 in sample_ids()))
    with ThreadPoolExecutor(2) as threads:
        photos = list(threads.map(lambda photo: photo.having(found=_seen(paths[photo.id], photo)), photos))
    job = Job(name=Path(args.out).stem or template.name, template=template.id, product=template.product,
              pages=template.pages, lab=lab)  # fmt: skip
    job = apply(job, BringIn(photos=tuple(photos)))
    if job.openings_by_id:
        job = apply(job, Fill())
    write_bundle(Path(args.out), job, lambda photo: paths[photo.id])
    print(f"{args.out}: {len(job.edition.placements)} of {len(job.openings_by_id)} openings filled")
    return 0


def _seen(path: Path, photo: Photo) -> Found:
    """What is found in a photo. A file that ends early is refused now, not at the press."""
    return look(decode(path, photo.name, min(1.0, LOOK_SIDE / max(photo.width, photo.height))))


def check_job(args: argparse.Namespace) -> int:
    """Prints the findings; 1 when one is a stop."""
    findings = check(Bundle(Path(args.job)).job)
    if args.json:
        print(json.dumps([finding.model_dump() for finding in findings], indent=1, ensure_ascii=False))
    else:
        for finding in findings:
            print(f"{MARK[finding.severity]} {finding.severity:<4}  {finding.page}: {finding.sentence}")
        if not findings:
            print("In order.")
    return 1 if any(finding.severity == "stop" for finding in findings) else 0


def _painting(bundle: Bundle, threads: ThreadPoolExecutor) -> Painter:
    return Painter(PhotoPixels(bundle.original), threads)


def export_job(args: argparse.Namespace) -> int:
    """Writes the print files."""
    bundle = Bundle(Path(args.job))
    job = apply(bundle.job, ChooseLab(lab=_lab(args.lab))) if args.lab else bundle.job
    show = sys.stderr.isatty()

    def progress(stage: str, done: int, total: int) -> None:
        if show:
            print(f"\r{done * 100 // total:3d} % {stage:<40}", end="\n" if done == total else "", file=sys.stderr)

    for finding in check(job):
        if finding.severity == "stop":
            print(f"{MARK['stop']} {finding.sentence}", file=sys.stderr)
    with ThreadPoolExecutor(2) as threads:
        painter = _painting(bundle, threads)
        written = export(
            job,
            Path(args.out),
            painter.pixels,
            datetime.now().astimezone(),
            args.format,
            args.transparent,
            painter,
            progress,
        )
    for path in written:
        print(path)
    return 0


def render(args: argparse.Namespace) -> int:
    """Writes one page as the bench shows it."""
    from PIL import Image

    bundle = Bundle(Path(args.job))
    pages = bundle.job.pages
    if not 1 <= args.page <= len(pages):
        raise NotFound(f"There is no page {args.page}.", f"This job has pages 1 to {len(pages)}.")
    page = pages[args.page - 1]
    with ThreadPoolExecutor(2) as threads:
        rgb, _ = _painting(bundle, threads).render(
            items(bundle.job, page, bench=True, notes=True), Grid.of(page, args.ppi)
        )
    with whole(Path(args.out)) as file:
        Image.fromarray(rgb).save(file, "PNG", dpi=(args.ppi, args.ppi))
    return 0


def serve(args: argparse.Namespace) -> int:
    """Starts the application."""
    from .api.serve import run

    return run(args.host, args.port, Path(args.data), args.demo)


def _ppi(text: str) -> float:
    value = float(text)
    if not 1 <= value <= 1200:
        raise argparse.ArgumentTypeError("ppi must lie between 1 and 1200")
    return value


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> None:  # type: ignore[override]
        print(f"sutaru: {message}. See: {self.prog} --help", file=sys.stderr)
        raise SystemExit(2)


def parser() -> argparse.ArgumentParser:
    """The command line's grammar."""
    top = _Parser(prog="sutaru", description="Fits photos into layered print templates and exports print-ready files.")
    commands = top.add_subparsers(dest="command", required=True, parser_class=_Parser)

    def command(name: str, run: Callable[[argparse.Namespace], int]) -> argparse.ArgumentParser:
        sub = commands.add_parser(name, help=run.__doc__, description=run.__doc__)
        sub.set_defaults(run=run)
        return sub

    sub = command("shelf", shelf)
    sub.add_argument("--json", action="store_true")
    sub = command("fill", fill)
    sub.add_argument("template", metavar="TEMPLATE_ID")
    sub.add_argument("photos", metavar="PHOTO", nargs="+")
    sub.add_argument("-o", dest="out", metavar="JOB.sutaru", required=True)
    sub.add_argument("--lab", metavar="ID", default="gullwing-300")
    sub = command("check", check_job)
    sub.add_argument("job", metavar="JOB.sutaru")
    sub.add_argument("--json", action="store_true")
    sub = command("export", export_job)
    sub.add_argument("job", metavar="JOB.sutaru")
    sub.add_argument("-o", dest="out", metavar="DIR", required=True)
    sub.add_argument("--format", choices=["jpeg", "png", "tiff", "pdf"])
    sub.add_argument("--lab", metavar="ID")
    sub.add_argument("--transparent", action="store_true")
    sub = command("render", render)
    sub.add_argument("job", metavar="JOB.sutaru")
    sub.add_argument("--page", type=int, metavar="N", required=True)
    sub.add_argument("--ppi", type=_ppi, metavar="P", required=True)
    sub.add_argument("-o", dest="out", metavar="FILE.png", required=True)
    sub = command("serve", serve)
    sub.add_argument("--host", default="127.0.0.1")
    sub.add_argument("--port", type=int, default=8765)
    sub.add_argument("--data", default=".data")
    sub.add_argument("--demo", action="store_true", help="make the demo jobs at the first start")
    return top


def main(argv: Sequence[str] | None = None) -> int:
    """Runs a command; its exit code."""
    args = parser().parse_args(argv)
    try:
        return int(args.run(args))
    except SutaruError as error:
        print(f"sutaru: {error}", file=sys.stderr)
    except OSError as error:
        print(f"sutaru: {error.strerror or error}: {error.filename or ''}", file=sys.stderr)
    except KeyboardInterrupt:
        print("sutaru: stopped.", file=sys.stderr)
    return 2


if __name__ == "__main__":
    sys.exit(main())
