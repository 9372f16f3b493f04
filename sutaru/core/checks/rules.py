"""Checks before print. One rule per function, one table of rules; each looks at a sheet as it is drawn and yields findings.

A rule that fails to look is reported as not checked, never as passed.
"""

from collections.abc import Callable, Iterator
from typing import Annotated, Literal

from pydantic import Field

from ..arranging import page_box
from ..document import GOES_ON, Accepted, Echo, Job, Opening, Overlay, PagePicture, Text
from ..document.base import Frozen, unsaid
from ..fitting import (
    Drawn,
    Fonts,
    Resolved,
    cuts,
    ppi_through,
    printed_ppi,
    resolved_sheets,
    shown_area,
    standing_on_page,
)
from ..geometry import outlines
from ..geometry.matrices import apply
from ..words import known, set_text
from ..words.calendars import after

Severity = Literal["stop", "look", "note"]


class Finding(Frozen):
    """What a check found, where, what was measured and what it was measured against.

    ``severity`` is how it counts: one grade less than ``found`` once somebody has ``accepted`` it, as they say why.
    ``edition``: whose it is, where findings of several are told together.
    """

    rule: str
    severity: Severity
    sheet: str
    layer: str = ""
    sentence: str
    measured: float | None = None
    limit: float | None = None
    found: Severity = "note"
    accepted: Accepted | None = None
    edition: Annotated[str, Field(exclude_if=unsaid)] = ""


Findings = Iterator[Finding]


def _seen(sheet: Resolved) -> Iterator[tuple[Drawn, Opening]]:
    for drawn in sheet.openings:
        if isinstance(drawn.layer, Opening) and drawn.layer.visible:
            yield drawn, drawn.layer


def _finding(sheet: Resolved, rule: str, severity: Severity, layer: str, sentence: str, **more: float) -> Finding:
    return Finding(
        rule=rule, severity=severity, found=severity, sheet=sheet.sheet, layer=layer, sentence=sentence, **more
    )


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
        ppi = printed_ppi(drawn)
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
        if layer.sample and not drawn.own_words and drawn.words:
            words = " ".join(layer.text.split())
            sentence = f"“{words[:40]}” is still the template's sample text."
            yield _finding(sheet, "sample_words", "stop", layer.id, sentence)


_SAID_OF = {"mail": "mail address", "web": "web address"}


def empty_words(sheet: Resolved) -> Findings:
    """Where the template shows sample words something is written."""
    for drawn, layer in _texts(sheet):
        if layer.sample and not drawn.own_words and not drawn.words and layer.text:
            yield _finding(
                sheet, "empty_words", "look", layer.id, f"Nothing is written in {layer.name or 'a box of words'} yet."
            )


def fields_said(sheet: Resolved) -> Findings:
    """All that words name in braces is said: by the studio card, the job, the sheet or its photos."""
    for drawn, layer in _texts(sheet):
        called = layer.name or "words here"
        card = [name[7:] for name in drawn.unsaid if name.startswith("studio.")]
        if card:
            what = " and ".join(_SAID_OF.get(name, name) for name in card)
            sentence = f"The studio card says no {what}, which {called} would show."
            yield _finding(sheet, "studio_card", "look", layer.id, sentence)
        other = [f"{{{name}}}" for name in drawn.unsaid if not name.startswith("studio.")]
        if other:
            sentence = f"Nothing is said of {' and '.join(other)}, which {called} would show."
            yield _finding(sheet, "field_unsaid", "look", layer.id, sentence)
        if drawn.unknown:
            named = " and ".join(f"{{{name}}}" for name in drawn.unknown)
            sentence = f"{called[0].upper()}{called[1:]} names {named}, which nobody knows: it prints as it stands."
            yield _finding(sheet, "field_unknown", "look", layer.id, sentence)


def _texts(sheet: Resolved) -> Iterator[tuple[Drawn, Text]]:
    for drawn in sheet.drawn:
        if isinstance(drawn.layer, Text) and drawn.layer.visible and not drawn.part_of:
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


FACE_CUT = 0.1  # share of a face, or of what was marked by hand, that makes a reprint when it is cut off
_ABOUT = {
    "face": "a head, not of its face",
    "hand": "what was marked to keep",
    "subject": "what seems to be the subject",
}
_WHAT = {"face": "a face", "hand": "what was marked to keep", "subject": "what seems to be the subject"}


