"""The log: one line an event, in files that take turns. No customer's name at the usual level."""

import logging
from logging.handlers import RotatingFileHandler
from pathlib import Path

LOG, BYTES, KEPT = "sutaru.log", 2 << 20, 5


class _OneLine(logging.Formatter):
    def format(self, record: logging.LogRecord) -> str:
        return " | ".join(line.strip() for line in super().format(record).splitlines() if line.strip())


def keep_log(data: Path) -> None:
    """Writes what happens to a file in the data folder from now on."""
    handler = RotatingFileHandler(data / LOG, maxBytes=BYTES, backupCount=KEPT, encoding="utf-8")
    handler.setFormatter(_OneLine("%(asctime)s %(levelname)s %(name)s %(message)s"))
    root = logging.getLogger()
    root.addHandler(handler)
    root.setLevel(logging.WARNING)
    logging.getLogger("sutaru").setLevel(logging.INFO)
