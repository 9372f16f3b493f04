"""How a job's pages are to be laid on print sheets, as it is asked for."""

from typing import Annotated, Literal

from pydantic import Field

from ..document.base import Frozen, Length
from .imposing import Grain


class PrintWish(Frozen):
    """How pages are to be laid on print sheets. ``copies``: of each piece, else as many as each edition says. ``gap_mm``: between
    pieces, else twice the bleed. ``duplex``: backs are printed, the sheet turned over about that edge. ``grain``: along which
    side of the sheet its fibres run; ``piece_grain``: how they are to run in a piece. A ``booklet`` has its pages two by two.
    ``picture``: each side is a JPEG, for printers that take no PDF."""

    width_mm: Length
    height_mm: Length
    margin_mm: Annotated[float, Field(ge=0, le=100)] = 5.0
    gap_mm: Annotated[float | None, Field(ge=0, le=100)] = None
    copies: Annotated[int | None, Field(ge=1, le=10_000)] = None
    duplex: Literal["", "long", "short"] = ""
    grain: Literal["", "width", "height"] = ""
    piece_grain: Grain = "any"
    booklet: bool = False
    signature: Annotated[int, Field(ge=0, le=50)] = 0
    creep_mm: Annotated[float, Field(ge=0, le=5)] = 0.0
    picture: bool = False
