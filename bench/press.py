"""What leaves for a press: an album to PDF/X-4 against its floor, cards of a list against bare renders, the verifier, the proof.

The album: pages of 12 x 12 in, two photos of 24 megapixels on each, converted to inks and as RGB. Its floor: every photo decoded
shrunk in two threads, and one JPEG of each page's size and of as many channels, all with Pillow.
"""

import multiprocessing
import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor, ThreadPoolExecutor
from dataclasses import dataclass
from datetime import UTC, datetime
from functools import cache
from io import BytesIO
from itertools import pairwise
from pathlib import Path
from statistics import fmean, median

import dask
import numpy as np
import pikepdf
from distributed import LocalCluster
from PIL import Image

from bench.photos import photos
from sutaru.core.colour.proofing import Proof
from sutaru.core.document import (
    Edition,
    Filling,
    Flat,
    Job,
    LabSheet,
    Layout,
    Opening,
    PdfRules,
    Pile,
    Placement,
    Press,
    Rectangle,
    Sheet,
    Text,
)
from sutaru.core.fitting import resolve_sheet
from sutaru.core.paint import Painter, PixelGrid, items, refuse_asset
from sutaru.core.photos import PhotoPixels, examine
from sutaru.core.press.exporting import EVERY, export
from sutaru.core.verifying.print_files import verify
from sutaru.work.board import Run
from sutaru.work.executor import CALM, Workers
from sutaru.work.exports import export_job
from sutaru.work.tasks import Exported

MADE = datetime(2026, 6, 20, tzinfo=UTC)
LAB = LabSheet(id="press", name="Press", ppi_target=300, ppi_least=150, format="pdf", press=Press(),
               pdf=PdfRules(x4=True, one_file=True))  # fmt: skip


def _seconds(work: Callable[[], object]) -> float:
    start = time.perf_counter()
    work()
    return time.perf_counter() - start


def album(pages: int, lab: LabSheet = LAB) -> tuple[Job, dict[str, Path]]:
    """Pages of two photos each."""
    known = [(path, examine(path, path.name)) for path in photos()]
    sheets, fillings = [], {}
    for n in range(pages):
        openings = tuple(
            Opening(
                id=f"o{k}", outline=Rectangle(width_mm=284, height_mm=140), surface=Flat(centre=(152.4, 80 + 145 * k))
            )
            for k in range(2)
        )
        words = Text(id="w", text=f"Page {n + 1}", centre=(152.4, 298), width_mm=200, height_mm=8, size_pt=9)
        layout = Layout(width_mm=304.8, height_mm=304.8, layers=(*openings, words))
        sheets.append(Sheet(id=f"p{n}", name=f"Page {n + 1}", layout=layout))
        lies = {f"o{k}": Placement(photo=known[(2 * n + k) % len(known)][1].id) for k in range(2)}
        fillings[f"p{n}"] = Filling(placements=lies)
    job = Job(name="Album", template="t", product="album", lab=lab, sheets=tuple(sheets),
              pile=Pile(photos=tuple(photo for _, photo in known)), editions=(Edition(fillings=fillings),))  # fmt: skip
    return job, {photo.id: path for path, photo in known}


def _floor(job: Job, paths: dict[str, Path], folder: Path, mode: str) -> None:
    """Every photo decoded shrunk in two threads; a page's worth of pixels, RGB or CMYK, encoded for each page."""
    placed = [lies.photo for sheet in job.sheets for lies in job.filling(sheet.id).placements.values()]
    grid = PixelGrid.for_ppi(job.sheets[0].layout, job.lab.ppi_target)
    page = Image.open(paths[placed[0]]).resize(grid.size).convert(mode)

    def decode(photo: str) -> None:
        with Image.open(paths[photo]) as picture:
            picture.draft(None, (3354, 1654))
            picture.load()

    with ThreadPoolExecutor(2) as threads:
        list(threads.map(decode, placed))
        list(threads.map(lambda n: page.save(folder / f"{n}.jpg", quality=95, subsampling=0), range(len(job.sheets))))


def exported_once(pages: int, convert: bool) -> float:
    """Seconds of an album to PDF/X-4, in inks or as RGB."""
    job, paths = album(pages, LAB.copy_with(press=Press(convert=convert)))
    with tempfile.TemporaryDirectory() as folder, ThreadPoolExecutor(2) as threads:
        pixels = PhotoPixels(lambda photo: paths[photo.id])
        painter = Painter(pixels, threads)
        return _seconds(lambda: export(job, Path(folder), pixels, MADE, painter=painter))


def floor(pages: int, mode: str) -> float:
    """Seconds of the album's floor, its pages RGB or CMYK."""
    job, paths = album(pages)
    with tempfile.TemporaryDirectory() as folder:
        return _seconds(lambda: _floor(job, paths, Path(folder), mode))


