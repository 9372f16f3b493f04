"""One sheet laid out anew: layouts that suit the photos it has, and photos that go along into another layout."""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Literal

from ..arranging.new_layers import fresh_id
from ..arranging.sizing import resize_layout
from ..document import Edition, Filling, Job, Layout, Opening, Photo, Placement, Sheet, Template
from ..errors import EditRefused
from ..fitting import assign_photos, clamp_placement, first_placement, reading_order
from ..geometry import outlines
from .plan import PagePlan
from .recomposing import is_now, layout_of, offered_designs, replace_openings
from .sheet_rooms import read_sheet
from .trees import Rect

_SAME = 0.01  # by so much of one another two shapes count as the same: a photo lies in either as it lay
_LIKE = 0.03  # by so much of one another sheets are of one shape


@dataclass(frozen=True)
class Suggestion:
    """A layout that a sheet may have, and where it is from. ``now``: its openings lie as those that the sheet has. ``photos``:
    what lies in them then, in reading order. ``pages``: of a composed one, its plan."""

    source: Literal["computed", "book", "shelf"]
    name: str
    layout: Layout
    now: bool = False
    photos: tuple[str, ...] = ()
    pages: tuple[PagePlan, ...] | None = None

    @property
    def openings(self) -> int:
        """How many photos it takes."""
        return len(self.layout.openings_by_id)

    @property
    def boxes(self) -> list[Rect]:
        """Its openings' boxes: left, top, width, height in shares of the sheet."""
        wide, high = self.layout.width_mm, self.layout.height_mm
        return [
            (left / wide, top / high, (right - left) / wide, (bottom - top) / high)
            for left, top, right, bottom in _places(self.layout)
        ]


def page_of(layout: Layout, role: str, opening: Opening) -> int:
    """Which page of a sheet an opening lies on: 0, or 1 for the right one of a spread."""
    polygons = [opening.page_from_opening.apply(polygon) for polygon in opening.outline.polygons()]
    left, _, right, _ = outlines.bounds(polygons)
    return int(role == "spread" and (left + right) / 2 > layout.width_mm / 2)


def openings_on_page(sheet: Sheet, filling: Filling, page: int) -> list[tuple[Opening, str]]:
    """Openings of one page in reading order, each with the id of its photo, "" for none."""
    return [
        (opening, filling.photo_in(opening.id)) for opening in reading_order(sheet.layout)
        if page_of(sheet.layout, sheet.role, opening) == page
    ]  # fmt: skip


def suggestions(job: Job, sheet: Sheet, edition: Edition, shelf: Iterable[Template] = ()) -> list[Suggestion]:
    """Layouts that suit the photos on a sheet: designs composed for them, those of the book's other sheets, and the shelf's of
    its shape, for as many photos."""
    filling, known = edition.filling(sheet.id), job.pile.by_id
    held = [photo for opening in reading_order(sheet.layout) if (photo := filling.photo_in(opening.id)) in known]
    count = len(held) or len(sheet.layout.openings_by_id)
    places_now = _places(sheet.layout)
    suggested = _suggest_designs(job, sheet, edition)
    places_known = {_places(other_sheet.layout) for other_sheet in suggested}

    def offer(source: Literal["computed", "book", "shelf"], name: str, layout: Layout) -> None:
        places = _places(layout)
        if places not in places_known:
            places_known.add(places)
            dressed = _dress_as(layout, sheet.layout)
            suggested.append(
                Suggestion(
                    source,
                    name,
                    dressed,
                    places == places_now,
                    _likely_photos(dressed, [known[photo] for photo in held]),
                )
            )

    for other in job.sheets:
        same = other.role == sheet.role and _shape_is(other.layout, sheet.layout)
        if other.id != sheet.id and same and len(other.layout.openings_by_id) == count:
            offer("book", other.name, other.layout)
    size = sheet.layout.width_mm, sheet.layout.height_mm
    for template in shelf:
        for other_sheet in template.sheets:
            alike = _shape_is(other_sheet.layout, sheet.layout) and (other_sheet.role == "spread") == (
                sheet.role == "spread"
            )
            if alike and len(other_sheet.layout.openings_by_id) == count:
                as_is = (other_sheet.layout.width_mm, other_sheet.layout.height_mm) == size
                offer("shelf", template.name, other_sheet.layout if as_is else resize_layout(other_sheet.layout, *size))
    return suggested


