"""What commands show a person: marks of findings, and progress where somebody looks."""

import sys
from collections.abc import Sequence

MARK = {"stop": "■", "look": "▲", "note": "·"}


def show_progress(stage: str, done: int, total: int) -> None:
    """Show how far work is, in one line that is written over; nothing where the output goes to a file."""
    if sys.stderr.isatty():
        ending = "\n" if done == total else ""
        print(f"\r{100 * done // max(1, total):3d} % {stage:<40}", end=ending, file=sys.stderr)


def show_refused(errors: Sequence[Exception]) -> int:
    """Name what could not be read and is left out; the command's exit code."""
    for error in errors:
        print(f"sutaru: {error}", file=sys.stderr)
    return 1 if errors else 0
