"""``sutaru help``: the same as ``sutaru COMMAND --help``."""

import argparse

from .grammar import parser


def show_help(args: argparse.Namespace) -> int:
    """Shows what a command does, or which there are."""
    parser().parse_args([*args.about, "--help"])
    return 0
