"""A job: one customer's order on its own copy of a template's pages, and the lab sheet it is made for."""

from datetime import datetime
from functools import cached_property
from typing import Annotated, Literal

from pydantic import Field, model_validator

from .layers import Identity, Opening, Share, Text
from .recipe import Enhance, Recipe
from .shapes import Degrees, Frozen, Point
from .template import Page, Product, unique_ids

Format = Literal["jpeg", "png", "tiff", "pdf"]
Fraction = Annotated[float, Field(allow_inf_nan=False, ge=-100, le=100)]
MAX_ZOOM = 50.0


class KeepArea(Frozen):
    """A part of a photo that must stay visible: the ellipse in a box, in fractions of the photo's width and height."""

    kind: Literal["face", "subject", "hand"] = "hand"
    left: Share
    top: Share
    width: Annotated[float, Field(gt=0, le=1)]
    height: Annotated[float, Field(gt=0, le=1)]

    @model_validator(mode="after")
    def _on_the_photo(self) -> "KeepArea":
        if self.left + self.width > 1 + 1e-9 or self.top + self.height > 1 + 1e-9:
            raise ValueError("A keep area must lie on its photo.")
        return self


class Found(Frozen):
    """What the machine found by looking at a photo once: keep areas, and its darkest and lightest values of 255."""

    keep: tuple[KeepArea, ...] = ()
    black: Annotated[float, Field(ge=0, le=255)] = 0.0
    white: Annotated[float, Field(ge=0, le=255)] = 255.0


class Photo(Frozen):
    """What is known of a photo file. Width and height are pixels after the EXIF orientation is applied.

    ``found`` is None until the machine has looked. ``marked`` are keep areas set by hand: once there are any, even none
    at all, they alone count.
    """

    id: Annotated[str, Field(pattern=r"^[0-9a-f]{16}$", description="first 16 digits of sha256")]
    sha256: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    name: str
    format: Literal["JPEG", "PNG", "TIFF", "WEBP", "HEIF"]
    size_bytes: Annotated[int, Field(gt=0)]
    width: Annotated[int, Field(gt=0)]
    height: Annotated[int, Field(gt=0)]
    exif_orientation: Annotated[int, Field(ge=1, le=8)] = 1
    mode: str = "RGB"
    bits: Literal[1, 8, 16] = 8
    profile: str = ""
    taken: datetime | None = None
    sample: bool = False
    found: Found | None = None
    marked: Annotated[tuple[KeepArea, ...], Field(max_length=50)] | None = None
    already_worked: bool = False

    @property
    def keep_areas(self) -> tuple[KeepArea, ...]:
        """What must stay visible: marked by hand, or else found."""
        if self.marked is not None:
            return self.marked
        return self.found.keep if self.found else ()


class Placement(Frozen):
    """How a photo lies in an opening; kept relative to both, so it outlives a change of size.

    ``cover``: the photo point ``centre`` (fractions of its width and height) lies at the opening's centre; at ``zoom`` 1
    the photo just covers the outline. ``whole``: all of the photo shows, centred, as large as the opening's box allows.
    With a ``ratio`` (width / height) only a centred window of that ratio shows, as large as the box allows, and it is
    what the photo covers.
    """

    photo: str
    fit: Literal["cover", "whole"] = "cover"
    centre: tuple[Fraction, Fraction] = (0.5, 0.5)
    zoom: Annotated[float, Field(ge=1, le=MAX_ZOOM, allow_inf_nan=False)] = 1.0
    turn_deg: Degrees = 0.0
    mirror: bool = False
    ratio: Annotated[float, Field(ge=0.05, le=20)] | None = None


class Span(Frozen):
    """Openings that show one photo running on through them. ``placement`` lays it on the box about them all, upright on
    the page; ``nudged`` shifts what one of them shows, mm to the right and down."""

    openings: Annotated[tuple[str, ...], Field(min_length=2)]
    placement: Placement
    nudged: dict[str, Point] = {}


