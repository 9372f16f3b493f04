"""Parts, ledgers and pictures, each under a name that never means anything else: all may be kept for ever."""

import re
from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from fastapi.concurrency import run_in_threadpool

from ..core.checks import Measured, Places
from ..core.colour.proofing import View as ProofView
from ..core.document import Layout
from ..core.errors import FileRefused, NotFound
from ..core.fitting import cost, ppi_picture
from ..core.formats.assets import Asset, read_asset
from ..core.limits import OVERLAY_BYTES, PICTURE_SIDE
from .description import upload
from .jobs import Has
from .models.parts import PartNames, PartsOf
from .models.photos import PpiCell, Ranked
from .models.templates import AssetKept
from .pictures import FOR_EVER, answer_picture
from .sheets import Picture, proof_of
from .stores import InParts, InSheets
from .studio import InStudio, Studio
from .uploads import receive

router = APIRouter(prefix="/api", tags=["parts"])


@router.get("/parts/{kind}/{name}", response_model=PartsOf)
def part(parts: InParts, kind: str, name: str) -> Response:
    """One stored part by its name, under its kind: ``layouts``, ``fillings``, ``editions``, ``sheets``, ``piles``,
    ``chunks`` (of piles), ``labs``."""
    if kind not in PartsOf.model_fields:
        raise NotFound("These parts were not found.")
    try:
        data = parts.fetch(name)
    except FileRefused as error:
        raise NotFound(error.sentence, error.remedy) from None
    return Response(b'{"%s":{"%s":%s}}' % (kind.encode(), name.encode(), data), media_type="application/json",
                    headers=FOR_EVER)  # fmt: skip


@router.post("/parts/{kind}", response_model=PartsOf)
def parts(parts: InParts, kind: str, request: PartNames) -> Response:
    """Several stored parts of a kind at once."""
    if kind not in PartsOf.model_fields:
        raise NotFound("These parts were not found.")
    data_by_name = {name: parts.fetch(name) for name in request.names if re.fullmatch("[0-9a-f]{32}", name)}
    body = b",".join(b'"%s":%s' % (name.encode(), data) for name, data in data_by_name.items())
    return Response(b'{"%s":{%s}}' % (kind.encode(), body), media_type="application/json")


@router.get("/layouts/{name}/places", response_model=Places)
def places(studio: InStudio, name: str) -> Response:
    """Where the openings and echoes of a layout lie."""
    try:
        layout = studio.parts.kept.get(name) or Layout.model_validate_json(studio.parts.fetch(name))
    except FileRefused as error:
        raise NotFound(error.sentence, error.remedy) from None
    if not isinstance(layout, Layout):
        raise NotFound("This layout was not found.")
    return Response(studio.sheets.places(layout), media_type="application/json", headers=FOR_EVER)


@router.get("/drawn/{key}/measured", response_model=Measured)
def get_measured(sheets: InSheets, key: str) -> Response:
    """The ledger and findings of a sheet by its key."""
    return Response(sheets.measure(key), media_type="application/json", headers=FOR_EVER)


@router.get("/drawn/{key}/picture", response_class=Response)
async def picture(
    studio: InStudio, request: Request, key: str, width: int = 1600, notes: bool = False, mending: bool = True,
    proof: ProofView | None = None,
) -> Response:  # fmt: skip
    """A sheet by its key, as JPEG ``width`` px wide (bleed included).

    ``notes``: with numbers and guide notes. ``mending``: off shows the photos as they came. ``proof``: as the lab's press
    prints it, or what of it the press cannot reach, where there is too much ink, one plate alone.
    """
    width = min(max(width, 60), PICTURE_SIDE)

    def paint() -> Picture:
        if proof and proof not in proof_of(studio.sheets.drawing(key).job.lab, studio.parts.asset).views:
            raise NotFound("This press has no inks to be seen apart.", "Look at its paper instead.")
        return studio.sheets.picture(key, width, notes, mending, proof)

    kept_picture = studio.sheets.get_kept_picture(key, width, notes, mending, proof)
    if kept_picture is None:
        kept_picture = await studio.turns.paint(request, paint)
    return answer_picture(kept_picture)


@router.get("/jobs/{job}/sheets/{sheet}/openings/{opening}/ranked")
def rank_photos(
    studio: InStudio, job: str, sheet: str, opening: str, edition: Has = "",
    limit: Annotated[int, Query(ge=1, le=100)] = 9,
) -> list[Ranked]:  # fmt: skip
    """The photos of the pile that fit an opening best, unused ones first."""
    document = studio.jobs.head(job).job
    layout, hole = _opening(studio, job, sheet, opening)
    try:
        filled = document.edition(edition)
    except KeyError:
        raise NotFound("This edition was not found in this job.", "Choose another.") from None
    used = {photo for filling in filled.fillings.values() for photo in filling.photos()}
    ranked = [Ranked(photo=p.id, cost=cost(layout, hole, p, document.lab), used=p.id in used) for p in document.photos]
    return sorted(ranked, key=lambda r: (r.used, r.cost))[:limit]


@router.get("/drawn/{key}/openings/{opening}/ppi")
def ppi(sheets: InSheets, key: str, opening: str) -> list[PpiCell]:
    """What an opening of a sheet prints at, place by place; nothing when it is empty."""
    opening_drawn = sheets.drawing(key).resolve().by_id.get(opening)
    if opening_drawn is None or opening_drawn.layer.kind != "opening":
        raise NotFound("This opening was not found.", "Choose one of the ledger's.")
    if opening_drawn.photo is None or opening_drawn.placement is None:
        return []
    cells = ppi_picture(opening_drawn.layer, opening_drawn.photo, opening_drawn.placement)
    return [
        PpiCell(points=[(x, y) for x, y in points.round(3).tolist()], ppi=round(value, 1)) for points, value in cells
    ]


def _opening(studio: Studio, job: str, sheet: str, opening: str):  # type: ignore[no-untyped-def]
    entry = studio.jobs.head(job).job.sheets_by_id.get(sheet)
    if entry is None or opening not in entry.layout.openings_by_id:
        raise NotFound("This opening was not found.", "Choose one of the ledger's.")
    return entry.layout, entry.layout.openings_by_id[opening]


@router.post(
    "/assets",
    status_code=201,
    openapi_extra=upload(
        "A mask, drawing, picture, font or press profile.",
        "image/png",
        "image/svg+xml",
        "image/jpeg",
        "font/ttf",
        "font/otf",
        "application/vnd.iccprofile",
    ),
)
async def keep_asset(studio: InStudio, request: Request) -> AssetKept:
    """Keeps a mask (PNG), a drawing (SVG), a picture (PNG, JPEG), a font (TTF, OTF) or a press profile (ICC),
    the request's body, and says what it is. Edits name it from then on."""
    path = await receive(studio, request.stream(), OVERLAY_BYTES, "This file")
    try:
        asset = await run_in_threadpool(lambda: studio.door.asset("This file", read_asset, path.read_bytes()))
        await run_in_threadpool(studio.parts.add_assets, [asset.data])
    finally:
        path.unlink(missing_ok=True)
    return _describe_asset(asset)


@router.get("/assets/{name}")
def asset(parts: InParts, name: str) -> AssetKept:
    """What a kept mask or drawing is."""
    data = read_asset(parts.asset(name))
    return _describe_asset(data)


def _describe_asset(asset: Asset) -> AssetKept:
    return AssetKept(
        name=asset.name,
        kind=asset.kind,
        width=asset.width,
        height=asset.height,
        ratio=asset.ratio,
        traced=asset.traced,
        family=asset.family,
        profile=asset.profile,
    )
