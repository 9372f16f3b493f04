"""Edits of how words look on all sheets, and of what they name in braces."""

from collections.abc import Callable, Mapping
from typing import Any

from ..document import Group, Job, Layer, Layout, Text
from ..document.lettering import RUN_FIELDS, Run
from ..errors import EditRefused
from ..words import apply_styles, is_known
from ..words.fields import find_locale
from . import lookups
from .calendars import set_locale
from .kinds import BringFont, Say, SetStyle
from .table import EditRule, Table

MOST_STYLES, MOST_FONTS, MOST_FIELDS = 60, 20, 60


def set_style(job: Job, edit: SetStyle) -> Job:
    if edit.style is None and not any(edit.name in sheet.layout.styles for sheet in job.sheets):
        raise EditRefused(f"There is no style {edit.name}.", "It may have been taken away meanwhile.")
    if edit.style is not None:
        for sheet in job.sheets:
            colour = edit.style.colour
            if colour.startswith("swatch ") and colour[7:] not in sheet.layout.swatches:
                raise EditRefused(f"There is no swatch {colour[7:]} on {sheet.name}.", "Choose another colour.")
    after = job.copy_with(sheets=tuple(sheet.copy_with(layout=_add_style(sheet.layout, edit)) for sheet in job.sheets))
    if edit.style is not None:
        return after
    return after.copy_with(editions=tuple(_bake_style(job, edition, edit.name) for edition in after.editions))


def _add_style(layout: Layout, edit: SetStyle) -> Layout:
    if edit.style is not None:
        if edit.name not in layout.styles and len(layout.styles) >= MOST_STYLES:
            raise EditRefused(f"There are {MOST_STYLES} styles already.", "Take one away first.")
        return layout.copy_with(styles={**layout.styles, edit.name: edit.style})
    if edit.name not in layout.styles:
        return layout

    def unstyle_text(text: Text) -> Text:
        looks = apply_styles(text, {edit.name: layout.styles[edit.name]})
        gone = text.style == edit.name
        return looks.copy_with(
            style="" if gone else text.style, own=() if gone else text.own,
            runs=tuple(run.copy_with(style="") if run.style == edit.name else run for run in looks.runs),
        )  # fmt: skip

    left = {name: style for name, style in layout.styles.items() if name != edit.name}
    return layout.copy_with(layers=_texts_changed(layout.layers, unstyle_text), styles=left)


def _bake_style(job: Job, edition: Any, name: str) -> Any:
    """An edition in whose words runs of a style that goes keep its look."""
    fillings = {}
    for sheet, filling in edition.fillings.items():
        style = job.sheets_by_id[sheet].layout.styles.get(name) if sheet in job.sheets_by_id else None
        if style and any(run.style == name for runs in filling.runs.values() for run in runs):
            look: Mapping[str, Any] = {field: getattr(style, field) for field in RUN_FIELDS}

            def unstyle_run(run: Run, look: Mapping[str, Any] = look) -> Run:
                return run.copy_with(**{**look, **run.look_fields, "style": ""}) if run.style == name else run

            filling = filling.copy_with(
                runs={k: tuple(unstyle_run(run) for run in runs) for k, runs in filling.runs.items()}
            )
        fillings[sheet] = filling
    return edition.copy_with(fillings=fillings)


def _texts_changed(layers: tuple[Layer, ...], change: Callable[[Text], Text]) -> tuple[Layer, ...]:
    return tuple(
        layer.copy_with(layers=_texts_changed(layer.layers, change)) if isinstance(layer, Group)
        else change(layer) if isinstance(layer, Text)
        else layer
        for layer in layers
    )  # fmt: skip


def bring_font(job: Job, edit: BringFont) -> Job:
    if is_known(edit.name):
        raise EditRefused(f"{edit.name} is one of the families that are here already.", "Give it another name.")

    def add_font(layout: Layout) -> Layout:
        left = {name: asset for name, asset in layout.fonts.items() if name != edit.name}
        if edit.asset is not None:
            if len(left) >= MOST_FONTS:
                raise EditRefused(f"There are {MOST_FONTS} fonts of its own in it already.", "Take one away first.")
            left[edit.name] = edit.asset
        return layout.copy_with(fonts=left)

    return job.copy_with(sheets=tuple(sheet.copy_with(layout=add_font(sheet.layout)) for sheet in job.sheets))


def say(job: Job, edit: Say) -> Job:
    if edit.locale is not None:
        locale = find_locale(edit.locale)
        if not locale:
            raise EditRefused(f"{edit.locale} is no locale.", "Write one as en_GB or de_AT.")
        job = set_locale(job, locale)

    def change_fields(fields: dict[str, str]) -> dict[str, str]:
        after = {**fields, **{name: value for name, value in edit.fields.items() if value is not None}}
        left = {name: value for name, value in after.items() if edit.fields.get(name, "") is not None}
        if len(left) > MOST_FIELDS:
            raise EditRefused(f"There are {MOST_FIELDS} fields already.", "Take one away first.")
        return left

    if not edit.fields:
        return job
    if edit.of == "edition":
        edition = lookups.edition(job, edit.edition)
        return lookups.replace_edition(job, edition.copy_with(fields=change_fields(edition.fields)))
    if edit.of == "sheet":
        which = lookups.sheet(job, edit.which)
        fresh = which.copy_with(fields=change_fields(which.fields))
        return job.copy_with(sheets=tuple(fresh if sheet is which else sheet for sheet in job.sheets))
    return job.copy_with(fields=change_fields(job.fields))


EDITS: Table = {
    SetStyle: EditRule(set_style, lambda _, edit: f"{'change' if edit.style else 'delete'} the style {edit.name}"),
    BringFont: EditRule(bring_font, lambda _, edit: f"{'bring in' if edit.asset else 'remove'} the font {edit.name}"),
    Say: EditRule(say, lambda _, edit: f"set {' and '.join(edit.fields) or 'how dates are written'}"),
}
