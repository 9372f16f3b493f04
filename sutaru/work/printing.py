"""The line to a printer: what it holds, what it is sent, how that stands. Described in ``docs/lab.md``."""

import logging
from pathlib import Path
from typing import Any

import httpx

from ..core.errors import SutaruError

log = logging.getLogger("sutaru.printing")

PATIENCE_S = 60.0


class NotPrinted(SutaruError):
    """A printer that cannot be reached, or does not print this."""

    code = "not_printed"


class PrinterLine:
    """The line to a printer at an address."""

    def __init__(self, address: str) -> None:
        self.address = address

    def told(self) -> dict[str, Any]:
        """Its trays and margins. Raises NotPrinted."""
        return self._asked("GET", "/printer", 3.0)

    def take(self, path: Path, tray: str, copies: int, duplex: str, fit: str) -> dict[str, Any]:
        """Sends a PDF; how the job stands. Raises NotPrinted with what the printer says against it."""
        query = {"tray": tray, "copies": copies, "duplex": duplex, "fit": fit}
        return self._asked("POST", "/jobs", PATIENCE_S, params=query, content=path.read_bytes())

    def job(self, identity: str) -> dict[str, Any]:
        """How a job stands. Raises NotPrinted."""
        return self._asked("GET", f"/jobs/{identity}", 3.0)

    def go_on(self, identity: str) -> dict[str, Any]:
        """Goes on with a job that has stopped. Raises NotPrinted."""
        return self._asked("POST", f"/jobs/{identity}/on", PATIENCE_S)

    def side(self, identity: str, name: str) -> bytes:
        """A side that was printed, PNG. Raises NotPrinted."""
        return self._sent("GET", f"/jobs/{identity}/sides/{name}", 10.0).content

    def _asked(self, method: str, path: str, patience_s: float, **more: Any) -> dict[str, Any]:
        found: dict[str, Any] = self._sent(method, path, patience_s, **more).json()
        return found

    def _sent(self, method: str, path: str, patience_s: float, **more: Any) -> httpx.Response:
        try:
            with httpx.Client(base_url=self.address, timeout=patience_s, trust_env=False) as client:
                answer = client.request(method, path, **more)
        except httpx.HTTPError as error:
            log.info("the printer does not answer: %r", error)
            raise NotPrinted(f"The printer at {self.address} does not answer.", "Try again when it is on.") from None
        if answer.status_code >= 400:
            try:
                said = answer.json()
                raise NotPrinted(str(said["sentence"]), str(said["remedy"]))
            except (ValueError, KeyError, TypeError):
                raise NotPrinted(f"The printer answers with an error ({answer.status_code}).") from None
        return answer
