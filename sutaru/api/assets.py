"""The interface's scripts, styles and fonts: named by what is in them, so that a browser keeps them, and sent compressed."""

from mimetypes import guess_type
from pathlib import Path

from fastapi.responses import FileResponse, Response
from fastapi.staticfiles import StaticFiles
from starlette.datastructures import Headers
from starlette.types import Scope

KEPT = "public, max-age=31536000, immutable"  # a year (RFC 8246)
SUFFIXES = {"br": ".br", "gzip": ".gz"}  # by content coding (RFC 9110, section 8.4.1), the smaller first


class Assets(StaticFiles):
    """Sends the file that the build has compressed beside one, where the browser takes it."""

    async def get_response(self, path: str, scope: Scope) -> Response:
        accepted = {
            coding.split(";")[0].strip() for coding in Headers(scope=scope).get("accept-encoding", "").split(",")
        }
        for coding, suffix in SUFFIXES.items():
            file, status = self.lookup_path(path + suffix)
            if coding in accepted and status is not None:
                media = guess_type(Path(path).name)[0] or "application/octet-stream"
                headers = {"Cache-Control": KEPT, "Content-Encoding": coding, "Vary": "Accept-Encoding"}
                return FileResponse(file, stat_result=status, media_type=media, headers=headers)
        response = await super().get_response(path, scope)
        if response.status_code == 200:
            response.headers["Cache-Control"] = KEPT
            response.headers["Vary"] = "Accept-Encoding"
        return response
