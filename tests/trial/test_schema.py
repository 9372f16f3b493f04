"""The whole API by its own description (OpenAPI), with values that the description allows and such as it does not."""

import signal
import subprocess
import sys
from pathlib import Path

import pytest

from tests.api.asking import start
from tests.serving import Served
from tests.trial import LONG

EXAMPLES = 90  # of each operation


@pytest.mark.skipif(not LONG, reason="in make trial; tests/api/test_any_request.py is its sample")
def test_no_request_ends_in_a_500(tmp_path: Path) -> None:
    server = Served(tmp_path)
    try:
        start(server.client, "mockup-wall")
        command = [
            sys.executable, "-m", "schemathesis.cli", "run", f"{server.client.base_url}/openapi.json", "--checks",
            "not_a_server_error", "--exclude-path", "/api/events", "--max-examples", str(EXAMPLES), "--seed", "7",
            "--request-timeout", "30", "--generation-database", "none",
        ]  # fmt: skip
        done = subprocess.run(command, capture_output=True, text=True, timeout=1800, check=False, cwd=tmp_path)
        assert done.returncode == 0, done.stdout[-6000:] + done.stderr[-2000:]
        assert server.client.get("/api/jobs").status_code == 200
    finally:
        server.end(signal.SIGTERM)
