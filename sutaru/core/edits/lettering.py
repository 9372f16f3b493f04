"""Edits of how words look on all sheets, and of what they name in braces."""

from collections.abc import Callable, Mapping
from typing import Any

from ..document import Group, Job, Layer, Layout, Text
from ..document.lettering import RUN_FIELDS, Run
from ..errors import EditRefused
from ..words import known, styled
from ..words.fields import known_locale
from . import asked
from .calendars import in_locale
from .kinds import BringFont, Say, SetStyle

MOST_STYLES, MOST_FONTS, MOST_FIELDS = 60, 20, 60


def set_style(job: Job, edit: SetStyle) -> Job:
    if edit.style is None and not any(edit.name in sheet.layout.styles for sheet in job.sheets):
        raise EditRefused(f"There is no style {edit.name}.", "It may have been taken away meanwhile.")
    if edit.style is not None:
        for sheet in job.sheets:
            colour = edit.style.colour
            if colour.startswith("swatch ") and colour[7:] not in sheet.layout.swatches:
                raise EditRefused(f"There is no swatch {colour[7:]} on {sheet.name}.", "Choose another colour.")
    after = job.having(sheets=tuple(sheet.having(layout=_with_style(sheet.layout, edit)) for sheet in job.sheets))
    if edit.style is not None:
        return after
    return after.having(editions=tuple(_baked(job, edition, edit.name) for edition in after.editions))


def _with_style(layout: Layout, edit: SetStyle) -> Layout:
    if edit.style is not None:
        if edit.name not in layout.styles and len(layout.styles) >= MOST_STYLES:
            raise EditRefused(f"There are {MOST_STYLES} styles already.", "Take one away first.")
        return layout.having(styles={**layout.styles, edit.name: edit.style})
    if edit.name not in layout.styles:
        return layout

    def plain(text: Text) -> Text:
        looks = styled(text, {edit.name: layout.styles[edit.name]})
        gone = text.style == edit.name
        return looks.having(
            style="" if gone else text.style, own=() if gone else text.own,
            runs=tuple(run.having(style="") if run.style == edit.name else run for run in looks.runs),
        )  # fmt: skip

    left = {name: style for name, style in layout.styles.items() if name != edit.name}
    return layout.having(layers=_texts_changed(layout.layers, plain), styles=left)


def _baked(job: Job, edition: Any, name: str) -> Any:
    """An edition in whose words runs of a style that goes keep its look."""
    fillings = {}
    for sheet, filling in edition.fillings.items():
        style = job.sheets_by_id[sheet].layout.styles.get(name) if sheet in job.sheets_by_id else None
        if style and any(run.style == name for runs in filling.runs.values() for run in runs):
            look: Mapping[str, Any] = {field: getattr(style, field) for field in RUN_FIELDS}

            def plain(run: Run, look: Mapping[str, Any] = look) -> Run:
                return run.having(**{**look, **run.said, "style": ""}) if run.style == name else run

            filling = filling.having(runs={k: tuple(plain(run) for run in runs) for k, runs in filling.runs.items()})
        fillings[sheet] = filling
    return edition.having(fillings=fillings)


def _texts_changed(layers: tuple[Layer, ...], change: Callable[[Text], Text]) -> tuple[Layer, ...]:
    return tuple(
        layer.having(layers=_texts_changed(layer.layers, change)) if isinstance(layer, Group)
        else change(layer) if isinstance(layer, Text)
        else layer
        for layer in layers
    )  # fmt: skip


def bring_font(job: Job, edit: BringFont) -> Job:
    if known(edit.name):
        raise EditRefused(f"{edit.name} is one of the families that are here already.", "Give it another name.")

    def brought(layout: Layout) -> Layout:
        left = {name: asset for name, asset in layout.fonts.items() if name != edit.name}
        if edit.asset is not None:
            if len(left) >= MOST_FONTS:
                raise EditRefused(f"There are {MOST_FONTS} fonts of its own in it already.", "Take one away first.")
            left[edit.name] = edit.asset
        return layout.having(fonts=left)

    return job.having(sheets=tuple(sheet.having(layout=brought(sheet.layout)) for sheet in job.sheets))


def say(job: Job, edit: Say) -> Job:
    if edit.locale is not None:
        locale = known_locale(edit.locale)
        if not locale:
            raise EditRefused(f"{edit.locale} is no locale.", "Write one as en_GB or de_AT.")
        job = in_locale(job, locale)

    def told(fields: dict[str, str]) -> dict[str, str]:
        after = {**fields, **{name: value for name, value in edit.fields.items() if value is not None}}
        left = {name: value for name, value in after.items() if edit.fields.get(name, "") is not None}
        if len(left) > MOST_FIELDS:
            raise EditRefused(f"There are {MOST_FIELDS} fields already.", "Take one away first.")
        return left

    if not edit.fields:
        return job
    if edit.of == "edition":
        own = asked.edition(job, edit.edition)
        return asked.with_edition(job, own.having(fields=told(own.fields)))
    if edit.of == "sheet":
        which = asked.sheet(job, edit.which)
        fresh = which.having(fields=told(which.fields))
        return job.having(sheets=tuple(fresh if sheet is which else sheet for sheet in job.sheets))
    return job.having(fields=told(job.fields))
