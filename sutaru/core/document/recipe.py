"""A recipe: how a photo is mended. First its retouching, on its own pixels; then it is put upright; then a list of steps of
tone that are done in order, each of which can be switched off.

Nothing is ever baked into the original. Strengths run from -100 to 100 and do nothing at 0.
"""

from itertools import pairwise
from typing import Annotated, Literal

from pydantic import Field, model_validator

from .base import Frozen, unsaid
from .retouching import Retouching

Strength = Annotated[float, Field(ge=-100, le=100)]


class _Step(Frozen):
    on: bool = True


Black = Annotated[float, Field(ge=0, le=254)]
White = Annotated[float, Field(ge=1, le=255)]
Gamma = Annotated[float, Field(ge=0.1, le=10)]


class Ends(Frozen):
    """Values from ``black`` to ``white`` (of 255) are spread over the whole range; ``gamma`` above 1 lightens the middle."""

    black: Black = 0.0
    white: White = 255.0
    gamma: Gamma = 1.0


class Levels(_Step):
    """Each colour's own ends first, where it has any, then those of all alike; see ``Ends``."""

    kind: Literal["levels"] = "levels"
    black: Black = 0.0
    white: White = 255.0
    gamma: Gamma = 1.0
    red: Annotated[Ends | None, Field(exclude_if=unsaid)] = None
    green: Annotated[Ends | None, Field(exclude_if=unsaid)] = None
    blue: Annotated[Ends | None, Field(exclude_if=unsaid)] = None

    @model_validator(mode="after")
    def _check_order(self) -> "Levels":
        if any(ends and ends.white - ends.black < 1 for ends in (self, self.red, self.green, self.blue)):
            raise ValueError("The white point of levels must lie above the black point.")
        return self


Tone = Annotated[float, Field(ge=0, le=255)]
CurvePoints = Annotated[
    tuple[tuple[Tone, Tone], ...],
    Field(min_length=2, max_length=16, description="from which value to which, of 255; the first ascend"),
]
STRAIGHT: tuple[tuple[float, float], ...] = ((0.0, 0.0), (255.0, 255.0))


class Curves(_Step):
    """Values carried along a curve through points: ``all`` for the three colours alike, then each by its own. Between points it
    neither overshoots nor turns back; beyond the first and the last it is level."""

    kind: Literal["curves"] = "curves"
    all: CurvePoints = STRAIGHT
    red: CurvePoints = STRAIGHT
    green: CurvePoints = STRAIGHT
    blue: CurvePoints = STRAIGHT

    @model_validator(mode="after")
    def _ascend(self) -> "Curves":
        for points in (self.all, self.red, self.green, self.blue):
            if any(later[0] - earlier[0] < 1 for earlier, later in pairwise(points)):
                raise ValueError("Points of a curve lie at least 1 apart, from the dark to the light.")
        return self


class Exposure(_Step):
    """Light times two to the power of ``stops``."""

    kind: Literal["exposure"] = "exposure"
    stops: Annotated[float, Field(ge=-5, le=5)] = 0.0


class Contrast(_Step):
    """Values are drawn away from middle grey, or towards it, along a smooth curve that keeps black and white."""

    kind: Literal["contrast"] = "contrast"
    amount: Strength = 0.0


class WhiteBalance(_Step):
    """Warmer or cooler (``warmth``), more magenta or more green (``tint``); lightness stays."""

    kind: Literal["white_balance"] = "white_balance"
    warmth: Strength = 0.0
    tint: Strength = 0.0


class ColourStep(_Step):
    """Hue turned by degrees, saturation and lightness raised or lowered, as HSL of CSS Color 4 has them."""

    kind: Literal["colour"] = "colour"
    hue_deg: Annotated[float, Field(ge=-180, le=180)] = 0.0
    saturation: Strength = 0.0
    lightness: Strength = 0.0


class BlackAndWhite(_Step):
    """Grey from the three colours by their shares, which are brought to a sum of 1."""

    kind: Literal["black_and_white"] = "black_and_white"
    red: Annotated[float, Field(ge=0, le=1)] = 0.2126
    green: Annotated[float, Field(ge=0, le=1)] = 0.7152
    blue: Annotated[float, Field(ge=0, le=1)] = 0.0722

    @model_validator(mode="after")
    def _check_weights(self) -> "BlackAndWhite":
        if self.red + self.green + self.blue < 0.01:
            raise ValueError("Black and white needs a share of at least one colour.")
        return self


class Enhance(_Step):
    """Levels found by the machine: the darkest and lightest of the photo are brought to black and white, by ``amount``."""

    kind: Literal["enhance"] = "enhance"
    amount: Annotated[float, Field(ge=0, le=100)] = 60.0


Step = Annotated[
    Levels | Curves | Exposure | Contrast | WhiteBalance | ColourStep | BlackAndWhite | Enhance,
    Field(discriminator="kind"),
]


class Upright(Frozen):
    """The camera turned back, so that upright and level lines are: down by ``pitch_deg`` where it looked up, aside by
    ``yaw_deg``, and by ``roll_deg`` counter-clockwise; and lines that its lens bent made straight: ``bend`` above 0 takes out a
    barrel, below 0 a cushion. The photo then fills its frame as before: what would be empty is cut off."""

    on: bool = True
    pitch_deg: Annotated[float, Field(ge=-25, le=25)] = 0.0
    yaw_deg: Annotated[float, Field(ge=-25, le=25)] = 0.0
    roll_deg: Annotated[float, Field(ge=-15, le=15)] = 0.0
    bend: Strength = 0.0

    @property
    def changes(self) -> bool:
        """Whether it does anything."""
        return self.on and any((self.pitch_deg, self.yaw_deg, self.roll_deg, self.bend))


class Recipe(Frozen):
    """How a photo is mended wherever it lies, or what one opening shows of it. The steps, first to last, each kind at
    most once; ``None``, of an opening, for those of its photo. An opening's ``retouching`` comes after its photo's;
    ``upright`` after both.
    """

    retouching: Annotated[Retouching | None, Field(exclude_if=unsaid)] = None
    upright: Annotated[Upright | None, Field(exclude_if=unsaid)] = None
    steps: Annotated[tuple[Step, ...], Field(max_length=8)] | None = ()

    @model_validator(mode="after")
    def _check_unique(self) -> "Recipe":
        kinds = [step.kind for step in self.steps or ()]
        if len(set(kinds)) != len(kinds):
            raise ValueError("A recipe has each kind of step once: change the one that is there.")
        return self

    def lay_over(self, under: "Recipe | None") -> "Recipe":
        """This one of an opening laid over its photo's."""
        if under is None:
            return self
        both = self.retouching or under.retouching
        if self.retouching and under.retouching:  # their ids need only be apart within each
            both = Retouching.model_construct(touches=under.retouching.touches + self.retouching.touches)
        return Recipe.model_construct(
            retouching=both,
            upright=self.upright or under.upright,
            steps=under.steps if self.steps is None else self.steps,
        )
