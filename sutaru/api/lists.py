"""Lists of customers: read, matched and tried before an edit takes them."""

from typing import Annotated

from fastapi import APIRouter, Query, Request
from fastapi.concurrency import run_in_threadpool

from ..core.document import Job
from ..core.edits.kinds import TakeList
from ..core.edits.lists import RowDone, apply_list
from ..core.lists import Meaning, Table, list_meanings, match_columns, read_list
from ..core.lists.list_file import MOST_BYTES
from .description import upload
from .messages import Message
from .stores import InJobs
from .studio import InStudio
from .uploads import receive

router = APIRouter(prefix="/api", tags=["lists"])


class CanSay(Message):
    """Something that a column of a list can say in a job, in words."""

    meaning: Meaning
    name: str


class ListRead(Message):
    """A list that was read: its table, what each column most likely says, and all that one can say."""

    table: Table
    meanings: list[Meaning]
    says: list[CanSay]


@router.post(
    "/jobs/{job}/list",
    openapi_extra=upload(
        "A list of editions.", "text/csv", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
    ),
)
async def read(
    studio: InStudio, request: Request, job: str, name: Annotated[str, Query(max_length=120)] = ""
) -> ListRead:  # fmt: skip
    """Reads a list (CSV or XLSX, the request's body): its table, what each column most likely says in this job, and all that a
    column can say."""
    called = name or "This list"
    path = await receive(studio, request.stream(), MOST_BYTES, called)
    try:
        table = await run_in_threadpool(lambda: studio.door.asset(called, read_list, path.read_bytes(), called))
    finally:
        path.unlink(missing_ok=True)
    return await run_in_threadpool(_match_list, studio.jobs.head(job).job, table)


def _match_list(job: Job, table: Table) -> ListRead:
    can = [CanSay(meaning=meaning, name=_name_meaning(job, meaning)) for meaning in list_meanings(job)]
    return ListRead(table=table, meanings=list(match_columns(job, table)), says=can)


_NAMED = {"name": "Name", "key": "Key (tells customers apart)", "copies": "Copies"}


def _name_meaning(job: Job, meaning: Meaning) -> str:
    if meaning.kind in _NAMED:
        return _NAMED[meaning.kind]
    if meaning.kind == "field":
        return f"{{{meaning.field}}}"
    sheet = job.sheets_by_id[meaning.sheet]
    on = f" on {sheet.name}" if len(job.sheets) > 1 else ""
    if meaning.kind == "photo":
        opening = sheet.layout.openings_by_id[meaning.layer]
        called = f" ({opening.name})" if opening.name else ""
        return f"photo of opening {sheet.layout.numbers[opening.id]}{called}{on}"
    text = sheet.layout.texts_by_id[meaning.layer]
    return f"words: {text.name or text.text[:30]}{on}"


@router.post("/jobs/{job}/list/tried")
def try_list(jobs: InJobs, job: str, request: TakeList) -> list[RowDone]:
    """What would become of each row of a list, without keeping it."""
    return apply_list(jobs.head(job).job, request)[1]
