"""The press: what profiles there are, and what one makes of a place of a sheet."""

from fastapi import APIRouter

from ..core.colour.output import PRESSES
from ..core.colour.profiles import described, profile_bytes
from ..core.colour.proofing import Figures
from ..core.errors import NotFound
from .models import PressFacts
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
