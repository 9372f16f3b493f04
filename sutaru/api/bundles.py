"""Bundles: a job with its photos as one file, out and in."""

import secrets
from pathlib import Path

from fastapi import APIRouter, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import FileResponse
from starlette.background import BackgroundTask

from ..core import limits
from ..core.document import Job, Photo, Pile
from ..core.document.photo import UNSAID
from ..core.formats.bundle import write_bundle
from ..core.press.exporting import plain_file_name
from ..store import Head
from ..work.tasks import read_bundle, take_from_bundle
from .description import upload
from .jobs import describe_started
from .models.new_jobs import Started
from .studio import InStudio, Studio
from .uploads import receive

router = APIRouter(prefix="/api/jobs", tags=["jobs"])


@router.get("/{job}/bundle", response_class=FileResponse)
def bundle(studio: InStudio, job: str) -> FileResponse:
    """The job with its photos as a .sutaru bundle."""
    head_now: Head = studio.jobs.head(job)
    path = studio.photos.incoming / f"bundle-{secrets.token_hex(6)}"
    write_bundle(path, head_now.job, lambda photo: studio.photos.path(photo.checksum), studio.parts.asset)
    return FileResponse(
        path, filename=f"{plain_file_name(head_now.job.name) or 'job'}.sutaru", media_type="application/zip",
        background=BackgroundTask(path.unlink, missing_ok=True),
    )  # fmt: skip


@router.post(
    "/from-bundle",
    status_code=201,
    openapi_extra=upload("A job with its photos, as it is written by GET of its bundle.", "application/zip"),
)
async def begin_from_bundle(studio: InStudio, request: Request) -> Started:
    """Takes a bundle (the request's body) in as a new job."""
    path = await receive(studio, request.stream(), limits.BUNDLE_BYTES, "This bundle")
    try:
        return describe_started(studio, await run_in_threadpool(_take_bundle, studio, path))
    finally:
        path.unlink(missing_ok=True)


def _take_bundle(studio: Studio, path: Path) -> str:
    job_json, assets = studio.door.bundle("This bundle", read_bundle, str(path))
    job = Job.model_validate_json(job_json)
    facts = {photo.id: _measure_bundled(studio, path, photo) for photo in job.photos}
    studio.parts.add_assets(assets)
    pile = tuple(
        facts[photo.id].copy_with(name=photo.name, **{k: getattr(photo, k) for k in UNSAID}) for photo in job.photos
    )
    return studio.jobs.create(job.copy_with(pile=Pile(photos=pile)), "open a bundle")


def _measure_bundled(studio: Studio, bundle: Path, photo: Photo) -> Photo:
    """What is known of a bundle's photo, measured from its file, whatever the bundle says of it."""
    known = studio.photos.find_known(photo.checksum)
    if known:
        return known[0]
    upload = studio.photos.incoming / f"unpacked-{secrets.token_hex(6)}"
    try:
        taken, proxy, thumb, width = studio.door.photo(
            photo.name, take_from_bundle, str(bundle), photo.model_dump_json(), str(upload)
        )
        studio.photos.keep(taken, upload, proxy, thumb, width)
        studio.finder.add(taken.checksum)
        return taken
    finally:
        upload.unlink(missing_ok=True)
