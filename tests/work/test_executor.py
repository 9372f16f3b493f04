"""Work in processes of its own."""

import subprocess
import sys

# Ends workers that have only begun, and slowly, as on a machine that is busy.
CLOSED_AT_ONCE = """
import time
from pebble.pool import process
from sutaru.work.executor import Workers

stop = process.stop_process
process.stop_process = lambda worker: (time.sleep(4), stop(worker))
if __name__ == "__main__":
    workers = Workers()
    workers.submit("long", time.sleep, 60)
    workers.close()
"""


def test_workers_that_have_only_begun_end_without_a_word() -> None:
    ended = subprocess.run(
        [sys.executable, "-c", CLOSED_AT_ONCE], capture_output=True, text=True, timeout=120, check=True
    )
    assert ended.stderr == ""
