"""Edits of the job as a whole: what lies in openings of several sheets, lab sheet, names."""

from collections import defaultdict

from ..document import Filling, Job, Opening, Placement
from ..errors import EditRefused
from ..fitting import Choice, Wanted, choose, choose_openings, choose_round, clamp_placement, first_placement
from . import lookups
from .filling import check_unspanned
from .kinds import (
    ChooseLab,
    EnhanceAll,
    Fill,
    Lay,
    Rename,
    Swap,
)
from .naming import Namer, count
from .table import EditRule, Table


def swap(job: Job, edit: Swap) -> Job:
    spots = (edit.first, edit.second)
    if edit.first == edit.second:
        raise EditRefused("A photo cannot be swapped with itself.", "Choose two openings.")
    on = [lookups.find_on_sheet(job, spot.sheet, edit.edition) for spot in spots]
    openings = [sheet.opening(spot.opening) for sheet, spot in zip(on, spots, strict=True)]
    held = [sheet.placement_of(opening.id) for sheet, opening in zip(on, openings, strict=True)]
    for sheet, opening in zip(on, openings, strict=True):
        check_unspanned(sheet, opening)
    if not any(held):
        raise EditRefused("Both openings are empty.", "Put a photo into one of them first.")

    def move_placement(sheet: lookups.OnSheet, onto: Opening, placement: Placement | None) -> Placement | None:
        if placement is None:
            return None
        photo = sheet.photo(placement.photo)
        return clamp_placement(onto, photo, placement) if edit.keep_fit else first_placement(sheet.layout, onto, photo)

    # What was mended goes along with the photo.
    tones = [sheet.filling.tones.get(opening.id) for sheet, opening in zip(on, openings, strict=True)]
    for n, other in ((0, 1), (1, 0)):
        sheet, opening = lookups.find_on_sheet(job, spots[n].sheet, edit.edition), openings[n]
        filling = sheet.replace_placements({opening.id: move_placement(sheet, opening, held[other])}, by_hand=True)
        tones_left = {k: v for k, v in filling.tones.items() if k != opening.id}
        if (recipe := tones[other]) is not None and held[other]:
            tones_left[opening.id] = recipe
        job = lookups.replace_fillings(job, edit.edition, {spots[n].sheet: filling.copy_with(tones=tones_left)})
    return job


def choose_what_to_fill(job: Job, edit: Fill) -> Wanted:
    """The openings and photos of a filling up. Raises EditRefused when there are none."""
    lookups.edition(job, edit.edition)
    if edit.openings is not None and edit.sheet is None:
        raise EditRefused("Say which sheet the openings lie on.")
    if edit.sheet is not None:
        on = lookups.find_on_sheet(job, edit.sheet, edit.edition)
        for identity in edit.openings or ():
            on.opening(identity)
    openings = choose_openings(job, edit.edition, edit.only_empty, edit.sheet, edit.openings, edit.also_by_hand)
    if not openings.places:
        if edit.only_empty:
            raise EditRefused("No opening is empty.")
        raise EditRefused(
            "Every opening is pinned or was fitted by hand.", "Let one go, or fill anew what was fitted by hand too."
        )
    if not openings.photos:
        raise EditRefused("There is no unused photo in the pile.", "Bring photos in first.")
    return openings


def fill(job: Job, edit: Fill) -> Job:
    if job.making is not None:
        # A template in the workshop: samples go round.
        lookups.edition(job, edit.edition)
        places = choose_openings(
            job, edit.edition, edit.only_empty, edit.sheet, edit.openings, edit.also_by_hand
        ).places
        samples = [photo for photo in job.photos if not photo.aside]
        if not places or not samples:
            raise EditRefused("There is nothing to show samples in, or none to show.", "Draw an opening first.")
        return _lay_choices(job, edit.edition, choose_round(job, Wanted(places, samples), edit.edition))
    return _lay_choices(job, edit.edition, choose(job, choose_what_to_fill(job, edit), edit.edition, edit.how))


def _lay_choices(job: Job, edition: str, choices: list[Choice]) -> Job:
    by_sheet: dict[str, dict[str, Placement | None]] = defaultdict(dict)
    for choice in choices:
        by_sheet[choice.sheet][choice.opening] = choice.placement
    changed: dict[str, Filling] = {}
    for sheet, changes in by_sheet.items():
        on = lookups.find_on_sheet(job, sheet, edition)
        changed[sheet] = on.replace_placements(changes)
    return lookups.replace_fillings(job, edition, changed)


def lay(job: Job, edit: Lay) -> Job:
    edition, left_out = lookups.edition(job, edit.edition), []
    for laid in edit.laid:
        sheet, filling = job.sheets_by_id.get(laid.sheet), edition.filling(laid.sheet)
        if sheet is None or laid.opening not in sheet.layout.openings_by_id or laid.opening in filling.pins:
            continue
        gone = laid.placement is not None and laid.placement.photo not in job.pile.by_id
        if filling.photo_in(laid.opening) == laid.was and not filling.span_of(laid.opening) and not gone:
            left_out.append(Choice(laid.sheet, laid.opening, laid.was, laid.placement))
    if not left_out:
        raise EditRefused("Everything was changed meanwhile.", "Fill again.")
    return _lay_choices(job, edit.edition, left_out)


def enhance_all(job: Job, edit: EnhanceAll) -> Job:
    return job.copy_with(enhance=edit.on)


def choose_lab(job: Job, edit: ChooseLab) -> Job:
    return job.copy_with(lab=edit.lab)


def rename(job: Job, edit: Rename) -> Job:
    number = job.order_number if edit.order_number is None else edit.order_number
    return job.copy_with(name=edit.name, customer=edit.customer, order_number=number)


def _label_fill(name: Namer, edit: Fill) -> str:
    what = "the empty openings" if edit.only_empty else "all openings"
    if edit.openings and edit.sheet:
        what = name.openings(edit.sheet, *edit.openings)
    return f"fill {what}{' in order' if edit.how == 'order' else ''}"


def _label_swap(name: Namer, edit: Swap) -> str:
    return f"swap {' and '.join(name.openings(spot.sheet, spot.opening) for spot in (edit.first, edit.second))}"


EDITS: Table = {
    Swap: EditRule(swap, _label_swap),
    Fill: EditRule(fill, _label_fill),
    Lay: EditRule(lay, lambda _, edit: f"fill {count(len(edit.laid), 'opening')}"),
    EnhanceAll: EditRule(enhance_all, lambda _, edit: f"switch enhancing {'on' if edit.on else 'off'}"),
    ChooseLab: EditRule(choose_lab, lambda _, edit: f"choose {edit.lab.name}"),
    Rename: EditRule(rename, lambda _, edit: f"rename to {edit.name}"),
}
