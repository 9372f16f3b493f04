"""What a job is called that a command writes."""

from pathlib import Path


def name_job(out: str, otherwise: str) -> str:
    """Name a job that is written to a file: as the file, without what cannot be printed."""
    stem = Path(out.encode("utf-8", "replace").decode()).stem
    return "".join(letter for letter in stem if letter.isprintable()).strip()[:120] or otherwise
