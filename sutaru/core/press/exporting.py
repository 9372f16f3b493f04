"""Exporting a job: every page painted at the lab sheet's ppi, written as print files, listed in a manifest."""

import hashlib
import json
import re
import unicodedata
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from pathlib import Path

from ..checks import Finding, check
from ..colour.output import Output, output_of
from ..document import Edition, FileKind, Job, Sheet
from ..errors import ExportFailed
from ..fitting import earlier_uses, resolved
from ..paint import Assets, Item, Painter, PixelGrid, items, no_assets
from ..photos import Pixels
from . import openraster, pdf, raster
from .about import About
from .files import whole

MANIFEST = "manifest.json"
EVERY = "*"  # all editions
SUFFIX = {"jpeg": "jpg", "png": "png", "tiff": "tif", "pdf": "pdf", "ora": "ora"}
Progress = Callable[[str, int, int], None]


def file_stem(job: Job, sheet: Sheet) -> str:
    """A file name by the lab sheet's pattern: ASCII letters, digits, ``-`` and ``_`` only, so that any lab can take it."""
    number = f"{[s.id for s in job.sheets].index(sheet.id) + 1:02d}"
    name = job.lab.naming.format(job=job.name, customer=job.customer, page=number, name=sheet.name)
    return plain_name(name) or f"page-{number}"


def named_alike(job: Job) -> bool:
    """Whether the pattern gives two sheets the same name."""
    stems = [file_stem(job, sheet) for sheet in job.sheets]
    return len(set(stems)) < len(stems)


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
    """A file that was written: whose edition, the sheets in it, and how they lie on pixels."""

    path: Path
    edition: Edition
    sheets: tuple[tuple[Sheet, PixelGrid], ...]
    output: Output


