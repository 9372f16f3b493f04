"""``sutaru watch``: the rule of a watched folder."""

import argparse
from pathlib import Path

from ..scripting.labs import find_lab
from ..work.watch_rules import Rule, write_rule


def watch(args: argparse.Namespace) -> int:
    """Writes the rule of a watched folder."""
    find_lab(args.lab)
    rule = Rule(template=args.template, lab=args.lab, fill=args.fill, export=not args.wait, format=args.format)
    folder = Path(args.folder)
    write_rule(folder, rule)
    print(f"{folder}: folders of photos laid in here become jobs. Serve with: sutaru serve --watch {folder.parent}")
    return 0
