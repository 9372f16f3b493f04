"""Connections that ask nothing: each has a time to say what it wants, and there are only so many, so that a stranger who opens
many and says nothing keeps nobody out."""

import asyncio
from collections import Counter
from typing import Any

from uvicorn.protocols.http.httptools_impl import HttpToolsProtocol

from .access import is_loopback

HEADER_SECONDS = 15.0  # from the first byte of a request, or from its connection on, until its headers are there
MOST, MOST_OF_ONE = 1000, 64  # open at once: in all; from one other machine
_open: Counter[str] = Counter()


class PatientProtocol(HttpToolsProtocol):
    """uvicorn's own, with a time for headers and a bound on connections."""

    _counted = ""
    _late: asyncio.TimerHandle | None = None

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        """Lets a connection in, unless there are too many."""
        super().connection_made(transport)
        peer = transport.get_extra_info("peername")
        address = str(peer[0]) if peer else "local"
        most = MOST if address == "local" or is_loopback(address) else MOST_OF_ONE
        if _open.total() >= MOST or _open[address] >= most:
            transport.abort()
            return
        self._counted = address
        _open[address] += 1
        self._wait_for_headers()

    def connection_lost(self, exc: Exception | None) -> None:
        """Makes room for another."""
        self._headers_came()
        if self._counted:
            _open[self._counted] -= 1
            if _open[self._counted] <= 0:
                del _open[self._counted]
            self._counted = ""
        super().connection_lost(exc)

    def on_message_begin(self) -> None:
        """A request begins, the first or a later one."""
        self._wait_for_headers()
        super().on_message_begin()

    def on_headers_complete(self) -> None:
        """What is wanted has been said."""
        self._headers_came()
        super().on_headers_complete()

    def _wait_for_headers(self) -> None:
        self._headers_came()
        self._late = self.loop.call_later(HEADER_SECONDS, self._give_up)

    def _headers_came(self) -> None:
        if self._late is not None:
            self._late.cancel()
            self._late = None

    def _give_up(self) -> None:
        transport: Any = self.transport
        if transport is not None and not transport.is_closing():
            transport.abort()
