"""A sheet composed anew after a hand changed what lies on it: a photo more or less, one larger or smaller, more or less white
space, the other way round, another design. What is pinned stays, and the rest is composed beside it; openings keep their
photos, ids, frames and what a hand fitted in them."""

from collections.abc import Mapping, Sequence

from ..arranging.aligning import page_box
from ..arranging.moving import round_exactly
from ..arranging.new_layers import fresh_id
from ..document import Edition, Filling, Flat, Job, Layer, Layout, Opening, Photo, Placement, Sheet, Text
from ..document.shapes import Rectangle
from ..errors import EditRefused
from ..fitting import clamp_placement, first_placement
from .page_words import NEAR_MM, NUMBER, is_covered, page_numbers, place_chapters
from .plan import How, PagePlan
from .sheet_rooms import SheetPhotos
from .spread_designs import MOST, Design, compose, design_of, pick_unlike
from .trees import Rect

OFFERED = 12  # designs that are shown for a sheet
# What it costs that a picture runs off the paper where none does now, or none where one does; and each photo that moves.
_OTHERWISE, _STAYS = 0.4, 0.25
_LARGER, _SMALLER, _AIRIER, _FULLER = 1.2, 0.84, 0.94, 1.06  # in area, from which on it is seen


def offered_designs(now: SheetPhotos) -> list[Design]:
    """Designs for the photos that lie on a sheet, the best first; the one that it has is among them where it is found."""
    designs = compose(now.rooms, now.photos, now.page_of, now.hero)
    picked = pick_unlike(designs, OFFERED)
    present = next((design for design in designs if is_now(design, now)), None)
    return picked if present is None or present in picked else [present, *picked[: OFFERED - 1]]


def is_now(design: Design, now: SheetPhotos) -> bool:
    """Whether a sheet has a design already."""
    return len(design.rects) == len(now.rects) and all(
        any(all(abs(a - b) <= NEAR_MM for a, b in zip(rect, other, strict=True)) for other in now.rects)
        for rect in design.rects
    )


def choose_design(
    now: SheetPhotos, how: How, photo: str, add: Sequence[Photo], remove: Sequence[str], page: int | None
) -> Design:
    """The design that does what is asked. Raises EditRefused where none does."""
    gone = set(remove)
    back = {extra.id for extra in add}
    photos = [held for held in now.photos if held.id not in gone]
    photos += [extra for extra in add if extra.id not in now.page_of or extra.id in gone]
    if len(photos) > MOST:
        raise EditRefused(f"At most {MOST} photos of a sheet are composed.", "Put some on another sheet.")
    page_of = {photo: n for photo, n in now.page_of.items() if photo not in gone}
    if page is not None:
        if page not in now.pages:
            raise EditRefused("A photo is pinned on this page, or locked.", "Unpin it, or unlock it, first.")
        page = now.pages.index(page)
        page_of |= {extra.id: page for extra in add}
        photos.sort(key=lambda held: page_of[held.id])
    hero = photo if how == "larger" else now.hero if now.hero not in (gone - back) | {photo} else ""
    if not photos:
        return Design("Empty", (PagePlan(),) * len(now.rooms.pages), 0.0, ())
    if how == "mirror":
        return _mirror(now)
    designs = compose(now.rooms, photos, page_of, hero, photo if how == "smaller" else "")
    if add or remove:  # the others stay on their pages where they can
        there = {photo: n for photo, n in page_of.items() if page is not None and photo in back}
        designs = [design for design in designs if not _count_moved(design, there)] or designs

        def changes(design: Design) -> float:
            otherwise = _OTHERWISE * (bool(design.run_off) != now.runs_off)
            return design.cost + otherwise + _STAYS * _count_moved(design, page_of)

        designs.sort(key=changes)
    total = sum(now.areas.values())
    for design in designs:
        areas = design.areas
        size = areas.get(photo, 0.0) / now.areas.get(photo, 1.0) if photo else 1.0
        shown = sum(areas.values()) / max(total, 1.0)
        does = {
            "anew": bool(add or remove) or not is_now(design, now), "larger": size >= _LARGER, "smaller": size <= _SMALLER,
            "more_white_space": shown <= _AIRIER, "less_white_space": shown >= _FULLER, "mirror": True,
        }[how]  # fmt: skip
        if does:
            return design
    raise EditRefused(*_REFUSALS[how])


def chosen_design(now: SheetPhotos, pages: Sequence[PagePlan]) -> Design:
    """A design that was offered. Raises EditRefused when other photos lie there now."""
    known = {photo.id: photo for photo in now.photos}
    if len(pages) != len(now.rooms.pages) or sorted(p for page in pages for p in page.photos) != sorted(known):
        raise EditRefused("Other photos lie on this sheet now.", "Choose a layout again.")
    try:
        return design_of(now.rooms, pages, known)
    except ValueError as error:
        raise EditRefused(str(error)) from None


