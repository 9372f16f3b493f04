"""Sending an order to a lab by a drop folder, the way many labs work: a folder for the order, its files in it, and last a ticket
that says what they are. What the lab says of it comes back beside the ticket.

An order that is laid in again is the same folder: what is there is not copied once more.
"""

import json
import os
import shutil
from collections.abc import Callable
from pathlib import Path
from typing import Any

from ..core.errors import NotFound
from ..core.ordering import Order
from ..core.press import whole
from .sending import LabLine, NotSent

TICKET, ANSWER, OFFERS = "ticket.json", "answer.json", "offers.json"
FOLDER = "folder:"


class DropLine:
    """The line to a lab by a folder. Speaks as ``LabLine`` does."""

    def __init__(self, folder: Path) -> None:
        self.address = f"{FOLDER}{folder}"
        self._folder = folder

    def sheets(self, patience_s: float = 0.0) -> dict[str, Any]:
        """What the lab has laid into the folder of what it offers. Raises NotSent when there is none."""
        return self._read(self._there() / OFFERS, "The lab has not said in its folder what it offers.")

    def stands(self, lab_order: str, patience_s: float = 0.0) -> dict[str, Any]:
        """How an order stands: ``received`` until the lab says otherwise. Raises NotSent."""
        own = self._there() / lab_order
        if not (own / TICKET).exists():
            raise NotSent("The ticket of this order is not in the folder any more.", "Ask the lab.")
        try:
            return self._read(own / ANSWER, "")
        except NotSent:
            return {"id": lab_order, "state": "received", "reasons": [], "price": None, "missing": []}

    def send(self, order: Order, file: Callable[[str], Path], tell: Callable[[str, int, int], None]) -> dict[str, Any]:
        """Lays an order in; how it stands then. ``tell`` may raise to stop. Raises NotSent."""
        identity = order.key[:12]
        own = self._there() / identity
        total, done = sum(one.bytes for one in order.files.values()), 0
        try:
            own.mkdir(exist_ok=True)
            for sha, one in order.files.items():
                tell(one.name, done, total)
                target = own / one.name
                if not (target.exists() and target.stat().st_size == one.bytes):
                    unfinished = own / f".{one.name}.part"
                    shutil.copyfile(file(sha), unfinished)
                    os.replace(unfinished, target)
                done += one.bytes
            tell("", total, total)
            if not (own / TICKET).exists():
                with whole(own / TICKET) as ticket:
                    ticket.write(order.model_dump_json(indent=1).encode())
        except OSError as error:
            raise NotSent(f"The folder of the lab takes nothing ({error.strerror}).", "Try again later.") from None
        return self.stands(identity)

    def _there(self) -> Path:
        if not self._folder.is_dir():
            raise NotSent("The folder of the lab is not there.", "Try again when it is.")
        return self._folder

    @staticmethod
    def _read(path: Path, sentence: str) -> dict[str, Any]:
        try:
            found: dict[str, Any] = json.loads(path.read_text("utf-8"))
            return found
        except (OSError, ValueError):
            raise NotSent(sentence, "Ask the lab for it.") from None

    def close(self) -> None:
        """Ends the line."""


def line_to(address: str) -> LabLine | DropLine:
    """The line to a lab: ``http://...``, or ``folder:PATH`` for a drop folder. Raises NotFound for anything else."""
    if address.startswith(FOLDER):
        return DropLine(Path(address.removeprefix(FOLDER)))
    if not address.startswith(("http://", "https://")):
        raise NotFound(f"{address} is no lab.", "Give http://HOST:PORT, or folder:PATH for a drop folder.")
    return LabLine(address)
