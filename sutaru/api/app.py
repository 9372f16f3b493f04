"""The application: routers, errors as problems, the built front end. It listens to this machine only."""

import logging
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path
from urllib.parse import urlsplit

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import FileResponse, JSONResponse, Response
from pydantic import ValidationError
from starlette.datastructures import Headers
from starlette.exceptions import HTTPException
from starlette.middleware.trustedhost import TrustedHostMiddleware
from starlette.types import ASGIApp, Receive, Scope, Send

from .. import __version__
from ..core.errors import EditRefused, ExportRefused, NotFound, SutaruError, describe_complaint
from ..store import SessionStore, StoreFailed, Tokens, explain_failure
from . import (
    access,
    books,
    bundles,
    card,
    cards,
    events,
    health,
    history,
    jobs,
    lists,
    orders,
    parts,
    photo_room,
    photos,
    press,
    printer,
    proof_links,
    recipes,
    shelf,
    tasks,
    tour,
    watched,
    words,
    workshop,
)
from .access import Guard, Sessions, WrongPassphrase
from .assets import Assets
from .description import describe_api
from .health import Counted, Figures
from .request_limits import HEADERS, Bounded, Sealed
from .studio import Studio
from .turns import GONE, NobodyWaits
from .watcher import Watcher

log = logging.getLogger("sutaru.api")
_PACKAGE = Path(__file__).parent.parent
INTERFACES = (_PACKAGE / "interface", _PACKAGE.parent / "web" / "dist")  # as it is installed, and as it is built here
STATUS: dict[type[SutaruError], int] = {
    NotFound: 404,
    EditRefused: 409,
    ExportRefused: 409,
    StoreFailed: 507,
    WrongPassphrase: 403,
}

_WRONG_ADDRESS = {
    404: ("not_found", "This address does not exist. Check it for a slip."),
    405: (
        "method_not_allowed",
        "This address does not take such a request. Use one of the methods that the answer allows.",
    ),
}


def find_interface() -> Path | None:
    """The folder of the interface as it was built; None where it is missing."""
    return next((folder for folder in INTERFACES if (folder / "index.html").is_file()), None)


def _problem(status: int, code: str, sentence: str) -> JSONResponse:
    return JSONResponse({"code": code, "sentence": sentence}, status)


def _place(origin: str) -> str | None:
    try:
        return urlsplit(origin).netloc
    except ValueError:
        return None  # no address at all


