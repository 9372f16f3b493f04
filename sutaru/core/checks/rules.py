"""Checks before print. One rule per function, one table of rules; each looks at a sheet as it is drawn and yields findings.

A rule that fails to look is reported as not checked, never as passed.
"""

from collections.abc import Callable, Iterator
from typing import Literal

from ..document import Job, Opening, Text
from ..document.base import Frozen
from ..fitting import Drawn, Resolved, cuts, effective_ppi, resolved_sheets
from ..geometry import outlines
from ..words import set_text

Severity = Literal["stop", "look", "note"]


class Finding(Frozen):
    """What a check found, where, what was measured and what it was measured against."""

    rule: str
    severity: Severity
    sheet: str
    layer: str = ""
    sentence: str
    measured: float | None = None
    limit: float | None = None


Findings = Iterator[Finding]


def _seen(sheet: Resolved) -> Iterator[tuple[Drawn, Opening]]:
    for drawn in sheet.openings:
        if isinstance(drawn.layer, Opening) and drawn.layer.visible:
            yield drawn, drawn.layer


def _finding(sheet: Resolved, rule: str, severity: Severity, layer: str, sentence: str, **more: float) -> Finding:
    return Finding(rule=rule, severity=severity, sheet=sheet.sheet, layer=layer, sentence=sentence, **more)


def empty_opening(sheet: Resolved) -> Findings:
    """Every opening holds a photo."""
    for drawn, opening in _seen(sheet):
        if drawn.photo is None:
            yield _finding(sheet, "empty_opening", "stop", opening.id, f"Opening {drawn.number} is empty.")


def too_few_pixels(sheet: Resolved) -> Findings:
    """Effective ppi reaches the lab sheet's target; below its least is a stop."""
    lab = sheet.lab
    for drawn, opening in _seen(sheet):
        if drawn.photo is None or drawn.placement is None:
            continue
        ppi = effective_ppi(opening, drawn.photo, drawn.placement)
        shown = f"{ppi:.0f} ppi"
        if ppi < lab.ppi_least:
            sentence = f"Opening {drawn.number} would print at {shown}; {lab.name} takes no less than {lab.ppi_least}."
            yield _finding(sheet, "too_few_pixels", "stop", opening.id, sentence, measured=ppi, limit=lab.ppi_least)
        elif ppi < lab.ppi_target:
            sentence = f"Opening {drawn.number} prints at {shown}, below the {lab.ppi_target} that {lab.name} asks for."
            yield _finding(sheet, "too_few_pixels", "look", opening.id, sentence, measured=ppi, limit=lab.ppi_target)


def sample_photo(sheet: Resolved) -> Findings:
    """No photo that came with the template is left in."""
    for drawn, opening in _seen(sheet):
        if drawn.photo and drawn.photo.sample:
            sentence = f"Opening {drawn.number} still holds a sample photo."
            yield _finding(sheet, "sample_photo", "stop", opening.id, sentence)


def sample_words(sheet: Resolved) -> Findings:
    """No words that came with the template are left in."""
    for drawn, layer in _texts(sheet):
        if layer.sample and not drawn.own_words:
            words = " ".join(layer.text.split())
            sentence = f"“{words[:40]}” is still the template's sample text."
            yield _finding(sheet, "sample_words", "look", layer.id, sentence)


def _texts(sheet: Resolved) -> Iterator[tuple[Drawn, Text]]:
    for drawn in sheet.drawn:
        if isinstance(drawn.layer, Text) and drawn.layer.visible:
            yield drawn, drawn.layer


def ragged_edge(sheet: Resolved) -> Findings:
    """Each side of an opening's box lies safely inside the trim, or runs out to the bleed."""
    layout = sheet.layout
    for drawn, opening in _seen(sheet):
        points = [
            opening.page_from_opening.apply(
                outlines.cut_short(polygon, 1.0) if opening.surface.kind in ("grid", "roll") else polygon
            )
            for polygon in opening.outline.polygons()
        ]
        left, top, right, bottom = outlines.bounds(points)
        for side, inside in (
            ("left", left), ("top", top), ("right", layout.width_mm - right), ("bottom", layout.height_mm - bottom),
        ):  # fmt: skip
            # A hundredth of a millimetre is drawing noise, not a distance.
            if -layout.bleed_mm + 0.01 < inside < layout.safe_mm - 0.01:
                where = f"{inside:.1f} mm inside the trim" if inside >= 0 else f"{-inside:.1f} mm outside the trim"
                sentence = (
                    f"The {side} edge of opening {drawn.number} lies {where}: it will be cut raggedly. "
                    f"Keep it {layout.safe_mm:g} mm inside or run it {layout.bleed_mm:g} mm out."
                )
                yield _finding(
                    sheet, "ragged_edge", "look", opening.id, sentence, measured=round(inside, 3), limit=layout.safe_mm
                )


