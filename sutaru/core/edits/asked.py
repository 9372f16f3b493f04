"""What an edit asks for, looked up in the job. Refused with a plain sentence when it is not there."""

from ..document import Edition, Job, Opening, Page, Photo, Placement, Text
from ..errors import EditRefused


def opening(job: Job, identity: str) -> Opening:
    """An opening that may be changed."""
    if identity not in job.openings_by_id:
        raise EditRefused(f"There is no opening {identity} in this job.", "Choose one of the ledger's.")
    found = job.openings_by_id[identity]
    if found.locked:
        raise EditRefused(f"The opening {found.name or identity} is locked by its template.")
    return found


def page(job: Job, layer: str) -> Page:
    """The page that a layer lies on."""
    return next(page for page in job.pages if any(entry.id == layer for entry in page.layers))


def photo(job: Job, identity: str) -> Photo:
    """A photo of the pile."""
    if identity not in job.photos_by_id:
        raise EditRefused("This photo is not in the pile.", "Bring it in first.")
    return job.photos_by_id[identity]


def text(job: Job, identity: str) -> Text:
    """A text layer."""
    if identity not in job.texts_by_id:
        raise EditRefused(f"There is no text {identity} in this job.")
    return job.texts_by_id[identity]


def edition(job: Job, **change: object) -> Job:
    """The job with parts of its edition replaced."""
    changed: Edition = job.edition.having(**change)
    return job.having(edition=changed)


def placed(job: Job, changes: dict[str, Placement | None]) -> Job:
    """The job with some placements changed; None empties, and takes what was mended of that opening along."""
    placements = {**job.edition.placements, **{k: v for k, v in changes.items() if v}}
    for opening_id, placement in changes.items():
        if placement is None:
            placements.pop(opening_id, None)
    tones = {k: v for k, v in job.edition.tones.items() if k in placements}
    return edition(job, placements=placements, tones=tones)