_REFUSALS: dict[str, tuple[str, str]] = {
    "anew": ("These photos suit no other design.", "Take one out, or let photos be cropped more."),
    "larger": ("This photo cannot be larger here.", "Take another photo out first."),
    "smaller": ("This photo cannot be smaller here.", "Make another one larger."),
    "more_white_space": ("No design for these photos leaves more white space.", "Take a photo out."),
    "less_white_space": ("No design for these photos leaves less white space.", "Add a photo."),
}


def layout_of(
    job: Job, sheet: Sheet, filling: Filling, now: SheetPhotos, design: Design
) -> tuple[Layout, dict[str, str]]:
    """A sheet's layout in a design, and the id of the photo in each of its openings. Openings stay with their photos."""
    before, gone = sheet.layout, {opening.id for opening in now.openings}
    opening_of = {filling.photo_in(opening.id): opening for opening in reversed(now.openings)}
    taken, like = before.ids() | set(filling.layer_ids()), next(iter(now.openings), None)
    laid: list[Opening] = []
    for photo, rect in zip(design.photos, design.rects, strict=True):
        was = opening_of.get(photo)
        identity = was.id if was else fresh_id(taken, "opening-1")
        taken.add(identity)
        laid.append(_opening(identity, rect, was, None if photo in design.run_off else was or like))
    away = gone - {opening.id for opening in laid}
    layers = replace_openings(before.layers, gone, laid)
    layout = before.copy_with(layers=tuple(_caption_of(layer, away, laid) for layer in layers), order=())
    layout = _show_free_numbers(job, sheet, layout, now.rooms.side)
    if job.book and sheet.role in ("page", "spread"):
        layout = place_chapters(layout, before, job.book, sheet.role, now.rooms.side)
    return layout, dict(zip((opening.id for opening in laid), design.photos, strict=True))


def lay_design(job: Job, sheet: Sheet, edition: Edition, now: SheetPhotos, design: Design) -> Job:
    """The job with a sheet in a design. What another edition has in an opening that stays, stays in it, and goes back to its pile
    where the opening is gone."""
    known, before, filling = job.pile.by_id, sheet.layout, edition.filling(sheet.id)
    layout, photo_in = layout_of(job, sheet, filling, now, design)
    gone = {opening.id for opening in now.openings}
    laid = [layout.openings_by_id[name] for name in photo_in]
    away = gone - photo_in.keys()

    def place(filling: Filling, photos: Mapping[str, str]) -> dict[str, Placement]:
        return {
            opening.id: carry_placement(before, layout, before.openings_by_id.get(opening.id), opening, known[photo], filling)
            for opening in laid if (photo := photos.get(opening.id, "")) in known
        }  # fmt: skip

    def after(entry: Edition) -> Edition:
        here = entry.filling(sheet.id)
        remaining = {k: v for k, v in here.placements.items() if k not in away}
        if entry.id == edition.id:
            by_hand = (*(k for k in here.by_hand if k not in away), *photo_in)
            tones = {k: v for k, v in here.tones.items() if k not in away}
            here = here.copy_with(
                placements=remaining | place(here, photo_in), tones=tones, by_hand=tuple(dict.fromkeys(by_hand))
            )
        else:
            theirs = {name: lies.photo for name, lies in remaining.items()}
            here = here.copy_with(placements=remaining | place(here, theirs))
        return entry.copy_with(fillings={**entry.fillings, sheet.id: here})

    editions = tuple(
        after(entry) if entry.id == edition.id or sheet.id in entry.fillings else entry for entry in job.editions
    )
    sheets = tuple(entry.copy_with(layout=layout) if entry.id == sheet.id else entry for entry in job.sheets)
    return job.copy_with(sheets=sheets, editions=editions)


def _count_moved(design: Design, page_of: Mapping[str, int]) -> int:
    """How many photos come onto another page."""
    return sum(page_of.get(photo, n) != n for n, page in enumerate(design.pages) for photo in page.photos)


