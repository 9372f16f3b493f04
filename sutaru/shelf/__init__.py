"""The shelf that ships with the application: templates, lab sheets and sample photos, all as plain files."""

from functools import cache
from pathlib import Path

from ..core.photos.checksums import checksum

FOLDER = Path(__file__).parent
SAMPLES = FOLDER / "samples"


@cache
def sample_ids() -> frozenset[str]:
    """Checksum of every sample photo: by its content one is known wherever it comes from."""
    return frozenset(checksum(path) for path in SAMPLES.glob("*.jpg"))
