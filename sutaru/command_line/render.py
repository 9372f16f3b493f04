"""``sutaru render``: one page as the bench shows it."""

import argparse
from pathlib import Path

from ..core.colour.profiles import profile_bytes
from ..core.press.files import write_whole
from ..scripting.shelf import open_job


def render(args: argparse.Namespace) -> int:
    """Write one page as the bench shows it."""
    job = open_job(args.job)
    picture = job.show(args.page, args.ppi)
    with write_whole(Path(args.out)) as file:
        picture.save(file, "PNG", dpi=(args.ppi, args.ppi), icc_profile=profile_bytes(job.job.lab.profile))
    return 0
