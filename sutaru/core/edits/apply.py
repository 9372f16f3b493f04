"""Applying edits. Every function gives a new document, or raises EditRefused and changes nothing."""

from collections.abc import Callable
from typing import Any

from ..books import bound, named_by_page
from ..document import Cover, Eye, Filling, Flat, Free, Job, Layout, Template
from ..document.template import checked_sheets
from ..errors import EditRefused
from . import (
    asked,
    book,
    calendars,
    editions,
    filling,
    kinds,
    lettering,
    lists,
    pile,
    retouching,
    sheets,
    variants,
    whole,
)
from .kinds import Edit, LayoutEdit
from .layout import altered

_ON_FILLING: dict[type[Any], Callable[[asked.OnSheet, Any], Filling]] = {
    kinds.Put: filling.put, kinds.Place: filling.place, kinds.Clear: filling.clear, kinds.Pin: filling.pin,
    kinds.KeepInView: filling.keep_in_view, kinds.SpanOver: filling.span, kinds.Unspan: filling.unspan,
    kinds.Nudge: filling.nudge, kinds.Write: filling.write, kinds.MendOpening: retouching.mend_opening,
    kinds.RetouchOpening: retouching.retouch_opening,
    kinds.Accept: filling.accept, kinds.Reopen: filling.reopen,
}  # fmt: skip
_ON_JOB: dict[type[Any], Callable[[Job, Any], Job]] = {
    kinds.Swap: whole.swap, kinds.Fill: whole.fill, kinds.Lay: whole.lay, kinds.MendPhoto: retouching.mend_photo,
    kinds.RetouchPhoto: retouching.retouch_photo,
    kinds.BringIn: pile.bring_in, kinds.TakeOut: pile.take_out, kinds.Mark: pile.mark, kinds.Worked: pile.worked,
    kinds.Star: pile.star, kinds.ReplacePhotos: pile.replace_photos, kinds.PutAside: pile.put_aside,
    kinds.EnhanceAll: whole.enhance_all, kinds.ChooseLab: whole.choose_lab, kinds.Rename: whole.rename,
    kinds.AddEdition: editions.add_edition, kinds.RenameEdition: editions.rename_edition,
    kinds.RemoveEdition: editions.remove_edition, kinds.AddSheet: sheets.add, kinds.RemoveSheet: sheets.remove,
    kinds.RenameSheet: sheets.rename, kinds.MoveSheets: sheets.move, kinds.SwapSheets: sheets.swap_sheets,
    kinds.CopySheet: sheets.copy, kinds.Describe: sheets.describe,
    kinds.SetSwatch: sheets.set_swatch, kinds.SetStyle: lettering.set_style, kinds.BringFont: lettering.bring_font,
    kinds.SetCopies: editions.set_copies, kinds.MakeSet: variants.make_set, kinds.TakeOver: editions.take_over,
    kinds.ChooseVariant: variants.choose_variant,
    kinds.TakeRemarks: sheets.take_remarks, kinds.SettleRemark: sheets.settle_remark,
    kinds.SetBook: book.set_book, kinds.AddPages: book.add_pages, kinds.LayBook: book.lay_book, kinds.Dress: book.dress,
    kinds.LayGround: book.lay_ground, kinds.ChangeLayout: book.change_layout, kinds.MovePhoto: book.move_photo,
    kinds.Say: lettering.say, kinds.SetCalendar: calendars.set_calendar, kinds.TakeCard: sheets.take_card,
    kinds.TurnCard: sheets.turn_card, kinds.TakeList: lists.take_list,
}  # fmt: skip


def apply(job: Job, edit: Edit) -> Job:
    """The job after an edit. Raises EditRefused with a plain sentence, and then nothing has changed."""
    after = _applied(job, edit)
    if after.book and (after.sheets is not job.sheets or after.book is not job.book):
        after = named_by_page(bound(after))
    if after.sheets is not job.sheets:
        try:
            checked_sheets(after.sheets)
        except ValueError as error:
            raise EditRefused(str(error)) from None
    return after


def _applied(job: Job, edit: Edit) -> Job:
    if isinstance(edit, kinds.LAYOUT_EDITS):
        sheet = asked.sheet(job, edit.sheet)
        # What a filling says of a layer that is gone waits for it: no new layer may take its id.
        waiting = {identity for edition in job.editions for identity in edition.filling(sheet.id).named()}
        layout = altered(sheet.layout, edit, waiting)
        _spans_stay_flat(job, edit.sheet, layout)
        return job.having(sheets=tuple(s.having(layout=layout) if s.id == sheet.id else s for s in job.sheets))
    if isinstance(edit, kinds.FILLING_EDITS):
        on = asked.on_sheet(job, edit.sheet, edit.edition)
        changed = _ON_FILLING[type(edit)](on, edit)
        return job if changed == on.filling else asked.with_fillings(job, edit.edition, {edit.sheet: changed})
    return _ON_JOB[type(edit)](job, edit)


