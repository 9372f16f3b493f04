"""Retouching: parts of a photo large and exact while it is retouched, and what the machine proposes for it."""

from typing import Annotated

import numpy as np
from fastapi import APIRouter, Query, Request, Response
from numpy.typing import NDArray
from pydantic import ConfigDict, Field, TypeAdapter, ValidationError

from ..core.colour.profiles import convert_to_screen
from ..core.document import Cover, Cut, Eye, Filling, Photo, Recipe, Retouching, Stroke, Touch, Upright, WhiteBalance
from ..core.document.base import Identity
from ..core.document.photo import PhotoId
from ..core.document.recipe import Step
from ..core.document.retouching import Place
from ..core.errors import FileRefused, NotFound
from ..core.mending import apply_recipe, detect_upright, select_subject
from ..core.mending.touch_proposals import LOOKED_PX, What, choose_covers, eye_at, grey_at, propose_touches
from ..core.press.raster import jpeg_bytes
from .messages import Message
from .pictures import FOR_EVER
from .studio import InStudio, Studio
from .tiles import LEVELS

router = APIRouter(prefix="/api", tags=["retouching"])
_STEPS: TypeAdapter[tuple[Step, ...]] = TypeAdapter(tuple[Step, ...], config=ConfigDict(defer_build=True))
PartName = Annotated[str, Query(pattern=r"^([0-9a-f]{32})?$")]


def _photo(studio: Studio, identity: str) -> Photo:
    facts = studio.photos.facts([identity])
    if identity not in facts:
        raise NotFound("This photo was not found.", "Bring it in first.")
    return facts[identity]


def _find_retouching(studio: Studio, everywhere: str, filling: str, opening: str) -> Retouching | None:
    """What a photo is retouched by: the stored touches of this name, and over them an opening's own."""
    try:
        under = Recipe(retouching=_part(studio, everywhere, Retouching)) if everywhere else Recipe()
        recipe = _part(studio, filling, Filling).tones.get(opening) if filling else None
    except (FileRefused, ValidationError) as error:
        raise NotFound("This state of the photo is not at hand any more.", "Ask for the job again.") from error
    return (recipe.lay_over(under) if recipe else under).retouching


def _part(studio: Studio, name: str, kind):  # type: ignore[no-untyped-def]
    kept_part = studio.parts.kept.get(name)
    if not isinstance(kept_part, kind):
        kept_part = studio.parts.kept[name] = kind.model_validate_json(studio.parts.fetch(name))
    return kept_part


@router.get("/photos/{photo}/tiles/{level}/{x}/{y}", response_class=Response)
async def tile(
    studio: InStudio, request: Request, photo: PhotoId, level: int, x: int, y: int, everywhere: PartName = "",
    filling: PartName = "", opening: Annotated[str, Query(max_length=64)] = "",
    steps: Annotated[str, Query(max_length=20_000)] = "",
) -> Response:  # fmt: skip
    """A tile of 512 px of a photo, JPEG. Level 0 is pixel for pixel, each further one half as large.

    ``everywhere``: name of the stored touches it has wherever it lies; ``filling`` and ``opening``: whose own come over them.
    ``steps``: its tone, as JSON.
    """
    if not (0 <= level < LEVELS and x >= 0 and y >= 0):
        raise NotFound("This part of the photo does not exist.")
    try:
        tone = _STEPS.validate_json(steps) if steps else ()
    except ValidationError:
        raise NotFound("These are no steps of tone.") from None

    def paint() -> bytes:
        recipe = Recipe(steps=tone).copy_with(retouching=_find_retouching(studio, everywhere, filling, opening))
        pixels = studio.tiles.tile(_photo(studio, photo), level, x, y, recipe)
        return jpeg_bytes(convert_to_screen(pixels, "srgb"), 93, "444")

    return Response(await studio.tile_turns.paint(request, paint), media_type="image/jpeg", headers=FOR_EVER)


@router.get("/photos/{photo}/mended/picture", response_class=Response)
async def get_mended_picture(
    studio: InStudio, request: Request, photo: PhotoId, everywhere: PartName = "", filling: PartName = "",
    opening: Annotated[str, Query(max_length=64)] = "", steps: Annotated[str, Query(max_length=20_000)] = "",
    upright: Annotated[str, Query(max_length=300)] = "", long_px: Annotated[int, Query(ge=100, le=1400)] = 1400,
) -> Response:  # fmt: skip
    """All of a photo, mended and ``upright`` (JSON), as JPEG of ``long_px`` along its longer side; the rest as for a tile."""
    try:
        tone = _STEPS.validate_json(steps) if steps else ()
        stands = Upright.model_validate_json(upright) if upright else None
    except ValidationError:
        raise NotFound("This is no way to mend a photo.") from None

    def paint() -> bytes:
        recipe = Recipe(steps=tone, upright=stands).copy_with(
            retouching=_find_retouching(studio, everywhere, filling, opening)
        )
        pixels = studio.tiles.picture(_photo(studio, photo), long_px, recipe)
        return jpeg_bytes(convert_to_screen(pixels, "srgb"), 90)

    return Response(await studio.tile_turns.paint(request, paint), media_type="image/jpeg", headers=FOR_EVER)


