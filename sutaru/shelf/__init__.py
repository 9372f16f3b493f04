"""The shelf that ships with the application: templates, lab sheets and sample photos, all as plain files."""

from pathlib import Path

FOLDER = Path(__file__).parent
SAMPLES = FOLDER / "samples"
