"""Filling edits: what lies on one sheet in one edition. Filling -> Filling, given the sheet and the pile."""

from ..document import Accepted, Filling, Opening, Placement, Span
from ..errors import EditRefused
from ..fitting import (
    check_flat,
    clamp_placement,
    first_placement,
    keep_areas_visible,
    member_placement,
    members,
    opening_around,
    span_placement,
)
from .kinds import Accept, Clear, KeepInView, Nudge, Pin, Place, Put, Reopen, SpanOver, Unspan, Write
from .lookups import OnSheet
from .naming import count
from .table import EditRule, Table


def _span_of(on: OnSheet, opening: str) -> tuple[str, Span, list[Opening]] | None:
    span = on.filling.span_of(opening)
    return (*span, members(on.layout, span[1])) if span else None


def _replace_span(on: OnSheet, identity: str, span: Span) -> Filling:
    return on.filling.copy_with(spans={**on.filling.spans, identity: span})


def put_photo(on: OnSheet, edit: Put) -> Filling:
    opening, photo = on.opening(edit.opening), on.photo(edit.photo)
    on.check_photo(opening.id, edit.expect)
    spanned = _span_of(on, opening.id)
    if spanned:
        identity, span, together = spanned
        lies = first_placement(on.layout, opening_around(together), photo)
        filling = _replace_span(on, identity, span.copy_with(placement=lies, nudged={}))
        return filling.copy_with(tones=on.tones(dict.fromkeys(span.openings, photo.id)))
    return on.replace_placements({opening.id: first_placement(on.layout, opening, photo)}, by_hand=True)


def place(on: OnSheet, edit: Place) -> Filling:
    opening = on.opening(edit.opening)
    on.check_photo(opening.id, edit.expect)
    spanned = _span_of(on, opening.id)
    held = spanned[1].placement if spanned else on.filling.placements.get(opening.id)
    if held is None:
        raise EditRefused("This opening is empty.", "Put a photo into it first.")
    photo = on.photo(held.photo)
    lies = held.copy_with(
        fit=edit.fit, centre=edit.centre, zoom=edit.zoom, turn_deg=(edit.turn_deg + 180) % 360 - 180,
        mirror=edit.mirror, ratio=edit.ratio,
    )  # fmt: skip
    if spanned:
        identity, span, together = spanned
        if edit.fit != "cover" or edit.ratio is not None:
            raise EditRefused("A photo that runs on through several openings covers them.", "End the span first.")
        return _replace_span(
            on, identity, span.copy_with(placement=span_placement(span, together, opening, photo, lies))
        )
    return on.replace_placements({opening.id: clamp_placement(opening, photo, lies)}, by_hand=True)


def clear_opening(on: OnSheet, edit: Clear) -> Filling:
    openings = [on.opening(opening).id for opening in edit.openings]
    if not any(on.filling.photo_in(opening) for opening in openings):
        raise EditRefused("There is nothing to clear: the opening is empty.")
    left: dict[str, Span] = {}
    lies: dict[str, Placement | None] = dict.fromkeys(openings, None)
    for identity, ran in on.filling.spans.items():
        rest = [opening for opening in members(on.layout, ran) if opening.id not in openings]
        if not set(ran.openings) & set(openings):
            left[identity] = ran
        elif len(rest) > 1:
            left[identity] = _shorten_span(on, ran, rest)
        elif rest:  # alone it shows what it showed
            photo = on.photo(ran.placement.photo)
            lies[rest[0].id] = member_placement(ran, members(on.layout, ran), rest[0], photo)
    return on.replace_placements(lies).copy_with(spans=left)


def _shorten_span(on: OnSheet, ran: Span, rest: list[Opening]) -> Span:
    """A span of fewer openings, in each of which the photo lies as it lay."""
    photo = on.photo(ran.placement.photo)
    shows = member_placement(ran, members(on.layout, ran), rest[0], photo)
    nudged = {k: by for k, by in ran.nudged.items() if any(opening.id == k for opening in rest)}
    fewer = ran.copy_with(openings=tuple(opening.id for opening in rest), nudged=nudged)
    return fewer.copy_with(placement=span_placement(fewer, rest, rest[0], photo, shows))


def pin(on: OnSheet, edit: Pin) -> Filling:
    openings = [on.opening(opening).id for opening in edit.openings]
    pins = [opening for opening in on.filling.pins if opening not in openings]
    return on.filling.copy_with(pins=tuple(dict.fromkeys(pins + openings if edit.pinned else pins)))


def keep_in_view(on: OnSheet, edit: KeepInView) -> Filling:
    changes: dict[str, Placement | None] = {}
    for identity in edit.openings:
        opening = on.opening(identity)
        held = on.placement_of(opening.id)
        if held and not on.filling.span_of(opening.id):
            changes[opening.id] = keep_areas_visible(on.layout, opening, on.photo(held.photo), held)
    return on.replace_placements(changes).copy_with(by_hand=on.filling.by_hand)


def check_unspanned(on: OnSheet, opening: Opening) -> None:
    """Raises EditRefused for an opening of a span."""
    if on.filling.span_of(opening.id):
        raise EditRefused(f"{opening.name or opening.id} shows part of a photo that runs on.", "End the span first.")


