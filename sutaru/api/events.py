"""Live progress: what changed, as server-sent events (WHATWG HTML, section 9.2). Events say what to ask for anew."""

import asyncio
import json
import threading
from collections.abc import AsyncIterator

from fastapi import APIRouter, Request
from fastapi.responses import StreamingResponse

router = APIRouter(prefix="/api/events", tags=["events"])


class Events:
    """Hands what is said, from any thread, to every listener."""

    def __init__(self) -> None:
        self._listeners: set[tuple[asyncio.AbstractEventLoop, asyncio.Queue[str]]] = set()
        self._lock = threading.Lock()
        self.closed = False

    def say(self, kind: str, identity: str) -> None:
        """Tells all listeners that something changed; a listener that lags loses the oldest news."""
        message = f"data: {json.dumps({'kind': kind, 'id': identity})}\n\n"
        with self._lock:
            listeners = list(self._listeners)
        for loop, queue in listeners:
            if not loop.is_closed():
                loop.call_soon_threadsafe(self._offer, queue, message)

    @staticmethod
    def _offer(queue: "asyncio.Queue[str]", message: str) -> None:
        if queue.full():
            queue.get_nowait()
        queue.put_nowait(message)

    async def listen(self, request: Request) -> AsyncIterator[str]:
        """Messages for one listener, until it goes away."""
        queue: asyncio.Queue[str] = asyncio.Queue(256)
        entry = (asyncio.get_running_loop(), queue)
        with self._lock:
            self._listeners.add(entry)
        try:
            yield ": listening\n\n"
            while not self.closed and not await request.is_disconnected():
                try:
                    yield await asyncio.wait_for(queue.get(), 1.0)
                except TimeoutError:
                    yield ": still here\n\n"
        finally:
            with self._lock:
                self._listeners.discard(entry)


@router.get("", response_class=StreamingResponse)
async def events(request: Request) -> StreamingResponse:
    """A stream of ``{"kind": "job" | "export", "id": ...}``: that thing has changed."""
    source: Events = request.app.state.studio.events
    return StreamingResponse(
        source.listen(request), media_type="text/event-stream", headers={"Cache-Control": "no-store"}
    )
