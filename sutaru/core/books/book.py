"""A whole book laid out: which of its sheets are laid anew, the plan for them, and the plan made into sheets."""

import re
from collections.abc import Mapping, Sequence
from itertools import count

from ..arranging.moving import round_exactly
from ..document import Book, Edition, Filling, Job, LabSheet, Layout, Opening, Photo, Sheet, StudioCard, Theme
from ..document.shapes import Rectangle
from ..errors import EditRefused
from ..fitting import first_placement
from ..fitting.placing import cover_scale
from ..measure import MM_PER_INCH
from .binding import pages_of, roles_of
from .page_layouts import empty_sheet, lay_out_sheet, new_sheets, slots_of
from .page_rooms import page_room, rooms
from .page_words import CHAPTER_MM, TITLE_ID
from .plan import BookPlan, PagePlan, Wishes
from .planning import Progress, gap_and_margin, pages_for, plan_pages
from .trees import Trees, text

BOOK = "book"  # what a book says that it was begun from
_NUMBERED = re.compile(r"^Pages? \d+( and \d+)?$")


def stays(job: Job, sheet: Sheet, edition: Edition) -> bool:
    """Whether a sheet is left as it is when its book is laid out: a hand has placed or pinned something on it."""
    filling = edition.filling(sheet.id)
    openings_here = sheet.layout.openings_by_id
    by_hand = any(opening in openings_here and filling.photo_in(opening) for opening in filling.by_hand)
    return by_hand or any(opening in openings_here for opening in filling.pins) or bool(filling.spans)


def sheets_to_lay_out(job: Job, edition: Edition, sheets: Sequence[str] | None) -> list[Sheet]:
    """The sheets that a layout is for: those named, or all but the cover; without those that stay."""
    return [
        sheet for sheet in job.sheets
        if sheet.role != "cover" and (sheets is None or sheet.id in sheets) and not stays(job, sheet, edition)
    ]  # fmt: skip


def photos_to_lay_out(job: Job, edition: Edition, anew: Sequence[Sheet], whole: bool) -> list[Photo]:
    """The photos that there are for sheets laid anew: for a whole book all that lie on no sheet that stays; for a stretch of
    pages those that lie on them."""
    names = {sheet.id for sheet in anew}
    inner = [sheet for sheet in job.sheets if sheet.role != "cover"]
    if not whole:
        photos_here = {photo for sheet in anew for photo in edition.filling(sheet.id).photos()}
        return [photo for photo in job.photos if photo.id in photos_here]
    elsewhere = {photo for sheet in inner if sheet.id not in names for photo in edition.filling(sheet.id).photos()}
    photos = [photo for photo in job.photos if photo.id not in elsewhere and not photo.aside]
    return [photo for photo in photos if not photo.sample] or photos


def plan_of(
    job: Job, wishes: Wishes, edition_id: str = "", sheets: Sequence[str] | None = None,
    progress: Progress = lambda stage, done, total: None,
) -> BookPlan:  # fmt: skip
    """A plan for a book, or for some of its sheets. ``progress`` may raise to stop. Raises EditRefused."""
    book, edition = _book(job), job.edition(edition_id)
    if sheets is None:
        photos = photos_to_lay_out(job, edition, sheets_to_lay_out(job, edition, None), True)
        job = set_page_count(job, edition, pages_for(book.binding, wishes, len(photos)), None)
    anew = sheets_to_lay_out(job, edition, sheets)
    if not anew:
        raise EditRefused("A hand has placed photos on all of these pages.", "Unpin some, or choose others.")
    photos = photos_to_lay_out(job, edition, anew, sheets is None)
    gap, margin = gap_and_margin(book, wishes.white)
    if wishes.chapters:
        margin = max(margin, book.size.safe_mm + CHAPTER_MM)
    slots = slots_of(anew)
    return plan_pages(
        photos,
        slots,
        rooms(book, margin, gap, job.lab.ppi_least),
        wishes,
        gap,
        margin,
        job.lab.ppi_least,
        sheets is None,
        job.locale,
        progress,
    )


