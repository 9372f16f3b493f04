"""The workshop: a template under the knife is a job whose openings hold samples; keeping it writes a template."""

import secrets
from hashlib import sha256
from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import FileResponse
from starlette.background import BackgroundTask

from ..core import limits
from ..core.document import Job, Layout, Line, Making, Opening, Overlay, Sheet, Template
from ..core.edits.apply import apply
from ..core.edits.as_template import describe_left_behind, template_sheets
from ..core.edits.kinds import BringIn, Fill
from ..core.errors import EditRefused, NotFound
from ..core.fitting import find_same_place
from ..core.formats.svg_file import write_svg
from ..core.formats.template_file import write_template_file
from ..core.press.exporting import plain_file_name
from ..work.tasks import pick_area, read_file, read_template
from .jobs import edition_of, receive
from .models.new_jobs import Started
from .models.templates import Begin, Keep, Kept, PickArea, PickedArea, ReadFile, TemplateCard
from .samples import sample_photos
from .shelf import card
from .studio import InStudio, Studio

router = APIRouter(prefix="/api", tags=["workshop"])
FILLED_AT_ONCE = 60  # openings that are filled with samples as the workshop opens


@router.post("/workshop", status_code=201)
def begin(studio: InStudio, asked: Begin) -> Started:
    """Opens a template in the workshop: from nothing, from a lab's blank, from a template of the shelf, from a job's sheets."""
    lab = studio.lab(asked.lab or next(iter(studio.shelf.labs)))
    making, product, origin = Making(), asked.product, "from-nothing"
    sheets: tuple[Sheet, ...]
    if asked.template:
        found = studio.template(asked.template)
        own = found.id if asked.revise and studio.templates.newest_revision(found.id) else ""
        if asked.revise and not own:
            raise EditRefused("This template ships with Sutaru and is never changed.", "Make a new one from it.")
        making = Making(own=own, occasion=found.occasion, tags=found.tags, note=found.note, variant_of=found.variant_of)
        product, sheets, origin = found.product, found.sheets, found.id
    elif asked.job:
        from_job = studio.jobs.head(asked.job).job
        product, sheets, origin, lab = from_job.product, from_job.sheets, from_job.template, from_job.lab
    else:
        sheets = (_blank_sheet(studio, asked),)
    job = Job(name=asked.name, template=origin, product=product, sheets=sheets, lab=lab, making=making,
              studio=studio.card.get_written())  # fmt: skip
    identity = studio.jobs.create(_add_samples(studio, job), "open it in the workshop")
    studio.events.say("shelf", identity)
    return Started(id=identity)


def _blank_sheet(studio: Studio, asked: Begin) -> Sheet:
    """An empty sheet: as a lab's blank, or of the size asked for."""
    if asked.blank:
        blank = next((b for b in studio.lab(asked.lab).blanks if b.id == asked.blank), None)
        if blank is None:
            raise NotFound("This lab has no such blank.", "Choose another.")
        lines: tuple[Line, ...] = blank.lines
        layout = Layout(
            width_mm=blank.width_mm, height_mm=blank.height_mm, bleed_mm=blank.bleed_mm, safe_mm=blank.safe_mm,
            lines=lines, layers=(),
        )  # fmt: skip
        return Sheet(id="sheet", name=blank.name, role=blank.role, layout=layout)
    layout = Layout(
        width_mm=asked.width_mm, height_mm=asked.height_mm, bleed_mm=asked.bleed_mm, safe_mm=asked.safe_mm, layers=()
    )
    return Sheet(id="sheet", name="Sheet", layout=layout)


def _add_samples(studio: Studio, job: Job) -> Job:
    """With the sample photos in its pile, and in its openings where they are few."""
    samples = tuple(sample_photos(studio))
    if not samples:
        return job
    job = apply(job, BringIn(photos=samples))
    return apply(job, Fill()) if 0 < sum(len(s.layout.openings_by_id) for s in job.sheets) <= FILLED_AT_ONCE else job


@router.post("/workshop/from-file", status_code=201)
async def begin_from_file(
    studio: InStudio, request: Request,
    name: Annotated[str, Query(max_length=120)] = "",
    areas: Annotated[str, Query(pattern=r"^(holes|flat|none|#[0-9a-f]{6})?$")] = "",
    guide: bool = False,
    width_mm: Annotated[float, Query(ge=0, le=5000, allow_inf_nan=False)] = 0.0,
) -> ReadFile:  # fmt: skip
    """Reads a file of another program (the request's body: PNG, JPEG, TIFF, WebP, SVG, OpenRaster, PDF) into the workshop, where
    it is looked at and corrected; or lays it there as a guide."""
    path = await receive(studio, request.stream(), limits.OVERLAY_BYTES, "This file")
    try:
        return await run_in_threadpool(_read, studio, path, name or "This file", areas, guide, width_mm)
    finally:
        path.unlink(missing_ok=True)


def _read(studio: Studio, path: Path, name: str, areas: str, guide: bool, width_mm: float) -> ReadFile:
    said, files, notes, how = studio.door.bundle(name, read_file, str(path), name, areas, guide, width_mm)
    studio.parts.add_assets(files)
    sheets = tuple(Sheet.model_validate_json(one) for one in said)
    lab = next(iter(studio.shelf.labs.values()))
    title = name.rsplit(".", 1)[0][:120] or "A file"
    making = Making(read=tuple(note[:400] for note in notes[:60]))
    job = Job(name=title, template="from-nothing", product="collage", sheets=sheets, lab=lab, making=making,
              studio=studio.card.get_written())  # fmt: skip
    identity = studio.jobs.create(_add_samples(studio, job), f"read it from {name}"[:120])
    studio.events.say("shelf", identity)
    return ReadFile(id=identity, notes=notes, how=how, openings=sum(len(s.layout.openings_by_id) for s in sheets))


