"""Edits of which sheets there are, and of what a template in the workshop is for."""

import math
from collections.abc import Sequence

from ..cards import CARD, suits, turned_card
from ..document import Edition, Job, Layout, Sheet, Template
from ..document.studio import in_colours
from ..errors import EditRefused
from . import asked
from .kinds import (
    AddSheet,
    CopySheet,
    Describe,
    MoveSheets,
    RemoveSheet,
    RenameSheet,
    SetSwatch,
    SettleRemark,
    SwapSheets,
    TakeCard,
    TakeRemarks,
    TurnCard,
)

MOST, MOST_SWATCHES, MOST_REMARKS = 1000, 60, 2000


def add(job: Job, edit: AddSheet) -> Job:
    if edit.fresh.id in job.sheets_by_id:
        raise EditRefused(f"There is a sheet {edit.fresh.id} already.", "Give this one its own id.")
    if len(job.sheets) >= MOST:
        raise EditRefused(f"There are {MOST} sheets already.", "Begin another job.")
    at = job.sheets.index(asked.sheet(job, edit.after)) + 1 if edit.after else len(job.sheets)
    return job.having(sheets=(*job.sheets[:at], edit.fresh, *job.sheets[at:]))


def remove(job: Job, edit: RemoveSheet) -> Job:
    gone = asked.sheet(job, edit.gone)
    if len(job.sheets) == 1:
        raise EditRefused("This is the only sheet.", "Add another one first.")
    return job.having(sheets=tuple(sheet for sheet in job.sheets if sheet is not gone))


def rename(job: Job, edit: RenameSheet) -> Job:
    before = asked.sheet(job, edit.which)
    after: Sheet = before.having(name=edit.name, role=edit.role or before.role)
    return job.having(sheets=tuple(after if sheet is before else sheet for sheet in job.sheets))


def move(job: Job, edit: MoveSheets) -> Job:
    meant = {asked.sheet(job, identity).id for identity in edit.sheets}
    if edit.before in meant:
        raise EditRefused("Sheets cannot be moved before themselves.", "Choose another place.")
    moved = [sheet for sheet in job.sheets if sheet.id in meant]
    rest = [sheet for sheet in job.sheets if sheet.id not in meant]
    at = rest.index(asked.sheet(job, edit.before)) if edit.before else len(rest)
    return job.having(sheets=(*rest[:at], *moved, *rest[at:]))


def swap_sheets(job: Job, edit: SwapSheets) -> Job:
    first, second = asked.sheet(job, edit.first), asked.sheet(job, edit.second)
    if first is second:
        raise EditRefused("A sheet cannot be swapped with itself.", "Choose two sheets.")
    places = {first.id: second, second.id: first}
    return job.having(sheets=tuple(places.get(sheet.id, sheet) for sheet in job.sheets))


def copy(job: Job, edit: CopySheet) -> Job:
    like = asked.sheet(job, edit.which)
    job = add(job, AddSheet(fresh=like.having(id=edit.fresh, name=_free(job, like.name)), after=like.id))
    if not edit.with_photos:
        return job
    return job.having(
        editions=tuple(
            edition.having(fillings={**edition.fillings, edit.fresh: edition.fillings[like.id]})
            if like.id in edition.fillings else edition
            for edition in job.editions
        )
    )  # fmt: skip


def _free(job: Job, name: str) -> str:
    """A name like another one that no sheet has."""
    taken = {sheet.name for sheet in job.sheets}
    stem = (name.rstrip("0123456789").strip() or name)[:110]
    return next(found for n in range(2, MOST + 2) if (found := f"{stem} {n}") not in taken)


def describe(job: Job, edit: Describe) -> Job:
    if job.making is None:
        raise EditRefused("This is an order, not a template in the workshop.", "Keep its sheets as a template first.")
    said = {k: getattr(edit, k) for k in ("occasion", "tags", "note") if getattr(edit, k) is not None}
    return job.having(product=edit.product or job.product, making=job.making.having(**said))


