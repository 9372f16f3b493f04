"""Lists of customers: read, matched and tried before an edit takes them."""

from typing import Annotated

from fastapi import APIRouter, Query, Request
from fastapi.concurrency import run_in_threadpool
from pydantic import BaseModel

from ..core.edits import RowDone, TakeList, from_list
from ..core.lists import Meaning, Table, matched, read_list, says
from ..core.lists.reading import MOST_BYTES
from .jobs import receive
from .studio import InStudio

router = APIRouter(prefix="/api", tags=["lists"])


class CanSay(BaseModel):
    """Something that a column of a list can say in a job, in words."""

    meaning: Meaning
    name: str


class ListRead(BaseModel):
    """A list that was read: its table, what each column most likely says, and all that one can say."""

    table: Table
    meanings: list[Meaning]
    says: list[CanSay]


@router.post("/jobs/{job}/list")
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
    here = studio.jobs.head(job).job
    can = [CanSay(meaning=meaning, name=_named(here, meaning)) for meaning in says(here)]
    return ListRead(table=table, meanings=list(matched(here, table)), says=can)


_NAMED = {"name": "Name", "key": "Key (tells customers apart)", "copies": "Copies"}


def _named(job, meaning) -> str:  # type: ignore[no-untyped-def]
    if meaning.kind in _NAMED:
        return _NAMED[meaning.kind]
    if meaning.kind == "field":
        return f"{{{meaning.field}}}"
    sheet = job.sheets_by_id[meaning.sheet]
    layer = sheet.layout.find(meaning.layer)
    on = f" on {sheet.name}" if len(job.sheets) > 1 else ""
    if meaning.kind == "photo":
        called = f" ({layer.name})" if layer.name else ""
        return f"photo of opening {sheet.layout.numbers[meaning.layer]}{called}{on}"
    return f"words: {layer.name or layer.text[:30]}{on}"


@router.post("/jobs/{job}/list/tried")
def tried(studio: InStudio, job: str, asked: TakeList) -> list[RowDone]:
    """What would become of each row of a list, without keeping it."""
    return from_list(studio.jobs.head(job).job, asked)[1]
