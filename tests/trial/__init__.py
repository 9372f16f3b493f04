"""The trial: a studio's worst days, sped up. A sample of each runs with all tests; ``make trial`` runs them at length."""

import os

LONG = bool(os.environ.get("SUTARU_TRIAL"))


def times(sample: int, at_length: int) -> int:
    """How often something is done: for a sample, or at length."""
    return at_length if LONG else sample
