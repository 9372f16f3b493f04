"""A layout of a book as it is looked at before it is kept: where each photo would lie on each sheet."""

from ..document import Job
from ..document.base import Frozen
from ..fitting import reading_order
from ..geometry import outlines
from .page_words import CHAPTER_ID
from .plan import BookPlan


class SeenPhoto(Frozen):
    """A photo on a sheet, in shares of the sheet's width and height."""

    photo: str
    left: float
    top: float
    width: float
    height: float


class SeenSheet(Frozen):
    """A sheet as it would be. ``chapter``: the title of what begins on it, "" for nothing. ``kept``: it stays as it is."""

    id: str
    name: str
    role: str
    ratio: float
    photos: tuple[SeenPhoto, ...]
    chapter: str = ""
    kept: bool = False


class SeenBook(Frozen):
    """A plan, and what a book would look like."""

    plan: BookPlan
    sheets: tuple[SeenSheet, ...]


def describe_laid_out(before: Job, after: Job, plan: BookPlan, edition: str = "") -> SeenBook:
    """What a job laid out as a plan says looks like."""
    edition_after, sheets = after.edition(edition), []
    for sheet in after.sheets:
        layout, filling = sheet.layout, edition_after.filling(sheet.id)
        photos = []
        for opening in reading_order(layout):
            if held := filling.photo_in(opening.id):
                left, top, right, bottom = outlines.bounds(
                    [opening.page_from_opening.apply(polygon) for polygon in opening.outline.polygons()]
                )
                photos.append(
                    SeenPhoto(
                        photo=held,
                        left=round(left / layout.width_mm, 4),
                        top=round(top / layout.height_mm, 4),
                        width=round((right - left) / layout.width_mm, 4),
                        height=round((bottom - top) / layout.height_mm, 4),
                    )
                )
        was = before.sheets_by_id.get(sheet.id)
        sheets.append(
            SeenSheet(
                id=sheet.id,
                name=sheet.name,
                role=sheet.role,
                ratio=round(layout.width_mm / layout.height_mm, 4),
                photos=tuple(photos),
                chapter=next(
                    (text.text for name, text in layout.texts_by_id.items() if name.startswith(CHAPTER_ID)), ""
                ),
                kept=was is not None and was.layout is layout,
            )
        )
    return SeenBook(plan=plan, sheets=tuple(sheets))
