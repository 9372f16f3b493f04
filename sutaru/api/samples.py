"""The sample photos that ship with the shelf, taken in once; a photo that is one of them is known by its content."""

import shutil
import threading

from ..core.document import Photo
from ..core.photos import examine
from ..shelf import SAMPLES
from ..work.tasks import take_in
from .studio import Studio

_lock = threading.Lock()


def sample_photos(studio: Studio) -> list[Photo]:
    """The sample photos, filed in the studio's store."""
    samples = []
    with _lock:
        for path in sorted(SAMPLES.glob("*.jpg")):
            photo = examine(path, path.name, sample=True)
            if studio.photos.find_known(photo.checksum) is None:
                upload = studio.photos.incoming / path.name
                shutil.copyfile(path, upload)
                _, proxy, thumb, width = take_in(str(upload), path.name)
                studio.photos.keep(photo, upload, proxy, thumb, width)
                studio.finder.add(photo.checksum)
            samples.append(studio.photos.facts([photo.id])[photo.id].copy_with(sample=True, name=path.name))
    return samples
