"""What can be wrong with photos in their openings."""

from ..document import GOES_ON, Echo
from ..fitting import (
    Resolved,
    cuts,
    distortion,
    free_outlines_on_page,
    ppi_through,
    printed_ppi,
    shown_area_mm2,
)
from .finding import Findings, Severity, finding_of, openings_of


def empty_opening(sheet: Resolved) -> Findings:
    """Every opening holds a photo."""
    for drawn, opening in openings_of(sheet):
        if drawn.photo is None:
            yield finding_of(sheet, "empty_opening", "stop", opening.id, f"Opening {drawn.number} is empty.")


def too_few_pixels(sheet: Resolved) -> Findings:
    """Effective ppi reaches the lab sheet's target; below its least is a stop."""
    lab = sheet.lab
    for drawn, opening in openings_of(sheet):
        if drawn.photo is None or drawn.placement is None:
            continue
        ppi = printed_ppi(drawn)
        shown = f"{ppi:.0f} ppi"
        if ppi < lab.ppi_least:
            sentence = f"Opening {drawn.number} would print at {shown}; {lab.name} takes no less than {lab.ppi_least}."
            yield finding_of(sheet, "too_few_pixels", "stop", opening.id, sentence, measured=ppi, limit=lab.ppi_least)
        elif ppi < lab.ppi_target:
            sentence = f"Opening {drawn.number} prints at {shown}, below the {lab.ppi_target} that {lab.name} asks for."
            yield finding_of(sheet, "too_few_pixels", "look", opening.id, sentence, measured=ppi, limit=lab.ppi_target)


STRETCHED = 1.05  # the eye takes less in a face for its own proportions; common practice, no source


def stretched_photo(sheet: Resolved) -> Findings:
    """No opening stretches its photo further than the eye overlooks."""
    for drawn, opening in openings_of(sheet):
        if drawn.photo is None:
            continue
        stretch = distortion(opening)
        if stretch > STRETCHED:
            sentence = f"Opening {drawn.number} stretches its photo {stretch:.2f} : 1."
            yield finding_of(sheet, "stretched_photo", "look", opening.id, sentence, measured=stretch, limit=STRETCHED)


def sample_photo(sheet: Resolved) -> Findings:
    """No photo that came with the template is left in."""
    for drawn, opening in openings_of(sheet):
        if drawn.photo and drawn.photo.sample:
            sentence = f"Opening {drawn.number} still holds a sample photo."
            yield finding_of(sheet, "sample_photo", "stop", opening.id, sentence)


def same_photo_twice(sheet: Resolved) -> Findings:
    """No photo lies in two openings of the sheet, or on an earlier sheet as well."""
    first: dict[str, int] = {}
    reported: set[str] = set()
    for drawn, opening in openings_of(sheet):
        if drawn.photo is None or (drawn.span and drawn.span in reported):
            continue  # one photo runs on through a span: it counts where the span begins
        reported.add(drawn.span)
        photo = drawn.photo.id
        where = f"opening {first[photo]}" if photo in first else sheet.earlier.get(photo)
        if where:
            sentence = f"Opening {drawn.number} holds the same photo as {where}."
            yield finding_of(sheet, "same_photo_twice", "look", opening.id, sentence)
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
    free = {opening.id: retouching.free_subjects for drawn, opening in openings_of(sheet)
            if drawn.recipe and (retouching := drawn.recipe.retouching)}  # fmt: skip
    standing = {
        opening.id: free_outlines_on_page(opening, drawn.photo, drawn.placement, free[opening.id])
        for drawn, opening in openings_of(sheet) if drawn.photo and drawn.placement and free.get(opening.id)
    }  # fmt: skip
    for drawn, opening in openings_of(sheet):
        if drawn.photo is None or drawn.placement is None or drawn.span:
            continue
        above = [p for other, hides in standing.items() if order[other] > order[opening.id] for p in hides]
        lost = cuts(sheet.layout_with_words, opening, drawn.photo, drawn.placement, free.get(opening.id, ()), above)
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
        yield finding_of(sheet, "keep_cut", severity, opening.id, sentence, measured=round(share, 3), limit=limit)


def strips_left(sheet: Resolved) -> Findings:
    """What a placement leaves of its opening shows nothing: cropped to another ratio, or the photo shown whole."""
    for drawn, opening in openings_of(sheet):
        if drawn.photo is None or drawn.placement is None:
            continue
        whole, open_mm2 = drawn.placement.fit == "whole", opening.outline.area_mm2
        if not whole and drawn.placement.ratio is None:
            continue
        shows = shown_area_mm2(opening, drawn.photo, drawn.placement)
        if shows > 0.995 * open_mm2:
            continue
        how = "The whole photo" if whole else f"The crop to {_ratio(drawn.placement.ratio or 1)}"
        left = 1 - shows / open_mm2
        sentence = f"{how} leaves {max(1, round(100 * left))} % of opening {drawn.number} without a picture."
        # A photo is shown whole on purpose; that a crop leaves strips is easily overlooked.
        severity: Severity = "note" if whole else "look"
        yield finding_of(sheet, "strips_left", severity, opening.id, sentence, measured=round(left, 3), limit=0.005)


def goes_on(sheet: Resolved) -> Findings:
    """A photo that goes on beyond its own edges was looked at by a person."""
    for drawn, opening in openings_of(sheet):
        if drawn.photo is None or drawn.placement is None or drawn.placement.fit not in GOES_ON:
            continue
        cropped = 1 - shown_area_mm2(opening, drawn.photo, drawn.placement) / opening.outline.area_mm2
        if cropped > 0.005:
            share = max(1, round(100 * cropped))
            how = "mirrored" if drawn.placement.fit == "continued" else "with its own texture"
            sentence = f"In {share} % of opening {drawn.number} its photo goes on {how}: look whether it may."
            yield finding_of(sheet, "goes_on", "look", opening.id, sentence, measured=round(cropped, 3), limit=0.005)


def _ratio(ratio: float) -> str:
    for a in range(1, 33):
        if abs(ratio * a - round(ratio * a)) < 0.004 * a:
            return f"{round(ratio * a)}:{a}"
    return f"{ratio:.2f}:1"


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
            yield finding_of(sheet, "echo_pixels", "look", layer.id, sentence, measured=ppi, limit=sheet.lab.ppi_least)


def profile_passed_over(sheet: Resolved) -> Findings:
    """Every photo's colours are known: its profile could be used."""
    for drawn, opening in openings_of(sheet):
        if drawn.photo and drawn.photo.profile_unusable:
            profile = drawn.photo.profile
            sentence = (
                f"The profile of opening {drawn.number}'s photo ({profile}) cannot be used: its colours are taken as sRGB."
                if profile
                else f"The colour profile in opening {drawn.number}'s photo is damaged; its colours are taken as sRGB."
            )
            yield finding_of(sheet, "profile_passed_over", "look", opening.id, sentence)


def spots_left_out(sheet: Resolved) -> Findings:
    """Every photo is printed in all of its inks."""
    for drawn, opening in openings_of(sheet):
        if drawn.photo and drawn.photo.spots:
            count = "a channel" if drawn.photo.spots == 1 else f"{drawn.photo.spots} channels"
            what = f"{count} beside its four inks, such as a spot colour"
            sentence = f"Opening {drawn.number}'s photo has {what}: that is not printed."
            yield finding_of(sheet, "spots_left_out", "look", opening.id, sentence)
