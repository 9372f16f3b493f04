"""Exporting a job: every page painted at the lab sheet's ppi, written as print files, listed in a manifest.

What writes a format is loaded when that is asked for: a JPEG needs nothing of PDF.
"""

import hashlib
import json
import re
import time
import unicodedata
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from itertools import count, zip_longest
from pathlib import Path
from typing import TYPE_CHECKING

from pydantic import JsonValue

from .. import memory
from ..checks import Finding, check
from ..colour.output import output_of
from ..document import Edition, FileKind, Job, Sheet
from ..document.base import Frozen
from ..errors import ExportFailed
from ..fitting import earlier_uses, resolve_sheet
from ..paint import Assets, Item, Painter, PixelGrid, items, refuse_asset
from ..photos import Pixels
from . import raster
from .file_metadata import About
from .files import PREFIX, sweep_orphans, write_whole
from .strata import Picture, split, strata

if TYPE_CHECKING:
    from .pdf_pages import PdfPage

MANIFEST = "manifest.json"
EVERY = "*"  # all editions
SHEET = 100  # what a sheet counts in progress, of which putting it on disk and checking is a tenth
DRAWN = 10  # what one counts whose picture was made ahead
LATE_S, LOOK_S = 30.0, 0.05  # how long pictures that others make are waited for, and how often they are looked for
SUFFIX = {"jpeg": "jpg", "png": "png", "tiff": "tif", "pdf": "pdf", "ora": "ora"}
Progress = Callable[[str, int, int], None]


def file_stem(job: Job, sheet: Sheet, number: int) -> str:
    """A file name by the lab sheet's pattern: ASCII letters, digits, ``-`` and ``_`` only, so that any lab can take it."""
    page = f"{number:02d}"
    name = job.lab.naming.format(job=job.name, customer=job.customer, page=page, name=sheet.name)
    return plain_file_name(name) or f"page-{page}"


def has_equal_names(job: Job) -> bool:
    """Whether the pattern gives two sheets the same name."""
    stems = [file_stem(job, sheet, n) for n, sheet in enumerate(job.sheets_of(job.editions[0]), 1)]
    return len({stem.casefold() for stem in stems}) < len(stems)


def file_stems(job: Job, edition: Edition | None = None) -> list[str]:
    """The file names of an edition's sheets, else of the first's, in order: where two would be the same, the later one says its
    number."""
    stems: list[str] = []
    for number, sheet in enumerate(job.sheets_of(edition or job.editions[0]), 1):
        stem = file_stem(job, sheet, number)
        known = {stem.casefold() for stem in stems}
        stems.append(stem if stem.casefold() not in known else f"{stem}-{number:02d}")
    return make_unique(stems)


def make_unique(names: Sequence[str]) -> list[str]:
    """Names of which no two are alike, capitals or not: a later one that would be an earlier one has a number at its end. What
    follows the last dot stays.

    >>> make_unique(["Kites.jpg", "kites.jpg", "kites-2.jpg"])
    ['Kites.jpg', 'kites-3.jpg', 'kites-2.jpg']
    """
    taken = {name.casefold() for name in names}
    seen: set[str] = set()
    unique_names = []
    for name in names:
        if name.casefold() in seen:
            stem, dot, ending = name.rpartition(".") if "." in name else (name, "", "")
            numbered = (f"{stem}-{n}{dot}{ending}" for n in count(2))
            name = next(name for name in numbered if name.casefold() not in taken)
            taken.add(name.casefold())
        seen.add(name.casefold())
        unique_names.append(name)
    return unique_names


def plain_file_name(name: str) -> str:
    """A name as a file name: accents dropped, anything else that is not a letter, digit, ``-`` or ``_`` becomes ``-``."""
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode()
    return re.sub(r"[^A-Za-z0-9_-]+", "-", plain).strip("-_")[:120]


class Piece(Frozen):
    """What of an export can be done by itself, by any process that sees the folder: a file of an edition's sheets, or, ahead of a
    file of many sheets, the ``picture`` of one. ``ahead``: such a file, whose pictures others make or have made. Picklable, and
    the same bytes whoever does it."""

    edition: str
    sheets: tuple[str, ...]
    file: str
    picture: bool = False
    ahead: bool = False

    def picture_of(self, sheet: str) -> "Piece":
        """The piece that makes the picture of one of the sheets ahead."""
        name = f"{PREFIX}{self.file}-{self.sheets.index(sheet)}"
        return Piece(edition=self.edition, sheets=(sheet,), file=name, picture=True)


