"""One sheet laid out anew: layouts that suit the photos it has, and photos that go along into another layout."""

from collections.abc import Iterable, Sequence
from collections.abc import Set as AbstractSet
from dataclasses import dataclass
from itertools import product
from typing import Literal

from ..arranging.aligning import page_box
from ..arranging.moving import round_exactly
from ..arranging.new_layers import fresh_id
from ..arranging.sizing import resize_layout
from ..document import Book, Edition, Filling, Flat, Job, Layer, Layout, Opening, Photo, Placement, Sheet, Template
from ..document.shapes import Rectangle
from ..errors import EditRefused
from ..fitting import assign_photos, clamp_placement, first_placement, reading_order
from ..geometry import outlines
from ..measure import MM_PER_INCH
from .composing import HEIGHTS, ways_to_close
from .page_layouts import bleeds_of, page_rects, page_room
from .plan import BLEED, EDGE, RUN_OFF, WIDE, Block, PagePlan
from .trees import Rect, Trees, boxes_within, parse_tree, text

COMPUTED = 8  # layouts that are offered for one sheet
_SAME = 0.01  # by so much of one another two shapes count as the same: a photo lies in either as it lay
_LIKE = 0.03  # by so much of one another sheets are of one shape


@dataclass(frozen=True)
class Suggestion:
    """A layout that a sheet may have, and where it is from. ``now``: its openings lie as those that the sheet has."""

    source: Literal["computed", "book", "shelf"]
    name: str
    layout: Layout
    now: bool = False

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


def side_of(job: Job, sheet: Sheet, page: int) -> str:
    """Which side of an open book a page is."""
    if sheet.role == "spread":
        return "right" if page else "left"
    return "right" if job.page_numbers[sheet.id][0] % 2 else "left"


def shapes_for(book: Book, photos: Sequence[Photo], count: int) -> list[str]:
    """The best layouts for the photos of one page, as plans write them. A single one may fill the page, or lie at its edge."""
    if not photos:
        return [""]
    _, _, width, height = page_room(book, "left", book.margin_mm)
    ratios = tuple(round(photo.width / photo.height, 6) for photo in photos)
    trees_ranked = [text(judged.tree) for judged in Trees(book.gap_mm).rank_trees(ratios, (width, height), (), count)]
    return [*trees_ranked, BLEED, EDGE] if len(photos) == 1 else trees_ranked


def relaid_page(
    job: Job, sheet: Sheet, filling: Filling, page: int, photos: Sequence[Photo], shape: str, block: Block | None = None
) -> tuple[Sheet, Filling]:  # fmt: skip
    """A sheet one page of which shows these photos, laid out as a plan's shape and block say; all else on it stays."""
    book = _book(job)
    gone = {opening.id for opening, _ in openings_on_page(sheet, filling, page)}
    like = next((opening for opening, _ in openings_on_page(sheet, filling, page)), None)
    taken = sheet.layout.ids() - gone
    plan = PagePlan(photos=tuple(photo.id for photo in photos), shape=shape, block=block)
    least = job.lab.ppi_least
    rects = page_rects(book, plan, side_of(job, sheet, page), book.margin_mm, book.gap_mm, False, job.pile.by_id, least)
    if free := _room_beside(book, sheet, page, gone):
        most = [photo.width / least * MM_PER_INCH for photo in photos]
        tree = "0" if shape in RUN_OFF else shape
        ratios = [photo.width / photo.height for photo in photos]
        rects = boxes_within(parse_tree(tree), ratios, book.gap_mm, free, most) if photos else []
    shift = book.size.width_mm if page else 0.0
    fresh: list[Opening] = []
    placements: dict[str, Placement] = {}
    framed = like if shape not in RUN_OFF else None
    for (x, y, w, h), photo in zip(rects, photos, strict=True):
        identity = fresh_id(taken, "opening-1")
        taken.add(identity)
        outline = Rectangle(width_mm=round_exactly(w), height_mm=round_exactly(h), radius_mm=_corner(framed, w, h))
        surface = Flat(centre=(round_exactly(x + shift + w / 2), round_exactly(y + h / 2)))
        new_opening = Opening(id=identity, outline=outline, surface=surface)
        new_opening = (
            new_opening.copy_with(border=framed.border, mat=framed.mat, shadow=framed.shadow) if framed else new_opening
        )
        fresh.append(new_opening)
        placements[identity] = first_placement(sheet.layout, new_opening, photo)
    layout = sheet.layout.copy_with(layers=_replace_openings(sheet.layout.layers, gone, fresh))
    placements_left = {k: v for k, v in filling.placements.items() if k not in gone}
    tones = {filling.photo_in(k): v for k, v in filling.tones.items() if k in gone}
    carried = {k: tones[v.photo] for k, v in placements.items() if v.photo in tones}
    filling = filling.copy_with(
        placements={**placements_left, **placements},
        tones={**{k: v for k, v in filling.tones.items() if k not in gone}, **carried},
        by_hand=tuple(k for k in filling.by_hand if k not in gone),
        pins=tuple(k for k in filling.pins if k not in gone),
    )
    return sheet.copy_with(layout=layout), filling


