"""Exporting a job: every page painted at the lab sheet's ppi, written as print files, listed in a manifest."""

import hashlib
import json
import re
import unicodedata
from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from ..checks import Finding, check
from ..colour.output import Output, output_of
from ..document import FileKind, Job, Sheet
from ..errors import ExportFailed
from ..fitting import earlier_uses, resolved
from ..paint import Assets, Item, Painter, PixelGrid, items, no_assets
from ..photos import Pixels
from . import openraster, pdf, raster
from .about import About
from .files import whole

MANIFEST = "manifest.json"
SUFFIX = {"jpeg": "jpg", "png": "png", "tiff": "tif", "pdf": "pdf", "ora": "ora"}
Progress = Callable[[str, int, int], None]


def file_stem(job: Job, sheet: Sheet) -> str:
    """A file name by the lab sheet's pattern: ASCII letters, digits, ``-`` and ``_`` only, so that any lab can take it."""
    number = f"{[s.id for s in job.sheets].index(sheet.id) + 1:02d}"
    name = job.lab.naming.format(job=job.name, customer=job.customer, page=number, name=sheet.name)
    return plain_name(name) or f"page-{number}"


def file_stems(job: Job) -> list[str]:
    """The file names of all sheets, in order: where two would be the same, the later one says its number."""
    found: list[str] = []
    for number, sheet in enumerate(job.sheets):
        stem = file_stem(job, sheet)
        found.append(stem if stem not in found else f"{stem}-{number + 1:02d}")
    return found


def plain_name(name: str) -> str:
    """A name as a file name: accents dropped, anything else that is not a letter, digit, ``-`` or ``_`` becomes ``-``."""
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode()
    return re.sub(r"[^A-Za-z0-9_-]+", "-", plain).strip("-_")[:120]


@dataclass(frozen=True)
class Written:
    """A file that was written: the sheets in it, and how they lie on pixels."""

    path: Path
    sheets: tuple[tuple[Sheet, PixelGrid], ...]
    output: Output


