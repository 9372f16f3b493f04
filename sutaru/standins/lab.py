"""A lab as a small HTTP service: publishes its sheets, takes orders and files, measures what it got, prints by a clock.

An order is opened under the customer's key (the same key is the same order), its files are put by checksum, in pieces where the
line breaks, and it is submitted: then every file is read back and measured, and the order goes on or is refused with reasons.
Its states follow a clock that can run faster. Faults are told to it: ``drop`` breaks the line in the middle of an upload,
``slow`` takes its time, ``full`` has no room, each so often as its number says (``drop:2,full:1``).

Many labs take orders by a drop folder instead: a folder for each, its files, and a ticket laid in last.
"""

import asyncio
import hashlib
import json
import os
import threading
import time
from contextlib import suppress
from pathlib import Path
from typing import Any

import uvicorn
from fastapi import FastAPI, Request, Response
from fastapi.responses import JSONResponse
from pydantic import ValidationError

from ..core.document import LabSheet
from ..core.errors import NotFound, SutaruError
from ..core.formats.shelf import read_shelf
from ..core.ordering import LAB_STATES, MAY_CANCEL, Address, Order, OrderFile, OrderLine
from ..core.press.files import write_whole
from ..core.verifying.print_files import verify
from ..shelf import FOLDER
from ..work.dropping import ANSWER, CANCEL, OFFERS, TICKET
from .faults import Faults

STEP_S = 600.0  # how long an order stays in a state, by the lab's own clock
PRICES = {"page": 0.9, "spread": 1.9, "order": 4.5}
CURRENCY = "GBP"
PAPERS = ("silk 170", "matt 250", "pearl 285")
FINISHES = ("matt film", "gloss film")
COVERS = ("printed", "linen", "hard with cloth")
DROP_S = 1.0  # how often a drop folder is looked into
SHEETS = Path(__file__).parent / "sheets"  # what it prints besides what every studio knows of
MOST_BYTES, PIECE = 2 << 30, 8 << 20
FAULTS = ("drop", "slow", "full")