class Looking(Message):
    """A photo as it is looked at: with the stored touches of this name, and over them an opening's own."""

    everywhere: Annotated[str, Field(pattern=r"^([0-9a-f]{32})?$")] = ""
    filling: Annotated[str, Field(pattern=r"^([0-9a-f]{32})?$")] = ""
    opening: Annotated[str, Field(max_length=64)] = ""

    def read_pixels(self, studio: Studio, photo: Photo, scale: float) -> NDArray[np.uint8]:
        """Its pixels, all of it."""
        return studio.tiles.read_whole(
            photo, scale, _find_retouching(studio, self.everywhere, self.filling, self.opening)
        )


class Covering(Looking):
    """Touches whose source is to be found."""

    touches: Annotated[tuple[Cover, ...], Field(min_length=1, max_length=300)]


class Proposing(Looking):
    """What is to be looked for."""

    what: What


class Pointed(Looking):
    """A place of the photo."""

    at: Place
    id: Identity = "eye"
    steps: tuple[Step, ...] = ()


@router.post("/photos/{photo}/covered")
def find_covers(studio: InStudio, photo: PhotoId, request: Covering) -> list[Cover]:
    """Touches with the place found that each is best covered from."""
    known = _photo(studio, photo)
    least = min(_touch_width(touch) for touch in request.touches) * max(known.width, known.height)
    return list(
        choose_covers(request.read_pixels(studio, known, min(1.0, max(1 / 8, 24 / max(least, 1)))), request.touches)
    )


def _touch_width(touch: Cover) -> float:
    """How wide a touch is at least, of the longer side, about."""
    if touch.area.kind == "stroke":
        return 2 * touch.area.radius
    return float(min(max(p[n] for p in touch.area.points) - min(p[n] for p in touch.area.points) for n in (0, 1)))


@router.post("/photos/{photo}/proposed")
def proposals(studio: InStudio, photo: PhotoId, request: Proposing) -> list[Touch]:
    """Touches that take away dust, blemishes inside faces, or a flash in the eyes, as they are proposed; none is done."""
    known = _photo(studio, photo)
    image = request.read_pixels(studio, known, min(1.0, LOOKED_PX / max(known.width, known.height)))
    return list(propose_touches(image, known, request.what))


class Cutting(Looking):
    """A rough stroke on what is to be cut out; or on what is to come to one that was ``begun``, or to go ``away`` from it."""

    stroke: Stroke
    begun: Cut | None = None
    away: bool = False


@router.post("/photos/{photo}/cut")
def cut_subject(studio: InStudio, photo: PhotoId, request: Cutting) -> Cut:
    """The subject that a rough stroke passes over, cut out of its backdrop."""
    known = _photo(studio, photo)
    image = request.read_pixels(studio, known, min(1.0, 420 / max(known.width, known.height)))
    subject = select_subject(image, request.stroke, request.begun, request.away)
    if subject is None:
        raise NotFound("Nothing is told apart from its backdrop here.", "Draw along the middle of the subject.")
    return subject


@router.post("/photos/{photo}/eye")
def eye(studio: InStudio, photo: PhotoId, request: Pointed) -> Eye:
    """The touch that takes a flash out of the eye about a place."""
    known = _photo(studio, photo)
    touch = eye_at(request.read_pixels(studio, known, 1.0), request.at, request.id)
    if touch is None:
        raise NotFound("No eye that a flash made red or green is here.", "Click into the coloured pupil.")
    return touch


@router.post("/photos/{photo}/upright")
def find_upright(studio: InStudio, photo: PhotoId) -> Upright:
    """How the camera is turned back so that the upright lines of a photo are."""
    known = _photo(studio, photo)
    upright = detect_upright(studio.tiles.read_whole(known, min(1.0, 1000 / max(known.width, known.height)), None))
    if upright is None:
        raise NotFound("Too few upright lines agree in this photo.", "Set it by the dials.")
    return upright


@router.post("/photos/{photo}/grey")
def grey(studio: InStudio, photo: PhotoId, request: Pointed) -> WhiteBalance:
    """The white balance that makes a place grey, after the steps that go before it."""
    known = _photo(studio, photo)
    image = request.read_pixels(studio, known, min(1.0, 1400 / max(known.width, known.height)))
    return grey_at(apply_recipe(image, Recipe(steps=request.steps), known.found), request.at)
