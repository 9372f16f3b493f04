"""The studio card: the studio's own name, addresses, logo and colours."""

from fastapi import APIRouter, Response

from ..core.document import StudioCard
from ..core.edits.apply import apply
from ..core.edits.kinds import TakeCard
from ..core.errors import EditRefused, NotFound, SutaruError
from ..core.formats.assets import Asset, read_asset
from .stores import InParts
from .studio import InStudio

MEDIA_TYPES = {b"<s": "image/svg+xml", b"\x89P": "image/png", b"\xff\xd8": "image/jpeg"}  # by how the file begins
router = APIRouter(prefix="/api/studio-card", tags=["studio card"])


@router.get("")
def card(studio: InStudio) -> StudioCard:
    """The card as it is now."""
    return studio.card.get()


@router.get("/logo/{asset}", response_class=Response)
def logo(parts: InParts, asset: str) -> Response:
    """A drawing or picture that was brought in, as it is; a drawing cleaned, so that it runs and fetches nothing."""
    picture = read_asset(parts.asset(asset))
    if picture.data[:2] not in MEDIA_TYPES:
        raise NotFound("This is no picture.", "Choose a logo as SVG, PNG or JPEG.")
    return Response(picture.data, media_type=MEDIA_TYPES[picture.data[:2]])


@router.put("")
def keep(studio: InStudio, card: StudioCard) -> StudioCard:
    """Keeps the card. Jobs begun from now on have it, and templates in the workshop at once; an order under way keeps the one
    it began with until it is given this one (the edit ``take_card``)."""
    card_kept = card.copy_with(traced="", logo_ratio=0.0)
    if card.logo:
        picture = _read_logo(studio.parts.asset(card.logo))
        is_drawing = picture.kind == "drawing"
        card_kept = card_kept.copy_with(
            traced=picture.traced["alpha"] if is_drawing else "",
            logo_ratio=0.0 if is_drawing else picture.width / picture.height,
        )
    studio.card.keep(card_kept)
    for job in studio.jobs.list_workshop():
        try:
            head = studio.jobs.edit(job, lambda now: (apply(now, TakeCard(card=card_kept)), "take the studio card"))
            studio.events.say("job", job, seq=head.seq)
        except SutaruError:
            continue  # it cannot be read: it says so on the shelf
    studio.events.say("card", "")
    return card_kept


def _read_logo(data: bytes) -> Asset:
    picture = read_asset(data)
    if picture.data[:2] not in MEDIA_TYPES:
        raise EditRefused("This is no picture.", "Choose a logo as SVG, PNG or JPEG.")
    return picture
