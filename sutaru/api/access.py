"""Who may come in: this machine alone without a passphrase; other machines with one, by a session cookie.

A session is a random token; its hash is stored, so that it outlives a restart, together with the passphrase, so that it does not
outlive that. Scripts send a token of their own instead (RFC 6750). The cookie is HttpOnly and SameSite=Strict, and changes
must come from our own pages besides, so that no other site can use it (OWASP Cross-Site Request Forgery Prevention Cheat Sheet).
"""

import contextlib
import hashlib
import ipaddress
import secrets
import socket
import threading
import time
from collections import OrderedDict
from http.cookies import CookieError, SimpleCookie

from fastapi import APIRouter, Request, Response
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import JSONResponse
from pydantic import Field
from starlette.datastructures import Headers
from starlette.types import ASGIApp, Receive, Scope, Send

from ..core.errors import SutaruError
from ..store import SessionStore, Tokens
from .messages import Message

COOKIE, LASTS_S = "sutaru", 30 * 24 * 3600
TRIES, WITHIN_S = 5, 60.0  # wrong passphrases of one address before it takes a rest
MOST_ADDRESSES = 4096  # whose wrong passphrases are remembered
LEAST = 8  # letters
REMEMBERED_S = 5.0  # that a token was right

router = APIRouter(prefix="/api/session", tags=["session"])


class WrongPassphrase(SutaruError):
    """The passphrase is not the one, or too many were tried."""

    code = "wrong_passphrase"


def is_loopback(host: str) -> bool:
    """Whether an address to listen at is this machine's own, which no other can reach.

    >>> is_loopback("127.0.0.1"), is_loopback("localhost"), is_loopback("0.0.0.0")
    (True, True, False)
    """
    if host == "localhost":
        return True
    try:
        return ipaddress.ip_address(host).is_loopback
    except ValueError:
        return False


def check_passphrase(host: str, passphrase: str | None) -> str | None:
    """The passphrase to ask for. Raises SutaruError when other machines could come in without one."""
    if passphrase and len(passphrase) < LEAST:
        raise SutaruError(f"The passphrase is shorter than {LEAST} letters.", "Choose a longer one.")
    if not passphrase and not is_loopback(host):
        raise SutaruError(
            f"At {host} other machines could open every job here.",
            "Set a passphrase in the environment variable SUTARU_PASSPHRASE, or leave --host out.",
        )
    return passphrase or None


def list_host_names(host: str) -> tuple[str, ...]:
    """Host names under which this machine answers when it listens at ``host``."""
    names = {"127.0.0.1", "localhost", host}
    if not is_loopback(host):
        host_name = socket.gethostname()
        names |= {host_name, f"{host_name}.local"}
        with contextlib.suppress(OSError):  # a machine that does not know its own name is reached by its address
            names |= {str(info[4][0]) for info in socket.getaddrinfo(host_name, None)}
    return tuple(sorted(names - {"0.0.0.0", "::"}))