def span(on: OnSheet, edit: SpanOver) -> Filling:
    openings = [on.opening(opening) for opening in dict.fromkeys(edit.openings)]
    if len(openings) < 2:
        raise EditRefused("A photo runs on through two openings at least.", "Select another one as well.")
    for opening in openings:
        check_flat(opening)
        check_unspanned(on, opening)
    photo = edit.photo or next((held for o in openings if (held := on.filling.photo_in(o.id))), None)
    if photo is None:
        raise EditRefused("These openings are all empty.", "Put the photo into one of them first.")
    lies = first_placement(on.layout, opening_around(openings), on.photo(photo))
    number = next(n for n in range(1, 10_000) if f"span-{n}" not in on.filling.spans)
    new_span = Span(openings=tuple(o.id for o in openings), placement=lies)
    left = {k: v for k, v in on.filling.placements.items() if k not in new_span.openings}
    spans, tones = {**on.filling.spans, f"span-{number}": new_span}, on.tones(dict.fromkeys(new_span.openings, photo))
    return on.filling.copy_with(placements=left, spans=spans, tones=tones)


def unspan(on: OnSheet, edit: Unspan) -> Filling:
    spanned = _span_of(on, on.opening(edit.opening).id)
    if not spanned:
        raise EditRefused("This opening is in no span.")
    identity, ended, together = spanned
    photo = on.photo(ended.placement.photo)
    shown: dict[str, Placement | None] = {o.id: member_placement(ended, together, o, photo) for o in together}
    return on.replace_placements(shown).copy_with(spans={k: v for k, v in on.filling.spans.items() if k != identity})


def nudge(on: OnSheet, edit: Nudge) -> Filling:
    spanned = on.filling.span_of(on.opening(edit.opening).id)
    if not spanned:
        raise EditRefused("This opening is in no span.")
    identity, span = spanned
    nudged = {k: v for k, v in span.nudged.items() if k != edit.opening}
    if edit.by != (0.0, 0.0):
        nudged[edit.opening] = edit.by
    return _replace_span(on, identity, span.copy_with(nudged=nudged))


def write(on: OnSheet, edit: Write) -> Filling:
    layer = on.text(edit.layer)
    if layer.content_locked:
        raise EditRefused(f"The words {layer.name or layer.id} are locked by their template.")
    texts = {k: v for k, v in on.filling.texts.items() if k != layer.id}
    runs = {k: v for k, v in on.filling.runs.items() if k != layer.id}
    asked_runs = edit.runs or ()
    for style in {run.style for run in asked_runs if run.style} - on.layout.styles.keys():
        raise EditRefused(f"There is no style {style} on this sheet.", "Add it, or choose another.")
    for colour in {run.colour for run in asked_runs if run.colour and run.colour.startswith("swatch ")}:
        if colour not in on.layout.named_colours:
            raise EditRefused(f"There is no {colour} on this sheet.", "Add it, or choose another colour.")
    if edit.text is not None:
        texts[layer.id] = edit.text
        if runs_left := tuple(run for run in asked_runs if run.start < len(edit.text)):
            runs[layer.id] = runs_left
    return on.filling.copy_with(texts=texts, runs=runs)


def accept(on: OnSheet, edit: Accept) -> Filling:
    name, reason = edit.name.strip(), edit.reason.strip()
    if not name or not reason:
        raise EditRefused("A finding is accepted with a name and a reason.", "Say who accepts it, and why.")
    fresh = tuple(
        Accepted(rule=f.rule, layer=f.layer, sentence=f.sentence, name=name, reason=reason) for f in edit.findings
    )
    named = {accepted.finding_key for accepted in fresh}
    return on.filling.copy_with(accepted=(*(a for a in on.filling.accepted if a.finding_key not in named), *fresh))


def reopen(on: OnSheet, edit: Reopen) -> Filling:
    named = {(f.rule, f.layer, f.sentence) for f in edit.findings}
    accepted = tuple(a for a in on.filling.accepted if a.finding_key not in named)
    if len(accepted) == len(on.filling.accepted):
        raise EditRefused("This finding was not accepted.", "It may have been reopened meanwhile.")
    return on.filling.copy_with(accepted=accepted)


EDITS: Table = {
    Put: EditRule(put_photo, lambda name, edit: f"put a photo into {name.openings(edit.sheet, edit.opening)}"),
    Place: EditRule(place, lambda name, edit: f"fit photo in {name.openings(edit.sheet, edit.opening)}"),
    Clear: EditRule(clear_opening, lambda name, edit: f"clear {name.openings(edit.sheet, *edit.openings)}"),
    Pin: EditRule(
        pin, lambda name, edit: f"{'pin' if edit.pinned else 'unpin'} {name.openings(edit.sheet, *edit.openings)}"
    ),
    KeepInView: EditRule(
        keep_in_view, lambda name, edit: f"show keep areas in frame in {name.openings(edit.sheet, *edit.openings)}"
    ),
    SpanOver: EditRule(span, lambda name, edit: f"run one photo through {name.openings(edit.sheet, *edit.openings)}"),
    Unspan: EditRule(unspan, lambda name, edit: f"end the span of {name.openings(edit.sheet, edit.opening)}"),
    Nudge: EditRule(nudge, lambda name, edit: f"nudge {name.openings(edit.sheet, edit.opening)}"),
    Write: EditRule(write, lambda name, edit: f"write {name.layer(edit.sheet, edit.layer)}"),
    Accept: EditRule(accept, lambda _, edit: f"accept {count(len(edit.findings), 'finding')}"),
    Reopen: EditRule(reopen, lambda _, edit: f"reopen {count(len(edit.findings), 'finding')}"),
}