def keep_cut(sheet: Resolved) -> Findings:
    """What must stay visible lies within the outline, clear of the trim, gutter, fold and of what lies above.

    A photo that runs on through a span is cut by the gaps between its openings on purpose.
    """
    order = {layer.id: n for n, layer in enumerate(sheet.layout.leaves)}
    free = {opening.id: retouching.free for drawn, opening in _seen(sheet)
            if drawn.recipe and (retouching := drawn.recipe.retouching)}  # fmt: skip
    standing = {
        opening.id: standing_on_page(opening, drawn.photo, drawn.placement, free[opening.id])
        for drawn, opening in _seen(sheet) if drawn.photo and drawn.placement and free.get(opening.id)
    }  # fmt: skip
    for drawn, opening in _seen(sheet):
        if drawn.photo is None or drawn.placement is None or drawn.span:
            continue
        above = [p for other, hides in standing.items() if order[other] > order[opening.id] for p in hides]
        lost = cuts(sheet.worded, opening, drawn.photo, drawn.placement, free.get(opening.id, ()), above)
        if not lost:
            continue
        worst = max(lost, key=lambda cut: (cut.area.kind != "subject", cut.of_face, cut.share))
        surmised = worst.area.kind == "subject"
        if surmised and worst.share < 0.5:
            continue
        severity: Severity = "note" if surmised else "stop" if worst.of_face > FACE_CUT else "look"
        more = f" and {len(lost) - 1} more" if len(lost) > 1 else ""
        # What is said of a face is its own share; where only hair is cut, the head's.
        share, what = (
            (worst.of_face, _WHAT[worst.area.kind]) if worst.of_face > 0.005 else (worst.share, _ABOUT[worst.area.kind])
        )
        sentence = f"Opening {drawn.number} cuts off {max(1, round(100 * share))} % of {what}{more}."
        limit = FACE_CUT if severity == "stop" else 0.0
        yield _finding(sheet, "keep_cut", severity, opening.id, sentence, measured=round(share, 3), limit=limit)


def strips_left(sheet: Resolved) -> Findings:
    """What a placement leaves of its opening shows nothing: cropped to another ratio, or the photo shown whole."""
    for drawn, opening in _seen(sheet):
        if drawn.photo is None or drawn.placement is None:
            continue
        whole, open_mm2 = drawn.placement.fit == "whole", opening.outline.area_mm2
        if not whole and drawn.placement.ratio is None:
            continue
        shows = shown_area(opening, drawn.photo, drawn.placement)
        if shows > 0.995 * open_mm2:
            continue
        how = "The whole photo" if whole else f"The crop to {_ratio(drawn.placement.ratio or 1)}"
        left = 1 - shows / open_mm2
        sentence = f"{how} leaves {max(1, round(100 * left))} % of opening {drawn.number} without a picture."
        # A photo is shown whole on purpose; that a crop leaves strips is easily overlooked.
        severity: Severity = "note" if whole else "look"
        yield _finding(sheet, "strips_left", severity, opening.id, sentence, measured=round(left, 3), limit=0.005)


def goes_on(sheet: Resolved) -> Findings:
    """A photo that goes on beyond its own edges was looked at by a person."""
    for drawn, opening in _seen(sheet):
        if drawn.photo is None or drawn.placement is None or drawn.placement.fit not in GOES_ON:
            continue
        made = 1 - shown_area(opening, drawn.photo, drawn.placement) / opening.outline.area_mm2
        if made > 0.005:
            share = max(1, round(100 * made))
            how = "mirrored" if drawn.placement.fit == "continued" else "with its own texture"
            sentence = f"In {share} % of opening {drawn.number} its photo goes on {how}: look whether it may."
            yield _finding(sheet, "goes_on", "look", opening.id, sentence, measured=round(made, 3), limit=0.005)


def _ratio(ratio: float) -> str:
    for a in range(1, 33):
        if abs(ratio * a - round(ratio * a)) < 0.004 * a:
            return f"{round(ratio * a)}:{a}"
    return f"{ratio:.2f}:1"