def _mirror(now: SheetPhotos) -> Design:
    """The design that a sheet has now, the other way round: each photo as large as it is, on the other page."""
    rooms = now.rooms
    if now.runs_off and len(now.pages) == 1 and rooms.bleeds:
        raise EditRefused("A picture that runs off its page is not mirrored alone.", "Choose another layout.")
    left = min(room[0] for room in rooms.pages)
    right = max(room[0] + room[2] for room in rooms.pages)
    photos, rects = [], []
    for opening, (x, y, wide, high) in zip(now.openings, now.rects, strict=True):
        if photo := now.photo_of.get(opening.id):
            photos.append(photo)
            rects.append((left + right - x - wide, y, wide, high))
    half = len(rooms.pages) == 2
    pages = [
        [n for n, rect in enumerate(rects) if not half or (rect[0] + rect[2] / 2 > rooms.lefts[1]) == bool(page)]
        for page in range(len(rooms.pages))
    ]
    order = [n for page in pages for n in page]
    plans = tuple(PagePlan(photos=tuple(photos[n] for n in page), shape=_row(len(page))) for page in pages)
    return Design("Mirrored", plans, 0.0, tuple(rects[n] for n in order))


def _row(count: int) -> str:
    """A tree of so many photos: where they lie is known already."""
    return "" if not count else "0" if count == 1 else f"r({_row(count - 1)},{count - 1})"


def _opening(identity: str, rect: Rect, was: Opening | None, framed: Opening | None) -> Opening:
    x, y, wide, high = rect
    radius = framed.outline.radius_mm if framed and isinstance(framed.outline, Rectangle) else 0.0
    outline = Rectangle(
        width_mm=round_exactly(wide), height_mm=round_exactly(high), radius_mm=min(radius, min(wide, high) / 2)
    )
    surface = Flat(centre=(round_exactly(x + wide / 2), round_exactly(y + high / 2)))
    look = {"border": framed.border, "mat": framed.mat, "shadow": framed.shadow} if framed else {}
    if was:
        return was.copy_with(outline=outline, surface=surface, **{"border": None, "mat": None, "shadow": None, **look})
    return Opening(id=identity, outline=outline, surface=surface, **look)


def replace_openings(layers: tuple[Layer, ...], gone: set[str], laid: Sequence[Opening]) -> tuple[Layer, ...]:
    """Layers of a sheet with some openings replaced, where the first of them lay; above the ground where there was none."""
    position = next((n for n, layer in enumerate(layers) if layer.id in gone), None)
    if position is None:
        lowest = [n for n, layer in enumerate(layers) if layer.kind not in ("background", "ornament")]
        position = lowest[0] if lowest else len(layers)
    below, above = layers[:position], layers[position:]
    return *below, *laid, *(layer for layer in above if layer.id not in gone)


def _caption_of(layer: Layer, away: set[str], laid: Sequence[Opening]) -> Layer:
    """Words that say something of a photo whose opening is gone say it of the nearest one: the date of a page's photos, say."""
    if not isinstance(layer, Text) or layer.photo_of not in away:
        return layer
    x, y = layer.centre
    boxes = {opening.id: page_box(opening) for opening in laid}
    nearest = min(
        boxes,
        key=lambda name: abs((boxes[name].left + boxes[name].right) / 2 - x) + abs(boxes[name].bottom - y),
        default="",
    )
    return layer.copy_with(photo_of=nearest)


def _show_free_numbers(job: Job, sheet: Sheet, layout: Layout, side: str) -> Layout:
    """A layout whose page numbers hide where a picture covers them, and are there again where one did; what a hand hid or took
    away stays so."""
    was, covers = ([page_box(opening) for opening in each.openings()] for each in (sheet.layout, layout))

    def shown(layer: Layer) -> Layer:
        if not isinstance(layer, Text) or layer.style != NUMBER:
            return layer
        if is_covered(layer, covers):
            return layer.copy_with(visible=False)
        return layer.copy_with(visible=True) if is_covered(layer, was) else layer

    numbers = page_numbers(job.book, sheet.role, side) if job.book and sheet.role in ("page", "spread") else ()
    styled = NUMBER in layout.styles
    fresh = [
        number if styled else number.copy_with(style="", own=()) for number in numbers
        if number.id not in layout.ids() and is_covered(number, was) and not is_covered(number, covers)
    ]  # fmt: skip
    return layout.copy_with(layers=(*map(shown, layout.layers), *fresh))


def carry_placement(
    before: Layout, layout: Layout, was: Opening | None, opening: Opening, photo: Photo, filling: Filling
) -> Placement:
    """How a photo lies in its opening: as a hand has fitted it, as near as can be; else by itself."""
    lies = filling.placements.get(was.id) if was else None
    if was is None or lies is None:
        return first_placement(layout, opening, photo)
    by_itself = clamp_placement(was, photo, first_placement(before, was, photo))
    now = clamp_placement(was, photo, lies)
    near = max(abs(a - b) for a, b in zip((*now.centre, now.zoom), (*by_itself.centre, by_itself.zoom), strict=True))
    same = near < 0.005 and (now.fit, now.turn_deg, now.mirror, now.ratio) == ("cover", 0.0, False, None)
    return first_placement(layout, opening, photo) if same else clamp_placement(opening, photo, lies)
