"""Edits of what lies in openings: put, place, swap, clear, fill, pin, span."""

from ..document import Job, Opening, Placement, Span
from ..errors import EditRefused
from ..fitting import about_all, assigned, clamped, first_placement, kept_placement, lies_flat, span_placement
from . import asked
from .kinds import Clear, Fill, KeepInView, Nudge, Pin, Place, Put, SpanOver, Swap, Unspan


def _first(job: Job, opening: Opening, photo: str) -> Placement:
    return first_placement(asked.page(job, opening.id), opening, asked.photo(job, photo))


def _span_of(job: Job, opening: str) -> tuple[str, Span, list[Opening]] | None:
    found = job.span_of(opening)
    return (*found, [job.openings_by_id[o] for o in found[1].openings]) if found else None


def _respanned(job: Job, identity: str, span: Span) -> Job:
    return asked.edition(job, spans={**job.edition.spans, identity: span})


def put(job: Job, edit: Put) -> Job:
    opening, photo = asked.opening(job, edit.opening), asked.photo(job, edit.photo)
    spanned = _span_of(job, opening.id)
    if spanned:
        identity, span, members = spanned
        lies = first_placement(asked.page(job, opening.id), about_all(members), photo)
        return _respanned(job, identity, span.having(placement=lies, nudged={}))
    return asked.placed(job, {opening.id: _first(job, opening, photo.id)})


def place(job: Job, edit: Place) -> Job:
    opening = asked.opening(job, edit.opening)
    held = job.edition.placements.get(opening.id)
    if held is None:
        raise EditRefused("This opening is empty.", "Put a photo into it first.")
    photo = asked.photo(job, held.photo)
    lies = held.having(
        fit=edit.fit, centre=edit.centre, zoom=edit.zoom, turn_deg=(edit.turn_deg + 180) % 360 - 180,
        mirror=edit.mirror, ratio=edit.ratio,
    )  # fmt: skip
    spanned = _span_of(job, opening.id)
    if spanned:
        identity, span, members = spanned
        if edit.fit == "whole" or edit.ratio is not None:
            raise EditRefused("A photo that runs on through several openings covers them.", "End the span first.")
        return _respanned(job, identity, span.having(placement=span_placement(span, members, opening, photo, lies)))
    return asked.placed(job, {opening.id: clamped(opening, photo, lies)})


def _apart(job: Job, opening: Opening) -> None:
    if job.span_of(opening.id):
        raise EditRefused(f"{opening.name or opening.id} shows part of a photo that runs on.", "End the span first.")


def swap(job: Job, edit: Swap) -> Job:
    first, second = asked.opening(job, edit.first), asked.opening(job, edit.second)
    if first.id == second.id:
        raise EditRefused("A photo cannot be swapped with itself.", "Choose two openings.")
    held, tones = job.edition.placements, job.edition.tones
    if first.id not in held and second.id not in held:
        raise EditRefused("Both openings are empty.", "Put a photo into one of them first.")
    for opening in (first, second):
        _apart(job, opening)

    def moved(onto: Opening, placement: Placement | None) -> Placement | None:
        if placement is None:
            return None
        if edit.keep_fit:
            return clamped(onto, asked.photo(job, placement.photo), placement)
        return _first(job, onto, placement.photo)

    # What was mended goes along with the photo.
    both = {first.id: second.id, second.id: first.id}
    mended = {both.get(opening, opening): recipe for opening, recipe in tones.items()}
    exchanged = asked.edition(job, tones=mended)
    return asked.placed(
        exchanged, {first.id: moved(first, held.get(second.id)), second.id: moved(second, held.get(first.id))}
    )


def clear(job: Job, edit: Clear) -> Job:
    openings = [asked.opening(job, opening).id for opening in edit.openings]
    if not job.edition.placements.keys() & set(openings):
        raise EditRefused("There is nothing to clear: the opening is empty.")
    ended = {k: span for k, span in job.edition.spans.items() if set(span.openings) & set(openings)}
    openings += [opening for span in ended.values() for opening in span.openings]
    left = asked.edition(job, spans={k: v for k, v in job.edition.spans.items() if k not in ended})
    return asked.placed(left, dict.fromkeys(openings, None))


