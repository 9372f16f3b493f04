"""The line to a printer: what it holds, what it is sent, how that stands. Described in ``docs/lab.md``."""

from collections.abc import Iterator
from contextlib import closing, contextmanager

from ..core.errors import SutaruError
from .answers import PrintJob, Trays
from .http_line import HttpLine, NoAnswer, OddAnswer, Refused

ASK_S, PRINT_S = 3.0, 120.0


class NotPrinted(SutaruError):
    """A printer that cannot be reached, or does not print this."""

    code = "not_printed"


class PrinterLine:
    """The line to a printer at an address. All answers are read into models; see ``http_line`` for their limits."""

    def __init__(self, address: str) -> None:
        self.address = address

    def trays(self) -> Trays:
        """Its trays and margins. Raises NotPrinted."""
        with self._line() as line:
            return line.ask(Trays, "GET", "/printer", ASK_S)

    def take(self, data: bytes, tray: str, copies: int, duplex: str, fit: str) -> PrintJob:
        """Sends a PDF; how the job stands. Raises NotPrinted with what the printer says against it."""
        query: dict[str, str | int] = {"tray": tray, "copies": copies, "duplex": duplex, "fit": fit}
        with self._line() as line:
            return line.ask(PrintJob, "POST", "/jobs", PRINT_S, params=query, content=data)

    def job(self, identity: str) -> PrintJob:
        """How a job stands. Raises NotPrinted."""
        with self._line() as line:
            return line.ask(PrintJob, "GET", f"/jobs/{identity}", ASK_S)

    def go_on(self, identity: str) -> PrintJob:
        """Goes on with a job that has stopped. Raises NotPrinted."""
        with self._line() as line:
            return line.ask(PrintJob, "POST", f"/jobs/{identity}/on", PRINT_S)

    def side(self, identity: str, name: str) -> bytes:
        """A side that was printed, PNG. Raises NotPrinted."""
        with self._line() as line:
            data = line.fetch("GET", f"/jobs/{identity}/sides/{name}", 10.0)
            if not data.startswith(b"\x89PNG\r\n\x1a\n"):
                raise OddAnswer("it is no picture")
            return data

    @contextmanager
    def _line(self) -> Iterator[HttpLine]:
        try:
            with closing(HttpLine(self.address)) as line:
                yield line
        except NoAnswer as error:
            raise NotPrinted(f"The printer at {self.address} {error}.", "Try again when it is on.") from None
        except OddAnswer as error:
            sentence = f"What the printer at {self.address} answers cannot be understood: {error}."
            raise NotPrinted(sentence, "Look at the printer itself.") from None
        except Refused as refused:
            refusal_text = refused.refusal
            if refusal_text is None:
                raise NotPrinted(f"The printer answers with an error ({refused.status}).") from None
            raise NotPrinted(refusal_text.sentence, refusal_text.remedy) from None
