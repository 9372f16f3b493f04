"""What is drawn on a sheet in an edition: one flat list, bottom to top, in which everything has been worked out.

Groups are taken apart, spans have become placements in register, echoes know their source, words are what they say in
this edition. Measuring, painting, checks and every writer of files read this list and nothing else of the job.
"""

import contextlib
import hashlib
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, replace
from functools import cached_property

from ..document import (
    Accepted,
    Binding,
    CalendarSaid,
    DateGrid,
    Echo,
    Edition,
    Filling,
    Job,
    LabSheet,
    Layout,
    Leaf,
    Opening,
    Ornament,
    Overlay,
    PagePicture,
    Photo,
    Placement,
    Recipe,
    Sheet,
    StudioCard,
    Text,
)
from ..document.lettering import Run
from ..document.studio import resolve_colours
from ..errors import SutaruError
from ..words import Brought, FontFile, apply_styles
from ..words.date_grids import draw_grid
from ..words.fields import fill_fields
from .field_values import list_field_values, values, values_at
from .keeping import first_placement
from .placing import clamp_placement
from .print_density import effective_ppi
from .spanning import member_placement, members
from .straightening import areas_upright, most_enlarged

Fonts = Callable[[str], bytes]
SAMPLE_MONTH = "2027-01"  # what date grids of a template show whose sheet says no month


@dataclass(frozen=True)
class Drawn:
    """A layer with what it shows: an opening's photo and how it lies, an echo's source and that one's photo, a text's words.

    Colours are all #rrggbb. ``number`` counts a sheet's openings from 1. ``span`` is the id of the span an opening belongs to,
    "" for none. ``page``: the sheet that a picture of one shows. ``runs``: where words look otherwise than their
    box; ``brought``: fonts of the document that they need. ``told``: whether fields in them were filled in; ``unsaid``: those of
    which nothing is said; ``unknown``: such as nobody knows. ``part_of``: the date grid that it is worked out of.
    """

    layer: Leaf
    number: int = 0
    photo: Photo | None = None
    placement: Placement | None = None
    recipe: Recipe | None = None
    source: Opening | None = None
    words: str = ""
    runs: tuple[Run, ...] = ()
    brought: Brought = ()
    own_words: bool = False
    told: bool = False
    unsaid: tuple[str, ...] = ()
    unknown: tuple[str, ...] = ()
    page: "Resolved | None" = None
    part_of: str = ""
    span: str = ""
    pinned: bool = False


@dataclass(frozen=True)
class Bound:
    """How a sheet is bound into a book: what part it plays, its first page, and how many pages there are."""

    binding: Binding
    role: str
    first_page: int
    pages: int


def _binding_of(job: Job, sheet: Sheet) -> Bound | None:
    if job.book is None:
        return None
    pages = sum(count for _, count in job.page_numbers.values())
    return Bound(job.book.binding, sheet.role, job.page_numbers[sheet.id][0], pages)


def printed_ppi(drawn: Drawn) -> float:
    """Photo px per printed inch of what an opening shows, where it is worst, however it was put upright."""
    assert isinstance(drawn.layer, Opening)
    assert drawn.photo
    assert drawn.placement
    upright = drawn.recipe.upright if drawn.recipe else None
    ppi = effective_ppi(drawn.layer, drawn.photo, drawn.placement)
    return ppi / most_enlarged(upright, drawn.photo.width, drawn.photo.height) if upright and upright.changes else ppi


@dataclass(frozen=True)
class Resolved:
    """A sheet in an edition. ``earlier`` says of photos that lie elsewhere too where each lies first, in words. ``bound``: how
    a book is bound that it is a sheet of."""

    sheet: str
    name: str
    layout: Layout
    lab: LabSheet
    drawn: tuple[Drawn, ...]
    spans: Mapping[str, tuple[str, ...]]
    earlier: Mapping[str, str]
    accepted: tuple[Accepted, ...] = ()
    months: tuple[str, str] = ("", "")  # the month before, on the sheet before, and its own
    bound: "Bound | None" = None

    @cached_property
    def openings(self) -> list[Drawn]:
        """The openings by number, hidden ones too; not those of date grids."""
        return [entry for entry in self.drawn if isinstance(entry.layer, Opening) and not entry.part_of]

    @cached_property
    def layout_with_words(self) -> Layout:
        """The layout with the words that stand on it now, as they look."""
        words = {
            d.layer.id: d.layer.copy_with(text=d.words, runs=d.runs)
            for d in self.drawn
            if isinstance(d.layer, Text) and (d.words != d.layer.text or d.layer.style)
        }
        return self.layout.replace_texts(words) if words else self.layout

    @cached_property
    def by_id(self) -> dict[str, Drawn]:
        """Entries by layer id."""
        return {entry.layer.id: entry for entry in self.drawn}


