"""The shelf that ships with the application: templates, their pictures, lab sheets and sample photos, all as plain files."""

from functools import cache
from pathlib import Path

FOLDER = Path(__file__).parent
SAMPLES = FOLDER / "samples"
LOOKS = FOLDER / "looks.json"


@cache
def sample_ids() -> frozenset[str]:
    """Checksum of every sample photo: by its content one is known wherever it comes from."""
    from ..core.photos.checksums import checksum  # what only lists the shelf reads no photo

    return frozenset(checksum(path) for path in SAMPLES.glob("*.jpg"))
