"""Edits of editions: another filling of the same sheets; how two differ, one thing taken over; a job begun again from one."""

from typing import Annotated, Literal, TypeVar

from pydantic import Field

from ..document import Edition, Filling, Job, Layout, Recipe
from ..document.base import Frozen
from ..errors import EditRefused
from . import lookups
from .kinds import AddEdition, RemoveEdition, RenameEdition, SetCopies, TakeOver
from .naming import Namer, count
from .table import EditRule, Table

V = TypeVar("V")
What = Literal["photo", "fit", "tone", "words", "field", "copies", "variant"]


class Difference(Frozen):
    """Where two editions differ: on which sheet and layer (``""`` for the edition as a whole, ``field`` naming what is said),
    in what, and what each shows, in words."""

    sheet: str = ""
    layer: str = ""
    field: str = ""
    what: What
    here: str = ""
    there: str = ""
    number: Annotated[int, Field(description="of an opening; 0 else")] = 0


def add_edition(job: Job, edit: AddEdition) -> Job:
    if any(edition.id == edit.id for edition in job.editions):
        raise EditRefused("There is an edition of that id already.", "Give it another.")
    if len(job.editions) >= 1000:
        raise EditRefused("A job has at most 1,000 editions.", "Begin another job.")
    like = lookups.edition(job, edit.like) if edit.like else Edition()
    return job.copy_with(editions=(*job.editions, like.copy_with(id=edit.id, name=edit.name)))


def rename_edition(job: Job, edit: RenameEdition) -> Job:
    return lookups.replace_edition(job, lookups.edition(job, edit.edition).copy_with(name=edit.name))


def remove_edition(job: Job, edit: RemoveEdition) -> Job:
    gone = lookups.edition(job, edit.edition)
    if len(job.editions) == 1:
        raise EditRefused("A job keeps at least one edition.")
    return job.copy_with(editions=tuple(edition for edition in job.editions if edition.id != gone.id))


def set_copies(job: Job, edit: SetCopies) -> Job:
    return lookups.replace_edition(job, lookups.edition(job, edit.edition).copy_with(copies=edit.copies))


def differences(job: Job, first_edition: Edition, second_edition: Edition) -> list[Difference]:
    """Where an edition differs from another, sheet by sheet, in reading order."""
    differing = list[Difference]()
    names = {photo.id: photo.name for photo in job.photos}
    if first_edition.variant != second_edition.variant:
        differing.append(Difference(what="variant", here=first_edition.variant, there=second_edition.variant))
    shared = [sheet for sheet in job.sheets_of(first_edition) if sheet in job.sheets_of(second_edition)]
    for sheet in shared:
        filling_here, filling_there, layout = (
            first_edition.filling(sheet.id),
            second_edition.filling(sheet.id),
            sheet.layout,
        )
        for opening, number in sorted(layout.numbers.items(), key=lambda entry: entry[1]):
            first, two = filling_here.photo_in(opening), filling_there.photo_in(opening)
            what: What | None = "photo" if first != two else None
            if what is None and first and _placement_of(filling_here, opening) != _placement_of(filling_there, opening):
                what = "fit"
            if (
                what is None
                and first
                and _tone(first_edition, filling_here, opening) != _tone(second_edition, filling_there, opening)
            ):
                what = "tone"
            if what:
                differing.append(
                    Difference(
                        sheet=sheet.id, layer=opening, number=number, what=what, here=names.get(first, ""),
                        there=names.get(two, ""),
                    )
                )  # fmt: skip
        for text in layout.texts_by_id:
            words = [_words(layout, filling, text) for filling in (filling_here, filling_there)]
            if words[0] != words[1] or filling_here.runs.get(text) != filling_there.runs.get(text):
                differing.append(Difference(sheet=sheet.id, layer=text, what="words", here=words[0], there=words[1]))
    for name in dict.fromkeys((*first_edition.fields, *second_edition.fields)):
        first, two = first_edition.fields.get(name, ""), second_edition.fields.get(name, "")
        if first != two:
            differing.append(Difference(field=name, what="field", here=first, there=two))
    if first_edition.copies != second_edition.copies:
        differing.append(Difference(what="copies", here=str(first_edition.copies), there=str(second_edition.copies)))
    return differing


def _placement_of(filling: Filling, opening: str) -> object:
    spanned = filling.span_of(opening)
    return (
        (spanned[1].placement, spanned[1].nudged, spanned[1].openings) if spanned else filling.placements.get(opening)
    )


def _tone(edition: Edition, filling: Filling, opening: str) -> Recipe | None:
    return filling.tones.get(opening) or edition.photo_tones.get(filling.photo_in(opening))


