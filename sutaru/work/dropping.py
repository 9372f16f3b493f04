"""Sending an order to a lab by a drop folder, the way many labs work: a folder for the order, its files in it, and last a ticket
that says what they are. What the lab says of it comes back beside the ticket.

An order that is laid in again is the same folder: what is there is not copied once more.
"""

import os
import shutil
import time
from collections.abc import Callable
from pathlib import Path
from typing import TypeVar

from pydantic import BaseModel, ValidationError

from ..core.errors import NotFound
from ..core.ordering import Order
from ..core.press.files import write_whole
from .answers import Offers, Standing
from .http_line import MOST_BYTES
from .sending import LabLine, NotSent, Tell

S = TypeVar("S", bound=BaseModel)
TICKET, ANSWER, OFFERS, CANCEL = "ticket.json", "answer.json", "offers.json", "cancel.json"
FOLDER = "folder:"


class DropLine:
    """The line to a lab by a folder. Speaks as ``LabLine`` does."""

    def __init__(self, folder: Path) -> None:
        self.address = f"{FOLDER}{folder}"
        self._folder = folder

    def sheets(self, patience_s: float = 0.0) -> Offers:
        """What the lab has laid into the folder of what it offers. Raises NotSent when there is none."""
        offers = self._read(Offers, self._check_folder() / OFFERS)
        if offers is None:
            raise NotSent("The lab has not said in its folder what it offers.", "Ask the lab for it.")
        return offers

    def ask_standing(self, lab_order: str, patience_s: float = 0.0) -> Standing:
        """How an order stands: ``received`` until the lab says otherwise. Raises NotSent."""
        folder = self._check_folder() / lab_order
        if not (folder / TICKET).exists():
            raise NotSent("The ticket of this order is not in the folder any more.", "Ask the lab.")
        return self._read(Standing, folder / ANSWER) or Standing(id=lab_order, state="received")

    def send(
        self, order: Order, file: Callable[[str], Path], tell: Tell, opened: Callable[[str], None] = lambda lab_order: None
    ) -> Standing:  # fmt: skip
        """Lays an order in, each file by its name; how it stands then. ``tell`` may raise to stop. Raises NotSent."""
        identity = order.key[:12]
        folder = self._check_folder() / identity
        if order.clash:
            raise NotSent(f"Two files of this order are called {order.clash}.", "Export again, then order that.")
        files = order.files_by_name
        total, done = sum(file.bytes for file in files.values()), 0
        try:
            folder.mkdir(exist_ok=True)
            for name, file_here in files.items():
                tell(name, done, total)
                target = folder / name
                if not (target.exists() and target.stat().st_size == file_here.bytes):
                    unfinished = folder / f".{name}.part"
                    shutil.copyfile(file(file_here.sha256), unfinished)
                    os.replace(unfinished, target)
                done += file_here.bytes
            tell("", total, total)
            opened(identity)
            if not (folder / TICKET).exists():
                with write_whole(folder / TICKET) as ticket:
                    ticket.write(order.model_dump_json(indent=1).encode())
        except OSError as error:
            raise NotSent(f"The folder of the lab takes nothing ({error.strerror}).", "Try again later.") from None
        return self.ask_standing(identity)

    def cancel(self, lab_order: str, patience_s: float = 10.0) -> Standing:
        """Lays in that an order is not wanted any more, and waits a while for what the lab says to it. Raises NotSent."""
        folder = self._check_folder() / lab_order
        if not folder.is_dir():
            raise NotSent("This order is not in the lab's folder any more.", "Ask the lab.")
        try:
            with write_whole(folder / CANCEL) as file:
                file.write(b"{}")
        except OSError as error:
            raise NotSent(f"The folder of the lab takes nothing ({error.strerror}).", "Try again later.") from None
        end = time.monotonic() + patience_s
        while time.monotonic() < end:
            standing = self._read(Standing, folder / ANSWER)
            if standing and standing.state == "cancelled":
                return standing
            if standing and not (folder / CANCEL).exists():
                raise NotSent("The lab has begun this order, so it is printed.", "Ring the lab up.")
            time.sleep(0.1)
        raise NotSent("The lab has not said yet that this order is cancelled.", "Look again in a while, or ask it.")

    def _check_folder(self) -> Path:
        if not self._folder.is_dir():
            raise NotSent("The folder of the lab is not there.", "Try again when it is.")
        return self._folder

    @staticmethod
    def _read(answer: type[S], path: Path) -> S | None:
        """What the lab has laid in; None where there is nothing. Raises NotSent when that cannot be understood."""
        try:
            with path.open("rb") as file:
                data = file.read(MOST_BYTES + 1)
            if len(data) > MOST_BYTES:
                raise _odd_answer(path)
            return answer.model_validate_json(data)
        except FileNotFoundError:
            return None
        except (OSError, ValidationError):
            raise _odd_answer(path) from None

    def close(self) -> None:
        """Ends the line."""


def _odd_answer(path: Path) -> NotSent:
    return NotSent(f"What the lab has laid in as {path.name} cannot be understood.", "Ask the lab.")


def line_to(address: str) -> LabLine | DropLine:
    """The line to a lab: ``http://...``, or ``folder:PATH`` for a drop folder. Raises NotFound for anything else."""
    if address.startswith(FOLDER):
        return DropLine(Path(address.removeprefix(FOLDER)))
    if not address.startswith(("http://", "https://")):
        raise NotFound(f"{address} is no lab.", "Give http://HOST:PORT, or folder:PATH for a drop folder.")
    return LabLine(address)
