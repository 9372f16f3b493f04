"""Edits of a book: how it is bound and dressed, its pages, and how they are laid out."""

from collections.abc import Callable

from ..books.binding import pages_of
from ..books.book import lay_out_book, next_pages
from ..books.dressing import dress_sheets, replace_ground
from ..books.layout_suggestions import move_photos_along, openings_on_page
from ..books.page_layouts import empty_sheet
from ..books.recomposing import choose_design, chosen_design, lay_design
from ..books.sheet_rooms import read_sheet
from ..document import Book, Job
from ..errors import EditRefused
from . import lookups
from .kinds import AddPages, ChangeLayout, ComposeSheet, Dress, LayBook, LayGround, MovePhoto, SetBook
from .naming import Namer, count
from .table import EditRule, Table


def _book(job: Job) -> Book:
    if job.book is None:
        raise EditRefused("This job is no book.", "Begin a book from its first step.")
    return job.book


def set_book(job: Job, edit: SetBook) -> Job:
    book = _book(job)
    binding = edit.binding or book.binding
    if (binding.kind == "lay_flat") != (book.binding.kind == "lay_flat"):
        raise EditRefused(
            "A lay-flat book has spreads only, a bound one begins and ends with a page alone.",
            "Begin another book to change from one to the other.",
        )
    return job.copy_with(book=book.copy_with(paper=edit.paper or book.paper, binding=binding))


