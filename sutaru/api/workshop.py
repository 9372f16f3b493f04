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
from .description import upload
from .jobs import edition_of
from .models.new_jobs import Started
from .models.templates import Begin, Keep, Kept, PickArea, PickedArea, ReadFile, TemplateCard
from .samples import sample_photos
from .shelf import card
from .stores import InJobs
from .studio import InStudio, Studio
from .uploads import receive

router = APIRouter(prefix="/api", tags=["workshop"])
FILLED_AT_ONCE = 60  # openings that are filled with samples as the workshop opens


@router.post("/workshop", status_code=201)
def begin(studio: InStudio, request: Begin) -> Started:
    """Opens a template in the workshop: from nothing, from a lab's blank, from a template of the shelf, from a job's sheets."""
    lab = studio.catalogue.lab(request.lab or next(iter(studio.catalogue.shelf.labs)))
    making, product, origin = Making(), request.product, "from-nothing"
    sheets: tuple[Sheet, ...]
    if request.template:
        template = studio.catalogue.template(request.template)
        template_id = template.id if request.revise and studio.templates.newest_revision(template.id) else ""
        if request.revise and not template_id:
            raise EditRefused("This template ships with Sutaru and is never changed.", "Make a new one from it.")
        making = Making(
            own=template_id,
            occasion=template.occasion,
            tags=template.tags,
            note=template.note,
            variant_of=template.variant_of,
        )
        product, sheets, origin = template.product, template.sheets, template.id
    elif request.job:
        from_job = studio.jobs.head(request.job).job
        product, sheets, origin, lab = from_job.product, from_job.sheets, from_job.template, from_job.lab
    else:
        sheets = (_blank_sheet(studio, request),)
    job = Job(name=request.name, template=origin, product=product, sheets=sheets, lab=lab, making=making,
              studio=studio.card.get_written())  # fmt: skip
    identity = studio.jobs.create(_add_samples(studio, job), "open it in the workshop")
    studio.events.say("shelf", identity)
    return Started(id=identity)


def _blank_sheet(studio: Studio, request: Begin) -> Sheet:
    """An empty sheet: as a lab's blank, or of the size asked for."""
    if request.blank:
        blank = next((b for b in studio.catalogue.lab(request.lab).blanks if b.id == request.blank), None)
        if blank is None:
            raise NotFound("This lab has no such blank.", "Choose another.")
        lines: tuple[Line, ...] = blank.lines
        layout = Layout(
            width_mm=blank.width_mm, height_mm=blank.height_mm, bleed_mm=blank.bleed_mm, safe_mm=blank.safe_mm,
            lines=lines, layers=(),
        )  # fmt: skip
        return Sheet(id="sheet", name=blank.name, role=blank.role, layout=layout)
    layout = Layout(
        width_mm=request.width_mm,
        height_mm=request.height_mm,
        bleed_mm=request.bleed_mm,
        safe_mm=request.safe_mm,
        layers=(),
    )
    return Sheet(id="sheet", name="Sheet", layout=layout)


def _add_samples(studio: Studio, job: Job) -> Job:
    """With the sample photos in its pile, and in its openings where they are few."""
    samples = tuple(sample_photos(studio))
    if not samples:
        return job
    job = apply(job, BringIn(photos=samples))
    return apply(job, Fill()) if 0 < sum(len(s.layout.openings_by_id) for s in job.sheets) <= FILLED_AT_ONCE else job


@router.post(
    "/workshop/from-file",
    status_code=201,
    openapi_extra=upload(
        "A flat picture, a layered picture, a drawing or a page.",
        "image/png",
        "image/jpeg",
        "image/tiff",
        "image/openraster",
        "image/svg+xml",
        "application/pdf",
    ),
)
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
    sheets_json, files, notes, how = studio.door.bundle(name, read_file, str(path), name, areas, guide, width_mm)
    studio.parts.add_assets(files)
    sheets = tuple(Sheet.model_validate_json(data) for data in sheets_json)
    lab = next(iter(studio.catalogue.shelf.labs.values()))
    title = name.rsplit(".", 1)[0][:120] or "A file"
    making = Making(read=tuple(note[:400] for note in notes[:60]))
    job = Job(name=title, template="from-nothing", product="collage", sheets=sheets, lab=lab, making=making,
              studio=studio.card.get_written())  # fmt: skip
    identity = studio.jobs.create(_add_samples(studio, job), f"read it from {name}"[:120])
    studio.events.say("shelf", identity)
    return ReadFile(id=identity, notes=notes, how=how, openings=sum(len(s.layout.openings_by_id) for s in sheets))


@router.post("/jobs/{job}/sheets/{sheet}/areas")
def pick(studio: InStudio, job: str, sheet: str, request: PickArea) -> PickedArea:
    """The hole or area of one colour of a picture on a sheet at a page point: as an opening to be laid below the picture, which
    then is the one without the area. Edits lay them."""
    sheet_here = studio.jobs.head(job).job.sheets_by_id.get(sheet)
    layer = sheet_here.layout.find(request.layer) if sheet_here else None
    if not isinstance(layer, Overlay):
        raise NotFound("This picture was not found on this sheet.", "Point at one.")
    opening, files = studio.door.asset(
        "This picture",
        pick_area,
        studio.parts.asset(layer.asset),
        layer.model_dump_json(),
        request.at_mm,
        request.tolerance,
    )
    studio.parts.add_assets(files)
    asset = layer.asset if layer.guide else sha256(files[0]).hexdigest()
    picked = Opening.model_validate_json(opening)
    there = find_same_place(sheet_here.layout, picked) if sheet_here else None
    return PickedArea(opening=picked, asset=asset, there=there.id if there else "")


