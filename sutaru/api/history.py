"""A job's history: undo, redo, going back, names of states, their pictures."""

from typing import Annotated

from fastapi import APIRouter, Query, Response

from ..core.errors import EditRefused, NotFound
from .jobs import Has, describe_started, json_answer
from .models.job_heads import BackRequest, HistoryState, JobHead, Known, StateName
from .models.new_jobs import Started
from .pictures import cover_picture
from .stores import InJobs
from .studio import InStudio, Studio

router = APIRouter(prefix="/api/jobs", tags=["jobs"])


Number = Annotated[int, Query(ge=1, le=2**53)]


def _check_settled(studio: Studio, job: str) -> None:
    """Raises EditRefused while photos come in: going back would drop some, and they would bury what can be redone."""
    if studio.finder.imports_into(job):
        raise EditRefused("Photos are coming in.", "Undo when they are in, or stop them first.")


@router.post("/{job}/undo", response_model=JobHead)
def undo(studio: InStudio, job: str, known: BackRequest) -> Response:
    """Takes the last edit back."""
    _check_settled(studio, job)
    return json_answer(studio.editor.announce_head(studio.jobs.undo(job, known.seq), known))


@router.post("/{job}/redo", response_model=JobHead)
def redo(studio: InStudio, job: str, known: BackRequest) -> Response:
    """Brings back what was undone last."""
    _check_settled(studio, job)
    return json_answer(studio.editor.announce_head(studio.jobs.redo(job, known.seq), known))


@router.post("/{job}/last-good")
def last_good(studio: InStudio, job: str) -> Started:
    """Goes back to the newest state of a job that can be read, shown and measured."""
    return describe_started(studio, studio.editor.last_good(job))


@router.get("/{job}/history")
def history(jobs: InJobs, job: str, before: Number = 2**53) -> list[HistoryState]:
    """What was done, the newest first, up to 200 states; those of one gesture are one entry."""
    head_now, line = jobs.head(job), jobs.line(job)
    states: list[HistoryState] = []
    gesture: str | None = None
    for state in jobs.history(job, 200, before):
        last = states[-1] if states else None
        if last and gesture and gesture == state.gesture and last.parent == state.number and not state.named:
            states[-1] = last.model_copy(update={"steps": last.steps + 1, "parent": state.parent})
            continue
        gesture = state.gesture
        states.append(
            HistoryState(
                number=state.number, parent=state.parent, label=state.label, made=state.made, named=state.named, steps=1,
                here=state.number == head_now.number, undone=state.number not in line,
            )
        )  # fmt: skip
    return states


@router.post("/{job}/history/{number}", response_model=JobHead)
def go_to(studio: InStudio, job: str, number: int, known: Known) -> Response:
    """Goes to a state of the history. What was done since stays in it."""
    _check_settled(studio, job)
    return json_answer(studio.editor.announce_head(studio.jobs.go_to(job, _bound_number(number)), known))


@router.put("/{job}/history/{number}", status_code=204)
def name_state(studio: InStudio, job: str, number: int, request: StateName) -> None:
    """Gives a state a name."""
    studio.jobs.name_state(job, _bound_number(number), request.name.strip())
    studio.events.say("history", job)


def _bound_number(number: int) -> int:
    if not 1 <= number <= 2**53:
        raise NotFound("This job, or this state of it, does not exist.", "Choose one of the history.")
    return number


@router.get("/{job}/history/{number}/picture", response_class=Response)
def state_picture(
    studio: InStudio, job: str, number: int, sheet: Has = "", edition: Has = "", width: int = 320
) -> Response:
    """A sheet as it was in a state, as JPEG."""
    was = studio.jobs.get_state(job, _bound_number(number))
    known = {e.id for e in was.editions}
    return cover_picture(studio, job, was, sheet, edition if edition in known else "", width)
