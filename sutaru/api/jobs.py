"""Jobs: starting, listing, duplicating, editing, their history, their bundles."""

import contextlib
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import date
from typing import Annotated

from fastapi import APIRouter, Query, Response

from ..core.books.contact import contact_job
from ..core.cards import begin_card
from ..core.checks import Finding, check_job
from ..core.document import Edition, Job, Template
from ..core.edits.apply import apply
from ..core.edits.calendars import months_of
from ..core.edits.editions import differences, remove_photos
from ..core.edits.kinds import BringIn, Fill, Rename, Say, SetCalendar, TakeCard
from ..core.errors import FileRefused, NotFound
from ..core.press.exporting import EVERY
from ..store import Listed, Sort, StoreFailed, Which
from .models.job_heads import EditRequest, JobHead, Known, PreviewRequest
from .models.job_list import JobCard, JobList
from .models.new_jobs import Contact, Duplicate, NewJob, Started
from .models.photos import Compared, VariantSheets
from .pictures import answer_picture, bound_width, paint_sheet
from .samples import sample_photos
from .sheets import Drawing, Picture
from .studio import InStudio, Studio

router = APIRouter(prefix="/api/jobs", tags=["jobs"])


@router.get("")
def jobs(
    studio: InStudio,
    words: Annotated[str, Query(max_length=200)] = "",
    which: Which = "work",
    sort: Sort = "changed",
    limit: Annotated[int, Query(ge=1, le=200)] = 40,
    offset: Annotated[int, Query(ge=0, le=10**9)] = 0,
) -> JobList:
    """Jobs by name, customer, order number or a photo's name; a page of the list at a time."""
    listed_jobs, count = studio.jobs.search(words, which, sort, limit, offset)
    # The list waits for no sheet that has yet to be measured. What is asked for last is measured first.
    cards = [_card(studio, listed) for listed in reversed(listed_jobs)]
    return JobList(jobs=cards[::-1], count=count)


def _card(studio: Studio, listed: Listed) -> JobCard:
    card = listed.card
    if card is None or card["root"] != listed.root or card["unseen"]:
        try:
            card = _make_job_card(studio, listed)
        except FileRefused as error:
            card = {"sheet": "", "picture": "", "width_mm": 1, "height_mm": 1, "sheets": 0, "photos": 0, "openings": 0,
                    "filled": 0, "stops": None, "looks": None, "unreadable": str(error)}  # fmt: skip
    fields = {k: v for k, v in card.items() if k not in ("root", "unseen")}
    return JobCard(
        id=listed.id, name=listed.name, customer=listed.customer, order_number=listed.order_number,
        template=listed.template, created=listed.created, changed=listed.changed,
        archived=listed.put_away is not None, deleted=listed.deleted is not None, making=listed.making, **fields,
    )  # fmt: skip


def _make_job_card(studio: Studio, listed: Listed) -> dict[str, object]:
    job = studio.jobs.get_state(listed.id, listed.head)
    keys = studio.sheets.keys(listed.id, job)
    keys = [key for key, sheet in zip(keys, job.sheets, strict=True) if sheet in job.sheets_of(job.editions[0])]
    counts = [studio.sheets.counts(key) for key in keys]
    missing = [key for key, count in zip(keys, counts, strict=True) if count is None]
    edition = job.editions[0]
    sheets = job.sheets_of(edition)
    first = sheets[0]
    card: dict[str, object] = {
        "root": listed.root, "unseen": sum(photo.found is None for photo in job.photos),
        "sheet": first.id, "picture": listed.root, "width_mm": first.layout.width_mm,
        "height_mm": first.layout.height_mm, "sheets": len(sheets), "photos": len(job.photos),
        "openings": sum(len(sheet.layout.openings_to_fill) for sheet in sheets),
        "filled": sum(bool(edition.filling(s.id).photo_in(o)) for s in sheets for o in s.layout.openings_to_fill),
        "stops": None, "looks": None,
    }  # fmt: skip
    if missing:
        studio.sheets.measure_soon(missing)
        return card
    if any(c[4] for c in counts if c):  # told when the machine has looked at its photos
        return card
    card |= {"stops": sum(c[2] for c in counts if c), "looks": sum(c[3] for c in counts if c)}
    with contextlib.suppress(StoreFailed):  # reading needs no writing: on a full disk it is worked out again
        studio.jobs.keep_card(listed.id, card)
    return card


