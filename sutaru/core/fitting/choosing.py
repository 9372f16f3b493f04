"""What a filling up chooses for each opening: pure, told of its progress, and stoppable, so that it can run anywhere."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from typing import Literal

from ..document import Job, Layout, Opening, Photo, Placement
from .assigning import Place, assign_photos
from .keeping import first_placement
from .reading_order import reading_order

How = Literal["best", "order", "month"]
Progress = Callable[[str, int, int], None]  # stage, done, total; may raise to stop


@dataclass(frozen=True)
class Choice:
    """What one opening is given; None leaves it empty. ``was``: id of the photo that lay there, "" for none."""

    sheet: str
    opening: str
    was: str
    placement: Placement | None


@dataclass(frozen=True)
class Wanted:
    """Openings to fill and the photos there are for them."""

    places: list[tuple[str, Layout, Opening]]
    photos: list[Photo]


def choose_openings(
    job: Job,
    edition: str = "",
    only_empty: bool = False,
    sheet: str | None = None,
    openings: tuple[str, ...] | None = None,
    also_by_hand: bool = False,
) -> Wanted:
    """Which openings a filling up is for, in reading order, and the photos not used elsewhere.

    Pinned, locked and hidden openings and spans are left out, and those that a person filled or fitted, unless
    ``also_by_hand``; so are photos put aside.

    Sample photos are for looking at a template: they are used only where there is nothing else.
    """
    filled = job.edition(edition)
    places, used = [], set[str]()
    for entry in job.sheets_of(filled):
        filling, layout = filled.filling(entry.id), entry.layout
        stay = {*filling.pins, *(o for span in filling.spans.values() for o in span.openings)}
        stay |= set() if also_by_hand else {o for o in filling.by_hand if filling.photo_in(o)}
        chosen = set()
        for opening in reading_order(layout):
            is_chosen = sheet in (None, entry.id) and (openings is None or opening.id in openings)
            free = opening.visible and not opening.content_locked and opening.id not in stay
            if is_chosen and free and not (only_empty and filling.photo_in(opening.id)):
                places.append((entry.id, layout, opening))
                chosen.add(opening.id)
        # What lies in an opening that stays is not used a second time.
        used |= {held for o in layout.openings_by_id if o not in chosen and (held := filling.photo_in(o))}
    photos = [photo for photo in job.photos if photo.id not in used and not photo.aside]
    return Wanted(places, [photo for photo in photos if not photo.sample] or photos)


def choose(
    job: Job, wanted: Wanted, edition: str = "", how: How = "best",
    progress: Progress = lambda stage, done, total: None,
) -> list[Choice]:  # fmt: skip
    """The best assignment of photos to openings, each photo as it is first laid. Raises what ``progress`` raises.

    With fewer photos than openings, those that come first are filled. By ``month``, sheets of a month are given photos that
    were taken in that month of any year, or none; the other sheets what is left.
    """
    places = [(layout, opening) for _, layout, opening in wanted.places]
    pairs: list[tuple[Place, Photo]] = []
    for some, photos in _group_by_month(job, wanted, places) if how == "month" else [(places, wanted.photos)]:
        step = partial(_report_part, progress, len(pairs), len(places))
        left = [photo for photo in photos if photo.id not in {used.id for _, used in pairs}]
        # Fewer photos than openings lie in the first of them, as a person would lay them, not in whichever suit best.
        pairs += assign_photos(some[: len(left)], left, job.lab, how == "order", step)
    filled = job.edition(edition)
    # Told apart as places: sheets may share a layout, and so its openings.
    laid = {id(place): first_placement(*place, photo) for place, photo in pairs}
    return [
        Choice(sheet, opening.id, filled.filling(sheet).photo_in(opening.id), laid.get(id(place)))
        for (sheet, _, opening), place in zip(wanted.places, places, strict=True)
    ]


def _report_part(progress: Progress, before: int, total: int, done: int) -> None:
    progress("choosing", before + done, total)


def _group_by_month(job: Job, wanted: Wanted, places: list[Place]) -> list[tuple[list[Place], list[Photo]]]:
    """Openings of each month with the photos taken in it; at the end those of no month, with all photos."""
    months = [sheet for sheet in job.sheets if sheet.role == "month" and sheet.fields.get("month")]
    month_of = {sheet.id: int(sheet.fields["month"][5:7]) for sheet in months}
    groups = []
    for month in [*range(1, 13), None]:
        some = [
            place for (sheet, _, _), place in zip(wanted.places, places, strict=True) if month_of.get(sheet) == month
        ]
        photos = [p for p in wanted.photos if month is None or (p.taken and p.taken.month == month)]
        if some and photos:
            groups.append((some, photos))
    return groups


def choose_round(job: Job, wanted: Wanted, edition: str = "") -> list[Choice]:
    """As ``choose``, but with each photo as often as need be, so that no opening stays empty: for samples."""
    choices: list[Choice] = []
    rest = wanted.places
    while rest and wanted.photos:
        laid = {(c.sheet, c.opening): c for c in choose(job, Wanted(rest, wanted.photos), edition) if c.placement}
        if not laid:
            break
        choices += laid.values()
        rest = [place for place in rest if (place[0], place[2].id) not in laid]
    return choices
