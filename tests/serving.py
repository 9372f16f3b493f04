"""A server in a process of its own."""

import os
import signal
import socket
import subprocess
import sys
import time
from pathlib import Path

import httpx


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return probe.getsockname()[1]


class Served:
    """`sutaru serve` in a process of its own."""

    def __init__(self, data: Path, port: int | None = None, passphrase: str = "") -> None:
        port = port or free_port()
        self.client = httpx.Client(base_url=f"http://127.0.0.1:{port}", timeout=60)
        command = [sys.executable, "-m", "sutaru.cli", "serve", "--port", str(port), "--data", str(data)]
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
