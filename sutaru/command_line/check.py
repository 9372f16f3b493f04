"""``sutaru check``: the findings of a job."""

import argparse
import json

from ..scripting.shelf import open_job
from .screen import MARK


def check(args: argparse.Namespace) -> int:
    """Print the findings; 1 when one is a stop."""
    findings = open_job(args.job).check()
    if args.json:
        rows = [{("page" if k == "sheet" else k): v for k, v in finding.model_dump().items()} for finding in findings]
        print(json.dumps(rows, indent=1, ensure_ascii=False))  # "page": scripts know it by that name
    else:
        for finding in findings:
            print(f"{MARK[finding.severity]} {finding.severity:<4}  {finding.sheet}: {finding.sentence}")
        if not findings:
            print("Ready: nothing to correct.")
    return 1 if any(finding.severity == "stop" for finding in findings) else 0