def ragged_border(sheet: Resolved) -> Findings:
    """No edge of a border runs along the trim: it would be cut thicker on one side than on the other."""
    layout = sheet.layout
    for drawn, opening in _seen(sheet):
        border = opening.border
        if border is None or opening.surface.kind != "flat":
            continue
        edges = outlines.grown(list(opening.outline.polygons()), -border.within_mm)
        if not edges:
            continue
        left, top, right, bottom = outlines.bounds([opening.page_from_opening.apply(p) for p in edges])
        outer = outlines.bounds([opening.page_from_opening.apply(p) for p in opening.outline.polygons()])
        for side, inside, out in (
            ("left", left, outer[0]), ("top", top, outer[1]),
            ("right", layout.width_mm - right, layout.width_mm - outer[2]),
            ("bottom", layout.height_mm - bottom, layout.height_mm - outer[3]),
        ):  # fmt: skip
            # Where the opening's own edge is ragged that is said already.
            if -0.01 < inside < layout.safe_mm - 0.01 and out <= -layout.bleed_mm + 0.01:
                sentence = (
                    f"The border of opening {drawn.number} is {inside:.1f} mm wide at the {side} after trimming: "
                    f"the cut will show. Make it at least {layout.safe_mm + layout.bleed_mm:g} mm, or none."
                )
                yield _finding(
                    sheet,
                    "ragged_border",
                    "look",
                    opening.id,
                    sentence,
                    measured=round(inside, 3),
                    limit=layout.safe_mm,
                )


def words_cut(sheet: Resolved) -> Findings:
    """All words lie within the trim, clear of it by the safe distance."""
    layout = sheet.layout
    for drawn, layer in _texts(sheet):
        path = set_text(layer, drawn.words, drawn.runs, drawn.brought).path
        if not path:
            continue
        left, top, right, bottom = outlines.bounds(
            [apply(layer.page_from_box, p) for p in outlines.flatten(path, 0.05)]
        )
        inside = min(left, top, layout.width_mm - right, layout.height_mm - bottom)
        called = f"“{' '.join(drawn.words.split())[:30]}”"
        if inside < -0.01:
            sentence = f"{called} reaches {-inside:.1f} mm over the trim: it will be cut off."
            yield _finding(sheet, "words_cut", "stop", layer.id, sentence, measured=round(inside, 3), limit=0.0)
        elif inside < layout.safe_mm - 0.01:
            sentence = f"{called} lies {inside:.1f} mm from the trim. Keep words {layout.safe_mm:g} mm inside."
            limit = layout.safe_mm
            yield _finding(sheet, "words_cut", "look", layer.id, sentence, measured=round(inside, 3), limit=limit)


def echo_too_few_pixels(sheet: Resolved) -> Findings:
    """An echo shows its photo with no fewer pixels than the lab's least, as far as it shows it sharply."""
    for drawn in sheet.drawn:
        layer = drawn.layer
        if not (isinstance(layer, Echo) and layer.visible and drawn.source and drawn.photo and drawn.placement):
            continue
        if layer.soften_mm > 0 or (layer.how == "reflection" and layer.opacity < 1):
            continue  # softened or faint on purpose
        onto = layer.page_from_source(drawn.source)
        ppi = ppi_through(onto, drawn.source, drawn.photo, drawn.placement)
        if ppi < sheet.lab.ppi_least:
            number = sheet.by_id[drawn.source.id].number
            sentence = (
                f"The {layer.how} of opening {number} would print at {ppi:.0f} ppi; "
                f"{sheet.lab.name} takes no less than {sheet.lab.ppi_least}."
            )
            yield _finding(sheet, "echo_pixels", "look", layer.id, sentence, measured=ppi, limit=sheet.lab.ppi_least)


def profile_passed_over(sheet: Resolved) -> Findings:
    """Every photo's colours are known: its profile could be used."""
    for drawn, opening in _seen(sheet):
        if drawn.photo and drawn.photo.profile_unusable:
            sentence = (
                f"The colour profile in opening {drawn.number}'s photo is damaged; its colours are taken as sRGB."
            )
            yield _finding(sheet, "profile_passed_over", "look", opening.id, sentence)


def words_overset(sheet: Resolved) -> Findings:
    """All words fit their boxes, in letters their fonts have."""
    for drawn, layer in _texts(sheet):
        setting = set_text(layer, drawn.words, drawn.runs, drawn.brought)
        called = layer.name or layer.id
        if setting.overset:
            sentence = f"The words of {called} do not fit their box: shorten them."
            yield _finding(sheet, "words_overset", "stop", layer.id, sentence)
        if setting.missing:
            sentence = f"No font here has a letter for {' '.join(setting.missing)} in {called}."
            yield _finding(sheet, "words_overset", "stop", layer.id, sentence)
        if setting.borrowed:
            sentence = f"{layer.font} has no {' '.join(setting.borrowed)}: another font lends it in {called}."
            yield _finding(sheet, "letters_lent", "look", layer.id, sentence)
        brought = {own.name for own in drawn.brought}
        for font in dict.fromkeys((layer.font, *(run.font for run in drawn.runs if run.font))):
            if not known(font) and font not in brought:
                sentence = f"The font {font} of {called} is not here: Lato stands in for it."
                yield _finding(sheet, "font_missing", "stop", layer.id, sentence)