class OwnPagesOnly:
    """Refuses changes that another site's page asks for: a browser names its origin, or says that it is another (Fetch Metadata
    Request Headers, W3C). Plain ASGI, so that streams flow."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] == "http" and scope["method"] not in ("GET", "HEAD"):
            headers = Headers(scope=scope)
            origin = headers.get("origin")
            foreign = headers.get("sec-fetch-site", "none") not in ("same-origin", "none")
            if foreign or (origin and _place(origin) != headers.get("host")):
                refusal = _problem(403, "foreign_origin", "Only Sutaru's own pages may do this.")
                await refusal(scope, receive, send)
                return
        await self._app(scope, receive, send)


def create_app(
    data: Path,
    hosts: tuple[str, ...] = ("127.0.0.1", "localhost"),
    opened: Studio | None = None,
    passphrase: str | None = None,
    watch: Path | None = None,
) -> FastAPI:
    """The application over a data folder. Requests for other hosts, or sent by other sites' pages, are refused.

    ``opened``: the studio over that folder, when it is open already. ``passphrase``: asked for before
    anything is told. ``watch``: the folder of watched folders, else ``watched`` in the data folder.
    """

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        studio = app.state.studio = opened or Studio(data)
        app.state.sessions.keep_in(
            SessionStore(studio.database), Tokens(studio.database.transaction, studio.database.reading)
        )
        watcher = app.state.watcher = Watcher(studio, watch or data / "watched")
        yield
        studio.leave()
        watcher.close()
        studio.close()

    app = FastAPI(
        separate_input_output_schemas=False,
        title="Sutaru",
        version=__version__,
        lifespan=lifespan,
        docs_url=None,
        redoc_url=None,
    )
    app.openapi = lambda: describe_api(app)  # type: ignore[method-assign]
    app.state.sessions = Sessions(passphrase)
    app.state.figures = Figures()
    app.add_middleware(Guard, sessions=app.state.sessions)
    app.add_middleware(OwnPagesOnly)
    app.add_middleware(TrustedHostMiddleware, allowed_hosts=list(hosts))
    app.add_middleware(Bounded)
    app.add_middleware(Sealed)
    app.add_middleware(Counted, figures=app.state.figures)

    @app.exception_handler(SutaruError)
    async def answer_refusal(request: Request, error: SutaruError) -> JSONResponse:
        status = next((code for kind, code in STATUS.items() if isinstance(error, kind)), 422)
        return _problem(status, error.code, str(error))

    @app.exception_handler(NobodyWaits)
    async def answer_nobody(request: Request, error: NobodyWaits) -> Response:
        return Response(status_code=GONE)

    @app.exception_handler(Exception)
    async def unforeseen(request: Request, error: Exception) -> JSONResponse:
        log.error("unforeseen, at %s", request.url.path, exc_info=error)
        sentence = "This failed in a way that nobody foresaw. Try again; what went wrong is in sutaru.log."
        return JSONResponse({"code": "unforeseen", "sentence": sentence}, 500, headers=HEADERS)  # comes past ``Sealed``

    @app.exception_handler(OSError)
    async def disk(request: Request, error: OSError) -> JSONResponse:
        sentence = explain_failure(error, data)
        if sentence is None:
            raise error
        return _problem(507, sentence.code, str(sentence))

    @app.exception_handler(HTTPException)
    async def answer_wrong_address(request: Request, error: HTTPException) -> JSONResponse:
        code, sentence = _WRONG_ADDRESS.get(error.status_code, ("refused", str(error.detail)))
        return JSONResponse({"code": code, "sentence": sentence}, error.status_code, headers=error.headers)

    @app.exception_handler(RequestValidationError)
    async def invalid(request: Request, error: RequestValidationError) -> JSONResponse:
        return _problem(422, "invalid", describe_complaint(error.errors()[0]))

    @app.exception_handler(ValidationError)
    async def unfit(request: Request, error: ValidationError) -> JSONResponse:
        """What a request asked for is right in each part and not together: the document says so when it is made. Where nothing
        was asked for it is a fault of ours."""
        if request.method in ("GET", "HEAD"):
            return await unforeseen(request, error)
        log.warning("invalid, at %s", request.url.path, exc_info=error)
        return _problem(422, "invalid", describe_complaint(dict(error.errors()[0])))

    for module in (
        access,
        card,
        workshop,
        words,
        books,
        cards,
        shelf,
        bundles,
        jobs,
        history,
        lists,
        orders,
        parts,
        photos,
        press,
        printer,
        proof_links,
        recipes,
        photo_room,
        tasks,
        tour,
        watched,
        events,
        health,
    ):
        app.include_router(module.router)

    @app.get("/api/{rest:path}", include_in_schema=False)
    def answer_unknown_path(rest: str) -> JSONResponse:
        return _problem(404, *_WRONG_ADDRESS[404])

    if interface := find_interface():
        app.mount("/assets", Assets(directory=interface / "assets"), name="assets")

        @app.get("/manual", include_in_schema=False)
        def manual() -> Response:
            return FileResponse(interface / "manual.html", headers={"Cache-Control": "no-cache"})

        @app.get("/docs", include_in_schema=False)
        def api_page() -> Response:
            return FileResponse(interface / "api.html", headers={"Cache-Control": "no-cache"})

        @app.get("/{rest:path}", include_in_schema=False)
        def page(rest: str) -> Response:
            if "." in rest.rsplit("/", 1)[-1]:
                return _problem(404, *_WRONG_ADDRESS[404])
            return FileResponse(interface / "index.html", headers={"Cache-Control": "no-cache"})

    return app