def apply_to_template(template: Template, edit: LayoutEdit) -> Template:
    """The template after a layout edit. Raises EditRefused."""
    found = next((sheet for sheet in template.sheets if sheet.id == edit.sheet), None)
    if found is None:
        raise EditRefused(f"There is no sheet {edit.sheet} in this template.")
    fresh = found.having(layout=altered(found.layout, edit))
    return template.having(sheets=tuple(fresh if sheet is found else sheet for sheet in template.sheets))


def _spans_stay_flat(job: Job, sheet: str, layout: Layout) -> None:
    """Raises EditRefused when an opening of a span would be slanted, bent or stretched."""
    for edition in job.editions:
        for span in edition.filling(sheet).spans.values():
            for opening in (layout.openings_by_id[o] for o in span.openings if o in layout.openings_by_id):
                if not isinstance(opening.surface, Flat) or opening.surface.distorts:
                    raise EditRefused(
                        f"A photo runs on through {opening.name or opening.id}, so it must lie flat.",
                        "End the span first.",
                    )


def label(job: Job, edit: Edit) -> str:
    """What the edit does, in a few words, for undo, redo and the history."""
    return _Labels(job).of(edit)


def _touches(edit: kinds.RetouchPhoto | kinds.RetouchOpening) -> str:
    if not edit.put:
        return f"take {_count(len(edit.gone), 'touch')} away"
    if len(edit.put) > 1:
        return f"retouch {_count(len(edit.put), 'place')}"
    touch = edit.put[0]
    if isinstance(touch, Free):
        return "let a subject stand free"
    return {"clone": "clone", "heal": "heal", "fill": "fill a place"}[touch.how] if isinstance(touch, Cover) else (
        "take a flash out of an eye" if isinstance(touch, Eye) else "change an area"
    )  # fmt: skip


