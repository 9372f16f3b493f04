"""Exporting a job: every page painted at the lab sheet's ppi, written as print files, listed in a manifest."""

import hashlib
import json
import re
import unicodedata
from collections.abc import Callable
from datetime import datetime
from pathlib import Path

from ..checks import Finding, check
from ..document import FileKind, Job, Sheet
from ..errors import ExportFailed
from ..fitting import earlier_uses, resolved
from ..paint import Assets, Item, Painter, PixelGrid, items, no_assets
from ..photos import Pixels
from . import openraster, pdf, raster
from .files import whole

MANIFEST = "manifest.json"
SUFFIX = {"jpeg": "jpg", "png": "png", "tiff": "tif", "pdf": "pdf", "ora": "ora"}
Progress = Callable[[str, int, int], None]


def file_stem(job: Job, sheet: Sheet) -> str:
    """A file name by the lab sheet's pattern: ASCII letters, digits, ``-`` and ``_`` only, so that any lab can take it."""
    number = f"{[s.id for s in job.sheets].index(sheet.id) + 1:02d}"
    name = job.lab.naming.format(job=job.name, customer=job.customer, page=number, name=sheet.name)
    return plain_name(name) or f"page-{number}"


def plain_name(name: str) -> str:
    """A name as a file name: accents dropped, anything else that is not a letter, digit, ``-`` or ``_`` becomes ``-``."""
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode()
    return re.sub(r"[^A-Za-z0-9_-]+", "-", plain).strip("-_")[:120]


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
    written: list[tuple[Sheet, Path, PixelGrid]] = []
    findings: list[Finding] = []
    # A sheet is written as it is painted; putting the rest on disk and checking is a tenth.
    total = 100 * len(job.sheets)
    taken: set[str] = set()
    earlier = earlier_uses(job, edition)
    for number, sheet in enumerate(job.sheets):
        grid = PixelGrid.of(sheet.layout, lab.ppi_target)
        drawn = resolved(job, sheet.id, edition, earlier[sheet.id], assets)
        findings += check(drawn)
        layers = items(drawn, assets, bench=False, notes=False, transparent=transparent)
        words: list[Item] = []
        if kind == "pdf":
            layers, words = pdf.split(layers)

        def step(done: int, of: int, before: int = 100 * number, what: str = f"painting {sheet.name}") -> None:
            progress(what, before + 90 * done // max(1, of), total)

        step(0, 1)
        stem = file_stem(job, sheet)
        stem = stem if stem not in taken else f"{stem}-{number + 1:02d}"
        taken.add(stem)
        target = folder / f"{stem}.{SUFFIX[kind]}"
        if kind == "ora":
            openraster.write(target, sheet.layout, layers, painter, grid, lab.profile, transparent, step)
        elif kind == "pdf":
            bands = painter.bands(layers, grid, step=step)
            pdf.write(target, bands, words, grid, lab.profile, lab.jpeg_quality, f"{job.name}, {sheet.name}", made)
        else:
            bands = painter.bands(layers, grid, transparent=transparent, step=step)
            raster.write(target, kind, bands, grid.size, lab.ppi_target, lab.profile, lab.jpeg_quality)
        progress(f"writing {sheet.name}", 100 * (number + 1), total)
        written.append((sheet, target, grid))
    manifest = folder / MANIFEST
    with whole(manifest) as file:
        file.write(
            json.dumps(
                _manifest(job, kind, written, findings, made, job.edition(edition).copies), indent=1, ensure_ascii=False
            ).encode()
        )
    progress("done", total, total)
    return [*(path for _, path, _ in written), manifest]


def _manifest(
    job: Job,
    kind: str,
    written: list[tuple[Sheet, Path, PixelGrid]],
    findings: list[Finding],
    made: datetime,
    copies: int = 1,
) -> dict[str, object]:
    names = {sheet.id: sheet.name for sheet in job.sheets}
    files = []
    for sheet, path, grid in written:
        with path.open("rb") as file:
            digest = hashlib.file_digest(file, "sha256").hexdigest()
        files.append(
            {
                "file": path.name, "page": sheet.name, "sha256": digest, "bytes": path.stat().st_size,
                "width_px": grid.size[0], "height_px": grid.size[1], "ppi": job.lab.ppi_target,
                "profile": job.lab.profile, "trim_mm": list(grid.page_mm), "bleed_mm": grid.bleed_mm,
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