def _words(layout: Layout, filling: Filling, text: str) -> str:
    return filling.texts.get(text, layout.texts_by_id[text].text)


def take_over(job: Job, edit: TakeOver) -> Job:
    edition, other = lookups.edition(job, edit.edition), lookups.edition(job, edit.other)
    if edition.id == other.id:
        raise EditRefused("An edition has nothing to take over from itself.", "Choose another one.")
    if not (edit.layers or edit.fields or edit.copies):
        raise EditRefused("Say what is to be taken over.")
    fields = dict(edition.fields)
    for name in edit.fields:
        fields.pop(name, None)
        if name in other.fields:
            fields[name] = other.fields[name]
    edition = edition.copy_with(fields=fields, copies=other.copies if edit.copies else edition.copies)
    job = lookups.replace_edition(job, edition)
    if not edit.layers:
        return job
    if edit.sheet is None:
        raise EditRefused("Say which sheet the layers lie on.")
    on = lookups.find_on_sheet(job, edit.sheet, edition.id)
    filling, theirs = on.filling, other.filling(edit.sheet)
    openings = [on.opening(layer).id for layer in edit.layers if layer not in on.layout.texts_by_id]
    for text in (on.text(layer).id for layer in edit.layers if layer in on.layout.texts_by_id):
        filling = filling.copy_with(
            texts=_replace_entry(filling.texts, text, theirs.texts.get(text)),
            runs=_replace_entry(filling.runs, text, theirs.runs.get(text)),
        )
    # A photo that runs on through several openings comes, or goes, in all of them.
    spans = {k: span for k, span in theirs.spans.items() if set(span.openings) & set(openings)}
    wide = {*openings, *(opening for span in spans.values() for opening in span.openings)}
    ended = {k for k, span in filling.spans.items() if set(span.openings) & wide}
    wide |= {opening for k in ended for opening in filling.spans[k].openings}
    spans_left = {k: span for k, span in filling.spans.items() if k not in ended}
    # Its name may be another's here.
    fresh = {k if k not in spans_left else _free_name(k, {*spans_left, *spans}): span for k, span in spans.items()}
    placements, tones, hands = (
        dict(filling.placements),
        dict(filling.tones),
        [o for o in filling.by_hand if o not in wide],
    )
    for opening in wide:
        placements.pop(opening, None)
        tones.pop(opening, None)
        if (lies := theirs.placements.get(opening)) is not None:
            placements[opening] = lies
            hands += [opening] if opening in theirs.by_hand else []
        recipe = _tone(other, theirs, opening)
        if (
            theirs.photo_in(opening)
            and recipe is not None
            and recipe != edition.photo_tones.get(theirs.photo_in(opening))
        ):
            tones[opening] = recipe
    filling = filling.copy_with(spans={**spans_left, **fresh}, placements=placements, tones=tones, by_hand=tuple(hands))
    return lookups.replace_fillings(job, edition.id, {edit.sheet: filling})


def _free_name(name: str, taken: set[str]) -> str:
    return next(name_here for n in range(2, 1000) if (name_here := f"{name}-{n}") not in taken)


def _replace_entry(held: dict[str, V], key: str, value: V | None) -> dict[str, V]:
    entries = {k: v for k, v in held.items() if k != key}
    return entries if value is None else {**entries, key: value}


def remove_photos(job: Job) -> Job:
    """The same job for new photos: its editions with their words, what they say and how openings are mended; no photo, and
    nothing that was fitted or accepted."""
    editions = []
    for edition in job.editions:
        fillings = {
            sheet: Filling(texts=filling.texts, runs=filling.runs, tones=filling.tones)
            for sheet, filling in edition.fillings.items()
        }
        editions.append(edition.copy_with(fillings=fillings, photo_tones={}, listed={}))
    return job.copy_with(editions=tuple(editions), pile=type(job.pile)(), remarks=())


def _label_take_over(name: Namer, edit: TakeOver) -> str:
    things = count(len(edit.layers) + len(edit.fields) + edit.copies, "thing")
    return f"take over {things} from {name.edition(edit.other)}"


EDITS: Table = {
    AddEdition: EditRule(add_edition, lambda _, edit: f"add the edition {edit.name}"),
    RenameEdition: EditRule(rename_edition, lambda _, edit: f"rename an edition to {edit.name}"),
    RemoveEdition: EditRule(remove_edition, lambda name, edit: f"delete the edition {name.edition(edit.edition)}"),
    SetCopies: EditRule(set_copies, lambda _, edit: f"print {count(edit.copies, 'copy')}"),
    TakeOver: EditRule(take_over, _label_take_over),
}