@router.post("", status_code=201)
def start(studio: InStudio, request: NewJob) -> Started:
    """Starts a job from a template or as a book, and a lab sheet, with the sample photos in its pile when asked for."""
    if request.book:
        job = studio.catalogue.begin_book(request.name, studio.catalogue.lab(request.lab), request.book, request.locale)
        job = apply(job, Rename(name=request.name, customer=request.customer, order_number=request.order_number))
    elif request.card:
        card = request.card
        job = begin_card(
            request.name, studio.catalogue.lab(request.lab), card.fold, card.width_mm, card.height_mm,
            studio.catalogue.theme(card.theme), studio=studio.card.get_written(), by_photo=card.by_photo,
        )  # fmt: skip
        job = apply(job, Rename(name=request.name, customer=request.customer, order_number=request.order_number))
    else:
        job = _begin_from_template(studio, request)
    if request.locale != job.locale:
        job = apply(job, Say(locale=request.locale))
    if request.months:
        first = request.first_month or f"{date.today().year + 1}-01"
        job = job.copy_with(sheets=months_of(job.sheets, first, request.months, job.locale))
    if request.country:
        job = apply(
            job, SetCalendar(country=request.country, region=request.region, more_holidays=request.more_holidays)
        )
    if request.samples:
        job = apply(job, BringIn(photos=tuple(sample_photos(studio))))
    return describe_started(studio, studio.jobs.create(job))


def _begin_from_template(studio: Studio, request: NewJob) -> Job:
    template = studio.catalogue.template(request.template)
    return Job(
        name=request.name, customer=request.customer, order_number=request.order_number, template=template.id,
        product=template.product, sheets=template.sheets, lab=studio.catalogue.lab(request.lab), revision=template.revision,
        studio=studio.card.get_written(), variants=_variants(studio, template) if request.by_photo else (),
        without_samples=not request.samples,
    )  # fmt: skip


def _variants(studio: Studio, template: Template) -> tuple[str, ...]:
    """The template and its variants that lie on the shelf."""
    archived = studio.templates.list_archived()
    known = (*studio.templates.list_all(), *studio.catalogue.shelf.templates.values())
    ids = tuple(
        candidate.id for candidate in known if candidate.group == template.group and candidate.id not in archived
    )
    return ids[:20] if len(ids) > 1 else ()


def describe_started(studio: Studio, identity: str) -> Started:
    studio.events.say("shelf", identity)
    return Started(id=identity)


@router.post("/{job}/duplicate", status_code=201)
def duplicate(studio: InStudio, job: str, request: Duplicate) -> Started:
    """Begins a job from another one: with its photos and all that lies where, for new photos, or with its sheets alone."""
    before = studio.jobs.head(job).job
    if request.keep == "sheets":
        job_begun = Job(**{**_fields(before), "pile": {}, "editions": (Edition(),)})
    else:
        job_begun = before if request.keep == "all" else remove_photos(before)
    customer = before.customer if request.customer is None else request.customer
    job_begun = apply(job_begun, Rename(name=request.name, customer=customer, order_number=request.order_number))
    if card := studio.card.get_written():
        job_begun = apply(job_begun, TakeCard(card=card))
    return describe_started(studio, studio.jobs.create(job_begun, f"begin from {before.name}"))


@router.get("/{job}/variants")
def variants(studio: InStudio, job: str) -> list[VariantSheets]:
    """The variants of a job's template that an edition can have, with their sheets; none where there is one alone."""
    document = studio.jobs.head(job).job
    try:
        ids = _variants(studio, studio.catalogue.template(document.template))
    except NotFound:  # it was begun from nothing, or its template is gone
        return []
    return [
        VariantSheets(template=template.id, name=template.name, sheets=template.sheets)
        for template in map(studio.catalogue.template, ids)
    ]


@router.post("/{job}/contact", status_code=201)
def contact(studio: InStudio, job: str, request: Contact) -> Started:
    """Begins a job that is a contact sheet of another one's pile, or of some of its photos."""
    before = studio.jobs.head(job).job
    photos = [photo for photo in before.photos if (photo.id in request.photos if request.photos else not photo.aside)]
    name = f"{before.name[:100]}, contact sheet"
    sheet_job = contact_job(name, photos, before.lab, request.width_mm, request.height_mm, request.columns)
    return describe_started(studio, studio.jobs.create(apply(sheet_job, Rename(name=name, customer=before.customer))))


def _fields(job: Job) -> dict[str, object]:
    return {name: getattr(job, name) for name in type(job).model_fields}


@router.put("/{job}/archived")
def archive(studio: InStudio, job: str) -> JobCard:
    """Archives a job: it is off the list of work."""
    studio.jobs.archive(job, True)
    return _describe_moved(studio, job)


@router.delete("/{job}/archived")
def unarchive(studio: InStudio, job: str) -> JobCard:
    """Returns a job to the list of work."""
    studio.jobs.archive(job, False)
    return _describe_moved(studio, job)