class Done(Frozen):
    """What a piece came to: what a manifest says of its file, and what was found on its sheets, unless their pictures were made
    ahead: then it was found with those."""

    edition: str
    file: dict[str, JsonValue] = {}
    findings: tuple[Finding, ...] = ()


def _counts(piece: Piece) -> int:
    """What each sheet of a piece counts."""
    return DRAWN if piece.ahead else SHEET


def pieces(job: Job, kind: FileKind, edition: str = "") -> list[Piece]:
    """The files of an edition, or of all (``EVERY``), in order."""
    editions = job.editions if edition == EVERY else (job.edition(edition),)
    prefixes = edition_prefixes(editions) if edition == EVERY else [""]
    pieces_made = []
    for edition_here, prefix in zip(editions, prefixes, strict=True):
        if kind == "pdf" and job.lab.pdf.one_file:
            name = prefix.strip("_") or plain_file_name(f"{job.name} {job.customer}") or "job"
            every = tuple(sheet.id for sheet in job.sheets_of(edition_here))
            pieces_made.append(Piece(edition=edition_here.id, sheets=every, file=f"{name}.pdf"))
            continue
        for sheet, stem in zip(job.sheets_of(edition_here), file_stems(job, edition_here), strict=True):
            pieces_made.append(
                Piece(edition=edition_here.id, sheets=(sheet.id,), file=f"{prefix}{stem}.{SUFFIX[kind]}")
            )
    # A prefix and a name may come to what another two come to.
    names = make_unique([piece.file for piece in pieces_made])
    return [piece.copy_with(file=name) for piece, name in zip(pieces_made, names, strict=True)]