def set_page_count(job: Job, edition: Edition, pages: int, theme: Theme | None) -> Job:
    """The job with so many pages: empty ones added before the last sheet, or sheets that no hand has touched taken away."""
    if job.book is None:
        return job
    roles_of(job.book.binding, pages)  # an even number
    now = pages_of(job)
    sheets = list(job.sheets)
    new_ids = (f"pages-{n}" for n in count(1) if f"pages-{n}" not in job.sheets_by_id)
    while now < pages:
        inner = [sheet for sheet in sheets if sheet.role != "cover"]
        last_alone = bool(inner) and inner[-1].role == "page"
        index = len(sheets) - 1 if last_alone and len(inner) > 1 else len(sheets)
        sheets.insert(index, empty_sheet(job, "spread", next(new_ids), 2, index, theme))
        now += 2
    while now > pages:
        away = [
            sheet for sheet in sheets
            if sheet.role == "spread" and not stays(job, sheet, edition)
        ]  # fmt: skip
        if not away:
            break
        sheets.remove(away[-1])
        now -= 2
    return rename_by_page(job.copy_with(sheets=tuple(sheets)))


def rename_by_page(job: Job) -> Job:
    """The job with sheets that are called by their page numbers called by those that they have now."""
    numbers = job.page_numbers

    def rename_sheet(sheet: Sheet) -> Sheet:
        first, pages = numbers[sheet.id]
        name = f"Pages {first} and {first + 1}" if pages == 2 else f"Page {first}"
        numbered = sheet.role != "cover" and _NUMBERED.match(sheet.name)
        return sheet.copy_with(name=name) if numbered and sheet.name != name else sheet

    sheets = tuple(map(rename_sheet, job.sheets))
    return job if all(a is b for a, b in zip(sheets, job.sheets, strict=True)) else job.copy_with(sheets=sheets)


def lay_out_book(
    job: Job, plan: BookPlan, theme: Theme | None, edition_id: str = "", sheets: Sequence[str] | None = None
) -> Job:
    """The job laid out as a plan says. Photos that the plan laid aside are put aside, those that went are passed over.

    Raises EditRefused when there are other pages now than the plan was made for.
    """
    book, edition = _book(job), job.edition(edition_id)
    if sheets is None:
        inner = [sheet for sheet in job.sheets if sheet.role != "cover" and stays(job, sheet, edition)]
        count = sum(2 if sheet.role == "spread" else 1 for sheet in inner)
        job = set_page_count(job, edition, count + len(plan.pages), theme)
    anew = sheets_to_lay_out(job, edition, sheets)
    slots = slots_of(anew)
    if len(slots) != len(plan.pages):
        raise EditRefused("The pages were changed meanwhile.", "Lay them out again.")
    known = job.pile.by_id
    index, turns = 0, {sheet.id: n for n, sheet in enumerate(job.sheets)}
    sheets_laid: dict[str, Sheet] = {}
    fillings: dict[str, Filling] = dict(edition.fillings)
    first = next((sheet.id for sheet in job.sheets if sheet.role != "cover"), "")
    for sheet in anew:
        pages = plan.pages[index : index + (2 if sheet.role == "spread" else 1)]
        pages = tuple(_still_there(book, page, known) for page in pages)
        side = "right" if job.page_numbers[sheet.id][0] % 2 else "left"
        opens = sheet.id == first and sheet.role == "page" and (sheets is None or TITLE_ID in sheet.layout.texts_by_id)
        laid, filling = lay_out_sheet(
            book,
            sheet,
            pages,
            known,
            plan.gap_mm,
            plan.margin_mm,
            theme,
            turns[sheet.id],
            opens,
            side,
            job.lab.ppi_least,
        )
        sheets_laid[sheet.id], fillings[sheet.id] = laid, filling
        index += len(pages)
    job = job.copy_with(sheets=tuple(sheets_laid.get(sheet.id, sheet) for sheet in job.sheets))
    job = _put_on_cover(job, plan, edition, fillings)
    aside = {entry.photo for entry in plan.aside}
    if aside:
        photos = tuple(photo.copy_with(aside=True) if photo.id in aside else photo for photo in job.photos)
        job = job.copy_with(pile=job.pile.copy_with(photos=photos))
    return job