@dataclass
class _Run:
    """An export under way: what is to be written, where, and whom to tell of it."""

    job: Job
    folder: Path
    kind: FileKind
    transparent: bool
    painter: Painter
    output: Output
    made: datetime
    assets: Assets
    progress: Progress
    total: int
    done: int = 0  # of the total: a sheet counts 100, of which putting it on disk and checking is a tenth
    findings: list[Finding] = field(default_factory=list)
    earlier: dict[str, dict[str, dict[str, str]]] = field(
        default_factory=dict
    )  # uses on sheets before, of the edition at hand

    def write(self, edition: Edition, prefix: str) -> list[Written]:
        """An edition's files, their names after a prefix."""
        if self.kind == "pdf" and self.job.lab.pdf.one_file:
            name = prefix.strip("_") or plain_name(f"{self.job.name} {self.job.customer}") or "job"
            target = self.folder / f"{name}.pdf"
            title = f"{self.job.name}, {edition.name}" if prefix else self.job.name
            pages = (self._pdf_page(edition, sheet) for sheet in self.job.sheets)
            self._pdf(target, pages, title)
            grids = [(sheet, PixelGrid.of(sheet.layout, self.job.lab.ppi_target)) for sheet in self.job.sheets]
            return [Written(target, edition, tuple(grids), self.output)]
        found = []
        for sheet, stem in zip(self.job.sheets, file_stems(self.job), strict=True):
            target = self.folder / f"{prefix}{stem}.{SUFFIX[self.kind]}"
            grid = self._sheet(edition, sheet, target)
            found.append(Written(target, edition, ((sheet, grid),), self.output))
        return found

    def _ready(self, edition: Edition, sheet: Sheet) -> tuple[PixelGrid, list[Item], Callable[[int, int], None]]:
        """The grid and the items of a sheet, and whom to tell of progress."""
        if edition.id not in self.earlier:
            self.earlier = {edition.id: earlier_uses(self.job, edition.id)}
        drawn = resolved(self.job, sheet.id, edition.id, self.earlier[edition.id][sheet.id], self.assets)
        self.findings += check(drawn)
        before = self.done
        self.done += 100

        def step(done: int, of: int) -> None:
            self.progress(f"painting {sheet.name}", before + 90 * done // max(1, of), self.total)

        step(0, 1)
        # What goes on elsewhere in layers is sharpened there.
        ways = {"transparent": self.transparent, "printing": self.kind != "ora"}
        layers = items(drawn, self.assets, bench=False, notes=False, **ways)
        return PixelGrid.of(sheet.layout, self.job.lab.ppi_target), layers, step

    def _pdf_page(self, edition: Edition, sheet: Sheet) -> pdf.PdfPage:
        grid, layers, step = self._ready(edition, sheet)
        layers, words = pdf.split(layers)
        return pdf.PdfPage(self.painter.bands(layers, grid, step=step), words, grid, sheet.layout)

    def _pdf(self, target: Path, pages: Iterable[pdf.PdfPage], title: str) -> None:
        pdf.write(
            target, pages, self.output, self.job.lab, self._about(title), self.made, self.assets, self.painter.threads
        )

    def _about(self, title: str) -> About:
        return About(title, self.output.name, self.made.isoformat(timespec="seconds"))

    def _sheet(self, edition: Edition, sheet: Sheet, target: Path) -> PixelGrid:
        """One sheet into a file of its own."""
        title, lab = f"{self.job.name}, {sheet.name}", self.job.lab
        if self.kind == "pdf":
            page = self._pdf_page(edition, sheet)
            self._pdf(target, [page], title)
            grid = page.grid
        else:
            grid, layers, step = self._ready(edition, sheet)
            if self.kind == "ora":
                openraster.write(target, sheet.layout, layers, self.painter, grid, lab.profile, self.transparent, step)
            else:
                bands = self.painter.bands(layers, grid, transparent=self.transparent, step=step)
                raster.write(
                    target, self.kind, bands, grid.size, lab.ppi_target, self.output, lab.jpeg_quality, self._about(title),
                    self.painter.threads,
                )  # fmt: skip
        self.progress(f"writing {sheet.name}", self.done, self.total)
        return grid


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
    """Writes every sheet of an edition into a folder, or of all editions (``EVERY``), and a manifest. Returns the files, the
    manifest last.

    ``progress`` is told stage, done, total and may raise to stop; files already written stay whole.
    Raises ExportFailed, PhotoRefused.
    """
    kind = format or job.lab.format
    if transparent and kind not in ("png", "ora"):
        raise ExportFailed(f"A {kind.upper()} for print cannot be transparent.", "Choose PNG.")
    folder.mkdir(parents=True, exist_ok=True)
    editions = job.editions if edition == EVERY else (job.edition(edition),)
    output = output_of(job.lab, assets, rgb=kind in ("png", "ora"))
    total = 100 * len(job.sheets) * len(editions)
    run = _Run(job, folder, kind, transparent, painter or Painter(pixels), output, made, assets, progress, total)
    written: list[Written] = []
    prefixes = edition_prefixes(editions) if edition == EVERY else [""]
    for own, prefix in zip(editions, prefixes, strict=True):
        written += run.write(own, prefix)
    manifest = folder / MANIFEST
    with whole(manifest) as file:
        told = manifest_of(job, kind, written, run.findings, made, edition == EVERY)
        file.write(json.dumps(told, indent=1, ensure_ascii=False).encode())
    progress("done", total, total)
    return [*(entry.path for entry in written), manifest]


def edition_prefixes(editions: Sequence[Edition]) -> list[str]:
    """What the files of each edition begin with, no two alike."""
    found: list[str] = []
    for own in editions:
        name = plain_name(own.name)[:60] or own.id
        found.append(f"{name}_" if f"{name}_" not in found else f"{own.id}_")
    return found


def manifest_of(
    job: Job, kind: str, written: Sequence[Written], findings: Sequence[Finding], made: datetime, many: bool = False
) -> dict[str, object]:
    """What was written, for the lab and for later: each file's checksum, pixels and colour; what was accepted, and by whom.
    ``many``: with the edition of each file."""
    names = {sheet.id: sheet.name for sheet in job.sheets}
    editions = {entry.edition.id: entry.edition for entry in written}
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
                **({"edition": entry.edition.name, "copies": entry.edition.copies} if many else {}),
            }
        )  # fmt: skip
    return {
        "job": job.name, "customer": job.customer, "lab": job.lab.name, "format": kind,
        "copies": sum(own.copies for own in editions.values()),
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
