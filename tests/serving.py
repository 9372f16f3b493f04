"""A server in a process of its own."""

import os
import signal
import socket
import subprocess
import sys
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import httpx
import uvicorn

from sutaru.api.app import create_app


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return probe.getsockname()[1]


@contextmanager
def served_here(data: Path) -> Iterator[httpx.Client]:
    """The application in a thread of this process, so that a test can change what it goes by; a client of it."""
    server = uvicorn.Server(uvicorn.Config(create_app(data), port=(port := free_port()), log_level="warning"))
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.05)
    with httpx.Client(base_url=f"http://127.0.0.1:{port}", timeout=60) as client:
        yield client
    server.should_exit = True
    thread.join(20)


class Served:
    """`sutaru serve` in a process of its own."""

    def __init__(self, data: Path, port: int | None = None, passphrase: str = "") -> None:
        port = port or free_port()
        self.client = httpx.Client(base_url=f"http://127.0.0.1:{port}", timeout=60)
        command = [sys.executable, "-m", "sutaru", "serve", "--port", str(port), "--data", str(data)]
        environment = {**os.environ, "SUTARU_PASSPHRASE": passphrase}
        self.process = subprocess.Popen(command, stderr=subprocess.PIPE, text=True, env=environment)
        for _ in range(600):
            try:
                self.client.get("/api/labs")
                return
            except httpx.TransportError:
                time.sleep(0.1)
        raise AssertionError("the server did not start")

    def end(self, how: signal.Signals) -> None:
        self.client.close()
        self.process.send_signal(how)
        self.process.communicate(timeout=30)
