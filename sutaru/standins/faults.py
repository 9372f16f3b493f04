"""What goes wrong with a stand-in, so that it can be tried."""

import threading

from ..core.errors import NotFound


class Faults:
    """What is to go wrong, and how often still."""

    def __init__(self, text: str, known: tuple[str, ...]) -> None:
        """``told``: as ``drop:2,full:1``. Raises NotFound for one that is not ``known``."""
        self._lock = threading.Lock()
        self._left: dict[str, int] = {}
        for entry in filter(None, (part.strip() for part in text.split(","))):
            name, _, count = entry.partition(":")
            if name not in known or (count and not count.isdecimal()):
                raise NotFound(
                    f"There is no fault {entry}.", f"Choose of: {', '.join(known)}, each with :N for how often."
                )
            self._left[name] = int(count or 1)

    def is_due(self, name: str) -> bool:
        """Whether it goes wrong this time."""
        with self._lock:
            left = self._left.get(name, 0)
            self._left[name] = max(0, left - 1)
            return left > 0