class Lab:
    """What the lab keeps: orders and files, in a folder."""

    def __init__(self, folder: Path, clock: float = 1.0, faults: str = "") -> None:
        self._files, self._orders = folder / "files", folder / "orders"
        for subfolder in (self._files, self._orders):
            subfolder.mkdir(parents=True, exist_ok=True)
        self._clock, self.faults, self._lock = clock, Faults(faults, FAULTS), threading.RLock()
        shelf = read_shelf(FOLDER)
        sheets = (LabSheet.model_validate_json(path.read_text("utf-8")) for path in sorted(SHEETS.glob("*.json")))
        self.sheets: dict[str, LabSheet] = {**shelf.labs, **{sheet.id: sheet for sheet in sheets}}
        self._asset = shelf.asset

    def offers(self) -> dict[str, Any]:
        """What it publishes: lab sheets, papers, finishes, covers, prices, and how long an order takes."""
        return {
            "sheets": [sheet.model_dump(mode="json") for sheet in self.sheets.values()], "papers": list(PAPERS),
            "finishes": list(FINISHES), "covers": list(COVERS), "prices": {**PRICES, "currency": CURRENCY},
            "turnaround": "two working days",
        }  # fmt: skip

    def file(self, sha256: str) -> Path:
        """Where a whole file lies."""
        return self._files / sha256

    def has(self, sha256: str) -> tuple[int, bool]:
        """How many bytes of a file are here, and whether it is whole."""
        if self.file(sha256).exists():
            return self.file(sha256).stat().st_size, True
        part = self._part(sha256)
        return (part.stat().st_size if part.exists() else 0), False

    def _part(self, sha256: str) -> Path:
        return self._files / f"{sha256}.part"

    def put_piece(self, sha256: str, offset: int, data: bytes, size: int) -> tuple[int, bool]:
        """One more piece of a file. Raises SutaruError when it does not follow what is here, or the whole is another file."""
        with self._lock:
            here, done = self.has(sha256)
            if done:
                return here, True
            if offset != here:
                raise SutaruError(f"{here} bytes of this file are here.", f"Go on at {here}.")
            with self._part(sha256).open("ab") as file:
                file.write(data)
                file.flush()
                os.fsync(file.fileno())
            here += len(data)
            if here < size:
                return here, False
            with self._part(sha256).open("rb") as read:
                digest = hashlib.file_digest(read, "sha256").hexdigest()
            if digest != sha256:
                self._part(sha256).unlink()
                raise SutaruError("What came is another file than was named.", "Send it once more from its beginning.")
            os.replace(self._part(sha256), self.file(sha256))
            return here, True

    def open(self, order: Order) -> dict[str, Any]:
        """An order under its key: a new one, or the one that is here already."""
        with self._lock:
            entry = self._read(order.key)
            if entry is None:
                entry = {
                    "id": order.key[:12], "order": order.model_dump(mode="json"), "state": "open", "since": time.time(),
                    "submitted": None, "reasons": [],
                }  # fmt: skip
                self._write(order.key, entry)
        return self.describe_order(entry)

    def order(self, identity: str) -> dict[str, Any]:
        """An order by the lab's number. Raises NotFound."""
        for path in self._orders.glob(f"{identity}*.json"):
            return dict(json.loads(path.read_text("utf-8")))
        raise NotFound("This order was not found here.")

    def submit(self, identity: str) -> dict[str, Any]:
        """Measures an order's files and takes it, or refuses it with reasons. Submitting again changes nothing."""
        with self._lock:
            entry = self.order(identity)
            if entry["state"] != "open":
                return self.describe_order(entry)
            order = Order.model_validate(entry["order"])
            lacking = [file.name for sha, file in order.files.items() if not self.has(sha)[1]]
            if lacking:
                raise SutaruError(f"{len(lacking)} files are not here yet.", "Put them, then submit again.")
            entry["reasons"] = self._reasons(order)
            entry["state"] = "refused" if entry["reasons"] else "taken"
            entry["submitted"] = time.time()
            self._write(order.key, entry)
            return self.describe_order(entry)

    def cancel(self, identity: str) -> dict[str, Any]:
        """Cancels an order that is not begun; one that was refused stays so. Raises SutaruError once it is printed."""
        with self._lock:
            entry = self.order(identity)
            state = self.describe_order(entry)["state"]
            if state not in ("open", "cancelled", "refused", *MAY_CANCEL):
                raise SutaruError("This order is being printed already.", "Ring up, and we shall see.")
            if state != "refused":
                entry["state"] = "cancelled"
                self._write(entry["order"]["key"], entry)
            return self.describe_order(entry)

    def backdate(self, identity: str, when: float) -> dict[str, Any]:
        """An order as if it had been submitted then (seconds since the epoch), so that a state can be shown."""
        with self._lock:
            entry = self.order(identity)
            entry["submitted"] = when
            self._write(entry["order"]["key"], entry)
            return self.describe_order(entry)

    def _reasons(self, order: Order) -> list[dict[str, str]]:
        """What is against printing an order."""
        reasons: list[dict[str, str]] = []

        def object_to(line: OrderLine | None, reason: str, file: OrderFile | None = None, page: int = 0) -> None:
            where = {
                "line": line.title if line else "",
                "file": file.name if file else "",
                "page": file.page if file else "",
                "number": str(page) if page else "",
            }
            reasons.append({**where, "reason": reason})

        for line in order.lines:
            sheet = self.sheets.get(line.lab_sheet)
            if sheet is None:
                object_to(line, f"No sheet {line.lab_sheet} is printed here.")
                continue
            for what, named, offered in (
                ("paper", line.paper, PAPERS), ("finish", line.finish, FINISHES), ("cover", line.cover, COVERS),
            ):  # fmt: skip
                if named and named not in offered:
                    object_to(line, f"There is no {what} {named} here.")
            if line.cover and sheet.bindery is None:
                object_to(line, f"{sheet.name} binds nothing: it has no covers.")
            if line.to and not _is_complete(line.to):
                object_to(line, "Its own address is not whole.")
            for file in line.files:
                path = self.file(file.sha256)
                if path.stat().st_size != file.bytes:
                    object_to(line, f"It is {path.stat().st_size:,} bytes, not {file.bytes:,}.", file)
                for defect in verify(path, sheet, self._asset).defects:
                    if defect.severity == "stop":
                        pdf = defect.page > 0 and file.name.endswith(".pdf")
                        where = f"Page {defect.page}: " if pdf else ""
                        object_to(line, where + defect.sentence, file, defect.page if pdf else 0)
        if not _is_complete(order.to) and not all(line.to for line in order.lines):
            object_to(None, "The address is not whole.")
        return reasons[:200]

    def look_into(self, folder: Path) -> None:
        """Takes what lies in a drop folder: each folder in it with a ticket is an order. What it says of one stands beside the
        ticket, what it offers in the folder itself."""
        _write_json(folder / OFFERS, self.offers())
        for ticket in sorted(folder.glob(f"*/{TICKET}")):
            try:
                order = Order.model_validate_json(ticket.read_text("utf-8"))
                entry = self._read(order.key)
                if entry is None or entry["state"] == "open":
                    self.open(order)
                    for name, file in order.files_by_name.items():
                        if not (ticket.parent / name).is_file():
                            raise SutaruError(f"The file {name} is not in this folder.", "Lay it in.")
                        if not self.has(file.sha256)[1]:
                            self._take(file.sha256, ticket.parent / name)
                    self.submit(order.key[:12])
                if (ticket.parent / CANCEL).exists():
                    with suppress(SutaruError):  # it is begun: the answer says so
                        self.cancel(order.key[:12])
                state = self.describe_order(self.order(order.key[:12]))
            except (SutaruError, ValidationError, OSError) as error:
                state = {
                    "id": ticket.parent.name,
                    "state": "unread",
                    "reasons": [{"line": "", "file": "", "page": "", "reason": str(error)}],
                }
            if _read_json(ticket.parent / ANSWER) != state:
                _write_json(ticket.parent / ANSWER, state)
            (ticket.parent / CANCEL).unlink(missing_ok=True)

    def _take(self, sha256: str, path: Path) -> None:
        size, offset = path.stat().st_size, self.has(sha256)[0]
        with path.open("rb") as file:
            file.seek(offset)
            while data := file.read(PIECE):
                offset, _ = self.put_piece(sha256, offset, data, size)

    def describe_order(self, entry: dict[str, Any]) -> dict[str, Any]:
        """An order as its customer is told of it: its state by the clock, what is missing, its price."""
        order = Order.model_validate(entry["order"])
        state = entry["state"]
        if state == "taken":
            past = (time.time() - entry["submitted"]) * self._clock
            state = LAB_STATES[min(len(LAB_STATES) - 1, int(past // STEP_S))]
        pages = sum(len(line.files) * line.copies for line in order.lines)
        return {
            "id": entry["id"], "reference": order.reference, "state": state, "reasons": entry["reasons"],
            "missing": [sha for sha in order.files if not self.has(sha)[1]],
            "currency": CURRENCY,
            "price": round(PRICES["order"] + PRICES["page"] * pages, 2),
        }  # fmt: skip

    def _read(self, key: str) -> dict[str, Any] | None:
        path = self._orders / f"{key}.json"
        return json.loads(path.read_text("utf-8")) if path.exists() else None

    def _write(self, key: str, entry: dict[str, Any]) -> None:
        with write_whole(self._orders / f"{key}.json") as file:
            file.write(json.dumps(entry, ensure_ascii=False).encode())


def _is_complete(to: Address) -> bool:
    return bool(to.name.strip() and to.street.strip() and to.place.strip())


def _write_json(path: Path, what: dict[str, Any]) -> None:
    with write_whole(path) as file:
        file.write(json.dumps(what, ensure_ascii=False, indent=1).encode())


def _read_json(path: Path) -> dict[str, Any] | None:
    try:
        fields: dict[str, Any] = json.loads(path.read_text("utf-8"))
        return fields
    except (OSError, ValueError):
        return None


def create_lab(lab: Lab) -> FastAPI:
    """The lab's service."""
    app = FastAPI(title="A lab that stands in", docs_url=None, redoc_url=None)

    @app.exception_handler(SutaruError)
    def answer_refusal(request: Request, error: SutaruError) -> JSONResponse:
        status = 404 if isinstance(error, NotFound) else 409
        return JSONResponse({"sentence": error.sentence, "remedy": error.remedy}, status)

    @app.get("/sheets")
    def sheets() -> dict[str, Any]:
        """What the lab offers."""
        return lab.offers()

    @app.post("/orders", status_code=201)
    def open_order(order: Order) -> dict[str, Any]:
        """Opens an order, or finds the one of the same key."""
        return lab.open(order)

    @app.get("/orders/{identity}")
    def get_order(identity: str) -> dict[str, Any]:
        """How an order stands."""
        return lab.describe_order(lab.order(identity))

    @app.post("/orders/{identity}/submit")
    def submit(identity: str) -> dict[str, Any]:
        """Takes an order, or refuses it with reasons."""
        return lab.submit(identity)

    @app.post("/orders/{identity}/cancel")
    def cancel(identity: str) -> dict[str, Any]:
        """Cancels an order that is not begun."""
        return lab.cancel(identity)

    @app.get("/files/{sha256}")
    def has(sha256: str) -> dict[str, Any]:
        """How much of a file is here."""
        here, done = lab.has(_sha(sha256))
        return {"bytes": here, "whole": done}

    @app.put("/files/{sha256}")
    async def put_file(request: Request, sha256: str, at: int, size: int) -> Response:
        """A piece of a file, from a place in it on."""
        _sha(sha256)
        if not 0 <= at <= size <= MOST_BYTES:
            raise SutaruError("This is no piece of a file that a lab takes.")
        if lab.faults.is_due("full"):
            return JSONResponse({"sentence": "The lab has no room just now.", "remedy": "Try again later."}, 507)
        if lab.faults.is_due("slow"):
            await asyncio.sleep(2.0)
        data = bytearray()
        async for chunk in request.stream():
            data += chunk
            if len(data) > PIECE:
                raise SutaruError("This piece is too large.", f"Send {PIECE >> 20} MB at most at a time.")
            if len(data) > 1000 and lab.faults.is_due("drop"):
                lab.put_piece(sha256, at, bytes(data[: len(data) // 2]), size)
                raise ConnectionAbortedError  # the line breaks in the middle
        here, done = lab.put_piece(sha256, at, bytes(data), size)
        return JSONResponse({"bytes": here, "whole": done})

    return app


def _sha(sha256: str) -> str:
    if len(sha256) != 64 or set(sha256) - set("0123456789abcdef"):
        raise NotFound("This file was not found here.")
    return sha256


def serve(port: int, folder: Path, clock: float, faults: str, drop: Path | None = None) -> int:
    """Runs the lab until it is interrupted. ``drop``: a folder that it looks into as well."""
    lab = Lab(folder, clock, faults)
    if drop:
        drop.mkdir(parents=True, exist_ok=True)
        threading.Thread(target=_look_again, args=(lab, drop), daemon=True).start()
    print(f"The lab listens at http://127.0.0.1:{port}", flush=True)
    uvicorn.run(create_lab(lab), host="127.0.0.1", port=port, log_level="error")
    return 0


def _look_again(lab: Lab, folder: Path) -> None:
    while True:
        lab.look_into(folder)
        time.sleep(DROP_S)
