"""Fillings: what lies on one sheet for one customer. An edition is a name and a filling for each sheet.

A filling speaks of layers by their ids. What it says of a layer that is not on the sheet counts for nothing, so that a
layout can be altered, and altered back, without touching what was fitted.
"""

import json
from typing import Annotated, Any, Literal

from pydantic import Field

from .base import Degrees, FieldName, FieldValue, Frozen, Identity, Point, unsaid
from .lettering import Runs
from .photo import PhotoId
from .recipe import Recipe

Fraction = Annotated[float, Field(allow_inf_nan=False, ge=-100, le=100)]
MAX_ZOOM = 50.0
Fit = Literal["cover", "whole", "continued", "woven"]
GOES_ON = ("continued", "woven")  # beyond the photo's own edges


class Placement(Frozen):
    """How a photo lies in an opening; kept relative to both, so it outlives a change of size.

    ``cover``: the photo point ``centre`` (fractions of its width and height) lies at the opening's centre; at ``zoom`` 1
    the photo just covers the outline. ``whole``: all of the photo shows, centred, as large as the opening's box allows;
    ``continued``: the same, and beyond its edges the photo goes on, mirrored there; ``woven``: it goes on with strips of its
    own texture.
    With a ``ratio`` (width / height) only a centred window of that ratio shows, as large as the box allows, and it is
    what the photo covers.
    """

    photo: str
    fit: Fit = "cover"
    centre: tuple[Fraction, Fraction] = (0.5, 0.5)
    zoom: Annotated[float, Field(ge=1, le=MAX_ZOOM, allow_inf_nan=False)] = 1.0
    turn_deg: Degrees = 0.0
    mirror: bool = False
    ratio: Annotated[float, Field(ge=0.05, le=20)] | None = None


class Span(Frozen):
    """Openings that show one photo running on through them. ``placement`` lays it on the box about them all, upright on
    the page; ``nudged`` shifts what one of them shows, mm to the right and down."""

    openings: Annotated[tuple[Identity, ...], Field(min_length=2)]
    placement: Placement
    nudged: dict[Identity, Point] = {}


Words = Annotated[str, Field(max_length=5000)]


class Accepted(Frozen):
    """A finding that a person lets pass: which, who, and why. It holds for what was found then: another measure, other
    words or another photo make another sentence, and that has to be looked at anew."""

    rule: Annotated[str, Field(max_length=60)]
    layer: Annotated[str, Field(max_length=64)] = ""
    sentence: Annotated[str, Field(max_length=1000)]
    name: Annotated[str, Field(min_length=1, max_length=120)]
    reason: Annotated[str, Field(min_length=1, max_length=500)]

    @property
    def finding_key(self) -> tuple[str, str, str]:
        """What names the finding on its sheet."""
        return self.rule, self.layer, self.sentence


class Filling(Frozen):
    """What lies on a sheet: placements by opening, words by text layer, and the ``runs`` in which
    these look otherwise than their box.

    ``pins`` are openings that no filling up touches. ``spans`` run one photo through several openings, which then have no
    placements of their own. ``tones`` mend what one opening shows. ``by_hand`` are openings whose photo a person put or
    fitted there. ``accepted`` are findings that a person lets pass.
    """

    placements: dict[Identity, Placement] = {}
    texts: dict[Identity, Words] = {}
    runs: Annotated[dict[Identity, Runs], Field(exclude_if=unsaid)] = {}
    pins: tuple[Identity, ...] = ()
    spans: dict[Identity, Span] = {}
    tones: dict[Identity, Recipe] = {}
    by_hand: tuple[Identity, ...] = ()
    accepted: Annotated[tuple[Accepted, ...], Field(max_length=2000)] = ()

    def span_of(self, opening: str) -> tuple[str, Span] | None:
        """The span that an opening belongs to, with its id."""
        return next(((k, span) for k, span in self.spans.items() if opening in span.openings), None)

    def photo_in(self, opening: str) -> str:
        """Id of the photo that an opening shows, "" for none."""
        spanned = self.span_of(opening)
        placement = spanned[1].placement if spanned else self.placements.get(opening)
        return placement.photo if placement else ""

    def layer_ids(self) -> set[str]:
        """Ids of all layers that it speaks of, on the sheet or not."""
        spanned = {opening for span in self.spans.values() for opening in span.openings}
        return {*self.placements, *self.texts, *self.pins, *self.tones, *self.by_hand, *spanned}

    def photos(self) -> set[str]:
        """Ids of all photos that lie on the sheet."""
        return {p.photo for p in self.placements.values()} | {s.placement.photo for s in self.spans.values()}


EMPTY = Filling()


def _tone(recipe: Recipe) -> dict[str, Any]:
    """A photo's recipe as it is stored: its retouching, which may be long, is a part of its own."""
    fields = recipe.model_dump(mode="json")
    return fields | {"retouching": recipe.retouching.digest} if recipe.retouching else fields


class Edition(Frozen):
    """One filling of all sheets: a customer, a wording. ``photo_tones`` mend a photo wherever it lies in it.
    ``fields``: what words name in braces, in this edition before the job's own. ``copies``: how many of it are to be printed.
    ``listed``: what a list of customers said of it when it was last taken from there, by what its columns mean. ``variant``:
    the template whose sheets it has, where a job holds those of several.
    """

    id: Identity = "first"
    name: Annotated[str, Field(min_length=1, max_length=120)] = "First"
    photo_tones: dict[PhotoId, Recipe] = {}
    fields: Annotated[dict[FieldName, FieldValue], Field(max_length=60, exclude_if=unsaid)] = {}
    copies: Annotated[int, Field(ge=1, le=100_000, exclude_if=lambda n: n == 1)] = 1
    listed: Annotated[dict[str, str], Field(max_length=60, exclude_if=unsaid)] = {}
    variant: Annotated[str, Field(max_length=64, exclude_if=unsaid)] = ""
    fillings: dict[Identity, Filling] = {}

    def filling(self, sheet: str) -> Filling:
        """What lies on a sheet."""
        return self.fillings.get(sheet, EMPTY)

    def pack(self) -> bytes:
        """Its fillings, and what its photos are retouched by, stand in it by their names."""
        fields: dict[str, Any] = {"id": self.id, "name": self.name}
        if self.photo_tones:
            fields["photo_tones"] = {k: _tone(recipe) for k, recipe in self.photo_tones.items()}
        if self.fields:
            fields["fields"] = self.fields
        if self.listed:
            fields["listed"] = self.listed
        if self.copies != 1:
            fields["copies"] = self.copies
        if self.variant:
            fields["variant"] = self.variant
        fields["fillings"] = {sheet: f.digest for sheet, f in self.fillings.items() if f is not EMPTY}
        return json.dumps(fields, ensure_ascii=False, separators=(",", ":")).encode()
