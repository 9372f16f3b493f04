"""The studio's printer: what it holds, print sheets sent to it, and going on where it stopped."""

from typing import Annotated, Literal

from fastapi import APIRouter, Path, Response
from pydantic import BaseModel, Field

from ..core.errors import NotFound
from ..work.printing import NotPrinted, PrinterLine
from .studio import InStudio
from .tasks import files_of

router = APIRouter(prefix="/api", tags=["printer"])
JobId = Annotated[str, Path(pattern=r"^[0-9a-f]{12}$")]


class TrayState(BaseModel):
    """A tray of the printer. ``profile``: the press profile that its paper is printed by."""

    name: str
    width_mm: float
    height_mm: float
    media: str
    sheets: int
    profile: str
    duplex: bool


class PrinterState(BaseModel):
    """The printer; only its address while it cannot be reached."""

    address: str
    reachable: bool
    message: str = ""
    trays: list[TrayState] = []
    margin_mm: float = 0.0


class PrintRequest(BaseModel):
    """A PDF of an export on paper. ``fit``: a page of another size than the paper is refused (``exact``), made smaller, or laid
    in the middle."""

    file: str = Field(max_length=200)
    tray: str = Field(max_length=40)
    copies: int = Field(1, ge=1, le=999)
    duplex: Literal["", "long", "short"] = ""
    fit: Literal["exact", "smaller", "middle"] = "exact"


class PrintState(BaseModel):
    """A job at the printer. ``printed``: sheets, of ``sheets`` times ``copies``; ``notes``: how it lies on the paper."""

    id: str
    tray: str
    media: str
    copies: int
    sheets: int
    printed: int
    state: Literal["printing", "stopped", "done"]
    why: str
    notes: list[str]
    files: list[str]


@router.get("/printer")
def printer(studio: InStudio) -> PrinterState:
    """The printer that the studio prints on."""
    line = PrinterLine(studio.printer)
    try:
        return PrinterState(address=line.address, reachable=True, **line.told())
    except NotPrinted as error:
        return PrinterState(address=line.address, reachable=False, message=str(error))


@router.post("/exports/{export}/print", status_code=201)
def print_(studio: InStudio, export: str, asked: PrintRequest) -> PrintState:
    """Prints a PDF of a finished export. Refused with what the printer says against it."""
    files = files_of(studio, export)
    if asked.file not in files or not asked.file.endswith(".pdf"):
        raise NotFound("This export has no such PDF.", "Export a PDF, or print sheets.")
    told = PrinterLine(studio.printer).take(files[asked.file], asked.tray, asked.copies, asked.duplex, asked.fit)
    return PrintState.model_validate(told)


@router.get("/printer/jobs/{job}")
def print_state(studio: InStudio, job: JobId) -> PrintState:
    """How a job stands at the printer."""
    return PrintState.model_validate(PrinterLine(studio.printer).job(job))


@router.post("/printer/jobs/{job}/on")
def go_on(studio: InStudio, job: JobId) -> PrintState:
    """Goes on with a job that has stopped, once somebody has seen to the printer."""
    return PrintState.model_validate(PrinterLine(studio.printer).go_on(job))


@router.get("/printer/jobs/{job}/sides/{name}", response_class=Response)
def side(
    studio: InStudio, job: JobId, name: Annotated[str, Path(pattern=r"^sheet-\d{3,4}-(front|back)\.png$")]
) -> Response:
    """A side that was printed, as a picture."""
    return Response(PrinterLine(studio.printer).side(job, name), media_type="image/png")
