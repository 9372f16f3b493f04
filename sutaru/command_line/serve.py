"""``sutaru serve``: the application."""

import argparse

from ..settings import read_settings


def serve(args: argparse.Namespace) -> int:
    """Starts the application."""
    settings = read_settings(vars(args))
    from ..api.serve import run

    return run(settings)