@router.delete("/{job}")
def delete(studio: InStudio, job: str) -> JobCard:
    """Deletes a job: it is off all lists but that of deleted ones, from which it can be restored."""
    studio.jobs.delete(job, True)
    return _describe_moved(studio, job)


@router.post("/{job}/restore")
def restore(studio: InStudio, job: str) -> JobCard:
    """Restores a job that was deleted."""
    studio.jobs.delete(job, False)
    return _describe_moved(studio, job)


def _describe_moved(studio: Studio, job: str) -> JobCard:
    studio.events.say("shelf", job)
    return _card(studio, studio.jobs.get_listed(job))


def json_answer(body: bytes, status: int = 200) -> Response:
    # Already valid: written out once, not checked again.
    return Response(body, status, media_type="application/json")


Has = Annotated[str, Query(max_length=64)]


@router.get("/{job}", response_model=JobHead)
def head(studio: InStudio, job: str, have: Has = "", edition: Has = "", view: Has = "") -> Response:
    """Where a job stands, with what is new since the root that the asker has."""
    with _note_unreadable(studio, job):
        head_now = studio.jobs.head(job)
    return json_answer(studio.heads.answer(head_now, Known(have=have, edition=edition, view=view)))


@contextmanager
def _note_unreadable(studio: Studio, job: str) -> Iterator[None]:
    """Has the shelf say that a job cannot be read, when that turns out."""
    try:
        yield
    except FileRefused:
        with contextlib.suppress(StoreFailed):
            studio.jobs.keep_card(job, None)
        studio.events.say("shelf", job)
        raise


@router.post("/{job}/edits", response_model=JobHead)
def edit(studio: InStudio, job: str, request: EditRequest) -> Response:
    """Applies an edit. It is stored when this answers; or a task has begun that will, and stands in the answer."""
    return json_answer(studio.edit(job, request))


@router.post("/{job}/sheets/{sheet}/preview", response_class=Response)
def preview(studio: InStudio, job: str, sheet: str, request: PreviewRequest) -> Response:
    """A sheet as an edit would make it, as JPEG. Nothing is stored."""
    before = studio.jobs.head(job).job
    if isinstance(request.edit, Fill):
        studio.finder.wait_for([photo.checksum for photo in before.photos], lambda done, total: None)
        before = studio.jobs.head(job).job
    after = apply(before, request.edit)
    if sheet not in after.sheets_by_id:
        raise NotFound("This sheet was not found.")
    picture = studio.sheets.paint(Drawing(job, after, sheet, request.edition, {}), request.width)
    return Response(picture.jpeg, media_type="image/jpeg")


@router.get("/{job}/compare")
def compare(studio: InStudio, job: str, here: Has, there: Has) -> Compared:
    """Two editions of a job beside each other."""
    now = studio.jobs.head(job).job
    first, other = (edition_of(now, identity) for identity in (here, there))
    keys = (studio.sheets.keys(job, now, edition.id) for edition in (first, other))
    paired = dict(zip(now.sheets_by_id, zip(*keys, strict=True), strict=True))
    return Compared(differences=differences(now, first, other), keys=paired)


def edition_of(job: Job, identity: str) -> Edition:
    """An edition of a job, the first for "". Raises NotFound."""
    try:
        return job.edition(identity)
    except KeyError:
        raise NotFound("This edition was not found in this job.", "Choose another.") from None


@router.get("/{job}/findings")
def findings(studio: InStudio, job: str, edition: Has = "") -> list[Finding]:
    """All findings of an edition, or of all (``*``), stops first."""
    document = studio.jobs.head(job).job
    if edition == EVERY:
        findings = [
            finding.copy_with(edition=edition.id)
            for edition in document.editions
            for finding in check_job(document, edition.id, studio.parts.asset)
        ]
        return sorted(findings, key=lambda finding: ("stop", "look", "note").index(finding.severity))
    try:
        return check_job(document, edition, studio.parts.asset)
    except KeyError:
        raise NotFound("This edition was not found in this job.", "Choose another.") from None


@router.get("/{job}/cover/{root}", response_class=Response)
def cover(studio: InStudio, job: str, root: str, width: int = 320) -> Response:
    """A job's first sheet as it stands, as JPEG. ``root`` is where it stands, so that the picture may be kept for ever."""
    width = bound_width(width)
    if kept_picture := studio.pictures.get(root, width):
        return answer_picture(Picture(kept_picture))
    with _note_unreadable(studio, job):
        head_now = studio.jobs.head(job)
    picture = paint_sheet(studio, job, head_now.job, "", "", width)
    answer = answer_picture(picture)
    if root != head_now.root:
        answer.headers["Cache-Control"] = "no-store"
    elif picture.whole:
        studio.pictures.put(root, width, picture.jpeg)
    return answer
