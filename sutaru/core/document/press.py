"""How a lab prints: its press and what is to be converted to it, how its PDFs are made, how much is sharpened for it."""

from typing import Annotated, Literal

from pydantic import Field

from .base import Frozen

Intent = Literal["relative", "perceptual", "saturation", "absolute"]
PressName = Annotated[
    str,
    Field(
        pattern=r"^(fogra39|tr006|grey|[0-9a-f]{64})$",
        description="a press profile that ships, or the sha256 of a lab's own ICC file",
    ),
]
SpotName = Annotated[str, Field(pattern=r"^[A-Za-z0-9 _-]{0,40}$", description="a spot colour's name; empty: none")]
Sharpening = Literal["none", "low", "standard", "high"]
PaperSurface = Literal["glossy", "matt"]


class Press(Frozen):
    """A press by its profile, and how colours come to it.

    ``convert``: files are written in the press's inks; otherwise they stay RGB, and a PDF names the press as what it is meant
    for. ``ink_limit``: the most ink in one place, percent of one full ink. ``black_words``: in a PDF black words are black ink
    alone, printed over what lies below.
    """

    profile: PressName = "fogra39"
    intent: Intent = "relative"
    black_point: bool = True
    convert: bool = True
    ink_limit: Annotated[int, Field(ge=100, le=400)] = 320
    black_words: bool = True


class PdfRules(Frozen):
    """How a lab wants its PDFs. ``x4``: by ISO 15930-7. ``one_file``: all pages in one. ``cut``, ``fold``: the spot colours in
    which cut and fold lines are drawn, printed over all. ``fonts``: words are outlines, or stay words in embedded fonts.
    ``live``: layers lie on one another in the file, and soft edges and blending are worked out where it is printed."""

    x4: bool = False
    one_file: bool = False
    cut: SpotName = ""
    fold: SpotName = ""
    fonts: Annotated[Literal["outlines", "embedded"], Field(exclude_if=lambda how: how == "outlines")] = "outlines"
    live: Annotated[bool, Field(exclude_if=lambda value: not value)] = False
