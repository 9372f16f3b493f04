"""The customer's proof as a link: made and watched over by the studio, opened by the customer without a passphrase.

What a link shows is the job as it stood when the link was made or brought up to date, in reduced and marked pictures; nothing
else of the studio can be reached by it. It lies on a path of its own, ``/p/``, so that a proxy can pass that on alone.
"""

import base64
import hashlib
import re
from datetime import datetime
from typing import Annotated, Any

from fastapi import APIRouter, Request, Response
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import HTMLResponse, StreamingResponse
from pydantic import Field, StringConstraints

from ..core.document import Job
from ..core.document.base import Identity
from ..core.edits.kinds import TakeRemarks
from ..core.errors import EditRefused, NotFound
from ..core.press.proof import PAGE, Sending, read_remarks, write_proof
from ..store import ProofLink
from .description import upload
from .messages import Message
from .studio import InStudio, Studio

router = APIRouter(tags=["proofs"])
WIDTH = 1500  # px of a sheet
_SCRIPT = re.compile(r"<script>(.*?)</script>", re.DOTALL)
_GONE = """<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<title>Proof</title><body style="font: 16px/1.5 system-ui, sans-serif; margin: 15vh auto; max-width: 34em; padding: 0 20px">
<h1 style="font-size: 20px">This link is not valid any more</h1><p>Ask the studio for a new one.</p></body></html>"""


class NewProofLink(Message):
    """A link to be made. ``days``: how long it opens the proof."""

    edition: Identity | None = Field(None, description="the first, when null")
    days: int = Field(14, ge=1, le=365)


class ProofLinkState(Message):
    """A link as the studio sees it. ``is_current``: it shows the job as it is now."""

    token: str = Field(description="what names the link", examples=["q3Zt0rJ8bX6n2kVw1Lm9sA4y"])
    url: str = Field(
        description="what the customer opens", examples=["https://proofs.example/p/q3Zt0rJ8bX6n2kVw1Lm9sA4y"]
    )
    edition: str
    edition_name: str = Field(description="empty where the job has one edition")
    created: str
    expires: str = Field(description="when it ends, ISO 8601", examples=["2026-12-16T10:00:00.000+00:00"])
    has_expired: bool = Field(description="whether its time is over")
    opened: str | None = Field(description="when the customer opened it last; null for never")
    remarks: int = Field(description="how many remarks came in by it")
    approved_by: str | None = Field(description="who approved it; null while nobody has", examples=["Ola Brandvik"])
    approved: str | None = Field(description="when it was approved")
    is_current: bool


class Approval(Message):
    """What a customer says who approves a proof. ``state``: which one the page shows that is approved."""

    name: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)] = Field(
        description="who approves", examples=["Ola Brandvik"]
    )
    state: int


@router.get("/api/jobs/{job}/proof-links")
def proof_links(studio: InStudio, job: str) -> list[ProofLinkState]:
    """The links to a job's proofs, the newest first."""
    now = studio.jobs.head(job).job
    return [_describe(studio, link, now) for link in studio.proof_links.list_of_job(job)]


@router.post("/api/jobs/{job}/proof-links", status_code=201)
def make_link(studio: InStudio, job: str, request: NewProofLink) -> ProofLinkState:
    """Makes a link by which the customer looks at the job as it is now, writes remarks and approves."""
    head = studio.jobs.head(job)
    edition = request.edition or head.job.editions[0].id
    _find_edition(head.job, edition)
    link = studio.proof_links.add(job, edition, head.number, request.days)
    studio.events.say("proof", job)
    return _describe(studio, link, head.job)


@router.put("/api/jobs/{job}/proof-links/{token}/current")
def update_link(studio: InStudio, job: str, token: str) -> ProofLinkState:
    """Has a link show the job as it is now. What was approved before no longer counts."""
    link, head = _of_job(studio, job, token), studio.jobs.head(job)
    _find_edition(head.job, link.edition)
    studio.proof_links.show_state(token, head.number)
    studio.events.say("proof", job)
    return _describe(studio, studio.proof_links.get(token), head.job)


@router.delete("/api/jobs/{job}/proof-links/{token}", status_code=204)
def remove_link(studio: InStudio, job: str, token: str) -> None:
    """Removes a link: it opens nothing any more. Remarks stay."""
    _of_job(studio, job, token)
    studio.proof_links.remove(token)
    studio.events.say("proof", job)


def _of_job(studio: Studio, job: str, token: str) -> ProofLink:
    link = studio.proof_links.get(token)
    if link.job != job:
        raise NotFound("This link was not found.", "It may have been removed: make a new one.")
    return link


def _find_edition(job: Job, edition: str) -> None:
    if all(entry.id != edition for entry in job.editions):
        raise NotFound("This edition was not found in this job.", "Choose another.")