@router.get("/jobs/{job}/sheets/{sheet}/svg", response_class=Response)
def export_svg(studio: InStudio, job: str, sheet: str) -> Response:
    """A sheet without its photos as SVG in real units: any program draws it, and it reads back as it was."""
    document = studio.jobs.head(job).job
    sheet_here = document.sheets_by_id.get(sheet)
    if sheet_here is None:
        raise NotFound("This sheet was not found.", "Ask for the job again.")
    name = plain_file_name(f"{document.name} {sheet_here.name}") or "sheet"
    headers = {"Content-Disposition": f'attachment; filename="{name}.svg"'}
    return Response(write_svg(sheet_here.layout, studio.parts.asset), media_type="image/svg+xml", headers=headers)


@router.get("/jobs/{job}/keep")
def list_left_behind(jobs: InJobs, job: str, edition: Annotated[str, Query(max_length=64)] = "") -> list[str]:
    """What a template of a job's sheets will not have, in words."""
    document = jobs.head(job).job
    return describe_left_behind(document, edition_of(document, edition))


@router.post("/jobs/{job}/keep", status_code=201)
def keep(studio: InStudio, job: str, request: Keep) -> Kept:
    """Keeps a job's sheets as a template: a new one, or the next revision of the studio's own that it was opened from.

    Nothing of a customer's goes with them, and what was kept before stays as it was.
    """
    document = studio.jobs.head(job).job
    making = document.making or Making()
    sheets = template_sheets(document, edition_of(document, request.edition))
    template = Template(
        id="new", name=request.name or document.name, product=request.product or document.product,
        occasion=making.occasion if request.occasion is None else request.occasion,
        tags=making.tags if request.tags is None else request.tags,
        note=making.note if request.note is None else request.note, sheets=sheets,
        variant_of=_group(studio, making.variant_of if request.variant_of is None else request.variant_of,
                          "" if request.as_new else making.own),
    )  # fmt: skip
    template_id = "" if request.as_new else making.own
    kept_template = studio.templates.keep(template, set(studio.catalogue.shelf.templates), template_id)
    if document.making is not None:
        making_after = making.copy_with(
            own=kept_template.id,
            occasion=kept_template.occasion,
            tags=kept_template.tags,
            note=kept_template.note,
            variant_of=kept_template.variant_of,
        )
        update = {"making": making_after, "name": kept_template.name, "product": kept_template.product}
        head = studio.jobs.edit(job, lambda now: (now.copy_with(**update), f"keep {kept_template.name}"))
        studio.events.say("job", job, seq=head.seq)
    studio.events.say("templates", kept_template.id)
    return Kept(id=kept_template.id, revision=kept_template.revision, name=kept_template.name)


def _group(studio: Studio, identity: str, template_id: str) -> str:
    """What a template is a variant of: the one that is named, or what that is one of. Raises NotFound."""
    group = studio.catalogue.template(identity).group if identity else ""
    return "" if group == template_id else group


@router.put("/templates/{template}/archived")
def archive_template(studio: InStudio, template: str) -> TemplateCard:
    """Archives a template: it is off the shelf. Jobs that began from it keep what they have."""
    return _move_template(studio, template, True)


@router.delete("/templates/{template}/archived")
def unarchive_template(studio: InStudio, template: str) -> TemplateCard:
    """Returns a template to the shelf."""
    return _move_template(studio, template, False)


def _move_template(studio: Studio, identity: str, is_archived: bool) -> TemplateCard:
    entry = studio.catalogue.template(identity)
    studio.templates.archive(identity, is_archived)
    studio.events.say("templates", identity)
    return card(studio, entry)


@router.get("/templates/{template}/file", response_class=FileResponse)
def template_file(studio: InStudio, template: str) -> FileResponse:
    """A template as a .sutaru-template file."""
    entry = studio.catalogue.template(template)
    path = studio.photos.incoming / f"template-{secrets.token_hex(6)}"
    write_template_file(path, entry, studio.parts.asset)
    return FileResponse(
        path, filename=f"{plain_file_name(entry.name) or 'template'}.sutaru-template", media_type="application/zip",
        background=BackgroundTask(path.unlink, missing_ok=True),
    )  # fmt: skip


@router.post(
    "/templates/from-file",
    status_code=201,
    openapi_extra=upload("A template, as it is written by GET of its file.", "application/zip"),
)
async def template_from_file(studio: InStudio, request: Request) -> TemplateCard:
    """Takes a template file (the request's body) onto the shelf, as a template of the studio's own."""
    path = await receive(studio, request.stream(), limits.TEMPLATE_BYTES, "This template")
    try:
        return await run_in_threadpool(_take, studio, path)
    finally:
        path.unlink(missing_ok=True)


def _take(studio: Studio, path: Path) -> TemplateCard:
    template_json, assets = studio.door.bundle("This template", read_template, str(path))
    studio.parts.add_assets(assets)
    kept_template = studio.templates.keep(
        Template.model_validate_json(template_json), set(studio.catalogue.shelf.templates)
    )
    studio.events.say("templates", kept_template.id)
    return card(studio, kept_template)
