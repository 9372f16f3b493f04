"""Folded cards: the ways to fold, and how a job's sheets fold."""

from typing import Annotated

from fastapi import APIRouter, Query

from ..core.cards import KINDS, Folding, find_folded_sheets, make_folding
from ..core.cards.folding import Kind
from ..core.errors import NotFound
from .models.new_jobs import FoldedJob, FoldKind
from .stores import InJobs

router = APIRouter(prefix="/api", tags=["cards"])
Side = Annotated[float, Query(gt=0, le=5000, allow_inf_nan=False)]


@router.get("/folds")
def folds() -> list[FoldKind]:
    """The ways to fold a card."""
    return [FoldKind(kind=kind, what=what) for kind, what in KINDS.items()]


@router.get("/folds/{kind}")
def fold(kind: Kind, width_mm: Side, height_mm: Side) -> Folding:
    """The folding of a card that is so large when closed."""
    return make_folding(kind, width_mm, height_mm)


@router.get("/jobs/{job}/folding")
def show_folding(jobs: InJobs, job: str) -> FoldedJob:
    """How a job's sheets fold: its first folded sheet is the outside, one that plays the inside's part the inside."""
    folding = find_folded_sheets(jobs.head(job).job)
    if folding is None:
        raise NotFound("No sheet of this job is folded.", "Begin a card to have one.")
    kind, outside, inside = folding
    return FoldedJob(folding=kind, outside=outside, inside=inside)
