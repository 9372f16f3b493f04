"""Edits of jobs: tried out before they are stored, announced afterwards."""

from collections.abc import Callable

from ..core.checks import Measured
from ..core.checks.trial_paint import refuse_failures
from ..core.document import Job
from ..core.edits.apply import apply, label
from ..core.edits.kinds import Accept, Edit
from ..core.errors import EditRefused
from ..core.fitting import resolve_sheet
from ..core.formats.bundle import list_added_assets
from ..store import Head
from .events import Events
from .job_answers import Heads
from .models.job_heads import Known
from .stores import Stores

TRIED_AT_ONCE = 12  # sheets that one edit changes: what it does to more is the same again


class Editor:
    """Applies edits to jobs, each stored before it is answered."""

    def __init__(self, stores: Stores, heads: Heads, events: Events) -> None:
        self._stores, self._heads, self._events = stores, heads, events

    def edit(self, job: str, edit: Edit, gesture: str | None = None, token: str | None = None) -> Head:
        """Applies an edit and stores it. Raises what the edit is refused for; then nothing has changed."""
        return self._stores.jobs.edit(job, self.change(job, edit), gesture, token)

    def change(self, where: str, edit: Edit, label_text: str | None = None) -> Callable[[Job], tuple[Job, str]]:
        def change(before: Job) -> tuple[Job, str]:
            with refuse_failures("This"):
                after = apply(before, edit)
                self._check_files(before, after)
                if isinstance(edit, Accept):
                    self._check_finding_stands(where, before, edit)
                self._try_out(where, before, after)
            return after, label_text or label(before, edit)

        return change

    def _check_files(self, before: Job, after: Job) -> None:
        """Refuses what names a photo or a file that was never brought in: it could be neither shown nor printed."""
        if after.pile is not before.pile:
            old = before.pile.by_id
            for photo in after.photos:
                if photo.id not in old and not self._stores.photos.has_file(photo.checksum):
                    raise EditRefused(f"The file of {photo.name} is not here.", "Bring the photo in from its file.")
        for name in sorted(list_added_assets(before, after)):
            if not self._stores.parts.has_asset(name):
                raise EditRefused("A file that this names is not here.", "Bring the file in first, then try again.")

    def _check_finding_stands(self, where: str, job: Job, edit: Accept) -> None:
        """Refuses to let pass what is found otherwise by now: that would let nothing pass, and nobody would know."""
        keys = dict(zip(job.sheets_by_id, self._stores.sheets.keys(where, job, edit.edition), strict=True))
        findings = Measured.model_validate_json(self._stores.sheets.measure(keys[edit.sheet])).findings
        standing = {(finding.rule, finding.layer, finding.sentence) for finding in findings}
        if any((named.rule, named.layer, named.sentence) not in standing for named in edit.findings):
            raise EditRefused("This is found otherwise by now.", "Look at it as it stands, and accept that.")

    def _try_out(self, where: str, before: Job, after: Job) -> None:
        """What cannot be shown, measured and painted is refused before it is stored."""
        known, most = {edition.id: edition for edition in before.editions}, TRIED_AT_ONCE
        for edition in after.editions:
            was = known.get(edition.id)
            keys: list[str] = []
            for index, sheet in enumerate(after.sheets):
                old = before.sheets_by_id.get(sheet.id)
                same = old is not None and old.layout is sheet.layout
                if most <= 0 or (same and was and was.filling(sheet.id) is edition.filling(sheet.id)):
                    continue
                keys = keys or self._stores.sheets.keys(where, after, edition.id)
                self._stores.sheets.try_out(
                    keys[index],
                    resolve_sheet(before, sheet.id, was.id, fonts=self._stores.parts.asset) if old and was else None,
                )
                most -= 1

    def last_good(self, identity: str) -> str:
        """Takes a job back to its newest state that works. Raises NotFound, FileRefused."""

        def works(job: Job) -> None:
            with refuse_failures("This"):
                for edition in job.editions:
                    for key in self._stores.sheets.keys(identity, job, edition.id):
                        self._stores.sheets.try_out(key, None)

        head = self._stores.jobs.last_good(identity, works)
        self._events.say("job", identity, seq=head.seq)
        return identity

    def announce_head(self, head: Head, known: Known) -> bytes:
        """The answer to whatever moved a job's head, which everybody is told of."""
        self._events.say("job", head.id, seq=head.seq)
        return self._heads.answer(head, known)
