"""``sutaru read``: a file of another program read into a template's file."""

import argparse
import json
import sys
from pathlib import Path

from ..core.document import Template
from ..core.errors import NotFound
from ..core.formats.foreign.foreign_file import read_foreign
from ..core.formats.template_file import write_template_file


def read(args: argparse.Namespace) -> int:
    """Reads a file of another program into a template's file, and tells what was understood."""
    path = Path(args.file)
    if not path.is_file():
        raise NotFound(f"There is no file {path}.")
    result = read_foreign(path.read_bytes(), path.name, args.areas or "", args.guide, args.size)
    name = (args.name or path.stem)[:120]
    template = Template(id="read", name=name, product="collage", sheets=result.sheets)
    write_template_file(Path(args.out), template, lambda asset: result.files[asset])
    openings = [
        {"number": n, "kind": kind, "page_outline_mm": outline} for n, (kind, outline) in enumerate(result.outlines, 1)
    ]
    if args.json:
        first = result.sheets[0].layout
        print(json.dumps({"areas": result.how, "trim_mm": [first.width_mm, first.height_mm],
                          "openings": openings, "notes": list(result.notes)}, ensure_ascii=False))  # fmt: skip
        return 0
    print(f"{args.out}: {len(openings)} openings by {result.how}")
    for n, (kind, outline) in enumerate(result.outlines, 1):
        xs, ys = zip(*outline, strict=True)
        size = f"{max(xs) - min(xs):7.1f} x {max(ys) - min(ys):.1f} mm"
        print(f"  {n:>3}  {kind:<10} {min(xs):8.1f} {min(ys):8.1f}  {size}")
    for note in result.notes:
        print(note, file=sys.stderr)
    return 0
