"""What jobs are read from and written to, handed on together."""

from dataclasses import dataclass
from typing import Annotated

from fastapi import Depends, Request

from ..store import Jobs, Parts, Photos
from .sheets import Sheets


@dataclass(frozen=True)
class Stores:
    """Jobs, their photos and parts, and what was measured and painted of their sheets."""

    jobs: Jobs
    photos: Photos
    parts: Parts
    sheets: Sheets


def get_jobs(request: Request) -> Jobs:
    """The jobs of the application that serves a request."""
    return _stores(request).jobs


def get_photos(request: Request) -> Photos:
    """Its photos."""
    return _stores(request).photos


def get_parts(request: Request) -> Parts:
    """Parts of its jobs."""
    return _stores(request).parts


def get_sheets(request: Request) -> Sheets:
    """What was measured and painted of its sheets."""
    return _stores(request).sheets


def _stores(request: Request) -> Stores:
    stores: Stores = request.app.state.studio.stores
    return stores


InJobs = Annotated[Jobs, Depends(get_jobs)]
InPhotos = Annotated[Photos, Depends(get_photos)]
InParts = Annotated[Parts, Depends(get_parts)]
InSheets = Annotated[Sheets, Depends(get_sheets)]