def _suggest_designs(job: Job, sheet: Sheet, edition: Edition) -> list[Suggestion]:
    """Designs for the photos on a sheet, the best first."""
    try:
        now = read_sheet(job, sheet, edition.filling(sheet.id))
    except EditRefused:
        return []
    suggested = []
    for design in offered_designs(now):
        layout, photo_in = layout_of(job, sheet, edition.filling(sheet.id), now, design)
        stays = edition.filling(sheet.id).photo_in
        photos = tuple(photo_in.get(opening.id) or stays(opening.id) for opening in reading_order(layout))
        suggested.append(Suggestion("computed", design.name, layout, is_now(design, now), photos, design.pages))
    return suggested


def _likely_photos(layout: Layout, photos: Sequence[Photo]) -> tuple[str, ...]:
    """Ids of the photos that come into a layout's openings, in reading order, as their shapes suit; "" for none."""
    left, chosen = list(photos), list[str]()
    for opening in reading_order(layout):
        ratio = _ratio(opening)
        best = min(left, key=lambda photo: abs(math.log(photo.width / photo.height / ratio)), default=None)
        chosen.append(best.id if best else "")
        left = [photo for photo in left if photo is not best]
    return tuple(chosen)


def _shape_is(first: Layout, other: Layout) -> bool:
    ratio = (first.width_mm / first.height_mm) / (other.width_mm / other.height_mm)
    return abs(ratio - 1) <= _LIKE


def _places(layout: Layout) -> tuple[Rect, ...]:
    """Where a layout's openings lie: left, top, right, bottom, to a tenth of a millimetre."""
    places = []
    for opening in reading_order(layout):
        polygons = [opening.page_from_opening.apply(polygon) for polygon in opening.outline.polygons()]
        left, top, right, bottom = (round(side, 1) for side in outlines.bounds(polygons))
        places.append((left, top, right, bottom))
    return tuple(places)


def _dress_as(layout: Layout, now: Layout) -> Layout:
    """The openings of a layout on the ground, with the words, drawings and lines of the one that a sheet has now."""
    gone = set(now.openings_by_id)
    like = next(iter(now.openings_by_id.values()), None)
    fresh = [
        opening.copy_with(border=like.border, mat=like.mat, shadow=like.shadow) if like else opening
        for opening in reading_order(layout)
    ]  # fmt: skip
    taken = now.ids() - gone
    named = []
    for opening in fresh:
        identity = fresh_id(taken, "opening-1")
        taken.add(identity)
        named.append(opening.copy_with(id=identity))
    return now.copy_with(layers=replace_openings(now.layers, gone, named), order=())


def move_photos_along(job: Job, sheet: Sheet, layout: Layout, filling: Filling) -> Filling:
    """What lies on a sheet once it has another layout: each photo in the opening that suits it best, as it lay where that is of
    the same shape; those for which there is none are back in the pile."""
    known = job.pile.by_id
    old = {held: opening for opening in reading_order(sheet.layout) if (held := filling.photo_in(opening.id)) in known}
    places = [(layout, opening) for opening in reading_order(layout) if opening.visible and not opening.content_locked]
    pairs = assign_photos(places, [known[photo] for photo in old], job.lab)
    placements: dict[str, Placement] = {}
    tones, hands, pins = dict[str, object](), [], []
    for (_, opening), photo in pairs:
        was = old[photo.id]
        lay = filling.placements.get(was.id)
        same = lay is not None and abs(_ratio(opening) / _ratio(was) - 1) <= _SAME
        placements[opening.id] = (
            clamp_placement(opening, photo, lay) if same and lay else first_placement(layout, opening, photo)
        )
        if was.id in filling.tones:
            tones[opening.id] = filling.tones[was.id]
        if was.id in filling.by_hand:
            hands.append(opening.id)
        if was.id in filling.pins:
            pins.append(opening.id)
    return filling.copy_with(placements=placements, spans={}, tones=tones, by_hand=tuple(hands), pins=tuple(pins))


def _ratio(opening: Opening) -> float:
    left, top, right, bottom = opening.outline.frame
    return (right - left) / (bottom - top)
