"""What an edit asks for, looked up. Refused with a plain sentence when it is not there, or not as the edit expects it."""

from collections.abc import Mapping
from dataclasses import dataclass

from ..document import Edition, Filling, Job, Layout, Opening, Photo, Pile, Placement, Recipe, Sheet, Text
from ..errors import EditRefused
from ..fitting import clamp_placement


@dataclass(frozen=True)
class OnSheet:
    """One sheet in one edition: what a filling edit sees of a job."""

    sheet: Sheet
    filling: Filling
    pile: Pile

    @property
    def layout(self) -> Layout:
        """The sheet's layout."""
        return self.sheet.layout

    def opening(self, identity: str) -> Opening:
        """An opening whose content may be changed."""
        opening = self.layout.openings_by_id.get(identity)
        if opening is None:
            raise EditRefused(f"There is no opening {identity} on this sheet.", "Choose one of the ledger's.")
        if opening.content_locked:
            raise EditRefused(f"The opening {opening.name or identity} is locked by its template.")
        return opening

    def check_photo(self, identity: str, photo: str | None) -> None:
        """Raises EditRefused unless the opening holds the photo expected ("" for none; None for any)."""
        if photo is not None and self.filling.photo_in(identity) != photo:
            raise EditRefused(
                f"Opening {self.number(identity)} holds another photo now.", "Look at it as it is, and try again."
            )

    def number(self, identity: str) -> int:
        """The opening's number on its sheet."""
        return self.layout.numbers[identity]

    def photo(self, identity: str) -> Photo:
        """A photo of the pile."""
        return photo(self.pile, identity)

    def text(self, identity: str) -> Text:
        """A text layer."""
        if identity not in self.layout.texts_by_id:
            raise EditRefused(f"There is no text {identity} on this sheet.")
        return self.layout.texts_by_id[identity]

    def replace_placements(self, changes: dict[str, Placement | None], by_hand: bool = False) -> Filling:
        """The filling with some placements changed, by a person's hand or not; None empties."""
        placements = {**self.filling.placements, **{k: v for k, v in changes.items() if v}}
        for identity in (k for k, v in changes.items() if v is None):
            placements.pop(identity, None)
        shown = {k: v.photo if v else "" for k, v in changes.items()}
        hands = [opening for opening in self.filling.by_hand if opening not in changes]
        hands += [opening for opening, lies in changes.items() if lies and by_hand]
        return self.filling.copy_with(placements=placements, tones=self.tones(shown), by_hand=tuple(hands))

    def tones(self, shown: Mapping[str, str]) -> dict[str, Recipe]:
        """What is mended of single openings once some show other photos: it goes with the photo it was made for; in an opening
        that is empty it waits for one."""
        held = self.filling.photo_in
        return {k: v for k, v in self.filling.tones.items() if k not in shown or held(k) in ("", shown[k])}

    def placement_of(self, identity: str) -> Placement | None:
        """How the photo of an opening that is in no span lies, without a gap."""
        held = self.filling.placements.get(identity)
        opening, known = self.layout.openings_by_id.get(identity), self.pile.by_id
        if held is None or opening is None or held.photo not in known:
            return None
        return clamp_placement(opening, known[held.photo], held)


def photo(pile: Pile, identity: str) -> Photo:
    """A photo of the pile."""
    if identity not in pile.by_id:
        raise EditRefused("This photo is not in the pile.", "Bring it in first.")
    return pile.by_id[identity]


def sheet(job: Job, identity: str) -> Sheet:
    """A sheet of the job."""
    if identity not in job.sheets_by_id:
        raise EditRefused(f"There is no sheet {identity} in this job.", "It may have been taken away meanwhile.")
    return job.sheets_by_id[identity]


def edition(job: Job, identity: str) -> Edition:
    """An edition of the job."""
    try:
        return job.edition(identity)
    except KeyError:
        raise EditRefused("This edition was not found in this job.", "It may have been taken away meanwhile.") from None


def find_on_sheet(job: Job, identity: str, edition_id: str) -> OnSheet:
    """A sheet in an edition."""
    return OnSheet(sheet(job, identity), edition(job, edition_id).filling(identity), job.pile)


def replace_edition(job: Job, changed: Edition) -> Job:
    """The job with one edition replaced."""
    return job.copy_with(editions=tuple(changed if e.id == changed.id else e for e in job.editions))


def replace_fillings(job: Job, edition_id: str, changed: dict[str, Filling]) -> Job:
    """The job with some fillings of an edition replaced."""
    edition_then = edition(job, edition_id)
    return (
        replace_edition(job, edition_then.copy_with(fillings={**edition_then.fillings, **changed})) if changed else job
    )
