"""Starting the server: the demo first when asked for, then uvicorn."""

import asyncio
import gc
import logging
import os
import socket
import subprocess
import sys
from types import FrameType
from urllib.parse import urlsplit

import uvicorn

from ..core import memory
from ..core.errors import SutaruError
from ..logs import keep_log
from ..settings import Settings
from .access import check_passphrase, is_loopback, list_host_names
from .app import create_app, find_interface
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
        scheme = "https" if self.config.is_ssl else "http"
        print(f"\n  Sutaru is ready: {scheme}://{self.config.host}:{self.config.port}/\n", file=sys.stderr, flush=True)


def run(settings: Settings) -> int:
    """Serves until it is interrupted; the exit code. Other machines need the passphrase in SUTARU_PASSPHRASE. With the demo a
    lab and a printer that stand in run beside, on the next ports, unless others are set.

    Raises SutaruError when the port is taken, the folder cannot serve, a part of the program or a passphrase is missing.
    """
    host, port, data = settings.host, settings.port, settings.data
    passphrase = check_passphrase(host, os.environ.get("SUTARU_PASSPHRASE"))
    if find_interface() is None:
        raise SutaruError(
            "The interface is missing from this installation.", "Install Sutaru anew, or build it here: make demo."
        )
    _check_addresses(settings)
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError:
            raise SutaruError(
                f"Port {port} is in use.", "Close the other program or give another with --port."
            ) from None
    if not is_loopback(host) and settings.tls_cert is None:
        print(
            "The passphrase and the photos travel unencrypted to other machines: give --tls-cert and --tls-key, or put a "
            "proxy with HTTPS before it.", file=sys.stderr,
        )  # fmt: skip
    if settings.demo:
        from ..demo.demo_data import make_demo

        make_demo(data)
    lab, printer, beside = _start_stand_ins(settings)
    memory.share_arenas()
    # Opened first: what is wrong with the folder is a sentence here, not a server that fails to start.
    try:
        studio = Studio(data, settings.scheduler, lab or LAB_ADDRESS, printer or PRINTER_ADDRESS)
        keep_log(data, settings.log_level, settings.log_files, settings.log_mb)
        studio.public_url = settings.public_url
        public = [urlsplit(settings.public_url).hostname or ""] if settings.public_url else []
        names = (*list_host_names(host), *settings.allowed_hosts, *public)
        app = create_app(data, names, studio, passphrase, settings.watch)
        gc.freeze()  # what is loaded now stays: looking through it for garbage took a tenth of the server's time
        config = uvicorn.Config(
            app, host, port, http=PatientProtocol, log_level="warning", timeout_graceful_shutdown=2,
            ssl_certfile=settings.tls_cert, ssl_keyfile=settings.tls_key, proxy_headers=bool(settings.proxies),
            forwarded_allow_ips=list(settings.proxies),
        )  # fmt: skip
        logging.getLogger("uvicorn.error").addFilter(_is_no_fault_of_ending)
        _Announced(config, studio).run()
    finally:
        for stand_in in beside:
            stand_in.terminate()
            stand_in.wait()
    return 0


def _check_addresses(settings: Settings) -> None:
    """Raises SutaruError for an address of a lab, printer or scheduler that is none."""
    for name, schemes in (
        ("lab", ("http", "https", "folder")),
        ("printer", ("http", "https")),
        ("scheduler", ("tcp", "tls")),
    ):
        address = getattr(settings, name)
        scheme, _, rest = (address or "").partition(":")
        if address and (scheme not in schemes or not rest.strip("/")):
            raise SutaruError(
                f"{address} is no address of a {name}.",
                f"Write one that begins with {' or '.join(schemes)}, and a colon.",
            )


def _start_stand_ins(settings: Settings) -> tuple[str | None, str | None, list[subprocess.Popen[bytes]]]:
    """The addresses of the lab and the printer, and the processes of those that stand in for the demo."""
    lab, printer, port = settings.lab, settings.printer, settings.port
    beside: list[subprocess.Popen[bytes]] = []
    if settings.demo and lab is None:
        from ..demo.orders import CLOCK

        folder = str(settings.data / "lab")
        if stand_in := _start_stand_in("lab", port + 1, "--data", folder, "--clock", str(CLOCK)):
            lab = f"http://127.0.0.1:{port + 1}"
            beside.append(stand_in)
    if (
        settings.demo
        and printer is None
        and (stand_in := _start_stand_in("printer", port + 2, "--data", str(settings.data / "printer")))
    ):
        printer = f"http://127.0.0.1:{port + 2}"
        beside.append(stand_in)
    return lab, printer, beside


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
