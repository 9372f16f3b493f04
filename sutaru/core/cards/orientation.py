"""A card turned: what stood upright lies across, or the other way round; front, words and the studio's back follow.

Openings keep their margins on their panel, words their height and their place on it, in shares.
"""

from typing import Any

from ..arranging.moving import round_exactly
from ..arranging.sizing import resize_layout
from ..document import Flat, Group, Job, Layout, Opening, Photo, Sheet, Text
from ..errors import EditRefused
from .folding import Folding, Panel, Side, make_folding, read_folding

Folded = tuple[Folding, str, str]


def find_folded_sheets(job: Job) -> Folded | None:
    """How a job's sheets fold, and which are the outside and the inside, "" for none: the first folded sheet is the outside,
    one that plays the inside's part the inside. None when no sheet is folded. Raises EditRefused for folds not known."""
    folded = [sheet for sheet in job.sheets if any(line.kind == "fold" for line in sheet.layout.lines)]
    outside = next((sheet for sheet in folded if sheet.role != "inside"), None)
    inside = next((sheet for sheet in folded if sheet.role == "inside"), None)
    seen = inside or outside
    folding = read_folding(seen.layout, job.fold or None) if seen else None
    return (folding, outside.id if outside else "", inside.id if inside else "") if folding else None


def rotate_card(job: Job) -> Job:
    """The job with its card's closed size turned by a quarter. Raises EditRefused when it is no card, or has no room."""
    folding = find_folded_sheets(job)
    if folding is None:
        raise EditRefused("No sheet of this job is folded.", "Begin a card to have one.")
    before, outside, inside = folding
    after = make_folding(before.kind, before.closed_mm[1], before.closed_mm[0])
    sides: dict[str, Side] = {outside: "outside", inside: "inside"}

    def turn_folded_sheet(sheet: Sheet) -> Sheet:
        side = sides.get(sheet.id)
        return sheet.copy_with(layout=_lay_on_panels(sheet.layout, before, after, side)) if side else sheet

    return job.copy_with(sheets=tuple(map(turn_folded_sheet, job.sheets)))


def _lay_on_panels(layout: Layout, before: Folding, after: Folding, side: Side) -> Layout:
    fresh = resize_layout(layout, after.width_mm, after.height_mm, "fill")
    old, new = before.side(side), after.side(side)

    def words(layer: Any) -> Any:
        if isinstance(layer, Group):
            return layer.copy_with(layers=tuple(map(words, layer.layers)))
        was: Any = layout.find(layer.id)
        if not isinstance(layer, Text) or not isinstance(was, Text):
            return layer
        n = next((n for n, panel in enumerate(old) if _holds(panel, was.centre)), None)
        if n is None:
            return layer
        wide = new[n].width / old[n].width
        height = min(was.height_mm, new[n].height)
        return layer.copy_with(
            centre=_carry_point(was.centre, old[n], new[n]),
            width_mm=round_exactly(was.width_mm * wide),
            height_mm=round_exactly(height),
        )

    lines = tuple(line for line in fresh.lines if line.kind != "fold")
    folds = sorted((line for line in fresh.lines if line.kind == "fold"), key=lambda line: line.at_mm)
    exactly = tuple(line.copy_with(at_mm=place) for line, place in zip(folds, after.folds_mm(side), strict=True))
    return fresh.copy_with(lines=(*lines, *exactly), layers=tuple(map(words, fresh.layers)))


def _holds(panel: Panel, point: tuple[float, float]) -> bool:
    x, y = point
    return 0 <= x - panel.left <= panel.width and 0 <= y - panel.top <= panel.height


def _carry_point(point: tuple[float, float], old: Panel, new: Panel) -> tuple[float, float]:
    x, y = (point[0] - old.left) / old.width, (point[1] - old.top) / old.height
    return round_exactly(new.left + x * new.width), round_exactly(new.top + y * new.height)


def is_suited(job: Job, photo: Photo) -> bool:
    """Whether a photo lies on the card's front as the card lies now: both upright, or both across, or one of them square."""
    folding = find_folded_sheets(job)
    front: Opening | None = next((o for sheet in job.sheets for o in sheet.layout.openings()), None)
    if folding is None or front is None or not isinstance(front.surface, Flat):
        return True
    wide, high = folding[0].closed_mm
    return wide == high or photo.width == photo.height or (wide > high) == (photo.width > photo.height)
