"""What edits call things in their labels: openings by number, layers, sheets and photos by name."""

from ..document import Job
from . import lookups

_MOST_NUMBERS = 12


def count(number: int, what: str) -> str:
    """A number of things in words.

    >>> count(1, "photo"), count(3, "photo"), count(2, "copy"), count(2, "touch")
    ('1 photo', '3 photos', '2 copies', '2 touches')
    """
    if number == 1:
        return f"1 {what}"
    ending = "ies" if what.endswith("y") else "es" if what.endswith("ch") else "s"
    return f"{number} {what[:-1] if ending == 'ies' else what}{ending}"


class Namer:
    """Names things of a job as it was before an edit. Things that are gone meanwhile have a general name."""

    def __init__(self, job: Job) -> None:
        self._job = job

    def openings(self, sheet_id: str, *ids: str) -> str:
        """Openings by number, with the sheet's name where there are several sheets."""
        sheet = self._job.sheets_by_id.get(sheet_id)
        if sheet is None:
            return ", ".join("an opening" for _ in ids[:_MOST_NUMBERS])
        numbers = ", ".join(str(sheet.layout.numbers.get(name, "an opening")) for name in ids[:_MOST_NUMBERS])
        return f"{numbers} of {sheet.name}" if len(self._job.sheets) > 1 else numbers

    def layer(self, sheet_id: str, layer_id: str) -> str:
        sheet = self._job.sheets_by_id.get(sheet_id)
        if sheet and layer_id in sheet.layout.openings_by_id:
            return f"opening {self.openings(sheet_id, layer_id)}"
        layer = sheet.layout.find(layer_id) if sheet else None
        return (layer.name or layer.kind) if layer else "a layer"

    def layers(self, sheet_id: str, ids: tuple[str, ...]) -> str:
        return self.layer(sheet_id, ids[0]) if len(ids) == 1 else count(len(ids), "layer")

    def sheet(self, sheet_id: str) -> str:
        sheet = self._job.sheets_by_id.get(sheet_id)
        return sheet.name if sheet else "a sheet"

    def sheets(self, ids: tuple[str, ...] | list[str]) -> str:
        return self.sheet(ids[0]) if len(ids) == 1 else count(len(ids), "sheet")

    def photo(self, photo_id: str) -> str:
        return lookups.photo(self._job.pile, photo_id).name

    def edition(self, edition_id: str) -> str:
        return lookups.edition(self._job, edition_id).name
