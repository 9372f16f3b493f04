"""The studio card: the studio's own name, addresses, logo and colours."""

from fastapi import APIRouter, Response

from ..core.document import StudioCard
from ..core.edits.apply import apply
from ..core.edits.kinds import TakeCard
from ..core.errors import NotFound, SutaruError
from ..core.formats.assets import read_asset
from .stores import InParts
from .studio import InStudio

router = APIRouter(prefix="/api/studio-card", tags=["studio card"])


@router.get("")
def card(studio: InStudio) -> StudioCard:
    """The card as it is now."""
    return studio.card.get()


@router.get("/logo/{asset}.svg", response_class=Response)
def logo(parts: InParts, asset: str) -> Response:
    """A drawing that was brought in, as it is: cleaned, so that it runs and fetches nothing."""
    picture = read_asset(parts.asset(asset))
    if picture.kind != "drawing":
        raise NotFound("This is no drawing.", "Choose an SVG.")
    return Response(picture.data, media_type="image/svg+xml")


@router.put("")
def keep(studio: InStudio, card: StudioCard) -> StudioCard:
    """Keeps the card. Jobs begun from now on have it, and templates in the workshop at once; an order under way keeps the one
    it began with until it is given this one (the edit ``take_card``)."""
    traced = read_asset(studio.parts.asset(card.logo)).traced.get("alpha", "") if card.logo else ""
    card_kept = card.copy_with(traced=traced)
    studio.card.keep(card_kept)
    for job in studio.jobs.list_workshop():
        try:
            head = studio.jobs.edit(job, lambda now: (apply(now, TakeCard(card=card_kept)), "take the studio card"))
            studio.events.say("job", job, seq=head.seq)
        except SutaruError:
            continue  # it cannot be read: it says so on the shelf
    studio.events.say("card", "")
    return card_kept
