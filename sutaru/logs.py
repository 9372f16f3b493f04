"""The log: one line an event, in files that take turns. No customer's name at the usual level."""

import logging
from logging.handlers import RotatingFileHandler
from pathlib import Path

LOG = "sutaru.log"


class _OneLine(logging.Formatter):
    def format(self, record: logging.LogRecord) -> str:
        return " | ".join(line.strip() for line in super().format(record).splitlines() if line.strip())


def keep_log(data: Path, level: str = "info", files: int = 5, megabytes: int = 2) -> None:
    """Writes what happens to a file in the data folder from now on: from ``level`` up, and beside the file in use so many older
    ones of so many megabytes."""
    handler = RotatingFileHandler(data / LOG, maxBytes=megabytes << 20, backupCount=files, encoding="utf-8")
    handler.setFormatter(_OneLine("%(asctime)s %(levelname)s %(name)s %(message)s"))
    root = logging.getLogger()
    root.addHandler(handler)
    root.setLevel(logging.WARNING)
    logging.getLogger("sutaru").setLevel(level.upper())
