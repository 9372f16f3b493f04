"""The first tour: a job with sample photos, one of them too small for its opening, to be filled, mended and exported."""

import threading

from fastapi import APIRouter
from PIL import Image

from ..core.document import Job, Photo
from ..core.edits.apply import apply
from ..core.edits.kinds import BringIn, Put
from ..shelf import SAMPLES
from ..work.tasks import take_in
from .jobs import describe_started
from .models.new_jobs import Started
from .samples import sample_photos
from .studio import InStudio, Studio

router = APIRouter(prefix="/api/tour", tags=["jobs"])

TEMPLATE = "collage-line"  # six prints on a line: the sample photos are large enough for all of them
SMALL_PX = 240
_lock = threading.Lock()


@router.post("", status_code=201)
def start_tour(studio: InStudio) -> Started:
    """Starts the tour's job: photos in the pile, all openings empty but the first, whose photo has too few pixels."""
    template = studio.catalogue.template(TEMPLATE)
    photos = [photo.copy_with(sample=False, name=_plain_name(photo.name)) for photo in sample_photos(studio)]
    small = _take_in_small(studio)
    job = Job(
        name="A first job", template=template.id, product=template.product, sheets=template.sheets,
        lab=next(iter(studio.catalogue.labs.values())), revision=template.revision, studio=studio.card.get_written(),
        without_samples=True,
    )  # fmt: skip
    job = apply(job, BringIn(photos=(small, *photos)))
    [sheet] = job.sheets
    job = apply(job, Put(sheet=sheet.id, opening=next(iter(sheet.layout.openings_to_fill)), photo=small.id))
    return describe_started(studio, studio.jobs.create(job))


def _plain_name(name: str) -> str:
    return name.removeprefix("sample-")


def _take_in_small(studio: Studio) -> Photo:
    """A sample photo as it comes when it was sent in a message, filed in the studio's store."""
    with _lock:
        source = SAMPLES / "sample-kite.jpg"
        upload = studio.photos.incoming / "tour-small.jpg"
        with Image.open(source) as picture:
            picture.draft("RGB", (SMALL_PX, SMALL_PX))
            picture.thumbnail((SMALL_PX, SMALL_PX))
            picture.save(upload, quality=85)
        photo, proxy, thumb, width = take_in(str(upload), "kite-from-a-message.jpg")
        if studio.photos.find_known(photo.checksum) is None:
            studio.photos.keep(photo, upload, proxy, thumb, width)
            studio.finder.add(photo.checksum)
        else:
            upload.unlink()
    return studio.photos.facts([photo.id])[photo.id].copy_with(name=photo.name)