def fill(job: Job, edit: Fill) -> Job:
    held, wanted = job.edition.placements, edit.openings
    stay = {*job.edition.pins, *(o for span in job.edition.spans.values() for o in span.openings)}
    if wanted is not None:
        for identity in wanted:
            asked.opening(job, identity)
    openings = [
        o for o in job.openings_by_id.values()
        if not o.locked and o.id not in stay and (wanted is None or o.id in wanted)
    ]  # fmt: skip
    if edit.only_empty:
        openings = [o for o in openings if o.id not in held]
        if not openings:
            raise EditRefused("No opening is empty.")
    if not openings:
        raise EditRefused("Every opening is pinned.", "Let one go first.")
    # What lies in an opening that stays is not used a second time.
    used = {p.photo for o, p in held.items() if o not in {opening.id for opening in openings}}
    photos = [p for p in job.photos if p.id not in used]
    # Sample photos are for looking at a template; they are used only where there is nothing else.
    own = [photo for photo in photos if not photo.sample] or photos
    if not own:
        raise EditRefused("There is no unused photo in the pile.", "Bring photos in first.")
    places = [(asked.page(job, o.id), o) for o in openings]
    pairs = assigned(places, own, job.lab, keep_order=edit.how == "order")
    changes: dict[str, Placement | None] = dict.fromkeys((o.id for o in openings), None)
    changes |= {opening.id: first_placement(page, opening, photo) for (page, opening), photo in pairs}
    return asked.placed(job, changes)


def pin(job: Job, edit: Pin) -> Job:
    openings = [asked.opening(job, opening).id for opening in edit.openings]
    kept = [opening for opening in job.edition.pins if opening not in openings]
    return asked.edition(job, pins=tuple(kept + openings if edit.pinned else kept))


def keep_in_view(job: Job, edit: KeepInView) -> Job:
    changes: dict[str, Placement | None] = {}
    for identity in edit.openings:
        opening = asked.opening(job, identity)
        held = job.edition.placements.get(opening.id)
        if held and not job.span_of(opening.id):
            page, photo = asked.page(job, opening.id), asked.photo(job, held.photo)
            changes[opening.id] = kept_placement(page, opening, photo, held)
    return asked.placed(job, changes)


def span(job: Job, edit: SpanOver) -> Job:
    openings = [asked.opening(job, opening) for opening in dict.fromkeys(edit.openings)]
    if len(openings) < 2:
        raise EditRefused("A photo runs on through two openings at least.", "Select another one as well.")
    page = asked.page(job, openings[0].id)
    for opening in openings:
        lies_flat(opening)
        _apart(job, opening)
        if asked.page(job, opening.id) is not page:
            raise EditRefused("A photo cannot run on over two sheets.", "Select openings of one page.")
    held = job.edition.placements
    photo = edit.photo or next((held[o.id].photo for o in openings if o.id in held), None)
    if photo is None:
        raise EditRefused("These openings are all empty.", "Put the photo into one of them first.")
    lies = first_placement(page, about_all(openings), asked.photo(job, photo))
    number = next(n for n in range(1, 10_000) if f"span-{n}" not in job.edition.spans)
    return _respanned(job, f"span-{number}", Span(openings=tuple(o.id for o in openings), placement=lies))


def unspan(job: Job, edit: Unspan) -> Job:
    spanned = job.span_of(asked.opening(job, edit.opening).id)
    if not spanned:
        raise EditRefused("This opening is in no span.")
    return asked.edition(job, spans={k: v for k, v in job.edition.spans.items() if k != spanned[0]})


def nudge(job: Job, edit: Nudge) -> Job:
    spanned = job.span_of(asked.opening(job, edit.opening).id)
    if not spanned:
        raise EditRefused("This opening is in no span.")
    identity, found = spanned
    nudged = {k: v for k, v in found.nudged.items() if k != edit.opening}
    if edit.by != (0.0, 0.0):
        nudged[edit.opening] = edit.by
    return _respanned(job, identity, found.having(nudged=nudged))
