"""The time, as it is stored."""

from datetime import UTC, datetime


def now() -> str:
    """The time, UTC, ISO 8601, to the millisecond."""
    return datetime.now(UTC).isoformat(timespec="milliseconds")
