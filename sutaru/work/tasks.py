"""What workers do: taking a photo in, looking at it, filling, exporting. Plain picklable input and output; no database.

Progress goes to a small file that the parent reads, a stop comes as a file that the worker looks for: that holds for
processes of this machine and for a cluster that shares its disk alike. What only some work needs it loads itself, so that a
worker holds what it has done work of.
"""

import json
import os
import signal
import threading
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Any, TypeVar

import cv2
import numpy as np
import pyvips
from numpy.typing import NDArray
from PIL import Image

from ..core import memory
from ..core.checks.trial_paint import refuse_failures, try_painting
from ..core.document import FileKind, Found, Job, LabSheet, Overlay, Photo
from ..core.edits.job_edits import choose_what_to_fill
from ..core.edits.kinds import Fill, Laid, Lay
from ..core.errors import Stopped
from ..core.fitting import choose, resolve_sheet
from ..core.formats.assets import read_asset
from ..core.formats.bundle import Bundle, job_assets
from ..core.formats.template_file import read_template_file
from ..core.paint import Painter
from ..core.photos import LOOK_SIDE, PhotoPixels, decode, examine, look
from ..core.press.exporting import MANIFEST, Done, Exporter, Piece, plain_file_name
from ..core.press.raster import jpeg_bytes
from ..core.verifying.report import Report
from . import room

T = TypeVar("T")
PROXY_SIDE, THUMB_SIDE = 1400, 320  # px along the longer side, at least
PROGRESS, STOP = ".progress.json", ".stop"
PLAN = "plan.json"


def prepare_worker(parent: int, most_bytes: int = 0, paints: bool = False) -> None:
    """Runs once in each worker process of ``parent``: one thread a worker, and the bench comes first.

    ``most_bytes``: what it may allocate beside what it has; then a MemoryError meets the work, not the machine.
    """
    cv2.setNumThreads(1)
    pyvips.cache_set_max(0)  # nothing of one file is kept for the next
    os.nice(5)
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # a Ctrl C is the server's to act on
    if most_bytes:
        room.limit(most_bytes)
    if paints:
        threading.Thread(target=load_compiled, daemon=True).start()
    end_with(parent)


def run_in_cluster(work: Callable[..., T], *args: Any) -> T:
    """Does work in a worker of a cluster, which nobody prepared. Dask starts its workers so that each array's memory is given
    back when it is let go, and fetched anew for the next: a tenth to a sixth of the time of an export."""
    cv2.setNumThreads(1)
    memory.keep()
    return work(*args)


def load_compiled() -> None:
    """Load what is compiled, compiling it where it was not yet, so that the first picture need not wait for it."""
    from ..core.colour.lookup import look_up
    from ..core.paint import sums

    for function in (sums.colours, sums.any_taps, look_up):
        function.load()


def end_with(parent: int) -> None:
    """Has this process end when its parent is gone: a killed server must leave nothing behind."""
    threading.Thread(target=_watch, args=(parent,), daemon=True).start()


def _watch(parent: int) -> None:
    while os.getppid() == parent:
        time.sleep(0.5)
    os._exit(1)


def take_in(upload: str, name: str) -> tuple[Photo, bytes, bytes, int]:
    """Examines an uploaded file and decodes it once, shrunk: the photo, its proxy and thumbnail (JPEG), the proxy's width.

    Raises PhotoRefused.
    """
    data = Path(upload).read_bytes()  # the upload's budget bounds it
    photo = examine(data, name)
    longer = max(photo.width, photo.height)
    pixels = decode(data, name, min(1.0, PROXY_SIDE / longer))
    proxy, side = pixels, max(pixels.shape[:2])
    if side >= 2 * PROXY_SIDE:  # formats that cannot be decoded shrunk are still large here
        size = max(1, round(pixels.shape[1] * PROXY_SIDE / side)), max(1, round(pixels.shape[0] * PROXY_SIDE / side))
        proxy = np.asarray(cv2.resize(pixels, size, interpolation=cv2.INTER_AREA), np.uint8)
    thumb = average_blocks(proxy, THUMB_SIDE)
    return photo, jpeg_bytes(proxy, 88, "420"), jpeg_bytes(thumb, 80, "420"), proxy.shape[1]


def take_from_bundle(bundle: str, photo_json: str, upload: str) -> tuple[Photo, bytes, bytes, int]:
    """Unpacks a photo of a bundle into a file of ours and takes that in. Raises FileRefused and PhotoRefused."""
    packed, photo = Bundle(Path(bundle)), Photo.model_validate_json(photo_json)
    try:
        packed.extract(photo, Path(upload))
    finally:
        packed.close()
    measured, proxy, thumb, width = take_in(upload, photo.name)
    # One of before BLAKE3 stays what its sheets call it.
    return measured.copy_with(id=photo.checksum[:16], checksum=photo.checksum), proxy, thumb, width