class _Pages:
    """A job's sheets made ready one after the other: what is painted of each, and what was found."""

    def __init__(
        self, job: Job, kind: FileKind, transparent: bool, painter: Painter, assets: Assets, edition: str, progress: Progress
    ) -> None:  # fmt: skip
        self.job, self.kind, self._transparent, self._painter = job, kind, transparent, painter
        self._assets, self._edition, self._progress = assets, edition, progress
        self._earlier = earlier_uses(job, edition)
        self.findings: list[Finding] = []
        # A sheet is written as it is painted; putting the rest on disk and checking is a tenth.
        self.total = 100 * len(job.sheets)

    def ready(self, number: int) -> tuple[PixelGrid, list[Item], Callable[[int, int], None]]:
        """The grid and the items of a sheet by its number, and whom to tell of progress."""
        sheet = self.job.sheets[number]
        drawn = resolved(self.job, sheet.id, self._edition, self._earlier[sheet.id], self._assets)
        self.findings += check(drawn)

        def step(done: int, of: int) -> None:
            self._progress(f"painting {sheet.name}", 100 * number + 90 * done // max(1, of), self.total)

        step(0, 1)
        # What goes on elsewhere in layers is sharpened there.
        ways = {"transparent": self._transparent, "printing": self.kind != "ora"}
        layers = items(drawn, self._assets, bench=False, notes=False, **ways)
        return PixelGrid.of(sheet.layout, self.job.lab.ppi_target), layers, step

    def as_pdf(self, number: int) -> pdf.PdfPage:
        """A sheet as a page of a PDF."""
        grid, layers, step = self.ready(number)
        layers, words = pdf.split(layers)
        return pdf.PdfPage(self._painter.bands(layers, grid, step=step), words, grid, self.job.sheets[number].layout)


def export(
    job: Job,
    folder: Path,
    pixels: Pixels,
    made: datetime,
    format: FileKind | None = None,
    transparent: bool = False,
    painter: Painter | None = None,
    progress: Progress = lambda stage, done, total: None,
    assets: Assets = no_assets,
    edition: str = "",
) -> list[Path]:
    """Writes every sheet of an edition into a folder, and a manifest. Returns the files, the manifest last.

    ``progress`` is told stage, done, total and may raise to stop; files already written stay whole.
    Raises ExportFailed, PhotoRefused.
    """
    lab = job.lab
    kind = format or lab.format
    if transparent and kind not in ("png", "ora"):
        raise ExportFailed(f"A {kind.upper()} for print cannot be transparent.", "Choose PNG.")
    painter = painter or Painter(pixels)
    folder.mkdir(parents=True, exist_ok=True)
    output = output_of(lab, assets, rgb=kind in ("png", "ora"))
    pages = _Pages(job, kind, transparent, painter, assets, edition, progress)
    written: list[Written] = []
    stamp = made.isoformat(timespec="seconds")
    if kind == "pdf" and lab.pdf.one_file:
        target = folder / f"{plain_name(f'{job.name} {job.customer}') or 'job'}.pdf"
        made_ready = (pages.as_pdf(number) for number in range(len(job.sheets)))
        about = About(job.name, output.name, stamp)
        pdf.write(target, made_ready, output, lab, about, made, assets)
        grids = [(sheet, PixelGrid.of(sheet.layout, lab.ppi_target)) for sheet in job.sheets]
        written.append(Written(target, tuple(grids), output))
    else:
        for number, (sheet, stem) in enumerate(zip(job.sheets, file_stems(job), strict=True)):
            target = folder / f"{stem}.{SUFFIX[kind]}"
            about = About(f"{job.name}, {sheet.name}", output.name, stamp)
            if kind == "pdf":
                page = pages.as_pdf(number)
                grid = page.grid
                pdf.write(target, [page], output, lab, about, made, assets)
            else:
                grid, layers, step = pages.ready(number)
                if kind == "ora":
                    openraster.write(target, sheet.layout, layers, painter, grid, lab.profile, transparent, step)
                else:
                    bands = painter.bands(layers, grid, transparent=transparent, step=step)
                    raster.write(target, kind, bands, grid.size, lab.ppi_target, output, lab.jpeg_quality, about)
            progress(f"writing {sheet.name}", 100 * (number + 1), pages.total)
            written.append(Written(target, ((sheet, grid),), output))
    manifest = folder / MANIFEST
    with whole(manifest) as file:
        told = _manifest(job, kind, written, pages.findings, made, job.edition(edition).copies)
        file.write(json.dumps(told, indent=1, ensure_ascii=False).encode())
    progress("done", pages.total, pages.total)
    return [*(entry.path for entry in written), manifest]


def _manifest(
    job: Job,
    kind: str,
    written: list[Written],
    findings: list[Finding],
    made: datetime,
    copies: int = 1,
) -> dict[str, object]:
    names = {sheet.id: sheet.name for sheet in job.sheets}
    files = []
    for entry in written:
        with entry.path.open("rb") as file:
            digest = hashlib.file_digest(file, "sha256").hexdigest()
        (sheet, grid), more = entry.sheets[0], entry.sheets[1:]
        press = job.lab.press
        profile = press.profile if press and entry.output.mode != "RGB" else job.lab.profile
        files.append(
            {
                "file": entry.path.name, "page": f"{sheet.name} to {more[-1][0].name}" if more else sheet.name,
                "sha256": digest, "bytes": entry.path.stat().st_size,
                "width_px": grid.size[0], "height_px": grid.size[1], "ppi": job.lab.ppi_target,
                "profile": profile, "colour": entry.output.name, "trim_mm": list(grid.page_mm), "bleed_mm": grid.bleed_mm,
                **({"pages": [s.name for s, _ in entry.sheets]} if more else {}),
            }
        )  # fmt: skip
    return {
        "job": job.name, "customer": job.customer, "lab": job.lab.name, "format": kind, "copies": copies,
        "made": made.isoformat(timespec="seconds"), "files": files,
        "accepted": [
            {
                "page": names[f.sheet], "finding": f.sentence, "severity": f.found, "by": f.accepted.name,
                "reason": f.accepted.reason,
            }
            for f in findings if f.accepted and f.found != "note"
        ],
        "stops": [{"page": names[f.sheet], "finding": f.sentence} for f in findings if f.severity == "stop"],
        "looks": sum(f.severity == "look" and f.found == "look" for f in findings),
    }  # fmt: skip