@dataclass
class Exporter:
    """Does pieces of an export into a folder. ``many``: of several editions, whose titles say which. ``progress`` is told stage,
    done, total, a sheet counting ``SHEET``, and may raise to stop."""

    job: Job
    folder: Path
    kind: FileKind
    painter: Painter
    made: datetime
    assets: Assets = refuse_asset
    transparent: bool = False
    many: bool = False
    progress: Progress = lambda stage, done, total: None
    total: int = 0
    done: int = 0
    counts: int = SHEET  # a sheet of the piece at hand
    doing: str = "painting"
    patience: float = LATE_S
    findings: list[Finding] = field(default_factory=list)
    earlier: dict[str, dict[str, dict[str, str]]] = field(
        default_factory=dict
    )  # uses on sheets before, of the edition at hand

    def __post_init__(self) -> None:
        if self.transparent and self.kind not in ("png", "ora"):
            raise ExportFailed(f"A {self.kind.upper()} for print cannot be transparent.", "Choose PNG.")
        self.output = output_of(
            self.job.lab, self.assets, rgb=self.kind in ("png", "ora"), as_jpeg=self.kind in ("jpeg", "pdf")
        )

    def do(self, pieces: Sequence[Piece]) -> list[Done]:
        """Does pieces one after the other. Raises ExportFailed, PhotoRefused, and what ``progress`` raises; files that are
        written stay whole."""
        self.total = sum(_counts(piece) * len(piece.sheets) for piece in pieces)
        return [self._piece(piece) for piece in pieces]

    def _piece(self, piece: Piece) -> Done:
        edition, target = self.job.edition(piece.edition), self.folder / piece.file
        sheets = [self.job.sheets_by_id[identity] for identity in piece.sheets]
        self.findings, self.counts = [], _counts(piece)
        self.doing = "putting in" if piece.ahead else "painting"
        if piece.picture:
            self._picture(edition, sheets[0], target)
            return Done(edition=edition.id, findings=tuple(self.findings))
        many = self.kind == "pdf"  # may hold many sheets
        digest = self._pdf(piece, edition, sheets, target) if many else self._raster(edition, sheets[0], target)
        return Done(
            edition=edition.id,
            file=self._manifest_entry(edition, sheets, target, digest),
            findings=tuple(self.findings),
        )

    def _ready(
        self, edition: Edition, sheet: Sheet, checked: bool = True
    ) -> tuple[PixelGrid, list[Item], Callable[[int, int], None]]:
        """The grid and the items of a sheet, ``checked``, and whom to tell of progress."""
        if edition.id not in self.earlier:
            self.earlier = {edition.id: earlier_uses(self.job, edition.id)}
        drawn = resolve_sheet(self.job, sheet.id, edition.id, self.earlier[edition.id][sheet.id], self.assets)
        if checked:
            self.findings += check(drawn)
        before = self.done
        self.done += self.counts

        def step(done: int, of: int) -> None:
            self.progress(f"{self.doing} {sheet.name}", before + 9 * self.counts // 10 * done // max(1, of), self.total)

        step(0, 1)
        # What goes on elsewhere in layers is sharpened there.
        ways = {"transparent": self.transparent, "printing": self.kind != "ora"}
        layers = items(drawn, self.assets, bench=False, notes=False, **ways)
        grid = PixelGrid.for_print(sheet.layout, self.job.lab)
        if grid.band_rows < grid.size[1]:
            memory.give_back()
        return replace(grid, depth=self.job.lab.tiff_bits) if self.kind == "tiff" else grid, layers, step

    def _picture(self, edition: Edition, sheet: Sheet, target: Path) -> None:
        grid, layers, step = self._ready(edition, sheet)
        bands = self.painter.bands(split(layers, grid)[0], grid, step=step)
        jpeg = raster.jpeg_of_bands(bands, grid.size, self.job.lab.jpeg_quality, self.output, self.painter.threads)
        with write_whole(target, lasting=False) as file:
            file.writelines(jpeg)

    def _pdf(self, piece: Piece, edition: Edition, sheets: list[Sheet], target: Path) -> str:
        """A PDF, and its SHA-256; pictures that are made ahead are taken as they come."""
        from . import pdf_pages

        ahead = [self.folder / piece.picture_of(sheet).file for sheet in piece.sheets if piece.ahead]
        single = len(sheets) == 1 and not self.job.lab.pdf.one_file
        title = f"{self.job.name}, {sheets[0].name}" if single else self.job.name
        title = f"{self.job.name}, {edition.name}" if self.many and not single else title
        pages = (self._pdf_page(edition, sheet, picture) for sheet, picture in zip_longest(sheets, ahead))
        digest = pdf_pages.write(
            target,
            pages,
            self.output,
            self.job.lab,
            self._describe_file(title),
            self.made,
            self.assets,
            self.painter.threads,
        )
        for picture in ahead:
            picture.unlink(missing_ok=True)  # else those of all editions would lie beside all their files
        self.progress(f"writing {sheets[-1].name}", self.done, self.total)
        return digest

    def _pdf_page(self, edition: Edition, sheet: Sheet, ahead: Path | None) -> "PdfPage":
        from .pdf_pages import PdfPage

        picture = ahead if ahead and self._wait_for_picture(ahead, sheet) else None
        grid, layers, step = self._ready(edition, sheet, checked=not picture)  # else it was, with its picture
        if picture:
            return PdfPage((Picture((), grid.box), *split(layers, grid)[1]), grid, sheet.layout, picture)
        return PdfPage(strata(layers, self.job.lab.has_live_layers, self.painter, grid, step), grid, sheet.layout)

    def _wait_for_picture(self, ahead: Path, sheet: Sheet) -> bool:
        """Waits for a picture that another makes; whether it came. Who makes it may be lost, and nobody free to do it again."""
        late = time.monotonic() + self.patience
        while not ahead.exists():
            if time.monotonic() > late:
                self.patience = 0.0
                return False
            self.progress(f"{self.doing} {sheet.name}", self.done, self.total)  # has a shared disk look anew, too
            time.sleep(LOOK_S)
        return True

    def _raster(self, edition: Edition, sheet: Sheet, target: Path) -> str:
        """A picture, and its SHA-256."""
        grid, layers, step = self._ready(edition, sheet)
        lab = self.job.lab
        if self.kind == "ora":
            from . import openraster

            openraster.write(target, sheet.layout, layers, self.painter, grid, lab.profile, self.transparent, step)
        else:
            bands = self.painter.bands(layers, grid, transparent=self.transparent, step=step)
            raster.write(
                target, self.kind, bands, grid.size, lab.ppi_target, self.output, lab.jpeg_quality,
                self._describe_file(f"{self.job.name}, {sheet.name}"), self.painter.threads, grid.depth,
            )  # fmt: skip
        self.progress(f"writing {sheet.name}", self.done, self.total)
        with target.open("rb") as file:
            return hashlib.file_digest(file, "sha256").hexdigest()

    def _describe_file(self, title: str) -> About:
        by = self.job.studio.name if self.job.lab.credit and self.job.studio else ""
        return About(title, self.output.name, self.made.isoformat(timespec="seconds"), by)

    def _manifest_entry(self, edition: Edition, sheets: list[Sheet], path: Path, digest: str) -> dict[str, JsonValue]:
        """What the manifest says of a file."""
        first, last, lab = sheets[0], sheets[-1], self.job.lab
        grid = PixelGrid.for_print(first.layout, lab)
        profile = lab.press.profile if lab.press and self.output.mode != "RGB" else lab.profile
        return {
            "file": path.name, "page": f"{first.name} to {last.name}" if last is not first else first.name,
            "sha256": digest, "bytes": path.stat().st_size,
            "width_px": grid.size[0], "height_px": grid.size[1], "ppi": lab.ppi_target,
            "profile": profile, "colour": self.output.name, "trim_mm": list(grid.page_mm), "bleed_mm": max(grid.bleed_sides_mm),
            **({"bits": lab.tiff_bits} if self.kind == "tiff" else {}),
            **({} if len(set(grid.bleed_sides_mm)) == 1 else {"bleeds_mm": list(grid.bleed_sides_mm)}),
            **({"pages": [s.name for s in sheets]} if len(sheets) > 1 else {}),
            **({"edition": edition.name, "edition_id": edition.id, "copies": edition.copies} if self.many else {}),
        }  # fmt: skip


def export(
    job: Job,
    folder: Path,
    pixels: Pixels,
    made_at: datetime,
    format: FileKind | None = None,
    transparent: bool = False,
    painter: Painter | None = None,
    progress: Progress = lambda stage, done, total: None,
    assets: Assets = refuse_asset,
    edition: str = "",
) -> list[Path]:
    """Writes every sheet of an edition into a folder, or of all editions (``EVERY``), and a manifest. Returns the files, the
    manifest last.

    ``progress`` is told stage, done, total and may raise to stop; files already written stay whole.
    Raises ExportFailed, PhotoRefused.
    """
    kind = format or job.lab.format
    folder.mkdir(parents=True, exist_ok=True)
    exporter = Exporter(
        job, folder, kind, painter or Painter(pixels), made_at, assets, transparent, edition == EVERY, progress
    )
    todo = pieces(job, kind, edition)
    done = exporter.do(todo)
    manifest = write_manifest(job, folder, kind, done, made_at)
    progress("done", exporter.total, exporter.total)
    return [*(folder / piece.file for piece in todo), manifest]


def write_manifest(job: Job, folder: Path, kind: FileKind, done: Sequence[Done], made_at: datetime) -> Path:
    """Writes the manifest of an export whose pieces are all done; its path. What killed exports left in the folder goes."""
    manifest = folder / MANIFEST
    with write_whole(manifest) as file:
        file.write(json.dumps(manifest_of(job, kind, done, made_at), indent=1, ensure_ascii=False).encode())
    sweep_orphans(folder)
    return manifest


def edition_prefixes(editions: Sequence[Edition]) -> list[str]:
    """What the files of each edition begin with, no two alike."""
    prefixes: list[str] = []
    for edition in editions:
        name = plain_file_name(edition.name)[:60] or edition.id
        prefixes.append(name if name.casefold() not in {prefix.casefold() for prefix in prefixes} else edition.id)
    return [f"{name}_" for name in make_unique(prefixes)]


def manifest_of(job: Job, kind: str, done: Sequence[Done], made_at: datetime) -> dict[str, object]:
    """What was written, for the lab and for later: each file's checksum, pixels and colour; what was found on its sheets: stops
    and looks that were accepted, and by whom, and those that were not."""
    names = {sheet.id: sheet.name for sheet in job.sheets}
    editions = {entry.edition: job.edition(entry.edition) for entry in done}

    def describe(edition: str, finding: Finding) -> dict[str, str]:
        where = {"edition": editions[edition].name} if len(editions) > 1 else {}
        return {**where, "page": names[finding.sheet], "finding": finding.sentence}

    findings = [(entry.edition, finding) for entry in done for finding in entry.findings]
    return {
        "job": job.name, "customer": job.customer, "lab": job.lab.name, "format": kind,
        "copies": sum(edition.copies for edition in editions.values()),
        "made": made_at.isoformat(timespec="seconds"), "files": [entry.file for entry in done],
        "accepted": [
            {**describe(edition, f), "severity": f.found, "by": f.accepted.name, "reason": f.accepted.reason}
            for edition, f in findings if f.accepted and f.found != "note"
        ],
        "stops": [describe(edition, f) for edition, f in findings if f.severity == "stop"],
        "looks": [describe(edition, f) for edition, f in findings if f.severity == "look" and not f.accepted],
    }  # fmt: skip
