"""Sending an order to a lab: opened under its key, its files put by checksum, in pieces that go on where the line broke; then
submitted. All of it can be done again at any time: the lab has the order once.

The lab's side is described in ``docs/lab.md``.
"""

import logging
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any, TypeVar

from pydantic import BaseModel

from ..core.errors import SutaruError
from ..core.ordering import Order, OrderFile
from .answers import Offers, Received, Standing
from .http_line import HttpLine, NoAnswer, OddAnswer, Refused

log = logging.getLogger("sutaru.sending")
S = TypeVar("S", bound=BaseModel)
PIECE = 4 << 20
TRIES, PAUSE_S = 6, 0.4
ASK_S, PUT_S, MEASURE_S = 30.0, 300.0, 600.0  # the lab measures every file before it answers to what is submitted
Tell = Callable[[str, int, int], None]  # a file's name, bytes done, bytes in all; may raise to stop


class NotSent(SutaruError):
    """A lab that cannot be reached, has no room, or does not say what can be understood."""

    code = "not_sent"


class LabLine:
    """The line to a lab at an address. All answers are read into models; see ``http_line`` for their limits."""

    def __init__(self, address: str, line: HttpLine | None = None) -> None:
        self.address = address
        self._line = line or HttpLine(address)

    def sheets(self, patience_s: float = 3.0) -> Offers:
        """What the lab publishes. Raises NotSent when it cannot be reached."""
        return self._ask(Offers, "GET", "/sheets", patience_s, tries=1)

    def ask_standing(self, lab_order: str, patience_s: float = 3.0) -> Standing:
        """How an order stands. Raises NotSent."""
        return self._ask(Standing, "GET", f"/orders/{lab_order}", patience_s, tries=1)

    def send(
        self, order: Order, file: Callable[[str], Path], tell: Tell, opened: Callable[[str], None] = lambda lab_order: None
    ) -> Standing:  # fmt: skip
        """Sends an order with its files; how it stands then. ``tell`` may raise to stop; ``opened`` is told the lab's number of
        it, before anything can be printed of it. Raises NotSent."""
        standing = self._ask(Standing, "POST", "/orders", ASK_S, json=order.model_dump(mode="json"))
        if not standing.id:
            raise _odd_answer(self.address, "it does not say which order this is")
        opened(standing.id)
        files = order.files
        if not files.keys() >= set(standing.missing):
            raise _odd_answer(self.address, "it asks for files that are not of this order")
        total = sum(files[sha].bytes for sha in standing.missing)
        done = 0
        for sha in standing.missing:
            done = self._put_file(files[sha], file(sha), done, total, tell)
        return self._ask(Standing, "POST", f"/orders/{standing.id}/submit", MEASURE_S)

    def cancel(self, lab_order: str, patience_s: float = 10.0) -> Standing:
        """Cancels an order that the lab has not begun; how it stands then. Raises NotSent, with what the lab says against it."""
        return self._ask(Standing, "POST", f"/orders/{lab_order}/cancel", patience_s, tries=1)

    def _put_file(self, file: OrderFile, path: Path, before: int, total: int, tell: Tell) -> int:
        """One file, from where the lab has it on; the bytes done then. A lab that gets no further is given up."""
        sha, size = file.sha256, path.stat().st_size
        with path.open("rb") as read:
            for attempt in range(TRIES):
                try:
                    here = self._ask(Received, "GET", f"/files/{sha}", ASK_S)
                    while not here.whole:
                        if here.bytes >= size:
                            raise _odd_answer(self.address, "it has all of a file and says that it has not")
                        tell(file.name, before + here.bytes, total)
                        read.seek(here.bytes)
                        piece, offset = read.read(PIECE), here.bytes
                        # Its own tries would send a piece twice that had come.
                        query = {"at": offset, "size": size}
                        here = self._ask(Received, "PUT", f"/files/{sha}", PUT_S, tries=1, params=query, content=piece)
                        if not here.whole and here.bytes <= offset:
                            raise _odd_answer(self.address, "it took a piece of a file and has no more of it")
                    tell(file.name, before + size, total)
                    return before + size
                except NotSent:
                    if attempt == TRIES - 1:
                        raise
                    time.sleep(PAUSE_S * 2**attempt)
        raise AssertionError("unreachable")

    def _ask(self, answer: type[S], method: str, path: str, within_s: float, tries: int = 4, **more: Any) -> S:
        for attempt in range(tries):
            try:
                return self._line.ask(answer, method, path, within_s, **more)
            except NoAnswer as error:
                reason = NotSent(f"The lab at {self.address} {error}.", "Try again when it is there.")
            except OddAnswer as error:
                raise _odd_answer(self.address, str(error)) from None
            except Refused as refused:
                sentence = refused.refusal
                if sentence:
                    reason = NotSent(sentence.sentence, sentence.remedy)
                else:
                    reason = NotSent(f"The lab answers with an error ({refused.status}).", "Try again later.")
                if refused.status < 500 and refused.status != 409:
                    raise reason from None
            if attempt < tries - 1:
                time.sleep(PAUSE_S * 2**attempt)
        raise reason

    def close(self) -> None:
        """Ends the line."""
        self._line.close()


def _odd_answer(address: str, why: str) -> NotSent:
    return NotSent(f"What the lab at {address} answers cannot be understood: {why}.", "Ask the lab, then send again.")
