"""Long work: watching, stopping, running again; exports and their files."""

import secrets
import zipfile
from pathlib import Path

from fastapi import APIRouter
from fastapi.responses import FileResponse
from starlette.background import BackgroundTask

from ..core.errors import NotFound
from ..core.press.exporting import MANIFEST, plain_file_name
from .long_work import InLongWork
from .models.job_heads import ExportRequest, TaskState
from .studio import InStudio, Studio

router = APIRouter(prefix="/api", tags=["tasks"])


@router.get("/jobs/{job}/tasks")
def tasks(work: InLongWork, job: str) -> list[TaskState]:
    """Long work of a job, the newest first."""
    return work.list_of_job(job)


@router.get("/tasks/{task}")
def task_state(work: InLongWork, task: str) -> TaskState:
    """How one task stands."""
    return work.get(task)


@router.post("/tasks/{task}/stop")
def stop(work: InLongWork, task: str) -> TaskState:
    """Stops a task; what it had written is deleted."""
    return work.stop(task)


@router.post("/tasks/{task}/again", status_code=202)
def run_task_again(work: InLongWork, task: str) -> TaskState:
    """Runs what was asked once more, as a task of its own."""
    return work.state(work.run_again(task))


@router.post("/jobs/{job}/exports", status_code=202)
def export(work: InLongWork, job: str, request: ExportRequest) -> TaskState:
    """Begins an export of the job as it stands. Refused while a stop is neither mended nor accepted."""
    return work.state(work.export(job, request))


def files_of(studio: Studio, identity: str) -> dict[str, Path]:
    """Files of a finished export by name: only those its manifest lists."""
    task = studio.board.tasks.get(identity)
    if task.kind != "export" or task.state != "done" or task.outcome is None:
        raise NotFound("This export has no files.", "Export again.")
    names = [*(entry["file"] for entry in task.outcome["files"]), MANIFEST]
    return {name: studio.board.folder(task) / name for name in names}


@router.get("/exports/{export}/files/{name}", response_class=FileResponse)
def export_file(studio: InStudio, export: str, name: str) -> FileResponse:
    """One file of a finished export."""
    files = files_of(studio, export)
    if name not in files or not files[name].exists():
        raise NotFound("This export has no such file.")
    return FileResponse(files[name], filename=name)


@router.get("/exports/{export}/all", response_class=FileResponse)
def export_zip(studio: InStudio, export: str) -> FileResponse:
    """All files of a finished export as one zip, named by the job."""
    files = files_of(studio, export)
    outcome = studio.board.tasks.get(export).outcome or {}
    called = plain_file_name(f"{outcome.get('job', '')} {outcome.get('customer', '')}") or export
    path = studio.photos.incoming / f"zip-{secrets.token_hex(6)}"
    with zipfile.ZipFile(path, "w", zipfile.ZIP_STORED) as packed:
        for name, file in files.items():
            if file.exists():
                packed.write(file, name)
    cleaning = BackgroundTask(path.unlink, missing_ok=True)
    return FileResponse(path, filename=f"{called}.zip", media_type="application/zip", background=cleaning)
