"""The studio's printer: what it holds, print sheets sent to it, and going on where it stopped."""

from typing import Annotated, Literal

from fastapi import APIRouter, Path, Response
from pydantic import Field

from ..core.errors import NotFound
from ..work.answers import PrintJob, Tray
from ..work.printing import NotPrinted, PrinterLine
from .messages import Message
from .studio import InStudio
from .tasks import files_of

router = APIRouter(prefix="/api", tags=["printer"])
JobId = Annotated[str, Path(pattern=r"^[0-9a-f]{12}$")]


class PrinterState(Message):
    """The printer; only its address while it cannot be reached."""

    address: str
    reachable: bool
    message: str = ""
    trays: list[Tray] = []
    margin_mm: float = 0.0


class PrintRequest(Message):
    """PDFs of an export on paper, as one job, their pages in that order. ``fit``: a page of another size than the paper is
    refused (``exact``), made smaller, or laid in the middle."""

    files: list[Annotated[str, Field(max_length=200)]] = Field(min_length=1, max_length=500)
    tray: str = Field(max_length=40)
    copies: int = Field(1, ge=1, le=999)
    duplex: Literal["", "long", "short"] = ""
    fit: Literal["exact", "smaller", "middle"] = "exact"


@router.get("/printer")
def printer(studio: InStudio) -> PrinterState:
    """The printer that the studio prints on."""
    line = PrinterLine(studio.printer)
    try:
        trays = line.trays()
        return PrinterState(address=line.address, reachable=True, trays=list(trays.trays), margin_mm=trays.margin_mm)
    except NotPrinted as error:
        return PrinterState(address=line.address, reachable=False, message=str(error))


@router.post("/exports/{export}/print", status_code=201)
def print_(studio: InStudio, export: str, request: PrintRequest) -> PrintJob:
    """Prints PDFs of a finished export, as one job. Refused with what the printer says against it."""
    written = files_of(studio, export)
    if not all(name in written and name.endswith(".pdf") for name in request.files):
        raise NotFound("This export has no such PDF.", "Export a PDF, or print sheets.")
    from ..core.press.joined_pdf import join_pdfs

    data = join_pdfs([written[name] for name in request.files])
    return PrinterLine(studio.printer).take(data, request.tray, request.copies, request.duplex, request.fit)


@router.get("/printer/jobs/{job}")
def print_state(studio: InStudio, job: JobId) -> PrintJob:
    """How a job stands at the printer."""
    return PrinterLine(studio.printer).job(job)


@router.post("/printer/jobs/{job}/on")
def go_on(studio: InStudio, job: JobId) -> PrintJob:
    """Goes on with a job that has stopped, once somebody has seen to the printer."""
    return PrinterLine(studio.printer).go_on(job)


@router.get("/printer/jobs/{job}/sides/{name}", response_class=Response)
def side(
    studio: InStudio, job: JobId, name: Annotated[str, Path(pattern=r"^sheet-\d{3,4}-(front|back)\.png$")]
) -> Response:
    """A side that was printed, as a picture."""
    return Response(PrinterLine(studio.printer).side(job, name), media_type="image/png")
