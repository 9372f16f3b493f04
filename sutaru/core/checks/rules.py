"""Checks before print. One rule per function, one table of rules; each looks at a sheet as it is drawn and yields findings.

A rule that fails to look is reported as not checked, never as passed; the log says why it failed.
"""

import logging
from collections.abc import Callable

from ..document import Accepted, Job
from ..fitting import Fonts, Resolved, resolve_sheets
from .finding import Finding, Findings, Severity, finding_of
from .page_rules import (
    dates_fall_out,
    empty_page,
    little_bleed,
    months_in_order,
    no_format,
    page_count,
    ragged_border,
    ragged_edge,
    spine_words,
    spread_split,
)
from .photo_rules import (
    echo_too_few_pixels,
    empty_opening,
    goes_on,
    keep_cut,
    profile_passed_over,
    same_photo_twice,
    sample_photo,
    spots_left_out,
    stretched_photo,
    strips_left,
    too_few_pixels,
)
from .word_rules import empty_words, fields_said, sample_words, words_cut, words_in_picture, words_overset

log = logging.getLogger("sutaru.checks")

RULES: tuple[Callable[[Resolved], Findings], ...] = (
    empty_opening, too_few_pixels, echo_too_few_pixels, sample_photo, sample_words, empty_words, fields_said,
    ragged_edge, ragged_border,
    same_photo_twice, keep_cut, strips_left, stretched_photo, goes_on, words_overset, words_cut, dates_fall_out, months_in_order,
    no_format, little_bleed, page_count, empty_page, spread_split, spine_words, profile_passed_over, spots_left_out,
    words_in_picture,
)  # fmt: skip


_ORDER = {"stop": 0, "look": 1, "note": 2}


def check(sheet: Resolved, rules: tuple[Callable[[Resolved], Findings], ...] = RULES) -> list[Finding]:
    """All findings of a sheet: stops first."""
    findings: list[Finding] = []
    for rule in rules:
        try:
            findings += rule(sheet)
        except Exception:
            log.exception("%s on sheet %s", rule.__name__, sheet.sheet)
            sentence = (
                f"Not checked for {rule.__name__.replace('_', ' ')}: the check itself failed. Look for it by eye."
            )
            findings.append(finding_of(sheet, rule.__name__, "stop", "", sentence))
    accepted = {entry.finding_key: entry for entry in sheet.accepted}
    graded = [
        _grade_finding(finding, accepted.get((finding.rule, finding.layer, finding.sentence))) for finding in findings
    ]
    return sorted(graded, key=lambda f: _ORDER[f.severity])


def _grade_finding(finding: Finding, accepted: Accepted | None) -> Finding:
    """A finding as it counts. An accepted stop still wants a look: it is never in order."""
    if accepted is None:
        return finding
    less: dict[Severity, Severity] = {"stop": "look", "look": "note", "note": "note"}
    return finding.copy_with(severity=less[finding.found], accepted=accepted)


def check_job(job: Job, edition: str = "", fonts: Fonts | None = None) -> list[Finding]:
    """All findings of an edition: stops first, then in order of sheets."""
    findings = [finding for sheet in resolve_sheets(job, edition, fonts) for finding in check(sheet)]
    return sorted(findings, key=lambda f: _ORDER[f.severity])
