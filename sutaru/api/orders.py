"""Orders: sent to the lab once, followed, refused with reasons, printed again with exactly the files of then."""

import hashlib
import secrets
from contextlib import closing
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Query
from pydantic import Field

from ..core.colour.output import PRESSES
from ..core.document import Job, LabSheet
from ..core.errors import EditRefused, NotFound, SutaruError
from ..core.ordering import Address, Order, OrderFile, OrderLine, list_missing
from ..store.orders import Ordered
from ..work import answers
from ..work.answers import Prices
from ..work.dropping import line_to
from ..work.sending import NotSent
from .messages import Message
from .studio import InStudio, Studio

router = APIRouter(prefix="/api", tags=["orders"])


class LabSays(Message):
    """What the lab that orders go to says of itself; only its address while it cannot be reached. ``unread``: why lab sheets that
    it publishes cannot be read, by their ids."""

    address: str
    reachable: bool
    message: str = ""
    papers: list[str] = []
    finishes: list[str] = []
    covers: list[str] = []
    prices: Prices | None = None
    turnaround: str = ""
    sheets: list["Published"] = []
    unread: dict[str, str] = {}


class Published(Message):
    """A lab sheet that the lab publishes. ``here``: whether it is among those of the studio, as it is or otherwise."""

    sheet: LabSheet
    here: Literal["no", "same", "other"]


Token = Annotated[
    str, Field(max_length=64, description="of one order: asked for again after a lost answer, it is made once")
]


class Again(Message):
    """An order that is made once more."""

    token: Token = ""


class NewOrder(Message):
    """An order of what an export wrote. ``copies`` 0: as many as each edition says. ``token``: the same for the same order,
    however often it is asked for."""

    export: str
    token: Token = ""
    to: Address
    paper: str = Field("", max_length=200)
    finish: str = Field("", max_length=200)
    cover: str = Field("", max_length=200)
    copies: int = Field(0, ge=0, le=100_000)
    each_to: dict[str, Address] = Field({}, max_length=1000, description="by edition id or name, where not to the same")
    note: str = Field("", max_length=1000)
    wish: str = Field("", max_length=200)


class Reason(answers.Reason):
    """Why a lab refused, and which sheet and edition it speaks of, where they are known."""

    sheet: str = ""
    edition: str = ""


class OrderState(Message):
    """An order and how it stands: ``sending``, ``unsent`` with why, ``refused`` with reasons, or what the lab says.
    ``changed_since``: the job was changed after these files were made. ``picture``: the state whose first sheet shows the job;
    "" when it cannot be read."""

    id: str
    job: str
    job_name: str
    picture: str
    reference: str
    state: str
    message: str
    reasons: list[Reason]
    lines: list[OrderLine]
    to: Address
    note: str
    price: float | None
    currency: str
    lab_order: str
    again_of: str
    made: str
    asked: str
    changed_since: bool
    progress: list[int] | None


def _describe_order(studio: Studio, order: Ordered) -> OrderState:
    try:
        job = studio.jobs.head(order.job)
        name, number, now, picture = job.job.name, job.number, job.job, job.root
    except SutaruError:  # a job that cannot be read just now; its orders and their files stay
        name, number, now, picture = order.order.lines[0].title, order.number, None, ""
    progress = studio.desk.sending.get(order.id)
    reasons = [_place_reason(now, reason) for reason in order.reasons]
    return OrderState(
        id=order.id, job=order.job, job_name=name, picture=picture, reference=order.order.reference, state=order.state,
        message=order.message, reasons=reasons, lines=list(order.order.lines), to=order.order.to, note=order.order.note,
        price=order.price, currency=order.currency, lab_order=order.lab_order,
        again_of=order.again_of, made=order.made, asked=order.asked,
        changed_since=bool(order.number) and number != order.number, progress=list(progress) if progress else None,
    )  # fmt: skip


def _place_reason(job: Job | None, reason: dict[str, Any]) -> Reason:
    """A lab's reason with the sheet and the edition that it speaks of, as the job stands now."""
    reason_read = Reason.model_validate(reason)
    if job is None:
        return reason_read
    edition = next(
        (candidate.id for candidate in job.editions if reason_read.line == f"{job.name}, {candidate.name}"), ""
    )
    sheet = next((sheet_here.id for sheet_here in job.sheets if sheet_here.name == reason_read.page), "")
    if not sheet and 0 < reason_read.number <= len(job.sheets):  # a page of a file of many
        sheet = job.sheets[reason_read.number - 1].id
    return reason_read.model_copy(update={"sheet": sheet, "edition": edition})


def _describe_lab_sheet(studio: Studio, sheet: LabSheet) -> Published:
    known = studio.catalogue.labs.get(sheet.id)
    return Published(sheet=sheet, here="no" if known is None else "same" if known == sheet else "other")


@router.post("/lab/sheets/{sheet}")
def take_sheet(studio: InStudio, sheet: str) -> LabSheet:
    """Takes a lab sheet that the lab publishes, so that jobs can be made for it. Jobs keep the one they have."""
    with closing(line_to(studio.desk.address)) as line:
        offers = line.sheets()
    if sheet in offers.unread:
        raise EditRefused(f"This lab sheet cannot be read: {offers.unread[sheet]}", "Ask the lab.")
    offered_sheet = next((offered for offered in offers.sheets if offered.id == sheet), None)
    if offered_sheet is None:
        raise NotFound("The lab does not publish this sheet.", "Look at its list again.")
    if offered_sheet.press and offered_sheet.press.profile not in PRESSES:
        try:
            studio.parts.asset(offered_sheet.press.profile)
        except NotFound:
            sentence = "The lab's press has a profile of its own, which is not here."
            raise EditRefused(sentence, "Ask the lab for it, and bring it in first.") from None
    studio.lab_sheets.keep(offered_sheet)
    studio.events.say("shelf", "")
    return offered_sheet