def set_swatch(job: Job, edit: SetSwatch) -> Job:
    if edit.colour is None and not any(edit.name in sheet.layout.swatches for sheet in job.sheets):
        raise EditRefused(f"There is no swatch {edit.name}.", "It may have been taken away meanwhile.")
    after = job.having(sheets=tuple(sheet.having(layout=_with_swatch(sheet.layout, edit)) for sheet in job.sheets))
    return (
        after
        if edit.colour is not None
        else after.having(editions=tuple(_kept(job, e, edit.name) for e in job.editions))
    )


def _kept(job: Job, edition: Edition, swatch: str) -> Edition:
    """An edition in whose words what was painted with a swatch that goes keeps its colour."""
    fillings = {}
    for sheet, filling in edition.fillings.items():
        colour = job.sheets_by_id[sheet].layout.swatches.get(swatch) if sheet in job.sheets_by_id else None
        was = {f"swatch {swatch}": colour} if colour else {}
        runs = {layer: in_colours(own, was) for layer, own in filling.runs.items()} if was else filling.runs
        fillings[sheet] = filling if runs == filling.runs else filling.having(runs=runs)
    return edition.having(fillings=fillings)


def _with_swatch(layout: Layout, edit: SetSwatch) -> Layout:
    if edit.colour is not None:
        if edit.name not in layout.swatches and len(layout.swatches) >= MOST_SWATCHES:
            raise EditRefused(f"There are {MOST_SWATCHES} swatches already.", "Take one away first.")
        if layout.swatches.get(edit.name) == edit.colour:
            return layout
        return layout.having(swatches={**layout.swatches, edit.name: edit.colour})
    if edit.name not in layout.swatches:
        return layout
    was = {f"swatch {edit.name}": layout.swatches[edit.name]}
    left = {name: colour for name, colour in layout.swatches.items() if name != edit.name}
    styles = {name: in_colours(style, was) for name, style in layout.styles.items()}
    return layout.having(layers=in_colours(layout.layers, was), swatches=left, styles=styles)


def by_first_photo(job: Job, templates: Sequence[Template]) -> Job:
    """A job that waits for its first photo, on the variant whose largest opening is shaped most like that photo. One that was
    worked on meanwhile stays as it is."""
    if not job.variants or not job.photos:
        return job
    job, first = job.having(variants=()), job.photos[0]
    if job.template == CARD:
        return job if suits(job, first) or any(edition.fillings for edition in job.editions) else turned_card(job)
    began = next((template for template in templates if template.id == job.template), None)
    if began is None or began.sheets != job.sheets or any(edition.fillings for edition in job.editions):
        return job

    def unlike(template: Template) -> float:
        largest = max(template.all_openings(), key=lambda opening: opening.outline.area_mm2, default=None)
        shape = largest.outline.width_mm / largest.outline.height_mm if largest else 1.0
        return abs(math.log(shape * first.height / first.width))

    best = min(templates, key=unlike)
    return job.having(template=best.id, revision=best.revision, sheets=best.sheets)


def turn_card(job: Job, edit: TurnCard) -> Job:
    return turned_card(job)


def take_card(job: Job, edit: TakeCard) -> Job:
    return job.having(studio=edit.card)


def take_remarks(job: Job, edit: TakeRemarks) -> Job:
    known = {remark.id for remark in job.remarks}
    fresh = tuple(remark for remark in edit.remarks if remark.id not in known)
    if not fresh:
        raise EditRefused("These remarks are here already.", "Look at them on the flat plan.")
    if len(job.remarks) + len(fresh) > MOST_REMARKS:
        raise EditRefused(f"A job takes at most {MOST_REMARKS:,} remarks.", "Begin another job.")
    return job.having(remarks=(*job.remarks, *fresh))


def settle_remark(job: Job, edit: SettleRemark) -> Job:
    if all(remark.id != edit.remark for remark in job.remarks):
        raise EditRefused("There is no such remark.", "It may have been taken back meanwhile.")
    return job.having(
        remarks=tuple(one.having(done=edit.done) if one.id == edit.remark else one for one in job.remarks)
    )
