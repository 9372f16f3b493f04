"""``sutaru lab``: a lab that stands in."""

import argparse
from pathlib import Path

from ..settings import find_data
from ..standins.lab import serve
from ..work.tasks import end_with


def lab(args: argparse.Namespace) -> int:
    """Runs a lab until it is interrupted."""
    if args.until:
        end_with(args.until)
    folder = Path(args.data) if args.data else find_data() / "lab"
    return serve(args.port, folder, args.clock, args.faults, Path(args.drop) if args.drop else None)
