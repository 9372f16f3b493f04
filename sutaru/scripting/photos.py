"""Photos of files, examined and looked at."""

from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from ..core.document import Found, Job, Photo, Pile
from ..core.errors import NotFound, PhotoRefused, SutaruError
from ..core.paint import Painter
from ..core.photos import LOOK_SIDE, PhotoPixels, decode, examine, look
from ..shelf import sample_ids


def read_photos(names: Sequence[str | Path]) -> tuple[tuple[Photo, ...], dict[str, Path], list[SutaruError]]:
    """Read photos and look at them, in two threads; where each lies, by its id; and why others cannot be read.

    Raises PhotoRefused when none of them can.
    """
    paths = [Path(name) for name in names]
    with ThreadPoolExecutor(2) as threads:
        read = list(threads.map(_read_photo, paths))
    refused = [entry for entry in read if isinstance(entry, SutaruError)]
    if len(read) == len(refused) == 1:
        raise refused[0]
    originals = {photo.id: path for photo, path in zip(read, paths, strict=True) if isinstance(photo, Photo)}
    photos = tuple(entry for entry in read if isinstance(entry, Photo))
    if read and not photos:
        raise PhotoRefused("None of these photos can be read.", "Give at least one that can.")
    return photos, originals, refused


def painter_of(original: Callable[[Photo], bytes | Path], threads: ThreadPoolExecutor) -> Painter:
    """Make what paints photos whose files ``original`` gives."""
    return Painter(PhotoPixels(original), threads)


def look_at_photos(job: Job, original: Callable[[Photo], bytes | Path]) -> Job:
    """The job with its laid photos looked at, where nobody had looked before the bundle was written: without that a face that
    is cut would pass. Raises PhotoRefused."""
    laid = {photo for filled in job.editions for filling in filled.fillings.values() for photo in filling.photos()}
    unseen = [photo for photo in job.photos if photo.id in laid and not photo.is_looked_at]
    if not unseen:
        return job
    facts = {photo.id: _look(original(photo), photo) for photo in unseen}
    photos = tuple(photo.copy_with(found=facts[photo.id]) if photo.id in facts else photo for photo in job.photos)
    return job.copy_with(pile=Pile(photos=photos))


def _read_photo(path: Path) -> Photo | SutaruError:
    """A photo examined and looked at, or why it cannot be."""
    try:
        if not path.is_file():
            raise NotFound(f"There is no file {path}.")
        photo = examine(path, path.name)
        return photo.copy_with(sample=photo.checksum in sample_ids(), found=_look(path, photo))
    except SutaruError as error:
        return error
    except Exception:  # whatever a decoder makes of a file that was harmed
        return PhotoRefused(f"{path.name} cannot be read.", "Save it anew as a plain JPEG.")


def _look(path: Path | bytes, photo: Photo) -> Found:
    """What is found in a photo. A file that ends early is refused now, not at the press."""
    return look(decode(path, photo.name, min(1.0, LOOK_SIDE / max(photo.width, photo.height))))