def _describe(studio: Studio, link: ProofLink, now: Job) -> ProofLinkState:
    fields = {name: getattr(link, name) for name in ("token", "edition", "created", "expires", "has_expired", "opened",
                                                     "remarks", "approved_by", "approved")}  # fmt: skip
    name = next((entry.name for entry in now.editions if entry.id == link.edition), "") if len(now.editions) > 1 else ""
    return ProofLinkState(
        edition_name=name,
        url=f"{studio.public_url}/p/{link.token}",
        is_current=_looks_as_now(studio, link, now),
        **fields,
    )


def _looks_as_now(studio: Studio, link: ProofLink, now: Job) -> bool:
    """Whether what a link shows is what the job looks like now: remarks that came in change nothing of it."""
    try:
        then = studio.jobs.get_state(link.job, link.state)
        return studio.sheets.keys(link.job, then, link.edition) == studio.sheets.keys(link.job, now, link.edition)
    except (KeyError, NotFound):
        return False


def _open(studio: Studio, token: str) -> ProofLink | None:
    """A link that a customer may open now; None for any other."""
    try:
        link = studio.proof_links.get(token)
        return None if link.has_expired or studio.jobs.get_listed(link.job).deleted else link
    except NotFound:
        return None


@router.get("/p/{token}", include_in_schema=False)
def open_proof(studio: InStudio, token: str) -> Response:
    """The proof as a page. What it loads is in it; its one script is named by its hash, so that no other runs."""
    link = _open(studio, token)
    if link is None:
        return HTMLResponse(_GONE, 404, headers={"Cache-Control": "no-store"})
    job = studio.jobs.get_state(link.job, link.state)
    keys = dict(zip(job.sheets_by_id, studio.sheets.keys(link.job, job, link.edition), strict=True))
    sending = Sending(f"/p/{token}", link.state, link.approved_by or "", (link.approved or "")[:10])
    studio.proof_links.mark_opened(token)
    studio.events.say("proof", link.job)
    pieces = write_proof(
        job,
        link.job,
        link.created,
        "",
        lambda sheet: studio.sheets.picture(keys[sheet], WIDTH).jpeg,
        link.edition,
        sending,
    )
    return StreamingResponse(
        pieces, media_type="text/html; charset=utf-8",
        headers={"Content-Security-Policy": _policy(), "Cache-Control": "no-store", "Referrer-Policy": "no-referrer"},
    )  # fmt: skip


def _policy() -> str:
    scripts = [
        f"'sha256-{base64.b64encode(hashlib.sha256(script.encode()).digest()).decode()}'"
        for script in _SCRIPT.findall(PAGE.read_text("utf-8"))
    ]
    return (
        f"default-src 'none'; img-src data: blob:; style-src 'unsafe-inline'; script-src {' '.join(scripts)}; "
        "connect-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"
    )


@router.post("/p/{token}/remarks", include_in_schema=False, openapi_extra=upload("Remarks.", "application/json"))
async def take_remarks(studio: InStudio, token: str, request: Request) -> dict[str, int]:
    """Takes in what a customer wrote; how many of the remarks are new."""
    return await run_in_threadpool(_take_in, studio, token, await request.body())


def _take_in(studio: Studio, token: str, data: bytes) -> dict[str, int]:
    link = _open(studio, token)
    if link is None:
        raise NotFound("This link is not valid any more.", "Ask the studio for a new one.")
    job = studio.jobs.head(link.job).job
    # A sheet that was deleted since is still one that the customer sees.
    sheets = {*job.sheets_by_id, *studio.jobs.get_state(link.job, link.state).sheets_by_id}
    remarks = read_remarks(data, sheets, link.job, datetime.now().astimezone().isoformat(timespec="seconds"))
    known = {remark.id for remark in job.remarks}
    fresh = tuple(remark for remark in remarks if remark.id not in known)
    if fresh:
        head = studio.editor.edit(link.job, TakeRemarks(remarks=fresh))
        studio.events.say("job", head.id, seq=head.seq)
        studio.proof_links.add_remarks(token, len(fresh))
        studio.events.say("proof", link.job)
    return {"new": len(fresh)}


@router.post("/p/{token}/approval", include_in_schema=False)
def approve(studio: InStudio, token: str, approval: Approval) -> dict[str, Any]:
    """Stores that a customer approves what the link shows."""
    link = _open(studio, token)
    if link is None:
        raise NotFound("This link is not valid any more.", "Ask the studio for a new one.")
    if link.approved:
        raise EditRefused(f"{link.approved_by} has approved this proof already.")
    if not studio.proof_links.approve(token, approval.name, approval.state):
        raise EditRefused(
            "The studio has changed this proof meanwhile.", "Load the page again, look at it, and approve then."
        )
    studio.events.say("proof", link.job)
    approved = studio.proof_links.get(token)
    return {"approved_by": approved.approved_by, "approved": (approved.approved or "")[:10]}