def read_bundle(bundle: str) -> tuple[str, list[bytes]]:
    """The job in a bundle as JSON, every sheet of it tried out, and its drawings and masks. Raises FileRefused."""
    packed = Bundle(Path(bundle))
    try:
        names = job_assets(packed.job)
        assets = {name: packed.asset(name) for name in names}
        for data in assets.values():
            read_asset(data)
        for edition in packed.job.editions:
            for sheet in packed.job.sheets:
                with refuse_failures(f"The sheet {sheet.name} of this bundle", "Ask for the bundle to be made anew."):
                    try_painting(
                        resolve_sheet(packed.job, sheet.id, edition.id, fonts=assets.__getitem__), assets.__getitem__
                    )
        return packed.job.model_dump_json(), list(assets.values())
    finally:
        packed.close()


def read_template(path: str) -> tuple[str, list[bytes]]:
    """The template in a file as JSON, every sheet of it tried out, and its drawings and masks. Raises FileRefused."""
    template, assets = read_template_file(Path(path))
    for data in assets.values():
        read_asset(data)
    lab = LabSheet(id="none", name="None", ppi_target=300, ppi_least=150)
    job = Job(name=template.name, template=template.id, product=template.product, sheets=template.sheets, lab=lab)
    for sheet in job.sheets:
        with refuse_failures(f"The sheet {sheet.name} of this template", "Ask for it to be made anew."):
            try_painting(resolve_sheet(job, sheet.id, fonts=assets.__getitem__), assets.__getitem__)
    return template.model_dump_json(), list(assets.values())


def read_file(
    path: str, name: str, areas: str, guide: bool, width_mm: float
) -> tuple[list[str], list[bytes], list[str], str]:  # fmt: skip
    """A file of another program as sheets in JSON, the files they name, what could not be read, and how openings were found.
    ``width_mm`` 0: the size that the file says. Raises FileRefused."""
    from ..core.formats.foreign.foreign_file import read_foreign

    read = read_foreign(Path(path).read_bytes(), name, areas, guide)
    if width_mm:
        first = read.sheets[0].layout
        size = width_mm, round(width_mm * first.height_mm / first.width_mm, 6)
        read = read_foreign(Path(path).read_bytes(), name, areas, guide, size)
    lab = LabSheet(id="none", name="None", ppi_target=300, ppi_least=150)
    job = Job(name="Read", template="read", product="collage", sheets=read.sheets, lab=lab)
    for sheet in job.sheets:
        with refuse_failures(f"What {name} shows", "Save it simpler."):
            try_painting(resolve_sheet(job, sheet.id, fonts=read.files.__getitem__), read.files.__getitem__)
    return [sheet.model_dump_json() for sheet in read.sheets], list(read.files.values()), list(read.notes), read.how


def pick_area(picture: bytes, overlay_json: str, at_mm: tuple[float, float], tolerance: int) -> tuple[str, list[bytes]]:
    """The area of an overlay's picture at a page point as an opening in JSON; the picture without it, and the files that
    the opening names. Raises FileRefused."""
    from ..core.formats.flat.flat_picture import png_of
    from ..core.formats.flat.picked_area import pick_area_at
    from ..core.formats.foreign.read_result import pixels_of

    picked = pick_area_at(pixels_of(picture), Overlay.model_validate_json(overlay_json), at_mm, tolerance)
    return picked.opening.model_dump_json(), [png_of(picked.over), *picked.files.values()]


def look_over(path: str, name: str, lab_json: str, assets: dict[str, bytes]) -> Report:
    """A print file held against its standard, and a lab sheet where one is given."""
    from ..core.verifying.print_files import verify

    lab = LabSheet.model_validate_json(lab_json) if lab_json else None
    return verify(Path(path), lab, assets.__getitem__).copy_with(file=name)


def look_at(proxy: str) -> Found:
    """What is found in a photo, given its proxy's path. Raises PhotoRefused."""
    with Image.open(proxy) as header:
        longer = max(header.size)
    return look(decode(Path(proxy), "proxy", min(1.0, LOOK_SIDE / longer)))