def same_photo_twice(sheet: Resolved) -> Findings:
    """No photo lies in two openings of the sheet, or on an earlier sheet as well."""
    first: dict[str, int] = {}
    told: set[str] = set()
    for drawn, opening in _seen(sheet):
        if drawn.photo is None or (drawn.span and drawn.span in told):
            continue  # one photo runs on through a span: it counts where the span begins
        told.add(drawn.span)
        photo = drawn.photo.id
        where = f"opening {first[photo]}" if photo in first else sheet.earlier.get(photo)
        if where:
            sentence = f"Opening {drawn.number} holds the same photo as {where}."
            yield _finding(sheet, "same_photo_twice", "look", opening.id, sentence)
        first.setdefault(photo, drawn.number)


_WHAT = {"face": "a face", "hand": "what was marked to keep", "subject": "what seems to be the subject"}


def keep_cut(sheet: Resolved) -> Findings:
    """What must stay visible lies within the outline, clear of the trim, gutter, fold and of what lies above.

    A photo that runs on through a span is cut by the gaps between its openings on purpose.
    """
    for drawn, opening in _seen(sheet):
        if drawn.photo is None or drawn.placement is None or drawn.span:
            continue
        lost = cuts(sheet.layout, opening, drawn.photo, drawn.placement)
        if not lost:
            continue
        area, share = max(lost, key=lambda found: (found[0].kind != "subject", found[1]))
        surmised = area.kind == "subject"
        if surmised and share < 0.5:
            continue
        more = f" and {len(lost) - 1} more" if len(lost) > 1 else ""
        sentence = f"Opening {drawn.number} cuts off {max(1, round(100 * share))} % of {_WHAT[area.kind]}{more}."
        yield _finding(
            sheet, "keep_cut", "note" if surmised else "look", opening.id, sentence, measured=round(share, 3), limit=0.0
        )


def words_overset(sheet: Resolved) -> Findings:
    """All words fit their boxes, in letters their fonts have."""
    for drawn, layer in _texts(sheet):
        setting = set_text(layer, drawn.words)
        called = layer.name or layer.id
        if setting.overset:
            sentence = f"The words of {called} do not fit their box: shorten them."
            yield _finding(sheet, "words_overset", "stop", layer.id, sentence)
        if setting.missing:
            sentence = f"{layer.font} has no letter for {' '.join(setting.missing)} in {called}."
            yield _finding(sheet, "words_overset", "stop", layer.id, sentence)


RULES: tuple[Callable[[Resolved], Findings], ...] = (
    empty_opening, too_few_pixels, sample_photo, sample_words, ragged_edge, same_photo_twice, keep_cut, words_overset,
)  # fmt: skip
_ORDER = {"stop": 0, "look": 1, "note": 2}


def check(sheet: Resolved, rules: tuple[Callable[[Resolved], Findings], ...] = RULES) -> list[Finding]:
    """All findings of a sheet: stops first."""
    found: list[Finding] = []
    for rule in rules:
        try:
            found += rule(sheet)
        except Exception as error:
            sentence = f"Not checked: the rule {rule.__name__} failed ({error})."
            found.append(_finding(sheet, rule.__name__, "stop", "", sentence))
    return sorted(found, key=lambda f: _ORDER[f.severity])


def check_job(job: Job, edition: str = "") -> list[Finding]:
    """All findings of an edition: stops first, then in order of sheets."""
    found = [finding for sheet in resolved_sheets(job, edition) for finding in check(sheet)]
    return sorted(found, key=lambda f: _ORDER[f.severity])
