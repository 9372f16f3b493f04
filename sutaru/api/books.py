"""Books: themes and how they look, plans for whole books, layouts that suit a sheet, the customer's proof."""

from datetime import datetime
from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import FileResponse, StreamingResponse

from ..core.books.layout_preview import SeenBook
from ..core.books.layout_suggestions import suggestions
from ..core.document import Job, Layout, Sheet, Theme
from ..core.edits.apply import apply
from ..core.edits.kinds import Rename, TakeRemarks
from ..core.errors import EditRefused, FileRefused, NotFound
from ..core.press.exporting import plain_file_name
from ..core.press.proof import read_remarks, write_proof
from ..shelf.pictures import find_picture, theme_name
from ..work.tasks import PLAN, run_another_size
from .catalogue import InCatalogue
from .description import upload
from .long_work import InLongWork
from .models.books import AnotherSize, KeptStyle, LayoutChoice, PlanRequest, ResizedBook
from .models.job_heads import EditRequest, JobHead, TaskState
from .pictures import cover_picture
from .sample_books import sample_book
from .studio import InStudio, Studio

router = APIRouter(prefix="/api", tags=["books"])
MOST_STYLES = 100
PROOF_WIDTH = 1500  # px of a sheet in the customer's proof


@router.get("/themes")
def themes(catalogue: InCatalogue) -> list[Theme]:
    """The shelf's themes."""
    return list(catalogue.shelf.themes.values())


@router.get("/themes/{theme}/picture", response_class=Response)
def theme_picture(
    studio: InStudio, theme: str, at: Annotated[int, Query(ge=0, le=20)] = 0, width: int = 480
) -> Response:  # fmt: skip
    """A sheet of a small book in a theme, with the sample photos: its cover at 0, then its pages. As WebP where one ships that
    is so large, else as JPEG."""
    if shipped := find_picture(theme_name(theme), str(at), width):
        return FileResponse(shipped, media_type="image/webp", headers={"Cache-Control": "max-age=3600"})
    job = sample_book(studio, theme)
    return cover_picture(studio, f"theme {theme}", job, job.sheets[min(at, len(job.sheets) - 1)].id, "", width)


@router.get("/themes/{theme}/grounds/{at}/picture", response_class=Response)
def ground_picture(studio: InStudio, theme: str, at: int, width: int = 120) -> Response:
    """A piece of one of a theme's grounds, its cover's after the pages', as JPEG."""
    chosen_theme = studio.catalogue.theme(theme)
    grounds = (*chosen_theme.grounds, chosen_theme.cover)
    if not 0 <= at < len(grounds):
        raise NotFound("This theme has no such ground.", "Choose one of its list.")
    layout = Layout(
        width_mm=60,
        height_mm=45,
        bleed_mm=0,
        safe_mm=0,
        layers=(grounds[at],),
        swatches=chosen_theme.swatches,
    )
    lab = next(iter(studio.catalogue.shelf.labs.values()))
    sheet = Sheet(id="ground", name="Ground", layout=layout)
    job = Job(name=chosen_theme.name, template="ground", product="album", sheets=(sheet,), lab=lab)
    return cover_picture(studio, f"theme {theme}", job, sheet.id, "", width)


@router.post("/jobs/{job}/plans", status_code=202)
def plan(work: InLongWork, job: str, request: PlanRequest) -> TaskState:
    """Begins to plan a layout of a book, or of some of its sheets. Nothing of the job is changed: an edit keeps the plan."""
    return work.state(work.plan(job, request))


@router.get("/plans/{task}", response_model=SeenBook)
def show_plan(studio: InStudio, task: str) -> Response:
    """A plan that is done, and what the book would look like."""
    plan_task = studio.board.tasks.get(task)
    path = studio.board.folder(plan_task) / PLAN
    if plan_task.kind != "plan" or plan_task.state != "done" or not path.exists():
        raise NotFound("This plan is not at hand.", "Lay the book out again.")
    return Response(path.read_bytes(), media_type="application/json")


@router.get("/jobs/{job}/sheets/{sheet}/layouts")
def layouts(studio: InStudio, job: str, sheet: str, edition: str = "") -> list[LayoutChoice]:
    """Layouts that suit the photos that lie on a sheet: computed ones first, then the book's own, then the shelf's."""
    document = studio.jobs.head(job).job
    if sheet not in document.sheets_by_id:
        raise NotFound("This sheet was not found.")
    try:
        edition_here = document.edition(edition)
    except KeyError:
        raise NotFound("This edition was not found in this job.", "Choose another.") from None
    shelf = [
        template
        for template in (*studio.templates.list_all(), *studio.catalogue.shelf.templates.values())
        if template.product != "calendar"
    ]
    return [
        LayoutChoice(
            source=suggestion.source,
            name=suggestion.name,
            openings=suggestion.openings,
            now=suggestion.now,
            boxes=suggestion.boxes,
            photos=list(suggestion.photos),
            pages=None if suggestion.pages is None else list(suggestion.pages),
            layout=suggestion.layout,
        )
        for suggestion in suggestions(document, document.sheets_by_id[sheet], edition_here, shelf)
    ]


