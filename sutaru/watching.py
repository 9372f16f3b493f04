"""``sutaru watch`` makes a watched folder."""

import argparse
from pathlib import Path

from .api.watcher import Rule, write_rule
from .core.errors import NotFound
from .core.formats import read_shelf
from .shelf import FOLDER


def watch(args: argparse.Namespace) -> int:
    """Writes the rule of a watched folder."""
    labs = read_shelf(FOLDER).labs
    if args.lab not in labs:
        raise NotFound(f"There is no lab sheet {args.lab}.", f"Choose one of: {', '.join(labs)}.")
    rule = Rule(template=args.template, lab=args.lab, fill=args.fill, export=not args.wait, format=args.format)
    folder = Path(args.folder)
    write_rule(folder, rule)
    print(f"{folder}: folders of photos laid in here become jobs. Serve with: sutaru serve --watch {folder.parent}")
    return 0