def dates_fall_out(sheet: Resolved) -> Findings:
    """What date grids show fits its cells, in letters their fonts have, within the trim; and a month is said."""
    layout = sheet.layout
    shown = {drawn.part_of for drawn in sheet.drawn}
    for grid in layout.grids:
        if not grid.visible:
            continue
        called = grid.name or "the dates"
        if grid.id not in shown:
            yield _finding(sheet, "no_month", "stop", grid.id, f"No month is said for {called}.")
            continue
        parts = [(drawn, drawn.layer) for drawn in sheet.drawn if drawn.part_of == grid.id]
        laid = [
            (drawn, set_text(layer, drawn.words, (), drawn.brought))
            for drawn, layer in parts
            if isinstance(layer, Text)
        ]
        out = [drawn.words for drawn, setting in laid if setting.overset]
        if out:
            more = f" and {len(out) - 1} more" if len(out) > 1 else ""
            words = " ".join(out[0].split())
            sentence = f"“{words[:40]}”{more} does not fit its day in {called}: shorten it, or make the grid larger."
            yield _finding(sheet, "dates_overset", "stop", grid.id, sentence, measured=float(len(out)), limit=0.0)
        if missing := "".join(sorted({letter for _, setting in laid for letter in setting.missing})):
            sentence = f"No font here has a letter for {' '.join(missing)} in {called}."
            yield _finding(sheet, "words_overset", "stop", grid.id, sentence)
        corners = apply(grid.page_from_box, outlines.flatten(outlines.rectangle(grid.width_mm, grid.height_mm), 1)[0])
        left, top, right, bottom = outlines.bounds([corners])
        inside = min(left, top, layout.width_mm - right, layout.height_mm - bottom)
        if inside < layout.safe_mm - 0.01:
            severity: Severity = "stop" if inside < -0.01 else "look"
            where = f"{inside:.1f} mm from the trim" if inside >= 0 else f"{-inside:.1f} mm over the trim"
            sentence = f"The edge of {called} lies {where}. Keep dates {layout.safe_mm:g} mm inside."
            yield _finding(
                sheet, "words_cut", severity, grid.id, sentence, measured=round(inside, 3), limit=layout.safe_mm
            )


def months_in_order(sheet: Resolved) -> Findings:
    """Each month of a calendar comes after the one before it."""
    before, own = sheet.months
    if (
        before
        and own
        and sheet.layout.grids
        and after((int(before[:4]), int(before[5:])), 1) != (int(own[:4]), int(own[5:]))
    ):
        yield _finding(sheet, "month_out_of_order", "look", "", f"{sheet.name} comes after {before} in this calendar.")


def no_format(sheet: Resolved) -> Findings:
    """A page that is bound into no book has a size that its lab prints."""
    lab, wide, high = sheet.lab, sheet.layout.width_mm, sheet.layout.height_mm
    if lab.any_size or not lab.blanks or sheet.bound is not None or lab.formats(wide, high):
        return
    near = lab.nearest(wide, high)
    sentence = (
        f"{wide:.1f} mm x {high:.1f} mm is no format of {lab.name}. The nearest is {near.name}: lay the sheet out in "
        "another size in the workshop, or choose another lab sheet."
    )
    yield _finding(sheet, "no_format", "stop", "", sentence)


def little_bleed(sheet: Resolved) -> Findings:
    """A page bleeds as far as the lab's format of its size wants."""
    lab, layout = sheet.lab, sheet.layout
    formats = lab.formats(layout.width_mm, layout.height_mm)
    if sheet.bound is not None or not formats or not lab.bleeds:
        return
    wanted = min(blank.bleed_mm for blank in formats)
    if layout.bleed_mm < wanted - 0.05:
        sentence = (
            f"This sheet bleeds {layout.bleed_mm:.1f} mm; {formats[0].name} of {lab.name} wants {wanted:.1f} mm. "
            "Give the sheet more in the workshop."
        )
        yield _finding(sheet, "little_bleed", "stop", "", sentence, measured=layout.bleed_mm, limit=wanted)