@router.post("/jobs/{job}/sheets/{sheet}/areas")
def pick(studio: InStudio, job: str, sheet: str, asked: PickArea) -> PickedArea:
    """The hole or area of one colour of a picture on a sheet at a page point: as an opening to be laid below the picture, which
    then is the one without the area. Edits lay them."""
    here = studio.jobs.head(job).job.sheets_by_id.get(sheet)
    found = here.layout.find(asked.layer) if here else None
    if not isinstance(found, Overlay):
        raise NotFound("There is no such picture on this sheet.", "Point at one.")
    opening, files = studio.door.asset(
        "This picture",
        pick_area,
        studio.parts.asset(found.asset),
        found.model_dump_json(),
        asked.at_mm,
        asked.tolerance,
    )
    studio.parts.add_assets(files)
    asset = found.asset if found.guide else sha256(files[0]).hexdigest()
    picked = Opening.model_validate_json(opening)
    there = find_same_place(here.layout, picked) if here else None
    return PickedArea(opening=picked, asset=asset, there=there.id if there else "")


@router.get("/jobs/{job}/sheets/{sheet}/svg", response_class=Response)
def export_svg(studio: InStudio, job: str, sheet: str) -> Response:
    """A sheet without its photos as SVG in real units: any program draws it, and it reads back as it was."""
    found = studio.jobs.head(job).job
    here = found.sheets_by_id.get(sheet)
    if here is None:
        raise NotFound("There is no such sheet.", "Ask for the job again.")
    name = plain_file_name(f"{found.name} {here.name}") or "sheet"
    said = {"Content-Disposition": f'attachment; filename="{name}.svg"'}
    return Response(write_svg(here.layout, studio.parts.asset), media_type="image/svg+xml", headers=said)


@router.get("/jobs/{job}/keep")
def list_left_behind(studio: InStudio, job: str, edition: Annotated[str, Query(max_length=64)] = "") -> list[str]:
    """What a template of a job's sheets will not have, in words."""
    here = studio.jobs.head(job).job
    return describe_left_behind(here, edition_of(here, edition))


@router.post("/jobs/{job}/keep", status_code=201)
def keep(studio: InStudio, job: str, asked: Keep) -> Kept:
    """Keeps a job's sheets as a template: a new one, or the next revision of the studio's own that it was opened from.

    Nothing of a customer's goes with them, and what was kept before stays as it was.
    """
    here = studio.jobs.head(job).job
    making = here.making or Making()
    sheets = template_sheets(here, edition_of(here, asked.edition))
    template = Template(
        id="new", name=asked.name or here.name, product=asked.product or here.product,
        occasion=making.occasion if asked.occasion is None else asked.occasion,
        tags=making.tags if asked.tags is None else asked.tags,
        note=making.note if asked.note is None else asked.note, sheets=sheets,
        variant_of=_group(studio, making.variant_of if asked.variant_of is None else asked.variant_of,
                          "" if asked.as_new else making.own),
    )  # fmt: skip
    own = "" if asked.as_new else making.own
    kept = studio.templates.keep(template, set(studio.shelf.templates), own)
    if here.making is not None:
        said = making.copy_with(
            own=kept.id, occasion=kept.occasion, tags=kept.tags, note=kept.note, variant_of=kept.variant_of
        )
        update = {"making": said, "name": kept.name, "product": kept.product}
        head = studio.jobs.edit(job, lambda now: (now.copy_with(**update), f"keep {kept.name}"))
        studio.events.say("job", job, seq=head.seq)
    studio.events.say("templates", kept.id)
    return Kept(id=kept.id, revision=kept.revision, name=kept.name)


def _group(studio: Studio, identity: str, own: str) -> str:
    """What a template is a variant of: the one that is named, or what that is one of. Raises NotFound."""
    group = studio.template(identity).group if identity else ""
    return "" if group == own else group


@router.post("/templates/{template}/away")
def put_template_away(studio: InStudio, template: str, on: bool = True) -> TemplateCard:
    """Puts a template away, off the shelf; or brings it back. Jobs that began from it keep what they have."""
    found = studio.template(template)
    studio.templates.put_away(template, on)
    studio.events.say("templates", template)
    return card(studio, found)


@router.get("/templates/{template}/file", response_class=FileResponse)
def template_file(studio: InStudio, template: str) -> FileResponse:
    """A template as a .sutaru-template file."""
    found = studio.template(template)
    path = studio.photos.incoming / f"template-{secrets.token_hex(6)}"
    write_template_file(path, found, studio.parts.asset)
    return FileResponse(
        path, filename=f"{plain_file_name(found.name) or 'template'}.sutaru-template", media_type="application/zip",
        background=BackgroundTask(path.unlink, missing_ok=True),
    )  # fmt: skip


@router.post("/templates/from-file", status_code=201)
async def template_from_file(studio: InStudio, request: Request) -> TemplateCard:
    """Takes a template file (the request's body) onto the shelf, as a template of the studio's own."""
    path = await receive(studio, request.stream(), limits.TEMPLATE_BYTES, "This template")
    try:
        return await run_in_threadpool(_take, studio, path)
    finally:
        path.unlink(missing_ok=True)


def _take(studio: Studio, path: Path) -> TemplateCard:
    said, assets = studio.door.bundle("This template", read_template, str(path))
    studio.parts.add_assets(assets)
    kept = studio.templates.keep(Template.model_validate_json(said), set(studio.shelf.templates))
    studio.events.say("templates", kept.id)
    return card(studio, kept)
