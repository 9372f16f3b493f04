"""``sutaru serve``: the application."""

import argparse
from pathlib import Path

from ..api.serve import run


def serve(args: argparse.Namespace) -> int:
    """Starts the application."""
    return run(args.host, args.port, Path(args.data), args.demo, args.lab, args.scheduler,
               Path(args.watch) if args.watch else None, args.printer)  # fmt: skip
