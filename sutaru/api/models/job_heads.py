"""Where a job stands, what moves it, and its long work."""

from typing import Any

from pydantic import Field

from ...core.checks import Counts, Measured, Places
from ...core.document import FileKind
from ...core.edits.kinds import Edit
from ...core.press.print_wishes import PrintWish
from ...store.tasks import Kind
from ...store.tasks import State as TaskStateName
from ..messages import Message
from .parts import PartsOf, StoredJob


class SheetMark(Message):
    """One sheet of an edition: the key of all that decides how it looks and measures; its picture's width over its height;
    openings, filled ones, stops, looks and openings that are being checked, null when that is not worked out yet."""

    key: str
    ratio: float
    counts: Counts | None


class ProgressOf(Message):
    """How far long work has got."""

    stage: str
    done: int
    total: int


class TaskState(Message):
    """Long work as the screens show it."""

    id: str
    kind: Kind
    job: str
    asked: dict[str, Any]
    state: TaskStateName
    message: str
    outcome: dict[str, Any] | None
    made: str
    ended: str | None
    progress: ProgressOf | None


class JobHead(Message):
    """Where a job stands, and what is new of it to the asker.

    ``seq`` rises with each change: of two heads the higher is the newer. ``undo`` and ``redo`` say what they would do, ""
    for nothing. ``marks`` go by the order of sheets. ``unseen``: how many photos the machine has yet to look at. ``newer``:
    the newest revision of the template it began from, 0 when it has that. ``task``
    is long work that an edit began instead of an answer.
    """

    id: str
    seq: int
    number: int
    root: str
    undo: str
    redo: str
    edition: str
    unseen: int
    job: StoredJob
    newer: int
    marks: list[SheetMark]
    parts: PartsOf
    measured: dict[str, Measured]
    places: dict[str, Places]
    task: TaskState | None = None


class Known(Message):
    """What the asker has: the root last seen (its parts are not sent again), the edition and the sheet in view."""

    have: str = Field("", max_length=64)
    edition: str = Field("", max_length=64)
    view: str = Field("", max_length=64)


class EditRequest(Known):
    """An edit; edits that share a gesture are undone together."""

    edit: Edit
    gesture: str | None = Field(None, max_length=64)
    token: str | None = Field(None, max_length=64, description="an edit sent again under its token is not done again")


class BackRequest(Known):
    """Undo or redo, as of what the asker has seen."""

    seq: int | None = Field(None, ge=0, le=2**53)


class PreviewRequest(Message):
    """An edit whose result is to be seen before it is kept."""

    edit: Edit
    edition: str = Field("", max_length=64)
    width: int = Field(1600, ge=60, le=4000)


class HistoryState(Message):
    """A state the job was in. ``ends`` is the last number of the gesture it belongs to; ``here`` is where the job stands."""

    number: int
    parent: int | None
    label: str
    made: str
    named: str
    steps: int
    here: bool
    undone: bool


class StateName(Message):
    """A name for a state; "" for none."""

    name: str = Field(max_length=120)


class ExportRequest(Message):
    """What to export. ``edition``: one by its id, the first for "", all for "*". ``sheets``: on print sheets, as one PDF."""

    lab: str
    edition: str = Field("", max_length=64)
    format: FileKind | None = None
    transparent: bool = False
    sheets: PrintWish | None = None
