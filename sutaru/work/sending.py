"""Sending an order to a lab: opened under its key, its files put by checksum, in pieces that go on where the line broke; then
submitted. All of it can be done again at any time: the lab has the order once.

The lab's side is described in ``docs/lab.md``.
"""

import logging
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import httpx

from ..core.errors import Stopped, SutaruError
from ..core.ordering import Order, OrderFile

log = logging.getLogger("sutaru.sending")

PIECE = 4 << 20
TRIES, PAUSE_S, PATIENCE_S = 6, 0.4, 30.0


class NotSent(SutaruError):
    """A lab that cannot be reached, or has no room."""

    code = "not_sent"


class LabLine:
    """The line to a lab at an address."""

    def __init__(self, address: str, client: httpx.Client | None = None) -> None:
        self.address = address
        self._client = client or httpx.Client(base_url=address, timeout=PATIENCE_S, trust_env=False)

    def sheets(self, patience_s: float = 3.0) -> dict[str, Any]:
        """What the lab publishes. Raises NotSent when it cannot be reached."""
        return self._asked("GET", "/sheets", tries=1, timeout=patience_s)

    def stands(self, lab_order: str, patience_s: float = 3.0) -> dict[str, Any]:
        """How an order stands. Raises NotSent."""
        return self._asked("GET", f"/orders/{lab_order}", tries=1, timeout=patience_s)

    def send(self, order: Order, file: Callable[[str], Path], tell: Callable[[str, int, int], None]) -> dict[str, Any]:
        """Sends an order with its files; how it stands then. ``tell`` may raise to stop. Raises NotSent."""
        opened = self._asked("POST", "/orders", json=order.model_dump(mode="json"))
        total = sum(order.files[sha].bytes for sha in opened["missing"])
        done = 0
        for sha in opened["missing"]:
            done = self._put(order.files[sha], file(sha), done, total, tell)
        return self._asked("POST", f"/orders/{opened['id']}/submit")

    def _put(self, file: OrderFile, path: Path, before: int, total: int, tell: Callable[[str, int, int], None]) -> int:
        """One file, from where the lab has it on."""
        sha, size = file.sha256, path.stat().st_size
        with path.open("rb") as read:
            for attempt in range(TRIES):
                try:
                    here = self._asked("GET", f"/files/{sha}")
                    at, whole = int(here["bytes"]), bool(here["whole"])
                    while not whole:
                        tell(file.name, before + at, total)
                        read.seek(at)
                        # Its own tries would send a piece twice that had come.
                        query = {"at": at, "size": size}
                        came = self._asked("PUT", f"/files/{sha}", tries=1, params=query, content=read.read(PIECE))
                        at, whole = int(came["bytes"]), bool(came["whole"])
                    tell(file.name, before + size, total)
                    return before + size
                except Stopped:
                    raise
                except NotSent:
                    if attempt == TRIES - 1:
                        raise
                    time.sleep(PAUSE_S * 2**attempt)
        raise AssertionError("unreachable")

    def _asked(self, method: str, path: str, tries: int = 4, **more: Any) -> dict[str, Any]:
        for attempt in range(tries):
            try:
                answer = self._client.request(method, path, **more)
            except httpx.HTTPError as error:
                log.info("the lab does not answer: %r", error)
                reason = NotSent(f"The lab at {self.address} does not answer.", "Try again when it is there.")
            else:
                if answer.status_code < 400:
                    told: dict[str, Any] = answer.json()
                    return told
                reason = NotSent(*_said(answer))
                if answer.status_code < 500 and answer.status_code != 409:
                    raise reason
            if attempt < tries - 1:
                time.sleep(PAUSE_S * 2**attempt)
        raise reason

    def close(self) -> None:
        """Ends the line."""
        self._client.close()


def _said(answer: httpx.Response) -> tuple[str, str]:
    try:
        told = answer.json()
        return str(told["sentence"]), str(told["remedy"])
    except (ValueError, KeyError, TypeError):
        return f"The lab answers with an error ({answer.status_code}).", "Try again later."
