"""Starting the server: the demo first when asked for, then uvicorn."""

import os
import socket
import subprocess
import sys
from pathlib import Path
from types import FrameType

import uvicorn

from ..core.errors import SutaruError
from ..logs import keep_log
from .access import checked_passphrase, known_names
from .app import create_app
from .desk import LAB_ADDRESS
from .studio import Studio


class _Announced(uvicorn.Server):
    """Says where it listens once it does."""

    def __init__(self, config: uvicorn.Config, studio: Studio) -> None:
        super().__init__(config)
        self._studio = studio

    def handle_exit(self, sig: int, frame: FrameType | None) -> None:
        """Asks all that runs to end at once, so that the server can within its five seconds."""
        self._studio.leave()
        super().handle_exit(sig, frame)

    async def startup(self, sockets: list[socket.socket] | None = None) -> None:
        await super().startup(sockets)
        print(f"\n  Sutaru is ready: http://{self.config.host}:{self.config.port}/\n", file=sys.stderr, flush=True)


def run(
    host: str,
    port: int,
    data: Path,
    demo: bool,
    lab: str | None = None,
    scheduler: str | None = None,
    watched: Path | None = None,
) -> int:
    """Serves until it is interrupted; the exit code. Other machines need the passphrase in SUTARU_PASSPHRASE. ``lab``: where
    orders go; with the demo a lab that stands in runs beside, on the next port. ``scheduler``: Dask's, for long work; else it
    runs here.

    Raises SutaruError when the port is taken, the folder cannot serve, or a passphrase is missing.
    """
    passphrase = checked_passphrase(host, os.environ.get("SUTARU_PASSPHRASE"))
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError:
            raise SutaruError(
                f"Port {port} is in use.", "Close the other program or give another with --port."
            ) from None
    if demo:
        from ..demo.making import make_demo

        make_demo(data)
    beside = _lab_beside(port + 1, data) if demo and lab is None else None
    lab = lab or (f"http://127.0.0.1:{port + 1}" if beside else LAB_ADDRESS)
    # Opened first: what is wrong with the folder is a sentence here, not a server that fails to start.
    try:
        studio = Studio(data, scheduler, lab)
        keep_log(data)
        app = create_app(data, known_names(host), studio, passphrase, watched)
        _Announced(uvicorn.Config(app, host, port, log_level="warning", timeout_graceful_shutdown=2), studio).run()
    finally:
        if beside:
            beside.terminate()
            beside.wait()
    return 0


DEMO_CLOCK = 60.0  # times faster than a lab's own


def _lab_beside(port: int, data: Path) -> subprocess.Popen[bytes] | None:
    """A lab that stands in, in a process of its own; None when its port is taken."""
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            print(f"Port {port} is in use: no lab stands in.", file=sys.stderr)
            return None
    command = [sys.executable, "-m", "sutaru.cli", "lab", "--port", str(port), "--data", str(data / "lab")]
    return subprocess.Popen([*command, "--clock", str(DEMO_CLOCK)], stdout=subprocess.DEVNULL)
