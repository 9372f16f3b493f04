"""Checks before print. One rule per function, one table of rules; each looks at a job and yields findings.

A rule that fails to look is reported as not checked, never as passed.
"""

from collections.abc import Callable, Iterator
from typing import Literal

from ..document import Job, Opening, Page
from ..document.shapes import Frozen
from ..fitting import cuts, effective_ppi
from ..geometry import outlines
from ..words import set_text

Severity = Literal["stop", "look", "note"]


class Finding(Frozen):
    """What a check found, where, what was measured and what it was measured against."""

    rule: str
    severity: Severity
    page: str
    layer: str = ""
    sentence: str
    measured: float | None = None
    limit: float | None = None


Found = Iterator[Finding]


def _openings(job: Job) -> Iterator[tuple[int, Page, Opening]]:
    number = 0
    for page in job.pages:
        for opening in page.openings():
            number += 1
            if opening.visible:
                yield number, page, opening


def empty_opening(job: Job) -> Found:
    """Every opening holds a photo."""
    for number, page, opening in _openings(job):
        if opening.id not in job.edition.placements:
            yield Finding(
                rule="empty_opening",
                severity="stop",
                page=page.id,
                layer=opening.id,
                sentence=f"Opening {number} is empty.",
            )


def too_few_pixels(job: Job) -> Found:
    """Effective ppi reaches the lab sheet's target; below its least is a stop."""
    for number, page, opening in _openings(job):
        placement = job.edition.placements.get(opening.id)
        if placement is None:
            continue
        ppi = effective_ppi(opening, job.photos_by_id[placement.photo], placement)
        shown = f"{ppi:.0f} ppi"
        if ppi < job.lab.ppi_least:
            yield Finding(
                rule="too_few_pixels", severity="stop", page=page.id, layer=opening.id, measured=ppi,
                limit=job.lab.ppi_least,
                sentence=f"Opening {number} would print at {shown}; {job.lab.name} takes no less than {job.lab.ppi_least}.",
            )  # fmt: skip
        elif ppi < job.lab.ppi_target:
            yield Finding(
                rule="too_few_pixels", severity="look", page=page.id, layer=opening.id, measured=ppi,
                limit=job.lab.ppi_target,
                sentence=f"Opening {number} prints at {shown}, below the {job.lab.ppi_target} that {job.lab.name} asks for.",
            )  # fmt: skip


def sample_photo(job: Job) -> Found:
    """No photo that came with the template is left in."""
    for number, page, opening in _openings(job):
        placement = job.edition.placements.get(opening.id)
        if placement and job.photos_by_id[placement.photo].sample:
            yield Finding(
                rule="sample_photo", severity="stop", page=page.id, layer=opening.id,
                sentence=f"Opening {number} still holds a sample photo.",
            )  # fmt: skip


def sample_words(job: Job) -> Found:
    """No words that came with the template are left in."""
    for page in job.pages:
        for layer in page.texts():
            if layer.visible and layer.sample and layer.id not in job.edition.texts:
                words = " ".join(layer.text.split())
                yield Finding(
                    rule="sample_words", severity="look", page=page.id, layer=layer.id,
                    sentence=f"“{words[:40]}” is still the template's sample text.",
                )  # fmt: skip


def ragged_edge(job: Job) -> Found:
    """Each side of an opening's box lies safely inside the trim, or runs out to the bleed."""
    for number, page, opening in _openings(job):
        points = [
            opening.page_from_opening.apply(
                outlines.cut_short(polygon, 1.0) if opening.surface.kind in ("grid", "roll") else polygon
            )
            for polygon in opening.outline.polygons()
        ]
        left, top, right, bottom = outlines.bounds(points)
        for side, inside in (
            ("left", left), ("top", top), ("right", page.width_mm - right), ("bottom", page.height_mm - bottom),
        ):  # fmt: skip
            # A hundredth of a millimetre is drawing noise, not a distance.
            if -page.bleed_mm + 0.01 < inside < page.safe_mm - 0.01:
                where = f"{inside:.1f} mm inside the trim" if inside >= 0 else f"{-inside:.1f} mm outside the trim"
                yield Finding(
                    rule="ragged_edge", severity="look", page=page.id, layer=opening.id, measured=round(inside, 3),
                    limit=page.safe_mm,
                    sentence=f"The {side} edge of opening {number} lies {where}: it will be cut raggedly. "
                    f"Keep it {page.safe_mm:g} mm inside or run it {page.bleed_mm:g} mm out.",
                )  # fmt: skip


