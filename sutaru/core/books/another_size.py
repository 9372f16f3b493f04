"""A book in another size: the same photos on the same pages, each sheet composed anew for it."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from ..arranging.moving import round_exactly
from ..arranging.sizing import resize_layout, scale_layout
from ..document import Book, BookSize, Edition, Filling, Job, Layer, Layout, Shaped, Sheet, Text, Theme
from ..errors import EditRefused
from .binding import cover_layout, fit_cover_to, inner_layout, pages_of
from .covers import lay_out_cover
from .dressing import redraw_decorations
from .page_words import NEAR_MM, lies_alike, page_words
from .plan import ACROSS, SPREAD
from .recomposing import carry_placement, lay_design
from .sheet_rooms import SheetPhotos, read_sheet
from .spread_designs import Design, compose
from .trees import Rect

_LIKE_BEFORE = 10.0  # what it costs that photos lie elsewhere on their sheet, in shares of it, mean over all sides
_OTHERWISE = 0.5  # and that a picture runs off the paper where none did, or none where one did


@dataclass(frozen=True)
class ResizedBook:
    """A book in another size. ``fitted``: names of its inner sheets that were not composed anew, because a hand had arranged
    them, words lie among their photos or the like: what is on them was fitted to the new size as it was."""

    job: Job
    fitted: tuple[str, ...]


def resize_book(
    job: Job,
    size: BookSize,
    theme: Theme | None = None,
    edition_id: str = "",
) -> ResizedBook:
    """Make a book another size: photos keep their pages and their order, the largest of each sheet stays the largest.

    ``size``: one that the lab binds; ``theme``: the book's, whose drawings are drawn in the new size; ``edition_id``: whose
    photos the sheets are composed for, "" for the first. Raises EditRefused for what is no book.
    """
    if job.book is None:
        raise EditRefused("This job is no book.", "Choose a book.")
    fitted_job = _fit_job(job, job.book, size, theme)
    resized, fitted = fitted_job, list[str]()
    inner = [sheet for sheet in job.sheets if sheet.role in ("page", "spread")]
    for sheet in inner:
        edition = resized.edition(edition_id)
        try:
            before = read_sheet(job, sheet, job.edition(edition_id).filling(sheet.id))
            now = read_sheet(resized, resized.sheets_by_id[sheet.id], edition.filling(sheet.id))
        except EditRefused:
            fitted.append(sheet.name)
            continue
        if not now.photos:
            continue
        design = (
            _nearest_design(before, now, sheet.layout, resized.sheets_by_id[sheet.id].layout)
            if _is_composed(before)
            else None
        )
        if design is None:
            fitted.append(sheet.name)
        else:
            composed = lay_design(resized, resized.sheets_by_id[sheet.id], edition, now, design)
            resized = _mark_as_before(composed, resized, sheet.id)
    return ResizedBook(resized, tuple(fitted))


def _fit_job(job: Job, book: Book, size: BookSize, theme: Theme | None) -> Job:
    """The job with all its sheets fitted to another size, and what lies in their openings."""
    share = min(size.width_mm, size.height_mm) / min(book.size.width_mm, book.size.height_mm)
    margin = size.safe_mm + max(0.0, book.margin_mm - book.size.safe_mm) * share
    resized = book.copy_with(
        size=size, gap_mm=round_exactly(book.gap_mm * share), margin_mm=round(margin, 2),
    )  # fmt: skip
    across, down = size.width_mm / book.size.width_mm, size.height_mm / book.size.height_mm
    pages, resized_job = pages_of(job), job.copy_with(book=resized)

    def fit(sheet: Sheet, turn: int) -> Sheet:
        layout = _fit_layout(sheet, resized, across, down, pages)
        if sheet.role == "cover":
            covers = [lay_out_cover(each, pages, theme).layers for each in (job, resized_job)]
            layout = _place_as_laid(layout, sheet.layout, *covers)
        elif sheet.role in ("page", "spread"):
            side = "right" if job.page_numbers[sheet.id][0] % 2 else "left"
            was, now = page_words(book, sheet.role, side, sheet.layout), page_words(resized, sheet.role, side)
            layout = _place_as_laid(layout, sheet.layout, was, now)
        return sheet.copy_with(layout=redraw_decorations(layout, theme, turn, sheet.role) if theme else layout)

    sheets = tuple(fit(sheet, turn) for turn, sheet in enumerate(job.sheets))
    layouts = {sheet.id: sheet.layout for sheet in sheets}

    def fit_edition(edition: Edition) -> Edition:
        fillings = {
            name: _fit_filling(job, filling, job.sheets_by_id[name].layout, layouts[name])
            if name in layouts
            else filling
            for name, filling in edition.fillings.items()
        }
        return edition.copy_with(fillings=fillings)

    editions = tuple(map(fit_edition, job.editions))
    return job.copy_with(book=resized, sheets=sheets, editions=editions)


def _fit_layout(sheet: Sheet, book: Book, across: float, down: float, pages: int) -> Layout:
    before, size = sheet.layout, book.size
    if sheet.role == "cover":
        layout = _resize(before, round_exactly(before.width_mm * across), size.height_mm)
        return fit_cover_to(layout.copy_with(safe_mm=size.safe_mm), cover_layout(book, pages))
    if sheet.role not in ("page", "spread"):
        return _resize(before, round_exactly(before.width_mm * across), round_exactly(before.height_mm * down))
    bare = inner_layout(book, sheet.role)
    layout = _resize(before, bare.width_mm, bare.height_mm)
    return layout.copy_with(bleed_mm=bare.bleed_mm, safe_mm=bare.safe_mm, lines=bare.lines)


def _resize(layout: Layout, width_mm: float, height_mm: float) -> Layout:
    """A layout in another size, its gaps and margins as they are; those too where there is no room for them."""
    try:
        return resize_layout(layout, width_mm, height_mm)
    except EditRefused:
        return scale_layout(layout, width_mm, height_mm)


def _place_as_laid(layout: Layout, before: Layout, was: Sequence[Layer], now: Sequence[Layer]) -> Layout:
    """A layout in which what lay as a new book of the old size has it, lies as one of the new size does."""
    rules = {
        layer.id: (layer, rule) for layer in was for rule in now
        if rule.id == layer.id and isinstance(layer, Text | Shaped)
    }  # fmt: skip

    def place(layer: Layer) -> Layer:
        if layer.id not in rules or layer.id not in unmoved:
            return layer
        _, rule = rules[layer.id]
        names = ("centre", "width_mm", "height_mm") if isinstance(layer, Text) else ("outline", "surface")
        return layer.copy_with(**{name: getattr(rule, name) for name in names})

    unmoved = {
        layer.id for layer in before.layers
        if layer.id in rules and layer.kind == rules[layer.id][0].kind and lies_alike(layer, rules[layer.id][0])
    }  # fmt: skip
    return layout.copy_with(layers=tuple(map(place, layout.layers)))


def _fit_filling(job: Job, filling: Filling, before: Layout, layout: Layout) -> Filling:
    known, openings = job.pile.by_id, before.openings_by_id
    placements = {
        name: carry_placement(before, layout, openings[name], layout.openings_by_id[name], known[lies.photo], filling)
        if name in layout.openings_by_id and lies.photo in known else lies
        for name, lies in filling.placements.items()
    }  # fmt: skip
    return filling.copy_with(placements=placements)


def _is_composed(before: SheetPhotos) -> bool:
    """Whether a sheet's photos lie as a composition has them, one gap between all that are neighbours on a page, and not as a
    hand has arranged them."""
    pages = {before.page_of.get(before.photo_of.get(opening.id, ""), 0) for opening in before.openings}
    return all(
        _is_even([
            rect for opening, rect in zip(before.openings, before.rects, strict=True)
            if before.page_of.get(before.photo_of.get(opening.id, ""), 0) == page
        ], before.rooms.gap_mm)
        for page in pages
    )  # fmt: skip


def _is_even(rects: Sequence[Rect], gap_mm: float) -> bool:
    """Whether rectangles can be cut apart along gaps of one width, across and down in turn."""
    if len(rects) < 2:
        return True
    for axis in (0, 1):
        runs: list[list[Rect]] = []
        end = -math.inf
        for rect in sorted(rects, key=lambda rect: rect[axis]):
            if rect[axis] < end - NEAR_MM:
                runs[-1].append(rect)
            elif runs and abs(rect[axis] - end - gap_mm) > NEAR_MM:
                return False
            else:
                runs.append([rect])
            end = max(end, rect[axis] + rect[axis + 2])
        if len(runs) > 1:
            return all(_is_even(run, gap_mm) for run in runs)
    return False


def _nearest_design(before: SheetPhotos, now: SheetPhotos, old: Layout, new: Layout) -> Design | None:
    """The design of a sheet in its new size that suits its photos, and in which they lie most as they lay before."""
    places = {
        before.photo_of[opening.id]: _in_shares(rect, old)
        for opening, rect in zip(before.openings, before.rects, strict=True) if opening.id in before.photo_of
    }  # fmt: skip

    def cost(design: Design) -> float:
        apart = [
            abs(a - b)
            for photo, rect in zip(design.photos, design.rects, strict=True)
            for a, b in zip(_in_shares(rect, new), places.get(photo, rect), strict=True)
        ]
        otherwise = _OTHERWISE * (bool(design.run_off) != before.runs_off)
        return design.cost + otherwise + _LIKE_BEFORE * sum(apart) / len(apart)

    designs = compose(now.rooms, now.photos, now.page_of, before.hero)
    staying = [design for design in designs if _keeps_pages(design, before)]
    return min(staying or designs, key=cost, default=None)


def _keeps_pages(design: Design, before: SheetPhotos) -> bool:
    """Whether photos stay on their pages; one that lies over both has none."""
    return all(
        page.shape in (ACROSS, SPREAD) or all(before.page_of.get(photo, n) == n for photo in page.photos)
        for n, page in enumerate(design.pages)
    )


def _in_shares(rect: Rect, layout: Layout) -> Rect:
    x, y, wide, high = rect
    return x / layout.width_mm, y / layout.height_mm, wide / layout.width_mm, high / layout.height_mm


def _mark_as_before(job: Job, before: Job, sheet: str) -> Job:
    """The job with only that fitted by hand on a sheet which was so before."""

    def mark(edition: Edition) -> Edition:
        filling = edition.fillings.get(sheet)
        if filling is None:
            return edition
        by_hand = before.edition(edition.id).filling(sheet).by_hand
        return edition.copy_with(fillings={**edition.fillings, sheet: filling.copy_with(by_hand=by_hand)})

    return job.copy_with(editions=tuple(map(mark, job.editions)))
