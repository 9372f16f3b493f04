"""Starting the server: the demo first when asked for, then uvicorn."""

import asyncio
import gc
import logging
import os
import socket
import subprocess
import sys
from pathlib import Path
from types import FrameType

import uvicorn

from ..core import memory
from ..core.errors import SutaruError
from ..logs import keep_log
from .access import check_passphrase, list_host_names
from .app import create_app
from .connections import PatientProtocol
from .order_desk import LAB_ADDRESS, PRINTER_ADDRESS
from .studio import Studio


def _is_no_fault_of_ending(record: logging.LogRecord) -> bool:
    """Whether a line of the log is worth keeping: that a request was let go of because the server ends is none."""
    error = record.exc_info[1] if isinstance(record.exc_info, tuple) else None
    return not isinstance(error, asyncio.CancelledError)


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
    watch: Path | None = None,
    printer: str | None = None,
) -> int:
    """Serves until it is interrupted; the exit code. Other machines need the passphrase in SUTARU_PASSPHRASE. ``lab``: where
    orders go; with the demo a lab that stands in runs beside, on the next port. ``scheduler``: Dask's, for long work; else it
    runs here.

    Raises SutaruError when the port is taken, the folder cannot serve, or a passphrase is missing.
    """
    passphrase = check_passphrase(host, os.environ.get("SUTARU_PASSPHRASE"))
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError:
            raise SutaruError(
                f"Port {port} is in use.", "Close the other program or give another with --port."
            ) from None
    if demo:
        from ..demo.demo_data import make_demo
        from ..demo.orders import CLOCK

        make_demo(data)
    beside = []
    if (
        demo
        and lab is None
        and (stand_in := _start_stand_in("lab", port + 1, "--data", str(data / "lab"), "--clock", str(CLOCK)))
    ):
        lab, beside = f"http://127.0.0.1:{port + 1}", [stand_in]
    if demo and printer is None and (stand_in := _start_stand_in("printer", port + 2, "--data", str(data / "printer"))):
        printer, beside = f"http://127.0.0.1:{port + 2}", [*beside, stand_in]
    memory.share_arenas()
    # Opened first: what is wrong with the folder is a sentence here, not a server that fails to start.
    try:
        studio = Studio(data, scheduler, lab or LAB_ADDRESS, printer or PRINTER_ADDRESS)
        keep_log(data)
        app = create_app(data, list_host_names(host), studio, passphrase, watch)
        gc.freeze()  # what is loaded now stays: looking through it for garbage took a tenth of the server's time
        config = uvicorn.Config(app, host, port, http=PatientProtocol, log_level="warning", timeout_graceful_shutdown=2)
        logging.getLogger("uvicorn.error").addFilter(_is_no_fault_of_ending)
        _Announced(config, studio).run()
    finally:
        for stand_in in beside:
            stand_in.terminate()
            stand_in.wait()
    return 0


def _start_stand_in(name: str, port: int, *more: str) -> subprocess.Popen[bytes] | None:
    """A stand-in in a process of its own; None when its port is taken."""
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            print(f"Port {port} is in use: no {name} stands in.", file=sys.stderr)
            return None
    # It ends with this process, however that ends.
    command = [sys.executable, "-m", "sutaru", name, "--port", str(port), "--until", str(os.getpid()), *more]
    return subprocess.Popen(command, stdout=subprocess.DEVNULL)