@dataclass(frozen=True)
class Beside:
    """Seconds of an album and of what it is held against, and how one is to the other: the medians of some rounds. What it is
    held against comes before and after each: a machine changes its pace within minutes, seldom within seconds."""

    seconds: float
    against: float
    ratio: float


def beside(work: Callable[[], float], against: Callable[[], float], rounds: int) -> Beside:
    """Rounds of some work, each between two of what it is held against."""
    others, own = [against()], list[float]()
    for _ in range(rounds):
        own.append(work())
        others.append(against())
    ratios = [seconds / fmean(both) for seconds, both in zip(own, pairwise(others), strict=True)]
    return Beside(median(own), median(others), median(ratios))


def to_press(pages: int, rounds: int, convert: bool) -> Beside:
    """An album in inks or as RGB against its floor."""
    exported_once(2, convert)  # until what is compiled is loaded
    mode = "CMYK" if convert else "RGB"
    return beside(lambda: exported_once(pages, convert), lambda: floor(pages, mode), rounds)


def clustered(pages: int, one_file: bool, rounds: int) -> Beside:
    """An album by two workers of a cluster on this machine against one."""
    lab = LAB.copy_with(pdf=PdfRules(x4=True, one_file=one_file))
    (job, paths), (few, _) = album(pages, lab), album(4, lab)
    originals = {photo.checksum: str(paths[photo.id]) for photo in job.photos}

    def by(count: int) -> float:
        # Calm, as docs/command-line.md says to start it: else the cluster keeps itself busy with a fifteenth of this machine.
        calm = {**CALM, "distributed.worker.profile.enabled": False}
        started = {"n_workers": count, "threads_per_worker": 1, "dashboard_address": None}
        with dask.config.set(calm), LocalCluster(**started) as cluster:
            workers = Workers(cluster.scheduler_address)

            def once(asked: Job) -> float:
                with tempfile.TemporaryDirectory() as folder:
                    what = Exported(asked.model_dump_json(), originals, {}, folder, "pdf", MADE.isoformat())
                    run = Run(None, Path(folder), workers, lambda: None)  # type: ignore[arg-type]
                    return _seconds(lambda: export_job(run, asked, what, ""))

            once(few)  # until all is imported there
            found = once(job)
            workers.close()
            return found

    return beside(lambda: by(2), lambda: by(1), rounds)


@cache
def _plain() -> tuple[list[Path], Image.Image]:
    paths = photos()
    with Image.open(paths[0]) as picture:
        return paths, picture.resize((3600, 3600)).convert("CMYK")


def _plainly(n: int) -> None:
    """What a page of the album's floor takes: two photos decoded shrunk, one page encoded."""
    paths, page = _plain()
    for k in range(2):
        with Image.open(paths[(2 * n + k) % len(paths)]) as picture:
            picture.draft(None, (3354, 1654))
            picture.load()
    page.save(BytesIO(), "JPEG", quality=95, subsampling=0)


def two_plain(pages: int, rounds: int) -> Beside:
    """The album's floor by two plain processes against one: what the second processor of this machine gives at all."""

    def by(count: int) -> float:
        with ProcessPoolExecutor(count, multiprocessing.get_context("spawn")) as pool:
            list(pool.map(_plainly, range(4)))  # until all is imported there
            return _seconds(lambda: list(pool.map(_plainly, range(pages))))

    return beside(lambda: by(2), lambda: by(1), rounds)


def apart(pages: int) -> float:
    """The most memory that an album in inks takes in a process of its own, MB."""
    work = f"from bench import press; press.exported_once({pages}, True); print(press.peak_mb())"
    return float(subprocess.run([sys.executable, "-c", work], capture_output=True, text=True, check=True).stdout)


def peak_mb() -> float:
    """The most memory this process has taken, and not the one that began it, MB."""
    with open("/proc/self/status", encoding="ascii") as status:
        return next(int(line.split()[1]) for line in status if line.startswith("VmHWM")) / 1024