def same_photo_twice(job: Job) -> Found:
    """No photo lies in two openings."""
    first: dict[str, int] = {}
    for number, page, opening in _openings(job):
        placement = job.edition.placements.get(opening.id)
        if placement is None:
            continue
        spanned = job.span_of(opening.id)
        if spanned and spanned[1].openings[0] != opening.id:
            continue  # one photo runs on through a span: it counts where the span begins
        if placement.photo in first:
            yield Finding(
                rule="same_photo_twice", severity="look", page=page.id, layer=opening.id,
                sentence=f"Opening {number} holds the same photo as opening {first[placement.photo]}.",
            )  # fmt: skip
        first.setdefault(placement.photo, number)


_WHAT = {"face": "a face", "hand": "what was marked to keep", "subject": "what seems to be the subject"}


def keep_cut(job: Job) -> Found:
    """What must stay visible lies within the outline, clear of the trim, gutter, fold and of what lies above.

    A photo that runs on through a span is cut by the gaps between its openings on purpose.
    """
    for number, page, opening in _openings(job):
        placement = job.edition.placements.get(opening.id)
        if placement is None or job.span_of(opening.id):
            continue
        lost = cuts(page, opening, job.photos_by_id[placement.photo], placement)
        if not lost:
            continue
        area, share = max(lost, key=lambda found: (found[0].kind != "subject", found[1]))
        surmised = area.kind == "subject"
        if surmised and share < 0.5:
            continue
        more = f" and {len(lost) - 1} more" if len(lost) > 1 else ""
        yield Finding(
            rule="keep_cut", severity="note" if surmised else "look", page=page.id, layer=opening.id,
            measured=round(share, 3), limit=0.0,
            sentence=f"Opening {number} cuts off {max(1, round(100 * share))} % of {_WHAT[area.kind]}{more}.",
        )  # fmt: skip


def words_overset(job: Job) -> Found:
    """All words fit their boxes, in letters their fonts have."""
    for page in job.pages:
        for layer in page.texts():
            if not layer.visible:
                continue
            setting = set_text(layer, job.words(layer))
            if setting.overset:
                yield Finding(
                    rule="words_overset", severity="stop", page=page.id, layer=layer.id,
                    sentence=f"The words of {layer.name or layer.id} do not fit their box: shorten them.",
                )  # fmt: skip
            if setting.missing:
                yield Finding(
                    rule="words_overset", severity="stop", page=page.id, layer=layer.id,
                    sentence=f"{layer.font} has no letter for {' '.join(setting.missing)} in {layer.name or layer.id}.",
                )  # fmt: skip


RULES: tuple[Callable[[Job], Found], ...] = (
    empty_opening, too_few_pixels, sample_photo, sample_words, ragged_edge, same_photo_twice, keep_cut, words_overset,
)  # fmt: skip
_ORDER = {"stop": 0, "look": 1, "note": 2}


def check(job: Job, rules: tuple[Callable[[Job], Found], ...] = RULES) -> list[Finding]:
    """All findings: stops first, then in page order."""
    found: list[Finding] = []
    for rule in rules:
        try:
            found += rule(job)
        except Exception as error:
            found.append(
                Finding(
                    rule=rule.__name__, severity="stop", page=job.pages[0].id,
                    sentence=f"Not checked: the rule {rule.__name__} failed ({error}).",
                )
            )  # fmt: skip
    pages = {page.id: n for n, page in enumerate(job.pages)}
    return sorted(found, key=lambda f: (_ORDER[f.severity], pages[f.page]))
