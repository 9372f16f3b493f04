"""Pictures are painted a few at a time, and only for those who still wait: a screen that went on to another picture closes the
request for the one before."""

import asyncio
from collections.abc import Callable
from typing import TypeVar

from fastapi import Request
from fastapi.concurrency import run_in_threadpool

T = TypeVar("T")
GONE = 499  # no one reads it; as common practice has it for a request that was given up


class NobodyWaits(Exception):
    """Who asked for a picture has gone."""


class Turns:
    """Turns to paint. Those who wait for one take up no thread."""

    def __init__(self, at_once: int) -> None:
        self._free = asyncio.Semaphore(at_once)

    async def paint(self, request: Request, work: Callable[[], T]) -> T:
        """Do work in a thread when its turn comes. Raises NobodyWaits when who asked has gone by then, and what work raises."""
        async with self._free:
            if await request.is_disconnected():
                raise NobodyWaits
            return await run_in_threadpool(work)
