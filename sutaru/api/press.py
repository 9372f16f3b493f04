"""The press: what profiles there are, and what one makes of a place of a sheet."""

from typing import Annotated

from fastapi import APIRouter, Query
from pydantic import ValidationError

from ..core.colour.output import PRESSES
from ..core.colour.profiles import described, profile_bytes
from ..core.colour.proofing import Figures
from ..core.document import LabSheet
from ..core.errors import EditRefused, NotFound, in_words
from ..core.press.exporting import file_stems, named_alike
from .models import FileNames, PressFacts
from .studio import InStudio

router = APIRouter(prefix="/api", tags=["press"])


@router.get("/drawn/{key}/figures")
def figures(studio: InStudio, key: str, x: float, y: float) -> Figures:
    """What the lab's press makes of one place of a sheet, page mm."""
    found = studio.sheets.figures(key, (x, y))
    if found is None:
        raise NotFound("This place is not on the sheet.")
    return found


@router.get("/presses")
def presses() -> list[PressFacts]:
    """The press profiles that ship."""
    return [PressFacts(id=name, name=what, space=described(profile_bytes(name))[1]) for name, what in PRESSES.items()]


@router.get("/jobs/{job}/names")
def names(studio: InStudio, job: str, pattern: Annotated[str, Query(max_length=80)] = "") -> FileNames:
    """What a job's files are called by its lab sheet's pattern, or by another one that is tried."""
    here = studio.jobs.head(job).job
    if pattern:
        try:
            lab = LabSheet.model_validate({**here.lab.model_dump(), "naming": pattern})
        except ValidationError as error:
            raise EditRefused(in_words(error.errors()[0])) from None
        here = here.having(lab=lab)
    return FileNames(names=file_stems(here)[:3], alike=named_alike(here))
