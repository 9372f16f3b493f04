"""A job in a script: photos are added, laid, checked, shown and exported; every change is an edit, as on the screen."""

from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING, Literal, Self

from ..core.document import Job, LabSheet, Photo, Sheet, Template
from ..core.edits.kinds import BringIn, ChooseLab, Edit, Fill, Put, Rename, Say, Write
from ..core.errors import ExportRefused, NotFound, SutaruError
from ..core.formats.bundle import Bundle, write_bundle
from ..core.paint import Assets
from .labs import find_size
from .photos import look_at_photos, painter_of, read_photos

if TYPE_CHECKING:
    from PIL.Image import Image

    from ..core.checks import Finding
    from ..core.document import FileKind


class OpenJob:
    """A job and the files of its photos. ``job`` is the document as it is now: it is replaced by each change, never altered."""

    def __init__(self, job: Job, asset: Assets, bundle: Bundle | None = None, waiting: Sequence[Template] = ()) -> None:
        self.job, self.asset = job, asset
        self._bundle, self._waiting = bundle, list(waiting)
        self._paths: dict[str, Path] = {}

    @classmethod
    def read(cls, path: Path) -> Self:
        """Open a job's bundle. Raises FileRefused."""
        bundle = Bundle(path)
        return cls(bundle.job, bundle.asset, bundle)

    def close(self) -> None:
        """Let go of the bundle that the job was opened from."""
        if self._bundle is not None:
            self._bundle.close()

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *error: object) -> None:
        self.close()

    def original(self, photo: Photo) -> bytes | Path:
        """A photo's file, or its bytes where it lies in a bundle. Raises NotFound, FileRefused."""
        if photo.id in self._paths:
            return self._paths[photo.id]
        if self._bundle is None:
            raise NotFound("A template holds no photos.")
        return self._bundle.original(photo)

    def apply(self, edit: Edit) -> None:
        """Make any edit (`sutaru.core.edits.kinds`). Raises EditRefused, and then nothing has changed."""
        from ..core.edits.apply import apply

        self.job = apply(self.job, edit)

    def add_photos(self, paths: Sequence[str | Path]) -> list[SutaruError]:
        """Add photos to the pile, looked at for faces; why others cannot be read. Raises PhotoRefused when none can.

        A job that waits for its first photo is then on the variant that suits it.
        """
        photos, originals, refused = read_photos(paths)
        self.apply(BringIn(photos=photos))
        self._paths |= originals
        if self._waiting and photos:
            from ..core.edits.sheets import choose_by_first_photo

            self.job, self._waiting = choose_by_first_photo(self.job, self._waiting), []
        return refused

    def fill(self, how: Literal["best", "order", "month"] = "best", only_empty: bool = False) -> int:
        """Fill openings: by the best assignment, in order of capture, or by month. How many openings are filled then.

        Raises EditRefused when there is nothing to fill, or no photo is free.
        """
        self.apply(Fill(how=how, only_empty=only_empty))
        return sum(len(filling.placements) for filling in self.job.editions[0].fillings.values())

    def put(self, opening: str, photo: str, sheet: str = "") -> None:
        """Put a photo, by its id or file name, into an opening. ``sheet``: its id, else the first.

        Raises NotFound, EditRefused.
        """
        entry = next((photo_here for photo_here in self.job.photos if photo in (photo_here.id, photo_here.name)), None)
        if entry is None:
            raise NotFound(f"There is no photo {photo} in this job.", "Add it first.")
        self.apply(Put(sheet=sheet or self.job.sheets[0].id, opening=opening, photo=entry.id))

    def write(self, layer: str, words: str, sheet: str = "") -> None:
        """Write the words of a text layer. ``sheet``: its id, else the first. Raises EditRefused."""
        self.apply(Write(sheet=sheet or self.job.sheets[0].id, layer=layer, text=words))

    def set_fields(self, fields: dict[str, str]) -> None:
        """Say fields that words name in braces: {"name": "Ola Brandvik"}. Raises EditRefused."""
        self.apply(Say(fields=fields))

    def choose_lab(self, lab: LabSheet) -> None:
        """Have the job printed by another lab sheet."""
        if lab != self.job.lab:
            self.apply(ChooseLab(lab=lab))

    def rename(self, name: str) -> None:
        """Give the job another name."""
        self.apply(Rename(name=name))

    def resize_book(self, width_mm: float, height_mm: float) -> tuple[str, ...]:
        """Make a book another size of its lab: photos keep their pages, and each spread is composed anew. Returns the names of
        sheets that were fitted as they were. Raises NotFound for a size that the lab does not bind, EditRefused for no book."""
        from ..core.books.another_size import resize_book
        from ..core.formats.shelf import read_shelf
        from ..shelf import FOLDER

        size = find_size(self.job.lab, width_mm, height_mm)
        theme = read_shelf(FOLDER).themes.get(self.job.book.theme) if self.job.book else None
        resized = resize_book(self.job, size, theme)
        self.job = resized.job
        return resized.fitted

    def look_at_photos(self) -> None:
        """Look for faces in photos that lie on a sheet and that nobody has looked at. Raises PhotoRefused."""
        self.job = look_at_photos(self.job, self.original)

    def check(self, edition: str = "") -> "list[Finding]":
        """What is found on all sheets, stops first. ``edition``: its id, else the first."""
        from ..core.checks import check_job

        self.look_at_photos()
        return check_job(self.job, edition, fonts=self.asset)

    def show(self, page: int = 1, ppi: float = 72.0) -> "Image":
        """Paint a page as the bench shows it. ``page``: from 1. Raises NotFound, PhotoRefused."""
        from PIL import Image

        from ..core.fitting import resolve_sheet
        from ..core.paint import PixelGrid, items

        sheet = self.sheet(page)
        with ThreadPoolExecutor(2) as threads:
            resolved = resolve_sheet(self.job, sheet.id, fonts=self.asset)
            rgb, _ = painter_of(self.original, threads).render(
                items(resolved, self.asset, bench=True, notes=True), PixelGrid.for_ppi(sheet.layout, ppi)
            )
        return Image.fromarray(rgb)

    def sheet(self, page: int) -> Sheet:
        """The sheet of a page, from 1. Raises NotFound."""
        if not 1 <= page <= len(self.job.sheets):
            raise NotFound(f"There is no page {page}.", f"This job has pages 1 to {len(self.job.sheets)}.")
        return self.job.sheets[page - 1]

    def export(
        self,
        folder: str | Path,
        format: "FileKind | None" = None,
        edition: str = "",
        transparent: bool = False,
        despite_stops: bool = False,
        step: Callable[[str, int, int], None] | None = None,
    ) -> list[Path]:
        """Write the print files and their manifest; their paths. Raises ExportRefused where a stop stands, PhotoRefused.

        ``format``: else as the lab sheet says. ``edition``: its id; "*" for all. ``despite_stops``: stops are known, and the
        files wanted nevertheless. ``step``: told of progress.
        """
        from ..core.press.exporting import EVERY, export

        editions = [entry.id for entry in self.job.editions] if edition == EVERY else [edition]
        stops = [finding for each in editions for finding in self.check(each) if finding.severity == "stop"]
        if stops and not despite_stops:
            raise ExportRefused.for_stops(len(stops))
        with ThreadPoolExecutor(2) as threads:
            painter = painter_of(self.original, threads)
            return export(
                self.job, Path(folder), painter.pixels, datetime.now().astimezone(), format, transparent, painter,
                step or _tell_nobody, self.asset, edition or self.job.editions[0].id,
            )  # fmt: skip

    def save(self, path: str | Path) -> Path:
        """Write the job with its photos as a bundle, which the bench opens."""
        write_bundle(Path(path), self.job, self.original, self.asset)
        return Path(path)


def _tell_nobody(stage: str, done: int, total: int) -> None:
    pass
