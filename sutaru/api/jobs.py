"""Jobs: starting, editing, undoing, looking at pages, bundles."""

import secrets
from collections.abc import AsyncIterator
from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import FileResponse
from starlette.background import BackgroundTask

from ..core.checks import check
from ..core.document import Job, Opening, Page
from ..core.edits import BringIn, Edit, Fill, apply, label
from ..core.errors import FileRefused, NotFound
from ..core.fitting import cost, ppi_picture
from ..core.formats import Bundle, write_bundle
from ..core.press.exporting import plain_name
from ..store import Listed
from ..work.tasks import take_in
from .models import EditRequest, JobCard, JobState, NewJob, PpiCell, PreviewRequest, Ranked, Started
from .samples import sample_photos
from .studio import InStudio, Studio

router = APIRouter(prefix="/api/jobs", tags=["jobs"])
MAX_BUNDLE_BYTES = 20 << 30
Revision = Annotated[int, Query(ge=1, le=2**53)]


@router.get("")
def jobs(studio: InStudio) -> list[JobCard]:
    """All jobs, the last changed first."""
    return [_card(studio, listed) for listed in studio.jobs.all()]


def _card(studio: Studio, listed: Listed) -> JobCard:
    known = studio.cards.get(listed.id)
    if known and known.revision == listed.head and known.changed == listed.changed:
        return known
    job = studio.jobs.revision(listed.id, listed.head)
    severities = [finding.severity for finding in check(job)]
    card = JobCard(
        id=listed.id, name=listed.name, customer=listed.customer, template=listed.template, revision=listed.head,
        changed=listed.changed, page=job.pages[0].id, openings=len(job.openings_by_id),
        filled=len(job.edition.placements), stops=severities.count("stop"), looks=severities.count("look"),
    )  # fmt: skip
    studio.cards[listed.id] = card
    return card


@router.post("", status_code=201)
def start(studio: InStudio, asked: NewJob) -> Started:
    """Starts a job from a template and a lab sheet, with the sample photos in its pile when asked for."""
    template = studio.template(asked.template)
    if asked.lab not in studio.labs:
        raise NotFound("There is no such lab sheet.", "Choose one of the list.")
    job = Job(
        name=asked.name, customer=asked.customer, template=template.id, product=template.product, pages=template.pages,
        lab=studio.labs[asked.lab],
    )  # fmt: skip
    if asked.samples:
        job = apply(job, BringIn(photos=tuple(sample_photos(studio))))
    return Started(id=studio.jobs.create(job))


def _state(studio: Studio, state: JobState) -> Response:
    # Already valid: written out once, not checked again.
    return Response(state.model_dump_json(), media_type="application/json")


@router.get("/{job}", response_model=JobState)
def job_state(studio: InStudio, job: str) -> Response:
    """Where a job stands."""
    return _state(studio, studio.state(studio.jobs.head(job)))


@router.post("/{job}/edits", response_model=JobState)
def edit(studio: InStudio, job: str, asked: EditRequest) -> Response:
    """Applies an edit. It is stored when this answers."""
    _looked(studio, job, asked.edit)
    head = studio.jobs.edit(job, lambda before: (apply(before, asked.edit), label(before, asked.edit)), asked.gesture)
    studio.events.say("job", job)
    return _state(studio, studio.state(head))


def _looked(studio: Studio, job: str, asked: Edit) -> None:
    """A filling must know what is on the photos."""
    if isinstance(asked, Fill):
        studio.finder.wait_for(photo.sha256 for photo in studio.jobs.head(job).job.photos)


@router.post("/{job}/pages/{page}/preview", response_class=Response)
def preview(studio: InStudio, job: str, page: str, asked: PreviewRequest) -> Response:
    """A page as an edit would make it, as JPEG. Nothing is stored."""
    _looked(studio, job, asked.edit)
    after = apply(studio.jobs.head(job).job, asked.edit)
    return Response(studio.picture(job, after, page, asked.width), media_type="image/jpeg")


@router.get("/{job}/openings/{opening}/ranked")
def ranked(studio: InStudio, job: str, opening: str, limit: Annotated[int, Query(ge=1, le=100)] = 9) -> list[Ranked]:
    """The photos of the pile that fit an opening best, unused ones first."""
    document = studio.jobs.head(job).job
    page, hole = _opening(document, opening)
    used = {placement.photo for placement in document.edition.placements.values()}
    found = [Ranked(photo=p.id, cost=cost(page, hole, p, document.lab), used=p.id in used) for p in document.photos]
    return sorted(found, key=lambda r: (r.used, r.cost))[:limit]


