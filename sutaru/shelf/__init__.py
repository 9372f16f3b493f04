"""The shelf that ships with the application: templates, lab sheets and sample photos, all as plain files."""

from functools import cache
from hashlib import sha256
from pathlib import Path

FOLDER = Path(__file__).parent
SAMPLES = FOLDER / "samples"


@cache
def sample_ids() -> frozenset[str]:
    """sha256 of every sample photo: by its content one is known wherever it comes from."""
    return frozenset(sha256(path.read_bytes()).hexdigest() for path in SAMPLES.glob("*.jpg"))
