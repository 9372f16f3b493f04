"""A printer as a small HTTP service: trays of papers, margins where it does not print, both sides, copies. It prints into
pictures: each side of a sheet as it would lie on the paper.

Nothing is ever fitted to paper silently: a page of another size than the tray's paper is refused, unless it is asked to be made
smaller or laid in the middle, and then the answer says by how much, and what falls off. Faults are told to it: ``empty`` runs a
tray out of paper, ``jam`` stops in the middle, ``wrong`` has another paper in the tray than it says, each so often as its number
says. What stopped goes on where it was, and no sheet is printed twice.
"""

import io
import json
import secrets
import threading
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Literal

import pikepdf
import pypdfium2
import uvicorn
from fastapi import FastAPI, Request
from fastapi.responses import FileResponse, JSONResponse
from PIL import Image

from ..core.errors import FileRefused, NotFound, SutaruError
from ..core.measure import mm_from_points, pixels
from ..core.press.files import write_whole
from .faults import Faults

Fit = Literal["exact", "smaller", "middle"]
Edge = Literal["", "long", "short"]
PPI = 100  # of the pictures that it prints
MARGIN_MM = 4.0  # where it does not print
SAME_MM = 0.6  # a page that is off a paper by less is of its size
MOST_BYTES, MOST_SIDES = 2 << 30, 2000
FAULTS = ("empty", "jam", "wrong")


@dataclass
class Tray:
    """A tray: its paper, mm, what it is, how many sheets, and which press profile it prints by. ``duplex``: both sides."""

    name: str
    width_mm: float
    height_mm: float
    media: str
    sheets: int
    profile: str
    duplex: bool = True

    def describe(self) -> dict[str, Any]:
        """As it is published."""
        return vars(self)


def trays() -> list[Tray]:
    """What it holds when it is switched on."""
    return [
        Tray("1", 450, 320, "coated 170", 500, "fogra39"),
        Tray("2", 420, 297, "coated 170", 250, "fogra39"),
        Tray("3", 297, 210, "matt 250", 100, "fogra39"),
        Tray("4", 203.2, 304.8, "photo gloss 260", 50, "tr006", duplex=False),
    ]