class Sessions:
    """The passphrase, and who has given it."""

    def __init__(self, passphrase: str | None) -> None:
        self._passphrase = passphrase
        self._open: dict[str, float] = {}  # hashes, and when each ends
        self._store: SessionStore | None = None
        self._tokens: Tokens | None = None
        self._accepted: dict[str, float] = {}  # hashes of tokens, and until when they need no looking up
        self._wrong: OrderedDict[str, list[float]] = OrderedDict()  # by address: a stranger locks nobody else out
        self._lock = threading.Lock()

    @property
    def is_needed(self) -> bool:
        """Whether a passphrase is asked for at all."""
        return self._passphrase is not None

    def begin(self, passphrase: str, address: str = "") -> str:
        """A new session's token. ``address``: who asks. Raises WrongPassphrase."""
        now, who = time.monotonic(), _network(address)
        with self._lock:
            wrong = [when for when in self._wrong.pop(who, []) if now - when < WITHIN_S]
            self._wrong[who] = wrong
            while len(self._wrong) > MOST_ADDRESSES:
                self._wrong.popitem(last=False)
            if len(wrong) >= TRIES:
                raise WrongPassphrase("Too many wrong passphrases.", "Wait a minute, then try again.")
            typed = passphrase.encode()
            if self._passphrase is None or not secrets.compare_digest(typed, self._passphrase.encode()):
                wrong.append(now)
                raise WrongPassphrase("This is not the passphrase of this studio.", "Try again.")
            token = secrets.token_urlsafe(32)
            hashed, ends = self._hash(token), time.time() + LASTS_S
            self._open[hashed] = ends
        if self._store:
            self._store.add(hashed, ends)
        return token

    def keep_in(self, store: SessionStore, tokens: Tokens) -> None:
        """Stores sessions from now on; those that were stored before are open, and scripts come in by their tokens."""
        with self._lock:
            self._store, self._tokens = store, tokens
            self._open = {**store.list_all(), **self._open}

    def has(self, token: str) -> bool:
        """Whether a session is open."""
        with self._lock:
            return bool(token) and self._open.get(self._hash(token), 0.0) > time.time()

    def accepts(self, token: str) -> bool:
        """Whether a script's token is one of the studio's. One that was removed is refused after a few seconds."""
        hashed, now = hashlib.sha256(token.encode()).hexdigest(), time.monotonic()
        if self._accepted.get(hashed, 0.0) > now:
            return True
        if self._tokens is None or not self._tokens.accept(token):
            return False
        with self._lock:
            self._accepted = {key: until for key, until in self._accepted.items() if until > now}
            self._accepted[hashed] = now + REMEMBERED_S
        return True

    def end(self, token: str) -> None:
        """Ends a session."""
        hashed = self._hash(token)
        with self._lock:
            self._open.pop(hashed, None)
        if self._store:
            self._store.remove(hashed)

    def _hash(self, token: str) -> str:
        """What is stored of a token. Another passphrase makes another hash: then nobody is in any more."""
        return hashlib.sha256(f"{token}\0{self._passphrase or ''}".encode()).hexdigest()


def _network(address: str) -> str:
    """Who is counted as one: an address, of IPv6 the network that one household has (RFC 6177)."""
    try:
        number = ipaddress.ip_address(address)
    except ValueError:
        return address
    return str(ipaddress.ip_network((number, 64), strict=False)) if number.version == 6 else address


def token_of(headers: Headers) -> str:
    """The session that a request names, "" for none."""
    try:
        cookie = SimpleCookie(headers.get("cookie", "")).get(COOKIE)
    except CookieError:
        return ""
    return cookie.value if cookie else ""


class Guard:
    """Lets requests for the API in only with a session, when a passphrase is asked for. Plain ASGI, so streams flow."""

    def __init__(self, app: ASGIApp, sessions: Sessions) -> None:
        self._app, self._sessions = app, sessions

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        path = scope.get("path", "")
        needs_sign_in = self._sessions.is_needed and path.startswith("/api/") and path != "/api/session"
        if needs_sign_in and not await self._may(Headers(scope=scope)):
            body = {"code": "locked", "sentence": "The passphrase of this studio is needed."}
            await JSONResponse(body, 401)(scope, receive, send)
            return
        await self._app(scope, receive, send)

    async def _may(self, headers: Headers) -> bool:
        scheme, _, token = headers.get("authorization", "").partition(" ")
        if scheme.lower() == "bearer":
            return await run_in_threadpool(self._sessions.accepts, token.strip())
        return self._sessions.has(token_of(headers))


class Passphrase(Message):
    """What a session is begun with."""

    passphrase: str = Field(max_length=400)


@router.post("", status_code=204)
def begin(request: Request, response: Response, sign_in: Passphrase) -> None:
    """Begins a session."""
    token = request.app.state.sessions.begin(sign_in.passphrase, request.client.host if request.client else "")
    response.set_cookie(
        COOKIE, token, max_age=LASTS_S, httponly=True, samesite="strict", path="/", secure=request.url.scheme == "https"
    )


@router.delete("", status_code=204)
def end(request: Request, response: Response) -> None:
    """Ends the session."""
    request.app.state.sessions.end(token_of(request.headers))
    response.delete_cookie(COOKIE, path="/")