def average_blocks(pixels: NDArray[np.uint8], least_side: int) -> NDArray[np.uint8]:
    """The mean over whole blocks of pixels, the largest that leave ``least_side`` px along the longer side."""
    height, width = pixels.shape[:2]
    block = max(1, max(height, width) // least_side)
    if block == 1 or min(height, width) < block:
        return pixels
    part = pixels[: height // block * block, : width // block * block]
    while block > 1:
        by = 2 if block % 2 == 0 else block  # twice two in a third of the time of four at once
        size = part.shape[1] // by, part.shape[0] // by
        part, block = np.asarray(cv2.resize(part, size, interpolation=cv2.INTER_AREA), np.uint8), block // by
    return part


def _progress_writer(folder: Path, news: str = PROGRESS) -> Callable[[str, int, int], None]:
    """Progress into a file in a folder. Raises Stopped when the stop file appears there."""

    def progress(stage: str, done: int, total: int) -> None:
        if (folder / STOP).exists():
            raise Stopped("It was stopped.")
        unfinished = folder / (news + ".new")  # readers see the old or the new, never half; no flush: it is news only
        unfinished.write_text(json.dumps({"stage": stage, "done": done, "total": total}))
        unfinished.replace(folder / news)

    return progress


@dataclass(frozen=True)
class Exported:
    """What is to be exported, and from where: a job in JSON, the paths of its originals by checksum, its drawings and fonts."""

    job_json: str
    originals: dict[str, str]
    assets: dict[str, bytes]
    folder: str
    kind: FileKind
    made: str
    transparent: bool = False
    many: bool = False

    def painting(self, pool: ThreadPoolExecutor | None) -> tuple[Job, Painter]:
        """The job, and who paints it."""
        job = Job.model_validate_json(self.job_json)
        names = {photo.id: photo.name for photo in job.photos}
        return job, Painter(PhotoPixels(lambda photo: Path(self.originals[photo.checksum]), names=names), pool)


def run_pieces(task: Exported, some: list[Piece], threads: int, news: str) -> list[Done]:
    """Does pieces of an export; with one thread, all of it in turn. ``news``: the file that hears of progress. Raises Stopped
    when the stop file appears, and what exporting raises."""
    folder = Path(task.folder)
    with ThreadPoolExecutor(threads) as pool:
        job, painter = task.painting(pool if threads > 1 else None)
        return Exporter(
            job, folder, task.kind, painter, datetime.fromisoformat(task.made), task.assets.__getitem__, task.transparent,
            task.many, _progress_writer(folder, news),
        ).do(some)  # fmt: skip


def run_print_sheets(task: Exported, edition: str, wish_json: str, threads: int = 2) -> dict[str, Any]:
    """Lays the pages of an edition, or of all, on print sheets by a wish; the manifest. Raises as above."""
    from ..core.press.print_wishes import PrintWish
    from ..core.press.printing import describe_print_files, print_sheets

    wish, out = PrintWish.model_validate_json(wish_json), Path(task.folder)
    with ThreadPoolExecutor(threads) as pool:
        job, painter = task.painting(pool)
        target, made_at = out / f"{plain_file_name(job.name) or 'print'}-sheets.pdf", datetime.fromisoformat(task.made)
        files, pages = print_sheets(
            job, target, wish, painter, made_at, task.assets.__getitem__, _progress_writer(out), edition
        )  # fmt: skip
        description = describe_print_files(files, wish, pages)
        (out / MANIFEST).write_text(json.dumps(description, indent=1, ensure_ascii=False), "utf-8")
        return description


def run_fill(job_json: str, fill_json: str, folder: str) -> str:
    """What a filling up chooses, as the JSON of an edit that lays it. Raises EditRefused, and Stopped as above."""
    job, fill = Job.model_validate_json(job_json), Fill.model_validate_json(fill_json)
    choices = choose(job, choose_what_to_fill(job, fill), fill.edition, fill.how, _progress_writer(Path(folder)))
    laid = tuple(Laid(sheet=c.sheet, opening=c.opening, was=c.was, placement=c.placement) for c in choices)
    return Lay(edition=fill.edition, laid=laid).model_dump_json()


def run_plan(job_json: str, wishes_json: str, edition: str, sheets: list[str] | None, folder: str) -> dict[str, int]:
    """Plans a book, or some of its sheets, into a folder; how many pages, photos laid and laid aside. Raises EditRefused, and
    Stopped as above."""
    from ..core.books.book import lay_out_book, plan_of
    from ..core.books.layout_preview import describe_laid_out
    from ..core.books.plan import Wishes

    job, wishes = Job.model_validate_json(job_json), Wishes.model_validate_json(wishes_json)
    plan = plan_of(job, wishes, edition, sheets, _progress_writer(Path(folder)))
    after = lay_out_book(job, plan, None, edition, sheets)
    seen = describe_laid_out(job, after, plan, edition)
    unfinished = Path(folder) / f"{PLAN}.new"
    unfinished.write_text(seen.model_dump_json(), "utf-8")
    unfinished.replace(Path(folder) / PLAN)
    laid = sum(len(page.photos) for page in plan.pages)
    return {"pages": len(plan.pages), "laid": laid, "aside": len(plan.aside)}


def run_another_size(job_json: str, size_json: str, theme_json: str, edition: str) -> tuple[str, tuple[str, ...]]:
    """A book in another size: the JSON of its job, and names of the sheets that were not composed anew. Raises EditRefused."""
    from ..core.books.another_size import resize_book
    from ..core.document import BookSize, Theme

    theme = Theme.model_validate_json(theme_json) if theme_json else None
    resized = resize_book(
        Job.model_validate_json(job_json), BookSize.model_validate_json(size_json), theme, edition
    )  # fmt: skip
    return resized.job.model_dump_json(), resized.fitted
