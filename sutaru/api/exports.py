"""Exports: starting, watching, stopping, fetching files."""

import secrets
import zipfile
from pathlib import Path

from fastapi import APIRouter
from fastapi.responses import FileResponse
from starlette.background import BackgroundTask

from ..core.errors import NotFound
from ..core.press import MANIFEST
from ..store import Export
from .models import ExportRequest, ExportState, ProgressOf
from .studio import InStudio, Studio

router = APIRouter(prefix="/api", tags=["dispatch"])


def _state(studio: Studio, export: Export) -> ExportState:
    progress = studio.progress(export.id) if export.state == "running" else None
    return ExportState(**vars(export), progress=ProgressOf.model_validate(progress) if progress else None)


@router.get("/jobs/{job}/exports")
def exports(studio: InStudio, job: str) -> list[ExportState]:
    """Exports of a job, the newest first."""
    return [_state(studio, export) for export in studio.exports.of(job)]


@router.post("/jobs/{job}/exports", status_code=202)
def start_export(studio: InStudio, job: str, asked: ExportRequest) -> ExportState:
    """Starts an export of the job as it stands."""
    return _state(studio, studio.start_export(job, asked.lab, asked.format, asked.transparent))


@router.post("/exports/{export}/stop")
def stop_export(studio: InStudio, export: str) -> ExportState:
    """Stops a running export; what it had written is deleted."""
    return _state(studio, studio.stop_export(export))


def _files(studio: Studio, identity: str) -> dict[str, Path]:
    """Files of a finished export by name: only those its manifest lists."""
    export = studio.exports.get(identity)
    if export.state != "done" or export.manifest is None:
        raise NotFound("This export has no files.", "Export again.")
    names = [*(entry["file"] for entry in export.manifest["files"]), MANIFEST]
    return {name: studio.folder(export) / name for name in names}


@router.get("/exports/{export}/files/{name}", response_class=FileResponse)
def export_file(studio: InStudio, export: str, name: str) -> FileResponse:
    """One file of a finished export."""
    found = _files(studio, export)
    if name not in found or not found[name].exists():
        raise NotFound("This export has no such file.")
    return FileResponse(found[name], filename=name)


@router.get("/exports/{export}/all", response_class=FileResponse)
def export_zip(studio: InStudio, export: str) -> FileResponse:
    """All files of a finished export as one zip."""
    files = _files(studio, export)
    path = studio.photos.incoming / f"zip-{secrets.token_hex(6)}"
    with zipfile.ZipFile(path, "w", zipfile.ZIP_STORED) as packed:
        for name, file in files.items():
            packed.write(file, name)
    gone = BackgroundTask(path.unlink, missing_ok=True)
    return FileResponse(path, filename=f"{export}.zip", media_type="application/zip", background=gone)
