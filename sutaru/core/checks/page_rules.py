"""What can be wrong with a page as it is cut, bound or counted."""

from ..arranging.aligning import page_box
from ..document import Opening, Overlay, PagePicture, Text
from ..fitting import (
    Resolved,
)
from ..geometry import outlines
from ..geometry.matrices import apply
from ..words import set_text
from ..words.calendars import add_months
from .finding import Findings, Severity, finding_of, openings_of, texts_of


def ragged_edge(sheet: Resolved) -> Findings:
    """Each side of an opening's box lies safely inside the trim, or runs out to the bleed."""
    layout = sheet.layout
    for drawn, opening in openings_of(sheet):
        points = [
            opening.page_from_opening.apply(
                outlines.split_long_sides(polygon, 1.0) if opening.surface.kind in ("grid", "roll") else polygon
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
                yield finding_of(
                    sheet, "ragged_edge", "look", opening.id, sentence, measured=round(inside, 3), limit=layout.safe_mm
                )


def ragged_border(sheet: Resolved) -> Findings:
    """No edge of a border runs along the trim: it would be cut thicker on one side than on the other."""
    layout = sheet.layout
    for drawn, opening in openings_of(sheet):
        border = opening.border
        if border is None or opening.surface.kind != "flat":
            continue
        edges = outlines.grow_polygons(list(opening.outline.polygons()), -border.within_mm)
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
                yield finding_of(
                    sheet,
                    "ragged_border",
                    "look",
                    opening.id,
                    sentence,
                    measured=round(inside, 3),
                    limit=layout.safe_mm,
                )


def dates_fall_out(sheet: Resolved) -> Findings:
    """What date grids show fits its cells, in letters their fonts have, within the trim; and a month is said."""
    layout = sheet.layout
    shown = {drawn.part_of for drawn in sheet.drawn}
    for grid in layout.grids:
        if not grid.visible:
            continue
        called = grid.name or "the dates"
        if grid.id not in shown:
            yield finding_of(sheet, "no_month", "stop", grid.id, f"No month is said for {called}.")
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
            yield finding_of(sheet, "dates_overset", "stop", grid.id, sentence, measured=float(len(out)), limit=0.0)
        if missing := "".join(sorted({letter for _, setting in laid for letter in setting.missing})):
            sentence = f"No font here has a letter for {' '.join(missing)} in {called}."
            yield finding_of(sheet, "words_overset", "stop", grid.id, sentence)
        corners = apply(grid.page_from_box, outlines.flatten(outlines.rectangle(grid.width_mm, grid.height_mm), 1)[0])
        left, top, right, bottom = outlines.bounds([corners])
        inside = min(left, top, layout.width_mm - right, layout.height_mm - bottom)
        if inside < layout.safe_mm - 0.01:
            severity: Severity = "stop" if inside < -0.01 else "look"
            where = f"{inside:.1f} mm from the trim" if inside >= 0 else f"{-inside:.1f} mm over the trim"
            sentence = f"The edge of {called} lies {where}. Keep dates {layout.safe_mm:g} mm inside."
            yield finding_of(
                sheet, "words_cut", severity, grid.id, sentence, measured=round(inside, 3), limit=layout.safe_mm
            )


def months_in_order(sheet: Resolved) -> Findings:
    """Each month of a calendar comes after the one before it."""
    before, month = sheet.months
    if (
        before
        and month
        and sheet.layout.grids
        and add_months((int(before[:4]), int(before[5:])), 1) != (int(month[:4]), int(month[5:]))
    ):
        yield finding_of(
            sheet, "month_out_of_order", "look", "", f"{sheet.name} comes after {before} in this calendar."
        )


def no_format(sheet: Resolved) -> Findings:
    """A page that is bound into no book has a size that its lab prints."""
    lab, wide, high = sheet.lab, sheet.layout.width_mm, sheet.layout.height_mm
    if lab.any_size or not lab.blanks or sheet.bound is not None or lab.formats(wide, high):
        return
    near = lab.nearest(wide, high)
    sentence = (
        f"{lab.name} does not print this size ({wide:.1f} mm x {high:.1f} mm). The nearest is {near.name}: lay the sheet out in "
        "another size in the workshop, or choose another lab sheet."
    )
    yield finding_of(sheet, "no_format", "stop", "", sentence)


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
        yield finding_of(sheet, "little_bleed", "stop", "", sentence, measured=layout.bleed_mm, limit=wanted)


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
    yield finding_of(sheet, "page_count", "stop", "", sentence, measured=float(pages), limit=float(wanted))


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
        yield finding_of(sheet, "empty_page", "look", "", sentence)


def spread_split(sheet: Resolved) -> Findings:
    """The two pages of a spread lie opposite each other."""
    bound = sheet.bound
    if bound is None or bound.role != "spread":
        return
    left = 1 if bound.binding.kind == "lay_flat" else 0
    if bound.first_page % 2 != left:
        sentence = f"{sheet.name} would begin on a right page: its two pages would not lie opposite each other."
        yield finding_of(sheet, "spread_split", "stop", "", sentence + " Move a page alone elsewhere.")


def spine_words(sheet: Resolved) -> Findings:
    """Words stand only on a spine that is wide enough for them."""
    edges = sorted(line.at_mm for line in sheet.layout.lines if line.kind == "spine" and line.axis == "x")
    if sheet.bound is None or len(edges) < 2:
        return
    wide, least = edges[-1] - edges[0], sheet.bound.binding.words_from_mm
    for drawn, layer in texts_of(sheet):
        if drawn.words and edges[0] - 1 <= layer.centre[0] <= edges[-1] + 1 and wide < least - 1e-6:
            sentence = (
                f"The spine is {wide:.1f} mm wide: {sheet.bound.binding.name} takes words on it from {least:g} mm. "
                f"Take {layer.name or 'them'} away, or add pages."
            )
            yield finding_of(sheet, "spine_words", "stop", layer.id, sentence, measured=round(wide, 3), limit=least)
