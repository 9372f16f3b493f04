"""Edits of the pages themselves: openings, echoes, words; and of the job as a whole."""

from pydantic import ValidationError

from ..document import Echo, Job, Layer, Page
from ..errors import EditRefused
from ..fitting import clamped, lies_flat
from . import asked
from .kinds import Alter, ChooseLab, EchoTo, RemoveEcho, Rename, Write


def _with_layers(job: Job, page: Page, layers: list[Layer]) -> Job:
    try:
        fresh = Page.model_validate(page.having(layers=tuple(layers)).model_dump())
    except ValidationError as error:
        raise EditRefused(error.errors()[0]["msg"].removeprefix("Value error, ")) from None
    return job.having(pages=tuple(fresh if entry.id == page.id else entry for entry in job.pages))


def alter(job: Job, edit: Alter) -> Job:
    before = asked.opening(job, edit.layer.id)
    page = asked.page(job, before.id)
    if job.span_of(before.id):
        lies_flat(edit.layer)
    layers = tuple(edit.layer if layer.id == before.id else layer for layer in page.layers)
    altered = job.having(
        pages=tuple(page.having(layers=layers) if entry.id == page.id else entry for entry in job.pages)
    )
    held = job.edition.placements.get(before.id)
    if held is None or edit.layer.outline == before.outline:
        return altered
    return asked.placed(altered, {before.id: clamped(edit.layer, asked.photo(job, held.photo), held)})


def echo(job: Job, edit: EchoTo) -> Job:
    source = asked.opening(job, edit.layer.of)
    page = asked.page(job, source.id)
    layers = list(page.layers)
    taken = {layer.id: layer for entry in job.pages for layer in entry.layers}.get(edit.layer.id)
    if taken is None:
        at = next(n for n, layer in enumerate(layers) if layer.id == source.id)
        layers.insert(at, edit.layer)
    elif isinstance(taken, Echo) and taken in layers:
        layers[layers.index(taken)] = edit.layer
    else:
        raise EditRefused(f"There is already something called {edit.layer.id}.", "Give the echo another id.")
    return _with_layers(job, page, layers)


def remove_echo(job: Job, edit: RemoveEcho) -> Job:
    for page in job.pages:
        for layer in page.layers:
            if layer.id == edit.echo and isinstance(layer, Echo):
                return _with_layers(job, page, [entry for entry in page.layers if entry is not layer])
    raise EditRefused(f"There is no echo {edit.echo} in this job.")


def write(job: Job, edit: Write) -> Job:
    layer = asked.text(job, edit.layer)
    texts = {k: v for k, v in job.edition.texts.items() if k != layer.id}
    if edit.text is not None:
        texts[layer.id] = edit.text
    return asked.edition(job, texts=texts)


def choose_lab(job: Job, edit: ChooseLab) -> Job:
    return job.having(lab=edit.lab)


def rename(job: Job, edit: Rename) -> Job:
    return job.having(name=edit.name, customer=edit.customer)
