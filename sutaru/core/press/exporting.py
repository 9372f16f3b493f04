"""Exporting a job: every page painted at the lab sheet's ppi, written as print files, listed in a manifest."""

import hashlib
import json
import re
import unicodedata
from collections.abc import Callable
from datetime import datetime
from pathlib import Path

from ..document import Format, Job, LabSheet, Page
from ..errors import ExportFailed
from ..paint import Grid, Item, Painter, items
from ..photos import Pixels
from . import pdf, raster
from .files import whole

MANIFEST = "manifest.json"
Progress = Callable[[str, int, int], None]


def file_stem(lab: LabSheet, job: Job, page: Page) -> str:
    """A file name by the lab sheet's pattern: ASCII letters, digits, ``-`` and ``_`` only, so that any lab can take it."""
    number = f"{[p.id for p in job.pages].index(page.id) + 1:02d}"
    name = lab.naming.format(job=job.name, customer=job.customer, page=number, name=page.name)
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
    format: Format | None = None,
    transparent: bool = False,
    painter: Painter | None = None,
    progress: Progress = lambda stage, done, total: None,
) -> list[Path]:
    """Writes every page of a job into a folder, and a manifest. Returns the files, the manifest last.

    ``progress`` is told stage, done, total and may raise to stop; files already written stay whole.
    Raises ExportFailed, PhotoRefused.
    """
    lab = job.lab
    kind = format or lab.format
    if transparent and kind != "png":
        raise ExportFailed(f"A {kind.upper()} for print cannot be transparent.", "Choose PNG.")
    painter = painter or Painter(pixels)
    folder.mkdir(parents=True, exist_ok=True)
    written: list[tuple[Page, Path, Grid]] = []
    # Painting counts for 90 of a page's 100 parts: encoding and checking are the rest.
    total = 100 * len(job.pages)
    taken: set[str] = set()
    for number, page in enumerate(job.pages):
        grid = Grid.of(page, lab.ppi_target)
        layers = items(job, page, bench=False, notes=False, transparent=transparent)
        words: list[Item] = []
        if kind == "pdf":
            layers, words = pdf.split(layers)

        def step(done: int, of: int, before: int = 100 * number, what: str = f"painting {page.name}") -> None:
            progress(what, before + 90 * done // max(1, of), total)

        step(0, 1)
        rgb, alpha = painter.render(layers, grid, transparent=transparent, step=step)
        progress(f"writing {page.name}", 100 * number + 90, total)
        stem = file_stem(lab, job, page)
        stem = stem if stem not in taken else f"{stem}-{number + 1:02d}"
        taken.add(stem)
        target = folder / f"{stem}.{raster.SUFFIX[kind]}"
        if kind == "pdf":
            pdf.write(target, rgb, words, grid, lab.profile, lab.jpeg_quality, f"{job.name}, {page.name}", made)
        else:
            raster.write(target, kind, rgb, alpha, lab.ppi_target, lab.profile, lab.jpeg_quality)
        written.append((page, target, grid))
    manifest = folder / MANIFEST
    with whole(manifest) as file:
        file.write(json.dumps(_manifest(job, kind, written, made), indent=1, ensure_ascii=False).encode())
    progress("done", total, total)
    return [*(path for _, path, _ in written), manifest]


def _manifest(job: Job, kind: str, written: list[tuple[Page, Path, Grid]], made: datetime) -> dict[str, object]:
    files = []
    for page, path, grid in written:
        with path.open("rb") as file:
            digest = hashlib.file_digest(file, "sha256").hexdigest()
        files.append(
            {
                "file": path.name, "page": page.name, "sha256": digest, "bytes": path.stat().st_size,
                "width_px": grid.size[0], "height_px": grid.size[1], "ppi": job.lab.ppi_target,
                "profile": job.lab.profile, "trim_mm": [page.width_mm, page.height_mm], "bleed_mm": page.bleed_mm,
            }
        )  # fmt: skip
    return {
        "job": job.name, "customer": job.customer, "lab": job.lab.name, "format": kind,
        "made": made.isoformat(timespec="seconds"), "files": files,
    }  # fmt: skip
