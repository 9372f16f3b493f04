"""Pictures of sheets as answers."""

from fastapi import Response

from ..core.document import Job
from .sheets import Picture
from .studio import Studio

FOR_EVER = {"Cache-Control": "private, max-age=31536000, immutable"}


def cover_picture(studio: Studio, where: str, job: Job, sheet: str, edition: str, width: int) -> Response:
    """A sheet of a job, or its first, as JPEG that may be kept for ever."""
    return answer_picture(paint_sheet(studio, where, job, sheet, edition, bound_width(width)))


def paint_sheet(studio: Studio, where: str, job: Job, sheet: str, edition: str, width: int) -> Picture:
    """Paints a sheet of a job, or its first: ``width`` in px, bleed included."""
    keys = studio.sheets.keys(where, job, edition)
    number = next((n for n, entry in enumerate(job.sheets) if entry.id == sheet), 0)
    return studio.sheets.picture(keys[number], width)


def bound_width(width: int) -> int:
    """A width that pictures are made in, px."""
    return min(max(width, 60), 1600)


def answer_picture(picture: Picture) -> Response:
    """A picture's answer: kept for ever by its name, unless something in it could not be read this time."""
    headers = FOR_EVER if picture.whole else {"Cache-Control": "no-store"}
    return Response(picture.jpeg, media_type="image/jpeg", headers=headers)