def resolve_sheet(
    job: Job, sheet: str, edition: str = "", earlier: Mapping[str, str] | None = None, fonts: Fonts | None = None
) -> Resolved:  # fmt: skip
    """The sheet as it is drawn in an edition. Raises KeyError when there is no such sheet or edition.

    ``fonts``: reads the file of a font that a layout brings along. Without it such words are set in one that ships.
    """
    sheet_read, filled = job.sheets_by_id[sheet], job.edition(edition)
    layout, filling = sheet_read.layout, filled.filling(sheet)
    lie = _placements(layout, filling, job.pile.by_id)
    spans = {opening: k for k, span in filling.spans.items() for opening in span.openings}
    pins = set(filling.pins)

    def resolve_page(drawn: Drawn, opening: str) -> Drawn:
        placement = lie.get(opening)
        if placement is None:
            return drawn
        photo = job.pile.by_id[placement.photo]
        recipe = job.recipe(filling, filled, opening, photo, layout.openings_by_id[opening].tone)
        if recipe and recipe.upright and recipe.upright.changes:
            photo = photo.copy_with(marked=areas_upright(photo, recipe.upright))
        return replace(drawn, photo=photo, placement=placement, recipe=recipe)

    card = job.studio or StudioCard()
    field_values = values(job, sheet_read, filled)
    shown = {o: job.pile.by_id[lie[o].photo] for o in layout.openings_by_id if o in lie}
    colours = {**layout.named_colours, **card.colours}

    month = sheet_read.fields.get("month", "") or (SAMPLE_MONTH if job.making else "")

    def entries(stored: Leaf) -> Iterator[Drawn]:
        if not isinstance(stored, DateGrid):
            yield entry(stored)
            return
        grid = resolve_colours(stored, colours) if layout.colour_names else stored
        for part in draw_grid(grid, month, job.locale, job.calendar or CalendarSaid()):
            if isinstance(part, Opening):
                if photo := job.pile.by_id.get(part.name):
                    lies = first_placement(layout, part, photo)
                    recipe = job.recipe(filling, filled, part.id, photo)
                    yield Drawn(part, photo=photo, placement=lies, recipe=recipe, part_of=grid.id)
                continue
            words = part.text if isinstance(part, Text) else ""
            yield Drawn(
                part, words=words, own_words=True, brought=_fonts_of((grid.font,), layout, fonts), part_of=grid.id
            )

    def entry(stored: Leaf) -> Drawn:
        layer = stored
        written = layer.id in filling.texts
        if isinstance(layer, Text):
            # What is written here looks as its own runs say: their styles and colours are put in as the template's are.
            layer = layer.copy_with(runs=filling.runs.get(layer.id, ())) if written else layer
            layer = apply_styles(layer, layout.styles) if layout.styles else layer
        layer = resolve_colours(layer, colours) if layout.colour_names or filling.runs else layer
        if isinstance(layer, Opening):
            number, span = layout.numbers[layer.id], spans.get(layer.id, "")
            return resolve_page(Drawn(layer, number, span=span, pinned=layer.id in pins), layer.id)
        if isinstance(layer, Echo):
            source = resolve_colours(layout.openings_by_id[layer.of], colours)
            return resolve_page(Drawn(layer, source=source), layer.of)
        if isinstance(layer, Text):
            words = filling.texts.get(layer.id, layer.text)
            if job.without_samples and layer.sample and not written and not layer.content_locked:
                words = ""
            full = fill_fields(words, layer.runs, values_at(layer, sheet_read, field_values, shown), job.locale)
            return Drawn(
                layer, words=full.words, runs=full.runs, brought=_find_brought_font(layer, layout, fonts), own_words=written,
                told=full.words != words, unsaid=full.unsaid, unknown=full.unknown,
            )  # fmt: skip
        if isinstance(layer, PagePicture):
            return Drawn(layer, page=resolve_sheet(job, layer.of, edition, fonts=fonts))
        if isinstance(layer, Ornament) and layer.logo and card.logo:
            return Drawn(_show_logo(layer, card))
        return Drawn(layer)

    return Resolved(
        sheet, sheet_read.name, layout, job.lab, tuple(drawn for layer in layout.leaves for drawn in entries(layer)),
        {k: tuple(o.id for o in members(layout, span)) for k, span in filling.spans.items()}, earlier or {}, filling.accepted,
        (job.month_before.get(sheet, ""), sheet_read.fields.get("month", "")), _binding_of(job, sheet_read),
    )  # fmt: skip