@router.get("/{job}/openings/{opening}/ppi")
def ppi(studio: InStudio, job: str, opening: str) -> list[PpiCell]:
    """What an opening prints at, place by place; nothing when it is empty."""
    document = studio.jobs.head(job).job
    _, hole = _opening(document, opening)
    placement = document.edition.placements.get(opening)
    if placement is None:
        return []
    cells = ppi_picture(hole, document.photos_by_id[placement.photo], placement)
    return [PpiCell(points=[(x, y) for x, y in points.round(3).tolist()], ppi=round(at, 1)) for points, at in cells]


def _opening(job: Job, identity: str) -> tuple[Page, Opening]:
    for page in job.pages:
        for opening in page.openings():
            if opening.id == identity:
                return page, opening
    raise NotFound("There is no such opening.", "Choose one of the ledger's.")


@router.post("/{job}/undo", response_model=JobState)
def undo(studio: InStudio, job: str) -> Response:
    """Takes the last edit back."""
    head = studio.jobs.undo(job)
    studio.events.say("job", job)
    return _state(studio, studio.state(head))


@router.post("/{job}/redo", response_model=JobState)
def redo(studio: InStudio, job: str) -> Response:
    """Brings back what was undone last."""
    head = studio.jobs.redo(job)
    studio.events.say("job", job)
    return _state(studio, studio.state(head))


@router.get("/{job}/pages/{page}/picture", response_class=Response)
def picture(
    studio: InStudio,
    job: str,
    page: str,
    revision: Revision,
    width: int = 1600,
    notes: bool = False,
    mending: bool = True,
) -> Response:
    """A page at a revision, as JPEG ``width`` px wide (bleed included).

    ``notes``: with numbers and guide notes. ``mending``: off shows the photos as they came.
    """
    document = studio.jobs.revision(job, revision)
    data = studio.picture(job, document, page, min(max(width, 60), 6000), notes, mending)
    return Response(data, media_type="image/jpeg", headers={"Cache-Control": "private, max-age=31536000, immutable"})


@router.get("/{job}/bundle", response_class=FileResponse)
def bundle(studio: InStudio, job: str) -> FileResponse:
    """The job with its photos as a .sutaru bundle."""
    head = studio.jobs.head(job)
    path = studio.photos.incoming / f"bundle-{secrets.token_hex(6)}"
    write_bundle(path, head.job, lambda photo: studio.photos.path(photo.sha256))
    return FileResponse(
        path, filename=f"{plain_name(head.job.name) or 'job'}.sutaru", media_type="application/zip",
        background=BackgroundTask(path.unlink, missing_ok=True),
    )  # fmt: skip


@router.post("/from-bundle", status_code=201)
async def from_bundle(studio: InStudio, request: Request) -> Started:
    """Takes a bundle (the request's body) in as a new job."""
    path = await receive(studio, request.stream(), MAX_BUNDLE_BYTES, "This bundle")
    try:
        return Started(id=await run_in_threadpool(_take_bundle, studio, path))
    finally:
        path.unlink(missing_ok=True)


def _take_bundle(studio: Studio, path: Path) -> str:
    packed = Bundle(path)
    try:
        for photo in packed.job.photos:
            if studio.photos.known(photo.sha256) is None:
                upload = studio.photos.incoming / f"unpacked-{secrets.token_hex(6)}"
                upload.write_bytes(packed.original(photo))
                try:
                    _, proxy, thumb, width = studio.workers.submit(take_in, str(upload), photo.name).result()
                    studio.photos.keep(photo, upload, proxy, thumb, width)
                    studio.finder.add(photo.sha256)
                finally:
                    upload.unlink(missing_ok=True)
        return studio.jobs.create(packed.job, "open a bundle")
    finally:
        packed.close()


async def receive(studio: Studio, stream: AsyncIterator[bytes], most: int, what: str) -> Path:
    """Writes a request's body to a file of ours. Raises FileRefused over the budget; then nothing is left."""
    path = studio.photos.incoming / f"upload-{secrets.token_hex(8)}"
    size = 0
    try:
        with path.open("wb") as file:
            async for chunk in stream:
                size += len(chunk)
                if size > most:
                    raise FileRefused(
                        f"{what} is larger than {most >> 20} MB.", "Make it smaller and bring it in again."
                    )
                file.write(chunk)
    except BaseException:
        path.unlink(missing_ok=True)
        raise
    return path
