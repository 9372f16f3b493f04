"""``sutaru batch``: a job's sheets for every customer of a list, or of a folder for each, into finished files."""

import argparse
import json
from concurrent.futures import ThreadPoolExecutor
from datetime import datetime
from pathlib import Path

from ..core.checks import check_job
from ..core.document import Job, Photo
from ..core.edits.apply import apply
from ..core.edits.kinds import BringIn, TakeList
from ..core.edits.lists import RowDone, apply_list
from ..core.errors import NotFound, SutaruError
from ..core.fitting.reading_order import reading_order
from ..core.formats.bundle import Bundle, write_bundle
from ..core.lists import Meaning, Table, match_columns, read_list
from ..core.paint import Painter
from ..core.photos import PhotoPixels
from ..core.photos.photo_file import EXTENSIONS
from ..core.press.exporting import EVERY, export
from ..scripting.labs import find_lab
from ..scripting.photos import look_at_photos, read_photos
from ..scripting.shelf import find_template
from .screen import MARK, show_progress, show_refused

_ENDINGS = {f".{ending}" for ending in EXTENSIONS.values()} | {".jpeg", ".tiff"}


def batch(args: argparse.Namespace) -> int:
    """Makes an edition of each row and exports them all; 1 when a row or a photo was left out."""
    job, asset, originals = _job(args)
    listed = Path(args.list)
    if not listed.exists():
        raise NotFound(
            f"There is no list {listed}.", "Give a CSV or XLSX, or a folder with a folder for each customer."
        )
    refused: list[SutaruError] = []
    if listed.is_dir():
        job, table, meanings, refused = _list_customer_folders(job, listed, originals)
    else:
        if args.photos:
            photos, paths_by_id, refused = read_photos([str(path) for path in _pictures(Path(args.photos))])
            originals |= paths_by_id
            job = apply(job, BringIn(photos=photos))
        table = read_list(listed.read_bytes(), listed.name)
        meanings = match_columns(job, table)
    job, done = apply_list(job, TakeList(table=table, meanings=meanings))
    worked = {row.edition for row in done if row.state != "failed"}
    if not worked:
        raise NotFound(f"No row of this list works: {done[0].wrong[0]}", "Look at its columns and its photos.")
    job = job.copy_with(editions=tuple(edition for edition in job.editions if edition.id in worked))
    out = Path(args.out)
    out.mkdir(parents=True, exist_ok=True)
    with ThreadPoolExecutor(2) as threads:
        pixels = PhotoPixels(lambda photo: originals[photo.id])
        painter = Painter(pixels, threads)
        made_at = datetime.now().astimezone()
        files = export(job, out, pixels, made_at, args.format, False, painter, show_progress, asset, EVERY)
    write_bundle(out / "job.sutaru", job, lambda photo: originals[photo.id], asset)
    _tell(args, job, table, meanings, done, files, asset)
    return 1 if show_refused(refused) or any(row.state == "failed" for row in done) else 0


def _job(args: argparse.Namespace):  # type: ignore[no-untyped-def]
    """The job to begin from, its drawings, and where its photos lie."""
    if args.job.endswith(".sutaru"):
        bundle = Bundle(Path(args.job))
        job = look_at_photos(bundle.job, bundle.original)
        job = job.copy_with(lab=find_lab(args.lab)) if args.lab else job
        return job, bundle.asset, {photo.id: bundle.original(photo) for photo in job.photos}
    template, asset = find_template(args.job)
    lab = find_lab(args.lab or "gullwing-300")
    job = Job(name=template.name, template=template.id, product=template.product, sheets=template.sheets, lab=lab,
              without_samples=True)  # fmt: skip
    return job, asset, {}


def _pictures(folder: Path) -> list[Path]:
    if not folder.is_dir():
        raise NotFound(f"There is no folder {folder}.", "Give the folder in which the photos lie.")
    return sorted(path for path in folder.rglob("*") if path.suffix.lower() in _ENDINGS and path.is_file())


def _list_customer_folders(job: Job, folder: Path, originals: dict[str, object]):  # type: ignore[no-untyped-def]
    """A folder for each customer as a list: its name, and its photos by name into the openings as they are read."""
    openings = [
        Meaning(kind="photo", sheet=sheet.id, layer=opening.id)
        for sheet in job.sheets for opening in reading_order(sheet.layout) if not opening.content_locked
    ]  # fmt: skip
    rows, refused = [], list[SutaruError]()
    for customer in sorted(path for path in folder.iterdir() if path.is_dir()):
        paths = _pictures(customer)
        if not paths:
            rows.append((customer.name, *[""] * len(openings)))
            continue
        photos, paths_by_id, bad = read_photos([str(path) for path in paths])
        refused += bad
        # Files of several customers may be called alike.
        named = tuple(photo.copy_with(name=f"{customer.name} {photo.name}"[-200:]) for photo in photos)
        originals |= paths_by_id
        job = apply(job, BringIn(photos=named))
        rows.append((customer.name, *_cells(named, len(openings))))
    if not rows:
        raise NotFound(f"There are no folders in {folder}.", "Lay each customer's photos into a folder of their name.")
    columns = ("name", *(f"photo {n}" for n in range(1, len(openings) + 1)))
    return job, Table(columns=columns, rows=tuple(rows)), (Meaning(kind="name"), *openings), refused


def _cells(photos: tuple[Photo, ...], count: int) -> tuple[str, ...]:
    names = [photo.name for photo in photos][:count]
    return (*names, *[""] * (count - len(names)))


def _tell(  # type: ignore[no-untyped-def]
    args: argparse.Namespace, job: Job, table: Table, meanings: tuple[Meaning, ...], done: list[RowDone], files: list[Path],
    asset,
) -> None:  # fmt: skip
    manifest = json.loads(files[-1].read_text("utf-8"))
    names = {edition.id: edition.name for edition in job.editions}
    lines = []
    for row in done:
        findings = check_job(job, row.edition, fonts=asset) if row.edition in names else []
        file_names = [entry["file"] for entry in manifest["files"] if entry["edition_id"] == row.edition]
        stops = [finding.sentence for finding in findings if finding.severity == "stop"]
        lines.append({**row.model_dump(), "files": file_names, "stops": stops})
    if args.json:
        columns = {column: meaning.key for column, meaning in zip(table.columns, meanings, strict=True)}
        print(json.dumps({"columns": columns, "rows": lines}, indent=1, ensure_ascii=False))
        return
    for entry in lines:
        mark = MARK["stop"] if entry["state"] == "failed" or entry["stops"] else "●"
        what = " ".join([*entry["wrong"], *entry["stops"]]) or f"{len(entry['files'])} files"
        print(f"{mark} {entry['row']:>4}  {entry['name'] or 'no name'}: {what}")
