"""Live news: what changed, as server-sent events (WHATWG HTML, section 9.2). Events say what to ask for anew.

They are counted from the start of the server: a listener that misses one knows it, and asks for everything anew.
"""

import asyncio
import json
import secrets
import threading
from collections.abc import AsyncIterator
from typing import Any

from fastapi import APIRouter, Request
from fastapi.responses import JSONResponse, Response, StreamingResponse

from ..core.limits import LISTENERS

router = APIRouter(prefix="/api/events", tags=["events"])


class Events:
    """Hands what is said, from any thread, to every listener."""

    def __init__(self) -> None:
        self._listeners: set[tuple[asyncio.AbstractEventLoop, asyncio.Queue[str]]] = set()
        self._lock = threading.Lock()
        self._count = 0
        self._server = secrets.token_hex(4)
        self.closed = False

    @property
    def is_full(self) -> bool:
        """Whether there are as many listeners as there may be."""
        with self._lock:
            return len(self._listeners) >= LISTENERS

    def say(self, kind: str, identity: str, **more: Any) -> None:
        """Tells all listeners that something changed; a listener that lags loses the oldest news."""
        with self._lock:
            self._count += 1
            message = self._write_event(kind, identity, **more)
            listeners = list(self._listeners)
        for loop, queue in listeners:
            if not loop.is_closed():
                loop.call_soon_threadsafe(self._offer, queue, message)

    def _write_event(self, kind: str, identity: str, **more: Any) -> str:
        news = {"kind": kind, "id": identity, "n": self._count, "server": self._server, **more}
        return f"data: {json.dumps(news)}\n\n"

    @staticmethod
    def _offer(queue: "asyncio.Queue[str]", message: str) -> None:
        if queue.full():
            queue.get_nowait()
        queue.put_nowait(message)

    async def listen(self, request: Request) -> AsyncIterator[str]:
        """Messages for one listener, until it goes away: first where the count stands."""
        queue: asyncio.Queue[str] = asyncio.Queue(256)
        entry = (asyncio.get_running_loop(), queue)
        with self._lock:
            self._listeners.add(entry)
            hello = self._write_event("hello", "")
        try:
            yield hello
            while not self.closed and not await request.is_disconnected():
                try:
                    yield await asyncio.wait_for(queue.get(), 1.0)
                except TimeoutError:
                    yield ": still here\n\n"
        finally:
            with self._lock:
                self._listeners.discard(entry)


@router.get("", response_class=StreamingResponse)
async def events(request: Request) -> Response:
    """A stream of ``{"kind": "job" | "found" | "measured" | "task" | "shelf" | "templates" | "card" | "history" | "order" |
    "watched", "id": ...}``: that has changed."""
    source: Events = request.app.state.studio.events
    if source.is_full:
        sentence = f"{LISTENERS} windows listen already. Close some; this one asks again by itself."
        return JSONResponse({"code": "full", "sentence": sentence}, 503)
    return StreamingResponse(
        source.listen(request), media_type="text/event-stream", headers={"Cache-Control": "no-store"}
    )
