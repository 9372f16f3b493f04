"""Requests to a lab or a printer. Whatever answers, or does not, an answer is small, comes within a time, and can be read.

One byte a second is no answer: the time is that of the whole exchange, not of a byte. What an answer says is read into a model.
"""

import asyncio
import logging
from collections.abc import Mapping
from concurrent.futures import ThreadPoolExecutor
from typing import TypeVar

import httpx
from pydantic import BaseModel, ValidationError

from .answers import Refusal

log = logging.getLogger("sutaru.line")
S = TypeVar("S", bound=BaseModel)
MOST_BYTES = 4 << 20  # of an answer that says something
MOST_PICTURE = 64 << 20  # of one that is a picture


class NoAnswer(Exception):
    """Nobody answers, or not in time. ``str()`` is a clause, as in "does not answer"."""


class OddAnswer(Exception):
    """An answer that is none: too large, or not what it should be. ``str()`` says in a few words what is wrong with it."""


class Refused(Exception):
    """An answer that says no. ``status``: that of HTTP; ``refusal``: what it says, where it can be read."""

    def __init__(self, status: int, refusal: Refusal | None) -> None:
        self.status, self.refusal = status, refusal
        super().__init__(str(status))


class HttpLine:
    """A line over HTTP to one address. One request at a time."""

    def __init__(self, address: str, transport: httpx.AsyncBaseTransport | None = None) -> None:
        """``transport``: how requests go, where not over the network."""
        self.address, self._transport = address, transport
        self._runner = asyncio.Runner()
        # A thread of its own: whoever asks may have an event loop in theirs.
        self._thread = ThreadPoolExecutor(1, "line")
        self._client: httpx.AsyncClient | None = None

    def ask(
        self, answer: type[S], method: str, path: str, within_s: float, params: Mapping[str, str | int] | None = None,
        json: object = None, content: bytes | None = None,
    ) -> S:  # fmt: skip
        """Ask, and read the answer into a model, all within a time. Raises NoAnswer, OddAnswer, Refused."""
        data = self.fetch(method, path, within_s, MOST_BYTES, params, json, content)
        try:
            return answer.model_validate_json(data)
        except ValidationError as error:
            log.warning("an answer to %s %s is none: %d errors", method, path.split("/")[1], error.error_count())
            raise OddAnswer("it is not what it should be") from None

    def fetch(
        self, method: str, path: str, within_s: float, most: int = MOST_PICTURE,
        params: Mapping[str, str | int] | None = None, json: object = None, content: bytes | None = None,
    ) -> bytes:  # fmt: skip
        """The bytes of an answer. Raises as ``ask`` does."""
        try:
            answer = self._fetch_answer(method, path, within_s, most, params, json, content)
            return self._thread.submit(self._runner.run, answer).result()
        except TimeoutError:
            raise NoAnswer("does not answer in time") from None
        except (httpx.HTTPError, httpx.InvalidURL, OSError, ValueError) as error:
            log.info("no answer: %r", error)
            raise NoAnswer("does not answer") from None

    async def _fetch_answer(
        self, method: str, path: str, within_s: float, most: int, params: Mapping[str, str | int] | None, json: object,
        content: bytes | None,
    ) -> bytes:  # fmt: skip
        if self._client is None:
            # Not packed: a small packed answer may be a large one.
            headers = {"Accept-Encoding": "identity"}
            self._client = httpx.AsyncClient(
                base_url=self.address, timeout=None, trust_env=False, headers=headers, transport=self._transport
            )
        async with asyncio.timeout(within_s):
            async with self._client.stream(method, path, params=params, json=json, content=content) as answer:
                if answer.headers.get("content-encoding", "identity") != "identity":
                    raise OddAnswer("it is packed, which nobody asked for")
                data = bytearray()
                async for chunk in answer.aiter_bytes():
                    data += chunk
                    if len(data) > most:
                        raise OddAnswer(f"it is larger than {most >> 20} MB")
        if answer.is_success:
            return bytes(data)
        try:
            refusal = Refusal.model_validate_json(bytes(data))
        except ValidationError:
            refusal = None
        raise Refused(answer.status_code, refusal)

    def close(self) -> None:
        """End the line."""
        if self._client is not None:
            self._thread.submit(self._runner.run, self._client.aclose()).result()
        self._thread.submit(self._runner.close).result()
        self._thread.shutdown()
