"""Retouching: what is mended of places of a photo, as a list of touches that are done in order on the photo's own pixels,
before any resampling and before tone. The original is never touched; each can be hidden, changed, moved, taken away.

Places are fractions of the photo's width and height, upright, so that they hold at any size of it; they may lie a little
beyond its edges. Lengths are fractions of its longer side.
"""

import hashlib
from functools import cached_property
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from .base import Degrees, Frozen, Hex, Identity, Share, unsaid

Along = Annotated[float, Field(ge=-1, le=2, allow_inf_nan=False)]
Place = Annotated[tuple[Along, Along], Field(description="fractions of the photo's width and height")]
Reach = Annotated[float, Field(gt=0, le=2, allow_inf_nan=False, description="of the photo's longer side")]
Amount = Annotated[float, Field(ge=-100, le=100)]


class Stroke(Frozen):
    """What a brush passed over: points, the brush's radius, and at each point how hard it was pressed (all 1 when not said:
    the radius is that much smaller). ``soft``: the share of the radius along which it fades."""

    kind: Literal["stroke"] = "stroke"
    points: Annotated[tuple[Place, ...], Field(min_length=1, max_length=4000)]
    radius: Reach
    pressed: Annotated[tuple[Share, ...], Field(max_length=4000)] = ()
    soft: Share = 0.3

    @model_validator(mode="after")
    def _check_lengths(self) -> "Stroke":
        if self.pressed and len(self.pressed) != len(self.points):
            raise ValueError("A stroke is pressed at each of its points, or says nothing of it.")
        return self


class Outlined(Frozen):
    """What a drawn line encloses. ``soft``: the share of its depth along which it fades."""

    kind: Literal["outlined"] = "outlined"
    points: Annotated[tuple[Place, ...], Field(min_length=3, max_length=4000)]
    soft: Share = 0.1


class Round(Frozen):
    """An ellipse, or with ``outside`` all but it. ``across``: half its width and height; ``soft``: the share of them along
    which it fades."""

    kind: Literal["round"] = "round"
    centre: Place
    across: tuple[Reach, Reach]
    turn_deg: Degrees = 0.0
    soft: Share = 0.5
    outside: bool = False


class Graded(Frozen):
    """All of the photo: wholly up to ``start``, less and less on the way to ``end``, beyond that not at all."""

    kind: Literal["graded"] = "graded"
    start: Place
    end: Place

    @model_validator(mode="after")
    def _check_distance(self) -> "Graded":
        if abs(self.start[0] - self.end[0]) + abs(self.start[1] - self.end[1]) < 1e-4:
            raise ValueError("A graded area runs from one place to another: pull it longer.")
        return self


Ring = Annotated[tuple[Place, ...], Field(min_length=3, max_length=4000)]


class Cut(Frozen):
    """A subject that was cut out, by the lines about it and about holes in it; or with ``outside`` all but it, the backdrop.
    ``soft``: along how much of the photo's longer side it fades."""

    kind: Literal["cut"] = "cut"
    rings: Annotated[tuple[Ring, ...], Field(min_length=1, max_length=200)]
    soft: Annotated[float, Field(ge=0, le=0.2)] = 0.002
    outside: bool = False

    @model_validator(mode="after")
    def _check_count(self) -> "Cut":
        if sum(map(len, self.rings)) > 20_000:
            raise ValueError("A subject is cut out by 20,000 points at most.")
        return self


class _Touch(Frozen):
    id: Identity
    on: bool = True
    strength: Annotated[float, Field(ge=0, le=100)] = 100.0


class Cover(_Touch):
    """A place of the photo covered from another: a point of the area comes from itself ``shift`` away, mirrored, turned and
    scaled about the area's first point.

    ``clone`` lays it down as it is, ``heal`` so that it runs over into what lies around, ``fill`` has no source at all: what
    lies around runs on through the area.
    """

    kind: Literal["cover"] = "cover"
    how: Literal["clone", "heal", "fill"] = "heal"
    area: Annotated[Stroke | Outlined, Field(discriminator="kind")]
    shift: Place = (0.0, 0.0)
    turn_deg: Degrees = 0.0
    mirror: bool = False
    scale: Annotated[float, Field(ge=0.2, le=5)] = 1.0


class Adjust(_Touch):
    """An area made lighter or darker (``light`` in stops), warmer, more or less saturated, sharper or, below 0, softer.
    ``colour``: takes its hue and saturation, the photo's lightness staying; ``flat``: how far it is that colour alone, as a
    sheet of paper would be. ``edges``: how closely it keeps to the edges that the photo itself has."""

    kind: Literal["adjust"] = "adjust"
    area: Annotated[Stroke | Outlined | Round | Graded | Cut, Field(discriminator="kind")]
    edges: Share = 0.0
    light: Annotated[float, Field(ge=-4, le=4)] = 0.0
    warmth: Amount = 0.0
    saturation: Amount = 0.0
    sharpness: Amount = 0.0
    colour: Annotated[Hex | None, Field(exclude_if=unsaid)] = None
    flat: Annotated[Share, Field(exclude_if=unsaid)] = 0.0


class Eye(_Touch):
    """A pupil that a flash made red or green: its colour is taken out, its glint stays."""

    kind: Literal["eye"] = "eye"
    centre: Place
    radius: Reach


class Free(_Touch):
    """A subject that stands free of what its photo is shown in: it is not cut off by the opening's edge, border and mat as far
    ``down`` the opening as this share of its height; further down it is, as the photo is. ``backdrop``: what lies behind
    it in the photo shows within the opening; else the page does. ``edges``: how closely it keeps to the photo's edges."""

    kind: Literal["free"] = "free"
    area: Cut
    edges: Share = 1.0
    down: Share = 0.5
    backdrop: bool = True


Touch = Annotated[Cover | Adjust | Eye | Free, Field(discriminator="kind")]
Touches = Annotated[tuple[Touch, ...], Field(max_length=2000)]


class Retouching(Frozen):
    """The touches of a photo, first to last. Two that say the same are one, whatever they are long."""

    touches: Touches = ()

    @model_validator(mode="after")
    def _check_unique(self) -> "Retouching":
        if len({touch.id for touch in self.touches}) != len(self.touches):
            raise ValueError("Two touches of a photo share an id: give each its own.")
        return self

    def __hash__(self) -> int:
        return hash(self.digest)

    def __eq__(self, other: Any) -> bool:
        return isinstance(other, Retouching) and self.digest == other.digest

    @property
    def pixel_touches(self) -> tuple[Cover | Adjust | Eye, ...]:
        """Those that change any pixel."""
        return tuple(touch for touch in self.touches if not isinstance(touch, Free) and touch.on and touch.strength > 0)

    @property
    def free_subjects(self) -> tuple[Free, ...]:
        """Subjects that stand free."""
        return tuple(touch for touch in self.touches if isinstance(touch, Free) and touch.on and touch.strength > 0)

    @cached_property
    def stages(self) -> tuple[str, ...]:
        """A name for what the photo looks like after each of those that change any pixel."""
        stages, name = [], hashlib.sha256()
        for touch in self.pixel_touches:
            name.update(touch.digest.encode())
            stages.append(name.hexdigest()[:20])
        return tuple(stages)