def _book(job: Job) -> Book:
    if job.book is None:
        raise EditRefused("This job is no book.", "Begin a book from its first step.")
    return job.book


def _corner(like: Opening | None, w: float, h: float) -> float:
    radius = like.outline.radius_mm if like and isinstance(like.outline, Rectangle) else 0.0
    return min(radius, min(w, h) / 2)


def _replace_openings(layers: tuple[Layer, ...], gone: set[str], fresh: Sequence[Opening]) -> tuple[Layer, ...]:
    """Layers of a sheet with some openings replaced, where the first of them lay; above the ground where there was none."""
    position = next((n for n, layer in enumerate(layers) if layer.id in gone), None)
    if position is None:
        lowest = [n for n, layer in enumerate(layers) if layer.kind not in ("background", "ornament")]
        position = lowest[0] if lowest else len(layers)
    return (
        *(entry for entry in layers[:position] if entry.id not in gone),
        *fresh,
        *(entry for entry in layers[position:] if entry.id not in gone),
    )


def suggestions(job: Job, sheet: Sheet, edition: Edition, shelf: Iterable[Template] = ()) -> list[Suggestion]:
    """Layouts that suit the photos on a sheet: computed ones that crop nothing, those of the book's other sheets, and the
    shelf's of its shape, for as many photos."""
    filling, known = edition.filling(sheet.id), job.pile.by_id
    suggested: list[Suggestion] = []
    held = [photo for opening in reading_order(sheet.layout) if (photo := filling.photo_in(opening.id)) in known]
    count = len(held) or len(sheet.layout.openings_by_id)
    if job.book and sheet.role in ("page", "spread") and held and not filling.spans:
        suggested += _compute_suggestions(job, sheet, filling)
    places_now = _places(sheet.layout)
    places_known = {_places(other_sheet.layout) for other_sheet in suggested}

    def offer(source: Literal["computed", "book", "shelf"], name: str, layout: Layout) -> None:
        places = _places(layout)
        if places not in places_known:
            places_known.add(places)
            suggested.append(Suggestion(source, name, _dress_as(layout, sheet.layout), places == places_now))

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


def _compute_suggestions(job: Job, sheet: Sheet, filling: Filling) -> list[Suggestion]:
    pages = (0, 1) if sheet.role == "spread" else (0,)
    known = job.pile.by_id
    photos = [[known[photo] for _, photo in openings_on_page(sheet, filling, page) if photo in known] for page in pages]
    choices = [shapes_for(_book(job), some, COMPUTED) for some in photos]
    ways = sorted(product(*(range(len(some)) for some in choices)), key=sum)[:COMPUTED]
    composed = _compose_suggestions(job, sheet, filling, pages, photos)
    for ns in ways:
        dressed, filled = sheet, filling
        for page, n in zip(pages, ns, strict=True):
            dressed, filled = relaid_page(job, dressed, filled, page, photos[page], choices[page][n])
        same = _places(dressed.layout) == _places(sheet.layout)
        shapes = [choices[page][n] for page, n in zip(pages, ns, strict=True)]
        name = (
            "A photo over the whole page" if BLEED in shapes else "To the edge" if EDGE in shapes else "Nothing cropped"
        )
        composed.append(Suggestion("computed", name, dressed.layout, same))
    return [*composed, *_suggest_wide(job, sheet, filling, photos)]


