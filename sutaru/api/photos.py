"""Photos: bringing a file in, and its pictures."""

from pathlib import Path
from typing import Annotated, Literal

import anyio.to_thread
import numpy as np
from fastapi import APIRouter, Query, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import FileResponse
from numpy.typing import NDArray

from ..core.cards import CARD
from ..core.document import Curves, Photo, Recipe
from ..core.document.photo import PhotoId
from ..core.edits.apply import apply
from ..core.edits.kinds import BringIn
from ..core.edits.sheets import choose_by_first_photo
from ..core.errors import NotFound
from ..core.limits import PHOTO_BYTES
from ..core.mending import apply_recipe, match_tones
from ..core.photos import decode, plain_name
from ..shelf import sample_ids
from ..store import Head
from ..work.tasks import take_in
from .description import upload
from .messages import Message
from .models.photos import BroughtIn, PhotoIds
from .stores import InPhotos
from .studio import InStudio, Studio
from .uploads import receive

router = APIRouter(prefix="/api", tags=["photos"])


@router.post(
    "/jobs/{job}/photos",
    status_code=201,
    openapi_extra=upload("A photo.", "image/jpeg", "image/png", "image/tiff", "image/webp", "image/heic", "image/jp2"),
)
async def bring_in(
    studio: InStudio,
    request: Request,
    job: str,
    name: Annotated[str, Query(min_length=1, max_length=4000)],
    gesture: Annotated[str | None, Query(max_length=64)] = None,
) -> BroughtIn:
    """Brings one photo (the request's body, a file as it is) into the pile. Files of one gesture are undone together.

    A bad file is refused with one plain sentence; the others go on.
    """
    await run_in_threadpool(studio.jobs.head, job)
    return await _read_upload(studio, request, job, name, gesture)


async def _read_upload(studio: Studio, request: Request, job: str, name: str, gesture: str | None) -> BroughtIn:
    upload = await receive(studio, request.stream(), PHOTO_BYTES, plain_name(name))
    try:
        called = plain_name(name)
        with studio.finder.pause_for_import(job):
            photo, proxy, thumb, width = await anyio.to_thread.run_sync(
                studio.door.photo, called, take_in, str(upload), called
            )
        read = photo, proxy, thumb, width
        return await run_in_threadpool(keep_upload, studio, job, upload, read, gesture)
    finally:
        upload.unlink(missing_ok=True)


def keep_upload(
    studio: Studio, job: str, upload: Path, read: tuple[Photo, bytes, bytes, int], gesture: str | None
) -> BroughtIn:
    """Keeps a photo that was read from an upload, and puts it into a job's pile."""
    photo, proxy, thumb, width = read
    if photo.checksum in sample_ids():
        photo = photo.copy_with(sample=True)
    photo = studio.photos.find_by_earlier_checksum(photo, upload)
    studio.photos.keep(photo, upload, proxy, thumb, width)
    studio.finder.add(photo.checksum)
    # What was found in it for another job holds here too.
    photo = photo.copy_with(found=studio.photos.get_found(photo.checksum))
    head, known = _add(studio, job, BringIn(photos=(photo,)), gesture)
    studio.events.say("job", job, seq=head.seq)
    return BroughtIn(photo=photo, known=known, seq=head.seq)


def _add(studio: Studio, job: str, edit: BringIn, gesture: str | None) -> tuple[Head, bool]:
    known = False

    def change(before):  # type: ignore[no-untyped-def]
        nonlocal known
        known = edit.photos[0].id in before.pile.by_id
        after = apply(before, edit)
        if not before.variants:
            return after, "bring photos in"
        after = choose_by_first_photo(after, [studio.catalogue.template(v) for v in before.variants if v != CARD])
        return after, f"begin with {after.photos[0].name}"

    return studio.jobs.edit(job, change, gesture), known


@router.post("/photos")
def facts(photos: InPhotos, request: PhotoIds) -> list[Photo]:
    """What is known of photos, by their ids: facts of their files, and what the machine has found in them."""
    return list(photos.facts(request.ids).values())


class Matching(Message):
    """Which photo is to have whose tones. ``before``: what is mended of it before its curves; ``like_as``: how the other
    looks."""

    photo: PhotoId
    like: PhotoId
    before: Recipe = Recipe()
    like_as: Recipe = Recipe()


@router.post("/photos/matched")
def match_tones_of(photos: InPhotos, request: Matching) -> Curves:
    """Curves that give a photo the tones of another."""
    known = photos.facts([request.photo, request.like])
    if request.photo not in known or request.like not in known:
        raise NotFound("This photo was not found.", "Bring it in first.")

    def paint_small(photo: Photo, recipe: Recipe) -> NDArray[np.uint8]:
        return apply_recipe(decode(photos.path(photo.checksum, "thumb"), photo.name), recipe, photo.found)

    return match_tones(
        paint_small(known[request.photo], request.before), paint_small(known[request.like], request.like_as)
    )


@router.get("/photos/{checksum}/{kind}", response_class=FileResponse)
def photo_picture(photos: InPhotos, checksum: str, kind: Literal["thumb", "proxy"]) -> FileResponse:
    """A photo's thumbnail or proxy, upright, sRGB, JPEG."""
    path = photos.path(checksum, kind)
    if not path.exists():
        raise NotFound("This photo was not found.")
    return FileResponse(
        path, media_type="image/jpeg", headers={"Cache-Control": "private, max-age=31536000, immutable"}
    )