def page_count(sheet: Resolved) -> Findings:
    """A book has a number of pages that its lab binds; said on its cover."""
    bound = sheet.bound
    if bound is None or bound.role != "cover":
        return
    binding, pages = bound.binding, bound.pages
    wanted = binding.bindable(pages)
    if wanted == pages:
        return
    do = f"Add {wanted - pages} pages." if wanted > pages else f"Take {pages - wanted} away."
    sentence = (
        f"{pages} pages cannot be bound: {binding.name} takes {binding.least} to {binding.most}, "
        f"in steps of {binding.multiple}. {do}"
    )
    yield _finding(sheet, "page_count", "stop", "", sentence, measured=float(pages), limit=float(wanted))


def empty_page(sheet: Resolved) -> Findings:
    """Every page inside a book shows something."""
    if sheet.bound is None or sheet.bound.role not in ("page", "spread"):
        return
    layout = sheet.layout
    middle = layout.width_mm / 2 if sheet.bound.role == "spread" else layout.width_mm
    shown: set[int] = set()
    for opening in (layer for layer in layout.leaves if isinstance(layer, Opening | Overlay | PagePicture)):
        if opening.visible:
            box = page_box(opening)
            shown |= {int(box.left > middle - 1), int(box.right > middle + 1)}
    pages = [sheet.bound.first_page + n for n in range(2 if sheet.bound.role == "spread" else 1) if n not in shown]
    if pages:
        what = "Page" if len(pages) == 1 else "Pages"
        sentence = f"{what} {' and '.join(map(str, pages))} {'shows' if len(pages) == 1 else 'show'} no photo."
        yield _finding(sheet, "empty_page", "look", "", sentence)


def spread_split(sheet: Resolved) -> Findings:
    """The two pages of a spread lie opposite each other."""
    bound = sheet.bound
    if bound is None or bound.role != "spread":
        return
    left = 1 if bound.binding.kind == "lay_flat" else 0
    if bound.first_page % 2 != left:
        sentence = f"{sheet.name} would begin on a right page: its two pages would not lie opposite each other."
        yield _finding(sheet, "spread_split", "stop", "", sentence + " Move a page alone elsewhere.")


def spine_words(sheet: Resolved) -> Findings:
    """Words stand only on a spine that is wide enough for them."""
    edges = sorted(line.at_mm for line in sheet.layout.lines if line.kind == "spine" and line.axis == "x")
    if sheet.bound is None or len(edges) < 2:
        return
    wide, least = edges[-1] - edges[0], sheet.bound.binding.words_from_mm
    for drawn, layer in _texts(sheet):
        if drawn.words and edges[0] - 1 <= layer.centre[0] <= edges[-1] + 1 and wide < least - 1e-6:
            sentence = (
                f"The spine is {wide:.1f} mm wide: {sheet.bound.binding.name} takes words on it from {least:g} mm. "
                f"Take {layer.name or 'them'} away, or add pages."
            )
            yield _finding(sheet, "spine_words", "stop", layer.id, sentence, measured=round(wide, 3), limit=least)


RULES: tuple[Callable[[Resolved], Findings], ...] = (
    empty_opening, too_few_pixels, echo_too_few_pixels, sample_photo, sample_words, empty_words, fields_said,
    ragged_edge, ragged_border,
    same_photo_twice, keep_cut, strips_left, goes_on, words_overset, words_cut, dates_fall_out, months_in_order,
    no_format, little_bleed, page_count, empty_page, spread_split, spine_words, profile_passed_over,
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
    accepted = {entry.of: entry for entry in sheet.accepted}
    graded = [_graded(finding, accepted.get((finding.rule, finding.layer, finding.sentence))) for finding in found]
    return sorted(graded, key=lambda f: _ORDER[f.severity])


def _graded(finding: Finding, accepted: Accepted | None) -> Finding:
    """A finding as it counts. An accepted stop still wants a look: it is never in order."""
    if accepted is None:
        return finding
    less: dict[Severity, Severity] = {"stop": "look", "look": "note", "note": "note"}
    return finding.having(severity=less[finding.found], accepted=accepted)


def check_job(job: Job, edition: str = "", fonts: Fonts | None = None) -> list[Finding]:
    """All findings of an edition: stops first, then in order of sheets."""
    found = [finding for sheet in resolved_sheets(job, edition, fonts) for finding in check(sheet)]
    return sorted(found, key=lambda f: _ORDER[f.severity])