def _show_logo(layer: Ornament, card: StudioCard) -> Ornament | Overlay:
    """A logo's ornament with the studio's own: a drawing in its place, a picture as large as fits its box."""
    if not card.logo_ratio:
        return layer.copy_with(asset=card.logo, traced=card.traced)
    width = min(layer.width_mm, layer.height_mm * card.logo_ratio)
    return Overlay(
        **{name: getattr(layer, name) for name in Overlay.model_fields.keys() & Ornament.model_fields.keys() - {"kind"}}
        | {"asset": card.logo, "width_mm": width, "height_mm": width / card.logo_ratio}
    )


def _find_brought_font(layer: Text, layout: Layout, fonts: Fonts | None) -> Brought:
    return _fonts_of((layer.font, *(run.font for run in layer.runs if run.font)), layout, fonts)


def _fonts_of(names: tuple[str, ...], layout: Layout, fonts: Fonts | None) -> Brought:
    """The fonts of those named that do not ship. One whose file is missing is done without: a check says so."""
    if not layout.fonts or fonts is None:
        return ()
    fonts_used = []
    for name in dict.fromkeys(names):
        if name in layout.fonts:
            with contextlib.suppress(SutaruError):
                fonts_used.append(FontFile(name, layout.fonts[name], fonts(layout.fonts[name])))
    return tuple(fonts_used)


def _placements(layout: Layout, filling: Filling, photos: Mapping[str, Photo]) -> dict[str, Placement]:
    """How photos lie in the openings that are there, none with a gap, those of spans in register."""
    placements = {}
    for identity, placement in filling.placements.items():
        opening, photo = layout.openings_by_id.get(identity), photos.get(placement.photo)
        if opening and photo:
            placements[identity] = clamp_placement(opening, photo, placement)
    for span in filling.spans.values():
        together, photo = members(layout, span), photos.get(span.placement.photo)
        if together and photo:
            for opening in together:
                placements[opening.id] = member_placement(span, together, opening, photo)
    return placements


def resolve_sheets(job: Job, edition: str = "", fonts: Fonts | None = None) -> Iterator[Resolved]:
    """All sheets of an edition, in order."""
    earlier = earlier_uses(job, edition)
    for sheet in job.sheets_of(job.edition(edition)):
        yield resolve_sheet(job, sheet.id, edition, earlier[sheet.id], fonts)


def earlier_uses(job: Job, edition: str = "") -> dict[str, dict[str, str]]:
    """For each sheet, which of its photos lie on an earlier sheet too, and where first, in words. What a cover shows is meant
    to come again."""
    filled, first = job.edition(edition), dict[str, str]()
    uses: dict[str, dict[str, str]] = {sheet.id: {} for sheet in job.sheets}
    for sheet in job.sheets_of(filled):
        held = filled.filling(sheet.id).photos()
        uses[sheet.id] = {photo: first[photo] for photo in held & first.keys()}
        for photo in held - first.keys() if sheet.role != "cover" else ():
            first[photo] = sheet.name
    return uses


def _days_photos(job: Job, edition: Edition) -> Iterator[str]:
    """What decides how photos in days look."""
    for dated in job.calendar.dates if job.calendar else ():
        if dated.photo:
            photo, tone = job.pile.by_id.get(dated.photo), edition.photo_tones.get(dated.photo)
            yield photo.digest if photo else ""
            yield tone.digest if tone else ""


def drawing_key(job: Job, sheet: str, edition: Edition, earlier: Mapping[str, str]) -> str:
    """A name for all that decides how a sheet looks and measures, so that both need be worked out only once.

    Costs a hash of names: nothing is resolved.
    """
    entry, filling = job.sheets_by_id[sheet], edition.filling(sheet)
    parts = [sheet, entry.layout.digest, filling.digest, job.lab.digest, entry.name, str(job.enhance)]
    parts.append(job.studio.digest if job.studio else "")
    if entry.layout.grids:
        parts += [
            entry.fields.get("month", ""),
            job.month_before.get(sheet, ""),
            job.locale,
            job.calendar.digest if job.calendar else "",
            *_days_photos(job, edition),
        ]
    if bound := _binding_of(job, entry):
        # The cover tells of all pages, a page of its number.
        parts += [bound.binding.digest, str(bound.pages if bound.role == "cover" else bound.first_page)]
    parts += [*list_field_values(job, entry, edition, filling), "bare" if job.without_samples else ""]
    for page in sorted(entry.layout.pages):
        parts.append(drawing_key(job, page, edition, {}))
    for identity in sorted(filling.photos()):
        photo = job.pile.by_id.get(identity)
        tone = edition.photo_tones.get(identity)
        parts += [photo.digest if photo else "", tone.digest if tone else "", earlier.get(identity, "")]
    return hashlib.sha256("\n".join(parts).encode()).hexdigest()[:20]
