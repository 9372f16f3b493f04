"""``sutaru lab``: a lab that stands in."""

import argparse
from pathlib import Path

from ..standins.lab import serve
from ..work.tasks import end_with


def lab(args: argparse.Namespace) -> int:
    """Runs a lab until it is interrupted."""
    if args.until:
        end_with(args.until)
    return serve(args.port, Path(args.data), args.clock, args.faults, Path(args.drop) if args.drop else None)
