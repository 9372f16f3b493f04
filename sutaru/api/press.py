"""The press: what profiles there are, and what one makes of a place of a sheet."""

from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from fastapi.concurrency import run_in_threadpool
from pydantic import ValidationError

from ..core.colour.output import PRESSES
from ..core.colour.profiles import describe_profile, profile_bytes
from ..core.colour.proofing import Figures
from ..core.document import LabSheet
from ..core.document.press import PaperSurface, Sharpening
from ..core.errors import EditRefused, NotFound, describe_complaint
from ..core.limits import BUNDLE_BYTES
from ..core.photos import plain_name
from ..core.press.exporting import file_stems, has_equal_names
from ..core.verifying.report import Report
from ..work.tasks import look_over
from .description import upload
from .messages import Message
from .stores import InJobs, InSheets
from .studio import InStudio
from .uploads import receive

router = APIRouter(prefix="/api", tags=["press"])


OnPage = Annotated[float, Query(ge=-10000, le=10000, allow_inf_nan=False, description="mm")]


class FileNames(Message):
    """What the first files of a job are called, without their ending. ``alike``: the pattern gives two sheets one name, and the
    later one says its number."""

    names: list[str]
    alike: bool


class PressFacts(Message):
    """A press profile that ships: its id, what it is, the kind of its colours (CMYK, GRAY, RGB)."""

    id: str
    name: str
    space: str


@router.get("/drawn/{key}/figures")
def figures(sheets: InSheets, key: str, x: OnPage, y: OnPage) -> Figures:
    """What the lab's press makes of one place of a sheet, page mm."""
    figures_here = sheets.figures(key, (x, y))
    if figures_here is None:
        raise NotFound("This place is not on the sheet.")
    return figures_here


@router.get("/drawn/{key}/printed", response_class=Response)
def show_print(
    sheets: InSheets, key: str, x: OnPage, y: OnPage, how: Sharpening = "none", surface: PaperSurface = "glossy",
    side: Annotated[int, Query(ge=64, le=800)] = 480,
) -> Response:  # fmt: skip
    """A square of a sheet as its file will have it, about a place (page mm), at the lab's ppi, sharpened so: JPEG."""
    picture = sheets.paint_print(key, (x, y), side, how, surface)
    return Response(picture, media_type="image/jpeg", headers={"Cache-Control": "private, max-age=3600"})


@router.post(
    "/verify", openapi_extra=upload("A print file.", "application/pdf", "image/jpeg", "image/tiff", "image/png")
)
async def verify_file(
    studio: InStudio, request: Request, name: Annotated[str, Query(min_length=1, max_length=200)],
    lab: Annotated[str, Query(max_length=64)] = "",
) -> Report:  # fmt: skip
    """Looks a print file over (the request's body), whoever made it: against the standard that it names, and a lab sheet."""
    sheet = studio.catalogue.lab(lab) if lab else None
    called = plain_name(name)
    path = await receive(studio, request.stream(), BUNDLE_BYTES, called)

    def verify_upload() -> Report:
        assets = {}
        if sheet and sheet.press and sheet.press.profile not in PRESSES:
            assets[sheet.press.profile] = studio.parts.asset(sheet.press.profile)
        sheet_json = sheet.model_dump_json() if sheet else ""
        return studio.door.bundle(called, look_over, str(path), called, sheet_json, assets)

    try:
        return await run_in_threadpool(verify_upload)
    finally:
        path.unlink(missing_ok=True)


@router.get("/presses")
def presses() -> list[PressFacts]:
    """The press profiles that ship."""
    return [
        PressFacts(id=name, name=what, space=describe_profile(profile_bytes(name))[1]) for name, what in PRESSES.items()
    ]


@router.get("/jobs/{job}/names")
def names(jobs: InJobs, job: str, pattern: Annotated[str, Query(max_length=80)] = "") -> FileNames:
    """What a job's files are called by its lab sheet's pattern, or by another one that is tried."""
    document = jobs.head(job).job
    if pattern:
        try:
            lab = LabSheet.model_validate({**document.lab.model_dump(), "naming": pattern})
        except ValidationError as error:
            raise EditRefused(describe_complaint(error.errors()[0])) from None
        document = document.copy_with(lab=lab)
    return FileNames(names=file_stems(document)[:3], alike=has_equal_names(document))