class _Labels:
    def __init__(self, job: Job) -> None:
        self._job = job

    def _number(self, sheet: str, identity: str) -> str:
        found = self._job.sheets_by_id.get(sheet)
        return str(found.layout.numbers.get(identity, "an opening")) if found else "an opening"

    def _at(self, sheet: str, *identities: str) -> str:
        """Openings by number, with the sheet's name where there are several sheets."""
        numbers = ", ".join(self._number(sheet, identity) for identity in identities[:12])
        found = self._job.sheets_by_id.get(sheet)
        return f"{numbers} of {found.name}" if found and len(self._job.sheets) > 1 else numbers

    def _named(self, sheet: str, identity: str) -> str:
        found = self._job.sheets_by_id.get(sheet)
        layer = found.layout.find(identity) if found else None
        if found and identity in found.layout.openings_by_id:
            return f"opening {self._at(sheet, identity)}"
        return (layer.name if layer and layer.name else layer.kind) if layer else "a layer"

    def _layers(self, sheet: str, identities: tuple[str, ...]) -> str:
        return self._named(sheet, identities[0]) if len(identities) == 1 else _count(len(identities), "layer")

    def _sheet(self, identity: str) -> str:
        found = self._job.sheets_by_id.get(identity)
        return found.name if found else "a sheet"

    def _photo(self, identity: str) -> str:
        return asked.photo(self._job.pile, identity).name

    def of(self, edit: Edit) -> str:
        match edit:
            case kinds.AddLayers():
                kinds_of = {layer.kind for layer in edit.layers}
                return f"add {_count(len(edit.layers), kinds_of.pop() if len(kinds_of) == 1 else 'layer')}"
            case kinds.RemoveLayers():
                layers = edit.layers
                return f"take away {self._named(edit.sheet, layers[0]) if len(layers) == 1 else _count(len(layers), 'layer')}"
            case kinds.Restack():
                return f"move {self._named(edit.sheet, edit.layer)} in the stack"
            case kinds.SetFields():
                names = " and ".join(dict.fromkeys(_FIELDS.get(p.split(".")[0], p.split(".")[0]) for p in edit.fields))
                more = f" and {len(edit.layers) - 1} more" if len(edit.layers) > 1 else ""
                return f"change {names} of {self._named(edit.sheet, edit.layers[0])}{more}"
            case kinds.Put():
                return f"put a photo into {self._at(edit.sheet, edit.opening)}"
            case kinds.Place():
                return f"fit photo in {self._at(edit.sheet, edit.opening)}"
            case kinds.Clear():
                return f"clear {self._at(edit.sheet, *edit.openings)}"
            case kinds.Pin():
                return f"{'pin' if edit.pinned else 'unpin'} {self._at(edit.sheet, *edit.openings)}"
            case kinds.KeepInView():
                return f"bring into view in {self._at(edit.sheet, *edit.openings)}"
            case kinds.SpanOver():
                return f"run a photo through {self._at(edit.sheet, *edit.openings)}"
            case kinds.Unspan():
                return f"end the span of {self._at(edit.sheet, edit.opening)}"
            case kinds.Nudge():
                return f"nudge {self._at(edit.sheet, edit.opening)}"
            case kinds.Write():
                return f"write {self._named(edit.sheet, edit.layer)}"
            case kinds.MendOpening():
                return f"mend {self._at(edit.sheet, edit.opening)}"
            case kinds.RetouchOpening():
                return f"{_touches(edit)} in {self._at(edit.sheet, edit.opening)}"
            case kinds.RetouchPhoto():
                return f"{_touches(edit)} in {self._photo(edit.photo)}"
            case kinds.Accept():
                return f"accept {_count(len(edit.findings), 'finding')}"
            case kinds.Reopen():
                return f"reopen {_count(len(edit.findings), 'finding')}"
            case kinds.Swap():
                first, second = edit.first, edit.second
                return f"swap {self._at(first.sheet, first.opening)} and {self._at(second.sheet, second.opening)}"
            case kinds.Fill():
                what = "the empty openings" if edit.only_empty else "all openings"
                if edit.openings and edit.sheet:
                    what = self._at(edit.sheet, *edit.openings)
                return f"fill {what}{' in order' if edit.how == 'order' else ''}"
            case kinds.Lay():
                return f"fill {_count(len(edit.laid), 'opening')}"
            case kinds.MendPhoto():
                return f"mend {self._photo(edit.photo)}"
            case kinds.BringIn():
                return f"bring in {_count(len(edit.photos), 'photo')}"
            case kinds.TakeOut():
                return f"take out {_count(len(edit.photos), 'photo')}"
            case kinds.Mark():
                return f"mark what to keep of {self._photo(edit.photo)}"
            case kinds.Worked():
                said = "was" if edit.worked else "was not"
                return f"say that {_count(len(edit.photos), 'photo')} {said} worked on"
            case kinds.ReplacePhotos():
                whose = "another" if len(edit.photos) == 1 else "others"
                return f"put {_count(len(edit.photos), 'photo')} in the place of {whose}"
            case kinds.Star():
                return f"give {_count(edit.stars, 'star')} to {_count(len(edit.photos), 'photo')}"
            case kinds.PutAside():
                return f"put {_count(len(edit.photos), 'photo')} {'aside' if edit.aside else 'back into the pile'}"
            case kinds.EnhanceAll():
                return f"switch enhancing {'on' if edit.on else 'off'}"
            case kinds.ChooseLab():
                return f"choose {edit.lab.name}"
            case kinds.Rename():
                return f"rename to {edit.name}"
            case kinds.AddEdition():
                return f"add the edition {edit.name}"
            case kinds.RenameEdition():
                return f"name an edition {edit.name}"
            case kinds.Carry():
                what = "turn" if edit.turn_deg else "mirror" if edit.mirror else "skew" if edit.skew_deg else ""
                what = what or ("resize" if edit.scale != (1.0, 1.0) else "move")
                return f"{what} {self._layers(edit.sheet, edit.layers)}"
            case kinds.Align():
                return f"align {self._layers(edit.sheet, edit.layers)}"
            case kinds.Distribute():
                return f"distribute {self._layers(edit.sheet, edit.layers)}"
            case kinds.SameSize():
                return f"make {self._layers(edit.sheet, edit.layers)} one size"
            case kinds.Repeat():
                return f"repeat {self._layers(edit.sheet, edit.layers)}"
            case kinds.SplitOpening():
                return f"split {self._named(edit.sheet, edit.opening)}"
            case kinds.MakeOne():
                return f"make one of {self._at(edit.sheet, *edit.openings)}"
            case kinds.Become():
                what = "an opening" if edit.kind == "opening" else "a shape"
                return f"make {what} of {self._layers(edit.sheet, edit.layers)}"
            case kinds.RunAlong():
                return f"run {self._named(edit.sheet, edit.text)} along {self._named(edit.sheet, edit.of)}"
            case kinds.Gather():
                return f"group {self._layers(edit.sheet, edit.layers)}"
            case kinds.Dissolve():
                return f"take {_count(len(edit.groups), 'group')} apart"
            case kinds.TurnSheet():
                how = {"left_right": "mirror", "top_bottom": "mirror"}.get(edit.how, "turn")
                return f"{how} the sheet"
            case kinds.ResizeSheet():
                return "lay the sheet out in another size"
            case kinds.SetSheet():
                names = " and ".join(dict.fromkeys(_FIELDS.get(p.split(".")[0], p.split(".")[0]) for p in edit.fields))
                return f"change {names} of the sheet"
            case kinds.Renumber():
                return "number the openings"
            case kinds.AddSheet():
                return f"add {edit.fresh.name}"
            case kinds.RemoveSheet():
                found = self._job.sheets_by_id.get(edit.gone)
                return f"take away {found.name if found else 'a sheet'}"
            case kinds.RenameSheet():
                return f"call a sheet {edit.name}"
            case kinds.MoveSheets():
                what = self._sheet(edit.sheets[0]) if len(edit.sheets) == 1 else _count(len(edit.sheets), "sheet")
                return f"move {what}"
            case kinds.SwapSheets():
                return f"swap {self._sheet(edit.first)} and {self._sheet(edit.second)}"
            case kinds.CopySheet():
                return f"add {self._sheet(edit.which)} again"
            case kinds.SetSwatch():
                return f"{'change' if edit.colour else 'take away'} the swatch {edit.name}"
            case kinds.SetStyle():
                return f"{'change' if edit.style else 'take away'} the style {edit.name}"
            case kinds.BringFont():
                return f"{'bring in' if edit.asset else 'take away'} the font {edit.name}"
            case kinds.Say():
                return f"say {' and '.join(edit.fields) or 'how dates are written'}"
            case kinds.SetCalendar():
                told = dict.fromkeys(name for field, name in _CALENDAR.items() if getattr(edit, field) is not None)
                return f"set {' and '.join(told) or 'the calendar'}"
            case kinds.SetBook():
                return "bind the book otherwise"
            case kinds.AddPages():
                return f"add {_count(edit.count, 'page')}"
            case kinds.LayBook():
                what = "the book" if edit.sheets is None else _count(len(edit.sheets), "sheet")
                return f"lay out {what}"
            case kinds.Dress():
                return f"dress in {edit.theme.name}"
            case kinds.LayGround():
                return (
                    f"lay a ground under {'all sheets' if edit.sheets is None else _count(len(edit.sheets), 'sheet')}"
                )
            case kinds.ChangeLayout():
                return f"give {self._sheet(edit.which)} another layout"
            case kinds.MovePhoto():
                return f"move {self._photo(edit.photo)} to {self._sheet(edit.onto)}"
            case kinds.SetCopies():
                return f"print {_count(edit.copies, 'copy').replace('copys', 'copies')}"
            case kinds.TakeOver():
                other = asked.edition(self._job, edit.other).name
                return f"take {_count(len(edit.layers) + len(edit.fields) + edit.copies, 'thing')} over from {other}"
            case kinds.ChooseVariant():
                return f"another variant for {asked.edition(self._job, edit.edition).name}"
            case kinds.MakeSet():
                return f"make a set of {_count(len(edit.photos), 'photo')}"
            case kinds.TakeRemarks():
                return f"take in {_count(len(edit.remarks), 'remark')}"
            case kinds.SettleRemark():
                return "settle a remark" if edit.done else "take up a remark again"
            case kinds.TakeList():
                return f"take {_count(len(edit.table.rows), 'row')} of a list"
            case kinds.TurnCard():
                return "turn the card"
            case kinds.TakeCard():
                return "take the studio card"
            case kinds.Describe():
                return "say what the template is for"
            case _:
                return f"take away the edition {asked.edition(self._job, edit.edition).name}"


_CALENDAR = {
    "first_month": "months",
    "dates": "dates",
    "leap": "29 February",
    "country": "holidays",
    "more_holidays": "holidays",
}
_FIELDS = {
    "bleed_mm": "bleed",
    "safe_mm": "safe area",
    "columns": "grid",
    "outline": "shape",
    "surface": "place",
    "centre": "place",
    "turn_deg": "turn",
    "width_mm": "width",
    "height_mm": "height",
}


def _count(number: int, what: str) -> str:
    return f"{number} {what}{'s' if number != 1 else ''}"