def cards(count: int) -> tuple[float, float]:
    """Seconds of so many editions of a card to files, and of bare renders of the same pages."""
    known = [(path, examine(path, path.name)) for path in photos()]
    opening = Opening(id="o", outline=Rectangle(width_mm=120, height_mm=170), surface=Flat(centre=(190, 89)))
    layout = Layout(width_mm=254, height_mm=177.8, layers=(opening,))
    editions = tuple(
        Edition(id=f"e{n}", name=f"Family {n}",
                fillings={"p": Filling(placements={"o": Placement(photo=known[n % len(known)][1].id)})})
        for n in range(count)
    )  # fmt: skip
    lab = LAB.copy_with(press=None, pdf=PdfRules(), format="jpeg")
    job = Job(name="Cards", template="t", product="card", lab=lab, sheets=(Sheet(id="p", name="P", layout=layout),),
              pile=Pile(photos=tuple(photo for _, photo in known)), editions=editions)  # fmt: skip
    paths = {photo.id: path for path, photo in known}
    with tempfile.TemporaryDirectory() as folder, ThreadPoolExecutor(2) as threads:

        def painter() -> Painter:
            return Painter(PhotoPixels(lambda photo: paths[photo.id]), threads)

        def bare() -> None:
            own = painter()
            for edition in editions:
                own.render(
                    items(resolve_sheet(job, "p", edition.id), refuse_asset, False, False),
                    PixelGrid.for_ppi(layout, 300),
                )

        first = painter()
        ours = _seconds(lambda: export(job, Path(folder), first.pixels, MADE, painter=first, edition=EVERY))
        return ours, _seconds(bare)


def verifying(mb: int) -> float:
    """Seconds that the verifier takes for a PDF of so many MB."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "large.pdf"
        with pikepdf.new() as pdf:
            for _ in range(mb // 5):
                page = pdf.add_blank_page(page_size=(400, 300)).obj
                size = {"Width": 1250, "Height": 1000, "BitsPerComponent": 8}
                kind = {
                    "Type": pikepdf.Name.XObject,
                    "Subtype": pikepdf.Name.Image,
                    "ColorSpace": pikepdf.Name.DeviceCMYK,
                }
                made = pikepdf.Stream(pdf, os.urandom(5_000_000), **kind, **size)
                page.Resources = pikepdf.Dictionary(XObject=pikepdf.Dictionary(P=made))
                words = "\n".join(f"{n % 400} {n % 300} m {n % 350} 9 l {n % 77} 80 l f" for n in range(3000))
                page.Contents = pikepdf.Stream(pdf, f"q 400 0 0 300 0 0 cm /P Do Q 0 0 0 1 k\n{words}".encode())
            pdf.save(path)
        return _seconds(lambda: verify(path, LAB, refuse_asset))


def proofing() -> dict[str, float]:
    """Milliseconds of each view of the press at 1600 x 800 px, the median of five."""
    path = photos()[0]
    with Image.open(path) as picture:
        picture.draft("RGB", (3000, 2000))
        rgb = np.asarray(picture.convert("RGB").resize((1600, 800)))
    proof = Proof("srgb", Press(), refuse_asset)
    found = {}
    for view in proof.views:
        proof.view(rgb, view)
        found[view] = 1000 * sorted(_seconds(lambda: proof.view(rgb, view)) for _ in range(5))[2]  # noqa: B023
    return found


def rows(rounds: int) -> list[tuple[str, str, str, str]]:
    """Rows about what leaves for a press."""
    inks, rgb = to_press(40, rounds, True), to_press(40, rounds, False)
    ours, bare = cards(30)
    each, one_file = (clustered(40, one_file, min(rounds, 2)) for one_file in (False, True))
    plain = two_plain(40, min(rounds, 2))
    view, slowest_ms = max(proofing().items(), key=lambda entry: entry[1])
    album_in = "An album of 40 pages, 80 photos of 24 megapixels, to PDF/X-4 in inks"
    return [
        (album_in, f"{inks.seconds:.1f} s", f"{inks.ratio:.2f}", "at most 1.5"),
        ("  against a floor that encodes RGB", f"{rgb.against:.1f} s", f"{inks.seconds / rgb.against:.2f}", ""),
        ("  as RGB, the press named", f"{rgb.seconds:.1f} s", f"{rgb.ratio:.2f}", "at most 1.5"),
        ("  peak memory", f"{apart(40):.0f} MB", "", "under 700 MB"),
        ("The same album, a file each, by two workers of a cluster against one", f"{each.seconds:.1f} s", f"{1 / each.ratio:.2f}",
         "at least 1.8"),
        ("  all pages in one file", f"{one_file.seconds:.1f} s", f"{1 / one_file.ratio:.2f}", "at least 1.8"),
        ("  the floor by two plain processes against one", f"{plain.seconds:.1f} s", f"{1 / plain.ratio:.2f}", ""),
        ("Thirty editions of a card to files, against bare renders", f"{ours:.1f} s", f"{ours / bare:.2f}", "at most 1.3"),
        ("A PDF of 200 MB verified", f"{verifying(200):.2f} s", "", "under 3 s"),
        (f"The press at 1600 px, its slowest view ({view})", f"{slowest_ms:.0f} ms", "", "under 150 ms with painting"),
    ]  # fmt: skip
