"""Whether the server is well, and figures of its work, for whoever watches over it.

``/health`` is answered without a passphrase and tells nothing of the studio. The figures are in Prometheus' text format
(version 0.0.4), of which ``prometheus_client`` writes the letters; it is loaded when they are first asked for.
"""

import shutil
import time
from collections import Counter, defaultdict
from pathlib import Path
from typing import Literal

from fastapi import APIRouter, Request, Response
from pydantic import Field
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from .. import __version__
from ..core.errors import SutaruError
from ..core.limits import MB
from .messages import Message as Answer
from .studio import InStudio, Studio

router = APIRouter(tags=["health"])
LEAST_FREE = 200 * MB  # on the disk of the data folder: below, a day's work may not be stored
_STREAM = "/api/events"  # is open as long as a window is


class Health(Answer):
    """How the server is. ``status``: ok, or failing with the reason in ``sentence``."""

    status: Literal["ok", "failing"]
    sentence: str
    version: str = Field(description="The server's version.", examples=["0.1.0"])


class Counted:
    """Counts requests and the seconds they take, by method, route and status. Plain ASGI, so that streams flow."""

    def __init__(self, app: ASGIApp, figures: "Figures") -> None:
        self._app, self._figures = app, figures

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        begun, status = time.perf_counter(), 500

        async def pass_on(message: Message) -> None:
            nonlocal status
            if message["type"] == "http.response.start":
                status = message["status"]
            await send(message)

        try:
            await self._app(scope, receive, pass_on)
        finally:
            route = getattr(scope.get("route"), "path", "")
            if route != _STREAM:
                key = scope["method"], route, str(status)
                self._figures.requests[key] += 1
                self._figures.seconds[key] += time.perf_counter() - begun


class Figures:
    """What was counted since the start."""

    def __init__(self) -> None:
        self.started = time.time()
        self.requests: Counter[tuple[str, str, str]] = Counter()
        self.seconds: defaultdict[tuple[str, str, str], float] = defaultdict(float)


@router.get("/health")
def health(request: Request, response: Response) -> Health:
    """Whether jobs can be read and there is room on the disk: 200, or 503 with the reason."""
    studio: Studio = request.app.state.studio
    try:
        with studio.database.reading() as db:
            db.execute("SELECT 1 FROM job LIMIT 1").fetchone()
        free = shutil.disk_usage(studio.database.folder).free
        sentence = "" if free >= LEAST_FREE else f"Only {free // MB} MB are free on the disk of the data folder."
    except (SutaruError, OSError) as error:
        sentence = str(error) if isinstance(error, SutaruError) else "The data folder cannot be read."
    if sentence:
        response.status_code = 503
    return Health(status="failing" if sentence else "ok", sentence=sentence, version=__version__)


@router.get("/api/metrics", response_class=Response)
def metrics(request: Request, studio: InStudio) -> Response:
    """Figures of the server's work in Prometheus' text format: requests, tasks, jobs, memory, room on the disk."""
    from prometheus_client import CollectorRegistry, generate_latest
    from prometheus_client.core import CounterMetricFamily, GaugeMetricFamily, Metric
    from prometheus_client.exposition import CONTENT_TYPE_LATEST

    figures: Figures = request.app.state.figures

    class Collected:
        def collect(self) -> list[Metric]:
            counted = CounterMetricFamily("sutaru_requests", "Requests answered", labels=("method", "route", "status"))
            took = CounterMetricFamily(
                "sutaru_request_seconds", "Seconds that they took", labels=("method", "route", "status")
            )
            for key, count in figures.requests.items():
                counted.add_metric(key, count)
                took.add_metric(key, figures.seconds[key])
            tasks = GaugeMetricFamily("sutaru_tasks", "Tasks stored, by state", labels=("state",))
            jobs = GaugeMetricFamily("sutaru_jobs", "Jobs by where they are listed", labels=("list",))
            with studio.database.reading() as db:
                for row in db.execute("SELECT state, count(*) AS many FROM task GROUP BY state"):
                    tasks.add_metric((row["state"],), row["many"])
                for name, where in (
                    ("work", "deleted IS NULL AND put_away IS NULL"), ("archived", "deleted IS NULL AND put_away IS NOT NULL"),
                    ("deleted", "deleted IS NOT NULL"),
                ):  # fmt: skip
                    many = db.execute(f"SELECT count(*) AS many FROM job WHERE {where}").fetchone()["many"]
                    jobs.add_metric((name,), many)
            gauges = {
                "free_bytes": ("Free on the disk of the data folder", shutil.disk_usage(studio.database.folder).free),
                "resident_bytes": ("Memory of the server's process", _resident_bytes()),
                "start_time_seconds": ("When the server started, seconds since 1970", figures.started),
            }
            about = GaugeMetricFamily("sutaru_info", "The server's version", labels=("version",))
            about.add_metric((__version__,), 1)
            single = [GaugeMetricFamily(f"sutaru_{name}", what, value) for name, (what, value) in gauges.items()]
            return [counted, took, tasks, jobs, about, *single]

    registry = CollectorRegistry(auto_describe=False)
    registry.register(Collected())
    return Response(generate_latest(registry), media_type=CONTENT_TYPE_LATEST)


def _resident_bytes() -> int:
    """Memory of this process, bytes; 0 where the system does not tell."""
    try:
        pages = int(Path("/proc/self/statm").read_text("ascii").split()[1])
    except (OSError, IndexError, ValueError):
        return 0
    return pages * 4096
