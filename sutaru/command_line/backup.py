"""``sutaru backup`` and ``sutaru restore``: a data folder copied while it is in use, and brought back."""

import argparse
import json
import sqlite3
import sys
from dataclasses import asdict
from pathlib import Path

from ..settings import find_data
from ..store.backup import Backup, make_backup, restore_backup
from ..store.trouble import explain_failure


def backup(args: argparse.Namespace) -> int:
    """Back up a data folder; 1 when photos are missing from it."""
    data = find_data(args.data)
    try:
        report = make_backup(data, Path(args.folder), _show)
    except (OSError, sqlite3.Error) as error:
        where = data if isinstance(error, sqlite3.DatabaseError) else args.folder
        raise explain_failure(error, Path(where)) or error from None
    added = f"{report.added} new ({report.added_bytes / 1e6:.1f} MB)"
    return _tell(args, report, f"{args.folder}: {report.files} files, {added}, and the database as of {report.made}")


def restore(args: argparse.Namespace) -> int:
    """Bring a backup back into a new data folder; 1 when photos are missing from it."""
    data = find_data(args.data)
    try:
        report = restore_backup(Path(args.folder), data, _show)
    except OSError as error:
        raise explain_failure(error, data) or error from None
    return _tell(args, report, f"{data}: {report.files} files and the database as of {report.made}")


def _tell(args: argparse.Namespace, report: Backup, sentence: str) -> int:
    if args.json:
        print(json.dumps(asdict(report), indent=1))
    else:
        print(sentence)
        for checksum in report.missing[:20]:
            print(f"Missing: the photo {checksum}", file=sys.stderr)
        if report.missing:
            print(f"{len(report.missing)} photos are missing: sutaru doctor says of which jobs.", file=sys.stderr)
    return 1 if report.missing else 0


def _show(files: int) -> None:
    if sys.stderr.isatty() and files % 50 == 0:
        print(f"\r{files} files", end="", file=sys.stderr)