@router.get("/layout-styles")
def layout_styles(studio: InStudio) -> list[KeptStyle]:
    """Styles in which the studio lays books out, by name."""
    return [KeptStyle(name=name, style=style) for name, style in studio.layout_styles.list_all().items()]


@router.post("/layout-styles", status_code=201)
def keep_style(studio: InStudio, request: KeptStyle) -> list[KeptStyle]:
    """Keeps a style, in the place of that of its name; all there are then."""
    names = {name.casefold() for name in studio.layout_styles.list_all()}
    if len(names) >= MOST_STYLES and request.name.casefold() not in names:
        raise EditRefused(f"The studio keeps {MOST_STYLES} styles at most.", "Delete one first.")
    studio.layout_styles.keep(request.name, request.style)
    return layout_styles(studio)


@router.delete("/layout-styles/{name}")
def remove_style(studio: InStudio, name: str) -> list[KeptStyle]:
    """Keeps a style no more; all there are then. Books laid out in it stay as they are."""
    studio.layout_styles.remove(name)
    return layout_styles(studio)


@router.post("/jobs/{job}/another-size", status_code=201)
def another_size(studio: InStudio, job: str, request: AnotherSize) -> ResizedBook:
    """Begins a job that is a book in another size: photos keep their pages, and each spread is composed anew."""
    before = studio.jobs.head(job).job
    size = studio.catalogue.book_size(before, request.size)
    if before.book and before.book.size == size:
        raise EditRefused(f"The pages of this book are {size.name} already.", "Choose another size.")
    if request.edition not in {"", *(edition.id for edition in before.editions)}:
        raise NotFound("This edition was not found in this job.", "Choose another.")
    theme = studio.catalogue.shelf.themes.get(before.book.theme) if before.book else None
    job_json, fitted = studio.door.bundle(
        before.name, run_another_size, before.model_dump_json(), size.model_dump_json(),
        theme.model_dump_json() if theme else "", request.edition,
    )  # fmt: skip
    customer = before.customer if request.customer is None else request.customer
    resized = apply(
        Job.model_validate_json(job_json),
        Rename(name=request.name, customer=customer, order_number=request.order_number),
    )
    identity = studio.jobs.create(resized, f"begin from {before.name}, {size.name}")
    studio.events.say("shelf", identity)
    return ResizedBook(id=identity, fitted=list(fitted))


@router.get("/jobs/{job}/proof.html", response_class=StreamingResponse)
def proof(studio: InStudio, job: str, edition: str = "") -> StreamingResponse:
    """The customer's proof: one HTML page with all sheets as pictures, to turn and to write remarks to. Comes as it is made."""
    document = studio.jobs.head(job).job
    name = plain_file_name(document.name) or "job"
    keys = dict(zip(document.sheets_by_id, _keys(studio, job, document, edition), strict=True))
    made_at = datetime.now().astimezone().isoformat(timespec="seconds")
    pieces = write_proof(
        document,
        job,
        made_at,
        f"{name}-remarks.json",
        lambda sheet: studio.sheets.picture(keys[sheet], PROOF_WIDTH).jpeg,
        edition,
    )
    headers = {"Content-Disposition": f'attachment; filename="{name}-proof.html"'}
    return StreamingResponse(pieces, media_type="text/html; charset=utf-8", headers=headers)


def _keys(studio: Studio, identity: str, job: Job, edition: str) -> list[str]:
    try:
        return studio.sheets.keys(identity, job, edition)
    except KeyError:
        raise NotFound("This edition was not found in this job.", "Choose another.") from None


@router.post(
    "/jobs/{job}/remarks",
    response_model=JobHead,
    openapi_extra=upload("Remarks, as a customer's proof saves them.", "application/json"),
)
async def remarks(studio: InStudio, job: str, request: Request) -> Response:
    """Takes in the file of remarks that a customer's proof has saved."""
    data = await request.body()
    return await run_in_threadpool(_take_remarks, studio, job, data)


def _take_remarks(studio: Studio, job: str, data: bytes) -> Response:
    received_at = datetime.now().astimezone().isoformat(timespec="seconds")
    remarks = read_remarks(data, studio.jobs.head(job).job.sheets_by_id, job, received_at)
    if not remarks:
        raise FileRefused("There is no remark in this file.", "Ask the customer to write some, and to save them again.")
    request = EditRequest(edit=TakeRemarks(remarks=tuple(remarks)))
    return Response(studio.edit(job, request), media_type="application/json")