class Printer:
    """What the printer keeps: its trays, and what it has printed, in a folder."""

    def __init__(self, folder: Path, faults: str = "") -> None:
        self._folder, self._lock = folder, threading.RLock()
        folder.mkdir(parents=True, exist_ok=True)
        self.trays = {tray.name: tray for tray in trays()}
        self._faults = Faults(faults, FAULTS)

    def describe(self) -> dict[str, Any]:
        """Its trays and margins."""
        return {"trays": [tray.describe() for tray in self.trays.values()], "margin_mm": MARGIN_MM}

    def take(self, data: bytes, tray: str, copies: int, duplex: Edge, fit: Fit) -> dict[str, Any]:
        """Takes a PDF and prints it as far as it gets; how the job stands. Raises FileRefused for what is not printed so."""
        with self._lock:
            if tray not in self.trays:
                raise NotFound(f"There is no tray {tray}.", f"Choose one of: {', '.join(self.trays)}.")
            paper = self.trays[tray]
            if duplex and not paper.duplex:
                raise FileRefused(f"{paper.media} in tray {tray} is printed on one side only.", "Choose another tray.")
            sizes, condition = _read(data)
            lies = [_place_page(size, paper, fit) for size in sizes]
            identity = secrets.token_hex(6)
            folder = self._folder / identity
            folder.mkdir()
            (folder / "job.pdf").write_bytes(data)
            job = {
                "id": identity, "tray": tray, "media": paper.media, "copies": copies, "duplex": duplex, "fit": fit,
                "sides": len(sizes), "sheets": -(-len(sizes) // (2 if duplex else 1)), "printed": 0, "state": "printing",
                "why": "",
                "notes": _notes(lies, paper, condition), "files": [],
            }  # fmt: skip
            self._keep_job(job)
            return self.go_on(identity)

    def job(self, identity: str) -> dict[str, Any]:
        """How a job stands. Raises NotFound."""
        path = self._folder / identity / "job.json"
        if not identity.isalnum() or not path.exists():
            raise NotFound("This job was not found here.")
        entry: dict[str, Any] = json.loads(path.read_text("utf-8"))
        return entry

    def go_on(self, identity: str) -> dict[str, Any]:
        """Goes on with a job that has stopped, from the sheet it was at; how it stands then."""
        with self._lock:
            job = self.job(identity)
            if job["state"] == "done":
                return job
            paper = self.trays[job["tray"]]
            if job["state"] == "stopped" and paper.sheets == 0:
                paper.sheets = 100  # somebody has filled it
            job |= {"state": "printing", "why": ""}
            for sheet in range(job["printed"], job["sheets"] * job["copies"]):
                why = self._stops(paper)
                if why:
                    job |= {"state": "stopped", "why": why}
                    break
                job["files"] += self._print(job, sheet, paper)
                job["printed"] = sheet + 1
                paper.sheets -= 1
            else:
                job["state"] = "done"
            self._keep_job(job)
            return job

    def _stops(self, paper: Tray) -> str:
        if self._faults.is_due("empty"):
            paper.sheets = 0
        if paper.sheets == 0:
            return f"Tray {paper.name} is out of {paper.media}. Fill it, then go on."
        if self._faults.is_due("jam"):
            return f"A sheet of {paper.media} is jammed. Take it out, then go on: it is printed anew."
        if self._faults.is_due("wrong"):
            return f"There is other paper in tray {paper.name} than {paper.media}. Change it, then go on."
        return ""

    def _print(self, job: dict[str, Any], index: int, paper: Tray) -> list[str]:
        """A sheet's sides, as pictures; further copies look alike and are counted."""
        copy, sheet = divmod(index, job["sheets"])
        if copy:
            return []
        folder, notes = self._folder / job["id"], []
        a_sheet = 2 if job["duplex"] else 1
        document = pypdfium2.PdfDocument((folder / "job.pdf").read_bytes())
        try:
            for side in range(sheet * a_sheet, min(job["sides"], (sheet + 1) * a_sheet)):
                name = f"sheet-{sheet + 1:03d}-{'back' if side % 2 and job['duplex'] else 'front'}.png"
                picture = _lay_page(document[side], paper, job["fit"])
                with write_whole(folder / name) as file:
                    picture.save(file, "PNG", dpi=(PPI, PPI))
                notes.append(name)
        finally:
            document.close()
        return notes

    def file(self, identity: str, name: str) -> Path:
        """A side that was printed. Raises NotFound."""
        if name not in self.job(identity)["files"]:
            raise NotFound("This job has printed no such side.")
        return self._folder / identity / name

    def _keep_job(self, job: dict[str, Any]) -> None:
        with write_whole(self._folder / job["id"] / "job.json") as file:
            file.write(json.dumps(job, indent=1, ensure_ascii=False).encode())


def _read(data: bytes) -> tuple[list[tuple[float, float]], str]:
    """The size of each page, mm, and the printing condition that it was made for."""
    try:
        with pikepdf.open(io.BytesIO(data)) as pdf:
            boxes = [[float(v) for v in page.mediabox] for page in pdf.pages]
            intents = pdf.Root.get("/OutputIntents", [])
            condition = str(intents[0].get("/OutputConditionIdentifier", "")) if len(intents) else ""
    except (pikepdf.PdfError, pikepdf.PasswordError):
        raise FileRefused("This is no PDF that can be printed.", "Send a PDF without a password.") from None
    if not 0 < len(boxes) <= MOST_SIDES:
        raise FileRefused(f"It has {len(boxes)} pages.", f"Send 1 to {MOST_SIDES} at a time.")
    return [(mm_from_points(box[2] - box[0]), mm_from_points(box[3] - box[1])) for box in boxes], condition


@dataclass(frozen=True)
class _Lies:
    """How a page lies on its paper: by how much it is made smaller, a quarter turned or not, and whether something falls off."""

    scale: float
    turned: bool
    off: bool


def _place_page(size: tuple[float, float], paper: Tray, fit: Fit) -> _Lies:
    wide, high = size
    onto = paper.width_mm, paper.height_mm
    same = [turned for turned in (False, True) if all(
        abs(a - b) <= SAME_MM for a, b in zip((high, wide) if turned else (wide, high), onto, strict=True))]  # fmt: skip
    if same:
        return _Lies(1.0, same[0], False)
    turned = (wide > high) != (onto[0] > onto[1])
    w, h = (high, wide) if turned else (wide, high)
    room = onto[0] - 2 * MARGIN_MM, onto[1] - 2 * MARGIN_MM
    if fit == "smaller":
        return _Lies(min(1.0, room[0] / w, room[1] / h), turned, False)
    if fit == "middle":
        return _Lies(1.0, turned, w > room[0] or h > room[1])
    share = min(1.0, room[0] / w, room[1] / h)
    do = f"or have it made smaller ({share:.0%})" if share < 1 else "or have it laid in the middle"
    raise FileRefused(
        f"A page of {wide:.1f} x {high:.1f} mm is not of the size of tray {paper.name}, {onto[0]:g} x {onto[1]:g} mm.",
        f"Choose another tray, {do}.",
    )


def _notes(lies: list[_Lies], paper: Tray, condition: str) -> list[str]:
    """What is to be known of how it is printed."""
    notes = []
    if (least := min(place.scale for place in lies)) < 1:
        notes.append(f"Printed smaller, at {least:.1%} of its size.")
    if any(place.off for place in lies):
        notes.append("It is larger than can be printed: its edges fall off.")
    elif all(place.scale == 1 for place in lies):
        notes.append(f"At its own size; {MARGIN_MM:g} mm at the paper's edges stay white.")
    if any(place.turned for place in lies):
        notes.append("A quarter turned.")
    made_for = {"FOGRA39": "fogra39", "CGATS TR 006": "tr006"}.get(condition, "")
    if made_for and made_for != paper.profile:
        notes.append(f"It was made for {condition}; {paper.media} is printed by another profile.")
    return notes


def _lay_page(page: pypdfium2.PdfPage, paper: Tray, fit: Fit) -> Image.Image:
    """A page on its paper, which is white where the printer does not print."""
    width, height = (mm_from_points(v) for v in page.get_size())
    lies = _place_page((width, height), paper, fit)
    drawn = page.render(scale=PPI / 72 * lies.scale, draw_annots=False).to_pil().convert("RGB")
    if lies.turned:
        drawn = drawn.transpose(Image.Transpose.ROTATE_90)
    sheet = Image.new("RGB", (pixels(paper.width_mm, PPI), pixels(paper.height_mm, PPI)), "white")
    sheet.paste(drawn, ((sheet.width - drawn.width) // 2, (sheet.height - drawn.height) // 2))
    edge = pixels(MARGIN_MM, PPI)
    held = Image.new("RGB", sheet.size, "white")
    held.paste(sheet.crop((edge, edge, sheet.width - edge, sheet.height - edge)), (edge, edge))
    return held


def create_printer(printer: Printer) -> FastAPI:
    """The printer's service."""
    app = FastAPI(title="A printer that stands in", docs_url=None, redoc_url=None)

    @app.exception_handler(SutaruError)
    def answer_refusal(request: Request, error: SutaruError) -> JSONResponse:
        status = 404 if isinstance(error, NotFound) else 409
        return JSONResponse({"sentence": error.sentence, "remedy": error.remedy}, status)

    @app.get("/printer")
    def get_printer() -> dict[str, Any]:
        """Trays, papers, margins."""
        return printer.describe()

    @app.post("/jobs", status_code=201)
    async def take(
        request: Request, tray: str, copies: int = 1, duplex: Edge = "", fit: Fit = "exact"
    ) -> dict[str, Any]:
        """Prints a PDF (the request's body)."""
        if not 1 <= copies <= 999:
            raise FileRefused("It prints 1 to 999 copies.", "Say how many.")
        data = bytearray()
        async for chunk in request.stream():
            data += chunk
            if len(data) > MOST_BYTES:
                raise FileRefused("This is too large to print at once.", "Send fewer pages at a time.")
        return printer.take(bytes(data), tray, copies, duplex, fit)

    @app.get("/jobs/{identity}")
    def job(identity: str) -> dict[str, Any]:
        """How a job stands."""
        return printer.job(identity)

    @app.post("/jobs/{identity}/on")
    def go_on(identity: str) -> dict[str, Any]:
        """Goes on with a job that has stopped."""
        return printer.go_on(identity)

    @app.get("/jobs/{identity}/sides/{name}", response_class=FileResponse)
    def side(identity: str, name: str) -> FileResponse:
        """A side that was printed, as a picture."""
        return FileResponse(printer.file(identity, name))

    return app


def serve(port: int, folder: Path, faults: str) -> int:
    """Runs the printer until it is interrupted."""
    print(f"The printer listens at http://127.0.0.1:{port}", flush=True)
    uvicorn.run(create_printer(Printer(folder, faults)), host="127.0.0.1", port=port, log_level="error")
    return 0