def _suggest_wide(job: Job, sheet: Sheet, filling: Filling, photos: Sequence[Sequence[Photo]]) -> list[Suggestion]:
    """Layouts in which the only photo of one page comes over the gutter, and those of the other stand in a column beside it."""
    book, wide_ones = _book(job), list[Suggestion]()
    bleeds = bleeds_of(book, book.margin_mm, book.gap_mm, job.lab.ppi_least)
    for page, other in ((0, 1), (1, 0)) if len(photos) == 2 else ():
        if len(photos[page]) != 1 or not photos[other]:
            continue
        if not bleeds.may(WIDE, photos[page][0], side_of(job, sheet, page)):
            continue
        widened, filled = relaid_page(job, sheet, filling, page, photos[page], WIDE)
        for shape in shapes_for(book, photos[other], 2)[:2]:
            whole, _ = relaid_page(job, widened, filled, other, photos[other], shape)
            same = _places(whole.layout) == _places(sheet.layout)
            wide_ones.append(Suggestion("computed", "Over the gutter, with a column", whole.layout, same))
    return wide_ones


def _room_beside(book: Book, sheet: Sheet, page: int, gone: AbstractSet[str]) -> Rect | None:
    """What is left of a page's room, mm from its own top left, where an opening of the other page comes over the gutter; None
    where none does. ``gone``: openings that do not stay."""
    if sheet.role != "spread":
        return None
    width = book.size.width_mm
    stay = [opening for opening in sheet.layout.openings() if opening.id not in gone]
    over = [page_box(opening) for opening in stay if page_of(sheet.layout, sheet.role, opening) != page]
    gap = bleeds_of(book, book.margin_mm, book.gap_mm, 1.0).column_gap
    left, top, wide, high = page_room(book, "right" if page else "left", book.margin_mm)
    if page:
        start = max([left, *(box.right - width + gap for box in over if box.right > width + 1)])
        end = left + wide
    else:
        start, end = left, min([left + wide, *(box.left - gap for box in over if box.left < width - 1)])
    return (start, top, max(20.0, end - start), high) if end - start < wide - 0.5 else None


def _compose_suggestions(
    job: Job, sheet: Sheet, filling: Filling, pages: Sequence[int], photos: Sequence[Sequence[Photo]]
) -> list[Suggestion]:  # fmt: skip
    """Layouts whose pages hang from common lines, the best first."""
    book = _book(job)
    _, _, *room = page_room(book, "left", book.margin_mm)
    trees = Trees(book.gap_mm)
    ways: list[tuple[float, tuple[tuple[str, Block | None], ...]]] = []
    for height in HEIGHTS:
        choices = [ways_to_close(trees, some, (room[0], room[1]), height, COMPUTED) for some in photos]
        for options in product(*(some[:3] for some in choices)):
            ways.append((sum(cost for cost, *_ in options), tuple((shape, block) for _, shape, block in options)))
    composed = []
    for _, way in sorted(ways, key=lambda entry: entry[0])[:COMPUTED]:
        sheet_then, filled = sheet, filling
        for page, some, (shape, block) in zip(pages, photos, way, strict=True):
            sheet_then, filled = relaid_page(job, sheet_then, filled, page, some, shape, block)
        composed.append(
            Suggestion(
                "computed",
                "Aligned across the fold",
                sheet_then.layout,
                _places(sheet_then.layout) == _places(sheet.layout),
            )
        )
    return composed


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
    return now.copy_with(layers=_replace_openings(now.layers, gone, named), order=())


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