def _still_there(book: Book, page: PagePlan, known: Mapping[str, Photo]) -> PagePlan:
    """A page's plan without photos that have gone meanwhile."""
    photos = [known[photo] for photo in page.photos if photo in known]
    if len(photos) == len(page.photos):
        return page
    return page.copy_with(photos=tuple(photo.id for photo in photos), shape=_uncropped_shape(book, photos))


def _book(job: Job) -> Book:
    if job.book is None:
        raise EditRefused("This job is no book.", "Begin a book from its first step.")
    return job.book


def _put_on_cover(job: Job, plan: BookPlan, edition: Edition, fillings: dict[str, Filling]) -> Job:
    """The job with what lies on its sheets; and the plan's photo on the front, where nobody put another."""
    cover = next((sheet for sheet in job.sheets if sheet.role == "cover"), None)
    if cover and plan.cover in job.pile.by_id:
        filling = fillings.get(cover.id, Filling())
        opening = next(iter(cover.layout.openings_by_id.values()), None)
        if (
            opening
            and not (opening.id in filling.by_hand and filling.photo_in(opening.id))
            and opening.id not in filling.pins
        ):
            photo = job.pile.by_id[plan.cover]
            fits = _limit_opening_size(opening, photo, job.lab.ppi_least)
            if fits != opening:
                layers = tuple(fits if layer.id == fits.id else layer for layer in cover.layout.layers)
                cover = cover.copy_with(layout=cover.layout.copy_with(layers=layers))
                job = job.copy_with(sheets=tuple(cover if sheet.id == cover.id else sheet for sheet in job.sheets))
            lies = first_placement(cover.layout, fits, photo)
            fillings[cover.id] = filling.copy_with(placements={**filling.placements, opening.id: lies})
    changed = edition.copy_with(fillings=fillings)
    return job.copy_with(editions=tuple(changed if entry.id == edition.id else entry for entry in job.editions))


def _limit_opening_size(opening: Opening, photo: Photo, ppi_least: float) -> Opening:
    """An opening of a photo's own, smaller about its middle where the photo would print with fewer pixels than that."""
    share = MM_PER_INCH / ppi_least / cover_scale(opening, photo, 0.0, False)
    outline = opening.outline
    if share >= 1 or not isinstance(outline, Rectangle):
        return opening
    return opening.copy_with(
        outline=outline.copy_with(
            width_mm=round_exactly(outline.width_mm * share), height_mm=round_exactly(outline.height_mm * share),
            radius_mm=round_exactly(outline.radius_mm * share),
        )
    )  # fmt: skip


def _uncropped_shape(book: Book, photos: Sequence[Photo]) -> str:
    """The best tree for the photos of a page, none of them cropped, as plans write it; "" for no photos."""
    if not photos:
        return ""
    _, _, width, height = page_room(book, "left", book.margin_mm)
    ratios = tuple(round(photo.width / photo.height, 6) for photo in photos)
    return text(Trees(book.gap_mm).rank_trees(ratios, (width, height))[0].tree)


def next_pages(job: Job, more: int) -> int:
    """How many pages a job's book has once ``more`` are added and what its lab binds is met."""
    return _book(job).binding.bindable(pages_of(job) + more)


def begin_empty_book(
    name: str,
    lab: LabSheet,
    book: Book,
    theme: Theme,
    pages: int,
    title: str = "",
    locale: str = "en_GB",
    studio: StudioCard | None = None,
) -> Job:
    """A book from nothing: so many empty pages, or the next number that can be bound, in a theme.

    Raises EditRefused when no words can be put on it as asked.
    """
    bare = Layout(width_mm=1.0, height_mm=1.0, layers=())
    job = Job(
        name=name, template=BOOK, product="album", lab=lab, sheets=(Sheet(id="cover", name="Cover", layout=bare),),
        book=book.copy_with(theme=theme.id), locale=locale, studio=studio, fields={"title": title or name}, without_samples=True,
    )  # fmt: skip
    return job.copy_with(sheets=new_sheets(job, book.binding.bindable(pages), theme))