@router.get("/lab")
def lab(studio: InStudio) -> LabSays:
    """The lab that orders go to, and what it offers."""
    with closing(line_to(studio.desk.address)) as line:
        try:
            offers = line.sheets()
        except NotSent as error:
            return LabSays(address=line.address, reachable=False, message=str(error))
    return LabSays(
        address=line.address, reachable=True, papers=list(offers.papers), finishes=list(offers.finishes),
        covers=list(offers.covers), prices=offers.prices, turnaround=offers.turnaround, unread=offers.unread,
        sheets=[_describe_lab_sheet(studio, sheet) for sheet in offers.sheets],
    )  # fmt: skip


@router.get("/orders")
def orders(studio: InStudio, job: Annotated[str, Query(max_length=64)] = "") -> list[OrderState]:
    """All orders, the newest first, or those of a job; as they stand now."""
    return [_describe_order(studio, studio.desk.ask_lab(order)) for order in studio.orders.list_newest(job)]


@router.post("/orders", status_code=201)
def order(studio: InStudio, request: NewOrder) -> OrderState:
    """Orders what an export wrote, and sends it. Refused while something is still missing."""
    task = studio.board.tasks.get(request.export)
    if task.kind != "export" or task.state != "done" or task.outcome is None:
        raise NotFound("This export has no files.", "Export again.")
    job = studio.jobs.head(task.job).job
    lab = studio.catalogue.lab(task.asked["lab"])
    for named, address in request.each_to.items():
        if lacking := list_missing(address):
            raise EditRefused(f"{named}: {lacking[0]}", "Fill it in, then order.")
    if lacking := list_missing(request.to):
        raise EditRefused(lacking[0], "Fill it in, then order.")
    folder, by_edition = studio.board.folder(task), dict[str, list[OrderFile]]()
    copies: dict[str, int] = {}
    names: dict[str, str] = {}
    for entry in task.outcome["files"]:
        named = entry.get("edition_id", entry.get("edition", ""))  # two editions may have one name
        names[named] = entry.get("edition", "")
        by_edition.setdefault(named, []).append(
            OrderFile(name=entry["file"], sha256=entry["sha256"], bytes=entry["bytes"], page=entry["page"])
        )
        copies[named] = entry.get("copies", task.outcome.get("copies", 1))
        studio.orders.keep(entry["sha256"], folder / entry["file"])
    lines = tuple(
        OrderLine(title=f"{job.name}, {names[named]}" if named else job.name, lab_sheet=lab.id, files=tuple(files),
                  copies=request.copies or copies[named], paper=request.paper, finish=request.finish, cover=request.cover,
                  to=request.each_to.get(named) or request.each_to.get(names[named]))
        for named, files in by_edition.items()
    )  # fmt: skip
    new_order = Order(
        key=_key(request.token), reference=job.order_number or job.name, lines=lines, to=request.to, note=request.note,
        wish=request.wish,
    )  # fmt: skip
    if new_order.clash:
        raise EditRefused(f"Two files of this export are called {new_order.clash}.", "Export again, and order that.")
    return _send_order(studio, studio.orders.add(task.job, task.id, new_order, int(task.asked.get("number", 0))))


def _key(token: str) -> str:
    """An order's key: of the token that it was asked for by, so that one token makes one order."""
    return hashlib.sha256(f"order {token}".encode()).hexdigest()[:32] if token else secrets.token_hex(16)


def _send_order(studio: Studio, order: Ordered) -> OrderState:
    """A new order on its way; one that was made before by the same token stays as it is."""
    if order.state == "sending":
        studio.desk.send(order)
        studio.events.say("order", order.id)
    return _describe_order(studio, order)


@router.post("/orders/{order}/cancel")
def cancel(studio: InStudio, order: str) -> OrderState:
    """Cancels an order, until the lab has begun it."""
    return _describe_order(studio, studio.desk.cancel(order))


@router.post("/orders/{order}/send")
def send(studio: InStudio, order: str) -> OrderState:
    """Sends an order once more that did not arrive. The lab takes it once."""
    ordered = studio.orders.get(order)
    if ordered.state != "unsent":
        raise NotFound("This order is with the lab already.", "Follow it there.")
    studio.orders.set_standing(order, "sending")
    studio.desk.send(ordered)
    return _describe_order(studio, studio.orders.get(order))


@router.post("/orders/{order}/again", status_code=201)
def reorder(studio: InStudio, order: str, request: Again | None = None) -> OrderState:
    """Orders the same once more, with exactly the files of then."""
    earlier = studio.orders.get(order)
    missing = [file.name for sha, file in earlier.order.files.items() if not studio.orders.file(sha).exists()]
    if missing:
        raise NotFound(f"{missing[0]} of this order is not here any more.", "Export the job again, and order that.")
    token = request.token if request else ""
    fresh = earlier.order.copy_with(key=_key(token and f"{token} {earlier.id}"))
    return _send_order(studio, studio.orders.add(earlier.job, earlier.export, fresh, earlier.number, earlier.id))