class LabSheet(Frozen):
    """What a lab wants."""

    id: Identity
    name: str
    lab: str = ""
    ppi_target: Annotated[int, Field(ge=72, le=1200)]
    ppi_least: Annotated[int, Field(ge=30, le=1200)]
    profile: Literal["srgb", "adobe-compatible"] = "srgb"
    format: Format = "jpeg"
    jpeg_quality: Annotated[int, Field(ge=50, le=100)] = 95
    naming: Annotated[str, Field(pattern=r"^[A-Za-z0-9 _{}-]{1,80}$")] = "{job}_{page}"
    note: str = ""

    @model_validator(mode="after")
    def _fields(self) -> "LabSheet":
        if self.ppi_least > self.ppi_target:
            raise ValueError("The least ppi of a lab sheet cannot be above its target.")
        try:
            self.naming.format(job="", page="", name="", customer="")
        except (KeyError, ValueError, IndexError):
            raise ValueError("A file naming pattern knows {job}, {customer}, {page} and {name} only.") from None
        return self


class Edition(Frozen):
    """One filling of the pages: placements by opening id, words by text layer id.

    ``pins`` are openings that no filling touches. ``spans`` keep their openings' placements in register. ``tones`` mend
    what one opening shows; ``photo_tones`` mend a photo wherever it lies.
    """

    placements: dict[str, Placement] = {}
    texts: dict[str, str] = {}
    pins: tuple[str, ...] = ()
    spans: dict[Identity, Span] = {}
    tones: dict[str, Recipe] = {}
    photo_tones: dict[str, Recipe] = {}


class Job(Frozen):
    """An order at work."""

    schema_version: Literal[1] = 1
    name: Annotated[str, Field(min_length=1, max_length=120)]
    customer: Annotated[str, Field(max_length=120)] = ""
    template: Identity
    product: Product
    pages: Annotated[tuple[Page, ...], Field(min_length=1)]
    lab: LabSheet
    photos: tuple[Photo, ...] = ()
    edition: Edition = Edition()
    enhance: bool = False

    @model_validator(mode="after")
    def _consistent(self) -> "Job":
        unique_ids(self.pages)
        if len(self.photos_by_id) != len(self.photos):
            raise ValueError("A photo is listed twice.")
        for opening, placement in self.edition.placements.items():
            if opening not in self.openings_by_id:
                raise ValueError(f"There is no opening {opening} to place a photo in.")
            if placement.photo not in self.photos_by_id:
                raise ValueError(f"The photo in opening {opening} is not in the pile.")
        spanned = [opening for span in self.edition.spans.values() for opening in span.openings]
        if len(set(spanned)) != len(spanned):
            raise ValueError("An opening can belong to one span only.")
        for opening in (*self.edition.pins, *spanned, *self.edition.tones):
            if opening not in self.openings_by_id:
                raise ValueError(f"There is no opening {opening} in this job.")
        for photo in (*self.edition.photo_tones, *(span.placement.photo for span in self.edition.spans.values())):
            if photo not in self.photos_by_id:
                raise ValueError("A photo that is mended or spans openings is not in the pile.")
        for layer in self.edition.texts:
            if layer not in self.texts_by_id:
                raise ValueError(f"There is no text {layer} to write.")
        return self

    @cached_property
    def photos_by_id(self) -> dict[str, Photo]:
        """The pile by photo id."""
        return {photo.id: photo for photo in self.photos}

    @cached_property
    def openings_by_id(self) -> dict[str, Opening]:
        """Every opening by its id, in page and number order."""
        return {o.id: o for page in self.pages for o in page.openings()}

    @cached_property
    def texts_by_id(self) -> dict[str, Text]:
        """Every text layer by its id."""
        return {t.id: t for page in self.pages for t in page.texts()}

    def span_of(self, opening: str) -> tuple[str, Span] | None:
        """The span that an opening belongs to, with its id."""
        return next(((k, span) for k, span in self.edition.spans.items() if opening in span.openings), None)

    def recipe(self, opening: str) -> Recipe | None:
        """How what an opening shows is mended: its own recipe, or else its photo's; None for not at all."""
        placement = self.edition.placements.get(opening)
        if placement is None:
            return None
        own = self.edition.tones.get(opening) or self.edition.photo_tones.get(placement.photo)
        if own is None and self.enhance and not self.photos_by_id[placement.photo].already_worked:
            return Recipe(steps=(Enhance(),))
        return own

    def words(self, layer: Text) -> str:
        """What a text layer says in this job."""
        return self.edition.texts.get(layer.id, layer.text)
