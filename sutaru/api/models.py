"""What the API gives and takes, beyond the core's own models."""

from typing import Any, Literal

from pydantic import BaseModel, Field

from ..core.checks import EchoRow, Finding, Row
from ..core.document import Format, Job, Photo, Product
from ..core.edits import Edit


class Problem(BaseModel):
    """An error: a stable code and a plain sentence that says what to do."""

    code: str
    sentence: str


class PageCard(BaseModel):
    """A page of a template as the shelf shows it."""

    id: str
    name: str
    width_mm: float
    height_mm: float
    bleed_mm: float
    openings: int


class TemplateCard(BaseModel):
    """A template as the shelf shows it."""

    id: str
    name: str
    product: Product
    occasion: str
    note: str
    orientation: Literal["landscape", "portrait", "square"]
    pages: list[PageCard]


class JobCard(BaseModel):
    """A job as the shelf shows it."""

    id: str
    name: str
    customer: str
    template: str
    revision: int
    changed: str
    page: str
    openings: int
    filled: int
    stops: int
    looks: int


class NewJob(BaseModel):
    """What a job is started from."""

    template: str
    name: str = Field(min_length=1, max_length=120)
    customer: str = Field("", max_length=120)
    lab: str
    samples: bool = False


class Started(BaseModel):
    """The id of a new job."""

    id: str


class JobState(BaseModel):
    """A job's head: its document, what undo and redo would do ("" for nothing), its ledger, findings and echoes.

    ``unseen``: how many photos of the pile the machine has yet to look at.
    """

    id: str
    revision: int
    undo: str
    redo: str
    job: Job
    ledger: list[Row]
    findings: list[Finding]
    echoes: list[EchoRow]
    unseen: int


class EditRequest(BaseModel):
    """An edit; edits that share a gesture are undone together."""

    edit: Edit
    gesture: str | None = Field(None, max_length=64)


class PreviewRequest(BaseModel):
    """An edit whose result is to be seen before it is kept."""

    edit: Edit
    width: int = Field(1600, ge=60, le=4000)


class Ranked(BaseModel):
    """A photo of the pile as a candidate for an opening: the lower its cost, the better it fits."""

    photo: str
    cost: float
    used: bool


class PpiCell(BaseModel):
    """A small part of an opening on the page (mm) and what it prints at."""

    points: list[tuple[float, float]]
    ppi: float


class BroughtIn(BaseModel):
    """A photo that was brought in, and whether it was in the pile already."""

    photo: Photo
    known: bool
    revision: int


class ExportRequest(BaseModel):
    """What to export."""

    lab: str
    format: Format | None = None
    transparent: bool = False


class ProgressOf(BaseModel):
    """How far long work has got."""

    stage: str
    done: int
    total: int


class ExportState(BaseModel):
    """An export as the dispatch shows it."""

    id: str
    job: str
    revision: int
    lab: str
    format: str
    state: Literal["queued", "running", "done", "failed", "stopped"]
    message: str
    manifest: dict[str, Any] | None
    made: str
    progress: ProgressOf | None