def add_pages(job: Job, edit: AddPages) -> Job:
    _book(job)
    more = next_pages(job, edit.count) - pages_of(job)
    if more < edit.count:
        most = _book(job).binding.most
        raise EditRefused(f"This binding takes no more than {most} pages.", "Choose another binding, or add fewer.")
    inner = [n for n, sheet in enumerate(job.sheets) if sheet.role != "cover"]
    if edit.after:
        index = job.sheets.index(lookups.sheet(job, edit.after)) + 1
    elif edit.where == "middle":
        index = inner[len(inner) // 2]
    else:
        index = len(job.sheets) - (1 if job.sheets[-1].role == "page" and len(inner) > 1 else 0)
    fresh, taken = [], set(job.sheets_by_id)
    for n in range(more // 2):
        identity = next(name for k in range(1, 2001) if (name := f"pages-{k}") not in taken)
        taken.add(identity)
        fresh.append(empty_sheet(job, "spread", identity, 2, index + n, edit.theme))
    return job.copy_with(sheets=(*job.sheets[:index], *fresh, *job.sheets[index:]))


def lay_book(job: Job, edit: LayBook) -> Job:
    book = _book(job)
    lookups.edition(job, edit.edition)
    for sheet in edit.sheets or ():
        lookups.sheet(job, sheet)
    job = lay_out_book(job, edit.plan, edit.theme, edit.edition, edit.sheets)
    if edit.sheets is not None:
        return job
    theme = edit.theme.id if edit.theme else book.theme
    return job.copy_with(
        book=book.copy_with(
            theme=theme,
            gap_mm=edit.plan.gap_mm,
            margin_mm=edit.plan.margin_mm,
            cropping=edit.plan.cropping,
            chapters=any(page.chapter for page in edit.plan.pages),
        )
    )


def dress(job: Job, edit: Dress) -> Job:
    job = job.copy_with(sheets=dress_sheets(job.sheets, edit.theme))
    return job.copy_with(book=job.book.copy_with(theme=edit.theme.id)) if job.book else job


def lay_ground(job: Job, edit: LayGround) -> Job:
    ground_layers = (
        {lookups.sheet(job, sheet).id for sheet in edit.sheets} if edit.sheets is not None else job.sheets_by_id.keys()
    )
    for sheet in job.sheets:
        missing = {edit.ground.colour} - sheet.layout.named_colours.keys() if edit.ground.colour[0] != "#" else set()
        if sheet.id in ground_layers and missing:
            raise EditRefused(f"There is no {missing.pop()} on {sheet.name}.", "Add it, or choose another colour.")
    return job.copy_with(
        sheets=tuple(
            sheet.copy_with(layout=replace_ground(sheet.layout, edit.ground)) if sheet.id in ground_layers else sheet
            for sheet in job.sheets
        )
    )


def change_layout(job: Job, edit: ChangeLayout) -> Job:
    sheet, layout = lookups.sheet(job, edit.which), edit.layout
    now = sheet.layout
    if abs(layout.width_mm - now.width_mm) > 0.01 or abs(layout.height_mm - now.height_mm) > 0.01:
        raise EditRefused("This layout is of another size.", "Choose one of this sheet's size.")
    editions = tuple(
        edition.copy_with(fillings={**edition.fillings, sheet.id: move_photos_along(job, sheet, layout, filling)})
        if (filling := edition.fillings.get(sheet.id)) else edition
        for edition in job.editions
    )  # fmt: skip
    sheets = tuple(entry.copy_with(layout=layout) if entry is sheet else entry for entry in job.sheets)
    return job.copy_with(sheets=sheets, editions=editions)


def compose_sheet(job: Job, edit: ComposeSheet) -> Job:
    sheet, edition = lookups.sheet(job, edit.sheet), lookups.edition(job, edit.edition)
    now = read_sheet(job, sheet, edition.filling(sheet.id))
    if edit.pages is not None:
        return lay_design(job, sheet, edition, now, chosen_design(now, edit.pages))
    empty = len(now.openings) - len(now.photos)
    if empty and not job.book:  # they are there to be filled; in a book there are as many as there are photos
        raise EditRefused(
            f"{count(empty, 'opening')} on this sheet {'is' if empty == 1 else 'are'} empty.",
            "Fill them first, or choose a layout for the photos there are.",
        )
    if edit.how in ("larger", "smaller") and edit.photo not in now.page_of:
        raise EditRefused("This photo does not lie on this sheet, or stays as it is.", "Choose another one.")
    missing = set(edit.remove) - now.page_of.keys()
    if missing:
        raise EditRefused(
            "This photo does not lie on this sheet, or stays as it is.", "Look at the sheet as it is now."
        )
    add = [lookups.photo(job.pile, photo) for photo in dict.fromkeys(edit.add)]
    if add and all(photo.id in now.page_of and photo.id not in edit.remove for photo in add):
        raise EditRefused("It lies on this sheet already.", "Add another photo.")
    if not now.page_of and not add:
        raise EditRefused("There is no photo on this sheet.", "Put photos on it first.")
    design = choose_design(now, edit.how, edit.photo, add, edit.remove, edit.page)
    return lay_design(job, sheet, edition, now, design)


def move_photo(job: Job, edit: MovePhoto) -> Job:
    _book(job)
    source, target = lookups.sheet(job, edit.whence), lookups.sheet(job, edit.onto)
    for sheet in (source, target):
        if sheet.role not in ("page", "spread"):
            raise EditRefused("Only the pages inside a book are laid out anew.", "Exchange photos on the bench.")
    edition = lookups.edition(job, edit.edition)
    page = edit.page if target.role == "spread" else 0
    filling = edition.filling(source.id)
    index = next((n for n in (0, 1) for _, held in openings_on_page(source, filling, n) if held == edit.photo), None)
    if index is None:
        raise EditRefused("This photo lies there no more.", "Look at the page as it is now.")
    if (source.id, index) == (target.id, page):
        raise EditRefused("The photo lies on this page already.", "Drop it on another one.")
    here = source.id == target.id
    without = ComposeSheet(edition=edit.edition, sheet=source.id, remove=(edit.photo,))
    with_it = ComposeSheet(
        edition=edit.edition, sheet=target.id, add=(edit.photo,), remove=(edit.photo,) if here else (), page=page
    )
    return compose_sheet(job if here else compose_sheet(job, without), with_it)


_COMPOSED = {
    "anew": "compose", "larger": "make a photo larger on", "smaller": "make a photo smaller on",
    "more_white_space": "give more white space to", "less_white_space": "give less white space to", "mirror": "mirror",
}  # fmt: skip


def _label_composed(name: Namer, edit: ComposeSheet) -> str:
    sheet = name.sheet(edit.sheet)
    if edit.add:
        return f"add {count(len(edit.add), 'photo')} to {sheet}"
    if edit.remove:
        return f"take {count(len(edit.remove), 'photo')} off {sheet}"
    return f"change the layout of {sheet}" if edit.pages else f"{_COMPOSED[edit.how]} {sheet}"


def _label_sheets(what: str, all_of_them: str) -> Callable[[Namer, LayBook | LayGround], str]:
    return lambda _, edit: f"{what} {all_of_them if edit.sheets is None else count(len(edit.sheets), 'sheet')}"


EDITS: Table = {
    SetBook: EditRule(set_book, lambda *_: "change the binding"),
    AddPages: EditRule(add_pages, lambda _, edit: f"add {count(edit.count, 'page')}"),
    LayBook: EditRule(lay_book, _label_sheets("lay out", "the book")),
    Dress: EditRule(dress, lambda _, edit: f"apply the theme {edit.theme.name}"),
    LayGround: EditRule(lay_ground, _label_sheets("change the background of", "all sheets")),
    ChangeLayout: EditRule(change_layout, lambda name, edit: f"change the layout of {name.sheet(edit.which)}"),
    ComposeSheet: EditRule(compose_sheet, _label_composed),
    MovePhoto: EditRule(move_photo, lambda name, edit: f"move {name.photo(edit.photo)} to {name.sheet(edit.onto)}"),
}
