"""What every request and every answer keeps to: bodies of a size, that do not stall; headers that let nothing else in.

Plain ASGI, so that streams flow.
"""

import asyncio
import re

from fastapi.responses import JSONResponse
from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from ..core.limits import MB, REQUEST_BYTES, STALL_SECONDS

# Those that take a file as their body count it themselves, each by its own limit.
_FILES = re.compile(r"/api/(jobs/[^/]+/photos|jobs/from-bundle|assets|workshop/from-file|templates/from-file|verify)")
# Content Security Policy Level 3 (W3C): only what comes from here; styles are also set by the components themselves.
POLICY = (
    "default-src 'self'; img-src 'self' blob: data:; style-src 'self' 'unsafe-inline'; font-src 'self' data:; "
    "object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
)
HEADERS = {
    "Content-Security-Policy": POLICY,
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "DENY",
    "Referrer-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
}


def _refusal(status: int, sentence: str) -> JSONResponse:
    return JSONResponse({"code": "too_much", "sentence": sentence}, status, headers={"Connection": "close"})


_TOO_LARGE = f"This request is larger than {REQUEST_BYTES // MB} MB. Ask for less at a time."
_STALLED = f"Nothing came for {STALL_SECONDS:g} seconds, so this was given up. Send it again."


class Bounded:
    """Refuses bodies that are too large, and gives up those of which nothing comes any more."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        most = None if _FILES.fullmatch(scope["path"]) else REQUEST_BYTES
        length = Headers(scope=scope).get("content-length", "")
        if most is not None and length.isdecimal() and int(length) > most:
            await _refusal(413, _TOO_LARGE)(scope, receive, send)
            return
        refusal: JSONResponse | None = None
        size, over, answered = 0, False, False

        async def next_part() -> Message:
            nonlocal refusal, size, over
            if over:
                return await receive() if refusal is None else {"type": "http.disconnect"}
            try:
                async with asyncio.timeout(STALL_SECONDS):
                    message = await receive()
            except TimeoutError:
                refusal, over = _refusal(408, _STALLED), True
                return {"type": "http.disconnect"}
            size += len(message.get("body", b""))
            over = not message.get("more_body", False)
            if most is not None and size > most:
                refusal, over = _refusal(413, _TOO_LARGE), True
                return {"type": "http.disconnect"}
            return message

        async def answer(message: Message) -> None:
            nonlocal answered
            if refusal is None or answered:
                answered = True
                await send(message)

        try:
            await self._app(scope, next_part, answer)
        except Exception:
            if refusal is None or answered:
                raise
        if refusal is not None and not answered:
            await refusal(scope, receive, send)


class Sealed:
    """Puts the headers on every answer."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        async def send_sealed(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                for name, value in HEADERS.items():  # a page may have a stricter policy of its own
                    headers.setdefault(name, value)
            await send(message)

        await self._app(scope, receive, send_sealed)
