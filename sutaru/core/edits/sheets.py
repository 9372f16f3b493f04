"""Edits of which sheets there are, and of what a template in the workshop is for."""

import math
from collections.abc import Sequence

from ..cards import CARD, is_suited, rotate_card
from ..document import Edition, Job, Layout, Sheet, Template
from ..document.studio import resolve_colours
from ..errors import EditRefused
from . import lookups
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
from .naming import count
from .table import EditRule, Table

MOST, MOST_SWATCHES, MOST_REMARKS = 1000, 60, 2000


def add(job: Job, edit: AddSheet) -> Job:
    if edit.fresh.id in job.sheets_by_id:
        raise EditRefused(f"There is a sheet {edit.fresh.id} already.", "Give this one its own id.")
    if len(job.sheets) >= MOST:
        raise EditRefused(f"There are {MOST} sheets already.", "Begin another job.")
    index = job.sheets.index(lookups.sheet(job, edit.after)) + 1 if edit.after else len(job.sheets)
    return job.copy_with(sheets=(*job.sheets[:index], edit.fresh, *job.sheets[index:]))


def remove(job: Job, edit: RemoveSheet) -> Job:
    gone = lookups.sheet(job, edit.gone)
    if len(job.sheets) == 1:
        raise EditRefused("This is the only sheet.", "Add another one first.")
    return job.copy_with(sheets=tuple(sheet for sheet in job.sheets if sheet is not gone))


def rename(job: Job, edit: RenameSheet) -> Job:
    before = lookups.sheet(job, edit.which)
    after: Sheet = before.copy_with(name=edit.name, role=edit.role or before.role)
    return job.copy_with(sheets=tuple(after if sheet is before else sheet for sheet in job.sheets))


def move(job: Job, edit: MoveSheets) -> Job:
    sheets_moved = {lookups.sheet(job, identity).id for identity in edit.sheets}
    if edit.before in sheets_moved:
        raise EditRefused("Sheets cannot be moved before themselves.", "Choose another place.")
    moved = [sheet for sheet in job.sheets if sheet.id in sheets_moved]
    rest = [sheet for sheet in job.sheets if sheet.id not in sheets_moved]
    index = rest.index(lookups.sheet(job, edit.before)) if edit.before else len(rest)
    return job.copy_with(sheets=(*rest[:index], *moved, *rest[index:]))


def swap_sheets(job: Job, edit: SwapSheets) -> Job:
    first, second = lookups.sheet(job, edit.first), lookups.sheet(job, edit.second)
    if first is second:
        raise EditRefused("A sheet cannot be swapped with itself.", "Choose two sheets.")
    places = {first.id: second, second.id: first}
    return job.copy_with(sheets=tuple(places.get(sheet.id, sheet) for sheet in job.sheets))


def copy(job: Job, edit: CopySheet) -> Job:
    like = lookups.sheet(job, edit.which)
    job = add(job, AddSheet(fresh=like.copy_with(id=edit.fresh, name=_free_name(job, like.name)), after=like.id))
    if not edit.with_photos:
        return job
    return job.copy_with(
        editions=tuple(
            edition.copy_with(fillings={**edition.fillings, edit.fresh: edition.fillings[like.id]})
            if like.id in edition.fillings else edition
            for edition in job.editions
        )
    )  # fmt: skip


def _free_name(job: Job, name: str) -> str:
    """A name like another one that no sheet has."""
    taken = {sheet.name for sheet in job.sheets}
    stem = (name.rstrip("0123456789").strip() or name)[:110]
    return next(free for n in range(2, MOST + 2) if (free := f"{stem} {n}") not in taken)


def describe(job: Job, edit: Describe) -> Job:
    if job.making is None:
        raise EditRefused("This is an order, not a template in the workshop.", "Keep its sheets as a template first.")
    fields = {k: getattr(edit, k) for k in ("occasion", "tags", "note") if getattr(edit, k) is not None}
    return job.copy_with(product=edit.product or job.product, making=job.making.copy_with(**fields))


def set_swatch(job: Job, edit: SetSwatch) -> Job:
    if edit.colour is None and not any(edit.name in sheet.layout.swatches for sheet in job.sheets):
        raise EditRefused(f"There is no swatch {edit.name}.", "It may have been taken away meanwhile.")
    after = job.copy_with(sheets=tuple(sheet.copy_with(layout=_add_swatch(sheet.layout, edit)) for sheet in job.sheets))
    return (
        after
        if edit.colour is not None
        else after.copy_with(editions=tuple(_keep_colours(job, e, edit.name) for e in job.editions))
    )


