"""``sutaru printer``: a printer that stands in."""

import argparse
from pathlib import Path

from ..settings import find_data
from ..standins.printer import serve
from ..work.tasks import end_with


def printer(args: argparse.Namespace) -> int:
    """Runs a printer until it is interrupted."""
    if args.until:
        end_with(args.until)
    return serve(args.port, Path(args.data) if args.data else find_data() / "printer", args.faults)
