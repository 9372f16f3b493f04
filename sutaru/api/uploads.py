"""Files that come as the body of a request, put where they can be read."""

import secrets
from collections.abc import AsyncIterator
from pathlib import Path

from ..core import limits
from ..core.errors import FileRefused
from .studio import Studio


async def receive(studio: Studio, stream: AsyncIterator[bytes], most: int, what: str) -> Path:
    """Writes a request's body to a file of ours. Raises FileRefused over the budget; then nothing is left."""
    path = studio.photos.incoming / f"upload-{secrets.token_hex(8)}"
    size = 0
    try:
        with path.open("wb") as file:
            async for chunk in stream:
                size += len(chunk)
                if size > most:
                    raise FileRefused(
                        f"{what} is larger than {most // limits.MB} MB.", "Make it smaller and bring it in again."
                    )
                file.write(chunk)
    except BaseException:
        path.unlink(missing_ok=True)
        raise
    return path