def _keep_colours(job: Job, edition: Edition, swatch: str) -> Edition:
    """An edition in whose words what was painted with a swatch that goes keeps its colour."""
    fillings = {}
    for sheet, filling in edition.fillings.items():
        colour = job.sheets_by_id[sheet].layout.swatches.get(swatch) if sheet in job.sheets_by_id else None
        was = {f"swatch {swatch}": colour} if colour else {}
        runs = (
            {layer: resolve_colours(run_list, was) for layer, run_list in filling.runs.items()} if was else filling.runs
        )
        fillings[sheet] = filling if runs == filling.runs else filling.copy_with(runs=runs)
    return edition.copy_with(fillings=fillings)


def _add_swatch(layout: Layout, edit: SetSwatch) -> Layout:
    if edit.colour is not None:
        if edit.name not in layout.swatches and len(layout.swatches) >= MOST_SWATCHES:
            raise EditRefused(f"There are {MOST_SWATCHES} swatches already.", "Take one away first.")
        if layout.swatches.get(edit.name) == edit.colour:
            return layout
        return layout.copy_with(swatches={**layout.swatches, edit.name: edit.colour})
    if edit.name not in layout.swatches:
        return layout
    was = {f"swatch {edit.name}": layout.swatches[edit.name]}
    left = {name: colour for name, colour in layout.swatches.items() if name != edit.name}
    styles = {name: resolve_colours(style, was) for name, style in layout.styles.items()}
    return layout.copy_with(layers=resolve_colours(layout.layers, was), swatches=left, styles=styles)


def choose_by_first_photo(job: Job, templates: Sequence[Template]) -> Job:
    """A job that waits for its first photo, on the variant whose largest opening is shaped most like that photo. One that was
    worked on meanwhile stays as it is."""
    if not job.variants or not job.photos:
        return job
    job, first = job.copy_with(variants=()), job.photos[0]
    if job.template == CARD:
        return job if is_suited(job, first) or any(edition.fillings for edition in job.editions) else rotate_card(job)
    began = next((template for template in templates if template.id == job.template), None)
    if began is None or began.sheets != job.sheets or any(edition.fillings for edition in job.editions):
        return job

    def shape_distance(template: Template) -> float:
        largest = max(template.walk_openings(), key=lambda opening: opening.outline.area_mm2, default=None)
        shape = largest.outline.width_mm / largest.outline.height_mm if largest else 1.0
        return abs(math.log(shape * first.height / first.width))

    best = min(templates, key=shape_distance)
    return job.copy_with(template=best.id, revision=best.revision, sheets=best.sheets)


def turn_card(job: Job, edit: TurnCard) -> Job:
    return rotate_card(job)


def take_card(job: Job, edit: TakeCard) -> Job:
    return job.copy_with(studio=edit.card)


def take_remarks(job: Job, edit: TakeRemarks) -> Job:
    known = {remark.id for remark in job.remarks}
    fresh = tuple(remark for remark in edit.remarks if remark.id not in known)
    if not fresh:
        raise EditRefused("These remarks are here already.", "Look at them on the flat plan.")
    if len(job.remarks) + len(fresh) > MOST_REMARKS:
        raise EditRefused(f"A job takes at most {MOST_REMARKS:,} remarks.", "Begin another job.")
    return job.copy_with(remarks=(*job.remarks, *fresh))


def settle_remark(job: Job, edit: SettleRemark) -> Job:
    if all(remark.id != edit.remark for remark in job.remarks):
        raise EditRefused("This remark was not found.", "It may have been taken back meanwhile.")
    return job.copy_with(
        remarks=tuple(
            remark.copy_with(done=edit.done) if remark.id == edit.remark else remark for remark in job.remarks
        )
    )


EDITS: Table = {
    AddSheet: EditRule(add, lambda _, edit: f"add {edit.fresh.name}"),
    RemoveSheet: EditRule(remove, lambda name, edit: f"delete {name.sheet(edit.gone)}"),
    RenameSheet: EditRule(rename, lambda _, edit: f"rename a sheet to {edit.name}"),
    MoveSheets: EditRule(move, lambda name, edit: f"move {name.sheets(edit.sheets)}"),
    SwapSheets: EditRule(
        swap_sheets, lambda name, edit: f"swap {name.sheet(edit.first)} and {name.sheet(edit.second)}"
    ),
    CopySheet: EditRule(copy, lambda name, edit: f"duplicate {name.sheet(edit.which)}"),
    Describe: EditRule(describe, lambda *_: "describe the template"),
    SetSwatch: EditRule(set_swatch, lambda _, edit: f"{'change' if edit.colour else 'delete'} the swatch {edit.name}"),
    TakeRemarks: EditRule(take_remarks, lambda _, edit: f"read in {count(len(edit.remarks), 'remark')}"),
    SettleRemark: EditRule(settle_remark, lambda _, edit: "settle a remark" if edit.done else "reopen a remark"),
    TakeCard: EditRule(take_card, lambda *_: "update the studio card"),
    TurnCard: EditRule(turn_card, lambda *_: "turn the card"),
}
