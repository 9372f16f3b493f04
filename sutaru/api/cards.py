"""Folded cards: the ways to fold, and how a job's sheets fold."""

from typing import Annotated

from fastapi import APIRouter, Query

from ..core.cards import KINDS, Folding, folding, folding_of
from ..core.cards.folding import Kind
from ..core.errors import NotFound
from .models import FoldedJob, FoldKind
from .studio import InStudio

router = APIRouter(prefix="/api", tags=["cards"])
Side = Annotated[float, Query(gt=0, le=5000)]


@router.get("/folds")
def folds() -> list[FoldKind]:
    """The ways to fold a card."""
    return [FoldKind(kind=kind, what=what) for kind, what in KINDS.items()]


@router.get("/folds/{kind}")
def fold(kind: Kind, width_mm: Side, height_mm: Side) -> Folding:
    """The folding of a card that is so large when closed."""
    return folding(kind, width_mm, height_mm)


@router.get("/jobs/{job}/folding")
def of_job(studio: InStudio, job: str) -> FoldedJob:
    """How a job's sheets fold: its first folded sheet is the outside, one that plays the inside's part the inside."""
    found = studio.jobs.head(job).job
    folded = [sheet for sheet in found.sheets if any(line.kind == "fold" for line in sheet.layout.lines)]
    outside = next((sheet for sheet in folded if sheet.role != "inside"), None)
    inside = next((sheet for sheet in folded if sheet.role == "inside"), None)
    made = folding_of((inside or outside).layout, found.fold or None) if inside or outside else None  # type: ignore[union-attr]
    if made is None:
        raise NotFound("No sheet of this job is folded.", "Begin a card to have one.")
    return FoldedJob(folding=made, outside=outside.id if outside else "", inside=inside.id if inside else "")
